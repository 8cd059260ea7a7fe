"""What a decision stands on: the tables that were read to work it out, and a sum of their rows that belong to
the trial.

Nobody keeps a list of what a verdict reads. While it is worked out the tables it asks are noted; a row
belongs to the trial by foreign keys, and a table without a way to a trial (settings, figures, appliances)
belongs to all.
"""

import json
import re
import uuid
from collections.abc import Callable, Collection, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from hashlib import sha256
from typing import Any

import structlog
from pydantic import TypeAdapter, ValidationError
from sqlalchemy import (
    BigInteger,
    ColumnElement,
    Table,
    Text,
    cast,
    event,
    func,
    literal,
    literal_column,
    select,
    union_all,
)
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from yeasty.core.cook.measures import FOLD_VERSION
from yeasty.core.decide.outcome import Outcome
from yeasty.store.base import now
from yeasty.store.decide.queries import sum_of_dish
from yeasty.store.decide.tables import Analysis, VerdictLook
from yeasty.store.tables import Base

log = structlog.get_logger()
VERDICT = "verdict"
ANALYSIS_VERSION = 23
# Results of slow work and drafts are not what a verdict stands on; pictures and probe chunks are large and
# never read whole.
# Not a table: what earlier trials of the same dish hold, of which a verdict takes the spread of batches.
SAME_DISH = "same_dish"
# What readers say and what goes wrong are no evidence.
LEFT_OUT = frozenset(
    {
        "analysis",
        "draft",
        "rendering",
        "publication",
        "photo",
        "job",
        "reader_try",
        "defect",
        "rehearsal",
        "taken_away",
        "verdict_look",
        "work",
    }
)


@contextmanager
def tables_read(db: Session) -> Iterator[set[str]]:
    """The names of all tables that a session asks while this is open."""
    known = set(Base.metadata.tables) - LEFT_OUT
    found: set[str] = set()

    def note(_c: Any, _cur: Any, statement: str, _p: Any, _ctx: Any, _many: Any) -> None:
        found.update(known & set(re.findall(r"\w+", statement)))

    connection = db.connection()
    event.listen(connection, "before_cursor_execute", note)
    try:
        yield found
    finally:
        event.remove(connection, "before_cursor_execute", note)


@cache
def _way(name: str) -> tuple[tuple[str, str], ...] | None:
    """Columns to follow from a table to the trial, each with the table it leads to; None where there is no
    way.
    """
    seen = {name}
    ways: list[tuple[str, tuple[tuple[str, str], ...]]] = [(name, ())]
    while ways:
        at, way = ways.pop(0)
        if at == "trial":
            return way
        every = Base.metadata.tables[at].columns
        # A row without the reference would belong to no trial: such columns lead nowhere.
        columns = sorted((c for c in every if not c.nullable), key=lambda c: c.name)
        for column in columns:
            for key in column.foreign_keys:
                target = key.column.table.name
                if target not in seen:
                    seen.add(target)
                    ways.append((target, (*way, (column.name, target))))
    return None


def _of_trial(table: Table, way: tuple[tuple[str, str], ...], trial_id: uuid.UUID) -> ColumnElement[bool]:
    if not way:
        return table.c.id == trial_id
    (column, target), rest = way[0], way[1:]
    if target == "trial":
        return table.c[column] == trial_id
    parent = Base.metadata.tables[target]
    return table.c[column].in_(select(parent.c.id).where(_of_trial(parent, rest, trial_id)))


def sums(db: Session, trial_id: uuid.UUID, tables: Collection[str]) -> dict[str, str]:
    """Table to the sum of its rows that belong to a trial; one query. It does not depend on the order of
    rows.
    """
    parts = []
    for name in sorted(set(tables) - {SAME_DISH}):
        table = Base.metadata.tables[name]
        way = _way(name)
        if way is None:
            # Of a table of the whole kitchen: how many rows, and the newest change.
            newest = func.max(cast(cast(literal_column(f'"{name}".xmin'), Text), BigInteger))
            part = select(literal(name), func.count(), cast(newest, Text)).select_from(table)
        else:
            row = func.hashtextextended(cast(literal_column(f'"{name}"'), Text), 0)
            part = (
                select(literal(name), func.count(), cast(func.sum(row), Text))
                .select_from(table)
                .where(_of_trial(table, way, trial_id))
            )
        parts.append(part)
    found = {SAME_DISH: sum_of_dish(db, trial_id)} if SAME_DISH in tables else {}
    if parts:
        found |= {name: f"{count}:{total}" for name, count, total in db.execute(union_all(*parts))}
    return found


def every_table() -> frozenset[str]:
    """All tables that a verdict may stand on."""
    return frozenset(Base.metadata.tables) - LEFT_OUT | {SAME_DISH}


def basis_of(found: Mapping[str, str]) -> str:
    """A basis as it is kept: the tables that were read, and one sum over theirs."""
    parts = [FOLD_VERSION, ANALYSIS_VERSION, sorted(found.items())]
    return " ".join(sorted(found)) + "|" + sha256(json.dumps(parts).encode()).hexdigest()


def is_fresh(db: Session, kept: Analysis | None) -> bool:
    """Whether a kept analysis is still that of the records it was worked out from."""
    if kept is None:
        return False
    names = set(kept.basis.partition("|")[0].split())
    return names <= every_table() and kept.basis == basis_of(sums(db, kept.trial_id, names))


def kept_analysis(db: Session, trial_id: uuid.UUID, kind: str = VERDICT) -> Analysis | None:
    """The analysis made last, fresh or not: see `is_fresh`."""
    return db.get(Analysis, (trial_id, kind))


def keep(db: Session, trial_id: uuid.UUID, kind: str, work: Callable[[], dict[str, Any]]) -> dict[str, Any]:
    """Work something out and keep it; sums are taken first, so that what comes meanwhile makes it stale."""
    before = sums(db, trial_id, every_table())
    with tables_read(db) as read:
        result = work()
    if kind == VERDICT:
        read.add(SAME_DISH)
    basis = basis_of({name: before[name] for name in read})
    row = insert(Analysis).values(trial_id=trial_id, kind=kind, basis=basis, result=result, made_at=now())
    newer = {name: row.excluded[name] for name in ("basis", "result", "made_at")}
    # Two jobs may have worked it out at once.
    db.execute(row.on_conflict_do_update(index_elements=["trial_id", "kind"], set_=newer))
    # Whoever asks this session again is told the new one, though it had read the one before.
    db.get(Analysis, (trial_id, kind), populate_existing=True)
    return result


_OUTCOME = TypeAdapter(Outcome)


def as_kept(outcome: Outcome) -> dict[str, Any]:
    """An outcome as JSON."""
    kept: dict[str, Any] = _OUTCOME.dump_python(outcome, mode="json")
    return kept


def _read(kept: Analysis | None) -> Outcome | None:
    """What was kept, as it was worked out; None where it no longer fits: then it is worked out again."""
    try:
        return _OUTCOME.validate_python(kept.result) if kept else None
    except ValidationError as wrong:
        log.warning("outcome_does_not_fit", trial=str(kept.trial_id) if kept else "", error=str(wrong)[:300])
        return None


def outcome_of(db: Session, trial_id: uuid.UUID) -> Outcome | None:
    """What Decide said last of a trial, fresh or not."""
    return _read(kept_analysis(db, trial_id))


def outcomes_of(db: Session, trial_ids: Collection[uuid.UUID]) -> dict[uuid.UUID, Outcome]:
    """What Decide said last, of several trials; those of which it said nothing are left out."""
    rows = db.scalars(select(Analysis).where(Analysis.trial_id.in_(trial_ids), Analysis.kind == VERDICT))
    return {row.trial_id: outcome for row in rows if (outcome := _read(row)) is not None}


def latest_outcomes(db: Session, most: int) -> list[tuple[uuid.UUID, Outcome]]:
    """What Decide said last in the kitchen, the newest first."""
    rows = db.scalars(
        select(Analysis).where(Analysis.kind == VERDICT).order_by(Analysis.made_at.desc()).limit(most)
    )
    return [(row.trial_id, outcome) for row in rows if (outcome := _read(row)) is not None]


@dataclass(frozen=True)
class Decision:
    """What Decide says now: whether it still is that of the records, and when it was worked out."""

    outcome: Outcome | None
    fresh: bool
    made_at: datetime | None


def decision_of(db: Session, trial_id: uuid.UUID) -> Decision:
    """What Decide says now; what no longer fits is worked out again, like what has changed."""
    kept = kept_analysis(db, trial_id)
    outcome = _read(kept)
    fresh = outcome is not None and is_fresh(db, kept)
    return Decision(outcome, fresh, kept.made_at if kept else None)


def looked_at(db: Session, trial_id: uuid.UUID) -> None:
    """Note that somebody of the kitchen looked at a verdict; nothing of it counts for anything."""
    look = insert(VerdictLook).values(trial_id=trial_id, at=now())
    db.execute(look.on_conflict_do_update(index_elements=["trial_id"], set_={"at": look.excluded.at}))

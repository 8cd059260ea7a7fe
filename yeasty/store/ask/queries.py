"""Trials: question, attributes, methods, steps, ingredients, controls, accepted differences."""

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import and_, func, or_, select
from sqlalchemy.orm import Session, selectinload

from yeasty.core.ask.states import TrialState
from yeasty.core.kernel import steps as core_steps
from yeasty.store.ask.states import in_state
from yeasty.store.ask.tables import DesignChange, Ingredient, Method, Step, Trial
from yeasty.store.cook.tables import EntryRow, Shift
from yeasty.store.kitchen.tables import Appliance

NO_TECHNIQUE = ""


def whole_trial(db: Session, trial_id: uuid.UUID, *, lock: bool = False) -> Trial | None:
    """A trial with everything of its design, in one round of queries."""
    query = (
        select(Trial)
        .where(Trial.id == trial_id)
        .options(
            selectinload(Trial.attributes),
            selectinload(Trial.methods).selectinload(Method.steps),
            selectinload(Trial.methods).selectinload(Method.amounts),
            selectinload(Trial.ingredients),
            selectinload(Trial.controls),
            selectinload(Trial.accepted),
        )
        .execution_options(populate_existing=True)
    )
    return db.scalar(query.with_for_update(of=Trial) if lock else query)


def design_history(db: Session, trial_id: uuid.UUID, most: int = 200) -> list[DesignChange]:
    """Edits of a trial's design, newest first."""
    return list(
        db.scalars(
            select(DesignChange)
            .where(DesignChange.trial_id == trial_id)
            .order_by(DesignChange.version.desc(), DesignChange.at.desc(), DesignChange.id)
            .limit(most)
        )
    )


def steps_of_methods(db: Session, ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, list[core_steps.Step]]:
    """Steps of many methods as the core knows them, without making rows of them one by one."""
    columns = [getattr(Step, c.key) for c in Step.__mapper__.column_attrs]
    found: dict[uuid.UUID, list[core_steps.Step]] = {}
    for row in db.execute(
        select(*columns).where(Step.method_id.in_(ids)).order_by(Step.method_id, Step.position)
    ).mappings():
        record = {
            **row,
            "key": row["id"],
            "appliance": str(row["appliance_id"]) if row["appliance_id"] else None,
        }
        found.setdefault(row["method_id"], []).append(core_steps.step_from_record(record))
    return found


@dataclass(frozen=True)
class Wanted:
    """Which trials are looked for; "" or None where it does not matter.

    Attributes
    ----------
    words : every one must occur in title, question, dish or aliases
    away : those that were put away, which are out of sight else
    technique : of any of its ways; person : changed its design, wrote in its log
    """

    words: str = ""
    away: bool = False
    state: TrialState | None = None
    kind: str = ""
    technique: str = ""
    person: uuid.UUID | None = None


def search_trials(
    db: Session, wanted: Wanted, after: tuple[datetime, uuid.UUID] | None, most: int
) -> Sequence[Trial]:
    """Trials by last change, newest first."""
    query = (
        select(Trial)
        .where(Trial.put_away_at.is_not(None) if wanted.away else Trial.put_away_at.is_(None))
        .options(selectinload(Trial.methods))
        .order_by(Trial.updated_at.desc(), Trial.id.desc())
        .limit(most)
    )
    if wanted.kind:
        query = query.where(Trial.kind == wanted.kind)
    if wanted.state:
        query = query.where(in_state(wanted.state))
    if wanted.technique:
        query = query.where(Trial.methods.any(Method.technique == wanted.technique))
    if wanted.person:
        designed = select(DesignChange.trial_id).where(DesignChange.by == wanted.person)
        wrote = (
            select(Shift.trial_id)
            .join(EntryRow, EntryRow.shift_id == Shift.id)
            .where(EntryRow.author_id == wanted.person)
        )
        query = query.where(or_(Trial.id.in_(designed), Trial.id.in_(wrote)))
    for word in wanted.words.split():
        like = _like(word)
        query = query.where(
            or_(*(column.ilike(like) for column in (Trial.title, Trial.question, Trial.dish, Trial.aliases)))
        )
    if after:
        query = query.where(
            or_(Trial.updated_at < after[0], and_(Trial.updated_at == after[0], Trial.id < after[1]))
        )
    return db.scalars(query).all()


def _like(word: str) -> str:
    for sign in "\\%_":
        word = word.replace(sign, "\\" + sign)
    return f"%{word}%"


def appliances_of(db: Session, trial: Trial) -> dict[uuid.UUID, Appliance]:
    """The appliances used by any step of a trial."""
    ids = {s.appliance_id for m in trial.methods for s in m.steps if s.appliance_id}
    if not ids:
        return {}
    return {a.id: a for a in db.scalars(select(Appliance).where(Appliance.id.in_(ids)))}


def techniques_tried(db: Session) -> list[str]:
    """Keys of the techniques of any way of any trial."""
    return sorted(filter(None, db.scalars(select(Method.technique).distinct())))


def count_trials(db: Session) -> int:
    """How many trials there are."""
    return db.scalar(select(func.count()).select_from(Trial)) or 0


def every_ingredient(db: Session) -> list[str]:
    """Names of all ingredients that this kitchen ever weighed or meant to."""
    return list(db.scalars(select(Ingredient.name).distinct().order_by(Ingredient.name).limit(5000)))

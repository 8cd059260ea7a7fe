"""What was taken away or written over a moment ago, kept for a minute so that it can be put back by name."""

import uuid
from collections.abc import Iterator, Mapping, Sequence
from datetime import timedelta
from typing import Any

from sqlalchemy import Column, Table, delete, insert, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused
from yeasty.operations.ask.designs import touch
from yeasty.store.ask.queries import whole_trial
from yeasty.store.ask.tables import (
    AcceptedDifference,
    Attribute,
    Control,
    Ingredient,
    Method,
    MethodAmount,
    Step,
    Trial,
)
from yeasty.store.base import Base, now
from yeasty.store.kitchen.people_tables import TakenAway
from yeasty.store.publish.tables import Draft, Guess
from yeasty.store.rows import read_back, record_of, written
from yeasty.store.setup.tables import Piece

# It is offered for a minute; a little longer is taken, for who pressed at the last moment.
OFFERED_S, TAKEN_S = 60.0, 75.0
# Moments and counts that an edit makes, and what belongs to a trial but not to its design.
NOT_DESIGN = frozenset(
    [
        "version",
        "created_at",
        "updated_at",
        "put_away_at",
        "guess_token",
        "guesses_closed_at",
        "simulated",
        "accepted_at",
    ]
)
# In the order in which they can be written.
DESIGN: tuple[type[Base], ...] = (
    Trial,
    Attribute,
    Method,
    Ingredient,
    Step,
    MethodAmount,
    Control,
    AcceptedDifference,
)
# What of a row may be held by one other alone, and so is moved out of the way before it is given anew.
ONE_EACH: Mapping[str, Mapping[str, Any]] = {"method": {"mark": -1, "tag": "~"}, "ingredient": {"name": "~"}}
# What points at a method or an ingredient and stays when that goes, pointing at nothing: it is told again.
POINTS: tuple[tuple[type[Base], tuple[str, ...]], ...] = (
    (Piece, ("method_id", "ingredient_id")),
    (Guess, ("method_id",)),
    (Draft, ("method_id",)),
)
# A trial's own columns, as a cook says them.
CALLED = {
    "title": "title",
    "question": "question",
    "dish": "dish",
    "fairness": "fairness rule",
    "answer_rule": "rule of the answer",
    "matters": "smallest difference that matters",
    "deciding": "rules for deciding",
    "hunch": "hunch",
    "food_class": "kind of food",
    "pieces": "number of pieces",
    "layout": "layout",
    "preparation": "shared preparation",
}
Rows = list[tuple[str, dict[str, Any]]]
Keyed = dict[tuple[Any, ...], dict[str, Any]]


def _table(model: type[Base]) -> Table:
    return model.__table__  # type: ignore[return-value]


def _record(row: Base) -> tuple[str, dict[str, Any]]:
    return _table(type(row)).name, record_of(row)


def with_what_hangs_on_it(row: Base) -> Iterator[Base]:
    """A row, then those that go with it."""
    yield row
    for relation in row.__mapper__.relationships:
        if relation.cascade.delete_orphan:
            for part in getattr(row, relation.key):
                yield from with_what_hangs_on_it(part)


def design_rows(trial: Trial) -> Rows:
    """All rows of a trial's design, in the order in which they can be written."""
    place = {_table(m).name: n for n, m in enumerate(DESIGN)}
    rows = [_record(r) for r in with_what_hangs_on_it(trial)]
    return sorted((r for r in rows if r[0] in place), key=lambda r: place[r[0]])


def pointing(db: Session, trial_id: uuid.UUID) -> Rows:
    """What of a trial points at its methods and ingredients from outside the design: keys and where to."""
    found: Rows = []
    for model, columns in POINTS:
        table = _table(model)
        names = [c.name for c in table.primary_key.columns] + list(columns)
        mine = select(*(table.c[n] for n in names)).where(table.c.trial_id == trial_id)
        for row in db.execute(mine):
            record = {n: written(table.c[n], v) for n, v in zip(names, row, strict=True)}
            if any(record[c] for c in columns):
                found.append((table.name, record))
    return found


def keep_design(db: Session, trial: Trial, before: Rows, pointed: Rows, account_id: uuid.UUID) -> None:
    """Keep a design as it was before an edit, and what pointed at it, where the edit took something away or
    wrote over it.
    """
    what, deed = said(before, design_rows(trial))
    if what:
        _keep(db, account_id, what, deed, [*before, *pointed], trial_id=trial.id, version=trial.version)


def take_away(
    db: Session, row: Base, what: str, account_id: uuid.UUID, trial_id: uuid.UUID | None = None
) -> None:
    """Delete a row with what hangs on it, and keep it for a minute, with what pointed at it and stays.
    `what` : what it is called.
    """
    rows = [_record(r) for r in with_what_hangs_on_it(row)]
    rows += _left_pointing(db, rows)
    db.delete(row)
    db.flush()
    _keep(db, account_id, what, "taken away", rows, trial_id=trial_id)


def _left_pointing(db: Session, gone: Rows) -> Rows:
    """What points at rows that go and stays, pointing at nothing then: its key, and where it points."""
    ids: dict[str, list[str]] = {}
    for name, record in gone:
        ids.setdefault(name, []).extend([record["id"]] if "id" in record else [])
    going = {(name, _key(Base.metadata.tables[name], record)) for name, record in gone}
    found: Rows = []
    for table in Base.metadata.sorted_tables:
        for link in table.foreign_keys:
            wanted = ids.get(link.column.table.name)
            if link.ondelete != "SET NULL" or not wanted:
                continue
            column = link.parent
            names = [*(c.name for c in table.primary_key.columns), column.name]
            at = [read_back(column, i) for i in wanted]
            for row in db.execute(select(*(table.c[n] for n in names)).where(column.in_(at))):
                record = {n: written(table.c[n], v) for n, v in zip(names, row, strict=True)}
                if (table.name, _key(table, record)) not in going:
                    found.append((table.name, record))
    return found


def _keep(
    db: Session,
    account_id: uuid.UUID,
    what: str,
    deed: str,
    rows: Rows,
    *,
    trial_id: uuid.UUID | None = None,
    version: int | None = None,
) -> None:
    db.execute(delete(TakenAway).where(TakenAway.at < now() - timedelta(seconds=2 * TAKEN_S)))
    kept = [[table, record] for table, record in rows]
    db.add(
        TakenAway(
            account_id=account_id,
            trial_id=trial_id,
            version=version,
            what=what[:120],
            deed=deed,
            rows=kept,
            at=now(),
        )
    )


def newest(db: Session, account_id: uuid.UUID) -> TakenAway | None:
    """What an account took away last, while it can still be put back."""
    since = now() - timedelta(seconds=OFFERED_S)
    mine = select(TakenAway).where(TakenAway.account_id == account_id, TakenAway.at >= since)
    return db.scalars(mine.order_by(TakenAway.at.desc()).limit(1)).first()


def put_back(db: Session, kept_id: uuid.UUID, account_id: uuid.UUID) -> list[uuid.UUID]:
    """Everything as it was before; the shifts among it, whose plan has to be asked for again.

    Raises
    ------
    LookupError : there is no such thing of this account, or its minute is over
    Refused : the design was edited again since, or something stands in its place
    """
    since = now() - timedelta(seconds=TAKEN_S)
    kept = db.scalars(
        select(TakenAway)
        .where(TakenAway.id == kept_id, TakenAway.account_id == account_id, TakenAway.at >= since)
        .with_for_update()
    ).first()
    if kept is None:
        raise LookupError(kept_id)
    rows: Rows = [(table, record) for table, record in kept.rows]
    try:
        with db.begin_nested():
            if kept.version is None:
                _rows_again(db, rows)
            else:
                _design_again(db, kept, rows)
            db.flush()
    except IntegrityError:
        raise Refused(
            "put back", f"something else stands in the place of {kept.what}", "Enter it again where it is."
        ) from None
    db.delete(kept)
    db.flush()
    return [uuid.UUID(record["id"]) for table, record in rows if table == "shift"]


def _rows_again(db: Session, rows: Rows) -> None:
    """Whole rows in, then what pointed at them where it points at nothing."""
    for name, record in rows:
        table = Base.metadata.tables[name]
        if record.keys() == set(table.columns.keys()):
            db.execute(insert(table).values(_values(name, record)))
            continue
        again = {n: read_back(table.c[n], v) for n, v in record.items() if not table.c[n].primary_key}
        lost = [table.c[n].is_(None) for n in again]
        db.execute(update(table).where(_is(table, _key(table, record)), *lost).values(again))


def _values(table: str, record: Mapping[str, Any]) -> dict[str, Any]:
    columns = Base.metadata.tables[table].columns
    return {c.name: read_back(c, record[c.name]) for c in columns}


def _key(table: Table, record: Mapping[str, Any]) -> tuple[Any, ...]:
    return tuple(record[c.name] for c in table.primary_key.columns)


def _is(table: Table, key: Sequence[Any]) -> Any:
    columns: list[Column[Any]] = list(table.primary_key.columns)
    one, *more = (c == read_back(c, v) for c, v in zip(columns, key, strict=True))
    for other in more:
        one &= other
    return one


def _design_again(db: Session, kept: TakenAway, rows: Rows) -> None:
    trial = whole_trial(db, kept.trial_id, lock=True) if kept.trial_id else None
    if trial is None or trial.version != kept.version:
        raise Refused(
            "put back", "the design was changed again since", "See it in its history, and enter it again."
        )
    was: dict[str, Keyed] = {}
    for name, record in rows:
        was.setdefault(name, {})[_key(Base.metadata.tables[name], record)] = record
    stands = {(name, _key(Base.metadata.tables[name], r)) for name, r in design_rows(trial)}
    for model in reversed(DESIGN):
        table = _table(model)
        for name, key in stands:
            if name == table.name and key not in was.get(name, {}):
                db.execute(delete(table).where(_is(table, key)))
    for model in DESIGN:
        table = _table(model)
        _as_they_were(db, table, was.get(table.name, {}), {k for name, k in stands if name == table.name})
    _point_again(db, was)
    db.expire_all()
    touch(trial)
    # It is now as it was after the edit before: what that one took away may be put back too.
    earlier = next(r["version"] for name, r in rows if name == "trial")
    same = (TakenAway.trial_id == trial.id) & (TakenAway.version == earlier)
    db.execute(update(TakenAway).where(same).values(version=trial.version))


def _as_they_were(db: Session, table: Table, was: Keyed, stands: set[tuple[Any, ...]]) -> None:
    """Rows of a table written over, and in where they are gone."""
    aside = ONE_EACH.get(table.name, {})
    for n, key in enumerate(was):
        if key in stands and aside:
            moved = {k: v * (n + 1) if isinstance(v, int) else f"{v}{n}" for k, v in aside.items()}
            db.execute(update(table).where(_is(table, key)).values(moved))
    for key, record in was.items():
        values = _values(table.name, record)
        if key in stands:
            of_design = {k: v for k, v in values.items() if k not in NOT_DESIGN}
            db.execute(update(table).where(_is(table, key)).values(of_design))
        else:
            db.execute(insert(table).values(values))


def _point_again(db: Session, was: Mapping[str, Keyed]) -> None:
    """What points at nothing now, and pointed at something of the design then."""
    for model, columns in POINTS:
        table = _table(model)
        for key, record in was.get(table.name, {}).items():
            for c in columns:
                lost = update(table).where(_is(table, key), table.c[c].is_(None))
                db.execute(lost.values({c: read_back(table.c[c], record[c])}))


def said(before: Rows, after: Rows) -> tuple[str, str]:
    """What an edit took away or wrote over, and which of both; "" where it only added something.

    >>> oven = ("method", {"id": "m", "name": "Oven", "position": 0})
    >>> said([oven], []), said([], [oven])
    (('Oven', 'taken away'), ('', ''))
    >>> bake = ("step", {"id": "s", "method_id": "m", "what": "Bake", "duration_s": 60.0})
    >>> longer = ("step", {"id": "s", "method_id": "m", "what": "Bake", "duration_s": 90.0})
    >>> said([oven, bake], [oven, longer]), said([oven, bake], [oven])
    (('the steps of Oven', 'changed'), ('“Bake” of Oven', 'taken away'))
    """
    tables = Base.metadata.tables
    new = {(t, _key(tables[t], r)): r for t, r in after}
    name = {r["id"]: r["name"] for t, r in before if t in ("method", "ingredient")}
    gone = [(t, r) for t, r in before if (t, _key(tables[t], r)) not in new]
    whole = {r["id"] for t, r in gone if t in ("method", "ingredient")}
    parts = [(t, r) for t, r in gone if not {r.get("method_id"), r.get("ingredient_id")} & whole]
    if parts:
        return ", ".join(_called(t, r, name) for t, r in parts), "taken away"
    for t, r in before:
        other = new.get((t, _key(tables[t], r)), r)
        over = [k for k in r if k not in NOT_DESIGN | {"position"} and r[k] != other.get(k)]
        if any(r[k] not in (None, "", [], {}) for k in over):
            return _whose(t, r, over, name), "changed"
    return "", ""


def _called(table: str, r: Mapping[str, Any], name: Mapping[str, str]) -> str:
    """What one row is called by who set it up."""
    match table:
        case "step":
            return f"“{r['what']}” of {name[r['method_id']]}"
        case "method_amount":
            return f"{name[r['ingredient_id']]} in {name[r['method_id']]}"
        case "control":
            return f"“{r['what']}”, held equal"
        case "accepted_difference":
            return f"the accepted difference in {r['field']}"
        case _:
            return str(r["name"])


def _whose(table: str, r: Mapping[str, Any], over: Sequence[str], name: Mapping[str, str]) -> str:
    """What was written over, in words."""
    match table:
        case "trial":
            return "the " + ", ".join(CALLED.get(k, k.replace("_", " ")) for k in over)
        case "step":
            return f"the steps of {name[r['method_id']]}"
        case "method" | "ingredient" | "attribute":
            return f"what {r['name']} was"
        case _:
            return _called(table, r, name)

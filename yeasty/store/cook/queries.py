"""The bench: shifts, batches, plans, the append-only log, probe logs and photos."""

import uuid
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Double, cast, func, select, text, update
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import Refused
from yeasty.store.base import CHANNEL, now
from yeasty.store.cook.tables import Batch, EntryRow, PlanRow, ProbeLogRow, Shift


def next_numbers(db: Session, shift_id: uuid.UUID, count: int) -> int:
    """Take `count` numbers of a shift under its row's lock; the first of them. Also locks out other
    writers.
    """
    last = db.execute(
        text("update shift set last_number = last_number + :n where id = :id returning last_number"),
        {"n": count, "id": shift_id},
    ).scalar_one()
    return int(last) - count + 1


def wake(db: Session, shift_id: uuid.UUID) -> None:
    """Wake whoever streams this shift, once the transaction is committed."""
    db.execute(select(func.pg_notify(CHANNEL, str(shift_id))))


def append_entries(
    db: Session, shift_id: uuid.UUID, rows: Sequence[EntryRow]
) -> tuple[list[EntryRow], list[uuid.UUID]]:
    """Write entries that are not there yet; sending one twice changes nothing.

    Returns
    -------
    the entries written, and the ids that were there already
    """
    db.execute(select(Shift.id).where(Shift.id == shift_id).with_for_update())
    known = set(db.scalars(select(EntryRow.id).where(EntryRow.id.in_([r.id for r in rows]))))
    fresh: dict[uuid.UUID, EntryRow] = {}
    for row in rows:
        if row.id not in known:
            fresh.setdefault(row.id, row)
    if fresh:
        first = next_numbers(db, shift_id, len(fresh))
        for number, row in enumerate(fresh.values(), first):
            row.number = number
            db.add(row)
        db.flush()
        wake(db, shift_id)
    return list(fresh.values()), sorted(known, key=str)


# Entries that were made at a page of the kitchen and not at a device of the bench.
PAGES = uuid.UUID("00000000-0000-4000-8000-000000000002")


def kitchen_entry(
    batch: Batch, kind: EntryKind, payload: dict[str, Any], author: uuid.UUID | None
) -> EntryRow:
    """An entry written at a page, now."""
    moment_ = now()
    return EntryRow(
        id=uuid.uuid4(),
        shift_id=batch.shift_id,
        batch_id=batch.id,
        kind=kind.value,
        device_id=PAGES,
        counter=int(moment_.timestamp() * 1000),
        offset_ms=0.0,
        device_time=moment_,
        server_time=moment_,
        author_id=author,
        payload=payload,
        supersedes=None,
    )


def entries_after(db: Session, shift_id: uuid.UUID, number: int, most: int = 5000) -> list[EntryRow]:
    """Entries of a shift with a higher number, in order of number."""
    return list(
        db.scalars(
            select(EntryRow)
            .where(EntryRow.shift_id == shift_id, EntryRow.number > number)
            .order_by(EntryRow.number)
            .limit(most)
        )
    )


def newest_plan(db: Session, shift_id: uuid.UUID) -> PlanRow | None:
    """The plan that counts."""
    return db.scalar(
        select(PlanRow).where(PlanRow.shift_id == shift_id).order_by(PlanRow.number.desc()).limit(1)
    )


def asked_for_plan(db: Session, shift_id: uuid.UUID) -> None:
    """Note that a plan is on its way, and wake the screens."""
    db.execute(
        update(Shift)
        .where(Shift.id == shift_id)
        .values(plan_asked_at=now())
        .execution_options(synchronize_session=False)
    )
    wake(db, shift_id)


def no_plan_asked(db: Session, shift_id: uuid.UUID) -> None:
    """No plan is on its way any more; the screens are woken."""
    db.execute(update(Shift).where(Shift.id == shift_id).values(plan_asked_at=None))
    db.flush()
    wake(db, shift_id)


def shifts_of(db: Session, trial_id: uuid.UUID) -> list[Shift]:
    """Shifts of a trial, newest first."""
    return list(
        db.scalars(
            select(Shift).where(Shift.trial_id == trial_id).order_by(Shift.serve_from.desc(), Shift.id)
        )
    )


def batches_of_trial(db: Session, trial_id: uuid.UUID) -> list[Batch]:
    """All batches of a trial in the order of its shifts and methods."""
    return list(
        db.scalars(
            select(Batch)
            .join(Shift)
            .where(Shift.trial_id == trial_id)
            .order_by(Shift.created_at, Batch.position, Batch.id)
        )
    )


def entries_of_trial(db: Session, trial_id: uuid.UUID) -> list[EntryRow]:
    """The whole log of a trial."""
    return list(
        db.scalars(
            select(EntryRow)
            .join(Shift)
            .where(Shift.trial_id == trial_id)
            .order_by(EntryRow.shift_id, EntryRow.number)
        )
    )


def newest_plans_of_trial(db: Session, trial_id: uuid.UUID) -> dict[uuid.UUID, PlanRow]:
    """Shift id to its newest plan."""
    rows = db.scalars(
        select(PlanRow)
        .join(Shift)
        .where(Shift.trial_id == trial_id)
        .ext(distinct_on(PlanRow.shift_id))
        .order_by(PlanRow.shift_id, PlanRow.number.desc())
    )
    return {row.shift_id: row for row in rows}


def highest_cores(db: Session, trial_id: uuid.UUID) -> dict[uuid.UUID, float]:
    """Batch to the highest core of its probe logs [°C]; the database looks through them."""
    reading = func.jsonb_array_elements_text(ProbeLogRow.channels["core"]).column_valued(
        "reading", joins_implicitly=True
    )
    rows = db.execute(
        select(ProbeLogRow.batch_id, func.max(cast(reading, Double)))
        .select_from(ProbeLogRow)
        .join(Batch, Batch.id == ProbeLogRow.batch_id)
        .join(Shift, Shift.id == Batch.shift_id)
        .where(Shift.trial_id == trial_id, ProbeLogRow.channels.has_key("core"))
        .group_by(ProbeLogRow.batch_id)
    )
    return {batch: float(highest) for batch, highest in rows if highest is not None}


def moment(seconds: float) -> datetime:
    """Seconds since 1970 as a moment in UTC."""
    return datetime.fromtimestamp(seconds, UTC)


def probe_logs_of_shift(db: Session, shift_id: uuid.UUID) -> Sequence[ProbeLogRow]:
    """What was read of a shift's batches from files, in the order they were brought in."""
    return db.scalars(
        select(ProbeLogRow).join(Batch).where(Batch.shift_id == shift_id).order_by(ProbeLogRow.added_at)
    ).all()


def begun_of(db: Session, shift_ids: Sequence[uuid.UUID]) -> set[uuid.UUID]:
    """Shifts of which anything was ever logged, taken back or not."""
    return set(db.scalars(select(EntryRow.shift_id).where(EntryRow.shift_id.in_(shift_ids)).distinct()))


def check_unbegun(db: Session, shift: Shift) -> None:
    """Whether a shift may be removed: nothing of it was ever logged.

    Raises
    ------
    Refused : something was: what happened is kept
    """
    if begun_of(db, [shift.id]):
        raise Refused(
            "shift", "has entries in its log", "Give its batches up instead (Spoiled, Void): the log is kept."
        )


def remove_unbegun(db: Session, shift: Shift) -> None:
    """Remove a shift of which nothing was ever logged; refused as `check_unbegun` says."""
    check_unbegun(db, shift)
    db.delete(shift)
    db.flush()


def new_shift(
    db: Session, trial_id: uuid.UUID, name: str, serve_from: datetime, serve_until: datetime, people: int
) -> Shift:
    """A shift without batches yet."""
    shift = Shift(
        trial_id=trial_id,
        name=name,
        serve_from=serve_from,
        serve_until=serve_until,
        people=people,
        created_at=now(),
    )
    db.add(shift)
    db.flush()
    return shift


def shift_of_batch(db: Session, batch_id: uuid.UUID) -> Shift:
    """The shift a batch was cooked in."""
    return db.scalars(select(Shift).join(Batch).where(Batch.id == batch_id)).one()

"""Rehearsals: which wait for their stand-ins, and which go on."""

import uuid
from collections.abc import Sequence

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from yeasty.store.base import now
from yeasty.store.cook.tables import Device, PlanRow, Rehearsal, RehearsalState, Shift

CHANNEL = "rehearsal"
GOING = (RehearsalState.WAITING.value, RehearsalState.RUNNING.value)


def rehearsal_of(db: Session, shift_id: uuid.UUID) -> Rehearsal | None:
    """The rehearsal of a shift on simulated time, None where nobody asked for stand-ins."""
    return db.get(Rehearsal, shift_id)


def going(db: Session) -> Sequence[Rehearsal]:
    """Rehearsals whose stand-ins are at work or shall be, of shifts that have not ended, oldest first."""
    return db.scalars(
        select(Rehearsal)
        .join(Shift, Shift.id == Rehearsal.shift_id)
        .where(Rehearsal.state.in_(GOING), Shift.ended_at.is_(None))
        .order_by(Rehearsal.begun_at)
    ).all()


def call_stand_ins(db: Session) -> None:
    """Have the process that drives them look, once the transaction is committed."""
    db.execute(select(func.pg_notify(CHANNEL, "")))


def say_interrupted(db: Session, why: str) -> None:
    """At the start of the process that drives stand-ins: those that another one drove are gone."""
    db.execute(
        update(Rehearsal)
        .where(Rehearsal.state == RehearsalState.RUNNING.value)
        .values(state=RehearsalState.FAILED.value, problem=why)
    )


def dismiss(db: Session, shift_id: uuid.UUID) -> None:
    """The stand-ins of a rehearsal that is over send no more; what they read stays."""
    db.execute(
        update(Device)
        .where(Device.simulated_shift_id == shift_id, Device.revoked_at.is_(None))
        .values(revoked_at=now())
    )


def first_plan(db: Session, shift_id: uuid.UUID) -> PlanRow | None:
    """The plan that a shift began with."""
    return db.scalar(select(PlanRow).where(PlanRow.shift_id == shift_id).order_by(PlanRow.number).limit(1))

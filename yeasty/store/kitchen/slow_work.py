"""Rows of slow work: begun, done, stopped, and what the like of it took."""

import uuid

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from yeasty.core.kernel.slow_work import WorkKind, WorkOutcome
from yeasty.store.base import now
from yeasty.store.kitchen.tables import Work

# How many of a kind are kept, and how many of the last are looked at.
KEPT, LOOKED_AT = 60, 9


def begin(db: Session, work: uuid.UUID, kind: WorkKind, subject: uuid.UUID | None) -> None:
    """Note that work begins; the oldest of its kind are forgotten."""
    newest = select(Work.id).where(Work.kind == kind).order_by(Work.began_at.desc()).limit(KEPT)
    db.execute(delete(Work).where(Work.kind == kind, Work.id.not_in(newest)))
    if subject:
        # One that a killed process left.
        going = Work.outcome == WorkOutcome.GOING_ON
        db.execute(delete(Work).where(Work.kind == kind, Work.subject == subject, going))
    db.add(Work(id=work, kind=kind, subject=subject, began_at=now()))


def end(db: Session, work: uuid.UUID) -> bool:
    """Work is done; False where somebody stopped it first."""
    row = update(Work).where(Work.id == work, Work.outcome == WorkOutcome.GOING_ON)
    found = db.execute(row.values(outcome=WorkOutcome.DONE, ended_at=now()).returning(Work.id))
    return found.first() is not None


def stop(db: Session, kind: WorkKind, subject: uuid.UUID | None, work: uuid.UUID | None, stand: str) -> bool:
    """Stop what goes on of a subject, or one by its id; False where nothing went on."""
    which = Work.id == work if work else Work.subject == subject
    row = update(Work).where(Work.kind == kind, which, Work.outcome == WorkOutcome.GOING_ON)
    values = {"outcome": WorkOutcome.STOPPED, "ended_at": now(), "stand": stand}
    return db.execute(row.values(**values).returning(Work.id)).first() is not None


def stopped_before_it_began(db: Session, kind: WorkKind, subject: uuid.UUID, stand: str) -> None:
    """Work that still waited for its turn was stopped."""
    at = now()
    db.add(
        Work(
            id=uuid.uuid4(),
            kind=kind,
            subject=subject,
            began_at=at,
            ended_at=at,
            outcome=WorkOutcome.STOPPED,
            stand=stand,
        )
    )


def forget(db: Session, work: uuid.UUID) -> None:
    """It came to nothing: what it took tells nothing."""
    db.execute(delete(Work).where(Work.id == work))


def forget_unended(db: Session, work: uuid.UUID) -> None:
    """It found nothing to do."""
    db.execute(delete(Work).where(Work.id == work, Work.outcome == WorkOutcome.GOING_ON))


def newest(db: Session, kind: WorkKind, subject: uuid.UUID) -> Work | None:
    """The last of a subject."""
    rows = select(Work).where(Work.kind == kind, Work.subject == subject)
    return db.scalars(rows.order_by(Work.began_at.desc()).limit(1)).first()


def took_s(db: Session, kind: WorkKind, subject: uuid.UUID | None) -> list[float]:
    """What the last done of a kind took [s], of one subject where it is given."""
    rows = select(Work.began_at, Work.ended_at).where(Work.kind == kind, Work.outcome == WorkOutcome.DONE)
    if subject:
        rows = rows.where(Work.subject == subject)
    found = db.execute(rows.order_by(Work.began_at.desc()).limit(LOOKED_AT))
    return [(ended - began).total_seconds() for began, ended in found if ended]

"""Slow work: begun and ended in the open, so that a screen can tell how long it will still take, and somebody
can stop it. What is stopped keeps nothing.
"""

import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime

import structlog
from sqlalchemy.orm import Session, sessionmaker

from yeasty.core.kernel.slow_work import WorkKind, WorkOutcome, usual_s
from yeasty.operations.decide.decisions import basis_of, every_table, sums
from yeasty.store.cook.queries import no_plan_asked
from yeasty.store.jobs import Jobs
from yeasty.store.kitchen import slow_work as store
from yeasty.store.kitchen.tables import Work

log = structlog.get_logger()


class StoppedError(Exception):
    """Somebody stopped it; what it did is not kept."""


@dataclass
class Going:
    """Work that goes on: `ended` says in its own transaction that it is done, `wanted` looks in between.

    `said` : whether it was said; the row is then that transaction's, which may be open still
    """

    id: uuid.UUID
    sessions: sessionmaker[Session]
    said: bool = False

    def ended(self, db: Session) -> None:
        """To be called last in the transaction that keeps what was done.

        Raises
        ------
        StoppedError : somebody was first
        """
        if not store.end(db, self.id):
            raise StoppedError
        self.said = True

    def wanted(self) -> None:
        """Raise where somebody stopped it meanwhile.

        Raises
        ------
        StoppedError : see above
        """
        with self.sessions() as db:
            row = db.get(Work, self.id)
            if row is None or row.outcome != WorkOutcome.GOING_ON:
                raise StoppedError


@contextmanager
def slow_work(
    sessions: sessionmaker[Session],
    kind: WorkKind,
    subject: uuid.UUID | None = None,
    work: uuid.UUID | None = None,
) -> Iterator[Going]:
    """Work that goes on while this is open; what fails, or finds nothing to do, is forgotten."""
    going = Going(work or uuid.uuid4(), sessions)
    with sessions.begin() as db:
        store.begin(db, going.id, kind, subject)
    try:
        yield going
        if not going.said:
            with sessions.begin() as db:
                store.forget_unended(db, going.id)
    except StoppedError:
        log.info("stopped", kind=kind.value, subject=str(subject))
        raise
    except BaseException:
        with sessions.begin() as db:
            store.forget(db, going.id)
        raise


@dataclass(frozen=True)
class HowLong:
    """How long work usually takes [s], and since when it goes on; None while it waits for its turn."""

    usual_s: float
    began_at: datetime | None


def how_long(db: Session, kind: WorkKind, subject: uuid.UUID | None) -> HowLong:
    """How long work of a kind will take."""
    last = store.newest(db, kind, subject) if subject else None
    going = last is not None and last.outcome == WorkOutcome.GOING_ON
    usual = usual_s(kind, store.took_s(db, kind, subject) if subject else [], store.took_s(db, kind, None))
    return HowLong(usual, last.began_at if last and going else None)


def _stand(db: Session, kind: WorkKind, subject: uuid.UUID) -> str:
    return basis_of(sums(db, subject, every_table())) if kind is WorkKind.VERDICT else ""


def stop(db: Session, jobs: Jobs, kind: WorkKind, subject: uuid.UUID | None, work: uuid.UUID | None) -> bool:
    """Stop work, whether it goes on or still waits for its turn; False where it was done already."""
    if subject is None:
        return store.stop(db, kind, None, work, "")
    stand = _stand(db, kind, subject)
    waited = jobs.take_back(kind, subject)
    went_on = store.stop(db, kind, subject, None, stand)
    if waited and not went_on:
        store.stopped_before_it_began(db, kind, subject, stand)
    if kind is WorkKind.PLAN:
        no_plan_asked(db, subject)
    return waited or went_on


def is_stopped(db: Session, kind: WorkKind, subject: uuid.UUID) -> bool:
    """Whether it was stopped, and nothing has changed since that it would stand on."""
    last = store.newest(db, kind, subject)
    if last is None or last.outcome != WorkOutcome.STOPPED:
        return False
    return last.stand == _stand(db, kind, subject)


def again(db: Session, kind: WorkKind, subject: uuid.UUID) -> None:
    """It is wanted after all: that it was stopped is forgotten."""
    last = store.newest(db, kind, subject)
    if last is not None and last.outcome == WorkOutcome.STOPPED:
        store.forget(db, last.id)

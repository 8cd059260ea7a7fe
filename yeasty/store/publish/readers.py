"""What readers said who cooked it."""

import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.publish.tried import Came, Told, counted
from yeasty.store.base import now
from yeasty.store.publish.promises import _not_too_many
from yeasty.store.publish.tables import Publication, ReaderTry


def add_try(
    db: Session,
    publication: Publication,
    *,
    tag: str,
    method: str,
    came: Came,
    kitchen: str,
    took_s: float | None,
    note: str,
) -> ReaderTry:
    """Keep what a reader says; counted nowhere until somebody of the kitchen has looked.

    Raises
    ------
    Refused : readers have sent too many of late
    """
    _not_too_many(db, ReaderTry.given_at, ReaderTry.counted.is_(None))
    row = ReaderTry(
        publication_id=publication.id,
        tag=tag,
        method=method,
        came=came.value,
        kitchen=kitchen.strip(),
        took_s=took_s,
        note=note.strip(),
        given_at=now(),
        counted=None,
    )
    db.add(row)
    db.flush()
    return row


def tries_of(db: Session, trial_id: uuid.UUID) -> Sequence[tuple[ReaderTry, Publication]]:
    """All of a trial's page, newest first, each with the version it is about."""
    query = (
        select(ReaderTry, Publication)
        .join(Publication)
        .where(Publication.trial_id == trial_id)
        .order_by(ReaderTry.given_at.desc(), ReaderTry.id)
        .limit(500)
    )
    return [(a, b) for a, b in db.execute(query).all()]


def told_of(db: Session, slug: str) -> Told:
    """What a page may tell of its readers: those that were counted, and notes that may be shown."""
    rows = db.scalars(
        select(ReaderTry)
        .join(Publication)
        .where(Publication.slug == slug, Publication.from_elsewhere.is_(False), ReaderTry.counted.is_(True))
        .order_by(ReaderTry.given_at, ReaderTry.id)
    ).all()
    notes = tuple(r.note for r in rows if r.note_shown and r.note)
    return Told(counted([(r.method, r.came) for r in rows]), notes)

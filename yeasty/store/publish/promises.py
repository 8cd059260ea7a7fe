"""Things to try, readers’ questions among them."""

import uuid
from collections.abc import Sequence
from datetime import datetime, timedelta

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from yeasty.core.ask.worth import sounds_like_a_promise
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import EntryRow, Shift
from yeasty.store.publish.tables import Promise, Source

# Public forms take this many an hour in all, so that a prank fills no table.
MOST_AN_HOUR = 60


def open_promises(db: Session, *, closed: bool = False) -> Sequence[Promise]:
    """The list, newest first; with those done or closed where asked."""
    query = select(Promise).order_by(Promise.added_at.desc(), Promise.id)
    if not closed:
        query = query.where(Promise.closed_at.is_(None))
    return db.scalars(query.limit(500)).all()


def add_promise(
    db: Session,
    text: str,
    source: Source,
    *,
    dish: str = "",
    trial_id: uuid.UUID | None = None,
    entry_id: uuid.UUID | None = None,
    by: uuid.UUID | None = None,
) -> Promise:
    """Put a thing to try on the list.

    Raises
    ------
    RuleError : an empty text; Refused where readers have sent too many of late
    """
    if len(text.strip()) < 4:
        raise RuleError("what to try", "is empty", "Write it in a few words.")
    if source is Source.READER:
        _not_too_many(db, Promise.added_at, Promise.source == Source.READER.value)
    row = Promise(
        text=text.strip(),
        dish=dish,
        source=source.value,
        trial_id=trial_id,
        entry_id=entry_id,
        added_at=now(),
        added_by=by,
    )
    db.add(row)
    db.flush()
    return row


def _not_too_many(db: Session, sent: InstrumentedAttribute[datetime], which: ColumnElement[bool]) -> None:
    if (db.scalar(select(func.count()).where(sent > now() - timedelta(hours=1), which)) or 0) >= MOST_AN_HOUR:
        raise Refused("form", "has been sent very often just now", "Try again in an hour.")


def notes_that_promise(db: Session, most: int = 40) -> list[tuple[EntryRow, Trial]]:
    """Notes of the last cookings that say something is to be tried, and are not on the list yet."""
    taken = select(Promise.entry_id).where(Promise.entry_id.is_not(None))
    superseded = select(EntryRow.supersedes).where(EntryRow.supersedes.is_not(None))
    rows = db.execute(
        select(EntryRow, Trial)
        .join(Shift, Shift.id == EntryRow.shift_id)
        .join(Trial, Trial.id == Shift.trial_id)
        .where(EntryRow.kind.in_(("note", "cue")), EntryRow.id.not_in(taken), EntryRow.id.not_in(superseded))
        .order_by(EntryRow.server_time.desc())
        .limit(400)
    )
    found = [(e, t) for e, t in rows if sounds_like_a_promise(str(e.payload.get("text", "")))]
    return found[:most]


def titles(db: Session, ids: set[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Titles of trials by id."""
    rows = db.execute(select(Trial.id, Trial.title).where(Trial.id.in_(ids))).all() if ids else []
    return {r.id: r.title for r in rows}

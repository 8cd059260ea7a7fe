"""What is done with what readers say: looked at, counted, shown or left out, or made a thing to try."""

import uuid

from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.kernel.quantities import parse_duration
from yeasty.core.publish.document import as_now
from yeasty.core.publish.html import cooked_by
from yeasty.core.publish.tried import Came, against_caution
from yeasty.store.ask.tables import Trial
from yeasty.store.publish import readers
from yeasty.store.publish.promises import add_promise
from yeasty.store.publish.tables import Promise, Publication, ReaderTry, Source

LONGEST_S = 14 * 86_400.0


def take_try(
    db: Session, row: Publication, *, way: str, came: str, kitchen: str, took: str, note: str
) -> ReaderTry:
    """Keep what a reader says of a version.

    Raises
    ------
    RuleError : no way of that page, no word for how it came out, no time; Refused where too many came of late
    """
    ways = cooked_by(as_now(row.document))
    if len(ways) == 1:
        way = next(iter(ways))
    if way not in ways:
        raise RuleError("way", "is none of this page", "Choose which of them you cooked.")
    if came not in set(Came):
        raise RuleError("how it came out", "is not said", "Choose well, fairly or badly.")
    seconds = parse_duration(took) if took.strip() else None
    if seconds is not None and not 0 < seconds <= LONGEST_S:
        raise RuleError("time", "is no time that food takes", "Give it as 35 min or 1 h 10 min.")
    return readers.add_try(
        db,
        row,
        tag=way,
        method=ways[way],
        came=Came(came),
        kitchen=kitchen,
        took_s=seconds,
        note=note,
    )


def look_at(
    db: Session, trial: Trial, try_id: uuid.UUID, *, counted: bool, note_shown: bool, by: uuid.UUID
) -> None:
    """Count what a reader said, with its note or without, or leave it out.

    Raises
    ------
    RuleError : none of this trial's page; Refused for a note that sets a caution aside
    """
    row = _of_trial(db, trial, try_id)
    if note_shown and (not counted or not row.note):
        raise RuleError("note", "is shown only with what is counted", "Count it too, or leave both out.")
    if note_shown and against_caution(row.note):
        raise Refused(
            "note",
            "seems to set a caution aside, so it is never shown to readers",
            "Count it without its note.",
        )
    row.counted, row.note_shown, row.looked_by = counted, note_shown, by
    db.flush()


def to_try(db: Session, trial: Trial, try_id: uuid.UUID, by: uuid.UUID) -> Promise:
    """What a reader said as a thing to try."""
    row = _of_trial(db, trial, try_id)
    said = f"{row.method}, cooked by a reader, came out {row.came}"
    text = f"{said}: {row.note}" if row.note else f"{said}. Why?"
    return add_promise(db, text[:500], Source.READER, dish=trial.dish, trial_id=trial.id, by=by)


def _of_trial(db: Session, trial: Trial, try_id: uuid.UUID) -> ReaderTry:
    row = db.get(ReaderTry, try_id)
    if row is None or db.get_one(Publication, row.publication_id).trial_id != trial.id:
        raise RuleError("reader", "said nothing of this page", "Choose one of the list.")
    return row

"""Things to try later, questions of readers, and guesses made before a test."""

import secrets
import uuid
from collections.abc import Sequence
from datetime import datetime, timedelta
from enum import StrEnum

from sqlalchemy import ColumnElement, ForeignKey, func, select
from sqlalchemy.orm import InstrumentedAttribute, Mapped, Session, mapped_column

from yeasty.core.ask.worth import sounds_like_a_promise
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.store.base import Base, Id, now, one_of
from yeasty.store.bench import EntryRow, Shift
from yeasty.store.publications import Analysis
from yeasty.store.tastings import Tasting, opened
from yeasty.store.trials import Trial

# Public forms take this many an hour in all, so that a prank fills no table.
MOST_AN_HOUR = 60


class Source(StrEnum):
    """Where an entry of the list comes from."""

    OWN = "own"
    NOTE = "note"
    WHAT_NEXT = "what_next"
    READER = "reader"


class Promise(Base):
    """A thing to try: open until a trial is made of it or it is closed with a reason."""

    __tablename__ = "promise"
    id: Mapped[Id]
    text: Mapped[str]
    dish: Mapped[str] = mapped_column(default="")
    source: Mapped[str]
    trial_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("trial.id", ondelete="SET NULL"), index=True
    )
    entry_id: Mapped[uuid.UUID | None] = mapped_column(index=True)
    became_trial_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("trial.id", ondelete="SET NULL"))
    closed_at: Mapped[datetime | None]
    closed_why: Mapped[str] = mapped_column(default="")
    added_at: Mapped[datetime]
    added_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    __table_args__ = (one_of("source", Source),)


class Guess(Base):
    """What someone expects to win, given before the codes are opened; shown only afterwards."""

    __tablename__ = "guess"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    who: Mapped[str] = mapped_column(default="")
    method_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("method.id", ondelete="SET NULL"))
    why: Mapped[str] = mapped_column(default="")
    by_link: Mapped[bool]
    given_at: Mapped[datetime]


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


def what_next(db: Session, most: int = 12) -> list[tuple[str, Trial]]:
    """What the last verdicts leave open and the list does not hold: leaders not told from the next, gaps in
    what was measured.
    """
    rows = db.execute(
        select(Analysis, Trial)
        .join(Trial, Trial.id == Analysis.trial_id)
        .order_by(Analysis.made_at.desc())
        .limit(20)
    )
    on_list = {(p.trial_id, p.text) for p in open_promises(db, closed=True)}
    found = []
    for analysis, trial in rows:
        verdict = analysis.result.get("verdicts", {}).get("weighted_score", {})
        texts = [f"Weigh or read what is missing: {g}" for g in analysis.result.get("gaps", [])[:2]]
        if verdict.get("leader") and verdict.get("how_sure") not in ("clear", None):
            texts.insert(0, f"Cook the leader and the runner-up again: {verdict.get('how_sure')} so far")
        found += [(text, trial) for text in texts if (trial.id, text) not in on_list]
    return found[:most]


def guess_token(db: Session, trial: Trial) -> str:
    """The public link's token, made at first asking."""
    if not trial.guess_token:
        trial.guess_token = secrets.token_urlsafe(12)
        db.flush()
    return trial.guess_token


def by_guess_token(db: Session, token: str) -> Trial | None:
    """The trial of a public guess link."""
    return (
        db.scalar(select(Trial).where(Trial.guess_token == token, Trial.guess_token != "")) if token else None
    )


def guesses_shown(db: Session, trial: Trial) -> bool:
    """Whether guesses may be seen: the codes of a tasting are open, or the lead has closed the guessing."""
    shown = select(Tasting.id).where(Tasting.trial_id == trial.id, opened()).limit(1)
    return trial.guesses_closed_at is not None or db.scalar(shown) is not None


def add_guess(
    db: Session, trial: Trial, who: str, method_id: uuid.UUID | None, why: str, *, by_link: bool
) -> Guess:
    """Keep a guess.

    Raises
    ------
    Refused : after the codes are open; RuleError : a method that is not one of the trial
    """
    if guesses_shown(db, trial):
        raise Refused("guess", "comes after the result", "Guesses are taken before the test only.")
    if method_id not in {m.id for m in trial.methods}:
        raise RuleError("method", "is not one of this trial", "Choose one that is listed.")
    if by_link:
        _not_too_many(db, Guess.given_at, Guess.by_link.is_(True))
    row = Guess(
        trial_id=trial.id,
        who=who.strip()[:80],
        method_id=method_id,
        why=why.strip()[:500],
        by_link=by_link,
        given_at=now(),
    )
    db.add(row)
    db.flush()
    return row


def guesses_of(db: Session, trial_id: uuid.UUID) -> Sequence[Guess]:
    """All guesses on a trial, oldest first."""
    return db.scalars(
        select(Guess).where(Guess.trial_id == trial_id).order_by(Guess.given_at, Guess.id)
    ).all()

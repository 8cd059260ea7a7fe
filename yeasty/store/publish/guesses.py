"""Guesses of readers before the verdict is out."""

import secrets
import uuid
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.publish.promises import _not_too_many
from yeasty.store.publish.tables import Guess
from yeasty.store.taste.queries import opened
from yeasty.store.taste.tables import Tasting


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

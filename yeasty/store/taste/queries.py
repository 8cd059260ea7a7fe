"""Tastings as they are asked for."""

import uuid
from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import ColumnElement, and_, func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.taste.tables import AnswerRow, Comment, KeyView, Sample, Seat, SeatAct, Tasting


def opened() -> ColumnElement[bool]:
    """The condition that a tasting's codes are open in this kitchen."""
    return and_(Tasting.opened_at.is_not(None), Tasting.from_elsewhere.is_(False))


def opened_tastings(db: Session, trial_id: uuid.UUID) -> list[Tasting]:
    """Tastings of a trial whose codes are open, in the order of their opening."""
    return list(
        db.scalars(
            select(Tasting)
            .where(Tasting.trial_id == trial_id, opened())
            .order_by(Tasting.opened_at, Tasting.id)
        )
    )


def acts_of(db: Session, tasting_ids: Sequence[uuid.UUID]) -> list[SeatAct]:
    """What others did with the seats of tastings, in order of time."""
    return list(
        db.scalars(
            select(SeatAct)
            .join(Seat)
            .where(Seat.tasting_id.in_(tasting_ids))
            .order_by(SeatAct.at, SeatAct.id)
        )
    )


def key_views_of(db: Session, tasting_ids: Sequence[uuid.UUID]) -> list[KeyView]:
    """Looks at the keys of tastings, in order of time."""
    return list(
        db.scalars(
            select(KeyView).where(KeyView.tasting_id.in_(tasting_ids)).order_by(KeyView.viewed_at, KeyView.id)
        )
    )


def tastings_of(db: Session, trial_id: uuid.UUID) -> list[Tasting]:
    """Tastings of a trial, newest first."""
    return list(
        db.scalars(
            select(Tasting)
            .where(Tasting.trial_id == trial_id)
            .order_by(Tasting.created_at.desc(), Tasting.id)
        )
    )


def newest_answers(db: Session, seat_ids: Sequence[uuid.UUID]) -> list[AnswerRow]:
    """The answer that counts for each seat, round, sample and attribute."""
    if not seat_ids:
        return []
    same = (AnswerRow.seat_id, AnswerRow.round_id, AnswerRow.sample_id, AnswerRow.attribute_id)
    return list(
        db.scalars(
            select(AnswerRow)
            .where(AnswerRow.seat_id.in_(seat_ids))
            .ext(distinct_on(*same))
            .order_by(*same, AnswerRow.given_at.desc(), AnswerRow.id.desc())
        )
    )


def changed_answers(db: Session, seat_ids: Sequence[uuid.UUID]) -> int:
    """How many answers were changed after they had been given: the first is kept beside the last."""
    same = (AnswerRow.seat_id, AnswerRow.round_id, AnswerRow.sample_id, AnswerRow.attribute_id)
    often = (
        select(func.count().label("n"))
        .select_from(AnswerRow)
        .where(AnswerRow.seat_id.in_(seat_ids))
        .group_by(*same)
        .having(func.count() > 1)
        .subquery()
    )
    return db.scalar(select(func.count()).select_from(often)) or 0


def newest_comments(db: Session, seat_ids: Sequence[uuid.UUID]) -> list[Comment]:
    """The words that count for each seat, round and sample, empty ones left out."""
    if not seat_ids:
        return []
    same = (Comment.seat_id, Comment.round_id, Comment.sample_id)
    rows = db.scalars(
        select(Comment)
        .where(Comment.seat_id.in_(seat_ids))
        .ext(distinct_on(*same))
        .order_by(*same, Comment.given_at.desc(), Comment.id.desc())
    )
    return [c for c in rows if c.text]


def answers_given(db: Session, tasting_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, int]:
    """Seat to how many samples and rounds it has answered: told before the codes are opened, the answers
    themselves are not.
    """
    about = func.coalesce(AnswerRow.sample_id, AnswerRow.round_id)
    rows = db.execute(
        select(AnswerRow.seat_id, func.count(func.distinct(about)))
        .join(Seat)
        .where(Seat.tasting_id.in_(tasting_ids))
        .group_by(AnswerRow.seat_id)
    )
    return {seat: int(count) for seat, count in rows}


def opened_samples(db: Session, trial_id: uuid.UUID) -> list[Sample]:
    """Samples of all opened tastings of a trial."""
    return list(db.scalars(select(Sample).join(Tasting).where(Tasting.trial_id == trial_id, opened())))


def codes_since(db: Session, moment: datetime) -> set[str]:
    """Codes given out in the whole kitchen since a moment."""
    return set(db.scalars(select(Sample.code).join(Tasting).where(Tasting.created_at >= moment).distinct()))


def seats_taken(db: Session) -> list[tuple[uuid.UUID, int, datetime]]:
    """Who has sat at a tasting here under which name: person, how often, when last. Made-up people of
    practice trials are nobody.
    """
    rows = db.execute(
        select(Seat.person_id, func.count(Seat.id), func.max(Tasting.created_at))
        .join(Tasting, Tasting.id == Seat.tasting_id)
        .join(Trial, Trial.id == Tasting.trial_id)
        .where(Trial.simulated.is_(False))
        .group_by(Seat.person_id)
    )
    return [(person, int(n), last) for person, n, last in rows]


def same_people(db: Session, person_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, uuid.UUID]:
    """Person to the person they are, where a lead has said that two are one; chains are followed."""
    rows = db.scalars(select(Person).where(Person.same_as.is_not(None)))
    known = {p.id: p.same_as for p in rows if p.same_as is not None}
    found = {}
    for person in person_ids:
        at, seen = person, {person}
        while at in known and known[at] not in seen:
            at = known[at]
            seen.add(at)
        found[person] = at
    return found

"""Tastings: samples with codes, seats with orders, private answers that are never changed."""

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import (
    CheckConstraint,
    ColumnElement,
    ForeignKey,
    Index,
    UniqueConstraint,
    and_,
    func,
    select,
)
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Mapped, Session, mapped_column, relationship

from yeasty.store.base import Base, Id, one_of
from yeasty.store.bench import Batch, Shift
from yeasty.store.people import Person


class Tasting(Base):
    """One sitting of a panel. Answers stay closed until the lead opens the codes.

    `questions` are the attributes as they were at the opening, `served_with` what else is eaten there: {what,
    allergens, checked}. One from elsewhere was opened in another kitchen: its answers count here only once
    the lead has opened it here too.
    """

    __tablename__ = "tasting"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    part: Mapped[str] = mapped_column(default="")
    age_words: Mapped[str] = mapped_column(default="")
    created_at: Mapped[datetime]
    opened_at: Mapped[datetime | None]
    opened_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    questions: Mapped[list[Any]] = mapped_column(default=list)
    served_with: Mapped[list[Any]] = mapped_column(default=list)
    from_elsewhere: Mapped[bool] = mapped_column(default=False)
    samples: Mapped[list["Sample"]] = relationship(order_by="Sample.code")
    seats: Mapped[list["Seat"]] = relationship(order_by="Seat.position")


class Sample(Base):
    """What tasters are given under a code. Its id is random and made after the shuffle."""

    __tablename__ = "sample"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"))
    batch_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("batch.id"))
    code: Mapped[str]
    batch: Mapped[Batch] = relationship()
    __table_args__ = (UniqueConstraint("tasting_id", "code"), UniqueConstraint("tasting_id", "batch_id"))


class Seat(Base):
    """A taster at a tasting: a personal link that can be revoked, and an order of codes."""

    __tablename__ = "seat"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    position: Mapped[int]
    link_generation: Mapped[int] = mapped_column(default=1)
    revoked_at: Mapped[datetime | None]
    told_allergens_at: Mapped[datetime | None]
    finished_at: Mapped[datetime | None]
    order: Mapped[list[str]]
    person: Mapped[Person] = relationship(lazy="joined")


class SeatAct(Base):
    """What somebody did with a seat that is not theirs: handed its link over, typed a paper ballot in. Kept
    for good.
    """

    __tablename__ = "seat_act"
    id: Mapped[Id]
    seat_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("seat.id", ondelete="CASCADE"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]
    what: Mapped[str]
    person: Mapped[Person] = relationship(lazy="joined")
    __table_args__ = (one_of("what", ("handed over", "typed in")),)


class AnswerRow(Base):
    """One answer. A change is a new row; the newest counts and the first is kept."""

    __tablename__ = "answer"
    id: Mapped[Id]
    seat_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("seat.id"))
    sample_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("sample.id"))
    attribute_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("attribute.id"))
    value: Mapped[float | None]
    refused: Mapped[bool] = mapped_column(default=False)
    comment: Mapped[str] = mapped_column(default="")
    given_at: Mapped[datetime]
    __table_args__ = (
        Index("ix_answer_seat_id_sample_id", "seat_id", "sample_id"),
        CheckConstraint("value is null or not refused", name="refusal_has_no_value"),
    )


class KeyView(Base):
    """A recorded look at the code key before the codes were opened, as by whoever plates."""

    __tablename__ = "key_view"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    viewed_at: Mapped[datetime]
    why: Mapped[str]


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


def acts_of(db: Session, tasting_id: uuid.UUID) -> list[SeatAct]:
    """What others did with the seats of a tasting, in order of time."""
    return list(
        db.scalars(
            select(SeatAct).join(Seat).where(Seat.tasting_id == tasting_id).order_by(SeatAct.at, SeatAct.id)
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


def newest_answers(db: Session, seat_ids: list[uuid.UUID]) -> list[AnswerRow]:
    """The answer that counts for each seat, sample and attribute."""
    if not seat_ids:
        return []
    return list(
        db.scalars(
            select(AnswerRow)
            .where(AnswerRow.seat_id.in_(seat_ids))
            .ext(distinct_on(AnswerRow.seat_id, AnswerRow.sample_id, AnswerRow.attribute_id))
            .order_by(
                AnswerRow.seat_id,
                AnswerRow.sample_id,
                AnswerRow.attribute_id,
                AnswerRow.given_at.desc(),
                AnswerRow.id.desc(),
            )
        )
    )


def answers_given(db: Session, tasting_id: uuid.UUID) -> dict[uuid.UUID, int]:
    """Seat to how many answers count: told before the codes are opened, the answers themselves are not."""
    rows = db.execute(
        select(AnswerRow.seat_id, func.count(func.distinct(AnswerRow.sample_id)))
        .join(Seat)
        .where(Seat.tasting_id == tasting_id)
        .group_by(AnswerRow.seat_id)
    )
    return {seat: int(count) for seat, count in rows}


def opened_samples(db: Session, trial_id: uuid.UUID) -> list[Sample]:
    """Samples of all opened tastings of a trial."""
    return list(db.scalars(select(Sample).join(Tasting).where(Tasting.trial_id == trial_id, opened())))


def shift_of_batch(db: Session, batch_id: uuid.UUID) -> Shift:
    """The shift a batch was cooked in."""
    return db.scalars(select(Shift).join(Batch).where(Batch.id == batch_id)).one()

"""Tastings: rounds, samples with codes, seats with orders, private answers that are never changed."""

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from yeasty.core.taste.cups import Half, Protocol
from yeasty.core.taste.said import Said
from yeasty.core.taste.tests import Settings
from yeasty.store.base import Base, Id, Shaped, one_of
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.people_tables import Person


class Tasting(Base):
    """One sitting of a panel. Answers stay closed until the lead opens the codes.

    `questions` are the attributes as they were at the opening, `served_with` what else is eaten there: {what,
    allergens, checked}. One from elsewhere was opened in another kitchen: its answers count here only once
    the lead has opened it here too. One that was stopped is discarded: nobody tastes on. `protocol` says how
    cups come by their codes: see `yeasty.core.taste.cups`. It is laid before the heat where time is short,
    and nobody sees a code before it is served.
    """

    __tablename__ = "tasting"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    created_at: Mapped[datetime]
    opened_at: Mapped[datetime | None]
    opened_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    questions: Mapped[list[Any]] = mapped_column(default=list)
    served_with: Mapped[list[Any]] = mapped_column(default=list)
    from_elsewhere: Mapped[bool] = mapped_column(default=False)
    stopped_at: Mapped[datetime | None]
    stopped_why: Mapped[str] = mapped_column(default="")
    one_way: Mapped[bool] = mapped_column(default=False)
    protocol: Mapped[str] = mapped_column(default=Protocol.PLATED.value)
    served_at: Mapped[datetime | None]
    read_off_at: Mapped[datetime | None]
    read_off_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    cups: Mapped[list["CupRow"]] = relationship(order_by="CupRow.letter")
    rounds: Mapped[list["TasteRound"]] = relationship(order_by="TasteRound.position")
    samples: Mapped[list["Sample"]] = relationship(order_by="Sample.code")
    seats: Mapped[list["Seat"]] = relationship(order_by="Seat.position")
    __table_args__ = (one_of("protocol", tuple(p.value for p in Protocol)),)


class CupRow(Base):
    """What is written under the cups of a batch at one tasting, and what no cup can hide of it (colour,
    shape, smell), in words that no taster is shown.
    """

    __tablename__ = "cup"
    tasting_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasting.id", ondelete="CASCADE"), primary_key=True
    )
    batch_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("batch.id"), primary_key=True)
    letter: Mapped[str]
    shows: Mapped[str] = mapped_column(default="")
    batch: Mapped[Batch] = relationship()
    __table_args__ = (UniqueConstraint("tasting_id", "letter"),)


class TasteRound(Base):
    """What is asked at one go: a test, of one part, in one condition.

    `attributes` : ids of what is asked of each sample, all of the trial's where empty
    """

    __tablename__ = "taste_round"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    # Which tests there are is the core's to say: no constraint lists them.
    test: Mapped[str]
    name: Mapped[str] = mapped_column(default="")
    part: Mapped[str] = mapped_column(default="")
    condition: Mapped[str] = mapped_column(default="")
    age_words: Mapped[str] = mapped_column(default="")
    attributes: Mapped[list[str]] = mapped_column(default=list)
    settings: Mapped[Settings] = mapped_column(Shaped(Settings), default=Settings)
    break_s: Mapped[int] = mapped_column(default=0)
    samples: Mapped[list["Sample"]] = relationship(order_by="Sample.code", viewonly=True)
    servings: Mapped[list["Serving"]] = relationship()
    __table_args__ = (UniqueConstraint("tasting_id", "position"),)


class Sample(Base):
    """What tasters are given under a code. Its id is random and made after the shuffle.

    `batch_id` None for something that was not cooked here, as the promise on the box: then `outside` names
    it, or nothing does until the cups are turned over: then it is set, once. `state` says how it comes to the
    table: fresh, kept, reheated, from memory. `place` : where the cup stands, of codes that nobody knows yet.
    """

    __tablename__ = "sample"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"))
    round_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("taste_round.id", ondelete="CASCADE"), index=True)
    batch_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("batch.id"))
    code: Mapped[str]
    piece: Mapped[str] = mapped_column(default="")
    state: Mapped[str] = mapped_column(default="fresh")
    outside: Mapped[str] = mapped_column(default="")
    place: Mapped[int | None]
    batch: Mapped[Batch | None] = relationship()
    spoilt: Mapped["SpoiltSample | None"] = relationship(lazy="joined")
    __table_args__ = (
        UniqueConstraint("tasting_id", "code"),
        CheckConstraint(
            "(batch_id is null) = (outside <> '') or (batch_id is null and place is not null)",
            name="batch_or_outside",
        ),
        one_of("state", ("fresh", "kept", "reheated", "from memory")),
    )


class SpoiltSample(Base):
    """A sample that is not judged: dropped, its code swapped. Its answers are kept."""

    __tablename__ = "spoilt_sample"
    sample_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("sample.id", ondelete="CASCADE"), primary_key=True
    )
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]
    why: Mapped[str]


class Seat(Base):
    """A taster at a tasting: a personal link that can be revoked."""

    __tablename__ = "seat"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    position: Mapped[int]
    link_generation: Mapped[int] = mapped_column(default=1)
    revoked_at: Mapped[datetime | None]
    told_allergens_at: Mapped[datetime | None]
    # What they said of each allergen on the table and of what nobody checked; words as written.
    allergens_said: Mapped[dict[str, Any]] = mapped_column(default=dict)
    finished_at: Mapped[datetime | None]
    may_quote: Mapped[bool] = mapped_column(default=False)
    person: Mapped[Person] = relationship(lazy="joined")
    servings: Mapped[list["Serving"]] = relationship(lazy="selectin")

    def order_of(self, round_id: uuid.UUID) -> list[str]:
        """The codes of a round in this seat's order; empty where it has none."""
        return next((list(s.order) for s in self.servings if s.round_id == round_id), [])


class Serving(Base):
    """The order of codes of one seat in one round."""

    __tablename__ = "serving"
    seat_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("seat.id", ondelete="CASCADE"), primary_key=True)
    round_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("taste_round.id", ondelete="CASCADE"), primary_key=True, index=True
    )
    order: Mapped[list[str]]


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
    """One answer. A change is a new row; the newest counts and the first is kept.

    About a sample and a question, about a whole round (no sample), or, with neither question nor answer, that
    this sample is not for this person tonight.
    """

    __tablename__ = "answer"
    id: Mapped[Id]
    seat_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("seat.id"))
    round_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("taste_round.id"))
    sample_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sample.id"))
    attribute_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("attribute.id"))
    said: Mapped[Said | None] = mapped_column(Shaped(Said))
    refused: Mapped[bool] = mapped_column(default=False)
    why: Mapped[str] = mapped_column(default="")
    given_at: Mapped[datetime]
    __table_args__ = (
        Index("ix_answer_seat_id_sample_id", "seat_id", "sample_id"),
        CheckConstraint("(said is null) = refused", name="said_or_refused"),
    )


class Comment(Base):
    """Words of a taster on a sample, or on a round. A change is a new row; the newest counts."""

    __tablename__ = "comment"
    id: Mapped[Id]
    seat_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("seat.id"), index=True)
    round_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("taste_round.id"))
    sample_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("sample.id"))
    text: Mapped[str]
    given_at: Mapped[datetime]


class KeyView(Base):
    """A recorded look at the code key before the codes were opened, as by whoever plates. `half` is what was
    seen of it: "" all of it, else the letters under cups, or which code stands on which letter.
    """

    __tablename__ = "key_view"
    id: Mapped[Id]
    tasting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasting.id", ondelete="CASCADE"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    viewed_at: Mapped[datetime]
    why: Mapped[str]
    half: Mapped[str] = mapped_column(default="")
    __table_args__ = (one_of("half", ("", *(h.value for h in Half))),)

"""Drafts, publications, their files; things to try, guesses; what was deleted."""

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import ForeignKey, LargeBinary, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from yeasty.core.publish.pictures import Chosen
from yeasty.core.publish.tried import Came
from yeasty.store.base import Base, Id, Shaped, one_of


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


class Draft(Base):
    """What the lead has written for the next version of a method page."""

    __tablename__ = "draft"
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True)
    method_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("method.id", ondelete="SET NULL"))
    texts: Mapped[dict[str, Any]]
    pictures: Mapped[tuple[Chosen, ...]] = mapped_column(Shaped(tuple[Chosen, ...]), default=())
    version: Mapped[int] = mapped_column(default=1)


class Publication(Base):
    """A frozen version of what is told. Only its withdrawal can be added; a trigger holds the rest."""

    __tablename__ = "publication"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id"), index=True)
    slug: Mapped[str]
    version: Mapped[int]
    document: Mapped[dict[str, Any]]
    correction: Mapped[str] = mapped_column(default="")
    published_at: Mapped[datetime]
    published_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    withdrawn_at: Mapped[datetime | None]
    withdrawn_why: Mapped[str] = mapped_column(default="")
    from_elsewhere: Mapped[bool] = mapped_column(default=False)
    __table_args__ = (UniqueConstraint("slug", "version"), UniqueConstraint("trial_id", "version"))


class Rendering(Base):
    """A file of a publication: its PDF and its photos (one file a width, told apart by parameters of their
    media type), made by the worker, which can be dropped and made again; its data package, made when it came
    out and never again, since records go on.
    """

    __tablename__ = "rendering"
    publication_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("publication.id", ondelete="CASCADE"), primary_key=True
    )
    media_type: Mapped[str] = mapped_column(primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
    made_at: Mapped[datetime]


class Deletion(Base):
    """That a trial was deleted for good."""

    __tablename__ = "deletion"
    id: Mapped[Id]
    at: Mapped[datetime]
    by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    reason: Mapped[str]
    slugs: Mapped[list[str]]


class Defect(Base):
    """What can go wrong with a dish, how it looks, why and what cures it; or what only looks wrong.
    `shipped`: key of what came with the program, "" for the kitchen's own; told on pages only where a lead
    took it up. `photo_id`: how it looks, in the words of `photo_alt`, cut about `photo_x` and `photo_y` as
    shares of the photo.
    """

    __tablename__ = "defect"
    id: Mapped[Id]
    name: Mapped[str]
    looks: Mapped[str]
    causes: Mapped[str]
    cure: Mapped[str]
    normal: Mapped[bool] = mapped_column(default=False)
    techniques: Mapped[list[str]] = mapped_column(default=list)
    stands_on: Mapped[str] = mapped_column(default="")
    trial_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("trial.id", ondelete="SET NULL"), index=True
    )
    taken_up: Mapped[bool] = mapped_column(default=False)
    shipped: Mapped[str] = mapped_column(default="")
    photo_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("photo.id", ondelete="SET NULL"), index=True
    )
    photo_alt: Mapped[str] = mapped_column(default="")
    photo_x: Mapped[float] = mapped_column(default=0.5)
    photo_y: Mapped[float] = mapped_column(default=0.5)
    photo_zoom: Mapped[float] = mapped_column(default=1.0)
    changed_at: Mapped[datetime]


class ReaderTry(Base):
    """That a reader cooked a page's method, in their words. `counted`: None until somebody of the kitchen has
    looked; its note is shown only where that person let it.
    """

    __tablename__ = "reader_try"
    id: Mapped[Id]
    publication_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("publication.id", ondelete="CASCADE"), index=True
    )
    tag: Mapped[str]
    method: Mapped[str]
    kitchen: Mapped[str] = mapped_column(default="")
    took_s: Mapped[float | None]
    came: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    given_at: Mapped[datetime]
    counted: Mapped[bool | None]
    note_shown: Mapped[bool] = mapped_column(default=False)
    looked_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    __table_args__ = (one_of("came", Came),)

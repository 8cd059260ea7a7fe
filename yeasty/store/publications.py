"""Publications: drafts, frozen dated versions, renderings, and results of slow work."""

import uuid
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, LargeBinary, UniqueConstraint, func, select
from sqlalchemy.orm import Mapped, Session, mapped_column

from yeasty.store.base import Base, Id


class Draft(Base):
    """What the lead has written for the next version of a method page."""

    __tablename__ = "draft"
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True)
    method_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("method.id", ondelete="SET NULL"))
    texts: Mapped[dict[str, Any]]
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
    """A file made of a publication by the worker, such as its PDF. Can be dropped and made again."""

    __tablename__ = "rendering"
    publication_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("publication.id", ondelete="CASCADE"), primary_key=True
    )
    media_type: Mapped[str] = mapped_column(primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
    made_at: Mapped[datetime]


class Analysis(Base):
    """A result of slow work about a trial, with the sum of what it was worked out from. Can be dropped."""

    __tablename__ = "analysis"
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True)
    kind: Mapped[str] = mapped_column(primary_key=True)
    basis: Mapped[str]
    result: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]


class Deletion(Base):
    """That a trial was deleted for good."""

    __tablename__ = "deletion"
    id: Mapped[Id]
    at: Mapped[datetime]
    by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    reason: Mapped[str]
    slugs: Mapped[list[str]]


def versions_of(db: Session, trial_id: uuid.UUID) -> list[Publication]:
    """All versions of a trial's method page that this kitchen told, newest first."""
    query = select(Publication).where(Publication.trial_id == trial_id, Publication.from_elsewhere.is_(False))
    return list(db.scalars(query.order_by(Publication.version.desc())))


def next_version(db: Session, trial_id: uuid.UUID) -> int:
    """The number of the next version, beyond those an archive brought along."""
    last = db.scalar(select(func.max(Publication.version)).where(Publication.trial_id == trial_id))
    return (last or 0) + 1


def by_slug(db: Session, slug: str, version: int | None = None) -> Publication | None:
    """A version by its public address; the newest where none is named."""
    query = (
        select(Publication)
        .where(Publication.slug == slug, Publication.from_elsewhere.is_(False))
        .order_by(Publication.version.desc())
        .limit(1)
    )
    return db.scalar(query.where(Publication.version == version) if version is not None else query)


def free_slug(db: Session, wanted: str, gone: Iterable[str] = ()) -> str:
    """`wanted`, or with the lowest number that makes it free; `gone` are those of pages that are no more.

    Slugs are made of the title; a reader sees them, so no ids are in them.
    """
    taken = set(db.scalars(select(Publication.slug).where(Publication.slug.like(f"{wanted}%")).distinct()))
    taken.update(gone)
    if wanted not in taken:
        return wanted
    return next(f"{wanted}-{n}" for n in range(2, 100_000) if f"{wanted}-{n}" not in taken)


def was_deleted(db: Session, slug: str) -> Deletion | None:
    """That there was a page at this address, of a trial that was deleted."""
    return db.scalar(select(Deletion).where(Deletion.slugs.contains([slug])).limit(1))


def slugs_of_deleted(db: Session) -> set[str]:
    """Public addresses that are not used again."""
    return {slug for slugs in db.scalars(select(Deletion.slugs)) for slug in slugs}

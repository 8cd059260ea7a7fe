"""Publications: drafts, frozen dated versions, renderings, and results of slow work."""

import uuid
from collections.abc import Collection, Iterable, Sequence
from datetime import datetime
from typing import NamedTuple

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from yeasty.store.publish.tables import Deletion, Publication, Rendering


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


def newest_out(db: Session) -> list[Publication]:
    """The newest version of every page that this kitchen has out; withdrawn ones are left out."""
    newest = (
        select(Publication)
        .where(Publication.from_elsewhere.is_(False))
        .ext(distinct_on(Publication.slug))
        .order_by(Publication.slug, Publication.version.desc())
    )
    return [p for p in db.scalars(newest) if p.withdrawn_at is None]


class OutRow(NamedTuple):
    """The newest version of a page that is out, without what it says."""

    id: uuid.UUID
    slug: str
    version: int
    trial_id: uuid.UUID
    published_at: datetime
    correction: str


def newest_rows(db: Session) -> list[OutRow]:
    """As `newest_out`, without their documents; by address."""
    p = Publication
    newest = (
        select(p.id, p.slug, p.version, p.trial_id, p.published_at, p.correction, p.withdrawn_at)
        .where(p.from_elsewhere.is_(False))
        .ext(distinct_on(p.slug))
        .order_by(p.slug, p.version.desc())
    )
    return [OutRow(*row[:-1]) for row in db.execute(newest) if row[-1] is None]


def documents_of(db: Session, ids: Collection[uuid.UUID]) -> Sequence[Publication]:
    """Publications by their ids."""
    return db.scalars(select(Publication).where(Publication.id.in_(ids))).all() if ids else ()


def drop_sheets_that_link(db: Session, slugs: Collection[str]) -> None:
    """Let sheets of paper go that quote pages which are no more; they are made again when asked for."""
    for slug in slugs:
        quoting = select(Publication.id).where(Publication.document.contains({"linked": [{"slug": slug}]}))
        db.execute(
            delete(Rendering).where(
                Rendering.publication_id.in_(quoting), Rendering.media_type == "application/pdf"
            )
        )


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


def has_file(db: Session, publication_id: uuid.UUID, media_type: str) -> bool:
    """Whether a version has a file of a kind, without reading it."""
    made = select(Rendering.media_type).where(
        Rendering.publication_id == publication_id, Rendering.media_type == media_type
    )
    return db.scalar(made) is not None

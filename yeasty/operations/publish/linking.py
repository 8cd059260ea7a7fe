"""Pages that belong to each other: which may be linked, and which of those that were are out still."""

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.document import LinkedPage
from yeasty.operations.publish.listing import listed
from yeasty.store.publish.queries import newest_rows
from yeasty.store.publish.tables import Draft

MOST_LINKED = 8


def linkable(db: Session, trial_id: uuid.UUID) -> list[LinkedPage]:
    """Pages of other trials that are out, by their newest version."""
    others = [x.entry for x in listed(db) if x.trial_id != trial_id]
    return [LinkedPage(e.slug, e.version, e.title, e.headline, e.how_sure) for e in others]


def check_linked(db: Session, trial_id: uuid.UUID, slugs: Sequence[str]) -> str:
    """What a draft keeps of the pages that belong to it.

    Raises
    ------
    RuleError : more than fit, or one that is not out
    """
    if len(slugs) > MOST_LINKED:
        raise RuleError("linked", f"are more than {MOST_LINKED}", "Leave some out.")
    may = {p.slug for p in linkable(db, trial_id)}
    for slug in slugs:
        if slug not in may:
            raise RuleError("linked", f"“{slug}” is no page that is out", "Choose from the list.")
    return "\n".join(dict.fromkeys(slugs))


def linked_of(db: Session, draft: Draft) -> tuple[LinkedPage, ...]:
    """The pages that belong to a draft, as they are now, in the lead's order; those that are out."""
    wanted = [s for s in draft.texts.get("linked", "").splitlines() if s]
    if not wanted:
        return ()
    may = {p.slug: p for p in linkable(db, draft.trial_id)}
    return tuple(may[s] for s in wanted if s in may)


def standing(db: Session, document: Mapping[str, Any]) -> dict[str, Any]:
    """A published record as it may be told now: nothing is quoted from a page that was withdrawn since."""
    if not document.get("linked"):
        return dict(document)
    out = {row.slug for row in newest_rows(db)}
    return {**document, "linked": [p for p in document["linked"] if p["slug"] in out]}

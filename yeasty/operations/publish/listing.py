"""All pages that are out, as they stand in a list. What is out never changes, so each is read once."""

import uuid
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from yeasty.core.publish.contents import Entry, entry_of
from yeasty.store.publish.queries import documents_of, newest_rows

# So many pages a process remembers.
MOST_KEPT = 5000
_known: dict[uuid.UUID, Entry] = {}


@dataclass(frozen=True)
class Listed:
    """A page that is out, by its newest version: of which trial, since when, and what it corrects."""

    entry: Entry
    trial_id: uuid.UUID
    published_at: datetime
    correction: str


def listed(db: Session) -> list[Listed]:
    """Every page that is out; by its address."""
    rows = newest_rows(db)
    missing = [r.id for r in rows if r.id not in _known]
    if len(_known) + len(missing) > MOST_KEPT:
        _known.clear()
        missing = [r.id for r in rows]
    mine = {r.id: _known[r.id] for r in rows if r.id in _known}
    for p in documents_of(db, missing):
        mine[p.id] = _known[p.id] = entry_of(p.slug, p.version, p.document)
    return [Listed(mine[r.id], r.trial_id, r.published_at, r.correction) for r in rows]

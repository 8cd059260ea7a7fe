"""The list of all pages: by dish, method, gear, time and words."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yeasty.core.kernel.words import plain
from yeasty.core.publish.document import as_now
from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.recipe import for_readers


@dataclass(frozen=True)
class Entry:
    """A page in the list. `time` : from start to plate, of its quickest way, "" where it writes none out."""

    slug: str
    version: int
    title: str
    dish: str
    headline: str
    kind: str
    methods: tuple[str, ...]
    time: str


def contents(pages: Sequence[tuple[str, int, Mapping[str, Any]]], asked: str = "") -> list[Entry]:
    """Pages that hold every word asked for in title, dish, headline, methods or gear, by dish and title.

    `pages` : slug, version and record of each
    """
    wanted = plain(asked).split()
    found = []
    for slug, version, record in pages:
        r = as_now(record)
        written = [r["recipe"]] if r["recipe"] else list(r["recipes"])
        methods = tuple(x["method"] for x in written)
        gear = [g for x in written for g in x["gear"]]
        text = plain(" ".join([r["title"], r["dish"], r["headline"], *methods, *gear]))
        if all(w in text for w in wanted):
            quickest = min((x["total_s"] for x in written), default=0.0)
            kind = KINDS[PageKind(r["kind"])].name
            time = for_readers(quickest) if written else ""
            found.append(Entry(slug, version, r["title"], r["dish"], r["headline"], kind, methods, time))
    return sorted(found, key=lambda e: (e.dish.lower(), e.title.lower(), e.slug))

"""The list of all pages: by dish, method, gear, time and words."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yeasty.core.kernel.words import plain
from yeasty.core.publish.document import as_now
from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.recipe import for_readers

# So many stand on one sheet of the list.
A_SHEET = 50


@dataclass(frozen=True)
class Entry:
    """A page in the list.

    Attributes
    ----------
    time : from start to plate, of its quickest way, "" where it writes none out
    text : all by which it is found
    """

    slug: str
    version: int
    title: str
    dish: str
    headline: str
    how_sure: str
    kind: str
    methods: tuple[str, ...]
    time: str
    text: str


@dataclass(frozen=True)
class Sheet:
    """One sheet of the list: its pages, how many there are in all, its number from 1 and how many sheets."""

    entries: Sequence[Entry]
    found: int
    number: int = 1
    of: int = 1


def entry_of(slug: str, version: int, record: Mapping[str, Any]) -> Entry:
    """A published record, of any version of the document, as it stands in the list."""
    r = as_now(record)
    written = [r["recipe"]] if r["recipe"] else list(r["recipes"])
    methods = tuple(x["method"] for x in written)
    gear = [g for x in written for g in x["gear"]]
    quickest = min((x["total_s"] for x in written), default=0.0)
    return Entry(
        slug,
        version,
        r["title"],
        r["dish"],
        r["headline"],
        r["how_sure"],
        KINDS[PageKind(r["kind"])].name,
        methods,
        for_readers(quickest) if written else "",
        plain(" ".join([r["title"], r["dish"], r["headline"], *methods, *gear])),
    )


def contents(pages: Sequence[Entry], asked: str = "") -> list[Entry]:
    """Pages that hold every word asked for in title, dish, headline, methods or gear, by dish and title."""
    wanted = plain(asked).split()
    found = [e for e in pages if all(w in e.text for w in wanted)]
    return sorted(found, key=lambda e: (e.dish.lower(), e.title.lower(), e.slug))


def sheet(entries: Sequence[Entry], number: int) -> Sheet:
    """A sheet of the list; the last one where there are not so many.

    >>> sheet([], 3)
    Sheet(entries=[], found=0, number=1, of=1)
    """
    of = max(1, -(-len(entries) // A_SHEET))
    number = min(max(1, number), of)
    return Sheet(entries[(number - 1) * A_SHEET : number * A_SHEET], len(entries), number, of)

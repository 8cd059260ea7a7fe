"""What readers say who cooked it: counted beside the evidence, never as evidence."""

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


class Came(StrEnum):
    """How it came out."""

    WELL = "well"
    FAIRLY = "fairly"
    BADLY = "badly"


@dataclass(frozen=True)
class Told:
    """What readers told of a page: how many of each, and notes that the kitchen let be shown."""

    counts: tuple[tuple[str, int, int, int], ...]
    notes: tuple[str, ...]

    @property
    def sentence(self) -> str:
        """All of it in one sentence; "" where nobody said anything.

        >>> Told((("Oven", 2, 1, 0),), ()).sentence
        'Oven: 3 readers say that they cooked it (2 well, 1 fairly).'
        """
        return " ".join(_line(*c) for c in self.counts)


def _line(method: str, well: int, fairly: int, badly: int) -> str:
    said = ((well, Came.WELL), (fairly, Came.FAIRLY), (badly, Came.BADLY))
    parts = [f"{n} {word}" for n, word in said if n]
    many = well + fairly + badly
    who = "1 reader says" if many == 1 else f"{many} readers say"
    return f"{method}: {who} that they cooked it ({', '.join(parts)})."


def counted(rows: Iterable[tuple[str, str]]) -> tuple[tuple[str, int, int, int], ...]:
    """Method and how it came out, counted by method, in the order in which methods first appear.

    >>> counted([("Oven", "well"), ("Pan", "badly"), ("Oven", "well")])
    (('Oven', 2, 0, 0), ('Pan', 0, 0, 1))
    """
    by: dict[str, Counter[str]] = {}
    for method, came in rows:
        by.setdefault(method, Counter())[came] += 1
    return tuple((m, c[Came.WELL], c[Came.FAIRLY], c[Came.BADLY]) for m, c in by.items())


# Words by which a note sets a caution aside. A note that is not caught here is still read by a person.
_AGAINST = re.compile(
    r"\b(?:pink|rosa|raw|rare|bloody|undercooked|half[- ]?cooked|runny|cold in the middle)\b"
    r"|\b(?:left|stood|kept|sat)\b.{0,30}\b(?:out|overnight|counter|room temperature|hours)\b"
    r"|\b(?:skip|skipped|no need|not needed|needless|without|never|didn.?t|did not|don.?t)\b.{0,40}"
    r"\b(?:thermometer|probe|core|chill\w*|soak\w*|wash\w*|boil\w*|prick\w*|vent\w*|lid|rest\w*)\b"
    r"|\b(?:fuller|full to the (?:top|brim)|more than (?:half|two thirds|a third))\b"
    r"|\breheat\w*\b.{0,30}\b(?:twice|again|several|times)\b",
    re.IGNORECASE,
)


def against_caution(note: str) -> bool:
    """Whether a note seems to set a caution aside: such a one is never shown to readers.

    >>> against_caution("Still pink but fine"), against_caution("Crisp, and my oven took 20 min")
    (True, False)
    >>> against_caution("I did not read the core"), against_caution("left out overnight, still good")
    (True, True)
    """
    return bool(_AGAINST.search(note))

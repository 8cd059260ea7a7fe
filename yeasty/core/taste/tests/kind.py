"""What a taste test is: what is served, what is asked, what may be answered, what it tells."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from random import Random

from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said


@dataclass(frozen=True)
class Bar:
    """A line of a round's picture: so many of so many, or a mean with its ends."""

    label: str
    value: float
    most: float
    words: str
    low: float | None = None
    high: float | None = None
    luck: float | None = None
    group: str = ""
    least: float = 0.0


@dataclass(frozen=True)
class Found:
    """What a round tells: a sentence, what stands beside it, what would settle it, its picture; `prefers` :
    the method that people put first beyond luck, "" where none.
    """

    headline: str
    lines: tuple[str, ...] = ()
    settle: str = ""
    bars: tuple[Bar, ...] = ()
    right: int | None = None
    of: int | None = None
    chance: float | None = None
    prefers: str = ""


Serve = Callable[[Sequence[Sequence[str]], Sequence[int], int, Random], list[list[str]]]
Check = Callable[[Said, Sequence[str], Settings], Said]


@dataclass(frozen=True)
class TasteTest:
    """One kind of taste test.

    Attributes
    ----------
    key : what records call it
    name : as it is chosen
    asks : what a taster reads; {attribute} and {label} are filled in
    tells : what it can show, and what not, for whoever chooses it
    front : whether it stands in front or behind “other questions”
    fewest, most : batches in a round
    cups : codes of each batch
    drawn : what a taster is given: "samples", "order", "one", "groups" or "labels"
    wants : the setting it needs: "attribute", "label" or ""
    luck : chance of one right answer by guessing, None where there is no right answer
    reference : whether the first sample is what the others are held against
    serve : (codes of each batch, arm of each batch, people, chance) to an order of codes for each
    check : (answer, the person's order, settings) to the answer, or raises RuleError
    analyse : a tasted round to what it tells
    """

    key: TestKey
    name: str
    asks: str
    tells: str
    front: bool
    fewest: int
    most: int
    cups: int
    drawn: str
    serve: Serve
    check: Check
    analyse: Callable[[Round], Found]
    wants: str = ""
    luck: Callable[[int], Fraction] | None = None
    reference: bool = False

    def question(self, names: Mapping[str, str]) -> str:
        """What a taster reads.

        `names` : "attribute" and "label" to their words
        """
        return self.asks.format(**{"attribute": "", "label": "", **names})


def knowing(r: Round) -> tuple[str, ...]:
    """Who is counted apart since they know which is which, in a sentence; nothing where nobody does."""
    who = {g.who for g in r.given if not g.blind}
    if not who:
        return ()
    are = "person knows" if len(who) == 1 else "people know"
    return (f"{len(who)} {are} which is which and counted apart.",)


def refused(r: Round) -> tuple[str, ...]:
    """How many would rather not say."""
    who = {g.who for g in r.given if g.said is None}
    return (f"{len(who)} would rather not say.",) if who else ()

"""What a scale is."""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.kernel.errors import OutOfRange, check_range


class Scale(StrEnum):
    """How an attribute is answered."""

    INTENSITY = "intensity"
    LIKING = "liking"
    JUST_RIGHT = "just_right"
    RANK = "rank"
    WORDS = "words"
    CHECK_ALL = "check_all"
    STANDARDS = "standards"
    LIKENESS = "likeness"
    TALLY = "tally"
    EATEN = "eaten"


def by_word(values: Sequence[float], words: Sequence[str]) -> str:
    """How many chose which word, the most first.

    >>> by_word([1, 3, 3], ["raw", "firm", "tender"])
    '2 tender, 1 raw'
    """
    count = Counter(min(max(round(v), 1), max(len(words), 1)) for v in values)
    ordered = sorted(count.items(), key=lambda x: (-x[1], -x[0]))
    return ", ".join(f"{n} {words[i - 1] if words else i}" for i, n in ordered)


Tell = Callable[[Sequence[float], Sequence[str]], str]


@dataclass(frozen=True)
class ScaleKind:
    """One way to answer.

    Attributes
    ----------
    key : what records call it
    name : as it is chosen
    low, high, step : of an answer [points]; `high` None for as many as there are samples
    words : of each answer from the lowest, where they are always the same
    ends : whether the ends have words of the question's own, and one of them is wanted
    drawn : what a taster is given: "slider", "words" or "places"
    weighs : whether it may count in a weighted score
    averaged : whether a mean of answers says something
    low_is_best : whether the lowest answer is the best
    takes_in_all : whether whatever sways anything about the food sways it too
    shape : what an answer is: "value", "words" (some were ticked) or "tally" (so many of so many)
    own_words : whether the question lists words of its own, one an answer
    ranges : whether “8 to 9” is an answer
    tell : answers of people in words, for scales that are not averaged; (values, the question's own words)
    """

    key: Scale
    name: str
    low: float
    high: float | None
    step: float
    words: tuple[str, ...] = ()
    ends: bool = False
    drawn: str = "slider"
    weighs: bool = True
    averaged: bool = True
    low_is_best: bool = False
    takes_in_all: bool = False
    shape: str = "value"
    own_words: bool = False
    ranges: bool = False
    tell: Tell = by_word

    @property
    def orders(self) -> bool:
        """Whether all samples are put in order by it."""
        return self.high is None and not self.own_words

    def highest(self, samples: int, words: Sequence[str] = ()) -> float:
        """The highest answer where so many samples are judged; `words` are the question's own."""
        if self.own_words and words:
            return float(len(words))
        return float(samples) if self.high is None else self.high

    def check(self, field: str, value: float, samples: int, words: Sequence[str] = ()) -> float:
        """The value, if a taster may give it.

        Raises
        ------
        OutOfRange : outside the scale, or a place that is not one of those there are
        """
        if self.own_words and (value != int(value) or not self.low <= value <= len(words)):
            raise OutOfRange(field, f"{value:g} is none of its words", "Choose one of the words.")
        if self.orders:
            if value != int(value) or not self.low <= value <= samples:
                raise OutOfRange(
                    field, f"rank {value:g} is not one of 1 to {samples}", "Give each place once."
                )
            return value
        check_range(field, value, self.low, self.highest(samples, words), "points")
        return value

    def share(self, value: float, samples: int, *, high_is_better: bool = True) -> float:
        """An answer on 0 to 10 where 10 is the better end; stretched linearly, which is an assumption.

        Raises
        ------
        ValueError : a scale whose best lies between its ends
        """
        if not self.averaged:
            raise ValueError(f"{self.key} has no better end")
        span = self.highest(samples) - self.low
        share = 10.0 * (value - self.low) / span if span else 5.0
        better = high_is_better and not self.low_is_best
        return share if better or not span else 10.0 - share

"""What a scale is."""

from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.kernel.errors import OutOfRange, check_range


class Scale(StrEnum):
    """How an attribute is answered."""

    INTENSITY = "intensity"
    LIKING = "liking"
    JUST_RIGHT = "just_right"
    RANK = "rank"


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

    @property
    def orders(self) -> bool:
        """Whether all samples are put in order by it."""
        return self.high is None

    def highest(self, samples: int) -> float:
        """The highest answer where so many samples are judged."""
        return float(samples) if self.high is None else self.high

    def check(self, field: str, value: float, samples: int) -> float:
        """The value, if a taster may give it.

        Raises
        ------
        OutOfRange : outside the scale, or a place that is not one of those there are
        """
        if self.high is None:
            if value != int(value) or not self.low <= value <= samples:
                raise OutOfRange(
                    field, f"rank {value:g} is not one of 1 to {samples}", "Give each place once."
                )
            return value
        check_range(field, value, self.low, self.high, "points")
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

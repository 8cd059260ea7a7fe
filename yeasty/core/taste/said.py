"""What a taster says: one shape for each way to answer, whatever was asked."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Literal

from yeasty.core.ask.trial import Attribute, check_answer
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import SCALES

MOST_PIECES = 1000


@dataclass(frozen=True)
class SaidValue:
    """A point on a scale."""

    value: float
    kind: Literal["value"] = "value"


@dataclass(frozen=True)
class SaidRange:
    """“8 to 9”: the middle counts, the width is kept."""

    low: float
    high: float
    kind: Literal["range"] = "range"


@dataclass(frozen=True)
class SaidWords:
    """Words that were ticked."""

    words: list[str]
    kind: Literal["words"] = "words"


@dataclass(frozen=True)
class SaidTally:
    """So many of so many: “6 of 8 came clean”."""

    met: int
    of: int
    kind: Literal["tally"] = "tally"


@dataclass(frozen=True)
class SaidChoice:
    """One of the samples; an empty code says that there is none."""

    code: str
    kind: Literal["choice"] = "choice"


@dataclass(frozen=True)
class SaidOrder:
    """Samples from the first place to the last; those that share a place stand together."""

    places: list[list[str]]
    kind: Literal["order"] = "order"


@dataclass(frozen=True)
class SaidGroups:
    """Samples put together that belong together."""

    groups: list[list[str]]
    kind: Literal["groups"] = "groups"


@dataclass(frozen=True)
class SaidLabels:
    """Which label belongs to which sample: code to the label's key."""

    labels: dict[str, str]
    kind: Literal["labels"] = "labels"


Said = SaidValue | SaidRange | SaidWords | SaidTally | SaidChoice | SaidOrder | SaidGroups | SaidLabels


def points(said: Said | None) -> float | None:
    """An answer as a number, where it is one: the value, the middle of a range, the share of a tally.

    >>> points(SaidRange(8, 9)), points(SaidTally(6, 8)), points(SaidWords(["nutty"])), points(None)
    (8.5, 0.75, None, None)
    """
    match said:
        case SaidValue(value=value):
            return value
        case SaidRange(low=low, high=high):
            return (low + high) / 2
        case SaidTally(met=met, of=of):
            return met / of if of else None
        case _:
            return None


def checked(attribute: Attribute, said: Said, samples: int) -> Said:
    """An answer to a question about one sample, if the question's scale takes it.

    Raises
    ------
    RuleError : another kind of answer, outside the scale, words that are none of the question's

    >>> from yeasty.core.kernel.scales import Scale
    >>> checked(Attribute("c", "crust", Scale.INTENSITY), SaidRange(8, 9), 3).low
    8
    """
    scale = SCALES[attribute.scale]
    match said:
        case SaidValue(value=value) if scale.shape == "value":
            check_answer(attribute, value, samples)
        case SaidRange(low=low, high=high) if scale.shape == "value" and scale.ranges:
            check_answer(attribute, low, samples)
            check_answer(attribute, high, samples)
            if low > high:
                raise RuleError(attribute.name, "ends below where it begins", "Give the lower end first.")
        case SaidWords(words=words) if scale.shape == "words":
            if len(set(words)) != len(words) or set(words) - set(attribute.words):
                raise RuleError(attribute.name, "holds a word that is not asked", "Tick words of the list.")
        case SaidTally(met=met, of=of) if scale.shape == "tally":
            if not 0 < of <= MOST_PIECES or not 0 <= met <= of:
                raise RuleError(
                    attribute.name, f"{met} of {of} pieces cannot be", "Say how many of how many."
                )
        case _:
            raise RuleError(attribute.name, "is answered in another way", "Reload the page and answer again.")
    return said


def chosen(said: Said, codes: Sequence[str], *, none_allowed: bool = False) -> SaidChoice:
    """A choice among these samples.

    Raises
    ------
    RuleError : another kind of answer, none where one is wanted, a sample that is not among them
    """
    if not isinstance(said, SaidChoice):
        raise RuleError("answer", "is no choice", "Choose one of the samples.")
    if said.code == "" and none_allowed:
        return said
    if said.code not in codes:
        raise RuleError("answer", "names none of these samples", f"Choose one of {', '.join(codes)}.")
    return said


def partitioned(parts: Sequence[Sequence[str]], codes: Sequence[str], field: str) -> None:
    """Check that parts hold every sample once and no other.

    Raises
    ------
    RuleError : a sample twice, missing or unknown

    >>> partitioned([["102"], ["305", "417"]], ["305", "102", "417"], "order")
    """
    named = list(chain.from_iterable(parts))
    if sorted(named) != sorted(codes) or any(not p for p in parts):
        raise RuleError(field, "does not hold every sample once", f"Place each of {', '.join(codes)} once.")

"""The words of a question: kinds of trial, notions of fair and done, attributes and their scales."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from yeasty.core.kernel.scales import SCALES, Scale


class TrialKind(StrEnum):
    """How the arms of a trial hang together."""

    SIDE_BY_SIDE = "side_by_side"
    ONE_CHANGE = "one_change"
    CHAMPION = "champion"
    GRID = "grid"
    LADDER = "ladder"
    BRANCH = "branch"
    SCREENING = "screening"
    CHAIN = "chain"
    VARIETIES = "varieties"


class Fairness(StrEnum):
    """Which notion of fair the trial goes by."""

    SAME_RECIPE = "same_recipe"
    EACH_AT_ITS_BEST = "each_at_its_best"


class DoneRule(StrEnum):
    """What ends a cooking: the clock (time is held equal), the state, or a sample it is to match (time is a
    result).
    """

    BY_CLOCK = "by_clock"
    BY_STATE = "by_state"
    UNTIL_MATCH = "until_match"


@dataclass(frozen=True)
class Attribute:
    """One thing tasters are asked.

    Parameters
    ----------
    key : identity
    name : field term, as "crust"
    scale : how it is answered
    weight : share in the weighted score, >= 0
    low_words, high_words : what the ends of the scale mean
    high_is_better : for an intensity whose wanted end is the low one, False
    words : of a ladder or of ticks: the question's own words, from the lowest
    """

    key: str
    name: str
    scale: Scale
    weight: float = 1.0
    low_words: str = ""
    high_words: str = ""
    high_is_better: bool = True
    words: tuple[str, ...] = ()


def check_answer(attribute: Attribute, value: float, samples: int) -> float:
    """The value, if a taster may give it for this attribute.

    Raises
    ------
    OutOfRange : outside the scale, or a rank that is not 1 to `samples`

    >>> check_answer(Attribute("a", "crust", Scale.LIKING), 9, 5)
    9
    """
    return SCALES[attribute.scale].check(attribute.name, value, samples, attribute.words)


def share_of_scale(attribute: Attribute, value: float, samples: int) -> float:
    """An answer on 0 to 10 where 10 is the better end, so that unlike scales can be weighed together.

    Liking 1–9 and ranks are stretched linearly: an assumption, told wherever a weighted score is shown.

    >>> share_of_scale(Attribute("a", "liking", Scale.LIKING), 5, 4)
    5.0
    >>> share_of_scale(Attribute("a", "order", Scale.RANK), 1, 5)
    10.0
    """
    return SCALES[attribute.scale].share(value, samples, high_is_better=attribute.high_is_better)


def attribute_from_record(row: Mapping[str, Any]) -> Attribute:
    """An attribute from the record that a tasting keeps of it."""
    return Attribute(
        str(row["id"]),
        str(row["name"]),
        Scale(row["scale"]),
        float(row["weight"]),
        str(row["low_words"]),
        str(row["high_words"]),
        bool(row["high_is_better"]),
        tuple(str(w) for w in row.get("words", ())),
    )


def attribute_record(a: Attribute) -> dict[str, Any]:
    """An attribute as a tasting keeps it, frozen when its codes are opened."""
    return {
        "id": a.key,
        "name": a.name,
        "scale": a.scale.value,
        "weight": a.weight,
        "low_words": a.low_words,
        "high_words": a.high_words,
        "high_is_better": a.high_is_better,
        "words": list(a.words),
    }


def what_changed(then: Sequence[Attribute], now: Sequence[Attribute]) -> list[str]:
    """What of the questions would read the same answers otherwise, in words.

    >>> from dataclasses import replace
    >>> a = Attribute("a", "Crust", Scale.INTENSITY, 1, "", "", True)
    >>> what_changed([a], [replace(a, weight=3)]), what_changed([a], [a])
    (['Crust counts 3 instead of 1'], [])
    """
    found = []
    by_key = {a.key: a for a in now}
    for old in then:
        new = by_key.get(old.key)
        if new is None:
            found.append(f"{old.name} is left out")
            continue
        if new.weight != old.weight:
            found.append(f"{old.name} counts {new.weight:g} instead of {old.weight:g}")
        if new.high_is_better != old.high_is_better:
            found.append(f"of {old.name} {'more' if new.high_is_better else 'less'} is now the better")
    return found

"""Head to head: each person's share of the other samples that this one was put above."""

from collections.abc import Sequence

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.schools.kind import SchoolKind
from yeasty.core.decide.scores import Answer, rank_points


def duels(
    answers: Sequence[Answer], attributes: Sequence[Attribute], samples: int
) -> dict[tuple[str, str], float]:
    """(taster, sample) to the per cent of that person's other samples which it beat; a tie counts half.

    >>> from yeasty.core.kernel.scales import Scale
    >>> a = Attribute("o", "order", Scale.RANK)
    >>> got = duels([Answer("t", "m", "b", "o", 1), Answer("t", "n", "c", "o", 2)], [a], 2)
    >>> got["t", "m"], got["t", "n"]
    (100.0, 0.0)
    """
    points = rank_points(answers, attributes, samples)
    often: dict[str, int] = {}
    for who, _ in points:
        often[who] = often.get(who, 0) + 1
    return {(who, s): 100 * p / (often[who] - 1) for (who, s), p in points.items() if often[who] > 1}


def rule(_: Sequence[Attribute]) -> tuple[str, str]:
    """How it comes about."""
    return (
        "Head to head: for each person, how many of the other samples this one was put above.",
        "each person’s own order of all samples; how far apart two are does not count",
    )


PAIRS = SchoolKind(
    School.PAIRS,
    "head to head",
    "per cent of duels",
    "per cent of duels won, mean over tasters",
    duels,
    rule,
    on_scale=False,
)

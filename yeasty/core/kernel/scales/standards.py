"""A standard that is met, met in part, or not."""

from collections.abc import Sequence

from yeasty.core.kernel.scales.kind import Scale, ScaleKind, by_word

STEPS = ("not met", "met in part", "met")


def tell(values: Sequence[float], _words: Sequence[str]) -> str:
    """How many say that it is met.

    >>> tell([3, 3, 1], ())
    '2 met, 1 not met'
    """
    return by_word(values, STEPS)


STANDARDS = ScaleKind(
    Scale.STANDARDS,
    "Met, in part, or not",
    1,
    3,
    1,
    words=STEPS,
    drawn="words",
    weighs=False,
    averaged=False,
    tell=tell,
)

"""Too little, just right, too much: the best lies in the middle.

Its answers are counted, never averaged: much too little and much too much would make a mean that says
*right*. So it enters no weighted score. Whether *too much* is said more often than *too little* than a coin
would has an exact answer (binomial, two-sided); where all say right there is nothing to test.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import comb

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

MIDDLE = 3.0
# Below this a lean one way is called one.
LEANS_BELOW = 0.05


@dataclass(frozen=True)
class Counts:
    """How many said what, and how likely at least such a lean is where nobody leans; None with nothing to
    test.
    """

    too_little: int
    right: int
    too_much: int
    chance: float | None

    @property
    def words(self) -> str:
        """In a cook's words.

        >>> counts([3, 3, 4, 5, 4, 4, 4, 4]).words
        '2 of 8 just right, 6 too much: leans to too much (chance 3 in 100)'
        >>> counts([2, 3, 4]).words
        '1 of 3 just right, 1 too little, 1 too much'
        """
        total = self.too_little + self.right + self.too_much
        parts = [f"{self.right} of {total} just right"]
        parts += [f"{n} {w}" for n, w in ((self.too_little, "too little"), (self.too_much, "too much")) if n]
        said = ", ".join(parts)
        if self.chance is None or self.chance >= LEANS_BELOW:
            return said
        way = "too much" if self.too_much > self.too_little else "too little"
        return f"{said}: leans to {way} (chance {max(1, round(100 * self.chance))} in 100)"


def counts(values: Sequence[float]) -> Counts:
    """Count answers by side; one a person. A mean of one person's repeats leans where it is not the middle.

    >>> counts([3.0, 3.0])
    Counts(too_little=0, right=2, too_much=0, chance=None)
    """
    low = sum(v < MIDDLE for v in values)
    high = sum(v > MIDDLE for v in values)
    n = low + high
    if n == 0:
        return Counts(0, len(values), 0, None)
    # Two-sided and symmetric: twice the tail of the fewer side, at most one.
    tail = sum(comb(n, k) for k in range(min(low, high) + 1)) / 2**n
    return Counts(low, len(values) - n, high, min(1.0, 2 * tail))


def tell(values: Sequence[float], _words: Sequence[str]) -> str:
    """Counts in a cook's words."""
    return counts(values).words


JUST_RIGHT = ScaleKind(
    Scale.JUST_RIGHT,
    "Too little, just right, too much",
    1,
    5,
    1,
    words=("much too little", "too little", "just right", "too much", "much too much"),
    drawn="words",
    weighs=False,
    averaged=False,
    tell=tell,
)

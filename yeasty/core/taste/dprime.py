"""How far two samples lie apart for a panel (d′), from how many are right, and what a panel can find.

d′ is the difference between the two in units of a taster's own spread from bite to bite. Models: normal
perception of equal spread, each test with the rule that tasters follow by themselves (the largest, the odd
one, the most alike). Source: probability; the tests hold the curves against a table drawn from 200,000
trials a point.
"""

from collections.abc import Callable, Mapping
from fractions import Fraction
from math import sqrt

import numpy as np
from scipy.integrate import quad
from scipy.optimize import brentq
from scipy.stats import beta, norm

from yeasty.core.kernel.errors import check_range
from yeasty.core.taste.luck import at_least, fewest_right
from yeasty.core.taste.rounds import TestKey

FARTHEST = 8.0


def _directed_pair(d: float) -> float:
    return float(norm.cdf(d / sqrt(2)))


def _duo_trio(d: float) -> float:
    a, b = norm.cdf(d / sqrt(2)), norm.cdf(d / sqrt(6))
    return float(1 - a - b + 2 * a * b)


def _triangle(d: float) -> float:
    shift = d * sqrt(2 / 3)

    def at(u: float) -> float:
        return float((norm.cdf(shift - u * sqrt(3)) + norm.cdf(-shift - u * sqrt(3))) * norm.pdf(u))

    return float(2 * quad(at, 0, np.inf)[0])


def _tetrad(d: float) -> float:
    def at(x: float) -> float:
        near, far = norm.cdf(x), norm.cdf(x - d)
        return float(norm.pdf(x) * (2 * near * far - far * far))

    return float(1 - 2 * quad(at, -np.inf, np.inf)[0])


# Test to the share of right answers at a d′.
SHARE_RIGHT: Mapping[TestKey, Callable[[float], float]] = {
    TestKey.DIRECTED_PAIR: _directed_pair,
    TestKey.DUO_TRIO: _duo_trio,
    TestKey.TRIANGLE: _triangle,
    TestKey.TETRAD: _tetrad,
}
LUCK: Mapping[TestKey, Fraction] = {
    TestKey.DIRECTED_PAIR: Fraction(1, 2),
    TestKey.DUO_TRIO: Fraction(1, 2),
    TestKey.TRIANGLE: Fraction(1, 3),
    TestKey.TETRAD: Fraction(1, 3),
}


def share_right(test: TestKey, d_prime: float) -> float:
    """The share of right answers where two samples lie so far apart.

    Raises
    ------
    OutOfRange : below 0 or above 8
    KeyError : a test without right answers

    >>> round(share_right(TestKey.TETRAD, 1.0), 3), round(share_right(TestKey.DIRECTED_PAIR, 0.0), 3)
    (0.494, 0.5)
    """
    check_range("d′", d_prime, 0, FARTHEST, "")
    return SHARE_RIGHT[test](d_prime)


def d_prime_of(test: TestKey, right: int, of: int, level: float = 0.95) -> tuple[float, float, float]:
    """d′ from so many right: low, value, high; 0 where luck does as well, 8 where all are right.

    The range is that of the exact binomial (Clopper and Pearson).

    >>> [round(x, 2) for x in d_prime_of(TestKey.DIRECTED_PAIR, 9, 12)]
    [0.0, 0.95, 2.26]
    """
    low = float(beta.ppf((1 - level) / 2, right, of - right + 1)) if right else 0.0
    high = float(beta.ppf((1 + level) / 2, right + 1, of - right)) if right < of else 1.0
    return (_inverse(test, low), _inverse(test, right / of), _inverse(test, high))


def how_far_apart(test: TestKey, right: int, of: int) -> str:
    """How far apart two samples lie for this panel, told by what a plain comparison of the two would show.

    >>> how_far_apart(TestKey.DIRECTED_PAIR, 9, 12)
    'Asked which of the two has more of it, about 75 in 100 would be right, anything from 50 to 95; 50 is \
luck (d′ 1.0, 0.0 to 2.3).'
    """
    low, value, high = d_prime_of(test, right, of)
    share = [round(100 * _directed_pair(d)) for d in (low, value, high)]
    return (
        f"Asked which of the two has more of it, about {share[1]} in 100 would be right, anything from "
        f"{share[0]} to {share[2]}; 50 is luck (d′ {value:.1f}, {low:.1f} to {high:.1f})."
    )


def _inverse(test: TestKey, share: float) -> float:
    curve = SHARE_RIGHT[test]
    if share <= curve(0.0):
        return 0.0
    if share >= curve(FARTHEST):
        return FARTHEST
    return float(brentq(lambda d: curve(d) - share, 0.0, FARTHEST))


def power(test: TestKey, d_prime: float, people: int) -> float:
    """How often so many people find a difference of this size beyond luck (5 %, one-sided).

    >>> round(power(TestKey.DIRECTED_PAIR, 1.0, 8), 2), round(power(TestKey.TRIANGLE, 1.0, 8), 2)
    (0.39, 0.06)
    """
    fewest = fewest_right(people, LUCK[test])
    if fewest is None:
        return 0.0
    share = Fraction(share_right(test, d_prime)).limit_denominator(10**9)
    return float(at_least(fewest, people, share))

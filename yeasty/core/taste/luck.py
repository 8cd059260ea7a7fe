"""What luck alone would give: exact chances, counted in whole numbers and told as a cook says them.

Source: counting. The tests hold every function against tables that were worked out in two other ways, and
against drawing lots.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import permutations
from math import comb, factorial
from operator import add
from random import Random

# Below the first, luck is no longer a good reason; between the two it is one that cannot be put aside.
BEYOND_LUCK = Fraction(1, 20)
MAYBE_LUCK = Fraction(1, 5)


@lru_cache(maxsize=4096)
def at_least(right: int, of: int, chance: Fraction) -> Fraction:
    """The chance of at least so many right answers by guessing.

    >>> float(at_least(2, 4, Fraction(1, 4)))
    0.26171875
    """
    if right <= 0:
        return Fraction(1)
    # In whole numbers over one denominator: from all right downwards, each term from the one above it.
    hit, whole = chance.numerator, chance.denominator
    miss = whole - hit
    if right > of or hit == 0:
        return Fraction(0)
    term = total = hit**of
    for k in range(of, right, -1):
        term = term * k * miss // ((of - k + 1) * hit)
        total += term
    return Fraction(total, whole**of)


def as_uneven(one: int, other: int) -> Fraction:
    """The chance of a split at least as uneven, either way, where both are liked alike.

    >>> float(as_uneven(6, 0)), float(as_uneven(3, 3))
    (0.03125, 1.0)
    """
    n, most = one + other, max(one, other)
    return min(Fraction(1), 2 * at_least(most, n, Fraction(1, 2))) if n else Fraction(1)


def fewest_right(of: int, chance: Fraction, below: Fraction = BEYOND_LUCK) -> int | None:
    """The smallest number right that luck gives less often than `below`; None where even all right is not
    enough.

    >>> fewest_right(5, Fraction(1, 2)), fewest_right(4, Fraction(1, 2)), fewest_right(6, Fraction(1, 3))
    (5, None, 5)
    """
    return next((k for k in range(of + 1) if at_least(k, of, chance) <= below), None)


@lru_cache
def hits_by_luck(labels: int) -> tuple[Fraction, ...]:
    """The chance of 0, 1, 2 … hits where so many labels are put to so many samples at random.

    >>> hits_by_luck(4)[2] + hits_by_luck(4)[3] + hits_by_luck(4)[4]
    Fraction(7, 24)
    """
    none = [1, 0]
    for n in range(2, labels + 1):
        none.append((n - 1) * (none[n - 1] + none[n - 2]))
    return tuple(Fraction(comb(labels, h) * none[labels - h], factorial(labels)) for h in range(labels + 1))


@lru_cache
def _total_hits(labels: int, people: int) -> tuple[Fraction, ...]:
    total: list[Fraction] = [Fraction(1)]
    one = hits_by_luck(labels)
    for _ in range(people):
        grown = [Fraction(0)] * (len(total) + labels)
        for i, p in enumerate(total):
            for h, q in enumerate(one):
                grown[i + h] += p * q
        total = grown
    return tuple(total)


def at_least_hits(hits: int, labels: int, people: int) -> Fraction:
    """The chance of at least so many hits in all, by people who put labels to samples at random.

    >>> at_least_hits(2, 4, 1)
    Fraction(7, 24)
    """
    return sum(_total_hits(labels, people)[max(0, hits) :], Fraction(0))


# Largest panels whose rankings are counted in a few seconds: samples to people. Larger ones are drawn.
COUNTED = {2: 60, 3: 30, 4: 14, 5: 7, 6: 4, 7: 2, 8: 2}
DRAWS = 20_000


@dataclass(frozen=True)
class RankLuck:
    """How often luck ranks so: `agree` with at least the same agreement over all samples, `apart` with rank
    sums of any two at least so far apart. `drawn` where it was not counted but drawn 20,000 times.
    """

    agree: float
    apart: Mapping[float, float]
    drawn: bool

    def any_pair(self, difference: float) -> float:
        """How often luck sets any two samples at least so far apart."""
        return min(1.0, sum(p for d, p in self.apart.items() if d >= difference - 1e-9))


def rankings_by_luck(rows: Sequence[Sequence[float]], *, count: bool | None = None) -> RankLuck:
    """What luck alone would make of rankings: each person's places dealt to the samples at random.

    Parameters
    ----------
    rows : one row a person, the place of each sample; those that share a place have its mean (1, 2.5, 2.5, 4)
    count : whether to count all ways or to draw; by size where it is not said

    >>> luck = rankings_by_luck([(1, 2, 3)] * 4)
    >>> luck.agree, luck.any_pair(8), luck.drawn
    (0.004629629629629629, 0.004629629629629629, False)
    """
    doubled = tuple(sorted(tuple(sorted(round(2 * r) for r in row)) for row in rows))
    samples, people = len(doubled[0]), len(doubled)
    if count is None:
        count = people <= COUNTED.get(samples, 0)
    ways = _counted(doubled) if count else _drawn(doubled)
    total = sum(ways.values())
    sums = [sum(column) for column in zip(*rows, strict=True)]
    spread = rank_spread(sums, people)
    mean4 = 2 * people * (samples + 1)
    agree = sum(n for s, n in ways.items() if sum((2 * x - mean4) ** 2 for x in s) >= 4 * spread)
    apart: dict[float, float] = {}
    for s, n in ways.items():
        gap = (s[-1] - s[0]) / 2
        apart[gap] = apart.get(gap, 0.0) + n / total
    return RankLuck(agree / total, apart, not count)


@lru_cache(maxsize=64)
def _counted(rows: tuple[tuple[int, ...], ...]) -> dict[tuple[int, ...], int]:
    """Sorted sums of doubled places to the number of ways that give them."""
    # Nobody's places lie nearer to one sample than to another, so the order in which sums stand tells
    # nothing, and the first row may stay as it is.
    states = {rows[0]: 1}
    for row in rows[1:]:
        orders = Counter(permutations(row))
        grown: dict[tuple[int, ...], int] = {}
        for sums, ways in states.items():
            for order, times in orders.items():
                key = tuple(sorted(map(add, sums, order)))
                grown[key] = grown.get(key, 0) + ways * times
        states = grown
    return states


@lru_cache(maxsize=64)
def _drawn(rows: tuple[tuple[int, ...], ...]) -> dict[tuple[int, ...], int]:
    """The same, drawn."""
    chance = Random(20_260_101)
    found: Counter[tuple[int, ...]] = Counter()
    for _ in range(DRAWS):
        dealt = [chance.sample(row, len(row)) for row in rows]
        found[tuple(sorted(map(sum, zip(*dealt, strict=True))))] += 1
    return dict(found)


def rank_spread(rank_sums: Sequence[float], people: int) -> int:
    """The sum of squared deviations of rank sums from their mean, times 4.

    >>> rank_spread([4, 8, 12], 4)
    128
    """
    mean2 = people * (len(rank_sums) + 1)
    return round(sum((2 * s - mean2) ** 2 for s in rank_sums))


def concordance(rank_sums: Sequence[float], people: int) -> float:
    """Kendall's W without ties: 0 nobody agrees, 1 all rank alike.

    >>> concordance([4, 8, 12], 4)
    1.0
    """
    k = len(rank_sums)
    return 3 * rank_spread(rank_sums, people) / (people**2 * (k**3 - k))


@lru_cache
def _differences(samples: int, people: int) -> dict[int, Fraction]:
    """Difference of the rank sums of two samples named beforehand to its chance."""
    one: dict[int, Fraction] = {}
    pairs = samples * (samples - 1)
    for a in range(samples):
        for b in range(samples):
            if a != b:
                one[a - b] = one.get(a - b, Fraction(0)) + Fraction(1, pairs)
    found: dict[int, Fraction] = {0: Fraction(1)}
    for _ in range(people):
        grown: dict[int, Fraction] = {}
        for d, p in found.items():
            for e, q in one.items():
                grown[d + e] = grown.get(d + e, Fraction(0)) + p * q
        found = grown
    return found


def apart_at_least(difference: float, samples: int, people: int) -> Fraction:
    """The chance that rank sums of two samples, named beforehand, lie at least so far apart, either way.

    >>> float(apart_at_least(8, 3, 4))
    0.0015432098765432098
    """
    chances = _differences(samples, people)
    return sum((p for d, p in chances.items() if abs(d) >= abs(difference) - 1e-9), Fraction(0))


@lru_cache(maxsize=32)
def _one_trend(samples: int) -> tuple[tuple[int, int], ...]:
    """Sum of place times rung over one person's order, to how many orders have it."""
    rungs = range(1, samples + 1)
    found = Counter(sum(j * p for j, p in zip(rungs, order, strict=True)) for order in permutations(rungs))
    return tuple(sorted(found.items()))


@lru_cache(maxsize=32)
def _trend(samples: int, people: int) -> Mapping[int, Fraction]:
    """Page's L to its chance where everybody ranks at random."""
    total = Counter({0: 1})
    for _ in range(people):
        grown = Counter[int]()
        for so_far, ways in total.items():
            for more, n in _one_trend(samples):
                grown[so_far + more] += ways * n
        total = grown
    every = factorial(samples) ** people
    return {x: Fraction(n, every) for x, n in total.items()}


def trend_at_least(rank_sums: Sequence[int], people: int) -> Fraction:
    """Page's test, one way: the chance that places rise with the rung at least so steadily by luck.

    `rank_sums` : of each rung, in the order of the rungs

    >>> float(trend_at_least([2, 4, 6], 2))
    0.027777777777777776
    """
    least = sum(j * s for j, s in enumerate(rank_sums, 1))
    return sum((c for x, c in _trend(len(rank_sums), people).items() if x >= least), Fraction(0))


def often(chance: Fraction | float) -> str:
    """How often luck does as well, in words.

    >>> [often(p) for p in (0.9, 0.29, 0.26, 0.041, 0.0014)]
    ['9 times in 10', '3 times in 10', '1 time in 4', '1 time in 25', 'less than 1 time in 500']
    >>> often(0.97), often(0.125)
    ('nearly always', '1 time in 8')
    """
    p = float(chance)
    if p >= 0.95:
        return "nearly always"
    if p < 0.002:
        return "less than 1 time in 500"
    whole = min(
        (2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200, 300, 400, 500),
        key=lambda n: abs(1 / n - p) / p,
    )
    tenths = round(10 * p)
    if tenths >= 2 and abs(tenths / 10 - p) < abs(1 / whole - p):
        return f"{tenths} times in 10"
    return f"1 time in {whole}"


def beside_luck(chance: Fraction) -> str:
    """What a result says beside luck.

    >>> beside_luck(Fraction(1, 100)), beside_luck(Fraction(1, 10)), beside_luck(Fraction(1, 2))
    ('more than luck', 'perhaps luck', 'what luck gives')
    """
    if chance <= BEYOND_LUCK:
        return "more than luck"
    return "perhaps luck" if chance <= MAYBE_LUCK else "what luck gives"

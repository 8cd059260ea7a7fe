"""Pieces counted in the log: so many of so many were it. Compared exactly, and by batches where there are
several: pieces of one batch share its luck.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from scipy.stats import fisher_exact

from yeasty.core.decide.gaps import Gap, gap
from yeasty.core.decide.measured import SHARE, TALLY, OneBatch

# Of one batch: how many were it, of how many.
Count = tuple[int, int]
# Measure to way to what each of its batches was counted at.
Counts = Mapping[str, Mapping[str, Sequence[Count]]]
BY_LUCK = 0.05


def counts_of(batches: Mapping[str, Sequence[OneBatch]]) -> dict[str, dict[str, tuple[Count, ...]]]:
    """Everything that was counted: its key, way, batches."""
    found: dict[str, dict[str, list[Count]]] = {}
    for way, mine in batches.items():
        for b in mine:
            for name, count, out_of in b.batch.tallies:
                found.setdefault(TALLY + name, {}).setdefault(way, []).append((count, out_of))
    return {key: {way: tuple(rows) for way, rows in by.items()} for key, by in found.items()}


def tally_words(rows: Sequence[Count]) -> str:
    """A way's counts as a cook says them.

    >>> tally_words([(8, 8)]), tally_words([(8, 8), (5, 8)])
    ('8 of 8 in one cooking', '13 of 16 in 2 cookings (8 of 8, 5 of 8)')
    """
    if len(rows) == 1:
        return f"{rows[0][0]} of {rows[0][1]} in one cooking"
    each = ", ".join(f"{a} of {n}" for a, n in rows)
    return f"{sum(a for a, _ in rows)} of {sum(n for _, n in rows)} in {len(rows)} cookings ({each})"


@dataclass(frozen=True)
class TallyGap:
    """How far two ways lie apart by count.

    Attributes
    ----------
    luck : how often pieces alike would fall at least so unevenly (Fisher's exact test, two-sided) [-]
    by_batches : the gap of shares from batch to batch
    stands : whether both say so; of one cooking each the exact test alone
    """

    luck: float
    by_batches: Gap
    stands: bool


def tally_gap(first: Sequence[Count], second: Sequence[Count]) -> TallyGap:
    """First against second, exactly over all pieces, and by batches where both were cooked twice.

    Source: R. A. Fisher's exact test by `scipy.stats.fisher_exact`; with three of eight burst against none
    it gives 0.2: so few pieces tell little.

    >>> round(tally_gap([(8, 8)], [(5, 8)]).luck, 3), tally_gap([(8, 8)], [(1, 8)]).stands
    (0.2, True)
    """
    a, m = sum(c for c, _ in first), sum(n for _, n in first)
    b, n = sum(c for c, _ in second), sum(k for _, k in second)
    luck = float(fisher_exact([[a, m - a], [b, n - b]]).pvalue)
    apart = gap([c / k for c, k in first], [c / k for c, k in second], SHARE.grain)
    several = apart.low is not None
    return TallyGap(luck, apart, luck <= BY_LUCK and (apart.stands or not several))

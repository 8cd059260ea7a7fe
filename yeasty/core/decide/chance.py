"""How sure: paired intervals for leader and runner-up, and how often the leader stays first.

Tasters are not batches. Resampling tasters says how far this panel agrees about these batches; with one
batch a method it cannot tell the method from the batch. Intervals are t, since a percentile bootstrap is
too narrow for four to eight tasters.
"""

from collections.abc import Mapping, Sequence
from math import sqrt

import numpy as np

from yeasty.core.decide.outcome import PairedInterval
from yeasty.core.decide.scores import Table
from yeasty.core.kernel.errors import RuleError

RESAMPLES = 4000


def means(table: Table) -> dict[str, float]:
    """Mean score per method over the tasters that scored it."""
    sums: dict[str, list[float]] = {}
    for (_, method), value in sorted(table.items()):
        sums.setdefault(method, []).append(value)
    return {m: sum(v) / len(v) for m, v in sums.items()}


def paired_interval(
    table: Table,
    first: str,
    second: str,
    *,
    level: float = 0.95,
    batch_sd: float | None = None,
    batches: Mapping[str, int] | None = None,
) -> PairedInterval:
    """The t interval of the paired differences of two methods.

    Parameters
    ----------
    table : (taster, method) to score
    level : confidence, 0.5 to 0.999
    batch_sd : standard deviation of a method's mean from batch to batch [points], from the kitchen's own
        replicates; its variance over the number of batches of each method is added to that of the tasters
    batches : method to number of batches judged

    Raises
    ------
    RuleError : fewer than two tasters judged both: no interval can be given

    >>> t = {("a", "x"): 7.0, ("a", "y"): 6.0, ("b", "x"): 8.0, ("b", "y"): 6.0, ("c", "x"): 9.0, ("c", "y"): 6.0}
    >>> i = paired_interval(t, "x", "y")
    >>> round(i.difference, 2), round(i.low, 2), round(i.high, 2)
    (2.0, -0.48, 4.48)
    """  # noqa: E501
    from scipy.stats import t as student

    tasters = sorted({who for who, m in table if m == first} & {who for who, m in table if m == second})
    if len(tasters) < 2:
        raise RuleError(
            "tasters",
            f"{len(tasters)} judged both {first} and {second}",
            "At least two are needed for an interval.",
        )
    d = np.array([table[who, first] - table[who, second] for who in tasters])
    variance = float(d.var(ddof=1)) / len(d)
    if batch_sd:
        counts = batches or {}
        variance += batch_sd**2 * (1 / max(1, counts.get(first, 1)) + 1 / max(1, counts.get(second, 1)))
    half = float(student.ppf(0.5 + level / 2, len(d) - 1)) * sqrt(variance)
    mean = float(d.mean())
    return PairedInterval(first, second, len(d), mean, mean - half, mean + half, level, batch_sd)


def first_place_shares(
    table: Table,
    methods: Sequence[str],
    *,
    seed: int,
    batch_sd: float | None = None,
    batches: Mapping[str, int] | None = None,
    resamples: int = RESAMPLES,
) -> dict[str, float]:
    """How often each method is first when tasters are drawn again with replacement; ties are shared.

    Parameters
    ----------
    table : (taster, method) to score
    methods : those compared
    batch_sd, batches : as in `paired_interval`; noise of that size is added to each method's mean

    Returns
    -------
    method to share, the shares sum to 1 (all 0 where nobody judged)
    """
    tasters = sorted({who for who, m in table if m in set(methods)})
    if not tasters or not methods:
        return dict.fromkeys(methods, 0.0)
    grid = np.array([[table.get((who, m), np.nan) for m in methods] for who in tasters])
    random = np.random.default_rng(seed)
    picks = random.integers(0, len(tasters), size=(resamples, len(tasters)))
    drawn = grid[picks]
    known = ~np.isnan(drawn)
    counts = known.sum(axis=1)
    sums = np.where(known, drawn, 0.0).sum(axis=1)
    level = np.where(counts > 0, sums / np.maximum(counts, 1), -np.inf)
    if batch_sd:
        spread = np.array([batch_sd / sqrt(max(1, (batches or {}).get(m, 1))) for m in methods])
        level = level + random.standard_normal(level.shape) * spread
    best = level >= level.max(axis=1, keepdims=True) - 1e-9
    shares = (best / best.sum(axis=1, keepdims=True)).mean(axis=0)
    return {m: float(s) for m, s in zip(methods, shares, strict=True)}


def batch_spread(method_means: Sequence[Sequence[float]]) -> float | None:
    """Pooled standard deviation of a method's mean from batch to batch, from replicated methods.

    Parameters
    ----------
    method_means : for each method cooked more than once under one panel, the mean score of each batch

    Returns
    -------
    pooled standard deviation [points], or None where nothing was cooked twice

    >>> batch_spread([[6.0, 7.0]]), batch_spread([[6.0]])
    (0.7071067811865476, None)
    """
    squares, freedom = 0.0, 0
    for row in method_means:
        if len(row) > 1:
            mean = sum(row) / len(row)
            squares += sum((x - mean) ** 2 for x in row)
            freedom += len(row) - 1
    return sqrt(squares / freedom) if freedom else None

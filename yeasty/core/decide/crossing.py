"""Where a state turns along a ladder (tender or not, burst or not), by pieces that were counted."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log

import numpy as np
from scipy.optimize import minimize_scalar

# Twice the fall of the log likelihood that a 95 % range allows (chi-square with 1 df).
WITHIN = 3.841
STEEPEST, FINEST = 60.0, 241


@dataclass(frozen=True)
class Rung:
    """A rung: where it stands, and of how many pieces how many were it, over all its batches."""

    at: float
    count: int
    out_of: int

    @property
    def share(self) -> float:
        """How many of all."""
        return self.count / self.out_of


@dataclass(frozen=True)
class Crossing:
    """Where half of the pieces are it.

    Attributes
    ----------
    at : the point, None where it lies between two rungs and nothing tells where
    low, high : its 95 % range, or those two rungs; None on a side on which the rungs do not close it
    separated : whether no rung had some of both, so that only the two rungs beside it are told
    all_from : the first rung from which on every piece was it, None where none is
    rises : whether more become it along the ladder
    """

    at: float | None
    low: float | None
    high: float | None
    separated: bool
    all_from: float | None
    rises: bool


def crossing(rungs: Sequence[Rung]) -> Crossing | None:
    """Where the state turns; None where all rungs are alike, or there are fewer than two.

    A logistic curve through counts, its range by profile likelihood; where none of the rungs has some of both
    (complete separation, the usual case) no curve can be fitted: the two rungs between are told.

    >>> crossing([Rung(600, 0, 4), Rung(720, 0, 4), Rung(840, 4, 4)]).low
    720
    """
    rows = sorted(rungs, key=lambda r: r.at)
    if len(rows) < 2 or len({r.at for r in rows}) < len(rows):
        return None
    rises = _rises(rows)
    if rises is None:
        return None
    up = rows if rises else [Rung(r.at, r.out_of - r.count, r.out_of) for r in rows]
    all_from = None
    for r in reversed(up):
        if r.count < r.out_of:
            break
        all_from = r.at
    none = [r.at for r in up if r.count == 0]
    every = [r.at for r in up if r.count == r.out_of]
    if len(none) + len(every) == len(up):
        if not none or not every or max(none) > min(every):
            return None
        return Crossing(None, max(none), min(every), separated=True, all_from=all_from, rises=rises)
    at, low, high = _profile(up)
    return Crossing(at, low, high, separated=False, all_from=all_from, rises=rises)


def _rises(rows: Sequence[Rung]) -> bool | None:
    """Whether shares rise along the ladder, by their slope; None where they do neither."""
    x = np.array([r.at for r in rows])
    w = np.array([float(r.out_of) for r in rows])
    y = np.array([r.share for r in rows])
    slope = float((w * (x - np.average(x, weights=w)) * (y - np.average(y, weights=w))).sum())
    return None if abs(slope) < 1e-9 else slope > 0


def _profile(rows: Sequence[Rung]) -> tuple[float, float | None, float | None]:
    """The most likely crossing and its range; a side that stays open within one width beyond is None."""
    first, last = rows[0].at, rows[-1].at
    width = last - first
    grid = np.linspace(first - width, last + width, FINEST)
    best = [_best_at(rows, float(c), width) for c in grid]
    top = max(best)
    inside = [float(c) for c, value in zip(grid, best, strict=True) if 2 * (top - value) <= WITHIN]
    at = float(grid[int(np.argmax(best))])
    low = min(inside) if min(inside) > grid[0] else None
    high = max(inside) if max(inside) < grid[-1] else None
    return at, low, high


def _best_at(rows: Sequence[Rung], centre: float, width: float) -> float:
    """The best log likelihood of a rising logistic curve that crosses half at `centre`."""
    found = minimize_scalar(
        lambda k: -_likelihood(rows, centre, exp(k) / width),
        bounds=(log(0.05), log(STEEPEST)),
        method="bounded",
    )
    return -float(found.fun)


def _likelihood(rows: Sequence[Rung], centre: float, slope: float) -> float:
    total = 0.0
    for r in rows:
        z = max(-30.0, min(30.0, slope * (r.at - centre)))
        p = 1 / (1 + exp(-z))
        total += r.count * log(p) + (r.out_of - r.count) * log(1 - p)
    return total

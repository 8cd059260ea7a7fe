"""Where a state turns along a ladder (tender or not, burst or not), by pieces that were counted."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log

import numpy as np
from numpy.typing import NDArray
from scipy.special import expit, log_expit

# Twice the fall of the log likelihood that a 95 % range allows (chi-square with 1 df).
WITHIN = 3.841
# Slopes of a curve over the whole ladder; where it may cross, and how finely its slope is looked for.
FLATTEST, STEEPEST, FINEST, HALVINGS = 0.05, 60.0, 241, 40

Curve = NDArray[np.float64]


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
    best = _best_at(rows, grid, width)
    inside = grid[2 * (best.max() - best) <= WITHIN]
    at = float(grid[int(np.argmax(best))])
    low = float(inside[0]) if inside[0] > grid[0] else None
    high = float(inside[-1]) if inside[-1] < grid[-1] else None
    return at, low, high


def _best_at(rows: Sequence[Rung], centres: Curve, width: float) -> Curve:
    """The best log likelihood of a rising logistic curve that crosses half at each centre.

    With its centre held the likelihood is concave in the slope: where it stops to rise is found by halving,
    for all centres at once.
    """
    count = np.array([r.count for r in rows])
    out_of = np.array([r.out_of for r in rows])
    apart = np.array([r.at for r in rows]) - centres[:, None]
    low, high = (np.full(len(centres), log(k)) for k in (FLATTEST, STEEPEST))
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        share = expit(np.exp(middle)[:, None] / width * apart)
        rising = ((count - out_of * share) * apart).sum(axis=1) > 0
        low, high = np.where(rising, middle, low), np.where(rising, high, middle)
    z = np.exp((low + high) / 2)[:, None] / width * apart
    found: Curve = (count * log_expit(z) + (out_of - count) * log_expit(-z)).sum(axis=1)
    return found

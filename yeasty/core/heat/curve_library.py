"""Dimensionless heating curves laid out in a table, so that many candidates can be read at once while a cook
waits.

Share of the rise that is done, and its integral (the answer to surroundings that climb steadily), for shape,
Biot number, place of the probe and Fourier number; straight lines between, in the logarithms.
"""

from functools import cache

import numpy as np
from numpy.typing import NDArray

from yeasty.core.heat.arrays import Floats
from yeasty.core.heat.conduction import Shape, unaccomplished

SHAPES: tuple[Shape, ...] = ("slab", "cylinder", "sphere")
BIOTS = np.geomspace(0.1, 60, 49)
POSITIONS = np.linspace(0.0, 0.5, 6)
FOURIERS = np.concatenate(([0.0], np.geomspace(0.004, 14, 800)))


@cache
def _library() -> Floats:
    """Share of the first step left, shape (shapes, Biot numbers, positions, Fourier numbers)."""
    return np.stack(
        [unaccomplished(shape, BIOTS[:, None, None], FOURIERS, POSITIONS[:, None]) for shape in SHAPES]
    )


def _between(grid: Floats, values: Floats) -> tuple[NDArray[np.int64], Floats]:
    """Place of each value in an evenly spaced grid: index below, and the share of the way to the next."""
    place = np.clip((values - grid[0]) / (grid[1] - grid[0]), 0.0, len(grid) - 1.0)
    low = np.minimum(place.astype(np.int64), len(grid) - 2)
    return low, np.asarray(place - low)


@cache
def tables() -> tuple[Floats, Floats]:
    """The library flat, as share of the rise done, and its integral over the Fourier number (answer to a
    ramp).
    """
    done = 1.0 - _library().reshape(-1, len(FOURIERS))
    steps = np.diff(FOURIERS) * (done[:, 1:] + done[:, :-1]) / 2
    return done, np.hstack([np.zeros((len(done), 1)), np.cumsum(steps, axis=1)])


def read(table: Floats, places: list[tuple[NDArray[np.int64], Floats]], fourier: Floats) -> Floats:
    """A table for candidates at Fourier numbers (n, times); zero before the heat begins."""
    step = np.log(FOURIERS[2] / FOURIERS[1])
    place = np.log(np.maximum(fourier, 1e-12) / FOURIERS[1]) / step + 1
    low = np.clip(place.astype(np.int64), 1, len(FOURIERS) - 2)
    share = np.clip(place - low, 0.0, 1.0)
    found = np.zeros_like(fourier)
    for row, weight in places:
        at = row[:, None] * len(FOURIERS) + low
        found += weight[:, None] * (table.take(at) * (1 - share) + table.take(at + 1) * share)
    return np.where(fourier < FOURIERS[1], 0.0, found)


def places_of(
    shape: NDArray[np.int64], biot: Floats, position: Floats
) -> list[tuple[NDArray[np.int64], Floats]]:
    """The four library curves around each candidate, as rows of the flat library, with their shares: straight
    lines in the logarithm of Biot and in position.
    """
    b, to_b = _between(np.log(BIOTS), np.log(biot))
    p, to_p = _between(POSITIONS, position)
    return [
        (
            (shape * len(BIOTS) + b + i) * len(POSITIONS) + p + k,
            (to_b if i else 1 - to_b) * (to_p if k else 1 - to_p),
        )
        for i in (0, 1)
        for k in (0, 1)
    ]

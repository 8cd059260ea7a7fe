"""Implicit finite volumes for heating through: many pieces side by side, or the lines of one piece.

Cells are finer towards the surface; time steps use a two-stage, stiffly accurate implicit method of second
order (Alexander's), which damps what a sudden change of surroundings stirs up. What flows in over the
surface is added up with the same weights, so the energy balance closes to rounding.
"""

from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.conduction import Shape, check_properties
from yeasty.core.kernel.errors import RuleError

CELLS = 70
GRADING = 1.6
GAMMA = 1 - 1 / sqrt(2)
_POWER = {"slab": 0, "cylinder": 1, "sphere": 2}


@dataclass(frozen=True)
class Axis:
    """One-dimensional cells, per unit of half thickness; `volume` sums to 1. `centre` weighs the two
    innermost cells for the value at the centre, where there is no slope.
    """

    volume: Floats
    middle: Floats
    face: Floats
    gap: Floats
    last_gap: float
    surface: float
    centre: tuple[float, float]


def _axis(shape: Shape, cells: int) -> Axis:
    power = _POWER[shape] + 1
    faces = 1 - (1 - np.linspace(0, 1, cells + 1)) ** GRADING
    middles = (faces[1:] + faces[:-1]) / 2
    volume = np.diff(faces**power)
    squares = np.diff(faces ** (power + 2)) / (power + 2) * power / volume
    weight = float(squares[0] / (squares[1] - squares[0]))
    return Axis(
        volume,
        middles,
        power * faces[1:-1] ** (power - 1),
        np.diff(middles),
        float(1 - middles[-1]),
        float(power),
        (1 + weight, -weight),
    )


class Body:
    """Rates between cells along one axis, for many pieces side by side; temperatures have shape (cells,
    many).
    """

    def __init__(
        self, shape: Shape, half: Floats, conductivity: Floats, diffusivity: Floats, cells: int
    ) -> None:
        self.axis = _axis(shape, cells)
        rate = diffusivity / half**2
        between = (self.axis.face / self.axis.gap)[:, None] * rate
        volume = self.axis.volume[:, None]
        self.lower = np.zeros((cells, rate.size))
        self.upper = np.zeros((cells, rate.size))
        self.lower[1:] = between / volume[1:]
        self.upper[:-1] = between / volume[:-1]
        # One W/m² over the surface warms the whole by `per_flux` [K/s]; `inner` leads from surface to last
        # cell [W/m²K].
        self.per_flux = self.axis.surface * rate * half / conductivity
        self.inner = conductivity / (half * self.axis.last_gap)

    def to_air(self, h: Floats) -> Floats:
        """Conductance from the last cell to the surroundings [W/m²K]."""
        return np.asarray(h * self.inner / (h + self.inner))

    def centre(self, t: Floats) -> Floats:
        """Value at the centre."""
        return np.asarray(self.axis.centre[0] * t[0] + self.axis.centre[1] * t[1])

    def at(self, t: Floats, position: Floats) -> Floats:
        """Value at a position of each piece, 0 centre to the middle of the last cell; straight lines between
        cells.
        """
        places = np.concatenate(([0.0], self.axis.middle))
        values = np.vstack([self.centre(t)[None, :], t])
        upper = np.clip(np.searchsorted(places, position), 1, len(places) - 1)
        share = (position - places[upper - 1]) / (places[upper] - places[upper - 1])
        piece = np.arange(t.shape[1])
        return np.asarray(values[upper - 1, piece] * (1 - share) + values[upper, piece] * share)

    def stage(self, base: Floats, dt: Floats, around: Floats, h: Floats) -> tuple[Floats, Floats]:
        """One implicit stage, many pieces side by side: temperatures, and the warming by what flows in
        [K/s].
        """
        conductance = self.to_air(h) * self.per_flux
        diagonal = 1 + dt * (self.lower + self.upper)
        last = dt * conductance / self.axis.volume[-1]
        diagonal[-1] += last
        right = base.copy()
        right[-1] += last * around
        found = _side_by_side(-dt * self.lower, diagonal, -dt * self.upper, right)
        return found, conductance * (around - found[-1])

    def stage_of_one(self, base: Floats, dt: float, around: float, h: float) -> tuple[Floats, Floats]:
        """As `stage`, for one piece whose lines (columns of `base`) all have the same surroundings."""
        from scipy.linalg.lapack import dgtsv

        conductance = self.to_air(np.asarray(h)) * self.per_flux
        lower, upper = self.lower[:, 0], self.upper[:, 0]
        diagonal = 1 + dt * (lower + upper)
        last = dt * conductance[0] / self.axis.volume[-1]
        diagonal[-1] += last
        right = base.copy()
        right[-1] += last * around
        # Diagonally dominant: it cannot fail.
        *_, found, failed = dgtsv(-dt * lower[1:], diagonal, -dt * upper[:-1], right)
        assert failed == 0
        return found, conductance[0] * (around - found[-1])


def _side_by_side(lower: Floats, diagonal: Floats, upper: Floats, right: Floats) -> Floats:
    """Tridiagonal systems side by side, shape (cells, many)."""
    cells = len(diagonal)
    above = np.empty_like(diagonal)
    above[0] = upper[0] / diagonal[0]
    right[0] /= diagonal[0]
    for i in range(1, cells):
        pivot = diagonal[i] - lower[i] * above[i - 1]
        above[i] = upper[i] / pivot
        right[i] = (right[i] - lower[i] * right[i - 1]) / pivot
    for i in range(cells - 2, -1, -1):
        right[i] -= above[i] * right[i + 1]
    return right


def centre_curves(
    shape: Shape,
    half_thickness: ArrayLike,
    times: ArrayLike,
    initial: ArrayLike,
    ambient: ArrayLike,
    h: ArrayLike,
    conductivity: ArrayLike,
    diffusivity: ArrayLike,
    *,
    position: ArrayLike = 0.0,
    cells: int = CELLS,
    substeps: int = 1,
) -> Floats:
    """Temperatures at the centre, or at another place, of many pieces in changing surroundings.

    Parameters
    ----------
    shape : "slab", "cylinder" or "sphere"
    half_thickness, initial, conductivity, diffusivity : one number or one a piece, shape (many,)
    times : rising, the first 0 [s], shape (n,) or (many, n)
    ambient, h : at the times, straight lines between [°C, W/m²K]; broadcast to (many, n)
    position : 0 centre to 0.9, one number or one a piece
    cells, substeps : how fine; steps are those between the times, divided by `substeps`

    Returns
    -------
    temperature [°C], shape (many, n)

    >>> centre_curves("sphere", 0.02, [0, 300, 600], 20, 100, 500, 0.5, 1.4e-7, substeps=30).round(1).tolist()
    [[20.0, 41.5, 75.7]]
    """
    half = np.atleast_1d(checked("half thickness", half_thickness, 0.0005, 0.5, "m"))
    seconds = np.atleast_2d(checked("time", times, 0, 3e6, "s"))
    if seconds.shape[-1] < 2 or np.any(seconds[:, 0] != 0) or np.any(np.diff(seconds, axis=-1) <= 0):
        raise RuleError("time", "does not rise from 0", "Give times that begin with 0 and rise.")
    coefficient, k, alpha = check_properties(h, conductivity, diffusivity)
    start = checked("initial temperature", initial, -60, 600, "°C")
    around = checked("temperature of the surroundings", ambient, -200, 1200, "°C")
    sizes = [a.size for a in (half, start, k, alpha)] + [
        a.shape[0] for a in (seconds, around, coefficient) if a.ndim > 1
    ]
    many = max(sizes)
    full = (many, seconds.shape[-1])
    seconds, around, coefficient = (np.broadcast_to(a, full) for a in (seconds, around, coefficient))
    half, k, alpha, start = (np.broadcast_to(a, (many,)).astype(float) for a in (half, k, alpha, start))
    body = Body(shape, half, k, alpha, cells)
    t = np.tile(start, (cells, 1))
    out = np.empty(full)
    out[:, 0] = start
    place = np.broadcast_to(checked("position", position, 0, 0.9, ""), (many,))

    def at(values: Floats, n: int, share: float) -> Floats:
        return np.asarray(values[:, n - 1] * (1 - share) + values[:, n] * share)

    for n in range(1, full[1]):
        dt = (seconds[:, n] - seconds[:, n - 1]) / substeps
        for m in range(substeps):
            middle, end = (m + GAMMA) / substeps, (m + 1) / substeps
            first, _ = body.stage(t, GAMMA * dt, at(around, n, middle), at(coefficient, n, middle))
            base = t + (1 - GAMMA) / GAMMA * (first - t)
            t, _ = body.stage(base, GAMMA * dt, at(around, n, end), at(coefficient, n, end))
        out[:, n] = body.at(t, place)
    return out

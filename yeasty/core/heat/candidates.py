"""Candidates for a probe log: shape, Biot number, time scale and place of the probe, each weighed by the log.

Start, rise to the surroundings and climb of the surroundings enter linearly: for each candidate they are
worked out by least squares with hints, and its weight follows in closed form. A coarse look over all that
kitchens have is followed by two fine ones around what it leaves possible.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.conduction import Shape
from yeasty.core.heat.curve_library import BIOTS, POSITIONS, places_of, read, tables


@dataclass(frozen=True)
class Looks:
    """How finely is looked: every n-th Biot number, places of the probe and time scales of the coarse look;
    points along each axis of what is left possible in the fine ones, the longest axis in the middle.
    """

    every_biot: int
    positions: tuple[int, ...]
    scales: int
    fine: tuple[int, int, int]


STEADY_LOOKS = Looks(4, (0, 2, 4), 48, (9, 15, 5))
# Three shapes are three times the work.
ANY_SHAPE_LOOKS = Looks(7, (0, 3), 32, (7, 11, 3))
# With a surface that may dry each candidate is weighed a dozen times over.
WET_LOOKS = Looks(8, (0, 3), 32, (5, 11, 3))
# The fine looks reach out to this many standard deviations.
REACH = 3.2
# A reading may be off by noise; the model besides by this much, whatever the number of readings [K].
READING_SD_K = 0.32
MODEL_SD_K = 0.1
# A drying surface may have begun to climb at these shares of the log. No such model is close, so what was
# read long ago counts less: the model is off by this much a log's length before now [K].
ONSETS = (0.0, 0.25, 0.5, 0.7, 0.85)
WET_DRIFT_K = 10.0


@dataclass(frozen=True)
class Known:
    """What is known before the first reading; each may be left out.

    Attributes
    ----------
    ambient_c : chamber measured, or set point corrected by the appliance's offset [°C]
    ambient_measured : whether a probe in the chamber says so
    wet : whether the surface gives off vapour, so that surroundings act cooler than the air
    half_thickness_m, diffusivity : of the piece [m, m²/s]; give the time scale a hint
    shape : where it is clearly one of the three
    """

    ambient_c: float | None = None
    ambient_measured: bool = False
    wet: bool = False
    half_thickness_m: float | None = None
    diffusivity: float | None = None
    shape: Shape | None = None


@dataclass(frozen=True)
class Candidates:
    """What the log leaves possible: one row a candidate, shape (n,).

    Attributes
    ----------
    weight : sums to 1
    shape : number of the shape in `SHAPES`
    biot, rate : Biot number [-] and diffusivity over half thickness squared [1/s]
    position : place of the probe, 0 centre to 1 surface
    onset_s : when its surroundings begin to climb [s]; infinite where they are steady
    linear : start [°C], rise to the surroundings at the start [K], climb a log's length [K]: shape (n, 3)
    spread : covariance of these, shape (n, 3, 3)
    """

    weight: Floats
    shape: NDArray[np.int64]
    biot: Floats
    rate: Floats
    position: Floats
    onset_s: Floats
    linear: Floats
    spread: Floats


@dataclass(frozen=True)
class Data:
    """A reduced log: time [s], mean reading [°C], number of readings, variance of the mean [K²], each
    (bins,).
    """

    at: Floats
    mean: Floats
    count: Floats
    variance: Floats


def coarse(
    shapes: list[int], length_s: float, looks: Looks
) -> tuple[NDArray[np.int64], Floats, Floats, Floats]:
    """Candidates all over: shape, Biot number, rate, position. The log may be the first hundredth of a
    heating-through or the end of one.
    """
    rates = np.geomspace(0.008, 3.0, looks.scales) / length_s
    grid = np.meshgrid(
        np.array(shapes), BIOTS[:: looks.every_biot], rates, POSITIONS[list(looks.positions)], indexing="ij"
    )
    shape, biot, rate, position = (g.ravel() for g in grid)
    return shape.astype(np.int64), biot, rate, position


def fine(
    seen: Candidates, points_of: tuple[int, int, int]
) -> tuple[NDArray[np.int64], Floats, Floats, Floats]:
    """Candidates around what is left possible, along its own axes, for each shape that still counts."""
    parts = []
    steps = np.stack(
        [g.ravel() for g in np.meshgrid(*(np.linspace(-REACH, REACH, n) for n in points_of), indexing="ij")]
    )
    for number in np.unique(seen.shape):
        mine = seen.shape == number
        mass = seen.weight[mine]
        if mass.sum() < 1e-3:
            continue
        at = np.stack([np.log(seen.biot[mine]), np.log(seen.rate[mine]), seen.position[mine]])
        middle = np.average(at, axis=1, weights=mass)
        spread = (
            np.atleast_2d(np.cov(at, aweights=mass / mass.sum(), ddof=0)) + np.diag([0.03, 0.01, 0.06]) ** 2
        )
        size, axes = np.linalg.eigh(spread)
        order = np.argsort(size)
        # The longest axis gets the most points.
        axes = axes[:, order] * np.sqrt(size[order])
        points = middle[:, None] + axes[:, [1, 2, 0]] @ steps
        inside = (np.abs(points[0]) < 9) & (points[2] > -0.25) & (points[2] < 0.6)
        points = points[:, inside]
        parts.append(
            (
                np.full(points.shape[1], number, dtype=np.int64),
                np.clip(np.exp(points[0]), BIOTS[0], BIOTS[-1]),
                np.exp(points[1]),
                np.abs(points[2]).clip(0, POSITIONS[-1]),
            )
        )
    shape, biot, rate, position = (np.concatenate(p) for p in zip(*parts, strict=True))
    return shape, biot, rate, position


def weighed(
    data: Data,
    known: Known,
    shape: NDArray[np.int64],
    biot: Floats,
    rate: Floats,
    position: Floats,
    *,
    temper: float,
) -> Candidates:
    """Weigh candidates by the log and the hints; start and rise are worked out for each. `temper` below 1
    flattens the weights, for a look that must not miss what lies between its points.
    """
    w = 1.0 / data.variance
    done, ramp = tables()
    places = places_of(shape, biot, position)
    length = float(data.at[-1])
    share = read(done, places, rate[:, None] * data.at)
    start_hint = float(data.mean[0])
    prior = _rate_hint(known, rate) - 0.5 * (position / 0.25) ** 2
    onsets: list[tuple[float, float]] = [(np.inf, 1.0)]
    if known.wet:
        onsets = [(np.inf, 0.5), *((o * length, 0.5 / len(ONSETS)) for o in ONSETS)]
    logs, linears, spreads, begins = [], [], [], []
    for onset, onset_share in onsets:
        climb = np.zeros_like(share)
        if np.isfinite(onset):
            climb = (
                read(ramp, places, rate[:, None] * np.maximum(data.at - onset, 0)) / (rate * length)[:, None]
            )
        # Least squares of reading = start + rise * share + climb: one 3 x 3 system a candidate, with hints on
        # each.
        x = np.stack([np.ones_like(share), share, climb], axis=-1)
        weighed = np.swapaxes(x * w[:, None], 1, 2)
        matrix, right = weighed @ x, weighed @ data.mean
        square = float((w * data.mean**2).sum())
        for hint_share, hint, width in _hint(known, start_hint):
            middle = np.array([start_hint, hint, 0.0])
            precision = np.array([3.0, width, max(30.0, abs(hint))]) ** -2.0
            full = matrix + np.diag(precision)
            linear = np.linalg.solve(full, (right + precision * middle)[..., None])[..., 0]
            misfit = (
                square
                + float((precision * middle**2).sum())
                - np.einsum("ni,ni->n", linear, right + precision * middle)
            )
            bulk = np.log(np.linalg.det(full)) - float(np.log(precision).sum())
            logs.append(np.log(hint_share * onset_share) - 0.5 * misfit - 0.5 * bulk + prior)
            linears.append(linear)
            spreads.append(full)
            begins.append(np.full(len(shape), onset))
    log = np.concatenate(logs)
    weight = np.exp(temper * (log - log.max()))
    kept = np.flatnonzero(weight > 1e-4)
    one = kept % len(shape)
    return Candidates(
        weight[kept] / weight[kept].sum(),
        shape[one],
        biot[one],
        rate[one],
        position[one],
        np.concatenate(begins)[kept],
        np.concatenate(linears)[kept],
        np.asarray(np.linalg.inv(np.concatenate(spreads)[kept]), dtype=float),
    )


def climbed(c: Candidates, at_s: float, length_s: float | None = None) -> Floats:
    """How far each candidate's surroundings have climbed by a time [K]."""
    steady = ~np.isfinite(c.onset_s)
    since = np.maximum(at_s - np.where(steady, at_s, c.onset_s), 0.0)
    return np.asarray(c.linear[:, 2] * since / (length_s or at_s))


def terms(c: Candidates, times: Floats, length_s: float) -> Floats:
    """What multiplies start, rise and climb at times, shape (n, times, 3)."""
    done, ramp = tables()
    places = places_of(c.shape, c.biot, c.position)
    share = read(done, places, c.rate[:, None] * times)
    climb = np.zeros_like(share)
    rising = np.flatnonzero(np.isfinite(c.onset_s))
    if rising.size:
        some = [(row[rising], weight[rising]) for row, weight in places]
        since = np.maximum(times - c.onset_s[rising, None], 0)
        climb[rising] = read(ramp, some, c.rate[rising, None] * since) / (c.rate[rising] * length_s)[:, None]
    return np.stack([np.ones_like(share), share, climb], axis=-1)


def only(c: Candidates, which: NDArray[np.int64]) -> Candidates:
    """Some of the candidates, their weights made to sum to 1."""
    weight = c.weight[which]
    return Candidates(
        weight / weight.sum(),
        c.shape[which],
        c.biot[which],
        c.rate[which],
        c.position[which],
        c.onset_s[which],
        c.linear[which],
        c.spread[which],
    )


def _rate_hint(known: Known, rates: Floats) -> Floats:
    if known.half_thickness_m is None:
        return np.zeros_like(rates)
    half = float(checked("half thickness", known.half_thickness_m, 0.0005, 0.5, "m"))
    usual = (known.diffusivity or 1.4e-7) / half**2
    spread = 0.22 if known.diffusivity else 0.4
    return np.asarray(-0.5 * (np.log(rates / usual) / spread) ** 2)


def _hint(known: Known, start: float) -> list[tuple[float, float, float]]:
    """Hints on the rise to effective surroundings: (weight, mean [K], spread [K])."""
    if known.ambient_c is None:
        return [(1.0, 110.0 - start, 60.0)]
    rise = known.ambient_c - start
    narrow = max(2.0, 0.02 * abs(rise)) if known.ambient_measured else max(8.0, 0.08 * abs(rise))
    if not known.wet:
        return [(0.9, rise, narrow), (0.1, 0.85 * rise, 0.25 * abs(rise))]
    return [(0.2, rise, narrow), (0.8, 0.62 * rise, 0.25 * abs(rise))]

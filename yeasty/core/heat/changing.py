"""One piece through surroundings that change: preheat ramps, turns, stages, from fryer to oven, out into air.

By implicit finite volumes (`finite_volumes.py`). Bricks and short cylinders are stepped one axis after the
other: with one surface coefficient on all faces the axes do not disturb each other, and the step is as exact
as its parts.

A wet surface (`Stage.wet`) gives off vapour by the analogy of heat and mass transfer (`moist_air.py`), which
keeps it near the wet-bulb temperature. It stops when `water_kg_m2` has left: from then on the surface is a
dry crust and heats as any other. The front that moves inwards in a real crust is not modelled.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.conduction import Piece, check_properties
from yeasty.core.heat.finite_volumes import CELLS, GAMMA, Body
from yeasty.core.heat.moist_air import ATMOSPHERE_PA, boiling_point_at, one_evaporation, one_latent_heat
from yeasty.core.kernel.errors import Refused, RuleError

# A surface that boils is held just below the boiling point, where vapour flow grows without limit.
_BELOW_BOILING_K = 0.02
# Cells along each axis by number of axes: where there are several their number multiplies.
CELLS_BY_AXES = {1: CELLS, 2: 48, 3: 24}


@dataclass(frozen=True)
class Stage:
    """Surroundings for a while.

    Attributes
    ----------
    duration_s : how long [s]
    ambient_c : at its start [°C]; `ambient_end_c` at its end where it ramps (a preheat), else the same
    h : surface coefficient [W/m²K]
    wet : whether the surface gives off vapour; then `air_vapour_pa` is the vapour in the air [Pa] and
        `water_kg_m2` what can leave before the surface is dry [kg/m²]
    """

    duration_s: float
    ambient_c: float
    h: float
    ambient_end_c: float | None = None
    wet: bool = False
    air_vapour_pa: float = 1500.0
    water_kg_m2: float = 2.0


@dataclass(frozen=True)
class Heating:
    """What came of a piece.

    Attributes
    ----------
    times_s : [s], shape (n,)
    centre_c, surface_c, mean_c : temperatures at the times [°C], shape (n,)
    gained_j_m3, flowed_j_m3 : energy gained by the food, and energy that flowed in over the surface, each per
        volume of the piece since the start [J/m³]; equal but for rounding
    evaporated_kg_m2 : water lost over the surface since the start [kg/m²]
    """

    times_s: Floats
    centre_c: Floats
    surface_c: Floats
    mean_c: Floats
    gained_j_m3: Floats
    flowed_j_m3: Floats
    evaporated_kg_m2: Floats


def _moments(
    stages: Sequence[Stage], times: Floats, unit_s: float
) -> list[tuple[float, float, Stage, float]]:
    """Steps as (start, end, stage, start of the stage): fine after each change, then growing, stopping at
    every time.
    """
    steps = []
    begin = 0.0
    for stage in stages:
        end = begin + stage.duration_s
        stops = sorted({float(t) for t in times if begin < t <= end} | {end})
        now, size = begin, 2e-5 * unit_s
        for stop in stops:
            while now < stop - 1e-9:
                pieces = max(1.0, np.ceil((stop - now) / size))
                following = stop if pieces == 1 else now + size
                steps.append((now, following, stage, begin))
                now = following
                size = min(size * 1.12, 0.01 * unit_s, stage.duration_s / 40)
        begin = end
    return steps


def _near(zero_of: Callable[[float], float], start: float, low: float, high: float) -> float | None:
    """Where a falling function is nought, by secants from near it; None where they do not lead there."""
    at = min(max(start, low), high - 1e-3)
    following = at + 1e-3
    value, ahead = zero_of(at), zero_of(following)
    for _ in range(8):
        if value == ahead:
            return None
        at, following = following, following - ahead * (following - at) / (ahead - value)
        if not low <= following <= high:
            return None
        if abs(following - at) < 1e-9:
            return following
        value, ahead = ahead, zero_of(following)
    return None


class _WetSurface:
    """A surface that gives off vapour, as a coefficient and surroundings that stand for it near its present
    state.
    """

    def __init__(self, stage: Stage, pressure_pa: float) -> None:
        self.stage, self.pressure = stage, pressure_pa
        self.limit = boiling_point_at(pressure_pa) - _BELOW_BOILING_K
        # Where it was found last: the next is near it.
        self.before = 0.5 * self.limit

    def leaving(self, surface: float) -> float:
        """Water leaving [kg/m²s]."""
        return one_evaporation(max(surface, 0.02), self.stage.air_vapour_pa, self.stage.h, self.pressure)

    def balance(self, air: float, last: float, inner: float) -> tuple[float, float, float]:
        """Surface temperature [°C] for a last cell's temperature, and the coefficient and surroundings that
        stand for it.
        """
        from scipy.optimize import brentq

        def gain(surface: float) -> float:
            vapour_heat = one_latent_heat(max(surface, 0.02))
            return self.stage.h * (air - surface) - self.leaving(surface) * vapour_heat

        def excess(surface: float) -> float:
            return gain(surface) - inner * (surface - last)

        if excess(self.limit) > 0:
            surface = self.limit
        else:
            found = _near(excess, self.before, 0.02, self.limit)
            surface = float(brentq(excess, 0.02, self.limit, xtol=1e-9)) if found is None else found
        self.before = surface
        low = max(0.02, surface - 1e-3)
        slope = (gain(low) - gain(low + 1e-3)) / 1e-3
        flux = inner * (surface - last)
        return surface, slope, surface + flux / slope


class _Run:
    """A piece on its way through the stages: temperatures of its cells, and what has flowed and left so
    far.
    """

    def __init__(
        self, piece: Piece, initial: float, conductivity: float, diffusivity: float, cells: int
    ) -> None:
        axes = piece.axes()
        one = np.ones(1)
        self.bodies = [
            Body(shape, half * one, conductivity * one, diffusivity * one, cells) for shape, half in axes
        ]
        self.t: Floats = np.full([cells] * len(axes), float(initial))
        self.capacity = conductivity / diffusivity
        self.unit_s = min(half for _, half in axes) ** 2 / diffusivity
        self.inner = float(self.bodies[0].inner[0])
        self.flowed = self.evaporated = 0.0
        self.surface = float(initial)

    def _volume(self, without: int | None = None) -> Floats:
        """Share of each cell in the volume; with one axis left out, of each line along it."""
        weights: Floats = np.asarray(1.0)
        for n, body in enumerate(self.bodies):
            if n != without:
                weights = np.multiply.outer(weights, body.axis.volume)
        return weights

    def centre(self) -> float:
        """Temperature at the centre [°C]."""
        middle = self.t
        for body in self.bodies:
            middle = body.centre(middle)
        return float(middle)

    def mean(self) -> float:
        """Mean temperature over the volume [°C]."""
        return float((self.t * self._volume()).sum())

    def dry_step(self, dt: float, middle: float, end: float, h: float) -> None:
        """One step; `middle` and `end` are the surroundings at the two stages of it [°C]."""
        for n, body in enumerate(self.bodies):
            along = np.moveaxis(self.t, n, 0)
            lines = along.reshape(len(along), -1)
            first, flow1 = body.stage_of_one(lines, GAMMA * dt, middle, h)
            base = lines + (1 - GAMMA) / GAMMA * (first - lines)
            last, flow2 = body.stage_of_one(base, GAMMA * dt, end, h)
            rise = (dt * ((1 - GAMMA) * flow1 + GAMMA * flow2)).reshape(along.shape[1:])
            self.flowed += float((rise * self._volume(without=n)).sum()) * self.capacity
            self.t = np.moveaxis(last.reshape(along.shape), 0, n)
        outer = self.t
        for n in range(len(self.bodies) - 1, 0, -1):
            outer = self.bodies[n].centre(np.moveaxis(outer, n, 0))
        self.surface = (self.inner * float(outer[-1]) + h * end) / (self.inner + h)

    def wet_step(self, dt: float, middle: float, end: float, skin: "_WetSurface") -> None:
        """One step of a wet surface; the two stages are each repeated until surface and inside agree."""
        body = self.bodies[0]
        found = base = self.t
        lost = 0.0
        for air, weight in ((middle, 1 - GAMMA), (end, GAMMA)):
            last = float(found[-1])
            for _ in range(30):
                self.surface, coefficient, around = skin.balance(air, last, self.inner)
                lines, flow = body.stage_of_one(base[:, None], GAMMA * dt, around, coefficient)
                found, before, last = lines[:, 0], last, float(lines[-1, 0])
                if abs(last - before) < 1e-9:
                    break
            self.flowed += dt * weight * float(flow[0]) * self.capacity
            lost += dt * weight * skin.leaving(self.surface)
            base = self.t + (1 - GAMMA) / GAMMA * (found - self.t)
        self.t = found
        self.evaporated = max(0.0, self.evaporated + lost)


def heat_through(
    piece: Piece,
    stages: Sequence[Stage],
    times: ArrayLike,
    initial: float,
    conductivity: float,
    diffusivity: float,
    *,
    cells: int | None = None,
    pressure_pa: float = ATMOSPHERE_PA,
) -> Heating:
    """What becomes of one piece through stages: a preheat ramp, a turn down, from fryer to oven, out into
    air.

    Parameters
    ----------
    stages : one after the other; `times` may not go past their end
    times : [s], rising, >= 0, shape (n,)
    initial : [°C], above freezing; conductivity [W/mK]; diffusivity [m²/s]
    cells : along each axis; 70, 48 for two axes, 24 for three
    pressure_pa : of the air, which sets the boiling point of a wet surface

    Raises
    ------
    RuleError : no stage, times past the end, or a wet surface on a brick or short cylinder

    >>> out = heat_through(Piece("sphere", 0.02), [Stage(600, 100, 500), Stage(300, 22, 10)], [600, 900], 20, 0.5, 1.4e-7)
    >>> out.centre_c.round(1).tolist()
    [75.7, 87.1]
    """  # noqa: E501
    if not stages:
        raise RuleError("stages", "are missing", "Give at least one stage of surroundings.")
    seconds = np.atleast_1d(checked("time", times, 0, 3e6, "s"))
    ends = sum(s.duration_s for s in stages)
    if np.any(np.diff(seconds) <= 0) or seconds[-1] > ends + 1e-6:
        raise RuleError(
            "time", "does not rise, or goes past the last stage", f"Give rising times up to {ends:g} s."
        )
    checked("initial temperature", initial, -60, 600, "°C")
    for stage in stages:
        checked("duration of a stage", stage.duration_s, 1e-3, 3e6, "s")
        checked(
            "temperature of the surroundings",
            [stage.ambient_c, stage.ambient_end_c or stage.ambient_c],
            -200,
            1200,
            "°C",
        )
        check_properties(stage.h, conductivity, diffusivity)
    several = len(piece.axes()) > 1
    if several and any(s.wet for s in stages):
        raise RuleError(
            "wet surface", "is known for slab, cylinder and sphere only", "Choose the nearest of these."
        )
    run = _Run(piece, initial, conductivity, diffusivity, cells or CELLS_BY_AXES[len(piece.axes())])
    records = {0.0: (float(initial), float(initial), float(initial), 0.0, 0.0)}
    skins = {id(stage): _WetSurface(stage, pressure_pa) for stage in stages if stage.wet}
    for now, end, stage, begin in _moments(stages, seconds, run.unit_s):
        last = stage.ambient_c if stage.ambient_end_c is None else stage.ambient_end_c
        slope = (last - stage.ambient_c) / stage.duration_s

        def air(
            share: float,
            at: float = stage.ambient_c + slope * (now - begin),
            rise: float = slope * (end - now),
        ) -> float:
            return at + rise * share

        if stage.wet and run.evaporated < stage.water_kg_m2:
            run.wet_step(end - now, air(GAMMA), air(1.0), skins[id(stage)])
        elif several:
            run.dry_step(end - now, air(0.5), air(0.5), stage.h)
        else:
            run.dry_step(end - now, air(GAMMA), air(1.0), stage.h)
        records[end] = (run.centre(), run.surface, run.mean(), run.flowed, run.evaporated)
    moments = np.array(list(records))
    kept = np.array(list(records.values()))[[int(np.abs(moments - s).argmin()) for s in seconds]]
    gained = (kept[:, 2] - initial) * run.capacity
    return Heating(seconds, kept[:, 0], kept[:, 1], kept[:, 2], gained, kept[:, 3], kept[:, 4])


@dataclass(frozen=True)
class Pull:
    """When to take a piece out so that it coasts to its target.

    Attributes
    ----------
    time_s : after it was put in [s]; pull_c : core then [°C]
    peak_c : highest core afterwards [°C], and `peak_after_s` how long after pulling
    """

    time_s: float
    pull_c: float
    peak_c: float
    peak_after_s: float


def peak_after_pull(
    piece: Piece,
    heating: Stage,
    air: Stage,
    time_s: float,
    initial: float,
    conductivity: float,
    diffusivity: float,
) -> Pull:
    """How far the core coasts when the piece is pulled at a given time; the rest lasts `air.duration_s`.

    >>> out = peak_after_pull(Piece("sphere", 0.03), Stage(1, 180, 25, wet=True), Stage(1800, 22, 8), 1800, 5, 0.45, 1.4e-7)
    >>> round(out.pull_c, 1), round(out.peak_c, 1)
    (37.6, 44.5)
    """  # noqa: E501
    cells = CELLS if len(piece.axes()) == 1 else 14
    after = np.linspace(0, air.duration_s, 61)
    stages = [replace(heating, duration_s=time_s), air]
    out = heat_through(piece, stages, time_s + after, initial, conductivity, diffusivity, cells=cells)
    at = int(out.centre_c.argmax())
    return Pull(time_s, float(out.centre_c[0]), float(out.centre_c[at]), float(after[at]))


def pull_for_peak(
    piece: Piece,
    heating: Stage,
    air: Stage,
    peak_c: float,
    initial: float,
    conductivity: float,
    diffusivity: float,
) -> Pull:
    """When to pull so that the core's peak afterwards is `peak_c`.

    Parameters
    ----------
    heating : surroundings until the pull; its `duration_s` is the longest that is tried
    air : where it rests afterwards

    Raises
    ------
    Refused : the peak is not reached within `heating.duration_s`, or the start is above it

    >>> got = pull_for_peak(Piece("sphere", 0.03), Stage(5400, 180, 25, wet=True), Stage(1800, 22, 8), 74, 5, 0.45, 1.4e-7)
    >>> round(got.time_s), round(got.pull_c, 1)
    (2312, 47.6)
    """  # noqa: E501
    from scipy.optimize import brentq

    checked("peak temperature", peak_c, -60, 600, "°C")
    if initial >= peak_c:
        raise Refused(
            "peak temperature",
            f"{peak_c:g} °C is not above the start",
            "Choose a higher peak, or a colder start.",
        )

    def over(time_s: float) -> float:
        return (
            peak_after_pull(piece, heating, air, time_s, initial, conductivity, diffusivity).peak_c - peak_c
        )

    if over(heating.duration_s) < 0:
        raise Refused(
            "peak temperature",
            f"{peak_c:g} °C is not reached within {heating.duration_s:g} s of heating",
            "Heat longer or hotter.",
        )
    found = float(brentq(over, min(1.0, heating.duration_s / 2), heating.duration_s, xtol=0.5))
    return peak_after_pull(piece, heating, air, found, initial, conductivity, diffusivity)

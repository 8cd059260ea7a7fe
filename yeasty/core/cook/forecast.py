"""What the bench can say of a batch's core: before it is read from its size and technique, then from its
probe.

Says when the core will be at its target, with a range; when to take it out so that it coasts there; or why it
cannot tell.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import sqrt

import numpy as np

from yeasty.core.heat import changing, fitting
from yeasty.core.heat.arrays import Floats
from yeasty.core.heat.candidates import Known
from yeasty.core.heat.conduction import Piece, Shape, temperature, time_to_target
from yeasty.core.heat.moist_air import latent_heat, wet_bulb
from yeasty.core.heat.properties import ingredients, mean_properties, surface_coefficients
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.techniques import physics_of

LEAST_FOR_FIT = 15
# Pulling early is never advised by more than this, whatever the model says of a steep piece [K].
MOST_RISE_K = 8.0
CURVE_POINTS = 40


@dataclass(frozen=True)
class CoreQuestion:
    """What is known of a batch in its heat.

    Attributes
    ----------
    in_at, now : when it went in (None while it has not), and now [s on one clock]
    planned_s : how long the heat is planned for [s]
    technique, shape, thickness_m, food, start_c : of the piece; "" or None where not known
    around_c : set point corrected by the appliance's offset, or steam [°C]; chamber_c : mean of a chamber
        probe
    target_c : core that ends it, None where it has none
    readings : (time, core) since it went in [s, °C]
    """

    in_at: float | None
    now: float
    planned_s: float
    technique: str
    shape: str
    thickness_m: float | None
    food: str
    start_c: float | None
    around_c: float | None
    chamber_c: float | None
    target_c: float | None
    readings: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class CoreForecast:
    """What is foretold.

    Attributes
    ----------
    basis : "size", "probe" or "" where nothing can be told
    ready_at, ready_low, ready_high : when the core is at its target [s], None where not told
    core_c : smoothed reading of now [°C]
    curve : (time, low, middle, high) [s, °C]
    pull_c, pull_at : take it out then so that it coasts to the target, None where it would make no difference
    why_not : why nothing is told
    soonest_at : where when cannot be told: not before that [s], None where not even that
    """

    basis: str
    ready_at: float | None = None
    ready_low: float | None = None
    ready_high: float | None = None
    core_c: float | None = None
    curve: tuple[tuple[float, float, float, float], ...] = ()
    pull_c: float | None = None
    pull_at: float | None = None
    why_not: str = ""
    soonest_at: float | None = None

    def begun_at(self, begin: float) -> "CoreForecast":
        """The same of a piece that goes in at another moment than nought [s]."""
        moved = {
            name: at + begin
            for name in ("ready_at", "ready_low", "ready_high", "pull_at", "soonest_at")
            if (at := getattr(self, name)) is not None
        }
        curve = tuple((begin + t, low, middle, high) for t, low, middle, high in self.curve)
        return replace(self, curve=curve, **moved)


def forecast(q: CoreQuestion) -> CoreForecast:
    """The forecast for a batch.

    >>> q = CoreQuestion(0.0, 0.0, 900, "deep_fryer", "sphere", 0.04, "meatball_mix", 5, 170, None, 74, ())
    >>> forecast(q).basis
    'size'
    """
    if q.target_c is None:
        return CoreForecast("", why_not="It ends by clock or cue: no core target.")
    since = [(t, c) for t, c in q.readings if q.in_at is not None and t >= q.in_at]
    if q.in_at is not None and len(since) >= LEAST_FOR_FIT:
        try:
            return _from_probe(q, since, q.target_c)
        except RuleError as cannot:
            # A time from size beside a reading that says otherwise would be one more guess.
            soonest = q.in_at + cannot.soonest_s if isinstance(cannot, fitting.NotYet) else None
            return CoreForecast(
                "", core_c=since[-1][1], why_not=f"{cannot.message}. {cannot.todo}", soonest_at=soonest
            )
    # What size tells does not change while the food waits, or with what is read before there is enough of it.
    begin = q.in_at if q.in_at is not None else q.now
    return _from_size(replace(q, in_at=0.0, now=0.0, planned_s=0.0, readings=()), q.target_c).begun_at(begin)


def _known_shape(q: CoreQuestion) -> Shape | None:
    shapes: dict[str, Shape] = {"sphere": "sphere", "cylinder": "cylinder", "slab": "slab"}
    return shapes.get(q.shape)


def _diffusivity(q: CoreQuestion, target: float) -> tuple[float, float]:
    """Conductivity [W/mK] and diffusivity [m²/s] of the food, those of a watery one where it is not
    stated.
    """
    if q.food in ingredients():
        p = mean_properties(ingredients()[q.food][1], max(0.0, q.start_c or 10.0), max(30.0, target))
        return p.conductivity, p.diffusivity
    return 0.5, 1.4e-7


@lru_cache(maxsize=256)
def _from_size(q: CoreQuestion, target: float) -> CoreForecast:
    """For a piece that goes in at nought."""
    shape = _known_shape(q)
    if shape is None or q.thickness_m is None:
        return CoreForecast("", why_not="Shape and thickness of a piece are not stated at Set up.")
    if q.start_c is None or q.around_c is None:
        return CoreForecast("", why_not="Start temperature or set point is not stated.")
    if q.technique not in surface_coefficients():
        return CoreForecast(
            "", why_not="This technique heats from inside or in a way that size does not tell: read the core."
        )
    usual = surface_coefficients()[q.technique]
    k, alpha = _diffusivity(q, target)
    piece = Piece(shape, q.thickness_m / 2)
    cold, usual_c, hot = _felt(q, target)
    try:
        soonest = time_to_target(piece, target, q.start_c, hot, usual.high, k, alpha)
        if physics_of(q.technique).in_air:
            dry = time_to_target(piece, target, q.start_c, cold, usual.low, k, alpha)
            latest = dry + _dries_s(cold, usual.low)
        else:
            latest = time_to_target(piece, target, q.start_c, cold, usual.low, k, alpha)
    except RuleError as cannot:
        return CoreForecast("", why_not=str(cannot))
    try:
        middle = time_to_target(piece, target, q.start_c, usual_c, usual.typical, k, alpha)
    except RuleError:
        middle = 0.0
    if not soonest <= middle <= latest:
        middle = sqrt(soonest * latest)
    at = np.linspace(0.0, latest * 1.05, CURVE_POINTS)
    fast = temperature(piece, at, q.start_c, hot, usual.high, k, alpha)
    slow = (
        _slow_curve(piece, q.start_c, cold, usual.low, k, alpha, at)
        if physics_of(q.technique).in_air
        else temperature(piece, at, q.start_c, cold, usual.low, k, alpha)
    )
    # Between the two as far as the middle time lies between theirs.
    share = (latest - middle) / (latest - soonest) if latest > soonest else 0.5
    curve = tuple(
        (float(t), float(lo), float(lo + share * (hi - lo)), float(hi))
        for t, lo, hi in zip(at, slow, fast, strict=True)
    )
    return CoreForecast("size", middle, soonest, latest, curve=curve)


# Water that leaves a wet surface before it is dry [kg/m²], and the vapour in a kitchen's heated air [Pa]; the
# same as the core's model of a wet surface takes (`core/heat/changing.py`).
WATER_KG_M2, VAPOUR_PA = 2.0, 1500.0


def _dries_s(air_c: float, h: float) -> float:
    """How long a wet surface may hold food back [s]: until all its water has left at the least rate, at the
    wet bulb.
    """
    bulb = wet_bulb(air_c, VAPOUR_PA)
    return WATER_KG_M2 * float(latent_heat(bulb)) / (h * (air_c - bulb))


def _slow_curve(
    piece: Piece, start_c: float, air_c: float, h: float, conductivity: float, diffusivity: float, at: Floats
) -> Floats:
    """Core at the slow end of what hot air does: no hotter than the wet bulb while the surface dries, then
    heating up dry.
    """
    dries = _dries_s(air_c, h)
    dry = temperature(piece, at, start_c, air_c, h, conductivity, diffusivity)
    later = temperature(piece, np.maximum(at - dries, 0.0), start_c, air_c, h, conductivity, diffusivity)
    return np.maximum(np.minimum(dry, wet_bulb(air_c, VAPOUR_PA)), later)


def _felt(q: CoreQuestion, target: float) -> tuple[float, float, float]:
    """Surroundings: coldest, usual as felt, hottest [°C]. Food that gives off vapour in hot air feels far
    less than the air.

    A chamber probe that is colder than the target was read while it heated up, or lies badly: then the
    setting counts too.
    """
    assert q.around_c is not None
    around = q.chamber_c if q.chamber_c is not None else q.around_c
    hottest = max(around, q.around_c) if around <= target + 2 else around
    if physics_of(q.technique).boils_out:
        return (100.0, 103.0, hottest)
    if not physics_of(q.technique).in_air:
        return (hottest - 2, hottest, hottest + 2)
    return (hottest, max(96.0, 0.6 * hottest), hottest)


def _from_probe(q: CoreQuestion, since: Sequence[tuple[float, float]], target: float) -> CoreForecast:
    assert q.in_at is not None
    seconds = np.array([t - q.in_at for t, _ in since])
    core = np.array([c for _, c in since])
    kept = np.concatenate(([True], np.diff(seconds) > 0))
    seconds, core = seconds[kept], core[kept]
    k, alpha = _diffusivity(q, target)
    known = Known(
        q.chamber_c if q.chamber_c is not None else q.around_c,
        q.chamber_c is not None,
        physics_of(q.technique).in_air,
        q.thickness_m / 2 if q.thickness_m else None,
        alpha if q.food else None,
        _known_shape(q),
    )
    fit = fitting.fit_log(seconds, core, known)
    ready = fitting.time_to(fit, target)
    at = np.linspace(
        max(1.0, float(seconds[-1]) * 0.02), max(ready.high_s, float(seconds[-1])) * 1.02, CURVE_POINTS
    )
    low, middle, high = fitting.curve_of(fit, at)
    curve = tuple(
        (q.in_at + float(t), float(a), float(b), float(c))
        for t, a, b, c in zip(at, low, middle, high, strict=True)
    )
    pull_c, pull_at = (None, None) if ready.reached else _pull(q, fit, ready, target, k)
    return CoreForecast(
        "probe",
        q.in_at + ready.at_s,
        q.in_at + ready.low_s,
        q.in_at + ready.high_s,
        fit.last_c,
        curve,
        pull_c,
        q.in_at + pull_at if pull_at is not None else None,
    )


def _pull(
    q: CoreQuestion, fit: fitting.Fit, ready: fitting.Ready, target: float, conductivity: float
) -> tuple[float | None, float | None]:
    """Core and time at which to take it out so that it coasts to the target; None where the rise is under a
    kelvin.

    At rest the surface is taken as wet: vapour cools it, so it coasts less than a dry one would. The smaller
    rise is the careful one, since food pulled too early stays below its target.
    """
    shape = _known_shape(q)
    if shape is None or q.thickness_m is None or q.start_c is None:
        return None, None
    half = q.thickness_m / 2
    h = min(max(fit.coefficient(half, conductivity).value, 5.0), 5000.0)
    alpha = min(max(fit.diffusivity(half).value, 5e-8), 3e-7)
    around = min(max(fit.ambient_c.value, target + 2), 300.0)
    rest = changing.Stage(1800, 22.0, surface_coefficients()["rest"].typical, wet=True)
    heating = changing.Stage(max(60.0, ready.at_s * 1.5), around, h)
    try:
        got = changing.pull_for_peak(
            Piece(shape, half), heating, rest, target, q.start_c, conductivity, alpha
        )
    except RuleError:
        return None, None
    full_rise = got.peak_c - got.pull_c
    if full_rise < 1.0:
        return None, None
    rise = min(full_rise, MOST_RISE_K)
    # The simulated cook and the fitted one differ by a little: the lead in time is carried over, not the
    # clock.
    full = time_to_target(
        Piece(shape, half), min(target, around - 1), q.start_c, around, h, conductivity, alpha
    )
    lead = max(0.0, full - got.time_s) * rise / full_rise
    return target - rise, max(0.0, ready.at_s - lead)

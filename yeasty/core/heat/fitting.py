"""From a probe log to when it will be done: what one curve tells of piece and surroundings, live, with an
interval.

The log is held against a library of dimensionless curves (shape, Biot number, place of the probe) at many
time scales. Start and effective surroundings enter linearly, so each candidate's weight has a closed form;
the answer is a weighted mixture over all candidates, never the best one alone, and its interval is that of
the mixture. Effective surroundings are what a constant temperature would have to be to heat the piece as it
is heated: a wet surface in an oven lies far below the dial, so the dial or chamber is taken as a hint that
the data may overrule. Where the surface is wet, candidates whose surroundings begin to climb somewhere in the
log are weighed too: the surface drying out.

Holds for one stage of heating in steady surroundings (a thermostat that cycles counts as steady), or for a
surface that dries as it goes. Not after a turn of the dial. A surface that dries only after the last reading
is not foreseen: the piece is then done sooner than said.

Source: Fourier's equation (`conduction.py`) and Bayes' rule; the noise floor and the widths of the hints were
set on simulated logs other than those of the tests.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.candidates import (
    ANY_SHAPE_LOOKS,
    MODEL_SD_K,
    READING_SD_K,
    STEADY_LOOKS,
    WET_DRIFT_K,
    WET_LOOKS,
    Candidates,
    Data,
    Known,
    climbed,
    coarse,
    fine,
    only,
    terms,
    weighed,
)
from yeasty.core.heat.curve_library import SHAPES
from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import Refused, RuleError

BINS = 36
# A probe tells what was so some seconds ago [s].
SENSOR_LAG_S, SENSOR_LAG_SD_S = 8.0, 5.0
LEAST_READINGS = 12
LEAST_RISE_K = 4.0
LEVEL = 0.90
# Wider than this share of the time left, an interval is no help at the bench.
TOO_WIDE = 1.0
# Moments at which the future is looked at, as multiples of the log's length; up to eleven times as long
# again.
AHEAD = 1.0 + np.concatenate(([0.0], np.geomspace(0.002, 11.0, 130)))
# Points and weights of Gauss's rule for a normal spread.
THREE_POINTS = ((-1.7321, 1 / 6), (0.0, 2 / 3), (1.7321, 1 / 6))
# Residuals beyond this many times the noise say that the surroundings were not steady.
MISFIT = 4.0


@dataclass(frozen=True)
class Fit:
    """A fitted log.

    Attributes
    ----------
    candidates : what it leaves possible
    last_s : time of the last reading [s]; last_c : smoothed reading then [°C]
    length_s : middle of the last stretch of readings [s]
    ambient_c : effective surroundings [°C], with range
    biot : Biot number [-], with range
    rate_1_s : diffusivity over half thickness squared [1/s], with range
    residual_k : root mean square of what the best candidate leaves [K]
    """

    candidates: Candidates
    last_s: float
    length_s: float
    last_c: float
    ambient_c: Ranged
    biot: Ranged
    rate_1_s: Ranged
    residual_k: float

    def diffusivity(self, half_thickness_m: float) -> Ranged:
        """Effective diffusivity [m²/s] of a piece of known half thickness [m]."""
        half = float(checked("half thickness", half_thickness_m, 0.0005, 0.5, "m"))
        return self.rate_1_s.times(half**2, "from the log and the half thickness")

    def coefficient(self, half_thickness_m: float, conductivity: float) -> Ranged:
        """Effective surface coefficient [W/m²K] for a half thickness [m] and a conductivity [W/mK]."""
        half = float(checked("half thickness", half_thickness_m, 0.0005, 0.5, "m"))
        return self.biot.times(
            float(checked("conductivity", conductivity, 0.02, 5, "W/mK")) / half, "from the log"
        )


@dataclass(frozen=True)
class Ready:
    """When the probe will read the target [s, on the log's clock]; `low` to `high` holds it in 9 of 10
    cases.
    """

    target_c: float
    at_s: float
    low_s: float
    high_s: float
    reached: bool = False


def _reduced(times: Floats, core: Floats) -> tuple[Floats, Floats, Floats]:
    """Means of the readings in stretches of equal time: times, temperatures, number of readings in each."""
    edges = np.linspace(times[0], times[-1], BINS + 1)
    which = np.clip(np.searchsorted(edges, times, "right") - 1, 0, BINS - 1)
    count = np.bincount(which, minlength=BINS).astype(float)
    kept = count > 0
    return (
        np.bincount(which, times, BINS)[kept] / count[kept],
        np.bincount(which, core, BINS)[kept] / count[kept],
        count[kept],
    )


def check_log(times: ArrayLike, core: ArrayLike) -> tuple[Floats, Floats]:
    """Times and readings as arrays, gaps (NaN or None) left out.

    Raises
    ------
    RuleError : lengths that differ, a log going back in time, a core above what food with water in it reaches
    """
    seconds = np.asarray(times, dtype=float)
    celsius = np.asarray(
        [np.nan if v is None else v for v in np.asarray(core, dtype=object).ravel()], dtype=float
    )
    if seconds.ndim != 1 or seconds.shape != celsius.shape:
        raise RuleError("probe log", "has not one reading a time", "Give as many temperatures as times.")
    if not np.all(np.isfinite(seconds)):
        raise RuleError("time", "is not a number somewhere", "Mend that row of the log.")
    back = np.flatnonzero(np.diff(seconds) <= 0)
    if back.size:
        raise RuleError(
            f"time, reading {back[0] + 2}", "does not come after the one before", "Sort the log by time."
        )
    kept = np.isfinite(celsius)
    seconds, celsius = seconds[kept], celsius[kept]
    checked("core temperature", celsius, -60, 600, "°C")
    hot = np.flatnonzero(celsius > 130)
    if hot.size:
        raise RuleError(
            f"core temperature, at {seconds[hot[0]]:g} s",
            f"{celsius[hot[0]]:g} °C is more than a core with water in it reaches",
            "Is the log in Fahrenheit, or the tip out of the food? State the unit, or cut that part off.",
        )
    return seconds, celsius


def fit_log(times: ArrayLike, core: ArrayLike, known: Known = Known()) -> Fit:
    """Fit a core log, whole or as far as it has run.

    Parameters
    ----------
    times : since the food went into the heat [s], rising, shape (n,); core : readings [°C], NaN where missing
    known : what is known besides

    Raises
    ------
    RuleError : a log that cannot be right; see `check_log`
    Refused : too few readings or too little rise to tell anything, or surroundings that were not steady

    >>> import numpy as np
    >>> from yeasty.core.heat.conduction import centre_temperature
    >>> t = np.arange(0.0, 700, 5)
    >>> log = centre_temperature("sphere", 0.025, t, 8, 170, 30, 0.5, 1.4e-7)
    >>> fit = fit_log(t, log, Known(ambient_c=170, ambient_measured=True, shape="sphere"))
    >>> ready = time_to(fit, 74.0)
    >>> abs(ready.at_s - 1120) < 40  # 1120 s by the series
    True
    """
    seconds, celsius = check_log(times, core)
    if len(seconds) < LEAST_READINGS:
        raise Refused("probe log", f"has {len(seconds)} readings", f"Wait for {LEAST_READINGS}.")
    at, mean, count = _reduced(seconds, celsius)
    rise_seen = float(mean[-1] - mean[0])
    if abs(rise_seen) < LEAST_RISE_K:
        raise Refused(
            "probe log",
            f"has moved by {abs(rise_seen):.1f} K so far",
            f"It tells when it has moved by {LEAST_RISE_K:g} K.",
        )
    age = (at[-1] - at) / at[-1]
    drift = WET_DRIFT_K * age if known.wet else 0.0 * age
    data = Data(at, mean, count, READING_SD_K**2 / count + MODEL_SD_K**2 + drift**2)
    shapes = [n for n, s in enumerate(SHAPES) if known.shape in (None, s)]
    looks = WET_LOOKS if known.wet else STEADY_LOOKS if known.shape else ANY_SHAPE_LOOKS
    found = weighed(data, known, *coarse(shapes, float(at[-1]), looks), temper=0.3)
    for temper in (0.5, 1.0):
        found = weighed(data, known, *fine(found, looks.fine), temper=temper)
    best = only(found, np.array([int(found.weight.argmax())]))
    left = mean - (terms(best, at, float(at[-1])) @ best.linear[0])[0]
    residual = float(np.sqrt(np.average(left**2, weights=count)))
    if residual > MISFIT * float(np.sqrt(np.average(data.variance, weights=count))) + 0.01 * abs(rise_seen):
        raise Refused(
            "probe log",
            f"does not follow one heating (off by {residual:.1f} K)",
            "The surroundings changed, or the probe moved: start again from the change.",
        )
    last = np.einsum("ni,ni->n", terms(found, at[-1:], float(at[-1]))[:, 0], found.linear)
    return Fit(
        found,
        float(seconds[-1]),
        float(at[-1]),
        float(np.average(last, weights=found.weight)),
        _range(
            found.linear[:, 0] + found.linear[:, 1] + climbed(found, float(at[-1])),
            found.weight,
            "surroundings as felt",
        ),
        _range(found.biot, found.weight, "from the log"),
        _range(found.rate, found.weight, "from the log"),
        residual,
    )


def _quantiles(values: Floats, weight: Floats, shares: Sequence[float]) -> list[float]:
    order = np.argsort(values)
    upto = np.cumsum(weight[order]) - weight[order] / 2
    return [float(np.interp(s, upto, values[order])) for s in shares]


def _range(values: Floats, weight: Floats, source: str) -> Ranged:
    low, middle, high = _quantiles(values, weight, ((1 - LEVEL) / 2, 0.5, (1 + LEVEL) / 2))
    return Ranged(middle, low, high, source)


def time_to(fit: Fit, target_c: float) -> Ready:
    """When the probe will read a target, with a 90 % interval [s, on the log's clock].

    Raises
    ------
    Refused : the target may not be reached at all, or the data cannot tell when yet
    """
    target = float(checked("target temperature", target_c, -60, 130, "°C"))
    c = only(fit.candidates, np.flatnonzero(fit.candidates.weight > 1e-3 * fit.candidates.weight.max()))
    up = float(np.average(c.linear[:, 1] + climbed(c, fit.length_s), weights=c.weight)) > 0
    if (fit.last_c >= target) if up else (fit.last_c <= target):
        return Ready(target, fit.last_s, fit.last_s, fit.last_s, True)
    ahead = fit.last_s * AHEAD
    x = terms(c, ahead, fit.length_s)
    middle = np.einsum("nti,ni->nt", x, c.linear)
    spread = np.sqrt(np.maximum(np.einsum("nti,nij,ntj->nt", x, c.spread, x), 0.0))
    # Each candidate's curve is known to a spread, the lag of the probe too: three points of each stand for
    # the whole.
    times, weights = [], []
    for step, share in THREE_POINTS:
        when = _crossing(
            ahead, (middle + step * spread) if up else -(middle + step * spread), target if up else -target
        )
        for lag_step, lag_share in THREE_POINTS:
            times.append(when - (SENSOR_LAG_S + lag_step * SENSOR_LAG_SD_S))
            weights.append(c.weight * share * lag_share)
    at, mass = np.concatenate(times), np.concatenate(weights)
    if float(mass[~np.isfinite(at)].sum()) > 0.5:
        raise Refused(
            "target temperature",
            f"{target:g} °C may not be reached: the surroundings act like {fit.ambient_c.value:.0f} °C "
            f"({fit.ambient_c.low:.0f} to {fit.ambient_c.high:.0f})",
            "Turn up the heat, or wait: a wet surface holds the core back until it is dry.",
        )
    # What lies in the past is excluded by the reading of now.
    at = np.clip(at, fit.last_s, 1e7)
    low, ready, high = _quantiles(at, mass / mass.sum(), ((1 - LEVEL) / 2, 0.5, (1 + LEVEL) / 2))
    if high - low > TOO_WIDE * max(ready - fit.last_s, 60.0):
        soonest = f"{max(1, round((low - fit.last_s) / 60))} min from now at the soonest"
        latest = f"{(high - fit.last_s) / 60:.0f} min at the latest" if high < 1e6 else "perhaps not at all"
        raise NotYet("probe log", f"cannot tell yet: {soonest}, {latest}", "Wait for more readings.", low)
    return Ready(target, ready, low, high)


class NotYet(Refused):
    """When cannot be told, but not before `soonest_s` of the log [s], as sure as an interval would be."""

    def __init__(self, field: str, message: str, todo: str, soonest_s: float) -> None:
        super().__init__(field, message, todo)
        self.soonest_s = soonest_s


def _crossing(times: Floats, curves: Floats, target: float) -> Floats:
    """When each curve first reaches a target from below; infinite where it does not within the times."""
    reached = curves >= target
    first = reached.argmax(axis=1)
    row = np.arange(len(curves))
    before = np.maximum(first - 1, 0)
    a, b = curves[row, before], curves[row, first]
    share = np.clip((target - a) / np.where(np.abs(b - a) < 1e-9, 1e-9, b - a), 0.0, 1.0)
    found = times[before] + share * (times[first] - times[before])
    return np.asarray(np.where(reached.any(axis=1), found, np.inf))


def curve_of(fit: Fit, times: ArrayLike) -> tuple[Floats, Floats, Floats]:
    """Core at times [°C], as (low, middle, high) of the 90 % band; for drawing.

    Parameters
    ----------
    times : on the log's clock [s], >= 0, shape (n,)
    """
    seconds = np.atleast_1d(checked("time", times, 0, 3e6, "s"))
    c = only(fit.candidates, np.argsort(-fit.candidates.weight)[:400])
    values = np.einsum("nti,ni->nt", terms(c, seconds, fit.length_s), c.linear)
    bands = [
        _quantiles(values[:, n], c.weight, ((1 - LEVEL) / 2, 0.5, (1 + LEVEL) / 2))
        for n in range(len(seconds))
    ]
    low, middle, high = (np.array(b) for b in zip(*bands, strict=True))
    return low, middle, high

"""The appliance is not its label: preheat as a first-order lag, the offset of the dial, the share of time it
heats.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import Refused, RuleError


@dataclass(frozen=True)
class Preheat:
    """A preheat as a lag of first order: T = start + (full − start)(1 − exp(−(t − dead)/tau)).

    Attributes
    ----------
    start_c, full_c : at the beginning, and where full power would end up [°C]
    tau_s : time constant [s]; dead_s : time before anything is read [s]
    residual_k : root mean square of what is left [K]
    tau_range_s : 90 % range of the time constant [s]
    """

    start_c: float
    full_c: float
    tau_s: float
    dead_s: float
    residual_k: float
    tau_range_s: tuple[float, float]

    def time_to(self, target_c: float, start_c: float | None = None) -> Ranged:
        """Time until a temperature is reached, from cold or from another start [s].

        Raises
        ------
        Refused : more than full power ever reaches

        >>> p = Preheat(20, 280, 500, 30, 1.0, (450, 560))
        >>> round(p.time_to(200).value)
        619
        """
        begin = (
            self.start_c if start_c is None else float(checked("start temperature", start_c, -30, 400, "°C"))
        )
        checked("target temperature", target_c, -30, 500, "°C")
        if target_c <= begin:
            return Ranged(0.0, 0.0, 0.0, "already there")
        if target_c >= self.full_c:
            raise Refused(
                "target temperature",
                f"{target_c:g} °C is more than full power reaches ({self.full_c:.0f} °C)",
                "Choose a lower target.",
            )
        factor = log((self.full_c - begin) / (self.full_c - target_c))
        value, low, high = (self.dead_s + tau * factor for tau in (self.tau_s, *self.tau_range_s))
        return Ranged(value, low, high, "first-order lag fitted to this appliance's preheat")


def fit_preheat(times: ArrayLike, celsius: ArrayLike) -> Preheat:
    """Fit a preheat log, from switching on until the thermostat first switches off.

    Parameters
    ----------
    times : since switching on [s], rising, shape (n,); celsius : chamber, NaN where missing

    Raises
    ------
    RuleError : times that do not rise, too few readings
    Refused : a log that does not rise by 30 K

    >>> import numpy as np
    >>> t = np.arange(0.0, 900, 10)
    >>> p = fit_preheat(t, 20 + 260 * (1 - np.exp(-np.maximum(t - 30, 0) / 500)))
    >>> round(p.tau_s), round(p.full_c), round(p.dead_s)
    (500, 280, 30)
    """
    from scipy.optimize import least_squares
    from scipy.stats import t as student

    seconds = np.asarray(times, dtype=float)
    values = np.asarray(celsius, dtype=float)
    if seconds.ndim != 1 or seconds.shape != values.shape:
        raise RuleError("preheat log", "has not one reading a time", "Give as many temperatures as times.")
    if not np.all(np.isfinite(seconds)) or np.any(np.diff(seconds) <= 0):
        raise RuleError("time", "does not rise from reading to reading", "Sort the log by time.")
    kept = np.isfinite(values)
    seconds, values = seconds[kept], values[kept]
    checked("chamber temperature", values, -30, 600, "°C")
    if len(seconds) < 8:
        raise RuleError("preheat log", f"has {len(seconds)} readings", "Give eight or more.")
    if values.max() - values[0] < 30:
        raise Refused(
            "preheat log",
            f"rises by {values.max() - values[0]:.0f} K only",
            "Log it from cold until it is hot.",
        )
    # What comes after the highest reading is thermostat, not preheat.
    last = int(values.argmax()) + 1
    t, y = seconds[:last] - seconds[0], values[:last]
    if len(t) < 8:
        raise Refused(
            "preheat log", "has too few readings before its highest", "Log more often: every 15 s or so."
        )

    def model(p: Floats) -> Floats:
        start, full, log_tau, dead = p
        return np.asarray(start + (full - start) * (1 - np.exp(-np.maximum(t - dead, 0) / np.exp(log_tau))))

    span = float(t[-1])
    best = None
    for tau in (0.3, 0.7, 1.5, 4.0):
        begin = [float(y[0]), float(y[-1] + 0.2 * (y[-1] - y[0])), log(tau * span), 0.02 * span]
        bounds = ([-40, float(y.max()), log(0.02 * span), 0.0], [120, 1500, log(50 * span), 0.5 * span])
        found = least_squares(lambda p: model(p) - y, begin, bounds=bounds, x_scale=[5, 50, 0.3, 10])
        if best is None or found.cost < best.cost:
            best = found
    assert best is not None
    start, full, log_tau, dead = (float(v) for v in best.x)
    freedom = max(1, len(t) - 4)
    sigma2 = 2 * float(best.cost) / freedom
    covariance = np.linalg.pinv(best.jac.T @ best.jac) * sigma2
    half = float(student.ppf(0.95, freedom)) * float(np.sqrt(max(covariance[2, 2], 0.0)))
    residual = float(np.sqrt(np.mean((model(best.x) - y) ** 2)))
    return Preheat(
        start,
        full,
        float(np.exp(log_tau)),
        dead,
        residual,
        (float(np.exp(log_tau - half)), float(np.exp(log_tau + half))),
    )


@dataclass(frozen=True)
class OffsetCurve:
    """Measured against set: measured = intercept + slope × set, between the lowest and highest setting
    measured.

    `spread_k` is the standard deviation around the line, None with fewer than three pairs.
    """

    intercept: float
    slope: float
    low_set_c: float
    high_set_c: float
    pairs: int
    spread_k: float | None

    def measured(self, set_c: float) -> float:
        """What the middle reads at a setting [°C]; beyond what was measured the offset of the nearest end
        holds.

        >>> round(OffsetCurve(-10, 0.99, 150, 220, 3, 1.0).measured(200))
        188
        """
        within = min(max(set_c, self.low_set_c), self.high_set_c)
        return self.intercept + self.slope * within + (set_c - within)

    def setting(self, wanted_c: float) -> float:
        """What to set so that the middle reads `wanted_c` [°C].

        >>> round(OffsetCurve(-10, 0.99, 150, 220, 3, 1.0).setting(188))
        200
        """
        low, high = self.measured(self.low_set_c), self.measured(self.high_set_c)
        if wanted_c <= low or self.slope <= 0:
            return self.low_set_c + wanted_c - low
        if wanted_c >= high:
            return self.high_set_c + wanted_c - high
        return (wanted_c - self.intercept) / self.slope


def fit_offset(pairs: Sequence[tuple[float, float]]) -> OffsetCurve:
    """Offset curve from (set, measured) pairs [°C]; measured is the mean over several swings of the
    thermostat.

    One pair gives a constant offset, two or more a line.

    Raises
    ------
    RuleError : no pairs, or an offset of more than 80 K, which is a reading or a unit gone wrong

    >>> c = fit_offset([(150, 142), (200, 188), (230, 215)])
    >>> round(c.measured(180), 1), round(c.setting(180), 1)
    (169.5, 191.5)
    """
    if not pairs:
        raise RuleError("offset points", "none", "Measure at one setting at least.")
    settings, measured = (np.array(v, dtype=float) for v in zip(*pairs, strict=True))
    checked("set point", settings, 20, 500, "°C")
    checked("measured temperature", measured, 0, 600, "°C")
    far = np.flatnonzero(np.abs(measured - settings) > 80)
    if far.size:
        raise RuleError(
            f"offset point {far[0] + 1}",
            f"set {settings[far[0]]:g} °C, measured {measured[far[0]]:g} °C: more than 80 K apart",
            "Check the reading and its unit.",
        )
    if len(set(settings.tolist())) == 1:
        offset = float(np.mean(measured - settings))
        spread = float(np.std(measured, ddof=1)) if len(pairs) > 2 else None
        return OffsetCurve(offset, 1.0, float(settings[0]), float(settings[0]), len(pairs), spread)
    slope, intercept = (float(v) for v in np.polyfit(settings, measured, 1))
    left = measured - (intercept + slope * settings)
    spread = float(np.sqrt(np.sum(left**2) / (len(pairs) - 2))) if len(pairs) > 2 else None
    return OffsetCurve(intercept, slope, float(settings.min()), float(settings.max()), len(pairs), spread)


def duty_cycle(times: ArrayLike, power_w: ArrayLike, full_w: float) -> float:
    """Share of the time a heater is on, from a power log: mean power over full power [-], weighed by time.

    >>> duty_cycle([0, 60, 120, 180], [1700, 0, 0, 0], 1700)
    0.3333333333333333
    """
    seconds = checked("time", times, 0, 1e7, "s")
    watts = checked("power", power_w, 0, 20000, "W")
    checked("full power", full_w, 50, 20000, "W")
    if seconds.ndim != 1 or seconds.shape != watts.shape or len(seconds) < 2 or np.any(np.diff(seconds) <= 0):
        raise RuleError("power log", "needs two or more rising times, one power each", "Mend the log.")
    # A meter reads what is drawn from now until its next reading.
    return float(np.clip(np.sum(watts[:-1] * np.diff(seconds)) / (seconds[-1] - seconds[0]) / full_w, 0, 1))


def duty_of_swings(on_s: float, off_s: float) -> float:
    """Share of the time a heater is on, from two times read off its lamp [s].

    >>> duty_of_swings(60, 180)
    0.25
    """
    checked("time on and off", [on_s, off_s], 0, 86400, "s")
    if on_s + off_s <= 0:
        raise RuleError("time on and off", "are both zero", "Time one whole swing of the lamp.")
    return on_s / (on_s + off_s)

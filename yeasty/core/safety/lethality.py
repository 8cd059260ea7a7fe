"""Lethality: what a temperature history does to microbes, as minutes at a reference temperature.

∫ 10^((T − Tref)/z) dt, divided by D for decimal reductions. Figures for D, z and the equivalents are in `limits.csv`,
status *recalled*: what meets them *meets the figure entered*, no more is said.
"""

from dataclasses import dataclass
from functools import cache
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.errors import Refused, RuleError
from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.safety.cautions import limits

LISTERIA = "lethality-listeria"
# The row says: six decimal reductions in two minutes at the reference temperature.
SIX_LOG_S, LOGS = 120.0, 6.0


@dataclass(frozen=True)
class Lethality:
    """A death-time model: reference temperature [°C], z [K], decimal reduction time at the reference [s]."""

    reference_c: float
    z_k: float
    d_s: float


@cache
def listeria() -> Lethality:
    """The model behind the 70 °C for two minutes equivalents, from its row in the table of limits.

    >>> listeria()
    Lethality(reference_c=70.0, z_k=7.5, d_s=20.0)
    """
    row = limits()[LISTERIA]
    return Lethality(float(row.temperature_c), float(row.value), SIX_LOG_S / LOGS)


def _history(times: ArrayLike, celsius: ArrayLike) -> tuple[Floats, Floats]:
    seconds = checked("time", times, -1e9, 1e10, "s")
    temperatures = checked("core temperature", celsius, -60, 150, "°C")
    if seconds.ndim != 1 or seconds.shape != temperatures.shape:
        raise RuleError("temperatures", "are not one a time", "Give as many temperatures as times.")
    if np.any(np.diff(seconds) < 0):
        raise RuleError("time", "goes back", "Sort the log by time.")
    return seconds, temperatures


def equivalent_time(
    times: ArrayLike, celsius: ArrayLike, *, reference_c: float, z_k: float, counts_from_c: float = -60.0
) -> float:
    """Time at a reference temperature that kills as much as the whole history [s].

    Parameters
    ----------
    times : [s], not falling, shape (n,); celsius : core temperature at the times, straight lines between
    reference_c, z_k : of the model
    counts_from_c : what was colder does not count (the lowest tabled temperature of an equivalence)

    Raises
    ------
    RuleError : a log going back in time, NaN

    Notes
    -----
    The integral over a straight line has a closed form; it is used, so that few readings do as well as many.

    >>> equivalent_time([0, 60, 120], [70, 70, 70], reference_c=70, z_k=7.5)
    120.0
    >>> equivalent_time([0, 60], [77.5, 77.5], reference_c=70, z_k=7.5)
    600.0
    """
    checked("z", z_k, 1, 50, "K")
    seconds, t = _history(times, celsius)
    if len(seconds) < 2:
        return 0.0
    total = 0.0
    scale = z_k / np.log(10)
    for dt, a, b in zip(np.diff(seconds), t[:-1], t[1:], strict=True):
        low, high = min(a, b), max(a, b)
        if high < counts_from_c or dt == 0:
            continue
        if low < counts_from_c:  # only the part of the line above the limit
            dt, low = dt * (high - counts_from_c) / (high - low), counts_from_c
        rate_low, rate_high = (10 ** ((x - reference_c) / z_k) for x in (low, high))
        mean = rate_low if high - low < 1e-6 else scale * (rate_high - rate_low) / (high - low)
        total += float(dt * mean)
    return total


def log_reductions(times: ArrayLike, celsius: ArrayLike, model: Lethality) -> float:
    """Decimal reductions of a history under a model [-].

    >>> log_reductions([0, 120], [70, 70], listeria())
    6.0
    """
    return equivalent_time(times, celsius, reference_c=model.reference_c, z_k=model.z_k) / model.d_s


@cache
def equivalents() -> tuple[tuple[float, float], ...]:
    """Tabled (temperature [°C], hold [s]) of the 70 °C for two minutes equivalents, by rising temperature."""
    rows = [r for r in limits().values() if r.kind == "core_equivalent"]
    return tuple(sorted((float(r.temperature_c), float(r.hold_s)) for r in rows))


def hold_needed(celsius: float) -> float:
    """Hold that the tabled equivalents ask for at a temperature [s]: the logarithm of time between tabled points.

    Above the highest tabled temperature the hold there is kept.

    Raises
    ------
    Refused : below the lowest tabled temperature, where nothing is tabled

    >>> [round(hold_needed(t), 1) for t in (70.0, 72.5, 95.0)]
    [120.0, 60.0, 6.0]
    """
    table = equivalents()
    checked("core temperature", celsius, -60, 150, "°C")
    if celsius < table[0][0]:
        raise Refused(
            "core temperature", f"{celsius:g} °C is below {table[0][0]:g} °C, the lowest in the table", "Cook it hotter."
        )
    temperatures, holds = zip(*table, strict=True)
    return float(np.exp(np.interp(celsius, temperatures, np.log(holds))))


def tabled_share(times: ArrayLike, celsius: ArrayLike) -> float:
    """Share of the tabled equivalents that a history has done [-]: ∫ dt / hold(T); 1 meets the figure entered.

    What was colder than the lowest tabled temperature does not count.

    >>> round(tabled_share([0, 60, 120], [70, 70, 70]), 6)
    1.0
    >>> tabled_share([0, 3600], [55, 55])
    0.0
    """
    seconds, t = _history(times, celsius)
    table = equivalents()
    lowest = table[0][0]
    if len(seconds) < 2:
        return 0.0
    knots, holds = (np.array(v, dtype=float) for v in zip(*table, strict=True))
    total = 0.0
    for dt, a, b in zip(np.diff(seconds), t[:-1], t[1:], strict=True):
        if max(a, b) < lowest or dt == 0:
            continue
        # Cut at the tabled temperatures, so that in each part the logarithm of the rate is a straight line.
        cuts = sorted({0.0, 1.0, *((k - a) / (b - a) for k in knots if a != b and 0 < (k - a) / (b - a) < 1)})
        for p, q in pairwise(cuts):
            ends = a + (b - a) * np.array([p, q])
            if ends.mean() < lowest:
                continue
            rates = 1 / np.exp(np.interp(np.maximum(ends, lowest), knots, np.log(holds)))
            steep = np.log(rates[1] / rates[0])
            mean = rates[0] if abs(steep) < 1e-9 else (rates[1] - rates[0]) / steep
            total += float(dt * (q - p) * mean)
    return total

"""Lethality: what a temperature history does to microbes, as minutes at a reference temperature.

∫ 10^((T − Tref)/z) dt, divided by D for decimal reductions. Figures for D, z and the equivalents are in
`limits.csv`, status *recalled*: what meets them *meets the figure entered*, no more is said.
"""

from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from itertools import pairwise
from math import exp, log

from yeasty.core.kernel.errors import Refused, RuleError, check_range
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


def _history(times: Iterable[float], celsius: Iterable[float]) -> list[tuple[float, float]]:
    seconds, temperatures = [float(t) for t in times], [float(c) for c in celsius]
    check_range("time", seconds, -1e9, 1e10, "s")
    check_range("core temperature", temperatures, -60, 150, "°C")
    if len(seconds) != len(temperatures):
        raise RuleError("temperatures", "are not one a time", "Give as many temperatures as times.")
    if any(b < a for a, b in pairwise(seconds)):
        raise RuleError("time", "goes back", "Sort the log by time.")
    return list(zip(seconds, temperatures, strict=True))


def equivalent_time(
    times: Iterable[float],
    celsius: Iterable[float],
    *,
    reference_c: float,
    z_k: float,
    counts_from_c: float = -60.0,
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
    check_range("z", z_k, 1, 50, "K")
    total = 0.0
    scale = z_k / log(10)
    for (t0, a), (t1, b) in pairwise(_history(times, celsius)):
        dt, low, high = t1 - t0, min(a, b), max(a, b)
        if high < counts_from_c or dt == 0:
            continue
        if low < counts_from_c:  # only the part of the line above the limit
            dt, low = dt * (high - counts_from_c) / (high - low), counts_from_c
        rate_low, rate_high = (10 ** ((x - reference_c) / z_k) for x in (low, high))
        total += dt * (rate_low if high - low < 1e-6 else scale * (rate_high - rate_low) / (high - low))
    return total


def log_reductions(times: Iterable[float], celsius: Iterable[float], model: Lethality) -> float:
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
    """Hold that the tabled equivalents ask for at a temperature [s]: the logarithm of time between tabled
    points.

    Above the highest tabled temperature the hold there is kept.

    Raises
    ------
    Refused : below the lowest tabled temperature, where nothing is tabled

    >>> [round(hold_needed(t), 1) for t in (70.0, 72.5, 95.0)]
    [120.0, 60.0, 6.0]
    """
    table = equivalents()
    check_range("core temperature", celsius, -60, 150, "°C")
    if celsius < table[0][0]:
        raise Refused(
            "core temperature",
            f"{celsius:g} °C is below {table[0][0]:g} °C, the lowest in the table",
            "Cook it hotter.",
        )
    return exp(_log_hold(celsius))


def _log_hold(celsius: float) -> float:
    """Logarithm of the tabled hold [log s] at or above the lowest tabled temperature."""
    table = equivalents()
    n = bisect_right([t for t, _ in table], celsius)
    if n == len(table):
        return log(table[-1][1])
    (t0, h0), (t1, h1) = table[n - 1], table[n]
    return log(h0) + (celsius - t0) / (t1 - t0) * log(h1 / h0)


def held_share(times: Iterable[float], celsius: Iterable[float]) -> float:
    """Share of the tabled equivalents that readings have shown [-]: between two of them the lower one counts.

    Fit for a hand thermometer, whose readings are points: never more than the curve through them would give.

    >>> round(held_share([0, 8.28], [79, 79]), 2), held_share([0, 8.28], [79, 59])
    (1.0, 0.0)
    """
    lowest = equivalents()[0][0]
    return sum(
        (
            (t1 - t0) / hold_needed(min(a, b))
            for (t0, a), (t1, b) in pairwise(_history(times, celsius))
            if min(a, b) >= lowest
        ),
        start=0.0,
    )


def tabled_share(times: Iterable[float], celsius: Iterable[float]) -> float:
    """Share of the tabled equivalents that a history has done [-]: ∫ dt / hold(T); 1 meets the figure
    entered.

    What was colder than the lowest tabled temperature does not count.

    >>> round(tabled_share([0, 60, 120], [70, 70, 70]), 6)
    1.0
    >>> tabled_share([0, 3600], [55, 55])
    0.0
    """
    knots = [t for t, _ in equivalents()]
    total = 0.0
    for (t0, a), (t1, b) in pairwise(_history(times, celsius)):
        if max(a, b) < knots[0] or t1 == t0:
            continue
        # Cut at the tabled temperatures, so that in each part the logarithm of the rate is a straight line.
        inner = ((k - a) / (b - a) for k in knots if a != b)
        for p, q in pairwise(sorted({0.0, 1.0, *(x for x in inner if 0 < x < 1)})):
            ends = [a + (b - a) * x for x in (p, q)]
            if sum(ends) / 2 < knots[0]:
                continue
            first, last = (exp(-_log_hold(max(x, knots[0]))) for x in ends)
            steep = log(last / first)
            total += (t1 - t0) * (q - p) * (first if abs(steep) < 1e-9 else (last - first) / steep)
    return total

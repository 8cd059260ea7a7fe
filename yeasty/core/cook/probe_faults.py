"""Whether a probe can be believed: flat, jumped, out of the food, on metal, silent.

A reading that is not to be believed never ends a step and never makes a forecast; it asks for another look.
The limits below are usual behaviour of food and of kitchen probes, stated here and not measured by the
kitchen.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import fmean, pstdev

# Nothing heard for so long: disconnected [s].
SILENT_S = 30.0
# The core of a piece cannot move faster than this; a probe pulled out can [K/s].
FASTEST_CORE_K_S = 1.2
# Less than this is no jump [K]; as near to where it was as this share of the jump, it is back.
JUMP_K, BACK = 4.0, 0.35
# Food goes on heating while its probe is out, but never counts as back beyond this share of the jump.
GOES_ON_K_S, MOST_BACK = 0.1, 0.6
# The middle of food that holds water is no hotter than water boils around it: 121 °C in a pressure cooker or
# canner at about twice the air's pressure. Above this a tip is not in such food [°C].
HOTTEST_CORE_C = 125.0
# A core among hotter surroundings that moves by less than this over `FLAT_S` reads nothing [K].
FLAT_K, FLAT_S = 0.15, 240.0
# As near to the chamber as this, while food of that age cannot be there: out of the food [K].
NEAR_CHAMBER_K = 6.0
# Swings with the thermostat: a probe on metal or in air; food does not [K].
SWINGS_K = 1.5


class ProbeFault(StrEnum):
    """What is wrong with a probe."""

    SILENT = "silent"
    JUMP = "jump"
    OUT_OF_FOOD = "out of food"
    ON_METAL = "on metal"
    FLAT = "flat"


@dataclass(frozen=True)
class Doubt:
    """A fault, since when [s since 1970], and what to do about it."""

    fault: ProbeFault
    since: float
    sentence: str


def doubt(
    readings: Sequence[tuple[float, float | None]],
    now: float,
    *,
    chamber: Sequence[tuple[float, float]] = (),
    heated: bool = True,
    steady_c: float | None = None,
) -> Doubt | None:
    """What speaks against a core probe at a moment, None where nothing does.

    Parameters
    ----------
    readings : (moment [s since 1970], core [°C] or None), rising
    now : on the same clock
    chamber : the same of a probe in the chamber, where there is one
    heated : whether the food is in its heat; food at rest may stand still
    steady_c : a temperature at which food may well stand still: of steam, water or a water bath

    >>> doubt([(t, 40 + t / 60) for t in range(0, 600, 5)], 600) is None
    True
    >>> doubt([(t, 40.0) for t in range(0, 600, 5)], 600).fault
    <ProbeFault.FLAT: 'flat'>
    """
    if not readings:
        return None
    last_at, last = readings[-1]
    if last is None or now - last_at > SILENT_S:
        since = next((t for t, v in reversed(readings) if v is not None), last_at)
        return Doubt(
            ProbeFault.SILENT,
            since,
            "The probe is silent: look at plug and battery, and read the core by another.",
        )
    known = [(t, v) for t, v in readings if v is not None and t > now - 900]
    jump = _jump(known)
    if jump is not None:
        return jump
    if last > HOTTEST_CORE_C:
        return Doubt(
            ProbeFault.OUT_OF_FOOD,
            next((t for t, v in reversed(known) if v <= HOTTEST_CORE_C), known[0][0]),
            f"The probe reads {last:.0f} °C, hotter than food that holds water gets in its middle: it may be "
            f"out of the food. Put it back to the middle.",
        )
    around = [v for t, v in chamber if t > now - 300]
    recent = [(t, v) for t, v in known if t > now - 300]
    if heated and len(around) >= 10 and len(recent) >= 10:
        apart = abs(fmean(v for _, v in recent[-10:]) - fmean(around[-10:]))
        swings = _wobble([v for _, v in recent])
        if apart < NEAR_CHAMBER_K and (steady_c is None or abs(last - steady_c) > NEAR_CHAMBER_K):
            return Doubt(
                ProbeFault.OUT_OF_FOOD,
                recent[0][0],
                "The probe reads like the chamber: it may be out of the food. Put it back to the middle.",
            )
        if swings > SWINGS_K and _wobble(around) > SWINGS_K:
            return Doubt(
                ProbeFault.ON_METAL,
                recent[0][0],
                "The probe swings with the heater: it may touch metal or bone. Move it to the middle of "
                "the food.",
            )
    flat = [(t, v) for t, v in known if t > now - FLAT_S]
    spread = max(v for _, v in flat) - min(v for _, v in flat) if flat else 0.0
    whole = bool(flat) and flat[-1][0] - flat[0][0] > 0.9 * FLAT_S
    if heated and whole and spread < FLAT_K and (steady_c is None or abs(last - steady_c) > 3.0):
        return Doubt(
            ProbeFault.FLAT,
            flat[0][0],
            "The probe has not moved for minutes though it is in the heat: look where its tip is.",
        )
    return None


def _jump(known: Sequence[tuple[float, float]]) -> Doubt | None:
    """A jump faster than any core moves from which it has not come back; a single wild reading is none."""
    left = _walk(known)[1]
    if left is None or len([t for t, _ in known if t >= left[0]]) < 2:
        return None
    since, was, to = left
    way = "rose" if to > was else "fell"
    return Doubt(
        ProbeFault.JUMP,
        since,
        f"The probe {way} by {abs(to - was):.0f} K at once, as no core does: it may have been pulled out "
        f"or moved.",
    )


Away = tuple[float, float, float]


def _near(away: Away, t: float) -> float:
    """How near to where it was a probe counts as back [K]: the food has gone on heating meanwhile."""
    jump = abs(away[2] - away[1])
    return min(MOST_BACK * jump, BACK * jump + GOES_ON_K_S * (t - away[0]))


def _walk(readings: Sequence[tuple[float, float]]) -> tuple[list[tuple[float, float]], Away | None]:
    """Readings of a core without those that are away, and at their end since when it is away, where it had
    been and to where it jumped [s, °C, °C]; None where it is not.
    """
    kept: list[tuple[float, float]] = []
    away: Away | None = None
    for t, v in readings:
        if away is not None and abs(v - away[1]) > _near(away, t):
            continue
        if away is None and kept:
            t0, v0 = kept[-1]
            if t > t0 and abs(v - v0) > JUMP_K and abs(v - v0) / (t - t0) > FASTEST_CORE_K_S:
                away = (t, v0, v)
                continue
        if v > HOTTEST_CORE_C:
            continue
        away = None
        kept.append((t, v))
    return kept, away


def _wobble(values: Sequence[float]) -> float:
    """How far values swing about their own slow drift: twice the standard deviation about a straight line."""
    n = len(values)
    if n < 10:
        return 0.0
    middle = (n - 1) / 2
    mean = fmean(values)
    slope = sum((i - middle) * (v - mean) for i, v in enumerate(values)) / sum(
        (i - middle) ** 2 for i in range(n)
    )
    return 2 * pstdev([v - mean - slope * (i - middle) for i, v in enumerate(values)])


def trusted(readings: Sequence[tuple[float, float | None]]) -> list[tuple[float, float]]:
    """Readings of a core without those after a jump, until it came back near where it had been, and without
    those that are hotter than food which holds water can be.

    A probe that is pulled out of the food and reads the oven must not make food done. What is left out is
    kept elsewhere.

    >>> [v for _, v in trusted([(0, 50.0), (1, 51.0), (2, 180.0), (3, 190.0), (4, 60.0), (5, 61.0)])]
    [50.0, 51.0, 60.0, 61.0]
    >>> trusted([(0, 60.0), (200, 138.0), (400, 66.0)])
    [(0, 60.0), (400, 66.0)]
    """
    return _walk([(t, v) for t, v in readings if v is not None])[0]


def believed(
    readings: Sequence[tuple[float, float | None]], found: Doubt | None
) -> list[tuple[float, float]]:
    """The readings from before a doubt began; all that have a value where there is none."""
    return [(t, v) for t, v in readings if v is not None and (found is None or t < found.since)]

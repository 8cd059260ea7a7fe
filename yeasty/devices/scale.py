"""A stand-in for a kitchen scale: it swings, settles, and shows tenths of a gram. What it says is made up."""

from dataclasses import dataclass
from math import exp, pi, sin
from random import Random

RESOLUTION_KG = 0.0001
# A scale swings about so long until it stands still [s].
SETTLES_S = 1.2


@dataclass(frozen=True)
class ScaleReading:
    """One reading: mass [kg], and whether the scale stands still."""

    kg: float
    stable: bool


def piece_on_the_scale(seed: int, number: int, middle_kg: float, spread: float = 0.12) -> float:
    """The made-up true mass of a piece [kg]: normal around `middle_kg`, never under a third of it.

    >>> piece_on_the_scale(1, 1, 0.025) == piece_on_the_scale(1, 1, 0.025)
    True
    """
    return max(middle_kg / 3, Random(seed * 100_003 + number).gauss(middle_kg, spread * middle_kg))


def readings(true_kg: float, seed: int, every_s: float = 0.2, until_s: float = 2.0) -> list[ScaleReading]:
    """What the scale shows from the moment a piece is laid on it; the last one is stable.

    >>> shown = readings(0.02513, seed=3)
    >>> shown[0].stable, shown[-1].stable, round(shown[-1].kg, 4)
    (False, True, 0.0251)
    """
    random = Random(seed)
    phase = random.uniform(0, pi)
    found = []
    steps = round(until_s / every_s)
    for i in range(1, steps + 1):
        t = i * every_s
        swing = 0.25 * true_kg * exp(-3 * t / SETTLES_S) * sin(2 * pi * 2.2 * t + phase)
        shown = round((true_kg + swing) / RESOLUTION_KG) * RESOLUTION_KG
        found.append(
            ScaleReading(
                max(0.0, round(shown, 5)), (t >= 1.2 * SETTLES_S and abs(swing) < RESOLUTION_KG) or i == steps
            )
        )
    return found

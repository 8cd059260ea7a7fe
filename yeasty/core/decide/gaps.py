"""How far two ways lie apart by what was measured, batches counted as chance; and what so breaks a tie."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import fmean, variance

from scipy.stats import t as student

from yeasty.core.decide.measured import Measure, Measured, measure_of, told


@dataclass(frozen=True)
class Gap:
    """How far one way's batches lie from another's.

    Attributes
    ----------
    difference : first minus second
    low, high : 95 % range by batches, None where one of them was cooked once
    cookings : of the one that was cooked less often
    stands : whether it is more than chance, or, of one cooking of each, more than a cook would put down to it
    """

    difference: float
    low: float | None
    high: float | None
    cookings: int
    stands: bool


# Of one cooking each a difference is told only where it is plain: a quarter, and several grains.
PLAIN_SHARE, PLAIN_GRAINS = 0.25, 4.0


def gap(first: Sequence[float], second: Sequence[float], grain: float, level: float = 0.95) -> Gap:
    """First minus second, by batches, with its range at a level.

    Two batches each: a range by Welch's t, each spread at least that of readings one grain wide. One batch:
    no range; it stands only where it is a quarter of the larger and several grains.

    >>> gap([600, 620], [1200, 1180], 30).stands, gap([600], [640], 30).stands
    (True, False)
    """
    d = fmean(first) - fmean(second)
    few = min(len(first), len(second))
    if few < 2:
        larger = max(abs(fmean(first)), abs(fmean(second)))
        plain = abs(d) >= PLAIN_SHARE * larger and abs(d) >= PLAIN_GRAINS * grain
        return Gap(d, None, None, few, plain)
    reading = grain * grain / 12
    parts = [(max(variance(v), reading) / len(v), len(v) - 1) for v in (first, second)]
    error = sqrt(sum(p for p, _ in parts))
    freedom = sum(p for p, _ in parts) ** 2 / sum(p * p / f for p, f in parts)
    half = float(student.ppf(0.5 + level / 2, freedom)) * error
    stands = (d - half > 0 or d + half < 0) and abs(d) >= grain
    return Gap(d, d - half, d + half, few, stands)


def better(measure: Measure, first: Sequence[float], second: Sequence[float]) -> bool:
    """Whether the first is better by this measure, by more than chance."""
    if measure.less_is_better is None:
        return False
    g = gap(first, second, measure.grain)
    return g.stands and (g.difference < 0) == measure.less_is_better


@dataclass(frozen=True)
class Decided:
    """What broke a tie: the way, the measure, and what the others came to, in words."""

    way: str
    measure: str
    why: str


def break_tie(
    ties: Sequence[str], among: Sequence[str], measured: Measured, names: Mapping[str, str]
) -> Decided | None:
    """The first rule that tells one of them from all the others by more than chance; None where none does.

    A measure that one of them lacks is passed over: what was not measured wins nothing.
    """
    for key in ties:
        m = measure_of(key)
        if m is None:
            continue
        values = {w: v for w, v in measured.get(key, {}).items() if w in among}
        if set(values) != set(among):
            continue
        for way in among:
            if all(better(m, values[way], values[other]) for other in among if other != way):
                others = "; ".join(f"{names[o]} {told(m, values[o])}" for o in among if o != way)
                return Decided(way, m.name, f"{names[way]} {told(m, values[way])}; {others}")
    return None

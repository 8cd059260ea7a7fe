"""Measures of the log that ways can be held beside one another by: each batch one number, at equal servings.

What is measured is compared by batches alone; nobody has to taste anything for it.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from statistics import fmean

from yeasty.core.cook.measures import BatchMeasures, Clocks
from yeasty.core.cook.payloads import DIMENSIONS
from yeasty.core.decide.curves import Points, heights
from yeasty.core.decide.servings import J_PER_KWH, ForServings
from yeasty.core.workbench.yields import LOSSES, LOST_IN_KEEPING


@dataclass(frozen=True)
class OneBatch:
    """A judged batch, and the same scaled to the servings that all are compared at.

    `share` : servings compared over what one batch gives; `curves` : name to its points over the time since
    its heat began; see `yeasty.core.decide.curves`; `can_wait_s` : how long it may stand before it is eaten,
    as said at Set up, None where nobody said [s]
    """

    batch: BatchMeasures
    scaled: ForServings
    share: float = 1.0
    curves: Mapping[str, Points] = field(default_factory=dict)
    can_wait_s: float | None = None


@dataclass(frozen=True)
class Unit:
    """What a measure is told in.

    Attributes
    ----------
    name, per : what a cook types it in, and how much that is of the measure's own unit
    grain : a difference below which two readings are one [own unit]: what a watch, a scale or a thermometer
        leaves open
    say : a number in words
    apart : how far two lie apart, in words, where that is not said as a number is
    """

    name: str
    per: float
    grain: float
    say: Callable[[float], str]
    apart: Callable[[float], str] | None = None


@dataclass(frozen=True)
class Measure:
    """Something the log tells of a batch.

    Attributes
    ----------
    key : what records call it
    name : in words, as "hands"
    less_is_better : None where neither end is better by itself
    of : what one batch came to, None where it was not measured
    """

    key: str
    name: str
    less_is_better: bool | None
    unit: Unit
    of: Callable[[OneBatch], float | None]

    @property
    def at_servings(self) -> bool:
        """Whether it depends on how many pieces are cooked, and so is told of equal servings."""
        return self.key in _AT_SERVINGS or self.key.startswith(_WEIGHT)

    @property
    def grain(self) -> float:
        """See `Unit`."""
        return self.unit.grain

    def say(self, value: float) -> str:
        """A number in words."""
        return self.unit.say(value)

    def apart(self, value: float) -> str:
        """How far two lie apart, in words.

        >>> FIXED["cooked_yield"].apart(0.21), FIXED["hands_s"].apart(120)
        ('21 percentage points', '2 min')
        """
        return (self.unit.apart or self.unit.say)(value)


def minutes(seconds: float) -> str:
    """A time as a cook says it.

    >>> minutes(40), minutes(754), minutes(5400)
    ('40 s', '13 min', '1 h 30 min')
    """
    if abs(seconds) < 90:
        return f"{seconds:.0f} s"
    whole = round(seconds / 60)
    hours, rest = divmod(whole, 60)
    return f"{rest} min" if not hours else f"{hours} h {rest} min" if rest else f"{hours} h"


def share(value: float) -> str:
    """A share in per cent.

    >>> share(0.823)
    '82 %'
    """
    return f"{100 * value:.0f} %" if abs(value) >= 0.1 else f"{100 * value:.1f} %"


def _points(value: float) -> str:
    return (
        f"{100 * value:.0f} percentage points"
        if abs(value) >= 0.1
        else f"{100 * value:.1f} percentage points"
    )


def _kwh(joule: float) -> str:
    return f"{joule / J_PER_KWH:.2f} kWh"


def _count(value: float) -> str:
    number = f"{value:.0f}" if value == round(value) else f"{value:.1f}"
    return f"{number} time{'' if number == '1' else 's'}"


def _celsius(value: float) -> str:
    return f"{value:.0f} °C"


def _busy(c: Clocks) -> float:
    return c.come_up_s + c.cooking_s


def _kelvin(value: float) -> str:
    return f"{value:.0f} K"


def _grams(kg: float) -> str:
    return f"{1000 * kg:.0f} g"


def _cost(b: OneBatch) -> float | None:
    return None if b.scaled.cost is None else float(b.scaled.cost)


def _hot(b: OneBatch) -> float | None:
    """Whether anybody noted it; where nuisance was not looked at nobody knows."""
    return float("heat" in b.batch.nuisance) if b.batch.nuisance else None


def _noted(value: float) -> str:
    return "noted" if value >= 0.5 else "not noted"


def _rounds(value: float) -> str:
    return f"{value:.0f} round{'' if round(value) == 1 else 's'}"


def _money(value: float) -> str:
    return f"{value:.2f}"


# Half a minute of a tap, a hundredth of a meter, half a per cent or two grams of a kitchen scale, half a
# kelvin.
TIME = Unit("min", 60.0, 30.0, minutes)
ENERGY = Unit("kWh", J_PER_KWH, 0.01 * J_PER_KWH, _kwh)
SHARE = Unit("%", 0.01, 0.005, share, _points)
TIMES = Unit("times", 1.0, 0.5, _count)
CELSIUS = Unit("°C", 1.0, 0.5, _celsius, _kelvin)
GRAMS = Unit("g", 0.001, 0.002, _grams)
# Counted or set down, not read off: there is nothing between two of them.
ROUNDS = Unit("rounds", 1.0, 0.1, _rounds)
NOTED = Unit("", 1.0, 0.1, _noted)
MONEY = Unit("", 1.0, 0.01, _money)

HOT = "hot_kitchen"
FIXED: Mapping[str, Measure] = {
    m.key: m
    for m in (
        Measure("total_s", "from start to clean", True, TIME, lambda b: b.scaled.clocks.total_s),
        Measure("hands_s", "hands", True, TIME, lambda b: b.scaled.clocks.hands_s),
        Measure("come_up_s", "come-up", True, TIME, lambda b: b.scaled.clocks.come_up_s),
        Measure("cooking_s", "cooking", True, TIME, lambda b: b.scaled.clocks.cooking_s),
        Measure("waiting_s", "waiting", True, TIME, lambda b: b.scaled.clocks.waiting_s),
        Measure("wash_up_s", "washing-up", True, TIME, lambda b: b.scaled.clocks.wash_up_s),
        Measure("busy_s", "appliance in use", True, TIME, lambda b: _busy(b.scaled.clocks)),
        Measure("call_backs", "called back", True, TIMES, lambda b: float(b.batch.call_backs)),
        Measure("energy_j", "energy", True, ENERGY, lambda b: b.scaled.energy_j),
        Measure("cost", "cost", True, MONEY, _cost),
        Measure("cooked_yield", "yield", False, SHARE, lambda b: b.batch.cooked_yield),
        Measure("rounds", "rounds it takes", True, ROUNDS, lambda b: float(b.scaled.rounds)),
        Measure(HOT, "heat in the kitchen", True, NOTED, _hot),
        Measure("can_wait_s", "can wait for guests", False, TIME, lambda b: b.can_wait_s),
        Measure("lowest_core_c", "core of the coldest piece", None, CELSIUS, lambda b: b.batch.lowest_core_c),
        Measure("highest_core_c", "highest core", None, CELSIUS, lambda b: b.batch.highest_core_c),
    )
}
_AT_SERVINGS = FIXED.keys() - {
    "call_backs",
    "cooked_yield",
    "highest_core_c",
    "lowest_core_c",
    HOT,
    "can_wait_s",
}
_LOSS, _SHRINK, _WEIGHT, CURVE, TALLY = "loss:", "shrink:", "weight:", "curve:", "tally:"
# What a curve is of, and how its height is said.
_CURVES: Mapping[str, tuple[str, Unit]] = {
    "core": ("core over time, its mean", CELSIUS),
    "weight": ("weight over time, its mean", SHARE),
}


def measure_of(key: str) -> Measure | None:
    """The measure of a key: a fixed one; a loss, shrink, weight or count by its name; the height of a curve.
    None where there is none.

    >>> measure_of("loss:drip").name, measure_of("tally:sealed").name, measure_of("of luck")
    ('drip', '“sealed”', None)
    """
    if key.startswith(TALLY) and key != TALLY:
        name = key.removeprefix(TALLY)
        return Measure(key, f"“{name}”", None, SHARE, lambda b: _share_counted(b, name))
    if key.startswith(_WEIGHT) and key != _WEIGHT:
        name = key.removeprefix(_WEIGHT)
        return Measure(key, f"weight of {name}", None, GRAMS, lambda b: _weighed(b, name))
    if key.removeprefix(CURVE) in _CURVES and key.startswith(CURVE):
        said, unit = _CURVES[key.removeprefix(CURVE)]
        return Measure(key, said, None, unit, lambda _: None)
    if key.startswith(_LOSS) and key != _LOSS:
        name = key.removeprefix(_LOSS)
        return Measure(key, name, True, SHARE, lambda b: dict(b.batch.losses).get(name))
    if key.startswith(_SHRINK) and key != _SHRINK:
        name = key.removeprefix(_SHRINK)
        return Measure(key, f"shrink in {name}", True, SHARE, lambda b: dict(b.batch.shrink).get(name))
    return FIXED.get(key)


def _share_counted(b: OneBatch, name: str) -> float | None:
    return next((count / out_of for n, count, out_of in b.batch.tallies if n == name), None)


def _weighed(b: OneBatch, name: str) -> float | None:
    kg = dict(b.batch.weights).get(name)
    return None if kg is None else kg * b.share


# Measures that a log tells where somebody took them, by their names; any count goes by its own word.
NAMED = (
    *(_LOSS + name for name in (*LOSSES, LOST_IN_KEEPING)),
    *(_SHRINK + name for name in DIMENSIONS),
    *(CURVE + name for name in _CURVES),
)

Values = Mapping[str, Sequence[float]]


def values_of(measure: Measure, batches: Mapping[str, Sequence[OneBatch]]) -> dict[str, tuple[float, ...]]:
    """Way to what each of its batches came to; ways of which no batch tells are left out."""
    found = {m: tuple(v for b in mine if (v := measure.of(b)) is not None) for m, mine in batches.items()}
    return {m: v for m, v in found.items() if v}


Measured = Mapping[str, Values]


def measured(batches: Mapping[str, Sequence[OneBatch]]) -> dict[str, dict[str, tuple[float, ...]]]:
    """Every measure that a batch tells, the fixed ones first: its key, way, what batches came to.

    A weight by itself only where no batch says what it is a share of: a share says it better.
    """
    everything = [b.batch for mine in batches.values() for b in mine]
    losses = dict.fromkeys(_LOSS + name for m in everything for name, _ in m.losses)
    shrinks = dict.fromkeys(_SHRINK + name for m in everything for name, _ in m.shrink)
    bare = [m for m in everything if not STARTS & dict(m.weights).keys()]
    weights = dict.fromkeys(
        _WEIGHT + name for m in bare if len(bare) == len(everything) for name, _ in m.weights
    )
    tallies = dict.fromkeys(TALLY + name for m in everything for name, *_ in m.tallies)
    keys = (*losses, *shrinks, *weights, *tallies)
    known = [*FIXED.values(), *(m for k in keys if (m := measure_of(k)))]
    found = {m.key: values for m in known if (values := values_of(m, batches))}
    if not any(any(v) for v in found.get(HOT, {}).values()):
        # Noted of none, it sets nothing apart.
        found.pop(HOT, None)
    for name in _CURVES:
        curves = {way: [c for b in mine if (c := b.curves.get(name))] for way, mine in batches.items()}
        if tall := heights({way: mine for way, mine in curves.items() if mine}):
            found[CURVE + name] = tall
    return found


# What went into the heat.
STARTS = frozenset({"raw", "prepared"})


def order(measure: Measure, values: Values) -> list[str]:
    """Ways from best to worst by their means; by size where neither end is better, of counts the most
    first.
    """
    sign = -1 if measure.less_is_better is False or measure.key.startswith(TALLY) else 1
    return sorted(values, key=lambda m: (sign * round(fmean(values[m]), 9), m))


def told(measure: Measure, values: Sequence[float]) -> str:
    """What batches came to: the mean, and how far they lie apart.

    >>> told(FIXED["hands_s"], [240, 300]), told(FIXED["hands_s"], [240])
    ('4 min to 5 min in 2 cookings', '4 min in one cooking')
    """
    low, high = measure.say(min(values)), measure.say(max(values))
    if len(values) == 1:
        return f"{low} in one cooking"
    return f"{low} in {len(values)} cookings" if low == high else f"{low} to {high} in {len(values)} cookings"

"""A page's recipe in a reader's own kitchen: times and settings by the same rules as the workbench, each with
a range and a line on why. What no rule carries over is said and never guessed; an end that keeps people safe
is never loosened.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from yeasty.core.heat.microwave import time_at_power
from yeasty.core.heat.ranged import Ranged
from yeasty.core.heat.steam import boiling_point, cooking_time_factor, pressure_time
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities_said import say_temperature_both
from yeasty.core.publish.reader import COLD_C, FROM_OUTSIDE, IN_STEAM, IN_WATER, OVENS, STARTS
from yeasty.core.publish.recipe import for_readers, until_core
from yeasty.core.workbench.rules import Hot, core_time, hot_air, thickness_time

# A label tells a microwave's output to about a tenth.
LABEL = 0.1
# Less than that in height or in watts is left alone: no kitchen measures better.
LEAST_M, LEAST_SHARE = 300.0, 0.02
# Nearer than that a core is read no better [K].
LEAST_K = 0.5
# Gauge pressure of a pressure cooker at its usual setting [Pa].
PRESSURE_PA = 80e3


@dataclass(frozen=True)
class FittedStep:
    """A step in a reader's kitchen: `duration`, `temperature`, `during`, `until` in words, "" as written;
    `says` why, or what could not be carried over.
    """

    duration: str = ""
    temperature: str = ""
    says: tuple[str, ...] = ()
    during: str = ""
    until: str = ""


@dataclass(frozen=True)
class Fitted:
    """A recipe in a reader's kitchen: a step of its own for each, and how long it takes in all [s];
    `once_hot` : without how long theirs takes to get hot, which nobody knows here.
    """

    steps: tuple[FittedStep, ...]
    total_s: float
    once_hot: bool = False


@dataclass(frozen=True)
class _Now:
    """A step on its way: time [s], setting [°C], what was said, its core at the end where that is another."""

    time: Ranged
    set_c: Ranged | None
    says: tuple[str, ...] = ()
    core_c: float | None = None

    def saying(self, words: str) -> "_Now":
        return replace(self, says=(*self.says, words))


def fit_recipe(
    recipe: Mapping[str, Any],
    *,
    watts: float | None = None,
    altitude_m: float | None = None,
    thickness_m: float | None = None,
    oven: str = "",
    start: str = "",
    core_c: float | None = None,
) -> Fitted:
    """A recipe of a page's record in another kitchen.

    Parameters
    ----------
    recipe : of a document of this version
    watts, altitude_m, thickness_m, oven, start, core_c : see `yeasty.core.publish.reader.Kitchen`
    """
    rules: list[Callable[[Mapping[str, Any], Mapping[str, Any], _Now], _Now]] = []
    if thickness_m is not None:
        rules.append(lambda r, s, now: _thickness(r, now, thickness_m))
    if start or core_c is not None:
        rules.append(lambda r, s, now: _from_to(r, s, now, STARTS[start][1] if start else None, core_c))
    if oven:
        rules.append(lambda r, s, now: _air(r, now, Hot(oven)))
    if watts is not None:
        rules.append(lambda r, s, now: _watts(s, now, watts))
    if altitude_m is not None:
        rules.append(lambda r, s, now: _height(r, now, altitude_m))
    steps: list[FittedStep] = []
    total, once_hot, slower = float(recipe["total_s"]), False, 1.0
    for s in recipe["steps"]:
        if s["during"]:
            steps.append(_inside(s, slower))
        elif s["phase"] not in ("cook", "come_up"):
            steps.append(FittedStep())
        else:
            fitted, change = _step(recipe, s, rules)
            steps.append(fitted)
            hot = s["phase"] == "come_up" and fitted.temperature != ""
            once_hot = once_hot or hot
            total += -s["duration_s"] if hot else change
            slower = 1 + change / s["duration_s"] if s["duration_s"] else 1.0
    return Fitted(tuple(steps), max(0.0, total), once_hot)


def _inside(s: Mapping[str, Any], slower: float) -> FittedStep:
    """What is done inside a cooking comes as far into it as it did: half way stays half way."""
    if slower == 1.0 or s["during_s"] is None:
        return FittedStep()
    return FittedStep(during=f"about {for_readers(s['during_s'] * slower)} into it")


def _step(
    recipe: Mapping[str, Any],
    s: Mapping[str, Any],
    rules: Sequence[Callable[[Mapping[str, Any], Mapping[str, Any], _Now], _Now]],
) -> tuple[FittedStep, float]:
    """One step, and by how much it is longer [s]."""
    low, high = s["low_s"], s["high_s"]
    set_c = s["set_point_c"]
    written = _Now(
        Ranged(s["duration_s"], low, high, ""), None if set_c is None else Ranged(set_c, set_c, set_c, "")
    )
    now = written
    for rule in rules:
        try:
            now = rule(recipe, s, now)
        except RuleError as wrong:
            now = now.saying(f"Not carried over: {wrong.field} {wrong.message}. {wrong.todo}")
    if s["phase"] == "come_up":
        # How long yours takes to get hot nobody knows here; only what it is set to is carried over.
        changed = _setting(now) != _setting(written)
        if not changed:
            return FittedStep(), 0.0
        return FittedStep("as long as yours takes", _setting(now), _of_setting(now.says)), 0.0
    if now.time == written.time and _setting(now) == _setting(written) and now.core_c is None:
        return FittedStep(says=now.says), 0.0
    if recipe["by_core"] and s["core_c"] is None:
        return FittedStep(
            says=(
                "Not carried over: this food is safe by its core, which this step does not read, so no other "
                "time is told for it.",
            )
        ), 0.0
    says = now.says
    if s["core_c"] is not None:
        says = (*says, "The core decides, not the time: look at the early end and go on until it is read.")
    return (
        FittedStep(
            _time(now.time),
            _setting(now) if _setting(now) != _setting(written) else "",
            says,
            until="" if now.core_c is None else until_core(now.core_c),
        ),
        now.time.value - written.time.value,
    )


def _of_setting(says: Sequence[str]) -> tuple[str, ...]:
    return tuple(x for x in says if x.startswith("In an") or x.startswith("In your"))


def _time(t: Ranged) -> str:
    low, value, high = (for_readers(x) for x in (t.low, t.value, t.high))
    return f"about {value}" if low == high else f"about {value} ({low} to {high})"


def _setting(now: _Now) -> str:
    return "" if now.set_c is None else say_temperature_both(5.0 * round(now.set_c.value / 5))


def _scaled(t: Ranged, by: Ranged, was: float) -> Ranged:
    """A time that was worked out for its middle, with the range it had before widened by the rule's own."""
    return Ranged(t.value * by.value / was, t.low * by.low / was, t.high * by.high / was, by.source)


def _thickness(recipe: Mapping[str, Any], now: _Now, thickness_m: float) -> _Now:
    ours = recipe["thickness_m"]
    if not ours or recipe["technique"] not in FROM_OUTSIDE:
        return now
    if abs(thickness_m - ours) < 0.0005:
        return now
    by = thickness_time(now.time.value, thickness_m=ours, new_thickness_m=thickness_m)
    words = f"Ours were {1000 * ours:.0f} mm thick, yours are {1000 * thickness_m:.0f} mm: {by.source}."
    return replace(now, time=_scaled(now.time, by, now.time.value)).saying(words)


def _from_to(
    recipe: Mapping[str, Any],
    s: Mapping[str, Any],
    now: _Now,
    start_c: float | None,
    wanted_c: float | None,
) -> _Now:
    """From another start, to another core. Food that is safe by its core is kept cold until it is cooked, and
    ends no lower than written.
    """
    if s["phase"] != "cook":
        return now
    ours, end = recipe["start_c"], s["core_c"]
    if end is None:
        return now.saying(
            "Not carried over: this step does not end by its core, so what another start or core does to its "
            "time is not known here. Go by its sign."
        )
    if recipe["by_core"] and wanted_c is not None and wanted_c < end:
        now = now.saying(
            f"Left as it is: no lower core than {say_temperature_both(end)} is told for this kind of food."
        )
        wanted_c = None
    if recipe["by_core"] and start_c is not None and start_c > COLD_C:
        now = now.saying("Left as it is: this kind of food is kept cold until it is cooked.")
        start_c = None
    if start_c is None and wanted_c is None:
        return now
    if ours is None or s is not _first_cook(recipe) or recipe["technique"] not in FROM_OUTSIDE:
        return now.saying(
            "Not carried over: how warm the middle was when this step began is not known here, or no rule "
            "carries it over. Go by the core."
        )
    begins = ours if start_c is None else start_c
    ends = end if wanted_c is None else wanted_c
    if abs(begins - ours) < LEAST_K and abs(ends - end) < LEAST_K:
        return now
    around = 100.0 if now.set_c is None else now.set_c.value
    by = core_time(
        now.time.value, start_c=ours, end_c=end, new_start_c=begins, new_end_c=ends, around_c=around
    )
    words = (
        f"Ours went from {ours:g} to {end:g} °C in the middle, yours goes from {begins:g} to {ends:g} °C: "
        f"{by.source}."
    )
    told = replace(now, time=_scaled(now.time, by, now.time.value)).saying(words)
    return told if wanted_c is None or wanted_c == end else replace(told, core_c=wanted_c)


def _first_cook(recipe: Mapping[str, Any]) -> Mapping[str, Any] | None:
    return next((s for s in recipe["steps"] if s["phase"] == "cook" and not s["during"]), None)


def _air(recipe: Mapping[str, Any], now: _Now, use: Hot) -> _Now:
    if recipe["technique"] not in OVENS or now.set_c is None or recipe["technique"] == use.value:
        return now
    found = hot_air(now.set_c.value, now.time.value, written_for=Hot(recipe["technique"]), use=use)
    words = (
        f"In an {OVENS[use.value]}; ours was an {OVENS[recipe['technique']]}: {found.time_s.source}. Look "
        "early; a crowded basket or tray takes longer."
    )
    time = _scaled(now.time, found.time_s, now.time.value)
    return replace(now, time=time, set_c=found.set_c).saying(words)


def _watts(s: Mapping[str, Any], now: _Now, watts: float) -> _Now:
    ours = s["power_w"]
    if s["appliance"] != "microwave" or not ours or abs(ours - watts) / watts < LEAST_SHARE:
        return now
    real = Ranged(watts, (1 - LABEL) * watts, (1 + LABEL) * watts, "by its label")
    by = time_at_power(now.time.value, Ranged(ours, ours, ours, ""), real)
    words = f"Ours put {ours:g} W into the food, yours {watts:g} W by its label: the same energy."
    return replace(now, time=_scaled(now.time, by, now.time.value)).saying(words)


def _height(recipe: Mapping[str, Any], now: _Now, altitude_m: float) -> _Now:
    ours, how = recipe["altitude_m"], recipe["technique"]
    if how not in IN_STEAM | IN_WATER or altitude_m - ours < LEAST_M:
        # Lower down it may be done sooner; no time is made shorter for that.
        return now
    before, after = float(boiling_point(ours)), float(boiling_point(altitude_m))
    said = f"Water boils at {after:.0f} °C where you live, at {before:.0f} °C where we cooked"
    if how in IN_WATER:
        return now.saying(
            f"{said}, so what softens in it takes longer: go by the sign, and begin earlier. How much longer "
            "depends on the food, so no time is told."
        )
    if how == "pressure_cooker":
        return _at_pressure(now, ours, altitude_m)
    factor = cooking_time_factor(before, after)
    by = factor.times(now.time.value, factor.source)
    return replace(now, time=_scaled(now.time, by, now.time.value)).saying(f"{said}: {factor.source}.")


def _at_pressure(now: _Now, ours: float, altitude_m: float) -> _Now:
    by = pressure_time(now.time.value, PRESSURE_PA, ours, PRESSURE_PA, altitude_m)
    words = f"The steam is cooler at your height at the same pressure on the gauge: {by.source}."
    return replace(now, time=_scaled(now.time, by, now.time.value)).saying(words)

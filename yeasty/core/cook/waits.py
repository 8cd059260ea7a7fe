"""How long food may stand between two heats, and raw food out of the cold: limits of a plan like any other.

Food that has been warmed and not cooked through is the best place for what harms people to grow, so that the
kinds that can hurt most go straight on. The figures are strict kitchen practice, not a law; a kitchen may
make them stricter.
"""

import csv
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities_said import say_duration
from yeasty.core.kernel.steps import EndRule, Phase, Step, preheats_beside
from yeasty.core.safety.core_minimum import food_classes, requirements


@dataclass(frozen=True)
class WaitRule:
    """What a kind of food may stand.

    Attributes
    ----------
    food : key of `food_classes`
    half_cooked_s : between two heats, beyond what hands need to move it [s]
    out_of_cold_s : raw, from the first work on it to its heat, beyond the work itself [s]; None for no limit
    status, source : where the figures come from
    """

    food: str
    half_cooked_s: float
    out_of_cold_s: float | None
    status: str
    source: str


@dataclass(frozen=True)
class WaitLimit:
    """Food stands at most so long [s] from the end of one step to the start of another, beyond the steps
    `between`.

    `since` : where the first step is over already, its end [s].
    """

    after: str
    until: str
    between: tuple[str, ...]
    at_most_s: float
    words: str
    since: float | None = None


@cache
def wait_rules() -> dict[str, WaitRule]:
    """The shipped rules by kind of food."""
    text = files("yeasty.core.cook").joinpath("waits.csv").read_text("utf-8")
    return {
        r["food"]: WaitRule(
            r["food"],
            float(r["half_cooked_s"]),
            float(r["out_of_cold_s"]) if r["out_of_cold_s"] else None,
            r["status"],
            r["source"],
        )
        for r in csv.DictReader(text.splitlines())
    }


def wait_rule(food: str, own: Mapping[str, Mapping[str, float | None]] | None = None) -> WaitRule:
    """The rule of a kind of food, stricter where the kitchen says so; the strictest where the kind is not
    known.

    >>> wait_rule("plant", {"plant": {"half_cooked_s": 300}}).half_cooked_s, wait_rule("").half_cooked_s
    (300, 0.0)
    """
    rules = wait_rules()
    shipped = rules.get(food) or min(rules.values(), key=lambda r: (r.half_cooked_s, r.out_of_cold_s or 1e9))
    mine = (own or {}).get(food) or {}
    half, out = mine.get("half_cooked_s"), mine.get("out_of_cold_s")
    if half is not None and half < shipped.half_cooked_s:
        shipped = replace(shipped, half_cooked_s=half, source="the kitchen’s own, stricter")
    if out is not None and (shipped.out_of_cold_s is None or out < shipped.out_of_cold_s):
        shipped = replace(shipped, out_of_cold_s=out, source="the kitchen’s own, stricter")
    return shipped


def check_own_waits(own: Mapping[str, Mapping[str, float | None]]) -> None:
    """Raise where a kitchen's own figures are not known, not a time, or laxer than what is shipped.

    Raises
    ------
    RuleError : names the kind of food and says what to do
    """
    for food, row in own.items():
        if food not in wait_rules():
            raise RuleError("kind of food", f"“{food}” is not known", "Choose one of the list.")
        shipped = wait_rules()[food]
        for name, most in (
            ("half_cooked_s", shipped.half_cooked_s),
            ("out_of_cold_s", shipped.out_of_cold_s),
        ):
            value = row.get(name)
            if value is None:
                continue
            what = "half-cooked" if name == "half_cooked_s" else "out of the cold"
            if value < 0 or (most is not None and value > most):
                raise RuleError(
                    f"{food_classes()[food].name}, {what}",
                    f"{say_duration(value)} is laxer than {say_duration(most or 0.0)}",
                    "A kitchen may make these stricter, not laxer.",
                )


def wait_limits(
    steps: Sequence[Step],
    food: str,
    *,
    own: Mapping[str, Mapping[str, float | None]] | None = None,
    chilled: Collection[str] = (),
) -> tuple[WaitLimit, ...]:
    """What a batch's chain may wait, by its kind of food.

    Parameters
    ----------
    steps : the chain; food : key of `food_classes`, "" where not stated (then the strictest)
    own : the kitchen's own, stricter figures; chilled : keys of steps in which it is kept cold

    Notes
    -----
    Between two heats food is half-cooked, unless the first cooked it through (it ends by a core that the
    table asks for at once) and it is kept cold between. Work of hands between does not count as waiting, a
    planned rest does.
    """
    rule = wait_rule(food, own)
    side = preheats_beside(steps)
    mains = [
        s for s in steps if s.during_offset_s is None and s.phase is not Phase.WASH_UP and s.key not in side
    ]
    found = []
    last_heat: int | None = None
    for n, step in enumerate(mains):
        heated = step.phase is Phase.COOK or (step.phase is Phase.COME_UP and _loaded(mains[:n]))
        if not heated:
            continue
        if last_heat is None:
            found += _out_of_cold(mains[:n], step, rule)
        elif last_heat < n - 1:
            found += _half_cooked(mains, last_heat, n, rule, chilled)
        last_heat = n
    return tuple(found)


def _loaded(before: Sequence[Step]) -> bool:
    """Whether food has gone in since anything came out."""
    last = next((s for s in reversed(before) if s.phase in (Phase.LOAD, Phase.OUT, Phase.COOK)), None)
    return last is not None and last.phase is not Phase.OUT


def _out_of_cold(before: Sequence[Step], heat: Step, rule: WaitRule) -> list[WaitLimit]:
    """Raw food: from the first work on it that day to its heat, what is planned between not counted."""
    today = [s for s in before if s.days_before == heat.days_before and s.phase is not Phase.COME_UP]
    if rule.out_of_cold_s is None or not today:
        return []
    between = tuple(s.key for s in before[before.index(today[0]) + 1 :] if s.days_before == heat.days_before)
    words = f"out of the cold at most {say_duration(rule.out_of_cold_s)} before its heat ({rule.status})"
    return [WaitLimit(today[0].key, heat.key, between, rule.out_of_cold_s, words)]


def _half_cooked(
    mains: Sequence[Step], first: int, second: int, rule: WaitRule, chilled: Collection[str]
) -> list[WaitLimit]:
    heat, between = mains[first], mains[first + 1 : second]
    cold = any(s.key in chilled for s in between) or heat.days_before != mains[second].days_before
    if cold and _cooked_through(heat, rule.food):
        return []
    moved = tuple(s.key for s in between if s.phase is not Phase.WAIT)
    name = food_classes()[rule.food].name.split(",")[0] if rule.food in food_classes() else "food"
    words = (
        f"half-cooked {name} goes straight on from “{heat.what}” to “{mains[second].what}”"
        if rule.half_cooked_s == 0
        else f"half-cooked {name} waits at most {say_duration(rule.half_cooked_s)} after “{heat.what}”"
    )
    return [WaitLimit(heat.key, mains[second].key, moved, rule.half_cooked_s, f"{words} ({rule.status})")]


def _cooked_through(heat: Step, food: str) -> bool:
    if heat.end_rule is not EndRule.CORE or heat.end_core_c is None:
        return False
    at_once = [r.temperature_c for r in requirements(food) if r.hold_s == 0] if food in food_classes() else []
    return bool(at_once) and heat.end_core_c >= max(at_once)

"""All calculators by key, in the order in which they are offered."""

from collections.abc import Mapping
from functools import cache
from typing import Any

from yeasty.core.heat.preheat import fit_offset, fit_preheat
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.workbench import appliances, conversions, heating, microwaves
from yeasty.core.workbench.spec import Asked, Calculator


@cache
def calculators() -> dict[str, Calculator]:
    """Every calculator of the workbench."""
    rooms = (heating, microwaves, appliances, conversions)
    return {c.key: c for room in rooms for c in room.CALCULATORS}


def calculator(key: str) -> Calculator:
    """One calculator.

    Raises
    ------
    RuleError : no such calculator
    """
    if key not in calculators():
        raise RuleError(
            "calculator", f"{key} is not known", "Choose one of: " + ", ".join(calculators()) + "."
        )
    return calculators()[key]


def measured_by(key: str, given: Mapping[str, Any], system: System) -> dict[str, float]:
    """What a measuring calculator finds, as numbers in SI that a profile keeps.

    Water test: power_w, low_w, high_w. Offset: offset_k at the middle of what was measured, intercept_c,
    slope, low_c, high_c. Preheat: start_c, full_c, tau_s, dead_s.

    >>> sorted(measured_by("offset", {}, System.METRIC))
    ['high_c', 'intercept_c', 'low_c', 'offset_k', 'slope']
    """
    asked = Asked({f.key: f for f in calculator(key).fields}, given, system)
    if key == "water-test":
        power = microwaves.power_of(asked).power
        return {"power_w": round(power.value), "low_w": round(power.low), "high_w": round(power.high)}
    if key == "offset":
        curve = fit_offset([(r[0], r[1]) for r in asked.full_rows("pairs")])
        middle = (curve.low_set_c + curve.high_set_c) / 2
        return {
            "offset_k": round(curve.measured(middle) - middle, 1),
            "intercept_c": curve.intercept,
            "slope": curve.slope,
            "low_c": curve.low_set_c,
            "high_c": curve.high_set_c,
        }
    if key == "preheat":
        rows = asked.full_rows("log")
        p = fit_preheat([r[0] for r in rows], [r[1] for r in rows])
        return {"start_c": p.start_c, "full_c": p.full_c, "tau_s": p.tau_s, "dead_s": p.dead_s}
    raise RuleError("kind", f"{key} is no measurement", "Use water-test, offset or preheat.")

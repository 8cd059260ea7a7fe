"""All calculators by key, in the order in which they are offered."""

from functools import cache

from yeasty.core.errors import RuleError
from yeasty.core.workbench import appliances, conversions, heating
from yeasty.core.workbench.spec import Calculator


@cache
def calculators() -> dict[str, Calculator]:
    """Every calculator of the workbench."""
    return {c.key: c for c in (*heating.CALCULATORS, *appliances.CALCULATORS, *conversions.CALCULATORS)}


def calculator(key: str) -> Calculator:
    """One calculator.

    Raises
    ------
    RuleError : no such calculator
    """
    if key not in calculators():
        raise RuleError("calculator", f"{key} is not known", "Choose one of: " + ", ".join(calculators()) + ".")
    return calculators()[key]

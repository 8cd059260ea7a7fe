"""What a rule says when it cannot answer: which field, what is wrong, what to do about it."""

from collections.abc import Iterable
from math import isfinite


class RuleError(ValueError):
    """A rule that refuses an input.

    Parameters
    ----------
    field : name of the input as a person knows it
    message : what is wrong with it
    todo : what would make it possible
    """

    def __init__(self, field: str, message: str, todo: str) -> None:
        super().__init__(f"{field}: {message}. {todo}")
        self.field = field
        self.message = message
        self.todo = todo


class OutOfRange(RuleError):
    """A value outside the range in which the rule holds."""


class BadQuantity(RuleError):
    """A text that is not the quantity it should be."""


class Refused(RuleError):
    """A request that is well formed, but that the rules of the work do not allow now."""


def check_range(field: str, values: float | Iterable[float], low: float, high: float, unit: str) -> None:
    """Raise `OutOfRange` unless every value lies in [low, high].

    >>> check_range("fan", 700, 100, 3000, "W")
    >>> check_range("fan", (700, 9000), 100, 3000, "W")
    Traceback (most recent call last):
    ...
    yeasty.core.kernel.errors.OutOfRange: fan: 9000 W is outside 100 to 3000 W. Check the number and its unit.
    """
    for value in (values,) if isinstance(values, int | float) else values:
        if not isfinite(value) or not low <= value <= high:
            raise OutOfRange(
                field,
                f"{value:g} {unit} is outside {low:g} to {high:g} {unit}",
                "Check the number and its unit.",
            )

"""A shape filled from another: fields of the same name are taken as they are, so that nobody copies them by
hand.
"""

from dataclasses import fields
from typing import Any, TypeVar

D = TypeVar("D")


def filled(shape: type[D], of: Any, **given: Any) -> D:
    """A dataclass: what is given, and every other field from the attribute of its name, where there is one.

    Raises
    ------
    TypeError : a field without a default that is neither given nor there

    >>> from dataclasses import dataclass
    >>> @dataclass
    ... class Dish:
    ...     name: str
    ...     pieces: int
    >>> class Row:
    ...     name, pieces, oven = "buns", 6, "B"
    >>> filled(Dish, Row(), pieces=12)
    Dish(name='buns', pieces=12)
    """
    there = {f.name: getattr(of, f.name) for f in fields(shape) if hasattr(of, f.name)}  # type: ignore[arg-type]
    return shape(**{**there, **given})

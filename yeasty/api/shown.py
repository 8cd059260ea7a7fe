"""A row or a value of the core as a response: fields of the same name are taken as they are, so that nobody
copies them by hand.
"""

from typing import Any, TypeVar

from pydantic import BaseModel

M = TypeVar("M", bound=BaseModel)
_NOT_THERE = object()


def shown(model: type[M], of: Any, **given: Any) -> M:
    """A response of this kind: what is given, and every other field from the attribute of its name.

    Raises
    ------
    ValidationError : a field that is neither given nor there, or that does not fit

    >>> class Dish(BaseModel):
    ...     name: str
    ...     pieces: int
    >>> class Row:
    ...     name, pieces = "buns", 6
    >>> shown(Dish, Row(), pieces=12)
    Dish(name='buns', pieces=12)
    """
    found = {n: given[n] if n in given else getattr(of, n, _NOT_THERE) for n in model.model_fields}
    return model(**{n: v for n, v in found.items() if v is not _NOT_THERE})

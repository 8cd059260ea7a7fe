"""Checked numpy arrays: every heat function refuses a value outside its range, and never passes NaN on."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from yeasty.core.kernel.errors import OutOfRange, check_range

Floats = NDArray[np.float64]


def checked(field: str, values: ArrayLike, low: float, high: float, unit: str) -> Floats:
    """Values as an array of floats, every one of them in [low, high].

    Raises
    ------
    OutOfRange : names the field and the first value that lies outside or is not a number

    >>> checked("time", [0, 60], 0, 100, "s")
    array([ 0., 60.])
    >>> checked("time", [0, float("nan")], 0, 100, "s")
    Traceback (most recent call last):
    ...
    yeasty.core.kernel.errors.OutOfRange: time: nan s is outside 0 to 100 s. Check the number and its unit.
    """
    try:
        array = np.asarray(values, dtype=float)
    except (TypeError, ValueError):
        raise OutOfRange(field, "is not a number", f"Give it in {unit or 'plain numbers'}.") from None
    wrong = ~((array >= low) & (array <= high))
    if np.any(wrong):
        check_range(field, float(array[wrong].flat[0]), low, high, unit)
    return array

"""Conversions a cook would work out in the head."""

from yeasty.core.kernel.errors import check_range


def microwave_time(time_s: float, *, rated_w: float, actual_w: float) -> float:
    """Time that gives the same energy at another power.

    Parameters
    ----------
    time_s : time that works at `rated_w` [s], > 0
    rated_w, actual_w : power into the load [W], 100 to 3000

    Returns
    -------
    time at `actual_w` [s]

    Raises
    ------
    OutOfRange : a power no domestic or catering oven has

    Notes
    -----
    Holds for the same load and vessel: over a few minutes losses are small, so energy decides.
    Over about 10 minutes losses count: going to less power the result is then too short, going to
    more power too long.

    Source: energy balance.

    >>> microwave_time(150, rated_w=1000, actual_w=750)
    200.0
    """
    check_range("time", time_s, 1, 86400, "s")
    check_range("power", (rated_w, actual_w), 100, 3000, "W")
    return time_s * rated_w / actual_w

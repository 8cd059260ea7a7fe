"""Curves of a batch over its time in the heat, compared over the span that all of them cover."""

from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise

# (seconds since its heat began, value)
Points = Sequence[tuple[float, float]]


def readable(points: Iterable[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """Points in their order, of one moment the lowest: of several pieces the coldest decides.

    >>> readable([(60, 40.0), (0, 20.0), (60, 35.0)])
    ((0, 20.0), (60, 35.0))
    """
    lowest: dict[float, float] = {}
    for at, value in points:
        lowest[at] = min(value, lowest.get(at, value))
    return tuple(sorted(lowest.items()))


def shared_span(curves: Iterable[Points]) -> tuple[float, float] | None:
    """From where to where all curves go [s]; None where some pair does not overlap, or one is a mere point.

    >>> shared_span([((0, 1), (600, 2)), ((60, 1), (900, 2))])
    (60, 600)
    """
    every = list(curves)
    if not every or any(len(c) < 2 for c in every):
        return None
    low, high = max(c[0][0] for c in every), min(c[-1][0] for c in every)
    return (low, high) if high > low else None


def at(points: Points, moment: float) -> float:
    """The value at a moment inside the curve, straight between its points.

    >>> at(((0, 20.0), (600, 80.0)), 300)
    50.0
    """
    for (a, x), (b, y) in pairwise(points):
        if a <= moment <= b:
            return x + (y - x) * (moment - a) / (b - a)
    raise ValueError(f"{moment} s lies outside the curve")


def height(points: Points, low: float, high: float) -> float:
    """The mean of a curve over a span, by trapezes.

    >>> height(((0, 20.0), (600, 80.0)), 0, 600)
    50.0
    """
    inside = [low, *(t for t, _ in points if low < t < high), high]
    area = sum((b - a) * (at(points, a) + at(points, b)) / 2 for a, b in pairwise(inside))
    return area / (high - low)


def heights(curves: Mapping[str, Sequence[Points]]) -> dict[str, tuple[float, ...]]:
    """Way to the mean height of each of its batches' curves over the span that all of them share; empty where
    there is none. Curves that are mere points are left out.
    """
    drawn = {way: [c for c in mine if len(c) > 1] for way, mine in curves.items()}
    span = shared_span(c for mine in drawn.values() for c in mine)
    if span is None:
        return {}
    return {way: tuple(height(c, *span) for c in mine) for way, mine in drawn.items() if mine}

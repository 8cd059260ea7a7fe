"""Figures of a page, laid out for drawing: readable in grey, drawn as SVG without a script."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM = 640.0, 230.0, 40.0, 30.0, 14.0, 40.0


@dataclass(frozen=True)
class Row:
    """A bar and its range, in per cent of the width; `low` and `high` are None without one."""

    label: str
    group: str
    start: float
    long: float
    low: float | None
    high: float | None
    said: str
    picked: bool


@dataclass(frozen=True)
class Dot:
    """A point of a curve's picture [px]. `top`, `foot` : ends of its range, None without one."""

    x: float
    y: float
    top: float | None
    foot: float | None
    label: str
    note: str


@dataclass(frozen=True)
class Line:
    """A curve of several on one axis: name, points and dashes as SVG takes them, where its name stands."""

    name: str
    points: str
    dash: str
    x: float
    y: float


@dataclass(frozen=True)
class Figure:
    """A picture ready to be drawn.

    Attributes
    ----------
    rows : bars one below the other
    dots, curve, band : of a curve along an axis: points, polyline as SVG takes it, where the best point lies
        (x, width)
    zero : where nought lies among the rows [per cent]
    lines : curves on one axis; ticks, rungs : words beside and under them,
        each with its place [px]
    """

    rows: tuple[Row, ...] = ()
    dots: tuple[Dot, ...] = ()
    curve: str = ""
    band: tuple[float, float] | None = None
    zero: float = 0.0
    lines: tuple[Line, ...] = ()
    ticks: tuple[tuple[str, float], ...] = ()
    rungs: tuple[tuple[str, float], ...] = ()


DASHES = ("", "9 5", "2 5", "12 4 2 4", "5 3")
# Room for names at the ends of curves [px].
NAMES = 130.0


def scaled(picture: Mapping[str, Any], said: Any) -> Figure:
    """A picture of a record laid out. `said` : a mark in words."""
    marks = [m for m in picture["marks"] if m["value"] is not None or m["stands"]]
    if picture["shape"] == "curves":
        return _lines(picture, [m for m in marks if m["at"] is not None and m["value"] is not None])
    if picture["shape"] in ("ladder", "frontier"):
        return _curve(picture, [m for m in marks if m["at"] is not None])
    return _rows(marks, said)


def _rows(marks: Sequence[Mapping[str, Any]], said: Any) -> Figure:
    ends = [0.0, *(x for m in marks for x in (m["value"], m["low"], m["high"]) if x is not None)]
    least, most = min(ends), max(ends)
    span = (most - least) or 1.0

    def at(value: float) -> float:
        return 100.0 * float(value - least) / float(span)

    rows = []
    for m in marks:
        value = m["value"] or 0.0
        rows.append(
            Row(
                m["label"],
                m["group"],
                at(min(0.0, value)),
                100 * abs(value) / span,
                None if m["low"] is None else at(m["low"]),
                None if m["high"] is None else at(m["high"]),
                said(m),
                m["picked"],
            )
        )
    return Figure(rows=tuple(rows), zero=at(0.0))


def _curve(picture: Mapping[str, Any], marks: Sequence[Mapping[str, Any]]) -> Figure:
    along = [m["at"] for m in marks]
    if not along:
        return Figure()
    least, most = min(along), max(along)
    span = (most - least) or 1.0

    def x(at: float) -> float:
        return LEFT + float(at - least) / float(span) * (WIDTH - LEFT - RIGHT)

    def y(value: float) -> float:
        # Answers lie between 0 and 10.
        return HEIGHT - BOTTOM - min(10.0, max(0.0, value)) / 10 * (HEIGHT - TOP - BOTTOM)

    dots = tuple(
        Dot(
            x(m["at"]),
            y(m["value"]),
            None if m["high"] is None else y(m["high"]),
            None if m["low"] is None else y(m["low"]),
            m["label"],
            m["note"],
        )
        for m in marks
        if m["value"] is not None
    )
    curve = " ".join(f"{x(p['at']):.1f},{y(p['value']):.1f}" for p in picture["curve"])
    band = None
    if picture["best_from"] is not None and picture["best_to"] is not None:
        band = (x(picture["best_from"]), max(2.0, x(picture["best_to"]) - x(picture["best_from"])))
    return Figure(dots=dots, curve=curve, band=band)


def _lines(picture: Mapping[str, Any], marks: Sequence[Mapping[str, Any]]) -> Figure:
    if not marks:
        return Figure()
    first, last = min(m["at"] for m in marks), max(m["at"] for m in marks)
    low, high = min(m["value"] for m in marks), max(m["value"] for m in marks)
    if picture["scale"] == "score":
        low, high = 0.0, 10.0
    along, up = (last - first) or 1.0, (high - low) or 1.0

    def x(at: float) -> float:
        return LEFT + float(at - first) / along * (WIDTH - LEFT - NAMES)

    def y(value: float) -> float:
        return HEIGHT - BOTTOM - float(value - low) / up * (HEIGHT - TOP - BOTTOM)

    by: dict[str, list[Mapping[str, Any]]] = {}
    for m in marks:
        by.setdefault(m["group"], []).append(m)
    lines = []
    for n, (name, rows) in enumerate(by.items()):
        ordered = sorted(rows, key=lambda m: m["at"])
        points = " ".join(f"{x(m['at']):.1f},{y(m['value']):.1f}" for m in ordered)
        end = ordered[-1]
        lines.append(Line(name, points, DASHES[n % len(DASHES)], x(end["at"]) + 8, y(end["value"]) + 5))
    return Figure(
        lines=_apart(lines),
        ticks=tuple((_short(v), y(v)) for v in (low, (low + high) / 2, high)),
        rungs=tuple((said, x(at)) for at, said in _rungs(picture, marks).items()),
    )


# So many rungs have words of their own under a curve.
MOST_RUNGS = 8


def _rungs(picture: Mapping[str, Any], marks: Sequence[Mapping[str, Any]]) -> dict[float, str]:
    """Where rungs stand, by their own words; the two ends alone where there are many, or none has words."""
    own = {m["at"]: m["label"] for m in marks}
    if len(own) <= MOST_RUNGS and all(not m["group"].startswith(m["label"]) for m in marks):
        return own
    return {at: place(picture, at) for at in (min(own), max(own))}


def _apart(lines: Sequence[Line]) -> tuple[Line, ...]:
    """Names that would lie on one another, moved down."""
    found: dict[str, Line] = {}
    least = 0.0
    for line in sorted(lines, key=lambda x: x.y):
        least = max(line.y, least)
        found[line.name] = replace(line, y=least)
        least += 15.0
    return tuple(found[line.name] for line in lines)


def place(picture: Mapping[str, Any], at: float) -> str:
    """A point along the axis in words.

    >>> place({"axis": "time"}, 300.0)
    '5 min'
    """
    return f"{at / 60:.0f} min" if picture["axis"] == "time" else _short(at)


def _short(value: float) -> str:
    return f"{value:.2f}" if abs(value) < 3 and value != int(value) else f"{value:.0f}"

"""Loaf marks: signs a cook can draw on foil, tape or a flag, told apart in grey and after any turn.

A mark is a base sign and a number of dots beside it. Bases are chosen so that none is another one
turned or mirrored; dots are counted, so turning does not change them. Strokes are given in a box of
100 x 100 centred on (50, 50); curves are polylines so that paper, screen and test draw the same.
"""

from dataclasses import dataclass
from itertools import chain
from math import cos, pi, sin

from yeasty.core.kernel.errors import OutOfRange

Point = tuple[float, float]
Stroke = tuple[Point, ...]


@dataclass(frozen=True)
class Mark:
    """One loaf mark: its number in the series, what to call it, and its strokes."""

    number: int
    name: str
    strokes: tuple[Stroke, ...]
    dots: tuple[Point, ...]


def _wave(y: float) -> Stroke:
    return tuple((20 + 60 * i / 24, y - 8 * sin(4 * pi * i / 24)) for i in range(25))


def _ring(radius: float) -> Stroke:
    return tuple((50 + radius * cos(2 * pi * i / 32), 50 + radius * sin(2 * pi * i / 32)) for i in range(33))


_BASES: tuple[tuple[str, tuple[Stroke, ...]], ...] = (
    ("one slash", (((40, 78), (60, 22)),)),
    ("two slashes", (((28, 78), (48, 22)), ((52, 78), (72, 22)))),
    ("cross", (((28, 24), (72, 76)), ((72, 24), (28, 76)))),
    ("two chevrons", (((22, 50), (50, 28), (78, 50)), ((22, 74), (50, 52), (78, 74)))),
    ("two waves", (_wave(38), _wave(62))),
    ("three slashes", (((20, 76), (36, 24)), ((42, 76), (58, 24)), ((64, 76), (80, 24)))),
    ("ring", (_ring(26),)),
    ("chevron", (((22, 68), (50, 32), (78, 68)),)),
    ("wave", (_wave(50),)),
    ("triangle", (((50, 22), (80, 74), (20, 74), (50, 22)),)),
    ("ladder", (((36, 22), (36, 78)), ((64, 22), (64, 78)), ((36, 40), (64, 40)), ((36, 60), (64, 60)))),
    ("arrow", (((50, 80), (50, 20)), ((26, 46), (50, 20), (74, 46)))),
)
_DOTS: tuple[tuple[Point, ...], ...] = (
    (),
    ((50, 94),),
    ((36, 94), (64, 94)),
    ((24, 94), (50, 94), (76, 94)),
)
# Radius of a dot, in the mark's box.
DOT_RADIUS = 8.0
MOST_MARKS = len(_BASES) * len(_DOTS)

# Earthy tones at 4.5:1 or better on the flour ground; tag and mark always stand beside the colour.
COLOURS = (
    "#ae4e1d",
    "#2f6f73",
    "#7d610c",
    "#5b4a8a",
    "#9a2444",
    "#3c6b38",
    "#7a4a2b",
    "#35618f",
)


def mark(number: int) -> Mark:
    """The mark with this number, 0 to 47.

    >>> mark(0).name, mark(12).name
    ('one slash', 'one slash and one dot')
    """
    if not 0 <= number < MOST_MARKS:
        raise OutOfRange(
            "mark", f"{number} is not 0 to {MOST_MARKS - 1}", f"A trial holds up to {MOST_MARKS} methods."
        )
    name, strokes = _BASES[number % len(_BASES)]
    count = number // len(_BASES)
    if count:
        name += (" and one dot", " and two dots", " and three dots")[count - 1]
    return Mark(number, name, strokes, _DOTS[count])


def colour(number: int) -> str:
    """The colour that goes with a mark. Colours repeat after eight; marks and tags never do."""
    return COLOURS[number % len(COLOURS)]


def next_mark(taken: list[int]) -> int:
    """The lowest free mark number.

    >>> next_mark([0, 1, 3])
    2
    """
    for number in range(MOST_MARKS):
        if number not in taken:
            return number
    raise OutOfRange("methods", f"{len(taken)} already", f"A trial holds up to {MOST_MARKS} methods.")


def next_tag(name: str, taken: list[str]) -> str:
    """A two-letter tag from the words of a name, never one that is taken.

    >>> next_tag("Air fryer", []), next_tag("Oven, tray", ["OT"]), next_tag("Oven", [])
    ('AF', 'OV', 'OV')
    """
    letters = [w for w in "".join(c if c.isalpha() else " " for c in name.upper()).split() if w.isascii()]
    flat = "".join(letters)
    tries = chain(
        [letters[0][0] + letters[1][0]] if len(letters) > 1 else [],
        (flat[0] + c for c in flat[1:]),
        (a + b for a in flat for b in flat),
        (a + b for a in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" for b in "ABCDEFGHIJKLMNOPQRSTUVWXYZ"),
    )
    return next(t for t in tries if t not in taken)

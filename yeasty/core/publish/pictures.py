"""Photos of a page: where each stands, what part of it is shown, at which widths, in words what it shows."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from yeasty.core.kernel.errors import RuleError, check_range


class PageSpot(StrEnum):
    """Where a photo stands: at the head of the page, for a way beside the others, at a step, beside what goes
    wrong.
    """

    FIRST = "first"
    WAY = "way"
    STEP = "step"
    TROUBLE = "trouble"


@dataclass(frozen=True)
class Cut:
    """How photos of a spot are cut: `aspect` width over height, the same for all; `widths` of files [px]."""

    aspect: float
    widths: tuple[int, int]


CUTS: Mapping[PageSpot, Cut] = {
    PageSpot.FIRST: Cut(2.0, (480, 960)),
    PageSpot.WAY: Cut(4 / 3, (360, 720)),
    PageSpot.STEP: Cut(4 / 3, (360, 720)),
    PageSpot.TROUBLE: Cut(4 / 3, (360, 720)),
}
MOST_ZOOM = 4.0
MOST_PICTURES = 60


@dataclass(frozen=True)
class Chosen:
    """A photo as the lead chose it.

    Attributes
    ----------
    photo : which; spot : where it stands
    way : the method it shows, at a spot of one; step : key of its step, at a step
    alt : what is to be seen, in words, for who does not see it
    x, y : what lies in the middle of the cut, as shares of the photo's width and height
    zoom : 1 for as much as the cut can hold, more for a closer one
    width, height : of the photo [px]
    """

    photo: str
    spot: PageSpot
    way: str = ""
    step: str = ""
    alt: str = ""
    x: float = 0.5
    y: float = 0.5
    zoom: float = 1.0
    width: int = 0
    height: int = 0


@dataclass(frozen=True)
class Shown:
    """A photo on a page.

    Attributes
    ----------
    number : of its files, from 1
    photo, box : of which kept photo, and which part: left, top, right, bottom as shares
    tag, step : of the way and the step it shows, "" where none; beside what goes wrong `step` is its key
    caption : which way, which face, as recorded; alt : as written by the lead
    width, height : of its larger file [px]
    """

    number: int
    photo: str
    spot: PageSpot
    box: tuple[float, float, float, float]
    tag: str = ""
    step: str = ""
    caption: str = ""
    alt: str = ""
    width: int = 0
    height: int = 0


def box_of(c: Chosen) -> tuple[float, float, float, float]:
    """The part of a photo that is shown: left, top, right, bottom as shares. It never leaves the photo.

    Raises
    ------
    RuleError : a photo without a size

    >>> box_of(Chosen("p", PageSpot.FIRST, width=1200, height=800))
    (0.0, 0.125, 1.0, 0.875)
    >>> box_of(Chosen("p", PageSpot.FIRST, width=800, height=800, y=0))
    (0.0, 0.0, 1.0, 0.5)
    """
    if c.width < 1 or c.height < 1:
        raise RuleError("photo", "has no size", "Choose it again.")
    aspect = CUTS[c.spot].aspect * c.height / c.width
    wide, high = (1.0, 1 / aspect) if aspect > 1 else (aspect, 1.0)
    wide, high = wide / c.zoom, high / c.zoom
    left = min(max(c.x - wide / 2, 0.0), 1 - wide)
    top = min(max(c.y - high / 2, 0.0), 1 - high)
    return round(left, 4), round(top, 4), round(left + wide, 4), round(top + high, 4)


def size_of(c: Chosen) -> tuple[int, int]:
    """Width and height of its larger file [px]: never larger than what the photo holds."""
    left, _, right, _ = box_of(c)
    wide = max(1, min(CUTS[c.spot].widths[-1], round((right - left) * c.width)))
    return wide, max(1, round(wide / CUTS[c.spot].aspect))


def widths_of(spot: str, largest: int) -> list[int]:
    """Widths of a photo's files [px], the smallest first; `largest` : that of its larger one.

    >>> widths_of("first", 960), widths_of("first", 400)
    ([480, 960], [400])
    """
    return [*(w for w in CUTS[PageSpot(spot)].widths[:-1] if w < largest), largest]


def check_chosen(rows: Sequence[Chosen]) -> None:
    """Raise for the first that cannot be: one photo a spot, a middle inside it.

    Raises
    ------
    RuleError : too many, two at one spot, a middle or a zoom out of range
    """
    if len(rows) > MOST_PICTURES:
        raise RuleError("pictures", f"are more than {MOST_PICTURES}", "Leave some out.")
    taken = set()
    for n, c in enumerate(rows, 1):
        check_range(f"picture {n}, middle", c.x, 0, 1, "of the width")
        check_range(f"picture {n}, middle", c.y, 0, 1, "of the height")
        check_range(f"picture {n}, zoom", c.zoom, 1, MOST_ZOOM, "times")
        where = (
            c.spot,
            c.way if c.spot is not PageSpot.FIRST else "",
            c.step if c.spot is PageSpot.STEP else "",
        )
        if where in taken:
            raise RuleError(f"picture {n}", "stands where another does", "Take one of the two away.")
        taken.add(where)


def without_words(photos: Sequence[Shown]) -> list[RuleError]:
    """Photos that nobody put into words."""
    return [
        RuleError(
            f"photo {p.number}" + (f" ({p.caption})" if p.caption else ""),
            "has no words for who does not see it",
            "Say in a few words what is to be seen.",
        )
        for p in photos
        if not p.alt.strip()
    ]


def at(
    photos: Sequence[Mapping[str, Any]], spot: str, tag: str = "", step: str = ""
) -> Mapping[str, Any] | None:
    """The photo at a spot of a page's record, if there is one."""
    return next(
        (
            p
            for p in photos
            if p["spot"] == spot and (spot == PageSpot.FIRST or p["tag"] == tag) and p["step"] in ("", step)
        ),
        None,
    )


def file_of(number: int, width: int) -> str:
    """Name of a photo's file.

    >>> file_of(2, 360)
    '2-360.jpg'
    """
    return f"{number}-{width}.jpg"


def read_file(name: str) -> tuple[int, int] | None:
    """Number and width of a photo's file; None for what is no such name.

    >>> read_file("2-360.jpg"), read_file("2.jpg"), read_file("x-360.jpg")
    ((2, 360), None, None)
    """
    number, dash, rest = name.removesuffix(".jpg").partition("-")
    good = name.endswith(".jpg") and dash and number.isdecimal() and rest.isdecimal() and len(name) < 20
    return (int(number), int(rest)) if good else None

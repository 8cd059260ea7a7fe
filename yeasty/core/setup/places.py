"""Maps of tray, basket, rack, grill and pot: where each piece lies, and where it lies after a turn or a
hand-over.

Positions are in metres from the vessel's front left corner, x to the right, y to the back, as seen by the
cook.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import hypot
from statistics import fmean
from typing import Any

from yeasty.core.kernel.errors import RuleError, check_range

# Those that are turned half-way.
TURNED = ("tray", "basket", "rack", "grill")
VESSELS = ("tray", "basket", "rack", "grill", "pot", "plate")
# Air that pieces need between them; less and they steam each other [m]. A starting point, set by the cook.
USUAL_SPACING_M = 0.01
# No hand lays a piece more exactly than this [m].
HAND_M = 0.001
# What a toast test's slices are called by, from 1: told by eye after the same time.
SHADES = ("white", "straw", "gold", "amber", "brown", "dark brown", "black")
# How near the mean heat of places dealt to methods is brought, by what heat is told in.
FINEST = {"K": 1.0, "shades": 0.2}
# Fewer places than this say nothing about a vessel's whole.
LEAST_TESTED = 3


class HeatTest(StrEnum):
    """How a spot's heat is known."""

    EYE = "eye"
    THERMOMETER = "thermometer"
    TOAST = "toast"


@dataclass(frozen=True)
class Spot:
    """A place on the map that runs hotter or cooler than its middle by `k` [K]; after a toast test by so many
    shades, for what a shade is worth in kelvin nobody has measured.
    """

    x_m: float
    y_m: float
    k: float
    how: HeatTest = HeatTest.EYE


@dataclass(frozen=True)
class Place:
    """Where a piece lies, and whose it is: method tag and piece number, "" and 0 while empty."""

    x_m: float
    y_m: float
    tag: str = ""
    piece: int = 0


@dataclass(frozen=True)
class VesselMap:
    """A vessel with what lies in it.

    Attributes
    ----------
    kind : of `VESSELS`; round : an ellipse in its width and depth, else a rectangle
    width_m, depth_m : inside [m]
    piece_m : across a piece [m]; spacing_m : least gap between pieces and to the rim's inside [m]
    places : where pieces lie; spots : hot and cool places
    """

    kind: str
    width_m: float
    depth_m: float
    piece_m: float
    spacing_m: float = USUAL_SPACING_M
    round: bool = False
    places: tuple[Place, ...] = ()
    spots: tuple[Spot, ...] = ()


def check_map(m: VesselMap) -> None:
    """Raise where measures cannot be.

    Raises
    ------
    RuleError : a vessel, a piece or a gap that is not one
    """
    if m.kind not in VESSELS:
        raise RuleError("vessel", f"{m.kind} is not known", "Use one of: " + ", ".join(VESSELS) + ".")
    check_range("width", m.width_m, 0.03, 3, "m")
    check_range("depth", m.depth_m, 0.03, 3, "m")
    check_range("piece", m.piece_m, 0.003, 1, "m")
    check_range("spacing", m.spacing_m, 0, 0.5, "m")
    for s in m.spots:
        check_range("hot spot", s.k, -60, 60, "K")


def check_spots(m: VesselMap) -> None:
    """Raise where hot spots cannot be: outside the vessel, or told in two ways at once.

    Raises
    ------
    RuleError : see above
    """
    for s in m.spots:
        if not (0 <= s.x_m <= m.width_m and 0 <= s.y_m <= m.depth_m):
            raise RuleError("hot spot", "lies outside the vessel", "Put it on the map, or take it away.")
    if len({s.how is HeatTest.TOAST for s in m.spots}) > 1:
        raise RuleError(
            "hot spots",
            "are told in shades of toast and in degrees at once",
            "Keep those of one test; take the others away.",
        )


def _inside(m: VesselMap, x: float, y: float) -> bool:
    r = m.piece_m / 2
    if not m.round:
        return r <= x + 1e-9 and x <= m.width_m - r + 1e-9 and r <= y + 1e-9 and y <= m.depth_m - r + 1e-9
    a, b = m.width_m / 2 - r, m.depth_m / 2 - r
    return a > 0 and b > 0 and ((x - m.width_m / 2) / a) ** 2 + ((y - m.depth_m / 2) / b) ** 2 <= 1 + 1e-9


def fitting_places(m: VesselMap) -> tuple[Place, ...]:
    """The most places found for pieces of one size: square rows or rows set off by half, whichever holds
    more.

    A packing that no hand would lay is not sought; what is shown can be laid. Front row first, left to right.

    >>> len(fitting_places(VesselMap("tray", 0.30, 0.20, 0.05, 0.01)))
    15
    """
    check_map(m)
    pitch = m.piece_m + m.spacing_m
    best: list[tuple[float, float]] = []
    for set_off in (False, True):
        step = pitch * (3**0.5 / 2) if set_off else pitch
        rows = int((m.depth_m - m.piece_m + 1e-9) // step) + 1 if m.depth_m >= m.piece_m else 0
        first_y = (m.depth_m - (rows - 1) * step) / 2
        found: list[tuple[float, float]] = []
        for row in range(rows):
            y = first_y + row * step
            across = int((m.width_m - m.piece_m + 1e-9) // pitch) + 1 if m.width_m >= m.piece_m else 0
            shift = pitch / 2 if set_off and row % 2 else 0.0
            first_x = (m.width_m - (across - 1) * pitch) / 2 - (pitch / 4 if set_off else 0.0) + shift
            found += [(first_x + i * pitch, y) for i in range(across) if _inside(m, first_x + i * pitch, y)]
        if len(found) > len(best):
            best = found
    return tuple(Place(x, y) for x, y in best)


def problems(m: VesselMap) -> list[RuleError]:
    """What is wrong with a map: pieces over the rim, too near one another, one piece in two places."""
    found: list[RuleError] = []
    lying = [(n, p) for n, p in enumerate(m.places, 1) if p.tag]
    for n, p in lying:
        if not _inside(m, p.x_m, p.y_m):
            found.append(
                RuleError(
                    f"place {n} ({p.tag})", "lies over the rim", "Draw it inside, or use a larger vessel."
                )
            )
    for i, (n, p) in enumerate(lying):
        for k, q in lying[i + 1 :]:
            gap = hypot(p.x_m - q.x_m, p.y_m - q.y_m) - m.piece_m
            if gap < m.spacing_m - HAND_M:
                what = "touch" if gap < HAND_M else f"lie {gap * 1000:.0f} mm apart"
                found.append(
                    RuleError(
                        f"places {n} ({p.tag}) and {k} ({q.tag})",
                        f"{what}; {m.spacing_m * 1000:.0f} mm are wanted",
                        "Draw them apart, or cook in two rounds.",
                    )
                )
    seen: dict[tuple[str, int], int] = {}
    for n, p in lying:
        if p.piece and (p.tag, p.piece) in seen:
            found.append(
                RuleError(
                    f"place {n}",
                    f"{p.tag} {p.piece} lies at place {seen[p.tag, p.piece]} too",
                    "Take one away.",
                )
            )
        seen[p.tag, p.piece] = n
    return found


def heat_unit(m: VesselMap) -> str:
    """What a map's heat is told in: K, or shades of toast."""
    return "shades" if any(s.how is HeatTest.TOAST for s in m.spots) else "K"


def heat_at(m: VesselMap, x_m: float, y_m: float) -> float:
    """How much hotter a place runs than the vessel's middle, in `heat_unit`.

    Where places were measured: what was measured there, and between them the mean of all weighed by the
    inverse square of their distance (after Shepard), so that no place is told to be hotter than the hottest
    measured. Spots put by eye come on top, fading over a third of the vessel's width.
    """
    reach = max(m.width_m, m.depth_m) / 3
    by_eye = sum(
        s.k * max(0.0, 1 - hypot(x_m - s.x_m, y_m - s.y_m) / reach) for s in m.spots if s.how is HeatTest.EYE
    )
    return by_eye + _between([s for s in m.spots if s.how is not HeatTest.EYE], x_m, y_m)


def _between(tested: Sequence[Spot], x_m: float, y_m: float) -> float:
    """What was measured, between where it was; 0 where nothing was."""
    weighed = [(hypot(x_m - s.x_m, y_m - s.y_m), s.k) for s in tested]
    here = [k for d, k in weighed if d < HAND_M]
    if here:
        return fmean(here)
    total = sum(d**-2 for d, _ in weighed)
    return sum(k * d**-2 for d, k in weighed) / total if weighed else 0.0


def with_test(m: VesselMap, how: HeatTest, readings: Sequence[Spot]) -> VesselMap:
    """The map with the spots of a test, instead of all it had: `k` of each reading is what was read there
    [°C, or the shade from 1], and becomes how far it is from what the same test says of the vessel's middle.

    Raises
    ------
    RuleError : fewer than `LEAST_TESTED` places, one outside the vessel, a shade that is none

    >>> oven = VesselMap("tray", 0.4, 0.3, 0.05)
    >>> read = [Spot(0.2, 0.15, 200.0), Spot(0.05, 0.28, 212.0), Spot(0.35, 0.02, 196.0)]
    >>> [s.k for s in with_test(oven, HeatTest.THERMOMETER, read).spots]
    [0.0, 12.0, -4.0]
    """
    if how is HeatTest.EYE:
        raise RuleError("how", "is by eye", "Put such spots on the map one by one.")
    if len(readings) < LEAST_TESTED:
        raise RuleError(
            "places read",
            f"{len(readings)}, and at least {LEAST_TESTED} are wanted",
            "Read the middle and some places towards the rim, all at the same time.",
        )
    for s in readings:
        if how is HeatTest.TOAST:
            check_range("shade", s.k, 1, len(SHADES), "")
        else:
            check_range("temperature", s.k, 20, 500, "°C")
    middle = _between(readings, m.width_m / 2, m.depth_m / 2)
    spots = tuple(replace(s, k=round(s.k - middle, 1), how=how) for s in readings)
    found = replace(m, spots=spots)
    check_map(found)
    check_spots(found)
    return found


def turned(m: VesselMap) -> VesselMap:
    """The map after the vessel was turned half-way: pieces move, hot spots of the oven stay.

    >>> t = turned(VesselMap("tray", 0.3, 0.2, 0.05, places=(Place(0.05, 0.05, "OV", 1),)))
    >>> round(t.places[0].x_m, 2), round(t.places[0].y_m, 2)
    (0.25, 0.15)
    """
    return replace(
        m, places=tuple(replace(p, x_m=m.width_m - p.x_m, y_m=m.depth_m - p.y_m) for p in m.places)
    )


def hand_over(m: VesselMap, to: VesselMap) -> VesselMap:
    """Lay what lies in one vessel into another, each piece known: front row first, left to right, in the same
    order.

    Raises
    ------
    RuleError : the other holds fewer
    """
    lying = reading_order([p for p in m.places if p.tag])
    room = fitting_places(to)
    if len(lying) > len(room):
        raise RuleError(
            to.kind, f"holds {len(room)}, and {len(lying)} are handed over", "Take a larger one, or two."
        )
    rows = reading_order(room)
    return replace(
        to,
        places=tuple(replace(place, tag=p.tag, piece=p.piece) for place, p in zip(rows, lying, strict=False)),
    )


def nearest_the_middle(m: VesselMap, count: int) -> VesselMap:
    """The vessel with so many places, those nearest its middle, in reading order.

    Raises
    ------
    RuleError : more than fit
    """
    fitting = fitting_places(m)
    if count > len(fitting):
        raise RuleError(
            "pieces", f"{count}, and {len(fitting)} fit", "Lay fewer at once, closer, or in rounds."
        )
    middle = sorted(fitting, key=lambda p: (p.x_m - m.width_m / 2) ** 2 + (p.y_m - m.depth_m / 2) ** 2)
    return replace(m, places=tuple(reading_order(middle[:count])))


def reading_order(places: Sequence[Place]) -> list[Place]:
    """Front row first, left to right; rows are what lies within 8 mm of one another."""
    return sorted(places, key=lambda p: (round(p.y_m / 0.008), p.x_m))


@dataclass(frozen=True)
class Dealt:
    """Places dealt to methods, and the mean heat each got against the map's middle [K]."""

    places: tuple[Place, ...]
    mean_k: Mapping[str, float]
    spread_k: float


def draw_question(m: VesselMap, groups: int, seed: int, *, balanced: bool) -> dict[str, Any]:
    """What the reckoner is asked to deal the places of a map to so many methods."""
    heats = [heat_at(m, p.x_m, p.y_m) for p in m.places]
    return {
        "heats": heats,
        "groups": groups,
        "seed": seed,
        "balanced": balanced,
        "finest": FINEST[heat_unit(m)],
    }


def dealt_words(spread: float, unit: str, seed: int, *, balanced: bool, few: bool) -> str:
    """How places were dealt, for the record.

    >>> dealt_words(0.42, "K", 7, balanced=True, few=False)
    'drawn balanced over hot spots, mean places within 0.4 K, seed 7'
    >>> dealt_words(3.0, "K", 7, balanced=False, few=True)
    'drawn at random, seed 7; few such dealings, hardly chance'
    """
    how = f"balanced over hot spots, mean places within {spread:.1f} {unit}" if balanced else "at random"
    return f"drawn {how}, seed {seed}" + ("; few such dealings, hardly chance" if few else "")


def dealt(m: VesselMap, groups: Sequence[Sequence[int]], tags: Sequence[str]) -> Dealt:
    """Places with methods on them, as drawn: `groups` holds positions in `m.places` for each tag."""
    places = [replace(p, tag="", piece=0) for p in m.places]
    mean: dict[str, float] = {}
    for tag, mine in zip(tags, groups, strict=True):
        for n, at in enumerate(mine, 1):
            places[at] = replace(places[at], tag=tag, piece=n)
        heats = [heat_at(m, places[at].x_m, places[at].y_m) for at in mine]
        mean[tag] = sum(heats) / len(heats) if heats else 0.0
    spread = max(mean.values(), default=0.0) - min(mean.values(), default=0.0)
    return Dealt(tuple(places), mean, spread)

"""A reader's own kitchen as they typed it, and what of it matters to a page; `fitted` reckons with it."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from enum import StrEnum
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import celsius
from yeasty.core.workbench.rules import Hot

# Ovens by how they heat, as a reader knows them.
OVENS: Mapping[str, str] = {
    Hot.OVEN.value: "oven without a fan",
    Hot.FAN_OVEN.value: "oven with its fan on",
    Hot.AIR_FRYER.value: "air fryer",
}
# Where a reader's food comes from, and how warm it then is [°C]; food is kept cold up to `COLD_C`.
STARTS: Mapping[str, tuple[str, float]] = {
    "fridge": ("from the fridge", 5.0),
    "room": ("at room warmth", 20.0),
}
COLD_C = 8.0


class Units(StrEnum):
    """Units that a page is read in: as it was written, in both; or one of the two."""

    BOTH = ""
    METRIC = "metric"
    US = "us"


class Words(StrEnum):
    """Words of a kitchen that are not the same everywhere: as written; British; American."""

    WRITTEN = ""
    BRITISH = "british"
    AMERICAN = "american"


@dataclass(frozen=True)
class Number:
    """A number that a reader types: its name, its range in SI, how it is given in either system, and what a
    unit that is typed along with it is worth [SI].
    """

    name: str
    low: float
    high: float
    give: tuple[str, str]
    units: Mapping[str, float]

    def unit(self, units: Units) -> str:
        """The unit of a bare number.

        >>> NUMBERS["thickness"].unit(Units.US)
        'in'
        """
        return list(self.units)[1 if units is Units.US and len(self.units) > 1 else 0]


# The first unit of each is that of a bare number, the second where units are those of the US.
NUMBERS: Mapping[str, Number] = {
    "watts": Number("Your microwave’s output", 300, 2000, ("W, as 800", "W, as 800"), {"W": 1.0}),
    "altitude": Number(
        "How high you live",
        -400,
        4000,
        ("metres above the sea, as 1200", "feet above the sea, as 4000 ft"),
        {"m": 1.0, "ft": 0.3048},
    ),
    "thickness": Number(
        "How thick your pieces are",
        0.002,
        0.2,
        ("mm, as 30", "inches, as 1.25 in"),
        {"mm": 0.001, "in": 0.0254, "cm": 0.01},
    ),
    "core": Number("The core you want", 40, 99, ("°C, as 74", "°F, as 165 F"), {"°C": 1.0, "°F": 1.0}),
}
FIELDS = (*NUMBERS, "start", "oven", "done", "units", "words")
IN_STEAM = frozenset({"pressure_cooker", "steamer"})
IN_WATER = frozenset({"hob_boil", "poach"})
# Where a piece is heated through from its outside, so that its thickness decides.
FROM_OUTSIDE = frozenset(
    {*OVENS, "toaster_oven", "parcel", "steamer", "pan", "griddle", "grill_element", "deep_fryer"}
)


@dataclass(frozen=True)
class Kitchen:
    """What a reader said of their kitchen.

    Attributes
    ----------
    typed : as they typed it, so that a link keeps it
    watts : output of their microwave [W]; altitude_m : how high they live [m]; thickness_m : of their piece
        [m]; core_c : that they want [°C]; start : key of `STARTS`; oven : key of `OVENS`; each None or ""
        where nothing was said
    units, words : how they read
    wrong : what is wrong with what they typed
    """

    typed: Mapping[str, str] = field(default_factory=dict)
    watts: float | None = None
    altitude_m: float | None = None
    thickness_m: float | None = None
    core_c: float | None = None
    start: str = ""
    oven: str = ""
    units: Units = Units.BOTH
    words: Words = Words.WRITTEN
    wrong: tuple[str, ...] = ()

    @property
    def said(self) -> bool:
        """Whether anything was said that can be reckoned with."""
        return any(x not in (None, "") for x in self.numbers().values())

    def numbers(self) -> dict[str, Any]:
        """As the reckoner is given it."""
        return {k: v for k, v in asdict(self).items() if k not in ("typed", "units", "words", "wrong")}


def _in_si(key: str, text: str, units: Units) -> float:
    """What a reader typed, in SI; nan for what is no number of its kind.

    >>> round(_in_si("thickness", "1,5 in", Units.BOTH), 4), round(_in_si("core", "165", Units.US), 1)
    (0.0381, 73.9)
    """
    known = NUMBERS[key]
    found = re.fullmatch(r"([-−+]?\d+(?:[.,]\d+)?)\s*(\D*)", text)
    if found is None:
        return float("nan")
    number, said = float(found[1].replace(",", ".").replace("−", "-")), found[2].strip().casefold()
    names = {u.casefold().lstrip("°"): u for u in known.units}
    unit = names.get(said.lstrip("°"), "") if said else known.unit(units)
    if not unit:
        return float("nan")
    return celsius(number) if unit == "°F" else number * known.units[unit]


def read_kitchen(typed: Mapping[str, str]) -> Kitchen:
    """What a reader typed; what cannot be so is told, and the rest is kept.

    >>> read_kitchen({"watts": "800", "oven": "fan_oven"}).watts
    800.0
    >>> read_kitchen({"watts": "lots"}).wrong
    ('Your microwave’s output: “lots” cannot be so. Give W, as 800.',)
    """
    kept = {k: typed[k].strip()[:20] for k in FIELDS if typed.get(k, "").strip()}
    wrong = []

    def chosen(key: str, known: Sequence[str], name: str) -> str:
        value = kept.get(key, "")
        if value and value not in known:
            wrong.append(f"{name}: choose one of the list.")
            return ""
        return value

    units = Units(chosen("units", list(Units), "Units"))
    words = Words(chosen("words", list(Words), "Words"))
    oven, start = chosen("oven", list(OVENS), "Your oven"), chosen("start", list(STARTS), "Your food")
    found: dict[str, float] = {}
    for key, n in NUMBERS.items():
        if key not in kept:
            continue
        value = _in_si(key, kept[key], units)
        if n.low <= value <= n.high:
            found[key] = value
        else:
            give = n.give[units is Units.US]
            wrong.append(str(RuleError(n.name, f"“{kept[key]}” cannot be so", f"Give {give}.")))
    return Kitchen(
        kept,
        found.get("watts"),
        found.get("altitude"),
        found.get("thickness"),
        found.get("core"),
        start,
        oven,
        units,
        words,
        tuple(wrong),
    )


def asked_by(recipes: Sequence[Mapping[str, Any]]) -> tuple[str, ...]:
    """What a page of these recipes can use of a reader's kitchen; in the order of the form.

    >>> asked_by([{"steps": [], "technique": "oven", "thickness_m": None, "start_c": None}])
    ()
    """
    found = set()
    for r in recipes:
        cooks = [s for s in r["steps"] if s["phase"] == "cook"]
        if any(s["appliance"] == "microwave" and s["power_w"] for s in cooks):
            found.add("watts")
        if r["technique"] in IN_STEAM | IN_WATER and cooks:
            found.add("altitude")
        if r["technique"] in OVENS and any(s["set_point_c"] for s in cooks):
            found.add("oven")
        if r["thickness_m"] and cooks and r["technique"] in FROM_OUTSIDE:
            found.add("thickness")
        if r["start_c"] is not None and r["technique"] in FROM_OUTSIDE and any(s["core_c"] for s in cooks):
            found |= {"start", "core"}
    return tuple(f for f in FIELDS if f in found)

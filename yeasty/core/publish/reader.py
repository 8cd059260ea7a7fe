"""A reader's own kitchen as they typed it, and what of it matters to a page; `fitted` reckons with it."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.workbench.rules import Hot

# Ovens by how they heat, as a reader knows them.
OVENS: Mapping[str, str] = {
    Hot.OVEN.value: "oven without a fan",
    Hot.FAN_OVEN.value: "oven with its fan on",
    Hot.AIR_FRYER.value: "air fryer",
}
_NUMBERS: Mapping[str, tuple[str, float, float, str]] = {
    "watts": ("Your microwave's output", 300, 2000, "W, as 800"),
    "altitude": ("How high you live", -400, 4000, "metres above the sea, as 1200"),
    "thickness": ("How thick your pieces are", 2, 200, "mm, as 30"),
}
FIELDS = (*_NUMBERS, "oven")
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
        [m]; oven : key of `OVENS`; each None or "" where nothing was said
    wrong : what is wrong with what they typed
    """

    typed: Mapping[str, str] = field(default_factory=dict)
    watts: float | None = None
    altitude_m: float | None = None
    thickness_m: float | None = None
    oven: str = ""
    wrong: tuple[str, ...] = ()

    @property
    def said(self) -> bool:
        """Whether anything was said that can be reckoned with."""
        return any(x is not None for x in (self.watts, self.altitude_m, self.thickness_m)) or bool(self.oven)

    def numbers(self) -> dict[str, Any]:
        """As the reckoner is given it."""
        return {k: v for k, v in asdict(self).items() if k in ("watts", "altitude_m", "thickness_m", "oven")}


def read_kitchen(typed: Mapping[str, str]) -> Kitchen:
    """What a reader typed; what cannot be so is told, and the rest is kept.

    >>> read_kitchen({"watts": "800", "oven": "fan_oven"}).watts
    800.0
    >>> read_kitchen({"watts": "lots"}).wrong
    ('Your microwave’s output: “lots” cannot be so. Give W, as 800.',)
    """
    kept = {k: typed[k].strip()[:20] for k in FIELDS if typed.get(k, "").strip()}
    found: dict[str, float] = {}
    wrong = []
    for key, text in kept.items():
        if key == "oven":
            continue
        name, low, high, give = _NUMBERS[key]
        try:
            value = float(text.replace(",", "."))
        except ValueError:
            value = float("nan")
        if low <= value <= high:
            found[key] = value
        else:
            bad = RuleError(name.replace("'", "’"), f"“{text}” cannot be so", f"Give {give}.")
            wrong.append(str(bad))
    oven = kept.get("oven", "")
    if oven and oven not in OVENS:
        wrong.append("Your oven: choose one of the list.")
        oven = ""
    thick = found.get("thickness")
    return Kitchen(
        kept,
        found.get("watts"),
        found.get("altitude"),
        None if thick is None else thick / 1000,
        oven,
        tuple(wrong),
    )


def asked_by(recipes: Sequence[Mapping[str, Any]]) -> tuple[str, ...]:
    """What a page of these recipes can use of a reader's kitchen; in the order of the form.

    >>> asked_by([{"steps": [], "technique": "oven", "thickness_m": None}])
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
    return tuple(f for f in FIELDS if f in found)

"""Ways of cooking, one file each: the steps a method starts from, gear and hazards, cues, when to look in,
what carries the heat and how it behaves.

Nobody else lists techniques: what differs is a field of `TechniqueFile`. A kitchen's own techniques have the
template only; the rest of a shipped one of the same key goes on holding.
"""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import Any


@dataclass(frozen=True)
class Cue:
    """A cue that is one tap; `face` "" for any."""

    face: str
    text: str


@dataclass(frozen=True)
class LookInRule:
    """When someone must look in: in heats longer than so long, every so long [s], at what; and its source."""

    longer_than_s: float
    every_s: float
    look_for: str
    source: str


@dataclass(frozen=True)
class Surface:
    """Usual surface coefficient [W/m²K], what carries the heat, and what kind of figure it is."""

    low: float
    typical: float
    high: float
    medium: str
    status: str
    note: str


@dataclass(frozen=True)
class Physics:
    """How it behaves, where that is known.

    Attributes
    ----------
    in_air : the surface of food gives off vapour in hot air, and so stays colder than the air
    boils_out : while water boils out of the food its surface stays near boiling
    all_through : food warms all through, not from outside
    steady_c : where surroundings are water or steam, the core comes to stand still near this [°C]
    steady_at_set_point : it comes to stand still at what is set
    swing_k : how far the thermostat lets it swing [K]
    around_c : what surrounds the food where nothing is set [°C]
    """

    in_air: bool = False
    boils_out: bool = False
    all_through: bool = False
    steady_c: float | None = None
    steady_at_set_point: bool = False
    swing_k: float = 0.0
    around_c: float | None = None


@dataclass(frozen=True)
class TechniqueFile:
    """All that is known of a technique. `template` are the fields of a template as they are stored."""

    key: str
    order: int
    template: Mapping[str, Any]
    cues: tuple[Cue, ...] = ()
    look_in: LookInRule | None = None
    surface: Surface | None = None
    physics: Physics = field(default_factory=Physics)
    ready_at_load: tuple[str, ...] = ()


_TEMPLATE = ("key", "name", "appliance_kind", "gear", "hazards", "ranges", "steps")


@cache
def shipped() -> dict[str, TechniqueFile]:
    """All shipped techniques by key, in the order in which they are offered.

    >>> shipped()["oven"].physics.in_air, shipped()["water_bath"].physics.steady_at_set_point
    (True, True)
    """
    folder = files("yeasty.core.kernel.techniques")
    rows = [json.loads(f.read_text("utf-8")) for f in folder.iterdir() if f.name.endswith(".json")]
    return {row["key"]: _of(row) for row in sorted(rows, key=lambda r: (r["order"], r["key"]))}


def _of(row: Mapping[str, Any]) -> TechniqueFile:
    return TechniqueFile(
        row["key"],
        row["order"],
        {name: row[name] for name in _TEMPLATE if name in row},
        tuple(Cue(**c) for c in row.get("cues", ())),
        LookInRule(**row["look_in"]) if "look_in" in row else None,
        Surface(**row["surface"]) if "surface" in row else None,
        Physics(**row.get("physics", {})),
        tuple(row.get("ready_at_load", ())),
    )


def physics_of(technique: str) -> Physics:
    """How a technique behaves; nothing known of one that is not shipped."""
    found = shipped().get(technique)
    return found.physics if found else Physics()

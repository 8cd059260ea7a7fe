"""Technique templates: the ways of cooking a method starts from, each with steps, settings, gear and hazards.

The shipped ones are starting points; a kitchen may change each of them, hide what it never uses and add its
own.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Step, check_steps, step_from_record
from yeasty.core.kernel.techniques import shipped
from yeasty.core.safety.cautions import cautions

# What an appliance may be.
APPLIANCE_KINDS = (
    "oven",
    "microwave",
    "pressure_cooker",
    "air_fryer",
    "deep_fryer",
    "steamer",
    "slow_cooker",
    "hob",
    "water_bath",
    "griddle",
    "grill",
    "toaster_oven",
    "waffle_iron",
    "outdoor_grill",
    "smoker",
    "dehydrator",
    "torch",
    "fridge",
)
# Settings that a template gives as a range: from the lowest that is usual to the highest; SI.
RANGED = ("set_point_c", "cook_s", "power_w")


@dataclass(frozen=True)
class Technique:
    """A way of cooking, with the steps, gear and hazards that usually come with it.

    Attributes
    ----------
    key : identity, as "air_fryer"
    name : what readers call it
    appliance_kind : what it needs, as an appliance's `kind`
    gear : other things to have at hand
    hazards : keys of `yeasty.core.safety.cautions`
    steps : a chain to start from; durations are typical and meant to be changed
    ranges : setting to its usual range (low, high), see `RANGED`; usual practice, not measured
    """

    key: str
    name: str
    appliance_kind: str
    gear: tuple[str, ...]
    hazards: tuple[str, ...]
    steps: tuple[Step, ...]
    ranges: Mapping[str, tuple[float, float]]


def technique_from_record(row: Mapping[str, Any]) -> Technique:
    """A technique from a plain record, as packaged or stored."""
    return Technique(
        key=row["key"],
        name=row["name"],
        appliance_kind=row["appliance_kind"],
        gear=tuple(row["gear"]),
        hazards=tuple(row["hazards"]),
        steps=tuple(
            step_from_record({"key": f"{row['key']}-{i}", **record}) for i, record in enumerate(row["steps"])
        ),
        ranges={k: (float(v[0]), float(v[1])) for k, v in (row.get("ranges") or {}).items()},
    )


@cache
def techniques() -> dict[str, Technique]:
    """The shipped templates by key, in the order in which they are offered."""
    return {key: technique_from_record(t.template) for key, t in shipped().items()}


def check_technique(t: Technique) -> list[RuleError]:
    """What is wrong with a template, each with what to do."""
    found = list(check_steps(t.steps))
    if not t.name.strip():
        found.append(RuleError("name", "is empty", "Give the technique the name cooks call it by."))
    if t.appliance_kind not in APPLIANCE_KINDS:
        found.append(
            RuleError(
                "appliance",
                f"{t.appliance_kind} is not known",
                "Use one of: " + ", ".join(APPLIANCE_KINDS) + ".",
            )
        )
    if not t.steps:
        found.append(RuleError("steps", "none", "Give it at least one step."))
    for h in t.hazards:
        if h not in cautions():
            found.append(
                RuleError(
                    "hazard",
                    f"{h} is not in the table of cautions",
                    "Use one of: " + ", ".join(cautions()) + ".",
                )
            )
    for name, (low, high) in t.ranges.items():
        if name not in RANGED:
            found.append(
                RuleError("range", f"{name} is not known", "Give ranges of: " + ", ".join(RANGED) + ".")
            )
        elif low > high:
            found.append(RuleError(f"range of {name}", f"{low:g} to {high:g}", "Write the lower end first."))
    return found


def offered(own: Sequence[Technique], hidden: Sequence[str]) -> dict[str, Technique]:
    """Templates as a kitchen sees them: its own stand in for shipped ones of the same key; hidden ones are
    left out.

    >>> len(offered([], ["torch"])) == len(techniques()) - 1
    True
    """
    found = {**techniques(), **{t.key: t for t in own}}
    return {k: t for k, t in found.items() if k not in set(hidden)}


OWN = "own_"


def technique_name(key: str, known: Mapping[str, Technique]) -> str:
    """What readers call a technique; one that no library holds is called as it was typed.

    >>> technique_name("oven", techniques()), technique_name("own_clay_pot", techniques())
    ('Oven', 'clay pot')
    """
    return known[key].name if key in known else key.removeprefix(OWN).replace("_", " ")

"""Technique templates: the twelve ways of cooking a method starts from, each with editable steps."""

import json
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from yeasty.core.cook.steps import Step, step_from_record


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
    """

    key: str
    name: str
    appliance_kind: str
    gear: tuple[str, ...]
    hazards: tuple[str, ...]
    steps: tuple[Step, ...]


@cache
def techniques() -> dict[str, Technique]:
    """All technique templates by key, in the order in which they are offered."""
    rows = json.loads(files("yeasty.core.ask").joinpath("techniques.json").read_text("utf-8"))
    return {
        row["key"]: Technique(
            key=row["key"],
            name=row["name"],
            appliance_kind=row["appliance_kind"],
            gear=tuple(row["gear"]),
            hazards=tuple(row["hazards"]),
            steps=tuple(step_from_record({"key": f"{row['key']}-{i}", **record}) for i, record in enumerate(row["steps"])),
        )
        for row in rows
    }

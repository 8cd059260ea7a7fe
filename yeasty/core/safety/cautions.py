"""The usual cautions, at the step they belong to, each with its source.

`cautions.csv` holds the words, `limits.csv` the figures. Figures there carry the status *recalled*: they were
entered from memory and are shown with the advice to check the authority's current edition. A text that
meets such a figure "meets the figure entered"; nothing here says *safe*.
"""

import csv
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from yeasty.core.cook.steps import Phase
from yeasty.core.errors import RuleError

DEFER = "Follow your local food-safety rules, electrical codes and appliance manuals; they come first."


@dataclass(frozen=True)
class Limit:
    """A safety figure with where it comes from and how far it was checked."""

    id: str
    applies_to: str
    kind: str
    temperature_c: str
    hold_s: str
    value: str
    unit: str
    authority: str
    status: str


@dataclass(frozen=True)
class Caution:
    """A hazard's words, the phases of a job it belongs to, its source, and its figure if it has one."""

    key: str
    phases: tuple[Phase, ...]
    text: str
    source: str
    limit: Limit | None


def _rows(name: str) -> list[dict[str, str]]:
    return list(csv.DictReader(files("yeasty.core.safety").joinpath(name).read_text("utf-8").splitlines()))


@cache
def limits() -> dict[str, Limit]:
    """All safety figures by id."""
    return {row["id"]: Limit(**row) for row in _rows("limits.csv")}


@cache
def cautions() -> dict[str, Caution]:
    """All cautions by key."""
    return {
        row["key"]: Caution(
            row["key"],
            tuple(Phase(p) for p in row["phases"].split(";")),
            row["text"],
            row["source"],
            limits()[row["limit"]] if row["limit"] else None,
        )
        for row in _rows("cautions.csv")
    }


def at_phase(hazards: Iterable[str], phase: Phase) -> list[Caution]:
    """The cautions to show at a step of this phase.

    Raises
    ------
    RuleError : a hazard that is not in the table, since silence there could hurt someone
    """
    table = cautions()
    found = []
    for key in hazards:
        if key not in table:
            raise RuleError("hazard", f"{key} is not in the table of cautions", "Use one of: " + ", ".join(table))
        if phase in table[key].phases:
            found.append(table[key])
    return found

"""The usual cautions, at the step they belong to, each with its source.

`cautions.csv` holds the words, `limits.csv` the figures. Figures there carry the status *recalled*: they were
entered from memory and are shown with the advice to check the authority's current edition. A text that
meets such a figure "meets the figure entered"; nothing here says *safe*.
"""

import csv
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Phase

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
    """A hazard's words for a cook, with where they belong and where they come from.

    Attributes
    ----------
    phases : of a job at which it is shown
    severity : "care", or "danger" where it can maim or kill
    limit : its figure, if it has one
    publishing : "" ; "never" where what was so cooked is not for publishing; else what has to be stated first
    """

    key: str
    phases: tuple[Phase, ...]
    severity: str
    text: str
    source: str
    limit: Limit | None
    publishing: str


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
            row["severity"],
            row["text"],
            row["source"],
            limits()[row["limit"]] if row["limit"] else None,
            row["publishing"],
        )
        for row in _rows("cautions.csv")
    }


def at_phase(hazards: Iterable[str], phase: Phase) -> list[Caution]:
    """The cautions to show at a step of this phase.

    Raises
    ------
    RuleError : a hazard that is not in the table, since silence there could hurt someone
    """
    cautions()
    return [_known(key) for key in dict.fromkeys(hazards) if phase in _known(key).phases]


def _known(key: str) -> Caution:
    if key not in cautions():
        raise RuleError(
            "hazard", f"{key} is not in the table of cautions", "Use one of: " + ", ".join(cautions())
        )
    return cautions()[key]


# What a kind of food brings with it, and what a word among the ingredients or gear does.
BY_FOOD: Mapping[str, tuple[str, ...]] = {
    "poultry": ("core_poultry", "raw_contact", "left_warm"),
    "mince": ("core_mince", "raw_contact", "left_warm"),
    "whole_cut": ("raw_contact", "left_warm"),
    "fish": ("core_fish", "raw_contact", "left_warm"),
    "egg_dish": ("core_egg", "left_warm"),
    "leftovers": ("core_reheat", "left_warm"),
    "stuffed": ("stuffed_food", "core_poultry", "raw_contact", "left_warm"),
}
BY_WORD: Mapping[str, tuple[str, ...]] = {
    "rice": ("rice_cooling",),
    "kidney bean": ("pulses_boil",),
    "red bean": ("pulses_boil",),
    "borlotti": ("pulses_boil",),
    "cannellini": ("pulses_boil",),
    "haricot": ("pulses_boil",),
    "white bean": ("pulses_boil",),
    "navy bean": ("pulses_boil",),
    "butter bean": ("pulses_boil",),
    "dried bean": ("pulses_boil",),
    "flour": ("raw_dough",),
    "dough": ("raw_dough",),
    "marinade": ("marinade_again",),
    "curing salt": ("cure",),
    "beetroot": ("hard_produce",),
    "pumpkin": ("hard_produce",),
    "celeriac": ("hard_produce",),
    "swede": ("hard_produce",),
    "torch": ("torch",),
    "charcoal": ("charcoal", "open_flame"),
}


def hazards_of(
    technique: Iterable[str], food: str, words: Iterable[str], struck: Collection[str] = ()
) -> tuple[str, ...]:
    """All hazards of a method: what the technique brings, what the food brings, what ingredients and gear
    bring.

    Parameters
    ----------
    technique : hazards of the technique, as edited; food : key of a kind of food, "" where not stated
    words : names of ingredients and gear; struck : hazards that do not hold for this method, struck out with
        a reason

    >>> hazards_of(["steam_on_opening"], "poultry", ["turkey, minced", "rice"])[:3]
    ('steam_on_opening', 'core_poultry', 'raw_contact')
    """
    said = " ".join(words).lower()
    by_word = [h for word, brought in BY_WORD.items() if word in said for h in brought]
    every = dict.fromkeys([*technique, *BY_FOOD.get(food, ()), *by_word])
    return tuple(h for h in every if h not in struck)


def keeps_from_publishing(hazards: Iterable[str], stated: str) -> list[RuleError]:
    """What keeps a method off a public page: hazards never published, or that need something stated first.

    Parameters
    ----------
    stated : the lead's words on the process (freezing, tested process), at least 20 characters to count
    """
    found = []
    for key in hazards:
        caution = _known(key)
        if caution.publishing == "never":
            found.append(
                RuleError(
                    "method",
                    f"is not for publishing: {caution.text}",
                    "Publish another method, or cook it on what is made for it.",
                )
            )
        elif caution.publishing and len(stated.strip()) < 20:
            found.append(
                RuleError(
                    "process",
                    f"is not stated ({caution.publishing})",
                    f"{caution.text} State what was done, with its source.",
                )
            )
    return found

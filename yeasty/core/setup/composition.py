"""What an ingredient brings of salt, fat and liquid: as its lot says, else by its name where a table knows
it.
"""

import csv
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from yeasty.core.kernel.errors import RuleError, check_range
from yeasty.core.kernel.words import plain

# Shares of mass that a lot's label may give.
PARTS = ("water", "fat", "salt", "protein", "sugar", "liquid")
# Poured, whatever they hold: their whole weight counts as liquid.
LIQUIDS = (
    "water",
    "stock",
    "broth",
    "milk",
    "whole milk",
    "cream",
    "buttermilk",
    "wine",
    "juice",
    "vinegar",
    "beer",
)


@cache
def _known() -> dict[str, dict[str, float]]:
    """Everyday names to shares; the table of the heat rules, salt and water by themselves."""
    text = files("yeasty.core.heat").joinpath("ingredients.csv").read_text("utf-8")
    found: dict[str, dict[str, float]] = {}
    for row in csv.DictReader(text.splitlines()):
        shares = {"water": float(row["water"]), "fat": float(row["fat"]), "salt": 0.0}
        found[plain(row["name"])] = found[plain(row["key"].replace("_", " "))] = shares
    for name in ("salt", "table salt", "sea salt", "fine salt"):
        found[plain(name)] = {"water": 0.0, "fat": 0.0, "salt": 1.0}
    for name in ("water", "stock", "broth"):
        found[plain(name)] = {"water": 1.0, "fat": 0.0, "salt": 0.0}
    for name in ("oil", "rapeseed oil", "sunflower oil", "olive oil", "vegetable oil", "lard", "ghee"):
        found[plain(name)] = {"water": 0.0, "fat": 1.0, "salt": 0.0}
    for shares in found.values():
        shares["liquid"] = 0.0
    for name in LIQUIDS:
        found.setdefault(plain(name), {"water": 0.9, "fat": 0.0, "salt": 0.0})["liquid"] = 1.0
    return found


def shares_of(name: str, label: Mapping[str, float] | None = None) -> dict[str, float] | None:
    """Shares of water, fat, salt and what is poured; what its label says comes first; None where nothing is
    known.

    >>> shares_of("Salt"), shares_of("stock", {"salt": 0.008})["salt"]
    ({'water': 0.0, 'fat': 0.0, 'salt': 1.0, 'liquid': 0.0}, 0.008)
    >>> shares_of("something of our own") is None
    True
    """
    known = _known().get(plain(name)) or _known().get(plain(name.split(",")[0]))
    if not label:
        return dict(known) if known else None
    return {"water": 0.0, "fat": 0.0, "salt": 0.0, "liquid": 0.0, **(known or {}), **label}


def check_label(label: Mapping[str, float]) -> None:
    """Raise where a label's shares cannot be.

    Raises
    ------
    RuleError : a part that is not known, a share outside 0 to 1, or more than the whole together
    """
    for part, share in label.items():
        if part not in PARTS:
            raise RuleError(
                "composition", f"{part} is not known", "Give shares of: " + ", ".join(PARTS) + "."
            )
        check_range(f"share of {part}", share, 0, 1, "of the weight")
    if sum(v for k, v in label.items() if k != "liquid") > 1.0001:
        raise RuleError(
            "composition",
            f"adds up to {sum(v for k, v in label.items() if k != 'liquid'):.0%}",
            "Shares of one weight make at most 100 %.",
        )

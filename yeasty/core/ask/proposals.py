"""What a new trial most likely is, from the words of its dish and the techniques chosen: proposed, shown and
left to be confirmed.

Both tables are this program's own and made by hand from common sense; nothing is measured in them. A kind of
food is proposed the stricter way where words point to several, since a limit that is too strict costs time
and one that is too lax may hurt somebody.
"""

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from yeasty.core.kernel.words import plain

# The stricter first: what a core limit of a kind asks for, then what spoils.
STRICT = (
    "stuffed",
    "poultry",
    "mince",
    "egg_dish",
    "fish",
    "whole_cut",
    "leftovers",
    "plant",
    "baked",
)
# What holds something unnamed: its filling may be of a stricter kind than its words say.
HOLDS = frozenset({"filled", "filling", "stuffed"})
FILLINGS = frozenset({"poultry", "mince", "egg_dish", "fish", "whole_cut"})
MOST_JUDGED = 5


@dataclass(frozen=True)
class FoodProposal:
    """A kind of food, "" where no word tells, and why it is proposed."""

    food_class: str = ""
    why: str = ""


@dataclass(frozen=True)
class JudgedProposal:
    """Something to judge, on a scale of how much, and why it is proposed."""

    name: str
    low_words: str
    high_words: str
    weight: float
    why: str


@dataclass(frozen=True)
class _Judged:
    words: tuple[str, ...]
    techniques: tuple[str, ...]
    name: str
    low: str
    high: str
    weight: float


@cache
def _food_words() -> dict[str, str]:
    text = files("yeasty.core.ask").joinpath("food_words.csv").read_text("utf-8")
    return {plain(r["word"]): r["food_class"] for r in csv.DictReader(text.splitlines())}


@cache
def _judged() -> tuple[_Judged, ...]:
    text = files("yeasty.core.ask").joinpath("judged.csv").read_text("utf-8")

    def parts(cell: str) -> tuple[str, ...]:
        return tuple(x for x in cell.split(";") if x)

    return tuple(
        _Judged(
            tuple(plain(w) for w in parts(r["words"])),
            parts(r["techniques"]),
            r["name"],
            r["low"],
            r["high"],
            float(r["weight"]),
        )
        for r in csv.DictReader(text.splitlines())
    )


def _words(text: str) -> dict[str, str]:
    """Words as they are compared, each with how it was written."""
    return {plain(w): w.lower() for w in re.findall(r"[^\W\d_]+", text)}


def propose_food(*texts: str) -> FoodProposal:
    """The kind of food that words point to, the strictest of several.

    Parameters
    ----------
    texts : dish, question, ingredients, as they were typed

    >>> propose_food("turkey meatballs").food_class, propose_food("flatbread").food_class
    ('poultry', 'baked')
    >>> propose_food("something else")
    FoodProposal(food_class='', why='')
    """
    found: dict[str, list[str]] = {}
    said = {k: w for text in texts for k, w in _words(text).items()}
    for word, written in said.items():
        kind = _food_words().get(word)
        if kind:
            found.setdefault(kind, []).append(written)
    if HOLDS & said.keys() and found.keys() & FILLINGS:
        # What holds meat, fish or egg is read in the middle of its filling, and is as strict as poultry.
        first = next(k for k in STRICT if k in found)
        found = {"stuffed": [said[w] for w in said if w in HOLDS] + found[first]}
    for kind in STRICT:
        if kind in found:
            why = "from “" + "”, “".join(dict.fromkeys(found[kind])) + "”"
            if HOLDS & said.keys() and kind in ("plant", "baked"):
                why += "; choose a stricter one where the filling holds meat, fish or egg"
            return FoodProposal(kind, why)
    return FoodProposal()


def stricter(one: str, other: str) -> bool:
    """Whether a kind of food asks for no less than another; any asks for more than none.

    >>> stricter("plant", ""), stricter("plant", "poultry"), stricter("shelf_stable", "plant")
    (True, False, True)
    """
    place = {k: n for n, k in enumerate(STRICT)}
    return not other or place.get(one, -1) <= place.get(other, -1)


def propose_judged(dish: str, techniques: Sequence[str]) -> list[JudgedProposal]:
    """What is usually judged of a dish, and of what a technique does to it; at most five, and taste always.

    >>> [j.name for j in propose_judged("chickpeas", ["pressure_cooker"])]
    ['Tenderness', 'Skins', 'Taste']
    """
    said = _words(dish)
    found: list[JudgedProposal] = []
    for row in _judged():
        word = next((said[w] for w in row.words if w in said), "")
        technique = next((t for t in techniques if t in row.techniques), "")
        everyone = not row.words and not row.techniques
        if not (word or technique or everyone) or any(f.name == row.name for f in found):
            continue
        why = f"from “{word}”" if word else "by technique" if technique else "of every dish"
        found.append(JudgedProposal(row.name, row.low, row.high, row.weight, why))
    return [*found[: MOST_JUDGED - 1], *[f for f in found[MOST_JUDGED - 1 :] if f.why == "of every dish"]]

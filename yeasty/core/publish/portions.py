"""A recipe for as many pieces as a reader wants: amounts follow, times do not; more than a batch is cooked in
rounds.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import ceil
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities_said import say_mass_both

MOST_PIECES = 500


@dataclass(frozen=True)
class Portion:
    """What a reader asked for.

    Attributes
    ----------
    typed : as they typed it; "" where they asked for nothing
    pieces : how many, None where nothing or nonsense was asked for
    wrong : what is wrong with what they typed
    """

    typed: str = ""
    pieces: int | None = None
    wrong: str = ""

    def of(self, recipe: Mapping[str, Any]) -> "Portioned":
        """A recipe for so many.

        >>> ask = read("12")
        >>> cut = ask.of({"pieces": 8, "ingredients": [{"name": "flour", "mass_kg": 0.14, "text": "140 g"}]})
        >>> cut.amounts[0][0], cut.says
        ('210 g (7.4 oz)', 'Amounts for 12. One batch holds 8: cook in 2 rounds of 6, each as written.')
        """
        written = [(i["text"], i["name"]) for i in recipe["ingredients"]]
        batch = int(recipe["pieces"] or 0)
        if self.pieces is None or batch < 1 or self.pieces == batch:
            return Portioned(written)
        share = self.pieces / batch
        amounts = [(say_mass_both(i["mass_kg"] * share), i["name"]) for i in recipe["ingredients"]]
        rounds = ceil(self.pieces / batch)
        says = f"Amounts for {self.pieces}. "
        if rounds > 1:
            each = ceil(self.pieces / rounds)
            most = f"{each}" if each * rounds == self.pieces else f"at most {each}"
            says += f"One batch holds {batch}: cook in {rounds} rounds of {most}, each as written."
        else:
            says += (
                f"It was cooked {batch} at a time; fewer may be done sooner: look earlier, and go by the "
                "signs and the core as written."
            )
        return Portioned(amounts, says)


@dataclass(frozen=True)
class Portioned:
    """Amounts and names, and what is said of them."""

    amounts: list[tuple[str, str]] = field(default_factory=list)
    says: str = ""


def read(typed: str) -> Portion:
    """What a reader typed for how many pieces they want.

    >>> read("").pieces, read(" 12 ").pieces, read("soon").wrong
    (None, 12, 'pieces: “soon” is no number of pieces. Give a whole number, as 12.')
    """
    text = typed.strip()[:20]
    if not text:
        return Portion()
    if not (text.isascii() and text.isdigit()) or not 0 < int(text) <= MOST_PIECES:
        wrong = RuleError("pieces", f"“{text}” is no number of pieces", "Give a whole number, as 12.")
        return Portion(text, None, str(wrong))
    return Portion(text, int(text))

"""How cups come by their codes, and who can know: by a key that one plates by, by halves of it, or by nobody.

Who works alone cannot plate blind, but can lose the cups: letters stand underneath, the cups are shuffled out
of sight, codes lie on the table, and letters are read off only once every answer is sealed. Until then not
even the program knows what stands on which code.
"""

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from enum import StrEnum
from itertools import product
from random import Random

from yeasty.core.kernel.errors import RuleError


class Protocol(StrEnum):
    """Who brings cups and codes together."""

    PLATED = "plated"
    ALONE = "alone"
    HELPER = "helper"


class Half(StrEnum):
    """Half of a key: letters under cups by what they hold, or codes by letter."""

    LETTERS = "letters"
    CODES = "codes"


# Letters that read as no other when a cup is turned, and say nothing of an order or of a mark.
_LETTERS = "CDEFGJKLPRTVY"
# Two cups can be lost by shuffling; more than this cannot be kept apart on one board.
MOST_ALONE = 8


def letters(count: int, chance: Random) -> list[str]:
    """What is written underneath: one letter, or two where there are more cups than letters.

    >>> sorted(letters(3, Random(2))), len(letters(20, Random(2))[0])
    (['C', 'D', 'V'], 2)
    """
    free = list(_LETTERS)
    if count > len(free):
        free = ["".join(p) for p in product(_LETTERS, repeat=2) if p[0] != p[1]]
    return chance.sample(free, count)


def places(count: int, chance: Random) -> list[int]:
    """The second draw: to which place (from 1) the cup goes that the hand finds first, second and so on;
    never simply from left to right where there are more than two.

    >>> places(3, Random(1))
    [2, 3, 1]
    """
    found = list(range(1, count + 1))
    chance.shuffle(found)
    if count > 2 and found == sorted(found):
        found = found[1:] + found[:1]
    return found


def how(
    protocol: Protocol, dealt: Sequence[tuple[str, str]], cards: Sequence[str], draw: Sequence[int]
) -> list[str]:
    """What to do, step by step, for who has nobody to plate.

    Parameters
    ----------
    dealt : letter and what belongs into its cup
    cards : codes of the places from left to right
    draw : see `places`

    >>> how(Protocol.HELPER, [("C", "Oven")], ["317"], [1])[0]
    'Lay these cards on the table, from left to right: 317.'
    """
    row = ", ".join(cards)
    if protocol is Protocol.HELPER:
        return [
            f"Lay these cards on the table, from left to right: {row}.",
            "Leave the room, or shut your eyes. A helper puts one of each onto the cards, in an order "
            "of their "
            "own, and keeps it to themselves; helpers who say nothing while you taste keep it best.",
            "Taste and answer. Only then does the helper say which stood where.",
        ]
    if protocol is Protocol.PLATED:
        return []
    under = "; ".join(f"{letter} under {what}" for letter, what in dealt)
    moved = ", ".join(f"the {_NTH[n]} to place {p}" for n, p in enumerate(draw))
    return [
        "Write a letter underneath each cup or plate, where it cannot be seen from above, and fill them: "
        f"{under}. Cut, turn or cover what would tell them apart.",
        f"Lay these cards on the table, from left to right: {row}. Place 1 is on the left.",
        "Eyes shut: shuffle the cups on a tray until you have lost every one, and turn the tray half round.",
        f"Eyes still shut: the cup that your hand finds first goes {moved.removeprefix('the first ')}.",
        "Open your eyes, taste and answer. Only then turn the cups over and read the letters.",
    ]


_NTH = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth")


def read_off(said: Mapping[int, str], dealt: Collection[str], cards: Mapping[int, str]) -> dict[int, str]:
    """Place to what was read underneath, once it can be so.

    Parameters
    ----------
    said : place to letter, as it was read
    dealt : the letters there are
    cards : place to its code

    Raises
    ------
    RuleError : a place that was not read, a letter that was not dealt, one letter at two places

    >>> read_off({0: "k", 1: "C"}, ["C", "K"], {0: "317", 1: "402"})
    {0: 'K', 1: 'C'}
    """
    found = {place: said.get(place, "").strip().upper() for place in cards}
    for place, letter in found.items():
        if not letter:
            raise RuleError(f"cup at {cards[place]}", "was not read", "Turn it over and read its letter.")
        if letter not in dealt:
            raise RuleError(
                f"cup at {cards[place]}",
                f"“{letter[:20]}” was not dealt",
                f"Use one of {', '.join(sorted(dealt))}.",
            )
    twice = [letter for letter, n in Counter(found.values()).items() if n > 1]
    if twice:
        both = " and ".join(cards[p] for p, letter in found.items() if letter == twice[0])
        raise RuleError(
            f"cups at {both}", f"both read {twice[0]}", "Look at both again; each letter is there once."
        )
    return found

"""Blinding codes and serving orders.

Orders come from Williams designs: over the rows of a design every sample stands in every place equally
often and follows every other equally often. Rows are dealt to tasters at random.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from random import Random

from yeasty.core.kernel.errors import OutOfRange, check_range

# Three-digit codes that tasters read something into are left out.
_LOADED = frozenset({100, 101, 110, 111, 112, 123, 222, 234, 321, 333, 345, 404, 420, 444, 456, 500, 555, 567, 654,  # noqa: E501
                     666, 678, 747, 765, 777, 789, 876, 888, 900, 911, 987, 999})  # fmt: skip


def codes(count: int, chance: Random, taken: Sequence[str] = ()) -> list[str]:
    """Three-digit codes, all different, none that means something to people.

    `chance` : where randomness comes from; the system's own in use, since a seed would give the key back.

    Raises
    ------
    OutOfRange : more than 200 at once

    >>> len(set(codes(5, Random(1))))
    5
    """
    check_range("samples", count, 1, 200, "samples")
    free = [str(n) for n in range(102, 999) if n not in _LOADED and str(n) not in taken]
    if count > len(free):
        raise OutOfRange("samples", f"{count} codes are wanted, {len(free)} are left", "Begin a new tasting.")
    return chance.sample(free, count)


def williams(n: int) -> list[tuple[int, ...]]:
    """A Williams design for n samples: n rows where n is even, 2n where it is odd.

    Source: E. J. Williams' construction from the sequence 0, 1, n−1, 2, n−2, … and its cyclic shifts; for odd
    n with the reversed rows added. The tests count the balance instead of trusting a table.

    >>> williams(4)
    [(0, 1, 3, 2), (1, 2, 0, 3), (2, 3, 1, 0), (3, 0, 2, 1)]
    """
    check_range("samples", n, 1, 48, "samples")
    first = [0]
    low, high = 1, n - 1
    while low <= high:
        first.append(low)
        if high != low:
            first.append(high)
        low, high = low + 1, high - 1
    rows = [tuple((x + shift) % n for x in first) for shift in range(n)]
    if n % 2 and n > 1:
        rows += [tuple(reversed(row)) for row in rows]
    return rows


@dataclass(frozen=True)
class Balance:
    """How well a set of orders is balanced: the spread of counts by place and by follower (0 is best)."""

    place_spread: int
    follower_spread: int

    def words(self) -> str:
        """The balance in a sentence."""
        if self.place_spread == 0 and self.follower_spread == 0:
            return (
                "Orders are fully balanced: every sample stands in every place and after every other "
                "equally often."
            )
        return (
            "Orders are balanced as far as the number of tasters allows: places differ by at most "
            f"{self.place_spread}, who follows whom by at most {self.follower_spread}."
        )


def orders(samples: int, tasters: int, chance: Random) -> list[tuple[int, ...]]:
    """An order of samples (0 to samples − 1) for each taster.

    With fewer tasters than rows, rows are drawn so that first places are spread as evenly as can be.

    >>> len(orders(5, 6, Random(3))), sorted(orders(5, 6, Random(3))[0])
    (6, [0, 1, 2, 3, 4])
    """
    check_range("tasters", tasters, 1, 500, "tasters")
    dealt: list[tuple[int, ...]] = []
    rows: list[tuple[int, ...]] = []
    while len(dealt) < tasters:
        if not rows:
            rows = williams(samples)
            chance.shuffle(rows)
        firsts = Counter(row[0] for row in dealt)
        best = min(rows, key=lambda row: firsts[row[0]])
        rows.remove(best)
        dealt.append(best)
    chance.shuffle(dealt)
    return dealt


def balance(given: Sequence[Sequence[int]]) -> Balance:
    """Count how evenly orders spread places and followers.

    >>> balance(williams(4))
    Balance(place_spread=0, follower_spread=0)
    """
    n = len(given[0])
    places = Counter((place, x) for row in given for place, x in enumerate(row))
    follows = Counter(pair for row in given for pair in pairwise(row))
    by_place = [places[p, x] for p in range(n) for x in range(n)]
    by_follower = [follows[a, b] for a in range(n) for b in range(n) if a != b] or [0]
    return Balance(max(by_place) - min(by_place), max(by_follower) - min(by_follower))

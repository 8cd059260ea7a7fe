"""Blinding codes and serving orders.

Orders come from Williams designs: over the rows of a design every sample stands in every place equally
often and follows every other equally often. Whole squares are dealt first, since over one square every
sample stands in every place once; of the last, broken one the rows that balance best.
"""

from collections import Counter
from collections.abc import Collection, Hashable, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from random import Random

from yeasty.core.kernel.errors import OutOfRange, check_range

# Codes that tasters read something into are left out.
_LOADED = frozenset({100, 101, 110, 111, 112, 123, 222, 234, 321, 333, 345, 404, 420, 444, 456, 500, 555, 567, 654,  # noqa: E501
                     666, 678, 747, 765, 777, 789, 876, 888, 900, 911, 987, 999})  # fmt: skip
_UPSIDE_DOWN = {"0": "0", "1": "1", "6": "9", "8": "8", "9": "6"}
# Nothing served in this time shares a code with what is dealt now [days].
FRESH_DAYS = 60
# Ways to lay samples onto a design that are compared; the one in which methods are balanced best is dealt.
TRIES = 24


def turned(code: str) -> str:
    """What a code reads as upside down; "" where it reads as nothing.

    >>> turned("168"), turned("102")
    ('891', '')
    """
    return "".join(_UPSIDE_DOWN.get(d, "") for d in reversed(code)) if set(code) <= set(_UPSIDE_DOWN) else ""


def _free(digits: int, taken: Collection[str]) -> list[str]:
    lowest = 10 ** (digits - 1)
    every = (str(n) for n in range(lowest + 2, 10 * lowest - 1) if n not in _LOADED)
    return [c for c in every if c not in taken and turned(c) in ("", c) and len(set(c)) > 1]


def codes(count: int, chance: Random, taken: Collection[str] = ()) -> list[str]:
    """Codes, all different, none that means something to people or reads as another upside down.

    Three digits; four where less than half of those with three are free.

    `chance` : where randomness comes from; the system's own in use, since a seed would give the key back.
    `taken` : codes that were given out lately

    Raises
    ------
    OutOfRange : more than 200 at once

    >>> len(set(codes(5, Random(1))))
    5
    """
    check_range("samples", count, 1, 200, "samples")
    free = _free(3, taken)
    if len(free) < max(count, len(_free(3, ())) / 2):
        free = _free(4, taken)
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


def squares(n: int) -> list[list[tuple[int, ...]]]:
    """A Williams design as squares, in each of which every sample stands in every place once.

    >>> [len(s) for s in squares(3)], [len(s) for s in squares(4)]
    ([3, 3], [4])
    """
    rows = williams(n)
    return [rows[i : i + n] for i in range(0, len(rows), n)]


@dataclass(frozen=True)
class Balance:
    """How well a set of orders is balanced: the spread of counts by place and by follower (0 is best).

    `tasters`, `samples` : how many orders of how many; `each` : how many of them one taster gets, 0 for all;
    `often_spread`, `pair_spread` : then the spread of how often a sample is served, and two to one person
    """

    place_spread: int
    follower_spread: int
    tasters: int
    samples: int
    each: int = 0
    often_spread: int = 0
    pair_spread: int = 0

    def words(self) -> str:
        """The balance in a sentence, as it was counted.

        >>> balance(williams(4)).words()
        'Every sample stands in every place equally often, and after every other equally often.'
        """
        if self.each:
            return (
                f"{self.each} of {self.samples} a person: every sample "
                + (
                    "equally often"
                    if self.often_spread == 0
                    else f"as often as any other within {self.often_spread}"
                )
                + (
                    ", every two beside each other equally often."
                    if self.pair_spread == 0
                    else f", every two with one person within {self.pair_spread}."
                )
            )
        if self.tasters == 1:
            return "One order, drawn at random: with one person nothing can be balanced."
        best = 0 if self.tasters % self.samples == 0 else 1
        places = (
            "Every sample stands in every place equally often"
            if self.place_spread == 0
            else f"How often samples stand in a place differs by {self.place_spread}"
            + (", the least that this number of people allows" if self.place_spread == best else "")
        )
        if self.samples < 3:
            return f"{places}."
        follows = (
            "after every other equally often"
            if self.follower_spread == 0
            else f"how often one follows another differs by {self.follower_spread}"
        )
        return f"{places}, and {follows}."


def orders(
    samples: int, tasters: int, chance: Random, *, arms: Sequence[int] | None = None
) -> list[tuple[int, ...]]:
    """An order of samples (0 to samples − 1) for each taster.

    `arms` : the method of each sample. Where one has several samples, they are laid onto the design so that
        methods too stand in places and after one another as evenly as was found.

    >>> len(orders(5, 6, Random(3))), sorted(orders(5, 6, Random(3))[0])
    (6, [0, 1, 2, 3, 4])
    >>> balance(orders(3, 3, Random(1))).place_spread, balance(orders(5, 5, Random(1))).place_spread
    (0, 0)
    """
    check_range("tasters", tasters, 1, 500, "tasters")
    dealt = _dealt(samples, tasters, chance)
    several = arms is not None and len(set(arms)) < len(arms)
    best, best_rows = None, dealt
    for _ in range(TRIES if several else 1):
        names = list(range(samples))
        chance.shuffle(names)
        rows = [tuple(names[x] for x in row) for row in dealt]
        uneven = unevenness([[(arms or names)[x] for x in row] for row in rows])
        if best is None or uneven < best:
            best, best_rows = uneven, rows
    chance.shuffle(best_rows)
    return best_rows


def _dealt(samples: int, tasters: int, chance: Random) -> list[tuple[int, ...]]:
    """Rows of a design: whole squares, then those of the next that leave followers most even."""
    dealt: list[tuple[int, ...]] = []
    wholes: list[list[tuple[int, ...]]] = []
    while len(dealt) < tasters:
        if not wholes:
            wholes = squares(samples)
            chance.shuffle(wholes)
        square = wholes.pop()
        chance.shuffle(square)
        if tasters - len(dealt) >= len(square):
            dealt += square
            continue
        follows = Counter(pair for row in dealt for pair in pairwise(row))
        while len(dealt) < tasters:
            row = min(square, key=lambda r: sum(follows[p] for p in pairwise(r)))
            square.remove(row)
            follows.update(pairwise(row))
            dealt.append(row)
    return dealt


def blocks(
    samples: int, tasters: int, each: int, chance: Random, given: Sequence[Sequence[int]] = ()
) -> list[tuple[int, ...]]:
    """Orders of part of the samples for each taster, where all are too many for one palate: every sample as
    often as the others, every two together as often as can be, every place as even as was found.

    `given` : orders that were dealt before; theirs are counted, and the new ones alone are returned

    >>> rows = blocks(12, 6, 6, Random(1))
    >>> sorted(Counter(x for r in rows for x in r).values()) == [3] * 12
    True
    """
    check_range("samples a person", each, 2, samples, "samples")
    often = Counter(x for r in given for x in r)
    beside = Counter(frozenset(p) for r in given for p in combinations(r, 2))
    where = Counter((place, x) for r in given for place, x in enumerate(r))
    dealt = []
    for _ in range(tasters):
        names = list(range(samples))
        chance.shuffle(names)
        mine: list[int] = []
        while len(mine) < each:
            left = [x for x in names if x not in mine]
            mine.append(min(left, key=lambda x: (often[x], sum(beside[frozenset((x, y))] for y in mine))))
        row: list[int] = []
        while len(row) < each:
            left = [x for x in mine if x not in row]
            row.append(min(left, key=lambda x: where[len(row), x]))
        often.update(row)
        beside.update(frozenset(p) for p in combinations(row, 2))
        where.update(enumerate(row))
        dealt.append(tuple(row))
    return dealt


def unevenness(rows: Sequence[Sequence[Hashable]]) -> int:
    """Sum of squared counts by place and by follower: least where they are even."""
    places = Counter((place, x) for row in rows for place, x in enumerate(row))
    follows = Counter(pair for row in rows for pair in pairwise(row))
    return sum(n * n for n in places.values()) + sum(n * n for n in follows.values())


def balance(given: Sequence[Sequence[int]]) -> Balance:
    """Count how evenly orders spread places and followers.

    >>> found = balance(williams(4))
    >>> found.place_spread, found.follower_spread, found.tasters, found.samples
    (0, 0, 4, 4)
    """
    n = 1 + max(x for row in given for x in row)
    if any(len(row) < n for row in given):
        return _part(given, n)
    places = Counter((place, x) for row in given for place, x in enumerate(row))
    follows = Counter(pair for row in given for pair in pairwise(row))
    by_place = [places[p, x] for p in range(n) for x in range(n)]
    by_follower = [follows[a, b] for a in range(n) for b in range(n) if a != b] or [0]
    return Balance(max(by_place) - min(by_place), max(by_follower) - min(by_follower), len(given), n)


def _part(given: Sequence[Sequence[int]], n: int) -> Balance:
    """The balance of orders that each hold part of the samples."""
    often = Counter(x for row in given for x in row)
    beside = Counter(frozenset(p) for row in given for p in combinations(row, 2))
    counts = [often[x] for x in range(n)]
    pairs = [beside[frozenset(p)] for p in combinations(range(n), 2)]
    return Balance(
        0, 0, len(given), n, max(len(r) for r in given), max(counts) - min(counts), max(pairs) - min(pairs)
    )

"""What tests share in which some answers are right and luck gets some of them right too."""

from collections.abc import Sequence
from fractions import Fraction
from random import Random

from yeasty.core.taste.luck import at_least, beside_luck, fewest_right, often
from yeasty.core.taste.rounds import Round
from yeasty.core.taste.tests.kind import Bar, Found, knowing, refused


def people(n: int) -> str:
    """A number of people in words."""
    return f"{n} person" if n == 1 else f"{n} people"


def patterns(orders: Sequence[Sequence[str]], seats: int, chance: Random) -> list[list[str]]:
    """Each order in turn, shuffled a whole set at a time, so that all come equally often."""
    dealt: list[list[str]] = []
    while len(dealt) < seats:
        once = [list(o) for o in orders]
        chance.shuffle(once)
        dealt += once
    return dealt[:seats]


def can_mean(of: int, luck: Fraction) -> str:
    """What so many people can show at all, before anything is tasted.

    >>> can_mean(4, Fraction(1, 2))
    'With 4 people no answer could mean anything: even if all are right, luck does that 1 time in 15.'
    >>> can_mean(6, Fraction(1, 3))
    'At least 5 of 6 have to be right before it is more than luck.'
    """
    fewest = fewest_right(of, luck)
    if fewest is None:
        best = often(at_least(of, of, luck))
        return (
            f"With {people(of)} no answer could mean anything: even if all are right, luck does that {best}."
        )
    return f"At least {fewest} of {of} have to be right before it is more than luck."


def the_two(r: Round) -> str:
    """What the two that were served are called where a sentence begins: their names, if they have two."""
    names = sorted(set(r.names().values()))
    return f"{names[0]} and {names[1]}" if len(names) > 1 else "The two batches"


def told_apart(r: Round, right: Sequence[bool], luck: Fraction, yes: str, no: str) -> Found:
    """So many of so many right, beside luck.

    `yes`, `no` : the headline where it is more than luck, and where it is not; {right} and {of} are filled in
    """
    hits, of = sum(right), len(right)
    if of == 0:
        return Found("Nobody has answered blind.", (*refused(r), *knowing(r)))
    chance = at_least(hits, of, luck)
    by_luck = float(luck) * of
    fewest = fewest_right(of, luck)
    lines = [
        f"{hits} of {people(of)} right. Luck alone gets {by_luck:.1f} right, and {hits} or more "
        f"{often(chance)}: {beside_luck(chance)}."
    ]
    settle = ""
    if fewest is None:
        settle = can_mean(of, luck)
    elif hits < fewest:
        settle = (
            f"{fewest} of {of} would have been more than luck. More people settle it, not more bites each."
        )
    sure = fewest is not None and hits >= fewest
    return Found(
        (yes if sure else no).format(right=hits, of=of),
        (*lines, *refused(r), *knowing(r)),
        settle,
        (Bar("right", hits, of, f"{hits} of {of}", luck=by_luck),),
        hits,
        of,
        float(chance),
    )

"""Three samples, two of them alike: which is the odd one?"""

from collections.abc import Sequence
from fractions import Fraction
from random import Random

from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidChoice, chosen
from yeasty.core.taste.tests.kind import Found, TasteTest
from yeasty.core.taste.tests.pairs import patterns, the_two, told_apart


def serve(cups: Sequence[Sequence[str]], _arms: Sequence[int], seats: int, chance: Random) -> list[list[str]]:
    """The six orders of two and one equally often; of the two codes of the single one each in turn."""
    (a1, a2), (b1, b2) = cups
    orders = [
        (a1, a2, b1),
        (a1, b1, a2),
        (b1, a1, a2),
        (b1, b2, a1),
        (b1, a1, b2),
        (a1, b1, b2),
    ]
    return patterns(orders, seats, chance)


def check(said: Said, order: Sequence[str], _settings: Settings) -> Said:
    """One of the three: who cannot tell guesses."""
    return chosen(said, order)


def odd_one(r: Round, order: Sequence[str]) -> str:
    """The code that stands alone."""
    batches = [r.cup(c).batch for c in order]
    return next(c for c in order if batches.count(r.cup(c).batch) == 1)


def analyse(r: Round) -> Found:
    """How many found the odd one."""
    right = [g.said.code == odd_one(r, g.order) for g in r.blind() if isinstance(g.said, SaidChoice)]
    two = the_two(r)
    return told_apart(
        r,
        right,
        Fraction(1, 3),
        f"{two} are told apart: {{right}} of {{of}} found the odd one.",
        f"{two} are not told apart: {{right}} of {{of}} found the odd one.",
    )


TRIANGLE = TasteTest(
    TestKey.TRIANGLE,
    "Which of three is the odd one? (triangle)",
    "Two of the three are alike. Which is the odd one? If you cannot tell, guess.",
    "Whether two can be told apart at all, not how. Blunt: with eight people it misses a plain difference 9 "
    "times in 10. Four samples in two pairs (tetrad) find more with as many people.",
    front=False,
    fewest=2,
    most=2,
    cups=2,
    drawn="one",
    serve=serve,
    check=check,
    analyse=analyse,
    luck=lambda _k: Fraction(1, 3),
)

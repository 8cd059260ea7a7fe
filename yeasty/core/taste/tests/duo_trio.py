"""A reference first, then two samples: which is the same as the reference?"""

from collections.abc import Sequence
from fractions import Fraction
from random import Random

from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidChoice, chosen
from yeasty.core.taste.tests.kind import Found, TasteTest
from yeasty.core.taste.tests.pairs import patterns, the_two, told_apart


def serve(cups: Sequence[Sequence[str]], _arms: Sequence[int], seats: int, chance: Random) -> list[list[str]]:
    """Each of the two as reference, and each order, equally often. The reference stands first."""
    (a_ref, a), (b_ref, b) = cups
    return patterns([(a_ref, a, b), (a_ref, b, a), (b_ref, a, b), (b_ref, b, a)], seats, chance)


def check(said: Said, order: Sequence[str], _settings: Settings) -> Said:
    """One of the two that follow the reference."""
    return chosen(said, order[1:])


def analyse(r: Round) -> Found:
    """How many found the one that is the same."""
    right = [
        r.cup(g.said.code).batch == r.cup(g.order[0]).batch
        for g in r.blind()
        if isinstance(g.said, SaidChoice)
    ]
    two = the_two(r)
    return told_apart(
        r,
        right,
        Fraction(1, 2),
        f"{two} are told apart: {{right}} of {{of}} found the one that is the same.",
        f"{two} are not told apart: {{right}} of {{of}} found the one that is the same.",
    )


DUO_TRIO = TasteTest(
    TestKey.DUO_TRIO,
    "Which of two is like the first? (duo-trio)",
    "Taste the reference first. Which of the other two is the same? If you cannot tell, guess.",
    "Whether two can be told apart at all, not how. Easy to explain, but half the answers are right by luck; "
    "it needs many people.",
    front=False,
    fewest=2,
    most=2,
    cups=2,
    drawn="one",
    serve=serve,
    check=check,
    analyse=analyse,
    luck=lambda _k: Fraction(1, 2),
    reference=True,
)

"""Four samples, two and two alike: put them in pairs."""

from collections.abc import Sequence
from fractions import Fraction
from random import Random

from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidGroups, partitioned
from yeasty.core.taste.tests.kind import Found, TasteTest
from yeasty.core.taste.tests.pairs import patterns, the_two, told_apart


def serve(cups: Sequence[Sequence[str]], _arms: Sequence[int], seats: int, chance: Random) -> list[list[str]]:
    """The six orders of two and two equally often."""
    (a1, a2), (b1, b2) = cups
    orders = [
        (a1, a2, b1, b2),
        (a1, b1, a2, b2),
        (a1, b1, b2, a2),
        (b1, b2, a1, a2),
        (b1, a1, b2, a2),
        (b1, a1, a2, b2),
    ]
    return patterns(orders, seats, chance)


def check(said: Said, order: Sequence[str], _settings: Settings) -> Said:
    """Two pairs that hold all four."""
    if not isinstance(said, SaidGroups) or [len(g) for g in said.groups] != [2, 2]:
        raise RuleError("answer", "is not two pairs", "Put two and two together.")
    partitioned(said.groups, order, "answer")
    return said


def analyse(r: Round) -> Found:
    """How many paired like with like."""
    right = [
        all(len({r.cup(c).batch for c in pair}) == 1 for pair in g.said.groups)
        for g in r.blind()
        if isinstance(g.said, SaidGroups)
    ]
    two = the_two(r)
    return told_apart(
        r,
        right,
        Fraction(1, 3),
        f"{two} are told apart: {{right}} of {{of}} paired like with like.",
        f"{two} are not told apart: {{right}} of {{of}} paired like with like.",
    )


TETRAD = TasteTest(
    TestKey.TETRAD,
    "Put four in two pairs (tetrad)",
    "Two and two of the four are alike. Put them in pairs. If you cannot tell, guess.",
    "Whether two can be told apart at all, not how. Finds more than the triangle with as many people, since "
    "luck is right as seldom and the task is easier.",
    front=False,
    fewest=2,
    most=2,
    cups=2,
    drawn="groups",
    serve=serve,
    check=check,
    analyse=analyse,
    luck=lambda _k: Fraction(1, 3),
)

"""Two samples, and which is preferred. Says nothing of by how much, nor of whether they differ otherwise."""

from collections.abc import Sequence
from random import Random

from yeasty.core.taste.luck import as_uneven, beside_luck, often
from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidChoice, chosen
from yeasty.core.taste.tests.kind import Bar, Found, TasteTest, knowing, refused
from yeasty.core.taste.tests.pairs import patterns, people

# From so many people on an answer can be more than luck: 5 of 5 happens by luck 1 time in 16 either way.
FEWEST_PEOPLE = 6


def serve(cups: Sequence[Sequence[str]], _arms: Sequence[int], seats: int, chance: Random) -> list[list[str]]:
    """Each order of the two equally often."""
    (a,), (b,) = cups
    return patterns([(a, b), (b, a)], seats, chance)


def check(said: Said, order: Sequence[str], settings: Settings) -> Said:
    """One of the two, or neither where that may be said."""
    return chosen(said, order, none_allowed=settings.ties)


def analyse(r: Round) -> Found:
    """A split, and how often luck splits so. Who has no preference is told and not split."""
    votes = [g.said.code for g in r.blind() if isinstance(g.said, SaidChoice)]
    names = r.names()
    count = dict.fromkeys(names, 0)
    for code in votes:
        if code:
            count[r.cup(code).method] += 1
    none = sum(1 for c in votes if not c)
    (first, most), (second, least) = sorted(count.items(), key=lambda x: (-x[1], names[x[0]]))
    of = most + least
    beside = (f"{people(none)} had no preference.",) if none else ()
    if of == 0:
        return Found("Nobody has said a preference blind.", (*beside, *refused(r), *knowing(r)))
    chance = as_uneven(most, least)
    lines = (
        f"{most} for {names[first]}, {least} for {names[second]}. Where both are liked alike, luck splits "
        f"{people(of)} so or more unevenly {often(chance)}: {beside_luck(chance)}.",
    )
    if of < FEWEST_PEOPLE:
        settle = f"With {people(of)} no split could mean anything; {FEWEST_PEOPLE} who all agree would."
    elif chance > 0.05:
        settle = "More people settle it, not more bites each."
    else:
        settle = ""
    sure = chance <= 0.05
    headline = (
        f"{names[first]} is preferred to {names[second]}, {most} to {least}."
        if sure
        else f"No preference that luck would not give: {most} to {least}."
    )
    bars = tuple(
        Bar(names[m], n, of, f"{n} of {of}", luck=of / 2) for m, n in ((first, most), (second, least))
    )
    return Found(
        headline,
        (*lines, *beside, *refused(r), *knowing(r)),
        settle,
        bars,
        most,
        of,
        float(chance),
        first if sure else "",
    )


PREFERENCE = TasteTest(
    TestKey.PREFERENCE,
    "Which of two do you prefer?",
    "Which of the two do you prefer?",
    "Whether people lean to one of two. Not by how much, and not why. Needs six people before any answer "
    "can be more than luck.",
    front=True,
    fewest=2,
    most=2,
    cups=1,
    drawn="one",
    serve=serve,
    check=check,
    analyse=analyse,
)

"""Two samples, and which has more of one thing: crisper, moister, saltier.

One-sided: there is a method that is expected to have more (set beforehand); where none is, an uneven split
either way counts.
"""

from collections.abc import Sequence
from fractions import Fraction

from yeasty.core.taste.luck import as_uneven, beside_luck, often
from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidChoice, chosen
from yeasty.core.taste.tests.kind import Bar, Found, TasteTest, knowing, refused
from yeasty.core.taste.tests.pairs import people, told_apart
from yeasty.core.taste.tests.preference import FEWEST_PEOPLE, serve


def check(said: Said, order: Sequence[str], _settings: Settings) -> Said:
    """One of the two: who cannot tell guesses."""
    return chosen(said, order)


def analyse(r: Round) -> Found:
    """How many named the one that was expected to have more; without one, how uneven the split is."""
    votes = [r.cup(g.said.code) for g in r.blind() if isinstance(g.said, SaidChoice)]
    names = r.names()
    what = next((a.name.lower() for a in r.attributes if a.key == r.settings.attribute), "it")
    if r.settings.label in names:
        expected = names[r.settings.label]
        return told_apart(
            r,
            [c.method == r.settings.label for c in votes],
            Fraction(1, 2),
            f"{expected} has more {what}: {{right}} of {{of}} say so, as was expected.",
            f"That {expected} has more {what} is not shown: {{right}} of {{of}} say so.",
        )
    count = {m: sum(c.method == m for c in votes) for m in names}
    (first, most), (second, least) = sorted(count.items(), key=lambda x: (-x[1], names[x[0]]))
    of = most + least
    if of == 0:
        return Found("Nobody has answered blind.", (*refused(r), *knowing(r)))
    chance = as_uneven(most, least)
    headline = (
        f"{names[first]} has more {what} than {names[second]}: {most} of {of} say so."
        if chance <= 0.05
        else f"Which has more {what} is not told apart: {most} to {least}."
    )
    line = (
        f"{most} for {names[first]}, {least} for {names[second]}. Luck splits {people(of)} so or more "
        f"unevenly {often(chance)}: {beside_luck(chance)}."
    )
    settle = "" if chance <= 0.05 else "More people settle it, not more bites each."
    if of < FEWEST_PEOPLE:
        settle = f"With {people(of)} no split could mean anything; {FEWEST_PEOPLE} who all agree would."
    bars = tuple(
        Bar(names[m], n, of, f"{n} of {of}", luck=of / 2) for m, n in ((first, most), (second, least))
    )
    return Found(headline, (line, *refused(r), *knowing(r)), settle, bars, most, of, float(chance))


DIRECTED_PAIR = TasteTest(
    TestKey.DIRECTED_PAIR,
    "Which of two has more of something?",
    "Which of the two has more {attribute}? If you cannot tell, guess.",
    "Whether one of two has more of a thing that everybody knows how to judge. The sharpest question for few "
    "people: five can be enough where one is expected to have more.",
    front=True,
    fewest=2,
    most=2,
    cups=1,
    drawn="one",
    serve=serve,
    check=check,
    analyse=analyse,
    wants="attribute",
    luck=lambda _k: Fraction(1, 2),
)

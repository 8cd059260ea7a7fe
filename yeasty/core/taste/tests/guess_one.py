"""One label, all samples: which of them is it? Also shows whether a tasting was blind at all."""

from collections.abc import Sequence
from fractions import Fraction

from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidChoice, chosen
from yeasty.core.taste.tests.kind import Found, TasteTest
from yeasty.core.taste.tests.pairs import told_apart
from yeasty.core.taste.tests.scored import serve


def check(said: Said, order: Sequence[str], _settings: Settings) -> Said:
    """One of the samples: who cannot tell guesses."""
    return chosen(said, order)


def analyse(r: Round) -> Found:
    """How many picked it out."""
    wanted = r.names().get(r.settings.label, "it")
    right = [
        r.cup(g.said.code).method == r.settings.label for g in r.blind() if isinstance(g.said, SaidChoice)
    ]
    alike = sum(c.method == r.settings.label for c in r.cups)
    return told_apart(
        r,
        right,
        Fraction(alike, len(r.cups)),
        f"{wanted} gives itself away: {{right}} of {{of}} picked it out.",
        f"{wanted} is not picked out: {{right}} of {{of}} named it.",
    )


GUESS_ONE = TasteTest(
    TestKey.GUESS_ONE,
    "Which one is it?",
    "One of these is {label}. Which one? If you cannot tell, guess.",
    "Whether one way gives itself away. Asked last in a session it shows whether the session was blind.",
    front=True,
    fewest=2,
    most=12,
    cups=1,
    drawn="one",
    serve=serve,
    check=check,
    analyse=analyse,
    wants="label",
    luck=lambda k: Fraction(1, k),
)

"""A tasting planned like a shift: bites, palates, minutes, what lies ready, before anything is cut."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import ceil

from yeasty.core.taste.tests import TestKey

# From so many samples on a palate wants a break; more than the second are too many for one sitting.
BREAK_FROM, MOST_AT_ONE_SITTING = 6, 12
# Usual practice: a bite with its answer, each further question, and the walk between rounds [s].
BITE_S, QUESTION_S, ROUND_S = 40.0, 8.0, 45.0


@dataclass(frozen=True)
class PlannedRound:
    """A round as it is planned: its test, codes of each batch, questions a sample, break before it [s],
    samples one person gets (0 for all).
    """

    test: TestKey
    codes: Mapping[str, int]
    questions: int
    break_s: float = 0.0
    most_each: int = 0

    @property
    def a_person(self) -> int:
        """Samples one person tastes: of a triangle three, though four codes stand ready."""
        every = sum(self.codes.values())
        if self.most_each:
            return min(self.most_each, every)
        return every - 1 if self.test in (TestKey.TRIANGLE, TestKey.DUO_TRIO) else every


@dataclass(frozen=True)
class Cut:
    """How a batch is cut: bites wanted, pieces there, parts of each piece."""

    batch: str
    bites: int
    pieces: int
    parts: int

    @property
    def sentence(self) -> str:
        """What to cut, in words.

        >>> Cut("Oven", 18, 6, 3).sentence
        'Oven: 18 bites of 6 pieces, each cut in 3.'
        """
        if self.pieces == 0:
            return f"{self.batch}: {self.bites} bites; how many pieces there are is not known."
        cut = "whole" if self.parts == 1 else f"each cut in {self.parts}"
        return f"{self.batch}: {self.bites} bites of {self.pieces} pieces, {cut}."


@dataclass(frozen=True)
class SessionPlan:
    """What a tasting needs.

    Attributes
    ----------
    cuts : by batch
    minutes : for one person, breaks counted
    ready : what lies ready, in the order in which it is laid
    warnings : where palates, pieces or people do not suffice
    """

    cuts: tuple[Cut, ...]
    minutes: float
    ready: tuple[str, ...]
    warnings: tuple[str, ...]


def session_plan(
    rounds: Sequence[PlannedRound],
    people: int,
    pieces: Mapping[str, int],
    names: Mapping[str, str],
    served_with: Sequence[str] = (),
) -> SessionPlan:
    """What a tasting needs, from what is asked.

    Parameters
    ----------
    pieces : batch to pieces there; names : batch to its words

    >>> r = PlannedRound(TestKey.SCORED, {"a": 1, "b": 1}, 2)
    >>> plan = session_plan([r], 6, {"a": 4, "b": 4}, {"a": "Oven", "b": "Pan"})
    >>> plan.cuts[0].sentence, round(plan.minutes, 1)
    ('Oven: 6 bites of 4 pieces, each cut in 2.', 2.4)
    """
    bites: dict[str, int] = {}
    for r in rounds:
        for batch, codes in r.codes.items():
            share = r.most_each / sum(r.codes.values()) if 0 < r.most_each < sum(r.codes.values()) else 1.0
            bites[batch] = bites.get(batch, 0) + ceil(codes * people * share)
    cuts = tuple(
        Cut(names.get(b, b), n, pieces.get(b, 0), ceil(n / pieces[b]) if pieces.get(b) else 0)
        for b, n in bites.items()
    )
    seconds = sum(
        r.break_s + ROUND_S + r.a_person * (BITE_S + QUESTION_S * max(0, r.questions - 1)) for r in rounds
    )
    cups = sum(min(r.most_each or sum(r.codes.values()), sum(r.codes.values())) for r in rounds) * people
    ready = [
        f"{cups} cups or plates with their codes: {people} of each",
        f"water and something plain for {people} people",
        *(f"{s}, {people} portions" for s in served_with),
        "links handed over, or ballots and pencils",
        "a bin, napkins, and whoever plates away from the table",
    ]
    return SessionPlan(cuts, seconds / 60, tuple(ready), _warnings(rounds, cuts))


def _warnings(rounds: Sequence[PlannedRound], cuts: Sequence[Cut]) -> tuple[str, ...]:
    found = []
    since = 0
    for n, r in enumerate(rounds, 1):
        since = r.a_person if r.break_s >= 120 else since + r.a_person
        where = f"Round {n}" if len(rounds) > 1 else "This"
        if r.a_person > MOST_AT_ONE_SITTING:
            found.append(
                f"{where} has {r.a_person} samples a person: more than {MOST_AT_ONE_SITTING} in one go tire "
                f"every palate. Give each person part of them (“samples a person”), or split them over "
                f"two sittings "
                f"with one sample in common."
            )
        elif since >= BREAK_FROM and n > 1 and r.break_s < 120:
            found.append(f"{where}: {since} samples without a break. Plan a break of some minutes before it.")
        elif r.a_person > BREAK_FROM:
            found.append(f"{where} has {r.a_person} samples a person: tell people to pause after the sixth.")
    for c in cuts:
        if c.parts > 8:
            found.append(f"{c.batch}: each piece would be cut in {c.parts}. Cook more, or ask fewer people.")
    return tuple(found)

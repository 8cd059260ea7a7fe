"""How long a tasting of 12 people, 8 samples and 3 rounds takes to work out, and a verdict on 48 ways.

    PYTHONPATH=. .venv/bin/python bench/tasting.py

Medians of five; the ratio to a plain sort of a million numbers on the same machine is what is compared.
"""

import time
from collections.abc import Callable
from random import Random
from statistics import median

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.scored import Arm
from yeasty.core.decide.scores import Answer
from yeasty.core.decide.verdict import judge
from yeasty.core.kernel.scales import Scale
from yeasty.core.taste.rounds import Cup, Given, Round, TestKey
from yeasty.core.taste.said import SaidOrder, SaidValue
from yeasty.core.taste.tests import TESTS

CHANCE = Random(5)
CODES = [str(301 + n) for n in range(8)]
CUPS = [Cup(c, f"b{n}", f"m{n // 2}", f"Way {n // 2}") for n, c in enumerate(CODES)]
ASKED = [Attribute(f"a{n}", f"question {n}", Scale.INTENSITY, 1) for n in range(4)]


def scored() -> Round:
    """Twelve people, eight samples, four questions."""
    given = [
        Given(f"p{p}", True, CODES, SaidValue(CHANCE.randint(0, 20) / 2), c, a.key)
        for p in range(12)
        for c in CODES
        for a in ASKED
    ]
    return Round(TestKey.SCORED, CUPS, given, ASKED)


def ranked() -> Round:
    """Twelve orders of eight."""
    given = [
        Given(f"p{p}", True, CODES, SaidOrder([[c] for c in CHANCE.sample(CODES, 8)])) for p in range(12)
    ]
    return Round(TestKey.RANKING, CUPS, given, [])


def timed(what: Callable[[], object]) -> float:
    """Median of five [s]."""
    found = []
    for _ in range(5):
        begin = time.perf_counter()
        what()
        found.append(time.perf_counter() - begin)
    return median(found)


def verdict() -> object:
    """2,016 answers: 48 ways, 42 people."""
    liked = Attribute("q", "liked", Scale.INTENSITY, 1)
    answers = [
        Answer(f"p{p}", f"m{m}", f"m{m}b", "q", float(CHANCE.randint(0, 10)))
        for p in range(42)
        for m in range(48)
    ]
    return judge(School.WEIGHTED, [Arm(f"m{m}", f"M{m}", f"Way {m}", 1) for m in range(48)], answers, [liked])


if __name__ == "__main__":
    rounds = [scored(), scored(), ranked()]
    numbers = [CHANCE.random() for _ in range(1_000_000)]
    yard = timed(lambda: sorted(numbers))
    of_tasting = timed(lambda: [TESTS[r.test].analyse(r) for r in rounds])
    of_verdict = timed(verdict)
    print(f"yardstick {yard:.2f} s")
    print(f"tasting of 12 x 8 x 3: {of_tasting:.2f} s, {of_tasting / yard:.2f} of the yardstick")
    print(f"verdict on 48 ways, 2,016 answers: {of_verdict:.2f} s, {of_verdict / yard:.2f} of the yardstick")

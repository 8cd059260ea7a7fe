"""Camps: some want one way, some another, and both for good.

Personal taste shows only where each person tasted two batches of a way: what a person makes of one batch
may be that bite. So who belongs to which camp is told by one batch, and whether the camp stands by the
other: a side that was picked by the very answers that are to prove it would prove itself.
"""

from collections import defaultdict
from collections.abc import Mapping
from itertools import combinations
from math import sqrt
from statistics import fmean, stdev

from scipy.stats import f as fisher
from scipy.stats import t as student

from yeasty.core.decide.nested import Fit
from yeasty.core.decide.outcome import Sentence
from yeasty.core.decide.scores import Table

LEVEL = 0.05
FEWEST_IN_A_CAMP = 2


def differ(found: Fit) -> float | None:
    """M9: how often people who want the same would differ so by the answers' own scatter; None where no
    batch of a way was tasted by a person beside another.
    """
    if found.f_person < 1 or found.f_rest < 1 or found.ms_rest <= 0:
        return None
    return float(fisher.sf(found.ms_person / found.ms_rest, found.f_person, found.f_rest))


def _halves(
    table: Table, method_of: Mapping[str, str], one: str, other: str
) -> dict[str, tuple[float, float]]:
    """Person to how far `one` lies above `other` by the first half of their batches, and by the second."""
    cells: dict[tuple[str, str], dict[str, float]] = defaultdict(dict)
    for (who, batch), value in table.items():
        cells[who, method_of[batch]][batch] = value
    found = {}
    for who in {w for w, _ in cells}:
        a, b = cells.get((who, one), {}), cells.get((who, other), {})
        if min(len(a), len(b)) < 2:
            continue
        first = [a[min(a)], b[min(b)]]
        rest = [fmean(v for k, v in x.items() if k != min(x)) for x in (a, b)]
        found[who] = (first[0] - first[1], rest[0] - rest[1])
    return found


def _stands(values: list[float]) -> bool:
    """Whether a side lies above nought by itself."""
    if len(values) < FEWEST_IN_A_CAMP:
        return False
    spread = stdev(values)
    if spread == 0:
        return fmean(values) > 0
    return float(student.sf(fmean(values) / (spread / sqrt(len(values))), len(values) - 1)) <= LEVEL


def camps(table: Table, method_of: Mapping[str, str], one: str, other: str) -> tuple[int, int] | None:
    """How many want one and how many the other, where both sides stand by batches that did not choose them;
    None where they do not.
    """
    halves = _halves(table, method_of, one, other)
    sides: dict[int, dict[str, list[float]]] = {1: defaultdict(list), -1: defaultdict(list)}
    for who, (first, second) in halves.items():
        for chooses, tells in ((first, second), (second, first)):
            if chooses:
                side = 1 if chooses > 0 else -1
                sides[side][who].append(side * tells)
    if all(_stands([fmean(v) for v in sides[side].values()]) for side in sides):
        want = [first + second for first, second in halves.values()]
        return sum(w > 0 for w in want), sum(w < 0 for w in want)
    return None


def told_camps(
    table: Table, method_of: Mapping[str, str], names: Mapping[str, str], found: Fit
) -> list[Sentence]:
    """Camps among those that may be recommended, in sentences: the one pair that is split most evenly."""
    luck = differ(found)
    if luck is None or luck > LEVEL:
        return []
    split = [
        (abs(n[0] - n[1]), a, b, n)
        for a, b in combinations(sorted(names, key=lambda m: (names[m], m)), 2)
        if (n := camps(table, method_of, a, b)) and min(n) >= FEWEST_IN_A_CAMP
    ]
    if not split:
        return [
            Sentence(
                "People differ in what they want by more than one answer differs from the next.",
                "each person’s own two cookings; no two camps stand by themselves",
            )
        ]
    _, a, b, (for_a, for_b) = min(split)
    return [
        Sentence(
            f"{for_a} want {names[a]}, {for_b} want {names[b]}, and did so over both cookings: no one "
            f"way for all.",
            "who belongs where by one cooking, and held by the other",
        )
    ]

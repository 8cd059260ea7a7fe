"""From answers to a score per taster and method, by school.

A score is on 0 to 10 where 10 is the better end. Batches of one method are averaged within a taster, so
that a taster who met two batches of a method does not count twice.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import fmean

from yeasty.core.ask.trial import Attribute, share_of_scale
from yeasty.core.kernel.scales import SCALES


@dataclass(frozen=True)
class Answer:
    """One answer: who, about which method and batch, on which attribute; None is a refusal."""

    taster: str
    method: str
    batch: str
    attribute: str
    value: float | None


# (taster, method) -> score, only where the taster answered
Table = Mapping[tuple[str, str], float]


def attribute_means(answers: Sequence[Answer]) -> dict[tuple[str, str, str], float]:
    """(taster, method, attribute) to the mean of the answers given; refusals are left out, not zero."""
    cells: dict[tuple[str, str, str], list[float]] = defaultdict(list)
    for a in answers:
        if a.value is not None:
            cells[a.taster, a.method, a.attribute].append(a.value)
    return {key: fmean(values) for key, values in cells.items()}


def weighted_scores(
    answers: Sequence[Answer], attributes: Sequence[Attribute], samples: int
) -> dict[tuple[str, str], float]:
    """Weighted score of every taster for every method, 0 to 10.

    A taster's score counts only where all weighted attributes were answered: a mean over fewer attributes
    would compare unlike things.

    >>> from yeasty.core.kernel.scales import Scale
    >>> crust = Attribute("c", "crust", Scale.INTENSITY, 3)
    >>> weighted_scores([Answer("t", "m", "b", "c", 7)], [crust], 2)
    {('t', 'm'): 7.0}
    """
    means = attribute_means(answers)
    weighed = [a for a in attributes if a.weight > 0 and SCALES[a.scale].weighs]
    total = sum(a.weight for a in weighed)
    pairs = sorted({(t, m) for t, m, _ in means})
    table = {}
    for taster, method in pairs:
        if all((taster, method, a.key) in means for a in weighed) and total > 0:
            table[taster, method] = (
                sum(a.weight * share_of_scale(a, means[taster, method, a.key], samples) for a in weighed)
                / total
            )
    return table


def rank_points(
    answers: Sequence[Answer], attributes: Sequence[Attribute], samples: int
) -> dict[tuple[str, str], float]:
    """Points by place within each taster: last 0, each place 1 more, ties share.

    Where tasters put samples in order, by every such question, weighed as they were asked (alike where none
    weighs); a taster counts who answered all of them. Else places follow from the weighted score. The two are
    told apart by `ranked_directly`.

    >>> from yeasty.core.kernel.scales import Scale
    >>> a = Attribute("o", "order", Scale.RANK)
    >>> got = rank_points([Answer("t", "m", "b", "o", 1), Answer("t", "n", "c", "o", 2)], [a], 2)
    >>> got["t", "m"], got["t", "n"]
    (1.0, 0.0)
    """
    rankings = ranked_directly(attributes)
    if not rankings:
        return _places(weighted_scores(answers, attributes, samples))
    weights = [a.weight for a in rankings] if any(a.weight > 0 for a in rankings) else [1.0] * len(rankings)
    asked = [(a, w) for a, w in zip(rankings, weights, strict=True) if w > 0]
    each = [
        _places(
            {key: -v for key, v in weighted_rank_means([x for x in answers if x.attribute == a.key]).items()}
        )
        for a, _ in asked
    ]
    whole = sum(w for _, w in asked)
    return {
        key: sum(w * points[key] for (_, w), points in zip(asked, each, strict=True)) / whole
        for key in each[0]
        if all(key in points for points in each)
    }


def _places(merit: Mapping[tuple[str, str], float]) -> dict[tuple[str, str], float]:
    """Points by place within each taster, the most merit first."""
    by_taster: dict[str, dict[str, float]] = defaultdict(dict)
    for (taster, method), value in merit.items():
        by_taster[taster][method] = value
    points = {}
    for taster, row in by_taster.items():
        for method, value in row.items():
            below = sum(1 for v in row.values() if v < value - 1e-12)
            level = sum(1 for v in row.values() if abs(v - value) <= 1e-12)
            points[taster, method] = below + (level - 1) / 2
    return points


def ranked_directly(attributes: Sequence[Attribute]) -> list[Attribute]:
    """The questions by which tasters put samples in order; empty where there is none."""
    return [a for a in attributes if SCALES[a.scale].orders]


def weighted_rank_means(answers: Sequence[Answer]) -> dict[tuple[str, str], float]:
    """(taster, method) to the mean rank given."""
    return {(t, m): v for (t, m, _), v in attribute_means(answers).items()}

"""The methods as they come to be judged, and what a school makes of their answers."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import sqrt
from statistics import fmean

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.nested import Earlier, Fit, fit
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.decide.scores import Answer, Table, weighted_scores


@dataclass(frozen=True)
class Arm:
    """A method as it comes to be judged.

    Attributes
    ----------
    key, tag, name : identity and words
    batches : batches judged (neither void nor handling error)
    set_aside : batches kept but not judged, with the reason
    failed_core : judged batches whose core target was not met or not read
    over : limits set at Ask that it does not keep to, in words
    """

    key: str
    tag: str
    name: str
    batches: int
    set_aside: tuple[str, ...] = ()
    failed_core: tuple[str, ...] = ()
    over: tuple[str, ...] = ()

    @property
    def may_lead(self) -> bool:
        """Whether it may be recommended, if people like it."""
        return not self.failed_core and not self.over


@dataclass(frozen=True)
class Scored:
    """What a school makes of answers: those it counts, a score a person and batch, the fit (None where
    nothing can be compared).
    """

    answers: Sequence[Answer]
    table: Table
    method_of: Mapping[str, str]
    fit: Fit | None


def scored(
    school: School,
    arms: Sequence[Arm],
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
    *,
    day_of: Mapping[str, str] | None = None,
    earlier: Earlier | None = None,
) -> Scored:
    """Scores by a school, of judged batches only; `earlier` counts for schools whose points are those of the
    scale.

    Each tasted batch is a sample of its own: a method's two batches never become one before they are told
    apart from its people.
    """
    judged = {a.key for a in arms if a.batches > 0}
    mine = [a for a in answers if a.method in judged]
    method_of = {a.batch: a.method for a in mine}
    table = SCHOOLS[school].table([replace(a, method=a.batch) for a in mine], attributes, len(method_of))
    found = fit(table, method_of, unit=_unit(school, table, mine, attributes), day_of=day_of)
    if found is not None and SCHOOLS[school].on_scale:
        found = replace(found, earlier=earlier)
    return Scored(mine, table, method_of, found)


def _unit(school: School, table: Table, answers: Sequence[Answer], attributes: Sequence[Attribute]) -> float:
    """One point of 0 to 10 in the points of a school: how far its numbers spread within a person, beside the
    scores of the same answers; where there are none, beside what scores usually do.
    """
    if SCHOOLS[school].on_scale:
        return 1.0
    scores = weighted_scores([replace(a, method=a.batch) for a in answers], attributes, 1)
    own, beside = _spread(table), _spread(scores)
    return own / beside if own > 0 and beside > 0 else max(own, 1e-9) / USUAL_SPREAD


# Spread of one person's scores over samples where nothing is known of it [points].
USUAL_SPREAD = 1.5


def _spread(table: Table) -> float:
    """Root mean square spread within a person."""
    rows: dict[str, list[float]] = {}
    for (who, _), value in table.items():
        rows.setdefault(who, []).append(value)
    squares = [(x - fmean(r)) ** 2 for r in rows.values() if len(r) > 1 for x in r]
    free = sum(len(r) - 1 for r in rows.values() if len(r) > 1)
    return sqrt(sum(squares) / free) if free else 0.0

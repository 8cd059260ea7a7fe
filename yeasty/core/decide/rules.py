"""Rules said beforehand, applied: limits that a way must keep to, flavour for effort."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import fmean

from yeasty.core.ask.deciding import Limit
from yeasty.core.decide.measured import Measure, Measured, Values, measure_of, told


def limit_words(limit: Limit) -> str:
    """A limit as it was said.

    >>> limit_words(Limit("total_s", at_most=3600))
    'from start to clean at most 1 h'
    """
    m = measure_of(limit.measure)
    if m is None:
        return limit.measure
    ends = []
    if limit.at_least is not None:
        ends.append(f"at least {m.say(limit.at_least)}")
    if limit.at_most is not None:
        ends.append(f"at most {m.say(limit.at_most)}")
    return f"{m.name} {' and '.join(ends)}"


def broken(limits: Sequence[Limit], way: str, measured: Measured) -> list[str]:
    """Limits that a way does not keep to, in words with what it came to. Every batch has to keep to them;
    what was not measured does not count as kept.
    """
    found = []
    for limit in limits:
        m = measure_of(limit.measure)
        if m is None:
            continue
        values = measured.get(m.key, {}).get(way, ())
        if not values:
            found.append(f"{limit_words(limit)}: not measured, which does not count as kept")
            continue
        over = [v for v in values if _outside(limit, m, v)]
        if over:
            times = "" if len(values) == 1 else f", {len(over)} of {len(values)} cookings outside"
            found.append(f"{limit_words(limit)}: {told(m, values)}{times}")
    return found


def _outside(limit: Limit, measure: Measure, value: float) -> bool:
    # What a reading leaves open is not held against it.
    slack = measure.grain / 2
    return (limit.at_most is not None and value > limit.at_most + slack) or (
        limit.at_least is not None and value < limit.at_least - slack
    )


@dataclass(frozen=True)
class Point:
    """A way on the field of flavour and effort. `beaten_by` : a way that is liked at least as well for less
    effort, both by more than a reading; None on the frontier.
    """

    way: str
    score: float
    effort: float
    beaten_by: str | None


def frontier(scores: Mapping[str, float], measure: Measure, values: Values) -> list[Point]:
    """Ways by flavour for effort: which are beaten, and by which; best liked first.

    >>> frontier({}, measure_of("total_s"), {})
    []
    """
    efforts = {w: fmean(v) for w, v in values.items() if w in scores}
    sign = -1.0 if measure.less_is_better is False else 1.0

    def beats(a: str, b: str) -> bool:
        liked, less = scores[a] - scores[b], sign * (efforts[b] - efforts[a])
        return liked >= 0 and less >= 0 and (liked >= LIKED_GRAIN or less >= measure.grain)

    found = []
    for w in sorted(efforts, key=lambda w: (-scores[w], efforts[w], w)):
        by = [o for o in efforts if o != w and beats(o, w)]
        best = max(by, key=lambda o: (scores[o], -sign * efforts[o]), default=None)
        found.append(Point(w, scores[w], efforts[w], best))
    return found


# Mean scores nearer than this are one [points].
LIKED_GRAIN = 0.1

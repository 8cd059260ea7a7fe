"""Two ways held beside one another by a measure of the log: what may be said, and on what it stands."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from yeasty.core.decide.gaps import Gap, gap
from yeasty.core.decide.measured import Measure, Measured, Values, told
from yeasty.core.decide.outcome import HowSure
from yeasty.core.decide.tallies import Counts, tally_gap, tally_words


@dataclass(frozen=True)
class OnRecord:
    """All that was measured: measure to way to what its batches came to, and the same of what was counted."""

    values: Measured = field(default_factory=dict)
    counts: Counts = field(default_factory=dict)

    def of(self, key: str) -> Values:
        """Ways by a measure."""
        return self.values.get(key, {})

    def told(self, measure: Measure, way: str) -> str:
        """What a way came to, in words."""
        counted = self.counts.get(measure.key, {})
        return tally_words(counted[way]) if way in counted else told(measure, self.of(measure.key)[way])


@dataclass(frozen=True)
class Compared:
    """One way against another.

    Attributes
    ----------
    stands : whether they differ by more than chance
    sure : clear only by several cookings of both
    words : by how much, as "5 min less (95 % range 3 min to 7 min)"
    stands_on : what says so
    difference : first minus second, of means
    """

    stands: bool
    sure: HowSure
    words: str
    stands_on: str
    difference: float


def compare(measure: Measure, first: str, second: str, record: OnRecord, looked_at: int = 1) -> Compared:
    """First against second, by batches; counts exactly as well.

    `looked_at` : how many comparisons were looked at together. Of many some stand by luck, so *clear* is said
    only of what would stand among so many (Bonferroni).
    """
    values = record.of(measure.key)
    counted = record.counts.get(measure.key, {})
    strict = 1 - 0.05 / max(1, looked_at)
    if {first, second} <= counted.keys():
        t = tally_gap(counted[first], counted[second])
        few = min(len(counted[first]), len(counted[second]))
        luck = f"pieces alike would fall so unevenly {_in_a_hundred(t.luck)}"
        return Compared(
            t.stands,
            _sure(t.stands, few, sure=t.luck <= 1 - strict and t.by_batches.stands),
            _range_words(measure, t.by_batches),
            f"{luck}; exact test over pieces, {_cookings(few)}",
            t.by_batches.difference,
        )
    g = gap(values[first], values[second], measure.grain)
    return Compared(
        g.stands,
        _sure(g.stands, g.cookings, sure=_stands_at(values[first], values[second], measure, strict)),
        _range_words(measure, g),
        f"from cooking to cooking, {_cookings(g.cookings)}",
        g.difference,
    )


def _stands_at(first: Sequence[float], second: Sequence[float], measure: Measure, level: float) -> bool:
    return gap(first, second, measure.grain, level).stands


def _sure(stands: bool, cookings: int, *, sure: bool) -> HowSure:
    if not stands:
        return HowSure.LEVEL
    return HowSure.CLEAR if cookings > 1 and sure else HowSure.LEANING


def _cookings(few: int) -> str:
    return f"{few} cookings of each at least" if few > 1 else "1 cooking of one of them"


def _in_a_hundred(luck: float) -> str:
    """A chance as a cook says it.

    >>> _in_a_hundred(0.2), _in_a_hundred(0.0004)
    ('20 times in 100', 'less than once in 100')
    """
    times = round(100 * luck)
    return "less than once in 100" if times < 1 else f"{times} time{'' if times == 1 else 's'} in 100"


def _range_words(measure: Measure, g: Gap) -> str:
    size, more = measure.apart(abs(g.difference)), "more" if g.difference > 0 else "less"
    if g.difference == 0:
        return "no difference"
    if g.low is None or g.high is None:
        return f"{size} {more}, in one cooking: how far one cooking lies from the next was not seen"
    if g.low <= 0 <= g.high:
        return f"{size} {more}; by chance alone it may be the other way round"
    low, high = (measure.apart(abs(e)) for e in sorted((g.low, g.high), key=abs))
    return f"{size} {more} (95 % range {between(low, high)})"


def between(low: str, high: str) -> str:
    """Two ends of a range, their unit said once.

    >>> between("19 percentage points", "24 percentage points"), between("55 s", "3 min")
    ('19 to 24 percentage points', '55 s to 3 min')
    """
    number, _, unit = low.partition(" ")
    same = unit == high.partition(" ")[2] and " " not in unit.replace("percentage points", "")
    return f"{number} to {high}" if same and unit else f"{low} to {high}"


def least_of_all(measure: Measure, way: str, others: Sequence[str], record: OnRecord) -> bool | None:
    """Whether a way lies below all others by more than chance: True; above all: False; else None."""
    found: Mapping[str, Compared] = {o: compare(measure, way, o, record) for o in others}
    if not found or not all(c.stands for c in found.values()):
        return None
    below = {c.difference < 0 for c in found.values()}
    return below.pop() if len(below) == 1 else None

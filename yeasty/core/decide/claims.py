"""Claims built from picks: a measure or a question, a way, and what it is held against. The sentence is
formed from the records whenever it is read: it says no more than they do, and falls when they change.

What may be picked is what the design can carry: ways that were cooked, measures that both have, a cause only
where nothing else differed.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import combinations

from yeasty.core.decide.compared import OnRecord, compare, least_of_all
from yeasty.core.decide.measured import Measure, measure_of, order
from yeasty.core.decide.nested import CLEAR_LEVEL, FEWEST_PEOPLE, Fit, nested_range, told_range
from yeasty.core.decide.outcome import Claimable, HowSure, Stands
from yeasty.core.decide.questions.kind import Way, spoken
from yeasty.core.kernel.text import capital

SCORE, ASKED = "score", "asked:"
# Of more ways than that not every pair is laid out: each against the one ahead.
EVERY_PAIR = 8
MOST_DIFFERENCES = 4


@dataclass(frozen=True)
class Ground:
    """What claims of a trial may stand on.

    Attributes
    ----------
    ways : those of the trial, in order
    record : what was measured
    judged : "score", and each question that is averaged, to its words and the fit of its answers
    blind : whether a verdict may be clear
    differ : fields in which two ways differ, besides what came of them
    pieces : for how many what depends on that is told, 0 where nothing does
    matters : the smallest difference of a score that matters, set beforehand [points]
    beforehand : the measure that is the trial's own question, said beforehand: one look; "" without one
    """

    ways: Sequence[Way]
    record: OnRecord
    judged: Mapping[str, tuple[str, Fit]]
    blind: bool
    differ: Callable[[str, str], Sequence[str]]
    pieces: int = 0
    beforehand: str = ""
    matters: float = 0.0

    def looks(self, measure: str) -> int:
        """How many comparisons a claim is one of: by what was said beforehand it is the only one."""
        return 1 if measure in (SCORE, self.beforehand) else self.looked_at

    @cached_property
    def looked_at(self) -> int:
        """How many comparisons may be picked from: of so many some stand by luck."""
        each = [len(self.on_record(k)) for k in (*self.judged, *self.record.values)]
        return sum(n * (n - 1) // 2 if n <= EVERY_PAIR else n - 1 for n in each)

    def way(self, key: str) -> Way | None:
        """A way by its key."""
        return next((w for w in self.ways if w.key == key), None)

    def about(self, measure: str) -> str:
        """What a measure or question is called."""
        if measure in self.judged:
            return self.judged[measure][0]
        m = measure_of(measure)
        return m.name if m else measure

    def on_record(self, measure: str) -> Sequence[str]:
        """Ways of which a measure tells."""
        if measure in self.judged:
            return list(self.judged[measure][1].means)
        return list(self.record.of(measure))


def claimable(ground: Ground) -> list[Claimable]:
    """Every claim that may be picked, and those that may not with the reason."""
    found = []
    for key in (*ground.judged, *ground.record.values):
        there = [w.key for w in ground.ways if w.key in ground.on_record(key)]
        for first, second in _pairs(ground, key, there):
            found.append(told(ground, key, first, second))
        for way in _at_the_ends(ground, key, there) if len(there) > 2 else ():
            alone = told(ground, key, way, None)
            if alone.stands:
                found.append(alone)
    return found


def _at_the_ends(ground: Ground, key: str, there: Sequence[str]) -> list[str]:
    """The ways that could stand apart from all others: the one with the least, and the one with the most."""
    if key in ground.judged:
        means = ground.judged[key][1].means
        return [max(there, key=lambda w: (means[w], w))]
    m = measure_of(key)
    ranked = order(m, {w: ground.record.of(key)[w] for w in there}) if m else list(there)
    return [ranked[0], ranked[-1]]


def _pairs(ground: Ground, key: str, there: Sequence[str]) -> Iterator[tuple[str, str]]:
    if len(there) <= EVERY_PAIR:
        yield from combinations(there, 2)
        return
    m = measure_of(key)
    if m is not None:
        first = order(m, ground.record.of(key))[0]
    else:
        means = ground.judged[key][1].means
        first = max(there, key=lambda w: (means[w], w))
    yield from ((first, w) for w in there if w != first)


def told(ground: Ground, measure: str, subject: str, other: str | None) -> Claimable:
    """A claim as its records have it now; where it may not be claimed, why."""
    refused = _refused(ground, measure, subject, other)
    standing = Stands.JUDGED if measure == SCORE or measure.startswith(ASKED) else Stands.MEASURED
    about = ground.about(measure)
    if refused:
        return Claimable(
            measure,
            about,
            subject,
            other,
            "",
            standing,
            HowSure.NOT_COMPARABLE,
            stands=False,
            why_not=refused,
        )
    said = _Said(ground, measure, subject, other)
    if measure in ground.judged:
        text, sure, why_not = said.judged()
    else:
        text, sure, why_not = said.measured()
    stands = sure in (HowSure.CLEAR, HowSure.LEANING)
    if stands:
        text += _cause(ground, subject, other)
    return Claimable(measure, about, subject, other, text, standing, sure, stands, "" if stands else why_not)


def _refused(ground: Ground, measure: str, subject: str, other: str | None) -> str:
    """What keeps a claim from being made at all, whatever its figures."""
    if measure not in ground.judged and measure_of(measure) is None:
        return "That is no question of this trial and no measure of the log."
    wanted = [subject, other] if other is not None else [w.key for w in ground.ways if w.fit]
    named = {w.key: w.name for w in ground.ways}
    if any(k not in named for k in (subject, *wanted)):
        return "That way is none of this trial."
    if subject == other:
        return "A way is held against another, not against itself."
    there = ground.on_record(measure)
    absent = [named[str(k)] for k in dict.fromkeys((subject, *wanted)) if k not in there]
    if absent:
        how = "judged" if measure in ground.judged else "measured"
        return f"{', '.join(absent)}: not {how}, and what was not {how} proves nothing."
    unfit = [w.name for w in ground.ways if w.key in (subject, other) and not w.fit]
    if unfit:
        return f"{', '.join(unfit)} may not be recommended (its core, or a limit): nothing is claimed for it."
    return ""


@dataclass(frozen=True)
class _Said:
    """One claim in words."""

    ground: Ground
    measure: str
    subject: str
    other: str | None

    def _name(self, key: str) -> str:
        way = self.ground.way(key)
        return way.name if way else key

    def _others(self, there: Sequence[str]) -> list[str]:
        fit = {w.key for w in self.ground.ways if w.fit}
        return [w for w in there if w in fit and w != self.subject]

    def judged(self) -> tuple[str, HowSure, str]:
        """By what people said: text, how sure, why not."""
        question, fit = self.ground.judged[self.measure]
        about = "in all" if self.measure == SCORE else f"in {question}"
        if fit.f_person == 0:
            who = " and ".join(self._name(w) for w in (self.subject, self.other) if w is not None)
            several = max(fit.people.values()) > 1
            why = (
                "nobody tasted beside another"
                if several
                else "one taster's answers tell of that person alone"
            )
            return "", HowSure.NOT_COMPARABLE, f"{who}: {why}."
        if self.other is not None:
            r = told_range(fit, self.subject, self.other)
            ahead, behind = (self.subject, self.other) if r.difference >= 0 else (self.other, self.subject)
            r = told_range(fit, ahead, behind)
            text = f"{self._name(ahead)} was judged better than {self._name(behind)} {about}: {spoken(r)}."
            if not r.off_nought:
                both = f"{self._name(self.subject)} and {self._name(self.other)}"
                return text, HowSure.LEVEL, f"{both} cannot be told apart {about}: {spoken(r)}."
            matters = self.ground.matters
            if self.measure == SCORE and r.difference < matters:
                said = "1 point that was" if matters == 1 else f"{matters:g} points that were"
                text += f" That is less than the {said} said to matter."
            return text, self._sure(fit, ahead, behind), ""
        others = self._others(list(fit.means))
        ranges = [told_range(fit, self.subject, o) for o in others]
        if not ranges or not all(r.off_nought and r.difference > 0 for r in ranges):
            why_not = f"{self._name(self.subject)} does not stand above all others {about}."
            return "", HowSure.LEVEL, why_not
        text = f"{self._name(self.subject)} was judged better {about} than each of the other {len(others)}."
        return text, min((self._sure(fit, self.subject, o) for o in others), key=_DOUBT.index), ""

    def _sure(self, fit: Fit, first: str, second: str) -> HowSure:
        """Clear only by batches, by enough people, blind, and as surely as so many looks ask."""
        looks = self.ground.looks(self.measure)
        r = nested_range(fit, first, second, 1 - (1 - CLEAR_LEVEL) / max(1, looks))
        enough = min(fit.people.values()) >= FEWEST_PEOPLE
        clear = r is not None and r.off_nought and enough and self.ground.blind
        return HowSure.CLEAR if clear else HowSure.LEANING

    def measured(self) -> tuple[str, HowSure, str]:
        """By the log: text, how sure, why not."""
        m = measure_of(self.measure)
        if m is None:
            raise LookupError(self.measure)
        if self.other is not None:
            return self._pair(m, self.other)
        others = self._others(list(self.ground.record.of(m.key)))
        least = least_of_all(m, self.subject, others, self.ground.record)
        came = self.ground.record.told(m, self.subject)
        if least is None:
            return (
                "",
                HowSure.LEVEL,
                f"Its {m.name} does not stand apart from all others by more than chance.",
            )
        rest = [w for w in order(m, self.ground.record.of(m.key)) if w in others]
        values = self.ground.record.of(m.key)
        sign = 1 if least else -1
        nearest = min(rest, key=lambda w: sign * sum(values[w]) / len(values[w]))
        sure = min(
            (compare(m, self.subject, o, self.ground.record, self.ground.looks(m.key)).sure for o in others),
            key=_DOUBT.index,
        )
        text = (
            f"{self._about(m)}: {self._name(self.subject)} comes out {'lowest' if least else 'highest'} of "
            f"{len(others) + 1} ways, {came}; the nearest is {self._name(nearest)}, "
            f"{self.ground.record.told(m, nearest)}."
        )
        return text, sure, ""

    def _about(self, m: Measure) -> str:
        pieces = self.ground.pieces
        return capital(m.name) + (f", for {pieces} pieces" if pieces and m.at_servings else "")

    def _pair(self, m: Measure, other: str) -> tuple[str, HowSure, str]:
        c = compare(m, self.subject, other, self.ground.record, self.ground.looks(m.key))
        first, second = (f"{self._name(w)} ({self.ground.record.told(m, w)})" for w in (self.subject, other))
        text = f"{self._about(m)}: {first} against {second}: {c.words}."
        why_not = f"{first} and {second} cannot be told apart by {m.name}: {c.stands_on}."
        return text, c.sure, "" if c.stands else why_not


# From the least sure to the surest that may be claimed.
_DOUBT = (HowSure.LEVEL, HowSure.LEANING, HowSure.CLEAR)


def _cause(ground: Ground, subject: str, other: str | None) -> str:
    """What a claim may credit: one cause only where nothing else on record differed."""
    if other is None:
        return ""
    fields = list(ground.differ(subject, other))
    if not fields:
        return ""
    if len(fields) == 1:
        return f" Nothing else on record differed between them than {fields[0]}."
    named = ", ".join(fields[:MOST_DIFFERENCES])
    more = f" and {len(fields) - MOST_DIFFERENCES} things more" if len(fields) > MOST_DIFFERENCES else ""
    return f" They differed in {named}{more}, so it credits no single cause."

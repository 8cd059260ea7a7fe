"""The verdict: which method, how sure, in sentences that each stand on records."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import fmean

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.camps import told_camps
from yeasty.core.decide.nested import (
    ASSUMED_BATCH_SD,
    FEWEST_PEOPLE,
    LEANING_LEVEL,
    Earlier,
    Fit,
    Range,
    assumed_range,
    chances_of_best,
    could_be_best,
    in_words,
    nested_range,
)
from yeasty.core.decide.one_person import cooking_by_cooking, one_person
from yeasty.core.decide.outcome import HowSure, PairedInterval, Sentence, Stands, Verdict
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer, Table, attribute_means
from yeasty.core.decide.what_next import More, tells_more
from yeasty.core.kernel.scales import SCALES

# What would settle it sooner; see `what_next`.
SETTLES = {
    More.COOKINGS: "More cookings settle this sooner than more tasters.",
    More.PEOPLE: "More tasters settle this sooner than more cookings.",
    More.EITHER: "More cookings or more tasters would settle this about alike.",
}
Pair = tuple[Arm, Arm]


def judge(
    school: School,
    arms: Sequence[Arm],
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
    *,
    matters: float = 0.0,
    earlier: Earlier | None = None,
    knew: str = "",
    day_of: Mapping[str, str] | None = None,
) -> Verdict:
    """Judge a trial by one school.

    Parameters
    ----------
    arms : the methods
    answers : all answers about judged batches; others are ignored
    attributes : what was asked
    matters : smallest difference that matters [points of the school]
    earlier : spread from batch to batch that the kitchen knows from earlier trials, or None
    knew : why this was not tasted blind, in a sentence; then nothing is clear. "" where it was
    day_of : batch to the sitting at which it was tasted

    Notes
    -----
    Permuting tasters, methods or answers changes nothing but the order of ties. A method with an unmet core
    target cannot be recommended; where that leaves no leader the verdict is *not safe*.
    """
    judged = [a for a in arms if a.batches > 0]
    names = {a.key: a for a in arms}
    blind = not knew
    base = scored(school, arms, answers, attributes, day_of=day_of, earlier=earlier)
    mine, table, method_of, found = base.answers, base.table, base.method_of, base.fit
    sentences = _set_aside(arms)
    if found is None:
        told = _Told(school, {}, "", (), _plain_means(table, method_of), sentences)
        why = _why_not(judged, mine, attributes, day_of or {})
        return told.outcome(HowSure.NOT_COMPARABLE, f"Not comparable yet: {why}.")
    order = sorted(found.means, key=lambda m: (-round(found.means[m], 9), names[m].tag))
    fit_ones = [m for m in order if names[m].may_lead]
    chances = chances_of_best(found, fit_ones)
    # What is best in truth is best for people: one person's answers carry no chance of that.
    several = max(found.people.values()) > 1
    shares = {m: chances.get(m, 0.0) for m in order} if several else {}
    likely = ""
    if fit_ones and several:
        likely = in_words(chances[fit_ones[0]], one_batch=min(found.batches.values()) < 2)
    contenders = could_be_best(found, fit_ones)
    told = _Told(school, shares, likely, contenders, {m: found.means[m] for m in order}, sentences)
    sentences += [
        Sentence(
            f"{arm.name} is not recommended: the core temperature it was to reach was not read as reached.",
            "; ".join(arm.failed_core),
            Stands.MEASURED,
        )
        for arm in judged
        if arm.failed_core
    ]
    sentences += [
        Sentence(f"{arm.name} does not keep to a limit that was set.", "; ".join(arm.over), Stands.MEASURED)
        for arm in judged
        if arm.over
    ]
    if not fit_ones and not all(names[m].failed_core for m in order):
        return told.outcome(
            HowSure.NOT_COMPARABLE, "No way keeps to the limits that were set, so none is recommended."
        )
    if not fit_ones:
        return told.outcome(
            HowSure.NOT_SAFE,
            "Not safe to recommend: no method is on record as reaching its core temperature.",
        )
    first = names[fit_ones[0]]
    if len(fit_ones) < 2:
        return told.outcome(
            HowSure.NOT_COMPARABLE,
            f"Only {first.name} may be recommended; nothing to compare with.",
            (first, None),
        )
    pair = (first, names[fit_ones[1]])
    if found.f_person == 0 and len(_who_tasted(pair, table, method_of)) > 1:
        return told.outcome(
            HowSure.NOT_COMPARABLE,
            "Not comparable yet: nobody tasted beside another, so how far people differ cannot be told: have "
            "two or more at one table.",
        )
    if found.f_person == 0:
        headline, alone, prefers = one_person(
            (pair[0].name, pair[1].name),
            cooking_by_cooking(pair[0].key, pair[1].key, table, method_of, day_of or {}),
            cookings=min(found.batches[pair[0].key], found.batches[pair[1].key]),
            matters=matters,
            blind=blind,
        )
        sentences += alone
        return told.outcome(HowSure.NOT_COMPARABLE, headline, pair if prefers else (None, None))
    both = _Ranges(
        nested_range(found, first.key, pair[1].key),
        assumed_range(found, first.key, pair[1].key),
    )
    sentences[:0] = _ahead(school, pair, both, found, likely)
    sentences += _still(contenders, fit_ones, names)
    sentences += _provisos(school, pair, both, found, attributes)
    sentences += told_camps(base.table, method_of, {m: names[m].name for m in fit_ones}, found)
    sure, headline = _classified(pair, both, found, matters, blind=blind)
    if knew:
        sentences.insert(
            0, Sentence(knew, "who cooked, who looked at the key, what people guessed", Stands.LAID_OUT)
        )
    wide = both.told
    interval = PairedInterval(
        first.key,
        pair[1].key,
        min(found.people[first.key], found.people[pair[1].key]),
        wide.difference,
        wide.low,
        wide.high,
        wide.level,
        found.batch_sd if wide is both.nested else found.usual_sd,
    )
    return told.outcome(sure, headline, pair, interval)


def _who_tasted(pair: Pair, table: Table, method_of: Mapping[str, str]) -> set[str]:
    """People who tasted both."""
    of = [{p for p, b in table if method_of[b] == arm.key} for arm in pair]
    return of[0] & of[1]


def _plain_means(table: Table, method_of: Mapping[str, str]) -> dict[str, float]:
    rows: dict[str, list[float]] = {}
    for (_, batch), value in sorted(table.items()):
        rows.setdefault(method_of[batch], []).append(value)
    return {m: fmean(v) for m, v in rows.items()}


def _why_not(
    judged: Sequence[Arm],
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
    day_of: Mapping[str, str],
) -> str:
    """Why nothing can be compared."""
    if len(judged) < 2:
        return "fewer than two methods have a judged cooking"
    weighs = any(a.weight > 0 and SCALES[a.scale].weighs for a in attributes)
    if len({a.method for a in answers if a.value is not None}) > 1 and not weighs:
        return "nothing that was asked counts in a score"
    if len({a.method for a in answers}) < 2:
        return "nobody has scored two methods yet"
    if len(_linked([(day_of.get(a.batch, ""), a.method) for a in answers])) > 1:
        return (
            "ways were tasted on different days and none on both, so a day cannot be told from a way: cook "
            "one of them again beside the others"
        )
    if all(len({a.method for a in answers if a.taster == p}) < 2 for p in {a.taster for a in answers}):
        return "nobody has scored two methods yet"
    return (
        "people of one sitting fall into groups that tasted nothing in common, so who likes all more cannot "
        "be told from what is better: have everybody taste everything of a round"
    )


def _linked(pairs: Sequence[tuple[str, str]]) -> list[set[str]]:
    """Ways that hang together by days on which two of them were tasted.

    >>> [sorted(g) for g in _linked([("1", "A"), ("1", "B"), ("2", "C")])]
    [['A', 'B'], ['C']]
    """
    groups: list[set[str]] = []
    for day in dict.fromkeys(d for d, _ in pairs):
        here = {m for d, m in pairs if d == day}
        beside = [g for g in groups if g & here]
        groups = [g for g in groups if not g & here] + [here.union(*beside)]
    return groups


@dataclass(frozen=True)
class _Told:
    """What every outcome of one judging carries along."""

    school: School
    shares: Mapping[str, float]
    likely: str
    contenders: Sequence[str]
    scores: Mapping[str, float]
    sentences: list[Sentence]

    def outcome(
        self,
        sure: HowSure,
        headline: str,
        pair: tuple[Arm | None, Arm | None] = (None, None),
        interval: PairedInterval | None = None,
    ) -> Verdict:
        leader, runner = (a.key if a else None for a in pair)
        return Verdict(
            self.school,
            sure,
            headline,
            leader,
            runner,
            interval,
            self.shares,
            self.likely,
            self.contenders,
            self.scores,
            tuple(self.sentences),
        )


@dataclass(frozen=True)
class _Ranges:
    """Leader minus runner-up: with batches as error (None where one was tasted of one cooking only), and with
    a spread that is known or assumed.
    """

    nested: Range | None
    assumed: Range

    @property
    def told(self) -> Range:
        """The one that the word stands on; see `yeasty.core.decide.nested.told_range`."""
        if self.nested is None or (not self.nested.off_nought and self.assumed.off_nought):
            return self.assumed
        return self.nested


def _classified(
    pair: Pair, ranges: _Ranges, found: Fit, matters: float, *, blind: bool
) -> tuple[HowSure, str]:
    """The word, and the sentence of the headline."""
    first, second = pair
    wide = ranges.nested
    # That nothing which matters lies between them is said at 90 %, and only from two tasted cookings of each.
    if matters > 0 and wide is not None:
        near = nested_range(found, first.key, second.key, LEANING_LEVEL)
        if near is not None and -matters < near.low and near.high < matters:
            return (
                HowSure.LEVEL,
                f"{first.name} and {second.name} differ by less than the {matters:g} that matters",
            )
    people = min(found.people[first.key], found.people[second.key])
    sure = wide is not None and 0 < wide.low < wide.high and people >= FEWEST_PEOPLE
    if sure and blind:
        return HowSure.CLEAR, f"Recommend {first.name}: clear"
    if sure or ranges.assumed.low > 0:
        stand = "leaning" if wide is not None else "leaning, for these cookings"
        return HowSure.LEANING, f"Recommend {first.name}: {stand}{'' if blind else ', and not tasted blind'}"
    return HowSure.LEVEL, f"{first.name} and {second.name} cannot be told apart by this panel"


def _ahead(school: School, pair: Pair, ranges: _Ranges, found: Fit, likely: str) -> list[Sentence]:
    """By how much the leader is ahead, and how likely it is the best in truth."""
    first, second = pair
    points = SCHOOLS[school].points
    wide = ranges.told
    people = min(found.people[first.key], found.people[second.key])
    if wide is ranges.nested:
        stands = (
            f"{people} people, {found.batches[first.key]} and {found.batches[second.key]} tasted cookings"
        )
        if found.earlier:
            stands += (
                f", and how far cookings lay apart in {_trials(found.earlier)}: {found.earlier.sd:.1f} points"
            )
        elif found.f_batch == 1:
            stands += f", and a spread of {ASSUMED_BATCH_SD:g} points assumed beside what these show of it"
    else:
        known = "assumed"
        if found.earlier:
            known = f"taken from {_trials(found.earlier)}"
        stands = (
            f"{people} people; a spread from cooking to cooking of {found.usual_sd:.1f} points is {known}"
        )
    one = min(found.batches.values()) < 2
    between = f"{wide.level * 100:.0f} % range {wide.low:.1f} to {wide.high:.1f}".replace("-", "−")
    ahead = f"{first.name} is ahead of {second.name} by {wide.difference:.1f} {points} ({between})."
    best = f"About {likely} that {first.name} really is the best of them."
    counted = "people and cookings both counted as chance"
    if one:
        counted += "; each was tasted of one cooking, so never more than 9 in 10"
    return [Sentence(ahead, stands), *([Sentence(best, counted)] if likely else [])]


def _trials(earlier: Earlier) -> str:
    """Where a kitchen's own spread comes from."""
    return f"{earlier.trials} earlier trial{'' if earlier.trials == 1 else 's'} of this dish"


def _still(contenders: Sequence[str], among: Sequence[str], names: Mapping[str, Arm]) -> list[Sentence]:
    """Who could still be best, and who is out."""
    kept = set(contenders)
    stay = [names[m].name for m in among if m in kept]
    out = [names[m].name for m in among if m not in kept]
    if len(stay) < 2 or len(among) < 3:
        return []
    text = f"Could still be the best: {', '.join(stay)}" + (f"; out: {', '.join(out)}." if out else ".")
    return [Sentence(text, "the best one is among them in 95 of 100 such trials")]


def _provisos(
    school: School, pair: Pair, ranges: _Ranges, found: Fit, attributes: Sequence[Attribute]
) -> list[Sentence]:
    """What has to be known beside the range."""
    told = []
    wide = ranges.nested
    if wide is not None and wide.low == wide.high:
        told.append(
            Sentence(
                "Every taster gave the same difference, so the range has no width: that is agreement, not "
                "proof.",
                f"{min(found.people.values())} tasters",
            )
        )
    rule = SCHOOLS[school].rule
    if rule is not None:
        told.append(Sentence(*rule(attributes)))
    low = min(pair, key=lambda a: found.batches[a.key])
    if found.batches[low.key] < 2:
        tasted = ", ".join(f"{a.name} {found.batches[a.key]}" for a in pair)
        cooked = "cooked once" if low.batches < 2 else "tasted of one cooking only"
        told.append(
            Sentence(
                f"{low.name} was {cooked}, so that cooking itself may be the reason: taste at least two "
                f"cookings of both to settle it.",
                f"cookings tasted: {tasted}",
            )
        )
    elif wide is not None and wide.low <= 0 < wide.difference:
        settles = SETTLES[tells_more(found, pair[0].key, pair[1].key)]
        told.append(Sentence(settles, "what either would leave of the range, by the chance that showed here"))
    return told


def _set_aside(arms: Sequence[Arm]) -> list[Sentence]:
    found = []
    for arm in arms:
        if arm.set_aside:
            total = arm.batches + len(arm.set_aside)
            found.append(
                Sentence(
                    f"{len(arm.set_aside)} of {total} cookings of {arm.name} set aside, kept and not "
                    f"averaged.",
                    "; ".join(arm.set_aside),
                    Stands.MEASURED,
                )
            )
    return found


def per_attribute(
    answers: Sequence[Answer], attributes: Sequence[Attribute]
) -> Mapping[str, Mapping[str, float]]:
    """Attribute to method to mean answer on the attribute's own scale, where a mean says something."""
    found: dict[str, dict[str, list[float]]] = {a.key: {} for a in attributes}
    averaged = {a.key for a in attributes if SCALES[a.scale].averaged}
    for (_, method, attribute), value in attribute_means(answers).items():
        if attribute in averaged:
            found[attribute].setdefault(method, []).append(value)
    return {a: {m: sum(v) / len(v) for m, v in row.items()} for a, row in found.items()}

"""The verdict: which method, how sure, in sentences that each stand on records."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.chance import first_place_shares, means, paired_interval
from yeasty.core.decide.outcome import HowSure, PairedInterval, School, Sentence, Verdict
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.decide.scores import Answer, Table, attribute_means
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import SCALES

# Clear needs a 95 % paired interval off zero and two batches of each. Leaning needs the leader first in
# 70 % of resamples and an 80 % interval off zero. Held by simulation on panels of identical methods in
# tests/core/test_decide.py.
CLEAR_LEVEL = 0.95
LEANING_LEVEL = 0.80
LEANING_SHARE = 0.70


@dataclass(frozen=True)
class Arm:
    """A method as it comes to be judged.

    Attributes
    ----------
    key, tag, name : identity and words
    batches : batches judged (neither void nor handling error)
    set_aside : batches kept but not judged, with the reason
    failed_core : judged batches whose core target was not met or not read
    """

    key: str
    tag: str
    name: str
    batches: int
    set_aside: tuple[str, ...] = ()
    failed_core: tuple[str, ...] = ()


def judge(
    school: School,
    arms: Sequence[Arm],
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
    *,
    seed: int = 1,
    batch_sd: float | None = None,
    matters: float = 0.0,
) -> Verdict:
    """Judge a trial by one school.

    Parameters
    ----------
    arms : the methods
    answers : all answers about judged batches; others are ignored
    attributes : what was asked
    batch_sd : spread from batch to batch [points] known from the kitchen's replicates, or None
    matters : smallest difference that matters [points of the school]

    Notes
    -----
    Permuting tasters, methods or answers changes nothing but the order of ties. A method with an unmet core
    target cannot be recommended; where that leaves no leader the verdict is *not safe*.
    """
    judged = [a for a in arms if a.batches > 0]
    names = {a.key: a for a in arms}
    mine = [a for a in answers if a.method in {j.key for j in judged}]
    table = SCHOOLS[school].table(mine, attributes, len(arms))
    level = means(table)
    order = sorted(level, key=lambda m: (-round(level[m], 9), names[m].tag))
    fit = [m for m in order if not names[m].failed_core]
    among_fit = first_place_shares(
        table, sorted(fit), seed=seed, batch_sd=batch_sd, batches={a.key: a.batches for a in arms}
    )
    shares = {m: among_fit.get(m, 0.0) for m in order}
    sentences = _set_aside(arms)
    told = _Told(school, shares, {m: level[m] for m in order}, sentences)
    if len(order) < 2:
        why = _why_not(judged, mine, attributes)
        return told.outcome(HowSure.NOT_COMPARABLE, f"Not comparable yet: {why}.")
    sentences += [
        Sentence(
            f"{arm.name} is not recommended: the core temperature it was to reach was not read as reached.",
            "; ".join(arm.failed_core),
        )
        for arm in judged
        if arm.failed_core
    ]
    if not fit:
        return told.outcome(
            HowSure.NOT_SAFE,
            "Not safe to recommend: no method is on record as reaching its core temperature.",
        )
    first = names[fit[0]]
    if len(fit) < 2:
        return told.outcome(
            HowSure.NOT_COMPARABLE,
            f"Only {first.name} may be recommended; nothing to compare with.",
            (first, None),
        )
    pair = (first, names[fit[1]])
    ranges = _ranges(table, pair, batch_sd, {a.key: a.batches for a in arms})
    if isinstance(ranges, str):
        return told.outcome(HowSure.NOT_COMPARABLE, f"Not comparable yet: {ranges}.", pair)
    sentences[:0] = _ahead(school, pair, ranges[0], batch_sd, shares[first.key])
    sentences += _provisos(school, pair, ranges[0], attributes)
    return told.outcome(*_classified(pair, ranges, shares[first.key], matters), pair, ranges[0])


def _why_not(judged: Sequence[Arm], answers: Sequence[Answer], attributes: Sequence[Attribute]) -> str:
    """Why nothing can be compared."""
    if len(judged) < 2:
        return "fewer than two methods have a judged batch"
    weighs = any(a.weight > 0 and SCALES[a.scale].weighs for a in attributes)
    if len({a.method for a in answers if a.value is not None}) > 1 and not weighs:
        return "nothing that was asked counts in a score"
    return "nobody has judged two methods yet"


Pair = tuple[Arm, Arm]


@dataclass(frozen=True)
class _Told:
    """What every outcome of one judging carries along."""

    school: School
    shares: Mapping[str, float]
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
            self.scores,
            tuple(self.sentences),
        )


def _ranges(
    table: Table, pair: Pair, batch_sd: float | None, batches: Mapping[str, int]
) -> tuple[PairedInterval, PairedInterval] | str:
    """The wide and the narrow range of leader minus runner-up, or why there is none, in names a reader
    knows.
    """
    first, second = pair
    try:
        wide, narrow = (
            paired_interval(table, first.key, second.key, level=level, batch_sd=batch_sd, batches=batches)
            for level in (CLEAR_LEVEL, LEANING_LEVEL)
        )
        return wide, narrow
    except RuleError as wrong:
        return wrong.message.replace(first.key, first.name).replace(second.key, second.name)


def _classified(
    pair: Pair, ranges: tuple[PairedInterval, PairedInterval], share: float, matters: float
) -> tuple[HowSure, str]:
    """The word, and the sentence of the headline."""
    (first, second), (wide, narrow) = pair, ranges
    replicated = min(first.batches, second.batches) >= 2
    if matters > 0 and wide.high < matters:
        alike = (
            f"{first.name} and {second.name} cannot be told apart by more than the {matters:g} that matters"
        )
        return HowSure.LEVEL, alike
    if wide.low > 0 and replicated:
        return HowSure.CLEAR, f"Recommend {first.name}: clear"
    if narrow.low > 0 and share >= LEANING_SHARE:
        stand = "leaning" if replicated else "leaning, for these batches"
        return HowSure.LEANING, f"Recommend {first.name}: {stand}"
    return HowSure.LEVEL, f"{first.name} and {second.name} cannot be told apart by this panel"


def _ahead(
    school: School, pair: Pair, wide: PairedInterval, batch_sd: float | None, share: float
) -> list[Sentence]:
    """By how much the leader is ahead, and how often it stays so."""
    first, second = pair
    points = SCHOOLS[school].points
    return [
        Sentence(
            f"{first.name} is ahead of {second.name} by {wide.difference:.1f} {points} "
            f"(95 % range {wide.low:.1f} to {wide.high:.1f}).",
            f"{wide.tasters} tasters who judged both, paired"
            + (f"; batch spread {batch_sd:.2f} allowed for" if batch_sd else "; no batch spread known"),
        ),
        Sentence(
            f"Drawing the tasters again keeps {first.name} first in {share:.0%} of cases.",
            "resampling of this panel; it speaks of these tasters and these batches only",
        ),
    ]


def _provisos(
    school: School, pair: Pair, wide: PairedInterval, attributes: Sequence[Attribute]
) -> list[Sentence]:
    """What has to be known beside the range."""
    first, second = pair
    found = []
    if wide.low == wide.high:
        found.append(
            Sentence(
                "Every taster gave the same difference, so the range has no width: that is agreement, not "
                "proof.",
                f"{wide.tasters} tasters",
            )
        )
    rule = SCHOOLS[school].rule
    if rule is not None:
        found.append(Sentence(*rule(attributes)))
    if min(first.batches, second.batches) < 2:
        low = min(pair, key=lambda a: a.batches)
        found.append(
            Sentence(
                f"{low.name} was cooked once, so the batch itself may be the reason: cook both at least "
                f"twice to settle it.",
                f"batches judged: {first.tag} {first.batches}, {second.tag} {second.batches}",
            )
        )
    return found


def _set_aside(arms: Sequence[Arm]) -> list[Sentence]:
    found = []
    for arm in arms:
        if arm.set_aside:
            total = arm.batches + len(arm.set_aside)
            found.append(
                Sentence(
                    f"{len(arm.set_aside)} of {total} batches of {arm.name} set aside, kept and not "
                    f"averaged.",
                    "; ".join(arm.set_aside),
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

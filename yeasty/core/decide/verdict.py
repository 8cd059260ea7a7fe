"""The verdict: which method, how sure, in sentences that each stand on records."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.chance import PairedInterval, first_place_shares, means, paired_interval
from yeasty.core.decide.scores import Answer, rank_points, ranked_directly, weighted_scores
from yeasty.core.errors import RuleError


class School(StrEnum):
    """A way of judging."""

    WEIGHTED = "weighted_score"
    RANK = "rank_points"


class HowSure(StrEnum):
    """The words a verdict may use."""

    CLEAR = "clear"
    LEANING = "leaning"
    LEVEL = "cannot be told apart"
    NOT_COMPARABLE = "not comparable"
    NOT_SAFE = "not safe"


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


@dataclass(frozen=True)
class Sentence:
    """A claim and what it stands on, in words a reader can check."""

    text: str
    stands_on: str


@dataclass(frozen=True)
class Verdict:
    """The outcome of one school.

    Attributes
    ----------
    how_sure : the word
    headline : one sentence
    leader, runner_up : method keys, None where there is none
    interval : leader minus runner-up, None where no interval can be given
    shares : method to share of resamples in which it is first among those that may be recommended
    scores : method to mean score
    sentences : claims with their records
    """

    school: School
    how_sure: HowSure
    headline: str
    leader: str | None
    runner_up: str | None
    interval: PairedInterval | None
    shares: tuple[tuple[str, float], ...]
    scores: tuple[tuple[str, float], ...]
    sentences: tuple[Sentence, ...]


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
    table = (weighted_scores if school is School.WEIGHTED else rank_points)(mine, attributes, len(arms))
    level = means(table)
    order = sorted(level, key=lambda m: (-round(level[m], 9), names[m].tag))
    fit = [m for m in order if not names[m].failed_core]
    among_fit = first_place_shares(
        table, sorted(fit), seed=seed, batch_sd=batch_sd, batches={a.key: a.batches for a in arms}
    )
    shares = {m: among_fit.get(m, 0.0) for m in order}
    sentences = _set_aside(arms)
    ranked = tuple(sorted(shares.items(), key=lambda s: order.index(s[0])))
    scores = tuple((m, level[m]) for m in order)

    def outcome(sure: HowSure, headline: str, **found: object) -> Verdict:
        leader = found.get("leader")
        runner = found.get("runner_up")
        interval = found.get("interval")
        return Verdict(
            school,
            sure,
            headline,
            leader if isinstance(leader, str) else None,
            runner if isinstance(runner, str) else None,
            interval if isinstance(interval, PairedInterval) else None,
            ranked,
            scores,
            tuple(sentences),
        )

    if len(order) < 2:
        why = (
            "nobody has judged two methods yet"
            if len(judged) > 1
            else "fewer than two methods have a judged batch"
        )
        return outcome(HowSure.NOT_COMPARABLE, f"Not comparable yet: {why}.", leader=None)
    for arm in judged:
        if arm.failed_core:
            sentences.append(
                Sentence(
                    f"{arm.name} is not recommended: the core temperature it was to reach was not read as reached.",
                    "; ".join(arm.failed_core),
                )
            )
    if not fit:
        return outcome(
            HowSure.NOT_SAFE,
            "Not safe to recommend: no method is on record as reaching its core temperature.",
        )
    leader = fit[0]
    if len(fit) < 2:
        return outcome(
            HowSure.NOT_COMPARABLE,
            f"Only {names[leader].name} may be recommended; nothing to compare with.",
            leader=leader,
        )
    runner = fit[1]
    counts = {a.key: a.batches for a in arms}
    try:
        wide = paired_interval(table, leader, runner, level=CLEAR_LEVEL, batch_sd=batch_sd, batches=counts)
        narrow = paired_interval(
            table, leader, runner, level=LEANING_LEVEL, batch_sd=batch_sd, batches=counts
        )
    except RuleError as wrong:
        # The interval knows methods by their keys; a reader knows them by name.
        said = wrong.message.replace(leader, names[leader].name).replace(runner, names[runner].name)
        return outcome(
            HowSure.NOT_COMPARABLE, f"Not comparable yet: {said}.", leader=leader, runner_up=runner
        )
    replicated = min(counts[leader], counts[runner]) >= 2
    points = "points" if school is School.WEIGHTED else "rank points"
    sentences.insert(
        0,
        Sentence(
            f"{names[leader].name} is ahead of {names[runner].name} by {wide.difference:.1f} {points} "
            f"(95 % range {wide.low:.1f} to {wide.high:.1f}).",
            f"{wide.tasters} tasters who judged both, paired"
            + (f"; batch spread {batch_sd:.2f} allowed for" if batch_sd else "; no batch spread known"),
        ),
    )
    sentences.insert(
        1,
        Sentence(
            f"Drawing the tasters again keeps {names[leader].name} first in {shares[leader]:.0%} of cases.",
            "resampling of this panel; it speaks of these tasters and these batches only",
        ),
    )
    if wide.low == wide.high:
        sentences.append(
            Sentence(
                "Every taster gave the same difference, so the range has no width: that is agreement, not proof.",
                f"{wide.tasters} tasters",
            )
        )
    if school is School.RANK:
        ranking = ranked_directly(attributes)
        sentences.append(
            Sentence(
                "Rank points: last place 0, each place one more, ties shared.",
                f"tasters' own order ({ranking.name})"
                if ranking
                else "places worked out from the weighted scores",
            )
        )
    if not replicated:
        low = min((names[leader], names[runner]), key=lambda a: a.batches)
        sentences.append(
            Sentence(
                f"{low.name} was cooked once, so the batch itself may be the reason: cook both at least twice to settle it.",
                f"batches judged: {names[leader].tag} {counts[leader]}, {names[runner].tag} {counts[runner]}",
            )
        )
    if matters > 0 and wide.high < matters:
        return outcome(
            HowSure.LEVEL,
            f"{names[leader].name} and {names[runner].name} cannot be told apart by more than the {matters:g} that matters",
            leader=leader,
            runner_up=runner,
            interval=wide,
        )
    if wide.low > 0 and replicated:
        return outcome(
            HowSure.CLEAR,
            f"Recommend {names[leader].name}: clear",
            leader=leader,
            runner_up=runner,
            interval=wide,
        )
    if narrow.low > 0 and shares[leader] >= LEANING_SHARE:
        stand = "leaning" if replicated else "leaning, for these batches"
        return outcome(
            HowSure.LEANING,
            f"Recommend {names[leader].name}: {stand}",
            leader=leader,
            runner_up=runner,
            interval=wide,
        )
    return outcome(
        HowSure.LEVEL,
        f"{names[leader].name} and {names[runner].name} cannot be told apart by this panel",
        leader=leader,
        runner_up=runner,
        interval=wide,
    )


def _set_aside(arms: Sequence[Arm]) -> list[Sentence]:
    found = []
    for arm in arms:
        if arm.set_aside:
            total = arm.batches + len(arm.set_aside)
            found.append(
                Sentence(
                    f"{len(arm.set_aside)} of {total} batches of {arm.name} set aside, kept and not averaged.",
                    "; ".join(arm.set_aside),
                )
            )
    return found


def per_attribute(
    answers: Sequence[Answer], attributes: Sequence[Attribute]
) -> Mapping[str, Mapping[str, float]]:
    """Attribute to method to mean answer on the attribute's own scale."""
    from yeasty.core.decide.scores import attribute_means

    found: dict[str, dict[str, list[float]]] = {a.key: {} for a in attributes}
    for (_, method, attribute), value in attribute_means(answers).items():
        if attribute in found:
            found[attribute].setdefault(method, []).append(value)
    return {a: {m: sum(v) / len(v) for m, v in row.items()} for a, row in found.items()}

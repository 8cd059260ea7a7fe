"""When to choose another than the one that leads: only by what stands, never by a tie."""

from collections.abc import Mapping, Sequence
from statistics import fmean

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.gaps import better
from yeasty.core.decide.measured import FIXED, Measured, order
from yeasty.core.decide.nested import told_range
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer
from yeasty.core.kernel.scales import SCALES

# What a reader may be short of, and the measure that tells.
SHORT_OF = {
    "total_s": "time is short",
    "hands_s": "hands are busy",
    "wash_up_s": "nobody wants to wash up",
    "energy_j": "energy counts",
    "cost": "money counts",
}


# However sure, a difference of less than this share is no reason to cook another way.
WORTH_SAYING = 0.1


def by_measures(leader: str, ways: Sequence[str], measured: Measured) -> dict[str, list[str]]:
    """Way to when it is the better one: each measure goes to the best of those that beat the leader by more
    than chance; without a leader, to one that beats all others.
    """
    found: dict[str, list[str]] = {}
    for key, when in SHORT_OF.items():
        m = FIXED[key]
        values = {w: v for w, v in measured.get(key, {}).items() if w in ways}
        first = next(iter(order(m, values)), None)
        against = [leader] if leader in values else [w for w in values if w != first] if not leader else []
        if first is None or first == leader or not against:
            continue
        mine, theirs = fmean(values[first]), min(fmean(values[o]) for o in against)
        if (
            all(better(m, values[first], values[o]) for o in against)
            and theirs - mine >= WORTH_SAYING * theirs
        ):
            once = ", in one cooking" if min(len(values[w]) for w in (first, *against)) < 2 else ""
            told = f"{when}: {m.name} {m.say(mine)} against {m.say(theirs)}{once}"
            found.setdefault(first, []).append(told)
    return found


def by_questions(
    leader: str,
    arms: Sequence[Arm],
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
    *,
    day_of: Mapping[str, str],
) -> dict[str, list[str]]:
    """Way to what it is better at than the leader, asked by itself, by more than chance."""
    found: dict[str, list[str]] = {}
    for a in attributes:
        if not SCALES[a.scale].weighs or not leader:
            continue
        alone = scored(
            School.WEIGHTED, arms, [x for x in answers if x.attribute == a.key], [a], day_of=day_of
        )
        if alone.fit is None or alone.fit.f_person == 0 or leader not in alone.fit.means:
            continue
        means = alone.fit.means
        ahead = [
            x.key
            for x in arms
            if x.may_lead and x.key in means and x.key != leader
            if (r := told_range(alone.fit, x.key, leader)).off_nought and r.difference > 0
        ]
        if ahead:
            first = max(ahead, key=lambda k: (means[k], k))
            found.setdefault(first, []).append(f"{a.name} matters most")
    return found

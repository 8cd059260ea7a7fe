"""What a cook is told of a plan: how good it is, what did not fit, what cannot be had together."""

from collections.abc import Mapping, Sequence

from yeasty.core.cook.plan_kept import SAME_AGE_S, ages, broken, room_left
from yeasty.core.cook.problem import PlannedStep, Problem, Rank, worded
from yeasty.core.kernel.quantities_said import say_duration

# How the sentence begins that says what leaving room costs; a screen offers to give it up beside it.
ROOM = "Room is left:"

LIMITS, WINDOW, OLDEST, AGES, LONGEST, SPREAD, MOVED, CALM, LATEST, IDLE = (
    "limits kept",
    "plates within the window",
    "age of the oldest plate",
    "difference between ages",
    "longest hold",
    "difference between holds",
    "moved from the last plan",
    "hurried moments",
    "earliest start",
    "standing idle before the heat",
)


def proof(ranks: Sequence[Rank], unsearched: Sequence[str] = ()) -> str:
    """How good a plan is, in words; `unsearched` are wishes there was no time for, or too much to search.

    >>> proof([Rank("longest hold", 120, 120, True)], ["hurried moments"])
    'proven best in longest hold; no time to look at hurried moments'
    >>> proof([Rank("longest hold", 120, 120, True), Rank("hurried moments", 3, 1, False, "")])
    'proven best in longest hold; hurried moments 3, at best 1'
    """
    proven = [r.name for r in ranks if r.proven]
    loose = [r for r in ranks if not r.proven]
    if not loose and not unsearched:
        return "proven best in every rank"
    said = f"proven best in {', '.join(proven)}" if proven else "not proven best"

    def value(r: Rank, v: float) -> str:
        return f"{v:.0f}" if not r.unit else worded(v) if r.name != LATEST else "later"

    told = [f"{r.name} {value(r, r.value)}, at best {value(r, r.bound)}" for r in loose if r.name != LATEST]
    if unsearched:
        told.append(f"no time to look at {', '.join(unsearched)}")
    return "; ".join([said, *told]) + (
        "; the start may be possible later" if any(r.name == LATEST for r in loose) else ""
    )


def notes(
    problem: Problem, items: Sequence[PlannedStep], served: Mapping[str, float], clashing: Sequence[str]
) -> list[str]:
    """Sentences about what did not fit, read from the plan itself."""
    tags = {c.batch: c.tag for c in problem.chains}
    found = []
    late = {b: t - problem.serve_until for b, t in served.items() if t > problem.serve_until + 1}
    early = [tags[b] for b, t in served.items() if t < problem.serve_from - 1]
    if late:
        worst = max(late, key=lambda b: late[b])
        found.append(f"The plates cannot meet as asked: {tags[worst]} is {worded(late[worst])} late.")
    if early:
        found.append(f"Plated before the window: {', '.join(sorted(early))}.")
    found += [b.sentence for b in broken(problem, items)]
    if problem.same_age:
        found += not_alike(ages(problem, items), tags)
    if problem.leave_room:
        found += cost_of_room(problem, items)
    if clashing:
        found.append(f"Not all of this can be had: {'; '.join(clashing)}. Give up one of them.")
    return found


def not_alike(age: Mapping[str, float], tags: Mapping[str, str]) -> list[str]:
    """Which plates are not as old as the others when they are tasted; nothing where all are.

    >>> not_alike({"a": 300, "b": 360, "c": 7500}, {"a": "OV", "b": "AF", "c": "MW"})
    ['Not all can be tasted at one age: MW is 2 h 5 min old, the others about 6 min. Taste them in sittings of fewer methods.']
    """  # noqa: E501
    if len(age) < 2:
        return []
    # As many as can be lie within one stretch of ages; what lies outside is named.
    ordered = sorted(age.values())
    usual = max(ordered, key=lambda a: sum(a <= x <= a + SAME_AGE_S for x in ordered))
    alike = [x for x in ordered if usual <= x <= usual + SAME_AGE_S]
    apart = sorted(
        ((x, tags[b]) for b, x in age.items() if not usual <= x <= usual + SAME_AGE_S), reverse=True
    )
    if not apart:
        return []
    told = ", ".join(f"{tag} is {say_duration(x)} old" for x, tag in apart)
    return [
        f"Not all can be tasted at one age: {told}, the others about {say_duration(max(alike))}. "
        "Taste them in sittings of fewer methods."
    ]


def cost_of_room(problem: Problem, items: Sequence[PlannedStep]) -> list[str]:
    """What it costs that food which may take longer still meets the others."""
    rows = room_left(problem, items)
    if not rows:
        return []
    tags = ", ".join(dict.fromkeys(c.tag for c, _, _ in rows))
    longest, waits = max(late for _, late, _ in rows), max(held for _, _, held in rows)
    return [
        f"{ROOM} {tags} may take up to {worded(longest)} longer and would still meet the others; "
        f"where nothing takes longer, up to {worded(waits)} is waited."
    ]

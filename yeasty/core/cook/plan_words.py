"""What a cook is told of a plan: how good it is, what did not fit, what cannot be had together."""

from collections.abc import Mapping, Sequence

from yeasty.core.cook.problem import Problem, Rank, worded

LIMITS, WINDOW, AGES, LONGEST, SPREAD, MOVED, CALM, LATEST, IDLE = (
    "limits kept",
    "plates within the window",
    "difference between ages",
    "longest hold",
    "difference between holds",
    "moved from the last plan",
    "hurried moments",
    "earliest start",
    "standing idle before the heat",
)


def proof(ranks: Sequence[Rank]) -> str:
    """How good a plan is, in words.

    >>> proof([Rank("longest hold", 120, 120, True), Rank("hurried moments", 3, 1, False, "")])
    'proven best in longest hold; hurried moments 3, at best 1'
    """
    proven = [r.name for r in ranks if r.proven]
    loose = [r for r in ranks if not r.proven]
    if not loose:
        return "proven best in every rank"
    said = f"proven best in {', '.join(proven)}" if proven else "not proven best"

    def value(r: Rank, v: float) -> str:
        return f"{v:.0f}" if not r.unit else worded(v) if r.name != LATEST else "later"

    told = [f"{r.name} {value(r, r.value)}, at best {value(r, r.bound)}" for r in loose if r.name != LATEST]
    return "; ".join([said, *told]) + (
        "; the start may be possible later" if any(r.name == LATEST for r in loose) else ""
    )


def notes(
    problem: Problem, served: Mapping[str, float], ranks: Sequence[Rank], clashing: Sequence[str]
) -> list[str]:
    """Sentences about what did not fit."""
    tags = {c.batch: c.tag for c in problem.chains}
    found = []
    late = {b: t - problem.serve_until for b, t in served.items() if t > problem.serve_until + 1}
    early = [tags[b] for b, t in served.items() if t < problem.serve_from - 1]
    if late:
        worst = max(late, key=lambda b: late[b])
        found.append(f"The plates cannot meet as asked: {tags[worst]} is {worded(late[worst])} late.")
    if early:
        found.append(f"Plated before the window: {', '.join(sorted(early))}.")
    if any(r.name == LIMITS and r.value > 0 for r in ranks):
        found.append("A limit cannot be kept.")
    if clashing:
        found.append(f"Not all of this can be had: {'; '.join(clashing)}. Give up one of them.")
    return found

"""The plan: when each step of each batch begins, so that the plates meet.

First way of solving: a backward pass from the serving window that respects hands, watching and
appliances. It is feasible by construction and not proven best; it says so. Whatever solves later stands
behind the same `solve`.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from yeasty.core.cook.steps import Attention, Phase, Step, chain_of, check_steps, contiguous
from yeasty.core.errors import RuleError

EARLIEST_S = -14 * 86400.0


@dataclass(frozen=True)
class Chain:
    """One batch to be cooked: its key and its steps.

    `spots` maps an appliance to where it stands; appliances without one count as in sight of each other.
    """

    batch: str
    tag: str
    steps: tuple[Step, ...]


@dataclass(frozen=True)
class Problem:
    """What is to be planned.

    Parameters
    ----------
    chains : batches with their steps
    serve_from, serve_until : the serving window [s, on any clock]
    people : pairs of hands, 1 to 4
    spots : appliance key to spot
    not_before : nothing begins earlier [s]; None when there is all the time
    """

    chains: tuple[Chain, ...]
    serve_from: float
    serve_until: float
    people: int = 1
    spots: tuple[tuple[str, str], ...] = ()
    not_before: float | None = None


@dataclass(frozen=True)
class PlannedStep:
    """A step of a batch with planned start and end [s]."""

    batch: str
    step: str
    start: float
    end: float


@dataclass(frozen=True)
class Plan:
    """A plan, what is known of its quality, and what a cook should know.

    Attributes
    ----------
    items : every step of every batch, in order of start
    served : batch to time on the plate [s]
    holds : batch to waiting beyond the planned rest [s]
    longest_hold_s : the largest of them [s]
    proof : "not proven best" for this way of solving
    notes : sentences about what did not fit
    """

    items: tuple[PlannedStep, ...]
    served: tuple[tuple[str, float], ...]
    holds: tuple[tuple[str, float], ...]
    longest_hold_s: float
    proof: str
    notes: tuple[str, ...]


@dataclass(frozen=True)
class _Busy:
    start: float
    end: float
    batch: str
    what: Attention
    spot: str
    appliance: str
    set_point: float | None


@dataclass(frozen=True)
class _Block:
    """Steps that follow each other at once, with their offsets from the block's start."""

    batch: str
    parts: tuple[tuple[Step, float], ...]
    length: float


def _blocks(chain: Chain) -> list[_Block]:
    blocks: list[list[tuple[Step, float]]] = []
    lengths: list[float] = []
    before: Step | None = None
    for main, during in chain_of([s for s in chain.steps if s.phase is not Phase.WASH_UP]):
        if before is None or not contiguous(before, main):
            blocks.append([])
            lengths.append(0.0)
        at = lengths[-1]
        blocks[-1].append((main, at))
        blocks[-1].extend((d, at + (d.during_offset_s or 0.0)) for d in during)
        lengths[-1] += main.duration_s
        before = main
    return [_Block(chain.batch, tuple(parts), length) for parts, length in zip(blocks, lengths, strict=True)]


def _clash(step: Step, start: float, spot: str, batch: str, busy: Sequence[_Busy], people: int) -> _Busy | None:
    """The occupied interval that keeps `step` from starting at `start`, if any.

    One person can watch and use hands at the same spot, or where no spot is given; two watched steps at
    different spots need two people. Hands work takes a person whole.
    """
    end = start + step.duration_s
    over = [b for b in busy if b.start < end - 1e-6 and start < b.end - 1e-6]
    for b in over:
        if step.appliance and b.appliance == step.appliance and b.batch != batch and step.set_point_c != b.set_point:
            return b
    if step.attention is Attention.FREE:
        return None

    def away(b: _Busy) -> bool:
        if b.what is Attention.FREE:
            return False
        if step.attention is Attention.HANDS and b.what is Attention.HANDS:
            return True
        return bool(spot and b.spot and spot != b.spot)

    against = [b for b in over if away(b)]
    if len(against) >= people:
        return max(against, key=lambda b: -b.start)
    return None


def _fit(block: _Block, latest_end: float, busy: list[_Busy], people: int, spots: dict[str, str]) -> float:
    """The latest start of a block that ends by `latest_end` and clashes with nothing."""
    start = latest_end - block.length
    for _ in range(10_000):
        for step, offset in block.parts:
            spot = spots.get(step.appliance or "", "")
            clash = _clash(step, start + offset, spot, block.batch, busy, people)
            if clash:
                start = min(start - 1.0, clash.start - step.duration_s - offset)
                break
        else:
            return start
        if start < latest_end + EARLIEST_S:
            break
    raise RuleError("plan", "no place for a step within two weeks", "Use fewer methods, or another pair of hands.")


def solve(problem: Problem, time_limit_s: float = 1.0, seed: int = 0) -> Plan:
    """A plan that ends with the plates in the serving window, or as near as hands allow.

    Parameters
    ----------
    problem : what is to be planned
    time_limit_s, seed : for ways of solving that search; this one takes neither into account

    Raises
    ------
    RuleError : a chain with bad steps, a window that ends before it begins, no batch

    Notes
    -----
    Batches are taken in turn by the latest end of what is left of them, so that the hold of each stays
    short. Washing-up is not planned: it is counted.
    """
    if not problem.chains:
        raise RuleError("batches", "none to plan", "Add at least one batch to the shift.")
    if problem.serve_until < problem.serve_from:
        raise RuleError("serving window", "ends before it begins", "Give the later time as its end.")
    if not 1 <= problem.people <= 4:
        raise RuleError("people", f"{problem.people}", "Give 1 to 4 pairs of hands.")
    for chain in problem.chains:
        if not chain.steps:
            raise RuleError(chain.tag, "has no steps", "Give the method at least one step.")
        for wrong in check_steps(chain.steps):
            raise RuleError(f"{chain.tag}, {wrong.field}", wrong.message, wrong.todo)
    spots = dict(problem.spots)
    left = {c.batch: _blocks(c) for c in problem.chains}
    tags = {c.batch: c.tag for c in problem.chains}
    deadline = dict.fromkeys(left, problem.serve_until)
    placed: list[PlannedStep] = []
    busy: list[_Busy] = []
    holds = dict.fromkeys(left, 0.0)
    served: dict[str, float] = {}
    while any(left.values()):
        batch = max((b for b in left if left[b]), key=lambda b: (deadline[b] - left[b][-1].length * 1e-3, b))
        block = left[batch].pop()
        start = _fit(block, deadline[batch], busy, problem.people, spots)
        gap = deadline[batch] - (start + block.length)
        if batch in served and block.parts[-1][0].phase is Phase.WAIT:
            holds[batch] += gap
        for step, offset in block.parts:
            begin = start + offset
            placed.append(PlannedStep(batch, step.key, begin, begin + step.duration_s))
            spot = spots.get(step.appliance or "", "")
            busy.append(
                _Busy(begin, begin + step.duration_s, batch, step.attention, spot, step.appliance or "", step.set_point_c)
            )
        served.setdefault(batch, start + block.length)
        deadline[batch] = start
    notes = []
    shift = 0.0
    earliest = min(p.start for p in placed)
    if problem.not_before is not None and earliest < problem.not_before:
        shift = problem.not_before - earliest
        late = max(1, round(shift / 60))
        notes.append(
            f"The plates cannot meet as asked: {tags[min(placed, key=lambda p: p.start).batch]} should have begun "
            f"{late} min ago. Everything is moved {late} min later."
        )
    early = [tags[b] for b, t in served.items() if t < problem.serve_from - 1e-6]
    if early:
        notes.append(f"Plated before the window, for want of hands: {', '.join(sorted(early))}.")
    items = sorted(
        (PlannedStep(p.batch, p.step, p.start + shift, p.end + shift) for p in placed),
        key=lambda p: (p.start, p.batch, p.step),
    )
    return Plan(
        tuple(items),
        tuple(sorted((b, t + shift) for b, t in served.items())),
        tuple(sorted(holds.items())),
        max(holds.values()),
        "not proven best",
        tuple(notes),
    )

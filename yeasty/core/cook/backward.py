"""A backward pass from the serving window: quick, respects hands, watching and appliances, proves nothing.

It gives the solver its first answer, and stands by itself where there is no time to search: it knows nothing
of circuits, capacity, hold limits or day-before hours, and says so by its proof.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from math import floor

from yeasty.core.cook.blocks import Block, blocks_of, side_blocks
from yeasty.core.cook.plannable import check_problem
from yeasty.core.cook.problem import Plan, PlannedStep, Problem
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, Phase, Step

EARLIEST_S = -14 * 86400.0


@dataclass(frozen=True)
class _Busy:
    start: float
    end: float
    batch: str
    what: Attention
    spot: str
    appliance: str
    set_point: float | None


class _Taken:
    """What is occupied, kept by stretches of time, so that a question looks at what may overlap and at
    nothing else.
    """

    STRETCH_S = 600.0

    def __init__(self, busy: Iterable[_Busy] = ()) -> None:
        self._by_stretch: dict[int, list[tuple[int, _Busy]]] = {}
        self._count = 0
        for b in busy:
            self.add(b)

    def add(self, busy: _Busy) -> None:
        if busy.what is Attention.FREE and not busy.appliance:
            return
        self._count += 1
        for stretch in self._stretches(busy.start, busy.end):
            self._by_stretch.setdefault(stretch, []).append((self._count, busy))

    def over(self, start: float, end: float) -> list[_Busy]:
        """What overlaps, in the order in which it was taken."""
        found = {
            n: b
            for stretch in self._stretches(start, end)
            for n, b in self._by_stretch.get(stretch, ())
            if b.start < end - 1e-6 and start < b.end - 1e-6
        }
        return [found[n] for n in sorted(found)]

    def _stretches(self, start: float, end: float) -> range:
        return range(floor(start / self.STRETCH_S), floor(end / self.STRETCH_S) + 1)


def _clash(step: Step, start: float, spot: str, batch: str, busy: _Taken, people: int) -> _Busy | None:
    """The occupied interval that keeps `step` from starting at `start`, if any.

    One person can watch and use hands at the same spot, or where no spot is given; two watched steps at
    different spots need two people. Hands work takes a person whole.
    """
    end = start + step.duration_s
    over = busy.over(start, end)
    for b in over:
        if (
            step.appliance
            and b.appliance == step.appliance
            and b.batch != batch
            and step.set_point_c != b.set_point
        ):
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


def _fit(block: Block, latest_end: float, busy: _Taken, people: int, spots: dict[str, str]) -> float:
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
    raise RuleError(
        "plan", "no place for a step within two weeks", "Use fewer methods, or another pair of hands."
    )


def _taken(problem: Problem, spots: dict[str, str]) -> list[_Busy]:
    """What batches that have begun occupy."""
    found = []
    for chain, items in problem.fixed:
        by_key = {s.key: s for s in chain.steps}
        for p in items:
            step = by_key[p.step]
            if step.phase is not Phase.WASH_UP:
                found.append(_busy(p, step, spots))
    return found


def _busy(p: PlannedStep, step: Step, spots: dict[str, str]) -> _Busy:
    """What a planned step occupies."""
    spot = spots.get(step.appliance or "", "")
    return _Busy(p.start, p.end, p.batch, step.attention, spot, step.appliance or "", step.set_point_c)


def backward_pass(problem: Problem) -> Plan:
    """A plan that ends with the plates in the serving window, or as near as hands allow.

    Raises
    ------
    RuleError : what `check_problem` refuses, or no place for a step within two weeks

    Notes
    -----
    Batches are taken in turn by the latest end of what is left of them, so that the hold of each stays
    short. Washing-up is not planned: it is counted.
    """
    check_problem(problem)
    spots = {p.key: p.spot for p in problem.places} | dict(problem.spots)
    left = {c.batch: blocks_of(c) for c in problem.chains}
    tags = {c.batch: c.tag for c in problem.chains}
    deadline = dict.fromkeys(left, problem.serve_until)
    placed: list[PlannedStep] = []
    busy = _Taken(_taken(problem, spots))
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
            busy.add(_busy(placed[-1], step, spots))
        served.setdefault(batch, start + block.length)
        deadline[batch] = start
    for chain in problem.chains:
        for block, taker in side_blocks(chain):
            until = next(p.start for p in placed if (p.batch, p.step) == (chain.batch, taker))
            start = _fit(block, until, busy, problem.people, spots)
            for step, offset in block.parts:
                begin = start + offset
                placed.append(PlannedStep(chain.batch, step.key, begin, begin + step.duration_s))
                busy.add(_busy(placed[-1], step, spots))
    notes = []
    shift = 0.0
    earliest = min(p.start for p in placed)
    if problem.not_before is not None and earliest < problem.not_before:
        shift = problem.not_before - earliest
        late = max(1, round(shift / 60))
        notes.append(
            f"The plates cannot meet as asked: {tags[min(placed, key=lambda p: p.start).batch]} should "
            f"have begun "
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
        max(holds.values(), default=0.0),
        "not proven best",
        tuple(notes),
    )

"""One batch after another: a plan that keeps every rule of the kitchen and none of the wishes.

It gives the search something that holds to begin from, and stands by itself where there was no time to find
better.
"""

from dataclasses import replace
from math import ceil

from yeasty.core.cook.blocks import Block, blocks_of, side_blocks
from yeasty.core.cook.problem import DAY_S, WORK_FROM_S, Chain, PlannedStep, Problem, latest_end, pace_of
from yeasty.core.cook.together import in_loads, prepared_by, prepared_steps, without_begun
from yeasty.core.kernel.steps import Attention, Phase, preheats_beside


def in_turn(problem: Problem) -> tuple[PlannedStep, ...] | None:
    """Every batch whole before the next begins, the last on the plate at the end of the window; later where
    it is too late.

    None where batches are cooked together, or where day-before work lies in the past.
    """
    if in_loads(problem.chains):
        return None
    by = prepared_by(problem.chains)
    if by is not None:
        return _prepared_first(problem, by)
    placed: list[PlannedStep] = []
    at = 0.0
    days: dict[int, float] = {}
    for chain in problem.chains:
        began = at
        rows, at = _whole(problem, chain, at, days)
        placed += rows
        at = max(at, began + pace_of(problem)) + _between(problem, chain)
    ahead = {(p.batch, p.step) for p in placed if p.end <= 0 and days}
    today = [p for p in placed if (p.batch, p.step) not in ahead]
    last = max((p.end for p in today), default=0.0)
    first = problem.serve_until - last
    ready = {(c.batch, key): moment for c in problem.chains for key, moment in c.ready}
    first = max([first, *(ready[p.batch, p.step] - p.start for p in today if (p.batch, p.step) in ready)])
    over = max(
        (latest_end(s, p) for c, items in problem.fixed for p in items for s in c.steps if s.key == p.step),
        default=None,
    )
    for bound in (problem.not_before, over):
        if bound is not None:
            first = max(first, bound + _changes(problem))
    moved = [PlannedStep(p.batch, p.step, p.start + ceil(first), p.end + ceil(first)) for p in today]
    if not ahead:
        return tuple(moved)
    assert problem.midnight is not None
    before = [
        PlannedStep(p.batch, p.step, p.start + problem.midnight, p.end + problem.midnight)
        for p in placed
        if (p.batch, p.step) in ahead
    ]
    if problem.not_before is not None and min(p.start for p in before) < problem.not_before:
        return None
    return (*before, *moved)


def _prepared_first(problem: Problem, by: Chain) -> tuple[PlannedStep, ...] | None:
    """The shared preparation once, then what is left one after another; None where it is spread over days."""
    alone = replace(by, steps=prepared_steps(by), waits=(), prepared=0)
    if any(s.days_before for s in alone.steps):
        return None
    rest = replace(problem, chains=tuple(replace(c, prepared=0) for c in problem.chains))
    lasts = sum(ceil(b.length) + problem.walk_s for b in blocks_of(alone))
    whole = in_turn(rest)
    if whole is None:
        return None
    begins = min(p.start for p in whole) - lasts - 1
    if problem.not_before is not None:
        begins = max(begins, problem.not_before)
    first = in_turn(
        replace(problem, chains=(alone,), fixed=(), serve_until=begins + lasts, not_before=begins)
    )
    if first is None:
        return None
    once = {p.step: p for p in first}
    over = max(p.end for p in first)
    left = tuple(
        without_begun(c, {s.key: once[s.key] for s in prepared_steps(c)}) if c.prepared else c
        for c in problem.chains
    )
    after = in_turn(replace(problem, chains=left, not_before=max(over, problem.not_before or over)))
    if after is None:
        return None
    for_all = [replace(once[s.key], batch=c.batch) for c in problem.chains for s in prepared_steps(c)]
    return (*for_all, *after)


def _ordered(chain: Chain) -> list[Block]:
    """All blocks as they are written, a preheat before what it is for."""
    order = {s.key: n for n, s in enumerate(chain.steps)}
    every = [*blocks_of(chain), *(b for b, _ in side_blocks(chain))]
    return sorted(every, key=lambda b: order[b.parts[0][0].key])


def _whole(
    problem: Problem, chain: Chain, at: float, days: dict[int, float]
) -> tuple[list[PlannedStep], float]:
    """A batch by itself from a moment on: its steps, and when it is over. Day-before work lies before nought,
    by its day.
    """
    found: list[PlannedStep] = []
    off: list[tuple[str, float, float | None]] = []
    side = preheats_beside(chain.steps)
    for block in _ordered(chain):
        if block.days_before:
            begins = days.setdefault(block.days_before, WORK_FROM_S - block.days_before * DAY_S)
            days[block.days_before] = begins + _busy(block) + problem.walk_s
            start = begins
        else:
            # What is heated up for a later heat waits until the one before is over at the latest.
            start = max([at, *(end for _, end, _ in off)]) if block.parts[0][0].key in side else at
            for step, offset in block.parts:
                inside = any(s.appliance == step.appliance and o < offset for s, o in block.parts)
                for place, end, point in off:
                    if step.appliance == place and step.phase in (Phase.COOK, Phase.COME_UP):
                        change = problem.place(place).change_s(point, step.set_point_c)
                        # A preheat may begin once the appliance is free; food goes in once it has changed
                        # over.
                        wait = change if step.phase is Phase.COOK and not inside else 0.0
                        start = max(start, end + wait - offset)
            # What may be drawn out is followed at once, walk or no walk.
            at = start + ceil(block.length) + (0.0 if block.slack_s else problem.walk_s)
        found += [
            PlannedStep(chain.batch, s.key, start + o, start + o + s.duration_s) for s, o in block.parts
        ]
        for step, offset in block.parts:
            if step.appliance and step.phase is Phase.COOK:
                ends = start + offset + step.duration_s + step.overrun_s
                off.append((step.appliance, ends, step.set_point_c))
    return found, at


def _busy(block: Block) -> float:
    """How long hands are needed at its beginning [s]."""
    hands = [o + s.duration_s for s, o in block.parts if s.attention is not Attention.FREE]
    return max([60.0, *hands])


def _changes(problem: Problem) -> float:
    """Time enough to change any appliance over from any set point to any other [s]."""
    points: dict[str, set[float]] = {}
    for chain in (*problem.chains, *(c for c, _ in problem.fixed)):
        for s in chain.steps:
            if s.appliance and s.set_point_c is not None:
                points.setdefault(s.appliance, set()).add(s.set_point_c)
    ways = [
        max(problem.place(k).change_s(min(p), max(p)), problem.place(k).change_s(max(p), min(p)))
        for k, p in points.items()
    ]
    return max(ways, default=0.0)


def _between(problem: Problem, chain: Chain) -> float:
    return _changes(problem) + sum(s.overrun_s for s in chain.steps) + problem.walk_s + 1

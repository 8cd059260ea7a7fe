"""Preheats in a plan: as late as they may be, and one for all that go in while the appliance is hot.

Both only shorten or join stretches in which an appliance is on, so that no rule that held is broken by them.
"""

import itertools
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from yeasty.core.cook.blocks import food_steps, side_blocks
from yeasty.core.cook.plan_places import set_point_of, stages_of
from yeasty.core.cook.problem import Chain, PlannedStep, Problem, latest_end
from yeasty.core.cook.steps import Attention, Phase, preheats_beside
from yeasty.core.cook.together import in_loads

Items = dict[tuple[str, str], PlannedStep]


def settled(problem: Problem, items: Sequence[PlannedStep]) -> list[PlannedStep]:
    """A plan with its preheats no earlier than they need be, and each appliance preheated once while it stays hot."""
    at = {(p.batch, p.step): p for p in items}
    loaded = in_loads(problem.chains)
    for chain in problem.chains:
        if chain.batch not in loaded:
            _as_late_as_can_be(chain, at)
    for place in {s.appliance for c in problem.chains for s in c.steps if s.appliance}:
        if problem.place(place).rings == 1:
            _once(problem, place, at, loaded)
    return list(at.values())


def _as_late_as_can_be(chain: Chain, at: Items) -> None:
    followed = [(b.parts[0][0], taker) for b, taker in side_blocks(chain) if len(b.parts) == 1]
    mains = food_steps(chain)
    followed += [
        (step, then.key)
        for (step, during), (then, _) in itertools.pairwise(mains)
        if step.phase is Phase.COME_UP and not during and step.days_before == then.days_before
    ]
    for step, taker in followed:
        p = at[chain.batch, step.key]
        later = at[chain.batch, taker].start - p.end
        if step.attention is Attention.FREE and later > 0:
            at[chain.batch, step.key] = replace(p, start=p.start + later, end=p.end + later)


@dataclass
class _Hot:
    """An appliance in use at one set point: by whom, with which preheat if any, from when until when."""

    batch: str
    preheat: str
    on: float
    off: float
    set_point: float


def _once(problem: Problem, place: str, at: Items, loaded: Collection[str]) -> None:
    uses = []
    for chain in problem.chains:
        free = _may_be_earlier(chain)
        for use in stages_of(chain.steps).get(place, []):
            steps = [s for s, _ in use]
            points = {set_point_of(s, use) for s in steps}
            (point, *more) = points
            if more or point is None or chain.batch in loaded:
                continue
            rows = [at[chain.batch, s.key] for s in steps]
            off = max(latest_end(s, p) for s, p in zip(steps, rows, strict=True))
            # Hot oil is watched by whoever heats it up: joined to another's, nobody would stay until its food goes in.
            alone = steps[0].attention is Attention.FREE
            preheat = steps[0].key if steps[0].key in free and alone else ""
            uses.append(_Hot(chain.batch, preheat, rows[0].start, off, point))
    hot: _Hot | None = None
    first: PlannedStep | None = None
    for use_ in sorted(uses, key=lambda u: (u.on, u.off)):
        if hot is not None and use_.set_point == hot.set_point and use_.on <= hot.off:
            hot.off = max(hot.off, use_.off)
            if first is not None and use_.preheat:
                mine = at[use_.batch, use_.preheat]
                if first.end <= mine.end and first.end - first.start == mine.end - mine.start:
                    at[use_.batch, use_.preheat] = replace(mine, start=first.start, end=first.end)
        else:
            hot = use_
            first = at[use_.batch, use_.preheat] if use_.preheat else None


def _may_be_earlier(chain: Chain) -> frozenset[str]:
    """Preheats that nothing of their own batch has to come before: those beside the food, and one that begins its day."""
    today = [m for m, during in food_steps(chain) if not m.days_before and not during]
    opening = {m.key for m in today[:1] if m.phase is Phase.COME_UP}
    return preheats_beside(chain.steps) | opening

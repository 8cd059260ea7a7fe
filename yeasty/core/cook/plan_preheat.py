"""Preheats in a plan: as late as they may be, and one for all that go in while the appliance is hot.

Both only shorten or join stretches in which an appliance is on, so that no rule that held is broken by them.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import inf

from yeasty.core.cook.blocks import food_steps, side_blocks
from yeasty.core.cook.plan_places import set_point_of, stages_of
from yeasty.core.cook.problem import Chain, PlannedStep, Problem, latest_end
from yeasty.core.cook.together import done_together, in_loads
from yeasty.core.kernel.steps import Attention, Phase, empty_preheats, preheats_beside

Items = dict[tuple[str, str], PlannedStep]


def settled(problem: Problem, items: Sequence[PlannedStep]) -> list[PlannedStep]:
    """A plan with its preheats no earlier than they need be, and each appliance preheated once while it stays
    hot.
    """
    at = {(p.batch, p.step): p for p in items}
    loaded = in_loads(problem.chains)
    for chain in problem.chains:
        if chain.batch not in loaded:
            _as_late_as_can_be(chain, at)
    for place in {s.appliance for c in problem.chains for s in c.steps if s.appliance}:
        if problem.place(place).rings == 1:
            _once(problem, place, at)
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
    """An appliance in use at one set point: by whom, with which preheat if any, from when until when.

    `mates` : all preheats that are this one (batch, step): of a load that of each batch in it
    """

    batch: str
    preheat: str
    on: float
    off: float
    set_point: float
    mates: tuple[tuple[str, str], ...]


def _once(problem: Problem, place: str, at: Items) -> None:
    uses = []
    earliest = {(c.batch, k): t for c in problem.chains for k, t in _earliest(c, at).items()}
    shared = {
        (b, key): tuple((o, keys[name]) for o, keys in t.once.items())
        for t in done_together(problem.chains)
        for b, own in t.once.items()
        for name, key in own.items()
    }
    for chain in problem.chains:
        for use in stages_of(chain.steps).get(place, []):
            steps = [s for s, _ in use]
            points = {set_point_of(s, use) for s in steps}
            (point, *more) = points
            if more or point is None:
                continue
            rows = [at[chain.batch, s.key] for s in steps]
            off = max(latest_end(s, p) for s, p in zip(steps, rows, strict=True))
            # Hot oil is watched by whoever heats it up: joined to another's, nobody would stay until its food
            # goes in.
            alone = steps[0].attention is Attention.FREE
            preheat = steps[0].key if (chain.batch, steps[0].key) in earliest and alone else ""
            mates = shared.get((chain.batch, preheat), ((chain.batch, preheat),))
            if not all(m in earliest for m in mates):
                preheat = ""
            uses.append(_Hot(chain.batch, preheat, rows[0].start, off, point, mates))
    hot: _Hot | None = None
    first: PlannedStep | None = None
    for use_ in sorted(uses, key=lambda u: (u.on, u.off)):
        if hot is not None and use_.set_point == hot.set_point and use_.on <= hot.off:
            hot.off = max(hot.off, use_.off)
            if first is not None and use_.preheat:
                mine = at[use_.batch, use_.preheat]
                fits = first.end <= mine.end and first.end - first.start == mine.end - mine.start
                if fits and all(earliest[m] <= first.start for m in use_.mates):
                    for mate in use_.mates:
                        at[mate] = replace(at[mate], start=first.start, end=first.end)
        else:
            hot = use_
            first = at[use_.batch, use_.preheat] if use_.preheat else None


def _earliest(chain: Chain, at: Items) -> dict[str, float]:
    """Preheats of an empty appliance, and from when on each may begin [s]: what comes before it in its own
    batch is over.
    """
    found = dict.fromkeys(preheats_beside(chain.steps), -inf)
    empty = empty_preheats(chain.steps)
    before, days = -inf, 0
    for main, during in food_steps(chain):
        if main.key in empty and not during and not main.days_before:
            found[main.key] = before if days == 0 else -inf
        before, days = at[chain.batch, main.key].end, main.days_before
    return found

"""Hands and watching in a plan: nobody is needed twice at once, and someone stays where it is watched."""

from math import ceil, floor

from ortools.sat.python import cp_model

from yeasty.core.cook.plan_timeline import Timeline
from yeasty.core.kernel.steps import Attention, Phase


def add_hands(model: Timeline) -> list[tuple[int, int, int]]:
    """No more hand works at once than there are pairs of hands; every hand work: block, offset, length with
    the walk [s].
    """
    walk = ceil(model.problem.walk_s)
    works = [
        (n, o, length + walk)
        for n in range(len(model.blocks))
        for o, length, _ in _stretches(model, n, Attention.HANDS)
    ]
    hands = "one pair of hands" if model.problem.people == 1 else f"{model.problem.people} pairs of hands"
    if model.group(hands):
        free = [(model.interval(*w), 1) for w in works]
        fixed = [(a, length, 1) for a, length, _ in _fixed(model, Attention.HANDS)]
        model.cumulative(free, fixed, model.problem.people)
    return works


def add_watching(model: Timeline) -> None:
    """Whoever watches stays: nobody's hands are needed elsewhere than there are people left for."""
    watched = [
        (n, o, length, spot)
        for n in range(len(model.blocks))
        for o, length, spot in _stretches(model, n, Attention.WATCHED)
        if spot
    ]
    fixed = [f for f in _fixed(model, Attention.WATCHED) if f[2]]
    spots = sorted({w[3] for w in watched} | {f[2] for f in fixed})
    if not spots or not model.group("someone stays where it is watched"):
        return
    walk = ceil(model.problem.walk_s)
    hands = [
        (n, o, length + walk, spot)
        for n in range(len(model.blocks))
        for o, length, spot in _stretches(model, n, Attention.HANDS)
    ]
    for here in spots:
        own = [(n, o, length) for n, o, length, spot in watched if spot == here]
        own_fixed = [(a, length, 1) for a, length, spot in fixed if spot == here]
        away = [(n, o, length) for n, o, length, spot in [*hands, *watched] if spot and spot != here]
        away_fixed = [
            (a, length, 1)
            for a, length, spot in [*_fixed(model, Attention.HANDS), *fixed]
            if spot and spot != here
        ]
        if model.problem.people == 1:
            # Watching at one spot may overlap with watching there; only work elsewhere is shut out.
            for w in own:
                model.cumulative([(model.interval(*w), 1)], away_fixed, 1)
                for other in away:
                    _apart(model, w, other)
            for a, length, _ in own_fixed:
                for other in away:
                    _apart_from_fixed(model, other, a, length)
        else:
            free = [(model.interval(*w), 1) for w in [*own, *away]]
            model.cumulative(free, [*own_fixed, *away_fixed], model.problem.people)


def _stretches(model: Timeline, n: int, attention: Attention) -> list[tuple[int, int, str]]:
    """Stretches of a block that need hands or someone there, joined where they follow each other: offset,
    length, spot.
    """
    found: list[tuple[int, int, str]] = []
    for step, offset in sorted(model.blocks[n].parts, key=lambda p: p[1]):
        if step.attention is not attention or (model.blocks[n].batch, step.key) in model.shared:
            continue
        spot = model.problem.place(step.appliance).spot if step.appliance else ""
        start, end = floor(offset), ceil(offset + step.duration_s)
        if found and start <= found[-1][0] + found[-1][1] and found[-1][2] == spot:
            before = found.pop()
            start, end = before[0], max(end, before[0] + before[1])
        found.append((start, end - start, spot))
    return found


def _fixed(model: Timeline, attention: Attention) -> list[tuple[int, int, str]]:
    """What begun batches need from now on: start, length, spot on the model's clock."""
    now = model.problem.not_before
    found = []
    for chain, items in model.problem.fixed:
        by_key = {s.key: s for s in chain.steps}
        for p in items:
            step = by_key[p.step]
            if (
                step.attention is attention
                and step.phase is not Phase.WASH_UP
                and (now is None or p.end > now)
            ):
                start = max(p.start, now) if now is not None else p.start
                spot = model.problem.place(step.appliance).spot if step.appliance else ""
                found.append((model.at(start), max(1, ceil(p.end - start)), spot))
    return found


def _apart(
    model: Timeline, a: tuple[int, int, int], b: tuple[int, int, int], gap: int = 0
) -> cp_model.IntVar | None:
    """Two stretches never at once; None where they are of one block and cannot be."""
    if a[0] == b[0]:
        return None
    first = model.cp.new_bool_var("")
    model.cp.add(model.starts[a[0]] + a[1] + a[2] + gap <= model.starts[b[0]] + b[1]).only_enforce_if(first)
    model.cp.add(model.starts[b[0]] + b[1] + b[2] + gap <= model.starts[a[0]] + a[1]).only_enforce_if(
        first.negated()
    )
    return first


def _apart_from_fixed(
    model: Timeline, a: tuple[int, int, int], start: int, length: int, gap: int = 0
) -> None:
    first = model.cp.new_bool_var("")
    model.cp.add(model.starts[a[0]] + a[1] + a[2] + gap <= start).only_enforce_if(first)
    model.cp.add(start + length + gap <= model.starts[a[0]] + a[1]).only_enforce_if(first.negated())

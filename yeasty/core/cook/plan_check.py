"""Whether a plan keeps the rules, worked out from the rules themselves and not from the solver's model."""

from collections.abc import Sequence
from itertools import pairwise

from yeasty.core.cook.problem import DAY_S, WORK_FROM_S, WORK_UNTIL_S, Chain, PlannedStep, Problem, blocks_of
from yeasty.core.cook.steps import Attention, Phase, Step, chain_of, contiguous

# Plans are in whole seconds with lengths rounded up: this much is forgiven [s].
EPS = 1.01


def violations(problem: Problem, items: Sequence[PlannedStep]) -> list[str]:
    """Every rule that a plan breaks, in words; the window and hold limits are wishes and not among them.

    Checked at every moment at which something begins: order and contiguity within a batch, hands, whoever must stay, appliances
    with set points and capacity, circuits, nothing before now.
    """
    found: list[str] = []
    everything: list[tuple[Chain, Step, PlannedStep, bool]] = []
    by_key = {(p.batch, p.step): p for p in items}
    for chain in problem.chains:
        found += _one_batch(problem, chain, by_key)
        everything += [
            (chain, s, by_key[chain.batch, s.key], False)
            for s in chain.steps
            if (chain.batch, s.key) in by_key
        ]
    for chain, fixed in problem.fixed:
        steps = {s.key: s for s in chain.steps}
        everything += [(chain, steps[p.step], p, True) for p in fixed]
    everything = [e for e in everything if e[1].phase is not Phase.WASH_UP]
    found += _pots(problem, by_key)
    kept_hot = _kept_hot(everything)
    for moment in sorted({p.start for _, _, p, _ in everything}):
        on = [e for e in everything if e[2].start <= moment + EPS / 2 < e[2].end - EPS / 2]
        if any(not fixed for *_, fixed in on):
            inside = [
                e
                for e in everything
                if e[1].phase is Phase.COOK
                and e[2].start <= moment + EPS / 2 < _at_latest(e[1], e[2]) - EPS / 2
            ]
            found += _at(
                problem,
                moment,
                on,
                inside,
                [h for h in kept_hot if h[3] <= moment + EPS / 2 < h[4] - EPS / 2],
            )
    return list(dict.fromkeys(found))


def _one_batch(problem: Problem, chain: Chain, by_key: dict[tuple[str, str], PlannedStep]) -> list[str]:
    found = []
    mains = chain_of([s for s in chain.steps if s.phase is not Phase.WASH_UP])
    for step, during in mains:
        p = by_key.get((chain.batch, step.key))
        if p is None:
            found.append(f"{chain.tag}: {step.what} is not planned")
            continue
        if not step.duration_s - EPS <= p.end - p.start <= step.duration_s + step.slack_s + EPS:
            found.append(f"{chain.tag}: {step.what} has another length")
        if problem.not_before is not None and p.start < problem.not_before - EPS:
            found.append(f"{chain.tag}: {step.what} begins in the past")
        for d in during:
            q = by_key.get((chain.batch, d.key))
            if q is None or abs(q.start - p.start - (d.during_offset_s or 0)) > EPS:
                found.append(f"{chain.tag}: {d.what} is not where it belongs in {step.what}")
    for (before, _), (after, _) in pairwise(mains):
        a, b = by_key.get((chain.batch, before.key)), by_key.get((chain.batch, after.key))
        if a and b:
            if b.start < a.end - EPS:
                found.append(f"{chain.tag}: {after.what} begins before {before.what} ends")
            drawn_out = before.drawn_out and before.phase is not Phase.WAIT
            if (
                (contiguous(before, after) or drawn_out)
                and (drawn_out or before.days_before == after.days_before)
                and b.start > a.end + 2 * EPS
            ):
                found.append(f"{chain.tag}: {after.what} does not follow {before.what} at once")
    for block in blocks_of(chain):
        p = by_key.get((chain.batch, block.parts[0][0].key))
        if block.days_before and problem.midnight is not None and p is not None:
            day = problem.midnight - block.days_before * DAY_S
            if not day + WORK_FROM_S - EPS <= p.start <= day + WORK_UNTIL_S + EPS:
                found.append(
                    f"{chain.tag}: {block.parts[0][0].what} is not in working hours, {block.days_before} days before"
                )
    return found


def _pots(problem: Problem, by_key: dict[tuple[str, str], PlannedStep]) -> list[str]:
    """Batches that share a vessel go in together."""
    went_in: dict[str, set[int]] = {}
    for chain in problem.chains:
        cook = next((s for s in chain.steps if s.phase is Phase.COOK), None)
        if chain.pot and cook is not None and (chain.batch, cook.key) in by_key:
            went_in.setdefault(chain.pot, set()).add(round(by_key[chain.batch, cook.key].start))
    return [
        f"{pot}: its batches do not go in together"
        for pot, moments in went_in.items()
        if max(moments) - min(moments) > EPS
    ]


def _at_latest(step: Step, p: PlannedStep) -> float:
    """Cooking that the food ends may last up to its longer time: until then its place is not free."""
    longest = step.longest_s if step.longest_s is not None and step.phase is Phase.COOK else 0.0
    return max(p.end, p.start + longest)


Hot = tuple[str, str, float | None, float, float]


def _kept_hot(everything: Sequence[tuple[Chain, Step, PlannedStep, bool]]) -> list[Hot]:
    """Appliances in use: appliance, batch, set point, from the first heat of the batch to its last; between, it is kept hot."""
    spans: dict[tuple[str, str], list[tuple[Step, PlannedStep]]] = {}
    for chain, step, p, _ in everything:
        if step.appliance and step.phase in (Phase.COME_UP, Phase.COOK):
            spans.setdefault((step.appliance, chain.pot or chain.batch), []).append((step, p))
    return [
        (
            place,
            batch,
            next((s.set_point_c for s, _ in reversed(rows) if s.set_point_c is not None), None),
            min(p.start for _, p in rows),
            max(_at_latest(s, p) for s, p in rows),
        )
        for (place, batch), rows in spans.items()
    ]


Row = tuple[Chain, Step, PlannedStep, bool]


def _at(
    problem: Problem, moment: float, on: Sequence[Row], inside: Sequence[Row], hot: Sequence[Hot]
) -> list[str]:
    found = []
    # What is done once for a whole pot takes one pair of hands, whoever's step it is.
    once: dict[tuple[str, str], Step] = {}
    for chain, s, p, _ in on:
        if s.attention is Attention.HANDS:
            once[(chain.pot, f"{s.what} at {p.start:.0f}") if chain.pot else (chain.batch, s.key)] = s
    hands = [(s, problem.place(s.appliance).spot if s.appliance else "") for s in once.values()]
    watched = {
        problem.place(s.appliance).spot
        for _, s, _, _ in on
        if s.attention is Attention.WATCHED and s.appliance
    } - {""}
    # Where no spot is given a step is in sight of everything: whoever works there watches too.
    at_spots = {spot for _, spot in hands}
    staying = (
        len([w for w in watched if w not in at_spots and "" not in at_spots])
        if len(at_spots)
        else len(watched)
    )
    if len(hands) > problem.people:
        found.append(f"at {moment:.0f}: hands needed {len(hands)}, there are {problem.people}")
    elif len(hands) + staying > problem.people and (len(watched) > 1 or hands):
        found.append(f"at {moment:.0f}: nobody stays where it is watched ({', '.join(sorted(watched))})")
    for key in {h[0] for h in hot}:
        place = problem.place(key)
        mine = [h for h in hot if h[0] == key]
        if place.rings > 1:
            if len(mine) > place.rings:
                found.append(f"at {moment:.0f}: {len(mine)} on {place.rings} rings")
            continue
        if len({h[2] for h in mine}) > 1:
            found.append(f"at {moment:.0f}: {place.name or key} at two set points")
        cooking = {
            c.batch: min(c.pieces or 1, place.capacity or 10**9)
            for c, s, _, _ in inside
            if s.appliance == key
        }
        if place.capacity and sum(cooking.values()) > place.capacity:
            found.append(
                f"at {moment:.0f}: {sum(cooking.values())} pieces in {place.name or key}, which holds {place.capacity}"
            )
    for name, limit in problem.limits_w:
        alight = [k for k in sorted({h[0] for h in hot}) if problem.place(k).circuit == name]
        drawn = 0.0
        for k in alight:
            place = problem.place(k)
            vessels = sum(h[0] == k for h in hot)
            drawn += (place.input_w or 0.0) * (min(1.0, vessels / place.rings) if place.rings > 1 else 1.0)
        if drawn > limit and (len(alight) > 1 or sum(problem.place(h[0]).circuit == name for h in hot) > 1):
            found.append(f"at {moment:.0f}: circuit {name} carries {drawn:.0f} of {limit:.0f} W")
    return found


def too_tight(problem: Problem, items: Sequence[PlannedStep]) -> list[str]:
    """Batches that would keep the plates waiting if their cooking took its longer time; a wish like the window itself."""
    found = []
    by_key = {(p.batch, p.step): p for p in items}
    for chain in problem.chains:
        mains = [m for m, _ in chain_of([s for s in chain.steps if s.phase is not Phase.WASH_UP])]
        at = 0.0
        for step in mains:
            p = by_key[chain.batch, step.key]
            at = max(at, p.start) + (
                max(step.duration_s, step.longest_s or 0.0) if step.phase is Phase.COOK else step.duration_s
            )
        planned_end = by_key[chain.batch, mains[-1].key].end
        if at > max(planned_end, problem.serve_until) + len(mains) * EPS:
            found.append(f"{chain.tag} would be {at - problem.serve_until:.0f} s late")
    return found

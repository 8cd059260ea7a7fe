"""Whether a plan keeps the rules, worked out from the rules themselves and not from the solver's model."""

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise

from yeasty.core.cook.blocks import blocks_of
from yeasty.core.cook.problem import DAY_S, WORK_FROM_S, WORK_UNTIL_S, Chain, PlannedStep, Problem
from yeasty.core.cook.together import prepared_steps, share_groups
from yeasty.core.kernel.steps import Attention, Phase, Step, chain_of, contiguous, preheats_beside

# Plans are in whole seconds with lengths rounded up: this much is forgiven [s].
EPS = 1.01


Row = tuple[Chain, Step, PlannedStep, bool]


def violations(problem: Problem, items: Sequence[PlannedStep]) -> list[str]:
    """Every rule that a plan breaks, in words; the window is a wish and not among them, limits of waiting are
    in `plan_kept`.

    Order and contiguity within a batch; one chamber, one temperature, and the time from one to the next; at
    every moment at which something begins hands, whoever must stay, capacity, rings, circuits; nothing before
    now.
    """
    found: list[str] = []
    everything: list[Row] = []
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
    found += _in_at_once(everything)
    for key in dict.fromkeys(s.key for c in problem.chains for s in prepared_steps(c)):
        begins = [by_key[c.batch, key].start for c in problem.chains if (c.batch, key) in by_key]
        if max(begins) - min(begins) > EPS:
            found.append(f"the shared preparation is not done at once for all ({key})")
    shared = share_groups(problem.chains) | share_groups([c for c, _ in problem.fixed])
    kept_hot = _hot(everything)
    found += _temperatures(problem, kept_hot)
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
                _on_at(kept_hot, moment),
                shared,
            )
    return list(dict.fromkeys(found))


Rows = dict[tuple[str, str], PlannedStep]


def _one_batch(problem: Problem, chain: Chain, by_key: Rows) -> list[str]:
    side = preheats_beside(chain.steps)
    every = chain_of([s for s in chain.steps if s.phase is not Phase.WASH_UP])
    return [
        f"{chain.tag}: {wrong}"
        for wrong in (
            *_each_step(problem, chain, every, by_key),
            *_one_after_another(chain, every, side, by_key),
            *_not_too_early(problem, chain, by_key),
        )
    ]


Steps = Sequence[tuple[Step, Sequence[Step]]]


def _each_step(problem: Problem, chain: Chain, every: Steps, by_key: Rows) -> Iterator[str]:
    """Each step is there, as long as it is, not in the past, with what is done in it at its place."""
    for step, during in every:
        p = by_key.get((chain.batch, step.key))
        if p is None:
            yield f"{step.what} is not planned"
            continue
        if not step.duration_s - EPS <= p.end - p.start <= step.duration_s + step.slack_s + EPS:
            yield f"{step.what} has another length"
        if problem.not_before is not None and p.start < problem.not_before - EPS:
            yield f"{step.what} begins in the past"
        for d in during:
            q = by_key.get((chain.batch, d.key))
            if q is None or abs(q.start - p.start - (d.during_offset_s or 0)) > EPS:
                yield f"{d.what} is not where it belongs in {step.what}"


def _one_after_another(chain: Chain, every: Steps, side: Collection[str], by_key: Rows) -> Iterator[str]:
    """No step before what it needs has ended, and none later where the food cannot wait."""
    for n, (step, _) in enumerate(every):
        taker = next((m for m, _ in every[n + 1 :] if m.key not in side), None)
        if step.key in side and taker is not None:
            a, b = by_key.get((chain.batch, step.key)), by_key.get((chain.batch, taker.key))
            if a and b and a.end > b.start + EPS:
                yield f"{taker.what} begins before {step.what} ends"
    for before, after in pairwise([m for m, _ in every if m.key not in side]):
        a, b = by_key.get((chain.batch, before.key)), by_key.get((chain.batch, after.key))
        if a is None or b is None:
            continue
        if b.start < a.end - EPS:
            yield f"{after.what} begins before {before.what} ends"
        # A wait drawn out too far is a limit that is broken (`plan_kept`), not a rule.
        same_day = before.days_before == after.days_before
        if contiguous(before, after) and same_day and b.start > a.end + 2 * EPS:
            yield f"{after.what} does not follow {before.what} at once"


def _not_too_early(problem: Problem, chain: Chain, by_key: Rows) -> Iterator[str]:
    """Nothing before what it needs is ready, and work of days before in working hours."""
    for key, moment in chain.ready:
        p = by_key.get((chain.batch, key))
        if p is not None and p.start < moment - EPS:
            yield "a step begins before what it needs is ready"
    for block in blocks_of(chain):
        p = by_key.get((chain.batch, block.parts[0][0].key))
        if block.days_before and problem.midnight is not None and p is not None:
            day = problem.midnight - block.days_before * DAY_S
            if not day + WORK_FROM_S - EPS <= p.start <= day + WORK_UNTIL_S + EPS:
                yield f"{block.parts[0][0].what} is not in working hours, {block.days_before} days before"


def _in_at_once(everything: Sequence[Row]) -> list[str]:
    """A load is one vessel: what is in it went in at one moment."""
    first: dict[str, dict[str, float]] = {}
    for chain, step, p, fixed in everything:
        # What of a load went in without the rest is on its own.
        if chain.together and step.phase is Phase.COOK and not fixed:
            own = first.setdefault(chain.together, {})
            own[chain.batch] = min(own.get(chain.batch, p.start), p.start)
    return [
        f"{load}: its batches do not go in together"
        for load, moments in first.items()
        if max(moments.values()) - min(moments.values()) > EPS
    ]


def _at_latest(step: Step, p: PlannedStep) -> float:
    """Cooking that the food ends may last up to its longer time: until then its place is not free."""
    longest = step.longest_s if step.longest_s is not None and step.phase is Phase.COOK else 0.0
    return max(p.end, p.start + longest)


@dataclass(frozen=True)
class Hot:
    """An appliance hot for one batch at one set point, from [s] until [s].

    `food` says whether food is in it: then it has to be there from the beginning, while a preheat is on its
    way. `planned_end` : where the food may take longer until `end`. `stays` : the same food stayed in,
    `since` then, from the stretch before, `turned_from`.
    """

    place: str
    vessel: str
    set_point: float | None
    start: float
    end: float
    food: bool
    planned_end: float
    stays: bool = False
    turned_from: float | None = None
    since: float = 0.0


def _hot(everything: Sequence[Row]) -> list[Hot]:
    """Every stretch in which an appliance has to be hot, by what is in it and what waits for it.

    Between two heats of a batch in one appliance it is turned to what comes next once the food is out, and
    stays on.
    """
    found: list[Hot] = []
    rows: dict[tuple[str, str], list[tuple[Step, PlannedStep]]] = {}
    outs: dict[str, list[float]] = {}
    empty: set[tuple[str, str]] = set()
    for chain, step, p, _ in everything:
        if step.phase is Phase.OUT:
            outs.setdefault(chain.batch, []).append(p.start)
        if step.appliance and step.phase in (Phase.COME_UP, Phase.COOK):
            rows.setdefault((step.appliance, chain.batch), []).append((step, p))
        empty |= {(chain.batch, key) for key in preheats_beside(chain.steps)}
    vessels = {chain.batch: chain.together or chain.batch for chain, *_ in everything}
    for chain in {c.batch: c for c, *_ in everything}.values():
        for place, point, since in chain.hot:
            # Heated up for it already: it stays on until the food comes.
            comes = min(
                (p.start for s, p in rows.get((place, chain.batch), []) if s.phase is Phase.COOK),
                default=since,
            )
            if comes > since:
                found.append(Hot(place, vessels[chain.batch], point, since, comes, False, comes))
    for (place, batch), mine in rows.items():
        mine.sort(key=lambda r: r[1].start)
        points = _points([s for s, _ in mine])
        last_food: float | None = None
        since = 0.0
        for n, (step, p) in enumerate(mine):
            cooks = step.phase is Phase.COOK
            end = _at_latest(step, p)
            went_out = last_food is not None and any(
                last_food - EPS <= t <= p.start + EPS for t in outs.get(batch, [])
            )
            stays = cooks and last_food is not None and not went_out
            since = since if stays else p.start
            found.append(
                Hot(
                    place,
                    vessels[batch],
                    points[n],
                    p.start,
                    end,
                    cooks,
                    p.end,
                    stays,
                    points[n - 1] if stays else None,
                    since,
                )
            )
            last_food = p.end if cooks else last_food
            if n + 1 < len(mine):
                then, q = mine[n + 1]
                # A new preheat of an empty appliance, or food that was cooked elsewhere meanwhile, means that
                # it may have been off; else it is kept hot.
                elsewhere = any(
                    s.phase is Phase.COOK and s.appliance != place and p.end - EPS <= o.start < q.start
                    for c, s, o, _ in everything
                    if c.batch == batch
                )
                if (batch, then.key) not in empty and not elsewhere and q.start > end:
                    found.append(Hot(place, vessels[batch], points[n + 1], end, q.start, False, q.start))
    return found


def _on_at(hot: Sequence[Hot], moment: float) -> list[Hot]:
    """What is on at a moment; food that may take longer is not still there once its own batch has gone on
    elsewhere.
    """
    found = [h for h in hot if h.start <= moment + EPS / 2 < h.end - EPS / 2]
    return [
        h
        for h in found
        if moment < h.planned_end - EPS
        or not any(o.vessel == h.vessel and h.planned_end - EPS <= o.start <= moment + EPS for o in hot)
    ]


def _points(steps: Sequence[Step]) -> list[float | None]:
    """The set points of a batch's heats in one appliance; one that says none has that of the next, else the
    last.
    """
    found: list[float | None] = [s.set_point_c for s in steps]
    for n in reversed(range(len(found) - 1)):
        found[n] = found[n + 1] if found[n] is None else found[n]
    for n in range(1, len(found)):
        found[n] = found[n - 1] if found[n] is None else found[n]
    return found


def _temperatures(problem: Problem, hot: Sequence[Hot]) -> list[str]:
    """One chamber has one temperature: nothing at another overlaps, and the way from one to the next takes
    its time.
    """
    found = []
    for key in sorted({h.place for h in hot}):
        place = problem.place(key)
        if place.rings > 1:
            continue
        mine = sorted((h for h in hot if h.place == key), key=lambda h: (h.start, h.end))
        for a, b in combinations(mine, 2):
            if a.set_point == b.set_point:
                continue
            # Food that takes longer moves what its own batch does next, and only that.
            own = a.vessel == b.vessel
            a_end, b_end = (a.planned_end, b.planned_end) if own else (a.end, b.end)
            if a.start < b_end - EPS and b.start < a_end - EPS:
                found.append(
                    f"{place.name or key} at two set points, {a.set_point} and {b.set_point}, at "
                    f"{b.start:.0f}"
                )
                continue
            first, then, end = (a, b, a_end) if a_end <= b.start + EPS else (b, a, b_end)
            # Turned with the food in it, also together with others of the same course: that is how it is
            # cooked.
            same_food = then.stays and (own or first.set_point == then.turned_from or end <= then.since + EPS)
            way = place.change_s(first.set_point, then.set_point)
            if then.food and not same_food and then.start - end < way - 2 * EPS:
                found.append(
                    f"{place.name or key} has {then.start - end:.0f} s from {first.set_point} to "
                    f"{then.set_point}, and takes {way:.0f}"
                )
    return found


def _at(
    problem: Problem,
    moment: float,
    on: Sequence[Row],
    inside: Sequence[Row],
    hot: Sequence[Hot],
    shared: Mapping[tuple[str, str], str],
) -> list[str]:
    found = [*_hands_at(problem, on, shared), *_room_at(problem, inside, hot), *_current_at(problem, hot)]
    return [f"at {moment:.0f}: {wrong}" for wrong in found]


def _hands_at(problem: Problem, on: Sequence[Row], shared: Mapping[tuple[str, str], str]) -> Iterator[str]:
    """People enough for what takes hands, and for what somebody has to stay with."""
    # What is done once for a whole load takes one pair of hands, whoever's step it is.
    once: dict[tuple[str, str], Step] = {}
    for chain, s, p, _ in on:
        if s.attention is Attention.HANDS:
            word = (shared.get((chain.batch, s.key)) or f"{chain.batch}|{s.key}", f"{p.start:.0f}")
            if s.phase is Phase.COME_UP and s.appliance:
                # One preheat of one appliance, for whoever goes in.
                word = (s.appliance, f"{s.set_point_c} at {p.start:.0f}")
            once[word] = s
    hands = [(s, problem.place(s.appliance).spot if s.appliance else "") for s in once.values()]
    watched = {
        problem.place(s.appliance).spot
        for _, s, _, _ in on
        if s.attention is Attention.WATCHED and s.appliance
    } - {""}
    # Where no spot is given a step is in sight of everything: whoever works there watches too.
    at_spots = {spot for _, spot in hands}
    staying = len([w for w in watched if w not in at_spots and "" not in at_spots])
    if len(hands) > problem.people:
        yield f"hands needed {len(hands)}, there are {problem.people}"
    elif len(hands) + staying > problem.people and (len(watched) > 1 or hands):
        yield f"nobody stays where it is watched ({', '.join(sorted(watched))})"


def _room_at(problem: Problem, inside: Sequence[Row], hot: Sequence[Hot]) -> Iterator[str]:
    """Rings enough for what is hot on a hob, and no more pieces than an appliance holds."""
    for key in {h.place for h in hot}:
        place = problem.place(key)
        if place.rings > 1:
            vessels = {h.vessel for h in hot if h.place == key}
            if len(vessels) > place.rings:
                yield f"{len(vessels)} on {place.rings} rings"
            continue
        cooking = {
            c.batch: min(c.pieces or 1, place.capacity or 10**9)
            for c, s, _, _ in inside
            if s.appliance == key
        }
        if place.capacity and sum(cooking.values()) > place.capacity:
            yield f"{sum(cooking.values())} pieces in {place.name or key}, which holds {place.capacity}"


def _current_at(problem: Problem, hot: Sequence[Hot]) -> Iterator[str]:
    """What draws from a circuit together."""
    for name, limit in problem.limits_w:
        alight = [k for k in sorted({h.place for h in hot}) if problem.place(k).circuit == name]
        drawn = 0.0
        on_it = {k: {h.vessel for h in hot if h.place == k} for k in alight}
        for k in alight:
            place = problem.place(k)
            drawn += (place.input_w or 0.0) * (
                min(1.0, len(on_it[k]) / place.rings) if place.rings > 1 else 1.0
            )
        if drawn > limit and (len(alight) > 1 or sum(len(v) for v in on_it.values()) > 1):
            yield f"circuit {name} carries {drawn:.0f} of {limit:.0f} W"


def too_tight(problem: Problem, items: Sequence[PlannedStep]) -> list[str]:
    """Batches that would keep the plates waiting if their cooking took its longer time; a wish like the
    window itself.
    """
    found = []
    by_key = {(p.batch, p.step): p for p in items}
    for chain in problem.chains:
        side = preheats_beside(chain.steps)
        steps = [s for s in chain.steps if s.phase is not Phase.WASH_UP and s.key not in side]
        mains = [m for m, _ in chain_of(steps)]
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

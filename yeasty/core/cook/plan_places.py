"""Appliances and circuits in a plan: what is in use when and at which set points, and what may be in use at
once.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations, groupby, product
from math import ceil, floor

from ortools.sat.python import cp_model

from yeasty.core.cook.plan_timeline import Timeline
from yeasty.core.cook.problem import HORIZON_S, Place, latest_end, overloads
from yeasty.core.kernel.steps import Phase, Step, chain_of, preheats_beside

HEATS = (Phase.COME_UP, Phase.COOK)
# In place of a block: a moment that stands already.
WAITS = -1


@dataclass(frozen=True)
class Stage:
    """A heat of a batch: its set point, where it begins, ends, and ends at the latest (block, offset [s])."""

    set_point: float | None
    begins: tuple[int, int]
    planned: tuple[int, int]
    ends: tuple[int, int]
    cooks: bool
    apart: bool = False


@dataclass(frozen=True)
class Use:
    """An appliance in use by a batch: from a preheat, or its first heat, through all that follows without a
    new preheat.

    Each stage has its own set point; between two it is kept hot. `apart` of a stage says that the food was
    out before it.
    """

    batch: str
    place: str
    stages: tuple[Stage, ...]
    pieces: int

    @property
    def course(self) -> tuple[float | None, ...]:
        """Set points one after another, each once."""
        return tuple(p for p, _ in groupby(s.set_point for s in self.stages))

    @property
    def ready(self) -> tuple[int, int]:
        """When it must have its first set point: its first cooking, else its beginning."""
        return next((s.begins for s in self.stages if s.cooks), self.stages[0].begins)


def stages_of(steps: Sequence[Step]) -> dict[str, list[list[tuple[Step, bool]]]]:
    """An appliance's uses by a chain: for each use its heats in order, and whether the food had been out
    before it.

    A preheat with nothing in it begins a use, and so does a heat after the food has been cooked elsewhere:
    what was on before may be switched off.
    """
    side = preheats_beside(steps)
    found: dict[str, list[list[tuple[Step, bool]]]] = {}
    out_since: set[str] = set()
    last: str | None = None
    for step, _ in chain_of(steps):
        if step.phase is Phase.OUT:
            out_since |= set(found)
        if not step.appliance or step.phase not in HEATS:
            continue
        uses = found.setdefault(step.appliance, [])
        elsewhere = step.phase is Phase.COOK and last not in (None, step.appliance)
        if not uses or step.key in side or (elsewhere and uses[-1][-1][0].phase is Phase.COOK):
            uses.append([])
        uses[-1].append((step, step.appliance in out_since))
        if step.phase is Phase.COOK:
            out_since.discard(step.appliance)
            last = step.appliance
    return found


def _uses(model: Timeline) -> list[Use]:
    found = []
    for chain in model.problem.chains:
        # A load is in its place until its last pull: the batch that is pulled last stands for all of it.
        theirs = model.done_by_others(chain.batch)
        where = model.where(chain.batch)
        for key, uses in stages_of(chain.steps).items():
            for use in uses:
                stages = []
                for step, apart in use:
                    if step.key in theirs or step.key not in where:
                        continue
                    n, offset = where[step.key]
                    # Until its latest end: nobody knows before whether it will be needed so long.
                    done = ceil(offset + step.duration_s)
                    ends = (n, ceil(offset + step.duration_s + step.overrun_s))
                    cooks = step.phase is Phase.COOK
                    point = set_point_of(step, use)
                    stages.append(Stage(point, (n, floor(offset)), (n, done), ends, cooks, apart))
                waiting = next((h for h in chain.hot if h[0] == key), None) if use is uses[0] else None
                if stages and waiting is not None:
                    # It was heated up already and stays on until the food comes.
                    since = (WAITS, model.at(ceil(waiting[2])))
                    point = waiting[1] if waiting[1] is not None else stages[0].set_point
                    stages.insert(0, Stage(point, since, since, since, cooks=False))
                if stages:
                    pieces = model.pieces_in(chain, {s.key for s, _ in use})
                    found.append(Use(chain.batch, key, tuple(stages), pieces))
    return found


def set_point_of(step: Step, use: Sequence[tuple[Step, bool]]) -> float | None:
    """A heat's set point; of one that says none that of the next in its use, else of the one before."""
    if step.set_point_c is not None:
        return step.set_point_c
    steps = [s for s, _ in use]
    at = next(n for n, s in enumerate(steps) if s is step)
    near = [*steps[at + 1 :], *reversed(steps[:at])]
    return next((s.set_point_c for s in near if s.set_point_c is not None), None)


def _at(model: Timeline, place: tuple[int, int]) -> cp_model.LinearExprT:
    return place[1] if place[0] == WAITS else model.starts[place[0]] + place[1]


def _on(model: Timeline, use: Use) -> cp_model.LinearExprT:
    return _at(model, use.stages[0].begins)


def _off(model: Timeline, use: Use) -> cp_model.LinearExprT:
    return _at(model, use.stages[-1].ends)


@dataclass(frozen=True)
class FixedUse:
    """An appliance in use by a batch that has begun: set points in order, on and off on the model's clock,
    pieces.
    """

    place: str
    course: tuple[float | None, ...]
    on: int
    off: int
    pieces: int


def _fixed_uses(model: Timeline) -> list[FixedUse]:
    now = model.problem.not_before
    found = []
    vessels: dict[tuple[str, str], list[FixedUse]] = {}
    for chain, items in model.problem.fixed:
        at = {p.step: p for p in items}
        for key, uses in stages_of(chain.steps).items():
            for use in uses:
                rows = [(s, at[s.key]) for s, _ in use if s.key in at]
                if not rows:
                    continue
                on, off = min(p.start for _, p in rows), max(latest_end(s, p) for s, p in rows)
                if now is not None and off <= now:
                    continue
                on = max(on, now) if now is not None else on
                # What is over by now is no longer set.
                still = [s for s, p in rows if now is None or latest_end(s, p) > now]
                course = tuple(p for p, _ in groupby(set_point_of(s, use) for s in still))
                start = model.at(on)
                fixed = FixedUse(key, course, start, max(start + 1, model.at(ceil(off))), chain.pieces or 1)
                vessels.setdefault((chain.together or chain.batch, key), []).append(fixed)
    for rows_ in vessels.values():
        if len(rows_) == 1 or len({(r.on, r.course) for r in rows_}) > 1:
            found += rows_
        else:
            # Batches of one vessel are one use of it.
            last = max(rows_, key=lambda r: r.off)
            found.append(replace(last, pieces=sum(r.pieces for r in rows_)))
    return found


def add_appliances(model: Timeline) -> list[Use]:
    """One set point at a time, no more pieces than an appliance holds, no more vessels than rings; what is
    used, and when.
    """
    uses = _uses(model)
    fixed = _fixed_uses(model)
    for key in sorted({u.place for u in uses}):
        place = model.problem.place(key)
        mine = [u for u in uses if u.place == key]
        theirs = [f for f in fixed if f.place == key]
        if not model.group(f"one {(place.name or 'appliance').lower()}"):
            continue
        if place.rings > 1:
            free = [(_span(model, u), 1) for u in mine]
            model.cumulative(free, [(f.on, f.off - f.on, 1) for f in theirs], place.rings)
            continue
        for u in mine:
            _own_changes(model, u, place)
        for a, b in combinations(mine, 2):
            if a.batch == b.batch:
                # Food that takes longer moves what its own batch does next.
                model.cp.add(_at(model, a.stages[-1].planned) <= _on(model, b))
                for stage in a.stages:
                    change = ceil(place.change_s(stage.set_point, b.course[0]))
                    model.cp.add(_at(model, stage.planned) + change <= _at(model, b.ready))
            elif a.course != b.course or len(a.course) > 1:
                _one_first(model, a, b, place)
        for u, f in product(mine, theirs):
            if u.course != f.course or len(u.course) > 1:
                _beside_begun(model, u, f, place)
        if place.capacity:
            # A batch that is larger than the appliance takes it whole, a round at a time.
            free = [
                (
                    model.interval(s.begins[0], s.begins[1], s.ends[1] - s.begins[1]),
                    min(u.pieces, place.capacity),
                )
                for u in mine
                for s in u.stages
                if s.cooks
            ]
            model.cumulative(
                free, [(f.on, f.off - f.on, min(f.pieces, place.capacity)) for f in theirs], place.capacity
            )
    return uses


def _own_changes(model: Timeline, use: Use, place: Place) -> None:
    """Food that was out goes in again once the appliance has come to the next set point."""
    for n, after in enumerate(use.stages):
        for before in use.stages[:n]:
            # Also from one further back: it may not have come down yet.
            change = ceil(place.change_s(before.set_point, after.set_point))
            if change and after.apart:
                model.cp.add(_at(model, before.planned) + change <= _at(model, after.begins))


def _span(model: Timeline, use: Use) -> cp_model.IntervalVar:
    size = model.cp.new_int_var(1, 3 * HORIZON_S, "")
    return model.cp.new_interval_var(_on(model, use), size, _off(model, use), f"u{use.stages[0].begins}")


def _one_first(model: Timeline, a: Use, b: Use, place: Place) -> None:
    """Two uses at different set points: one is over, and the appliance changed over, before the other's food
    goes in.

    Where their whole courses match they may also go through it together, stage by stage at the same moments.
    """
    first, second = model.cp.new_bool_var(""), model.cp.new_bool_var("")
    for one, other, taken in ((a, b, first), (b, a, second)):
        model.cp.add(_off(model, one) <= _on(model, other)).only_enforce_if(taken)
        for stage in one.stages:
            change = ceil(place.change_s(stage.set_point, other.course[0]))
            if change:
                model.cp.add(_at(model, stage.ends) + change <= _at(model, other.ready)).only_enforce_if(
                    taken
                )
    ways = [first, second]
    if a.course == b.course and len(a.stages) == len(b.stages):
        together = model.cp.new_bool_var("")
        for mine, theirs in zip(a.stages, b.stages, strict=True):
            model.cp.add(_at(model, mine.begins) == _at(model, theirs.begins)).only_enforce_if(together)
            model.cp.add(_at(model, mine.ends) == _at(model, theirs.ends)).only_enforce_if(together)
        ways.append(together)
    model.cp.add_bool_or(ways)


def _beside_begun(model: Timeline, use: Use, fixed: FixedUse, place: Place) -> None:
    """A use at other set points than one that has begun: before it or after it, changed over between."""
    before = model.cp.new_bool_var("")
    change = ceil(place.change_s(use.course[-1], fixed.course[0] if fixed.course else None))
    model.cp.add(_off(model, use) + change <= fixed.on).only_enforce_if(before)
    change = ceil(place.change_s(fixed.course[-1] if fixed.course else None, use.course[0]))
    model.cp.add(fixed.off <= _on(model, use)).only_enforce_if(before.negated())
    model.cp.add(fixed.off + change <= _at(model, use.ready)).only_enforce_if(before.negated())


def add_circuits(model: Timeline, uses: Sequence[Use]) -> None:
    """No circuit above its limit on the full input of all that may heat at once: smallest overloads are kept
    apart.
    """
    for name, limit in model.problem.limits_w:
        fixed = [f for f in _fixed_uses(model) if model.problem.place(f.place).circuit == name]
        on = {u.place for u in uses if model.problem.place(u.place).circuit == name} | {
            f.place for f in fixed
        }
        if on and model.group(f"circuit {name} carries {limit / 1000:.1f} kW"):
            for some in overloads(model.problem, on, limit):
                _not_all(model, uses, some, fixed)
            if any(model.problem.place(k).rings > 1 for k in on):
                _by_rings(model, [u for u in uses if u.place in on], fixed, limit)


def _by_rings(model: Timeline, uses: Sequence[Use], fixed: Sequence[FixedUse], limit_w: float) -> None:
    """A circuit with a hob on it: each vessel draws its ring's share, beside it every use of anything else
    its full input.
    """

    def share(key: str) -> int:
        place = model.problem.place(key)
        return ceil((place.input_w or 0.0) / place.rings)

    free = [(_span(model, u), share(u.place)) for u in uses if share(u.place)]
    model.cumulative(
        free, [(f.on, f.off - f.on, share(f.place)) for f in fixed if share(f.place)], floor(limit_w)
    )


def _not_all(model: Timeline, uses: Sequence[Use], places: Sequence[str], fixed: Sequence[FixedUse]) -> None:
    """Of these appliances never all at once: of every choice of one use each, two are apart."""
    spans: list[list[Use | FixedUse]] = [
        [*(u for u in uses if u.place == p), *(f for f in fixed if f.place == p)] for p in places
    ]

    def over(one: Use | FixedUse, other: Use | FixedUse) -> cp_model.LinearExprT:
        if isinstance(one, FixedUse):
            return one.off
        own = isinstance(other, Use) and other.batch == one.batch
        return _at(model, one.stages[-1].planned) if own else _off(model, one)

    def on(one: Use | FixedUse) -> cp_model.LinearExprT:
        return one.on if isinstance(one, FixedUse) else _on(model, one)

    for choice in product(*spans):
        apart = []
        for a, b in combinations(choice, 2):
            if isinstance(a, FixedUse) and isinstance(b, FixedUse):
                continue
            first, second = model.cp.new_bool_var(""), model.cp.new_bool_var("")
            model.cp.add(over(a, b) <= on(b)).only_enforce_if(first)
            model.cp.add(over(b, a) <= on(a)).only_enforce_if(second)
            apart += [first, second]
        if apart:
            model.cp.add_bool_or(apart)

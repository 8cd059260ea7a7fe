"""Appliances and circuits in a plan: what is in use when, and what may be in use at once."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations, product
from math import ceil, floor
from typing import TYPE_CHECKING

from yeasty.core.cook.problem import HORIZON_S, Chain, PlannedStep, latest_end, overloads, shared_count
from yeasty.core.cook.steps import Phase, Step

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ortools.sat.python import cp_model

    from yeasty.core.cook.plan_model import Model

HEATS = (Phase.COME_UP, Phase.COOK)


@dataclass(frozen=True)
class Use:
    """An appliance in use by a batch: from its first heat to its last, kept hot between.

    `first` and `last` are blocks with an offset [s] from their start: when it is switched on, and off.
    """

    batch: str
    place: str
    set_point: float | None
    first: tuple[int, int]
    last: tuple[int, int]
    pieces: int
    cooks: tuple[tuple[int, int, int], ...]


def _uses(model: Model) -> list[Use]:
    found = []
    for chain in model.problem.chains:
        own = model.pots.get(chain.pot, [chain])
        # A vessel is in use until its last pull: the batch that is pulled last stands for all that share it.
        theirs: set[str] = set()
        if own[-1] is not chain:
            first_heat = next((i for i, s in enumerate(chain.steps) if s.phase is Phase.COOK), 0)
            theirs = {s.key for s in chain.steps[: max(shared_count(own), first_heat + 1)]}
        pieces = sum(c.pieces or 1 for c in own) if own[-1] is chain else chain.pieces or 1
        by_place: dict[str, list[tuple[int, Step, float]]] = {}
        for n in model.of_chain[chain.batch]:
            for step, offset in model.blocks[n].parts:
                if step.appliance and step.phase in HEATS and step.key not in theirs:
                    by_place.setdefault(step.appliance, []).append((n, step, offset))
        for key, rows in by_place.items():
            (n0, _, o0), (n1, s1, o1) = rows[0], rows[-1]
            points = [s.set_point_c for _, s, _ in rows if s.set_point_c is not None]
            # Until its latest end: nobody knows before whether it will be needed so long.
            cooks = [
                (n, floor(o), ceil(s.duration_s + s.overrun_s)) for n, s, o in rows if s.phase is Phase.COOK
            ]
            off = (n1, ceil(o1 + s1.duration_s + s1.overrun_s))
            found.append(
                Use(
                    chain.batch,
                    key,
                    points[-1] if points else None,
                    (n0, floor(o0)),
                    off,
                    pieces,
                    tuple(cooks),
                )
            )
    return found


def _on(model: Model, use: Use) -> cp_model.LinearExprT:
    return model.starts[use.first[0]] + use.first[1]


def _off(model: Model, use: Use) -> cp_model.LinearExprT:
    return model.starts[use.last[0]] + use.last[1]


def _fixed_uses(model: Model) -> list[tuple[str, float | None, int, int, int]]:
    """Appliances in use by begun batches: place, set point, on, off, pieces."""
    now = model.problem.not_before
    found = []
    spans: dict[tuple[str, str], list[tuple[Chain, Step, PlannedStep]]] = {}
    for chain, items in model.problem.fixed:
        by_key = {s.key: s for s in chain.steps}
        for p in items:
            step = by_key[p.step]
            if step.appliance and step.phase in HEATS:
                spans.setdefault((chain.pot or chain.batch, step.appliance), []).append((chain, step, p))
    for (_, key), rows in spans.items():
        on, off = min(p.start for *_, p in rows), max(latest_end(s, p) for _, s, p in rows)
        if now is None or off > now:
            points = [s.set_point_c for _, s, _ in rows if s.set_point_c is not None]
            on = max(on, now) if now is not None else on
            pieces = sum({c.batch: c.pieces or 1 for c, _, _ in rows}.values())
            found.append(
                (
                    key,
                    points[-1] if points else None,
                    model.at(on),
                    max(model.at(on) + 1, model.at(ceil(off))),
                    pieces,
                )
            )
    return found


def add_appliances(model: Model) -> list[Use]:
    """One set point at a time, no more pieces than an appliance holds, no more vessels than rings; what is used, and when."""
    uses = _uses(model)
    fixed = _fixed_uses(model)
    for key in sorted({u.place for u in uses}):
        place = model.problem.place(key)
        mine = [u for u in uses if u.place == key]
        theirs = [f for f in fixed if f[0] == key]
        if not model.group(f"one {(place.name or 'appliance').lower()}"):
            continue
        if place.rings > 1:
            free = [(_span(model, u), 1) for u in mine]
            model.cumulative(free, [(on, off - on, 1) for _, _, on, off, _ in theirs], place.rings)
            continue
        for a, b in combinations(mine, 2):
            if a.set_point != b.set_point:
                gap = _change(place.change_s_per_k, a.set_point, b.set_point)
                _one_first(model, (_on(model, a), _off(model, a)), (_on(model, b), _off(model, b)), gap)
        for u, f in product(mine, theirs):
            if u.set_point != f[1]:
                _one_first(
                    model,
                    (_on(model, u), _off(model, u)),
                    (f[2], f[3]),
                    _change(place.change_s_per_k, u.set_point, f[1]),
                )
        if place.capacity:
            # A batch that is larger than the appliance takes it whole, a round at a time.
            free = [(model.interval(*cook), min(u.pieces, place.capacity)) for u in mine for cook in u.cooks]
            model.cumulative(
                free, [(on, off - on, min(n, place.capacity)) for _, _, on, off, n in theirs], place.capacity
            )
    return uses


def _span(model: Model, use: Use) -> cp_model.IntervalVar:
    size = model.cp.new_int_var(1, 3 * HORIZON_S, "")
    return model.cp.new_interval_var(_on(model, use), size, _off(model, use), f"u{use.first}")


def _one_first(
    model: Model,
    a: tuple[cp_model.LinearExprT, cp_model.LinearExprT],
    b: tuple[cp_model.LinearExprT, cp_model.LinearExprT],
    gap: int,
) -> None:
    first = model.cp.new_bool_var("")
    model.cp.add(a[1] + gap <= b[0]).only_enforce_if(first)
    model.cp.add(b[1] + gap <= a[0]).only_enforce_if(first.negated())


def _change(per_k: float, a: float | None, b: float | None) -> int:
    return ceil(per_k * abs(a - b)) if a is not None and b is not None else 0


def add_circuits(model: Model) -> None:
    """No circuit above its limit on the full input of all that may heat at once: smallest overloads are kept apart."""
    for name, limit in model.problem.limits_w:
        fixed = [f for f in _fixed_uses(model) if model.problem.place(f[0]).circuit == name]
        on = {u.place for u in model.uses if model.problem.place(u.place).circuit == name} | {
            f[0] for f in fixed
        }
        if on and model.group(f"circuit {name} carries {limit / 1000:.1f} kW"):
            for some in overloads(model.problem, on, limit):
                _not_all(model, some, fixed)
            if any(model.problem.place(k).rings > 1 for k in on):
                _by_rings(model, on, fixed, limit)


def _by_rings(
    model: Model, on: set[str], fixed: Sequence[tuple[str, float | None, int, int, int]], limit_w: float
) -> None:
    """A circuit with a hob on it: each vessel draws its ring's share, beside it every use of anything else its full input."""

    def share(key: str) -> int:
        place = model.problem.place(key)
        return ceil((place.input_w or 0.0) / place.rings)

    free = [(_span(model, u), share(u.place)) for u in model.uses if u.place in on and share(u.place)]
    model.cumulative(free, [(f[2], f[3] - f[2], share(f[0])) for f in fixed if share(f[0])], floor(limit_w))


def _not_all(
    model: Model, places: Sequence[str], fixed: Sequence[tuple[str, float | None, int, int, int]]
) -> None:
    """Of these appliances never all at once: of every choice of one use each, two are apart."""
    spans = [
        [
            *((_on(model, u), _off(model, u)) for u in model.uses if u.place == p),
            *((f[2], f[3]) for f in fixed if f[0] == p),
        ]
        for p in places
    ]
    for choice in product(*spans):
        apart = []
        for a, b in combinations(choice, 2):
            if isinstance(a[0], int) and isinstance(b[0], int):
                continue
            first, second = model.cp.new_bool_var(""), model.cp.new_bool_var("")
            model.cp.add(a[1] <= b[0]).only_enforce_if(first)
            model.cp.add(b[1] <= a[0]).only_enforce_if(second)
            apart += [first, second]
        if apart:
            model.cp.add_bool_or(apart)

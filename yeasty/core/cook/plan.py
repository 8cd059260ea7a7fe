"""The plan: when each step of each batch begins, by constraint programming, proven best rank by rank or
bounded.

Wishes are taken in order: limits kept; plates within the window; the longest hold short; holds alike (where
each is tasted at the same age: the oldest plate young, ages alike, then the longest hold); little moved (when
planned again); few hurried moments for the hands; begun as late as can be, nothing standing idle. Each is
solved with those before it held at what they reached, and answers with its value, its bound and whether it is
proven. Source: lexicographic optimisation with CP-SAT of OR-Tools. Only the worker loads this module: web
processes know the words in `yeasty.core.cook.problem`.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil, floor

from ortools.sat.python import cp_model

from yeasty.core.cook.backward import backward_pass
from yeasty.core.cook.blocks import hold_after
from yeasty.core.cook.plan_in_turn import in_turn
from yeasty.core.cook.plan_kept import broken, held_s
from yeasty.core.cook.plan_model import Model
from yeasty.core.cook.plan_narrow import FOUND, Narrow, Search, hardest
from yeasty.core.cook.plan_preheat import settled
from yeasty.core.cook.plan_words import (
    AGES,
    CALM,
    IDLE,
    LATEST,
    LIMITS,
    LONGEST,
    MOVED,
    OLDEST,
    SPREAD,
    WINDOW,
    notes,
    proof,
)
from yeasty.core.cook.plannable import check_problem
from yeasty.core.cook.problem import Chain, Plan, PlannedStep, Problem, Rank, pace_of
from yeasty.core.kernel.errors import RuleError

# Chains up to this many hand works are searched for calm; beyond, the wish is left out and said so.
MOST_FOR_CALM = 60
# Of the time for a plan: what is first given to those who compete for what is scarce.
NARROW_SHARE = 0.5


def solve(problem: Problem, time_limit_s: float = 2.0, seed: int = 0, *, steady: bool = False) -> Plan:
    """The best plan that is found in the time, rank by rank, with its bounds.

    Parameters
    ----------
    problem : what is to be planned
    time_limit_s : for all ranks together [s]
    seed : of the search; with enough time for every proof the answer does not depend on it
    steady : count the solver's own work instead of the clock, one way of searching: the same plan on any
        machine

    Raises
    ------
    RuleError : what `check_problem` refuses

    Notes
    -----
    Times are planned in whole seconds, lengths rounded up. A hob's rings are set for themselves; other
    appliances hold batches of one set point together up to their capacity. Hand work takes a person whole;
    watching takes the place of a person at that spot.
    """
    check_problem(problem)
    if not problem.chains:
        return Plan((), (), (), 0.0, "everything has begun", ())
    search = Search(seed, steady=steady)
    began = search.now()
    hint = {(p.batch, p.step): p.start for p in (problem.before or _first_answer(problem))}
    # All demands met at once is what is asked for; searched with them held it is found fastest. Only where
    # that cannot be are limits and window wishes that give way.
    found = _ranked(Model(problem, hard=True), hint, [], time_limit_s * 0.9, began, search, met=True)
    late: Rank | None = None
    if found is None:
        found, late = _later(problem, hint, time_limit_s, began, search)
    if found is None:
        model = Model(problem)
        wishes = [(LIMITS, "s", sum(model.excess)), (WINDOW, "s", sum(model.outside))]
        left = max(0.3 * time_limit_s, time_limit_s - (search.now() - began))
        wishes = wishes if model.excess else wishes[1:]
        found = _ranked(model, hint, wishes, left, search.now(), search, met=False)
        simple = in_turn(problem)
        if found is None and simple is not None:
            # Begun from what holds, the search can only better it.
            model = Model(problem)
            wishes = [(LIMITS, "s", sum(model.excess)), (WINDOW, "s", sum(model.outside))]
            from_there = {(p.batch, p.step): p.start for p in simple}
            wishes = wishes if model.excess else wishes[1:]
            found = _ranked(model, from_there, wishes, 0.3 * time_limit_s, search.now(), search, met=False)
    if found is None:
        return _fallback(problem)
    ranks = found.ranks
    if late is not None:
        ranks = [late if r.name == WINDOW else r for r in ranks]
    clashing = (
        _clashing(problem, search) if any(r.name in (LIMITS, WINDOW) and r.value > 0 for r in ranks) else ()
    )
    return _plan(problem, found, tuple(ranks), clashing)


@dataclass(frozen=True)
class Found:
    """An answer of the search: starts of the model's blocks, what each wish reached, and wishes there was no
    time for.
    """

    model: Model
    values: list[int]
    ranks: list[Rank]
    unsearched: tuple[str, ...]


def _later(
    problem: Problem, hint: Mapping[tuple[str, str], float], time_limit_s: float, began: float, search: Search
) -> tuple[Found | None, Rank | None]:
    """A plan whose window ends as little later as can be, everything else met; none where that is not
    enough.
    """
    left = max(0.5 * time_limit_s, time_limit_s - (search.now() - began))
    model = Model(problem, hard=True, may_be_late=True)
    model.hint(hint)
    model.cp.minimize(model.late)
    solver, status = search.solve(model.cp, 0.4 * left)
    if status not in FOUND:
        return None, None
    late, bound = round(solver.objective_value), round(solver.best_objective_bound)
    wider = Model(
        replace(problem, serve_until=problem.serve_until + late, pace_s=pace_of(problem)), hard=True
    )
    found = _ranked(wider, model.starts_in(solver), [], 0.6 * left, search.now(), search, met=True)
    return found, Rank(WINDOW, float(late), float(min(bound, late)), bound >= late)


Wish = tuple[str, str, cp_model.LinearExprT]


def _wishes(model: Model, first: Sequence[Wish]) -> list[tuple[str, str, Callable[[], cp_model.LinearExprT]]]:
    """What is wished for, in order: name, unit, and the expression to make small, built when its turn
    comes.
    """
    wishes: list[tuple[str, str, Callable[[], cp_model.LinearExprT]]] = [
        (name, unit, lambda e=e: e)  # type: ignore[misc]
        for name, unit, e in first
    ]
    # Tasted one after another: as young as can be, then alike; how long each is held no longer tells them
    # apart.
    held = (OLDEST, AGES, LONGEST) if model.problem.same_age else (LONGEST, SPREAD)
    wishes += [(name, "s", lambda name=name: model.wish(name)) for name in held]  # type: ignore[misc]
    if model.problem.before:
        wishes.append((MOVED, "s", lambda: sum(model.moved())))
    if len(model.hand_works) <= MOST_FOR_CALM:
        wishes.append((CALM, "", lambda: len(model.hand_works) - sum(model.calm())))
    return [*wishes, (LATEST, "s", lambda: -model.earliest), (IDLE, "s", lambda: sum(model.idle))]


def _ranked(
    model: Model,
    hint: Mapping[tuple[str, str], float],
    first: Sequence[Wish],
    limit_s: float,
    began: float,
    search: Search,
    *,
    met: bool,
) -> Found | None:
    """Solve the wishes one after another, each held at what it reached; None where not even the first has an
    answer.

    With `met` the demands are hard, and an answer proves that they can be met: their ranks are nought.
    """
    model.hint(hint)
    wishes = _wishes(model, first)
    ranks: list[Rank] = []
    values: list[int] | None = None
    narrow = hardest(model.problem, NARROW_SHARE * limit_s, search) if met else None
    for k, (name, unit, goal) in enumerate(wishes):
        left = limit_s - (search.now() - began)
        if values is not None and left < 0.05:
            break
        expression = goal()
        if name == LATEST:
            # Nothing standing idle is nearly as late as can be: from there the proof is short.
            _hint_from(model, sum(model.idle), left * 0.3, search)
            left = limit_s - (search.now() - began)
        model.cp.minimize(expression)
        share = left * (0.6 if k < len(wishes) - 1 else 1.0)
        found = _beside(model, narrow, name, expression, share, search) if narrow else None
        if found is None:
            solver, status = search.solve(model.cp, share)
            if status not in FOUND:
                if values is None:
                    return None
                break
            found = (
                round(solver.objective_value),
                floor(solver.best_objective_bound + 1e-6),
                [solver.value(s) for s in model.starts],
            )
        value, bound, values = found
        if narrow:
            narrow.hold(name, value)
        if not ranks and met:
            if model.limited:
                ranks.append(Rank(LIMITS, 0.0, 0.0, True))
            ranks.append(Rank(WINDOW, 0.0, 0.0, True))
        if name != IDLE:  # a finishing touch, not one of the wishes
            ranks.append(_rank(name, value, bound, unit, model))
        # What was reached is held; if it was not proven, a later rank may not spoil it, and may better it.
        model.cp.add(expression <= value)
        model.hint({k: v + model.origin for k, v in zip(model.keys(), values, strict=True)})
    assert values is not None
    reached = {r.name for r in ranks}
    unsearched = [name for name, _, _ in wishes if name not in (*reached, IDLE)]
    if len(model.hand_works) > MOST_FOR_CALM:
        unsearched.append(CALM)
    return Found(model, values, ranks, tuple(unsearched))


def _beside(
    model: Model, narrow: Narrow, name: str, expression: cp_model.LinearExprT, seconds: float, search: Search
) -> tuple[int, int, list[int]] | None:
    """The whole found beside the narrow plan: value, bound, starts; None where it has to be searched for as
    it is.
    """
    until = search.now() + seconds
    bound = narrow.next(name, 0.3 * seconds)
    if bound is None:
        return None
    model.cp.add(expression >= bound)
    best: tuple[int, list[int]] | None = None
    for tried in narrow.near(model):
        solver, status = search.solve(tried, (until - search.now()) / 2)
        if status in FOUND:
            value = round(solver.objective_value)
            if best is None or value < best[0]:
                best = (
                    value,
                    [solver.value(tried.get_int_var_from_proto_index(s.index)) for s in model.starts],
                )
                model.hint({k: v + model.origin for k, v in zip(model.keys(), best[1], strict=True)})
        if best is not None and best[0] <= bound:
            return best[0], bound, best[1]
    solver, status = search.solve(model.cp, until - search.now())
    if status in FOUND:
        value, bound = round(solver.objective_value), max(bound, floor(solver.best_objective_bound + 1e-6))
        if best is None or value < best[0]:
            best = value, [solver.value(s) for s in model.starts]
    return (best[0], min(bound, best[0]), best[1]) if best else None


def _hint_from(model: Model, expression: cp_model.LinearExprT, seconds: float, search: Search) -> None:
    """Search for a wish without holding it, and go on from what was found."""
    model.cp.minimize(expression)
    solver, status = search.solve(model.cp, seconds)
    if status in FOUND:
        model.hint(model.starts_in(solver))


def _rank(name: str, value: int, bound: int, unit: str, model: Model) -> Rank:
    if name == LATEST:
        return Rank(name, float(-value + model.origin), float(-bound + model.origin), bound >= value, unit)
    return Rank(name, float(value), float(bound), bound >= value, unit)


def _first_answer(problem: Problem) -> tuple[PlannedStep, ...]:
    try:
        return backward_pass(problem).items
    except RuleError:
        return ()


def _fallback(problem: Problem) -> Plan:
    """What stands where the search found nothing in its time: one batch after another, which keeps every
    rule.
    """
    simple = in_turn(problem)
    if simple is None:
        plan = backward_pass(problem)
        note = "No time to search: this plan knows nothing of circuits and capacity. Look at both."
        kept = tuple(b.sentence for b in broken(problem, plan.items))
        return Plan(
            plan.items, plan.served, plan.holds, plan.longest_hold_s, plan.proof, (*plan.notes, *kept, note)
        )
    at = {(p.batch, p.step): p for p in simple}
    holds = {c.batch: held_s(c, at) for c in problem.chains}
    served = {c.batch: max(p.end for p in simple if p.batch == c.batch) for c in problem.chains}
    return Plan(
        tuple(sorted(simple, key=lambda p: (p.start, p.batch, p.step))),
        tuple(sorted(served.items())),
        tuple(sorted(holds.items())),
        max(holds.values()),
        "not proven best",
        (
            *notes(problem, simple, served, ()),
            "No better plan was found in the time: one batch after another.",
        ),
    )


def _plan(problem: Problem, found: Found, ranks: tuple[Rank, ...], clashing: tuple[str, ...]) -> Plan:
    model, values = found.model, found.values
    items: list[PlannedStep] = []
    holds: dict[str, float] = {}
    served: dict[str, float] = {}
    for chain in problem.chains:
        own = [model.blocks[n] for n in model.of_chain[chain.batch]]
        starts = [float(values[n] + model.origin) for n in model.of_chain[chain.batch]]
        for k, (block, start) in enumerate(zip(own, starts, strict=True)):
            drawn = (
                min(block.slack_s, starts[k + 1] - start - ceil(block.length))
                if block.slack_s and k + 1 < len(own)
                else 0.0
            )
            items += [
                PlannedStep(
                    chain.batch,
                    s.key,
                    start + o,
                    start + o + s.duration_s + (max(0.0, drawn) if s is block.last_main else 0.0),
                )
                for s, o in block.parts
            ]
        items += [
            PlannedStep(
                chain.batch, s.key, values[n] + model.origin + o, values[n] + model.origin + o + s.duration_s
            )
            for n, _ in model.sides[chain.batch]
            for s, o in model.blocks[n].parts
        ]
        holds[chain.batch] = sum(
            max(0.0, starts[k] - starts[k - 1] - ceil(own[k - 1].length) - floor(own[k - 1].slack_s))
            for k in range(1, len(own))
            if hold_after(own, k)
        )
        served[chain.batch] = starts[-1] + own[-1].length
    items = settled(problem, items)
    return Plan(
        tuple(sorted(items, key=lambda p: (p.start, p.batch, p.step))),
        tuple(sorted(served.items())),
        tuple(sorted(holds.items())),
        max(holds.values()),
        proof(ranks, found.unsearched),
        tuple(notes(problem, items, served, clashing)),
        ranks,
        clashing,
    )


def _clashing(problem: Problem, search: Search, each_s: float = 0.4) -> tuple[str, ...]:
    """Demands that cannot all be met, from which none can be left out (by leaving out one after another)."""

    def possible(off: frozenset[str]) -> bool | None:
        model = Model(problem, off, hard=True)
        status = search.solve(model.cp, each_s)[1]
        return True if status in FOUND else False if status == cp_model.INFEASIBLE else None

    if possible(frozenset()) is not False:
        return ()
    every = Model(problem, hard=True).groups
    off: set[str] = set()
    for name in every:
        if possible(frozenset(off | {name})) is False:
            off.add(name)
    return tuple(g for g in every if g not in off)


__all__ = ["Chain", "Plan", "PlannedStep", "Problem", "solve"]

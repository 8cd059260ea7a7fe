"""Only what is scarce, first: the batches that compete for it, planned alone, bound what all of them together
can reach.

A batch left out asks for nothing, so that no plan of all can have a shorter longest hold, or smaller
differences, than the best plan of some. Those who share what is scarcest come close to the whole, and their
plan is a good place to begin from.
"""

import time
from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from ortools.sat.python import cp_model

from yeasty.core.cook.plan_model import Model, Starts
from yeasty.core.cook.plan_words import AGES, LONGEST, OLDEST, SPREAD
from yeasty.core.cook.problem import Chain, Problem, overloads, pace_of

# Fewer batches than this are searched as they are.
LEAST = 9
# More that compete for one thing are no easier than all.
MOST = 14
# Of the time that is left, for one group among several.
MOST_OF_IT = 0.7
# How far from the narrow plan the whole may lie, tried in turn [s]; last anywhere.
NEAR_S = (0, 900)
# Wishes of which the best for some is a bound for all.
BOUNDING = (LONGEST, SPREAD, AGES, OLDEST)
FOUND = (cp_model.OPTIMAL, cp_model.FEASIBLE)


class Search:
    """Searches one after another, and what they have taken: by the clock, or `steady`.

    Steady means by the solver's own count of its work and with one way of searching: the same problem then
    gives the same plan on any machine, however busy. Its unit is about a second.
    """

    def __init__(self, seed: int, *, steady: bool = False) -> None:
        self.seed, self.steady, self._spent = seed, steady, 0.0

    def now(self) -> float:
        """A moment to count from [s]."""
        return self._spent if self.steady else time.monotonic()

    def solve(
        self, model: cp_model.CpModel, seconds: float
    ) -> tuple[cp_model.CpSolver, cp_model.CpSolverStatus]:
        """Search for at most so long [s]."""
        solver = cp_model.CpSolver()
        solver.parameters.random_seed = self.seed
        # Else whoever plans could not be interrupted in order any more: the solver takes the handler away.
        solver.parameters.catch_sigint_signal = False
        if self.steady:
            solver.parameters.max_deterministic_time = max(0.05, seconds)
            solver.parameters.num_workers = 1
        else:
            solver.parameters.max_time_in_seconds = max(0.05, seconds)
            # More ways of searching than there are cores: they take turns, and their variety is what finds
            # good plans.
            solver.parameters.num_workers = 8
        status = solver.solve(model)
        self._spent += solver.response_proto.deterministic_time
        return solver, status


def competing(problem: Problem) -> list[tuple[Chain, ...]]:
    """Batches that compete for an appliance, or for appliances that a circuit does not carry together; whole
    vessels.
    """
    places = {s.appliance for c in problem.chains for s in c.steps if s.appliance}
    wants: list[set[str]] = [{p} for p in places if problem.place(p).rings == 1]
    for name, limit in problem.limits_w:
        wants += [
            set(some)
            for some in overloads(problem, [p for p in places if problem.place(p).circuit == name], limit)
        ]
    groups: list[tuple[Chain, ...]] = []
    for want in sorted(wants, key=lambda w: (-len(w), sorted(w))):
        batches = {c.batch for c in problem.chains if any(s.appliance in want for s in c.steps)}
        of_loads = {c.together for c in problem.chains if c.batch in batches and c.together}
        group = tuple(c for c in problem.chains if c.batch in batches or c.together in of_loads)
        if (
            2 <= len(group) <= MOST
            and len(group) < len(problem.chains)
            and not any(set(group) <= set(g) for g in groups)
        ):
            groups.append(group)
    return groups


@dataclass
class Narrow:
    """The batches that compete hardest, planned alone as far as the ranks have come."""

    model: Model
    starts: Starts
    search: Search
    known: dict[str, int] = field(default_factory=dict)

    def next(self, name: str, seconds: float) -> int | None:
        """What no plan of all can better for this wish; None where it is not known. The narrow plan is held
        at what it reached.
        """
        if name not in BOUNDING:
            return None
        if name in self.known:
            return self.known[name]
        self.model.hint(self.starts)
        self.model.cp.minimize(self.model.wish(name))
        solver, status = self.search.solve(self.model.cp, seconds)
        if status not in FOUND:
            return None
        self.starts = self.model.starts_in(solver)
        self.known[name] = round(solver.best_objective_bound)
        return self.known[name]

    def hold(self, name: str, value: int) -> None:
        """Let the narrow plan be no worse than the whole is in a wish that is settled; the whole is never
        better.
        """
        if name in BOUNDING:
            self.model.cp.add(self.model.wish(name) <= value)
            # What was known of other wishes was known without this one held.
            self.known.clear()

    def near(self, model: Model) -> Iterator[cp_model.CpModel]:
        """The whole with these batches where the narrow plan has them, then near there."""
        for away in NEAR_S:
            tried = model.cp.clone()
            for key, start in zip(model.keys(), model.starts, strict=True):
                if key in self.starts:
                    variable = tried.get_int_var_from_proto_index(start.index)
                    tried.add_linear_constraint(
                        variable,
                        self.starts[key] - model.origin - away,
                        self.starts[key] - model.origin + away,
                    )
            yield tried


def hardest(problem: Problem, seconds: float, search: Search) -> Narrow | None:
    """The batches whose longest hold alone is proven to be longest; None where nothing is scarce, or all can
    be searched at once.
    """
    if len(problem.chains) < LEAST:
        return None
    began = search.now()
    found: list[tuple[int, Narrow]] = []
    groups = competing(problem)
    for n, group in enumerate(groups):
        keep = {c.batch for c in group}
        # The pace of the whole, or fewer would be held to more.
        some = replace(
            problem,
            chains=group,
            before=tuple(p for p in problem.before if p.batch in keep),
            pace_s=pace_of(problem),
        )
        narrow = Narrow(Model(some, hard=True), {}, search)
        left = seconds - (search.now() - began)
        # The widest competition comes first and is most likely the hardest.
        bound = narrow.next(LONGEST, left * (1.0 if n == len(groups) - 1 else MOST_OF_IT))
        if bound:
            found.append((bound, narrow))
    return max(found, key=lambda f: f[0])[1] if found else None

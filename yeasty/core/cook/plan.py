"""The plan: when each step of each batch begins, by constraint programming, proven best rank by rank or bounded.

Wishes are taken in order: limits kept; plates within the window; the longest hold short; holds alike; little moved (when
planned again); few hurried moments for the hands; begun as late as can be, nothing standing idle. Each is solved with those before it held at what
they reached, and answers with its value, its bound and whether it is proven. Source: lexicographic optimisation with CP-SAT of
OR-Tools. Only the worker loads this module: web processes know the words in `yeasty.core.cook.problem`.
"""

import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise, product
from math import ceil, floor

from ortools.sat.python import cp_model

from yeasty.core.cook.backward import backward_pass
from yeasty.core.cook.problem import (
    DAY_S,
    WORK_FROM_S,
    WORK_UNTIL_S,
    Block,
    Chain,
    Plan,
    PlannedStep,
    Problem,
    Rank,
    blocks_of,
    check_problem,
    hold_after,
    pots,
    shared_count,
    shared_steps,
    worded,
)
from yeasty.core.cook.steps import Attention, Phase, Step
from yeasty.core.errors import RuleError

# Two hand works closer than this are a hurried moment [s].
CALM_S = 45
HORIZON_S = 15 * 86400
# Chains up to this many hand works are searched for calm; beyond, the wish is left out and said so.
MOST_FOR_CALM = 60
HEATS = (Phase.COME_UP, Phase.COOK)
LIMITS, WINDOW, LONGEST, SPREAD, MOVED, CALM, LATEST, IDLE = (
    "limits kept", "plates within the window", "longest hold", "difference between holds", "moved from the last plan",
    "hurried moments", "earliest start", "standing idle before the heat",
)  # fmt: skip


@dataclass(frozen=True)
class _Use:
    """An appliance in use by a batch: from its first heat to its last, kept hot between.

    `first` and `last` are blocks with an offset [s] from their start: when it is switched on, and off.
    """

    batch: str
    place: str
    set_point: float | None
    first: tuple[int, int]
    last: tuple[int, int]
    pieces: int
    cook: tuple[int, int, int] | None


class _Model:
    """The constraints of a problem, with groups of demands that may be left out to find which clash."""

    def __init__(self, problem: Problem, off: frozenset[str] = frozenset(), hard: bool = False) -> None:
        self.problem, self.off, self.hard = problem, off, hard
        self.cp = cp_model.CpModel()
        self.origin = floor(problem.serve_until) - HORIZON_S
        self.tags = {c.batch: c.tag for c in problem.chains}
        self.pots, self.shared = pots(problem.chains), shared_steps(problem.chains)
        self.blocks: list[Block] = []
        self.starts: list[cp_model.IntVar] = []
        self.of_chain: dict[str, list[int]] = {}
        self.groups: list[str] = []
        self._variables()
        self._order()
        self._share_pots()
        self._hands()
        self._watching()
        self._places()
        self._circuits()
        self._wishes()

    def group(self, name: str) -> bool:
        """Whether a group of demands holds; every name is remembered."""
        if name not in self.groups:
            self.groups.append(name)
        return name not in self.off

    def at(self, seconds: float) -> int:
        """A moment on the model's clock."""
        return floor(seconds) - self.origin

    def _variables(self) -> None:
        # All work one after the other, twice over, and six hours: nothing on the day needs to lie further away.
        room = 2 * sum(ceil(b.length) for c in self.problem.chains for b in blocks_of(c) if not b.days_before) + 6 * 3600
        now = 0
        if self.problem.not_before is not None and self.group("nothing begins before now"):
            now = max(0, self.at(ceil(self.problem.not_before)))
        earliest = max(now, self.at(self.problem.serve_from) - room)
        self.latest = max(earliest, self.at(self.problem.serve_until)) + room
        for chain in self.problem.chains:
            self.of_chain[chain.batch] = []
            for block in blocks_of(chain):
                self.of_chain[chain.batch].append(len(self.blocks))
                self.blocks.append(block)
                n = len(self.starts)
                self.starts.append(self.cp.new_int_var(now if block.days_before else earliest, self.latest, f"s{n}"))

    def _length(self, n: int) -> int:
        return ceil(self.blocks[n].length)

    def _order(self) -> None:
        self.holds: dict[str, list[cp_model.LinearExpr]] = {}
        self.idle: list[cp_model.LinearExpr] = []
        self.excess: list[cp_model.IntVar] = []
        for chain in self.problem.chains:
            mine = self.of_chain[chain.batch]
            own = [self.blocks[n] for n in mine]
            gaps: list[cp_model.LinearExpr] = []
            for k in range(1, len(mine)):
                gap = self.starts[mine[k]] - self.starts[mine[k - 1]] - self._length(mine[k - 1])
                self.cp.add(gap >= 0)
                slack = floor(own[k - 1].slack_s)
                if hold_after(own, k):
                    gaps.append(self._beyond(gap, slack) if slack else gap)
                elif slack:
                    # A rise or a soak that may be drawn out ends where the next step begins.
                    if self.group(f"{chain.tag}: “{own[k - 1].last_main.what}” lasts at most {worded(own[k - 1].last_main.longest_s or 0.0)}"):
                        self._over(gap, slack)
                elif own[k].days_before == own[k - 1].days_before:
                    self.idle.append(gap)
            self.holds[chain.batch] = gaps
            if chain.hold_limit_s is not None and gaps and self.group(f"{chain.tag} waits at most {worded(chain.hold_limit_s)}"):
                self._over(sum(gaps), ceil(chain.hold_limit_s))
            for k, n in enumerate(mine):
                days = own[k].days_before
                if days and self.problem.midnight is not None and self.group(f"day-before work of {chain.tag} in working hours"):
                    day = self.problem.midnight - days * DAY_S
                    hands = max((o + s.duration_s for s, o in own[k].parts if s.attention is Attention.HANDS), default=0.0)
                    self._over(self.at(day + WORK_FROM_S) - self.starts[n], 0)
                    self._over(self.starts[n], self.at(day + WORK_UNTIL_S - hands))

    def _beyond(self, gap: cp_model.LinearExprT, slack: int) -> cp_model.LinearExpr:
        """What of a gap lies beyond a range that costs nothing [s]."""
        held = self.cp.new_int_var(0, 3 * HORIZON_S, "")
        self.cp.add_max_equality(held, [gap - slack, 0])
        return held

    def _share_pots(self) -> None:
        """Batches of one vessel go through what they have in common at once."""
        for own in self.pots.values():
            last, count = self.of_chain[own[-1].batch], shared_count(own)
            for chain in own[:-1]:
                together = {s.key for s in chain.steps[:count]}
                for mine, theirs in zip(self.of_chain[chain.batch], last, strict=False):
                    first = self.blocks[mine].parts[0][0]
                    # Also where the next thing is the cooking itself, of which each has its own length.
                    if first.key in together or (first.phase is Phase.COOK and first is chain.steps[min(count, len(chain.steps) - 1)]):
                        self.cp.add(self.starts[mine] == self.starts[theirs])

    def _over(self, expression: cp_model.LinearExprT, limit: int) -> None:
        """Keep an expression at a limit: at any price where demands are hard, else as a wish of the first rank."""
        if self.hard:
            self.cp.add(expression <= limit)
            return
        excess = self.cp.new_int_var(0, 3 * HORIZON_S, f"x{len(self.excess)}")
        self.cp.add(expression - limit <= excess)
        self.excess.append(excess)

    def _stretches(self, n: int, attention: Attention) -> list[tuple[int, int, str]]:
        """Stretches of a block that need hands or someone there, joined where they follow each other: offset, length, spot."""
        found: list[tuple[int, int, str]] = []
        for step, offset in sorted(self.blocks[n].parts, key=lambda p: p[1]):
            if step.attention is not attention or (self.blocks[n].batch, step.key) in self.shared:
                continue
            spot = self.problem.place(step.appliance).spot if step.appliance else ""
            start, end = floor(offset), ceil(offset + step.duration_s)
            if found and start <= found[-1][0] + found[-1][1] and found[-1][2] == spot:
                before = found.pop()
                start, end = before[0], max(end, before[0] + before[1])
            found.append((start, end - start, spot))
        return found

    def _fixed(self, attention: Attention) -> list[tuple[int, int, str]]:
        """What begun batches need from now on: start, length, spot on the model's clock."""
        now = self.problem.not_before
        found = []
        for chain, items in self.problem.fixed:
            by_key = {s.key: s for s in chain.steps}
            for p in items:
                step = by_key[p.step]
                if step.attention is attention and step.phase is not Phase.WASH_UP and (now is None or p.end > now):
                    start = max(p.start, now) if now is not None else p.start
                    spot = self.problem.place(step.appliance).spot if step.appliance else ""
                    found.append((self.at(start), max(1, ceil(p.end - start)), spot))
        return found

    def _capped(self, fixed: Iterable[tuple[int, int, int]], capacity: int) -> list[tuple[int, int, int]]:
        """Begun work as stretches that never need more than there is: it is as it is, and only new work gives way."""
        rows = [f for f in fixed if f[1] > 0]
        cuts = sorted({t for s, n, _ in rows for t in (s, s + n)})
        found = []
        for a, b in pairwise(cuts):
            demand = min(capacity, sum(d for s, n, d in rows if s < b and s + n > a))
            if demand:
                found.append((a, b - a, demand))
        return found

    def _cumulative(self, free: Sequence[tuple[cp_model.IntervalVar, int]], fixed: Iterable[tuple[int, int, int]], capacity: int) -> None:
        rows = [
            (self.cp.new_fixed_size_interval_var(a, length, f"f{a}"), demand) for a, length, demand in self._capped(fixed, capacity)
        ]  # fmt: skip
        every = [*free, *rows]
        if capacity == 1 and all(d == 1 for _, d in every):
            self.cp.add_no_overlap([i for i, _ in every])
        elif every:
            self.cp.add_cumulative([i for i, _ in every], [d for _, d in every], capacity)

    def _interval(self, n: int, offset: int, length: int) -> cp_model.IntervalVar:
        return self.cp.new_fixed_size_interval_var(self.starts[n] + offset, max(1, length), f"i{n}_{offset}")

    def _hands(self) -> None:
        walk = ceil(self.problem.walk_s)
        self.hand_works = [(n, o, length + walk) for n in range(len(self.blocks)) for o, length, _ in self._stretches(n, Attention.HANDS)]
        hands = "one pair of hands" if self.problem.people == 1 else f"{self.problem.people} pairs of hands"
        if self.group(hands):
            free = [(self._interval(n, o, length), 1) for n, o, length in self.hand_works]
            self._cumulative(free, [(a, length, 1) for a, length, _ in self._fixed(Attention.HANDS)], self.problem.people)

    def _watching(self) -> None:
        """Whoever watches stays: nobody's hands are needed elsewhere than there are people left for."""
        watched = [(n, o, length, spot) for n in range(len(self.blocks)) for o, length, spot in self._stretches(n, Attention.WATCHED) if spot]
        fixed = [f for f in self._fixed(Attention.WATCHED) if f[2]]
        spots = sorted({w[3] for w in watched} | {f[2] for f in fixed})
        if not spots or not self.group("someone stays where it is watched"):
            return
        walk = ceil(self.problem.walk_s)
        hands = [(n, o, length + walk, spot) for n in range(len(self.blocks)) for o, length, spot in self._stretches(n, Attention.HANDS)]
        for here in spots:
            own = [(n, o, length) for n, o, length, spot in watched if spot == here]
            own_fixed = [(a, length, 1) for a, length, spot in fixed if spot == here]
            away = [(n, o, length) for n, o, length, spot in [*hands, *watched] if spot and spot != here]
            away_fixed = [(a, length, 1) for a, length, spot in [*self._fixed(Attention.HANDS), *fixed] if spot and spot != here]
            if self.problem.people == 1:
                # Watching at one spot may overlap with watching there; only work elsewhere is shut out.
                for w in own:
                    self._cumulative([(self._interval(*w), 1)], away_fixed, 1)
                    for other in away:
                        self._apart(w, other)
                for a, length, _ in own_fixed:
                    for other in away:
                        self._apart_from_fixed(other, a, length)
            else:
                free = [(self._interval(*w), 1) for w in [*own, *away]]
                self._cumulative(free, [*own_fixed, *away_fixed], self.problem.people)

    def _apart(self, a: tuple[int, int, int], b: tuple[int, int, int], gap: int = 0) -> cp_model.IntVar | None:
        """Two stretches never at once; None where they are of one block and cannot be."""
        if a[0] == b[0]:
            return None
        first = self.cp.new_bool_var("")
        self.cp.add(self.starts[a[0]] + a[1] + a[2] + gap <= self.starts[b[0]] + b[1]).only_enforce_if(first)
        self.cp.add(self.starts[b[0]] + b[1] + b[2] + gap <= self.starts[a[0]] + a[1]).only_enforce_if(first.negated())
        return first

    def _apart_from_fixed(self, a: tuple[int, int, int], start: int, length: int, gap: int = 0) -> None:
        first = self.cp.new_bool_var("")
        self.cp.add(self.starts[a[0]] + a[1] + a[2] + gap <= start).only_enforce_if(first)
        self.cp.add(start + length + gap <= self.starts[a[0]] + a[1]).only_enforce_if(first.negated())

    def _uses(self) -> list[_Use]:
        found = []
        for chain in self.problem.chains:
            own = self.pots.get(chain.pot, [chain])
            # A vessel is in use until its last pull: the batch that is pulled last stands for all that share it.
            theirs: set[str] = set()
            if own[-1] is not chain:
                first_heat = next((i for i, s in enumerate(chain.steps) if s.phase is Phase.COOK), 0)
                theirs = {s.key for s in chain.steps[: max(shared_count(own), first_heat + 1)]}
            pieces = sum(c.pieces or 1 for c in own) if own[-1] is chain else chain.pieces or 1
            by_place: dict[str, list[tuple[int, Step, float]]] = {}
            for n in self.of_chain[chain.batch]:
                for step, offset in self.blocks[n].parts:
                    if step.appliance and step.phase in HEATS and step.key not in theirs:
                        by_place.setdefault(step.appliance, []).append((n, step, offset))
            for key, rows in by_place.items():
                (n0, _, o0), (n1, s1, o1) = rows[0], rows[-1]
                points = [s.set_point_c for _, s, _ in rows if s.set_point_c is not None]
                cooks = [(n, floor(o), ceil(s.duration_s)) for n, s, o in rows if s.phase is Phase.COOK]
                found.append(
                    _Use(chain.batch, key, points[-1] if points else None, (n0, floor(o0)), (n1, ceil(o1 + s1.duration_s)), pieces,
                         cooks[0] if cooks else None)
                )  # fmt: skip
        return found

    def _on(self, use: _Use) -> cp_model.LinearExprT:
        return self.starts[use.first[0]] + use.first[1]

    def _off(self, use: _Use) -> cp_model.LinearExprT:
        return self.starts[use.last[0]] + use.last[1]

    def _fixed_uses(self) -> list[tuple[str, float | None, int, int, int]]:
        """Appliances in use by begun batches: place, set point, on, off, pieces."""
        now = self.problem.not_before
        found = []
        spans: dict[tuple[str, str], list[tuple[Chain, Step, PlannedStep]]] = {}
        for chain, items in self.problem.fixed:
            by_key = {s.key: s for s in chain.steps}
            for p in items:
                step = by_key[p.step]
                if step.appliance and step.phase in HEATS:
                    spans.setdefault((chain.pot or chain.batch, step.appliance), []).append((chain, step, p))
        for (_, key), rows in spans.items():
            on, off = min(p.start for *_, p in rows), max(p.end for *_, p in rows)
            if now is None or off > now:
                points = [s.set_point_c for _, s, _ in rows if s.set_point_c is not None]
                on = max(on, now) if now is not None else on
                pieces = sum({c.batch: c.pieces or 1 for c, _, _ in rows}.values())
                found.append((key, points[-1] if points else None, self.at(on), max(self.at(on) + 1, self.at(ceil(off))), pieces))
        return found

    def _places(self) -> None:
        self.uses = self._uses()
        fixed = self._fixed_uses()
        for key in sorted({u.place for u in self.uses}):
            place = self.problem.place(key)
            mine = [u for u in self.uses if u.place == key]
            theirs = [f for f in fixed if f[0] == key]
            if not self.group(f"one {(place.name or 'appliance').lower()}"):
                continue
            if place.rings > 1:
                free = [(self._span(u), 1) for u in mine]
                self._cumulative(free, [(on, off - on, 1) for _, _, on, off, _ in theirs], place.rings)
                continue
            for a, b in combinations(mine, 2):
                if a.set_point != b.set_point:
                    gap = self._change(place.change_s_per_k, a.set_point, b.set_point)
                    self._one_first((self._on(a), self._off(a)), (self._on(b), self._off(b)), gap)
            for u, f in product(mine, theirs):
                if u.set_point != f[1]:
                    self._one_first((self._on(u), self._off(u)), (f[2], f[3]), self._change(place.change_s_per_k, u.set_point, f[1]))
            if place.capacity:
                # A batch that is larger than the appliance takes it whole, in rounds.
                free = [(self._interval(*u.cook), min(u.pieces, place.capacity)) for u in mine if u.cook]
                self._cumulative(free, [(on, off - on, min(n, place.capacity)) for _, _, on, off, n in theirs], place.capacity)

    def _span(self, use: _Use) -> cp_model.IntervalVar:
        size = self.cp.new_int_var(1, 3 * HORIZON_S, "")
        return self.cp.new_interval_var(self._on(use), size, self._off(use), f"u{use.first}")

    def _one_first(self, a: tuple[cp_model.LinearExprT, cp_model.LinearExprT], b: tuple[cp_model.LinearExprT, cp_model.LinearExprT], gap: int) -> None:
        first = self.cp.new_bool_var("")
        self.cp.add(a[1] + gap <= b[0]).only_enforce_if(first)
        self.cp.add(b[1] + gap <= a[0]).only_enforce_if(first.negated())

    @staticmethod
    def _change(per_k: float, a: float | None, b: float | None) -> int:
        return ceil(per_k * abs(a - b)) if a is not None and b is not None else 0

    def _circuits(self) -> None:
        """No circuit above its limit on the full input of all that may heat at once: smallest overloads are kept apart."""
        for name, limit in self.problem.limits_w:
            on = {
                u.place: self.problem.place(u.place) for u in self.uses if self.problem.place(u.place).circuit == name
            }  # fmt: skip
            fixed = [f for f in self._fixed_uses() if self.problem.place(f[0]).circuit == name]
            on |= {f[0]: self.problem.place(f[0]) for f in fixed}
            if not on or not self.group(f"circuit {name} carries {limit / 1000:.1f} kW"):
                continue
            for size in range(2, len(on) + 1):
                for some in combinations(sorted(on), size):
                    total = sum(on[k].input_w or 0.0 for k in some)
                    smaller = any(sum(on[k].input_w or 0.0 for k in less) > limit for less in combinations(some, size - 1))
                    if total > limit and not smaller:
                        self._not_all(some, fixed)

    def _not_all(self, places: Sequence[str], fixed: Sequence[tuple[str, float | None, int, int, int]]) -> None:
        """Of these appliances never all at once: of every choice of one use each, two are apart."""
        spans = [
            [*((self._on(u), self._off(u)) for u in self.uses if u.place == p), *((f[2], f[3]) for f in fixed if f[0] == p)] for p in places
        ]
        for choice in product(*spans):
            apart = []
            for a, b in combinations(choice, 2):
                if isinstance(a[0], int) and isinstance(b[0], int):
                    continue
                first, second = self.cp.new_bool_var(""), self.cp.new_bool_var("")
                self.cp.add(a[1] <= b[0]).only_enforce_if(first)
                self.cp.add(b[1] <= a[0]).only_enforce_if(second)
                apart += [first, second]
            if apart:
                self.cp.add_bool_or(apart)

    def _wishes(self) -> None:
        p = self.problem
        low, high = self.at(p.serve_from), self.at(p.serve_until)
        self.outside: list[cp_model.IntVar] = []
        self.served: dict[str, cp_model.LinearExpr] = {}
        self.hold: dict[str, cp_model.IntVar] = {}
        for chain in p.chains:
            last = self.of_chain[chain.batch][-1]
            done = self.starts[last] + self._length(last)
            self.served[chain.batch] = done
            if self.hard and self.group("plates meet in the window"):
                self.cp.add(done >= low)
                self.cp.add(done <= high)
            out = self.cp.new_int_var(0, 3 * HORIZON_S, "")
            self.cp.add(out >= low - done)
            self.cp.add(out >= done - high)
            self.outside.append(out)
            held = self.cp.new_int_var(0, 3 * HORIZON_S, "")
            self.cp.add(held == sum(self.holds[chain.batch])) if self.holds[chain.batch] else self.cp.add(held == 0)
            self.hold[chain.batch] = held
        self.longest = self.cp.new_int_var(0, 3 * HORIZON_S, "longest")
        self.shortest = self.cp.new_int_var(0, 3 * HORIZON_S, "shortest")
        for held in self.hold.values():
            self.cp.add(self.longest >= held)
            self.cp.add(self.shortest <= held)
        self.earliest = self.cp.new_int_var(0, 3 * HORIZON_S, "earliest")
        for s, block in zip(self.starts, self.blocks, strict=True):
            if not block.days_before:
                self.cp.add(self.earliest <= s)

    def calm(self) -> list[cp_model.IntVar]:
        """For each hand work whether the next leaves a moment's peace; only worth its variables in its own rank."""
        found, intervals = [], []
        for k, (n, o, length) in enumerate(self.hand_works):
            calm = self.cp.new_bool_var(f"calm{k}")
            end = self.cp.new_int_var(0, 4 * HORIZON_S, "")
            self.cp.add(end == self.starts[n] + o + length + CALM_S * calm)
            size = self.cp.new_int_var(length, length + CALM_S, "")
            self.cp.add(size == length + CALM_S * calm)
            intervals.append(self.cp.new_interval_var(self.starts[n] + o, size, end, f"c{k}"))
            found.append(calm)
        if self.problem.people == 1:
            self.cp.add_no_overlap(intervals)
        else:
            self.cp.add_cumulative(intervals, [1] * len(intervals), self.problem.people)
        return found

    def moved(self) -> list[cp_model.IntVar]:
        """For each block how far it is moved from the plan before [s]."""
        was = {(p.batch, p.step): p.start for p in self.problem.before}
        found = []
        for n, block in enumerate(self.blocks):
            old = was.get((block.batch, block.parts[0][0].key))
            if old is not None:
                d = self.cp.new_int_var(0, 3 * HORIZON_S, "")
                self.cp.add_abs_equality(d, self.starts[n] - self.at(old))
                found.append(d)
        return found


def _solver(seconds: float, seed: int) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = max(0.05, seconds)
    solver.parameters.random_seed = seed
    # More ways of searching than there are cores: they take turns, and their variety is what finds good plans.
    solver.parameters.num_workers = 8
    return solver


def solve(problem: Problem, time_limit_s: float = 2.0, seed: int = 0) -> Plan:
    """The best plan that is found in the time, rank by rank, with its bounds.

    Parameters
    ----------
    problem : what is to be planned
    time_limit_s : for all ranks together [s]
    seed : of the search; with enough time for every proof the answer does not depend on it

    Raises
    ------
    RuleError : what `check_problem` refuses

    Notes
    -----
    Times are planned in whole seconds, lengths rounded up. A hob's rings are set for themselves; other appliances hold batches of
    one set point together up to their capacity. Hand work takes a person whole; watching takes the place of a person at that spot.
    """
    check_problem(problem)
    if not problem.chains:
        return Plan((), (), (), 0.0, "everything has begun", ())
    began = time.monotonic()
    hint = {(p.batch, p.step): p.start for p in (problem.before or _first_answer(problem))}
    # All demands met at once is what is asked for; searched with them held it is found fastest. Only where that cannot be
    # are limits and window wishes that give way.
    found = _ranked(_Model(problem, hard=True), hint, [], time_limit_s * 0.9, began, seed, met=True)
    if found is None:
        model = _Model(problem)
        wishes = [(LIMITS, "s", sum(model.excess)), (WINDOW, "s", sum(model.outside))]
        left = max(0.3 * time_limit_s, time_limit_s - (time.monotonic() - began))
        found = _ranked(model, hint, wishes if model.excess else wishes[1:], left, time.monotonic(), seed, met=False)
    if found is None:
        return _fallback(problem)
    model, values, ranks = found
    clashing = _clashing(problem, seed) if any(r.name in (LIMITS, WINDOW) and r.value > 0 for r in ranks) else ()
    return _plan(problem, model, values, tuple(ranks), clashing)


Wish = tuple[str, str, cp_model.LinearExprT]


def _ranked(
    model: _Model, hint: Mapping[tuple[str, str], float], first: Sequence[Wish], limit_s: float, began: float, seed: int, *, met: bool
) -> tuple[_Model, list[int], list[Rank]] | None:
    """Solve the wishes one after another, each held at what it reached; None where not even the first has an answer.

    With `met` the demands are hard, and an answer proves that they can be met: their ranks are nought.
    """
    for n, block in enumerate(model.blocks):
        start = hint.get((block.batch, block.parts[0][0].key))
        if start is not None:
            model.cp.add_hint(model.starts[n], max(0, model.at(start)))
    wishes: list[tuple[str, str, Callable[[], cp_model.LinearExprT]]] = [(name, unit, lambda e=e: e) for name, unit, e in first]  # type: ignore[misc]
    wishes += [(LONGEST, "s", lambda: model.longest), (SPREAD, "s", lambda: model.longest - model.shortest)]
    if model.problem.before:
        wishes.append((MOVED, "s", lambda: sum(model.moved())))
    if len(model.hand_works) <= MOST_FOR_CALM:
        wishes.append((CALM, "", lambda: len(model.hand_works) - sum(model.calm())))
    wishes += [(LATEST, "s", lambda: -model.earliest), (IDLE, "s", lambda: sum(model.idle))]
    ranks: list[Rank] = []
    values: list[int] | None = None
    for k, (name, unit, goal) in enumerate(wishes):
        left = limit_s - (time.monotonic() - began)
        if values is not None and left < 0.05:
            break
        expression = goal()
        if name == LATEST:
            # Nothing standing idle is nearly as late as can be: from there the proof is short.
            _hint_from(model, sum(model.idle), left * 0.3, seed)
            left = limit_s - (time.monotonic() - began)
        model.cp.minimize(expression)
        solver = _solver(left * (0.6 if k < len(wishes) - 1 else 1.0), seed)
        status = solver.solve(model.cp)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            if values is None:
                return None
            break
        value, bound = round(solver.objective_value), floor(solver.best_objective_bound + 1e-6)
        proven = status == cp_model.OPTIMAL
        if values is None and met:
            if any(c.hold_limit_s is not None for c in model.problem.chains) or any(b.days_before for b in model.blocks):
                ranks.append(Rank(LIMITS, 0.0, 0.0, True))
            ranks.append(Rank(WINDOW, 0.0, 0.0, True))
        if name != IDLE:  # a finishing touch, not one of the wishes
            ranks.append(_rank(name, value, bound, proven, unit, model))
        values = [solver.value(s) for s in model.starts]
        # What was reached is held; if it was not proven, a later rank may not spoil it, and may better it.
        model.cp.add(expression <= value)
        model.cp.clear_hints()  # type: ignore[no-untyped-call]
        for s, v in zip(model.starts, values, strict=True):
            model.cp.add_hint(s, v)
    assert values is not None
    return model, values, ranks


def _hint_from(model: _Model, expression: cp_model.LinearExprT, seconds: float, seed: int) -> None:
    """Search for a wish without holding it, and go on from what was found."""
    model.cp.minimize(expression)
    solver = _solver(seconds, seed)
    if solver.solve(model.cp) in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        values = [solver.value(s) for s in model.starts]
        model.cp.clear_hints()  # type: ignore[no-untyped-call]
        for s, v in zip(model.starts, values, strict=True):
            model.cp.add_hint(s, v)


def _rank(name: str, value: int, bound: int, proven: bool, unit: str, model: _Model) -> Rank:
    if name == LATEST:
        return Rank(name, float(-value + model.origin), float(-bound + model.origin), proven, unit)
    return Rank(name, float(value), float(value if proven else bound), proven, unit)


def _first_answer(problem: Problem) -> tuple[PlannedStep, ...]:
    try:
        return backward_pass(problem).items
    except RuleError:
        return ()


def _fallback(problem: Problem) -> Plan:
    plan = backward_pass(problem)
    note = "No time to search: this plan knows nothing of circuits and capacity. Look at both."
    return Plan(plan.items, plan.served, plan.holds, plan.longest_hold_s, plan.proof, (*plan.notes, note))


def _plan(problem: Problem, model: _Model, values: Sequence[int], ranks: tuple[Rank, ...], clashing: tuple[str, ...]) -> Plan:
    items: list[PlannedStep] = []
    holds: dict[str, float] = {}
    served: dict[str, float] = {}
    for chain in problem.chains:
        own = [model.blocks[n] for n in model.of_chain[chain.batch]]
        starts = [float(values[n] + model.origin) for n in model.of_chain[chain.batch]]
        for k, (block, start) in enumerate(zip(own, starts, strict=True)):
            drawn = min(block.slack_s, starts[k + 1] - start - ceil(block.length)) if block.slack_s and k + 1 < len(own) else 0.0
            items += [
                PlannedStep(chain.batch, s.key, start + o, start + o + s.duration_s + (max(0.0, drawn) if s is block.last_main else 0.0))
                for s, o in block.parts
            ]
        holds[chain.batch] = sum(
            max(0.0, starts[k] - starts[k - 1] - ceil(own[k - 1].length) - floor(own[k - 1].slack_s)) for k in range(1, len(own)) if hold_after(own, k)
        )  # fmt: skip
        served[chain.batch] = starts[-1] + own[-1].length
    return Plan(
        tuple(sorted(items, key=lambda p: (p.start, p.batch, p.step))), tuple(sorted(served.items())), tuple(sorted(holds.items())),
        max(holds.values()), _proof(ranks), tuple(_notes(problem, served, ranks, clashing)), ranks, clashing,
    )  # fmt: skip


def _proof(ranks: Sequence[Rank]) -> str:
    """How good a plan is, in words.

    >>> _proof([Rank("longest hold", 120, 120, True), Rank("hurried moments", 3, 1, False, "")])
    'proven best in longest hold; hurried moments 3, at best 1'
    """
    proven = [r.name for r in ranks if r.proven]
    loose = [r for r in ranks if not r.proven]
    if not loose:
        return "proven best in every rank"
    said = f"proven best in {', '.join(proven)}" if proven else "not proven best"

    def value(r: Rank, v: float) -> str:
        return f"{v:.0f}" if not r.unit else worded(v) if r.name != LATEST else "later"

    told = [f"{r.name} {value(r, r.value)}, at best {value(r, r.bound)}" for r in loose if r.name != LATEST]
    return "; ".join([said, *told]) + ("; the start may be possible later" if any(r.name == LATEST for r in loose) else "")


def _notes(problem: Problem, served: Mapping[str, float], ranks: Sequence[Rank], clashing: Sequence[str]) -> list[str]:
    tags = {c.batch: c.tag for c in problem.chains}
    found = []
    late = {b: t - problem.serve_until for b, t in served.items() if t > problem.serve_until + 0.5}
    early = [tags[b] for b, t in served.items() if t < problem.serve_from - 0.5]
    if late:
        worst = max(late, key=lambda b: late[b])
        found.append(f"The plates cannot meet as asked: {tags[worst]} is {worded(late[worst])} late.")
    if early:
        found.append(f"Plated before the window: {', '.join(sorted(early))}.")
    if any(r.name == LIMITS and r.value > 0 for r in ranks):
        found.append("A limit cannot be kept.")
    if clashing:
        found.append(f"Not all of this can be had: {'; '.join(clashing)}. Give up one of them.")
    return found


def _clashing(problem: Problem, seed: int, each_s: float = 0.4) -> tuple[str, ...]:
    """Demands that cannot all be met, from which none can be left out (by leaving out one after another)."""

    def possible(off: frozenset[str]) -> bool | None:
        model = _Model(problem, off, hard=True)
        status = _solver(each_s, seed).solve(model.cp)
        return True if status in (cp_model.OPTIMAL, cp_model.FEASIBLE) else False if status == cp_model.INFEASIBLE else None

    if possible(frozenset()) is not False:
        return ()
    every = _Model(problem, hard=True).groups
    off: set[str] = set()
    for name in every:
        if possible(frozenset(off | {name})) is False:
            off.add(name)
    return tuple(g for g in every if g not in off)


__all__ = ["Chain", "Plan", "PlannedStep", "Problem", "solve"]

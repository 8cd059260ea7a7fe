"""The constraints of a plan as CP-SAT sees them: order, vessels, hands, watching, limits, window, and what is
wished for.
"""

from collections.abc import Mapping
from math import ceil, floor

from ortools.sat.python import cp_model

from yeasty.core.cook.blocks import hold_after
from yeasty.core.cook.plan_hands import add_hands, add_watching
from yeasty.core.cook.plan_places import add_appliances, add_circuits
from yeasty.core.cook.plan_timeline import Timeline
from yeasty.core.cook.plan_words import AGES, LONGEST, OLDEST, SPREAD
from yeasty.core.cook.problem import (
    DAY_S,
    HORIZON_S,
    WORK_FROM_S,
    WORK_UNTIL_S,
    Chain,
    Problem,
    overrun_s,
    pace_of,
    worded,
)
from yeasty.core.kernel.steps import Attention, Phase

# Two hand works closer than this are a hurried moment [s].
CALM_S = 45
Starts = Mapping[tuple[str, str], int]


class Model(Timeline):
    """The constraints of a problem: order, waits, hands, places, and what is wished for.

    `may_be_late` lets only the end of the window give way, for all plates together.
    """

    def __init__(
        self,
        problem: Problem,
        off: frozenset[str] = frozenset(),
        hard: bool = False,
        may_be_late: bool = False,
    ) -> None:
        super().__init__(problem, off, hard=hard)
        self.may_be_late = may_be_late
        self._order()
        self._beside()
        self._waits()
        self._do_together()
        self.hand_works = add_hands(self)
        add_watching(self)
        self.uses = add_appliances(self)
        add_circuits(self, self.uses)
        self._wishes()

    def _order(self) -> None:
        self.holds: dict[str, list[cp_model.LinearExpr]] = {}
        self.idle: list[cp_model.LinearExpr] = []
        for chain in self.problem.chains:
            mine = self.of_chain[chain.batch]
            own = [self.blocks[n] for n in mine]
            gaps: list[cp_model.LinearExpr] = []
            room: list[cp_model.LinearExpr] = []
            for k in range(1, len(mine)):
                gap = self.starts[mine[k]] - self.starts[mine[k - 1]] - self.length(mine[k - 1])
                self.cp.add(gap >= 0)
                slack = floor(own[k - 1].slack_s)
                if hold_after(own, k):
                    room.append(gap)
                    gaps.append(self._beyond(gap, slack) if slack else gap)
                elif slack:
                    # A rise or a soak that may be drawn out ends where the next step begins.
                    if self.group(
                        f"{chain.tag}: “{own[k - 1].last_main.what}” lasts at most "
                        f"{worded(own[k - 1].last_main.longest_s or 0.0)}"
                    ):
                        self.over(gap, slack)
                elif own[k].days_before == own[k - 1].days_before:
                    self.idle.append(gap)
            self.holds[chain.batch] = gaps
            late = ceil(overrun_s(chain)) if self.problem.leave_room else 0
            if late and self.group(f"{chain.tag} may cook {worded(late)} longer and still meets the others"):
                # What the food ends may end later: what follows waits for it, or the window does.
                last = mine[-1]
                self.over(late - sum(room), 0) if room else self.over(
                    self.starts[last] + self.length(last) + late, self.at(self.problem.serve_until)
                )
            if (
                chain.hold_limit_s is not None
                and gaps
                and self.group(f"{chain.tag} waits at most {worded(chain.hold_limit_s)}")
            ):
                self.over(sum(gaps), ceil(chain.hold_limit_s))
            for k, n in enumerate(mine):
                days = own[k].days_before
                if (
                    days
                    and self.problem.midnight is not None
                    and self.group(f"day-before work of {chain.tag} in working hours")
                ):
                    day = self.problem.midnight - days * DAY_S
                    hands = max(
                        (o + s.duration_s for s, o in own[k].parts if s.attention is Attention.HANDS),
                        default=0.0,
                    )
                    self.over(self.at(day + WORK_FROM_S) - self.starts[n], 0)
                    self.over(self.starts[n], self.at(day + WORK_UNTIL_S - hands))

    def _beside(self) -> None:
        """A preheat beside the food is over when the food comes; standing hot is idle."""
        for chain in self.problem.chains:
            where = self.where(chain.batch)
            for n, taker in self.sides[chain.batch]:
                block, offset = where[taker]
                gap = self.starts[block] + floor(offset) - self.starts[n] - self.length(n)
                self.cp.add(gap >= 0)
                self.idle.append(gap)
            for key, moment in chain.ready:
                n, offset = where[key]
                self.cp.add(self.starts[n] + floor(offset) >= self.at(ceil(moment)))

    def _waits(self) -> None:
        """Food stands no longer than its kind may, raw and between two heats."""
        for chain in self.problem.chains:
            where = self.where(chain.batch)
            steps = {s.key: s for s in chain.steps}
            for w in chain.waits:
                n, after = where[w.until]
                worked = sum(steps[k].duration_s + steps[k].slack_s for k in w.between)
                stands = self.starts[n] + floor(after)
                if w.since is not None:
                    stands -= self.at(w.since)
                else:
                    m, before = where[w.after]
                    stands -= self.starts[m] + ceil(before + steps[w.after].duration_s)
                if self.group(f"{chain.tag}: {w.words}"):
                    self.over(stands, ceil(w.at_most_s + worked))

    def _beyond(self, gap: cp_model.LinearExprT, slack: int) -> cp_model.LinearExpr:
        """What of a gap lies beyond a range that costs nothing [s]."""
        held = self.cp.new_int_var(0, 3 * HORIZON_S, "")
        self.cp.add_max_equality(held, [gap - slack, 0])
        return held

    def _do_together(self) -> None:
        """What batches have in common is at one moment: a load goes in at once, the shared preparation is
        done for all.
        """
        for t in self.together:
            theirs = self.where(t.by.batch)
            for batch in t.others:
                mine, met = self.where(batch), set[tuple[int, int]]()
                for name, key in t.begins[batch].items():
                    (n, a), (m, b) = mine[key], theirs[t.begins[t.by.batch][name]]
                    if (n, m) not in met:
                        met.add((n, m))
                        self.cp.add(self.starts[n] + floor(a) == self.starts[m] + floor(b))

    def _wishes(self) -> None:
        p = self.problem
        high = self.at(p.serve_until)
        low = min(self.at(ceil(p.serve_from)), high)
        self.late = self.cp.new_int_var(0, 2 * round(DAY_S) if self.may_be_late else 0, "late")
        self.outside: list[cp_model.IntVar] = []
        self.served: dict[str, cp_model.LinearExpr] = {}
        self.hold: dict[str, cp_model.IntVar] = {}
        for chain in p.chains:
            last = self.of_chain[chain.batch][-1]
            done = self.starts[last] + self.length(last)
            self.served[chain.batch] = done
            if self.hard and self.group("plates meet in the window"):
                self.cp.add(done >= low)
                self.cp.add(done <= high + self.late)
            out = self.cp.new_int_var(0, 3 * HORIZON_S, "")
            self.cp.add(out >= low - done)
            self.cp.add(out >= done - high)
            self.outside.append(out)
            held = self.cp.new_int_var(0, 3 * HORIZON_S, "")
            self.cp.add(held == sum(self.holds[chain.batch])) if self.holds[chain.batch] else self.cp.add(
                held == 0
            )
            self.hold[chain.batch] = held
        self.oldest = self.cp.new_int_var(0, 3 * HORIZON_S, "oldest")
        self.youngest = self.cp.new_int_var(0, 3 * HORIZON_S, "youngest")
        if p.same_age:
            for chain in p.chains:
                age = self._age(chain)
                if age is not None:
                    self.cp.add(self.oldest >= age)
                    self.cp.add(self.youngest <= age)
            pace = pace_of(p)
            if pace and self.group(f"{worded(pace)} from one plate to the next"):
                self.cp.add_no_overlap(
                    [
                        self.cp.new_fixed_size_interval_var(done, pace, f"t{b}")
                        for b, done in self.served.items()
                    ]
                )
        self.longest = self.cp.new_int_var(0, 3 * HORIZON_S, "longest")
        self.shortest = self.cp.new_int_var(0, 3 * HORIZON_S, "shortest")
        for held in self.hold.values():
            self.cp.add(self.longest >= held)
            self.cp.add(self.shortest <= held)
        self.earliest = self.cp.new_int_var(0, 3 * HORIZON_S, "earliest")
        for s, block in zip(self.starts, self.blocks, strict=True):
            if not block.days_before:
                self.cp.add(self.earliest <= s)

    def _age(self, chain: Chain) -> cp_model.LinearExprT | None:
        """From the end of its last heat to the plate [s]; None for what is never heated."""
        heats = [
            self.starts[n] + ceil(offset + step.duration_s)
            for n in self.of_chain[chain.batch]
            for step, offset in self.blocks[n].parts
            if step.phase is Phase.COOK and step.during_offset_s is None
        ]
        return self.served[chain.batch] - heats[-1] if heats else None

    def wish(self, name: str) -> cp_model.LinearExprT:
        """What a wish about holds and ages comes to [s]; each can only grow with more batches."""
        return {
            LONGEST: self.longest,
            SPREAD: self.longest - self.shortest,
            AGES: self.oldest - self.youngest,
            OLDEST: self.oldest,
        }[name]

    def calm(self) -> list[cp_model.IntVar]:
        """For each hand work whether the next leaves a moment's peace; only worth its variables in its own
        rank.
        """
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

    def keys(self) -> list[tuple[str, str]]:
        """What each block is known by outside this model: its batch and its first step."""
        return [(b.batch, b.parts[0][0].key) for b in self.blocks]

    def starts_in(self, solver: cp_model.CpSolver) -> dict[tuple[str, str], int]:
        """Where a search put each block [s since 1970]."""
        return {k: solver.value(s) + self.origin for k, s in zip(self.keys(), self.starts, strict=True)}

    def hint(self, starts: Mapping[tuple[str, str], float]) -> None:
        """Let the next search begin from these."""
        self.cp.clear_hints()  # type: ignore[no-untyped-call]
        for k, s in zip(self.keys(), self.starts, strict=True):
            if k in starts:
                self.cp.add_hint(s, max(0, self.at(starts[k])))

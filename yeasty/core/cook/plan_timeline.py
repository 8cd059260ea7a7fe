"""When each block of a problem begins, as variables of a search, and how demands are put on them.

Everything that puts demands (order, hands, places, circuits) stands on this and not on each other.
"""

from collections.abc import Collection, Iterable, Sequence
from itertools import pairwise
from math import ceil, floor

from ortools.sat.python import cp_model

from yeasty.core.cook.blocks import Block, blocks_of, side_blocks
from yeasty.core.cook.problem import HORIZON_S, Chain, Problem
from yeasty.core.cook.together import done_together, shared_steps


class Timeline:
    """Blocks and their starts, with groups of demands that may be left out to find which clash.

    Demands are held (`hard`) or give way at a price.
    """

    def __init__(self, problem: Problem, off: frozenset[str] = frozenset(), *, hard: bool = False) -> None:
        self.problem, self.off, self.hard = problem, off, hard
        self.cp = cp_model.CpModel()
        self.origin = floor(problem.serve_until) - HORIZON_S
        self.tags = {c.batch: c.tag for c in problem.chains}
        self.together = done_together(problem.chains)
        # Steps that another batch does for theirs: no hands of their own.
        self.shared = shared_steps(problem.chains)
        self.blocks: list[Block] = []
        self.starts: list[cp_model.IntVar] = []
        self.of_chain: dict[str, list[int]] = {}
        # Preheats beside the food: block, and the step of the batch that it must be over for.
        self.sides: dict[str, list[tuple[int, str]]] = {}
        self.groups: list[str] = []
        self.excess: list[cp_model.IntVar] = []
        self.limited = False
        self._variables()

    def group(self, name: str) -> bool:
        """Whether a group of demands holds; every name is remembered."""
        if name not in self.groups:
            self.groups.append(name)
        return name not in self.off

    def at(self, seconds: float) -> int:
        """A moment on the model's clock."""
        return floor(seconds) - self.origin

    def _variables(self) -> None:
        # All work one after the other, twice over, and six hours: nothing on the day needs to lie further
        # away.
        room = (
            2
            * sum(
                ceil(b.length)
                for c in self.problem.chains
                for b in (*blocks_of(c), *(side for side, _ in side_blocks(c)))
                if not b.days_before
            )
            + 6 * 3600
        )
        now = 0
        if self.problem.not_before is not None and self.group("nothing begins before now"):
            now = max(0, self.at(ceil(self.problem.not_before)))
        earliest = max(now, self.at(self.problem.serve_from) - room)
        self.latest = max(earliest, self.at(self.problem.serve_until)) + room
        for chain in self.problem.chains:
            self.of_chain[chain.batch] = [self._block(b, now, earliest) for b in blocks_of(chain)]
            self.sides[chain.batch] = [
                (self._block(b, now, earliest), taker) for b, taker in side_blocks(chain)
            ]

    def _block(self, block: Block, now: int, earliest: int) -> int:
        """A block with its start; its number."""
        n = len(self.blocks)
        self.blocks.append(block)
        self.starts.append(self.cp.new_int_var(now if block.days_before else earliest, self.latest, f"s{n}"))
        return n

    def where(self, batch: str) -> dict[str, tuple[int, float]]:
        """Of a batch each step's block and its offset from the block's start [s]."""
        blocks = [*self.of_chain[batch], *(n for n, _ in self.sides[batch])]
        return {s.key: (n, o) for n in blocks for s, o in self.blocks[n].parts}

    def length(self, n: int) -> int:
        """How long a block lasts [s]."""
        return ceil(self.blocks[n].length)

    def done_by_others(self, batch: str) -> frozenset[str]:
        """Steps of a batch for which another keeps their place: those of its load, until it is pulled by
        itself.
        """
        return frozenset(key for t in self.together if batch in t.others for key in t.begins[batch].values())

    def pieces_in(self, chain: Chain, steps: Collection[str]) -> int:
        """How many pieces are in an appliance with a batch: those of its whole load where it stands for
        it.
        """
        pieces = {c.batch: c.pieces or 1 for c in self.problem.chains}
        load = next((t for t in self.together if t.by.batch == chain.batch and t.by.together), None)
        if load is None or not set(load.begins[chain.batch].values()) & set(steps):
            return pieces[chain.batch]
        return sum(pieces[b] for b in load.begins)

    def over(self, expression: cp_model.LinearExprT, limit: int) -> None:
        """Keep an expression at a limit: at any price where demands are hard, else as a wish of the first
        rank.
        """
        self.limited = True
        if self.hard:
            self.cp.add(expression <= limit)
            return
        excess = self.cp.new_int_var(0, 3 * HORIZON_S, f"x{len(self.excess)}")
        self.cp.add(expression - limit <= excess)
        self.excess.append(excess)

    def _capped(self, fixed: Iterable[tuple[int, int, int]], capacity: int) -> list[tuple[int, int, int]]:
        """Begun work as stretches that never need more than there is: it is as it is, and only new work gives
        way.
        """
        rows = [f for f in fixed if f[1] > 0]
        cuts = sorted({t for s, n, _ in rows for t in (s, s + n)})
        found = []
        for a, b in pairwise(cuts):
            demand = min(capacity, sum(d for s, n, d in rows if s < b and s + n > a))
            if demand:
                found.append((a, b - a, demand))
        return found

    def cumulative(
        self,
        free: Sequence[tuple[cp_model.IntervalVar, int]],
        fixed: Iterable[tuple[int, int, int]],
        capacity: int,
    ) -> None:
        """Never more at once than there is: new work with its demand, begun work (start, length, demand),
        capacity.
        """
        rows = [
            (self.cp.new_fixed_size_interval_var(a, length, f"f{a}"), demand)
            for a, length, demand in self._capped(fixed, capacity)
        ]
        every = [*free, *rows]
        if capacity == 1 and all(d == 1 for _, d in every):
            self.cp.add_no_overlap([i for i, _ in every])
        elif every:
            self.cp.add_cumulative([i for i, _ in every], [d for _, d in every], capacity)

    def interval(self, n: int, offset: int, length: int) -> cp_model.IntervalVar:
        """A stretch of a block: its number, offset and length [s]."""
        return self.cp.new_fixed_size_interval_var(self.starts[n] + offset, max(1, length), f"i{n}_{offset}")

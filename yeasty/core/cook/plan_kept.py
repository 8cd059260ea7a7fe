"""What a plan does not keep of what was asked, read from the plan itself and named one by one.

It knows nothing of the solver: how long food stands is what lies between two steps, whoever planned them.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

from yeasty.core.cook.blocks import blocks_of, food_steps
from yeasty.core.cook.problem import DAY_S, WORK_FROM_S, WORK_UNTIL_S, Chain, PlannedStep, Problem, worded
from yeasty.core.kernel.steps import Phase

# Plans are in whole seconds with lengths rounded up: this much a step is forgiven [s].
EPS = 1.01
# Ages that differ by no more than this count as the same [s]: a plate more or less in a cook's hands.
SAME_AGE_S = 240.0


@dataclass(frozen=True)
class Broken:
    """A limit that a plan does not keep: whose, the limit in words, and by how much [s]."""

    tag: str
    words: str
    by_s: float

    @property
    def sentence(self) -> str:
        """As a cook is told."""
        return f"{self.tag}: {self.words}; it is {worded(self.by_s)} more."


def broken(problem: Problem, items: Sequence[PlannedStep]) -> list[Broken]:
    """Every limit that a plan breaks: food that stands raw or half-cooked, waits drawn out too far, holds too
    long.
    """
    at = {(p.batch, p.step): p for p in items}
    found: list[Broken] = []
    for chain in problem.chains:
        found += _stands(chain, at)
        found += _drawn_out(chain, at)
        found += _ahead(problem, chain, at)
        held = held_s(chain, at)
        if chain.hold_limit_s is not None and held > chain.hold_limit_s + _forgiven(chain):
            words = f"done, it waits at most {worded(chain.hold_limit_s)}"
            found.append(Broken(chain.tag, words, held - chain.hold_limit_s))
    return found


def _forgiven(chain: Chain) -> float:
    return EPS * len(chain.steps)


def _stands(chain: Chain, at: dict[tuple[str, str], PlannedStep]) -> list[Broken]:
    found = []
    for w in chain.waits:
        between = sum(at[chain.batch, k].end - at[chain.batch, k].start for k in w.between)
        since = at[chain.batch, w.after].end if w.since is None else w.since
        stood = at[chain.batch, w.until].start - since - between
        if stood > w.at_most_s + _forgiven(chain):
            found.append(Broken(chain.tag, w.words, stood - w.at_most_s))
    return found


def _drawn_out(chain: Chain, at: dict[tuple[str, str], PlannedStep]) -> list[Broken]:
    """Rises and soaks that last longer than they may; what waits to be served is a hold and not among
    them.
    """
    found = []
    mains = [m for m, _ in food_steps(chain)]
    cooked = False
    for step, then in itertools.pairwise(mains):
        cooked = cooked or step.phase is Phase.COOK
        if step.drawn_out and not (cooked and step.phase is Phase.WAIT):
            lasts = at[chain.batch, then.key].start - at[chain.batch, step.key].start
            most = step.longest_s or step.duration_s
            if lasts > most + _forgiven(chain):
                words = f"“{step.what}” lasts at most {worded(most)}"
                found.append(Broken(chain.tag, words, lasts - most))
    return found


def _ahead(problem: Problem, chain: Chain, at: dict[tuple[str, str], PlannedStep]) -> list[Broken]:
    """Day-before work that begins outside working hours of its day."""
    found = []
    for block in blocks_of(chain):
        first = block.parts[0][0]
        if not block.days_before or problem.midnight is None:
            continue
        day = problem.midnight - block.days_before * DAY_S
        start = at[chain.batch, first.key].start
        off = max(day + WORK_FROM_S - start, start - day - WORK_UNTIL_S)
        if off > EPS:
            words = f"“{first.what}” belongs into the working hours of {block.days_before} d before"
            found.append(Broken(chain.tag, words, off))
    return found


def held_s(chain: Chain, at: dict[tuple[str, str], PlannedStep]) -> float:
    """How long food waits after a heat beyond its planned rests [s]."""
    mains = [m for m, _ in food_steps(chain)]
    cooked, held = False, 0.0
    for step, then in itertools.pairwise(mains):
        cooked = cooked or step.phase is Phase.COOK
        if cooked and step.days_before == then.days_before:
            held += max(0.0, at[chain.batch, then.key].start - at[chain.batch, step.key].end - EPS)
    return held


def ages(problem: Problem, items: Sequence[PlannedStep]) -> dict[str, float]:
    """Batch to how old it is on the plate, from the end of its last heat [s]; none for what is never
    heated.
    """
    at = {(p.batch, p.step): p for p in items}
    found = {}
    for chain in problem.chains:
        mains = [m for m, _ in food_steps(chain)]
        heats = [m for m in mains if m.phase is Phase.COOK]
        if heats:
            found[chain.batch] = at[chain.batch, mains[-1].key].end - at[chain.batch, heats[-1].key].end
    return found


def room_left(problem: Problem, items: Sequence[PlannedStep]) -> list[tuple[Chain, float, float]]:
    """Batches that may cook longer: by how much [s], and how long each waits where it does not [s]."""
    at = {(p.batch, p.step): p for p in items}
    found = []
    for chain in problem.chains:
        late = sum(s.overrun_s for s in chain.steps)
        held = held_s(chain, at)
        if late and held >= 60:
            found.append((chain, late, min(late, held)))
    return found

"""How long steps really took, from the log: what a page tells in place of the plan."""

from collections.abc import Mapping, Sequence
from itertools import pairwise

from yeasty.core.cook.bench import RunState, bench_state
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import STEP_ENDS, Entry, EntryKind
from yeasty.core.kernel.steps import Phase, chain_of
from yeasty.core.setup.rounds import first_round


def step_times(chain: Chain, plan: Sequence[PlannedStep], entries: Sequence[Entry]) -> dict[str, float]:
    """Step to how long it took in this batch [s]; steps whose beginning or end nobody tapped are left out.

    A step begins by its own tap or where the one before it was ended by one; it ends by its own tap or where
    the next begins by one. What comes up to its heat may stand hot until it is wanted: it counts only where
    somebody tapped that it was there. Of a batch in rounds, a step's rounds count as one, by their mean.
    """
    mine = [e for e in effective(entries) if e.batch == chain.batch]
    of_steps = [e for e in mine if e.payload.get("step")]
    began = {str(e.payload["step"]) for e in of_steps if e.kind is EntryKind.STARTED}
    ended = {str(e.payload["step"]) for e in of_steps if e.kind in STEP_ENDS}
    order = [main.key for main, _ in chain_of(chain.steps)]
    tapped = began | ended
    from_tap = began | {b for a, b in pairwise(order) if a in ended}
    to_tap = ended | {a for a, b in pairwise(order) if b in tapped}
    to_tap -= {s.key for s in chain.steps if s.phase is Phase.COME_UP} - ended
    took: dict[str, list[float]] = {}
    for r in bench_state([chain], plan, mine).runs:
        if r.state is RunState.DONE and r.step in from_tap and r.step in to_tap and r.end > r.start:
            took.setdefault(first_round(r.step), []).append(r.end - r.start)
    rounds = {k: sum(1 for s in chain.steps if first_round(s.key) == k) for k in took}
    return {k: sum(v) / len(v) for k, v in took.items() if len(v) == rounds[k]}


def times_of(batches: Sequence[Mapping[str, float]]) -> dict[str, tuple[float, ...]]:
    """Step to its times over several batches.

    >>> times_of([{"bake": 600.0}, {"bake": 660.0, "rest": 300.0}])
    {'bake': (600.0, 660.0), 'rest': (300.0,)}
    """
    found: dict[str, list[float]] = {}
    for one in batches:
        for key, seconds in one.items():
            found.setdefault(key, []).append(seconds)
    return {k: tuple(v) for k, v in found.items()}

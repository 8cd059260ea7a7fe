"""When what a probe foretells of a running step belongs into the log, so that every screen and the plan go by
it.

The food ends such a step and the cook says so: foretelling moves what is expected, never what is done.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from yeasty.core.cook.bench import RunState, StepRun
from yeasty.core.cook.departures import RHYTHM_S
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.steps import EndRule, Phase, Step

# Where only the soonest is known it moves with every reading: less than this is not worth saying [s].
NOT_BEFORE_S = 3 * RHYTHM_S


@dataclass(frozen=True)
class Foretold:
    """What a forecast says [s since 1970, °C]: when the core is at its target with a range, when to pull, the
    target; where when cannot be told, not before when.
    """

    basis: str
    ready_at: float | None
    ready_low: float | None
    ready_high: float | None
    pull_at: float | None
    target_c: float
    soonest_at: float | None = None


def foreseen(
    batch: str,
    steps: Sequence[Step],
    runs: Sequence[StepRun],
    told: Foretold,
    entries: Sequence[Entry],
    now: float,
) -> dict[str, Any] | None:
    """The payload of an entry that foretells the end of a batch's running heat; None where there is nothing
    new to say.

    Nothing is said from size alone, nor while what is expected lies in the forecast's own range or within a
    cook's rhythm of it. A step whose foretelling was taken back by the cook is not foretold again.
    """
    keys = {
        s.key
        for s in steps
        if s.phase is Phase.COOK and s.end_rule is EndRule.CORE and s.during_offset_s is None
    }
    run = next((r for r in runs if r.batch == batch and r.step in keys and r.state is RunState.RUNNING), None)
    if run is None:
        return None
    mine = [
        e
        for e in entries
        if e.batch == batch and e.kind is EntryKind.FORESEEN and e.payload["step"] == run.step
    ]
    if {e.id for e in mine} - {e.id for e in effective(entries)}:
        return None
    if told.soonest_at is not None and told.soonest_at > run.end + NOT_BEFORE_S:
        soonest = round(told.soonest_at)
        return {"step": run.step, "ends_at": soonest, "low": soonest, "high": None, "target_c": told.target_c}
    if told.basis != "probe" or told.ready_at is None or told.ready_low is None or told.ready_high is None:
        return None
    lead = told.ready_at - told.pull_at if told.pull_at is not None else 0.0
    ends, low, high = (max(now, t - lead) for t in (told.ready_at, told.ready_low, told.ready_high))
    if low <= run.end <= high or abs(ends - run.end) <= RHYTHM_S:
        return None
    return {
        "step": run.step,
        "ends_at": round(ends),
        "low": round(low),
        "high": round(high),
        "target_c": told.target_c,
    }

"""The bench as it stands: planned steps, moved by what was logged, and the next action for the hands.

`bench_state` is a pure fold of plan and entries. The same fold, no more, runs in the browser for the time
without network (`web/src/bench/fold.ts`); both are held to the vectors in `tests/vectors/bench_fold.json`.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.cook.entries import STEP_ENDS, Entry, EntryKind, effective
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.steps import Attention, Phase, Step, chain_of, contiguous, preheats_beside


class RunState(StrEnum):
    """How far a step is."""

    TODO = "todo"
    RUNNING = "running"
    DONE = "done"


class ActionType(StrEnum):
    """What the hands are asked for: start a step that runs alone, do one, or say that one has ended."""

    START = "start"
    DO = "do"
    CONFIRM = "confirm"


@dataclass(frozen=True)
class StepRun:
    """A step as it stands: actual where logged, expected otherwise [s since 1970]."""

    batch: str
    step: str
    start: float
    end: float
    state: RunState


@dataclass(frozen=True)
class NextAction:
    """One thing the hands are asked for, and when [s since 1970]."""

    batch: str
    step: str
    type: ActionType
    due: float


@dataclass(frozen=True)
class BenchState:
    """Steps and actions of all batches, actions by time due."""

    runs: tuple[StepRun, ...]
    actions: tuple[NextAction, ...]


def runs_alone(step: Step) -> bool:
    """Whether a step goes on without hands once begun."""
    return step.attention is not Attention.HANDS


def _late_by(planned: PlannedStep | None, end: float | None) -> float:
    """By how much the food is late [s], and so may be what is heated up for it."""
    return max(0.0, end - planned.end) if planned is not None and end is not None else 0.0


def bench_state(chains: Sequence[Chain], plan: Sequence[PlannedStep], entries: Sequence[Entry]) -> BenchState:
    """Where every step stands.

    A step that runs alone begins when the one before it ends; the first one is begun by the cook. It is
    over when the next is done. A late step moves what comes after it in its own batch; being early moves
    only what follows at once. A preheat beside the food is asked for at its own time, and the food goes in
    when both are so far. Voided batches ask for nothing more.
    """
    planned = {(p.batch, p.step): p for p in plan}
    standing = effective(entries)
    runs: list[StepRun] = []
    actions: list[NextAction] = []
    for chain in chains:
        mine = [e for e in standing if e.batch == chain.batch]
        void = any(e.kind is EntryKind.VOID for e in mine)
        ended = {
            str(e.payload["step"]): e.when for e in mine if e.kind in STEP_ENDS and e.payload.get("step")
        }
        started = {str(e.payload["step"]): e.when for e in mine if e.kind is EntryKind.STARTED}
        extra: dict[str, float] = {}
        foreseen: dict[str, float] = {}
        for e in mine:
            key = str(e.payload.get("step"))
            if e.kind is EntryKind.EXTENDED:
                extra[key] = extra.get(key, 0.0) + float(e.payload["seconds"])
                if key in foreseen:
                    foreseen[key] += float(e.payload["seconds"])
            elif e.kind is EntryKind.FORESEEN:
                foreseen[key] = float(e.payload["ends_at"])
        mains = [(m, d) for m, d in chain_of(chain.steps) if m.phase is not Phase.WASH_UP]
        beside = preheats_beside(chain.steps)
        # What is done beside the food says nothing of how far the food is.
        last_ended = max(
            (i for i, (m, _) in enumerate(mains) if m.key in ended and m.key not in beside), default=-1
        )
        last_begun = max(
            (i for i, (m, _) in enumerate(mains) if m.key in started and m.key not in beside), default=-1
        )
        before: Step | None = None
        hot_at: float | None = None
        previous_end: float | None = None
        previous_done = True
        asked = void
        for i, (main, during) in enumerate(mains):
            plan_start = planned[chain.batch, main.key].start if (chain.batch, main.key) in planned else None
            length = max(1.0, main.duration_s + extra.get(main.key, 0.0))
            known_end = ended.get(main.key)
            following = next((m for m, _ in mains[i + 1 :] if m.key not in beside), None)
            if main.key in beside:
                late = _late_by(planned.get((chain.batch, before.key)) if before else None, previous_end)
                begins = (plan_start if plan_start is not None else previous_end or 0.0) + late
                if known_end is not None:
                    begins = min(begins, known_end)
                begins = started.get(main.key, begins)
                if known_end is not None:
                    run = StepRun(chain.batch, main.key, begins, max(begins, known_end), RunState.DONE)
                else:
                    gone_in = max(last_ended, last_begun) > i
                    state = RunState.RUNNING if main.key in started else RunState.TODO
                    state = RunState.DONE if gone_in else state
                    run = StepRun(chain.batch, main.key, begins, begins + length, state)
                runs.append(run)
                if run.state is not RunState.DONE:
                    hot_at = max(hot_at or run.end, run.end)
                    if not void and run.state is RunState.TODO:
                        actions.append(NextAction(chain.batch, main.key, ActionType.START, begins))
                    elif not void and (following is None or runs_alone(following)):
                        actions.append(NextAction(chain.batch, main.key, ActionType.CONFIRM, run.end))
                continue
            if hot_at is not None:
                # What the food goes into has to be hot.
                previous_end = max(previous_end or 0.0, hot_at)
                previous_done = previous_done and not runs_alone(main)
                hot_at = None
            if main.key in started:
                start = started[main.key]
            elif runs_alone(main) and previous_done and i > 0 and previous_end is not None:
                start = previous_end
            elif known_end is not None and not runs_alone(main):
                start = known_end - length if previous_end is None else max(previous_end, known_end - length)
                start = min(start, known_end)
            elif previous_end is not None and before is not None and contiguous(before, main):
                start = previous_end
            else:
                start = max((x for x in (plan_start, previous_end) if x is not None), default=0.0)
            begun = main.key in started or (runs_alone(main) and previous_done and i > 0)
            if known_end is not None:
                state, end = RunState.DONE, max(start, known_end)
            elif last_ended > i:
                state = RunState.DONE
                end = start + length
                if following is not None and following.key in ended:
                    cut = ended[following.key] - (0.0 if runs_alone(following) else following.duration_s)
                    end = max(start, cut) if begun or i == 0 else end
            elif begun:
                # What its probe foretells counts more than the first guess, until the cook says that it has ended.
                state, end = RunState.RUNNING, max(start + 1.0, foreseen.get(main.key, start + length))
            else:
                state, end = RunState.TODO, start + length
            if (
                known_end is None
                and last_ended <= i
                and main.drawn_out
                and (chain.batch, main.key) in planned
            ):
                # A wait that may be drawn out ends when its plan says, within its range.
                end = max(
                    end, min(start + main.duration_s + main.slack_s, planned[chain.batch, main.key].end)
                )
            runs.append(StepRun(chain.batch, main.key, start, end, state))
            for step in during:
                at = start + (step.during_offset_s or 0.0)
                if step.key in ended:
                    done = ended[step.key]
                    runs.append(StepRun(chain.batch, step.key, done - step.duration_s, done, RunState.DONE))
                elif state is RunState.DONE:
                    runs.append(StepRun(chain.batch, step.key, at, at, RunState.TODO))
                else:
                    runs.append(StepRun(chain.batch, step.key, at, at + step.duration_s, RunState.TODO))
                    if state is RunState.RUNNING and not void:
                        actions.append(NextAction(chain.batch, step.key, ActionType.DO, at))
            if not asked and state is not RunState.DONE:
                following_alone = following is None or runs_alone(following)
                if not runs_alone(main):
                    actions.append(NextAction(chain.batch, main.key, ActionType.DO, start))
                    asked = True
                elif state is RunState.TODO:
                    actions.append(NextAction(chain.batch, main.key, ActionType.START, start))
                    asked = True
                elif following_alone:
                    actions.append(NextAction(chain.batch, main.key, ActionType.CONFIRM, end))
                    asked = True
            previous_end = end
            previous_done = state is RunState.DONE
            before = main
    return BenchState(tuple(runs), tuple(sorted(actions, key=lambda a: (a.due, a.batch, a.step))))

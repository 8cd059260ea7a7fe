"""The bench as it stands: planned steps, moved by what was logged, and the next action for the hands.

`bench_state` is a pure fold of plan and entries. The same fold, no more, runs in the browser for the time
without network (`web/src/bench/fold.ts`); both are held to the vectors in `tests/vectors/bench_fold.json`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import STEP_ENDS, Entry, EntryKind
from yeasty.core.kernel.steps import Attention, Phase, Step, chain_of, contiguous, preheats_beside


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
    planned: dict[str, dict[str, PlannedStep]] = {c.batch: {} for c in chains}
    for p in plan:
        planned.setdefault(p.batch, {})[p.step] = p
    tapped: dict[str, list[Entry]] = {}
    for e in effective(entries):
        tapped.setdefault(e.batch, []).append(e)
    runs: list[StepRun] = []
    actions: list[NextAction] = []
    for chain in chains:
        fold = _Fold(chain, planned[chain.batch], tapped.get(chain.batch, []))
        fold.walk()
        runs += fold.runs
        actions += fold.actions
    return BenchState(tuple(runs), tuple(sorted(actions, key=lambda a: (a.due, a.batch, a.step))))


class _Logged:
    """What was tapped of a batch, by step."""

    def __init__(self, entries: Sequence[Entry]) -> None:
        self.void = any(e.kind is EntryKind.VOID for e in entries)
        self.ended = {
            str(e.payload["step"]): e.when for e in entries if e.kind in STEP_ENDS and e.payload.get("step")
        }
        self.started = {str(e.payload["step"]): e.when for e in entries if e.kind is EntryKind.STARTED}
        self.extra: dict[str, float] = {}
        self.foreseen: dict[str, float] = {}
        for e in entries:
            key = str(e.payload.get("step"))
            if e.kind is EntryKind.EXTENDED:
                self.extra[key] = self.extra.get(key, 0.0) + float(e.payload["seconds"])
                if key in self.foreseen:
                    self.foreseen[key] += float(e.payload["seconds"])
            elif e.kind is EntryKind.FORESEEN:
                self.foreseen[key] = float(e.payload["ends_at"])


class _Fold:
    """One batch, step after step: what each step's start and end are, and what is asked for."""

    def __init__(self, chain: Chain, planned: Mapping[str, PlannedStep], entries: Sequence[Entry]) -> None:
        self.batch = chain.batch
        self.planned = planned
        self.logged = _Logged(entries)
        self.mains = [(m, d) for m, d in chain_of(chain.steps) if m.phase is not Phase.WASH_UP]
        self.beside = preheats_beside(chain.steps)
        # What is done beside the food says nothing of how far the food is.
        self.last_ended = self._last(self.logged.ended)
        self.last_begun = self._last(self.logged.started)
        self.runs: list[StepRun] = []
        self.actions: list[NextAction] = []
        self.before: Step | None = None
        self.hot_at: float | None = None
        self.previous_end: float | None = None
        self.previous_done = True
        self.asked = self.logged.void

    def _last(self, tapped: Mapping[str, float]) -> int:
        own = [i for i, (m, _) in enumerate(self.mains) if m.key in tapped and m.key not in self.beside]
        return max(own, default=-1)

    def walk(self) -> None:
        """Fold all steps."""
        for i, (main, during) in enumerate(self.mains):
            following = next((m for m, _ in self.mains[i + 1 :] if m.key not in self.beside), None)
            if main.key in self.beside:
                self._preheat(i, main, following)
                continue
            self._wait_for_heat(main)
            start = self._start(i, main)
            state, end = self._end(i, main, following, start)
            self.runs.append(StepRun(self.batch, main.key, start, end, state))
            for step in during:
                self._during(step, start, state)
            if state is not RunState.DONE:
                self._ask(main, following, state, start, end)
            self.previous_end, self.previous_done, self.before = end, state is RunState.DONE, main

    def _length(self, main: Step) -> float:
        return max(1.0, main.duration_s + self.logged.extra.get(main.key, 0.0))

    def _plan_start(self, main: Step) -> float | None:
        return self.planned[main.key].start if main.key in self.planned else None

    def _preheat(self, i: int, main: Step, following: Step | None) -> None:
        """Heating up beside the food."""
        known_end, plan_start = self.logged.ended.get(main.key), self._plan_start(main)
        late = _late_by(self.planned.get(self.before.key) if self.before else None, self.previous_end)
        begins = (plan_start if plan_start is not None else self.previous_end or 0.0) + late
        if known_end is not None:
            begins = min(begins, known_end)
        begins = self.logged.started.get(main.key, begins)
        if known_end is not None:
            self.runs.append(StepRun(self.batch, main.key, begins, max(begins, known_end), RunState.DONE))
            return
        gone_in = max(self.last_ended, self.last_begun) > i
        state = RunState.RUNNING if main.key in self.logged.started else RunState.TODO
        state = RunState.DONE if gone_in else state
        end = begins + self._length(main)
        self.runs.append(StepRun(self.batch, main.key, begins, end, state))
        if state is RunState.DONE:
            return
        self.hot_at = max(self.hot_at or end, end)
        if not self.logged.void and state is RunState.TODO:
            self.actions.append(NextAction(self.batch, main.key, ActionType.START, begins))
        elif not self.logged.void and (following is None or runs_alone(following)):
            self.actions.append(NextAction(self.batch, main.key, ActionType.CONFIRM, end))

    def _wait_for_heat(self, main: Step) -> None:
        """What the food goes into has to be hot."""
        if self.hot_at is not None:
            self.previous_end = max(self.previous_end or 0.0, self.hot_at)
            self.previous_done = self.previous_done and not runs_alone(main)
            self.hot_at = None

    def _start(self, i: int, main: Step) -> float:
        known_end, before_it = self.logged.ended.get(main.key), self.previous_end
        if main.key in self.logged.started:
            return self.logged.started[main.key]
        if runs_alone(main) and self.previous_done and i > 0 and before_it is not None:
            return before_it
        if known_end is not None and not runs_alone(main):
            start = known_end - self._length(main)
            return min(start if before_it is None else max(before_it, start), known_end)
        if before_it is not None and self.before is not None and contiguous(self.before, main):
            return before_it
        return max((x for x in (self._plan_start(main), before_it) if x is not None), default=0.0)

    def _end(self, i: int, main: Step, following: Step | None, start: float) -> tuple[RunState, float]:
        begun = main.key in self.logged.started or (runs_alone(main) and self.previous_done and i > 0)
        known_end, length = self.logged.ended.get(main.key), self._length(main)
        if known_end is not None:
            return RunState.DONE, max(start, known_end)
        if self.last_ended > i:
            end = start + length
            if following is not None and following.key in self.logged.ended and (begun or i == 0):
                cut = self.logged.ended[following.key]
                end = max(start, cut - (0.0 if runs_alone(following) else following.duration_s))
            return RunState.DONE, end
        state, end = RunState.TODO, start + length
        if begun:
            # What its probe foretells counts more than the first guess, until the cook says that it has
            # ended.
            state = RunState.RUNNING
            end = max(start + 1.0, self.logged.foreseen.get(main.key, end))
        if main.drawn_out and main.key in self.planned:
            # A wait that may be drawn out ends when its plan says, within its range.
            end = max(end, min(start + main.duration_s + main.slack_s, self.planned[main.key].end))
        return state, end

    def _during(self, step: Step, start: float, state: RunState) -> None:
        """What is done while a step goes on."""
        at = start + (step.during_offset_s or 0.0)
        if step.key in self.logged.ended:
            done = self.logged.ended[step.key]
            self.runs.append(StepRun(self.batch, step.key, done - step.duration_s, done, RunState.DONE))
        elif state is RunState.DONE:
            self.runs.append(StepRun(self.batch, step.key, at, at, RunState.TODO))
        else:
            self.runs.append(StepRun(self.batch, step.key, at, at + step.duration_s, RunState.TODO))
            if state is RunState.RUNNING and not self.logged.void:
                self.actions.append(NextAction(self.batch, step.key, ActionType.DO, at))

    def _ask(self, main: Step, following: Step | None, state: RunState, start: float, end: float) -> None:
        """The first thing that is still to be done is asked for, and nothing behind it."""
        if self.asked:
            return
        if not runs_alone(main):
            action = NextAction(self.batch, main.key, ActionType.DO, start)
        elif state is RunState.TODO:
            action = NextAction(self.batch, main.key, ActionType.START, start)
        elif following is None or runs_alone(following):
            action = NextAction(self.batch, main.key, ActionType.CONFIRM, end)
        else:
            return
        self.actions.append(action)
        self.asked = True

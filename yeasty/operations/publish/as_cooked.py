"""What was cooked of a method, for its page: steps as its newest judged batch kept them, times from all."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from yeasty.core.ask import ladder
from yeasty.core.ask.preparation import preparation
from yeasty.core.cook.measures import BatchMeasures, Standing
from yeasty.core.cook.took import step_times, times_of
from yeasty.core.kernel.entries import Entry
from yeasty.core.kernel.steps import Step
from yeasty.core.setup.rounds import once
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.cook.queries import entries_of_trial, newest_plans_of_trial, shifts_of
from yeasty.store.cook.tables import Batch


@dataclass(frozen=True)
class Cooked:
    """A method as its page tells it.

    Attributes
    ----------
    steps : as cooked, rounds left out; as designed where nothing was cooked to the end
    times : step to how long it took in each judged batch [s]; None where nothing was cooked
    says : what a reader has to know of it
    """

    steps: tuple[Step, ...]
    times: dict[str, tuple[float, ...]] | None
    says: tuple[str, ...] = ()


def as_cooked(
    db: Session, trial: Trial, method: Method, measured: Sequence[tuple[Batch, BatchMeasures]]
) -> Cooked:
    """Steps and times of a method's judged batches."""
    designed = _for_readers((*preparation(trial.preparation).steps, *(s.core() for s in method.steps)))
    judged = [
        b for b, m in measured if b.method_id == method.id and m.standing is Standing.JUDGED and m.complete
    ]
    if not judged:
        return Cooked(designed, None)
    entries: dict[str, list[Entry]] = {}
    for row in entries_of_trial(db, trial.id):
        entries.setdefault(str(row.batch_id), []).append(row.core())
    plans = newest_plans_of_trial(db, trial.id)
    times = [
        step_times(
            b.chain(),
            plans[b.shift_id].planned() if b.shift_id in plans else [],
            entries.get(str(b.id), []),
        )
        for b in judged
    ]
    served = {s.id: s.serve_from for s in shifts_of(db, trial.id)}
    newest = max(judged, key=lambda b: (served[b.shift_id], b.replicate))
    steps = _for_readers(once(newest.chain().steps))
    says = []
    if [_told(s) for s in steps] != [_told(s) for s in designed]:
        says.append("Steps were changed after it was cooked; told here is what was cooked.")
    return Cooked(steps, times_of(times), tuple(says))


def _for_readers(steps: Sequence[Step]) -> tuple[Step, ...]:
    """Without what only the trial asked for."""
    return tuple(replace(s, what=ladder.for_readers(s.what)) for s in steps)


def _told(s: Step) -> tuple[object, ...]:
    return (s.what, s.phase, s.duration_s, s.set_point_c, s.power_w, s.end_rule, s.end_core_c, s.end_cue)

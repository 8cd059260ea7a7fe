"""What is done to a shift while it goes on: a finish for a batch, one more batch, an appliance that fails."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.cook.plannable import check_problem
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.operations.cook.noting import note
from yeasty.operations.cook.problems import problem_of, progress
from yeasty.operations.cook.shifts import batch_of, bench_record, load_of
from yeasty.operations.setup.readiness import checklists
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.kitchen.tables import Appliance


@dataclass(frozen=True)
class Finish:
    """What is done to a batch that came out pale, wet or underdone, why, and for how long [s]; in an
    appliance set to so much [°C], until a cue, where that is said.
    """

    finish: str
    why: str
    seconds: float
    technique: str = ""
    appliance: Appliance | None = None
    set_point_c: float | None = None
    cue: str = ""


# Of a finish [s].
LONGEST_FINISH_S = 4 * 3600.0


def rescue(db: Session, shift: Shift, parent: Batch, given: Finish) -> Batch:
    """A child batch for a finish given to a batch: heat, take out, plate. The first result stays as it is.

    Raises
    ------
    RuleError : no finish named, or a time out of range
    """
    if not given.finish.strip():
        raise RuleError("finish", "is empty", "Say what is done, as in “sear each side”.")
    key = str(uuid.uuid4())[:8]
    record: dict[str, Any] = {
        "key": f"{key}-0",
        "what": given.finish.strip()[0].upper() + given.finish.strip()[1:],
        "attention": "hands" if given.seconds <= 180 else "free",
        "phase": "cook",
        "duration_s": given.seconds,
        "end_rule": "cue" if given.cue.strip() else "clock",
        "end_cue": given.cue.strip(),
        "appliance": str(given.appliance.id) if given.appliance else None,
        "set_point_c": given.set_point_c,
    }
    plate = {
        "key": f"{key}-1",
        "what": "Plate it apart, under a mark of its own",
        "attention": "hands",
        "phase": "plate",
        "duration_s": 60,
    }
    steps = [core_steps.step_from_record(record), core_steps.step_from_record(plate)]
    for wrong in core_steps.check_steps(steps):
        raise wrong
    known = known_techniques(db)
    cautions_of = tuple(known[given.technique].hazards) if given.technique in known else ()
    replicate = max(b.replicate for b in shift.batches if b.method_id == parent.method_id) + 1
    child = Batch(
        shift_id=shift.id,
        method_id=parent.method_id,
        position=max(b.position for b in shift.batches) + 1,
        replicate=replicate,
        parent_batch_id=parent.id,
        steps=[bench_record(s, given.appliance, (), given.technique, cautions_of) for s in steps],
        facts={**parent.facts, "together": "", "checklist": [], "rescue": given.finish.strip()},
    )
    child.method = parent.method
    shift.batches.append(child)
    db.flush()
    return child


def add_batch(
    db: Session, shift: Shift, trial: Trial, method: Method, appliances: Mapping[uuid.UUID, Appliance]
) -> Batch:
    """One more batch of a method in a shift that goes on.

    Raises
    ------
    RuleError : its steps cannot be planned
    """
    replicate = max((b.replicate for b in shift.batches if b.method_id == method.id), default=0) + 1
    batch = batch_of(
        trial, method, shift, max((b.position for b in shift.batches), default=-1) + 1, replicate, appliances
    )
    items = checklists(db, trial)[method.id]
    batch.facts = {
        **batch.facts,
        "together": load_of(trial, method, replicate),
        "checklist": [{"key": i.key, "text": i.text, "why": i.why} for i in items],
    }
    shift.batches.append(batch)
    db.flush()
    check_problem(problem_of(db, shift, not_before=None, only=[batch]))
    return batch


def appliance_gone(
    db: Session, shift: Shift, gone: uuid.UUID, instead: Appliance | None
) -> tuple[list[Batch], list[Batch]]:
    """Put batches that have not begun on another appliance where one failed; those that have begun are the
    cook's to decide.

    Returns
    -------
    batches moved (or, without another appliance, those that can't be cooked), and batches that had begun in
    it
    """
    now_ = progress(db, shift)
    users = [b for b in shift.batches if any(s.get("appliance") == str(gone) for s in b.steps)]
    # What heats up already in the appliance that failed has begun in it, though no food is in.
    heating = {(p.batch, p.step) for p in now_.hot}
    begun = now_.begun | {
        str(b.id)
        for b in users
        if any((str(b.id), s["key"]) in heating and s.get("appliance") == str(gone) for s in b.steps)
    }
    free = [b for b in users if str(b.id) not in begun]
    if instead is not None:
        for batch in free:
            batch.steps = [
                {**s, "appliance": str(instead.id), "appliance_name": instead.name, "spot": instead.spot}
                if s.get("appliance") == str(gone)
                else s
                for s in batch.steps
            ]
        db.flush()
    return free, [b for b in users if str(b.id) in begun]


def rescued(
    db: Session,
    shift: Shift,
    batch: uuid.UUID,
    finish: Finish,
    *,
    by: uuid.UUID,
    device: uuid.UUID,
    counter: int,
) -> Batch:
    """A batch is given a finish, and the log says so: a sample of its own, with its parent kept.

    Raises
    ------
    Refused : a batch of another shift, a shift that has ended
    RuleError : a time out of range, an appliance that is not there, no finish named
    """
    parent = next((b for b in shift.batches if b.id == batch), None)
    if parent is None:
        raise Refused("batch", "is not one of this shift", "Reload the bench and choose again.")
    if shift.ended_at is not None:
        raise Refused("shift", "has ended", "Rescue it in a shift of today.")
    if not 1 <= finish.seconds <= LONGEST_FINISH_S:
        raise RuleError("duration", f"{finish.seconds:g} s", "Give 1 second to 4 hours.")
    child = rescue(db, shift, parent, finish)
    payload = {"finish": finish.finish.strip(), "why": finish.why.strip(), "child": str(child.id)}
    note(db, shift, [parent], EntryKind.RESCUED, payload, by=by, device=device, counter=counter)
    return child


@dataclass(frozen=True)
class Gone:
    """Of an appliance that failed: batches that went to another, that were given up, that had begun in it."""

    moved: Sequence[Batch]
    given_up: Sequence[Batch]
    begun: Sequence[Batch]


def failed(
    db: Session, shift: Shift, appliance: Appliance, instead: Appliance | None, *, by: uuid.UUID
) -> Gone:
    """An appliance failed: what has not begun goes to another, or is given up and the log says why.

    Raises
    ------
    RuleError : the one that failed named as its own stand-in
    """
    if instead is not None and instead.id == appliance.id:
        raise RuleError("instead", "is the one that failed", "Choose another, or none.")
    free, begun = appliance_gone(db, shift, appliance.id, instead)
    if instead is not None:
        return Gone(free, (), begun)
    note(db, shift, free, EntryKind.VOID, {"why": f"{appliance.name} failed before it began"}, by=by)
    return Gone((), free, begun)

"""Making shifts, plans and measures from rows: where tables and core meet."""

import uuid
from collections.abc import Mapping
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.cook.entries import Entry
from yeasty.core.cook.measures import BatchMeasures, measures
from yeasty.core.cook.problem import check_problem
from yeasty.core.errors import Refused, RuleError
from yeasty.core.safety.cautions import DEFER, at_phase
from yeasty.store.base import now
from yeasty.store.bench import (
    Batch,
    Shift,
    batches_of_trial,
    entries_of_trial,
    highest_cores,
    new_shift,
    newest_plans_of_trial,
)
from yeasty.store.designs import hazards_of_method
from yeasty.store.kitchen import Appliance
from yeasty.store.problems import problem_of
from yeasty.store.readiness import checklists
from yeasty.store.trials import Method, Step, Trial


def step_record(step: Step, trial: Trial, method: Method, appliances: Mapping[uuid.UUID, Appliance]) -> dict[str, Any]:
    """A step as a batch keeps it: with its cautions and the appliance's name, frozen at the shift's making."""
    core = step.core()
    appliance = appliances.get(step.appliance_id) if step.appliance_id else None
    return {
        "key": core.key, "what": core.what, "attention": core.attention.value, "phase": core.phase.value,
        "duration_s": core.duration_s, "end_rule": core.end_rule.value, "during_offset_s": core.during_offset_s,
        "end_core_c": core.end_core_c, "end_cue": core.end_cue, "appliance": core.appliance,
        "appliance_name": appliance.name if appliance else "", "set_point_c": core.set_point_c, "power_w": core.power_w,
        "end_kg": core.end_kg, "days_before": core.days_before,
        "cautions": [
            {"text": c.text, "source": c.source, "recalled": bool(c.limit and c.limit.status == "recalled"), "defer": DEFER}
            for c in at_phase(hazards_of_method(trial, method), core.phase)
        ],
    }  # fmt: skip


def facts_of(trial: Trial, method: Method) -> dict[str, Any]:
    """What is known of a method's food and piece, as a batch keeps it."""
    return {
        "food_class": trial.food_class, "technique": method.technique, "shape": method.piece_shape,
        "thickness_m": method.piece_thickness_m, "food": method.piece_food, "start_c": method.start_c,
    }  # fmt: skip


def batch_of(trial: Trial, method: Method, shift: Shift, position: int, replicate: int, appliances: Mapping[uuid.UUID, Appliance]) -> Batch:  # fmt: skip
    """A batch with its own copy of the method as it is now."""
    batch = Batch(
        shift_id=shift.id, method_id=method.id, position=position, replicate=replicate,
        steps=[step_record(s, trial, method, appliances) for s in method.steps], facts=facts_of(trial, method),
    )  # fmt: skip
    batch.method = method
    return batch


def make_shift(
    db: Session, trial: Trial, *, name: str, serve_from: datetime, serve_until: datetime, people: int,
    replicates: Mapping[uuid.UUID, int], appliances: Mapping[uuid.UUID, Appliance],
) -> Shift:  # fmt: skip
    """A shift with its batches. The chains are planned once before anything is written, so that a bad step is
    told at once and not by a job that fails."""
    if serve_until < serve_from:
        raise RuleError("serving window", "ends before it begins", "Give the later time as its end.")
    if serve_until < now():
        raise RuleError("serving time", "has passed", "Give a time to come.")
    if not any(replicates.get(m.id, 0) for m in trial.methods):
        raise RuleError("batches", "none chosen", "Choose at least one method to cook.")
    shift = new_shift(db, trial.id, name, serve_from, serve_until, people)
    lists = checklists(db, trial)
    position = 0
    for number in range(max(replicates.values())):
        for method in trial.methods:
            if replicates.get(method.id, 0) > number:
                batch = batch_of(trial, method, shift, position, number + 1, appliances)
                batch.facts = {**batch.facts, "checklist": [{"key": i.key, "text": i.text, "why": i.why} for i in lists[method.id]]}
                shift.batches.append(batch)
                position += 1
    db.flush()
    check_problem(problem_of(db, shift, not_before=None))
    return shift


def trial_measures(db: Session, trial_id: uuid.UUID) -> list[tuple[Batch, BatchMeasures]]:
    """Every batch of a trial with its measures, folded from the log; five queries whatever its size."""
    plans = newest_plans_of_trial(db, trial_id)
    by_batch: dict[str, list[Entry]] = {}
    for row in entries_of_trial(db, trial_id):
        by_batch.setdefault(str(row.batch_id), []).append(row.core())
    probes = highest_cores(db, trial_id)
    found = []
    for batch in batches_of_trial(db, trial_id):
        plan = plans[batch.shift_id].planned() if batch.shift_id in plans else []
        found.append((batch, measures(batch.chain(), plan, by_batch.get(str(batch.id), []), probes.get(batch.id))))
    return found


def check_entry_batch(shift: Shift, batch_id: uuid.UUID | None) -> None:
    """Raise where an entry names a batch of another shift."""
    if batch_id is not None and batch_id not in {b.id for b in shift.batches}:
        raise Refused("batch", "is not one of this shift", "Reload the bench and log it again.")

"""Making shifts, plans and measures from rows: where tables and core meet."""

import uuid
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.ladder import ladder_from_record
from yeasty.core.ask.preparation import preparation
from yeasty.core.ask.trial import TrialKind
from yeasty.core.cook.bench_words import have_ready, look_in, start_signs
from yeasty.core.cook.measures import BatchMeasures, Standing, measures
from yeasty.core.cook.plannable import check_problem
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.kernel.steps import Phase
from yeasty.core.kernel.text import Written
from yeasty.core.safety.cautions import DEFER, at_phase
from yeasty.core.setup.rounds import in_rounds
from yeasty.operations.ask.facts import rounds_of
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.operations.cook.problems import problem_of
from yeasty.operations.setup.readiness import checklists
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.cook.devices import live_logs
from yeasty.store.cook.queries import (
    batches_of_trial,
    entries_of_trial,
    highest_cores,
    moment,
    new_shift,
    newest_plans_of_trial,
    shifts_of,
)
from yeasty.store.cook.tables import Batch, ProbeLogRow, Shift
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.kitchen.tables import Appliance


def step_record(
    step: core_steps.Step, trial: Trial, method: Method, appliances: Mapping[uuid.UUID, Appliance]
) -> dict[str, Any]:
    """A step as a batch keeps it: with its cautions and the appliance's name, frozen at the shift's
    making.
    """
    appliance = appliances.get(uuid.UUID(step.appliance)) if step.appliance else None
    return bench_record(step, appliance, method.gear, method.technique, hazards_of_method(trial, method))


def bench_record(
    step: core_steps.Step,
    appliance: Appliance | None,
    gear: Sequence[str],
    technique: str,
    hazards: Iterable[str],
) -> dict[str, Any]:
    """A step with what the bench says at it: cautions, signs of a start, what to have ready, when to look
    in.
    """
    look = look_in(technique, step)
    return {
        "key": step.key,
        "what": step.what,
        "attention": step.attention.value,
        "phase": step.phase.value,
        "duration_s": step.duration_s,
        "end_rule": step.end_rule.value,
        "during_offset_s": step.during_offset_s,
        "end_core_c": step.end_core_c,
        "end_cue": step.end_cue,
        "appliance": step.appliance,
        "appliance_name": appliance.name if appliance else "",
        "appliance_kind": appliance.kind if appliance else "",
        "set_point_c": step.set_point_c,
        "power_w": step.power_w,
        "end_kg": step.end_kg,
        "days_before": step.days_before,
        "longest_s": step.longest_s,
        "spot": appliance.spot if appliance else "",
        "ready": have_ready(step, gear, technique),
        "signs": start_signs(appliance.kind)
        if appliance and step.phase in (Phase.COME_UP, Phase.COOK)
        else [],
        "look_every_s": look.every_s if look else None,
        "look_for": look.look_for if look else "",
        "cautions": [
            {
                "text": c.text,
                "source": c.source,
                "recalled": bool(c.limit and c.limit.status == "recalled"),
                "defer": DEFER,
            }
            for c in at_phase(hazards, step.phase)
        ],
    }


def facts_of(trial: Trial, method: Method) -> dict[str, Any]:
    """What is known of a method's food and piece, as a batch keeps it."""
    return {
        "food_class": trial.food_class,
        "technique": method.technique,
        "shape": method.piece_shape,
        "thickness_m": method.piece_thickness_m,
        "food": method.piece_food,
        "start_c": method.start_c,
        "hold_limit_s": method.hold_limit_s,
        "pieces": {"count": method.pieces_per_batch, "one": is_one_piece(trial, method)},
        "hazards": list(hazards_of_method(trial, method)),
    }


# Kinds of food that, where no piece is described, are a pot or a tray: read as one.
LOOSE = ("plant", "baked", "leftovers", "egg_dish", "shelf_stable", "")


def is_one_piece(trial: Trial, method: Method) -> bool:
    """Whether a method's food counts as one piece for its core: one that is one, a pot, grains."""
    described = method.piece_shape or method.piece_kg or method.piece_thickness_m
    return method.pieces_per_batch == 1 or (not described and trial.food_class in LOOSE)


def batch_of(
    trial: Trial,
    method: Method,
    shift: Shift,
    position: int,
    replicate: int,
    appliances: Mapping[uuid.UUID, Appliance],
) -> Batch:
    """A batch with its own copy of the method as it is now, in rounds where its appliance does not hold all
    pieces.
    """
    together = load_of(trial, method, replicate)
    steps = [s.core() for s in method.steps]
    if not together:
        steps = list(in_rounds(steps, rounds_of(method, appliances)))
    before = preparation(trial.preparation).steps
    batch = Batch(
        shift_id=shift.id,
        method_id=method.id,
        position=position,
        replicate=replicate,
        steps=[
            *({**step_record(s, trial, method, appliances), "prepared": True} for s in before),
            *(step_record(s, trial, method, appliances) for s in steps),
        ],
        facts=facts_of(trial, method),
    )
    batch.method = method
    return batch


def load_of(trial: Trial, method: Method, replicate: int) -> str:
    """The load that a batch is part of: rungs of a ladder pulled from one pot, finishes of one shared cook,
    one tray for several.
    """
    place = next(i for i, m in enumerate(trial.methods) if m.id == method.id)
    if trial.kind == TrialKind.LADDER.value:
        ladder = ladder_from_record(trial.layout)
        if ladder.rises == "time" and ladder.pots < len(trial.methods):
            return f"pot {place % ladder.pots + 1}, round {replicate}"
    if trial.kind == TrialKind.BRANCH.value:
        return f"shared cook, round {replicate}"
    return f"{method.together}, round {replicate}" if method.together else ""


def evenings(db: Session, trial_id: uuid.UUID, written: Written) -> dict[uuid.UUID, str]:
    """What tells a trial's shifts apart beside a batch: the day; of two of one day their names too, or the
    time where they have one name.
    """
    zone = ZoneInfo(the_kitchen(db).time_zone)
    rows = shifts_of(db, trial_id)
    served = {s.id: s.serve_from.astimezone(zone) for s in rows}
    days = {s.id: written.day(served[s.id]) for s in rows}
    found = {}
    for s in rows:
        same = [o for o in rows if days[o.id] == days[s.id]]
        named = len({o.name for o in same}) == len(same)
        more = s.name if named else written.time(served[s.id])
        found[s.id] = f"{days[s.id]}, {more}" if len(same) > 1 else days[s.id]
    return found


def cookings(
    db: Session, trial_id: uuid.UUID, batches: Iterable[Batch], written: Written = Written()
) -> Callable[[Batch], str]:
    """What a cooking of a trial is called beside its way: by its number, which is a shift's own, and by its
    evening too where these are of more than one.
    """
    several = len({b.shift_id for b in batches}) > 1
    evening = evenings(db, trial_id, written) if several else {}

    def name(b: Batch) -> str:
        return f"cooking {b.replicate}" + (f", {evening[b.shift_id]}" if several else "")

    return name


def make_shift(
    db: Session,
    trial: Trial,
    *,
    name: str,
    serve_from: datetime,
    serve_until: datetime,
    people: int,
    replicates: Mapping[uuid.UUID, int],
    appliances: Mapping[uuid.UUID, Appliance],
    walk_s: float = 0.0,
    same_age: bool = False,
    clock: ShiftClock | None = None,
    written_up: bool = False,
) -> Shift:
    """A shift with its batches. The chains are planned once before anything is written, so that a bad step is
    told at once and not by a job that fails."""
    if serve_until < serve_from:
        raise RuleError("serving window", "ends before it begins", "Give the later time as its end.")
    passed = serve_until.timestamp() < (clock or ShiftClock()).at(now().timestamp())
    if written_up and not passed:
        raise RuleError("serving time", "is still to come", "Give the time at which it was served.")
    if passed and not written_up:
        raise RuleError(
            "serving time", "has passed", "Give a time to come, or say that it is written up from paper."
        )
    rehearsed = clock is not None and clock.rate is not None
    if trial.simulated and not rehearsed:
        raise RuleError(
            "shift", "is of a practice trial: its food is made up", "Cook a question of your own for real."
        )
    if written_up and rehearsed:
        raise RuleError(
            "simulated time",
            "is for rehearsals",
            "Write up what was really cooked on the kitchen's own clock.",
        )
    if not any(replicates.get(m.id, 0) for m in trial.methods):
        raise RuleError("batches", "none chosen", "Choose at least one method to cook.")
    shift = new_shift(db, trial.id, name, serve_from, serve_until, people)
    shift.walk_s, shift.same_age, shift.written_up = walk_s, same_age, written_up
    if clock is not None and clock.rate is not None:
        shift.clock_origin, shift.clock_anchor, shift.clock_rate = (
            moment(clock.origin),
            moment(clock.anchor),
            clock.rate,
        )
    lists = checklists(db, trial)
    position = 0
    for number in range(max(replicates.values())):
        for method in trial.methods:
            if replicates.get(method.id, 0) > number:
                batch = batch_of(trial, method, shift, position, number + 1, appliances)
                batch.facts = {
                    **batch.facts,
                    "together": load_of(trial, method, number + 1),
                    "checklist": [{"key": i.key, "text": i.text, "why": i.why} for i in lists[method.id]],
                }
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
    simulated = set(
        db.scalars(select(Shift.id).where(Shift.trial_id == trial_id, Shift.clock_rate.is_not(None)))
    )
    # In a practice trial everything is made up, and counts within it.
    practice = bool(db.scalar(select(Trial.simulated).where(Trial.id == trial_id)))
    probes = highest_cores(db, trial_id)
    for batch_id, log in _still_probed(db, trial_id, by_batch):
        read = [v for v in log.channels.get("core", []) if v is not None]
        if read:
            probes[batch_id] = max([*read, *([probes[batch_id]] if batch_id in probes else [])])
    found = []
    for batch in batches_of_trial(db, trial_id):
        plan = plans[batch.shift_id].planned() if batch.shift_id in plans else []
        m = measures(batch.chain(), plan, by_batch.get(str(batch.id), []), probes.get(batch.id))
        if batch.parent_batch_id is not None and m.standing is Standing.JUDGED:
            # What was rescued is a sample of its own: the method is judged by what it gave by itself.
            m = replace(m, standing=Standing.RESCUE, why=str(batch.facts.get("rescue", "")))
        if batch.shift_id in simulated and not practice:
            m = replace(m, standing=Standing.SIMULATED, why="cooked on simulated time")
        found.append((batch, m))
    return found


def _still_probed(
    db: Session, trial_id: uuid.UUID, by_batch: Mapping[str, list[Entry]]
) -> list[tuple[uuid.UUID, ProbeLogRow]]:
    """What probes have read in shifts of a trial that go on; nothing is asked where no probe was put in."""
    if not any(e.kind is EntryKind.PROBE for some in by_batch.values() for e in some):
        return []
    entries = [e for some in by_batch.values() for e in some]
    open_shifts = db.scalars(select(Shift).where(Shift.trial_id == trial_id, Shift.ended_at.is_(None))).all()
    return [
        (row.batch_id, row)
        for s in open_shifts
        for row in live_logs(db, s, entries, s.clock().at(now().timestamp()))
    ]


def check_entry_batch(shift: Shift, batch_id: uuid.UUID | None) -> None:
    """Raise where an entry names a batch of another shift."""
    if batch_id is not None and batch_id not in {b.id for b in shift.batches}:
        raise Refused("batch", "is not one of this shift", "Reload the bench and log it again.")

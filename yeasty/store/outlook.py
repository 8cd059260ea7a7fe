"""What the bench looks ahead with: a question for each core, the load of circuits, what a probe carries."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.bench import RunState, StepRun, bench_state
from yeasty.core.cook.entries import Entry
from yeasty.core.cook.steps import EndRule, Phase, Step
from yeasty.core.safety import circuits as core
from yeasty.core.safety.contact import carrying
from yeasty.store.bench import Batch, ProbeLogRow, Shift, entries_after, newest_plan
from yeasty.store.kitchen import Appliance, circuits
from yeasty.store.safety import BatchSafety, core_readings, logs_of, safety_of_batches, uses_of_probe

HEATS = (Phase.COME_UP, Phase.COOK)
# Readings handed to the reckoner, at most.
MOST_READINGS = 2000


@dataclass(frozen=True)
class ShiftOutlook:
    """Questions by batch (for the reckoner), how each batch stands, circuit loads planned and now, things on raw food."""

    questions: Mapping[uuid.UUID, dict[str, Any]]
    safety: Mapping[uuid.UUID, BatchSafety]
    planned: Sequence[core.CircuitLoad]
    running: Sequence[core.CircuitLoad]
    carrying: Sequence[str]


def outlook_of(db: Session, shift: Shift, now_s: float) -> ShiftOutlook:
    """Everything a bench looks ahead with, at a moment [s since 1970]."""
    plan = newest_plan(db, shift.id)
    planned = plan.planned() if plan else []
    entries = [e.core() for e in entries_after(db, shift.id, 0, 1_000_000)]
    chains = [b.chain() for b in shift.batches]
    runs = {(r.batch, r.step): r for r in bench_state(chains, planned, entries).runs}
    logs = logs_of(db, [b.id for b in shift.batches])
    used = _appliances(db, shift.batches)
    safety = safety_of_batches(db, shift.batches, {shift.id: shift}, {shift.id: entries}, {shift.id: planned}, now_s)
    questions = {}
    for batch in shift.batches:
        asked = question(batch, runs, [e for e in entries if e.batch == str(batch.id)], logs.get(batch.id, []), used, now_s)
        if asked is not None:
            questions[batch.id] = asked
    on = {c.name: core.Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w) for c in circuits(db)}
    heating = _heatings(shift.batches, runs, used)
    alight = [h for h in heating if _alight(h, shift.batches, runs, now_s)]
    uses, washed = uses_of_probe(shift.batches, entries)
    return ShiftOutlook(
        questions, safety, core.circuit_loads(heating, on),
        core.circuit_loads([replace(h, start=now_s, end=now_s + 1) for h in alight], on), carrying(uses, washed),
    )  # fmt: skip


def _appliances(db: Session, batches: Sequence[Batch]) -> dict[str, Appliance]:
    keys = {s["appliance"] for b in batches for s in b.steps if s.get("appliance")}
    if not keys:
        return {}
    return {str(a.id): a for a in db.scalars(select(Appliance).where(Appliance.id.in_([uuid.UUID(k) for k in keys])))}


def question(
    batch: Batch, runs: Mapping[tuple[str, str], StepRun], entries: Sequence[Entry], logs: Sequence[ProbeLogRow],
    used: Mapping[str, Appliance], now_s: float,
) -> dict[str, Any] | None:  # fmt: skip
    """What the reckoner is asked of a batch; None once its heat is over."""
    steps = [s for s in batch.chain().steps if s.phase is Phase.COOK and s.during_offset_s is None]
    if not steps:
        return None
    first, last = (runs.get((str(batch.id), s.key)) for s in (steps[0], steps[-1]))
    if first is None or last is None or last.state is RunState.DONE:
        return None
    began = first.state is not RunState.TODO
    facts = batch.facts
    targets = [s.end_core_c for s in steps if s.end_rule is EndRule.CORE and s.end_core_c is not None]
    readings = core_readings(entries, logs)
    chamber = [v for log in logs for v in log.channels.get("chamber", []) if v is not None]
    return {
        "in_at": first.start if began else None, "now": now_s if not began else first.start,
        "planned_s": sum(s.duration_s for s in steps), "technique": str(facts.get("technique", "")),
        "shape": str(facts.get("shape", "")), "thickness_m": facts.get("thickness_m"), "food": str(facts.get("food", "")),
        "start_c": facts.get("start_c"), "around_c": _around(steps[-1], used),
        "chamber_c": sum(chamber) / len(chamber) if chamber else None, "target_c": max(targets, default=None),
        "readings": readings[-MOST_READINGS:],
    }  # fmt: skip


def _around(step: Step, used: Mapping[str, Appliance]) -> float | None:
    """What surrounds the food [°C]: the set point with the appliance's measured offset."""
    if step.set_point_c is None:
        return None
    appliance = used.get(step.appliance or "")
    return step.set_point_c + (appliance.offset_k or 0.0 if appliance else 0.0)


def _heatings(
    batches: Sequence[Batch], runs: Mapping[tuple[str, str], StepRun], used: Mapping[str, Appliance]
) -> list[core.Heating]:
    """Each appliance of each batch from its first heat to its last: a thermostat may switch on at any moment between."""
    found = []
    for batch in batches:
        spans: dict[str, list[float]] = {}
        for step in batch.chain().steps:
            run = runs.get((str(batch.id), step.key))
            if run and step.phase in HEATS and step.appliance in used:
                spans.setdefault(str(step.appliance), []).extend((run.start, run.end))
        for key, moments in spans.items():
            a = used[key]
            found.append(core.Heating(key, a.name, a.circuit, a.input_w, min(moments), max(moments)))
    return found


def _alight(heating: core.Heating, batches: Sequence[Batch], runs: Mapping[tuple[str, str], StepRun], now_s: float) -> bool:
    """Whether an appliance is on now by what was logged: one of its heats runs, or has run and another is to come."""
    states = [
        runs[str(b.id), s.key].state
        for b in batches
        for s in b.chain().steps
        if s.appliance == heating.appliance and s.phase in HEATS and (str(b.id), s.key) in runs
    ]
    return RunState.RUNNING in states or (RunState.DONE in states and RunState.TODO in states)


def load_record(load: core.CircuitLoad) -> dict[str, Any]:
    """A circuit's load as plain data."""
    return asdict(load)

"""What the bench looks ahead with: a question for each core, the load of circuits, what a probe carries."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.bench import RunState, StepRun, bench_state
from yeasty.core.cook.probe_faults import Doubt, ProbeFault, doubt
from yeasty.core.cook.twice import Twice, logged_twice
from yeasty.core.cook.unmeasured import Unmeasured, unmeasured
from yeasty.core.kernel.entries import Entry
from yeasty.core.kernel.steps import EndRule, Phase, Step
from yeasty.core.kernel.techniques import physics_of
from yeasty.core.safety import circuits as core
from yeasty.core.safety.contact import carrying
from yeasty.core.setup.rounds import round_of
from yeasty.operations.safety.batches import BatchSafety, core_readings, safety_of_batches, uses_of_probe
from yeasty.store.cook.devices import metered, probe_logs, stays
from yeasty.store.cook.queries import entries_after, newest_plan
from yeasty.store.cook.readings import Stretch, curves_of
from yeasty.store.cook.tables import Batch, ProbeLogRow, Shift
from yeasty.store.kitchen.queries import circuits, rings_of
from yeasty.store.kitchen.tables import Appliance

HEATS = (Phase.COME_UP, Phase.COOK)
# Readings handed to the reckoner, at most.
MOST_READINGS = 2000


@dataclass(frozen=True)
class ShiftOutlook:
    """Questions by batch (for the reckoner), how each batch stands, circuit loads planned and now, things on
    raw food.
    """

    questions: Mapping[uuid.UUID, dict[str, Any]]
    safety: Mapping[uuid.UUID, BatchSafety]
    planned: Sequence[core.CircuitLoad]
    running: Sequence[core.CircuitLoad]
    carrying: Sequence[str]
    doubts: Mapping[uuid.UUID, Doubt]
    twice: Sequence[Twice]
    unmeasured: Sequence[Unmeasured]


def outlook_of(db: Session, shift: Shift, now_s: float) -> ShiftOutlook:
    """Everything a bench looks ahead with, at a moment [s since 1970]."""
    plan = newest_plan(db, shift.id)
    planned = plan.planned() if plan else []
    entries = [e.core() for e in entries_after(db, shift.id, 0, 1_000_000)]
    chains = [b.chain() for b in shift.batches]
    runs = {(r.batch, r.step): r for r in bench_state(chains, planned, entries).runs}
    logs = probe_logs(db, [shift], {shift.id: entries})
    used = _appliances(db, shift.batches)
    safety = safety_of_batches(
        db, shift.batches, {shift.id: shift}, {shift.id: entries}, {shift.id: planned}, now_s, logs
    )
    questions = {}
    probes = doubts_of(db, shift, entries, runs, now_s)
    for batch in shift.batches:
        if not _readable(probes.get(batch.id, [])):
            continue
        asked = question(
            batch, runs, [e for e in entries if e.batch == str(batch.id)], logs.get(batch.id, []), used, now_s
        )
        if asked is not None:
            questions[batch.id] = asked
    on = {c.name: core.Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w) for c in circuits(db)}
    heating = _heatings(shift.batches, runs, used)
    alight = [h for h in heating if _alight(h, shift.batches, runs, now_s)]
    uses, washed = uses_of_probe(shift.batches, entries)
    return ShiftOutlook(
        questions,
        safety,
        core.circuit_loads(heating, on),
        core.circuit_loads([replace(h, start=now_s, end=now_s + 1) for h in alight], on),
        carrying(uses, washed),
        {batch: said for batch, each in probes.items() if (said := _worst(each)) is not None},
        logged_twice(entries),
        unmeasured(chains, entries),
    )


LOOK_BACK_S, CHAMBER_BACK_S = 1200.0, 600.0


def doubts_of(
    db: Session, shift: Shift, entries: Sequence[Entry], runs: Mapping[tuple[str, str], StepRun], now_s: float
) -> dict[uuid.UUID, list[Doubt | None]]:
    """What speaks against each core probe of a batch at a moment; None for one that can be believed."""
    if shift.ended_at is not None:
        return {}
    batches = {str(b.id): b for b in shift.batches}
    open_ = [s for s in stays(entries) if s.until is None and s.batch in batches]
    cores = [s for s in open_ if s.where == "core"]
    chambers = {s.batch: s for s in open_ if s.where == "chamber"}
    looked = [(s, LOOK_BACK_S) for s in cores] + [(s, CHAMBER_BACK_S) for s in chambers.values()]
    stretches = [
        Stretch(uuid.UUID(s.device), s.channel, max(s.since, now_s - back), now_s) for s, back in looked
    ]
    curves = dict(zip([s for s, _ in looked], curves_of(db, stretches), strict=True))
    found: dict[uuid.UUID, list[Doubt | None]] = {}
    for s in cores:
        batch, read = batches[s.batch], curves[s]
        chamber = curves[chambers[s.batch]] if s.batch in chambers else []
        heats = [r for r in runs.values() if r.batch == s.batch and r.state is RunState.RUNNING]
        heated = any(
            step.phase is Phase.COOK and (s.batch, step.key) in {(r.batch, r.step) for r in heats}
            for step in batch.chain().steps
        )
        technique = str(batch.facts.get("technique", ""))
        points = [x.set_point_c for x in batch.chain().steps if x.set_point_c is not None]
        physics = physics_of(technique)
        steady = points[-1] if physics.steady_at_set_point and points else physics.steady_c
        said = doubt(
            read, now_s, chamber=[(t, v) for t, v in chamber if v is not None], heated=heated, steady_c=steady
        )
        if said is not None and sum(o.batch == s.batch for o in cores) > 1:
            which = f"The probe “{s.name or s.channel}”"
            said = replace(said, sentence=said.sentence.replace("The probe", which, 1))
        found.setdefault(batch.id, []).append(said)
    return found


def _worst(probes: Sequence[Doubt | None]) -> Doubt | None:
    """What is told of several: what reads wrong before what is silent."""
    return min(filter(None, probes), key=lambda d: d.fault is ProbeFault.SILENT, default=None)


def _readable(probes: Sequence[Doubt | None]) -> bool:
    """Whether a core can be foretold by its probes: one that is silent says nothing wrong beside one that is
    believed; one that reads wrong does.
    """
    faults = [d.fault for d in probes if d is not None]
    return not faults or (len(faults) < len(probes) and set(faults) == {ProbeFault.SILENT})


def _appliances(db: Session, batches: Sequence[Batch]) -> dict[str, Appliance]:
    keys = {s["appliance"] for b in batches for s in b.steps if s.get("appliance")}
    if not keys:
        return {}
    return {
        str(a.id): a
        for a in db.scalars(select(Appliance).where(Appliance.id.in_([uuid.UUID(k) for k in keys])))
    }


def question(
    batch: Batch,
    runs: Mapping[tuple[str, str], StepRun],
    entries: Sequence[Entry],
    logs: Sequence[ProbeLogRow],
    used: Mapping[str, Appliance],
    now_s: float,
) -> dict[str, Any] | None:
    """What the reckoner is asked of a batch; None once its heat is over."""
    every = [s for s in batch.chain().steps if s.phase is Phase.COOK and s.during_offset_s is None]
    if not every:
        return None
    # Of a batch in rounds: the one that is in the heat, or comes next.
    running = next(
        (s for s in every if (r := runs.get((str(batch.id), s.key))) and r.state is not RunState.DONE),
        every[-1],
    )
    steps = [s for s in every if round_of(s.key) == round_of(running.key)]
    first, last = (runs.get((str(batch.id), s.key)) for s in (steps[0], steps[-1]))
    if first is None or last is None or last.state is RunState.DONE:
        return None
    began = first.state is not RunState.TODO
    facts = batch.facts
    targets = [s.end_core_c for s in steps if s.end_rule is EndRule.CORE and s.end_core_c is not None]
    readings = core_readings(entries, logs)
    chamber = [v for log in logs for v in log.channels.get("chamber", []) if v is not None]
    return {
        "in_at": first.start if began else None,
        "now": now_s if not began else first.start,
        "planned_s": sum(s.duration_s for s in steps),
        "technique": str(facts.get("technique", "")),
        "shape": str(facts.get("shape", "")),
        "thickness_m": facts.get("thickness_m"),
        "food": str(facts.get("food", "")),
        "start_c": facts.get("start_c"),
        "around_c": _around(steps[-1], used),
        "chamber_c": sum(chamber) / len(chamber) if chamber else None,
        "target_c": max(targets, default=None),
        "readings": readings[-MOST_READINGS:],
    }


def _around(step: Step, used: Mapping[str, Appliance]) -> float | None:
    """What surrounds the food [°C]: the set point with the appliance's measured offset."""
    if step.set_point_c is None:
        return None
    appliance = used.get(step.appliance or "")
    return step.set_point_c + (appliance.offset_k or 0.0 if appliance else 0.0)


def _heatings(
    batches: Sequence[Batch], runs: Mapping[tuple[str, str], StepRun], used: Mapping[str, Appliance]
) -> list[core.Heating]:
    """Each appliance of each batch from its first heat to its last: a thermostat may switch on at any moment
    between.
    """
    found = []
    for batch in batches:
        spans: dict[str, list[float]] = {}
        for step in batch.chain().steps:
            run = runs.get((str(batch.id), step.key))
            if run and step.phase in HEATS and step.appliance in used:
                spans.setdefault(str(step.appliance), []).extend((run.start, run.end))
        for key, moments in spans.items():
            a = used[key]
            found.append(
                core.Heating(key, a.name, a.circuit, a.input_w, min(moments), max(moments), rings_of(a))
            )
    return found


def _alight(
    heating: core.Heating, batches: Sequence[Batch], runs: Mapping[tuple[str, str], StepRun], now_s: float
) -> bool:
    """Whether an appliance is on now by what was logged: one of its heats runs, or has run and another is to
    come.
    """
    states = [
        runs[str(b.id), s.key].state
        for b in batches
        for s in b.chain().steps
        if s.appliance == heating.appliance and s.phase in HEATS and (str(b.id), s.key) in runs
    ]
    return RunState.RUNNING in states or (RunState.DONE in states and RunState.TODO in states)


def metered_of_batch(
    db: Session, shift: Shift, batch_id: uuid.UUID, now_s: float
) -> tuple[float | None, list[str]]:
    """Energy by meter while a batch heated [J], and tags of batches that heated in the same appliance
    meanwhile.
    """
    plan = newest_plan(db, shift.id)
    entries = [e.core() for e in entries_after(db, shift.id, 0, 1_000_000)]
    runs = {
        (r.batch, r.step): r
        for r in bench_state([b.chain() for b in shift.batches], plan.planned() if plan else [], entries).runs
    }
    spans: dict[str, dict[str, tuple[float, float]]] = {}
    tags = {str(b.id): b.method.tag for b in shift.batches}
    for batch in shift.batches:
        for step in batch.chain().steps:
            run = runs.get((str(batch.id), step.key))
            if run and step.appliance and step.phase in HEATS and run.state is not RunState.TODO:
                end = run.end if run.state is RunState.DONE else now_s
                low, high = spans.setdefault(step.appliance, {}).get(str(batch.id), (run.start, end))
                spans[step.appliance][str(batch.id)] = (min(low, run.start), max(high, end))
    total: float | None = None
    shared: list[str] = []
    for appliance, by_batch in spans.items():
        mine = by_batch.get(str(batch_id))
        if mine is None:
            continue
        got = metered(db, uuid.UUID(appliance), shift, *mine)
        total = total if got is None else (total or 0.0) + got
        shared += [
            tags[b]
            for b, (low, high) in by_batch.items()
            if b != str(batch_id) and low < mine[1] and high > mine[0]
        ]
    return total, sorted(set(shared))


def load_record(load: core.CircuitLoad) -> dict[str, Any]:
    """A circuit's load as plain data."""
    return asdict(load)

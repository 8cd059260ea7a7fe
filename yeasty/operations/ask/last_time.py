"""The last cooking of a method: what was set, what was done, what came of it."""

import uuid
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.bench import bench_state
from yeasty.core.cook.measures import BatchMeasures, Standing, measures
from yeasty.core.kernel.steps import Phase
from yeasty.store.ask.tables import Method
from yeasty.store.cook.queries import highest_cores, newest_plan
from yeasty.store.cook.tables import Batch, EntryRow, Shift


@dataclass(frozen=True)
class LastTime:
    """A cooking before this one: when, of which method, set points [°C] and power [W] by step, how long it
    cooked as done [s] beside as planned, and its measures.
    """

    batch: Batch
    shift: Shift
    method: Method
    same_method: bool
    sets: tuple[tuple[str, float | None, float | None], ...]
    cooked_s: float
    planned_s: float
    measures: BatchMeasures


def last_times(db: Session, shift: Shift) -> dict[uuid.UUID, LastTime]:
    """For each method of a shift the newest cooking before it: of the method itself, else of the method it
    was copied from.
    """
    methods = {b.method_id: b.method for b in shift.batches}
    wanted = {*methods, *(m.parent_method_id for m in methods.values() if m.parent_method_id)}
    rows = db.scalars(
        select(Batch)
        .join(Shift, Batch.shift_id == Shift.id)
        .where(
            Batch.method_id.in_(wanted),
            Batch.shift_id != shift.id,
            Batch.parent_batch_id.is_(None),
            Shift.clock_rate.is_(None),
            Shift.serve_from <= shift.serve_from,
        )
        .order_by(Shift.serve_from.desc(), Batch.replicate.desc())
    )
    newest: dict[uuid.UUID, Batch] = {}
    for b in rows:
        newest.setdefault(b.method_id, b)
    found = {}
    told: dict[uuid.UUID, LastTime | None] = {}
    for method_id, method in methods.items():
        batch = newest.get(method_id) or (
            newest.get(method.parent_method_id) if method.parent_method_id else None
        )
        if batch is None:
            continue
        if batch.id not in told:
            told[batch.id] = _told(db, batch)
        last = told[batch.id]
        if last is not None:
            found[method_id] = LastTime(**{**last.__dict__, "same_method": batch.method_id == method_id})
    return found


def _told(db: Session, batch: Batch) -> LastTime | None:
    shift = db.get_one(Shift, batch.shift_id)
    plan = newest_plan(db, shift.id)
    planned = plan.planned() if plan else []
    entries = [
        e.core()
        for e in db.scalars(select(EntryRow).where(EntryRow.batch_id == batch.id).order_by(EntryRow.number))
    ]
    chain = batch.chain()
    m = measures(chain, planned, entries, highest_cores(db, shift.trial_id).get(batch.id))
    if not m.complete and m.standing is not Standing.VOID:
        return None
    steps = {s.key: s for s in chain.steps}
    cooked = [
        r
        for r in bench_state([chain], planned, entries).runs
        if steps[r.step].phase is Phase.COOK and steps[r.step].during_offset_s is None
    ]
    sets = tuple(
        (s.what, s.set_point_c, s.power_w)
        for s in chain.steps
        if s.set_point_c is not None or s.power_w is not None
    )
    return LastTime(
        batch,
        shift,
        batch.method,
        True,
        sets,
        sum(r.end - r.start for r in cooked),
        sum(s.duration_s for s in chain.steps if s.phase is Phase.COOK and s.during_offset_s is None),
        m,
    )

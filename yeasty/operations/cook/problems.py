"""The planning problem of a shift, from its batches, the kitchen's appliances and circuits."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.bench import RunState, bench_state
from yeasty.core.cook.departures import held_for_window
from yeasty.core.cook.problem import Chain, Place, PlannedStep, Problem
from yeasty.core.cook.standing import effective
from yeasty.core.cook.together import prepared_steps, still_apart, without_begun
from yeasty.core.cook.waits import wait_limits
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.steps import empty_preheats
from yeasty.core.safety import circuits as core
from yeasty.core.setup.appliances import capacity_for
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import entries_after, newest_plan
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.kitchen.queries import circuits, newest_measurements, rings_of, the_kitchen
from yeasty.store.kitchen.tables import Appliance

# Change-over to a higher set point where the preheat was never measured [s/K]; strict kitchen practice.
USUAL_CHANGE_S_PER_K = 6.0
# Coming down to a lower one, the door shut: nobody has measured it here. Oil keeps its heat longest. Strict
# kitchen practice.
USUAL_FALL_S_PER_K = {"oven": 12.0, "air_fryer": 6.0, "deep_fryer": 30.0}
HOLDS_AIR = ("oven", "toaster_oven", "air_fryer", "deep_fryer", "grill", "smoker", "dehydrator")


def problem_of(
    db: Session,
    shift: Shift,
    not_before: float | None,
    *,
    only: Sequence[Batch] | None = None,
    fixed: Sequence[tuple[Batch, tuple[PlannedStep, ...]]] = (),
    before: Sequence[PlannedStep] = (),
) -> Problem:
    """The planning problem of a shift, or of some of its batches beside those that have begun."""
    batches = list(shift.batches if only is None else only)
    own = the_kitchen(db).waits
    food = db.scalar(select(Trial.food_class).where(Trial.id == shift.trial_id)) or ""
    chains = tuple(_chain(b, food, own) for b in batches)
    begun = tuple((_chain(b, food, own), items) for b, items in fixed)
    keys = {s.appliance for c in (*chains, *(c for c, _ in begun)) for s in c.steps if s.appliance}
    rows = (
        db.scalars(select(Appliance).where(Appliance.id.in_([uuid.UUID(k) for k in keys]))).all()
        if keys
        else ()
    )
    pieces = {c.batch: c for c in chains}
    places = tuple(_place(db, a, batches, pieces) for a in rows)
    limits = tuple(
        (c.name, usable)
        for c in circuits(db)
        if (usable := core.Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w).usable_w())
    )
    zone = ZoneInfo(the_kitchen(db).time_zone)
    day = shift.serve_from.astimezone(zone)
    midnight = datetime(day.year, day.month, day.day, tzinfo=zone).timestamp()
    return Problem(
        chains,
        shift.serve_from.timestamp(),
        shift.serve_until.timestamp(),
        shift.people,
        (),
        not_before,
        places,
        limits,
        walk_s=shift.walk_s,
        midnight=midnight,
        fixed=begun,
        before=tuple(before),
        same_age=shift.same_age,
        leave_room=shift.leave_room,
    )


@dataclass(frozen=True)
class Progress:
    """A shift as it stands: what has begun and stays, what is free, the plan that counts, and when what has
    begun will be served.

    `hot` : what was begun for batches that stay free all the same: preheats, the shared preparation, what is
        done before a load
    goes in. What follows of them waits for it.
    """

    begun: frozenset[str]
    kept: tuple[PlannedStep, ...]
    free: tuple[Batch, ...]
    planned: tuple[PlannedStep, ...]
    served: tuple[tuple[str, float], ...] = ()
    hot: tuple[PlannedStep, ...] = ()


def progress(db: Session, shift: Shift) -> Progress:
    """Where a shift stands by its log: batches that have begun keep what they are doing."""
    old = newest_plan(db, shift.id)
    planned = old.planned() if old else []
    entries = [e.core() for e in entries_after(db, shift.id, 0, 1_000_000)]
    chains = [b.chain() for b in shift.batches]
    state = bench_state(chains, planned, entries)
    # What is done for all, and what heats up empty, says nothing yet of a batch.
    empty = {(c.batch, key) for c in chains for key in empty_preheats(c.steps)}
    empty |= {(c.batch, s.key) for c in chains for s in prepared_steps(c)}
    going = [r for r in state.runs if r.state is not RunState.TODO]
    # Nor does what a batch is given before it goes in with the rest of its load: that waits for whoever is
    # ready last.
    empty |= still_apart(chains, [(r.batch, r.step) for r in going])
    begun = frozenset(r.batch for r in going if (r.batch, r.step) not in empty)
    hot = tuple(PlannedStep(r.batch, r.step, r.start, r.end) for r in going if r.batch not in begun)
    runs = held_for_window(chains, [r for r in state.runs if r.batch in begun], shift.serve_from.timestamp())
    kept = tuple(PlannedStep(r.batch, r.step, r.start, r.end) for r in runs)
    void = {e.batch for e in effective(entries) if e.kind is EntryKind.VOID}
    free = tuple(b for b in shift.batches if str(b.id) not in begun and str(b.id) not in void)
    under_way = {r.batch for r in runs if r.state is not RunState.DONE} - void
    served = tuple((b, max(k.end for k in kept if k.batch == b)) for b in sorted(under_way))
    return Progress(begun, kept, free, tuple(planned), served, hot)


def problem_now(db: Session, shift: Shift, s: Progress, at: float, *, keep_near: bool = True) -> Problem:
    """The problem of what is still free, beside what has begun; near the plan that counts where that is
    wanted.
    """
    fixed = [
        (b, tuple(k for k in s.kept if k.batch == str(b.id))) for b in shift.batches if str(b.id) in s.begun
    ]
    going_on = bool(s.begun or s.hot)
    before = [p for p in s.planned if p.batch not in s.begun] if going_on and keep_near else []
    whole = problem_of(db, shift, at if going_on else None, only=s.free, fixed=fixed, before=before)
    on = {b: {p.step: p for p in s.hot if p.batch == b} for b in {p.batch for p in s.hot}}
    return replace(
        whole,
        chains=tuple(without_begun(c, on[c.batch]) if c.batch in on else c for c in whole.chains),
        # What heats up already draws its current, whoever's food it is for.
        fixed=(*whole.fixed, *((c, tuple(on[c.batch].values())) for c in whole.chains if c.batch in on)),
    )


def _chain(batch: Batch, food: str, own: Mapping[str, Mapping[str, float | None]]) -> Chain:
    """A batch as it is planned, with what its kind of food may wait; a kind stated only since the shift was
    made counts.
    """
    chain = batch.chain()
    chilled = {str(s["key"]) for s in batch.steps if s.get("appliance_kind") == "fridge"}
    kind = str(batch.facts.get("food_class") or food)
    return replace(chain, waits=wait_limits(chain.steps, kind, own=own, chilled=chilled))


def _place(db: Session, a: Appliance, batches: Sequence[Batch], chains: dict[str, Chain]) -> Place:
    sizes = [
        b.method.piece_thickness_m
        for b in batches
        if b.method.piece_thickness_m and any(s.appliance == str(a.id) for s in chains[str(b.id)].steps)
    ]
    holds = capacity_for(a.profile(), max(sizes, default=None))[0]
    change, fall = 0.0, None
    if a.kind in HOLDS_AIR:
        measured = newest_measurements(db, [a.id]).get((a.id, "preheat"))
        lag = measured.result.get("measured") if measured else None
        change, fall = USUAL_CHANGE_S_PER_K, USUAL_FALL_S_PER_K.get(a.kind, USUAL_FALL_S_PER_K["oven"])
        if lag:
            # First-order lag: a small step to another temperature takes about one time constant over the way
            # that is left.
            change = float(lag["tau_s"]) / max(20.0, float(lag["full_c"]) - float(lag["start_c"]))
    return Place(str(a.id), a.name, a.spot, holds, rings_of(a), a.circuit, a.input_w, change, fall)

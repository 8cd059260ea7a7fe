"""Cook: what is done to a shift while it goes on: its speed, a rescue, what came of the last cooking."""

import time
from typing import Annotated
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import ask_for_plan, open_shift, told_shift
from yeasty.api.cook.views import ShiftList, ShiftPath, ShiftView, shift_view
from yeasty.api.problems import not_found
from yeasty.api.request import Blank, Duration, Temperature, answer, db, me, require
from yeasty.api.shown import shown
from yeasty.core.kernel.errors import Refused
from yeasty.core.kernel.filled import filled
from yeasty.operations.ask.last_time import LastTime, last_times
from yeasty.operations.cook import mid_shift
from yeasty.operations.setup.sittings import split
from yeasty.store.ask.queries import appliances_of
from yeasty.store.cook import queries as store
from yeasty.store.cook.queries import moment
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.tables import Appliance

shift_acts = blueprint("shift_acts", "cook")


class SpeedIn(BaseModel):
    """How fast a shift on simulated time goes from now on."""

    speed: float = Field(ge=1, le=60)


class RescueIn(BaseModel):
    """A finish given to a batch that came out pale, wet or underdone."""

    batch: UUID
    finish: str = Field(min_length=1, max_length=200)
    why: str = Field(min_length=1, max_length=500)
    duration_s: Duration
    technique: str = Field(default="", max_length=40)
    appliance_id: UUID | None = None
    set_point_c: Annotated[Temperature | None, Blank] = None
    cue: str = Field(default="", max_length=200)
    device: UUID
    counter: int = Field(ge=0)


class RescueMade(BaseModel):
    """The child batch."""

    batch: str
    replicate: int


class BatchIn(BaseModel):
    """A method of which one more batch is cooked."""

    method_id: UUID


class SittingsIn(BaseModel):
    """How a shift is split: the method that every sitting cooks, and how many methods a sitting has at
    most.
    """

    common: UUID
    most: int = Field(ge=2, le=50)


class GoneIn(BaseModel):
    """An appliance that failed, and the one used instead; without one the batches that have not begun are
    given up.
    """

    appliance_id: UUID
    instead_id: UUID | None = None


class GoneView(BaseModel):
    """Tags of batches that were moved or given up, and of those that had begun: they are yours to decide."""

    moved: list[str]
    given_up: list[str]
    begun: list[str]


class SetView(BaseModel):
    """What was set at a step [°C, W]."""

    what: str
    set_point_c: float | None
    power_w: float | None


class LastTimeView(BaseModel):
    """The last cooking of a method: when, what was set, how long it cooked beside the plan [s], what came of
    it.
    """

    method: str
    same_method: bool
    when: float
    trial_id: str
    sets: list[SetView]
    cooked_s: float
    planned_s: float
    highest_core_c: float | None
    cooked_yield: float | None
    standing: str
    why: str
    cues: list[str]
    notes: list[str]
    outcome: str


class LastTimes(BaseModel):
    """By method of the shift; methods never cooked before are missing."""

    items: list[LastTimeView]


@shift_acts.post("/shifts/<uuid:shift_id>/sittings", responses={201: ShiftList})
@require(Role.COOK)
def split_into_sittings(path: ShiftPath, body: SittingsIn) -> Response:
    """Split a shift that was not begun into sittings, one a day, each with a method in common; the worker
    plans them.
    """
    shift = open_shift(path.shift_id)
    made = split(db(), open_trial(shift.trial_id), shift, body.common, body.most)
    for row in made:
        ask_for_plan(row.id)
    return answer(ShiftList(items=[shift_view(s, len(s.batches), begun=False) for s in made]), 201)


@shift_acts.post("/shifts/<uuid:shift_id>/speed", responses={200: ShiftView})
@require(Role.COOK)
def set_speed(path: ShiftPath, body: SpeedIn) -> Response:
    """Let a shift on simulated time go faster or slower; its clock goes on without a jump."""
    shift = open_shift(path.shift_id)
    clock = shift.clock().at_rate(body.speed, time.time())
    shift.clock_origin, shift.clock_anchor, shift.clock_rate = (
        moment(clock.origin),
        moment(clock.anchor),
        clock.rate,
    )
    db().flush()
    store.wake(db(), shift.id)
    return told_shift(shift)


@shift_acts.post("/shifts/<uuid:shift_id>/rescues", responses={201: RescueMade})
@require(Role.COOK)
def make_rescue(path: ShiftPath, body: RescueIn) -> Response:
    """Give a batch a finish. It becomes a sample of its own with its parent kept; the first result stays."""
    shift = open_shift(path.shift_id)
    appliance = db().get(Appliance, body.appliance_id) if body.appliance_id else None
    if body.appliance_id and appliance is None:
        raise not_found("appliance")
    finish = filled(mid_shift.Finish, body, seconds=body.duration_s, appliance=appliance)
    child = mid_shift.rescued(
        db(), shift, body.batch, finish, by=me().person_id, device=body.device, counter=body.counter
    )
    ask_for_plan(shift.id)
    return answer(RescueMade(batch=str(child.id), replicate=child.replicate), 201)


@shift_acts.post("/shifts/<uuid:shift_id>/batches", responses={201: RescueMade})
@require(Role.COOK)
def more_batches(path: ShiftPath, body: BatchIn) -> Response:
    """One more batch of a method, planned into what goes on."""
    shift = open_shift(path.shift_id)
    if shift.ended_at is not None:
        raise Refused("shift", "has ended", "Plan another shift.")
    trial = open_trial(shift.trial_id)
    method = next((m for m in trial.methods if m.id == body.method_id), None)
    if method is None:
        raise Refused("method", "is not one of this trial", "Reload and choose again.")
    batch = mid_shift.add_batch(db(), shift, trial, method, appliances_of(db(), trial))
    ask_for_plan(shift.id)
    return answer(RescueMade(batch=str(batch.id), replicate=batch.replicate), 201)


@shift_acts.post("/shifts/<uuid:shift_id>/appliance-gone", responses={200: GoneView})
@require(Role.COOK)
def gone(path: ShiftPath, body: GoneIn) -> Response:
    """An appliance failed: what has not begun goes to another, or is given up; the rest of the plan moves by
    itself.
    """
    shift = open_shift(path.shift_id)
    instead = db().get(Appliance, body.instead_id) if body.instead_id else None
    failed = db().get(Appliance, body.appliance_id)
    if failed is None or (body.instead_id and instead is None):
        raise not_found("appliance")
    what = mid_shift.failed(db(), shift, failed, instead, by=me().person_id)
    ask_for_plan(shift.id)
    return answer(GoneView(**{k: [b.method.tag for b in v] for k, v in vars(what).items()}))


@shift_acts.get("/shifts/<uuid:shift_id>/last-times", responses={200: LastTimes})
@require(Role.COOK)
def get_last_times(path: ShiftPath) -> Response:
    """Before starting: the last cooking of each method, what was set and what came of it."""
    found = last_times(db(), open_shift(path.shift_id))
    return answer(LastTimes(items=[_last_time(str(method), t) for method, t in found.items()]))


def _last_time(method: str, t: LastTime) -> LastTimeView:
    return shown(
        LastTimeView,
        t,
        method=method,
        when=t.shift.serve_from.timestamp(),
        trial_id=str(t.shift.trial_id),
        sets=[SetView(what=w, set_point_c=c, power_w=p) for w, c, p in t.sets],
        highest_core_c=t.measures.highest_core_c,
        cooked_yield=t.measures.cooked_yield,
        standing=t.measures.standing.value,
        why=t.measures.why,
        cues=list(t.measures.cues),
        notes=list(t.measures.notes),
        outcome=t.method.outcome or t.method.verdict_note,
    )

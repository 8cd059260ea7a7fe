"""Cook: shifts, the bench, entries, the live stream, probe logs, photos."""

import time
from collections.abc import Sequence
from datetime import UTC, timedelta
from uuid import UUID

import structlog
from flask import Response, current_app, request
from sqlalchemy import select

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath, mark_view
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.views import (
    BenchBatch,
    BenchStep,
    BenchView,
    CheckView,
    CircuitLimit,
    Clock,
    CurveView,
    EntriesAnswer,
    EntriesIn,
    EntryView,
    MainsView,
    Misshapen,
    NewShift,
    PieceFacts,
    PlanView,
    RefusedEntry,
    ShiftChange,
    ShiftList,
    ShiftPath,
    ShiftView,
    StreamQuery,
    Written,
    shift_view,
)
from yeasty.api.live import changes_after, entry_record, plan_record, shift_state, stream
from yeasty.api.problems import FieldProblem, not_found
from yeasty.api.request import after_commit, answer, db, done, each, me, plain, require
from yeasty.api.shown import shown
from yeasty.api.streams import streamed
from yeasty.core.cook.probe_log import thin
from yeasty.core.cook.problem import usual_window_s
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.cook.together import preheated_together, share_groups
from yeasty.core.kernel.errors import RuleError
from yeasty.core.safety.circuits import Circuit
from yeasty.operations.cook import noting
from yeasty.operations.cook import shifts as making
from yeasty.operations.kitchen import taking_away
from yeasty.store.ask import queries as trials
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook import queries as store
from yeasty.store.cook.devices import settle
from yeasty.store.cook.tables import Batch, ProbeLogRow, Shift
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import circuits, rings_of

cook = blueprint("cook", "cook")
CURVE_POINTS = 240


def open_shift(shift_id: UUID) -> Shift:
    """A shift, or 404."""
    shift = db().get(Shift, shift_id)
    if shift is None:
        raise not_found("shift")
    return shift


@cook.get("/clock", responses={200: Clock})
def get_clock() -> Response:
    """What time it is; devices measure their offset against it."""
    from yeasty.store.kitchen.queries import the_kitchen

    return answer(Clock(server_now=time.time(), incarnation=str(the_kitchen(db()).incarnation)))


@cook.get("/trials/<uuid:trial_id>/shifts", responses={200: ShiftList})
@require(Role.COOK)
def list_shifts(path: TrialPath) -> Response:
    """Shifts of a trial, newest first."""
    rows = store.shifts_of(db(), path.trial_id)
    begun = store.begun_of(db(), [s.id for s in rows])
    return answer(ShiftList(items=each(rows, lambda s: shift_view(s, len(s.batches), begun=s.id in begun))))


@cook.post("/trials/<uuid:trial_id>/shifts", responses={201: ShiftView})
@require(Role.COOK)
def new_shift(path: TrialPath, body: NewShift) -> Response:
    """A shift with its batches; the worker plans it."""
    trial = open_trial(path.trial_id)
    known = {m.id for m in trial.methods}
    if set(body.replicates) - known:
        raise RuleError("batches", "name a method of another trial", "Reload and choose again.")
    if any(not 0 <= n <= 20 for n in body.replicates.values()):
        raise RuleError("batches", "of one method must be 0 to 20", "Choose fewer, or a second shift.")
    serve_from = body.serve_from if body.serve_from.tzinfo else body.serve_from.replace(tzinfo=UTC)
    if body.speed and serve_from > now() + timedelta(days=2):
        raise RuleError(
            "serving time",
            "is more than two days away",
            "On simulated time the clock starts now: choose a time of today or tomorrow.",
        )
    replicates = body.replicates or dict.fromkeys(known, 1)
    window_s = (
        body.window_s
        if body.window_s is not None
        else usual_window_s(sum(replicates.values()), same_age=body.same_age)
    )
    shift = making.make_shift(
        db(),
        trial,
        name=body.name or f"Shift of {serve_from:%d %b}",
        serve_from=serve_from,
        serve_until=serve_from + timedelta(seconds=window_s),
        people=body.people,
        replicates=replicates,
        appliances=trials.appliances_of(db(), trial),
        walk_s=body.walk_s,
        same_age=body.same_age,
        clock=ShiftClock(time.time(), time.time(), body.speed) if body.speed else None,
        written_up=body.written_up,
    )
    shift.room_c, shift.weather, shift.cooks = body.room_c, body.weather.strip(), body.cooks.strip()
    shift.cooks = shift.cooks or me().person.name
    ask_for_plan(shift.id)
    return told_shift(shift, 201)


def told_shift(shift: Shift, status: int = 200) -> Response:
    """A shift as it is told."""
    begun = bool(store.begun_of(db(), [shift.id]))
    return answer(shift_view(shift, len(shift.batches), begun=begun), status)


def ask_for_plan(shift_id: UUID) -> None:
    """Have the worker plan a shift once this request is stored; the screens are told that one is on its
    way.
    """
    jobs = current_app.extensions["yeasty_jobs"]
    store.asked_for_plan(db(), shift_id)
    after_commit(lambda: jobs.plan(shift_id))


@cook.post("/shifts/<uuid:shift_id>/plan-requests", responses={202: None})
@require(Role.COOK)
def request_plan(path: ShiftPath) -> Response:
    """Ask for a plan from now on, keeping all that has begun; the stream tells when it is there."""
    ask_for_plan(open_shift(path.shift_id).id)
    return current_app.response_class(status=202)


@cook.patch("/shifts/<uuid:shift_id>", responses={200: ShiftView})
@require(Role.COOK)
def change_shift(path: ShiftPath, body: ShiftChange) -> Response:
    """Put down what the day was like; leave room for what may cook longer, or give it up, and it is planned
    again.
    """
    shift = open_shift(path.shift_id)
    for name in body.model_fields_set & {"room_c", "weather", "cooks"}:
        value = getattr(body, name)
        setattr(shift, name, value.strip() if isinstance(value, str) else value if name == "room_c" else "")
    if body.leave_room is not None and body.leave_room != shift.leave_room:
        shift.leave_room = body.leave_room
        ask_for_plan(shift.id)
    return told_shift(shift)


@cook.delete("/shifts/<uuid:shift_id>", responses={204: None})
@require(Role.COOK)
def remove_shift(path: ShiftPath) -> Response:
    """Remove a shift that was never begun; one with a log stays."""
    shift = open_shift(path.shift_id)
    store.check_unbegun(db(), shift)
    taking_away.take_away(db(), shift, f"the shift “{shift.name}”", me().id, shift.trial_id)
    return done()


@cook.post("/shifts/<uuid:shift_id>/end", responses={200: ShiftView})
@require(Role.COOK)
def end_shift(path: ShiftPath) -> Response:
    """Say that a shift is over. Late results can still be logged."""
    shift = open_shift(path.shift_id)
    if shift.ended_at is None:
        entries = [e.core() for e in store.entries_after(db(), shift.id, 0, 1_000_000)]
        settle(db(), shift, entries, shift.clock().at(time.time()))
        shift.ended_at = now()
        store.wake(db(), shift.id)
    return told_shift(shift)


@cook.get("/shifts/<uuid:shift_id>/bench", responses={200: BenchView})
@require(Role.COOK)
def get_bench(path: ShiftPath) -> Response:
    """The bench: columns, plan, log and curves."""
    from yeasty.store.kitchen.queries import the_kitchen

    shift = open_shift(path.shift_id)
    trial = db().get_one(Trial, shift.trial_id)
    plan = store.newest_plan(db(), shift.id)
    entries = store.entries_after(db(), shift.id, 0, 100_000)
    logs = db().scalars(
        select(ProbeLogRow).join(Batch).where(Batch.shift_id == shift.id).order_by(ProbeLogRow.added_at)
    )
    chains = [b.chain() for b in shift.batches]
    # One tap for what is done once: in a vessel in common, or a preheat that serves several.
    hobs = {str(s["appliance"]) for b in shift.batches for s in b.steps if s.get("appliance_kind") == "hob"}
    groups = {**(preheated_together(chains, plan.planned(), hobs) if plan else {}), **share_groups(chains)}
    return answer(
        BenchView(
            shift=shift_view(shift, len(shift.batches), begun=bool(entries)),
            trial_title=trial.title,
            question=trial.question,
            batches=[
                shown(
                    BenchBatch,
                    b.method,
                    id=str(b.id),
                    method_id=str(b.method_id),
                    replicate=b.replicate,
                    mark=mark_view(b.method.mark),
                    steps=[BenchStep(**s) for s in b.steps],
                    checklist=[CheckView(**c) for c in b.facts.get("checklist", [])],
                    together=str(b.facts.get("together") or ""),
                    shared={k: g for (batch, k), g in groups.items() if batch == str(b.id)},
                    parent=str(b.parent_batch_id) if b.parent_batch_id else None,
                    rescue=str(b.facts.get("rescue") or ""),
                    technique=str(b.facts.get("technique") or ""),
                    hold_limit_s=b.facts.get("hold_limit_s"),
                    piece=PieceFacts(
                        shape=str(b.facts.get("shape") or ""),
                        thickness_m=b.facts.get("thickness_m"),
                        food=str(b.facts.get("food") or ""),
                        start_c=b.facts.get("start_c"),
                    ),
                )
                for b in shift.batches
            ],
            plan=PlanView(**plan_record(plan)) if plan else None,
            entries=[EntryView(**entry_record(e)) for e in entries],
            curves=[c for row in logs for c in _curves(row)],
            number=max([e.number for e in entries] + [plan.number if plan else 0]),
            server_now=time.time(),
            incarnation=str(the_kitchen(db()).incarnation),
            circuits=[
                shown(CircuitLimit, c, limit_w=Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w).usable_w())
                for c in circuits(db())
            ],
            mains={
                str(a.id): MainsView(circuit=a.circuit, input_w=a.input_w or 0.0, rings=rings_of(a))
                for a in trials.appliances_of(db(), trial).values()
                if a.circuit and a.input_w
            },
        )
    )


def _curves(row: ProbeLogRow) -> list[CurveView]:
    start = row.starts_at.timestamp()
    return [
        CurveView(
            batch=str(row.batch_id),
            name=name,
            points=[[start + t, v] for t, v in thin(tuple(row.times_s), tuple(values), CURVE_POINTS)],
        )
        for name, values in row.channels.items()
    ]


@cook.post("/shifts/<uuid:shift_id>/entries", responses={200: EntriesAnswer})
@require(Role.COOK)
def add_entries(path: ShiftPath, body: EntriesIn) -> Response:
    """Append entries. Each is judged by itself: one that is refused keeps none of the others back."""
    shift = open_shift(path.shift_id)
    misshapen = [shown(RefusedEntry, e) for e in body.entries if isinstance(e, Misshapen)]
    told = [e for e in body.entries if not isinstance(e, Misshapen)]
    taken = noting.take(db(), shift, told, by=me().person_id)
    _plan_again(shift, noting.departed(db(), shift, taken.written))
    return answer(
        EntriesAnswer(
            written=[Written(id=str(r.id), number=r.number) for r in taken.written],
            known=[str(k) for k in taken.known],
            refused=misshapen
            + [RefusedEntry(id=str(i), problem=shown(FieldProblem, why)) for i, why in taken.refused],
            server_now=time.time(),
        )
    )


def _plan_again(shift: Shift, why: Sequence[str]) -> None:
    """Ask the worker for a plan where there is a reason; the tap does not wait for it."""
    if not why:
        return
    store.asked_for_plan(db(), shift.id)
    jobs, shift_id = current_app.extensions["yeasty_jobs"], shift.id

    def ask() -> None:
        try:
            jobs.plan(shift_id, "; ".join(why[:2]))
        except Exception as away:  # the tap is stored and acknowledged whatever becomes of the plan
            structlog.get_logger().warning("plan_not_asked", shift=str(shift_id), error=type(away).__name__)

    after_commit(ask)


@cook.get("/shifts/<uuid:shift_id>/changes", responses={200: None})
@require(Role.COOK)
def get_changes(path: ShiftPath, query: StreamQuery) -> Response:
    """What the stream would send, once: for where a stream can't be held."""
    shift = open_shift(path.shift_id)
    changes = [
        {"number": n, "event": event, "data": data}
        for n, event, data in changes_after(db(), shift.id, query.after)
    ]
    return plain({"items": changes, "shift": shift_state(db(), shift.id), "server_now": time.time()})


@cook.get("/shifts/<uuid:shift_id>/stream", responses={200: None})
@require(Role.COOK)
def get_stream(path: ShiftPath, query: StreamQuery) -> Response:
    """Server-sent events: entries and plans as they come, from Last-Event-ID or `after` on."""
    shift = open_shift(path.shift_id)
    last = request.headers.get("Last-Event-ID", "")
    after = int(last) if last.isdigit() else query.after
    return streamed(
        lambda hub, sessions, still_in, who: stream(hub, sessions, shift.id, after, still_in, who)
    )

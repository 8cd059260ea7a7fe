"""Cook: shifts, the bench, entries, the live stream, probe logs, photos."""

import time
from collections.abc import Sequence
from uuid import UUID

import structlog
from flask import Response, current_app, request

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.bench_views import bench_view
from yeasty.api.cook.views import (
    BenchView,
    Clock,
    EntriesAnswer,
    EntriesIn,
    Misshapen,
    NewShift,
    RefusedEntry,
    ShiftChange,
    ShiftList,
    ShiftPath,
    ShiftView,
    StreamQuery,
    Written,
    shift_view,
)
from yeasty.api.live import changes_after, shift_state, stream
from yeasty.api.problems import FieldProblem, not_found
from yeasty.api.request import after_commit, answer, db, done, each, me, plain, require
from yeasty.api.shown import shown
from yeasty.api.streams import streamed
from yeasty.operations.cook import noting
from yeasty.operations.cook.at_the_bench import bench_now
from yeasty.operations.cook.wished import shift_as_wished
from yeasty.operations.kitchen import taking_away
from yeasty.store.base import now
from yeasty.store.cook import queries as store
from yeasty.store.cook.devices import settle
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import the_kitchen

cook = blueprint("cook", "cook")


def open_shift(shift_id: UUID) -> Shift:
    """A shift, or 404."""
    shift = db().get(Shift, shift_id)
    if shift is None:
        raise not_found("shift")
    return shift


@cook.get("/clock", responses={200: Clock})
def get_clock() -> Response:
    """What time it is; devices measure their offset against it."""
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
    shift = shift_as_wished(db(), open_trial(path.trial_id), body, by=me().person.name)
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
    now_there = bench_now(db(), open_shift(path.shift_id))
    return answer(bench_view(now_there, incarnation=str(the_kitchen(db()).incarnation)))


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

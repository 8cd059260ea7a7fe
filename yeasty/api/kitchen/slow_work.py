"""Slow work: how long it will take, and stopping it."""

from collections.abc import Callable
from functools import wraps
from typing import ParamSpec
from uuid import UUID, uuid4

from flask import Response, current_app, g, request
from pydantic import BaseModel

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import after_commit, answer, db, done, require
from yeasty.api.shown import shown
from yeasty.core.kernel.slow_work import WorkKind
from yeasty.operations.kitchen import slow_work as work
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.publish.tables import Publication

slow = blueprint("slow", "slow work")
P = ParamSpec("P")
# A browser names the work of a request, so that it can stop it before there is an answer.
HEADER = "Work-Id"


class WorkQuery(BaseModel):
    """Which work: its kind, and what it is about."""

    kind: WorkKind
    subject: UUID | None = None


class StopIn(WorkQuery):
    """What is to be stopped: what goes on of a subject, or one request by the id it came with."""

    work: UUID | None = None


class AgainIn(BaseModel):
    """What was stopped and is wanted after all."""

    kind: WorkKind
    subject: UUID


class HowLongView(BaseModel):
    """How long it usually takes [s], and when it began, in seconds since 1970; null while it waits."""

    usual_s: float
    began_at: float | None


def stoppable(kind: WorkKind) -> Callable[[Callable[P, Response]], Callable[P, Response]]:
    """A view whose work is told of while it goes on, and can be stopped until it is stored."""

    def wrap(view: Callable[P, Response]) -> Callable[P, Response]:
        @wraps(view)
        def told(*args: P.args, **kwargs: P.kwargs) -> Response:
            try:
                named = UUID(request.headers.get(HEADER, "")) if HEADER in request.headers else uuid4()
            except ValueError:
                raise ApiError(422, "Not an id", f"Send a UUID as {HEADER}, or leave it out.") from None
            sessions = current_app.extensions["yeasty_sessions"]
            try:
                with work.slow_work(sessions, kind, work=named) as going:
                    g.going = going
                    given = view(*args, **kwargs)
                    going.ended(db())
                    return given
            except work.StoppedError:
                raise ApiError(409, "Stopped", "It was stopped. Nothing of it was kept.") from None

        return told

    return wrap


def still_wanted() -> None:
    """Between two parts of a view that is `stoppable`: go no further where it was stopped."""
    g.going.wanted()


def verdict_wanted(trial_id: UUID) -> bool:
    """Have a stale verdict worked out again; False where somebody stopped that."""
    if work.is_stopped(db(), WorkKind.VERDICT, trial_id):
        return False
    jobs = current_app.extensions["yeasty_jobs"]
    after_commit(lambda: jobs.analyse(trial_id))
    return True


def _asked(kind: WorkKind, subject: UUID) -> None:
    jobs = current_app.extensions["yeasty_jobs"]
    known = {
        WorkKind.PLAN: (Shift, jobs.plan),
        WorkKind.VERDICT: (Trial, jobs.analyse),
        WorkKind.PDF: (Publication, jobs.render),
    }
    if kind not in known:
        raise ApiError(422, "Not by itself", "Do again what it was part of.")
    table, ask = known[kind]
    if db().get(table, subject) is None:
        raise not_found(table.__tablename__)
    after_commit(lambda: ask(subject))


@slow.get("/slow-work", responses={200: HowLongView})
@require(Role.COOK)
def how_long(query: WorkQuery) -> Response:
    """How long work of a kind usually takes, and since when it goes on."""
    told = work.how_long(db(), query.kind, query.subject)
    began = told.began_at.timestamp() if told.began_at else None
    return answer(shown(HowLongView, told, began_at=began))


@slow.post("/slow-work/stops", responses={204: None})
@require(Role.COOK)
def stop_work(body: StopIn) -> Response:
    """Stop work; nothing of it is kept."""
    jobs = current_app.extensions["yeasty_jobs"]
    if not work.stop(db(), jobs, body.kind, body.subject, body.work):
        raise ApiError(409, "Done already", "It came to its end before it could be stopped.")
    return done()


@slow.post("/slow-work/again", responses={204: None})
@require(Role.COOK)
def do_again(body: AgainIn) -> Response:
    """Have something done after all that was stopped."""
    work.again(db(), body.kind, body.subject)
    _asked(body.kind, body.subject)
    return done()

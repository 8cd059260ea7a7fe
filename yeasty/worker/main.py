"""The worker process: takes up jobs at low priority, so that taps never wait for it."""

import os
import time
import uuid
from contextlib import suppress
from functools import partial
from typing import Any

import procrastinate
import structlog
from sqlalchemy.orm import Session, sessionmaker

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.slow_work import WorkKind
from yeasty.core.publish.html import page_html
from yeasty.operations.cook.foresight import look_ahead, probed_shifts
from yeasty.operations.cook.replanning import replan
from yeasty.operations.decide.analysis import analyse
from yeasty.operations.kitchen.slow_work import Going, StoppedError, slow_work
from yeasty.operations.publish.at_risk import keep_telling
from yeasty.operations.publish.pages import edition
from yeasty.operations.publish.photos import in_page, keep_files, photo_files
from yeasty.operations.reckoning import ReckonerAwayError, reckon
from yeasty.store.base import now
from yeasty.store.cook.queries import no_plan_asked
from yeasty.store.cook.readings import join_chunks
from yeasty.store.cook.tables import Shift
from yeasty.store.database import make_engine, plain_url, session_factory
from yeasty.store.jobs import ANALYSE, FORESEE, JOIN, PLAN, RENDER, TELL
from yeasty.store.publish.queries import by_slug
from yeasty.store.publish.tables import Publication, Rendering
from yeasty.worker.pdf import pdf_of

log = structlog.get_logger()
PDF = "application/pdf"
# Every ten seconds: minute, hour, day, month, weekday, second.
FORESEE_EVERY = "* * * * * */10"


def make_app(url: str) -> procrastinate.App:
    """The job application with its tasks."""
    app = procrastinate.App(
        connector=procrastinate.PsycopgConnector(conninfo=plain_url(url), min_size=1, max_size=4)
    )
    sessions = session_factory(make_engine(url, pool=2))

    @app.task(name=PLAN, retry=2, pass_context=False)
    def make_plan(shift_id: str, why: str = "") -> None:
        plan_again(sessions, uuid.UUID(shift_id), why)

    @app.periodic(cron="*/5 * * * *")
    @app.task(name=JOIN, queueing_lock=JOIN)
    def join(timestamp: int) -> None:
        with sessions.begin() as db:
            join_chunks(db)

    @app.periodic(cron=FORESEE_EVERY)
    @app.task(name=FORESEE, queueing_lock=FORESEE)
    def foresee(timestamp: int) -> None:
        with sessions() as db:
            going_on = [s.id for s in probed_shifts(db)]
        for shift_id in going_on:
            with sessions.begin() as db:
                shift = db.get_one(Shift, shift_id)
                try:
                    why = look_ahead(db, shift, shift.clock().at(time.time()), ask_forecasts)
                except ReckonerAwayError:
                    return
            if why:
                plan_again(sessions, shift_id, why)

    @app.task(name=ANALYSE, retry=2)
    def analyse_trial(trial_id: str) -> None:
        trial = uuid.UUID(trial_id)
        with (
            suppress(StoppedError),
            slow_work(sessions, WorkKind.VERDICT, trial) as work,
            sessions.begin() as db,
        ):
            analyse(db, trial)
            work.ended(db)
        with sessions.begin() as db:
            keep_telling(db, trial)

    @app.task(name=RENDER, retry=2)
    def render_pdf(publication_id: str) -> None:
        publication = uuid.UUID(publication_id)
        with suppress(StoppedError), slow_work(sessions, WorkKind.PDF, publication) as work:
            render(sessions, publication, work)
        with sessions.begin() as db:
            if (row := db.get(Publication, publication)) is not None:
                keep_telling(db, row.trial_id)

    @app.task(name=TELL)
    def tell(trial_id: str) -> None:
        with sessions.begin() as db:
            keep_telling(db, uuid.UUID(trial_id))

    return app


def plan_again(sessions: sessionmaker[Session], shift_id: uuid.UUID, why: str) -> None:
    """Plan a shift as it stands now; what is refused is logged, and no plan is on its way any more."""
    with (
        suppress(StoppedError),
        slow_work(sessions, WorkKind.PLAN, shift_id) as work,
        sessions.begin() as db,
    ):
        try:
            shift = db.get_one(Shift, shift_id)
            replan(db, shift.id, shift.clock().at(time.time()), why=why)
        except RuleError as refused:
            log.warning("plan_refused", shift=str(shift_id), reason=str(refused))
            no_plan_asked(db, shift_id)
        work.ended(db)


def ask_forecasts(questions: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Forecasts from the reckoner."""
    answers: list[dict[str, Any]] = reckon(
        os.environ.get("YEASTY_RECKONER", ""), "forecasts", {"questions": questions}
    )
    return answers


def render(sessions: sessionmaker[Session], publication_id: uuid.UUID, work: Going) -> None:
    """Make and keep the photos of a publication in all their sizes, and its PDF."""
    with sessions.begin() as db:
        row = db.get(Publication, publication_id)
        if row is None:
            return
        # By themselves: readers who ask meanwhile do not wait for paper.
        keep_files(db, row)
    with sessions.begin() as db:
        row = db.get_one(Publication, publication_id)
        if db.get(Rendering, (publication_id, PDF)) is not None:
            return
        newest = by_slug(db, row.slug) or row
        photos = photo_files(db, row)
        data = pdf_of(
            page_html(
                edition(db, row, newest),
                base="",
                style="page.css",
                for_print=True,
                photo=partial(in_page, photos),
            )
        )
        db.add(Rendering(publication_id=row.id, media_type=PDF, data=data, made_at=now()))
        work.ended(db)


def main(url: str) -> None:
    """Run until told to stop."""
    os.nice(10)
    with suppress(AttributeError, OSError):
        # Only what nobody else wants: a search on all cores must not hold up a tap.
        os.sched_setscheduler(0, os.SCHED_IDLE, os.sched_param(0))
    app = make_app(url)
    with app.open():
        app.run_worker(concurrency=1, wait=True, fetch_job_polling_interval=5.0, delete_jobs="always")

"""The queue of slow work, in PostgreSQL. A newer request replaces one that still waits."""

import contextlib
from uuid import UUID

import procrastinate
from procrastinate.exceptions import AlreadyEnqueued

from yeasty.core.kernel.slow_work import WorkKind

PLAN, ANALYSE, RENDER, TELL = "make_plan", "analyse_trial", "render_pdf", "keep_telling"
JOIN, FORESEE = "join_chunks", "look_ahead"
# What a job of each kind is locked by, before the id of what it is about.
LOCKS = {WorkKind.PLAN: "plan", WorkKind.VERDICT: "analyse", WorkKind.PDF: "render"}


class Jobs:
    """Asks the worker for slow work, by name; the worker's code is not loaded here."""

    def __init__(self, url: str) -> None:
        self._app = procrastinate.App(
            connector=procrastinate.SyncPsycopgConnector(
                conninfo=url, min_size=0, max_size=2, kwargs={"connect_timeout": 5}
            )
        )

    def _open(self) -> None:
        if not getattr(self, "_opened", False):
            self._app.open()
            self._opened = True

    def _defer(self, task: str, lock: str, **arguments: str) -> None:
        self._open()
        with contextlib.suppress(AlreadyEnqueued):
            self._app.configure_task(task, queueing_lock=lock, lock=lock, allow_unknown=True).defer(
                **arguments
            )

    def plan(self, shift_id: UUID, why: str = "") -> None:
        """A plan for a shift as it stands when the job is taken up; one that still waits is not doubled."""
        self._defer(PLAN, f"{LOCKS[WorkKind.PLAN]}-{shift_id}", shift_id=str(shift_id), why=why)

    def analyse(self, trial_id: UUID) -> None:
        """The verdicts of a trial as it stands when the job is taken up."""
        self._defer(ANALYSE, f"{LOCKS[WorkKind.VERDICT]}-{trial_id}", trial_id=str(trial_id))

    def render(self, publication_id: UUID) -> None:
        """The PDF of a publication."""
        self._defer(RENDER, f"{LOCKS[WorkKind.PDF]}-{publication_id}", publication_id=str(publication_id))

    def tell(self, trial_id: UUID) -> None:
        """What may be told of a trial, worked out and kept; nobody waits for it."""
        self._defer(TELL, f"tell-{trial_id}", trial_id=str(trial_id))

    def take_back(self, kind: WorkKind, subject: UUID) -> bool:
        """Take back a job that still waits for its turn; False where none waited."""
        if kind not in LOCKS:
            return False
        self._open()
        manager = self._app.job_manager
        waiting = manager.list_jobs(lock=f"{LOCKS[kind]}-{subject}", status="todo")
        taken = [manager.cancel_job_by_id(job.id, delete_job=True) for job in waiting if job.id]
        return any(taken)

"""The queue of slow work, in PostgreSQL. A newer request replaces one that still waits."""

import contextlib
from uuid import UUID

import procrastinate
from procrastinate.exceptions import AlreadyEnqueued

PLAN, ANALYSE, RENDER, JOIN, FORESEE = "make_plan", "analyse_trial", "render_pdf", "join_chunks", "look_ahead"


class Jobs:
    """Asks the worker for slow work, by name; the worker's code is not loaded here."""

    def __init__(self, url: str) -> None:
        self._app = procrastinate.App(
            connector=procrastinate.SyncPsycopgConnector(
                conninfo=url, min_size=0, max_size=2, kwargs={"connect_timeout": 5}
            )
        )

    def _defer(self, task: str, lock: str, **arguments: str) -> None:
        if not getattr(self, "_opened", False):
            self._app.open()
            self._opened = True
        with contextlib.suppress(AlreadyEnqueued):
            self._app.configure_task(task, queueing_lock=lock, lock=lock, allow_unknown=True).defer(
                **arguments
            )

    def plan(self, shift_id: UUID, why: str = "") -> None:
        """A plan for a shift as it stands when the job is taken up; one that still waits is not doubled."""
        self._defer(PLAN, f"plan-{shift_id}", shift_id=str(shift_id), why=why)

    def analyse(self, trial_id: UUID) -> None:
        """The verdicts of a trial as it stands when the job is taken up."""
        self._defer(ANALYSE, f"analyse-{trial_id}", trial_id=str(trial_id))

    def render(self, publication_id: UUID) -> None:
        """The PDF of a publication."""
        self._defer(RENDER, f"render-{publication_id}", publication_id=str(publication_id))

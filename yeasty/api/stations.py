"""The six stations of a trial, each with its state in a word or two."""

from datetime import UTC, datetime

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath, design_of
from yeasty.api.blueprint import blueprint
from yeasty.api.live import told_of
from yeasty.api.request import answer, db, require
from yeasty.api.shown import shown
from yeasty.api.streams import streamed
from yeasty.core.ask.kinds import check_design
from yeasty.operations.decide import decisions
from yeasty.operations.setup.fairness import open_differences
from yeasty.store.cook import queries as bench
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.publish import queries as publications
from yeasty.store.taste import queries as tastings

stations = blueprint("stations", "stations")


class StationsView(BaseModel):
    """A word or two for each station, and the shift that Cook opens on."""

    title: str
    question: str
    ask: str
    setup: str
    cook: str
    taste: str
    decide: str
    publish: str
    shift_id: str | None
    simulated: bool = Field(description="whether it is a practice trial, all of it made up")


@stations.get("/trials/<uuid:trial_id>/stations", responses={200: StationsView})
@require(Role.COOK)
def get_stations(path: TrialPath) -> Response:
    """How far a trial is."""
    trial = open_trial(path.trial_id)
    missing = len(check_design(design_of(trial)))
    doubts = len(open_differences(db(), trial)) if len(trial.methods) > 1 else 0
    shifts = bench.shifts_of(db(), trial.id)
    open_ones = [s for s in shifts if s.ended_at is None]
    current = next(
        iter(sorted(open_ones, key=lambda s: abs((s.serve_from - datetime.now(UTC)).total_seconds()))), None
    )
    sittings = tastings.tastings_of(db(), trial.id)
    opened = [t for t in sittings if t.opened_at and not t.from_elsewhere]
    outcome = decisions.outcome_of(db(), trial.id)
    sure = outcome.answer.how_sure.value if outcome and (opened or trial.deciding.claim) else "not yet"
    versions = publications.versions_of(db(), trial.id)
    out = "not yet"
    if versions:
        out = "withdrawn" if versions[0].withdrawn_at else f"version {versions[0].version}"
    return answer(
        shown(
            StationsView,
            trial,
            ask=f"{missing} missing" if missing else f"{len(trial.methods)} methods",
            setup="not yet"
            if len(trial.methods) < 2
            else "fair"
            if not doubts
            else f"{doubts} doubt{'' if doubts == 1 else 's'}",
            cook="running" if open_ones else "done" if shifts else "not yet",
            taste="not yet" if not sittings else "opened" if len(opened) == len(sittings) else "codes closed",
            decide=sure if len(sure) < 14 else "level" if "apart" in sure else "open",
            publish=out,
            shift_id=str(current.id) if current else str(shifts[0].id) if shifts else None,
        )
    )


@stations.get("/trials/<uuid:trial_id>/stream", responses={200: None})
@require(Role.COOK)
def get_trial_stream(path: TrialPath) -> Response:
    """Server-sent events that say when something of a trial's tastings has changed."""
    trial = open_trial(path.trial_id)
    return streamed(lambda hub, sessions, still_in, who: told_of(hub, sessions, str(trial.id), still_in, who))

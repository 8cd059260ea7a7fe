"""The six stations of a trial, each with its state in a word or two."""

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.live import told_of
from yeasty.api.request import answer, db, require
from yeasty.api.shown import shown
from yeasty.api.streams import streamed
from yeasty.operations.kitchen.stations import StationWords, station_words
from yeasty.store.kitchen.people_tables import Role

stations = blueprint("stations", "stations")


class StationsView(BaseModel):
    """How far a trial is, and the shift that Cook opens on."""

    title: str
    question: str
    words: StationWords
    shift_id: str | None
    simulated: bool = Field(description="whether it is a practice trial, all of it made up")


@stations.get("/trials/<uuid:trial_id>/stations", responses={200: StationsView})
@require(Role.COOK)
def get_stations(path: TrialPath) -> Response:
    """How far a trial is."""
    trial = open_trial(path.trial_id)
    words, shift = station_words(db(), trial)
    return answer(shown(StationsView, trial, words=words, shift_id=str(shift.id) if shift else None))


@stations.get("/trials/<uuid:trial_id>/stream", responses={200: None})
@require(Role.COOK)
def get_trial_stream(path: TrialPath) -> Response:
    """Server-sent events that say when something of a trial's tastings has changed."""
    trial = open_trial(path.trial_id)
    return streamed(lambda hub, sessions, still_in, who: told_of(hub, sessions, str(trial.id), still_in, who))

"""Kitchen: a practice trial, which leads whoever is new through all six stations."""

from enum import StrEnum

from flask import Response, current_app
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import TrialPath, TrialView
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import ask_for_plan
from yeasty.api.problems import not_found
from yeasty.api.request import after_commit, answer, db, me, require
from yeasty.api.taste.sitting import changed
from yeasty.operations.kitchen import practice as deeds
from yeasty.operations.kitchen.practice import PracticeStage
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Role

practice = blueprint("practice", "kitchen")


class PracticeAct(StrEnum):
    """What is done by stand-ins, or in somebody's stead."""

    COOK = "cook"
    TASTE = "taste"
    OPEN = "open"


class ActIn(BaseModel):
    """What is to be done next."""

    act: PracticeAct


class PracticeView(BaseModel):
    """All stations, and the place of the first at which something is left to do; the last has no end."""

    stages: list[PracticeStage]
    at: int = Field(ge=0)
    shift_id: str | None


def _view(trial: Trial) -> Response:
    stages = deeds.stages(db(), trial, opens=me().role == Role.LEAD)
    shift = deeds.shift_of(db(), trial)
    at = next((n for n, s in enumerate(stages) if not s.done), len(stages) - 1)
    return answer(PracticeView(stages=stages, at=at, shift_id=str(shift.id) if shift else None))


def _practice(path: TrialPath) -> Trial:
    trial = open_trial(path.trial_id)
    if not trial.simulated:
        raise not_found("practice")
    return trial


@practice.post("/practice", responses={201: TrialView})
@require(Role.COOK)
def begin_practice() -> Response:
    """A practice trial: a made-up question with two ways, and one thing that differs unasked."""
    return whole(open_trial(deeds.begin_practice(db()).id), 201)


@practice.get("/trials/<uuid:trial_id>/practice", responses={200: PracticeView})
@require(Role.COOK)
def get_practice(path: TrialPath) -> Response:
    """What there is to do at each station of a practice trial, and how far it is."""
    return _view(_practice(path))


@practice.post("/trials/<uuid:trial_id>/practice", responses={200: PracticeView})
@require(Role.COOK)
def act(path: TrialPath, body: ActIn) -> Response:
    """Have stand-ins cook or taste, or the codes opened, in a practice trial."""
    trial = _practice(path)
    if body.act is PracticeAct.COOK:
        ask_for_plan(deeds.cook(db(), trial, me().id).id)
    elif body.act is PracticeAct.TASTE:
        changed(deeds.taste(db(), trial))
    else:
        changed(deeds.open_codes(db(), trial, by=me().person_id))
        jobs, trial_id = current_app.extensions["yeasty_jobs"], trial.id
        after_commit(lambda: jobs.analyse(trial_id))
    return _view(trial)

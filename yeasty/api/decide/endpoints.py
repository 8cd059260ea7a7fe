"""Decide: the analysis the worker made, fresh or being made."""

from datetime import datetime

from flask import Response, current_app
from pydantic import BaseModel

from yeasty.api.ask.endpoints import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.request import answer, db, require
from yeasty.api.shown import shown
from yeasty.core.decide.outcome import Outcome, School
from yeasty.core.decide.schools import SCHOOLS
from yeasty.operations.decide import decisions
from yeasty.store.kitchen.people_tables import Role

decide = blueprint("decide", "decide")


class DecisionView(BaseModel):
    """`state` is fresh, or working while the worker makes a new one; `outcome` may then be the older one."""

    state: str
    made_at: datetime | None
    outcome: Outcome | None


@decide.get("/trials/<uuid:trial_id>/decision", responses={200: DecisionView})
@require(Role.COOK)
def get_decision(path: TrialPath) -> Response:
    """The verdicts; asks the worker for new ones where records have changed since."""
    trial = open_trial(path.trial_id)
    said = decisions.decision_of(db(), trial.id)
    if not said.fresh:
        current_app.extensions["yeasty_jobs"].analyse(trial.id)
    return answer(shown(DecisionView, said, state="fresh" if said.fresh else "working"))


class SchoolView(BaseModel):
    """A school of judging, as it is chosen."""

    key: School
    name: str
    axis: str


class SchoolList(BaseModel):
    """All schools."""

    items: list[SchoolView]


@decide.get("/schools", responses={200: SchoolList})
@require(Role.COOK)
def list_schools() -> Response:
    """Schools of judging, in the order in which they are offered."""
    return answer(
        SchoolList(items=[SchoolView.model_validate(s, from_attributes=True) for s in SCHOOLS.values()])
    )

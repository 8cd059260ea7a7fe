"""Decide: the analysis the worker made, fresh or being made."""

from dataclasses import replace
from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import TrialPath, TrialView
from yeasty.api.blueprint import blueprint
from yeasty.api.kitchen.slow_work import verdict_wanted
from yeasty.api.problems import ApiError
from yeasty.api.request import answer, db, done, require
from yeasty.api.shown import shown
from yeasty.core.ask.deciding import LOOKS, USUAL_TIES, Deciding, Limit, School
from yeasty.core.cook.payloads import FACES
from yeasty.core.decide.measured import FIXED, NAMED, Measure, measure_of
from yeasty.core.decide.outcome import Outcome
from yeasty.core.decide.schools import SCHOOLS
from yeasty.operations.decide import decisions
from yeasty.operations.decide.rescued import say_word
from yeasty.operations.decide.rules import Fits, set_deciding, tonight
from yeasty.store.kitchen.people_tables import Role

decide = blueprint("decide", "decide")


class DecisionView(BaseModel):
    """`state` is fresh, working while the worker makes a new one, or stopped where somebody did not want it
    made of the records as they are; `outcome` may then be the older one.
    """

    state: Literal["fresh", "working", "stopped"]
    made_at: datetime | None
    outcome: Outcome | None


@decide.get("/trials/<uuid:trial_id>/decision", responses={200: DecisionView})
@require(Role.COOK)
def get_decision(path: TrialPath) -> Response:
    """The verdicts; asks the worker for new ones where records have changed since."""
    return _decision(open_trial(path.trial_id).id)


@decide.post("/trials/<uuid:trial_id>/decision/looked-at", responses={204: None})
@require(Role.COOK)
def look_at_decision(path: TrialPath) -> Response:
    """Somebody of the kitchen has the verdict, as it is now, before them."""
    decisions.looked_at(db(), open_trial(path.trial_id).id)
    return done()


def _decision(trial_id: UUID) -> Response:
    said = decisions.decision_of(db(), trial_id)
    stopped = not said.fresh and not verdict_wanted(trial_id)
    # What may be claimed is long, and asked for by itself.
    outcome = replace(said.outcome, claims=(), claimable=()) if said.outcome else None
    state = "fresh" if said.fresh else "stopped" if stopped else "working"
    return answer(shown(DecisionView, said, outcome=outcome, state=state))


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


class MeasureView(BaseModel):
    """Something the log tells; `unit` is what it is typed in, `per` how much of the measure’s own that is;
    `only_claimed`: it can be a claim, but neither a limit nor what breaks a tie.
    """

    key: str
    name: str
    unit: str
    per: float
    less_is_better: bool | None
    only_claimed: bool


class MeasureList(BaseModel):
    """All measures that every log may tell."""

    items: list[MeasureView]


@decide.get("/measures", responses={200: MeasureList})
@require(Role.COOK)
def list_measures() -> Response:
    """Measures that limits, ties and a claim are made of."""
    judged = [_measure(m, only_claimed=False) for m in FIXED.values()]
    claimed = [_measure(m, only_claimed=True) for key in NAMED if (m := measure_of(key))]
    return answer(MeasureList(items=[*judged, *claimed, *map(_look, FACES)]))


def _look(face: str) -> MeasureView:
    return MeasureView(
        key=LOOKS + face,
        name=f"how the {face} looked, in words",
        unit="",
        per=1,
        less_is_better=None,
        only_claimed=True,
    )


def _measure(m: Measure, *, only_claimed: bool) -> MeasureView:
    return shown(MeasureView, m, unit=m.unit.name, per=m.unit.per, only_claimed=only_claimed)


class LimitIn(BaseModel):
    """What a way must keep to, in the measure's own unit."""

    measure: str = Field(max_length=60)
    at_most: float | None = Field(default=None, ge=0, le=1e12)
    at_least: float | None = Field(default=None, ge=0, le=1e12)

    def core(self) -> Limit:
        """As the core has it."""
        return Limit(self.measure, self.at_most, self.at_least)


class DecidingIn(BaseModel):
    """How a trial is to be decided."""

    school: School = School.WEIGHTED
    ties: list[Annotated[str, Field(max_length=60)]] = Field(default=list(USUAL_TIES), max_length=12)
    limits: list[LimitIn] = Field(default=[], max_length=12)
    claim: str = Field(default="", max_length=60)
    effort: str = Field(default="total_s", max_length=60)


@decide.put("/trials/<uuid:trial_id>/deciding", responses={200: TrialView})
@require(Role.COOK)
def change_deciding(path: TrialPath, body: DecidingIn) -> Response:
    """Say how the trial is decided: school, limits, what breaks a tie, one claim."""
    trial = open_trial(path.trial_id, edit=True)
    limits = tuple(x.core() for x in body.limits)
    set_deciding(trial, Deciding(body.school, tuple(body.ties), limits, body.claim, body.effort))
    return whole(trial)


class TonightIn(BaseModel):
    """What there is tonight."""

    limits: list[LimitIn] = Field(max_length=12)


class TonightView(BaseModel):
    """Every way, and whether it fits."""

    items: list[Fits]


@decide.post("/trials/<uuid:trial_id>/tonight", responses={200: TonightView})
@require(Role.COOK)
def choose_tonight(path: TrialPath, body: TonightIn) -> Response:
    """Which ways fit what there is tonight, by what was measured."""
    trial = open_trial(path.trial_id)
    said = decisions.decision_of(db(), trial.id)
    if said.outcome is None:
        raise ApiError(409, "Not worked out yet", "Wait until the verdict stands, then choose.")
    return answer(TonightView(items=tonight(trial, said.outcome, [x.core() for x in body.limits])))


class RescuePath(TrialPath):
    """Which rescue of which trial, by its batch."""

    batch_id: UUID


class RescueWordIn(BaseModel):
    """The word of a rescue, from the ladder of the screening; empty takes it away."""

    word: str = Field(max_length=60)
    note: str = Field(default="", max_length=300)


@decide.put("/trials/<uuid:trial_id>/rescues/<uuid:batch_id>/word", responses={200: DecisionView})
@require(Role.COOK)
def word_a_rescue(path: RescuePath, body: RescueWordIn) -> Response:
    """Give a rescue a word of its own."""
    trial = open_trial(path.trial_id, lock=True)
    say_word(db(), trial, path.batch_id, body.word, body.note)
    return _decision(trial.id)

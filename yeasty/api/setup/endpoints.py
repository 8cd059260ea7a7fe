"""Set up: lots and amounts, controls, the whole job, readiness, whether it is worth it, what a substitution
does.
"""

from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import TrialPath, TrialView
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.request import Blank, Mass, answer, db, each, require
from yeasty.api.shown import shown
from yeasty.core.kernel.filled import filled
from yeasty.core.setup.job import Job
from yeasty.operations.ask import lots
from yeasty.operations.cook import by_eye
from yeasty.operations.setup.jobs import jobs_of
from yeasty.operations.setup.lots_in_place import effects_of, takers, worth_of
from yeasty.operations.setup.readiness import checklists
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Role

setup = blueprint("setup", "set up")


class LotIn(BaseModel):
    """What a lot is: where from, how good, how old, what is in it (shares of its weight)."""

    lot: str = Field(default="", max_length=200)
    source: str = Field(default="", max_length=200)
    grade: str = Field(default="", max_length=100)
    age_days: Annotated[float | None, Blank] = Field(default=None, ge=0, le=3650)
    price_per_kg: Annotated[Decimal | None, Blank] = Field(default=None, ge=0, le=100000)
    pack_kg: Annotated[Mass | None, Blank] = None
    composition: dict[str, float] = {}
    allergens: list[str] = []


class IngredientIn(LotIn):
    """An ingredient with its amount per batch of each method."""

    id: UUID | None = None
    name: str = Field(min_length=1, max_length=100)
    amounts: dict[UUID, Annotated[Mass | None, Blank]] = {}
    allergens_checked: bool = False


class IngredientsIn(BaseModel):
    """All ingredients."""

    items: list[IngredientIn] = Field(max_length=100)


class ControlIn(BaseModel):
    """Something held equal, and how."""

    what: str = Field(min_length=1, max_length=200)
    held_at: str = Field(default="", max_length=200)


class ControlsIn(BaseModel):
    """All controls."""

    items: list[ControlIn] = Field(max_length=50)


class UsedView(BaseModel):
    """What a way took of something by eye, in the mean of its judged batches, and what is written for it."""

    method_id: str
    item: str
    kg: float
    batches: int
    written_kg: float | None


class UsedList(BaseModel):
    """All that was weighed before and after it was used by eye."""

    items: list[UsedView]


class StretchView(BaseModel):
    """A stretch of a job, from the job's own start [s]."""

    what: str
    kind: str
    start_s: float
    length_s: float
    days_before: int
    appliance: str


class JobView(BaseModel):
    """A method's whole job [s]."""

    method_id: str
    rounds: int
    stretches: list[StretchView]
    ahead_s: float
    ahead_hands_s: float
    hands_s: float
    watched_s: float
    heat_s: float
    waiting_s: float
    wash_up_s: float
    total_s: float
    called: int


class JobList(BaseModel):
    """The jobs of all methods on one scale."""

    sentence: str
    longest_s: float
    items: list[JobView]


class ItemView(BaseModel):
    """One thing to tick before the start."""

    key: str
    text: str
    why: str


class ChecklistView(BaseModel):
    """What is ticked or waived before a method starts."""

    method_id: str
    items: list[ItemView]


class ReadinessView(BaseModel):
    """Checklists of all methods."""

    items: list[ChecklistView]


class BuyView(BaseModel):
    """An ingredient to buy."""

    name: str
    kg: float
    packs: int | None
    pack_kg: float | None
    cost: Decimal | None
    used_by: list[str]


class WorthView(BaseModel):
    """What a trial takes and leaves."""

    sentence: str
    buy: list[BuyView]
    cost: Decimal
    priced: bool
    food_kg: float
    servings: int | None
    left_servings: int | None


class IngredientPath(TrialPath):
    """Which ingredient of which trial."""

    ingredient_id: UUID


class SubstitutionIn(LotIn):
    """The lot that was bought in place of the planned one; `take` puts it in."""

    name: str = Field(min_length=1, max_length=100)
    method_ids: list[UUID] | None = None
    take: bool = False


class EffectView(BaseModel):
    """A consequence, and how hard it bears: note, check, redo."""

    text: str
    weight: str


class SubstitutionView(BaseModel):
    """What a substituted lot does to the design."""

    effects: list[EffectView]
    taken: bool


@setup.put("/trials/<uuid:trial_id>/ingredients", responses={200: TrialView})
@require(Role.COOK)
def set_ingredients(path: TrialPath, body: IngredientsIn) -> Response:
    """Replace ingredients, allergens and amounts."""
    trial = open_trial(path.trial_id, edit=True)
    lots.set_ingredients(db(), trial, [filled(lots.Lot, i) for i in body.items])
    return whole(trial)


@setup.get("/trials/<uuid:trial_id>/used-by-eye", responses={200: UsedList})
@require(Role.COOK)
def used_by_eye(path: TrialPath) -> Response:
    """What was poured or strewn by eye, as it was weighed before and after."""
    rows = by_eye.used(db(), open_trial(path.trial_id))
    return answer(UsedList(items=[shown(UsedView, u, method_id=str(u.method_id)) for u in rows]))


@setup.post("/trials/<uuid:trial_id>/used-by-eye/carried", responses={200: TrialView})
@require(Role.COOK)
def carry_by_eye(path: TrialPath) -> Response:
    """Write what was used by eye as the amounts of the next run."""
    trial = open_trial(path.trial_id, edit=True)
    by_eye.carry(db(), trial)
    return whole(trial)


@setup.put("/trials/<uuid:trial_id>/controls", responses={200: TrialView})
@require(Role.COOK)
def set_controls(path: TrialPath, body: ControlsIn) -> Response:
    """Replace what is held equal."""
    trial = open_trial(path.trial_id, edit=True)
    lots.set_controls(trial, [(c.what, c.held_at) for c in body.items])
    return whole(trial)


@setup.get("/trials/<uuid:trial_id>/jobs", responses={200: JobList})
@require(Role.COOK)
def get_jobs(path: TrialPath) -> Response:
    """The whole job of each method, before anything is hot."""
    found = jobs_of(db(), open_trial(path.trial_id))
    items = [_job(str(m.id), j, rounds, found.appliances) for m, j, rounds in found.items]
    return answer(shown(JobList, found, items=items))


def _job(method: str, j: Job, rounds: int, appliances: Mapping[str, str]) -> JobView:
    stretches = [shown(StretchView, s, appliance=appliances.get(s.appliance or "", "")) for s in j.stretches]
    return shown(JobView, j, method_id=method, rounds=rounds, stretches=stretches)


@setup.get("/trials/<uuid:trial_id>/readiness", responses={200: ReadinessView})
@require(Role.COOK)
def get_readiness(path: TrialPath) -> Response:
    """What must be ticked or waived at the bench before each method starts."""
    trial = open_trial(path.trial_id)
    lists = {
        str(m): each(items, lambda i: shown(ItemView, i)) for m, items in checklists(db(), trial).items()
    }
    return answer(
        ReadinessView(items=[ChecklistView(method_id=m, items=items) for m, items in lists.items()])
    )


@setup.get("/trials/<uuid:trial_id>/worth", responses={200: WorthView})
@require(Role.COOK)
def get_worth(path: TrialPath) -> Response:
    """Shopping list for all methods together, servings made, what is left over."""
    trial = open_trial(path.trial_id)
    found = worth_of(trial)
    packs = {i.name: i.pack_kg for i in trial.ingredients}
    buy = [shown(BuyView, b, pack_kg=packs.get(b.name), used_by=list(b.used_by)) for b in found.buy]
    return answer(shown(WorthView, found, sentence=found.sentence(trial.leftover_use), buy=buy))


@setup.post(
    "/trials/<uuid:trial_id>/ingredients/<uuid:ingredient_id>/substitutions",
    responses={200: SubstitutionView},
)
@require(Role.COOK)
def substitute(path: IngredientPath, body: SubstitutionIn) -> Response:
    """Work out what another lot does to the design; put it in where `take` says so. The planned lot stays on
    record.
    """
    trial: Trial = open_trial(path.trial_id, edit=body.take)
    row = next((i for i in trial.ingredients if i.id == path.ingredient_id), None)
    if row is None:
        raise not_found("ingredient")
    takes = takers(trial, body.method_ids)
    told = [shown(EffectView, e) for e in effects_of(trial, row, body, takes)]
    if body.take:
        lots.substitute(db(), trial, row, body, takes)
    return answer(SubstitutionView(effects=told, taken=body.take), 200, trial.version)

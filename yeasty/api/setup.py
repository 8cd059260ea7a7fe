"""Set up: ingredients, controls, fairness, appliances."""

from decimal import Decimal
from typing import Annotated
from uuid import UUID
from zoneinfo import available_timezones

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from yeasty.api.ask import open_trial, whole
from yeasty.api.problems import not_found
from yeasty.api.reckon import reckon
from yeasty.api.request import Blank, Mass, Power, answer, check_if_match, db, require, system
from yeasty.api.views import TrialPath, TrialView
from yeasty.core.errors import RuleError
from yeasty.core.setup.allergens import ALLERGENS
from yeasty.core.setup.appliances import check_appliance
from yeasty.core.setup.differences import differences, sentence
from yeasty.store import designs, kitchen, trials
from yeasty.store.base import now
from yeasty.store.kitchen import Appliance
from yeasty.store.people import Role
from yeasty.store.trials import AcceptedDifference, Trial

setup = APIBlueprint("setup", __name__, url_prefix="/api/v1", abp_tags=[Tag(name="set up")])


class IngredientIn(BaseModel):
    """An ingredient with its amount per batch of each method."""

    id: UUID | None = None
    name: str = Field(min_length=1, max_length=100)
    lot: str = Field(default="", max_length=200)
    source: str = Field(default="", max_length=200)
    price_per_kg: Annotated[Decimal | None, Blank] = Field(default=None, ge=0, le=100000)
    allergens: list[str] = []
    amounts: dict[UUID, Annotated[Mass | None, Blank]] = {}


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


class DifferenceView(BaseModel):
    """A field that differs, and how that stands."""

    field: str
    values: dict[str, str]
    varied: bool
    signature: str
    accepted: str | None


class OfferView(BaseModel):
    """A step worked out again for this kitchen; `source` says by which rule, from what, with how many own records."""

    method_id: str
    step_id: str
    what: str
    field: str
    written: float
    offered: float
    low: float
    high: float
    also: dict[str, float]
    rule: str
    source: str
    records: int


class OfferList(BaseModel):
    """Conversions offered to a trial's steps."""

    items: list[OfferView]


class FairnessView(BaseModel):
    """What differs, and what of it is open."""

    sentence: str
    open_count: int
    differences: list[DifferenceView]


class Acceptance(BaseModel):
    """A difference accepted in writing, as it stands now."""

    field: str
    signature: str
    reason: str = Field(min_length=3, max_length=500)


class ApplianceIn(BaseModel):
    """An appliance profile; the three powers are kept apart."""

    name: str = Field(min_length=1, max_length=100)
    kind: str = Field(min_length=1, max_length=50)
    input_w: Annotated[Power | None, Blank] = None
    rated_w: Annotated[Power | None, Blank] = None
    measured_w: Annotated[Power | None, Blank] = None
    offset_k: Annotated[float | None, Blank] = None
    capacity_pieces: Annotated[int | None, Blank] = None
    circuit: str = Field(default="", max_length=50)
    spot: str = Field(default="", max_length=50)
    notes: str = Field(default="", max_length=1000)


class ApplianceView(ApplianceIn):
    """An appliance with its identity and version."""

    id: str
    version: int


class ApplianceList(BaseModel):
    """All appliances, and the words that may be used."""

    items: list[ApplianceView]
    kinds: list[str]
    allergens: list[str]


class AppliancePath(BaseModel):
    """Which appliance."""

    appliance_id: UUID


KINDS = ["oven", "microwave", "pressure_cooker", "air_fryer", "deep_fryer", "steamer", "slow_cooker", "hob",
         "water_bath", "griddle"]  # fmt: skip


def _appliance(a: Appliance) -> ApplianceView:
    return ApplianceView(
        id=str(a.id), version=a.version, name=a.name, kind=a.kind, input_w=a.input_w, rated_w=a.rated_w,
        measured_w=a.measured_w, offset_k=a.offset_k, capacity_pieces=a.capacity_pieces, circuit=a.circuit,
        spot=a.spot, notes=a.notes,
    )  # fmt: skip


def _fill(row: Appliance, body: ApplianceIn) -> None:
    for name, value in body.model_dump().items():
        setattr(row, name, value)
    for wrong in check_appliance(row.profile()):
        raise wrong


@setup.get("/appliances", responses={200: ApplianceList})
@require(Role.COOK)
def list_appliances() -> Response:
    """The kitchen's appliances."""
    items = [_appliance(a) for a in kitchen.all_appliances(db())]
    return answer(ApplianceList(items=items, kinds=KINDS, allergens=list(ALLERGENS)))


@setup.post("/appliances", responses={201: ApplianceView})
@require(Role.COOK)
def add_appliance(body: ApplianceIn) -> Response:
    """A new appliance."""
    row = Appliance()
    _fill(row, body)
    db().add(row)
    db().flush()
    return answer(_appliance(row), 201, row.version)


@setup.put("/appliances/<uuid:appliance_id>", responses={200: ApplianceView})
@require(Role.COOK)
def change_appliance(path: AppliancePath, body: ApplianceIn) -> Response:
    """Change a profile."""
    row = db().get(Appliance, path.appliance_id)
    if row is None:
        raise not_found("appliance")
    check_if_match(row.version)
    _fill(row, body)
    db().flush()
    return answer(_appliance(row), 200, row.version)


class KitchenIn(BaseModel):
    """The kitchen's settings. `public_address` is what taster links carry; empty for as served."""

    name: str = Field(min_length=1, max_length=200)
    time_zone: str = Field(max_length=60)
    currency: str = Field(pattern="^[A-Z]{3}$")
    price_per_kwh: Annotated[Decimal | None, Blank] = Field(default=None, ge=0, le=1000)
    public_address: str = Field(default="", max_length=200, pattern="^(https?://[^/ ]+)?$")
    altitude_m: float = Field(default=0, ge=-400, le=6000)


@setup.get("/kitchen", responses={200: KitchenIn})
@require(Role.COOK)
def get_kitchen() -> Response:
    """The kitchen's settings."""
    k = kitchen.the_kitchen(db())
    return answer(KitchenIn(**{name: getattr(k, name) for name in KitchenIn.model_fields}))


@setup.put("/kitchen", responses={200: KitchenIn})
@require(Role.LEAD)
def change_kitchen(body: KitchenIn) -> Response:
    """Change name, time zone, currency, price of energy and public address."""
    if body.time_zone not in available_timezones():
        raise RuleError("time zone", f"{body.time_zone} is not known", "Write it as Europe/London or America/New_York.")
    k = kitchen.the_kitchen(db())
    for name, value in body.model_dump().items():
        setattr(k, name, value)
    return answer(body)


@setup.put("/trials/<uuid:trial_id>/ingredients", responses={200: TrialView})
@require(Role.COOK)
def set_ingredients(path: TrialPath, body: IngredientsIn) -> Response:
    """Replace ingredients, allergens and amounts."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_ingredients(db(), trial, [i.model_dump() for i in body.items])
    return whole(trial)


@setup.put("/trials/<uuid:trial_id>/controls", responses={200: TrialView})
@require(Role.COOK)
def set_controls(path: TrialPath, body: ControlsIn) -> Response:
    """Replace what is held equal."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_controls(trial, [(c.what, c.held_at) for c in body.items])
    return whole(trial)


@setup.get("/trials/<uuid:trial_id>/fairness", responses={200: FairnessView})
@require(Role.COOK)
def get_fairness(path: TrialPath) -> Response:
    """What differs between the methods, and what of it is neither meant nor accepted."""
    return answer(fairness_view(open_trial(path.trial_id)))


def fairness_view(trial: Trial) -> FairnessView:
    """Differences, how each stands, and the sentence."""
    used = trials.appliances_of(db(), trial)
    accepted = {(a.field, a.signature): a.reason for a in trial.accepted}
    found = differences(designs.method_facts(trial, used), trial.varied, system())
    views = [
        DifferenceView(
            field=d.field, values=dict(d.values), varied=d.varied, signature=d.signature,
            accepted=accepted.get((d.field, d.signature)),
        )
        for d in found
    ]  # fmt: skip
    still = [v.field for v in views if not v.varied and v.accepted is None]
    settled = sum(1 for v in views if v.accepted is not None and not v.varied)
    words = sentence(still, settled, sum(1 for v in views if v.varied))
    return FairnessView(sentence=words, open_count=len(still), differences=views)


@setup.get("/trials/<uuid:trial_id>/offers", responses={200: OfferList})
@require(Role.COOK)
def get_offers(path: TrialPath) -> Response:
    """Steps worked out again for this kitchen's appliances and altitude."""
    trial = open_trial(path.trial_id)
    what = {str(s.id): (str(m.id), s.what) for m in trial.methods for s in m.steps}
    found = reckon("step_offers", **designs.offer_question(db(), trial))
    items = [
        OfferView(
            method_id=what[o["step_key"]][0], step_id=o["step_key"], what=what[o["step_key"]][1], field=o["field"],
            written=o["written"], offered=o["offered"]["value"], low=o["offered"]["low"], high=o["offered"]["high"],
            also=o["also"], rule=o["rule"], source=o["source"], records=o["records"],
        )
        for o in found
    ]  # fmt: skip
    return answer(OfferList(items=items))


@setup.post("/trials/<uuid:trial_id>/accepted-differences", responses={200: TrialView})
@require(Role.COOK)
def accept_difference(path: TrialPath, body: Acceptance) -> Response:
    """Accept a difference in writing, for the values it has now."""
    trial = open_trial(path.trial_id, edit=True)
    trial.accepted[:] = [a for a in trial.accepted if a.field != body.field]
    db().flush()
    trial.accepted.append(
        AcceptedDifference(field=body.field, signature=body.signature, reason=body.reason.strip(), accepted_at=now())
    )
    designs.touch(trial)
    return whole(trial)

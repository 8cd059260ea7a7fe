"""The kitchen: its settings, its appliances and what they did before."""

from decimal import Decimal
from typing import Annotated
from uuid import UUID
from zoneinfo import available_timezones

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.request import Blank, Length, Power, Temperature, answer, check_if_match, db, each, require
from yeasty.api.shown import shown
from yeasty.core.ask.techniques import APPLIANCE_KINDS
from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.allergens import ALLERGENS
from yeasty.core.setup.appliances import check_appliance
from yeasty.operations.cook.appliance_past import Past, past_of
from yeasty.store.kitchen import queries as kitchen
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.tables import Appliance, Kitchen

kitchen_views = blueprint("kitchen", "kitchen")


class DialWordIn(BaseModel):
    """A word on the dial, what it gives, and whether anyone measured it."""

    word: str = Field(min_length=1, max_length=30)
    celsius: Annotated[Temperature | None, Blank] = None
    measured: bool = False


class CapacityIn(BaseModel):
    """How many pieces of a size fit."""

    piece_m: Length
    pieces: int = Field(ge=1, le=1000)


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
    dial: list[DialWordIn] = Field(default=[], max_length=40)
    capacities: list[CapacityIn] = Field(default=[], max_length=20)


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


def _appliance(a: Appliance) -> ApplianceView:
    return shown(
        ApplianceView,
        a,
        id=str(a.id),
        dial=[DialWordIn(**d) for d in a.dial],
        capacities=[CapacityIn(**c) for c in a.capacities],
    )


def _fill(row: Appliance, body: ApplianceIn) -> None:
    for name, value in body.model_dump().items():
        setattr(row, name, value)
    for wrong in check_appliance(row.profile()):
        raise wrong


@kitchen_views.get("/appliances", responses={200: ApplianceList})
@require(Role.COOK)
def list_appliances() -> Response:
    """The kitchen's appliances."""
    items = each(kitchen.all_appliances(db()), _appliance)
    return answer(ApplianceList(items=items, kinds=list(APPLIANCE_KINDS), allergens=list(ALLERGENS)))


@kitchen_views.post("/appliances", responses={201: ApplianceView})
@require(Role.COOK)
def add_appliance(body: ApplianceIn) -> Response:
    """A new appliance."""
    row = Appliance()
    _fill(row, body)
    db().add(row)
    db().flush()
    return answer(_appliance(row), 201, row.version)


@kitchen_views.put("/appliances/<uuid:appliance_id>", responses={200: ApplianceView})
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


@kitchen_views.get("/kitchen", responses={200: KitchenIn})
@require(Role.COOK)
def get_kitchen() -> Response:
    """The kitchen's settings."""
    k = kitchen.the_kitchen(db())
    return answer(_settings(k), 200, k.version)


def _settings(k: Kitchen) -> KitchenIn:
    return KitchenIn(**{name: getattr(k, name) for name in KitchenIn.model_fields})


@kitchen_views.put("/kitchen", responses={200: KitchenIn})
@require(Role.LEAD)
def change_kitchen(body: KitchenIn) -> Response:
    """Change name, time zone, currency, price of energy and public address."""
    if body.time_zone not in available_timezones():
        raise RuleError(
            "time zone", f"{body.time_zone} is not known", "Write it as Europe/London or America/New_York."
        )
    k = kitchen.locked_kitchen(db())
    check_if_match(k.version)
    for name, value in body.model_dump().items():
        setattr(k, name, value)
    k.version += 1
    db().flush()
    return answer(_settings(k), 200, k.version)


class PastList(BaseModel):
    """Earlier cookings on an appliance, the last first."""

    items: list[Past]


@kitchen_views.get("/appliances/<uuid:appliance_id>/past", responses={200: PastList})
@require(Role.COOK)
def appliance_past(path: AppliancePath) -> Response:
    """What an appliance did in earlier trials."""
    if db().get(Appliance, path.appliance_id) is None:
        raise not_found("appliance")
    return answer(PastList(items=past_of(db(), path.appliance_id)))

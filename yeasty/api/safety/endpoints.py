"""Safety: figures with their status, the kitchen's own, circuits, and what the lead owns in writing."""

from typing import Any
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field
from sqlalchemy import delete, select

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.request import Duration, Temperature, answer, check_if_match, db, done, me, require
from yeasty.api.shown import shown
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.waits import check_own_waits, wait_rules
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.safety import circuits as core_circuits
from yeasty.core.safety.cautions import DEFER, cautions, limits
from yeasty.core.safety.clock import strictest_zone
from yeasty.core.safety.core_minimum import (
    Changed,
    check_authority,
    check_change,
    food_classes,
    names_of_profiles,
)
from yeasty.store.base import now, row_of
from yeasty.store.cook import queries as bench
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen import people
from yeasty.store.kitchen import queries as kitchen
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.tables import Circuit
from yeasty.store.safety import queries as store
from yeasty.store.safety.tables import LimitChange, LimitCheck, Ownership

safety = blueprint("safety", "safety")


class FigureView(BaseModel):
    """A figure of the table with its status; `own` and `own_reason` where the kitchen has its own."""

    id: str
    applies_to: str
    kind: str
    figure: str
    authority: str
    status: str
    core_minimum: bool
    own: str
    own_reason: str
    laxer: bool


class FoodClassView(BaseModel):
    """A kind of food."""

    key: str
    name: str
    note: str
    perishable: bool


class HazardView(BaseModel):
    """A hazard that can be put on a method."""

    key: str
    severity: str
    text: str
    source: str
    publishing: str


class ProfileView(BaseModel):
    """A profile that can be chosen."""

    key: str
    name: str


class WaitView(BaseModel):
    """How long a kind of food may stand, as shipped and as this kitchen has it [s]; nothing where there is no
    limit.
    """

    food: str
    name: str
    half_cooked_s: float
    out_of_cold_s: float | None
    own_half_cooked_s: float | None
    own_out_of_cold_s: float | None
    status: str
    source: str


class OwnWait(BaseModel):
    """A kitchen's own, stricter figures for a kind of food."""

    half_cooked_s: Duration | None = None
    out_of_cold_s: Duration | None = None


class SafetyView(BaseModel):
    """Figures, kinds of food, hazards, profiles, and what the kitchen has chosen."""

    figures: list[FigureView]
    foods: list[FoodClassView]
    hazards: list[HazardView]
    profiles: list[ProfileView]
    profile: str
    zone_use_s: float | None
    zone: str
    waits: list[WaitView]
    defer: str


class ProfileIn(BaseModel):
    """Which authority's figures count, and a shorter time between cold and hot."""

    profile: str
    zone_use_s: Duration | None = None
    waits: dict[str, OwnWait] | None = Field(
        default=None, max_length=40, description="kind of food to stricter figures; left out, they stay"
    )


class OwnFigure(BaseModel):
    """A kitchen's own core minimum, as typed, with the reason that is kept with it."""

    temperature_c: Temperature
    hold_s: Duration = 0
    reason: str = Field(max_length=500)


class LimitPath(BaseModel):
    """Which figure."""

    limit_id: str = Field(max_length=40)


class CheckIn(BaseModel):
    """Edition and page of the printed source that a figure was compared with."""

    edition: str = Field(min_length=4, max_length=200)
    page: str = Field(default="", max_length=50)


class CircuitIn(BaseModel):
    """A circuit."""

    name: str = Field(min_length=1, max_length=50)
    breaker_a: float = Field(ge=1, le=125)
    voltage_v: float = Field(ge=90, le=440)
    base_w: float = Field(default=0, ge=0, le=50000)


class CircuitsIn(BaseModel):
    """All circuits."""

    items: list[CircuitIn] = Field(max_length=50)


class CircuitList(CircuitsIn):
    """All circuits, with the advice that belongs to them."""

    codes_first: str


class BatchPath(BaseModel):
    """Which batch."""

    batch_id: UUID


class Owning(BaseModel):
    """Why the lead lets a batch through to tasting."""

    why: str = Field(min_length=20, max_length=500)


def _figure(row_id: str) -> str:
    r = limits()[row_id]
    parts = []
    if r.temperature_c:
        parts.append(f"{r.temperature_c} °C")
    if r.hold_s and float(r.hold_s):
        parts.append(f"{float(r.hold_s):g} s")
    if r.value:
        parts.append(f"{r.value} {r.unit}".strip())
    return ", ".join(parts) or r.authority


def _view() -> SafetyView:
    k = kitchen.the_kitchen(db())
    checked = store.checks(db())
    own = {c.limit_id: c for c in store.own_figures(db())}
    zone = strictest_zone(k.zone_use_s)
    return SafetyView(
        figures=[
            shown(
                FigureView,
                r,
                figure=_figure(r.id),
                status=store.status_of(r, checked),
                core_minimum=r.kind == "core_minimum",
                own=f"{own[r.id].temperature_c:g} °C, {own[r.id].hold_s:g} s" if r.id in own else "",
                own_reason=own[r.id].reason if r.id in own else "",
                laxer=r.id in own and own[r.id].laxer(),
            )
            for r in limits().values()
        ],
        foods=[shown(FoodClassView, f) for f in food_classes().values()],
        hazards=[shown(HazardView, c) for c in cautions().values()],
        profiles=[ProfileView(key=a, name=n) for a, n in names_of_profiles().items()],
        profile=k.safety_profile,
        zone_use_s=k.zone_use_s,
        zone=f"between {zone.cold_c:g} and {zone.hot_c:g} °C no longer than {(zone.use_s or 0) / 60:g} min "
        f"in all",
        waits=[
            shown(
                WaitView,
                r,
                name=food_classes()[r.food].name,
                own_half_cooked_s=k.waits.get(r.food, {}).get("half_cooked_s"),
                own_out_of_cold_s=k.waits.get(r.food, {}).get("out_of_cold_s"),
            )
            for r in wait_rules().values()
        ],
        defer=DEFER,
    )


@safety.get("/safety", responses={200: SafetyView})
@require(Role.COOK)
def get_safety() -> Response:
    """Every figure with its status, and what this kitchen goes by."""
    return answer(_view(), 200, kitchen.the_kitchen(db()).version)


@safety.put("/safety", responses={200: SafetyView})
@require(Role.LEAD)
def choose_profile(body: ProfileIn) -> Response:
    """Choose whose figures count. One authority alone may ask for less than the strictest of all."""
    check_authority(body.profile)
    strictest_zone(body.zone_use_s)
    k = kitchen.locked_kitchen(db())
    check_if_match(k.version)
    k.safety_profile, k.zone_use_s = body.profile, body.zone_use_s
    if body.waits is not None:
        own = {food: w.model_dump(exclude_none=True) for food, w in body.waits.items()}
        check_own_waits(own)
        k.waits = {food: w for food, w in own.items() if w}
    k.version += 1
    db().flush()
    return answer(_view(), 200, k.version)


@safety.post("/safety/figures/<limit_id>/own", responses={200: SafetyView})
@require(Role.LEAD)
def set_own_figure(path: LimitPath, body: OwnFigure) -> Response:
    """Set the kitchen's own core minimum. A laxer one keeps what is cooked by it from being published."""
    change = check_change(Changed(path.limit_id, body.temperature_c, body.hold_s, body.reason))
    _withdraw(path.limit_id)
    db().add(
        row_of(
            LimitChange,
            change,
            reason=change.reason.strip(),
            set_at=now(),
            set_by=me().person_id,
        )
    )
    db().flush()
    return answer(_view())


def _withdraw(limit_id: str) -> None:
    rows = db().scalars(
        select(LimitChange).where(LimitChange.limit_id == limit_id, LimitChange.withdrawn_at.is_(None))
    )
    for row in rows:
        row.withdrawn_at = now()


@safety.delete("/safety/figures/<limit_id>/own", responses={200: SafetyView})
@require(Role.LEAD)
def withdraw_own_figure(path: LimitPath) -> Response:
    """Go back to the figure entered; that there was another stays on record."""
    _withdraw(path.limit_id)
    db().flush()
    return answer(_view())


@safety.post("/safety/figures/<limit_id>/checks", responses={200: SafetyView})
@require(Role.LEAD)
def check_figure(path: LimitPath, body: CheckIn) -> Response:
    """Say that a figure was compared with the printed edition."""
    if path.limit_id not in limits():
        raise not_found("figure")
    db().add(
        LimitCheck(
            limit_id=path.limit_id,
            edition=body.edition.strip(),
            page=body.page.strip(),
            checked_at=now(),
            checked_by=me().person_id,
        )
    )
    db().flush()
    return answer(_view())


@safety.get("/circuits", responses={200: CircuitList})
@require(Role.COOK)
def list_circuits() -> Response:
    """The kitchen's circuits."""
    items = [shown(CircuitIn, c) for c in kitchen.circuits(db())]
    version = kitchen.the_kitchen(db()).version
    return answer(CircuitList(items=items, codes_first=core_circuits.CODES_FIRST), 200, version)


@safety.put("/circuits", responses={200: CircuitList})
@require(Role.LEAD)
def set_circuits(body: CircuitsIn) -> Response:
    """Replace all circuits."""
    names = [c.name.strip() for c in body.items]
    if len(set(names)) != len(names):
        raise RuleError("circuits", "two have the same name", "Give each its own name.")
    for c in body.items:
        core_circuits.Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w).usable_w()
    k = kitchen.locked_kitchen(db())
    check_if_match(k.version)
    k.version += 1
    db().execute(delete(Circuit))
    db().add_all(Circuit(**c.model_dump() | {"name": c.name.strip()}) for c in body.items)
    db().flush()
    return list_circuits()  # type: ignore[no-any-return]


@safety.post("/batches/<uuid:batch_id>/ownerships", responses={204: None})
@require(Role.LEAD)
def own_batch(path: BatchPath, body: Owning) -> Response:
    """The lead lets a batch through to tasting, in writing; kept with name and time."""
    if db().get(Batch, path.batch_id) is None:
        raise not_found("batch")
    db().add(Ownership(batch_id=path.batch_id, why=body.why.strip(), owned_at=now(), owned_by=me().person_id))
    people.note(db(), "let a batch through to tasting", body.why, by=me().person_id)
    return done()


class StatementIn(BaseModel):
    """An answer to a question that is put before a batch is tasted; it goes into the log."""

    question: str = Field(max_length=40)
    answer: str = Field(max_length=3)
    text: str = Field(default="", max_length=500)


class ClearingIn(BaseModel):
    """A low core reading that named no piece, put aside, and why."""

    reading: UUID
    why: str = Field(min_length=10, max_length=500)


@safety.post("/batches/<uuid:batch_id>/statements", responses={204: None})
@require(Role.COOK)
def state(path: BatchPath, body: StatementIn) -> Response:
    """State of a batch what no instrument tells; kept in the log with name and time."""
    payload = {"question": body.question, "answer": body.answer}
    return _log(path.batch_id, EntryKind.STATED, payload | ({"text": body.text} if body.text.strip() else {}))


@safety.post("/batches/<uuid:batch_id>/clearings", responses={204: None})
@require(Role.COOK)
def clear_reading(path: BatchPath, body: ClearingIn) -> Response:
    """Put a low reading aside that names no piece; kept in the log with name, time and why."""
    return _log(path.batch_id, EntryKind.CLEARED, {"reading": str(body.reading), "why": body.why.strip()})


def _log(batch_id: UUID, kind: EntryKind, payload: dict[str, Any]) -> Response:
    batch = db().get(Batch, batch_id)
    if batch is None:
        raise not_found("batch")
    check_payload(kind, payload)
    bench.append_entries(db(), batch.shift_id, [bench.kitchen_entry(batch, kind, payload, me().person_id)])
    return done()

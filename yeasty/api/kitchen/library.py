"""The kitchen's library: technique templates, and what sways which attribute."""

from typing import Annotated, Any
from uuid import UUID

from flask import Response
from pydantic import BaseModel, BeforeValidator, Field, WithJsonSchema
from sqlalchemy import select

from yeasty.api.ask.bodies import StepIn
from yeasty.api.ask.views import StepView
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import (
    answer,
    check_if_match,
    content_version,
    db,
    done,
    each,
    me,
    own_side,
    require,
    system,
)
from yeasty.api.shown import shown
from yeasty.core.ask.techniques import (
    APPLIANCE_KINDS,
    Technique,
    check_technique,
    technique_from_record,
    techniques,
)
from yeasty.core.kernel.quantities import read_quantity
from yeasty.core.safety.cautions import cautions
from yeasty.core.setup.sways import STRENGTHS, check_sway, merged
from yeasty.operations.ask.vocabulary import technique_in_words
from yeasty.operations.kitchen import taking_away
from yeasty.store.base import now
from yeasty.store.kitchen import library as store
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.tables import Kitchen, SwayRow, TechniqueRow

library = blueprint("library", "library")


class TechniqueView(BaseModel):
    """A technique template; `own` where the kitchen changed or made it."""

    key: str
    name: str
    appliance_kind: str
    gear: list[str]
    hazards: list[str]
    ranges: dict[str, list[float]]
    steps: list[StepView]
    own: bool
    hidden: bool
    version: str = ""


class TechniqueList(BaseModel):
    """All technique templates, and the words that may be used."""

    items: list[TechniqueView]
    appliance_kinds: list[str]
    hazards: list[str]


RANGE_KINDS = {"set_point_c": "temperature", "cook_s": "duration", "power_w": "power"}


def _read_ranges(given: Any) -> Any:
    """Ends of ranges as a cook writes them, or numbers in SI."""
    if not isinstance(given, dict):
        return given
    return {
        key: [
            read_quantity(RANGE_KINDS[key], end, key, system())
            if isinstance(end, str) and key in RANGE_KINDS
            else end
            for end in ends
        ]
        if isinstance(ends, list)
        else ends
        for key, ends in given.items()
    }


Ranges = Annotated[
    dict[str, list[float]],
    BeforeValidator(_read_ranges),
    WithJsonSchema(
        {
            "type": "object",
            "additionalProperties": {
                "type": "array",
                "items": {"anyOf": [{"type": "string"}, {"type": "number"}]},
            },
        }
    ),
]


class TechniqueIn(BaseModel):
    """A template as the kitchen wants it."""

    name: str = Field(min_length=1, max_length=60)
    appliance_kind: str = Field(max_length=60)
    gear: list[str] = Field(default=[], max_length=40)
    hazards: list[str] = Field(default=[], max_length=40)
    ranges: Ranges = {}
    steps: list[StepIn] = Field(min_length=1, max_length=60)


class TechniqueOffer(BaseModel):
    """Whether a template is offered for new methods; nothing else of it changes."""

    hidden: bool


class TechniquePath(BaseModel):
    """Which template; a new key makes a new one."""

    key: str = Field(pattern="^[a-z0-9_]{2,40}$")


class SwayView(BaseModel):
    """A line: what differs, what it sways, how hard, why, and where the line comes from."""

    id: str | None
    field: str
    attributes: list[str]
    strength: int
    strength_words: str
    reason: str
    status: str


class SwayList(BaseModel):
    """All lines, the kitchen's own first."""

    items: list[SwayView]


class SwayIn(BaseModel):
    """A line of the kitchen's own."""

    field: str = Field(min_length=1, max_length=100)
    attributes: list[str] = Field(min_length=1, max_length=20)
    strength: int = Field(ge=0, le=3)
    reason: str = Field(min_length=3, max_length=300)


class SwayPath(BaseModel):
    """Which line of the kitchen's own."""

    sway_id: UUID


def _view(t: Technique, own: set[str], hidden: set[str]) -> TechniqueView:
    t = technique_in_words(t, own_side())
    view = shown(
        TechniqueView,
        t,
        gear=list(t.gear),
        hazards=list(t.hazards),
        ranges={k: list(v) for k, v in t.ranges.items()},
        own=t.key in own,
        hidden=t.key in hidden,
        steps=[
            shown(StepView, s, id="", appliance_id=None, dial_for_c=None, for_altitude_m=None)
            for s in t.steps
        ],
    )
    view.version = content_version([view])
    return view


@library.get("/techniques", responses={200: TechniqueList})
@require(Role.COOK)
def list_techniques() -> Response:
    """The templates methods start from, as the kitchen has them."""
    return _techniques()


def _techniques() -> Response:
    rows = store.technique_rows(db())
    own, hidden = {r.key for r in rows if r.record}, {r.key for r in rows if r.hidden}
    items = each(store.known_techniques(db()).values(), lambda t: _view(t, own, hidden))
    return answer(TechniqueList(items=items, appliance_kinds=list(APPLIANCE_KINDS), hazards=list(cautions())))


def _record(key: str, body: TechniqueIn) -> dict[str, Any]:
    wrong_range = next((k for k, v in body.ranges.items() if len(v) != 2), None)
    if wrong_range:
        raise ApiError(422, "Not a range", f"{wrong_range}: give a lower and an upper end.")
    record = body.model_dump(mode="json") | {"key": key}
    for step in record["steps"]:
        step.pop("id", None)
        step.pop("appliance_id", None)
    return record


@library.put("/techniques/<key>", responses={200: TechniqueList})
@require(Role.COOK)
def set_technique(path: TechniquePath, body: TechniqueIn) -> Response:
    """Change a template, make one, or hide one. Methods made from it keep their steps."""
    record = _record(path.key, body)
    technique = technique_from_record(record)
    for wrong in check_technique(technique):
        raise wrong
    _check_version(path.key)
    row = _row_of(path.key)
    same = path.key in techniques() and technique == techniques()[path.key]
    row.record, row.changed_at = ({} if same else record), now()
    db().flush()
    return _techniques()


def _check_version(key: str) -> None:
    """Refuse a change of a template that is not as it was opened; one that is new has nothing to lose."""
    db().execute(select(Kitchen.id).with_for_update())
    known = store.known_techniques(db())
    if key in known:
        rows = store.technique_rows(db())
        own, hidden = {r.key for r in rows if r.record}, {r.key for r in rows if r.hidden}
        check_if_match(_view(known[key], own, hidden).version)


def _row_of(key: str) -> TechniqueRow:
    row = db().get(TechniqueRow, key)
    if row is None:
        row = TechniqueRow(key=key, record={}, hidden=False)
        db().add(row)
    return row


@library.patch("/techniques/<key>", responses={200: TechniqueList})
@require(Role.COOK)
def offer_technique(path: TechniquePath, body: TechniqueOffer) -> Response:
    """Offer a template or leave it out of the offers; its steps and settings stay as they are."""
    if path.key not in store.known_techniques(db()):
        raise not_found("template")
    _check_version(path.key)
    row = _row_of(path.key)
    row.hidden, row.changed_at = body.hidden, now()
    db().flush()
    return _techniques()


@library.delete("/techniques/<key>", responses={200: TechniqueList})
@require(Role.COOK)
def reset_technique(path: TechniquePath) -> Response:
    """Take the kitchen's changes away: a shipped template is as shipped again, one of the kitchen's own is
    gone.
    """
    row = db().get(TechniqueRow, path.key)
    if row is None:
        raise not_found("template of the kitchen’s own")
    taking_away.take_away(db(), row, "the kitchen’s own template", me().id)
    return _techniques()


@library.get("/sways", responses={200: SwayList})
@require(Role.COOK)
def list_sways() -> Response:
    """What sways which attribute: the kitchen's lines and those that ship."""
    return _sways()


def _sways(status: int = 200) -> Response:
    own = {(r.field, tuple(r.attributes)): str(r.id) for r in store.sway_rows(db())}
    items = [
        shown(
            SwayView,
            s,
            id=own.get((s.field, s.attributes)) if s.status == "this kitchen" else None,
            attributes=list(s.attributes),
            strength_words=STRENGTHS[s.strength],
        )
        for s in merged(store.own_sways(db()))
    ]
    return answer(SwayList(items=items), status)


@library.post("/sways", responses={201: SwayList})
@require(Role.COOK)
def add_sway(body: SwayIn) -> Response:
    """A line of the kitchen's own; it stands in for the shipped one on the same field and attributes."""
    check_sway(body.field, body.attributes, body.strength, body.reason)
    db().add(
        SwayRow(
            field=body.field.strip(),
            attributes=[a.strip() for a in body.attributes],
            strength=body.strength,
            reason=body.reason.strip(),
            set_at=now(),
        )
    )
    db().flush()
    return _sways(201)


@library.delete("/sways/<uuid:sway_id>")
@require(Role.COOK)
def remove_sway(path: SwayPath) -> Response:
    """Take a line of the kitchen's own away; the shipped one stands again."""
    row = db().get(SwayRow, path.sway_id)
    if row is None:
        raise not_found("line")
    taking_away.take_away(db(), row, f"the line on {row.field}", me().id)
    return done()

"""Set up: maps of where pieces lie, how places are dealt, and what is handed over."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Annotated, Literal
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.reckon import reckon
from yeasty.api.request import (
    Blank,
    Length,
    Temperature,
    answer,
    check_if_match,
    content_version,
    db,
    done,
    each,
    me,
    require,
)
from yeasty.api.setup.pieces import drawn_seed
from yeasty.api.shown import shown
from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup import places as core
from yeasty.operations.kitchen import taking_away
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.setup import queries as store
from yeasty.store.setup.tables import PlaceMap

places = blueprint("places", "set up")


class PlaceIn(BaseModel):
    """Where a piece lies [m] from the front left corner."""

    x_m: float = Field(ge=-0.5, le=3.5)
    y_m: float = Field(ge=-0.5, le=3.5)
    tag: str = Field(default="", max_length=4)
    piece: int = Field(default=0, ge=0, le=2000)


class SpotIn(BaseModel):
    """A place that runs hotter or cooler by `k`, and how that is known."""

    x_m: float = Field(ge=0, le=3)
    y_m: float = Field(ge=0, le=3)
    k: float = Field(ge=-60, le=60)
    how: core.HeatTest = core.HeatTest.EYE


class ReadingIn(BaseModel):
    """A place of a test and what was read there: a temperature, or a shade."""

    x_m: float = Field(ge=0, le=3)
    y_m: float = Field(ge=0, le=3)
    celsius: Annotated[Temperature | None, Blank] = None
    shade: int | None = Field(default=None, ge=1, le=len(core.SHADES))


class HeatTestIn(BaseModel):
    """What thermometers, or slices of toast, told at the same time."""

    how: Literal[core.HeatTest.THERMOMETER, core.HeatTest.TOAST]
    readings: list[ReadingIn] = Field(max_length=20)


class MapIn(BaseModel):
    """A vessel's map."""

    name: str = Field(min_length=1, max_length=80)
    kind: Literal["tray", "basket", "rack", "grill", "pot", "plate"]
    round: bool = False
    width_m: Length
    depth_m: Length
    piece_m: Length
    spacing_m: Annotated[Length | None, Blank] = None
    places: list[PlaceIn] | None = Field(default=None, max_length=400)
    spots: list[SpotIn] = Field(default=[], max_length=20)


class PlaceView(PlaceIn):
    """A place, and how much hotter than the vessel's middle it runs [K]."""

    k: float


class MapView(BaseModel):
    """A map, its capacity, what is wrong with it, and how it lies after a half-way turn."""

    id: str
    name: str
    kind: str
    round: bool
    width_m: float
    depth_m: float
    piece_m: float
    spacing_m: float
    capacity: int
    places: list[PlaceView]
    turned: list[PlaceView]
    spots: list[SpotIn]
    problems: list[str]
    dealt_how: str
    mean_k: dict[str, float]
    heat_unit: str
    shades: tuple[str, ...]
    handed_from: str | None
    version: str = ""


class MapList(BaseModel):
    """Maps of a trial."""

    items: list[MapView]


class MapPath(TrialPath):
    """Which map of which trial."""

    map_id: UUID


class PlaceDealIn(BaseModel):
    """How places are dealt: at random, or balanced over hot spots; which methods, how many pieces of each."""

    how: Literal["random", "balanced"] = "balanced"
    method_ids: list[UUID] = Field(min_length=1, max_length=48)
    pieces_each: int = Field(ge=1, le=200)
    seed: int | None = Field(default=None, ge=0, le=2**31 - 1)


def _map(row: PlaceMap) -> MapView:
    m = row.core()
    turned = core.turned(m)

    def placed(v: core.VesselMap) -> list[PlaceView]:
        return [shown(PlaceView, p, k=round(core.heat_at(m, p.x_m, p.y_m), 1)) for p in v.places]

    before, after = placed(m), placed(turned)
    mean: dict[str, list[float]] = {}
    for a, b in zip(before, after, strict=True):
        if a.tag:
            mean.setdefault(a.tag, []).append((a.k + b.k) / 2 if "turned" in row.dealt_how else a.k)
    view = shown(
        MapView,
        row,
        id=str(row.id),
        capacity=len(core.fitting_places(m)),
        places=before,
        turned=after,
        spots=each(m.spots, lambda s: shown(SpotIn, s)),
        heat_unit=core.heat_unit(m),
        shades=core.SHADES,
        problems=[f"{p.field} {p.message}. {p.todo}" for p in core.problems(m)],
        mean_k={t: round(sum(v) / len(v), 1) for t, v in mean.items()},
        handed_from=str(row.handed_from) if row.handed_from else None,
    )
    view.version = content_version([view])
    return view


def _maps(trial_id: UUID, status: int = 200) -> Response:
    return answer(MapList(items=each(store.maps_of(db(), trial_id), _map)), status)


def _fill(row: PlaceMap, body: MapIn) -> None:
    row.name, row.kind, row.round = body.name.strip(), body.kind, body.round
    row.width_m, row.depth_m, row.piece_m = body.width_m, body.depth_m, body.piece_m
    row.spacing_m = body.spacing_m if body.spacing_m is not None else core.USUAL_SPACING_M
    row.places = [p.model_dump() for p in body.places or []]
    row.spots = [s.model_dump() for s in body.spots]
    core.check_map(row.core())
    core.check_spots(row.core())
    if body.places is None:
        row.take(replace(row.core(), places=core.fitting_places(row.core())))


def _row(path: MapPath) -> PlaceMap:
    row = db().get(PlaceMap, path.map_id)
    if row is None or row.trial_id != path.trial_id:
        raise not_found("map")
    return row


@places.get("/trials/<uuid:trial_id>/maps", responses={200: MapList})
@require(Role.COOK)
def list_maps(path: TrialPath) -> Response:
    """Maps of a trial."""
    return _maps(open_trial(path.trial_id).id)


@places.post("/trials/<uuid:trial_id>/maps", responses={201: MapList})
@require(Role.COOK)
def add_map(path: TrialPath, body: MapIn) -> Response:
    """A new map; without places, as many as fit are drawn."""
    trial = open_trial(path.trial_id)
    row = PlaceMap(trial_id=trial.id, position=len(store.maps_of(db(), trial.id)))
    _fill(row, body)
    db().add(row)
    db().flush()
    return _maps(trial.id, 201)


@places.put("/trials/<uuid:trial_id>/maps/<uuid:map_id>", responses={200: MapList})
@require(Role.COOK)
def change_map(path: MapPath, body: MapIn) -> Response:
    """Move pieces, change measures or hot spots."""
    open_trial(path.trial_id, lock=True)
    row = _row(path)
    db().refresh(row)
    check_if_match(_map(row).version)
    _fill(row, body)
    row.dealt_how = row.dealt_how or "by hand"
    db().flush()
    return _maps(path.trial_id)


@places.post("/trials/<uuid:trial_id>/maps/<uuid:map_id>/heat-tests", responses={200: MapList})
@require(Role.COOK)
def keep_heat_test(path: MapPath, body: HeatTestIn) -> Response:
    """Hot and cool spots as a test told them, instead of those the map had."""
    open_trial(path.trial_id, lock=True)
    row = _row(path)
    read = [_reading(body.how, r) for r in body.readings]
    row.take(core.with_test(row.core(), body.how, read))
    db().flush()
    return _maps(path.trial_id)


def _reading(how: core.HeatTest, r: ReadingIn) -> core.Spot:
    read = r.shade if how is core.HeatTest.TOAST else r.celsius
    if read is None:
        what = "how brown its slice is" if how is core.HeatTest.TOAST else "its temperature"
        raise RuleError("reading", "of a place is missing", f"Say {what}, or take the place away.")
    return core.Spot(r.x_m, r.y_m, read)


@places.delete("/trials/<uuid:trial_id>/maps/<uuid:map_id>")
@require(Role.COOK)
def remove_map(path: MapPath) -> Response:
    """Take a map away."""
    row = _row(path)
    taking_away.take_away(db(), row, f"the map of {row.name}", me().id, path.trial_id)
    return done()


@places.post("/trials/<uuid:trial_id>/maps/<uuid:map_id>/dealings", responses={200: MapList})
@require(Role.COOK)
def deal_places(path: MapPath, body: PlaceDealIn) -> Response:
    """Deal places to methods, at random or so that hot spots favour none."""
    trial = open_trial(path.trial_id)
    row = _row(path)
    tags = _tags(trial, body.method_ids)
    seed = body.seed if body.seed is not None else drawn_seed()
    balanced = body.how == "balanced"
    chosen = core.nearest_the_middle(row.core(), len(tags) * body.pieces_each)
    drawn = reckon("place_draw", **core.draw_question(chosen, len(tags), seed, balanced=balanced))
    laid = core.dealt(chosen, drawn["groups"], tags)
    row.take(replace(chosen, places=laid.places))
    unit = core.heat_unit(chosen)
    row.dealt_how = core.dealt_words(laid.spread_k, unit, seed, balanced=balanced, few=drawn["few"])
    db().flush()
    return _maps(trial.id)


def _tags(trial: Trial, method_ids: Sequence[UUID]) -> list[str]:
    tags = {m.id: m.tag for m in trial.methods}
    if any(m not in tags for m in method_ids):
        raise RuleError("methods", "one is not of this trial", "Choose among its methods.")
    return [tags[m] for m in method_ids]


@places.post("/trials/<uuid:trial_id>/maps/<uuid:map_id>/hand-overs", responses={201: MapList})
@require(Role.COOK)
def hand_over(path: MapPath, body: MapIn) -> Response:
    """A map of the vessel the pieces are handed over to, each piece known still."""
    row = _row(path)
    made = PlaceMap(
        trial_id=path.trial_id,
        position=len(store.maps_of(db(), path.trial_id)),
        handed_from=row.id,
        dealt_how=f"handed over from {row.name}",
    )
    _fill(made, body)
    made.take(core.hand_over(row.core(), made.core()))
    db().add(made)
    db().flush()
    return _maps(path.trial_id, 201)

"""Set up: pieces and how they are dealt, maps of where they lie, flags and labels to print."""

from base64 import b64decode
from typing import Annotated, Any, Literal
from uuid import UUID

from flask import Response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from yeasty.api.ask import open_trial
from yeasty.api.problems import ApiError, not_found
from yeasty.api.publish import file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import Blank, Length, Mass, answer, db, done, require
from yeasty.api.views import TrialPath
from yeasty.core.errors import RuleError
from yeasty.core.setup import places as core
from yeasty.core.setup.labels import PAPERS, STOCKS, MapSheet, labels_html, maps_html
from yeasty.core.setup.labels import Tag as LabelTag
from yeasty.devices.scale import piece_on_the_scale, readings
from yeasty.store import pieces as store
from yeasty.store.people import Role
from yeasty.store.pieces import PlaceMap
from yeasty.store.trials import Trial

pieces = APIBlueprint("pieces", __name__, url_prefix="/api/v1", abp_tags=[Tag(name="set up")])
PDF = "application/pdf"


class PieceIn(BaseModel):
    """A piece: its weight as it was read, its part and lot."""

    mass_kg: Mass
    part: str = Field(default="", max_length=60)
    ingredient_id: UUID | None = None


class PiecesIn(BaseModel):
    """All pieces, in order."""

    items: list[PieceIn] = Field(max_length=2000)


class PieceView(BaseModel):
    """A piece and where it went."""

    id: str
    number: int
    mass_kg: float
    part: str
    ingredient_id: str | None
    method_id: str | None
    replicate: int
    spare: bool


class GroupView(BaseModel):
    """What a method's replicate was dealt."""

    method_id: str
    replicate: int
    numbers: list[int]
    mean_kg: float
    total_kg: float


class DealingView(BaseModel):
    """The draw that stands."""

    sentence: str
    seed: int
    tolerance: float
    deviation: float
    within: bool
    best_deviation: float
    few: bool
    groups: list[GroupView]
    spare: list[int]


class PiecesView(BaseModel):
    """Pieces, what is needed, and the draw."""

    items: list[PieceView]
    needed: int
    short_of: int
    sentence: str
    dealing: DealingView | None


class DealIn(BaseModel):
    """How to deal: seed (drawn where left out), tolerance, and whether lots and parts are balanced."""

    seed: int | None = Field(default=None, ge=0, le=2**31 - 1)
    tolerance: float = Field(default=0.01, ge=0.0001, le=0.5)
    balance: bool = True


class PlaceIn(BaseModel):
    """Where a piece lies [m] from the front left corner."""

    x_m: float = Field(ge=-0.5, le=3.5)
    y_m: float = Field(ge=-0.5, le=3.5)
    tag: str = Field(default="", max_length=4)
    piece: int = Field(default=0, ge=0, le=2000)


class SpotIn(BaseModel):
    """A place that runs hotter or cooler by `k`."""

    x_m: float = Field(ge=0, le=3)
    y_m: float = Field(ge=0, le=3)
    k: float = Field(ge=-60, le=60)


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
    handed_from: str | None


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


class LabelQuery(BaseModel):
    """Which labels: the stock, copies of each, and whether one for each replicate."""

    stock: str = "flags-a4"
    copies: int = Field(default=1, ge=1, le=20)
    replicates: bool = True


class PaperQuery(BaseModel):
    """Paper to print on."""

    paper: Literal["A4", "Letter"] = "A4"


class StockView(BaseModel):
    """A sheet of labels."""

    key: str
    name: str
    paper: str


class StockList(BaseModel):
    """Known sheets and papers."""

    items: list[StockView]
    papers: list[str]


def _seed() -> int:
    import secrets

    return secrets.randbelow(2**31)


def _view(trial: Trial) -> PiecesView:
    rows = store.pieces_of(db(), trial.id)
    needed = sum(m.pieces_per_batch for m in trial.methods) * trial.batches_each
    short = max(0, needed - len(rows)) if rows else 0
    if not rows:
        sentence = f"{needed} pieces are needed for {len(trial.methods)} methods; none weighed yet."
    elif short:
        sentence = f"{len(rows)} pieces weighed and {needed} needed: {short} too few before the first cut."
    else:
        sentence = f"{len(rows)} pieces weighed, {needed} needed" + (f", {len(rows) - needed} to spare." if len(rows) > needed else ".")
    return PiecesView(
        items=[
            PieceView(
                id=str(p.id), number=n, mass_kg=p.mass_kg, part=p.part, ingredient_id=str(p.ingredient_id) if p.ingredient_id else None,
                method_id=str(p.method_id) if p.method_id else None, replicate=p.replicate, spare=p.spare,
            )
            for n, p in enumerate(rows, 1)
        ],
        needed=needed, short_of=short, sentence=sentence, dealing=_dealing(trial, rows),
    )  # fmt: skip


def _dealing(trial: Trial, rows: list[store.Piece]) -> DealingView | None:
    if not any(p.method_id for p in rows):
        return None
    kept = store.newest_dealing(db(), trial.id)
    if kept is None:
        return None
    groups: dict[tuple[UUID, int], list[int]] = {}
    for n, p in enumerate(rows, 1):
        if p.method_id:
            groups.setdefault((p.method_id, p.replicate), []).append(n)
    order = {(m.id, r): i for i, (m, r) in enumerate(store.arms(trial))}
    r = kept.result
    return DealingView(
        sentence=r["sentence"], seed=kept.seed, tolerance=kept.tolerance, deviation=r["deviation"], within=r["within"],
        best_deviation=r["best_deviation"], few=r["few"], spare=[n for n, p in enumerate(rows, 1) if p.spare],
        groups=[
            GroupView(
                method_id=str(m), replicate=k, numbers=numbers, total_kg=sum(rows[n - 1].mass_kg for n in numbers),
                mean_kg=sum(rows[n - 1].mass_kg for n in numbers) / len(numbers),
            )
            for (m, k), numbers in sorted(groups.items(), key=lambda g: order.get(g[0], 999))
        ],
    )  # fmt: skip


@pieces.get("/trials/<uuid:trial_id>/pieces", responses={200: PiecesView})
@require(Role.COOK)
def get_pieces(path: TrialPath) -> Response:
    """Pieces of a trial, what is needed, and the draw that stands."""
    return answer(_view(open_trial(path.trial_id)))


@pieces.put("/trials/<uuid:trial_id>/pieces", responses={200: PiecesView})
@require(Role.COOK)
def set_pieces(path: TrialPath, body: PiecesIn) -> Response:
    """Replace the pieces; a draw made before falls away."""
    trial = open_trial(path.trial_id)
    store.set_pieces(db(), trial, [p.model_dump() for p in body.items])
    return answer(_view(trial))


class ScaleQuery(BaseModel):
    """Which piece is laid on the stand-in scale."""

    number: int = Field(ge=1, le=2000)


class ScaleView(BaseModel):
    """What the scale says once it stands still; `simulated` where it is the stand-in."""

    kg: float
    readings: list[float]
    simulated: bool


@pieces.get("/trials/<uuid:trial_id>/scale", responses={200: ScaleView})
@require(Role.COOK)
def read_scale(path: TrialPath, query: ScaleQuery) -> Response:
    """Lay the next piece on the stand-in scale and read it. Its weights are made up and said to be."""
    trial = open_trial(path.trial_id)
    middle = next((m.piece_kg for m in trial.methods if m.piece_kg), 0.05)
    seed = trial.id.int % 1_000_003
    shown = readings(piece_on_the_scale(seed, query.number, middle), seed + query.number)
    return answer(ScaleView(kg=shown[-1].kg, readings=[r.kg for r in shown], simulated=True))


@pieces.post("/trials/<uuid:trial_id>/dealings", responses={201: PiecesView})
@require(Role.COOK)
def deal(path: TrialPath, body: DealIn) -> Response:
    """Deal the pieces to methods and replicates."""
    trial = open_trial(path.trial_id)
    if not trial.methods:
        raise RuleError("methods", "none yet", "Add methods at Ask first.")
    seed = body.seed if body.seed is not None else _seed()
    result = reckon("allocation", **store.allocation_question(db(), trial, seed, body.tolerance, body.balance))
    store.keep_dealing(db(), trial, result)
    return answer(_view(trial), 201)


def _map(row: PlaceMap) -> MapView:
    m = row.core()
    turned = core.turned(m)

    def placed(v: core.VesselMap) -> list[PlaceView]:
        return [PlaceView(x_m=p.x_m, y_m=p.y_m, tag=p.tag, piece=p.piece, k=round(core.heat_at(m, p.x_m, p.y_m), 1)) for p in v.places]

    before, after = placed(m), placed(turned)
    mean: dict[str, list[float]] = {}
    for a, b in zip(before, after, strict=True):
        if a.tag:
            mean.setdefault(a.tag, []).append((a.k + b.k) / 2 if "turned" in row.dealt_how else a.k)
    return MapView(
        id=str(row.id), name=row.name, kind=row.kind, round=row.round, width_m=row.width_m, depth_m=row.depth_m, piece_m=row.piece_m,
        spacing_m=row.spacing_m, capacity=len(core.fitting_places(m)), places=before, turned=after,
        spots=[SpotIn(x_m=s.x_m, y_m=s.y_m, k=s.k) for s in m.spots], problems=[f"{p.field} {p.message}. {p.todo}" for p in core.problems(m)],
        dealt_how=row.dealt_how, mean_k={t: round(sum(v) / len(v), 1) for t, v in mean.items()},
        handed_from=str(row.handed_from) if row.handed_from else None,
    )  # fmt: skip


def _maps(trial_id: UUID, status: int = 200) -> Response:
    return answer(MapList(items=[_map(m) for m in store.maps_of(db(), trial_id)]), status)


def _fill(row: PlaceMap, body: MapIn) -> None:
    row.name, row.kind, row.round = body.name.strip(), body.kind, body.round
    row.width_m, row.depth_m, row.piece_m = body.width_m, body.depth_m, body.piece_m
    row.spacing_m = body.spacing_m if body.spacing_m is not None else core.USUAL_SPACING_M
    row.places = [p.model_dump() for p in body.places or []]
    row.spots = [s.model_dump() for s in body.spots]
    core.check_map(row.core())
    if body.places is None:
        row.take(core.VesselMap(**{**vars(row.core()), "places": core.fitting_places(row.core())}))


def _row(path: MapPath) -> PlaceMap:
    row = db().get(PlaceMap, path.map_id)
    if row is None or row.trial_id != path.trial_id:
        raise not_found("map")
    return row


@pieces.get("/trials/<uuid:trial_id>/maps", responses={200: MapList})
@require(Role.COOK)
def list_maps(path: TrialPath) -> Response:
    """Maps of a trial."""
    return _maps(open_trial(path.trial_id).id)


@pieces.post("/trials/<uuid:trial_id>/maps", responses={201: MapList})
@require(Role.COOK)
def add_map(path: TrialPath, body: MapIn) -> Response:
    """A new map; without places, as many as fit are drawn."""
    trial = open_trial(path.trial_id)
    row = PlaceMap(trial_id=trial.id, position=len(store.maps_of(db(), trial.id)))
    _fill(row, body)
    db().add(row)
    db().flush()
    return _maps(trial.id, 201)


@pieces.put("/trials/<uuid:trial_id>/maps/<uuid:map_id>", responses={200: MapList})
@require(Role.COOK)
def change_map(path: MapPath, body: MapIn) -> Response:
    """Move pieces, change measures or hot spots."""
    row = _row(path)
    _fill(row, body)
    row.dealt_how = row.dealt_how or "by hand"
    db().flush()
    return _maps(path.trial_id)


@pieces.delete("/trials/<uuid:trial_id>/maps/<uuid:map_id>")
@require(Role.COOK)
def remove_map(path: MapPath) -> Response:
    """Take a map away."""
    db().delete(_row(path))
    return done()


@pieces.post("/trials/<uuid:trial_id>/maps/<uuid:map_id>/dealings", responses={200: MapList})
@require(Role.COOK)
def deal_places(path: MapPath, body: PlaceDealIn) -> Response:
    """Deal places to methods, at random or so that hot spots favour none."""
    trial = open_trial(path.trial_id)
    row = _row(path)
    tags = {m.id: m.tag for m in trial.methods}
    if any(m not in tags for m in body.method_ids):
        raise RuleError("methods", "one is not of this trial", "Choose among its methods.")
    m = core.VesselMap(**{**vars(row.core()), "places": core.fitting_places(row.core())})
    wanted = len(body.method_ids) * body.pieces_each
    if wanted > len(m.places):
        raise RuleError("pieces", f"{wanted}, and {len(m.places)} fit", "Lay fewer at once, closer, or in rounds.")
    middle = sorted(m.places, key=lambda p: (p.x_m - m.width_m / 2) ** 2 + (p.y_m - m.depth_m / 2) ** 2)
    chosen = core.VesselMap(**{**vars(m), "places": tuple(core.reading_order(middle[:wanted]))})
    heats = [core.heat_at(m, p.x_m, p.y_m) for p in chosen.places]
    seed = body.seed if body.seed is not None else _seed()
    drawn = reckon("place_draw", heats=heats, groups=len(body.method_ids), seed=seed, balanced=body.how == "balanced")
    laid = core.dealt(chosen, drawn["groups"], [tags[m_id] for m_id in body.method_ids])
    row.take(core.VesselMap(**{**vars(chosen), "places": laid.places}))
    how = "at random" if body.how == "random" else f"balanced over hot spots, mean places within {laid.spread_k:.1f} K"
    row.dealt_how = f"drawn {how}, seed {seed}" + ("; few such dealings, hardly chance" if drawn["few"] else "")
    db().flush()
    return _maps(trial.id)


@pieces.post("/trials/<uuid:trial_id>/maps/<uuid:map_id>/hand-overs", responses={201: MapList})
@require(Role.COOK)
def hand_over(path: MapPath, body: MapIn) -> Response:
    """A map of the vessel the pieces are handed over to, each piece known still."""
    row = _row(path)
    made = PlaceMap(trial_id=path.trial_id, position=len(store.maps_of(db(), path.trial_id)), handed_from=row.id, dealt_how=f"handed over from {row.name}")
    _fill(made, body)
    made.take(core.hand_over(row.core(), made.core()))
    db().add(made)
    db().flush()
    return _maps(path.trial_id, 201)


def _paper(html: str, name: str) -> Response:
    return file_answer(b64decode(reckon("pdf", html=html)), PDF, name)


@pieces.get("/label-stocks", responses={200: StockList})
@require(Role.COOK)
def list_stocks() -> Response:
    """Sheets of labels that are known."""
    return answer(StockList(items=[StockView(key=k, name=s.name, paper=s.paper) for k, s in STOCKS.items()], papers=list(PAPERS)))


@pieces.get("/trials/<uuid:trial_id>/labels.pdf")
@require(Role.COOK)
def labels_pdf(path: TrialPath, query: LabelQuery) -> Response:
    """Flags, tape strips or labels, one for each method and replicate."""
    trial = open_trial(path.trial_id)
    rows = store.arms(trial) if query.replicates else [(m, 1) for m in trial.methods]
    tags = [
        LabelTag(m.mark, m.tag, m.name, f"batch {r}" if trial.batches_each > 1 and query.replicates else "")
        for m, r in sorted(rows, key=lambda a: (a[0].position, a[1]))
    ]
    return _paper(labels_html(tags, query.stock, trial.title, query.copies), "labels.pdf")


@pieces.get("/trials/<uuid:trial_id>/maps.pdf")
@require(Role.COOK)
def maps_pdf(path: TrialPath, query: PaperQuery) -> Response:
    """Every map as laid and after its half-way turn, hand-overs after what they come from."""
    trial = open_trial(path.trial_id)
    sheets: list[MapSheet] = []
    rows = store.maps_of(db(), trial.id)
    for row in rows:
        m = row.core()
        sheets.append(MapSheet(row.name, f"As laid{': ' + row.dealt_how if row.dealt_how else ''}.", m))
        if row.kind in ("tray", "basket", "rack", "grill"):
            sheets.append(MapSheet(f"{row.name}, turned", "After the half-way turn: pieces have moved, hot spots stay.", core.turned(m)))
    if not sheets:
        raise ApiError(409, "No maps yet", "Draw a map at Set up first.")
    return _paper(maps_html(sheets, {m.tag: m.mark for m in trial.methods}, trial.title, query.paper), "maps.pdf")


def maps_record(trial: Trial) -> list[dict[str, Any]]:
    """Maps as Cook shows them."""
    return [_map(m).model_dump() for m in store.maps_of(db(), trial.id)]

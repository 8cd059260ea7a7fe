"""Set up: pieces, their weights, and how they are dealt."""

import secrets
import time
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.reckon import reckon
from yeasty.api.request import Mass, answer, check_if_match, content_version, db, require
from yeasty.api.shown import shown
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.filled import filled
from yeasty.devices.scale import piece_on_the_scale, readings
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.devices import on_the_scale
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.setup import queries as store
from yeasty.store.setup.tables import Piece

pieces = blueprint("pieces", "set up")


class PieceIn(BaseModel):
    """A piece: its weight as it was read, its part and lot."""

    mass_kg: Mass
    part: str = Field(default="", max_length=60)
    ingredient_id: UUID | None = None
    simulated: bool = Field(default=False, description="read from the stand-in scale: made up")


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
    simulated: bool


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
    version: str = ""


class DealIn(BaseModel):
    """How to deal: seed (drawn where left out), tolerance, and whether lots and parts are balanced."""

    seed: int | None = Field(default=None, ge=0, le=2**31 - 1)
    tolerance: float = Field(default=0.01, ge=0.0001, le=0.5)
    balance: bool = True


def drawn_seed() -> int:
    """A seed where none is given; it is kept with what it dealt."""
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
        sentence = f"{len(rows)} pieces weighed, {needed} needed" + (
            f", {len(rows) - needed} to spare." if len(rows) > needed else "."
        )
    made_up = sum(p.simulated for p in rows)
    if made_up:
        sentence += (
            f" {made_up} of the weights {'is' if made_up == 1 else 'are'} made up, from the "
            f"stand-in scale: weigh again before cooking."
        )
    items = [
        shown(
            PieceView,
            p,
            id=str(p.id),
            number=n,
            ingredient_id=str(p.ingredient_id) if p.ingredient_id else None,
            method_id=str(p.method_id) if p.method_id else None,
        )
        for n, p in enumerate(rows, 1)
    ]
    return PiecesView(
        items=items,
        version=content_version(items),
        needed=needed,
        short_of=short,
        sentence=sentence,
        dealing=_dealing(trial, rows),
    )


def _dealing(trial: Trial, rows: list[Piece]) -> DealingView | None:
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
    return shown(
        DealingView,
        kept,
        sentence=r["sentence"],
        deviation=r["deviation"],
        within=r["within"],
        best_deviation=r["best_deviation"],
        few=r["few"],
        spare=[n for n, p in enumerate(rows, 1) if p.spare],
        groups=[
            GroupView(
                method_id=str(m),
                replicate=k,
                numbers=numbers,
                total_kg=sum(rows[n - 1].mass_kg for n in numbers),
                mean_kg=sum(rows[n - 1].mass_kg for n in numbers) / len(numbers),
            )
            for (m, k), numbers in sorted(groups.items(), key=lambda g: order.get(g[0], 999))
        ],
    )


@pieces.get("/trials/<uuid:trial_id>/pieces", responses={200: PiecesView})
@require(Role.COOK)
def get_pieces(path: TrialPath) -> Response:
    """Pieces of a trial, what is needed, and the draw that stands."""
    return answer(_view(open_trial(path.trial_id)))


@pieces.put("/trials/<uuid:trial_id>/pieces", responses={200: PiecesView})
@require(Role.COOK)
def set_pieces(path: TrialPath, body: PiecesIn) -> Response:
    """Replace the pieces; a draw made before falls away."""
    trial = open_trial(path.trial_id, lock=True)
    check_if_match(_view(trial).version)
    store.set_pieces(db(), trial, [filled(store.WeighedPiece, p) for p in body.items])
    return answer(_view(trial))


class ScaleQuery(BaseModel):
    """Which piece is laid on the scale, and when the one before it was read [s since 1970, as `at` told]."""

    number: int = Field(ge=1, le=2000)
    after: float = Field(default=0, ge=0, le=1e11)


class ScaleView(BaseModel):
    """What the scale says once it stands still, and since when; `simulated` where it is the stand-in."""

    kg: float
    at: float
    name: str
    readings: list[float]
    simulated: bool


@pieces.get("/trials/<uuid:trial_id>/scale", responses={200: ScaleView})
@require(Role.COOK)
def read_scale(path: TrialPath, query: ScaleQuery) -> Response:
    """What lies on the kitchen's scale; where it has none, on the stand-in, whose weights are made up and
    said to be.
    """
    trial = open_trial(path.trial_id)
    read = on_the_scale(db(), query.after)
    if read is not None:
        scale, kg, at = read
        return answer(ScaleView(kg=kg, at=at, name=scale.name, readings=[kg], simulated=False))
    return answer(_on_the_stand_in(trial, query.number))


def _on_the_stand_in(trial: Trial, number: int) -> ScaleView:
    middle = next((m.piece_kg for m in trial.methods if m.piece_kg), 0.05)
    seed = trial.id.int % 1_000_003
    shown = readings(piece_on_the_scale(seed, number, middle), seed + number)
    return ScaleView(
        kg=shown[-1].kg,
        at=time.time(),
        name="stand-in scale",
        readings=[r.kg for r in shown],
        simulated=True,
    )


@pieces.post("/trials/<uuid:trial_id>/dealings", responses={201: PiecesView})
@require(Role.COOK)
def deal(path: TrialPath, body: DealIn) -> Response:
    """Deal the pieces to methods and replicates."""
    trial = open_trial(path.trial_id)
    if not trial.methods:
        raise RuleError("methods", "none yet", "Add methods at Ask first.")
    seed = body.seed if body.seed is not None else drawn_seed()
    result = reckon(
        "allocation", **store.allocation_question(db(), trial, seed, body.tolerance, body.balance)
    )
    store.keep_dealing(db(), trial, result)
    return answer(_view(trial), 201)

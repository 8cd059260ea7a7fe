"""Ask, by kind of trial: grids, ladders, branches, varieties, screenings, versions."""

from typing import Annotated, Any
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import MethodPath, method_of, open_trial, whole
from yeasty.api.ask.views import TrialPath, TrialView
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, own_side, require
from yeasty.api.shown import shown
from yeasty.core.ask import grid as grids
from yeasty.core.ask import ladder as ladders
from yeasty.core.ask.screening import best_few, read_table
from yeasty.core.ask.trial import TrialKind
from yeasty.operations.ask import designs, families, layouts, versions
from yeasty.operations.ask.vocabulary import known_in_words
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen import queries as kitchen
from yeasty.store.kitchen.people_tables import Role

layout = blueprint("layout", "ask")


class LevelIn(BaseModel):
    """A level of a factor, or a finish: its technique's steps and the values it sets (SI)."""

    name: str = Field(max_length=60)
    technique: str = Field(default="", max_length=60)
    sets: dict[str, float] = {}
    ingredient: str = Field(default="", max_length=100)


class FactorIn(BaseModel):
    """A factor with its levels in order."""

    name: str = Field(max_length=60)
    levels: list[LevelIn] = Field(max_length=12)


class BarredIn(BaseModel):
    """A cell that cannot be or is not wanted, and why."""

    cell: list[int]
    why: str = Field(default="", max_length=200)


class GridIn(BaseModel):
    """A grid as it is being drawn."""

    base_technique: str = Field(default="", max_length=60)
    factors: list[FactorIn] = Field(max_length=6)
    barred: list[BarredIn] = Field(default=[], max_length=200)
    pieces_a_cell: int = Field(default=6, ge=1, le=1000)
    replicates: int = Field(default=1, ge=1, le=12)
    pieces_at_hand: int | None = Field(default=None, ge=0, le=100000)
    cookings_a_shift: int | None = Field(default=None, ge=1, le=100)


class GridLayout(BaseModel):
    """A grid to lay out; the cells to cook, or all that are open."""

    grid: GridIn
    cells: list[list[int]] | None = Field(default=None, max_length=200)


class LadderLayout(BaseModel):
    """A ladder to lay out; rungs rise, SI."""

    base_technique: str = Field(default="", max_length=60)
    rises: str
    rungs: list[float] = Field(max_length=48)
    guess: float
    pots: int = Field(default=1, ge=1, le=48)
    pieces_a_rung: int = Field(default=2, ge=1, le=1000)
    pull_s: float = Field(default=ladders.PULL_S, gt=0, le=3600)
    ingredient: str = Field(default="", max_length=100)


class BranchLayout(BaseModel):
    """A shared cook and its finishes."""

    base_technique: str = Field(default="", max_length=60)
    finishes: list[LevelIn] = Field(max_length=48)


class VarietiesLayout(BaseModel):
    """The ingredient that is exchanged and what it is exchanged for."""

    base_technique: str = Field(default="", max_length=60)
    ingredient: str = Field(max_length=100)
    varieties: list[Annotated[str, Field(max_length=100)]] = Field(max_length=48)


class WordsLayout(BaseModel):
    """A screening's ladder of words, worst first."""

    words: list[Annotated[str, Field(max_length=60)]] = Field(max_length=9)


class LayoutIn(BaseModel):
    """The layout of a trial's kind; one of these."""

    grid: GridLayout | None = None
    ladder: LadderLayout | None = None
    branch: BranchLayout | None = None
    varieties: VarietiesLayout | None = None
    screening: WordsLayout | None = None
    champion: UUID | None = None


class GridQuestion(BaseModel):
    """A grid, how many of its cells to cook, and over how many shifts."""

    grid: GridIn
    cells: int | None = Field(default=None, ge=2, le=48)
    shifts: int | None = Field(default=None, ge=1, le=24)


class NeedView(BaseModel):
    """What a number of cells takes."""

    cells: int
    cookings: int
    pieces: int
    shifts: int | None
    short_of: int


class CellView(BaseModel):
    """A cell by its level indexes and its name."""

    cell: list[int]
    name: str
    barred: str | None


class BlockView(BaseModel):
    """Cells split over shifts, and what that costs."""

    blocks: list[list[list[int]]]
    sentence: str


class GridPlan(BaseModel):
    """What a grid needs, the part that is asked for, and what it can tell."""

    sentence: str
    whole: NeedView
    part: NeedView
    affordable: int
    least: int
    cells: list[CellView]
    chosen: list[list[int]]
    tells: str
    blocks: BlockView | None


class PullView(BaseModel):
    """One staged pull."""

    rung: str
    pot: int
    at_s: float
    start_s: float
    since_last_s: float
    pieces_out: int
    left: int
    waits_s: float


class LadderPlan(BaseModel):
    """Staged pulls in order of the clock, and what is wrong with them."""

    pulls: list[PullView]
    problems: list[str]


class VersionIn(BaseModel):
    """The change of a next version and the defect it aims at."""

    name: str = Field(default="", max_length=100)
    change: str = Field(max_length=300)
    aimed_defect: str = Field(default="", max_length=300)


class TryIn(BaseModel):
    """What went wrong at a try."""

    note: str = Field(max_length=300)


class WaysIn(BaseModel):
    """A pasted table of ways: name, technique, note; `base_technique` for lines that name none."""

    table: str = Field(max_length=20000)
    base_technique: str = Field(default="", max_length=60)


class VerdictIn(BaseModel):
    """A word from the ladder and a note for one way."""

    method_id: UUID
    word: str = Field(default="", max_length=60)
    note: str = Field(default="", max_length=1000)


class VerdictsIn(BaseModel):
    """Words for many ways at once."""

    items: list[VerdictIn] = Field(max_length=48)


class FewQuery(BaseModel):
    """How many go on."""

    few: int = Field(default=4, ge=1, le=48)


class FewView(BaseModel):
    """The best few of a screening."""

    method_ids: list[str]
    sentence: str


def _cells(cells: list[list[int]] | None) -> list[grids.Cell] | None:
    return [tuple(c) for c in cells] if cells is not None else None


@layout.put("/trials/<uuid:trial_id>/layout", responses={200: TrialView})
@require(Role.COOK)
def set_layout(path: TrialPath, body: LayoutIn) -> Response:
    """Lay the trial out by its kind: its methods are made from it."""
    trial = open_trial(path.trial_id, edit=True)
    record, cells = _laid(trial, body)
    known = known_in_words(db(), own_side())
    layouts.lay_out(db(), trial, record, known, kitchen.all_appliances(db()), cells)
    return whole(trial)


def _laid(trial: Trial, body: LayoutIn) -> tuple[dict[str, Any], list[grids.Cell] | None]:
    """The layout of the trial's kind as it is kept, and the cells of a grid where not all are cooked."""
    part = {
        TrialKind.GRID: body.grid and body.grid.grid,
        TrialKind.LADDER: body.ladder,
        TrialKind.BRANCH: body.branch,
        TrialKind.VARIETIES: body.varieties,
        TrialKind.SCREENING: body.screening,
    }.get(TrialKind(trial.kind))
    if trial.kind == TrialKind.CHAMPION and body.champion:
        champion = str(method_of(trial, body.champion).id)
        return {"credited": trial.layout.get("credited", ""), "champion": champion}, None
    if part is None:
        raise ApiError(
            422,
            "Not of this kind",
            f"A trial of the kind “{trial.kind}” is not laid out so. Change its kind first.",
        )
    cells = _cells(body.grid.cells) if body.grid and trial.kind == TrialKind.GRID else None
    return {"credited": trial.layout.get("credited", ""), **part.model_dump()}, cells


@layout.post("/grid-plans", responses={200: GridPlan})
@require(Role.COOK)
def plan_grid(body: GridQuestion) -> Response:
    """What a grid needs in pieces and cookings; which cells to cook where there are too few; what cannot be
    told apart then.
    """
    record = body.grid.model_dump()
    grid = grids.grid_from_record(record)
    for wrong in grids.check_grid(grid):
        raise wrong
    every = len(grids.open_cells(grid))
    count = body.cells if body.cells and body.cells < every else None
    told = reckon("grid_plan", layout=record, cells=count, shifts=body.shifts)
    return answer(_grid_plan(grid, every, told))


def _grid_plan(grid: grids.Grid, every: int, told: dict[str, Any]) -> GridPlan:
    return GridPlan(
        sentence=grids.sentence(grid),
        whole=NeedView(**vars(grids.need(grid, every))),
        part=NeedView(**vars(grids.need(grid, len(told["cells"])))),
        affordable=grids.affordable(grid),
        least=grids.least(grid),
        chosen=[list(c) for c in told["cells"]],
        tells=told["sentence"],
        cells=[
            CellView(cell=list(c), name=grids.cell_name(grid, c), barred=grid.barred.get(c))
            for c in grids.all_cells(grid)
        ],
        blocks=BlockView(**told["blocks"]) if told["blocks"] else None,
    )


@layout.post("/ladder-plans", responses={200: LadderPlan})
@require(Role.COOK)
def plan_ladder(body: LadderLayout) -> Response:
    """Staged pulls of a ladder, and what keeps it from answering."""
    ladder = ladders.ladder_from_record(body.model_dump())
    pulls = ladders.pulls(ladder) if ladders.can_be_pulled(ladder) else []
    return answer(
        LadderPlan(
            pulls=[
                shown(PullView, p, rung=ladders.say_rung(ladder, ladder.rungs[p.rung]), pot=p.pot + 1)
                for p in pulls
            ],
            problems=[f"{p.field}: {p.message}. {p.todo}" for p in ladders.check_ladder(ladder)],
        )
    )


@layout.post("/trials/<uuid:trial_id>/methods/<uuid:method_id>/versions", responses={201: TrialView})
@require(Role.COOK)
def next_version(path: MethodPath, body: VersionIn) -> Response:
    """A next version of a method, everything copied, with its change."""
    trial = open_trial(path.trial_id, edit=True)
    versions.add_version(
        db(),
        trial,
        method_of(trial, path.method_id),
        name=body.name,
        change=body.change,
        aimed_defect=body.aimed_defect,
    )
    return whole(trial, 201)


@layout.post("/trials/<uuid:trial_id>/methods/<uuid:method_id>/failed-tries", responses={200: TrialView})
@require(Role.COOK)
def count_failed_try(path: MethodPath, body: TryIn) -> Response:
    """Count a failed try at a version."""
    trial = open_trial(path.trial_id, edit=True)
    families.failed_try(method_of(trial, path.method_id), body.note)
    designs.touch(trial)
    return whole(trial)


@layout.post("/trials/<uuid:trial_id>/ways", responses={201: TrialView})
@require(Role.COOK)
def add_ways(path: TrialPath, body: WaysIn) -> Response:
    """Many methods at once, from a pasted table."""
    trial = open_trial(path.trial_id, edit=True)
    known = known_in_words(db(), own_side())
    rows = read_table(body.table, {k: t.name for k, t in known.items()}, [m.name for m in trial.methods])
    versions.add_ways(db(), trial, rows, known, kitchen.all_appliances(db()), body.base_technique)
    return whole(trial, 201)


@layout.put("/trials/<uuid:trial_id>/screening-verdicts", responses={200: TrialView})
@require(Role.COOK)
def set_verdicts(path: TrialPath, body: VerdictsIn) -> Response:
    """Words from the ladder for the ways of a screening."""
    trial = open_trial(path.trial_id, edit=True)
    words = trial.layout.get("words", [])
    for row in body.items:
        method = method_of(trial, row.method_id)
        if row.word and row.word not in words:
            raise ApiError(
                422, "Not a word of this ladder", f"{method.name}: choose one of {', '.join(words)}."
            )
        method.verdict_word, method.verdict_note = row.word, row.note.strip()
    designs.touch(trial)
    return whole(trial)


@layout.get("/trials/<uuid:trial_id>/best-few", responses={200: FewView})
@require(Role.COOK)
def get_best_few(path: TrialPath, query: FewQuery) -> Response:
    """The best of a screening, to go on to a closer trial."""
    trial = open_trial(path.trial_id)
    chosen, sentence = best_few(
        {str(m.id): m.verdict_word for m in trial.methods}, trial.layout.get("words", []), query.few
    )
    order = {str(m.id): m.position for m in trial.methods}
    return answer(FewView(method_ids=sorted(chosen, key=lambda k: order[k]), sentence=sentence))

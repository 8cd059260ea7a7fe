"""Set up: flags, labels and maps to print."""

from base64 import b64decode
from typing import Literal

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError
from yeasty.api.publish.endpoints import file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, require
from yeasty.api.shown import shown
from yeasty.core.setup import places as core
from yeasty.core.setup.labels import PAPERS, STOCKS, MapSheet, labels_html, maps_html
from yeasty.core.setup.labels import Tag as LabelTag
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.setup import queries as store
from yeasty.store.setup.tables import PlaceMap

labels = blueprint("labels", "set up")
PDF = "application/pdf"


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


def _paper(html: str, name: str) -> Response:
    return file_answer(b64decode(reckon("pdf", html=html)), PDF, name)


@labels.get("/label-stocks", responses={200: StockList})
@require(Role.COOK)
def list_stocks() -> Response:
    """Sheets of labels that are known."""
    return answer(
        StockList(
            items=[shown(StockView, s, key=k) for k, s in STOCKS.items()],
            papers=list(PAPERS),
        )
    )


@labels.get("/trials/<uuid:trial_id>/labels.pdf")
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


@labels.get("/trials/<uuid:trial_id>/maps.pdf")
@require(Role.COOK)
def maps_pdf(path: TrialPath, query: PaperQuery) -> Response:
    """Every map as laid and after its half-way turn, hand-overs after what they come from."""
    trial = open_trial(path.trial_id)
    sheets = [sheet for row in store.maps_of(db(), trial.id) for sheet in _sheets(row)]
    if not sheets:
        raise ApiError(409, "No maps yet", "Draw a map at Set up first.")
    marks = {m.tag: m.mark for m in trial.methods}
    return _paper(maps_html(sheets, marks, trial.title, query.paper), "maps.pdf")


def _sheets(row: PlaceMap) -> list[MapSheet]:
    m = row.core()
    laid = MapSheet(row.name, f"As laid{': ' + row.dealt_how if row.dealt_how else ''}.", m)
    if row.kind not in core.TURNED:
        return [laid]
    how = "After the half-way turn: pieces have moved, hot spots stay."
    return [laid, MapSheet(f"{row.name}, turned", how, core.turned(m))]

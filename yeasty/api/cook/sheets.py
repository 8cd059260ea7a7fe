"""Cook: the plan on paper and in a calendar."""

from base64 import b64decode
from typing import Literal

from flask import Response
from pydantic import BaseModel

from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import open_shift
from yeasty.api.cook.views import ShiftPath
from yeasty.api.publish.endpoints import file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import db, require, system, written
from yeasty.operations.cook import sheets as deeds
from yeasty.store.kitchen.people_tables import Role

sheets = blueprint("sheets", "cook")


class PaperQuery(BaseModel):
    """Paper to print on."""

    paper: Literal["A4", "Letter"] = "A4"


@sheets.get("/shifts/<uuid:shift_id>/run-sheet.pdf")
@require(Role.COOK)
def run_sheet(path: ShiftPath, query: PaperQuery) -> Response:
    """The whole shift in order of the clock, large type, with room to write."""
    html = deeds.run_sheet(db(), open_shift(path.shift_id), query.paper, system(), written())
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "run-sheet.pdf")


@sheets.get("/shifts/<uuid:shift_id>/calendar.ics")
@require(Role.COOK)
def calendar(path: ShiftPath) -> Response:
    """The shift as an iCalendar file: the serving window, and every long step with an alarm at its end."""
    book = deeds.calendar(db(), open_shift(path.shift_id))
    return file_answer(book, "text/calendar; charset=utf-8", "shift.ics")

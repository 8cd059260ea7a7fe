"""Cook: the plan on paper and in a calendar."""

from base64 import b64decode
from datetime import UTC, datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from flask import Response
from pydantic import BaseModel

from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import open_shift
from yeasty.api.cook.views import ShiftPath
from yeasty.api.problems import ApiError
from yeasty.api.publish.endpoints import file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import db, require, system
from yeasty.core.cook.run_sheet import Line, run_sheet_html
from yeasty.core.kernel.quantities_said import say_duration, say_temperature
from yeasty.core.kernel.steps import Attention, Phase
from yeasty.store.ask.tables import Trial
from yeasty.store.cook import queries as store
from yeasty.store.cook.tables import Batch, PlanRow, Shift
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import the_kitchen

sheets = blueprint("sheets", "cook")
# Steps at least this long get an alarm in the calendar [s]: the short ones are the bench's.
LONG_S = 15 * 60


class PaperQuery(BaseModel):
    """Paper to print on."""

    paper: Literal["A4", "Letter"] = "A4"


def _planned(shift_id: object) -> tuple[Shift, PlanRow, dict[str, Batch], Trial]:
    shift = open_shift(shift_id)  # type: ignore[arg-type]
    plan = store.newest_plan(db(), shift.id)
    if plan is None:
        raise ApiError(409, "No plan yet", "The plan is being made. Try again in a few seconds.")
    return shift, plan, {str(b.id): b for b in shift.batches}, db().get_one(Trial, shift.trial_id)


@sheets.get("/shifts/<uuid:shift_id>/run-sheet.pdf")
@require(Role.COOK)
def run_sheet(path: ShiftPath, query: PaperQuery) -> Response:
    """The whole shift in order of the clock, large type, with room to write."""
    shift, plan, batches, trial = _planned(path.shift_id)
    zone = ZoneInfo(the_kitchen(db()).time_zone)
    lines = []
    for p in sorted(plan.planned(), key=lambda p: (p.start, p.batch)):
        batch = batches[p.batch]
        record = next(s for s in batch.steps if s["key"] == p.step)
        facts = [
            record["appliance_name"],
            say_temperature(record["set_point_c"], system()) if record["set_point_c"] is not None else "",
            f"{record['power_w']:g} W" if record["power_w"] else "",
            *(c["text"] for c in record["cautions"][:1]),
        ]
        if record["phase"] != Phase.WASH_UP.value:
            lines.append(
                Line(
                    f"{datetime.fromtimestamp(p.start, UTC).astimezone(zone):%H:%M}",
                    batch.method.mark,
                    batch.method.tag,
                    record["what"],
                    " · ".join(f for f in facts if f),
                    say_duration(p.end - p.start),
                    record["attention"] == Attention.HANDS.value,
                )
            )
    serve = shift.serve_from.astimezone(zone)
    html = run_sheet_html(
        f"{trial.title}: {shift.name}",
        f"{'Plates one after another from' if shift.same_age else 'Plates meet'} {serve:%A %d %B, %H:%M}. "
        f"Plan {plan.number}, {plan.proof}.",
        lines,
        query.paper,
    )
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "run-sheet.pdf")


@sheets.get("/shifts/<uuid:shift_id>/calendar.ics")
@require(Role.COOK)
def calendar(path: ShiftPath) -> Response:
    """The shift as an iCalendar file: the serving window, and every long step with an alarm at its end."""
    from icalendar import Alarm, Calendar, Event

    shift, plan, batches, trial = _planned(path.shift_id)
    book = Calendar()
    book.add("prodid", "-//Yeasty Trial//run sheet//EN")
    book.add("version", "2.0")
    moment = plan.made_at.astimezone(UTC)

    def event(uid: str, summary: str, start: datetime, end: datetime) -> Event:
        e = Event()
        e.add("uid", f"{uid}@yeasty-trial")
        e.add("dtstamp", moment)
        e.add("summary", summary)
        e.add("dtstart", start)
        e.add("dtend", end)
        return e

    book.add_component(
        event(
            f"serve-{shift.id}",
            f"{trial.title}: {'plates one after another' if shift.same_age else 'plates meet'}",
            shift.serve_from.astimezone(UTC),
            shift.serve_until.astimezone(UTC),
        )
    )
    for p in plan.planned():
        record = next(s for s in batches[p.batch].steps if s["key"] == p.step)
        if p.end - p.start < LONG_S or record["phase"] == Phase.WASH_UP.value:
            continue
        tag = batches[p.batch].method.tag
        e = event(
            f"{p.batch}-{p.step}",
            f"{tag}: {record['what']}",
            datetime.fromtimestamp(p.start, UTC),
            datetime.fromtimestamp(p.end, UTC),
        )
        bell = Alarm()
        bell.add("action", "DISPLAY")
        bell.add("description", f"{tag}: {record['what']} ends")
        bell.add("trigger", timedelta(seconds=p.end - p.start))
        e.add_component(bell)
        book.add_component(e)
    return file_answer(book.to_ical(), "text/calendar; charset=utf-8", "shift.ics")

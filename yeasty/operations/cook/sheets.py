"""A plan on paper and in a calendar."""

from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from yeasty.core.cook.problem import PlannedStep
from yeasty.core.cook.run_sheet import Line, run_sheet_html
from yeasty.core.kernel.errors import Refused
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.quantities_said import say_duration, say_temperature
from yeasty.core.kernel.steps import Attention, Phase
from yeasty.core.kernel.text import Written, clock_time
from yeasty.store.ask.tables import Trial
from yeasty.store.cook import queries as store
from yeasty.store.cook.tables import Batch, PlanRow, Shift
from yeasty.store.kitchen.queries import the_kitchen

# Steps at least this long get an alarm in the calendar [s]: the short ones are the bench's.
LONG_S = 15 * 60
Record = dict[str, Any]


def _plan_of(db: Session, shift: Shift) -> PlanRow:
    plan = store.newest_plan(db, shift.id)
    if plan is None:
        raise Refused("shift", "has no plan yet", "The plan is being made. Try again in a few seconds.")
    return plan


def _steps(shift: Shift, plan: PlanRow) -> list[tuple[PlannedStep, Batch, Record]]:
    """What is planned, by the clock, without washing up."""
    batches = {str(b.id): b for b in shift.batches}
    found = []
    for p in sorted(plan.planned(), key=lambda p: (p.start, p.batch)):
        batch = batches[p.batch]
        record = next(s for s in batch.steps if s["key"] == p.step)
        if record["phase"] != Phase.WASH_UP.value:
            found.append((p, batch, record))
    return found


def run_sheet(db: Session, shift: Shift, paper: str, system: System, written: Written) -> str:
    """The whole shift in order of the clock, large type, with room to write, as HTML to be printed. What is
    done on another day than plates meet has its day beside it.

    Raises
    ------
    Refused : there is no plan yet
    """
    plan = _plan_of(db, shift)
    zone = ZoneInfo(the_kitchen(db).time_zone)
    lines = [
        Line(
            clock_time(p.start, zone, shift.serve_from.timestamp(), written),
            batch.method.mark,
            batch.method.tag,
            record["what"],
            " · ".join(f for f in _facts(record, system) if f),
            say_duration(p.end - p.start),
            record["attention"] == Attention.HANDS.value,
        )
        for p, batch, record in _steps(shift, plan)
    ]
    serve = shift.serve_from.astimezone(zone)
    meet = "Plates one after another from" if shift.same_age else "Plates meet"
    return run_sheet_html(
        f"{db.get_one(Trial, shift.trial_id).title}: {shift.name}",
        f"{meet} {serve:%A}, {written.day(serve)}, {written.time(serve)}. Plan {plan.number}, {plan.proof}.",
        lines,
        paper,
    )


def _facts(record: Record, system: System) -> list[str]:
    return [
        record["appliance_name"],
        say_temperature(record["set_point_c"], system) if record["set_point_c"] is not None else "",
        f"{record['power_w']:g} W" if record["power_w"] else "",
        *(c["text"] for c in record["cautions"][:1]),
    ]


def calendar(db: Session, shift: Shift) -> bytes:
    """The shift as an iCalendar file: the serving window, and every long step with an alarm at its end.

    Raises
    ------
    Refused : there is no plan yet
    """
    from icalendar import Alarm, Calendar, Event

    plan = _plan_of(db, shift)
    book = Calendar()
    book.add("prodid", "-//Yeasty Trial//run sheet//EN")
    book.add("version", "2.0")

    def event(uid: str, summary: str, start: datetime, end: datetime) -> Event:
        e = Event()
        e.add("uid", f"{uid}@yeasty-trial")
        e.add("dtstamp", plan.made_at.astimezone(UTC))
        e.add("summary", summary)
        e.add("dtstart", start.astimezone(UTC))
        e.add("dtend", end.astimezone(UTC))
        book.add_component(e)
        return e

    meet = "plates one after another" if shift.same_age else "plates meet"
    title = f"{db.get_one(Trial, shift.trial_id).title}: {meet}"
    event(f"serve-{shift.id}", title, shift.serve_from, shift.serve_until)
    for p, batch, record in _steps(shift, plan):
        if p.end - p.start < LONG_S:
            continue
        what = f"{batch.method.tag}: {record['what']}"
        start, end = (datetime.fromtimestamp(t, UTC) for t in (p.start, p.end))
        bell = Alarm()
        bell.add("action", "DISPLAY")
        bell.add("description", f"{what} ends")
        bell.add("trigger", timedelta(seconds=p.end - p.start))
        event(f"{p.batch}-{p.step}", what, start, end).add_component(bell)
    return bytes(book.to_ical())

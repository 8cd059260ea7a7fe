"""Cook: what lies ahead of a bench. Ready-times, pull advice, the safety clock, circuits, what touches
what.
"""

import time
from zoneinfo import ZoneInfo

from flask import Response
from pydantic import BaseModel

from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import open_shift
from yeasty.api.cook.views import ShiftPath
from yeasty.api.problems import ApiError
from yeasty.api.reckon import reckon
from yeasty.api.request import db, require, system, told, written
from yeasty.api.shared_answers import shared
from yeasty.api.shown import shown
from yeasty.core.cook.probe_faults import Doubt
from yeasty.core.cook.unmeasured import Unmeasured
from yeasty.core.kernel.quantities_said import say_temperature
from yeasty.core.kernel.text import clock_time
from yeasty.core.safety.circuits import CODES_FIRST
from yeasty.operations.cook import outlook as store
from yeasty.operations.safety.batches import BatchSafety
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import the_kitchen

# All screens of a bench ask a moment after each entry.
_KEEP_S = 1.5
outlook = blueprint("outlook", "cook")


class ForecastView(BaseModel):
    """A batch's core ahead of now; moments in seconds since 1970, curve as [time, low, middle, high] in
    °C.
    """

    basis: str
    ready_at: float | None
    ready_low: float | None
    ready_high: float | None
    core_c: float | None
    target_c: float | None
    curve: list[list[float]]
    pull_c: float | None
    pull_at: float | None
    why_not: str
    soonest_at: float | None
    sentence: str
    pull: str


class AskedView(BaseModel):
    """A question that has to be answered before the batch is tasted."""

    key: str
    text: str


class LowReading(BaseModel):
    """A low core reading that names no piece: it bars until it is cleared by an act."""

    id: str
    celsius: float
    at: float


class BatchOutlook(BaseModel):
    """What lies ahead of a batch, and how it stands: `core` and `zone` in words, time between cold and hot
    [s], and until when it may be used [s since 1970].
    """

    batch: str
    forecast: ForecastView | None
    core: str
    core_standing: str
    zone: str
    zone_spent_s: float
    zone_use_by: float | None
    zone_late: str
    may_taste: bool
    barred_by: list[str]
    owned: str
    doubt: str
    doubt_since: float | None
    advice: str
    read_again_at: float | None
    asked: list[AskedView]
    low: list[LowReading]


class CircuitView(BaseModel):
    """The heaviest moment of a circuit."""

    circuit: str
    sentence: str
    over: bool
    unknown: bool


class TwiceView(BaseModel):
    """Two entries that seem to say one thing."""

    first: str
    second: str
    batch: str
    what: str


class OutlookView(BaseModel):
    """What lies ahead of a shift."""

    batches: list[BatchOutlook]
    planned: list[CircuitView]
    running: list[CircuitView]
    carrying: list[str]
    twice: list[TwiceView]
    unmeasured: list[Unmeasured]
    codes_first: str
    reckoning: bool
    made_at: float


def _forecast(told: dict, tag: str, target: float | None, now: float, zone: ZoneInfo) -> ForecastView:  # type: ignore[type-arg]
    from yeasty.core.kernel.quantities_said import say_duration

    def clock(at: float) -> str:
        return clock_time(at, zone, now, written())

    said = ""
    if told["ready_at"] is not None and target is not None:
        spread = say_duration(60 * max(1, round((told["ready_high"] - told["ready_low"]) / 120)))
        core = (
            f" core {say_temperature(round(told['core_c'], 0), system())},"
            if told["core_c"] is not None
            else ""
        )
        by = "by its probe" if told["basis"] == "probe" else "from its size, no probe yet"
        goal = say_temperature(target, system())
        if told["ready_at"] < now - 30:
            said = f"{tag}{core} should be at {goal} since {clock(told['ready_at'])}: read it."
        else:
            said = f"{tag}{core} reaches {goal} at {clock(told['ready_at'])} ± {spread}, {by}."
    elif told["why_not"]:
        core = (
            f" core {say_temperature(round(told['core_c'], 0), system())}"
            if told["core_c"] is not None
            else ""
        )
        said = f"{tag}{core}: {told['why_not']}"
    pull = ""
    # Once the target's own time is past, the next thing is a reading, not advice on one that is old.
    if told["pull_at"] is not None and target is not None and told["ready_at"] > now:
        goal, at = say_temperature(target, system()), say_temperature(round(told["pull_c"], 0), system())
        when = f"take it out at {at}, about {clock(told['pull_at'])}"
        if (told["core_c"] or -99.0) >= told["pull_c"]:
            when = "take it out now"
        elif told["pull_at"] <= now:
            when = f"by now it should be at {at}: read it, and take it out if it is"
        pull = f"{tag}: {when}; it coasts to about {goal}. Read it again after the rest."
    return ForecastView(**told, target_c=target, sentence=said, pull=pull)


def _standing(
    batch_id: str, safety: BatchSafety, forecast: ForecastView | None, said: Doubt | None
) -> BatchOutlook:
    core, zone, gate = safety.core, safety.zone, safety.gate
    return BatchOutlook(
        batch=batch_id,
        forecast=forecast,
        core=core.sentence if core else "",
        core_standing=core.standing.value if core else "",
        zone=zone.sentence if zone and zone.spent_s else "",
        zone_spent_s=zone.spent_s if zone else 0.0,
        zone_use_by=zone.use_by if zone else None,
        zone_late=zone.late if zone else "",
        may_taste=gate.open,
        barred_by=list(gate.barred_by),
        owned=gate.owned,
        doubt=said.sentence if said else "",
        doubt_since=said.since if said else None,
        advice=safety.advice.text if safety.advice else "",
        read_again_at=safety.advice.again_at if safety.advice else None,
        asked=[shown(AskedView, a) for a in safety.asked],
        low=[shown(LowReading, r) for r in safety.low],
    )


@outlook.get("/shifts/<uuid:shift_id>/outlook", responses={200: OutlookView})
@require(Role.COOK)
def get_outlook(path: ShiftPath) -> Response:
    """When cores will be there, when to pull, how long food has been between cold and hot, and what circuits
    carry.
    """
    shift = open_shift(path.shift_id)
    if shift.clock_rate is not None:
        return told(outlook_view(shift).model_dump_json())
    key = (shift.id, shift.last_number, shift.ended_at, system(), written())
    return told(shared("outlook", _KEEP_S).get(key, lambda: outlook_view(shift).model_dump_json()))


def outlook_view(shift: Shift) -> OutlookView:
    """What lies ahead of a shift, as it is now."""
    now = shift.clock().at(time.time())
    found = store.outlook_of(db(), shift, now)
    zone = ZoneInfo(the_kitchen(db()).time_zone)
    ids = list(found.questions)
    answers = []
    reckoning = True
    if ids:
        try:
            answers = reckon("forecasts", questions=[found.questions[i] for i in ids])
        except ApiError:
            reckoning = False
    forecasts = dict(zip(ids, answers, strict=False))
    views = []
    for b in shift.batches:
        f = forecasts.get(b.id)
        target = found.questions[b.id]["target_c"] if b.id in found.questions else None
        tag = b.method.tag + (f" {b.replicate}" if b.replicate > 1 else "")
        views.append(
            _standing(
                str(b.id),
                found.safety[b.id],
                _forecast(f, tag, target, now, zone) if f else None,
                found.doubts.get(b.id),
            )
        )
    return OutlookView(
        batches=views,
        planned=[shown(CircuitView, c, unknown=bool(c.unknown)) for c in found.planned],
        running=[shown(CircuitView, c, unknown=bool(c.unknown)) for c in found.running],
        carrying=list(found.carrying),
        twice=[shown(TwiceView, t) for t in found.twice],
        unmeasured=list(found.unmeasured),
        codes_first=CODES_FIRST,
        reckoning=reckoning,
        made_at=now,
    )

"""A shift as a cook wishes it: what is not said is proposed, what cannot be is told."""

import time
import uuid
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Protocol

from sqlalchemy.orm import Session

from yeasty.core.cook.problem import usual_window_s
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.kernel.errors import RuleError
from yeasty.operations.cook.shifts import make_shift
from yeasty.store.ask import queries as trials
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Shift

MOST_BATCHES = 20


class Wishes(Protocol):
    """When the plates meet, who is there, what is cooked how often; times in s, temperatures in °C."""

    name: str
    serve_from: datetime
    window_s: float | None
    same_age: bool
    people: int
    replicates: dict[uuid.UUID, int]
    walk_s: float
    written_up: bool
    speed: float | None
    room_c: float | None
    weather: str
    cooks: str


def shift_as_wished(db: Session, trial: Trial, wished: Wishes, *, by: str) -> Shift:
    """A shift with its batches: each method once where nothing is said, and who asks cooks.

    Raises
    ------
    RuleError : a method of another trial, too many batches, a simulated shift of another day, or what
        `make_shift` refuses
    """
    serve_from = wished.serve_from if wished.serve_from.tzinfo else wished.serve_from.replace(tzinfo=UTC)
    _check_day(serve_from, wished.speed)
    replicates = _replicates(trial, wished.replicates)
    window_s = wished.window_s
    if window_s is None:
        window_s = usual_window_s(sum(replicates.values()), same_age=wished.same_age)
    shift = make_shift(
        db,
        trial,
        name=wished.name or f"Shift of {serve_from:%d %b}",
        serve_from=serve_from,
        serve_until=serve_from + timedelta(seconds=window_s),
        people=wished.people,
        replicates=replicates,
        appliances=trials.appliances_of(db, trial),
        walk_s=wished.walk_s,
        same_age=wished.same_age,
        clock=ShiftClock(time.time(), time.time(), wished.speed) if wished.speed else None,
        written_up=wished.written_up,
    )
    shift.room_c, shift.weather = wished.room_c, wished.weather.strip()
    shift.cooks = wished.cooks.strip() or by
    return shift


def _replicates(trial: Trial, wished: Mapping[uuid.UUID, int]) -> Mapping[uuid.UUID, int]:
    known = {m.id for m in trial.methods}
    if set(wished) - known:
        raise RuleError("batches", "name a method of another trial", "Reload and choose again.")
    if any(not 0 <= n <= MOST_BATCHES for n in wished.values()):
        raise RuleError(
            "batches", f"of one method must be 0 to {MOST_BATCHES}", "Choose fewer, or a second shift."
        )
    return wished or dict.fromkeys(known, 1)


def _check_day(serve_from: datetime, speed: float | None) -> None:
    if speed and serve_from > now() + timedelta(days=2):
        raise RuleError(
            "serving time",
            "is more than two days away",
            "On simulated time the clock starts now: choose a time of today or tomorrow.",
        )

"""Cook: what another pair of hands, another appliance or a later table would come to, before it is taken."""

import time
from dataclasses import asdict, replace
from datetime import timedelta
from typing import Any

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import ask_for_plan, open_shift, told_shift
from yeasty.api.cook.views import ShiftPath, ShiftView
from yeasty.api.kitchen.slow_work import still_wanted, stoppable
from yeasty.api.problems import ApiError
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, require
from yeasty.core.cook.problem import Problem
from yeasty.core.kernel.slow_work import WorkKind
from yeasty.operations.cook.problems import Progress, problem_now, progress
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.people_tables import Role

what_if = blueprint("what_if", "cook")
# For each of the compared plans [s].
EACH_S = 1.5


class WhatIfIn(BaseModel):
    """What is changed against the shift as it is."""

    more_people: int = Field(default=0, ge=0, le=3)
    later_min: int = Field(default=0, ge=-240, le=480)
    another: str = Field(
        default="", max_length=40, description="id of an appliance of which there would be one more"
    )


class WhatIfList(BaseModel):
    """Up to four changes to compare; the shift as it is stands first in the answer."""

    items: list[WhatIfIn] = Field(min_length=1, max_length=4)


class WhatIfOutcome(BaseModel):
    """What a plan would come to [s since 1970, s]."""

    words: str
    begins: float | None
    served_from: float | None
    served_until: float | None
    longest_hold_s: float
    hurried: float | None
    proof: str
    notes: list[str]


class WhatIfAnswer(BaseModel):
    """Outcomes, the shift as it is first; and the appliances of which another could be asked for."""

    items: list[WhatIfOutcome]
    appliances: dict[str, str]


class WindowIn(BaseModel):
    """The serving window moved, and how many pairs of hands there are: asked, never done silently."""

    later_min: int = Field(default=0, ge=-240, le=480)
    people: int | None = Field(default=None, ge=1, le=4)


def _changed(problem: Problem, w: WhatIfIn) -> Problem:
    moved = replace(
        problem,
        people=min(4, problem.people + w.more_people),
        serve_from=problem.serve_from + 60 * w.later_min,
        serve_until=problem.serve_until + 60 * w.later_min,
    )
    if not w.another:
        return moved
    place = next((p for p in moved.places if p.key == w.another), None)
    if place is None:
        raise ApiError(422, "Not in this shift", "Choose an appliance that a batch uses.")
    # Every second batch that uses it goes to the other one, on a circuit of its own.
    users = [c.batch for c in moved.chains if any(s.appliance == place.key for s in c.steps)]
    away = set(users[1::2])
    twin = replace(place, key=f"{place.key}-twin", circuit="")
    chains = tuple(
        replace(
            c, steps=tuple(replace(s, appliance=twin.key) if s.appliance == place.key else s for s in c.steps)
        )
        if c.batch in away
        else c
        for c in moved.chains
    )
    return replace(moved, chains=chains, places=(*moved.places, twin))


def _words(w: WhatIfIn, names: dict[str, str]) -> str:
    said = []
    if w.more_people:
        said.append(f"{w.more_people} more pair{'' if w.more_people == 1 else 's'} of hands")
    if w.later_min:
        said.append(f"{abs(w.later_min)} min {'later' if w.later_min > 0 else 'earlier'}")
    if w.another:
        said.append(f"another {names.get(w.another, 'appliance').lower()}")
    return ", ".join(said) or "as it is"


@what_if.post("/shifts/<uuid:shift_id>/what-ifs", responses={200: WhatIfAnswer})
@require(Role.COOK)
@stoppable(WorkKind.WHAT_IF)
def compare(path: ShiftPath, body: WhatIfList) -> Response:
    """Plans side by side before one is taken; nothing is changed."""
    shift = open_shift(path.shift_id)
    now_ = progress(db(), shift)
    if not now_.free:
        raise ApiError(409, "Everything has begun", "There is nothing left to plan otherwise.")
    problem = _from_now(shift, now_)
    names = {p.key: p.name for p in problem.places}
    found: list[WhatIfOutcome] = []
    for w in [WhatIfIn(), *body.items]:
        still_wanted()
        asked = asdict(_changed(problem, w))
        told: dict[str, Any] = reckon("plan_summary", problem=asked, time_limit_s=EACH_S)
        found.append(WhatIfOutcome(words=_words(w, names), **told))
    return answer(WhatIfAnswer(items=found, appliances=names))


def _from_now(shift: Shift, now_: Progress) -> Problem:
    at = shift.clock().at(time.time())
    problem = problem_now(db(), shift, now_, at, keep_near=False)
    return problem if problem.not_before is not None else replace(problem, not_before=at)


@what_if.post("/shifts/<uuid:shift_id>/window", responses={200: ShiftView})
@require(Role.COOK)
def move_window(path: ShiftPath, body: WindowIn) -> Response:
    """Move the serving window or say how many pairs of hands there are, and plan again."""
    shift = open_shift(path.shift_id)
    shift.serve_from += timedelta(minutes=body.later_min)
    shift.serve_until += timedelta(minutes=body.later_min)
    shift.people = body.people or shift.people
    db().flush()
    ask_for_plan(shift.id)
    return told_shift(shift)

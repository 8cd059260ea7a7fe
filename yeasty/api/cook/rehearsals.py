"""Cook: rehearsals, gone through on simulated time with stand-ins, and then for real."""

from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import ask_for_plan, open_shift, told_shift
from yeasty.api.cook.views import ShiftPath, ShiftView
from yeasty.api.request import answer, db, me, require
from yeasty.core.cook.mishaps import NAMES, Mishap
from yeasty.core.cook.rehearsed import Rehearsed
from yeasty.operations.cook import rehearsals as deeds
from yeasty.store.cook.rehearsals import rehearsal_of
from yeasty.store.cook.tables import RehearsalState, Shift
from yeasty.store.kitchen.people_tables import Role

rehearsals = blueprint("rehearsals", "cook")


class RehearsalIn(BaseModel):
    """How it is gone through."""

    hands: bool = Field(default=True, description="a stand-in cooks too; else whoever rehearses taps")
    mishaps: list[Mishap] = Field(default=[], max_length=len(Mishap))


class BesideIn(RehearsalIn):
    """A rehearsal beside a planned shift, and how fast it goes."""

    speed: float = Field(default=20, ge=1, le=60)


class MishapView(BaseModel):
    """A mishap, and why it can't happen in this shift; "" where it can."""

    mishap: Mishap
    name: str
    why_not: str


class RehearsalView(BaseModel):
    """A rehearsal; `state` is null where nobody asked for stand-ins yet, `report` while there is no plan."""

    state: RehearsalState | None
    problem: str
    hands: bool
    mishaps: list[Mishap]
    of_shift_id: UUID | None
    possible: list[MishapView]
    report: Rehearsed | None


def _view(shift: Shift) -> RehearsalView:
    row = rehearsal_of(db(), shift.id)
    return RehearsalView(
        state=RehearsalState(row.state) if row else None,
        problem=row.problem if row else "",
        hands=row.hands if row else True,
        mishaps=deeds.chosen(row.mishaps) if row else [],
        of_shift_id=row.of_shift_id if row else None,
        possible=[
            MishapView(mishap=m, name=NAMES[m], why_not=why) for m, why in deeds.possible(db(), shift).items()
        ],
        report=deeds.report(db(), shift),
    )


@rehearsals.post("/shifts/<uuid:shift_id>/rehearsals", responses={201: ShiftView})
@require(Role.COOK)
def rehearse(path: ShiftPath, body: BesideIn) -> Response:
    """A rehearsal of a planned shift, made beside it and begun."""
    shift = open_shift(path.shift_id)
    made = deeds.beside(db(), open_trial(shift.trial_id), shift, body.speed)
    row = deeds.start(db(), made, me().id, hands=body.hands, mishaps=body.mishaps)
    row.of_shift_id = shift.id
    ask_for_plan(made.id)
    return told_shift(made, 201)


@rehearsals.get("/shifts/<uuid:shift_id>/rehearsal", responses={200: RehearsalView})
@require(Role.COOK)
def get_rehearsal(path: ShiftPath) -> Response:
    """How a rehearsal goes, and what it showed so far."""
    return answer(_view(open_shift(path.shift_id)))


@rehearsals.put("/shifts/<uuid:shift_id>/rehearsal", responses={200: RehearsalView})
@require(Role.COOK)
def start_rehearsal(path: ShiftPath, body: RehearsalIn) -> Response:
    """Call the stand-ins of a shift on simulated time."""
    shift = open_shift(path.shift_id)
    deeds.start(db(), shift, me().id, hands=body.hands, mishaps=body.mishaps)
    return answer(_view(shift))


@rehearsals.post("/shifts/<uuid:shift_id>/rehearsal/end", responses={200: RehearsalView})
@require(Role.COOK)
def end_rehearsal(path: ShiftPath) -> Response:
    """Let the stand-ins go; what was logged stays to be read."""
    shift = open_shift(path.shift_id)
    deeds.end(db(), shift)
    return answer(_view(shift))


@rehearsals.post("/shifts/<uuid:shift_id>/for-real", responses={201: ShiftView, 200: ShiftView})
@require(Role.COOK)
def for_real(path: ShiftPath) -> Response:
    """The same shift on the kitchen's own clock: the one that was rehearsed, or a new one as soon as it can
    be.
    """
    shift = open_shift(path.shift_id)
    real, made = deeds.for_real(db(), open_trial(shift.trial_id), shift)
    if made:
        real.cooks = real.cooks or me().person.name
        ask_for_plan(real.id)
    return told_shift(real, 201 if made else 200)

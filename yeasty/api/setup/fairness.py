"""Set up: what differs besides what is meant to, in the design and in what was really done; conversions
offered.
"""

from typing import Any
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import TrialPath, TrialView
from yeasty.api.blueprint import blueprint
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, each, require, system
from yeasty.api.shown import shown
from yeasty.core.setup.sways import STRENGTHS
from yeasty.operations.ask import designs, facts, mending
from yeasty.operations.setup import weighing
from yeasty.store.ask.tables import AcceptedDifference
from yeasty.store.base import now
from yeasty.store.kitchen.people_tables import Role

fairness = blueprint("fairness", "set up")


class SwayPullView(BaseModel):
    """What a field sways: an attribute, how hard, why."""

    attribute: str
    strength: int
    words: str
    reason: str
    status: str


class DifferenceView(BaseModel):
    """A field that differs, how that stands, and what it sways."""

    field: str
    values: dict[str, str]
    varied: bool
    result: bool
    signature: str
    accepted: str | None
    sways: list[SwayPullView]


class FairnessView(BaseModel):
    """What differs, and what of it is open."""

    sentence: str
    claim: str
    open_count: int
    shifts: list[str] = Field(description="what the way its batches lie in shifts leaves open")
    credited: str
    differences: list[DifferenceView]


class DepartureView(BaseModel):
    """Where a batch departed from its own plan."""

    tag: str
    replicate: int
    what: str
    planned: str
    done: str


class AsDoneView(BaseModel):
    """What differs in what was really done."""

    sentence: str
    claim: str
    batches: list[str]
    differences: list[DifferenceView]
    not_in_all: list[str]
    departures: list[DepartureView]


class Acceptance(BaseModel):
    """A difference accepted in writing, as it stands now."""

    field: str
    signature: str
    reason: str = Field(min_length=3, max_length=500)


class OfferView(BaseModel):
    """A step worked out again for this kitchen; `source` says by which rule, from what, with how many own
    records.
    """

    method_id: str
    step_id: str
    what: str
    field: str
    written: float
    offered: float
    low: float
    high: float
    also: dict[str, float]
    rule: str
    source: str
    records: int


class OfferList(BaseModel):
    """Conversions offered to a trial's steps."""

    items: list[OfferView]


def _difference(w: weighing.Weighed) -> DifferenceView:
    return shown(
        DifferenceView,
        w.difference,
        values=dict(w.difference.values),
        accepted=w.accepted,
        sways=each(w.pulls, lambda p: shown(SwayPullView, p, words=STRENGTHS[p.strength])),
    )


@fairness.get("/trials/<uuid:trial_id>/fairness", responses={200: FairnessView})
@require(Role.COOK)
def get_fairness(path: TrialPath) -> Response:
    """What differs between the methods, and what of it is neither meant nor accepted."""
    trial = open_trial(path.trial_id)
    found = weighing.as_designed(db(), trial, system())
    return answer(
        shown(
            FairnessView,
            found,
            shifts=list(found.shifts),
            credited=str(trial.layout.get("credited") or ""),
            differences=each(found.items, _difference),
        )
    )


@fairness.get("/trials/<uuid:trial_id>/fairness/as-done", responses={200: AsDoneView})
@require(Role.COOK)
def get_as_done(path: TrialPath) -> Response:
    """The same comparison on what was really done, from the log: batches that are judged."""
    found = weighing.as_done(db(), open_trial(path.trial_id), system())
    departures = [shown(DepartureView, d, tag=t, replicate=r) for t, r, d in found.departures]
    return answer(shown(AsDoneView, found, differences=each(found.items, _difference), departures=departures))


@fairness.get("/trials/<uuid:trial_id>/offers", responses={200: OfferList})
@require(Role.COOK)
def get_offers(path: TrialPath) -> Response:
    """Steps worked out again for this kitchen's appliances and altitude."""
    trial = open_trial(path.trial_id)
    what = {str(s.id): (str(m.id), s.what) for m in trial.methods for s in m.steps}
    found = reckon("step_offers", **facts.offer_question(db(), trial))
    return answer(OfferList(items=[_offer(o, *what[o["step_key"]]) for o in found]))


def _offer(o: dict[str, Any], method: str, what: str) -> OfferView:
    return OfferView(
        method_id=method,
        step_id=o["step_key"],
        what=what,
        field=o["field"],
        written=o["written"],
        offered=o["offered"]["value"],
        low=o["offered"]["low"],
        high=o["offered"]["high"],
        also=o["also"],
        rule=o["rule"],
        source=o["source"],
        records=o["records"],
    )


class Mend(BaseModel):
    """A field to be made the same in all methods, as it is in one of them."""

    field: str
    like: UUID


@fairness.post("/trials/<uuid:trial_id>/mended-differences", responses={200: TrialView})
@require(Role.COOK)
def mend_difference(path: TrialPath, body: Mend) -> Response:
    """Make a field the same in all methods, as it is in one: amounts, weights, vessel, lid, place, operator,
    start temperature.
    """
    trial = open_trial(path.trial_id, edit=True)
    mending.mend(db(), trial, body.field, body.like)
    return whole(trial)


@fairness.post("/trials/<uuid:trial_id>/accepted-differences", responses={200: TrialView})
@require(Role.COOK)
def accept_difference(path: TrialPath, body: Acceptance) -> Response:
    """Accept a difference in writing, for the values it has now."""
    trial = open_trial(path.trial_id, edit=True)
    trial.accepted[:] = [a for a in trial.accepted if a.field != body.field]
    db().flush()
    trial.accepted.append(
        AcceptedDifference(
            field=body.field, signature=body.signature, reason=body.reason.strip(), accepted_at=now()
        )
    )
    designs.touch(trial)
    return whole(trial)

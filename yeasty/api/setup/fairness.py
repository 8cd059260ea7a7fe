"""Set up: what differs besides what is meant to, in the design and in what was really done; conversions
offered.
"""

from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import TrialPath, TrialView
from yeasty.api.blueprint import blueprint
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, require, system
from yeasty.api.shown import shown
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.cook.as_done import in_all
from yeasty.core.setup.claimed import claim, claim_links, sentence, sentence_as_done
from yeasty.core.setup.differences import Difference, compare, results_by
from yeasty.core.setup.sittings import what_shifts_tell
from yeasty.core.setup.sways import STRENGTHS, Sway, merged, pulls, weight
from yeasty.operations.ask import designs, facts, mending
from yeasty.operations.cook.as_done import facts_as_done
from yeasty.operations.setup.fairness import cells_tell, design_differences
from yeasty.operations.setup.sittings import in_shifts
from yeasty.store.ask.tables import AcceptedDifference, Trial
from yeasty.store.base import now
from yeasty.store.kitchen import library
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


def _views(
    trial: Trial, found: list[Difference], lines: list[Sway], accepted: dict[tuple[str, str], str]
) -> list[DifferenceView]:
    attributes = [a.spec() for a in trial.attributes]
    views = [
        shown(
            DifferenceView,
            d,
            values=dict(d.values),
            accepted=accepted.get((d.field, d.signature)),
            sways=[
                shown(SwayPullView, p, words=STRENGTHS[p.strength]) for p in pulls(d.field, attributes, lines)
            ],
        )
        for d in found
    ]
    heavy = {d.field: weight(d.field, attributes, lines) for d in found}
    return sorted(
        views, key=lambda v: (v.result, v.varied or v.accepted is not None, -heavy[v.field], v.field)
    )


def _claim(trial: Trial, views: list[DifferenceView]) -> str:
    return claim(
        TrialKind(trial.kind),
        Fairness(trial.fairness),
        DoneRule(trial.done_rule),
        [v.field for v in views if v.varied],
        [v.field for v in views if not v.varied and not v.result and v.accepted is not None],
        [v.field for v in views if not v.varied and not v.result and v.accepted is None],
        str(trial.layout.get("credited") or ""),
        cells_tell(trial),
    )


def fairness_view(trial: Trial) -> FairnessView:
    """Differences, how each stands and what it sways, the sentence and what can be claimed."""
    accepted = {(a.field, a.signature): a.reason for a in trial.accepted}
    found, steps = design_differences(db(), trial, system())
    views = _views(trial, found, merged(library.own_sways(db())), accepted)
    still = [v.field for v in views if not v.varied and not v.result and v.accepted is None]
    settled = sum(1 for v in views if v.accepted is not None and not v.varied)
    words = sentence(still, settled, sum(1 for v in views if v.varied))
    told = (
        claim_links(steps)
        if steps and TrialKind(trial.kind) is not TrialKind.ONE_CHANGE
        else _claim(trial, views)
    )
    return FairnessView(
        sentence=words,
        claim=told,
        open_count=len(still),
        shifts=list(what_shifts_tell(in_shifts(db(), trial))),
        credited=str(trial.layout.get("credited") or ""),
        differences=views,
    )


@fairness.get("/trials/<uuid:trial_id>/fairness", responses={200: FairnessView})
@require(Role.COOK)
def get_fairness(path: TrialPath) -> Response:
    """What differs between the methods, and what of it is neither meant nor accepted."""
    return answer(fairness_view(open_trial(path.trial_id)))


@fairness.get("/trials/<uuid:trial_id>/fairness/as-done", responses={200: AsDoneView})
@require(Role.COOK)
def get_as_done(path: TrialPath) -> Response:
    """The same comparison on what was really done, from the log: batches that are judged."""
    trial = open_trial(path.trial_id)
    columns, departures = facts_as_done(db(), trial, system())
    compared, partly = in_all(columns)
    found = (
        compare(compared, trial.varied, results=results_by(DoneRule(trial.done_rule)))
        if len(columns) > 1
        else []
    )
    # What was accepted in the design is accepted here by its field: as cooked its values are never quite
    # those written.
    reasons = {a.field: a.reason for a in trial.accepted}
    accepted = {(d.field, d.signature): reasons[d.field] for d in found if d.field in reasons}
    views = _views(trial, found, merged(library.own_sways(db())), accepted)
    still = [v.field for v in views if not v.varied and not v.result and v.accepted is None]
    return answer(
        AsDoneView(
            sentence=sentence_as_done(len(columns), still),
            claim=_claim(trial, views) if len(columns) > 1 else "",
            batches=list(columns),
            differences=views,
            not_in_all=partly if len(columns) > 1 else [],
            departures=[shown(DepartureView, d, tag=t, replicate=r) for t, r, d in departures],
        )
    )


@fairness.get("/trials/<uuid:trial_id>/offers", responses={200: OfferList})
@require(Role.COOK)
def get_offers(path: TrialPath) -> Response:
    """Steps worked out again for this kitchen's appliances and altitude."""
    trial = open_trial(path.trial_id)
    what = {str(s.id): (str(m.id), s.what) for m in trial.methods for s in m.steps}
    found = reckon("step_offers", **facts.offer_question(db(), trial))
    items = [
        OfferView(
            method_id=what[o["step_key"]][0],
            step_id=o["step_key"],
            what=what[o["step_key"]][1],
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
        for o in found
    ]
    return answer(OfferList(items=items))


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

"""Taste, for the kitchen: tastings are laid, links handed over, codes opened, what was found is told."""

import time
from uuid import UUID

from flask import Response, current_app

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.outlook import AskedView, LowReading
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, each, me, require, written
from yeasty.api.shown import shown
from yeasty.api.taste.told import (
    Beside,
    panelist_view,
    tasting_view,
    test_views,
)
from yeasty.api.taste.views import (
    Candidate,
    NewTasting,
    PanelistChange,
    PersonPath,
    RoundIn,
    SameAnswer,
    SamePerson,
    ServedIn,
    TastingList,
    TastingPlan,
    TastingView,
)
from yeasty.core.cook.measures import Standing
from yeasty.core.taste.tests import Settings
from yeasty.operations.cook.shifts import evenings
from yeasty.operations.safety.batches import gates_of_trial
from yeasty.operations.taste import panels, plans, serving
from yeasty.operations.taste import people as tasters
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import wake
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.taste import queries as tastings
from yeasty.store.taste.tables import Tasting

taste = blueprint("taste", "taste")


def _candidates(trial_id: UUID) -> list[Candidate]:
    """A trial's batches, unsafe and void ones barred with the reason."""
    on = evenings(db(), trial_id, written())
    return [
        Candidate(
            batch_id=str(batch.id),
            method_id=str(batch.method_id),
            words=f"{batch.method.tag} {batch.method.name}, batch {batch.replicate}, {on[batch.shift_id]}"
            + (f", rescued: {m.why}" if m.standing is Standing.RESCUE else ""),
            may=g.open and m.complete and m.standing not in serving.NEVER,
            later=m.standing not in serving.NEVER and not m.complete,
            why_not=" ".join(g.barred_by) or ("Not finished." if not m.complete else ""),
            tells=list(g.tells),
            owned=g.owned,
            may_be_owned=m.standing not in serving.NEVER and not g.open and g.may_be_owned,
            asked=[shown(AskedView, a) for a in s.asked],
            low=[shown(LowReading, r) for r in s.low],
        )
        for batch, m, g, s in gates_of_trial(db(), trial_id, time.time())
    ]


@taste.get("/trials/<uuid:trial_id>/tastings", responses={200: TastingList})
@require(Role.COOK)
def list_tastings(path: TrialPath) -> Response:
    """Tastings of a trial, and what a new one can be made of."""
    rows = tastings.tastings_of(db(), path.trial_id)
    beside = Beside.of(rows)
    known = tasters.may_sit(db())
    return answer(
        TastingList(
            items=each(rows, lambda t: tasting_view(t, beside)),
            candidates=_candidates(path.trial_id),
            tests=test_views(),
            panelists=[panelist_view(p) for p in known],
            same_person=[
                SamePerson(one=panelist_view(a), other=panelist_view(b))
                for a, b in tasters.maybe_the_same(known)
            ],
        )
    )


def _plan(r: RoundIn) -> panels.RoundPlan:
    return panels.RoundPlan(
        [panels.Served(s.batch_id, s.outside.strip(), s.piece, s.state, s.twice) for s in r.samples],
        r.test,
        r.name,
        r.part,
        r.condition,
        r.age,
        [str(a) for a in r.attributes],
        Settings(**r.settings.model_dump()),
        r.break_s,
    )


@taste.post("/trials/<uuid:trial_id>/tastings", responses={201: TastingView})
@require(Role.COOK)
def new_tasting(path: TrialPath, body: NewTasting) -> Response:
    """A tasting with codes and orders. Batches that are void or not read as cooked through are barred."""
    trial = open_trial(path.trial_id)
    tasting = _laid(trial, body)
    db().refresh(tasting)
    wake(db(), tasting.trial_id)
    return answer(tasting_view(tasting), 201)


def _laid(trial: Trial, body: NewTasting) -> Tasting:
    rounds = body.rounds or [shown(RoundIn, body, samples=[ServedIn(batch_id=b) for b in body.batches])]
    plans = [_plan(r) for r in rounds]
    serving.check_served(db(), trial.id, plans, later=body.later)
    return panels.make_tasting(
        db(),
        trial,
        name=body.name or "Tasting",
        rounds=plans,
        tasters=[*(tasters.panelist(db(), p) for p in body.panelists), *body.tasters],
        served_with=[s.model_dump() for s in body.served_with],
        one_way=body.one_way,
        protocol=body.protocol,
        shows={c.batch_id: c.shows for c in body.cups},
        later=body.later,
    )


@taste.post("/trials/<uuid:trial_id>/tasting-plans", responses={200: TastingPlan})
@require(Role.COOK)
def plan_tasting(path: TrialPath, body: NewTasting) -> Response:
    """What such a tasting would need and could find; nothing is laid."""
    trial = open_trial(path.trial_id)
    found = plans.plan_tasting(
        db(),
        trial,
        [_plan(r) for r in body.rounds],
        max(1, len(body.panelists) + sum(1 for t in body.tasters if t.strip())),
        [s.what for s in body.served_with],
        lambda rounds: reckon("can_find", rounds=rounds),
    )
    return answer(_told(found))


def _told(found: plans.TastingPlanned) -> TastingPlan:
    return shown(
        TastingPlan,
        found.plan,
        cuts=[c.sentence for c in found.plan.cuts],
        minutes=round(found.plan.minutes),
        can_find=found.can_find,
        reference=found.reference,
    )


@taste.post("/same-people", responses={204: None})
@require(Role.LEAD)
def say_same(body: SameAnswer) -> Response:
    """Two people of one name are one, or only share it."""
    tasters.say_whether_same(db(), body.one, body.other, same=body.same)
    people.note(
        db(), "said who is one person" if body.same else "said who only shares a name", by=me().person_id
    )
    return current_app.response_class(status=204)


@taste.put("/panelists/<uuid:person_id>", responses={204: None})
@require(Role.LEAD)
def change_panelist(path: PersonPath, body: PanelistChange) -> Response:
    """What a panelist is called, and their allergies in their own words."""
    person = tasters.panelist(db(), path.person_id)
    person.name, person.allergies = body.name.strip(), body.allergies.strip()
    return current_app.response_class(status=204)

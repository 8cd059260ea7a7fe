"""Taste, for the kitchen: tastings are laid, links handed over, codes opened, what was found is told."""

import time
from base64 import b64decode
from uuid import UUID
from zoneinfo import ZoneInfo

from flask import Response, current_app, request

from yeasty.api.ask.endpoints import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.outlook import AskedView, LowReading
from yeasty.api.problems import ApiError, not_found
from yeasty.api.publish.endpoints import file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import after_commit, answer, db, each, me, require
from yeasty.api.shown import shown
from yeasty.api.taste.told import (
    Beside,
    address,
    ballots_of,
    is_open,
    key_of,
    panelist_view,
    tasting_view,
    test_views,
)
from yeasty.api.taste.views import (
    AnswersTaken,
    Ballot,
    Candidate,
    HandedOver,
    KeyAnswer,
    KeyReason,
    LateTaster,
    NewTasting,
    Opening,
    PanelistChange,
    PaperChoice,
    PersonPath,
    RoundFound,
    RoundIn,
    SameAnswer,
    SamePerson,
    SeatPath,
    ServedIn,
    SpoiltIn,
    StopReason,
    TastingFound,
    TastingList,
    TastingPath,
    TastingPlan,
    TastingView,
)
from yeasty.core.cook.measures import Standing
from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.paper import stickers_html
from yeasty.core.taste.tests import Settings
from yeasty.operations.safety.batches import gates_of_trial
from yeasty.operations.taste import answers, findings, panels, plans
from yeasty.operations.taste import people as tasters
from yeasty.store.base import now
from yeasty.store.cook.queries import shifts_of, wake
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.taste import queries as tastings
from yeasty.store.taste.tables import KeyView, Seat, SeatAct, SpoiltSample, Tasting

# What is never tasted, whoever owns it.
NEVER = (Standing.VOID, Standing.SIMULATED)
taste = blueprint("taste", "taste")


def _tasting(tasting_id: UUID) -> Tasting:
    found = db().get(Tasting, tasting_id)
    if found is None:
        raise not_found("tasting")
    return found


def _changed(tasting: Tasting) -> None:
    """Tell the screens that show this trial."""
    wake(db(), tasting.trial_id)


def _candidates(trial_id: UUID) -> list[Candidate]:
    """A trial's batches, unsafe and void ones barred with the reason."""
    zone = ZoneInfo(the_kitchen(db()).time_zone)
    days = {s.id: f"{s.serve_from.astimezone(zone):%-d %b}" for s in shifts_of(db(), trial_id)}
    return [
        Candidate(
            batch_id=str(batch.id),
            method_id=str(batch.method_id),
            words=f"{batch.method.tag} {batch.method.name}, batch {batch.replicate}, {days[batch.shift_id]}"
            + (f", rescued: {m.why}" if m.standing is Standing.RESCUE else ""),
            may=g.open and m.complete and m.standing not in NEVER,
            why_not=" ".join(g.barred_by) or ("Not finished." if not m.complete else ""),
            tells=list(g.tells),
            owned=g.owned,
            may_be_owned=m.standing not in NEVER and not g.open and g.may_be_owned,
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


def _check_served(trial_id: UUID, plans: list[panels.RoundPlan]) -> None:
    """Nothing is served that is void or that is not on record as safe to eat.

    Raises
    ------
    RuleError : a batch of another trial, or one that is barred, with the reason
    """
    state = {batch.id: (batch, m, g) for batch, m, g, _ in gates_of_trial(db(), trial_id, time.time())}
    for served in (s for p in plans for s in p.served):
        if served.batch_id is None:
            if not served.outside:
                raise RuleError("samples", "name neither a batch nor a thing", "Choose a batch.")
            continue
        if served.batch_id not in state:
            raise RuleError("samples", "name a batch of another trial", "Reload and choose again.")
        batch, m, g = state[served.batch_id]
        if m.standing in NEVER or not g.open:
            raise RuleError(
                "samples",
                f"hold {batch.method.tag}, which may not be tasted: {' '.join(g.barred_by)}",
                "Leave it out.",
            )


@taste.post("/trials/<uuid:trial_id>/tastings", responses={201: TastingView})
@require(Role.COOK)
def new_tasting(path: TrialPath, body: NewTasting) -> Response:
    """A tasting with codes and orders. Batches that are void or not read as cooked through are barred."""
    trial = open_trial(path.trial_id)
    rounds = body.rounds or [shown(RoundIn, body, samples=[ServedIn(batch_id=b) for b in body.batches])]
    plans = [_plan(r) for r in rounds]
    _check_served(trial.id, plans)
    tasting = panels.make_tasting(
        db(),
        trial,
        name=body.name or "Tasting",
        rounds=plans,
        tasters=[*(tasters.panelist(db(), p) for p in body.panelists), *body.tasters],
        served_with=[s.model_dump() for s in body.served_with],
        one_way=body.one_way,
    )
    db().refresh(tasting)
    _changed(tasting)
    return answer(tasting_view(tasting), 201)


@taste.post("/trials/<uuid:trial_id>/tasting-plans", responses={200: TastingPlan})
@require(Role.COOK)
def plan_tasting(path: TrialPath, body: NewTasting) -> Response:
    """What such a tasting would need and could find; nothing is laid."""
    trial = open_trial(path.trial_id)
    people_there = len(body.panelists) + len([t for t in body.tasters if t.strip()])
    found = plans.plan_tasting(
        db(),
        trial,
        [_plan(r) for r in body.rounds],
        max(1, people_there),
        [s.what for s in body.served_with],
        lambda rounds: reckon("can_find", rounds=rounds),
    )
    return answer(
        TastingPlan(
            cuts=[c.sentence for c in found.plan.cuts],
            minutes=round(found.plan.minutes),
            ready=list(found.plan.ready),
            warnings=list(found.plan.warnings),
            can_find=found.can_find,
            reference=found.reference,
        )
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


@taste.post("/tastings/<uuid:tasting_id>/seats", responses={201: TastingView})
@require(Role.COOK)
def add_seat(path: TastingPath, body: LateTaster) -> Response:
    """Somebody comes late: a seat and an order of their own."""
    tasting = panels.locked_tasting(db(), path.tasting_id)
    if tasting is None:
        raise not_found("tasting")
    panels.add_seat(db(), tasting, tasters.panelist(db(), body.person_id) if body.person_id else body.name)
    _changed(tasting)
    return answer(tasting_view(tasting), 201)


def _seat_of(path: SeatPath) -> Seat:
    seat = db().get(Seat, path.seat_id, with_for_update={"of": Seat})
    if seat is None or seat.tasting_id != path.tasting_id:
        raise not_found("seat")
    return seat


@taste.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/revoke", responses={200: TastingView})
@require(Role.COOK)
def revoke_link(path: SeatPath) -> Response:
    """Make a seat's link void. Answers given stay; a new link can be handed over."""
    seat = _seat_of(path)
    seat.link_generation += 1
    return answer(tasting_view(_tasting(path.tasting_id)))


@taste.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/leave", responses={200: TastingView})
@require(Role.COOK)
def leave_seat(path: SeatPath) -> Response:
    """Somebody leaves: the seat is not waited for any more. What was answered stands."""
    seat = _seat_of(path)
    seat.link_generation += 1
    seat.revoked_at = seat.revoked_at or now()
    db().flush()
    tasting = _tasting(path.tasting_id)
    _changed(tasting)
    return answer(tasting_view(tasting))


@taste.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/hand-overs", responses={201: HandedOver})
@require(Role.COOK)
def hand_over(path: SeatPath) -> Response:
    """Make a seat's link anew and show it this once, to be handed over or printed; who did, and when, is kept
    for good.
    """
    import segno

    seat = _seat_of(path)
    seat.link_generation += 1
    db().add(SeatAct(seat_id=seat.id, person_id=me().person_id, at=now(), what="handed over"))
    db().flush()
    base, warning = address()
    link = f"{base}/t/{panels.link_token(the_kitchen(db()).secret, seat)}"
    qr = segno.make(link, error="m").svg_data_uri(scale=5, border=3, dark="#1f1a17", light="#ffffff")
    return answer(HandedOver(link=link, qr=qr, warning=warning), 201)


@taste.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/ballots", responses={200: TastingView})
@require(Role.LEAD)
def type_ballot(path: SeatPath, body: Ballot) -> Response:
    """Type a paper ballot in. It only writes; who did counts as knowing these answers, and that is kept for
    good.
    """
    seat = _seat_of(path)
    seat.told_allergens_at = seat.told_allergens_at or now()
    for line in body.lines:
        answers.take_typed(db(), seat, answers.TypedCell(**dict(line)))
    _typed_in(seat)
    tasting = _tasting(path.tasting_id)
    _changed(tasting)
    return answer(tasting_view(tasting))


def _typed_in(seat: Seat) -> None:
    """A ballot on paper is done once it is typed in; who did is kept for good."""
    seat.told_allergens_at = seat.told_allergens_at or now()
    seat.finished_at = seat.finished_at or now()
    db().add(SeatAct(seat_id=seat.id, person_id=me().person_id, at=now(), what="typed in"))
    db().flush()


@taste.post("/tastings/<uuid:tasting_id>/table", responses={200: AnswersTaken})
@require(Role.LEAD)
def take_table(path: TastingPath) -> Response:
    """Answers as CSV, with a header of seat, round, code, question, answer, words; all or nothing. Whoever
    brought them counts as knowing these answers.
    """
    tasting = _tasting(path.tasting_id)
    try:
        text = request.get_data(cache=False).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise RuleError("table", "is not UTF-8 text", "Save it as CSV in UTF-8.") from None
    seats, said, comments = answers.take_table(db(), tasting, text)
    for seat in seats:
        _typed_in(seat)
    _changed(tasting)
    return answer(AnswersTaken(answers=said, comments=comments))


@taste.get("/tastings/<uuid:tasting_id>/stickers.pdf")
@require(Role.COOK)
def stickers_pdf(path: TastingPath, query: PaperChoice) -> Response:
    """Codes to stick on cups: each once a person."""
    t = _tasting(path.tasting_id)
    there = [s for s in t.seats if s.revoked_at is None]
    html = stickers_html([s.code for s in t.samples], len(there), query.stock)
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "codes.pdf")


@taste.get("/tastings/<uuid:tasting_id>/ballots.pdf")
@require(Role.COOK)
def ballots_pdf(path: TastingPath, query: PaperChoice) -> Response:
    """A ballot a person, each with what is on the table first."""
    html = ballots_of(_tasting(path.tasting_id), query.paper)
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "ballots.pdf")


@taste.post("/tastings/<uuid:tasting_id>/key-views", responses={200: KeyAnswer})
@require(Role.LEAD)
def view_key(path: TastingPath, body: KeyReason) -> Response:
    """Look at the key before the codes are opened, as to plate. Who looked, when and why is kept for good."""
    tasting = _tasting(path.tasting_id)
    people.note(db(), "looked at a key", tasting.name, by=me().person_id)
    db().add(KeyView(tasting_id=tasting.id, person_id=me().person_id, viewed_at=now(), why=body.why.strip()))
    return answer(KeyAnswer(key=key_of(tasting)))


@taste.post("/tastings/<uuid:tasting_id>/spoilt", responses={200: TastingView})
@require(Role.LEAD)
def spoil(path: TastingPath, body: SpoiltIn) -> Response:
    """A sample was dropped or its code swapped: its answers are kept and not judged."""
    tasting = _tasting(path.tasting_id)
    sample = next((s for s in tasting.samples if s.code == body.code), None)
    if sample is None:
        raise not_found("sample")
    if sample.spoilt is None:
        row = SpoiltSample(sample_id=sample.id, person_id=me().person_id, at=now(), why=body.why.strip())
        db().add(row)
        db().flush()
        db().refresh(sample)
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


@taste.post("/tastings/<uuid:tasting_id>/stop", responses={200: TastingView})
@require(Role.COOK)
def stop(path: TastingPath, body: StopReason) -> Response:
    """A fault has come up while people taste: everybody's page says to put everything aside, the seal is
    broken on record, and nothing of it is judged.
    """
    tasting = panels.locked_tasting(db(), path.tasting_id)
    if tasting is None:
        raise not_found("tasting")
    if tasting.stopped_at is None:
        tasting.stopped_at, tasting.stopped_why = now(), body.why.strip()
        why = f"stopped: {body.why.strip()}"
        db().add(KeyView(tasting_id=tasting.id, person_id=me().person_id, viewed_at=now(), why=why))
        people.note(db(), "stopped a tasting", f"{tasting.name}: {body.why.strip()}", by=me().person_id)
        db().flush()
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


def _judge_anew(tasting: Tasting) -> None:
    jobs = current_app.extensions["yeasty_jobs"]
    trial_id = tasting.trial_id
    after_commit(lambda: jobs.analyse(trial_id))
    _changed(tasting)


@taste.post("/tastings/<uuid:tasting_id>/open", responses={200: TastingView})
@require(Role.LEAD)
def open_codes(path: TastingPath, body: Opening) -> Response:
    """Open the codes: answers close, the key shows, the worker judges. Asks once more where somebody has not
    finished.
    """
    tasting = panels.locked_tasting(db(), path.tasting_id)
    if tasting is None:
        raise not_found("tasting")
    missing = [s.person.name for s in tasting.seats if s.finished_at is None and s.revoked_at is None]
    if missing and not is_open(tasting) and not body.though_unfinished:
        raise ApiError(
            409,
            "Somebody has not finished",
            f"{', '.join(missing)} {'has' if len(missing) == 1 else 'have'} not finished; after the "
            f"opening nothing more is taken. "
            "Wait, or open the codes all the same.",
        )
    panels.open_codes(db(), tasting, by=me().person_id)
    people.note(db(), "opened the codes", tasting.name, by=me().person_id)
    _judge_anew(tasting)
    return answer(tasting_view(tasting))


@taste.get("/tastings/<uuid:tasting_id>", responses={200: TastingView})
@require(Role.COOK)
def get_tasting(path: TastingPath) -> Response:
    """A tasting as the lead sees it."""
    return answer(tasting_view(_tasting(path.tasting_id)))


@taste.get("/tastings/<uuid:tasting_id>/found", responses={200: TastingFound})
@require(Role.COOK)
def get_found(path: TastingPath) -> Response:
    """What a tasting tells; asked for anew where its records have changed since."""
    tasting = _tasting(path.tasting_id)
    if not is_open(tasting) or tasting.stopped_at:
        return answer(TastingFound(state="closed", rounds=[], people=0, knowing=0, changed=0))
    kept, fresh = findings.found_of(db(), tasting.trial_id)
    mine = kept.tastings.get(str(tasting.id))
    if not fresh:
        jobs, trial_id = current_app.extensions["yeasty_jobs"], tasting.trial_id
        after_commit(lambda: jobs.analyse(trial_id))
    if mine is None:
        return answer(TastingFound(state="working", rounds=[], people=0, knowing=0, changed=0))
    return answer(
        shown(
            TastingFound,
            mine,
            state="fresh" if fresh else "stale",
            rounds=[RoundFound(position=n, found=f) for n, f in sorted(mine.rounds.items())],
        )
    )

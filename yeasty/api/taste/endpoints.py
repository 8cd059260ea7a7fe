"""Taste: tastings for the lead, and the taster's own page.

No answer a taster can get tells which method a code is: it holds codes in the seat's own order, questions and
the allergens of the whole table, nothing per method, and never an id that the lead's pages use.
"""

import time
from datetime import datetime
from typing import Annotated
from uuid import UUID
from zoneinfo import ZoneInfo

from flask import Response, current_app, request
from pydantic import BaseModel, Field
from sqlalchemy import select

from yeasty.api.ask.endpoints import open_trial
from yeasty.api.ask.views import AnswerScaleView, AttributeView, TrialPath, attribute_view, scale_views
from yeasty.api.blueprint import blueprint
from yeasty.api.cook.outlook import AskedView, LowReading
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import after_commit, answer, db, each, me, require
from yeasty.core.ask.trial import check_answer
from yeasty.core.cook.measures import Standing
from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.blinding import balance
from yeasty.operations.safety.batches import clock_of, gates_of_trial, too_late
from yeasty.operations.taste import panels
from yeasty.store import people, tastings
from yeasty.store.base import now
from yeasty.store.bench import shifts_of
from yeasty.store.kitchen import the_kitchen
from yeasty.store.people import Role
from yeasty.store.tastings import KeyView, Sample, Seat, SeatAct, Tasting
from yeasty.store.trials import Attribute, whole_trial

# What is never tasted, whoever owns it.
NEVER = (Standing.VOID, Standing.SIMULATED)
taste = blueprint("taste", "taste")


class ServedWith(BaseModel):
    """A sauce, a carrier, something to clear the palate: its allergens count for the table."""

    what: str = Field(min_length=1, max_length=100)
    allergens: list[Annotated[str, Field(max_length=60)]] = Field(default=[], max_length=40)
    checked: bool = False


class NewTasting(BaseModel):
    """Which batches, who tastes."""

    name: str = Field(default="", max_length=100)
    batches: list[UUID] = Field(max_length=48)
    tasters: list[str] = Field(max_length=100)
    part: str = Field(default="", max_length=100)
    age: str = Field(default="", max_length=100)
    served_with: list[ServedWith] = Field(default=[], max_length=20)


class SeatView(BaseModel):
    """A seat as the lead sees it: no answers before the codes are opened, only how far it is."""

    id: str
    name: str
    revoked: bool
    acts: list[str]
    answered_samples: int
    finished: bool
    order: list[str]


class TastingView(BaseModel):
    """A tasting as the lead sees it. `key` is empty until the codes are opened."""

    id: str
    name: str
    part: str
    age: str
    created_at: datetime
    opened_at: datetime | None
    opened_elsewhere: bool
    codes: list[str]
    seats: list[SeatView]
    balance: str
    key: dict[str, str]
    key_views: list[str]
    link_warning: str
    clock: list[str]


class TastingList(BaseModel):
    """Tastings of a trial, newest first, and batches that may be tasted."""

    items: list[TastingView]
    candidates: list["Candidate"]


class Candidate(BaseModel):
    """A batch that may be tasted, or why not."""

    batch_id: str
    words: str
    may: bool
    why_not: str
    tells: list[str]
    owned: str
    may_be_owned: bool
    asked: list[AskedView]
    low: list[LowReading]


class HandedOver(BaseModel):
    """A seat's new link, shown this once: hand it over or print it now."""

    link: str
    qr: str
    warning: str


class TypedAnswer(BaseModel):
    """One line of a paper ballot; no value and `refused` is an answer too. Without an attribute it is the
    comment.
    """

    code: str = Field(max_length=10)
    attribute_id: UUID | None = None
    value: float | None = None
    refused: bool = False
    comment: str = Field(default="", max_length=2000)


class Ballot(BaseModel):
    """A paper ballot as it was written."""

    answers: list[TypedAnswer] = Field(min_length=1, max_length=2000)


class Opening(BaseModel):
    """Whether the codes are to be opened though somebody has not finished."""

    though_unfinished: bool = False


class TastingPath(BaseModel):
    """Which tasting."""

    tasting_id: UUID


class SeatPath(TastingPath):
    """Which seat."""

    seat_id: UUID


class KeyReason(BaseModel):
    """Why the key is looked at before the codes are opened; it is recorded."""

    why: str = Field(min_length=3, max_length=300)


class KeyAnswer(BaseModel):
    """Code to batch in words, for whoever plates."""

    key: dict[str, str]


class TokenPath(BaseModel):
    """A taster's link."""

    token: str = Field(max_length=400)


class TasterSample(BaseModel):
    """What a taster sees of a sample: its code, and what this taster said of it."""

    code: str
    answers: dict[str, float | None]
    refused: list[str]
    comment: str


class TasterView(BaseModel):
    """A taster's page."""

    dish: str
    name: str
    part: str
    age: str
    allergens: list[str]
    unchecked: list[str]
    told_allergens: bool
    stop: str
    attributes: list[AttributeView]
    samples: list[TasterSample]
    scales: list[AnswerScaleView]
    closed: bool
    finished: bool


class TasterAnswer(BaseModel):
    """One answer; no value and `refused` is an answer too. Without an attribute it is the comment."""

    code: str = Field(max_length=10)
    attribute_id: UUID | None = None
    value: float | None = None
    refused: bool = False
    comment: str = Field(default="", max_length=2000)


def _address() -> tuple[str, str]:
    """Where taster links point, and a warning where other devices can't reach it."""
    set_one = (
        the_kitchen(db()).public_address
        or current_app.config["PUBLIC_ADDRESS"]
        or request.host_url.rstrip("/")
    )
    host = set_one.split("://")[-1].split("/")[0].rsplit(":", 1)[0].strip("[]")
    loopback = host in ("localhost", "::1") or host.startswith("127.")
    warning = (
        "These links point at this machine only: a phone can't open them. Start with --host, or set the "
        "kitchen's address at Kitchen."
        if loopback
        else ""
    )
    return set_one, warning


def _batch_words(tasting: Tasting) -> dict[str, str]:
    return {
        s.code: f"{s.batch.method.tag} {s.batch.method.name}, batch {s.batch.replicate}"
        for s in tasting.samples
    }


def tasting_view(t: Tasting) -> TastingView:
    """A tasting as the lead sees it."""
    _, warning = _address()
    acts = tastings.acts_of(db(), t.id)
    given = tastings.answers_given(db(), t.id)
    views = db().scalars(select(KeyView).where(KeyView.tasting_id == t.id).order_by(KeyView.viewed_at))
    return TastingView(
        id=str(t.id),
        name=t.name,
        part=t.part,
        age=t.age_words,
        created_at=t.created_at,
        opened_at=t.opened_at if is_open(t) else None,
        opened_elsewhere=t.opened_at is not None and t.from_elsewhere,
        codes=sorted(s.code for s in t.samples),
        seats=[
            SeatView(
                id=str(s.id),
                name=s.person.name,
                revoked=s.revoked_at is not None,
                acts=[
                    f"{a.at:%d %b %H:%M} UTC, {a.person.name}: {SEAT_WORDS[a.what]}"
                    for a in acts
                    if a.seat_id == s.id
                ],
                answered_samples=given.get(s.id, 0),
                finished=s.finished_at is not None,
                order=s.order,
            )
            for s in t.seats
        ],
        balance=balance([_ranks(s.order) for s in t.seats]).words(),
        key=_batch_words(t) if is_open(t) else {},
        key_views=[f"{v.viewed_at:%d %b %H:%M} UTC: {v.why}" for v in views],
        link_warning=warning,
        clock=[] if t.opened_at else clock_of(db(), t, time.time()),
    )


def _ranks(order: list[str]) -> list[int]:
    places = {code: i for i, code in enumerate(sorted(order))}
    return [places[code] for code in order]


# The same for every taster and every sample: it must not tell which is which.
STOP = "Stop eating: something on the table has stood too long. Ask the cook."
SEAT_WORDS = {
    "handed over": "handed the link over",
    "typed in": "typed a paper ballot in, and so knows these answers",
}


def is_open(t: Tasting) -> bool:
    """Whether the codes are open in this kitchen."""
    return t.opened_at is not None and not t.from_elsewhere


def _tasting(tasting_id: UUID) -> Tasting:
    found = db().get(Tasting, tasting_id)
    if found is None:
        raise not_found("tasting")
    return found


@taste.get("/trials/<uuid:trial_id>/tastings", responses={200: TastingList})
@require(Role.COOK)
def list_tastings(path: TrialPath) -> Response:
    """Tastings of a trial; and its batches, unsafe and void ones barred with the reason."""
    zone = ZoneInfo(the_kitchen(db()).time_zone)
    days = {s.id: f"{s.serve_from.astimezone(zone):%-d %b}" for s in shifts_of(db(), path.trial_id)}
    candidates = [
        Candidate(
            batch_id=str(batch.id),
            words=f"{batch.method.tag} {batch.method.name}, batch {batch.replicate}, {days[batch.shift_id]}"
            + (f", rescued: {m.why}" if m.standing is Standing.RESCUE else ""),
            may=g.open and m.complete and m.standing not in NEVER,
            why_not=" ".join(g.barred_by) or ("Not finished." if not m.complete else ""),
            tells=list(g.tells),
            owned=g.owned,
            may_be_owned=m.standing not in NEVER and not g.open and g.may_be_owned,
            asked=[AskedView(key=a.key, text=a.text) for a in s.asked],
            low=[LowReading(id=r.id, celsius=r.celsius, at=r.at) for r in s.low],
        )
        for batch, m, g, s in gates_of_trial(db(), path.trial_id, time.time())
    ]
    rows = tastings.tastings_of(db(), path.trial_id)
    return answer(TastingList(items=each(rows, tasting_view), candidates=candidates))


@taste.post("/trials/<uuid:trial_id>/tastings", responses={201: TastingView})
@require(Role.COOK)
def new_tasting(path: TrialPath, body: NewTasting) -> Response:
    """A tasting with codes and orders. Batches that are void or not read as cooked through are barred."""
    trial = open_trial(path.trial_id)
    state = {batch.id: (batch, m, g) for batch, m, g, _ in gates_of_trial(db(), trial.id, time.time())}
    for batch_id in body.batches:
        if batch_id not in state:
            raise RuleError("samples", "name a batch of another trial", "Reload and choose again.")
        batch, m, g = state[batch_id]
        if m.standing in NEVER or not g.open:
            raise RuleError(
                "samples",
                f"hold {batch.method.tag}, which may not be tasted: {' '.join(g.barred_by)}",
                "Leave it out.",
            )
    if not trial.attributes:
        raise RuleError("attributes", "none", "Name what tasters judge at Ask first.")
    tasting = panels.make_tasting(
        db(),
        trial,
        name=body.name or "Tasting",
        batch_ids=body.batches,
        tasters=body.tasters,
        part=body.part,
        age_words=body.age,
        served_with=[s.model_dump() for s in body.served_with],
    )
    db().refresh(tasting)
    return answer(tasting_view(tasting), 201)


@taste.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/revoke", responses={200: TastingView})
@require(Role.COOK)
def revoke_link(path: SeatPath) -> Response:
    """Make a seat's link void. Answers given stay; a new link can be handed over."""
    seat = db().get(Seat, path.seat_id)
    if seat is None or seat.tasting_id != path.tasting_id:
        raise not_found("seat")
    seat.link_generation += 1
    return answer(tasting_view(_tasting(path.tasting_id)))


def _seat_of(path: SeatPath) -> Seat:
    seat = db().scalar(
        select(Seat)
        .where(Seat.id == path.seat_id, Seat.tasting_id == path.tasting_id)
        .with_for_update(of=Seat)
    )
    if seat is None:
        raise not_found("seat")
    return seat


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
    base, warning = _address()
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
    for line in body.answers:
        _take(seat, line)
    seat.finished_at = seat.finished_at or now()
    db().add(SeatAct(seat_id=seat.id, person_id=me().person_id, at=now(), what="typed in"))
    db().flush()
    return answer(tasting_view(_tasting(path.tasting_id)))


@taste.post("/tastings/<uuid:tasting_id>/key-views", responses={200: KeyAnswer})
@require(Role.LEAD)
def view_key(path: TastingPath, body: KeyReason) -> Response:
    """Look at the key before the codes are opened, as to plate. Who looked, when and why is kept for good."""
    tasting = _tasting(path.tasting_id)
    people.note(db(), "looked at a key", tasting.name, by=me().person_id)
    db().add(KeyView(tasting_id=tasting.id, person_id=me().person_id, viewed_at=now(), why=body.why.strip()))
    return answer(KeyAnswer(key=_batch_words(tasting)))


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
    jobs = current_app.extensions["yeasty_jobs"]
    trial_id = tasting.trial_id
    after_commit(lambda: jobs.analyse(trial_id))
    return answer(tasting_view(tasting))


def _seat(token: str) -> Seat:
    seat = panels.seat_of_token(db(), the_kitchen(db()).secret, token)
    if seat is None:
        raise ApiError(404, "This link is not valid", "Ask whoever invited you for a new link.")
    return seat


def taster_view(seat: Seat) -> TasterView:
    """A taster's page: built from codes alone."""
    tasting = db().get_one(Tasting, seat.tasting_id)
    trial = whole_trial(db(), tasting.trial_id)
    if trial is None:
        raise not_found("trial")
    samples = {s.id: s.code for s in tasting.samples}
    by_code: dict[str, TasterSample] = {
        code: TasterSample(code=code, answers={}, refused=[], comment="") for code in seat.order
    }
    for a in tastings.newest_answers(db(), [seat.id]):
        mine = by_code[samples[a.sample_id]]
        if a.attribute_id is None:
            mine.comment = a.comment
        elif a.refused:
            mine.refused.append(str(a.attribute_id))
        else:
            mine.answers[str(a.attribute_id)] = a.value
    for sample in by_code.values():
        sample.refused.sort()
        sample.answers = dict(sorted(sample.answers.items()))
    return TasterView(
        dish=trial.dish,
        name=seat.person.name,
        part=tasting.part,
        age=tasting.age_words,
        allergens=list(panels.allergens_of(trial, tasting.served_with)),
        unchecked=list(panels.allergens_unchecked(trial, tasting.served_with)),
        told_allergens=seat.told_allergens_at is not None,
        stop=STOP if not is_open(tasting) and too_late(db(), tasting, time.time()) else "",
        attributes=[attribute_view(a) for a in trial.attributes],
        samples=[by_code[c] for c in seat.order],
        scales=scale_views(),
        closed=is_open(tasting),
        finished=seat.finished_at is not None,
    )


def _take(seat: Seat, body: TasterAnswer | TypedAnswer) -> None:
    """Check one answer by its scale and keep it."""
    sample = db().scalar(select(Sample).where(Sample.tasting_id == seat.tasting_id, Sample.code == body.code))
    if sample is None:
        raise not_found("sample")
    if body.attribute_id is not None:
        attribute = db().get(Attribute, body.attribute_id)
        if attribute is None or attribute.trial_id != db().get_one(Tasting, seat.tasting_id).trial_id:
            raise not_found("question")
        if not body.refused:
            if body.value is None:
                raise RuleError(
                    attribute.name, "has no answer", "Give a value, or say that you would rather not."
                )
            check_answer(attribute.spec(), body.value, len(seat.order))
    panels.give_answer(
        db(),
        seat,
        sample,
        body.attribute_id,
        None if body.refused else body.value,
        body.refused,
        body.comment if body.attribute_id is None else "",
    )


@taste.get("/taste/<string:token>", responses={200: TasterView})
def get_taster(path: TokenPath) -> Response:
    """A taster's page."""
    return answer(taster_view(_seat(path.token)))


@taste.post("/taste/<string:token>/allergens-told", responses={200: TasterView})
def told_allergens(path: TokenPath) -> Response:
    """The taster has read the allergens. Nothing can be answered before."""
    seat = _seat(path.token)
    seat.told_allergens_at = seat.told_allergens_at or now()
    return answer(taster_view(seat))


@taste.post("/taste/<string:token>/answers", responses={200: TasterView})
def give_answer(path: TokenPath, body: TasterAnswer) -> Response:
    """Give one answer. A change is kept beside the first."""
    seat = _seat(path.token)
    if seat.told_allergens_at is None:
        raise ApiError(409, "Allergens first", "Read the allergens and confirm before the first bite.")
    _take(seat, body)
    return answer(taster_view(seat))


@taste.post("/taste/<string:token>/finish", responses={200: TasterView})
def finish(path: TokenPath) -> Response:
    """The taster is done."""
    seat = _seat(path.token)
    seat.finished_at = seat.finished_at or now()
    return answer(taster_view(seat))


@taste.get("/tastings/<uuid:tasting_id>", responses={200: TastingView})
@require(Role.COOK)
def get_tasting(path: TastingPath) -> Response:
    """A tasting as the lead sees it."""
    return answer(tasting_view(_tasting(path.tasting_id)))

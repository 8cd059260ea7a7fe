"""Taste: tastings for the lead, and the taster's own page.

No answer a taster can get tells which method a code is: it holds codes in the seat's own order, questions and
the allergens of the whole table, nothing per method, and never an id that the lead's pages use.
"""

import time
from datetime import datetime
from uuid import UUID

from flask import Response, current_app, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field
from sqlalchemy import select

from yeasty.api.ask import open_trial
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import after_commit, answer, db, me, require
from yeasty.api.views import AttributeView, TrialPath, attribute_view
from yeasty.core.ask.trial import LIKING_WORDS, check_answer
from yeasty.core.cook.measures import Standing
from yeasty.core.errors import RuleError
from yeasty.core.taste.blinding import balance
from yeasty.store import panels, tastings
from yeasty.store.base import now
from yeasty.store.kitchen import the_kitchen
from yeasty.store.people import Role
from yeasty.store.safety import gates_of_trial
from yeasty.store.tastings import KeyView, Sample, Seat, Tasting
from yeasty.store.trials import Attribute, whole_trial

# What is never tasted, whoever owns it.
NEVER = (Standing.VOID, Standing.SIMULATED)
taste = APIBlueprint("taste", __name__, url_prefix="/api/v1", abp_tags=[Tag(name="taste")])


class NewTasting(BaseModel):
    """Which batches, who tastes."""

    name: str = Field(default="", max_length=100)
    batches: list[UUID] = Field(max_length=48)
    tasters: list[str] = Field(max_length=100)
    part: str = Field(default="", max_length=100)
    age: str = Field(default="", max_length=100)


class SeatView(BaseModel):
    """A seat as the lead sees it: no answers before the codes are opened, only how far it is."""

    id: str
    name: str
    link: str
    revoked: bool
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
    codes: list[str]
    seats: list[SeatView]
    balance: str
    key: dict[str, str]
    key_views: list[str]
    link_warning: str


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
    told_allergens: bool
    attributes: list[AttributeView]
    samples: list[TasterSample]
    liking_words: list[str]
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
        "These links point at this machine only: a phone can't open them. Start with --host, or set the kitchen's address at Kitchen."
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
    base, warning = _address()
    given = tastings.answers_given(db(), t.id)
    secret = the_kitchen(db()).secret
    views = db().scalars(select(KeyView).where(KeyView.tasting_id == t.id).order_by(KeyView.viewed_at))
    return TastingView(
        id=str(t.id),
        name=t.name,
        part=t.part,
        age=t.age_words,
        created_at=t.created_at,
        opened_at=t.opened_at,
        codes=sorted(s.code for s in t.samples),
        seats=[
            SeatView(
                id=str(s.id),
                name=s.person.name,
                link=f"{base}/t/{panels.link_token(secret, s)}",
                revoked=s.revoked_at is not None,
                answered_samples=given.get(s.id, 0),
                finished=s.finished_at is not None,
                order=s.order,
            )
            for s in t.seats
        ],
        balance=balance([_ranks(s.order) for s in t.seats]).words(),
        key=_batch_words(t) if t.opened_at else {},
        key_views=[f"{v.viewed_at:%d %b %H:%M} UTC: {v.why}" for v in views],
        link_warning=warning,
    )


def _ranks(order: list[str]) -> list[int]:
    places = {code: i for i, code in enumerate(sorted(order))}
    return [places[code] for code in order]


def _tasting(tasting_id: UUID) -> Tasting:
    found = db().get(Tasting, tasting_id)
    if found is None:
        raise not_found("tasting")
    return found


@taste.get("/trials/<uuid:trial_id>/tastings", responses={200: TastingList})
@require(Role.COOK)
def list_tastings(path: TrialPath) -> Response:
    """Tastings of a trial; and its batches, unsafe and void ones barred with the reason."""
    candidates = [
        Candidate(
            batch_id=str(batch.id),
            words=f"{batch.method.tag} {batch.method.name}, batch {batch.replicate}"
            + (f", rescued: {m.why}" if m.standing is Standing.RESCUE else ""),
            may=g.open and m.complete and m.standing not in NEVER,
            why_not=" ".join(g.barred_by) or ("Not finished." if not m.complete else ""),
            tells=list(g.tells),
            owned=g.owned,
            may_be_owned=m.standing not in NEVER and not g.open,
        )
        for batch, m, g in gates_of_trial(db(), path.trial_id, time.time())
    ]
    rows = tastings.tastings_of(db(), path.trial_id)
    return answer(TastingList(items=[tasting_view(t) for t in rows], candidates=candidates))


@taste.post("/trials/<uuid:trial_id>/tastings", responses={201: TastingView})
@require(Role.COOK)
def new_tasting(path: TrialPath, body: NewTasting) -> Response:
    """A tasting with codes and orders. Batches that are void or not read as cooked through are barred."""
    trial = open_trial(path.trial_id)
    state = {batch.id: (batch, m, g) for batch, m, g in gates_of_trial(db(), trial.id, time.time())}
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
    )
    db().refresh(tasting)
    return answer(tasting_view(tasting), 201)


@taste.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/revoke", responses={200: TastingView})
@require(Role.COOK)
def revoke_link(path: SeatPath) -> Response:
    """Make a link void; a new one is made with it. Answers given stay."""
    seat = db().get(Seat, path.seat_id)
    if seat is None or seat.tasting_id != path.tasting_id:
        raise not_found("seat")
    seat.link_generation += 1
    return answer(tasting_view(_tasting(path.tasting_id)))


@taste.get("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/qr.svg", responses={200: None})
@require(Role.COOK)
def link_qr(path: SeatPath) -> Response:
    """The link as a QR code."""
    import io

    import segno

    seat = db().get(Seat, path.seat_id)
    if seat is None or seat.tasting_id != path.tasting_id:
        raise not_found("seat")
    base, _ = _address()
    out = io.BytesIO()
    link = f"{base}/t/{panels.link_token(the_kitchen(db()).secret, seat)}"
    segno.make(link, error="m").save(out, kind="svg", scale=5, border=3, dark="#1f1a17", light="#ffffff")
    response = current_app.response_class(out.getvalue(), mimetype="image/svg+xml")
    response.headers["Cache-Control"] = "no-store"
    return response


@taste.post("/tastings/<uuid:tasting_id>/key-views", responses={200: KeyAnswer})
@require(Role.LEAD)
def view_key(path: TastingPath, body: KeyReason) -> Response:
    """Look at the key before the codes are opened, as to plate. Who looked, when and why is kept for good."""
    tasting = _tasting(path.tasting_id)
    db().add(KeyView(tasting_id=tasting.id, person_id=me().person_id, viewed_at=now(), why=body.why.strip()))
    return answer(KeyAnswer(key=_batch_words(tasting)))


@taste.post("/tastings/<uuid:tasting_id>/open", responses={200: TastingView})
@require(Role.LEAD)
def open_codes(path: TastingPath) -> Response:
    """Open the codes: answers close, the key shows, the worker judges."""
    tasting = _tasting(path.tasting_id)
    if tasting.opened_at is None:
        tasting.opened_at, tasting.opened_by = now(), me().person_id
    jobs = current_app.extensions["yeasty_jobs"]
    trial_id = tasting.trial_id
    after_commit(lambda: jobs.analyse(trial_id))
    db().flush()
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
        allergens=list(panels.allergens_of(trial)),
        told_allergens=seat.told_allergens_at is not None,
        attributes=[attribute_view(a) for a in trial.attributes],
        samples=[by_code[c] for c in seat.order],
        liking_words=list(LIKING_WORDS),
        closed=tasting.opened_at is not None,
        finished=seat.finished_at is not None,
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

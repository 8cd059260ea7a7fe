"""Publish: what readers say who cooked it, and the kitchen's library of what goes wrong."""

from datetime import datetime
from uuid import UUID

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.publish.endpoints import STYLE
from yeasty.api.request import answer, db, done, me, require
from yeasty.api.shown import shown
from yeasty.api.tries import count_try
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.html import notice_html
from yeasty.core.publish.pictures import MOST_ZOOM, Chosen, PageSpot
from yeasty.core.publish.tried import Came, against_caution
from yeasty.core.publish.troubles import Trouble
from yeasty.operations.publish import reading
from yeasty.operations.publish import troubles as library
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.publish.queries import by_slug
from yeasty.store.publish.readers import tries_of

readers = blueprint("readers", "publish")
# Of one page and of all, by one address in a quarter of an hour.
MOST_TRIES, MOST_BY_FORM = 5, 40
# What a reader's form says, and how much of it is read.
TRY_FIELDS = {"way": 40, "came": 20, "kitchen": 200, "took": 40, "note": 500}
THANKS = "The kitchen reads it first. It is then counted on the page, beside the evidence and no part of it."


class VersionPath(BaseModel):
    """A version by its public address."""

    slug: str
    version: int


@readers.post("/published/<slug>/<int:version>/tries")
def reader_cooked(path: VersionPath) -> Response | tuple[Response, int]:
    """A reader says that they cooked it, sent as a form: counted once somebody of the kitchen has looked."""
    row = by_slug(db(), path.slug, path.version)
    if row is None or row.withdrawn_at is not None:
        raise not_found("page")
    # What no reader sees is filled in by machines: they are thanked too.
    if not request.form.get("website", ""):
        count_try("tried", path.slug, most=MOST_TRIES, most_in_all=MOST_BY_FORM)
        try:
            said = {k: request.form.get(k, "")[:most] for k, most in TRY_FIELDS.items()}
            reading.take_try(db(), row, **said)
        except RuleError as wrong:
            return _notice("Not taken yet", f"{wrong} Go back: what you wrote is still there."), 422
    return _notice("Thank you", THANKS)


def _notice(title: str, text: str) -> Response:
    return current_app.response_class(notice_html(title, text, style=STYLE), mimetype="text/html")


class TryView(BaseModel):
    """What a reader said. `counted` is null until somebody looked; `against` : its note seems to set a
    caution aside, so it is never shown.
    """

    id: str
    version: int
    method: str
    came: Came
    kitchen: str
    took_s: float | None
    note: str
    given_at: datetime
    counted: bool | None
    note_shown: bool
    against: bool


class TryList(BaseModel):
    """All that readers said of a trial's page, newest first."""

    items: list[TryView]


class LookIn(BaseModel):
    """Whether it is counted, and its note shown."""

    counted: bool
    note_shown: bool = False


class TryPath(TrialPath):
    """Which of them."""

    try_id: UUID


def _tries(trial_id: UUID) -> Response:
    items = [
        shown(TryView, r, id=str(r.id), version=p.version, against=against_caution(r.note))
        for r, p in tries_of(db(), trial_id)
    ]
    return answer(TryList(items=items))


@readers.get("/trials/<uuid:trial_id>/reader-tries", responses={200: TryList})
@require(Role.COOK)
def list_tries(path: TrialPath) -> Response:
    """What readers said who cooked it."""
    return _tries(open_trial(path.trial_id).id)


@readers.put("/trials/<uuid:trial_id>/reader-tries/<uuid:try_id>", responses={200: TryList})
@require(Role.LEAD)
def look_at_try(path: TryPath, body: LookIn) -> Response:
    """Count it, with its note or without, or leave it out."""
    trial = open_trial(path.trial_id)
    reading.look_at(
        db(), trial, path.try_id, counted=body.counted, note_shown=body.note_shown, by=me().person_id
    )
    return _tries(trial.id)


@readers.post("/trials/<uuid:trial_id>/reader-tries/<uuid:try_id>/promise", responses={204: None})
@require(Role.COOK)
def try_to_promise(path: TryPath) -> Response:
    """Put it on the list of things to try."""
    reading.to_try(db(), open_trial(path.trial_id), path.try_id, me().person_id)
    return done()


class DefectPhotoIn(BaseModel):
    """How it looks: a photo of a trial's log, what part of it is shown, and what it shows in words."""

    photo: UUID
    alt: str = Field(max_length=300)
    x: float = Field(default=0.5, ge=0, le=1)
    y: float = Field(default=0.5, ge=0, le=1)
    zoom: float = Field(default=1, ge=1, le=MOST_ZOOM)


class DefectIn(BaseModel):
    """What goes wrong, how it looks, why, and what cures it; or what only looks wrong."""

    name: str = Field(max_length=120)
    looks: str = Field(max_length=500)
    causes: str = Field(max_length=500)
    cure: str = Field(default="", max_length=500)
    normal: bool = False
    stands_on: str = Field(default="", max_length=300)
    techniques: list[str] = Field(default=[], max_length=40)
    trial_id: UUID | None = None
    taken_up: bool = Field(default=False, description="whether pages tell it")
    shipped: str = Field(default="", max_length=40)
    photo: DefectPhotoIn | None = None


class DefectPath(BaseModel):
    """Which of the library."""

    defect_id: UUID


class DefectList(BaseModel):
    """The library."""

    items: list[library.Kept]


class SeenList(BaseModel):
    """What a trial's own versions were meant to cure; what its page tells now; and its photos."""

    seen: list[Trouble]
    told: list[str]
    photos: list[library.TrialPhoto]


@readers.get("/defects", responses={200: DefectList})
@require(Role.COOK)
def list_defects() -> Response:
    """The library of what goes wrong."""
    return _library()


def _library() -> Response:
    return answer(DefectList(items=library.library(db())))


def _keep(defect_id: UUID | None, body: DefectIn) -> Response:
    trouble = Trouble(body.name, body.looks, body.causes, body.cure, body.normal, body.stands_on)
    library.keep(
        db(),
        defect_id,
        trouble,
        of=body.techniques,
        trial_id=body.trial_id,
        taken_up=body.taken_up,
        shipped=body.shipped,
        photo=Chosen(spot=PageSpot.TROUBLE, **body.photo.model_dump(mode="json")) if body.photo else None,
    )
    return _library()


@readers.post("/defects", responses={200: DefectList})
@require(Role.LEAD)
def add_defect(body: DefectIn) -> Response:
    """Put one into the library, or take up one that ships."""
    return _keep(None, body)


@readers.put("/defects/<uuid:defect_id>", responses={200: DefectList})
@require(Role.LEAD)
def change_defect(path: DefectPath, body: DefectIn) -> Response:
    """Change one, take it up or put it off."""
    return _keep(path.defect_id, body)


@readers.delete("/defects/<uuid:defect_id>", responses={200: DefectList})
@require(Role.LEAD)
def remove_defect(path: DefectPath) -> Response:
    """Take one out of the library."""
    library.remove(db(), path.defect_id, me().id)
    return _library()


@readers.get("/trials/<uuid:trial_id>/defects-seen", responses={200: SeenList})
@require(Role.COOK)
def defects_seen(path: TrialPath) -> Response:
    """What a trial's versions were meant to cure, to begin from."""
    trial = open_trial(path.trial_id)
    told = [k.trouble.name for k in library.library(db()) if k.taken_up and k.trial_id == str(trial.id)]
    return answer(SeenList(seen=library.seen_in(trial), told=told, photos=library.photos_in(db(), trial)))

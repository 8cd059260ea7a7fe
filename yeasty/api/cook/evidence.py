"""What is kept of a batch beside its entries: probe logs and photos."""

from uuid import UUID

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.request import answer, db, done, me, require
from yeasty.api.shown import shown
from yeasty.core.kernel.errors import RuleError
from yeasty.operations.cook import probe_logs
from yeasty.store.cook.pictures import MOST_BYTES, store_photo
from yeasty.store.cook.tables import Batch, Photo
from yeasty.store.kitchen.people_tables import Role

evidence = blueprint("evidence", "cook")


class BatchPath(BaseModel):
    """Which batch."""

    batch_id: UUID


class ProbeQuery(BaseModel):
    """How to read a probe log; `confirm` keeps it."""

    name: str = Field(default="probe log", max_length=100)
    unit: str | None = None
    starts_at: float | None = Field(default=None, ge=0, le=4e9)
    confirm: bool = False


class ProbePreview(BaseModel):
    """A probe log as it was read; saved once confirmed."""

    saved: bool
    unit: str
    unit_stated: bool
    why_unit: str
    rows: int
    seconds: float
    starts_at: float | None
    channels: dict[str, list[float]]


class PhotoPath(TrialPath):
    """Which photo of which trial."""

    photo_id: UUID


class PhotoQuery(BaseModel):
    """Whole or small."""

    thumb: bool = False


@evidence.post("/batches/<uuid:batch_id>/probe-logs", responses={200: ProbePreview})
@require(Role.COOK)
def add_probe_log(path: BatchPath, query: ProbeQuery) -> Response:
    """Read a probe log (CSV as the request's body). Kept once the unit is stated or confirmed."""
    if db().get(Batch, path.batch_id) is None:
        raise not_found("batch")
    read = probe_logs.read_file(request.get_data(cache=False), query.unit, query.starts_at)
    if query.confirm:
        probe_logs.keep(db(), path.batch_id, query.name, read)
    return answer(_preview(read, saved=query.confirm))


def _preview(read: probe_logs.Read, *, saved: bool) -> ProbePreview:
    return shown(
        ProbePreview,
        read.log,
        saved=saved,
        rows=len(read.log.times_s),
        seconds=read.log.times_s[-1],
        starts_at=read.starts_at,
        channels=read.spans(),
    )


@evidence.put("/trials/<uuid:trial_id>/photos/<uuid:photo_id>", responses={204: None})
@require(Role.COOK)
def put_photo(path: PhotoPath) -> Response:
    """Keep a photo (the picture as the request's body) under the id its device made."""
    if (request.content_length or 0) > MOST_BYTES:
        raise RuleError("photo", "is too large", "Take it at a lower resolution.")
    open_trial(path.trial_id)
    store_photo(db(), path.trial_id, path.photo_id, request.get_data(cache=False), me().person_id)
    return done()


@evidence.get("/trials/<uuid:trial_id>/photos/<uuid:photo_id>", responses={200: None})
@require(Role.COOK)
def get_photo(path: PhotoPath, query: PhotoQuery) -> Response:
    """A photo, for cooks and leads only: a taster would see which is which."""
    photo = db().get(Photo, path.photo_id)
    if photo is None or photo.trial_id != path.trial_id or photo.full is None:
        raise not_found("photo")
    response = current_app.response_class(
        photo.thumb if query.thumb else photo.full, mimetype=photo.media_type
    )
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response

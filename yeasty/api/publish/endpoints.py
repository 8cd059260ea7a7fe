"""Publish: draft, versions, withdrawal; and the public pages, which need no account and no script."""

from base64 import b64decode
from datetime import datetime
from functools import partial
from importlib.resources import files
from typing import Literal
from uuid import UUID

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.kitchen.slow_work import verdict_wanted
from yeasty.api.problems import not_found
from yeasty.api.reckon import reckon
from yeasty.api.request import after_commit, answer, check_if_match, db, me, require
from yeasty.api.shown import shown
from yeasty.core.kernel.slow_work import WorkKind
from yeasty.core.publish.document import LinkedPage, as_record
from yeasty.core.publish.html import notice_html, page_html, report_html
from yeasty.core.publish.kinds import KINDS, PageKind, Recipes
from yeasty.core.publish.opinion import opinions
from yeasty.core.publish.pictures import MOST_PICTURES, MOST_ZOOM, PageSpot, box_of, file_of
from yeasty.operations.decide.decisions import decision_of, outcome_of
from yeasty.operations.kitchen.slow_work import is_stopped
from yeasty.operations.publish import pages
from yeasty.operations.publish.at_risk import pages_at_risk, told_of
from yeasty.operations.publish.building import build_page, kind_of
from yeasty.operations.publish.linking import linkable
from yeasty.operations.publish.photos import MayBeChosen, file_of_photo, may_be_chosen
from yeasty.operations.publish.report import report_of
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.publish import queries as publications
from yeasty.store.publish.tables import Publication

publish = blueprint("publish", "publish")
PDF = "application/pdf"
STYLE = "/style/page.css"
PAGE_FILES = files("yeasty.core.publish").joinpath("page")


class PictureIn(BaseModel):
    """A photo of the log, where it stands on the page, what part of it is shown and what it shows."""

    photo: str = Field(max_length=36, pattern="^[0-9a-f-]{36}$")
    spot: PageSpot
    way: str = Field(default="", max_length=36)
    step: str = Field(default="", max_length=64)
    alt: str = Field(default="", max_length=300)
    x: float = Field(default=0.5, ge=0, le=1)
    y: float = Field(default=0.5, ge=0, le=1)
    zoom: float = Field(default=1, ge=1, le=MOST_ZOOM)


class DraftIn(BaseModel):
    """What the lead writes; what is left out stays."""

    method_id: UUID | None = None
    kind: PageKind | Literal[""] | None = Field(
        default=None, description="kind of page; empty: the one that the outcome asks for"
    )
    title: str | None = Field(default=None, max_length=200)
    intro: str | None = Field(default=None, max_length=4000)
    normal: str | None = Field(default=None, max_length=2000)
    serving: str | None = Field(default=None, max_length=2000)
    keeping: str | None = Field(default=None, max_length=2000)
    disclosure: str | None = Field(default=None, max_length=1000)
    process: str | None = Field(default=None, max_length=1000)
    signs: str | None = Field(default=None, max_length=2000)
    quotes: str | None = Field(default=None, max_length=2000)
    lessons: str | None = Field(default=None, max_length=2000)
    linked: list[str] | None = Field(
        default=None, max_length=40, description="addresses of pages that belong to it"
    )
    pictures: list[PictureIn] | None = Field(default=None, max_length=MOST_PICTURES)


class PictureView(BaseModel):
    """A photo as it was chosen; `box` : the part that is shown, left, top, right, bottom as shares."""

    photo: str
    spot: PageSpot
    way: str
    step: str
    alt: str
    x: float
    y: float
    zoom: float
    box: list[float]


class PhotoStep(BaseModel):
    """A step at which a photo may stand, of a method that the page writes out."""

    way: str
    step: str
    what: str


class VersionView(BaseModel):
    """A published version."""

    id: str
    slug: str
    version: int
    published_at: datetime
    correction: str
    withdrawn_at: datetime | None
    withdrawn_why: str
    path: str
    pdf_ready: bool
    pdf_stopped: bool
    has_data: bool = Field(description="whether the records it stands on can be fetched")


class OpinionView(BaseModel):
    """Words of the lead that compare or count, and where they stand."""

    field: str
    words: str


class PageKindView(BaseModel):
    """A kind of page that the lead may choose; `one` : whether it is about one method, where one is named."""

    key: PageKind
    name: str
    one: bool


_KINDS = [
    PageKindView(key=k.key, name=k.name, one=k.recipes in (Recipes.ONE, Recipes.ONE_OR_EACH))
    for k in KINDS.values()
]


class PublishView(BaseModel):
    """The draft, how it would read now, and what is out."""

    method_id: str | None
    chosen_method_id: str | None
    texts: dict[str, str]
    version: int
    kind: PageKind
    kinds: list[PageKindView]
    headline: str
    how_sure: str
    offered: pages.Offered
    versions: list[VersionView]
    unfit: dict[str, str]
    opinions: list[OpinionView]
    unmatched: list[str] = Field(
        description="ingredients that a step names and the list lacks, and the reverse"
    )
    linkable: list[LinkedPage] = Field(description="pages that may be said to belong to it")
    pictures: list[PictureView]
    photos: list[MayBeChosen] = Field(description="photos of judged batches, that may be chosen")
    photo_steps: list[PhotoStep]
    fresh: bool = Field(description="whether the verdict on it is that of the records as they are")
    verdict_stopped: bool = Field(description="somebody did not want a new one")


class PublishIn(BaseModel):
    """What a later version corrects."""

    correction: str = Field(default="", max_length=500)


class WithdrawIn(BaseModel):
    """Why a page is withdrawn; readers see this."""

    why: str = Field(min_length=3, max_length=500)


def _version(p: Publication) -> VersionView:
    return shown(
        VersionView,
        p,
        id=str(p.id),
        path=f"/p/{p.slug}/{p.version}",
        pdf_ready=(ready := publications.has_file(db(), p.id, PDF)),
        pdf_stopped=not ready and is_stopped(db(), WorkKind.PDF, p.id),
        has_data=publications.has_file(db(), p.id, pages.DATA),
    )


def _view(trial_id: UUID, status: int = 200) -> Response:
    trial = open_trial(trial_id)
    versions = [_version(p) for p in publications.versions_of(db(), trial_id)]
    jobs = current_app.extensions["yeasty_jobs"]
    for v in versions:
        if not v.pdf_ready and not v.pdf_stopped and v.withdrawn_at is None:
            after_commit(partial(jobs.render, UUID(v.id)))
    fresh = decision_of(db(), trial_id).fresh
    stopped = not fresh and not verdict_wanted(trial_id)
    draft, may = pages.draft_of(db(), trial), told_of(db(), trial)
    page = build_page(db(), trial, draft, may)
    told = {r.tag for r in (page.recipe, *page.recipes) if r is not None} if page else set()
    outcome = outcome_of(db(), trial_id)
    chosen = next((m for m in trial.methods if page and page.recipe and m.tag == page.recipe.tag), None)
    return answer(
        shown(
            PublishView,
            draft,
            method_id=str(draft.method_id) if draft.method_id else None,
            chosen_method_id=str(chosen.id) if chosen else None,
            kind=kind_of(trial, draft, outcome),
            kinds=[
                shown(PageKindView, k, one=k.recipes in (Recipes.ONE, Recipes.ONE_OR_EACH))
                for k in KINDS.values()
            ],
            pictures=[shown(PictureView, c, box=box_of(c)) for c in draft.pictures],
            photos=may_be_chosen(outcome, trial),
            photo_steps=[
                PhotoStep(way=str(m.id), step=s.key, what=s.what)
                for r in ((page.recipe, *page.recipes) if page else ())
                for m in trial.methods
                if r is not None and m.tag == r.tag
                for s in r.steps
            ],
            linkable=linkable(db(), trial_id),
            fresh=fresh,
            verdict_stopped=stopped,
            headline=page.headline if page else "",
            how_sure=page.how_sure if page else "",
            offered=pages.offered(db(), trial, [m for m in trial.methods if m.tag in told]),
            versions=versions,
            unmatched=pages.unmatched_in(db(), page) if page else [],
            opinions=[OpinionView(field=f, words=w) for f, w in opinions(draft.texts)],
            unfit={str(k): why for k, why in may.unfit.items()},
        ),
        status,
        draft.version,
    )


@publish.get("/trials/<uuid:trial_id>/publication", responses={200: PublishView})
@require(Role.COOK)
def get_publication(path: TrialPath) -> Response:
    """The draft and what is out."""
    return _view(path.trial_id)


# Drawn in a frame of this application's own pages, and nowhere else.
FRAMED = (
    "default-src 'none'; style-src 'self'; font-src 'self'; img-src 'self' data:; base-uri 'none'; "
    "form-action 'none'; frame-ancestors 'self'"
)


@publish.get("/trials/<uuid:trial_id>/publication/page")
@require(Role.COOK)
def draft_page(path: TrialPath) -> Response:
    """The draft as readers would see it, drawn by what draws the page itself."""
    trial = open_trial(path.trial_id)
    response = current_app.response_class(_draft_html(trial), mimetype="text/html")
    response.headers["Content-Security-Policy"] = FRAMED
    response.headers["Cache-Control"] = "no-store"
    return response


def _draft_html(trial: Trial) -> str:
    page = build_page(db(), trial, pages.draft_of(db(), trial), told_of(db(), trial))
    if page is None:
        return notice_html("Nothing to show yet", "No method is recommended yet.", style=STYLE)
    return page_html(
        pages.draft_edition(page, trial, publications.versions_of(db(), trial.id)),
        base=request.host_url.rstrip("/"),
        style=STYLE,
        draft=True,
        photo=_draft_photo,
    )


def _draft_photo(number: int, width: int) -> str:
    """A photo of the draft, beside its page."""
    return f"photos/{file_of(number, width)}"


class DraftPhotoPath(TrialPath):
    """Which photo of a draft, at which width."""

    name: str = Field(max_length=20)


@publish.get("/trials/<uuid:trial_id>/publication/photos/<name>", responses={200: None})
@require(Role.COOK)
def draft_photo(path: DraftPhotoPath) -> Response:
    """A photo of the draft as it would be published now."""
    trial = open_trial(path.trial_id)
    page = build_page(db(), trial, pages.draft_of(db(), trial), told_of(db(), trial))
    data = file_of_photo(db(), as_record(page), path.name) if page else None
    if data is None:
        raise not_found("photo")
    response = current_app.response_class(data, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "no-store"
    return response


@publish.patch("/trials/<uuid:trial_id>/publication", responses={200: PublishView})
@require(Role.COOK)
def change_draft(path: TrialPath, body: DraftIn) -> Response:
    """Write the draft."""
    trial = open_trial(path.trial_id)
    draft = pages.draft_of(db(), trial, lock=True)
    check_if_match(draft.version)
    pages.write_draft(db(), trial, draft, body.model_dump(exclude_unset=True))
    return _view(path.trial_id)


@publish.get("/trials/<uuid:trial_id>/report.pdf")
@require(Role.COOK)
def report_pdf(path: TrialPath) -> Response:
    """The whole trial on paper, as its records and the last verdict are."""
    trial = open_trial(path.trial_id)
    html = report_html(report_of(db(), trial), style="page.css")
    return file_answer(b64decode(reckon("pdf", html=html)), PDF, "report.pdf")


class RiskView(BaseModel):
    """A page that is out and would not be let out today, and what is proposed."""

    trial_id: str
    title: str
    path: str
    why: str
    proposal: str
    correction: str


class RiskList(BaseModel):
    """Pages that would not stand."""

    items: list[RiskView]


@publish.get("/pages-at-risk", responses={200: RiskList})
@require(Role.LEAD)
def list_risks() -> Response:
    """Pages that are out and would not stand under the rules as they are."""
    jobs = current_app.extensions["yeasty_jobs"]
    items = [
        shown(
            RiskView,
            r,
            trial_id=str(r.publication.trial_id),
            title=str(r.publication.document.get("title", "")),
            path=f"/p/{r.publication.slug}/{r.publication.version}",
            correction=r.correction[:500],
        )
        for r in pages_at_risk(db(), lambda trial_id: after_commit(lambda: jobs.tell(trial_id)))
    ]
    return answer(RiskList(items=items))


@publish.post("/trials/<uuid:trial_id>/publications", responses={201: PublishView})
@require(Role.LEAD)
def publish_page(path: TrialPath, body: PublishIn) -> Response:
    """Freeze a new version; the worker makes its PDF."""
    trial = open_trial(path.trial_id)
    pages.publish(db(), trial, pages.draft_of(db(), trial), correction=body.correction, by=me().person_id)
    people.note(db(), "published", trial.title, by=me().person_id)
    return _view(path.trial_id, 201)


@publish.post("/trials/<uuid:trial_id>/withdrawal", responses={200: PublishView})
@require(Role.LEAD)
def withdraw_page(path: TrialPath, body: WithdrawIn) -> Response:
    """Withdraw all versions: only the notice shows."""
    trial = open_trial(path.trial_id)
    pages.withdraw(db(), trial.id, body.why)
    people.note(db(), "withdrew a page", trial.title, by=me().person_id)
    return _view(path.trial_id)


def file_answer(data: bytes, media_type: str, name: str) -> Response:
    response = current_app.response_class(data, content_type=media_type)
    response.headers["Content-Disposition"] = f'inline; filename="{name}"'
    # What is made from a kitchen's records is left on no device; what is published is asked for anew where it
    # was corrected.
    response.headers["Cache-Control"] = "no-store"
    return response

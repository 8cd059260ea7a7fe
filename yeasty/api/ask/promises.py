"""Ask: things to try later, readers' questions, and guesses before the test."""

from datetime import datetime
from typing import Literal
from uuid import UUID

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import MarkView, TrialPath, TrialView, mark_view
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.request import answer, db, done, me, require
from yeasty.api.shown import shown
from yeasty.api.tries import count_try
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.errors import Refused
from yeasty.core.publish.html import notice_html
from yeasty.operations.ask import designs, families
from yeasty.operations.ask.what_next import what_next
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.publish import guesses
from yeasty.store.publish import promises as store
from yeasty.store.publish.queries import by_slug
from yeasty.store.publish.tables import Promise, Source

# By one address in a quarter of an hour: of one page, and of all. A family at one table guesses from one
# address.
MOST_GUESSES, MOST_QUESTIONS, MOST_BY_FORM = 20, 5, 40

promises = blueprint("promises", "ask")
STYLE = "/style/page.css"


class PromiseView(BaseModel):
    """A thing to try, where it comes from and what became of it."""

    id: str
    text: str
    dish: str
    source: Source
    trial_id: str | None
    trial: str
    became_trial_id: str | None
    closed_at: datetime | None
    closed_why: str
    added_at: datetime


class SuggestionView(BaseModel):
    """Something that may belong on the list: from a note at the bench, or from a verdict."""

    text: str
    source: Source
    trial_id: str
    trial: str
    dish: str
    entry_id: str | None


class PromiseList(BaseModel):
    """The list, and what may belong on it."""

    items: list[PromiseView]
    suggestions: list[SuggestionView]


class PromiseIn(BaseModel):
    """A thing to try."""

    text: str = Field(min_length=4, max_length=500)
    dish: str = Field(default="", max_length=200)
    source: Literal["own", "note", "what_next"] = "own"
    trial_id: UUID | None = None
    entry_id: UUID | None = None


class PromisePath(BaseModel):
    """Which entry of the list."""

    promise_id: UUID


class CloseIn(BaseModel):
    """Why it will not be tried."""

    why: str = Field(min_length=3, max_length=300)


class FromPromise(BaseModel):
    """The kind of trial that is made of it."""

    kind: TrialKind = TrialKind.ONE_CHANGE


class PromiseQuery(BaseModel):
    """Whether those done and closed are shown too."""

    closed: bool = False


class GuessIn(BaseModel):
    """A guess: who, which method, why."""

    who: str = Field(default="", max_length=80)
    method_id: UUID
    why: str = Field(default="", max_length=500)


class GuessView(BaseModel):
    """A guess, once it may be seen."""

    who: str
    method_id: str | None
    why: str
    by_link: bool


class GuessList(BaseModel):
    """How many guesses there are; what they say only after the codes are open. `link` is for readers."""

    count: int
    shown: bool
    items: list[GuessView]
    link: str


class GuessPath(BaseModel):
    """A public guess link."""

    token: str = Field(min_length=8, max_length=60)


class Choice(BaseModel):
    """A method to guess on, by name."""

    method_id: str
    name: str
    mark: MarkView


class GuessPage(BaseModel):
    """What a public guesser sees: the question and the names, nothing else."""

    question: str
    dish: str
    choices: list[Choice]
    closed: bool


class QuestionPath(BaseModel):
    """Which published page."""

    slug: str = Field(max_length=80)


class ReaderQuestion(BaseModel):
    """A reader's question; `website` is left empty by people."""

    text: str = Field(min_length=4, max_length=500)
    website: str = Field(default="", max_length=200)


@promises.get("/promises", responses={200: PromiseList})
@require(Role.COOK)
def list_promises(query: PromiseQuery) -> Response:
    """Things to try, and what may belong on the list."""
    return _list(closed=query.closed)


def _list(status: int = 200, *, closed: bool = False) -> Response:
    rows = store.open_promises(db(), closed=closed)
    titles = store.titles(db(), {r.trial_id for r in rows if r.trial_id})
    items = [
        shown(
            PromiseView,
            r,
            id=str(r.id),
            source=Source(r.source),
            trial_id=str(r.trial_id) if r.trial_id else None,
            trial=titles.get(r.trial_id, "") if r.trial_id else "",
            became_trial_id=str(r.became_trial_id) if r.became_trial_id else None,
        )
        for r in rows
    ]
    notes = [
        SuggestionView(
            text=str(e.payload["text"]),
            source=Source.NOTE,
            trial_id=str(t.id),
            trial=t.title,
            dish=t.dish,
            entry_id=str(e.id),
        )
        for e, t in store.notes_that_promise(db())
    ]
    verdicts = [
        SuggestionView(
            text=text, source=Source.WHAT_NEXT, trial_id=str(t.id), trial=t.title, dish=t.dish, entry_id=None
        )
        for text, t in what_next(db())
    ]
    return answer(PromiseList(items=items, suggestions=[*notes, *verdicts]), status)


@promises.post("/promises", responses={201: PromiseList})
@require(Role.COOK)
def add_promise(body: PromiseIn) -> Response:
    """Put a thing to try on the list."""
    trial = open_trial(body.trial_id) if body.trial_id else None
    store.add_promise(
        db(),
        body.text,
        Source(body.source),
        dish=body.dish or (trial.dish if trial else ""),
        trial_id=body.trial_id,
        entry_id=body.entry_id,
        by=me().person_id,
    )
    return _list(201)


def _promise(promise_id: UUID) -> Promise:
    row = db().get(Promise, promise_id, with_for_update=True)
    if row is None:
        raise not_found("entry of the list")
    if row.closed_at is not None:
        raise Refused(
            "entry", "is done or closed already", "Put it on the list again if it is to be tried once more."
        )
    return row


@promises.post("/promises/<uuid:promise_id>/closure", responses={200: PromiseList})
@require(Role.COOK)
def close_promise(path: PromisePath, body: CloseIn) -> Response:
    """Take it off the list with a reason; it is kept."""
    row = _promise(path.promise_id)
    row.closed_at, row.closed_why = now(), body.why.strip()
    db().flush()
    return _list()


@promises.post("/promises/<uuid:promise_id>/trial", responses={201: TrialView})
@require(Role.COOK)
def trial_of_promise(path: PromisePath, body: FromPromise) -> Response:
    """Make a trial of an entry in one step: a copy of the trial it comes from, else a new one."""
    row = _promise(path.promise_id)
    if row.trial_id is not None:
        of = open_trial(row.trial_id)
        leader = families.leader_of(db(), of)
        chosen = [leader.id] if leader else [m.id for m in of.methods[:1]]
        made = families.copy_trial(
            db(), of, kind=body.kind, title=row.text[:200], question=row.text, methods=chosen
        )
    else:
        made = designs.new_trial(
            db(), title=row.text[:200], question=row.text, dish=row.dish or "not said yet", kind=body.kind
        )
    row.became_trial_id, row.closed_at, row.closed_why = made.id, now(), "made a trial"
    return whole(open_trial(made.id), 201)


def _guesses(trial: Trial) -> GuessList:
    rows = guesses.guesses_of(db(), trial.id)
    open_now = guesses.guesses_shown(db(), trial)
    items = (
        [shown(GuessView, g, method_id=str(g.method_id) if g.method_id else None) for g in rows]
        if open_now
        else []
    )
    return GuessList(
        count=len(rows), shown=open_now, items=items, link=f"/g/{guesses.guess_token(db(), trial)}"
    )


@promises.get("/trials/<uuid:trial_id>/guesses", responses={200: GuessList})
@require(Role.COOK)
def list_guesses(path: TrialPath) -> Response:
    """How many guesses there are; what they say only once the codes are open."""
    return answer(_guesses(open_trial(path.trial_id)))


@promises.post("/trials/<uuid:trial_id>/guesses", responses={201: GuessList})
@require(Role.COOK)
def add_guess(path: TrialPath, body: GuessIn) -> Response:
    """A guess of someone in the kitchen."""
    trial = open_trial(path.trial_id)
    guesses.add_guess(db(), trial, body.who or me().person.name, body.method_id, body.why, by_link=False)
    return answer(_guesses(trial), 201)


@promises.post("/trials/<uuid:trial_id>/guesses/closure", responses={200: GuessList})
@require(Role.LEAD)
def close_guesses(path: TrialPath) -> Response:
    """End the guessing, for a trial without a blind tasting: from now on guesses are shown and none are
    taken.
    """
    trial = open_trial(path.trial_id)
    trial.guesses_closed_at = now()
    db().flush()
    return answer(_guesses(trial))


def _public(token: str) -> Trial:
    trial = guesses.by_guess_token(db(), token)
    if trial is None:
        raise not_found("guess")
    return trial


@promises.get("/guess-pages/<token>", responses={200: GuessPage})
def guess_page(path: GuessPath) -> Response:
    """What a public guesser sees."""
    trial = _public(path.token)
    choices = [Choice(method_id=str(m.id), name=m.name, mark=mark_view(m.mark)) for m in trial.methods]
    return answer(shown(GuessPage, trial, choices=choices, closed=guesses.guesses_shown(db(), trial)))


@promises.post("/guess-pages/<token>/guesses")
def public_guess(path: GuessPath, body: GuessIn) -> Response:
    """A guess by the public link."""
    count_try("guess", path.token, most=MOST_GUESSES, most_in_all=MOST_BY_FORM)
    guesses.add_guess(db(), _public(path.token), body.who, body.method_id, body.why, by_link=True)
    return done()


@promises.post("/published/<slug>/questions")
def reader_asks(path: QuestionPath) -> Response:
    """A reader's question from a published page, sent as a form; it lands on the list of things to try."""
    row = by_slug(db(), path.slug)
    if row is None or row.withdrawn_at is not None:
        raise not_found("page")
    asked = ReaderQuestion(text=request.form.get("text", ""), website=request.form.get("website", ""))
    if not asked.website:
        count_try("reader", path.slug, most=MOST_QUESTIONS, most_in_all=MOST_BY_FORM)
        trial = db().get(Trial, row.trial_id)
        store.add_promise(
            db(), asked.text, Source.READER, dish=trial.dish if trial else "", trial_id=row.trial_id
        )
    html = notice_html("Thank you", "Your question is on the kitchen’s list of things to try.", style=STYLE)
    return current_app.response_class(html, mimetype="text/html")

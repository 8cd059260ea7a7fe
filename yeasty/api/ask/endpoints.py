"""Ask: trials, their words and what changed in them."""

import base64
import json
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.bodies import AttributeIn, TrialChange, asked
from yeasty.api.ask.opened import open_trial, whole
from yeasty.api.ask.views import (
    AnswerScaleView,
    MarkView,
    TrialPath,
    TrialView,
    mark_view,
    scale_views,
)
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError
from yeasty.api.request import (
    Blank,
    Mass,
    Temperature,
    answer,
    db,
    done,
    each,
    own_side,
    require,
    written,
)
from yeasty.api.shown import shown
from yeasty.core.ask.kinds import KINDS
from yeasty.core.ask.proposals import FoodProposal, JudgedProposal
from yeasty.core.ask.states import STATE_WORDS, TrialState
from yeasty.core.ask.trial import TrialKind
from yeasty.operations.ask import designs
from yeasty.operations.ask.beginning import LAID_OUT, Beginning, begin, propose
from yeasty.operations.ask.how_far import HowFar, how_far
from yeasty.store.ask import queries as trials
from yeasty.store.ask.queries import Wanted
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.kitchen import people
from yeasty.store.kitchen.library import known_techniques
from yeasty.store.kitchen.people_tables import Role

ask = blueprint("ask", "ask")
PAGE = 30


class TrialQuery(BaseModel):
    """Search words and where to go on."""

    search: str = ""
    cursor: str = ""
    away: bool = Field(default=False, description="those that were put away, instead of the others")
    state: TrialState | None = None
    kind: TrialKind | None = None
    technique: str = Field(default="", max_length=40, description="of any of its ways")
    person: UUID | None = Field(default=None, description="who designed it or wrote in its log")

    def wanted(self) -> Wanted:
        """As the store is asked."""
        return Wanted(self.search, self.away, self.state, self.kind or "", self.technique, self.person)


class PutAway(BaseModel):
    """Whether a trial is out of sight."""

    away: bool


class TrialCard(BaseModel):
    """A trial in the list."""

    id: str
    title: str
    question: str
    dish: str
    kind: TrialKind
    updated_at: datetime
    state: TrialState
    how_far: str
    marks: list[MarkView]


class TrialList(BaseModel):
    """A page of trials; `cursor` is empty on the last."""

    items: list[TrialCard]
    cursor: str


class FilterChoice(BaseModel):
    """Something to narrow a list by: what is sent, and what it is called."""

    key: str
    name: str


class TrialFilters(BaseModel):
    """What the list of trials can be narrowed by; techniques and people as far as they occur."""

    states: list[FilterChoice]
    kinds: list[FilterChoice]
    techniques: list[FilterChoice]
    people: list[FilterChoice]


class NewTrial(BaseModel):
    """A question, a dish and a kind."""

    title: str = Field(default="", max_length=200)
    question: str = Field(min_length=1, max_length=1000)
    dish: str = Field(min_length=1, max_length=200)
    kind: TrialKind = TrialKind.SIDE_BY_SIDE
    food_class: str = Field(default="", max_length=40)
    techniques: list[Annotated[str, Field(max_length=40)]] = Field(
        default=[], max_length=48, description="one way each, with the kitchen's own appliances"
    )
    judged: list[AttributeIn] = Field(default=[], max_length=30)
    pieces: Annotated[int, Field(ge=1, le=10_000)] | None = Field(default=None, description="of a batch")
    piece_kg: Annotated[Mass | None, Blank] = None
    core_c: Annotated[Temperature | None, Blank] = None
    ingredients: str = Field(
        default="", max_length=6000, description="of a batch of every way, one a line, as a cook writes them"
    )


class ProposalView(BaseModel):
    """What a new trial most likely is, each with why; `earlier` is the trial of this dish that it is from."""

    food: FoodProposal
    judged: list[JudgedProposal]
    earlier: str


class ProposalIn(BaseModel):
    """The words of a new trial so far."""

    dish: str = Field(default="", max_length=200)
    question: str = Field(default="", max_length=1000)
    techniques: list[Annotated[str, Field(max_length=40)]] = Field(default=[], max_length=48)


class AnswerScaleList(BaseModel):
    """All scales."""

    items: list[AnswerScaleView]


class KindView(BaseModel):
    """A kind of trial: what it is called, when to choose it, what it asks of the later stations; and whether
    its ways come from a layout of its own.
    """

    kind: TrialKind
    name: str
    what: str
    wants: str
    least: int
    most: int
    laid_out: bool
    asks: dict[str, str]


class KindList(BaseModel):
    """All kinds."""

    items: list[KindView]


@ask.get("/answer-scales", responses={200: AnswerScaleList})
@require(Role.COOK)
def list_scales() -> Response:
    """Ways to answer a question at the table."""
    return answer(AnswerScaleList(items=scale_views()))


@ask.get("/kinds-of-trial", responses={200: KindList})
@require(Role.COOK)
def list_kinds() -> Response:
    """The nine kinds of trial."""
    items = [shown(KindView, v, kind=k, laid_out=k in LAID_OUT, asks=dict(v.asks)) for k, v in KINDS.items()]
    return answer(KindList(items=items))


def _card(t: Trial, far: HowFar) -> TrialCard:
    marks = [mark_view(m.mark) for m in t.methods]
    return shown(
        TrialCard,
        t,
        id=str(t.id),
        kind=TrialKind(t.kind),
        state=far.state,
        how_far=far.words,
        marks=marks,
    )


@ask.get("/trial-filters", responses={200: TrialFilters})
@require(Role.COOK)
def list_filters() -> Response:
    """What the list of trials can be narrowed by."""
    names = {k: t.name for k, t in known_techniques(db()).items()}
    return answer(
        TrialFilters(
            states=[FilterChoice(key=s, name=w) for s, w in STATE_WORDS.items()],
            kinds=[FilterChoice(key=k, name=v.name) for k, v in KINDS.items()],
            techniques=[FilterChoice(key=k, name=names.get(k, k)) for k in trials.techniques_tried(db())],
            people=[FilterChoice(key=str(i), name=n) for i, n in people.who_sign_in(db())],
        )
    )


@ask.get("/trials", responses={200: TrialList})
@require(Role.COOK)
def list_trials(query: TrialQuery) -> Response:
    """Trials, last changed first; every search word must occur."""
    after = None
    if query.cursor:
        try:
            moment, last = json.loads(base64.urlsafe_b64decode(query.cursor))
            after = (datetime.fromisoformat(moment), UUID(last))
        except (ValueError, TypeError):
            raise ApiError(
                422, "Not understood", "The cursor is not one of this list. Begin again without it."
            ) from None
    rows = list(trials.search_trials(db(), query.wanted(), after, PAGE + 1))
    more = rows[PAGE - 1] if len(rows) > PAGE else None
    cursor = json.dumps([more.updated_at.isoformat(), str(more.id)]).encode() if more else b""
    words = how_far(db(), [t.id for t in rows[:PAGE]], written())
    items = each(rows[:PAGE], lambda t: _card(t, words[t.id]))
    return answer(TrialList(items=items, cursor=base64.urlsafe_b64encode(cursor).decode()))


@ask.post("/trials", responses={201: TrialView})
@require(Role.COOK)
def new_trial(body: NewTrial) -> Response:
    """A new trial."""
    given = body.model_dump(exclude={"judged", "kind"})
    judged = [asked(row) for row in body.judged]
    trial = begin(db(), Beginning(**given, kind=body.kind, judged=judged, words=own_side()))
    return whole(open_trial(trial.id), 201)


@ask.post("/trial-proposals", responses={200: ProposalView})
@require(Role.COOK)
def propose_trial(body: ProposalIn) -> Response:
    """What a new trial most likely is, to be looked at and confirmed; nothing is made."""
    return answer(shown(ProposalView, propose(db(), body.dish, body.question, body.techniques)))


@ask.get("/trials/<uuid:trial_id>", responses={200: TrialView})
@require(Role.COOK)
def get_trial(path: TrialPath) -> Response:
    """A trial's whole design."""
    return whole(open_trial(path.trial_id))


@ask.put("/trials/<uuid:trial_id>/put-away", responses={204: None})
@require(Role.COOK)
def put_away(path: TrialPath, body: PutAway) -> Response:
    """Put a trial out of sight, or bring it back; nothing of it is lost, and its pages stay out."""
    trial = open_trial(path.trial_id)
    trial.put_away_at = (trial.put_away_at or now()) if body.away else None
    return done()


@ask.patch("/trials/<uuid:trial_id>", responses={200: TrialView})
@require(Role.COOK)
def change_trial(path: TrialPath, body: TrialChange) -> Response:
    """Change words and rules."""
    trial = open_trial(path.trial_id, edit=True)
    given = body.model_dump(exclude_unset=True, exclude_none=True, mode="json")
    if "serving_kg" in body.model_fields_set:
        given["serving_kg"] = body.serving_kg
    designs.change(trial, given)
    return whole(trial)


class HistoryValue(BaseModel):
    """A value before and after an edit."""

    path: str
    before: Any = None
    after: Any = None


class HistoryEntry(BaseModel):
    """One edit: which version it made, who, when, what."""

    version: int
    at: datetime
    by: str
    what: str
    changes: list[HistoryValue]


class HistoryList(BaseModel):
    """Edits of a design, newest first."""

    items: list[HistoryEntry]


@ask.get("/trials/<uuid:trial_id>/design-history", responses={200: HistoryList})
@require(Role.COOK)
def get_history(path: TrialPath) -> Response:
    """The history of a trial's design."""
    rows = trials.design_history(db(), open_trial(path.trial_id).id)
    names = people.names_of(db(), {r.by for r in rows if r.by})
    items = [
        shown(
            HistoryEntry,
            r,
            by=names.get(r.by, "") if r.by else "",
            changes=[HistoryValue(**c) for c in r.changes],
        )
        for r in rows
    ]
    return answer(HistoryList(items=items))

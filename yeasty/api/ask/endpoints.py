"""Ask: trials, attributes, methods and their steps."""

import base64
import json
from datetime import datetime
from functools import partial
from typing import Annotated, Any
from uuid import UUID, uuid4

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from yeasty.api.ask.views import (
    AnswerScaleView,
    MarkView,
    TrialPath,
    TrialView,
    mark_view,
    scale_views,
    trial_view,
)
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import (
    Blank,
    Duration,
    Length,
    Mass,
    Power,
    Temperature,
    answer,
    before_commit,
    check_if_match,
    db,
    done,
    each,
    me,
    require,
)
from yeasty.api.shown import shown
from yeasty.core.ask.kinds import KINDS, varied_by
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.kernel.scales import SCALES, Scale
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step
from yeasty.core.safety.core_minimum import food_class
from yeasty.operations.ask import design_history, designs
from yeasty.store.ask import queries as trials
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.kitchen import library, people
from yeasty.store.kitchen import queries as kitchen
from yeasty.store.kitchen.people_tables import Role

ask = blueprint("ask", "ask")
PAGE = 30


class TrialQuery(BaseModel):
    """Search words and where to go on."""

    search: str = ""
    cursor: str = ""
    away: bool = Field(default=False, description="those that were put away, instead of the others")


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
    marks: list[MarkView]


class TrialList(BaseModel):
    """A page of trials; `cursor` is empty on the last."""

    items: list[TrialCard]
    cursor: str


class NewTrial(BaseModel):
    """A question, a dish and a kind."""

    title: str = Field(default="", max_length=200)
    question: str = Field(min_length=1, max_length=1000)
    dish: str = Field(min_length=1, max_length=200)
    kind: TrialKind = TrialKind.SIDE_BY_SIDE
    food_class: str = Field(default="", max_length=40)


class TrialChange(BaseModel):
    """Words and rules of a trial; what is left out stays."""

    title: str | None = Field(default=None, min_length=1, max_length=200)
    question: str | None = Field(default=None, max_length=1000)
    dish: str | None = Field(default=None, min_length=1, max_length=200)
    aliases: str | None = Field(default=None, max_length=500)
    kind: TrialKind | None = None
    fairness: Fairness | None = None
    done_rule: DoneRule | None = None
    answer_rule: str | None = Field(default=None, max_length=1000)
    matters: float | None = Field(default=None, ge=0, le=10)
    hunch: str | None = Field(default=None, max_length=1000)
    pieces: int | None = Field(default=None, ge=1, le=10000)
    food_class: str | None = Field(default=None, max_length=40)
    varied: list[str] | None = None
    matches: str | None = Field(default=None, max_length=200)
    batches_each: int | None = Field(default=None, ge=1, le=12)
    serving_kg: Annotated[Mass | None, Blank] = None
    eaters: int | None = Field(default=None, ge=0, le=1000)
    leftover_use: str | None = Field(default=None, max_length=500)
    credited: str | None = Field(default=None, max_length=100)


class AnswerScaleList(BaseModel):
    """All scales."""

    items: list[AnswerScaleView]


class AttributeIn(BaseModel):
    """An attribute; with its id where it is to be kept."""

    id: UUID | None = None
    name: str = Field(min_length=1, max_length=100)
    scale: Scale
    weight: float = Field(default=1, ge=0, le=100)
    low_words: str = Field(default="", max_length=100)
    high_words: str = Field(default="", max_length=100)
    high_is_better: bool = True
    words: list[Annotated[str, Field(min_length=1, max_length=60)]] = Field(default=[], max_length=30)


class AttributesIn(BaseModel):
    """All attributes of a trial."""

    items: list[AttributeIn] = Field(max_length=30)


class NewMethod(BaseModel):
    """A method from a technique."""

    technique: str
    name: str = Field(default="", max_length=100)


class MethodChange(BaseModel):
    """Words and weights of a method; what is left out stays."""

    name: str | None = Field(default=None, min_length=1, max_length=100)
    tag: str | None = Field(default=None, pattern="^[A-Z]{2}$")
    batch_kg: Annotated[Mass | None, Blank] = None
    pieces_per_batch: int | None = Field(default=None, ge=1, le=1000)
    hold_limit_s: Annotated[Duration | None, Blank] = None
    piece_kg: Annotated[Mass | None, Blank] = None
    start_c: Annotated[Temperature | None, Blank] = None
    piece_shape: str | None = Field(default=None, max_length=20)
    piece_thickness_m: Annotated[Length | None, Blank] = None
    piece_food: str | None = Field(default=None, max_length=40)
    hazards: list[str] | None = Field(default=None, max_length=40)
    gear: list[str] | None = None
    vessel: str | None = Field(default=None, max_length=100)
    lid: str | None = Field(default=None, max_length=60)
    place: str | None = Field(default=None, max_length=100)
    operator: str | None = Field(default=None, max_length=100)
    checks: list[Annotated[str, Field(max_length=200)]] | None = Field(default=None, max_length=30)
    change: str | None = Field(default=None, max_length=300)
    aimed_defect: str | None = Field(default=None, max_length=300)
    outcome: str | None = Field(default=None, max_length=1000)
    verdict_word: str | None = Field(default=None, max_length=60)
    verdict_note: str | None = Field(default=None, max_length=1000)


class StepIn(BaseModel):
    """A step; durations, temperatures and powers as a cook writes them."""

    id: UUID | None = None
    what: str = Field(max_length=200)
    attention: Attention
    phase: Phase
    duration_s: Duration
    end_rule: EndRule = EndRule.CLOCK
    during_offset_s: Annotated[Duration | None, Blank] = None
    end_core_c: Annotated[Temperature | None, Blank] = None
    end_cue: str = Field(default="", max_length=200)
    appliance_id: UUID | None = None
    set_point_c: Annotated[Temperature | None, Blank] = None
    power_w: Annotated[Power | None, Blank] = None
    dial_for_c: Annotated[Temperature | None, Blank] = None
    for_altitude_m: float | None = Field(default=None, ge=-400, le=6000)
    end_kg: Annotated[Mass | None, Blank] = None
    days_before: int = Field(default=0, ge=0, le=30)
    longest_s: Annotated[Duration | None, Blank] = None


class PreparedStepIn(BaseModel):
    """A step of the shared preparation, times as a cook writes them."""

    key: str = Field(default="", max_length=40)
    what: str = Field(max_length=200)
    attention: Attention
    phase: Phase
    duration_s: Duration
    longest_s: Annotated[Duration | None, Blank] = None
    days_before: int = Field(default=0, ge=0, le=30)


class LoadIn(BaseModel):
    """Methods that are cooked together, and what they share."""

    name: str = Field(max_length=60)
    methods: list[UUID] = Field(max_length=100)


class LoadsIn(BaseModel):
    """All loads of a trial; what is in none is cooked by itself."""

    items: list[LoadIn] = Field(max_length=50)


class PreparationIn(BaseModel):
    """The shared preparation, whole; empty to do without."""

    items: list[PreparedStepIn] = Field(max_length=20)
    hazards: list[str] = Field(default=[], max_length=40)


class StepsIn(BaseModel):
    """All steps of a method."""

    items: list[StepIn] = Field(min_length=1, max_length=60)


class MethodPath(TrialPath):
    """Which method of which trial."""

    method_id: UUID


class KindView(BaseModel):
    """A kind of trial: what it is called, when to choose it, what it asks of the later stations."""

    kind: TrialKind
    name: str
    what: str
    wants: str
    least: int
    most: int
    asks: dict[str, str]


class KindList(BaseModel):
    """All kinds."""

    items: list[KindView]


def open_trial(trial_id: UUID, *, edit: bool = False, lock: bool = False) -> Trial:
    """A trial, locked and with its version checked where it is to be edited; `lock` alone is for what hangs
    on it and has a version of its own.
    """
    trial = trials.whole_trial(db(), trial_id, lock=edit or lock)
    if trial is None:
        raise not_found("trial")
    if edit:
        check_if_match(trial.version)
        before_commit(partial(_keep_history, trial, trial_view(trial).model_dump(mode="json")))
    return trial


def _keep_history(trial: Trial, before: dict[str, Any]) -> None:
    """Write down what an edit changed, by whom and by which act."""
    db().flush()
    if db().get(Trial, trial.id) is None:
        return
    view = current_app.view_functions[request.endpoint or ""]
    what = " ".join((view.__doc__ or request.endpoint or "").partition("\n\n")[0].split()).rstrip(".")
    after = trial_view(trial).model_dump(mode="json")
    by = me().person_id
    design_history.keep(db(), trial.id, trial.version, by=by, what=what, before=before, after=after)


def method_of(trial: Trial, method_id: UUID) -> Method:
    """A method of a trial."""
    for method in trial.methods:
        if method.id == method_id:
            return method
    raise not_found("method")


def whole(trial: Trial, status: int = 200) -> Response:
    """The trial as it stands after an edit, with its new version."""
    db().flush()
    return answer(trial_view(trial), status, trial.version)


@ask.get("/answer-scales", responses={200: AnswerScaleList})
@require(Role.COOK)
def list_scales() -> Response:
    """Ways to answer a question at the table."""
    return answer(AnswerScaleList(items=scale_views()))


@ask.get("/kinds-of-trial", responses={200: KindList})
@require(Role.COOK)
def list_kinds() -> Response:
    """The nine kinds of trial."""
    items = [shown(KindView, v, kind=k, asks=dict(v.asks)) for k, v in KINDS.items()]
    return answer(KindList(items=items))


def _card(t: Trial) -> TrialCard:
    return shown(
        TrialCard, t, id=str(t.id), kind=TrialKind(t.kind), marks=[mark_view(m.mark) for m in t.methods]
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
    rows = list(trials.search_trials(db(), query.search, after, PAGE + 1, away=query.away))
    more = rows[PAGE - 1] if len(rows) > PAGE else None
    cursor = json.dumps([more.updated_at.isoformat(), str(more.id)]).encode() if more else b""
    items = each(rows[:PAGE], _card)
    return answer(TrialList(items=items, cursor=base64.urlsafe_b64encode(cursor).decode()))


@ask.post("/trials", responses={201: TrialView})
@require(Role.COOK)
def new_trial(body: NewTrial) -> Response:
    """A new trial."""
    trial = designs.new_trial(db(), title=body.title, question=body.question, dish=body.dish, kind=body.kind)
    if body.food_class:
        trial.food_class = food_class(body.food_class).key
    return whole(open_trial(trial.id), 201)


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
    if body.kind is not None and body.kind != trial.kind:
        trial.layout = {}
        if body.varied is None:
            given["varied"] = list(varied_by(body.kind, {}))
    credited = given.pop("credited", None)
    if credited is not None:
        trial.layout = {**trial.layout, "credited": credited}
    if "serving_kg" in body.model_fields_set:
        given["serving_kg"] = body.serving_kg
    if given.get("food_class"):
        food_class(given["food_class"])
    for name, value in given.items():
        setattr(trial, name, value)
    designs.touch(trial)
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


def _asked(row: AttributeIn) -> dict[str, Any]:
    """A question as it is kept; what cannot be averaged counts in no score."""
    weight = row.weight if SCALES[row.scale].weighs else 0.0
    return row.model_dump() | {"scale": row.scale.value, "weight": weight}


@ask.put("/trials/<uuid:trial_id>/attributes", responses={200: TrialView})
@require(Role.COOK)
def set_attributes(path: TrialPath, body: AttributesIn) -> Response:
    """Replace what tasters are asked."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_attributes(db(), trial, [_asked(i) for i in body.items])
    return whole(trial)


@ask.post("/trials/<uuid:trial_id>/methods", responses={201: TrialView})
@require(Role.COOK)
def add_method(path: TrialPath, body: NewMethod) -> Response:
    """Add a method from a technique; it gets mark, tag and colour at once."""
    trial = open_trial(path.trial_id, edit=True)
    technique = library.known_techniques(db()).get(body.technique)
    if technique is None:
        raise not_found("technique")
    designs.add_method(db(), trial, technique, body.name, kitchen.all_appliances(db()))
    return whole(trial, 201)


@ask.patch("/trials/<uuid:trial_id>/methods/<uuid:method_id>", responses={200: TrialView})
@require(Role.COOK)
def change_method(path: MethodPath, body: MethodChange) -> Response:
    """Change a method's words and weights."""
    trial = open_trial(path.trial_id, edit=True)
    method = method_of(trial, path.method_id)
    if body.tag and any(m.tag == body.tag and m is not method for m in trial.methods):
        raise ApiError(409, "Tag taken", f"Another method has the tag {body.tag}. Choose other letters.")
    designs.check_piece(body.piece_shape, body.piece_thickness_m, body.hazards)
    clearable = {"batch_kg", "piece_kg", "start_c", "piece_thickness_m"}
    for name, value in body.model_dump(exclude_unset=True).items():
        if value is not None or name in clearable:
            setattr(method, name, value)
    designs.touch(trial)
    return whole(trial)


class StruckHazard(BaseModel):
    """A hazard that does not hold for a method, and why; without a reason it holds again."""

    hazard: str = Field(max_length=40)
    why: str = Field(default="", max_length=500)


class MeantIn(BaseModel):
    """The kitchen's written rule by which food is meant pink, soft or raw, and who must not eat it; both
    empty to take it back.
    """

    rule: str = Field(default="", max_length=1000)
    not_for: str = Field(default="", max_length=500)


@ask.put("/trials/<uuid:trial_id>/methods/<uuid:method_id>/struck-hazards", responses={200: TrialView})
@require(Role.COOK)
def strike_hazard(path: MethodPath, body: StruckHazard) -> Response:
    """Strike a hazard of a method out, with the reason, or let it hold again."""
    trial = open_trial(path.trial_id, edit=True)
    designs.strike_hazard(trial, method_of(trial, path.method_id), body.hazard, body.why)
    return whole(trial)


@ask.put("/trials/<uuid:trial_id>/methods/<uuid:method_id>/meant", responses={200: TrialView})
@require(Role.LEAD)
def set_meant(path: MethodPath, body: MeantIn) -> Response:
    """Write down that a method's food is meant pink, soft or raw."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_meant(trial, method_of(trial, path.method_id), body.rule, body.not_for, me().person.name)
    return whole(trial)


@ask.put("/trials/<uuid:trial_id>/methods/<uuid:method_id>/steps", responses={200: TrialView})
@require(Role.COOK)
def set_steps(path: MethodPath, body: StepsIn) -> Response:
    """Replace a method's steps. Batches already made keep the steps they were made with."""
    trial = open_trial(path.trial_id, edit=True)
    rows = [
        s.model_dump()
        | {"attention": s.attention.value, "phase": s.phase.value, "end_rule": s.end_rule.value}
        for s in body.items
    ]
    designs.set_steps(trial, method_of(trial, path.method_id), rows)
    return whole(trial)


@ask.put("/trials/<uuid:trial_id>/preparation", responses={200: TrialView})
@require(Role.COOK)
def set_preparation(path: TrialPath, body: PreparationIn) -> Response:
    """Write down what is prepared once for all methods. Batches already made keep what they were made
    with.
    """
    trial = open_trial(path.trial_id, edit=True)
    steps = [
        Step(
            s.key if s.key.startswith("all-") else f"all-{uuid4().hex[:8]}",
            s.what.strip(),
            s.attention,
            s.phase,
            s.duration_s,
            longest_s=s.longest_s,
            days_before=s.days_before,
        )
        for s in body.items
    ]
    designs.set_preparation(trial, steps, body.hazards)
    return whole(trial)


@ask.put("/trials/<uuid:trial_id>/loads", responses={200: TrialView})
@require(Role.COOK)
def set_loads(path: TrialPath, body: LoadsIn) -> Response:
    """Say which methods are cooked together. Batches already made keep what they were made with."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_loads(trial, [(load.name, load.methods) for load in body.items])
    return whole(trial)


@ask.delete("/trials/<uuid:trial_id>/methods/<uuid:method_id>", responses={200: TrialView})
@require(Role.COOK)
def remove_method(path: MethodPath) -> Response:
    """Take out a method that was never cooked."""
    trial = open_trial(path.trial_id, edit=True)
    designs.remove_method(db(), trial, method_of(trial, path.method_id))
    return whole(trial)

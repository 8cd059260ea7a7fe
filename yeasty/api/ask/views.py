"""A trial as it is answered: the design of all arms side by side, SI throughout."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal
from uuid import UUID

from pydantic import BaseModel

from yeasty.api.shown import shown
from yeasty.core.ask import marks
from yeasty.core.ask.deciding import Deciding
from yeasty.core.ask.kinds import KINDS, check_design
from yeasty.core.ask.preparation import preparation
from yeasty.core.ask.trial import Attribute as Question
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.kernel.scales import SCALES, Scale
from yeasty.core.kernel.steps import Attention, EndRule, Phase
from yeasty.operations.ask.designs import design_of
from yeasty.operations.ask.hazards import every_hazard
from yeasty.store.ask.tables import Attribute, Method, Step, Trial


class TrialPath(BaseModel):
    """Which trial."""

    trial_id: UUID


class MarkView(BaseModel):
    """A loaf mark: strokes and dots in a box of 100 x 100."""

    number: int
    name: str
    colour: str
    strokes: list[list[list[float]]]
    dots: list[list[float]]


class StepView(BaseModel):
    """A step."""

    id: str
    what: str
    attention: Attention
    phase: Phase
    duration_s: float
    end_rule: EndRule
    during_offset_s: float | None
    end_core_c: float | None
    end_cue: str
    appliance_id: str | None
    set_point_c: float | None
    power_w: float | None
    dial_for_c: float | None
    for_altitude_m: float | None
    end_kg: float | None
    days_before: int
    longest_s: float | None


class AmountView(BaseModel):
    """How much of an ingredient goes into a batch."""

    ingredient_id: str
    mass_kg: float


class MethodView(BaseModel):
    """A method with its mark and steps."""

    id: str
    name: str
    technique: str
    tag: str
    mark: MarkView
    batch_kg: float | None
    pieces_per_batch: int
    hold_limit_s: float | None
    piece_kg: float | None
    start_c: float | None
    piece_shape: str
    piece_thickness_m: float | None
    piece_food: str
    gear: list[str]
    hazards: list[str]
    struck_hazards: dict[str, str]
    all_hazards: list[str]
    meant: dict[str, str]
    levels: list[str]
    vessel: str
    lid: str
    place: str
    operator: str
    together: str
    checks: list[str]
    parent_method_id: str | None
    parent_words: str
    change: str
    aimed_defect: str
    outcome: str
    failed_tries: int
    verdict_word: str
    verdict_note: str
    purpose: str
    steps: list[StepView]
    amounts: list[AmountView]


class AnswerScaleView(BaseModel):
    """A way to answer: its range (`high` None for as many as there are samples), its words, how it is
    drawn.
    """

    key: Scale
    name: str
    low: float
    high: float | None
    step: float
    words: list[str]
    ends: bool
    drawn: Literal["slider", "words", "places", "ticks", "tally"]
    shape: Literal["value", "words", "tally"]
    own_words: bool
    ranges: bool
    weighs: bool
    averaged: bool
    low_is_best: bool


def scale_views() -> list[AnswerScaleView]:
    """All scales, as they are chosen from."""
    return [AnswerScaleView.model_validate(k, from_attributes=True) for k in SCALES.values()]


class AttributeView(BaseModel):
    """An attribute."""

    id: str
    name: str
    scale: Scale
    weight: float
    low_words: str
    high_words: str
    high_is_better: bool
    words: list[str]


class IngredientView(BaseModel):
    """A lot of an ingredient."""

    id: str
    name: str
    lot: str
    source: str
    price_per_kg: Decimal | None
    allergens: list[str]
    allergens_checked: bool
    grade: str
    age_days: float | None
    pack_kg: float | None
    composition: dict[str, float]
    stands_for: dict[str, Any]
    from_method_id: str | None


class ControlView(BaseModel):
    """Something held equal."""

    what: str
    held_at: str


class AcceptedView(BaseModel):
    """A difference accepted in writing."""

    field: str
    signature: str
    reason: str
    accepted_at: datetime


class PreparedStep(BaseModel):
    """A step of the shared preparation."""

    key: str
    what: str
    attention: Attention
    phase: Phase
    duration_s: float
    longest_s: float | None
    days_before: int


class PreparationView(BaseModel):
    """What all methods have in common before they part, and hazards of the food meanwhile."""

    items: list[PreparedStep]
    hazards: list[str]


class TrialView(BaseModel):
    """A whole design. `version` goes back as If-Match."""

    id: str
    title: str
    question: str
    dish: str
    aliases: str
    kind: TrialKind
    fairness: Fairness
    done_rule: DoneRule
    answer_rule: str
    matters: float
    deciding: Deciding
    hunch: str
    pieces: int
    food_class: str
    varied: list[str]
    layout: dict[str, Any]
    matches: str
    parent_trial_id: str | None
    parent_words: str
    put_away: bool
    preparation: PreparationView
    batches_each: int
    serving_kg: float | None
    eaters: int
    leftover_use: str
    simulated: bool
    updated_at: datetime
    version: int
    attributes: list[AttributeView]
    methods: list[MethodView]
    ingredients: list[IngredientView]
    controls: list[ControlView]
    accepted: list[AcceptedView]
    missing: list[str]
    asks: dict[str, str]


@lru_cache(maxsize=64)
def mark_view(number: int) -> MarkView:
    """A mark for drawing."""
    m = marks.mark(number)
    return MarkView(
        number=number,
        name=m.name,
        colour=marks.colour(number),
        strokes=[[list(p) for p in s] for s in m.strokes],
        dots=[list(d) for d in m.dots],
    )


def step_view(s: Step) -> StepView:
    """A step."""
    return shown(
        StepView,
        s,
        id=str(s.id),
        attention=Attention(s.attention),
        phase=Phase(s.phase),
        end_rule=EndRule(s.end_rule),
        appliance_id=str(s.appliance_id) if s.appliance_id else None,
    )


def method_view(m: Method, hazards: Sequence[str] = ()) -> MethodView:
    """A method."""
    return shown(
        MethodView,
        m,
        id=str(m.id),
        mark=mark_view(m.mark),
        all_hazards=list(hazards),
        parent_method_id=str(m.parent_method_id) if m.parent_method_id else None,
        steps=[step_view(s) for s in m.steps],
        amounts=[AmountView(ingredient_id=str(a.ingredient_id), mass_kg=a.mass_kg) for a in m.amounts],
    )


def question_view(a: Question) -> AttributeView:
    """A question as the core knows it."""
    return AttributeView(id=a.key, **{k: v for k, v in asdict(a).items() if k != "key"})


def attribute_view(a: Attribute) -> AttributeView:
    """An attribute."""
    return question_view(a.spec())


def preparation_view(t: Trial) -> PreparationView:
    """A trial's shared preparation."""
    found = preparation(t.preparation)
    items = [PreparedStep.model_validate(s, from_attributes=True) for s in found.steps]
    return PreparationView(items=items, hazards=list(found.hazards))


def trial_view(t: Trial) -> TrialView:
    """A whole design, with what is still missing in words."""
    missing = check_design(design_of(t))
    return shown(
        TrialView,
        t,
        id=str(t.id),
        kind=TrialKind(t.kind),
        fairness=Fairness(t.fairness),
        done_rule=DoneRule(t.done_rule),
        parent_trial_id=str(t.parent_trial_id) if t.parent_trial_id else None,
        put_away=t.put_away_at is not None,
        preparation=preparation_view(t),
        attributes=[attribute_view(a) for a in t.attributes],
        methods=[method_view(m, every_hazard(t, m)) for m in t.methods],
        ingredients=[
            shown(
                IngredientView,
                i,
                id=str(i.id),
                from_method_id=str(i.from_method_id) if i.from_method_id else None,
            )
            for i in t.ingredients
        ],
        controls=[shown(ControlView, c) for c in t.controls],
        accepted=[shown(AcceptedView, a) for a in t.accepted],
        missing=[f"{m.field}: {m.message}. {m.todo}" for m in missing],
        asks=dict(KINDS[TrialKind(t.kind)].asks),
    )

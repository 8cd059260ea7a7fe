"""What is sent to Ask: a trial's words, attributes, methods, steps and the shared preparation."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from yeasty.api.request import (
    Blank,
    Duration,
    Length,
    Mass,
    Power,
    Temperature,
)
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.kernel.filled import filled
from yeasty.core.kernel.scales import SCALES, Scale
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step, step_from_record
from yeasty.operations.ask.designs import Asked


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


def asked(row: AttributeIn) -> Asked:
    """A question as it is kept; what cannot be averaged counts in no score."""
    return filled(Asked, row, weight=row.weight if SCALES[row.scale].weighs else 0.0)


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
    purpose: str | None = Field(default=None, max_length=300)


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

    def wanted(self) -> list[Step]:
        """As the core knows them; a step that is there goes by its id."""
        return [
            step_from_record(
                {
                    **s.model_dump(),
                    "key": s.id or f"new {place}",
                    "appliance": str(s.appliance_id) if s.appliance_id else None,
                }
            )
            for place, s in enumerate(self.items)
        ]

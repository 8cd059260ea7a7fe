"""Taste: what a taster is shown and says."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from yeasty.api.ask.views import AnswerScaleView, AttributeView
from yeasty.api.taste.views import AnySaid


class TasterAnswer(BaseModel):
    """One thing said: of a sample and a question, or of a round as a whole.

    No `said` and `refused` is an answer too. `comment` alone are words. Refused without a question: this
    sample is not for me tonight.
    """

    round: int = Field(default=0, ge=0, le=50)
    code: str = Field(default="", max_length=10)
    attribute_id: UUID | None = None
    said: AnySaid | None = None
    refused: bool = False
    why: str = Field(default="", max_length=300)
    comment: str | None = Field(default=None, max_length=2000)


class TokenPath(BaseModel):
    """A taster's link."""

    token: str = Field(max_length=400)


class TasterSample(BaseModel):
    """What a taster sees of a sample: its code, and what this taster said of it."""

    code: str
    answers: dict[str, AnySaid]
    refused: list[str]
    not_for_me: bool
    comment: str


class TasterLabel(BaseModel):
    """A label that belongs to one of the samples."""

    key: str
    words: str


class TasterRound(BaseModel):
    """A round as a taster sees it."""

    position: int
    drawn: str
    question: str
    name: str
    part: str
    condition: str
    age: str
    break_s: int
    ties: bool
    reference: str
    samples: list[TasterSample]
    attributes: list[AttributeView]
    labels: list[TasterLabel]
    said: AnySaid | None
    refused: bool


class AllergenAsked(BaseModel):
    """Something on the table that some must not eat, and what this taster said of it."""

    what: str
    checked: bool
    said: str


class TasterView(BaseModel):
    """A taster's page."""

    dish: str
    name: str
    allergens: list[AllergenAsked]
    allergies: str
    told_allergens: bool
    must_not: list[str]
    stop: str
    served: bool
    one_way: bool
    rounds: list[TasterRound]
    scales: list[AnswerScaleView]
    closed: bool
    finished: bool
    may_quote: bool


class AllergensTold(BaseModel):
    """What a taster said of what is on the table: to each name "no" or "yes"; other words as written."""

    said: dict[Annotated[str, Field(max_length=100)], Annotated[str, Field(pattern="^(yes|no)$")]] = Field(
        default={}, max_length=100
    )
    words: str = Field(default="", max_length=500)


class Finish(BaseModel):
    """Whether one's words may be told without one's name."""

    may_quote: bool = False

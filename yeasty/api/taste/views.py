"""What Taste is told and tells: for the lead, and for whoever tastes."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from yeasty.api.ask.views import AttributeView
from yeasty.api.cook.outlook import AskedView, LowReading
from yeasty.core.taste.cups import Half, Protocol
from yeasty.core.taste.said import Said
from yeasty.core.taste.tests import TestKey
from yeasty.core.taste.tests.kind import Found

AnySaid = Annotated[Said, Field(discriminator="kind")]
Short = Annotated[str, Field(max_length=100)]


class ServedWith(BaseModel):
    """A sauce, a carrier, something to clear the palate: its allergens count for the table."""

    what: str = Field(min_length=1, max_length=100)
    allergens: list[Annotated[str, Field(max_length=60)]] = Field(default=[], max_length=40)
    checked: bool = False


class ServedIn(BaseModel):
    """A sample of a round: a batch, or something from outside."""

    batch_id: UUID | None = None
    outside: Short = ""
    piece: Short = ""
    state: str = Field(default="fresh", pattern="^(fresh|kept|reheated|from memory)$")
    twice: bool = False


class RoundSettings(BaseModel):
    """What a round says of its test: of what there is to be more, which way is to be picked out, shared
    places.
    """

    attribute: str = Field(default="", max_length=40)
    label: str = Field(default="", max_length=40)
    ties: bool = False
    most_each: int = Field(default=0, ge=0, le=48)


class CupIn(BaseModel):
    """What no cup can hide of a batch: colour, shape, smell."""

    batch_id: UUID
    shows: str = Field(default="", max_length=200)


class RoundIn(BaseModel):
    """A round: what is served, what is asked."""

    test: TestKey = TestKey.SCORED
    name: Short = ""
    part: Short = ""
    condition: Short = ""
    age: Short = ""
    samples: list[ServedIn] = Field(max_length=48)
    attributes: list[UUID] = Field(default=[], max_length=30)
    settings: RoundSettings = RoundSettings()
    break_s: int = Field(default=0, ge=0, le=24 * 3600)


class NewTasting(BaseModel):
    """Who tastes what. `batches` alone is one round in which each is scored."""

    name: Short = ""
    batches: list[UUID] = Field(default=[], max_length=48)
    part: Short = ""
    age: Short = ""
    rounds: list[RoundIn] = Field(default=[], max_length=12)
    panelists: list[UUID] = Field(default=[], max_length=100)
    tasters: list[Short] = Field(default=[], max_length=100)
    served_with: list[ServedWith] = Field(default=[], max_length=20)
    one_way: bool = False
    protocol: Protocol = Protocol.PLATED
    cups: list[CupIn] = Field(default=[], max_length=48)
    later: bool = False


class TastingPlan(BaseModel):
    """What a tasting would need and could find, before it is laid."""

    cuts: list[str]
    minutes: int
    ready: list[str]
    warnings: list[str]
    can_find: list[list[str]]
    reference: str


class SeatView(BaseModel):
    """A seat as the lead sees it: no answers before the codes are opened, only how far it is."""

    id: str
    name: str
    person_id: str
    revoked: bool
    acts: list[str]
    answered: int
    wanted: int
    finished: bool
    knows: list[str]
    allergies: str
    stop: str
    orders: list[list[str]]


class RoundView(BaseModel):
    """A round as the lead sees it."""

    position: int
    test: TestKey
    test_name: str
    name: str
    part: str
    condition: str
    age: str
    question: str
    drawn: str
    codes: list[str]
    break_s: int
    balance: str
    attributes: list[AttributeView]
    spoilt: list[str]


class CardView(BaseModel):
    """A place on the table where nobody plates: its codes, one a round."""

    place: int
    codes: list[str]


class UnderView(BaseModel):
    """What may stand on a place: as it is read underneath, and in words."""

    under: str
    words: str


class TastingView(BaseModel):
    """A tasting as the lead sees it. `key` is empty until the codes are opened."""

    id: str
    name: str
    created_at: datetime
    opened_at: datetime | None
    opened_elsewhere: bool
    stopped: str
    one_way: bool
    rounds: list[RoundView]
    seats: list[SeatView]
    key: dict[str, str]
    key_views: list[str]
    link_warning: str
    clock: list[str]
    protocol: Protocol
    served_at: datetime | None
    steps: list[str]
    cards: list[CardView]
    under: list[UnderView]
    ages: list[str]
    serve_at: list[str]


class Candidate(BaseModel):
    """A batch that may be tasted, or why not."""

    batch_id: str
    method_id: str
    words: str
    may: bool
    later: bool
    why_not: str
    tells: list[str]
    owned: str
    may_be_owned: bool
    asked: list[AskedView]
    low: list[LowReading]


class TestView(BaseModel):
    """A taste test that may be chosen."""

    key: TestKey
    name: str
    tells: str
    front: bool
    fewest: int
    most: int
    wants: str
    drawn: str
    cups: int


class PanelistView(BaseModel):
    """Somebody who has sat at a tasting here, or who signs in."""

    id: str
    name: str
    sat: int
    last: datetime | None
    allergies: str


class SamePerson(BaseModel):
    """Two people of one name: one person?"""

    one: PanelistView
    other: PanelistView


class TastingList(BaseModel):
    """Tastings of a trial, newest first, and what a new one can be made of."""

    items: list[TastingView]
    candidates: list[Candidate]
    tests: list[TestView]
    panelists: list[PanelistView]
    same_person: list[SamePerson]


class SameAnswer(BaseModel):
    """Whether two people are one."""

    one: UUID
    other: UUID
    same: bool


class PanelistChange(BaseModel):
    """What a panelist is called, and their allergies in their own words."""

    name: str = Field(min_length=1, max_length=100)
    allergies: str = Field(default="", max_length=500)


class LateTaster(BaseModel):
    """Somebody who comes late: one who has sat here before, or a new name."""

    person_id: UUID | None = None
    name: Short = ""


class HandedOver(BaseModel):
    """A seat's new link, shown this once: hand it over or print it now."""

    link: str
    qr: str
    warning: str


class TypedLine(BaseModel):
    """A cell of a paper ballot as it was written: “7 to 8”, “6 of 8”, a word, codes; a dash is a refusal."""

    round: int = Field(default=0, ge=0, le=50)
    code: str = Field(default="", max_length=10)
    attribute_id: UUID | None = None
    text: str = Field(default="", max_length=400)
    comment: bool = False


class Ballot(BaseModel):
    """A paper ballot as it was written."""

    lines: list[TypedLine] = Field(min_length=1, max_length=2000)


class AnswersTaken(BaseModel):
    """How many answers of a table were taken in."""

    answers: int
    comments: int


class PaperChoice(BaseModel):
    """Paper to print on, or a sheet of labels."""

    paper: Literal["A4", "Letter"] = "A4"
    stock: str = Field(default="labels-21", max_length=40)


class Opening(BaseModel):
    """Whether the codes are to be opened though somebody has not finished."""

    though_unfinished: bool = False


class CupRead(BaseModel):
    """What was under the cup at a place: a letter, or the batch where a helper placed them."""

    place: int = Field(ge=0, le=47)
    under: str = Field(max_length=40)


class TurnedOver(BaseModel):
    """The cups as they were turned over."""

    cups: list[CupRead] = Field(max_length=48)
    though_unfinished: bool = False


class StopReason(BaseModel):
    """Why everybody is to stop eating."""

    why: str = Field(min_length=3, max_length=300)


class SpoiltIn(BaseModel):
    """A sample that is not to be judged, and why."""

    code: str = Field(max_length=10)
    why: str = Field(min_length=3, max_length=300)


class TastingPath(BaseModel):
    """Which tasting."""

    tasting_id: UUID


class SeatPath(TastingPath):
    """Which seat."""

    seat_id: UUID


class PersonPath(BaseModel):
    """Which person."""

    person_id: UUID


class KeyReason(BaseModel):
    """Why the key is looked at before the codes are opened; it is recorded."""

    why: str = Field(min_length=3, max_length=300)
    half: Half | None = None


class KeyAnswer(BaseModel):
    """Code to batch in words, for whoever plates."""

    key: dict[str, str]


class RoundFound(BaseModel):
    """What a round tells."""

    position: int
    found: Found


class TastingFound(BaseModel):
    """What a tasting tells, as far as it has been worked out."""

    state: str
    rounds: list[RoundFound]
    people: int
    knowing: int
    changed: int
    not_blind: bool
    blindness: list[str]
    table: list[str]

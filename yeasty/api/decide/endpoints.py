"""Decide: the analysis the worker made, fresh or being made."""

from datetime import datetime
from decimal import Decimal

from flask import Response, current_app
from pydantic import BaseModel, Field

from yeasty.api.ask.endpoints import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.request import answer, db, each, require
from yeasty.core.kernel.scales import Scale
from yeasty.operations.decide import decisions
from yeasty.store.kitchen.people_tables import Role

decide = blueprint("decide", "decide")


class IntervalView(BaseModel):
    """Leader minus runner-up, over tasters who judged both."""

    first: str
    second: str
    tasters: int
    difference: float
    low: float
    high: float
    level: float
    batch_sd: float | None


class SentenceView(BaseModel):
    """A claim and what it stands on."""

    text: str
    stands_on: str


class VerdictView(BaseModel):
    """The outcome of one school."""

    school: str
    how_sure: str
    headline: str
    leader: str | None
    runner_up: str | None
    interval: IntervalView | None
    shares: dict[str, float]
    scores: dict[str, float]
    sentences: list[SentenceView]


class ClocksView(BaseModel):
    """The five clocks [s]."""

    hands_s: float
    come_up_s: float
    cooking_s: float
    waiting_s: float
    wash_up_s: float


class ServingsView(BaseModel):
    """What a method takes for the same number of pieces."""

    pieces: int
    rounds: int
    clocks: ClocksView
    total_s: float
    energy_j: float | None
    cost: Decimal | None
    how: str


class BatchOutcome(BaseModel):
    """A batch, judged or set aside."""

    batch: str
    replicate: int
    standing: str
    why: str
    complete: bool
    highest_core_c: float | None
    core_target_c: float | None
    core_met: bool | None
    weights: dict[str, float]
    times_called: int
    call_backs: int
    entries: int
    shift: str = ""
    served_at: float = 0
    written_up: bool = False


class MethodOutcome(BaseModel):
    """What a method came to."""

    method: str
    servings: ServingsView | None
    cooked_yield: float | None
    notes: list[str]
    nuisance: list[str]
    also: list[str] = Field(description="losses, shrink, call-backs and nuisance, in words")
    batches: list[BatchOutcome]


class Dot(BaseModel):
    """A taster's answer (mean over batches) about a method."""

    taster: str
    method: str
    attribute: str
    value: float


class OtherChoice(BaseModel):
    """When another method is the better one."""

    method: str
    when: str


class Comment(BaseModel):
    """A taster's words about a method."""

    method: str
    text: str


class RescueSample(BaseModel):
    """A batch that was given a finish: a sample of its own beside its method; attribute to its mean."""

    method: str
    batch: str
    replicate: int
    finish: str
    means: dict[str, float]


class Reread(BaseModel):
    """The same answers read by attributes as they were changed after the codes were opened: what changed, and
    the verdicts.
    """

    changed: list[str]
    verdicts: dict[str, VerdictView]


class QuestionAsked(BaseModel):
    """A question as it was asked."""

    key: str
    name: str
    scale: Scale
    weight: float
    low_words: str
    high_words: str
    high_is_better: bool


class Outcome(BaseModel):
    """All of Decide."""

    verdicts: dict[str, VerdictView]
    attributes: list[QuestionAsked] = []
    batch_sd: float | None
    dots: list[Dot]
    means: dict[str, dict[str, float]]
    counted: dict[str, dict[str, str]] = Field(
        default={}, description="attribute to method to what was counted, of scales that are not averaged"
    )
    tasters: int
    methods: list[MethodOutcome]
    rescues: list[RescueSample] = []
    reread: Reread | None = None
    choose_another: list[OtherChoice]
    comments: list[Comment]
    pieces: int
    gaps: list[str]
    shifts_tell: list[str] = Field(description="what the way batches lie in shifts leaves open")


class DecisionView(BaseModel):
    """`state` is fresh, or working while the worker makes a new one; `outcome` may then be the older one."""

    state: str
    made_at: datetime | None
    outcome: Outcome | None


@decide.get("/trials/<uuid:trial_id>/decision", responses={200: DecisionView})
@require(Role.COOK)
def get_decision(path: TrialPath) -> Response:
    """The verdicts; asks the worker for new ones where records have changed since."""
    trial = open_trial(path.trial_id)
    kept = decisions.kept_analysis(db(), trial.id)
    outcome = next(iter(each([kept] if kept else [], lambda a: Outcome(**a.result))), None)
    # What no longer fits is worked out again, like what has changed.
    fresh = outcome is not None and decisions.is_fresh(db(), kept)
    if not fresh:
        current_app.extensions["yeasty_jobs"].analyse(trial.id)
    return answer(
        DecisionView(
            state="fresh" if fresh else "working",
            made_at=kept.made_at if kept else None,
            outcome=outcome,
        )
    )

"""What Decide says, as it is worked out, kept, answered and drawn: written once, here.

Nothing in this file computes, so that whoever only shows an outcome loads no statistics.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from yeasty.core.ask.trial import Attribute


class School(StrEnum):
    """A way of judging."""

    WEIGHTED = "weighted_score"
    RANK = "rank_points"


class HowSure(StrEnum):
    """The words a verdict may use."""

    CLEAR = "clear"
    LEANING = "leaning"
    LEVEL = "cannot be told apart"
    NOT_COMPARABLE = "not comparable"
    NOT_SAFE = "not safe"


@dataclass(frozen=True)
class PairedInterval:
    """Difference between two methods over the tasters who judged both.

    Attributes
    ----------
    first, second : methods
    tasters : how many judged both
    difference, low, high : mean and interval, in points of the school
    level : confidence, as 0.95
    batch_sd : spread of a method's mean from batch to batch that the interval allows for, or None
    """

    first: str
    second: str
    tasters: int
    difference: float
    low: float
    high: float
    level: float
    batch_sd: float | None


@dataclass(frozen=True)
class Sentence:
    """A claim and what it stands on, in words a reader can check."""

    text: str
    stands_on: str


@dataclass(frozen=True)
class Verdict:
    """The outcome of one school.

    Attributes
    ----------
    how_sure : the word
    headline : one sentence
    leader, runner_up : method keys, None where there is none
    interval : leader minus runner-up, None where no interval can be given
    shares : method to the chance that it is the best in truth of those that may be recommended
    likely : the leader's chance in words, as "3 in 4"; "" without one
    contenders : methods that could still be the best
    scores : method to mean score
    sentences : claims with their records
    """

    school: School
    how_sure: HowSure
    headline: str
    leader: str | None
    runner_up: str | None
    interval: PairedInterval | None
    shares: Mapping[str, float]
    likely: str
    contenders: Sequence[str]
    scores: Mapping[str, float]
    sentences: Sequence[Sentence]


@dataclass(frozen=True)
class ClocksTold:
    """The five clocks [s]."""

    hands_s: float
    come_up_s: float
    cooking_s: float
    waiting_s: float
    wash_up_s: float


@dataclass(frozen=True)
class ServingsTold:
    """What a method takes for the same number of pieces; see `yeasty.core.decide.servings.ForServings`."""

    pieces: int
    rounds: int
    clocks: ClocksTold
    total_s: float
    energy_j: float | None
    cost: Decimal | None
    how: str


@dataclass(frozen=True)
class BatchOutcome:
    """A batch, judged or set aside."""

    batch: str
    replicate: int
    standing: str
    why: str
    complete: bool
    highest_core_c: float | None
    core_target_c: float | None
    core_met: bool | None
    weights: Mapping[str, float]
    times_called: int
    call_backs: int
    entries: int
    shift: str
    served_at: float
    written_up: bool


@dataclass(frozen=True)
class MethodOutcome:
    """What a method came to. `also` : losses, shrink, call-backs and nuisance, in words."""

    method: str
    servings: ServingsTold | None
    cooked_yield: float | None
    notes: Sequence[str]
    nuisance: Sequence[str]
    also: Sequence[str]
    batches: Sequence[BatchOutcome]


@dataclass(frozen=True)
class Dot:
    """A taster's answer (mean over batches) about a method."""

    taster: str
    method: str
    attribute: str
    value: float


@dataclass(frozen=True)
class OtherChoice:
    """When another method is the better one."""

    method: str
    when: str


@dataclass(frozen=True)
class TasterWords:
    """A taster's words about a method."""

    method: str
    text: str


@dataclass(frozen=True)
class RescueSample:
    """A batch that was given a finish: a sample of its own beside its method; attribute to its mean."""

    method: str
    batch: str
    replicate: int
    finish: str
    means: Mapping[str, float]


@dataclass(frozen=True)
class Reread:
    """The same answers read by attributes as they were changed after the codes were opened: what changed, and
    the verdicts.
    """

    changed: Sequence[str]
    verdicts: Mapping[School, Verdict]


@dataclass(frozen=True)
class Outcome:
    """All of Decide.

    Attributes
    ----------
    attributes : questions as they were asked: what a screen puts beside the verdict is what it stands on
    means : attribute to method to the mean answer on the attribute's own scale
    counted : attribute to method to what was counted, of scales that are not averaged
    shifts_tell : what the way batches lie in shifts leaves open
    blind : False where everybody who tasted knew which is which
    """

    verdicts: Mapping[School, Verdict]
    batch_sd: float | None
    dots: Sequence[Dot]
    means: Mapping[str, Mapping[str, float]]
    tasters: int
    methods: Sequence[MethodOutcome]
    choose_another: Sequence[OtherChoice]
    comments: Sequence[TasterWords]
    pieces: int
    gaps: Sequence[str]
    shifts_tell: Sequence[str]
    attributes: Sequence[Attribute]
    counted: Mapping[str, Mapping[str, str]]
    rescues: Sequence[RescueSample]
    reread: Reread | None
    blind: bool

    @property
    def verdict(self) -> Verdict:
        """The verdict that stands in front."""
        return self.verdicts[School.WEIGHTED]

    def method(self, key: str) -> MethodOutcome | None:
        """What one method came to."""
        return next((m for m in self.methods if m.method == key), None)

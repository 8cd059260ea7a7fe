"""What Decide says, as it is worked out, kept, answered and drawn: written once, here.

Nothing in this file computes, so that whoever only shows an outcome loads no statistics.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute


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


class Stands(StrEnum):
    """What kind of record a sentence stands on."""

    MEASURED = "measured"
    JUDGED = "judged by the panel"
    SEEN = "seen by the cook"
    LAID_OUT = "as it was laid out"
    OPINION = "kitchen's opinion"


@dataclass(frozen=True)
class Sentence:
    """A claim and what it stands on, in words a reader can check."""

    text: str
    stands_on: str
    standing: Stands = Stands.JUDGED


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


class Asks(StrEnum):
    """What a trial asks, and so how it is answered. Each kind of trial brings its usual question."""

    BEST = "best"
    CHANGE = "change"
    CHAMPION = "champion"
    GRID = "grid"
    LADDER = "ladder"
    BRANCH = "branch"
    SCREENING = "screening"
    CHAIN = "chain"
    VARIETIES = "varieties"
    CLAIM = "claim"


@dataclass(frozen=True)
class Mark:
    """One thing in a question's picture.

    Attributes
    ----------
    label : in words
    at : where it stands on the axis that rises (a rung), None where there is none
    value : what it came to, None where that is not known
    low, high : its range, None without one
    group : what it stands with, as a factor
    note : words beside it
    picked : whether it is what is recommended
    stands : a word in place of its value, as "champion"
    """

    label: str
    at: float | None
    value: float | None
    low: float | None = None
    high: float | None = None
    group: str = ""
    note: str = ""
    picked: bool = False
    stands: str = ""


@dataclass(frozen=True)
class Spot:
    """A point of a fitted curve."""

    at: float
    value: float


@dataclass(frozen=True)
class Picture:
    """What a question draws.

    Attributes
    ----------
    shape : "ladder", "effects", "line" (champions or versions one after another), "list" or ""
    axis, scale : what rises, and what is read off
    best_from, best_to : the range in which the best point lies, None without one
    curve : points of the fitted curve
    """

    shape: str = ""
    axis: str = ""
    scale: str = ""
    marks: Sequence[Mark] = ()
    best_from: float | None = None
    best_to: float | None = None
    curve: Sequence[Spot] = ()


@dataclass(frozen=True)
class Answered:
    """A trial's question, answered: the sentence in front, the word, what is recommended, what it stands
    on, its picture.
    """

    question: Asks
    headline: str
    how_sure: HowSure
    leader: str | None
    sentences: Sequence[Sentence]
    picture: Picture = Picture()


@dataclass(frozen=True)
class Claimable:
    """A claim as it may be picked.

    Attributes
    ----------
    measure : "score", "asked:" and a question, or a measure of the log
    about : the same in words
    subject, other : ways; `other` None for every other
    text : the sentence, as the records have it
    standing, how_sure : what it stands on, and how surely
    stands : whether it may be claimed; `why_not` : else why not
    """

    measure: str
    about: str
    subject: str
    other: str | None
    text: str
    standing: Stands
    how_sure: HowSure
    stands: bool
    why_not: str = ""


@dataclass(frozen=True)
class ClaimTold:
    """A claim that was picked, as its records have it now, and those records in lines that name nobody."""

    id: str
    said: Claimable
    records: Sequence[str]


@dataclass(frozen=True)
class ScopeTold:
    """What another round tells: with its sauce, of another part, kept until the next day, or by a taste test
    that gives no scores. `turns` : whether it puts another way in front.
    """

    name: str
    headline: str
    how_sure: HowSure
    leader: str | None
    turns: bool


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
class PhotoTold:
    """A photo of a judged batch: which, and of what face, "" for the whole."""

    photo: str
    face: str
    replicate: int


@dataclass(frozen=True)
class MethodOutcome:
    """What a method came to. `also` : losses, shrink, call-backs and nuisance, in words;
    `photos` : of its judged batches, in the order they were taken.
    """

    method: str
    servings: ServingsTold | None
    cooked_yield: float | None
    notes: Sequence[str]
    nuisance: Sequence[str]
    also: Sequence[str]
    batches: Sequence[BatchOutcome]
    photos: Sequence[PhotoTold] = ()


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
    """A batch that was given a finish: a sample of its own beside its method; attribute to its mean; in a
    screening with a word and a note of its own.
    """

    method: str
    batch: str
    replicate: int
    finish: str
    means: Mapping[str, float]
    word: str = ""
    note: str = ""


@dataclass(frozen=True)
class Reread:
    """The same answers read by attributes as they were changed after the codes were opened: what changed, and
    the verdicts.
    """

    changed: Sequence[str]
    verdicts: Mapping[School, Verdict]


@dataclass(frozen=True)
class MeasureTold:
    """A measure of the log, ways side by side.

    Attributes
    ----------
    values : method to what each of its judged batches came to, at equal servings, in the measure's own unit
    words : the same as a cook says it
    best : the method that is better than every other by more than chance, None where none is
    """

    key: str
    name: str
    values: Mapping[str, Sequence[float]]
    words: Mapping[str, str]
    best: str | None


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
    answer : the trial's own question, answered
    scope : the round the verdict stands on, in words; "" where there is one kind of round only
    beside : what other rounds tell
    blindness : whether guesses and looks leave it blind, in sentences
    measures : what was measured of every way, side by side
    what_next : what would narrow it most, in sentences
    claims : what was picked to be claimed; claimable : what may be, and what may not and why
    limits : what a way must keep to, in words
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
    answer: Answered
    scope: str
    beside: Sequence[ScopeTold]
    blindness: Sequence[str]
    measures: Sequence[MeasureTold]
    what_next: Sequence[str]
    claims: Sequence[ClaimTold]
    claimable: Sequence[Claimable]
    limits: Sequence[str]

    @property
    def verdict(self) -> Verdict:
        """The verdict that stands in front."""
        return self.verdicts[School.WEIGHTED]

    def method(self, key: str) -> MethodOutcome | None:
        """What one method came to."""
        return next((m for m in self.methods if m.method == key), None)

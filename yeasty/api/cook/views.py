"""What the endpoints of Cook take and tell: shifts, the bench, entries; and how a shift is told."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from pydantic import BaseModel, Field, ValidationError, WrapValidator

from yeasty.api.ask.views import MarkView
from yeasty.api.problems import FieldProblem
from yeasty.api.request import Blank, Moment, Temperature
from yeasty.api.shown import shown
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.text import cannot_be_kept
from yeasty.store.cook.tables import Shift


class Circumstances(BaseModel):
    """What a day was like, for later: it belongs to the shift, not to the trial."""

    room_c: Annotated[Temperature | None, Blank] = None
    weather: str = Field(default="", max_length=200)
    cooks: str = Field(default="", max_length=200, description="who cooked, in words")


class NewShift(Circumstances):
    """When the plates meet, who is there, and how many batches of each method."""

    name: str = Field(default="", max_length=100)
    serve_from: Moment
    window_s: float | None = Field(default=None, ge=0, le=86400)
    same_age: bool = Field(
        default=False,
        description="each tasted at the same age, one after another in the window, not all together",
    )
    people: int = Field(default=1, ge=1, le=4)
    replicates: dict[UUID, int] = {}
    walk_s: float = Field(default=0, ge=0, le=600, description="time to move between two stations [s]")
    written_up: bool = Field(default=False, description="cooked already, and typed in from paper")
    speed: float | None = Field(
        default=None,
        ge=1,
        le=60,
        description="seconds of the shift to a second, for a shift on simulated time",
    )


class ShiftChange(BaseModel):
    """What of a shift may be changed while it stands; what is left out stays."""

    leave_room: bool | None = Field(
        default=None,
        description="what the food ends is begun so early that it meets the others even at its longest",
    )
    room_c: Annotated[Temperature | None, Blank] = None
    weather: str | None = Field(default=None, max_length=200)
    cooks: str | None = Field(default=None, max_length=200)


class ClockView(BaseModel):
    """A shift's clock: it shows `origin` at `anchor` [s since 1970] and goes at `rate`; no rate on the
    kitchen's own clock.
    """

    origin: float
    anchor: float
    rate: float | None


class ShiftView(BaseModel):
    """A shift."""

    id: str
    trial_id: str
    name: str
    serve_from: float
    serve_until: float
    people: int
    walk_s: float
    same_age: bool
    leave_room: bool
    written_up: bool
    room_c: float | None
    weather: str
    cooks: str
    begun: bool
    simulated: bool
    clock: ClockView
    planning: bool
    ended: bool
    batches: int


class ShiftList(BaseModel):
    """Shifts of a trial, newest first."""

    items: list[ShiftView]


class CautionView(BaseModel):
    """A caution at a step."""

    text: str
    source: str
    recalled: bool
    defer: str


class BenchStep(BaseModel):
    """A step as the batch keeps it."""

    key: str
    what: str
    attention: str
    phase: str
    duration_s: float
    end_rule: str
    during_offset_s: float | None
    end_core_c: float | None
    end_cue: str
    appliance: str | None
    appliance_name: str
    appliance_kind: str = ""
    set_point_c: float | None
    power_w: float | None
    end_kg: float | None = None
    days_before: int = 0
    longest_s: float | None = None
    prepared: bool = False
    spot: str = ""
    ready: list[str] = []
    signs: list[str] = []
    look_every_s: float | None = None
    look_for: str = ""
    cautions: list[CautionView]


class CheckView(BaseModel):
    """One thing to tick or waive before a batch starts."""

    key: str
    text: str
    why: str


class PieceFacts(BaseModel):
    """What was known of a piece when the shift was made [m, °C]."""

    shape: str
    thickness_m: float | None
    food: str
    start_c: float | None


class BenchBatch(BaseModel):
    """A column of the bench."""

    id: str
    method_id: str
    tag: str
    name: str
    replicate: int
    mark: MarkView
    steps: list[BenchStep]
    checklist: list[CheckView]
    together: str = Field(
        description="the load that it is part of, with others; empty where it is cooked by itself"
    )
    shared: dict[str, str] = Field(
        description="step to a word in common with the steps done together with it"
    )
    parent: str | None
    rescue: str
    technique: str
    hold_limit_s: float | None
    piece: PieceFacts


class PlanItem(BaseModel):
    """A planned step [s since 1970]."""

    batch: str
    step: str
    start: float
    end: float


class PlanView(BaseModel):
    """The plan that counts."""

    number: int
    made_at: float
    items: list[PlanItem]
    holds: dict[str, float]
    served: dict[str, float]
    longest_hold_s: float
    proof: str
    notes: list[str]
    room: str = Field(
        description="what it costs that food which may take longer still meets the others; else empty"
    )


class EntryView(BaseModel):
    """An entry of the log; `at` is corrected device time [s since 1970]."""

    id: str
    number: int
    batch: str
    kind: EntryKind
    at: float
    device: str
    counter: int
    payload: dict[str, Any]
    unreadable: str = Field(default="", description="why it cannot be read; then it says nothing to anything")
    supersedes: str | None


class CurveView(BaseModel):
    """A probe's curve, thinned for drawing: [s since 1970, °C or null]."""

    batch: str
    name: str
    points: list[list[float | None]]


class CircuitLimit(BaseModel):
    """What a circuit may carry [W], and what hangs on it anyway; None where its breaker is not known."""

    name: str
    limit_w: float | None
    base_w: float


class MainsView(BaseModel):
    """The circuit an appliance hangs on, its full input [W], and over how many rings that is."""

    circuit: str
    input_w: float
    rings: int


class BenchView(BaseModel):
    """Everything a bench starts from; `number` is where the stream goes on."""

    shift: ShiftView
    trial_title: str
    question: str
    batches: list[BenchBatch]
    plan: PlanView | None
    entries: list[EntryView]
    curves: list[CurveView]
    number: int
    server_now: float
    incarnation: str
    circuits: list[CircuitLimit]
    mains: dict[str, MainsView]


class ShiftPath(BaseModel):
    """Which shift."""

    shift_id: UUID


class EntryIn(BaseModel):
    """An entry as a device made it."""

    id: UUID
    batch: UUID | None = None
    kind: EntryKind
    device: UUID
    counter: int = Field(ge=0, lt=2**53)
    device_time: float = Field(ge=0, le=4e9)
    offset_ms: float = Field(default=0, ge=-4e12, le=4e12)
    payload: dict[str, Any] = {}
    supersedes: UUID | None = None


@dataclass(frozen=True)
class Misshapen:
    """An entry that is none: its id where that could be read, and what is wrong with it."""

    id: str
    problem: FieldProblem


def _one_by_one(value: Any, read: Callable[[Any], EntryIn]) -> EntryIn | Misshapen:
    """An entry, or what is wrong with it: the others of its list are read all the same."""
    try:
        return read(value)
    except (ValidationError, RecursionError) as wrong:
        named = value.get("id") if isinstance(value, dict) else None
        first = wrong.errors(include_url=False)[0] if isinstance(wrong, ValidationError) else None
        field = ".".join(str(p) for p in first["loc"]) if first else "entry"
        why = first["msg"] if first else "is nested too deep"
        shown = named[:64] if isinstance(named, str) and not cannot_be_kept(named) else ""
        return Misshapen(
            shown, FieldProblem(field=field or "entry", message=why, todo="Mend it and send again.")
        )


class EntriesIn(BaseModel):
    """Entries of a device's outbox, each read by itself; sending them again changes nothing."""

    entries: list[Annotated[EntryIn, WrapValidator(_one_by_one)]] = Field(min_length=1, max_length=500)


class Written(BaseModel):
    """An entry that is stored, with its number."""

    id: str
    number: int


class RefusedEntry(BaseModel):
    """An entry that is not stored, and why; the device keeps it and shows this."""

    id: str
    problem: FieldProblem


class EntriesAnswer(BaseModel):
    """What became of each entry. `written` and `known` are durable."""

    written: list[Written]
    known: list[str]
    refused: list[RefusedEntry]
    server_now: float


class StreamQuery(BaseModel):
    """Where to go on when no Last-Event-ID is sent."""

    after: int = 0


class Clock(BaseModel):
    """The server's clock decides what is now [s since 1970]."""

    server_now: float
    incarnation: str


def clock_view(s: Shift) -> ClockView:
    """A shift's clock."""
    clock = s.clock()
    return shown(ClockView, clock)


def shift_view(s: Shift, batches: int, *, begun: bool) -> ShiftView:
    """A shift."""
    return shown(
        ShiftView,
        s,
        id=str(s.id),
        trial_id=str(s.trial_id),
        serve_from=s.serve_from.timestamp(),
        serve_until=s.serve_until.timestamp(),
        begun=begun,
        simulated=s.clock_rate is not None,
        clock=clock_view(s),
        planning=s.plan_asked_at is not None and s.ended_at is None,
        ended=s.ended_at is not None,
        batches=batches,
    )

"""Shifts, batches, plans, entries, photos, probe logs; devices and what they read."""

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import ARRAY, BigInteger, Double, ForeignKey, Identity, Index, LargeBinary, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.readings import KINDS, Heard
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.kernel.entries import Entry as CoreEntry
from yeasty.core.kernel.entries import EntryKind
from yeasty.store.ask.tables import Method
from yeasty.store.base import Base, Id, one_of


class Shift(Base):
    """One stretch of bench work. `last_number` is raised under the row's lock; the live stream catches up by
    it.
    """

    __tablename__ = "shift"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    serve_from: Mapped[datetime]
    serve_until: Mapped[datetime]
    people: Mapped[int] = mapped_column(default=1)
    clock_origin: Mapped[datetime | None]
    clock_rate: Mapped[float | None]
    clock_anchor: Mapped[datetime | None]
    walk_s: Mapped[float] = mapped_column(default=0.0)
    same_age: Mapped[bool] = mapped_column(default=False)
    leave_room: Mapped[bool] = mapped_column(default=True)
    # Cooked before it was made here, and typed in from paper.
    written_up: Mapped[bool] = mapped_column(default=False)
    room_c: Mapped[float | None]
    weather: Mapped[str] = mapped_column(default="")
    cooks: Mapped[str] = mapped_column(default="")
    plan_asked_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]
    created_at: Mapped[datetime]
    last_number: Mapped[int] = mapped_column(BigInteger, default=0)
    batches: Mapped[list["Batch"]] = relationship(order_by="Batch.position", cascade="all, delete-orphan")

    def clock(self) -> ShiftClock:
        """Its clock: the kitchen's own, or a simulated one."""
        if self.clock_rate is None or self.clock_origin is None or self.clock_anchor is None:
            return ShiftClock()
        return ShiftClock(self.clock_origin.timestamp(), self.clock_anchor.timestamp(), self.clock_rate)


class Batch(Base):
    """One cooking of one method. `steps` are the method's steps, `facts` what was known of its food and
    piece, as they were when the shift was made. One with a parent is a rescue: a finish given to that batch,
    judged as a sample of its own.
    """

    __tablename__ = "batch"
    id: Mapped[Id]
    shift_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shift.id", ondelete="CASCADE"), index=True)
    method_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("method.id", ondelete="RESTRICT"), index=True)
    position: Mapped[int]
    replicate: Mapped[int] = mapped_column(default=1)
    steps: Mapped[list[Any]]
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    parent_batch_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("batch.id", ondelete="RESTRICT", deferrable=True, initially="DEFERRED"), index=True
    )
    method: Mapped[Method] = relationship(lazy="joined")
    __table_args__ = (UniqueConstraint("shift_id", "method_id", "replicate"),)

    def chain(self) -> Chain:
        """The batch as the core plans it."""
        from yeasty.core.kernel.steps import step_from_record

        steps = tuple(step_from_record(s) for s in self.steps)
        return Chain(
            str(self.id),
            self.method.tag,
            steps,
            self.method.pieces_per_batch,
            self.facts.get("hold_limit_s"),
            str(self.facts.get("together") or ""),
            prepared=sum(1 for s in self.steps if s.get("prepared")),
        )


class RehearsalState(StrEnum):
    """How far a rehearsal's stand-ins are: not taken up yet, at work, at their end, or stopped by a fault."""

    WAITING = "waiting"
    RUNNING = "running"
    OVER = "over"
    FAILED = "failed"


class Rehearsal(Base):
    """The stand-ins of a shift on simulated time: whether one of them cooks, and what goes wrong."""

    __tablename__ = "rehearsal"
    shift_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shift.id", ondelete="CASCADE"), primary_key=True)
    of_shift_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("shift.id", ondelete="SET NULL"), index=True
    )
    account_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("account.id", ondelete="SET NULL"), index=True
    )
    state: Mapped[str] = mapped_column(default=RehearsalState.WAITING.value)
    problem: Mapped[str] = mapped_column(default="")
    hands: Mapped[bool]
    mishaps: Mapped[list[str]] = mapped_column(default=list)
    seed: Mapped[int] = mapped_column(default=1)
    begun_at: Mapped[datetime]
    __table_args__ = (one_of("state", RehearsalState),)


class PlanRow(Base):
    """A plan that was made; the newest of a shift counts."""

    __tablename__ = "plan"
    id: Mapped[Id]
    shift_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shift.id", ondelete="CASCADE"))
    number: Mapped[int] = mapped_column(BigInteger)
    made_at: Mapped[datetime]
    items: Mapped[list[Any]]
    holds: Mapped[dict[str, Any]]
    served: Mapped[dict[str, Any]]
    longest_hold_s: Mapped[float]
    proof: Mapped[str]
    notes: Mapped[list[str]]
    __table_args__ = (UniqueConstraint("shift_id", "number"),)

    def planned(self) -> list[PlannedStep]:
        """Its steps as the core knows them."""
        return [PlannedStep(i["batch"], i["step"], i["start"], i["end"]) for i in self.items]


class EntryRow(Base):
    """One fact of the bench log. A trigger refuses update and delete; no foreign key on `supersedes`, since
    what it names may arrive later."""

    __tablename__ = "entry"
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    shift_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shift.id"))
    number: Mapped[int] = mapped_column(BigInteger)
    batch_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("batch.id"), index=True)
    kind: Mapped[str]
    device_id: Mapped[uuid.UUID]
    counter: Mapped[int] = mapped_column(BigInteger)
    offset_ms: Mapped[float] = mapped_column(default=0.0)
    device_time: Mapped[datetime]
    server_time: Mapped[datetime]
    author_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    payload: Mapped[dict[str, Any]]
    supersedes: Mapped[uuid.UUID | None]
    __table_args__ = (
        UniqueConstraint("shift_id", "number"),
        one_of("kind", EntryKind),
    )

    def core(self) -> CoreEntry:
        """The row as the core folds it, on corrected device time."""
        return CoreEntry(
            str(self.id),
            str(self.batch_id) if self.batch_id else "",
            EntryKind(self.kind),
            self.device_time.timestamp() + self.offset_ms / 1000,
            str(self.device_id),
            self.counter,
            self.payload,
            str(self.supersedes) if self.supersedes else None,
        )


class ProbeLogRow(Base):
    """A probe's curves, stored as arrays: one row a file, not one a reading."""

    __tablename__ = "probe_log"
    id: Mapped[Id]
    batch_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("batch.id", ondelete="CASCADE"), index=True)
    name: Mapped[str]
    starts_at: Mapped[datetime]
    times_s: Mapped[list[float]] = mapped_column(ARRAY(Double))
    channels: Mapped[dict[str, Any]]
    added_at: Mapped[datetime]


class Photo(Base):
    """A picture, location stripped, with a thumbnail; erased ones keep a tombstone with the reason."""

    __tablename__ = "photo"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    media_type: Mapped[str]
    full: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    thumb: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    added_at: Mapped[datetime]
    added_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    erased_at: Mapped[datetime | None]
    erased_reason: Mapped[str | None]


Index("ix_entry_shift_id_batch_id", EntryRow.shift_id, EntryRow.batch_id)
Index("ix_entry_author_id_shift_id", EntryRow.author_id, EntryRow.shift_id)


class Device(Base):
    """A thermometer hub, scale or power meter that sends by itself. Its token is kept as a hash only."""

    __tablename__ = "device"
    id: Mapped[Id]
    name: Mapped[str]
    kind: Mapped[str]
    token_hash: Mapped[str] = mapped_column(unique=True, index=True)
    appliance_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("appliance.id", ondelete="SET NULL"))
    simulated_shift_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("shift.id", ondelete="CASCADE"))
    last_seq: Mapped[int] = mapped_column(BigInteger, default=-1)
    missing: Mapped[list[Any]] = mapped_column(default=list)
    channels: Mapped[dict[str, Any]] = mapped_column(default=dict)
    offset_ms: Mapped[float] = mapped_column(default=0.0)
    battery: Mapped[float | None]
    heard_at: Mapped[datetime | None]
    made_at: Mapped[datetime]
    made_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    revoked_at: Mapped[datetime | None]
    __table_args__ = (one_of("kind", tuple(KINDS)),)

    def heard(self) -> Heard:
        """Which lines have come."""
        return Heard(self.last_seq, tuple((int(a), int(b)) for a, b in self.missing))


class CueWord(Base):
    """A cue that this kitchen added to the chips, for a technique ("" for all) and a face ("" for all)."""

    __tablename__ = "cue_word"
    id: Mapped[Id]
    technique: Mapped[str] = mapped_column(default="")
    face: Mapped[str] = mapped_column(default="")
    text: Mapped[str]
    added_at: Mapped[datetime]
    __table_args__ = (UniqueConstraint("technique", "face", "text"),)


class ReadingChunk(Base):
    """Readings of one channel over a stretch of time, packed by `yeasty.core.cook.readings`."""

    __tablename__ = "reading_chunk"
    id: Mapped[int] = mapped_column(BigInteger, Identity(always=False), primary_key=True)
    device_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("device.id", ondelete="CASCADE"))
    channel: Mapped[str]
    measure: Mapped[str]
    starts_at: Mapped[datetime]
    ends_at: Mapped[datetime]
    count: Mapped[int]
    low: Mapped[float | None]
    high: Mapped[float | None]
    data: Mapped[bytes] = mapped_column(LargeBinary)


Index(
    "ix_reading_chunk_device_channel_ends", ReadingChunk.device_id, ReadingChunk.channel, ReadingChunk.ends_at
)


class ReadingTail(Base):
    """The newest readings of a channel, until there are enough for a chunk: one row that is written over, so
    that a reading a second does not make a row a second.
    """

    __tablename__ = "reading_tail"
    device_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("device.id", ondelete="CASCADE"), primary_key=True
    )
    channel: Mapped[str] = mapped_column(primary_key=True)
    measure: Mapped[str] = mapped_column(primary_key=True)
    starts_at: Mapped[datetime]
    data: Mapped[bytes] = mapped_column(LargeBinary)

"""The kitchen, its appliances, circuits and measurements; its own techniques and sways."""

import uuid
from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Numeric
from sqlalchemy.orm import Mapped, mapped_column

from yeasty.core.kernel.slow_work import WorkKind, WorkOutcome
from yeasty.core.setup import appliances as core
from yeasty.store.base import Base, Id, one_of

MEASUREMENTS = ("water-test", "offset", "preheat")


class Kitchen(Base):
    """The one row of settings. `incarnation` changes when the database is restored from a backup; `version`
    is carried by edits of the settings, the circuits and the safety profile.
    """

    __tablename__ = "kitchen"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    time_zone: Mapped[str] = mapped_column(default="Europe/London")
    currency: Mapped[str] = mapped_column(default="GBP")
    price_per_kwh: Mapped[Decimal | None] = mapped_column(Numeric(10, 4))
    public_address: Mapped[str] = mapped_column(default="")
    altitude_m: Mapped[float] = mapped_column(default=0.0)
    safety_profile: Mapped[str] = mapped_column(default="strictest")
    zone_use_s: Mapped[float | None]
    # Kind of food to the kitchen's own, stricter figures of how long it may stand: see
    # `yeasty.core.cook.waits`.
    waits: Mapped[dict[str, Any]] = mapped_column(default=dict)
    incarnation: Mapped[uuid.UUID] = mapped_column(default=uuid.uuid4)
    secret: Mapped[str]
    version: Mapped[int] = mapped_column(default=1)
    __table_args__ = (CheckConstraint("id = 1", name="one_kitchen"),)


class Appliance(Base):
    """An appliance profile; `version` is carried by edits."""

    __tablename__ = "appliance"
    id: Mapped[Id]
    name: Mapped[str]
    kind: Mapped[str]
    input_w: Mapped[float | None]
    rated_w: Mapped[float | None]
    measured_w: Mapped[float | None]
    offset_k: Mapped[float | None]
    capacity_pieces: Mapped[int | None]
    circuit: Mapped[str] = mapped_column(default="")
    spot: Mapped[str] = mapped_column(default="")
    notes: Mapped[str] = mapped_column(default="")
    dial: Mapped[list[Any]] = mapped_column(default=list)
    capacities: Mapped[list[Any]] = mapped_column(default=list)
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}  # noqa: RUF012

    def profile(self) -> core.Appliance:
        """The row as the core knows it."""
        return core.Appliance(
            str(self.id),
            self.name,
            self.kind,
            self.input_w,
            self.rated_w,
            self.measured_w,
            self.offset_k,
            self.capacity_pieces,
            self.circuit,
            self.spot,
            tuple(core.DialWord(d["word"], d.get("celsius"), bool(d.get("measured"))) for d in self.dial),
            tuple(core.Capacity(float(c["piece_m"]), int(c["pieces"])) for c in self.capacities),
        )


class Circuit(Base):
    """A circuit that appliances hang on."""

    __tablename__ = "circuit"
    name: Mapped[str] = mapped_column(primary_key=True)
    breaker_a: Mapped[float]
    voltage_v: Mapped[float]
    base_w: Mapped[float] = mapped_column(default=0.0)


class Measurement(Base):
    """A measurement of an appliance, as given and as worked out; never changed, struck out with a reason
    where wrong.
    """

    __tablename__ = "measurement"
    id: Mapped[Id]
    appliance_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("appliance.id", ondelete="CASCADE"), index=True
    )
    kind: Mapped[str]
    given: Mapped[dict[str, Any]]
    result: Mapped[dict[str, Any]]
    taken_at: Mapped[datetime]
    taken_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    struck_at: Mapped[datetime | None]
    struck_why: Mapped[str] = mapped_column(default="")
    __table_args__ = (one_of("kind", MEASUREMENTS),)


class RuleRecord(Base):
    """What a rule of thumb said and what was so in this kitchen, in SI; simulated ones teach nothing."""

    __tablename__ = "rule_record"
    id: Mapped[Id]
    rule: Mapped[str] = mapped_column(index=True)
    predicted: Mapped[float]
    observed: Mapped[float]
    note: Mapped[str] = mapped_column(default="")
    simulated: Mapped[bool] = mapped_column(default=False)
    added_at: Mapped[datetime]
    added_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    __table_args__ = (CheckConstraint("predicted > 0 and observed > 0", name="above_zero"),)


class TechniqueRow(Base):
    """A template of the kitchen's own, or in place of a shipped one; hidden ones are not offered."""

    __tablename__ = "technique"
    key: Mapped[str] = mapped_column(primary_key=True)
    record: Mapped[dict[str, Any]] = mapped_column(default=dict)
    hidden: Mapped[bool] = mapped_column(default=False)
    changed_at: Mapped[datetime]


class SwayRow(Base):
    """A line of the kitchen's own on what sways which attribute."""

    __tablename__ = "sway"
    id: Mapped[Id]
    field: Mapped[str]
    attributes: Mapped[list[str]]
    strength: Mapped[int]
    reason: Mapped[str]
    set_at: Mapped[datetime]
    __table_args__ = (CheckConstraint("strength between 0 and 3", name="strength_known"),)


class Work(Base):
    """Work that takes more than a moment: how long the like of it took, whether it is going on, whether
    somebody stopped it. `stand` is what a stopped verdict would have stood on.
    """

    __tablename__ = "work"
    id: Mapped[Id]
    kind: Mapped[str] = mapped_column(index=True)
    subject: Mapped[uuid.UUID | None]
    began_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
    outcome: Mapped[str] = mapped_column(default=WorkOutcome.GOING_ON)
    stand: Mapped[str] = mapped_column(default="")
    __table_args__ = (one_of("kind", WorkKind), one_of("outcome", WorkOutcome))

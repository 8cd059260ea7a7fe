"""The kitchen and its appliances."""

import uuid
from collections.abc import Mapping, Sequence
from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Numeric, select
from sqlalchemy.orm import Mapped, Session, mapped_column

from yeasty.core.setup import appliances as core
from yeasty.store.base import Base, Id, one_of

MEASUREMENTS = ("water-test", "offset", "preheat")

# A hob's rings, where nothing else is said: usual domestic hobs have four.
USUAL_RINGS = 4


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


def locked_kitchen(db: Session) -> Kitchen:
    """The settings, and nobody else edits them until this is written."""
    query = select(Kitchen).with_for_update().execution_options(populate_existing=True)
    return db.scalars(query).one()


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


def the_kitchen(db: Session) -> Kitchen:
    """The kitchen's settings."""
    return db.get_one(Kitchen, 1)


def all_appliances(db: Session) -> list[Appliance]:
    """All profiles, by name."""
    return list(db.scalars(select(Appliance).order_by(Appliance.name, Appliance.id)))


def take_over(appliance: Appliance, kind: str, measured: Mapping[str, Any]) -> None:
    """Put what a measurement found into the profile; nothing where no measurement stands any more."""
    if kind == "water-test":
        appliance.measured_w = measured.get("power_w")
    elif kind == "offset":
        appliance.offset_k = measured.get("offset_k")


def profile_part(appliance: Appliance, kind: str) -> dict[str, Any]:
    """What a profile holds of a kind of measurement, in the shape `take_over` puts in."""
    return {"water-test": {"power_w": appliance.measured_w}, "offset": {"offset_k": appliance.offset_k}}.get(
        kind, {}
    )


def what_stands(db: Session, appliance: Appliance, kind: str) -> Mapping[str, Any]:
    """The newest measurement that is not struck out; without one, what the profile held before the first."""
    rows = [m for m in measurements_of(db, [appliance.id]) if m.kind == kind]
    standing = next((m for m in rows if m.struck_at is None), None)
    if standing is not None:
        return dict(standing.result["measured"])
    return dict(rows[-1].result.get("before", {})) if rows else {}


def rings_of(appliance: Appliance) -> int:
    """Places that are set for themselves: of a hob its rings, else one."""
    return USUAL_RINGS if appliance.kind == "hob" else 1


def circuits(db: Session) -> list[Circuit]:
    """All circuits, by name."""
    return list(db.scalars(select(Circuit).order_by(Circuit.name)))


def measurements_of(db: Session, appliance_ids: Sequence[uuid.UUID]) -> list[Measurement]:
    """Measurements that stand or are struck out, newest first."""
    if not appliance_ids:
        return []
    return list(
        db.scalars(
            select(Measurement)
            .where(Measurement.appliance_id.in_(appliance_ids))
            .order_by(Measurement.taken_at.desc(), Measurement.id)
        )
    )


def newest_measurements(
    db: Session, appliance_ids: Sequence[uuid.UUID]
) -> dict[tuple[uuid.UUID, str], Measurement]:
    """For each appliance and kind the newest that is not struck out."""
    found: dict[tuple[uuid.UUID, str], Measurement] = {}
    for row in measurements_of(db, appliance_ids):
        if row.struck_at is None:
            found.setdefault((row.appliance_id, row.kind), row)
    return found


def records_of(db: Session, rule: str | None = None) -> list[RuleRecord]:
    """Records of one rule, or of all, oldest first."""
    query = select(RuleRecord).order_by(RuleRecord.added_at, RuleRecord.id)
    return list(db.scalars(query.where(RuleRecord.rule == rule) if rule is not None else query))

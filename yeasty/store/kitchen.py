"""The kitchen and its appliances."""

import uuid
from decimal import Decimal

from sqlalchemy import CheckConstraint, Numeric, select
from sqlalchemy.orm import Mapped, Session, mapped_column

from yeasty.core.setup import appliances as core
from yeasty.store.base import Base, Id


class Kitchen(Base):
    """The one row of settings. `incarnation` changes when the database is restored from a backup."""

    __tablename__ = "kitchen"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str]
    time_zone: Mapped[str] = mapped_column(default="Europe/London")
    currency: Mapped[str] = mapped_column(default="GBP")
    price_per_kwh: Mapped[Decimal | None] = mapped_column(Numeric(10, 4))
    public_address: Mapped[str] = mapped_column(default="")
    incarnation: Mapped[uuid.UUID] = mapped_column(default=uuid.uuid4)
    secret: Mapped[str]
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
    version: Mapped[int] = mapped_column(default=1)
    __mapper_args__ = {"version_id_col": version}  # noqa: RUF012

    def profile(self) -> core.Appliance:
        """The row as the core knows it."""
        return core.Appliance(
            str(self.id), self.name, self.kind, self.input_w, self.rated_w, self.measured_w, self.offset_k,
            self.capacity_pieces, self.circuit, self.spot,
        )  # fmt: skip


def the_kitchen(db: Session) -> Kitchen:
    """The kitchen's settings."""
    return db.get_one(Kitchen, 1)


def all_appliances(db: Session) -> list[Appliance]:
    """All profiles, by name."""
    return list(db.scalars(select(Appliance).order_by(Appliance.name, Appliance.id)))

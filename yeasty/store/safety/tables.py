"""Figures of the kitchen’s own, when they were checked, and what a lead owns."""

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from yeasty.store.base import Base, Id


class LimitChange(Base):
    """A kitchen's own figure for a core minimum, with the lead's reason; the newest that is not withdrawn
    counts.
    """

    __tablename__ = "limit_change"
    id: Mapped[Id]
    limit_id: Mapped[str]
    temperature_c: Mapped[float]
    hold_s: Mapped[float] = mapped_column(default=0.0)
    reason: Mapped[str]
    set_at: Mapped[datetime]
    set_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    withdrawn_at: Mapped[datetime | None]


class LimitCheck(Base):
    """A figure compared with the printed edition by the lead."""

    __tablename__ = "limit_check"
    id: Mapped[Id]
    limit_id: Mapped[str]
    edition: Mapped[str]
    page: Mapped[str] = mapped_column(default="")
    checked_at: Mapped[datetime]
    checked_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))


class Ownership(Base):
    """A batch that the lead lets through to tasting in writing."""

    __tablename__ = "ownership"
    id: Mapped[Id]
    batch_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("batch.id", ondelete="CASCADE"), index=True)
    why: Mapped[str]
    owned_at: Mapped[datetime]
    owned_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    from_elsewhere: Mapped[bool] = mapped_column(default=False)

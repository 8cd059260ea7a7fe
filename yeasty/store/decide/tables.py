"""Analyses that are kept."""

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from yeasty.store.base import Base, Id


class Analysis(Base):
    """A result of slow work about a trial, with the sum of what it was worked out from. Can be dropped."""

    __tablename__ = "analysis"
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True)
    kind: Mapped[str] = mapped_column(primary_key=True)
    basis: Mapped[str]
    result: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]


class VerdictLook(Base):
    """When somebody of the kitchen last looked at a trial's verdict. No evidence."""

    __tablename__ = "verdict_look"
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True)
    at: Mapped[datetime]


class Claim(Base):
    """A claim as it was picked: a measure or question, a way, and what it is held against (None: every
    other). What it says is worked out from the records.
    """

    __tablename__ = "claim"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    measure: Mapped[str]
    subject_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("method.id", ondelete="CASCADE"))
    other_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("method.id", ondelete="CASCADE"))
    made_at: Mapped[datetime]

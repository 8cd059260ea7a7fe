"""Analyses that are kept."""

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from yeasty.store.base import Base


class Analysis(Base):
    """A result of slow work about a trial, with the sum of what it was worked out from. Can be dropped."""

    __tablename__ = "analysis"
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True)
    kind: Mapped[str] = mapped_column(primary_key=True)
    basis: Mapped[str]
    result: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]

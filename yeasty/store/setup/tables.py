"""Pieces, how they were dealt, and maps of places in appliances."""

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from yeasty.core.setup import places as layout
from yeasty.store.base import Base, Id, one_of


class Piece(Base):
    """One unit of a lot, weighed by itself; dealt to a method's replicate, or spare.

    `simulated` : its weight was read from the stand-in scale, and is made up
    """

    __tablename__ = "piece"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    ingredient_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("ingredient.id", ondelete="SET NULL"))
    mass_kg: Mapped[float]
    part: Mapped[str] = mapped_column(default="")
    method_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("method.id", ondelete="SET NULL"))
    replicate: Mapped[int] = mapped_column(default=0)
    spare: Mapped[bool] = mapped_column(default=False)
    simulated: Mapped[bool] = mapped_column(default=False)
    __table_args__ = (CheckConstraint("mass_kg > 0", name="mass_above_zero"),)


class Dealing(Base):
    """One draw: its seed, tolerance and what it came to. A later draw is a new row; the newest stands."""

    __tablename__ = "dealing"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    seed: Mapped[int]
    tolerance: Mapped[float]
    result: Mapped[dict[str, Any]]
    made_at: Mapped[datetime]


class PlaceMap(Base):
    """A map of a vessel; `handed_from` is the map of the vessel that its pieces were in before."""

    __tablename__ = "place_map"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str]
    kind: Mapped[str]
    round: Mapped[bool] = mapped_column(default=False)
    width_m: Mapped[float]
    depth_m: Mapped[float]
    piece_m: Mapped[float]
    spacing_m: Mapped[float]
    places: Mapped[list[Any]] = mapped_column(default=list)
    spots: Mapped[list[Any]] = mapped_column(default=list)
    dealt_how: Mapped[str] = mapped_column(default="")
    handed_from: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("place_map.id", ondelete="SET NULL", deferrable=True, initially="DEFERRED")
    )
    __table_args__ = (one_of("kind", layout.VESSELS),)

    def core(self) -> layout.VesselMap:
        """The row as the core knows it."""
        return layout.VesselMap(
            self.kind,
            self.width_m,
            self.depth_m,
            self.piece_m,
            self.spacing_m,
            bool(self.round),
            tuple(
                layout.Place(p["x_m"], p["y_m"], p.get("tag", ""), p.get("piece", 0))
                for p in self.places or []
            ),
            tuple(
                layout.Spot(s["x_m"], s["y_m"], s["k"], layout.HeatTest(s.get("how", "eye")))
                for s in self.spots or []
            ),
        )

    def take(self, m: layout.VesselMap) -> None:
        """Keep a map's places and spots."""
        self.places = [
            {"x_m": round(p.x_m, 4), "y_m": round(p.y_m, 4), "tag": p.tag, "piece": p.piece} for p in m.places
        ]
        self.spots = [{"x_m": s.x_m, "y_m": s.y_m, "k": s.k, "how": s.how} for s in m.spots]

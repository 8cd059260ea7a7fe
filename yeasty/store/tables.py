"""Every table, imported once, so that metadata and migrations know them all."""

from yeasty.store import (
    bench,
    devices,
    kitchen,
    library,
    people,
    pieces,
    promises,
    publications,
    readings,
    safety,
    tastings,
    trials,
)
from yeasty.store.base import Base

__all__ = [
    "Base",
    "bench",
    "devices",
    "kitchen",
    "library",
    "people",
    "pieces",
    "promises",
    "publications",
    "readings",
    "safety",
    "tastings",
    "trials",
]

"""Every table, imported once, so that metadata and migrations know them all."""

from yeasty.store import bench, kitchen, people, publications, safety, tastings, trials
from yeasty.store.base import Base

__all__ = ["Base", "bench", "kitchen", "people", "publications", "safety", "tastings", "trials"]

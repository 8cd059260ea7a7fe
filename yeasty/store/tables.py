"""Every table, imported once, so that metadata and migrations know them all."""

from yeasty.store.ask import tables as ask
from yeasty.store.base import Base
from yeasty.store.cook import tables as cook
from yeasty.store.decide import tables as decide
from yeasty.store.kitchen import people_tables as people
from yeasty.store.kitchen import tables as kitchen
from yeasty.store.publish import tables as publish
from yeasty.store.safety import tables as safety
from yeasty.store.setup import tables as setup
from yeasty.store.taste import tables as taste

__all__ = ["Base", "ask", "cook", "decide", "kitchen", "people", "publish", "safety", "setup", "taste"]

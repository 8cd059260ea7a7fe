"""A report of a whole trial, for the kitchen itself: what was asked, cooked, tasted and found."""

from collections.abc import Sequence
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Table:
    """A table: its head, and rows of as many cells."""

    head: Sequence[str]
    rows: Sequence[Sequence[str]]


@dataclass(frozen=True)
class Part:
    """A part of a report: sentences, each with what it stands on or "", then a table."""

    title: str
    lines: Sequence[tuple[str, str]] = ()
    table: Table | None = None

    @property
    def there(self) -> bool:
        """Whether it has anything to say."""
        return bool(self.lines) or bool(self.table and self.table.rows)


@dataclass(frozen=True)
class Report:
    """A trial's report. `made` : when, in words; parts with nothing to say are left out."""

    title: str
    question: str
    headline: str
    how_sure: str
    made: str
    parts: Sequence[Part] = field(default_factory=list)

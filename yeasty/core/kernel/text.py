"""Text that can be kept, whole characters that no database or file refuses; a moment in words."""

import re
from dataclasses import dataclass
from datetime import datetime, tzinfo
from enum import StrEnum

_BAD = re.compile("[\x00\ud800-\udfff]")


def cannot_be_kept(text: str) -> str:
    """Why a text can be written nowhere, in words; "" where it can.

    >>> cannot_be_kept("crisp"), cannot_be_kept("cut \\ud83d")
    ('', 'holds half a character')
    """
    found = _BAD.search(text)
    if not found:
        return ""
    return "holds a character without a meaning (code 0)" if found[0] == "\x00" else "holds half a character"


class Dates(StrEnum):
    """How somebody writes a day: 28 Nov 2026, Nov 28, 2026, or 2026-11-28."""

    DAY_FIRST = "day_first"
    MONTH_FIRST = "month_first"
    ISO = "iso"


class Hours(StrEnum):
    """How somebody writes a time: 18:41, or 6:41 pm."""

    HOURS_24 = "24"
    HOURS_12 = "12"


@dataclass(frozen=True)
class Written:
    """How somebody writes days and times."""

    dates: Dates = Dates.DAY_FIRST
    clock: Hours = Hours.HOURS_24

    def day(self, there: datetime) -> str:
        """A day without its year; with it where that is how days are written."""
        if self.dates is Dates.ISO:
            return f"{there:%Y-%m-%d}"
        return f"{there:%b %-d}" if self.dates is Dates.MONTH_FIRST else f"{there:%-d %b}"

    def time(self, there: datetime) -> str:
        """A time of day."""
        if self.clock is Hours.HOURS_24:
            return f"{there:%H:%M}"
        return f"{there.hour % 12 or 12}:{there:%M} {'am' if there.hour < 12 else 'pm'}"


def clock_time(at: float, zone: tzinfo, now: float, written: Written) -> str:
    """A moment as the kitchen's clock shows it, with its day where that is not today [s since 1970].

    >>> from datetime import UTC
    >>> clock_time(60_000, UTC, 0, Written()), clock_time(90_000, UTC, 0, Written())
    ('16:40', '01:00, 2 Jan')
    >>> clock_time(130_000, UTC, 0, Written(Dates.MONTH_FIRST, Hours.HOURS_12))
    '12:06 pm, Jan 2'
    """
    there = datetime.fromtimestamp(at, zone)
    if there.date() == datetime.fromtimestamp(now, zone).date():
        return written.time(there)
    return f"{written.time(there)}, {written.day(there)}"


def capital(words: str) -> str:
    """Words as they begin a sentence.

    >>> capital("lemon and oil"), capital("")
    ('Lemon and oil', '')
    """
    return words[:1].upper() + words[1:]

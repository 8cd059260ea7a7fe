"""Text that can be kept, whole characters that no database or file refuses; a moment in words."""

import re
from datetime import datetime, tzinfo

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


def clock_time(at: float, zone: tzinfo, now: float) -> str:
    """A moment as the kitchen's clock shows it, with its day where that is not today [s since 1970].

    >>> from datetime import UTC
    >>> clock_time(60_000, UTC, 0), clock_time(90_000, UTC, 0)
    ('16:40', '01:00, 2 Jan')
    """
    there = datetime.fromtimestamp(at, zone)
    if there.date() == datetime.fromtimestamp(now, zone).date():
        return f"{there:%H:%M}"
    return f"{there:%H:%M}, {there:%-d %b}"


def capital(words: str) -> str:
    """Words as they begin a sentence.

    >>> capital("lemon and oil"), capital("")
    ('Lemon and oil', '')
    """
    return words[:1].upper() + words[1:]

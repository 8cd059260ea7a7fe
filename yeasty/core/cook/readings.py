"""Readings of devices: what a line says, which lines are new, and how many of them are kept in little room.

Readings are kept in chunks: moments as differences in milliseconds, values in thousandths, both as deflated
integers. A probe at one reading a second takes about three bytes a reading; twenty million take some sixty
megabytes.
"""

import json
import struct
import zlib
from array import array
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.text import cannot_be_kept

# What a kind of device measures: word on the wire to unit and range.
MEASURES = {
    "celsius": ("°C", -60.0, 600.0),
    "kg": ("kg", -1.0, 200.0),
    "watt": ("W", 0.0, 30_000.0),
    "joule": ("J", 0.0, 1e10),
}
KINDS = {"hub": ("celsius",), "scale": ("kg",), "meter": ("watt", "joule")}
EVENTS = ("battery", "unplugged", "plugged", "restarted")
MOST_LINES = 5000
MOST_GAPS = 200
# Stands for "no value" among stored thousandths.
_NONE = -(2**31)


@dataclass(frozen=True)
class WireLine:
    """One line of a device.

    Attributes
    ----------
    seq : the device's own count, one more with each line
    at : when it was read, on the device's clock [s since 1970]; or None where it says `ago`
    ago : how long before sending it was read [s], for devices without a clock
    channel : which probe or pan, "1" where it is not said
    measure : word of `MEASURES`, "" for an event
    value : reading in SI, None for a probe that reads nothing
    event : word of `EVENTS`, "" for a reading
    """

    seq: int
    at: float | None
    ago: float | None
    channel: str
    measure: str
    value: float | None
    event: str = ""


# No clock of a kitchen is beyond this [s since 1970].
LATEST_S = 4e9
# A line is one reading; nobody needs more characters for it.
LONGEST_LINE = 1000


def read_line(text: str, kind: str, number: int) -> WireLine:
    """One JSON line of a device of a kind; `number` is its place in what was sent, for the error.

    Raises
    ------
    RuleError : naming line and field

    >>> read_line('{"seq": 7, "t": 1764090000, "channel": "1", "celsius": 63.4}', "hub", 1).value
    63.4
    """
    where = f"line {number}"
    if len(text) > LONGEST_LINE:
        raise RuleError(where, f"has {len(text)} characters", "Send one reading a line.")
    try:
        row = json.loads(text)
    except (ValueError, RecursionError):
        raise RuleError(where, "is not JSON", "Send one JSON object a line.") from None
    if not isinstance(row, dict):
        raise RuleError(where, "is not an object", "Send one JSON object a line.")
    seq = row.get("seq")
    if isinstance(seq, bool) or not isinstance(seq, int) or not 0 <= seq < 2**53:
        raise RuleError(f"{where}, seq", "is missing or not a count", "Count the lines: 0, 1, 2, …")
    at, ago = _moment(row, "t", where, LATEST_S), _moment(row, "ago", where, 14 * 86400.0)
    if (at is None) == (ago is None):
        raise RuleError(
            f"{where}, t",
            "is missing, or stands beside ago",
            "Give t (seconds since 1970) or ago (seconds before sending).",
        )
    channel = row.get("channel") or "1"
    if not isinstance(channel, str) or len(channel) > 20 or cannot_be_kept(channel):
        raise RuleError(f"{where}, channel", "is not a short text", 'Name it as on the device, as "1".')
    if "event" in row:
        if not isinstance(row["event"], str) or row["event"] not in EVENTS:
            raise RuleError(
                f"{where}, event",
                f"{row['event']!r:.60} is not known",
                "Use one of: " + ", ".join(EVENTS) + ".",
            )
        value = row.get("value")
        number = isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value <= 1e6
        told = float(value) if number and value is not None else None
        return WireLine(seq, at, ago, channel, "", told, row["event"])
    said = [m for m in KINDS[kind] if m in row]
    if len(said) != 1:
        raise RuleError(
            f"{where}, reading", "is missing or there are two", "Give one of: " + ", ".join(KINDS[kind]) + "."
        )
    return WireLine(seq, at, ago, channel, said[0], _value(row, said[0], where))


def _moment(row: dict[str, Any], key: str, where: str, most: float) -> float | None:
    value = row.get(key)
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= most:
        raise RuleError(f"{where}, {key}", "is not a time", "Give seconds.")
    return float(value)


def _value(row: dict[str, Any], measure: str, where: str) -> float | None:
    value = row[measure]
    if value is None:
        return None
    unit, low, high = MEASURES[measure]
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise RuleError(
            f"{where}, {measure}",
            f"is {value!r:.60}",
            f"Give {low:g} to {high:g} {unit}, or null where nothing is read.",
        )
    return float(value)


@dataclass(frozen=True)
class Heard:
    """Which lines of a device have come: all up to `last`, but for the gaps (first, last) that are
    missing.
    """

    last: int = -1
    gaps: tuple[tuple[int, int], ...] = ()

    def has(self, seq: int) -> bool:
        """Whether a line has come."""
        return seq <= self.last and not any(a <= seq <= b for a, b in self.gaps)


def hear(heard: Heard, seqs: Iterable[int]) -> tuple[Heard, list[int], list[int]]:
    """Take in lines by their count.

    Returns
    -------
    what has come by now; counts that are new, and counts that had come before, each in the order given

    >>> hear(Heard(3), [4, 7, 7])
    (Heard(last=7, gaps=((5, 6),)), [4, 7], [7])
    >>> hear(Heard(7, ((5, 6),)), [6])[0]
    Heard(last=7, gaps=((5, 5),))
    """
    last, gaps = heard.last, list(heard.gaps)
    fresh: list[int] = []
    again: list[int] = []
    for seq in seqs:
        if seq > last:
            if seq > last + 1:
                gaps.append((last + 1, seq - 1))
            last = seq
            fresh.append(seq)
            continue
        hit = next((g for g in gaps if g[0] <= seq <= g[1]), None)
        if hit is None:
            again.append(seq)
            continue
        gaps.remove(hit)
        gaps += [g for g in ((hit[0], seq - 1), (seq + 1, hit[1])) if g[0] <= g[1]]
        fresh.append(seq)
    # What is missing for very long is given up: the oldest gaps first.
    return Heard(last, tuple(sorted(gaps)[-MOST_GAPS:])), fresh, again


@dataclass(frozen=True)
class Chunk:
    """Readings of one channel, packed: first and last moment [s since 1970], how many, lowest and highest."""

    starts: float
    ends: float
    count: int
    low: float | None
    high: float | None
    data: bytes


# How whole numbers of a chunk are stored, and what share of a unit they are of. Energy counters outgrow 32
# bits; a scale shows tenths of a gram, finer than a thousandth of a kilo.
_CODES = {b"i": ("i", 1000), b"q": ("q", 1000), b"m": ("q", 1_000_000)}


def pack(times: Sequence[float], values: Sequence[float | None], *, fine: bool = False) -> Chunk:
    """Readings in rising time as a chunk; a thousandth of a unit and of a second are kept, with `fine` a
    millionth of a unit.

    >>> c = pack([100.0, 101.0, 102.0], [20.0, None, 20.125])
    >>> unpack(c.starts, c.data)
    ([100.0, 101.0, 102.0], [20.0, None, 20.125])
    """
    moments = [round(t * 1000) for t in times]
    steps = array("i", [0, *(b - a for a, b in pairwise(moments))])
    share = 1_000_000 if fine else 1000
    whole = [_NONE if v is None else round(v * share) for v in values]
    small = all(w == _NONE or abs(w) < 2**30 for w in whole)
    code = b"m" if fine else b"i" if small else b"q"
    codes = array(_CODES[code][0], whole)
    known = [v for v in values if v is not None]
    body = struct.pack("<Icq", len(whole), code, moments[0]) + zlib.compress(
        steps.tobytes() + codes.tobytes(), 6
    )
    return Chunk(
        moments[0] / 1000,
        moments[-1] / 1000,
        len(whole),
        min(known, default=None),
        max(known, default=None),
        body,
    )


def _arrays(data: bytes) -> tuple[list[int], "array[int]", int]:
    """Moments [ms since 1970] and values of a chunk, and how many of them make a unit."""
    head = struct.calcsize("<Icq")
    count, code, first = struct.unpack("<Icq", data[:head])
    raw = zlib.decompress(data[head:])
    kind, share = _CODES[code]
    steps, codes = array("i"), array(kind)
    steps.frombytes(raw[: 4 * count])
    codes.frombytes(raw[4 * count :])
    return list(accumulate(steps, initial=first))[1:], codes, share


def unpack(starts: float, data: bytes, take: int = 1) -> tuple[list[float], list[float | None]]:
    """The readings of a chunk, or every so-many-th: moments [s since 1970] and values, None where nothing was
    read.
    """
    moments, codes, share = _arrays(data)
    return [m / 1000 for m in moments[::take]], [None if c == _NONE else c / share for c in codes[::take]]


def extremes(data: bytes, take: int) -> list[tuple[float, float | None]]:
    """The lowest and the highest of every so many readings of a chunk, in their order: for drawing without
    losing peaks.

    >>> extremes(pack([0.0, 1.0, 2.0, 3.0], [5.0, 9.0, 1.0, 4.0]).data, 4)
    [(1.0, 9.0), (2.0, 1.0)]
    """
    moments, codes, share = _arrays(data)
    found: list[tuple[float, float | None]] = []
    for i in range(0, len(codes), take):
        some = codes[i : i + take]
        low, high = min(some), max(some)
        if low == _NONE:
            known = [c for c in some if c != _NONE]
            if not known:
                found.append((moments[i] / 1000, None))
                continue
            low = min(known)
        ends = {i + some.index(low), i + some.index(high)}
        found += [(moments[n] / 1000, codes[n] / share) for n in sorted(ends)]
    return found

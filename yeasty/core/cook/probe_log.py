"""A probe log as CSV: two or more columns, time as seconds, clock or ISO, in °C or °F."""

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from io import StringIO
from itertools import pairwise

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.text import cannot_be_kept

MOST_ROWS = 200_000
MOST_COLUMNS, LONGEST_NAME = 64, 80
# A reading was taken in these years [s since 1970], or so long after the first [s].
EARLIEST_S, LATEST_S = 0.0, 4e9
_CLOCK = re.compile(r"^(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?$")


@dataclass(frozen=True)
class ProbeLog:
    """A curve or several on one time axis.

    Attributes
    ----------
    times_s : since the first reading, rising
    starts_at : moment of the first reading [s since 1970] where times were ISO, else None
    channels : column name to readings [°C], None where a cell was empty
    unit : "C" or "F", as read
    unit_stated : whether the file or the person said so; where not, it has to be confirmed
    why_unit : how the unit was found
    """

    times_s: tuple[float, ...]
    starts_at: float | None
    channels: tuple[tuple[str, tuple[float | None, ...]], ...]
    unit: str
    unit_stated: bool
    why_unit: str


def _time(text: str, row: int) -> tuple[float, str]:
    text = text.strip()
    try:
        return float(text.replace(",", ".")), "seconds"
    except ValueError:
        pass
    m = _CLOCK.match(text)
    if m:
        return int(m[1]) * 3600.0 + int(m[2]) * 60.0 + float(m[3] or 0), "clock"
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        raise RuleError(
            f"row {row}, time",
            f"“{text[:40]}” is not a time",
            "Use seconds, 17:05:30 or 2026-01-31T17:05:30.",
        ) from None
    return moment.replace(tzinfo=moment.tzinfo or UTC).timestamp(), "iso"


def read_probe_log(text: str, unit: str | None = None) -> ProbeLog:
    """Read a probe log.

    Parameters
    ----------
    text : the file; comma, semicolon or tab between columns; a first line of names, one of them `time`
    unit : "C" or "F" where the person states it; else it is read from the names, else guessed

    Raises
    ------
    RuleError : which row and column cannot be read, and what to do

    Notes
    -----
    A guess is made from the readings: a highest value above 130 where no curve starts below 50 can hardly be
    food in °C that starts cool. It is told as a guess and has to be confirmed. Clock times that
    fall back once are taken to have passed midnight.

    >>> log = read_probe_log("time,core °F\\n0,68\\n60,212\\n")
    >>> log.unit, log.channels[0][1]
    ('F', (20.0, 100.0))
    """
    if cannot_be_kept(text):
        raise RuleError("file", "is not text", "Save the log as CSV and choose that file.")
    rows, names, times_at = _table(text)
    columns = [i for i in range(len(names)) if i != times_at]
    if not columns:
        raise RuleError(
            "file", "has no column of temperatures", "It needs at least one column beside “time”."
        )
    times, kind = _times([row[times_at] for row in rows])
    readings = [[_cell(row[i], n, names[i]) for n, row in enumerate(rows, 2)] for i in columns]
    seen = [v for column in readings for v in column if v is not None]
    if not seen:
        raise RuleError("file", "holds no readings", "Choose a log with temperatures in it.")
    found = _unit(unit, [names[i] for i in columns], readings, seen)
    zero, size = (32.0, 1.8) if found[0] == "F" else (0.0, 1.0)
    channels = tuple(
        (_plain_name(names[i]), tuple(None if v is None else round((v - zero) / size, 3) for v in column))
        for i, column in zip(columns, readings, strict=True)
    )
    for name, column in channels:
        for n, v in enumerate(column, 2):
            if v is not None and not -60 <= v <= 600:
                raise RuleError(
                    f"row {n}, {name}",
                    f"{v:g} °C is no temperature of a kitchen",
                    "Check the unit and that row.",
                )
    start = times[0]
    return ProbeLog(
        tuple(t - start for t in times),
        start if kind == "iso" else None,
        channels,
        found[0],
        found[1],
        found[2],
    )


def _table(text: str) -> tuple[list[list[str]], list[str], int]:
    """Rows of readings, names of columns, and which of them is the time."""
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if len(lines) < 3:
        raise RuleError(
            "file", "has fewer than two readings", "Choose a log with a line of names and the readings below."
        )
    if len(lines) > MOST_ROWS:
        raise RuleError("file", f"has {len(lines)} rows", f"Cut it to {MOST_ROWS} or fewer.")
    delimiter = max(",;\t", key=lines[0].count)
    try:
        table = list(csv.reader(StringIO("\n".join(lines)), delimiter=delimiter))
    except csv.Error as broken:
        raise RuleError(
            "file", f"is no table ({broken})", "Save the log as CSV and choose that file."
        ) from None
    names = [" ".join(n.split()) for n in table[0]]
    if len(names) > MOST_COLUMNS:
        raise RuleError("file", f"has {len(names)} columns", f"Cut it to {MOST_COLUMNS} or fewer.")
    if any(len(n) > LONGEST_NAME for n in names):
        raise RuleError("line 1", "has a name that is too long", f"Keep names to {LONGEST_NAME} characters.")
    times_at = next(
        (i for i, n in enumerate(names) if n.lower().split("(")[0].split("[")[0].strip() == "time"), None
    )
    if times_at is None:
        raise RuleError(
            "file", "has no column named “time”", "Name the column of times “time” in the first line."
        )
    for n, row in enumerate(table[1:], 2):
        if len(row) < len(names):
            raise RuleError(
                f"row {n}", f"has {len(row)} columns, the first line {len(names)}", "Mend that row."
            )
    return table[1:], names, times_at


def _times(cells: Sequence[str]) -> tuple[list[float], str]:
    """Times in order [s], and how they are written: seconds, clock or iso."""
    times: list[float] = []
    kinds: set[str] = set()
    for n, cell in enumerate(cells, 2):
        t, kind = _time(cell, n)
        if not EARLIEST_S <= t <= LATEST_S:
            raise RuleError(f"row {n}, time", "is far from any cooking", "Look at that row.")
        kinds.add(kind)
        if len(kinds) > 1:
            raise RuleError(
                f"row {n}, time",
                "is written another way than the rows before",
                "Use one way of writing time.",
            )
        if times and t <= times[-1]:
            if kind != "clock" or times[-1] - t <= 12 * 3600:
                raise RuleError(
                    f"row {n}, time", "does not come after the row before", "Sort the rows by time."
                )
            t += 86400
        times.append(t)
    return times, kinds.pop()


def _cell(text: str, row: int, name: str) -> float | None:
    cell = text.strip()
    if cell in ("", "-", "--", "NaN", "nan"):
        return None
    try:
        return float(cell.replace(",", "."))
    except ValueError:
        raise RuleError(
            f"row {row}, {name}", f"“{cell[:40]}” is not a number", "Mend it or leave it empty."
        ) from None


def _plain_name(name: str) -> str:
    return re.sub(r"\s*[\[(]?\s*°?\s*[CF]\s*[\])]?\s*$", "", name).strip() or name


def _unit(
    stated: str | None, names: list[str], readings: list[list[float | None]], seen: list[float]
) -> tuple[str, bool, str]:
    if stated is not None:
        if stated.upper() not in ("C", "F"):
            raise RuleError("unit", f"{stated} is not known", "Give C or F.")
        return stated.upper(), True, "stated"
    endings = {m[1].upper() for n in names if (m := re.search(r"(?:°|\(|\[|\s|_)\s*([CFcf])[\])]?\s*$", n))}
    if len(endings) == 1:
        return endings.pop(), True, "from the column names"
    firsts = [v for column in readings if (v := next((x for x in column if x is not None), None)) is not None]
    if max(seen) > 130 and min(firsts) > 50:
        return "F", False, "guessed: starts above 50 and goes above 130"
    return "C", False, "guessed: the values look like °C"


def thin(
    times_s: tuple[float, ...], values: tuple[float | None, ...], most: int
) -> list[tuple[float, float | None]]:
    """At most about `most` points for drawing, keeping the lowest and highest of each stretch.

    >>> thin((0.0, 1.0, 2.0), (1.0, 5.0, 2.0), 10)
    [(0.0, 1.0), (1.0, 5.0), (2.0, 2.0)]
    """
    points = list(zip(times_s, values, strict=True))
    if len(points) <= most:
        return points
    size = len(points) * 2 / most
    cuts = [round(i * size) for i in range(int(most / 2))] + [len(points)]
    kept: list[tuple[float, float | None]] = []
    for a, b in pairwise(cuts):
        stretch = [p for p in points[a:b] if p[1] is not None]
        if not stretch:
            kept.extend(points[a : a + 1])
            continue
        ends = {min(stretch, key=lambda p: p[1] or 0.0), max(stretch, key=lambda p: p[1] or 0.0)}
        kept.extend(sorted(ends, key=lambda p: p[0]))
    return kept

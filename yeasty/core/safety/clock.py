"""The safety clock: time between the cold and the hot limit, added up over a sample's whole life; cooling;
reheating.

Where no temperature is known, food that is out of the cold and not yet read hot counts as between the limits:
unknown counts as not met. Figures come from `limits.csv` with their status.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from yeasty.core.kernel.errors import RuleError
from yeasty.core.safety.cautions import Limit, limits

UNKNOWN: None = None


@dataclass(frozen=True)
class Zone:
    """A rule on time between cold and hot.

    Attributes
    ----------
    cold_c, hot_c : what is at or below, or at or above, does not count [°C]
    use_s : time within which it is used or chilled again [s], None where the authority tables none
    discard_s : time after which it is thrown away [s]
    """

    id: str
    authority: str
    status: str
    cold_c: float
    hot_c: float
    use_s: float | None
    discard_s: float | None


def _span(text: str) -> tuple[float, float]:
    low, _, high = text.partition(" to ")
    return float(low), float(high)


@cache
def zones() -> tuple[Zone, ...]:
    """Rules on time between cold and hot, from the table of limits."""
    found = []
    for row in limits().values():
        if row.kind == "danger_zone":
            cold, hot = _span(row.temperature_c)
            use = float(row.hold_s) if row.hold_s else None
            discard = float(row.value) if row.value else use
            found.append(Zone(row.id, row.authority, row.status, cold, hot, use, discard))
    return tuple(found)


def strictest_zone(stricter_use_s: float | None = None) -> Zone:
    """The zone and times by which every tabled authority is met; a kitchen may set a shorter time.

    >>> z = strictest_zone()
    >>> z.cold_c, z.hot_c, z.use_s, z.discard_s
    (4.0, 63.0, 7200.0, 7200.0)
    """
    all_ = zones()
    use = min(z.use_s for z in all_ if z.use_s is not None)
    discard = min(z.discard_s for z in all_ if z.discard_s is not None)
    if stricter_use_s is not None:
        if not 60 <= stricter_use_s <= use:
            raise RuleError(
                "time between cold and hot",
                f"{stricter_use_s:g} s",
                f"A kitchen may set less than {use:g} s, not more.",
            )
        use = discard = stricter_use_s
    return Zone(
        "strictest",
        "the strictest of " + ", ".join(z.authority for z in all_),
        "recalled",
        min(z.cold_c for z in all_),
        max(z.hot_c for z in all_),
        use,
        discard,
    )


@dataclass(frozen=True)
class Reading:
    """What is known of a sample at a moment [s]: temperature [°C], or None from there on ("out of the
    cold").
    """

    at: float
    celsius: float | None


@dataclass(frozen=True)
class ZoneTime:
    """Time spent between the limits.

    Attributes
    ----------
    spent_s : so far [s]; running : whether it is between the limits now
    use_by, discard_by : moments, None while it is not running or where nothing is tabled [s]
    late : whether the time for use, or for throwing away, is past: "", "use" or "discard"
    guessed : whether part of the time counts only because no temperature was known
    """

    spent_s: float
    running: bool
    use_by: float | None
    discard_by: float | None
    late: str
    guessed: bool
    sentence: str


def zone_time(life: Sequence[Reading], now: float, zone: Zone) -> ZoneTime:
    """Time between the limits over a sample's whole life.

    Parameters
    ----------
    life : readings in order of time; straight lines between two temperatures, a stretch that begins or ends
        without one counts whole
    now : moment [s], not before the last reading

    >>> z = strictest_zone()
    >>> zone_time([Reading(0, None)], 1800, z).spent_s
    1800.0
    >>> zone_time([Reading(0, 3), Reading(600, 3), Reading(600, 80), Reading(1200, 80)], 1800, z).spent_s
    0.0
    """
    ordered = sorted(life, key=lambda r: r.at)
    if ordered and now < ordered[-1].at:
        raise RuleError("now", "is before the last reading", "Check the clocks.")
    spent = 0.0
    guessed = False
    stretch = [*ordered, Reading(now, ordered[-1].celsius)] if ordered else []
    for a, b in itertools.pairwise(stretch):
        spent += _between(a, b, zone)
        guessed = guessed or (b.at > a.at and (a.celsius is None or b.celsius is None))
    last = ordered[-1].celsius if ordered else zone.cold_c
    running = bool(ordered) and (last is None or zone.cold_c < last < zone.hot_c)
    use_by = now + zone.use_s - spent if running and zone.use_s is not None else None
    discard_by = now + zone.discard_s - spent if running and zone.discard_s is not None else None
    late = ""
    if zone.discard_s is not None and spent > zone.discard_s:
        late = "discard"
    elif zone.use_s is not None and spent > zone.use_s:
        late = "use"
    return ZoneTime(spent, running, use_by, discard_by, late, guessed, _sentence(spent, zone, late, guessed))


def _between(a: Reading, b: Reading, zone: Zone) -> float:
    """Part of a stretch that counts [s]."""
    length = b.at - a.at
    if length <= 0:
        return 0.0
    if a.celsius is None or b.celsius is None:
        return length
    low, high = sorted((a.celsius, b.celsius))
    if low == high:
        return length if zone.cold_c < low < zone.hot_c else 0.0
    inside = max(0.0, min(high, zone.hot_c) - max(low, zone.cold_c))
    return length * inside / (high - low)


def _sentence(spent: float, zone: Zone, late: str, guessed: bool) -> str:
    length = f"{spent / 60:.0f} min" if spent < 4 * 3600 else f"{spent / 3600:.0f} h"
    said = f"{length} between {zone.cold_c:g} and {zone.hot_c:g} °C in all"
    if guessed:
        said += ", counted where no temperature was read"
    if late == "discard":
        return f"{said}: past the figure entered, throw it away."
    if late == "use":
        return f"{said}: use at once, do not chill again."
    return f"{said}."


@dataclass(frozen=True)
class Cooling:
    """Whether cooling met a two-stage rule: "met", "not met" or "not known", and why."""

    standing: str
    sentence: str


def judge_cooling(times: Sequence[float], celsius: Sequence[float], limit_id: str = "us-cooling") -> Cooling:
    """Two-stage cooling from readings: from the hot mark to the middle one, and to the cold one in all.

    Gaps are not guessed: a mark that no reading shows as passed is not known.

    >>> judge_cooling([0, 3600, 14400], [57, 20, 4]).standing
    'met'
    >>> judge_cooling([0, 9000, 14400], [57, 30, 4]).standing
    'not met'
    """
    row: Limit = limits()[limit_id]
    middle_by, cold_by, cold_c = float(row.hold_s), float(row.value), 5.0
    hot, middle = _span(row.temperature_c)
    pairs = sorted(zip(times, celsius, strict=True))
    start = next((t for t, c in reversed(pairs) if c >= hot), None)
    if start is None:
        return Cooling("not known", f"No reading at {hot:g} °C or above: when cooling began is not known.")
    after = [(t - start, c) for t, c in pairs if t >= start]
    for mark, by in ((middle, middle_by), (cold_c, cold_by)):
        passed = next((t for t, c in after if c <= mark), None)
        if passed is None:
            last = after[-1]
            if last[0] > by:
                return Cooling(
                    "not met",
                    f"{last[1]:.0f} °C after {last[0] / 3600:.1f} h; {mark:g} °C within {by / 3600:g} h is "
                    f"entered.",
                )
            return Cooling(
                "not known",
                f"No reading at {mark:g} °C or below yet; it has to come within {by / 3600:g} h "
                f"({row.authority}, {row.status}).",
            )
        if passed > by:
            return Cooling(
                "not met",
                f"{mark:g} °C seen after {passed / 3600:.1f} h; within {by / 3600:g} h is entered "
                f"({row.authority}, {row.status}).",
            )
    return Cooling("met", f"Meets the figure entered ({row.authority}, {row.status}).")

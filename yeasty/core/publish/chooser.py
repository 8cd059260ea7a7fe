"""Which one tonight: which of a page's ways fit what a reader has, and why the others do not."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yeasty.core.ask.deciding import Limit
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.rules import broken
from yeasty.core.kernel.errors import RuleError

# What a reader is asked, by the measure it is held against; each at most so many minutes.
ASKED: Mapping[str, str] = {
    "total_s": "Minutes from start to clean",
    "hands_s": "Minutes of your hands",
    "wash_up_s": "Minutes of washing-up",
}
MOST_MIN = 24 * 60.0


@dataclass(frozen=True)
class Fits:
    """A way tonight: whether it fits, and what it breaks."""

    name: str
    fits: bool
    why_not: Sequence[str] = ()


@dataclass(frozen=True)
class Tonight:
    """What a reader said they have, as they typed it, what fits, and what is wrong with what they typed."""

    said: Mapping[str, str] | None = None
    fits: Sequence[Fits] = ()
    wrong: str = ""


def tonight(record: Mapping[str, Any], said: Mapping[str, str]) -> Tonight:
    """What fits; every cooking of a way has to, and what was not measured does not count as fitting.

    Parameters
    ----------
    record : of this version
    said : measure to minutes, as typed; what is empty is not asked for
    """
    typed = {key: said[key].strip() for key in ASKED if said.get(key, "").strip()}
    if not typed:
        return Tonight(dict(said))
    try:
        limits = [Limit(key, at_most=60 * _minutes(key, text)) for key, text in typed.items()]
    except RuleError as wrong:
        return Tonight(typed, (), f"{wrong.field}: {wrong.message}")
    found = []
    for w in record["ways"]:
        by_log = {key: {"it": tuple(values)} for key, values in w["values"].items() if measure_of(key)}
        why = broken(limits, "it", by_log)
        found.append(Fits(w["name"], not why, why))
    return Tonight(typed, found)


def _minutes(key: str, text: str) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = -1.0
    if not 0 < value <= MOST_MIN:
        raise RuleError(ASKED[key], f"“{text[:20]}” is no number of minutes", "Give minutes, as 45.")
    return value

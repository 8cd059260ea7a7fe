"""Was it hot enough inside: a profile per authority, the strictest of all by default, unknown counts as not
met.

A kitchen may set stricter figures. A laxer one needs the lead's recorded reason, and what was cooked by it is
not for publishing. Nothing here says *safe*: it *meets the figure entered*, or does not, or is not known.
"""

import csv
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files
from itertools import pairwise

from yeasty.core.kernel.errors import RuleError, check_range
from yeasty.core.safety.cautions import Limit, limits
from yeasty.core.safety.lethality import equivalents, held_share

STRICTEST = "strictest"


@dataclass(frozen=True)
class FoodClass:
    """A kind of food as guidance on core temperatures divides it; `limits` are ids of `limits.csv`;
    `perishable` whether time between cold and hot counts.
    """

    key: str
    name: str
    limits: tuple[str, ...]
    perishable: bool
    note: str


@cache
def food_classes() -> dict[str, FoodClass]:
    """All kinds of food by key."""
    text = files("yeasty.core.safety").joinpath("food_classes.csv").read_text("utf-8")
    return {
        r["key"]: FoodClass(
            r["key"],
            r["name"],
            tuple(x for x in r["limits"].split(";") if x),
            r["perishable"] == "yes",
            r["note"],
        )
        for r in csv.DictReader(text.splitlines())
    }


def food_class(key: str) -> FoodClass:
    """One kind of food.

    Raises
    ------
    RuleError : a kind that is not known
    """
    if key not in food_classes():
        raise RuleError(
            "kind of food",
            f"{key or 'nothing'} is not known",
            "Choose one of: " + ", ".join(food_classes()) + ".",
        )
    return food_classes()[key]


@dataclass(frozen=True)
class Changed:
    """A kitchen's own figure for a limit: temperature [°C] and hold [s], the reason, and whether it is
    laxer.
    """

    limit_id: str
    temperature_c: float
    hold_s: float
    reason: str

    def laxer(self) -> bool:
        """Whether it asks for less than the figure entered."""
        row = limits()[self.limit_id]
        return self.temperature_c < float(row.temperature_c) or self.hold_s < float(row.hold_s or 0)


@dataclass(frozen=True)
class Requirement:
    """What one authority asks of a core.

    Attributes
    ----------
    authority, status : who, and how far the figure was checked
    temperature_c, hold_s : the core held at or above for so long [°C, s]; for `equivalent` the tabled curve
        counts instead
    equivalent : any point of the tabled time and temperature curve will do
    laxer : the kitchen's own figure asks for less than the authority's
    """

    authority: str
    status: str
    temperature_c: float
    hold_s: float
    equivalent: bool
    laxer: bool = False


def check_change(change: Changed) -> Changed:
    """A kitchen's own figure, if it may be set.

    Raises
    ------
    RuleError : a limit that is not in the table or has no core temperature, a figure outside cooking, no
        reason
    """
    row = limits().get(change.limit_id)
    if row is None or row.kind != "core_minimum":
        raise RuleError("limit", f"{change.limit_id} is not a core minimum", "Choose one of the core minima.")
    check_range("core temperature", change.temperature_c, 40, 100, "°C")
    check_range("hold", change.hold_s, 0, 86400, "s")
    if len(change.reason.strip()) < 10:
        raise RuleError("reason", "says too little", "Say why, in a sentence: it is kept with the figure.")
    return change


def authorities() -> tuple[str, ...]:
    """Names of profiles: the strictest of all, then each authority with core minima."""
    found = {_authority(limits()[i]) for c in food_classes().values() for i in c.limits}
    return (STRICTEST, *sorted(found))


def check_authority(profile: str) -> None:
    """Whether a profile is one of `authorities()`.

    Raises
    ------
    RuleError : it is not
    """
    if profile not in authorities():
        raise RuleError(
            "safety profile", f"{profile} is not known", "Choose one of: " + ", ".join(authorities()) + "."
        )


def _authority(row: Limit) -> str:
    return row.authority.partition(" (")[0]


def requirements(food: str, profile: str = STRICTEST, own: Sequence[Changed] = ()) -> tuple[Requirement, ...]:
    """What is asked of the core of a kind of food; all of it has to be met.

    An authority that tables nothing for this food does not free it: then the strictest of all counts.

    Parameters
    ----------
    food : key of `food_classes`; profile : one of `authorities()`; own : the kitchen's figures

    Raises
    ------
    RuleError : a kind of food or profile that is not known

    >>> [(r.temperature_c, r.hold_s, r.equivalent) for r in requirements("poultry")]
    [(74.0, 0.0, False), (70.0, 120.0, True)]
    >>> requirements("plant")
    ()
    """
    kind = food_class(food)
    check_authority(profile)
    if kind.limits and profile not in {_authority(limits()[i]) for i in kind.limits}:
        profile = STRICTEST
    changed = {c.limit_id: check_change(c) for c in own}
    found = []
    tabled = False
    for row in (limits()[i] for i in kind.limits):
        if profile not in (STRICTEST, _authority(row)):
            continue
        if row.kind == "core_equivalent":
            tabled = True
            continue
        mine = changed.get(row.id)
        found.append(
            Requirement(
                _authority(row),
                row.status,
                mine.temperature_c if mine else float(row.temperature_c),
                mine.hold_s if mine else float(row.hold_s or 0),
                False,
                mine.laxer() if mine else False,
            )
        )
    if tabled:
        row = limits()["uk-70"]
        found.append(
            Requirement(_authority(row), row.status, float(row.temperature_c), float(row.hold_s), True)
        )
    return tuple(found)


class CoreStanding(StrEnum):
    """How a core stands to what is asked of it."""

    NOT_NEEDED = "no core minimum for this food"
    MEETS = "meets the figure entered"
    UNKNOWN = "not known"
    BELOW = "below the figure entered"


@dataclass(frozen=True)
class PieceResult:
    """How one piece stands, with its highest reading [°C]."""

    piece: str
    standing: CoreStanding
    sentence: str
    highest_c: float


@dataclass(frozen=True)
class CoreResult:
    """How a core stands, in a sentence, with what was asked and the highest reading [°C] (the lowest of the
    pieces').
    """

    standing: CoreStanding
    sentence: str
    asked: tuple[Requirement, ...]
    highest_c: float | None
    laxer: bool
    pieces: tuple[PieceResult, ...] = ()


def held_at(times: Sequence[float], celsius: Sequence[float], temperature_c: float) -> float:
    """Longest unbroken time at or above a temperature [s], straight lines between readings; 0 for a single
    reading.

    >>> held_at([0, 60, 120, 180], [60, 64, 64, 60], 63)
    90.0
    """
    best = run = 0.0
    for (t0, a), (t1, b) in pairwise(zip(times, celsius, strict=True)):
        dt = t1 - t0
        if a >= temperature_c and b >= temperature_c:
            run += dt
        elif a < temperature_c <= b:
            run = dt * (b - temperature_c) / (b - a)
        elif a >= temperature_c > b:
            best = max(best, run + dt * (a - temperature_c) / (a - b))
            run = 0.0
        else:
            run = 0.0
        best = max(best, run)
    return best


def held_low(times: Sequence[float], celsius: Sequence[float], temperature_c: float) -> float:
    """Longest unbroken time [s] between readings that were all at or above a temperature: the lower of two
    counts.

    >>> held_low([0, 60, 120, 180], [60, 64, 64, 60], 63)
    60.0
    """
    best = run = 0.0
    for (t0, a), (t1, b) in pairwise(zip(times, celsius, strict=True)):
        run = run + t1 - t0 if min(a, b) >= temperature_c else 0.0
        best = max(best, run)
    return best


def judge_core(asked: Sequence[Requirement], times: Sequence[float], celsius: Sequence[float]) -> CoreResult:
    """How core readings stand to what is asked.

    A hold is counted between readings that are at most five minutes apart: what happened in longer gaps is
    not known, and what is not known is not met.

    >>> judge_core(requirements("poultry"), [], []).standing
    <CoreStanding.UNKNOWN: 'not known'>
    >>> judge_core(requirements("poultry"), [0, 120], [75, 76]).standing
    <CoreStanding.MEETS: 'meets the figure entered'>
    """
    laxer = any(r.laxer for r in asked)
    if not asked:
        return CoreResult(
            CoreStanding.NOT_NEEDED,
            "No core minimum is tabled for this kind of food.",
            (),
            max(celsius, default=None),
            False,
        )
    if not celsius:
        return CoreResult(
            CoreStanding.UNKNOWN, "No core reading: unknown counts as not met.", tuple(asked), None, laxer
        )
    highest = max(celsius)
    missing = []
    below = False
    parts = _without_gaps(times, celsius)
    for r in asked:
        # Hot enough but not seen to stay so is not known; not hot enough is below.
        below = below or highest < (equivalents()[0][0] if r.equivalent else r.temperature_c)
        if r.equivalent:
            share = max(held_share(*p) for p in parts)
            if share < 1:
                missing.append(
                    f"{r.authority}: {r.temperature_c:g} °C for {r.hold_s:g} s or its equivalent, so far "
                    f"{share:.0%} of it"
                )
        elif highest < r.temperature_c:
            missing.append(f"{r.authority}: {r.temperature_c:g} °C, highest reading {highest:.1f} °C")
        elif r.hold_s and max(held_low(*p, r.temperature_c) for p in parts) < r.hold_s:
            missing.append(
                f"{r.authority}: {r.temperature_c:g} °C held for {r.hold_s:g} s, not seen in the readings"
            )
    if missing:
        standing = CoreStanding.BELOW if below else CoreStanding.UNKNOWN
        return CoreResult(standing, "Not met: " + "; ".join(missing) + ".", tuple(asked), highest, laxer)
    words = "; ".join(
        f"{r.temperature_c:g} °C"
        + (f" for {r.hold_s:g} s" if r.hold_s else "")
        + (" or its equivalent" if r.equivalent else "")
        + f" ({r.authority}, {r.status})"
        for r in asked
    )
    return CoreResult(CoreStanding.MEETS, f"Meets the figure entered: {words}.", tuple(asked), highest, laxer)


LONGEST_GAP_S = 300.0


def _without_gaps(times: Sequence[float], celsius: Sequence[float]) -> list[tuple[list[float], list[float]]]:
    parts: list[tuple[list[float], list[float]]] = [([], [])]
    for t, c in zip(times, celsius, strict=True):
        if parts[-1][0] and t - parts[-1][0][-1] > LONGEST_GAP_S:
            parts.append(([], []))
        parts[-1][0].append(t)
        parts[-1][1].append(c)
    return parts


def names_of_profiles() -> Mapping[str, str]:
    """Profiles in words, for a choice."""
    return {a: "the strictest of all" if a == STRICTEST else a for a in authorities()}

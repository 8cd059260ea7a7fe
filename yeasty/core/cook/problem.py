"""What is planned, and what a plan is: the words that every way of planning shares."""

import itertools
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yeasty.core.cook.waits import WaitLimit
from yeasty.core.kernel.steps import (
    Step,
    step_from_record,
)

# Day-before work is done between these hours of its own day [s after midnight].
WORK_FROM_S, WORK_UNTIL_S = 8 * 3600.0, 20 * 3600.0
DAY_S = 86400.0
# No plan reaches further back from its serving day [s].
HORIZON_S = 15 * 86400


@dataclass(frozen=True)
class Chain:
    """One batch to be cooked.

    Parameters
    ----------
    batch : identity; tag : of its method
    steps : its chain
    pieces : in the batch, for the capacity of appliances; None where not known
    hold_limit_s : most that it may wait between done and served; None for no limit
    together : batches with the same word here are one load, cooked together until each is pulled; "" for one
        of its own
    waits : how long its food may stand raw, and between two heats
    ready : steps that begin no sooner than a moment [s]: what they need is on its way already
    prepared : so many of its first steps are the shared preparation, done once for all batches that have any
    hot : appliances that were heated up for it and wait for its food: appliance, set point [°C], since when
        [s]
    """

    batch: str
    tag: str
    steps: tuple[Step, ...]
    pieces: int | None = None
    hold_limit_s: float | None = None
    together: str = ""
    waits: tuple[WaitLimit, ...] = ()
    ready: tuple[tuple[str, float], ...] = ()
    prepared: int = 0
    hot: tuple[tuple[str, float | None, float], ...] = ()


@dataclass(frozen=True)
class Place:
    """An appliance as a plan needs it.

    Parameters
    ----------
    key, name : identity and what it is called
    spot : where it stands; "" counts as in sight of everything
    capacity : pieces that it holds at once, None where not known
    rings : places that are set for themselves (a hob), else 1
    circuit : that it hangs on, "" where not entered; input_w : full input [W], of a hob that of all its rings
    change_s_per_k : time to bring it up to a higher set point [s/K]
    fall_s_per_k : time until it has come down to a lower one [s/K]; None where it is as for rising
    """

    key: str
    name: str = ""
    spot: str = ""
    capacity: int | None = None
    rings: int = 1
    circuit: str = ""
    input_w: float | None = None
    change_s_per_k: float = 0.0
    fall_s_per_k: float | None = None

    def change_s(self, a: float | None, b: float | None) -> float:
        """How long it takes from one set point to another [s]; nothing where one of them is not known.

        >>> Place("o", change_s_per_k=6, fall_s_per_k=12).change_s(230, 180)
        600.0
        """
        if a is None or b is None or a == b:
            return 0.0
        falling = self.change_s_per_k if self.fall_s_per_k is None else self.fall_s_per_k
        return float((b - a) * self.change_s_per_k if b > a else (a - b) * falling)


@dataclass(frozen=True)
class PlannedStep:
    """A step of a batch with planned start and end [s]."""

    batch: str
    step: str
    start: float
    end: float


@dataclass(frozen=True)
class Problem:
    """What is to be planned.

    Parameters
    ----------
    chains : batches with their steps
    serve_from, serve_until : the serving window [s, on any clock]
    people : pairs of hands, 1 to 4
    spots : appliance key to spot; kept beside `places` for kitchens that have said no more
    not_before : nothing begins earlier [s]; None when there is all the time
    places : appliances; limits_w : circuit to what may be drawn from it [W]
    walk_s : time to move between stations, after each stretch of hand work [s]
    midnight : the beginning of the serving day [s], for day-before work; None where there is none
    fixed : batches that have begun: their steps stand where they are and occupy what they use
    before : the plan that counts so far; as little of it is moved as possible
    same_age : each is tasted at the same age, one after another within the window, rather than all together
    pace_s : then, least time from one plate to the next [s]; None for three minutes, or what the window has
        room for
    leave_room : what the food ends is begun so early that it meets the others even where it takes its longest
    """

    chains: tuple[Chain, ...]
    serve_from: float
    serve_until: float
    people: int = 1
    spots: tuple[tuple[str, str], ...] = ()
    not_before: float | None = None
    places: tuple[Place, ...] = ()
    limits_w: tuple[tuple[str, float], ...] = ()
    walk_s: float = 0.0
    midnight: float | None = None
    fixed: tuple[tuple[Chain, tuple[PlannedStep, ...]], ...] = ()
    before: tuple[PlannedStep, ...] = ()
    same_age: bool = False
    pace_s: float | None = None
    leave_room: bool = True

    def place(self, key: str) -> Place:
        """An appliance by key; one that was not described has no limits but its spot."""
        found = next((p for p in self.places if p.key == key), None)
        return found or Place(key, spot=dict(self.spots).get(key, ""))


@dataclass(frozen=True)
class Rank:
    """One wish of the plan, in order: its value, its bound, and whether it is proven best.

    `unit` is s for times, "" for counts. Lower is better.
    """

    name: str
    value: float
    bound: float
    proven: bool
    unit: str = "s"


@dataclass(frozen=True)
class Plan:
    """A plan, what is known of its quality, and what a cook should know.

    Attributes
    ----------
    items : every step of every batch, in order of start
    served : batch to time on the plate [s]
    holds : batch to waiting beyond the planned rest [s]
    longest_hold_s : the largest of them [s]
    proof : how good it is, in words
    notes : sentences about what did not fit
    ranks : wishes in order with their bounds; empty for ways that prove nothing
    clashing : demands that cannot all be met, from which none can be left out; empty where all are met
    """

    items: tuple[PlannedStep, ...]
    served: tuple[tuple[str, float], ...]
    holds: tuple[tuple[str, float], ...]
    longest_hold_s: float
    proof: str
    notes: tuple[str, ...]
    ranks: tuple[Rank, ...] = ()
    clashing: tuple[str, ...] = ()


def latest_end(step: Step, planned: PlannedStep) -> float:
    """Until when a step may last that the food ends [s]; its planned end where the clock does."""
    return max(planned.end, planned.start + step.duration_s + step.overrun_s)


def overrun_s(chain: Chain) -> float:
    """By how much a batch may be later than planned, where the food ends its steps [s]."""
    return sum(s.overrun_s for s in chain.steps)


def overloads(problem: Problem, places: Iterable[str], limit_w: float) -> list[tuple[str, ...]]:
    """Smallest sets of appliances that together draw more than a circuit carries; a hob draws by its rings
    and is not among them.
    """
    found: list[tuple[str, ...]] = []
    keys = sorted(p for p in places if problem.place(p).rings == 1)
    for size in range(2, len(keys) + 1):
        for some in itertools.combinations(keys, size):
            if sum(problem.place(k).input_w or 0.0 for k in some) > limit_w and not any(
                set(f) <= set(some) for f in found
            ):
                found.append(some)
    return found


def pace_of(problem: Problem) -> int:
    """Least time from one plate to the next where they are tasted one after another [s]."""
    if not problem.same_age or len(problem.chains) < 2:
        return 0
    if problem.pace_s is not None:
        return int(problem.pace_s)
    return int(min(180.0, (problem.serve_until - problem.serve_from) / (len(problem.chains) - 1)))


def usual_window_s(batches: int, *, same_age: bool) -> float:
    """How long the serving window is where nothing is said [s]: five minutes for all, or ten from one tasting
    to the next.

    >>> usual_window_s(4, same_age=False), usual_window_s(4, same_age=True)
    (300.0, 1800.0)
    """
    return max(300.0, 600.0 * (batches - 1)) if same_age else 300.0


def worded(seconds: float) -> str:
    """Minutes for a note: "12 min"."""
    return f"{max(1, round(seconds / 60))} min"


def problem_from_record(record: Mapping[str, Any]) -> Problem:
    """A problem from its plain record, as kept in files or sent between processes (`dataclasses.asdict`)."""

    def chain(c: Mapping[str, Any]) -> Chain:
        return Chain(
            c["batch"],
            c["tag"],
            tuple(step_from_record(s) for s in c["steps"]),
            c.get("pieces"),
            c.get("hold_limit_s"),
            c.get("together") or "",
            tuple(WaitLimit(**{**w, "between": tuple(w["between"])}) for w in c.get("waits") or ()),
            tuple((k, float(t)) for k, t in c.get("ready") or ()),
            int(c.get("prepared") or 0),
            tuple((k, point, float(t)) for k, point, t in c.get("hot") or ()),
        )

    def items(rows: Sequence[Mapping[str, Any]]) -> tuple[PlannedStep, ...]:
        return tuple(PlannedStep(p["batch"], p["step"], p["start"], p["end"]) for p in rows)

    return Problem(
        tuple(chain(c) for c in record["chains"]),
        record["serve_from"],
        record["serve_until"],
        record["people"],
        tuple((k, v) for k, v in record.get("spots") or ()),
        record.get("not_before"),
        tuple(Place(**p) for p in record.get("places") or ()),
        tuple((k, float(v)) for k, v in record.get("limits_w") or ()),
        record.get("walk_s") or 0.0,
        record.get("midnight"),
        tuple((chain(c), items(rows)) for c, rows in record.get("fixed") or ()),
        items(record.get("before") or ()),
        bool(record.get("same_age")),
        record.get("pace_s"),
        bool(record.get("leave_room", True)),
    )

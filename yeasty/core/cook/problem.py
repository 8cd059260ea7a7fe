"""What is planned, and what a plan is: the words that every way of planning shares."""

import itertools
from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from yeasty.core.cook.steps import (
    Attention,
    Phase,
    Step,
    chain_of,
    check_steps,
    contiguous,
    empty_preheats,
    preheats_beside,
    step_from_record,
)
from yeasty.core.cook.waits import WaitLimit
from yeasty.core.errors import RuleError

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
    pot : batches with the same word here share one vessel from the first step until each is pulled; "" for one of its own
    waits : how long its food may stand raw, and between two heats
    ready : steps that begin no sooner than a moment [s]: what they need is on its way already
    prepared : so many of its first steps are the shared preparation, done once for all batches that have any
    """

    batch: str
    tag: str
    steps: tuple[Step, ...]
    pieces: int | None = None
    hold_limit_s: float | None = None
    pot: str = ""
    waits: tuple[WaitLimit, ...] = ()
    ready: tuple[tuple[str, float], ...] = ()
    prepared: int = 0


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
    pace_s : then, least time from one plate to the next [s]; None for three minutes, or what the window has room for
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


@dataclass(frozen=True)
class Block:
    """Steps that follow each other at once, with their offsets from the block's start [s]."""

    batch: str
    parts: tuple[tuple[Step, float], ...]
    length: float
    days_before: int = 0

    @property
    def slack_s(self) -> float:
        """By how much the wait at its end may be drawn out [s]."""
        return self.last_main.slack_s

    @property
    def last_main(self) -> Step:
        """The step of the chain that ends it."""
        return max((p for p in self.parts if p[0].during_offset_s is None), key=lambda p: p[1])[0]


def blocks_of(chain: Chain) -> list[Block]:
    """What the food goes through, as blocks that may be moved against each other; washing-up is counted and not planned.

    Preheats beside it are blocks of their own, see `side_blocks`.
    """
    blocks: list[list[tuple[Step, float]]] = []
    lengths: list[float] = []
    before: Step | None = None
    for main, during in food_steps(chain):
        if before is None or not contiguous(before, main) or before.days_before != main.days_before:
            blocks.append([])
            lengths.append(0.0)
        at = lengths[-1]
        blocks[-1].append((main, at))
        blocks[-1].extend((d, at + (d.during_offset_s or 0.0)) for d in during)
        lengths[-1] += main.duration_s
        before = main
    return [
        Block(chain.batch, tuple(parts), length, parts[0][0].days_before)
        for parts, length in zip(blocks, lengths, strict=True)
    ]


def food_steps(chain: Chain) -> list[tuple[Step, list[Step]]]:
    """The main steps that the food goes through, each with those done meanwhile: no preheat beside it, no washing-up."""
    side = preheats_beside(chain.steps)
    return [
        (m, d)
        for m, d in chain_of([s for s in chain.steps if s.phase is not Phase.WASH_UP])
        if m.key not in side
    ]


def side_blocks(chain: Chain) -> list[tuple[Block, str]]:
    """Preheats beside the food, each with the key of the step that it must be over for."""
    side = preheats_beside(chain.steps)
    found = []
    mains = chain_of(chain.steps)
    for n, (main, during) in enumerate(mains):
        if main.key in side:
            later = (m for m, _ in mains[n + 1 :] if m.key not in side and m.phase is not Phase.WASH_UP)
            taker = next(later, None)
            if taker is not None:
                parts = ((main, 0.0), *((d, d.during_offset_s or 0.0) for d in during))
                found.append((Block(chain.batch, parts, main.duration_s, main.days_before), taker.key))
    return found


def hold_after(blocks: Sequence[Block], n: int) -> bool:
    """Whether the gap before block `n` is a hold: the food is done and waits to be served."""
    return (
        n > 0
        and blocks[n - 1].days_before == blocks[n].days_before
        and blocks[n - 1].last_main.phase in (Phase.WAIT, Phase.OUT)
        and any(s.phase in (Phase.COOK,) for b in blocks[:n] for s, _ in b.parts)
    )


def pots(chains: Sequence[Chain]) -> dict[str, list[Chain]]:
    """Batches by the vessel they share, the one that is pulled last at the end; batches with one of their own are left out."""
    found: dict[str, list[Chain]] = {}
    for chain in chains:
        if chain.pot:
            found.setdefault(chain.pot, []).append(chain)
    return {
        pot: sorted(own, key=lambda c: (cooked_s(c), c.batch)) for pot, own in found.items() if len(own) > 1
    }


def cooked_s(chain: Chain) -> float:
    """How long a batch cooks [s]."""
    return sum(s.duration_s for s in chain.steps if s.phase is Phase.COOK and s.during_offset_s is None)


def shared_count(own: Sequence[Chain]) -> int:
    """How many of their first steps batches of one vessel do together: those that are alike in all of them."""

    def alike(s: Step) -> tuple[object, ...]:
        return (
            s.what,
            s.phase,
            s.attention,
            s.duration_s,
            s.longest_s,
            s.during_offset_s,
            s.appliance,
            s.set_point_c,
            s.days_before,
        )

    count = 0
    for steps in zip(*(c.steps for c in own), strict=False):
        if len({alike(s) for s in steps}) > 1:
            break
        count += 1
    return count


def prepared_by(chains: Sequence[Chain]) -> Chain | None:
    """The batch whose steps stand for the shared preparation of all; None where nothing is prepared for several."""
    some = [c for c in chains if c.prepared]
    if len(some) < 2:
        return None
    done_by_others = {c.batch for own in pots(chains).values() for c in own[:-1]}
    return next((c for c in some if c.batch not in done_by_others), some[0])


def prepared_steps(chain: Chain) -> tuple[Step, ...]:
    """The steps of a batch that are the shared preparation."""
    return chain.steps[: chain.prepared]


def shared_steps(chains: Sequence[Chain]) -> frozenset[tuple[str, str]]:
    """Steps (batch, key) that another batch does for them, in a vessel or for all: its hands are counted once."""
    in_pots = {
        (c.batch, s.key)
        for own in pots(chains).values()
        for c in own[:-1]
        for s in c.steps[: shared_count(own)]
    }
    by = prepared_by(chains)
    for_all = {(c.batch, s.key) for c in chains if by is not None and c is not by for s in prepared_steps(c)}
    return frozenset(in_pots | for_all)


def without_begun(chain: Chain, begun: Mapping[str, PlannedStep]) -> Chain:
    """What is left to plan of a batch of which only something was begun that says nothing of its food (a preheat).

    The step that follows each waits until it is over; limits that count from a step that is gone count from its end.
    """
    ready = list(chain.ready)
    mains = [m for m, _ in chain_of(chain.steps)]
    for n, main in enumerate(mains):
        if main.key in begun:
            taker = next((m.key for m in mains[n + 1 :] if m.key not in begun), None)
            if taker is not None:
                ready.append((taker, begun[main.key].end))
    gone = set(begun) | {d.key for m, during in chain_of(chain.steps) if m.key in begun for d in during}
    left = tuple(s for s in chain.steps if s.key not in gone)
    waits = tuple(
        replace(
            w,
            since=begun[w.after].end if w.after in begun else w.since,
            between=tuple(k for k in w.between if k not in gone),
        )
        for w in chain.waits
        if w.until not in gone
    )
    prepared = sum(1 for s in prepared_steps(chain) if s.key not in gone)
    return replace(chain, steps=left, waits=waits, ready=tuple(ready), prepared=prepared)


def share_groups(chains: Sequence[Chain]) -> dict[tuple[str, str], str]:
    """Step (batch, key) to a word that it has in common with the steps done together with it."""
    in_pots = {
        (c.batch, s.key): f"{pot}|{n}"
        for pot, own in pots(chains).items()
        for c in own
        for n, s in enumerate(c.steps[: shared_count(own)])
    }
    return in_pots | {(c.batch, s.key): f"for all|{s.key}" for c in chains for s in prepared_steps(c)}


def preheated_together(
    chains: Sequence[Chain], items: Sequence[PlannedStep], hobs: Collection[str] = ()
) -> Mapping[tuple[str, str], str]:
    """Step (batch, key) to a word in common with the preheats that are the same one: one appliance, set point and moment.

    Only of an empty appliance that nobody has to watch; `hobs` : appliances whose rings are set for themselves.
    """
    at = {(p.batch, p.step): p for p in items}
    found: dict[tuple[str, str], str] = {}
    for chain in chains:
        empty = empty_preheats(chain.steps)
        for step in chain.steps:
            p = at.get((chain.batch, step.key))
            alone = step.key in empty and step.attention is Attention.FREE
            if p is None or not alone or step.appliance is None or step.appliance in hobs:
                continue
            if step.set_point_c is not None:
                word = f"preheat|{step.appliance}|{step.set_point_c:g}|{p.start:.0f}|{p.end:.0f}"
                found[chain.batch, step.key] = word
    count = Counter(found.values())
    return {k: w for k, w in found.items() if count[w] > 1}


def check_pots(problem: Problem) -> list[RuleError]:
    """What keeps batches from sharing a vessel, each with what to do."""
    found = []
    for own in pots(problem.chains).values():
        first_heat = min(next((i for i, s in enumerate(c.steps) if s.phase is Phase.COOK), 0) for c in own)
        if shared_count(own) < first_heat:
            tags = ", ".join(c.tag for c in own)
            found.append(
                RuleError(
                    tags,
                    "share a pot and are prepared in different ways",
                    "Give them the same steps up to the heat, or pots of their own.",
                )
            )
    return found


def check_problem(problem: Problem) -> None:
    """Raise where a problem cannot be planned at all: the field, what is wrong, what to do.

    Raises
    ------
    RuleError : no batch, a window turned round, hands that are not 1 to 4, a batch without steps or with bad ones, an
        appliance that a step needs and that is not described while others are, the same batch twice
    """
    if not problem.chains and not problem.fixed:
        raise RuleError("batches", "none to plan", "Add at least one batch to the shift.")
    if problem.serve_until < problem.serve_from:
        raise RuleError("serving window", "ends before it begins", "Give the later time as its end.")
    if not 1 <= problem.people <= 4:
        raise RuleError("people", f"{problem.people}", "Give 1 to 4 pairs of hands.")
    if problem.not_before is not None and problem.serve_until < problem.not_before - 30 * DAY_S:
        raise RuleError("serving window", "lies long in the past", "Give a time to come.")
    keys = [c.batch for c in problem.chains]
    if len(set(keys)) != len(keys):
        raise RuleError("batches", "one is there twice", "Give each batch its own key.")
    known = {p.key for p in problem.places}
    for chain in problem.chains:
        if not chain.steps:
            raise RuleError(chain.tag, "has no steps", "Give the method at least one step.")
        for wrong in check_steps(chain.steps):
            raise RuleError(f"{chain.tag}, {wrong.field}", wrong.message, wrong.todo)
        for step in chain.steps:
            if known and step.appliance and step.appliance not in known:
                raise RuleError(
                    f"{chain.tag}, {step.what}",
                    "needs an appliance that is missing",
                    "Choose one of the kitchen’s.",
                )
    for wrong in check_pots(problem):
        raise wrong
    for chain in problem.chains:
        days = [s.days_before for s in chain.steps if s.during_offset_s is None]
        if any(later > earlier for earlier, later in itertools.pairwise(days)):
            raise RuleError(f"{chain.tag}", "goes back a day", "Put day-before work first.")
        if any(days) and problem.midnight is None:
            raise RuleError(
                f"{chain.tag}",
                "has day-before work, and the serving day is not known",
                "Give the shift a serving time.",
            )


def latest_end(step: Step, planned: PlannedStep) -> float:
    """Until when a step may last that the food ends [s]; its planned end where the clock does."""
    return max(planned.end, planned.start + step.duration_s + step.overrun_s)


def overrun_s(chain: Chain) -> float:
    """By how much a batch may be later than planned, where the food ends its steps [s]."""
    return sum(s.overrun_s for s in chain.steps)


def overloads(problem: Problem, places: Iterable[str], limit_w: float) -> list[tuple[str, ...]]:
    """Smallest sets of appliances that together draw more than a circuit carries; a hob draws by its rings and is not among them."""
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
    """How long the serving window is where nothing is said [s]: five minutes for all, or ten from one tasting to the next.

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
            c.get("pot") or "",
            tuple(WaitLimit(**{**w, "between": tuple(w["between"])}) for w in c.get("waits") or ()),
            tuple((k, float(t)) for k, t in c.get("ready") or ()),
            int(c.get("prepared") or 0),
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

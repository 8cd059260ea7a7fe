"""What a rehearsal showed: what was late and why, where hands clashed, when plates met, what to lay ready."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from yeasty.core.cook.bench import RunState, StepRun, bench_state, runs_alone
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.quantities_said import say_duration
from yeasty.core.kernel.steps import Step, chain_of

# A tap this near its time is in time; hands that overlap this little have changed over [s].
IN_TIME_S, CHANGE_OVER_S = 60.0, 20.0


@dataclass(frozen=True)
class LateStep:
    """A step that began later than planned.

    Attributes
    ----------
    tag, what : of which batch, and what was to be done
    planned, began : [s since 1970]
    why : what held it up, "" where the log does not say
    """

    tag: str
    what: str
    planned: float
    began: float
    why: str

    @property
    def late_s(self) -> float:
        """By how much [s]."""
        return self.began - self.planned


@dataclass(frozen=True)
class HandsClash:
    """A stretch of time that asked for more hands than there were [s since 1970]."""

    begin: float
    end: float
    hands: int
    what: tuple[str, ...]


@dataclass(frozen=True)
class PlateMet:
    """When a batch was on its plate, and when it was to be [s since 1970]; `done` None where it never was."""

    tag: str
    planned: float
    done: float | None


@dataclass(frozen=True)
class LaidReady:
    """What has to lie ready, of which batches, and by when [s since 1970]."""

    text: str
    tags: tuple[str, ...]
    by: float


@dataclass(frozen=True)
class Rehearsed:
    """All of it: the worst lateness first, clashes and plates by time."""

    late: tuple[LateStep, ...]
    clashes: tuple[HandsClash, ...]
    plates: tuple[PlateMet, ...]
    ready: tuple[LaidReady, ...]
    skipped: tuple[str, ...]
    sentence: str


def rehearsed(
    chains: Sequence[Chain],
    plan: Sequence[PlannedStep],
    entries: Sequence[Entry],
    people: int,
    ready: Mapping[str, Sequence[str]],
) -> Rehearsed:
    """What a rehearsal showed, held against the plan it began with.

    Parameters
    ----------
    plan : the first plan of the shift, which later ones only follow
    people : pairs of hands; ready : batch to what its list says has to be there before it begins
    """
    of_batch = {c.batch: c for c in chains}
    planned = {(p.batch, p.step): p for p in plan}
    done = [r for r in bench_state(chains, plan, entries).runs if r.state is RunState.DONE]
    busy = [(r, of_batch[r.batch]) for r in done if not runs_alone(_step(of_batch[r.batch], r.step))]
    late = _late(of_batch, planned, done, busy)
    clashes = _clashes(busy, people)
    plates = _plates(chains, planned, done)
    void = {e.batch for e in effective(entries) if e.kind is EntryKind.VOID}
    skipped = tuple(
        f"{c.tag}: {s.what}"
        for c in chains
        for s, _ in chain_of(c.steps)
        if c.batch not in void
        and (c.batch, s.key) in planned
        and (c.batch, s.key) not in {(r.batch, r.step) for r in done}
    )
    return Rehearsed(
        late,
        clashes,
        plates,
        _ready(chains, planned, ready),
        skipped,
        _sentence(late, clashes, plates, bool(done)),
    )


def _step(chain: Chain, key: str) -> Step:
    return next(s for s in chain.steps if s.key == key)


Busy = Sequence[tuple[StepRun, Chain]]


def _late(
    of_batch: Mapping[str, Chain],
    planned: Mapping[tuple[str, str], PlannedStep],
    done: Sequence[StepRun],
    busy: Busy,
) -> tuple[LateStep, ...]:
    found = []
    for r in done:
        p = planned.get((r.batch, r.step))
        if p is None or r.start - p.start <= IN_TIME_S:
            continue
        chain = of_batch[r.batch]
        why = _held_by_its_own(chain, r, p, done, planned) or _held_by_hands(r, p, busy)
        found.append(LateStep(chain.tag, _step(chain, r.step).what, p.start, r.start, why))
    return tuple(sorted(found, key=lambda x: (-x.late_s, x.planned)))


def _held_by_its_own(
    chain: Chain,
    run: StepRun,
    plan: PlannedStep,
    done: Sequence[StepRun],
    planned: Mapping[tuple[str, str], PlannedStep],
) -> str:
    """What came before it in its own batch ended late."""
    order = [s.key for s, _ in chain_of(chain.steps)]
    if run.step not in order:
        return ""
    for key in reversed(order[: order.index(run.step)]):
        before = next((r for r in done if r.batch == run.batch and r.step == key), None)
        p = planned.get((run.batch, key))
        if before is None or p is None:
            continue
        over = (before.end - before.start) - (p.end - p.start)
        what = _step(chain, key).what
        if over > IN_TIME_S and before.end > plan.start + IN_TIME_S / 2:
            return f"{what} took {say_duration(round(over / 60) * 60)} longer than planned"
        return f"{what} was late before it" if before.end > plan.start + IN_TIME_S / 2 else ""
    return ""


def _held_by_hands(run: StepRun, plan: PlannedStep, busy: Busy) -> str:
    """Hands were elsewhere when it was due."""
    at = [
        f"{c.tag}, {_step(c, r.step).what}"
        for r, c in busy
        if r.batch != run.batch and r.start < run.start and r.end > plan.start
    ]
    return f"hands were at {at[-1]}" if at else ""


def _clashes(busy: Busy, people: int) -> tuple[HandsClash, ...]:
    edges = sorted({t for r, _ in busy for t in (r.start, r.end)})
    found: list[HandsClash] = []
    for begin, end in pairwise(edges):
        here = [(r, c) for r, c in busy if r.start < end and r.end > begin]
        if len(here) <= people:
            continue
        what = tuple(f"{c.tag}, {_step(c, r.step).what}" for r, c in here)
        if found and found[-1].end == begin and found[-1].what == what:
            found[-1] = HandsClash(found[-1].begin, end, len(here), what)
        else:
            found.append(HandsClash(begin, end, len(here), what))
    return tuple(c for c in found if c.end - c.begin > CHANGE_OVER_S)


def _plates(
    chains: Sequence[Chain], planned: Mapping[tuple[str, str], PlannedStep], done: Sequence[StepRun]
) -> tuple[PlateMet, ...]:
    found = []
    for c in chains:
        ends = [
            (planned[c.batch, s.key].end, s.key) for s, _ in chain_of(c.steps) if (c.batch, s.key) in planned
        ]
        if not ends:
            continue
        at, last = max(ends)
        met = next((r.end for r in done if (r.batch, r.step) == (c.batch, last)), None)
        found.append(PlateMet(c.tag, at, met))
    return tuple(sorted(found, key=lambda p: (p.done if p.done is not None else float("inf"), p.tag)))


def _ready(
    chains: Sequence[Chain],
    planned: Mapping[tuple[str, str], PlannedStep],
    ready: Mapping[str, Sequence[str]],
) -> tuple[LaidReady, ...]:
    by: dict[str, tuple[float, list[str]]] = {}
    for c in chains:
        begins = [p.start for (batch, _), p in planned.items() if batch == c.batch]
        for text in ready.get(c.batch, ()):
            first, tags = by.get(text, (float("inf"), []))
            by[text] = (
                min([first, *begins]),
                tags if c.tag in tags else [*tags, c.tag],
            )
    rows = [LaidReady(text, tuple(tags), at) for text, (at, tags) in by.items() if at < float("inf")]
    return tuple(sorted(rows, key=lambda x: (x.by, x.text)))


def _sentence(
    late: Sequence[LateStep], clashes: Sequence[HandsClash], plates: Sequence[PlateMet], begun: bool
) -> str:
    if not begun:
        return "Nothing was done yet."
    met = [p for p in plates if p.done is not None]
    said = []
    if not met:
        said.append("No plate was reached")
    elif len(met) < len(plates):
        missing = ", ".join(sorted({p.tag for p in plates if p.done is None}))
        said.append(f"{len(met)} of {len(plates)} plates were reached, not {missing}")
    else:
        worst = max(met, key=lambda p: (p.done or 0.0) - p.planned)
        over = (worst.done or 0.0) - worst.planned
        said.append(
            f"The last plate was {say_duration(round(over / 60) * 60)} late"
            if over > IN_TIME_S
            else "All plates met when they were to"
        )
    n = len(late)
    said.append(
        "nothing began late" if not n else f"{n} step{'s' if n > 1 else ''} began more than a minute late"
    )
    if clashes:
        k = len(clashes)
        said.append(f"hands were wanted in two places {'once' if k == 1 else f'{k} times'}")
    return "; ".join(said) + "."

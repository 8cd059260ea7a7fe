"""Timers of a bench: one's own, and look-ins on long cooks. Worked out from entries and the clock, so that
every screen shows the same second and a reload loses nothing.

The same rules, no more, run in the browser for the time without network (`web/src/bench/timers.ts`); both are
held to `tests/vectors/bench_fold.json`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.cook.bench import RunState, StepRun
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind


@dataclass(frozen=True)
class Timer:
    """Something that rings.

    Attributes
    ----------
    id : of the entry that set it, or batch and step of a look-in
    batch : "" for the whole kitchen
    name : in the cook's words
    began, rings : when it was set, and when it rings next [s since 1970]
    every_s : after that again and again, None for once
    own : set by the cook; False for a look-in
    """

    id: str
    batch: str
    name: str
    began: float
    rings: float
    every_s: float | None
    own: bool


def timers(
    runs: Sequence[StepRun],
    entries: Sequence[Entry],
    look_every: Mapping[tuple[str, str], tuple[float, str]],
    now: float,
) -> list[Timer]:
    """What rings next, soonest first.

    Parameters
    ----------
    runs : of the bench; look_every : (batch, step) to how often someone looks in [s] and at what
    now : a timer that rings every so long goes on to its next ring half a minute after it has rung

    Notes
    -----
    A look-in falls due so long after the step began or after the last look; none is asked for in the last
    third of a round before the step ends anyway.
    """
    standing = effective(entries)
    over = {str(e.payload["timer"]) for e in standing if e.kind is EntryKind.TIMER_DONE}
    found = []
    for e in standing:
        if e.kind is EntryKind.TIMER and e.id not in over:
            rings, every = e.when + float(e.payload["seconds"]), e.payload.get("every_s")
            if every:
                while rings + 30 < now:
                    rings += float(every)
            found.append(
                Timer(
                    e.id,
                    e.batch,
                    str(e.payload["name"]),
                    e.when,
                    rings,
                    float(every) if every else None,
                    True,
                )
            )
    for r in runs:
        rule = look_every.get((r.batch, r.step))
        if rule is None or r.state is not RunState.RUNNING:
            continue
        looked = max(
            (
                e.when
                for e in standing
                if e.kind is EntryKind.LOOKED and e.batch == r.batch and e.when >= r.start
            ),
            default=r.start,
        )
        rings = looked + rule[0]
        if rings < r.end - rule[0] / 3:
            found.append(
                Timer(f"{r.batch}|{r.step}", r.batch, f"Look in: {rule[1]}", looked, rings, rule[0], False)
            )
    return sorted(found, key=lambda t: (t.rings, t.id))

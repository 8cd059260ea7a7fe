"""What was really done, from the log, laid out as facts like the design: the difference finder runs on
both.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.cook.bench import RunState, bench_state
from yeasty.core.cook.measures import BatchMeasures
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.quantities_said import say_duration, say_temperature
from yeasty.core.kernel.steps import Phase
from yeasty.core.setup.differences import NOT_WRITTEN, Fact, mass, seconds
from yeasty.core.setup.rounds import rounds_in

# A tap is good to half a minute or a twentieth; a probe to a degree.
TAP_S, TAP_SHARE, PROBE_K = 30.0, 0.05, 1.0
# A core reading up to this long after it went in still tells how it went in [s].
GOING_IN_S = 5.0


@dataclass(frozen=True)
class Departure:
    """Where a batch departed from its own plan."""

    what: str
    planned: str
    done: str


def in_all(columns: Mapping[str, Mapping[str, Fact]]) -> tuple[dict[str, dict[str, Fact]], list[str]]:
    """Facts that every batch has, and the fields that only some have: a gap is no difference, and is told by
    itself.

    >>> in_all({"OV": {"rest": Fact(1.0, "1 s")}, "AF": {}})
    ({'OV': {}, 'AF': {}}, ['rest'])
    """
    fields = {name for f in columns.values() for name in f}
    whole = {n for n in fields if all(n in f and f[n].value is not None for f in columns.values())}
    some = sorted(
        n for n in fields - whole if any(n in f and f[n].value is not None for f in columns.values())
    )
    return {tag: {n: v for n, v in f.items() if n in whole} for tag, f in columns.items()}, some


def _near(s: float) -> float:
    return max(TAP_S, TAP_SHARE * s)


def done_facts(
    chain: Chain,
    plan: Sequence[PlannedStep],
    entries: Sequence[Entry],
    measured: BatchMeasures,
    authors: Sequence[str],
    system: System = System.METRIC,
) -> tuple[dict[str, Fact], list[Departure]]:
    """Facts of one batch as it was done, and where it departed from its plan.

    Parameters
    ----------
    authors : names of who logged it, without repetition

    Returns
    -------
    facts by field, only of what the log holds; departures by more than half a minute and a twentieth
    """
    mine = [e for e in effective(entries) if e.batch == chain.batch]
    by_key = {s.key: s for s in chain.steps}
    runs = [r for r in bench_state([chain], plan, mine).runs if r.state is RunState.DONE]
    found: dict[str, Fact] = {}
    departures: list[Departure] = []
    for name, phase in (("come-up time", Phase.COME_UP), ("cooking time", Phase.COOK), ("rest", Phase.WAIT)):
        done = [r for r in runs if by_key[r.step].phase is phase and by_key[r.step].during_offset_s is None]
        if not done:
            continue
        # Of a batch in rounds, as of its method, one round counts.
        rounds = rounds_in([by_key[r.step] for r in done])
        took = sum(r.end - r.start for r in done) / rounds
        if phase is Phase.COME_UP:
            # What stood hot and waited is no coming up.
            took = measured.clocks.come_up_s / rounds
        meant = sum(by_key[r.step].duration_s for r in done) / rounds
        found[name] = seconds(took, _near(took))
        if abs(took - meant) > _near(meant):
            departures.append(Departure(name, say_duration(meant), say_duration(max(took, 0))))
    meant_turns = sum(1 for s in chain.steps if s.phase is Phase.TURN)
    turned = sum(1 for e in mine if e.kind is EntryKind.TURNED)
    found["turns"] = Fact(float(turned), f"{turned}")
    if turned < meant_turns and measured.complete:
        departures.append(Departure("turns", f"{meant_turns}", f"{turned}"))
    weights = dict(measured.weights)
    found["weight that went in"] = mass(weights.get("prepared", weights.get("raw")), system)
    for item, kg in measured.by_eye:
        found[f"amount of {item}, by eye"] = mass(kg, system)
    readings = [e for e in mine if e.kind is EntryKind.TEMPERATURE and e.payload["where"] == "core"]
    went_in = next((r.start for r in runs if by_key[r.step].phase in (Phase.COOK, Phase.COME_UP)), None)
    before = [e for e in readings if went_in is not None and e.when <= went_in + GOING_IN_S]
    if before:
        c = float(before[-1].payload["celsius"])
        found["start temperature"] = Fact(c, say_temperature(c, system), PROBE_K)
    chamber = [
        float(e.payload["celsius"])
        for e in mine
        if e.kind is EntryKind.TEMPERATURE and e.payload["where"] == "chamber"
    ]
    if chamber:
        c = sum(chamber) / len(chamber)
        found["chamber temperature"] = Fact(c, say_temperature(c, system), 3.0)
    core = measured.highest_core_c
    found["core at the end"] = (
        NOT_WRITTEN if core is None else Fact(core, say_temperature(core, system), PROBE_K)
    )
    target = measured.core_target_c
    if target is not None and core is not None and core < target:
        departures.append(
            Departure("core at the end", say_temperature(target, system), say_temperature(core, system))
        )
    added = sum(float(e.payload["seconds"]) for e in mine if e.kind is EntryKind.EXTENDED)
    if added:
        departures.append(
            Departure("time added", "none", say_duration(abs(added)) + (" taken off" if added < 0 else ""))
        )
    found["operator"] = Fact(" + ".join(sorted(authors)), " + ".join(authors) or "not written")
    return found, departures

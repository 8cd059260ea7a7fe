"""Measures of a batch: a pure fold over its entries and steps.

Whoever wonders how a figure came about reads `measures`. A stored projection is only a cache of it;
`FOLD_VERSION` rises whenever the fold changes, so that stale projections are rebuilt.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from typing import Any

from yeasty.core.cook.bench import BenchState, RunState, bench_state, runs_alone
from yeasty.core.cook.payloads import BY_EYE
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.standing import effective
from yeasty.core.cook.unmeasured import waived
from yeasty.core.kernel.entries import STEP_ENDS, Entry, EntryKind
from yeasty.core.kernel.steps import RANGED_PHASES, EndRule, Phase, Step, chain_of, preheats_beside
from yeasty.core.workbench.yields import WEIGHING_KG, losses, shrinks

FOLD_VERSION = 8
# What calls the cook back to a batch that is in the heat; looks this near each other are one [s].
CALLS = frozenset(
    {
        EntryKind.TURNED,
        EntryKind.LOOKED,
        EntryKind.TEMPERATURE,
        EntryKind.EXTENDED,
        EntryKind.DONE,
        EntryKind.CUE,
    }
)
ONE_CALL_S = 60.0
# Two weights of one thing so near in time [s] and further apart than this share contradict each other.
TOGETHER_S, ANOTHER_WEIGHT = 600.0, 0.01


class Standing(StrEnum):
    """Whether a batch is judged with its method."""

    JUDGED = "judged"
    HANDLING_ERROR = "handling error"
    VOID = "void"
    RESCUE = "rescue"
    SIMULATED = "simulated"


@dataclass(frozen=True)
class Clocks:
    """The five clocks of one batch [s]."""

    hands_s: float
    come_up_s: float
    cooking_s: float
    waiting_s: float
    wash_up_s: float

    @property
    def total_s(self) -> float:
        """All five together [s]."""
        return self.hands_s + self.come_up_s + self.cooking_s + self.waiting_s + self.wash_up_s


@dataclass(frozen=True)
class BatchMeasures:
    """What a batch came to.

    Attributes
    ----------
    standing, why : judged or not, and the reason given
    clocks : the five clocks; washing-up as timed, or as planned where it was not (`wash_up_timed`)
    complete : every step of the chain has ended
    weights : kind of weight to kg, the last of each
    cooked_yield : cooked over raw (or prepared) weight, None where one is missing
    energy_j : metered energy, None where not metered
    highest_core_c : highest core reading, None where none was taken (which counts as not reached)
    core_target_c, core_met : target by the steps, and whether every piece that was read met it; None where no
        target
    times_called : how often the hands were needed
    call_backs : how often somebody came back to it while it was in the heat: a turn, a look, a reading,
        minutes more
    losses : what it lost or took up, by name, as a share (see `yields.losses`); shrink : by dimension, as a
        share
    notes, cues : in the cook's words, in order
    entry_ids : the entries that stand
    heat_from : when its first heat began [s since 1970], None where none did
    tallies : of so many pieces so many were it: name, how many, of how many; the last count of a name stands
    looks : what was seen of a face: face ("" where none was named), moment, words
    contradicted : records of one thing that cannot both be so, in words; the later stands
    waived : measures of which it was said that they do not apply
    by_eye : what was poured or strewn by eye, weighed before and after: its name and all of it [kg]
    lowest_core_c : the highest core of the coldest piece that was read, None where none was
    """

    batch: str
    standing: Standing
    why: str
    clocks: Clocks
    wash_up_timed: bool
    complete: bool
    weights: tuple[tuple[str, float], ...]
    cooked_yield: float | None
    energy_j: float | None
    highest_core_c: float | None
    core_target_c: float | None
    core_met: bool | None
    times_called: int
    wash_items: int | None
    nuisance: tuple[str, ...]
    notes: tuple[str, ...]
    cues: tuple[str, ...]
    entry_ids: tuple[str, ...]
    call_backs: int = 0
    losses: tuple[tuple[str, float], ...] = ()
    shrink: tuple[tuple[str, float], ...] = ()
    heat_from: float | None = None
    tallies: tuple[tuple[str, int, int], ...] = ()
    looks: tuple[tuple[str, float, str], ...] = ()
    contradicted: tuple[str, ...] = ()
    lowest_core_c: float | None = None
    waived: frozenset[str] = frozenset()
    by_eye: tuple[tuple[str, float], ...] = ()


class _Clocked:
    """The clocks of a batch's steps that are done [s], and how often it called for hands."""

    def __init__(
        self, chain: Chain, plan: Sequence[PlannedStep], state: BenchState, entries: Sequence[Entry]
    ) -> None:
        at = {p.step: p for p in plan if p.batch == chain.batch}
        order = [m for m, _ in chain_of(chain.steps)]
        self._mains = {m.key for m in order}
        self._after = {a.key: b for a, b in pairwise(order)}
        # How long it was planned to stand between a step and the next [s]: a hot oven keeps.
        self._gap = {
            a.key: max(0.0, at[b.key].start - at[a.key].end)
            for a, b in pairwise(order)
            if a.key in at and b.key in at
        }
        self._told = {
            str(e.payload["step"]) for e in entries if e.kind in STEP_ENDS and e.payload.get("step")
        }
        self._begun_by_hand = {chain.steps[0].key, *preheats_beside(chain.steps)}
        self.hands = self.come_up = self.cooking = self.waiting = 0.0
        self.called = 0
        self.complete = True
        by_key = {s.key: s for s in chain.steps}
        for run in state.runs:
            if run.state is RunState.DONE:
                self._add(by_key[run.step], run.end - run.start)
            elif run.step in self._mains:
                self.complete = False

    def _add(self, step: Step, length: float) -> None:
        if not runs_alone(step):
            self.hands += min(length, 3 * step.duration_s) if length > 0 else step.duration_s
            self.called += 1
        elif step.phase is Phase.COME_UP:
            then = self._after.get(step.key)
            if step.key not in self._told and then is not None and then.phase in RANGED_PHASES:
                # Work that needs no heat does not say when it was hot: standing hot is no coming up.
                length = min(length, step.duration_s)
            elif step.key not in self._told:
                # Nor is what was planned to stand hot until the food comes, as where two share one preheat.
                length = max(min(length, step.duration_s), length - self._gap.get(step.key, 0.0))
            self.come_up += length
            self.called += 1 if step.key in self._begun_by_hand else 0
        elif step.phase is Phase.COOK:
            self.cooking += length
        else:
            self.waiting += length


class _Said:
    """What entries say of a batch as a whole; hands and washing-up as planned until somebody says
    otherwise.
    """

    def __init__(self, entries: Sequence[Entry], hands_s: float, wash_s: float) -> None:
        self.hands, self.wash_s = hands_s, wash_s
        self.wash_timed = False
        self.wash_items: int | None = None
        self.nuisance: list[str] = []
        self.weights: dict[str, float] = {}
        self.by_eye: dict[str, float] = {}
        self.sizes: list[tuple[str, str, str, float]] = []
        self.energy: float | None = None
        # Piece to its highest core: the target is met when the lowest of them is.
        self.cores: dict[str, float] = {}
        self.notes: list[str] = []
        self.cues: list[str] = []
        self.looks: list[tuple[str, float, str]] = []
        self.tallies: dict[str, tuple[int, int]] = {}
        self.weighed: dict[str, list[tuple[float, float]]] = {}
        self.counted: dict[str, list[tuple[float, int, int]]] = {}
        self.standing, self.why = Standing.JUDGED, ""
        washed: dict[str, float] = {}
        for e in entries:
            if e.kind is EntryKind.WASH_ITEM:
                item = str(e.payload["item"])
                washed[item] = washed.get(item, 0.0) + float(e.payload["seconds"])
            elif e.kind is EntryKind.EFFORT:
                self._effort(e.payload)
            elif e.kind in (EntryKind.HANDLING_ERROR, EntryKind.VOID):
                self._fault(e)
            else:
                self._measure(e.kind, e.payload, e.when)
        if washed:
            # Timed one by one they stand above a sum that was typed.
            self.wash_s, self.wash_timed, self.wash_items = sum(washed.values()), True, len(washed)

    def _effort(self, p: Mapping[str, Any]) -> None:
        self.hands = float(p["hands_s"]) if p.get("hands_s") is not None else self.hands
        if p.get("wash_s") is not None:
            self.wash_s, self.wash_timed = float(p["wash_s"]), True
        self.wash_items = int(p["wash_items"]) if p.get("wash_items") is not None else self.wash_items
        self.nuisance += [w for w in p.get("nuisance", []) if w not in self.nuisance]

    def _fault(self, e: Entry) -> None:
        if e.kind is EntryKind.VOID:
            self.standing, self.why = Standing.VOID, str(e.payload["why"])
        elif self.standing is not Standing.VOID:
            self.standing, self.why = Standing.HANDLING_ERROR, str(e.payload["why"])

    def _measure(self, kind: EntryKind, p: Mapping[str, Any], when: float) -> None:
        piece = str(p.get("piece") or "").strip().lower()
        match kind:
            case EntryKind.WEIGHT if p["of"] == BY_EYE:
                item = " ".join(str(p["item"]).split()).lower()
                self.by_eye[item] = self.by_eye.get(item, 0.0) + float(p["kg"])
            case EntryKind.WEIGHT:
                self.weights[str(p["of"])] = float(p["kg"])
                self.weighed.setdefault(str(p["of"]), []).append((when, float(p["kg"])))
            case EntryKind.TALLY:
                name = " ".join(str(p["of"]).split()).lower()
                self.tallies[name] = (int(p["count"]), int(p["out_of"]))
                self.counted.setdefault(name, []).append((when, *self.tallies[name]))
            case EntryKind.SIZE:
                self.sizes.append((str(p["of"]), piece, str(p["when"]), float(p["metre"])))
            case EntryKind.ENERGY:
                self.energy = (self.energy or 0.0) + float(p["joule"])
            case EntryKind.TEMPERATURE if p["where"] == "core":
                self.cores[piece] = max(float(p["celsius"]), self.cores.get(piece, -273.15))
            case EntryKind.NOTE:
                self.notes.append(str(p["text"]))
            case EntryKind.CUE:
                self.cues.append(str(p["text"]))
                self.looks.append((str(p.get("face") or ""), when, str(p["text"])))

    def contradicted(self) -> tuple[str, ...]:
        """Two records of one thing, taken about together, that cannot both be so; the later stands."""
        found = []
        for kind, rows in self.weighed.items():
            found += [
                f"two weights called {kind}, {1000 * a:.0f} g and {1000 * b:.0f} g; the later stands"
                for (at, a), (then, b) in pairwise(rows)
                if then - at <= TOGETHER_S and abs(a - b) > max(WEIGHING_KG, ANOTHER_WEIGHT * max(a, b))
            ]
        for name, counts in self.counted.items():
            found += [
                f"two counts of “{name}”, {a} of {m} and {b} of {n}; the later stands"
                for (at, a, m), (then, b, n) in pairwise(counts)
                if then - at <= TOGETHER_S and (a, m) != (b, n)
            ]
        return tuple(found)


def measures(
    chain: Chain, plan: Sequence[PlannedStep], entries: Sequence[Entry], probe_core_c: float | None = None
) -> BatchMeasures:
    """Fold a batch's entries into its measures; the order in which they arrived does not matter.

    `probe_core_c` is the highest core of its probe logs [°C], which counts like a reading that was typed.

    Hand work inside a cooking (a turn) counts as hands and not as cooking time taken away from it: the
    cooking clock runs on. A hands step's time is that between its due start and its tap, at most three
    times the planned time, unless the cook logged the effort: then that stands.
    """
    mine = [e for e in effective(entries) if e.batch == chain.batch]
    state = bench_state([chain], plan, mine)
    by_key = {s.key: s for s in chain.steps}
    heats = [(r.start, r.end) for r in state.runs if by_key[r.step].phase is Phase.COOK]
    clocks = _Clocked(chain, plan, state, mine)
    said = _Said(mine, clocks.hands, sum(s.duration_s for s in chain.steps if s.phase is Phase.WASH_UP))
    weights, cores = said.weights, said.cores
    if probe_core_c is not None:
        cores["probe"] = max(probe_core_c, cores.get("probe", probe_core_c))
    start_kg = weights.get("prepared", weights.get("raw"))
    cooked_yield = weights["cooked"] / start_kg if start_kg and "cooked" in weights else None
    targets = [s.end_core_c for s in chain.steps if s.end_rule is EndRule.CORE and s.end_core_c is not None]
    target = max(targets, default=None)
    return BatchMeasures(
        batch=chain.batch,
        standing=said.standing,
        why=said.why,
        clocks=Clocks(said.hands, clocks.come_up, clocks.cooking, clocks.waiting, said.wash_s),
        wash_up_timed=said.wash_timed,
        complete=clocks.complete,
        weights=tuple(sorted(weights.items())),
        cooked_yield=cooked_yield,
        energy_j=said.energy,
        highest_core_c=max(cores.values(), default=None),
        core_target_c=target,
        core_met=None if target is None else bool(cores) and min(cores.values()) >= target,
        times_called=clocks.called,
        wash_items=said.wash_items,
        nuisance=tuple(said.nuisance),
        notes=tuple(said.notes),
        cues=tuple(said.cues),
        entry_ids=tuple(e.id for e in mine),
        call_backs=_call_backs(mine, heats),
        losses=tuple(losses(weights).items()),
        shrink=tuple(shrinks(said.sizes).items()),
        heat_from=min((start for start, _ in heats), default=None),
        tallies=tuple((name, *counted) for name, counted in said.tallies.items()),
        looks=tuple(said.looks),
        contradicted=said.contradicted(),
        lowest_core_c=min(cores.values(), default=None),
        waived=waived(mine),
        by_eye=tuple(sorted(said.by_eye.items())),
    )


def _call_backs(entries: Sequence[Entry], heats: Sequence[tuple[float, float]]) -> int:
    """How often somebody came back between putting it in and taking it out, by what was logged; neither of
    these counts.
    """
    moments = sorted(
        e.when
        for e in entries
        if e.kind in CALLS and any(a + ONE_CALL_S / 2 < e.when < b - ONE_CALL_S / 2 for a, b in heats)
    )
    return sum(1 for n, t in enumerate(moments) if n == 0 or t - moments[n - 1] > ONE_CALL_S)


def core_words(m: BatchMeasures) -> str:
    """What is on record of a core that did not meet its target.

    A target may be missed though one piece was read above it: the lowest of the pieces decides.
    """
    if m.highest_core_c is None:
        return "no reading"
    if m.core_target_c is not None and m.highest_core_c >= m.core_target_c:
        return "a piece was read lower"
    return f"highest reading {m.highest_core_c:.1f} °C"


NOT_YET = "not yet for"


def gaps(per_method: dict[str, BatchMeasures]) -> list[str]:
    """Measures taken for some methods and not for others, in words.

    >>> gaps({})
    []
    """
    found = []
    kinds = sorted({kind for m in per_method.values() for kind, _ in m.weights})
    asked: list[tuple[str, dict[str, bool]]] = [
        (f"{kind} weight", {tag: kind in dict(m.weights) for tag, m in per_method.items()}) for kind in kinds
    ]
    asked.append(("core temperature", {tag: m.highest_core_c is not None for tag, m in per_method.items()}))
    asked.append(("energy", {tag: m.energy_j is not None for tag, m in per_method.items()}))
    for what, has in asked:
        # What was said not to apply is no gap.
        left = [tag for tag, yes in has.items() if not yes and what not in per_method[tag].waived]
        if any(has.values()) and left:
            without = ", ".join(left)
            found.append(f"{what}: {NOT_YET} {without}")
    return found

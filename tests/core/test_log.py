import functools
import json
from dataclasses import replace
from pathlib import Path
from random import Random
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.ask.techniques import techniques
from yeasty.core.cook.bench import ActionType, RunState, bench_state
from yeasty.core.cook.measures import Standing, gaps, measures
from yeasty.core.cook.next_up import in_turn
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.plan import Chain, PlannedStep, Problem, solve
from yeasty.core.cook.standing import effective, in_order
from yeasty.core.cook.timers import timers
from yeasty.core.decide.also import also_measured
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Phase, preheats_beside, step_from_record

K = EntryKind
VECTORS = Path(__file__).parents[1] / "vectors" / "bench_fold.json"


def entry(
    n: int,
    kind: EntryKind,
    payload: dict[str, Any],
    at: float | None = None,
    supersedes: str | None = None,
    batch: str = "b",
) -> Entry:
    return Entry(
        f"e{n}", batch, kind, round(at, 3) if at is not None else 1000.0 + n, "d", n, payload, supersedes
    )


def planned(chain: Chain) -> tuple[PlannedStep, ...]:
    """By the solver's own count of its work: what is tapped below it is the same on any machine."""
    return solve(Problem((chain,), 10_000, 10_100), 30.0, steady=True).items


@functools.cache
def oven() -> tuple[Chain, tuple[PlannedStep, ...]]:
    steps = tuple(replace(s, key=f"s{i}") for i, s in enumerate(techniques()["oven"].steps))
    chain = Chain("b", "OV", steps)
    return chain, planned(chain)


@functools.cache
def steamed_then_baked() -> tuple[Chain, tuple[PlannedStep, ...]]:
    """Two heats: the oven heats up while the steamer cooks."""
    both = [
        s for s in techniques()["steamer"].steps if s.phase not in (Phase.WAIT, Phase.PLATE, Phase.WASH_UP)
    ]
    both += techniques()["oven"].steps
    steps = tuple(replace(s, key=f"s{i}") for i, s in enumerate(both))
    chain = Chain("b", "SO", steps)
    return chain, planned(chain)


def two_heats(seed: int) -> list[Entry]:
    """What was tapped of two heats, up to anywhere: a preheat begun, forgotten, confirmed, the food late."""
    chain, plan = steamed_then_baked()
    random = Random(seed)
    beside = preheats_beside(chain.steps)
    found: list[Entry] = []
    late = random.uniform(-30, 600)
    for n, p in enumerate(plan, 1):
        step = next(s for s in chain.steps if s.key == p.step)
        if random.random() < 0.08:
            continue
        if step.attention == "hands":
            found.append(entry(n, K.DONE, {"step": p.step}, at=p.end + late))
        elif n == 1 or (step.key in beside and random.random() < 0.9):
            found.append(entry(n, K.STARTED, {"step": p.step}, at=p.start + late * random.random()))
        if step.key in beside and random.random() < 0.3:
            found.append(entry(n + 30, K.DONE, {"step": p.step}, at=p.end + late))
    return found[: random.randint(1, len(found))]


def test_the_oven_is_asked_for_while_the_steamer_cooks() -> None:
    chain, plan = steamed_then_baked()
    at = {p.step: p for p in plan}
    preheat = next(s.key for s in chain.steps if s.key in preheats_beside(chain.steps))
    steam = next(s for s in chain.steps if s.phase is Phase.COOK)
    assert at[preheat].start < at[steam.key].end < at[preheat].end + 120
    loaded = next(s for s in chain.steps if s.phase is Phase.LOAD)
    log = [
        entry(1, K.STARTED, {"step": chain.steps[0].key}, at=at[chain.steps[0].key].start),
        entry(2, K.DONE, {"step": loaded.key}, at=at[loaded.key].end),
    ]
    asked = {a.step: a for a in bench_state([chain], plan, log).actions}
    assert asked[preheat].type is ActionType.START
    assert asked[preheat].due == pytest.approx(at[preheat].start, abs=2)
    # The food is ten minutes late: so is what is heated up for it.
    late = [log[0], replace(log[1], at=log[1].at + 600)]
    asked = {a.step: a for a in bench_state([chain], plan, late).actions}
    assert asked[preheat].due == pytest.approx(at[preheat].start + 600, abs=2)
    # Begun late, it keeps the food waiting, and the bench says so.
    begun = [*log, entry(3, K.STARTED, {"step": preheat}, at=at[preheat].start + 300)]
    second = [s for s in chain.steps if s.phase is Phase.LOAD][1]
    run = next(r for r in bench_state([chain], plan, begun).runs if r.step == second.key)
    assert run.start == pytest.approx(at[preheat].end + 300, abs=2)


def test_an_undo_leaves_the_first_value_in_the_log_and_out_of_the_measures() -> None:
    a = entry(1, K.NOTE, {"text": "pale"})
    undo = entry(2, K.UNDONE, {}, supersedes="e1")
    again = entry(3, K.UNDONE, {}, supersedes="e2")
    assert effective([a, undo]) == []
    assert effective([a, undo, again]) == [a]


def test_of_two_corrections_the_later_stands() -> None:
    a = entry(1, K.WEIGHT, {"kg": 1.0, "of": "cooked"})
    b = entry(2, K.WEIGHT, {"kg": 0.9, "of": "cooked"}, supersedes="e1")
    c = entry(3, K.WEIGHT, {"kg": 0.8, "of": "cooked"}, supersedes="e1")
    assert [e.id for e in effective([a, b, c])] == ["e3"]


def test_a_correction_may_arrive_before_what_it_corrects() -> None:
    undo = entry(2, K.UNDONE, {}, at=900, supersedes="e1")
    assert effective([undo]) == []
    assert effective([undo, entry(1, K.NOTE, {"text": "x"})]) == []


def story(seed: int) -> list[Entry]:
    chain, plan = oven()
    random = Random(seed)
    found: list[Entry] = []
    for n, p in enumerate(plan, 1):
        step = next(s for s in chain.steps if s.key == p.step)
        if random.random() < 0.15:
            continue
        late = random.uniform(-20, 90)
        if step.attention == "hands":
            found.append(entry(n, K.DONE, {"step": p.step}, at=p.end + late))
        elif n == 1:
            found.append(entry(n, K.STARTED, {"step": p.step}, at=p.start + late))
    found.append(entry(50, K.EXTENDED, {"step": "s2", "seconds": 60}, at=8000))
    found.append(entry(51, K.TEMPERATURE, {"celsius": random.uniform(60, 99), "where": "core"}, at=9000))
    if random.random() < 0.3 and found:
        found.append(entry(60, K.UNDONE, {}, at=9500, supersedes=found[0].id))
    if random.random() < 0.2:
        found.append(entry(61, K.VOID, {"why": "dropped"}, at=9600))
    return found


@given(st.integers(0, 400), st.randoms())
def test_the_fold_does_not_depend_on_the_order_of_arrival(seed: int, shuffle: Random) -> None:
    chain, plan = oven()
    log = story(seed)
    for n in range(seed % 4):
        # Foretold by its probe, and given more, in whatever order.
        ends = 8400.0 + 100 * n
        log = [
            *log,
            entry(
                300 + n,
                K.FORESEEN,
                {"step": "s2", "ends_at": ends, "low": ends - 60, "high": None, "target_c": 94.0},
                7950.0 + 40 * n,
            ),
        ]
    shuffled = [*log, *log[:2]]
    shuffle.shuffle(shuffled)
    assert measures(chain, plan, log) == measures(chain, plan, shuffled)
    assert bench_state([chain], plan, log) == bench_state([chain], plan, shuffled)
    assert in_order(shuffled) == in_order(log)


def test_a_whole_cooking_by_the_book_gives_the_planned_clocks() -> None:
    chain, plan = oven()
    log = [entry(0, K.STARTED, {"step": "s0"}, at=plan[0].start)]
    for n, p in enumerate(plan, 1):
        if next(s for s in chain.steps if s.key == p.step).attention == "hands":
            log.append(entry(n, K.DONE, {"step": p.step}, at=p.end))
    m = measures(chain, plan, log)
    assert m.complete
    assert m.clocks.come_up_s == pytest.approx(900)
    assert m.clocks.cooking_s == pytest.approx(1200)
    assert m.clocks.hands_s == pytest.approx(60 + 45 + 60 + 60)
    assert m.clocks.wash_up_s == 240
    assert not m.wash_up_timed


def test_next_action_follows_the_taps() -> None:
    chain, plan = oven()
    first = bench_state([chain], plan, []).actions[0]
    assert (first.step, first.type) == ("s0", ActionType.START)
    log = [entry(1, K.STARTED, {"step": "s0"}, at=5000)]
    assert bench_state([chain], plan, log).actions[0].step == "s1"
    log.append(entry(2, K.IN, {"step": "s1"}, at=6000))
    state = bench_state([chain], plan, log)
    assert [a.step for a in state.actions] == ["s3", "s4"]
    assert state.actions[0].due == pytest.approx(6000 + 600)
    assert state.actions[1].due == pytest.approx(6000 + 1200)
    late = bench_state([chain], plan, [*log, entry(3, K.EXTENDED, {"step": "s2", "seconds": 120})])
    assert late.actions[1].due == pytest.approx(6000 + 1320)


def test_a_voided_batch_asks_for_nothing_and_is_kept() -> None:
    chain, plan = oven()
    log = [
        entry(1, K.STARTED, {"step": "s0"}),
        entry(2, K.VOID, {"why": "fell"}),
        entry(3, K.HANDLING_ERROR, {"why": "late"}),
    ]
    assert bench_state([chain], plan, log).actions == ()
    m = measures(chain, plan, log)
    assert (m.standing, m.why) == (Standing.VOID, "fell")


def test_no_core_reading_counts_as_not_reached() -> None:
    record = {
        "key": "c",
        "what": "Bake",
        "attention": "free",
        "phase": "cook",
        "duration_s": 600,
        "end_rule": "core",
        "end_core_c": 93,
    }
    chain = Chain("b", "OV", (step_from_record(record),))
    assert measures(chain, (), []).core_met is False
    reading = entry(1, K.TEMPERATURE, {"celsius": 94.0, "where": "core"})
    assert measures(chain, (), [reading]).core_met is True
    assert (
        measures(chain, (), [replace(reading, payload={"celsius": 180, "where": "chamber"})]).core_met
        is False
    )
    assert measures(chain, (), [], probe_core_c=200).core_met is True
    assert measures(chain, (), [], probe_core_c=20).core_met is False


def test_yield_needs_both_weights_and_gaps_are_told() -> None:
    chain, plan = oven()
    raw, cooked = (
        entry(1, K.WEIGHT, {"kg": 0.4, "of": "raw"}),
        entry(2, K.WEIGHT, {"kg": 0.36, "of": "cooked"}),
    )
    assert measures(chain, plan, [raw]).cooked_yield is None
    with_both = measures(chain, plan, [raw, cooked])
    assert with_both.cooked_yield == pytest.approx(0.9)
    assert gaps({"OV": with_both, "AF": measures(chain, plan, [raw])}) == ["cooked weight: not yet for AF"]


def test_an_oven_that_stands_hot_while_something_is_prepared_is_not_coming_up() -> None:
    heat, load, cook, out = (
        replace(next(s for s in techniques()["oven"].steps if s.phase is p), key=p.value)
        for p in (Phase.COME_UP, Phase.LOAD, Phase.COOK, Phase.OUT)
    )
    coat = replace(load, key="coat", phase=Phase.PREPARE, duration_s=120)
    log = [
        entry(1, K.STARTED, {"step": "come_up"}, at=1000),
        entry(2, K.DONE, {"step": "coat"}, at=1000 + heat.duration_s + 1320),
    ]
    with_work = Chain("b", "OV", (heat, coat, load, cook, out))
    assert measures(with_work, (), log).clocks.come_up_s == heat.duration_s
    # Said to be hot, it was so then; and what goes in says so too.
    said = [*log, entry(3, K.DONE, {"step": "come_up"}, at=1000 + heat.duration_s + 60)]
    assert measures(with_work, (), said).clocks.come_up_s == heat.duration_s + 60
    goes_in = [log[0], entry(4, K.IN, {"step": "load"}, at=1000 + heat.duration_s + 200)]
    straight = measures(Chain("b", "OV", (heat, load, cook, out)), (), goes_in)
    assert straight.clocks.come_up_s == pytest.approx(heat.duration_s + 200 - load.duration_s)


def test_what_is_corrected_twice_stands_once_and_the_first_value_does_not_come_back() -> None:
    first = entry(1, K.NOTE, {"text": "pale"})
    second = entry(2, K.NOTE, {"text": "brown"}, supersedes="e1")
    third = entry(3, K.NOTE, {"text": "deep brown"}, supersedes="e2")

    def texts(*log: Entry) -> list[str]:
        return [e.payload["text"] for e in effective(log)]

    assert texts(first, second, third) == ["deep brown"]
    assert texts(third, first, second) == ["deep brown"], "in whatever order they arrive"
    gone = entry(4, K.UNDONE, {}, supersedes="e3")
    assert texts(first, second, third, gone) == ["brown"]
    assert texts(first, second, third, gone, entry(5, K.UNDONE, {}, supersedes="e4")) == ["deep brown"]
    # Two corrections of one fact, one of them corrected: still one fact.
    other = entry(6, K.NOTE, {"text": "black"}, supersedes="e1")
    assert texts(first, second, third, other) == ["black"]
    # In a circle the last one stands, in whatever order they come.
    round_ = [replace(first, supersedes="e3"), second, third]
    assert texts(*round_) == texts(*reversed(round_)) == ["deep brown"]


def test_sizes_late_weights_call_backs_and_nuisance_reach_the_measures() -> None:
    chain, plan = oven()
    cook = next(s for s in chain.steps if s.phase is Phase.COOK)
    out = next(s for s in chain.steps if s.phase is Phase.OUT)
    begins = next(p.start for p in plan if p.step == cook.key)
    ends = next(p.end for p in plan if p.step == cook.key)
    took_out = entry(1, K.OUT, {"step": out.key}, at=ends + 20)
    nextday = ends + 20 * 3600

    def size(n: int, mm: float, when: str, piece: str) -> Entry:
        named = {"piece": piece} if piece else {}
        return entry(n, K.SIZE, {"metre": mm / 1000, "of": "diameter", "when": when, **named})

    log = [
        *(entry(90 + i, K.DONE, {"step": p.step}, at=p.end) for i, p in enumerate(plan) if p.step == "s1"),
        took_out,
        size(2, 60, "before", "1"),
        size(3, 40, "before", "2"),
        size(4, 54, "after", "1"),
        # Piece 2 was not found again: it says nothing of shrink.
        entry(5, K.WEIGHT, {"kg": 0.5, "of": "raw"}),
        entry(6, K.WEIGHT, {"kg": 0.4, "of": "cooked"}, at=ends + 60),
        entry(7, K.WEIGHT, {"kg": 0.02, "of": "rendered fat"}, at=nextday),
        entry(8, K.WEIGHT, {"kg": 0.36, "of": "kept"}, at=nextday),
        # Two looks within a minute are one; a look while the oven heats up is none of the food's.
        entry(9, K.LOOKED, {"text": "pale"}, at=begins + 300),
        entry(10, K.TEMPERATURE, {"celsius": 60, "where": "core"}, at=begins + 330),
        entry(11, K.LOOKED, {"text": "brown"}, at=begins + 700),
        entry(12, K.LOOKED, {"text": "not hot"}, at=begins - 300),
        entry(13, K.EFFORT, {"nuisance": ["smell"]}),
    ]
    m = measures(chain, plan, log)
    assert dict(m.shrink) == {"diameter": pytest.approx(0.1)}
    assert dict(m.losses) == {"rendered fat": pytest.approx(0.04), "lost in keeping": pytest.approx(0.1)}
    assert m.call_backs == 2
    told = also_measured([m, replace(m, shrink=(), nuisance=(), call_backs=4, complete=True)])
    assert told == (
        "rendered fat 4.0 % (2 of 2 cookings)",
        "lost in keeping 10.0 % (2 of 2 cookings)",
        "shrank in diameter by 10.0 % (1 of 2 cookings)",
        "called back 4 times while it cooked",
        "smell noted at 1 of 2",
    )
    # Without a name for any piece the means before and after are compared; what grew is told as growth.
    risen = [size(2, 50, "before", ""), size(3, 54, "before", ""), size(4, 65, "after", "")]
    assert dict(measures(chain, plan, risen).shrink) == {"diameter": pytest.approx(-0.25)}
    assert also_measured([measures(chain, plan, risen)]) == ("grew in diameter by 25.0 %",)
    assert dict(measures(chain, plan, [size(2, 50, "before", "")]).shrink) == {}


@pytest.mark.parametrize(
    ("kind", "payload"),
    [
        (K.TEMPERATURE, {"celsius": "hot", "where": "core"}),
        (K.TEMPERATURE, {"celsius": 80, "where": "toe"}),
        (K.WEIGHT, {"kg": -1, "of": "raw"}),
        (K.SIZE, {"metre": 0.0, "of": "length", "when": "before"}),
        (K.SIZE, {"metre": 0.05, "of": "girth", "when": "before"}),
        (K.SIZE, {"metre": 0.05, "of": "length", "when": "later"}),
        (K.SIZE, {"metre": 0.05, "of": "length", "when": "after", "piece": " "}),
        (K.NOTE, {"text": " "}),
        (K.DONE, {}),
        (K.EXTENDED, {"step": "a"}),
        (K.WEIGHT, {"kg": True, "of": "raw"}),
        (K.NOTE, {"text": "x", "at": "noon"}),
        (K.EFFORT, {"nuisance": ["boredom"]}),
    ],
)
def test_a_payload_that_is_not_what_its_kind_needs_is_refused(
    kind: EntryKind, payload: dict[str, Any]
) -> None:
    with pytest.raises(RuleError):
        check_payload(kind, payload)


def vector(seed: int) -> dict[str, Any]:
    twice = seed >= 40
    chain, plan = steamed_then_baked() if twice else oven()
    if seed % 3 == 1:
        # A rest that may be drawn out, and a plan that does so.
        chain = replace(
            chain,
            steps=tuple(
                replace(s, longest_s=s.duration_s + 900) if s.phase is Phase.WAIT else s for s in chain.steps
            ),
        )
        plan = tuple(
            replace(p, end=p.end + 400) if next(s for s in chain.steps if s.key == p.step).longest_s else p
            for p in plan
        )
    log = two_heats(seed) if twice else story(seed)[:seed] if seed < 3 else story(seed)
    random = Random(seed)
    now = (log[-1].at if log else 10_000.0) + random.uniform(-200, 200)
    for n in range(seed % 4):
        every = {"every_s": float(random.randint(20, 90))} if n % 2 else {}
        log = [
            *log,
            entry(
                900 + n,
                K.TIMER,
                {"seconds": random.randint(10, 400), "name": f"t{n}", **every},
                now - random.uniform(0, 500),
                batch="",
            ),
        ]
    if seed % 3 == 2:
        # Cooking that the food ends, within a range; foretold by its probe, and given more after that.
        chain = replace(
            chain,
            steps=tuple(
                replace(s, longest_s=s.duration_s + 300) if s.phase is Phase.COOK else s for s in chain.steps
            ),
        )
        ends = next(p.end for p in plan if p.step == "s2") + random.uniform(-400, 400)
        log = [
            *log,
            entry(
                970,
                K.FORESEEN,
                {"step": "s2", "ends_at": ends, "low": ends - 60, "high": ends + 60, "target_c": 94.0},
                7900.0 + 200 * (seed % 2),
            ),
        ]
    if seed % 5 == 2:
        log = [
            *log,
            entry(950, K.TIMER_DONE, {"timer": "e900"}, now),
            entry(951, K.LOOKED, {"water": "right"}, now - 100),
        ]
    look = (
        {("b", s.key): (300.0, "water level") for s in chain.steps if s.phase is Phase.COOK}
        if seed % 2
        else {}
    )
    state = bench_state([chain], plan, log)
    spots = {s.key: random.choice(("", "hob", "table")) for s in chain.steps}
    steps = {s.key: s for s in chain.steps}
    # More is due at once than one batch alone gives: its actions moved about, under other batches' names.
    due = [
        replace(a, batch=f"b{i}", due=now + random.uniform(-90, 90)) for i in range(3) for a in state.actions
    ]
    order = in_turn(due, lambda a: steps[a.step], lambda a: spots[a.step], now, "hob")
    return {
        "now": now,
        "look": [{"batch": b, "step": k, "every_s": v[0], "look_for": v[1]} for (b, k), v in look.items()],
        "timers": [{"id": t.id, "rings": t.rings, "own": t.own} for t in timers(state.runs, log, look, now)],
        "spots": spots,
        "due": [{"batch": a.batch, "step": a.step, "type": a.type.value, "due": a.due} for a in due],
        "order": [{"batch": a.batch, "step": a.step, "due": a.due} for a in order],
        "chains": [
            {
                "batch": chain.batch,
                "steps": [
                    {
                        "key": s.key,
                        "attention": s.attention.value,
                        "phase": s.phase.value,
                        "duration_s": s.duration_s,
                        "during_offset_s": s.during_offset_s,
                        "longest_s": s.longest_s,
                    }
                    for s in chain.steps
                ],
            }
        ],
        "plan": [{"batch": p.batch, "step": p.step, "start": p.start, "end": p.end} for p in plan],
        "entries": [
            {
                "id": e.id,
                "batch": e.batch,
                "kind": e.kind.value,
                "at": round(e.at, 3),
                "device": e.device,
                "counter": e.counter,
                "payload": dict(e.payload),
                "supersedes": e.supersedes,
            }
            for e in log
        ],
        "runs": [
            {"batch": r.batch, "step": r.step, "start": r.start, "end": r.end, "state": r.state.value}
            for r in state.runs
        ],
        "actions": [
            {"batch": a.batch, "step": a.step, "type": a.type.value, "due": a.due} for a in state.actions
        ],
    }


def test_the_vectors_of_the_offline_fold_are_those_of_the_core() -> None:
    """The browser's fold is tested against this file; it is made here and only here (delete it to make it
    anew).
    """
    made = [vector(seed) for seed in range(60)]
    if not VECTORS.exists():
        VECTORS.write_text(json.dumps(made, indent=0) + "\n")
    kept = json.loads(VECTORS.read_text())
    assert len(kept) == len(made)
    for k, m in zip(kept, made, strict=True):
        assert k["entries"] == json.loads(json.dumps(m["entries"]))
        for key in ("runs", "actions", "timers", "order"):
            assert len(k[key]) == len(m[key])
            for x, y in zip(k[key], m[key], strict=True):
                assert x == json.loads(json.dumps(y))


def test_all_run_states_occur_in_the_vectors() -> None:
    kept = json.loads(VECTORS.read_text())
    assert {r["state"] for v in kept for r in v["runs"]} == {s.value for s in RunState}
    assert {a["type"] for v in kept for a in v["actions"]} >= {"start", "do"}

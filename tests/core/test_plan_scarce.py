"""Plans where something is scarce, and where the food says when it is done."""

import itertools
from dataclasses import asdict, replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.instances import FOLDER, problem, read
from yeasty.core.cook import plan_narrow
from yeasty.core.cook.bench import RunState, StepRun
from yeasty.core.cook.foresee import Foretold, foreseen
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.plan import solve
from yeasty.core.cook.plan_check import too_tight, violations
from yeasty.core.cook.plan_narrow import Search, competing, hardest
from yeasty.core.cook.problem import (
    Chain,
    Place,
    Plan,
    PlannedStep,
    Problem,
    overloads,
    pace_of,
    problem_from_record,
)
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step, check_steps, contiguous
from yeasty.core.setup.rounds import in_rounds, round_of, rounds_in

SERVE = 100_000.0


def test_the_kept_instances_are_those_of_the_generator() -> None:
    kept = sorted(p.stem for p in FOLDER.glob("*.json"))
    assert len(kept) >= 24
    for stem in kept[::5]:
        methods, people, seed = (int(part[1:]) for part in stem.split("-"))
        assert read(FOLDER / f"{stem}.json") == problem(
            methods, people, seed, 15 if methods <= 8 else 15 + 2 * methods
        )


def test_appliances_that_a_circuit_does_not_carry_together_compete() -> None:
    whole = problem(12, 1, 1)
    assert overloads(whole, ["air", "deep", "micro"], 3300.0) == [("air", "deep")]
    groups = [{s.appliance for c in group for s in c.steps if s.appliance} for group in competing(whole)]
    assert {"air", "deep"} in groups
    assert all(len(group) < len(whole.chains) for group in competing(whole))
    assert {"air"} not in groups, "what is part of a larger competition is not looked at again"


def test_those_of_one_vessel_compete_together() -> None:
    whole = problem(10, 1, 1)
    potted = replace(
        whole,
        chains=tuple(replace(c, together="kettle") if c.batch in ("m5", "m0") else c for c in whole.chains),
    )
    for group in competing(potted):
        batches = {c.batch for c in group}
        assert ("m0" in batches) == ("m5" in batches)


@settings(max_examples=3)
@given(st.integers(5, 7), st.integers(1, 2), st.integers(10, 60))
def test_the_best_plan_of_some_bounds_the_plan_of_all(methods: int, people: int, seed: int) -> None:
    whole = problem(methods, people, seed)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(plan_narrow, "LEAST", 99)
        # A bound that is not proven in this time holds all the same.
        plain = {r.name: r for r in solve(whole, 6.0).ranks}
        patch.setattr(plan_narrow, "LEAST", 2)
        beside = solve(whole, 6.0)
        narrow = hardest(whole, 3.0, Search(0))
    assert violations(whole, beside.items) == []
    longest = next(r for r in beside.ranks if r.name == "longest hold")
    assert longest.bound <= plain["longest hold"].value
    assert plain["longest hold"].bound <= longest.value
    if narrow is not None:
        assert {c.batch for c in narrow.model.problem.chains} < {c.batch for c in whole.chains}


def test_a_scarce_circuit_is_planned_with_its_proof() -> None:
    whole = read(FOLDER / "m12-p2-s1.json")
    plan = solve(whole, 30.0, 1)
    assert violations(whole, plan.items) == []
    longest = next(r for r in plan.ranks if r.name == "longest hold")
    assert longest.proven
    assert longest.value == longest.bound == plan.longest_hold_s


def roast(
    tag: str, guess: float, longest: float | None, oven: str = "oven", set_point: float = 200.0
) -> Chain:
    """Cooking that ends by its core, straight out, rested and plated."""
    rows = (
        Step(
            "c",
            "Roast",
            Attention.FREE,
            Phase.COOK,
            guess,
            EndRule.CORE,
            end_core_c=74,
            appliance=oven,
            set_point_c=set_point,
            longest_s=longest,
        ),
        Step("o", "Take out", Attention.HANDS, Phase.OUT, 30),
        Step("w", "Rest", Attention.FREE, Phase.WAIT, 120),
        Step("p", "Plate", Attention.HANDS, Phase.PLATE, 30),
    )
    return Chain(tag.lower(), tag, tuple(replace(s, key=f"{tag}{s.key}") for s in rows), 6)


def test_what_may_cook_longer_still_meets_the_others() -> None:
    exact = Problem((roast("A", 900, 900), roast("B", 900, 1260)), SERVE, SERVE + 120)
    plan = solve(exact, 3.0)
    holds = dict(plan.holds)
    assert [n[:13] for n in plan.notes] == ["Room is left:"]
    assert holds["b"] >= 360, "food that may take six minutes longer is planned to be done six minutes before"
    assert too_tight(exact, plan.items) == []
    careless = tuple(
        replace(p, start=p.start + 360, end=p.end + 360) if p.batch == "b" and p.step != "Bp" else p
        for p in plan.items
    )
    assert too_tight(exact, careless) != []


def test_the_oven_is_not_given_away_before_the_latest_end() -> None:
    chains = (roast("A", 600, 1200, set_point=180), roast("B", 600, None, set_point=220))
    shared = Problem(chains, SERVE, SERVE + 3600, places=(Place("oven", "Oven", capacity=12),))
    plan = solve(shared, 3.0)
    assert violations(shared, plan.items) == []
    at = {p.step: p for p in plan.items}
    assert at["Bc"].start >= at["Ac"].start + 1200 or at["Ac"].start >= at["Bc"].end
    early = tuple(
        replace(
            p,
            start=at["Ac"].start + 700 + p.start - at["Bc"].start,
            end=at["Ac"].start + 700 + p.end - at["Bc"].start,
        )
        if p.batch == "b"
        else p
        for p in plan.items
    )
    assert any("two set points" in v for v in violations(shared, early))


def test_no_time_to_run_over_is_named_as_what_clashes() -> None:
    late = Problem((roast("A", 900, 1500),), SERVE, SERVE + 60, not_before=SERVE - 1200)
    plan = solve(late, 3.0)
    assert "A may cook 10 min longer and still meets the others" in plan.clashing
    assert "nothing begins before now" in plan.clashing


def test_cooking_lasts_between_two_times_only_where_the_food_ends_it() -> None:
    ended = roast("A", 600, 900).steps
    assert check_steps(ended) == []
    assert [
        w.message
        for w in check_steps((replace(ended[0], end_rule=EndRule.CLOCK, end_core_c=None), *ended[1:]))
    ] == ["ends by the clock and has two times"]
    assert [w.message for w in check_steps((replace(ended[0], longest_s=300), *ended[1:]))] == [
        "lasts longer at least than at most"
    ]
    assert contiguous(ended[0], ended[1]), "food that is done is taken out at once, however long it took"


NOW = SERVE - 600
RUN = StepRun("a", "Ac", NOW - 300, NOW + 600, RunState.RUNNING)


def told(ready: float, spread: float = 30.0, **more: object) -> Foretold:
    return replace(Foretold("probe", ready, ready - spread, ready + spread, None, 74.0), **more)  # type: ignore[arg-type]


def an_entry(n: int, kind: EntryKind, payload: dict[str, object], supersedes: str | None = None) -> Entry:
    return Entry(f"e{n}", "a", kind, NOW - 60 + n, "d", n, payload, supersedes)


def test_what_a_probe_foretells_is_said_once_it_leaves_the_rhythm() -> None:
    steps = roast("A", 900, None).steps

    def say(t: Foretold, entries: tuple[Entry, ...] = (), run: StepRun = RUN) -> dict[str, object] | None:
        return foreseen("a", steps, [run], t, entries, NOW)

    assert say(told(NOW + 900)) == {
        "step": "Ac",
        "ends_at": NOW + 900,
        "low": NOW + 870,
        "high": NOW + 930,
        "target_c": 74.0,
    }
    assert say(told(NOW + 660)) is None, "within a cook's rhythm"
    assert say(told(NOW + 900, spread=400)) is None, "what is expected lies within its range"
    assert say(told(NOW + 900, basis="size")) is None
    assert say(replace(told(NOW + 900), ready_at=None)) is None
    assert say(told(NOW + 900), run=replace(RUN, state=RunState.TODO)) is None
    pulled = say(told(NOW + 900, pull_at=NOW + 800.0))
    assert pulled is not None
    assert pulled["ends_at"] == NOW + 800
    unsure = replace(told(NOW), basis="", ready_at=None, ready_low=None, ready_high=None)
    assert say(unsure) is None
    assert say(replace(unsure, soonest_at=NOW + 700)) is None, "not worth saying yet"
    later = say(replace(unsure, soonest_at=NOW + 1200))
    assert later == {"step": "Ac", "ends_at": NOW + 1200, "low": NOW + 1200, "high": None, "target_c": 74.0}
    check_payload(EntryKind.FORESEEN, later)
    past = say(told(NOW - 200))
    assert past is not None
    assert past["ends_at"] == NOW, "a core that is there already ends nothing by itself"


def test_a_foretelling_that_the_cook_took_back_is_not_made_again() -> None:
    steps = roast("A", 900, None).steps
    said = an_entry(
        1,
        EntryKind.FORESEEN,
        {"step": "Ac", "ends_at": NOW + 900, "low": NOW + 870, "high": NOW + 930, "target_c": 74.0},
    )
    again = told(NOW + 1500)
    assert foreseen("a", steps, [replace(RUN, end=NOW + 900)], again, [said], NOW) is not None
    assert foreseen("a", steps, [RUN], again, [said, an_entry(2, EntryKind.UNDONE, {}, "e1")], NOW) is None


@given(st.floats(-2000, 5000), st.floats(1, 800), st.floats(-2000, 5000))
def test_a_foretelling_never_lies_in_the_past_nor_outside_its_range(
    ready: float, spread: float, expected: float
) -> None:
    steps = roast("A", 900, None).steps
    said = foreseen("a", steps, [replace(RUN, end=NOW + expected)], told(NOW + ready, spread), (), NOW)
    if said is not None:
        assert said["low"] <= said["ends_at"] <= said["high"]
        assert said["ends_at"] >= round(NOW)
        assert abs(said["ends_at"] - NOW - expected) > 89


def test_planned_steps_of_a_batch_that_runs_over_keep_others_off() -> None:
    begun = roast("A", 600, 1800)
    items = tuple(
        PlannedStep("a", s.key, NOW - 300 + o, NOW - 300 + o + s.duration_s)
        for s, o in zip(begun.steps, (0, 600, 630, 750), strict=True)
    )
    asked = Problem(
        (roast("B", 300, None, set_point=240),),
        SERVE + 1800,
        SERVE + 3600,
        not_before=NOW,
        fixed=((begun, items),),
        places=(Place("oven", "Oven", capacity=12),),
    )
    plan = solve(asked, 2.0)
    assert min(p.start for p in plan.items) >= NOW - 300 + 1800


def ages(plan: Plan, chains: tuple[Chain, ...]) -> dict[str, float]:
    """From out of the heat to the plate [s]."""
    at = {(p.batch, p.step): p for p in plan.items}
    return {
        c.batch: dict(plan.served)[c.batch]
        - next(at[c.batch, s.key].end for s in c.steps if s.phase is Phase.COOK)
        for c in chains
    }


@pytest.mark.parametrize("people", [1, 2])
def test_each_is_tasted_at_the_same_age_where_that_is_asked_for(people: int) -> None:
    rests = (120.0, 300.0, 600.0)
    chains = tuple(
        replace(c, steps=tuple(replace(s, duration_s=rest) if s.phase is Phase.WAIT else s for s in c.steps))
        for c, rest in zip(
            (roast(tag, 900, None, oven=f"oven of {tag}") for tag in "ABC"), rests, strict=True
        )
    )
    together = solve(Problem(chains, SERVE, SERVE + 1800, people), 5.0)
    apart = solve(Problem(chains, SERVE, SERVE + 1800, people, same_age=True), 5.0)
    assert set(dict(together.holds).values()) == {0.0}, "all together nothing waits beyond its own rest"
    assert len(set(ages(together, chains).values())) == 3
    assert set(ages(apart, chains).values()) == {660.0}, "at one age the shorter rests wait for the longest"
    assert violations(Problem(chains, SERVE, SERVE + 1800, people), apart.items) == []
    plates = sorted(dict(apart.served).values())
    assert all(b - a >= 180 for a, b in itertools.pairwise(plates)), "nobody tastes two at once"
    assert [r.name for r in apart.ranks][:4] == [
        "plates within the window",
        "age of the oldest plate",
        "difference between ages",
        "longest hold",
    ]
    assert all(r.proven for r in apart.ranks[:4])


def test_a_window_too_narrow_for_three_minutes_each_is_shared_out() -> None:
    chains = tuple(roast(tag, 900, None, oven=f"oven of {tag}") for tag in "ABC")
    narrow = Problem(chains, SERVE, SERVE + 120, 3, same_age=True)
    plan = solve(narrow, 3.0)
    assert plan.notes == ()
    assert pace_of(narrow) == 60
    assert pace_of(replace(narrow, same_age=False)) == pace_of(replace(narrow, chains=chains[:1])) == 0


def test_a_problem_survives_its_record() -> None:
    asked = Problem(
        (roast("A", 900, 1200),),
        SERVE,
        SERVE + 60,
        2,
        places=(Place("oven", "Oven", capacity=4),),
        limits_w=(("A", 3000.0),),
        walk_s=8.0,
        same_age=True,
    )
    assert problem_from_record(asdict(asked)) == asked


def on_the_hob(n: int) -> Chain:
    rows = (
        Step("s", "Bring to the boil", Attention.FREE, Phase.COME_UP, 300, appliance="hob"),
        Step("l", "Put in", Attention.HANDS, Phase.LOAD, 30),
        Step("b", "Simmer", Attention.FREE, Phase.COOK, 900, appliance="hob"),
        Step("o", "Lift out", Attention.HANDS, Phase.OUT, 30),
        Step("p", "Plate", Attention.HANDS, Phase.PLATE, 30),
    )
    return Chain(f"h{n}", f"H{n}", tuple(replace(s, key=f"{n}{s.key}") for s in rows), 6)


@pytest.mark.parametrize(("limit_w", "at_once"), [(7200.0, 4), (6600.0, 3), (3700.0, 2)])
def test_of_a_hob_as_many_rings_are_on_as_its_circuit_carries(limit_w: float, at_once: int) -> None:
    hob = Place("hob", "Hob", rings=4, circuit="D", input_w=7200)
    asked = Problem(
        tuple(on_the_hob(n) for n in range(4)),
        SERVE,
        SERVE + 600,
        4,
        places=(hob,),
        limits_w=(("D", limit_w),),
    )
    plan = solve(asked, 5.0)
    assert violations(asked, plan.items) == []
    spans = [
        (
            min(p.start for p in plan.items if p.batch == c.batch),
            max(p.end for p in plan.items if p.batch == c.batch and p.step.endswith("b")),
        )
        for c in asked.chains
    ]
    assert max(sum(a <= t < b for a, b in spans) for t, _ in spans) <= at_once
    careless = solve(replace(asked, limits_w=()), 5.0)
    assert bool(violations(asked, careless.items)) == (at_once < 4)


def test_a_hob_and_an_oven_on_one_circuit_give_way_to_each_other() -> None:
    places = (
        Place("hob", "Hob", rings=4, circuit="D", input_w=7200),
        Place("oven", "Oven", circuit="D", input_w=3000),
    )
    asked = Problem(
        (on_the_hob(0), on_the_hob(1), tray("A", 6)),
        SERVE,
        SERVE + 7200,
        2,
        places=places,
        limits_w=(("D", 5000.0),),
    )
    plan = solve(asked, 5.0)
    assert plan.notes == ()
    assert violations(asked, plan.items) == []


def tray(tag: str, pieces: int) -> Chain:
    rows = (
        Step("h", "Preheat", Attention.FREE, Phase.COME_UP, 600, appliance="oven", set_point_c=200),
        Step("l", "Load", Attention.HANDS, Phase.LOAD, 60),
        Step("b", "Bake", Attention.FREE, Phase.COOK, 900, appliance="oven", set_point_c=200),
        Step("t", "Turn", Attention.HANDS, Phase.TURN, 30, during_offset_s=450),
        Step("o", "Take out", Attention.HANDS, Phase.OUT, 60),
        Step("w", "Rest", Attention.FREE, Phase.WAIT, 120),
        Step("p", "Plate", Attention.HANDS, Phase.PLATE, 60),
    )
    return Chain(tag.lower(), tag, tuple(replace(s, key=f"{tag}{s.key}") for s in rows), pieces)


def test_a_batch_that_the_oven_does_not_hold_goes_through_it_in_rounds() -> None:
    once = tray("A", 18)
    steps = in_rounds(once.steps, 3)
    assert [s.key for s in steps if s.phase is Phase.COOK] == ["Ab", "Ab.r2", "Ab.r3"]
    assert [s.what for s in steps if s.phase is Phase.TURN] == [f"Turn, round {n} of 3" for n in (1, 2, 3)]
    assert sum(s.phase is Phase.COME_UP for s in steps) == sum(s.phase is Phase.PLATE for s in steps) == 1
    assert (rounds_in(steps), rounds_in(once.steps)) == (3, 1)
    assert in_rounds(once.steps, 1) == once.steps
    assert check_steps(steps) == []
    asked = Problem(
        (replace(once, steps=steps),), SERVE, SERVE + 60, places=(Place("oven", "Oven", capacity=6),)
    )
    plan = solve(asked, 3.0)
    assert violations(asked, plan.items) == []
    at = {p.step: p for p in plan.items}
    assert at["Al.r2"].start >= at["Ao"].end
    assert at["Ab.r2"].start == at["Al.r2"].end, "what is loaded is heated at once, in every round"
    assert plan.longest_hold_s == 0.0


def test_rounds_of_two_batches_take_turns_in_one_oven() -> None:
    chains = tuple(replace(c, steps=in_rounds(c.steps, 2)) for c in (tray("A", 12), tray("B", 12)))
    asked = Problem(chains, SERVE, SERVE + 3600, places=(Place("oven", "Oven", capacity=6),))
    plan = solve(asked, 5.0)
    assert violations(asked, plan.items) == []
    bakes = sorted((p.start, p.end) for p in plan.items if "b" in p.step.split(".")[0][1:])
    assert len(bakes) == 4
    assert all(later[0] >= sooner[1] for sooner, later in itertools.pairwise(bakes))


@given(st.integers(1, 6), st.lists(st.sampled_from(list(Phase)), min_size=1, max_size=8))
def test_rounds_lose_no_step_and_double_no_key(rounds: int, phases: list[Phase]) -> None:
    steps = [Step(f"s{n}", p.value, Attention.HANDS, p, 60) for n, p in enumerate(phases)]
    got = in_rounds(steps, rounds)
    assert len({s.key for s in got}) == len(got)
    assert {s.key for s in steps} <= {s.key for s in got}
    assert {round_of(s.key) for s in got} <= set(range(1, rounds + 1))


def test_more_plates_than_hands_can_serve_in_time_make_the_window_longer_and_nothing_else() -> None:
    chains = tuple(roast(f"{letter}", 900, None, oven=f"oven of {letter}") for letter in "ABCDEFGHIJ")
    asked = Problem(chains, SERVE + 0.7, SERVE + 60.7)
    plan = solve(asked, 6.0)
    window = next(r for r in plan.ranks if r.name == "plates within the window")
    assert window.value > 0
    assert max(t for _, t in plan.served) <= asked.serve_until + window.value
    assert min(t for _, t in plan.served) >= asked.serve_from - 1, "late is not made up for by being early"
    assert violations(asked, plan.items) == []
    assert "one pair of hands" in plan.clashing
    assert plan.notes[0].startswith("The plates cannot meet as asked")
    assert not any("before the window" in n for n in plan.notes)


def test_fewer_are_not_held_to_a_slower_pace_than_all() -> None:
    chains = tuple(
        roast(f"{letter}", 900, None, oven=f"oven {n % 3}") for n, letter in enumerate("ABCDEFGHI")
    )
    tight = Problem(
        chains,
        SERVE,
        SERVE + 240,
        4,
        places=tuple(Place(f"oven {n}", f"Oven {n}", capacity=6) for n in range(3)),
        same_age=True,
    )
    assert pace_of(tight) == 30
    narrow = hardest(tight, 5.0, Search(0))
    assert narrow is not None
    assert pace_of(narrow.model.problem) == 30

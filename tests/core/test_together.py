"""What is cooked together: one load in one appliance, planned, tapped and begun as one."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.cook.plan import solve
from yeasty.core.cook.plan_check import violations
from yeasty.core.cook.plannable import check_problem
from yeasty.core.cook.problem import Chain, Place, PlannedStep, Problem
from yeasty.core.cook.together import done_together, share_groups, shared_steps, still_apart, without_begun
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, Phase, Step

OVEN = Place("oven", "Oven", capacity=12, change_s_per_k=6)
FROM, UNTIL = 100_000.0, 100_600.0


def treated(
    b: str, prep_s: float, together: str = "tray 1", bake_s: float = 1200, pieces: int = 6, set_c: float = 200
) -> Chain:
    """Prepared in its own way, baked on the tray, plated by itself."""
    return Chain(
        b,
        b.upper(),
        (
            Step(
                f"{b}h",
                "Heat the oven",
                Attention.FREE,
                Phase.COME_UP,
                900,
                appliance="oven",
                set_point_c=set_c,
            ),
            Step(f"{b}p", f"Treat {b}", Attention.HANDS, Phase.PREPARE, prep_s),
            Step(f"{b}l", f"Put {b} in", Attention.HANDS, Phase.LOAD, 40, appliance="oven"),
            Step(f"{b}c", "Bake", Attention.FREE, Phase.COOK, bake_s, appliance="oven", set_point_c=set_c),
            Step(f"{b}t", "Turn the tray", Attention.HANDS, Phase.TURN, 20, during_offset_s=600),
            Step(f"{b}o", f"Take {b} out", Attention.HANDS, Phase.OUT, 40),
            Step(f"{b}s", "Plate", Attention.HANDS, Phase.PLATE, 60),
        ),
        pieces,
        together=together,
    )


def at(items: tuple[PlannedStep, ...], key: str) -> float:
    return next(p.start for p in items if p.step == key)


def test_two_treatments_on_one_tray_are_one_load_one_preheat_one_tap_and_plates_of_their_own() -> None:
    chains = (treated("a", 300), treated("b", 420))
    groups = share_groups(chains)
    together = {k[1:] for _, k in groups}
    assert together == {"h", "l", "c", "t", "o"}
    assert groups["a", "al"] == groups["b", "bl"] != groups["a", "ao"]
    # One of the two does them: the hands of the other's are not counted again.
    assert {k[1:] for _, k in shared_steps(chains)} == together
    problem = Problem(chains, FROM, UNTIL, places=(OVEN,))
    plan = solve(problem, 3.0)
    assert violations(problem, plan.items) == []
    for part in "hlcto":
        assert at(plan.items, f"a{part}") == at(plan.items, f"b{part}")
    # One pair of hands: one after the other is treated and plated.
    assert abs(at(plan.items, "ap") - at(plan.items, "bp")) >= 300
    assert abs(at(plan.items, "as") - at(plan.items, "bs")) >= 60


def test_the_checker_sees_a_load_that_was_torn_apart() -> None:
    chains = (treated("a", 300), treated("b", 420))
    problem = Problem(chains, FROM, UNTIL, people=2, places=(OVEN,))
    plan = solve(problem, 3.0)
    assert violations(problem, plan.items) == []
    torn = tuple(replace(p, start=p.start - 60, end=p.end - 60) if p.batch == "b" else p for p in plan.items)
    assert any("do not go in together" in v for v in violations(problem, torn))


def test_a_tray_that_holds_too_few_pieces_is_never_shared_with_another_load() -> None:
    chains = (treated("a", 300), treated("b", 420), treated("c", 200, together=""))
    problem = Problem(chains, FROM, UNTIL, people=2, places=(OVEN,))
    plan = solve(problem, 3.0)
    assert violations(problem, plan.items) == []
    ends = at(plan.items, "ac") + 1200
    assert at(plan.items, "cc") >= ends or at(plan.items, "cc") + 1200 <= at(plan.items, "ac")


def test_what_is_pulled_earlier_from_a_tray_goes_in_with_it() -> None:
    chains = (treated("a", 300, bake_s=900), treated("b", 420))
    assert "ac" not in {k for _, k in share_groups(chains)}
    (load,) = done_together(chains)
    assert load.begins["a"]["in"] == "ac"
    plan = solve(Problem(chains, FROM, UNTIL, places=(OVEN,)), 3.0)
    assert at(plan.items, "ac") == at(plan.items, "bc")
    assert at(plan.items, "ao") == at(plan.items, "ac") + 900


@pytest.mark.parametrize(
    ("other", "told"),
    [
        (treated("b", 420, set_c=180), "do not go into one appliance at one setting"),
        (
            replace(
                treated("b", 420),
                steps=tuple(s for s in treated("b", 420).steps if s.phase in (Phase.PREPARE, Phase.PLATE)),
            ),
            "not all are heated",
        ),
        (
            replace(
                treated("b", 420),
                steps=tuple(
                    replace(s, duration_s=300) if s.phase is Phase.LOAD else s
                    for s in treated("b", 420).steps
                ),
            ),
            "goes in otherwise",
        ),
    ],
)
def test_what_cannot_be_one_load_is_told_with_what_to_do(other: Chain, told: str) -> None:
    with pytest.raises(RuleError, match=told):
        check_problem(Problem((treated("a", 300), other), FROM, UNTIL, places=(OVEN,)))


def test_a_batch_cooked_alone_in_its_shift_needs_nobody_to_go_in_with() -> None:
    alone = (treated("a", 300), treated("c", 200, together="tray 2"))
    assert done_together(alone) == []
    plan = solve(Problem(alone, FROM, UNTIL, people=2, places=(OVEN,)), 3.0)
    assert violations(Problem(alone, FROM, UNTIL, people=2, places=(OVEN,)), plan.items) == []


def test_a_load_waits_for_whoever_is_ready_last_once_some_of_it_has_begun() -> None:
    a, b = treated("a", 300), treated("b", 420)
    # Treating A began late: nothing of B was done, so A's tray cannot go in when A alone would be ready.
    began = FROM - 1500
    assert ("a", "ap") in still_apart((a, b), [("a", "ah"), ("a", "ap")])
    hot = {"ah": PlannedStep("a", "ah", began - 900, began), "ap": PlannedStep("a", "ap", began, began + 300)}
    left = (without_begun(a, hot), without_begun(b, {"bh": replace(hot["ah"], batch="b", step="bh")}))
    again = Problem(
        left, FROM, UNTIL, places=(OVEN,), not_before=began + 30, fixed=((a, tuple(hot.values())),)
    )
    plan = solve(again, 3.0)
    assert violations(again, plan.items) == []
    assert at(plan.items, "al") == at(plan.items, "bl") >= at(plan.items, "bp") + 420
    assert at(plan.items, "bp") >= began + 300
    # Once it has gone in, that is what stands.
    assert still_apart((a, b), [("a", "ap"), ("a", "al"), ("b", "bl")]) == frozenset()


@settings(max_examples=20)
@given(
    preps=st.lists(st.integers(30, 900), min_size=2, max_size=4),
    bakes=st.lists(st.sampled_from([600, 900, 1200]), min_size=4, max_size=4),
    loads=st.lists(st.sampled_from(["tray 1", "tray 2", ""]), min_size=4, max_size=4),
    people=st.integers(1, 2),
)
def test_no_plan_of_loads_breaks_a_rule(
    preps: list[int], bakes: list[int], loads: list[str], people: int
) -> None:
    chains = tuple(
        treated("abcd"[n], p, together=loads[n], bake_s=max(bakes[n], 700), pieces=3)
        for n, p in enumerate(preps)
    )
    problem = Problem(chains, FROM, FROM + 3600, people=people, places=(OVEN,))
    plan = solve(problem, 1.0, steady=True)
    assert violations(problem, plan.items) == []
    for word in {"tray 1", "tray 2"}:
        went_in = {at(plan.items, f"{c.batch}c") for c in chains if c.together == word}
        assert len(went_in) <= 1


def test_a_preheat_after_the_shared_preparation_is_that_of_the_load_where_the_oven_is_hot() -> None:
    dough = Step("all-1", "Make the dough", Attention.HANDS, Phase.PREPARE, 600)
    chains = tuple(
        replace(c, steps=(dough, *c.steps), prepared=1)
        for c in (treated("a", 300), treated("b", 420), treated("c", 120, together=""))
    )
    # Two loads one after the other: the oven stays hot for the second.
    problem = Problem(chains, FROM, FROM + 3600, places=(OVEN,), same_age=True)
    plan = solve(problem, 3.0)
    assert violations(problem, plan.items) == []
    heated = {at(plan.items, f"{b}h") for b in "abc"}
    assert len(heated) == 1
    assert heated.pop() >= max(p.end for p in plan.items if p.step == "all-1")


def test_what_goes_in_while_the_oven_is_hot_for_a_load_has_no_preheat_of_its_own() -> None:
    chains = (treated("a", 300), treated("b", 420), treated("c", 120, together=""))
    problem = Problem(chains, FROM, FROM + 3600, people=2, places=(replace(OVEN, capacity=30),))
    plan = solve(problem, 3.0)
    assert violations(problem, plan.items) == []
    assert at(plan.items, "ch") == at(plan.items, "ah") == at(plan.items, "bh")

"""Methods of several heats: each with its own set point, its preheat beside the food, and food that does not
stand between.
"""

from dataclasses import replace

import pytest

from yeasty.core.ask.preparation import check_preparation, preparation
from yeasty.core.cook.plan import solve
from yeasty.core.cook.plan_check import violations
from yeasty.core.cook.plan_in_turn import in_turn
from yeasty.core.cook.plan_kept import broken
from yeasty.core.cook.problem import Chain, Place, PlannedStep, Problem
from yeasty.core.cook.together import preheated_together, share_groups, without_begun
from yeasty.core.cook.waits import check_own_waits, wait_limits, wait_rule, wait_rules
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step

SERVE = 100_000.0
OVEN = Place("oven", "Oven", capacity=24, change_s_per_k=6.0, fall_s_per_k=12.0)
FREE, HANDS = Attention.FREE, Attention.HANDS


def two_stages(name: str, first: float, second: float, *, cook_s: float = 600, oven: str = "oven") -> Chain:
    """Baked at one temperature, turned to another with the food in it."""
    rows = (
        Step("h", "Preheat", FREE, Phase.COME_UP, 600, appliance=oven, set_point_c=first),
        Step("l", "Load", HANDS, Phase.LOAD, 60),
        Step("a", "Bake hot", FREE, Phase.COOK, cook_s, appliance=oven, set_point_c=first),
        Step("b", "Bake on", FREE, Phase.COOK, cook_s, appliance=oven, set_point_c=second),
        Step("o", "Out", HANDS, Phase.OUT, 60),
        Step("p", "Plate", HANDS, Phase.PLATE, 60),
    )
    return Chain(name, name.upper(), tuple(replace(s, key=f"{name}{s.key}") for s in rows), 6)


def steamed_then_baked(name: str, food: str, *, rest: float | None = None, limits: bool = True) -> Chain:
    rows = [
        Step("s", "Shape", HANDS, Phase.PREPARE, 300),
        Step("w", "Boil the water", FREE, Phase.COME_UP, 480, appliance="steamer", set_point_c=100),
        Step("l", "Load the basket", HANDS, Phase.LOAD, 60),
        Step("c", "Steam", FREE, Phase.COOK, 300, appliance="steamer", set_point_c=100),
        Step("o", "Take out", HANDS, Phase.OUT, 45),
        *([Step("r", "Rest", FREE, Phase.WAIT, rest)] if rest else []),
        Step("h", "Preheat the oven", FREE, Phase.COME_UP, 900, appliance="oven", set_point_c=200),
        Step("m", "Load the tray", HANDS, Phase.LOAD, 60),
        Step("d", "Bake", FREE, Phase.COOK, 600, appliance="oven", set_point_c=200),
        Step("x", "Out", HANDS, Phase.OUT, 60),
        Step("p", "Plate", HANDS, Phase.PLATE, 60),
    ]
    steps = tuple(replace(s, key=f"{name}{s.key}") for s in rows)
    return Chain(name, name.upper(), steps, 6, waits=wait_limits(steps, food) if limits else ())


def at(plan: object, key: str) -> PlannedStep:
    return next(p for p in plan.items if p.step == key)  # type: ignore[attr-defined]


# One chamber, one temperature


def one_oven(*chains: Chain, window: float = 9000.0) -> Problem:
    return Problem(chains, SERVE, SERVE + window, places=(OVEN,))


def test_two_temperatures_in_one_oven_are_seen_by_the_checker_and_never_planned() -> None:
    """230 then 180 °C beside 120 then 180 °C: only the last set point was looked at once, in plan and checker
    alike.
    """
    a, b = two_stages("a", 230, 180), two_stages("b", 120, 180)
    at_once = [
        PlannedStep(c.batch, s.key, SERVE + t, SERVE + t + s.duration_s)
        for c in (a, b)
        for s, t in zip(c.steps, (0, 600, 660, 1260, 1860, 1980), strict=True)
    ]
    assert any("230" in v and "120" in v for v in violations(one_oven(a, b), at_once))
    plan = solve(one_oven(a, b), 4)
    assert violations(one_oven(a, b), plan.items) == []
    spans = [(at(plan, f"{n}a").start, at(plan, f"{n}b").end, n) for n in "ab"]
    (_, first_off, first), (then_in, _, then) = sorted(spans)
    # From 180 °C down to 120 or up to 230: the oven's own rise or fall, as measured.
    way = 6.0 * 50 if then == "a" else 12.0 * 60
    assert then_in - first_off >= way - 1, (first, then)


def test_whole_courses_that_match_go_through_the_oven_together() -> None:
    a, b = two_stages("a", 230, 180), two_stages("b", 230, 180)
    problem = Problem((a, b), SERVE, SERVE + 300, people=2, places=(OVEN,))
    plan = solve(problem, 4)
    assert violations(problem, plan.items) == []
    assert at(plan, "aa").start == at(plan, "ba").start
    assert plan.ranks[0].value == 0
    shorter = replace(b, steps=tuple(replace(s, duration_s=480) if s.key == "ba" else s for s in b.steps))
    apart = solve(replace(problem, chains=(a, shorter), serve_until=SERVE + 9000), 4)
    assert violations(replace(problem, chains=(a, shorter)), apart.items) == []
    assert at(apart, "aa").start != at(apart, "ba").start


def test_the_oven_has_come_to_the_next_temperature_before_the_food_goes_in_again() -> None:
    rows = (
        Step("h", "Preheat", FREE, Phase.COME_UP, 600, appliance="oven", set_point_c=230),
        Step("l", "Load", HANDS, Phase.LOAD, 60),
        Step("a", "Bake hot", FREE, Phase.COOK, 300, appliance="oven", set_point_c=230),
        Step("o", "Out", HANDS, Phase.OUT, 60),
        Step("m", "Load again", HANDS, Phase.LOAD, 60),
        Step("b", "Dry out", FREE, Phase.COOK, 900, appliance="oven", set_point_c=120),
        Step("x", "Out", HANDS, Phase.OUT, 60),
        Step("p", "Plate", HANDS, Phase.PLATE, 60),
    )
    problem = one_oven(Chain("a", "A", rows, 6))
    plan = solve(problem, 3)
    assert violations(problem, plan.items) == []
    assert at(plan, "b").start - at(plan, "a").end >= 12 * 110 - 1
    soon = [replace(p, start=p.start - 900, end=p.end - 900) if p.step in "mbxp" else p for p in plan.items]
    assert any("takes 1320" in v for v in violations(problem, soon))


# A preheat beside the food


def test_the_oven_heats_up_while_the_food_steams_and_no_longer_than_it_need() -> None:
    chain = steamed_then_baked("a", "poultry")
    problem = Problem(
        (chain,), SERVE + 8 * 3600, SERVE + 8 * 3600 + 300, places=(OVEN, Place("steamer", "Steamer"))
    )
    plan = solve(problem, 3)
    assert violations(problem, plan.items) == []
    assert broken(problem, plan.items) == []
    # Half-cooked poultry goes straight on: out, in, and into the heat.
    assert at(plan, "ad").start - at(plan, "ac").end == pytest.approx(105, abs=2)
    assert at(plan, "ah").start < at(plan, "ac").start
    assert at(plan, "am").start - at(plan, "ah").end <= 2
    # And the raw meat is not shaped hours before.
    assert at(plan, "ac").start - at(plan, "as").end <= 1800 + 60


def test_eight_hours_ahead_nothing_half_cooked_stands_whatever_else_is_in_the_oven() -> None:
    grid = tuple(steamed_then_baked(f"m{n}", "poultry") for n in range(4))
    baked = tuple(two_stages(f"b{n}", 180, 180, cook_s=900) for n in range(2))
    places = (OVEN, Place("steamer", "Steamer", capacity=12))
    problem = Problem((*grid, *baked), SERVE + 8 * 3600, SERVE + 8 * 3600 + 3600, places=places)
    plan = solve(problem, 8)
    assert violations(problem, plan.items) == []
    for b in broken(problem, plan.items):
        assert b.sentence in plan.notes


def test_a_rest_that_half_cooked_poultry_may_not_have_is_named_with_its_steps() -> None:
    chain = steamed_then_baked("a", "poultry", rest=180)
    problem = Problem((chain,), SERVE, SERVE + 300, places=(OVEN, Place("steamer", "Steamer")))
    plan = solve(problem, 3)
    told = [n for n in plan.notes if "half-cooked poultry" in n]
    assert told
    assert "“Steam” to “Bake”" in told[0]
    assert "3 min" in told[0]
    assert not any("A limit cannot be kept" in n for n in plan.notes)
    # Roots may: they stand half an hour at most.
    roots = replace(problem, chains=(steamed_then_baked("a", "plant", rest=180),))
    assert solve(roots, 3).notes == ()


def test_one_preheat_serves_all_that_go_in_while_the_oven_is_hot() -> None:
    chains = tuple(two_stages(n, 200, 200, cook_s=600) for n in "abc")
    problem = Problem(chains, SERVE, SERVE + 400, places=(replace(OVEN, capacity=18),))
    plan = solve(problem, 4)
    assert violations(problem, plan.items) == []
    preheats = {(at(plan, f"{n}h").start, at(plan, f"{n}h").end) for n in "abc"}
    assert len(preheats) == 1
    groups = preheated_together(chains, plan.items)
    assert len(set(groups.values())) == 1
    assert set(groups) == {(n, f"{n}h") for n in "abc"}
    # Another temperature is another preheat.
    other = Problem((chains[0], two_stages("d", 160, 160)), SERVE, SERVE + 9000, places=(OVEN,))
    assert preheated_together(other.chains, solve(other, 3).items) == {}


# What may be waited


def test_wait_rules_cover_every_kind_and_only_become_stricter() -> None:
    from yeasty.core.safety.core_minimum import food_classes

    assert set(wait_rules()) == set(food_classes())
    assert wait_rule("poultry").half_cooked_s == wait_rule("mince").half_cooked_s == 0
    assert wait_rule("not stated").half_cooked_s == 0
    assert wait_rule("plant", {"plant": {"half_cooked_s": 600}}).half_cooked_s == 600
    assert wait_rule("plant", {"plant": {"half_cooked_s": 9000}}).half_cooked_s == 1800
    check_own_waits({"plant": {"half_cooked_s": 600, "out_of_cold_s": None}})
    with pytest.raises(RuleError, match="laxer"):
        check_own_waits({"poultry": {"half_cooked_s": 60}})
    with pytest.raises(RuleError, match="known"):
        check_own_waits({"moonlight": {"half_cooked_s": 60}})


def test_cooked_through_and_chilled_is_no_longer_half_cooked() -> None:
    steps = list(steamed_then_baked("a", "poultry", rest=7200).steps)
    named = {s.key: n for n, s in enumerate(steps)}
    through = replace(steps[named["ac"]], end_rule=EndRule.CORE, end_core_c=82.0)
    steps[named["ac"]] = through
    warm = wait_limits(steps, "poultry")
    assert any("half-cooked" in w.words for w in warm), "cooked through, but left to stand warm"
    cold = wait_limits(steps, "poultry", chilled={"ar"})
    assert not any("half-cooked" in w.words for w in cold)
    steps[named["ac"]] = replace(through, end_core_c=60.0)
    assert any("half-cooked" in w.words for w in wait_limits(steps, "poultry", chilled={"ar"}))


def test_room_for_the_longest_case_is_said_and_may_be_given_up() -> None:
    def slow(name: str) -> Chain:
        steps = (
            Step(
                f"{name}c",
                "Cook slowly",
                FREE,
                Phase.COOK,
                8 * 3600,
                EndRule.CUE,
                end_cue="soft",
                appliance=f"pot {name}",
                longest_s=10 * 3600,
            ),
            Step(f"{name}o", "Out", HANDS, Phase.OUT, 60),
            Step(f"{name}p", "Plate", HANDS, Phase.PLATE, 60),
        )
        return Chain(name, name.upper(), steps, 6)

    problem = Problem((slow("a"), slow("b")), SERVE, SERVE + 600)
    roomy = solve(problem, 3)
    assert any("A, B may take up to 120 min longer" in n and "waited" in n for n in roomy.notes)
    assert roomy.longest_hold_s >= 7000
    tight = solve(replace(problem, leave_room=False), 3)
    assert tight.notes == ()
    assert tight.longest_hold_s < 300


def test_what_cannot_be_tasted_at_one_age_is_named() -> None:
    micro = tuple(
        Chain(
            f"m{n}",
            f"M{n}",
            (
                Step(f"m{n}c", "Microwave", FREE, Phase.COOK, 600, appliance="micro"),
                Step(f"m{n}o", "Out", HANDS, Phase.OUT, 30),
                Step(f"m{n}p", "Plate", HANDS, Phase.PLATE, 30),
            ),
            6,
        )
        for n in range(3)
    )
    places = (Place("micro", "Microwave", capacity=6),)
    tight = solve(Problem(micro, SERVE, SERVE + 300, places=places, same_age=True), 3)
    assert any("Not all can be tasted at one age" in n for n in tight.notes)
    wide = solve(Problem(micro, SERVE, SERVE + 3000, places=places, same_age=True), 3)
    assert not any("one age" in n for n in wide.notes)


def test_a_preheat_that_was_begun_leaves_its_food_free_to_be_planned() -> None:
    chain = steamed_then_baked("a", "poultry")
    other = steamed_then_baked("b", "poultry")
    places = (OVEN, Place("steamer", "Steamer", capacity=12))
    problem = Problem((chain, other), SERVE, SERVE + 1800, places=places)
    plan = solve(problem, 3)
    hot = {"aw": at(plan, "aw")}
    left = without_begun(chain, hot)
    assert "aw" not in {s.key for s in left.steps}
    assert left.ready == (("al", at(plan, "aw").end),)
    # Ten minutes late all the same: the rest is planned anew around the heat that is on its way.
    now = at(plan, "aw").start + 600
    again = replace(problem, chains=(left, other), fixed=((chain, tuple(hot.values())),), not_before=now)
    moved = solve(again, 3)
    assert violations(again, moved.items) == []
    assert at(moved, "al").start >= at(plan, "aw").end
    assert all(b.sentence in moved.notes for b in broken(again, moved.items))
    # A limit that counts from a step that is over counts from its end.
    shaped = {"as": at(plan, "as"), **hot}
    waits = without_begun(chain, shaped).waits
    assert [w.since for w in waits if w.words.startswith("out of the cold")] == [at(plan, "as").end]


def test_what_was_heated_up_for_a_batch_draws_its_current_until_the_food_comes() -> None:
    places = (
        replace(OVEN, circuit="A", input_w=3000.0),
        Place("fryer", "Fryer", capacity=12, circuit="A", input_w=3000.0),
    )
    shaped = Step("s", "Shape", HANDS, Phase.PREPARE, 1500)
    a = Chain(
        "a",
        "A",
        tuple(replace(s, key=f"a{s.key}") for s in (own_way("oven")[0], shaped, *own_way("oven")[1:])),
        6,
    )
    fried = tuple(replace(s, key=f"b{s.key}") for s in own_way("fryer"))
    b = Chain("b", "B", fried, 6)
    heated = PlannedStep("a", "ah", SERVE - 4200, SERVE - 3600)
    left = without_begun(a, {"ah": heated})
    assert left.hot == (("oven", 200, heated.end),)
    problem = Problem(
        (left, b),
        SERVE,
        SERVE + 5400,
        people=2,
        places=places,
        limits_w=(("A", 4000.0),),
        not_before=heated.end + 10,
        fixed=((a, (heated,)),),
    )
    plan = solve(problem, 3)
    assert violations(problem, plan.items) == []
    # Both at once would trip it: the fryer waits for the end of the baking, not only of the preheat.
    assert at(plan, "bh").start >= at(plan, "ac").end - 1
    early = [replace(p, start=p.start - 3000, end=p.end - 3000) if p.batch == "b" else p for p in plan.items]
    assert any("circuit A carries" in v for v in violations(problem, early))


# Prepared once for all


def prepared(name: str, way: tuple[Step, ...], *, rises: float | None = None) -> Chain:
    """A dough made once, then each its own way."""
    shared = (
        Step("all-1", "Make the dough", HANDS, Phase.PREPARE, 900),
        Step("all-2", "Let it rise", FREE, Phase.WAIT, 2400, longest_s=rises),
        Step("all-3", "Divide and shape", HANDS, Phase.PREPARE, 600),
    )
    own = tuple(replace(s, key=f"{name}{s.key}") for s in way)
    return Chain(name, name.upper(), (*shared, *own), 6, prepared=3)


def own_way(place: str) -> tuple[Step, ...]:
    return (
        Step("h", "Preheat", FREE, Phase.COME_UP, 600, appliance=place, set_point_c=200),
        Step("l", "Load", HANDS, Phase.LOAD, 60),
        Step("c", "Bake", FREE, Phase.COOK, 900, appliance=place, set_point_c=200),
        Step("o", "Out", HANDS, Phase.OUT, 60),
        Step("p", "Plate", HANDS, Phase.PLATE, 60),
    )


@pytest.mark.parametrize("rises", [None, 4800.0])
def test_what_is_prepared_for_all_is_planned_once_for_one_pair_of_hands(rises: float | None) -> None:
    chains = tuple(prepared(n, own_way(f"place {n}"), rises=rises) for n in "abc")
    problem = Problem(chains, SERVE, SERVE + 600)
    plan = solve(problem, 4)
    assert violations(problem, plan.items) == []
    assert plan.ranks[0].value == 0
    for key in ("all-1", "all-2", "all-3"):
        assert len({p.start for p in plan.items if p.step == key}) == 1, key
    # Fifteen minutes of hands for the dough, not three times fifteen.
    first = min(p.start for p in plan.items)
    assert SERVE - first < 900 + (rises or 2400) + 600 + 1800 + 900
    groups = share_groups(chains)
    assert len({groups[n, "all-1"] for n in "abc"}) == 1
    apart = [
        replace(p, start=p.start - 60, end=p.end - 60) if (p.batch, p.step) == ("a", "all-1") else p
        for p in plan.items
    ]
    assert any("not done at once" in v for v in violations(problem, apart))


def test_a_begun_preparation_leaves_every_batch_free_and_one_after_another_keeps_it() -> None:
    chains = tuple(prepared(n, own_way("oven")) for n in "ab")
    problem = Problem(chains, SERVE, SERVE + 6000, places=(replace(OVEN, capacity=6),))
    items = in_turn(problem)
    assert items is not None
    assert violations(problem, items) == []
    plan = solve(problem, 3)
    done = {p.step: p for p in plan.items if p.batch == "a" and p.step in ("all-1", "all-2")}
    left = tuple(without_begun(c, done) for c in chains)
    assert [c.prepared for c in left] == [1, 1]
    again = replace(problem, chains=left, not_before=done["all-2"].start + 60)
    moved = solve(again, 3)
    assert violations(again, moved.items) == []
    assert min(p.start for p in moved.items if p.step == "all-3") >= done["all-2"].end - 1


def test_only_work_and_waiting_is_shared() -> None:
    knead = Step("all-1", "Knead", HANDS, Phase.PREPARE, 600)
    assert check_preparation([knead], ["raw_dough"]).record()["hazards"] == ["raw_dough"]
    assert preparation(check_preparation([knead], []).record()).steps == (knead,)
    assert check_preparation([], []).record() == {}
    for wrong, words in (
        (replace(knead, phase=Phase.COOK), "heats"),
        (replace(knead, appliance="oven"), "heats"),
        (replace(knead, duration_s=0), "lasts"),
        (replace(knead, what=" "), "no text"),
    ):
        with pytest.raises(RuleError, match=words):
            check_preparation([wrong], [])
    with pytest.raises(RuleError, match="day-before"):
        check_preparation([knead, replace(knead, key="all-2", days_before=1)], [])
    with pytest.raises(RuleError, match="cautions"):
        check_preparation([knead], ["moonlight"])


def test_what_is_turned_with_the_food_in_it_is_held_to_its_own_course_only() -> None:
    """Out at 230, six minutes later in at 200, after ten minutes turned to 120: the oven was at 200 by
    then.
    """
    a, b = two_stages("a", 230, 230, cook_s=300), two_stages("b", 200, 120)
    problem = one_oven(a, b)

    def laid(chain: Chain, begins: float) -> list[PlannedStep]:
        at_, found = begins, []
        for s in chain.steps:
            found.append(PlannedStep(chain.batch, s.key, at_, at_ + s.duration_s))
            at_ += s.duration_s
        return found

    first = laid(a, SERVE)
    out = next(p.end for p in first if p.step == "ab")
    load = sum(s.duration_s for s in b.steps[:2])
    # Its preheat begins once the oven is free, and its food goes in when the oven has fallen by 30 K.
    later = laid(b, max(out, out + 12 * 30 - load))
    assert violations(problem, [*first, *later]) == []
    soon = laid(b, out - load + 60)
    assert violations(problem, [*first, *soon]) != []

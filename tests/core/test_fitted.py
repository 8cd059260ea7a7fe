"""A page's recipe in a reader's kitchen: figures by hand, and what must hold whatever is said."""

from itertools import pairwise
from typing import Any

import pytest

from yeasty.core.heat.conduction import Piece, time_to_target
from yeasty.core.heat.steam import boiling_point, pressure_time
from yeasty.core.publish.fitted import PRESSURE_PA, Fitted, fit_recipe
from yeasty.core.publish.reader import OVENS, asked_by, read_kitchen
from yeasty.core.workbench.rules import Hot, core_time, hot_air, thickness_time


def step(minutes: float = 10, **more: Any) -> dict[str, Any]:
    s = 60.0 * minutes
    return {
        "what": "Cook", "phase": "cook", "during": "", "duration_s": s, "low_s": s, "high_s": s,
        "duration": "10 min", "temperature": "", "appliance": "", "set_point_c": None, "power_w": None,
        "core_c": None, "during_s": None, **more,
    }  # fmt: skip


def recipe(technique: str, *steps: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {
        "technique": technique, "thickness_m": None, "altitude_m": 0.0, "by_core": False, "start_c": None,
        "total_s": sum(s["duration_s"] for s in steps if not s["during"]), "steps": list(steps), **more,
    }  # fmt: skip


MICROWAVE = recipe("microwave", step(appliance="microwave", power_w=700.0))
OVEN = recipe("oven", step(20, appliance="oven", set_point_c=200.0))
PRESSURE = recipe("pressure_cooker", step(25, appliance="pressure_cooker"))


def told(found: Fitted, n: int = 0) -> str:
    s = found.steps[n]
    return " ".join((s.duration, s.temperature, *s.says))


def test_the_same_energy_at_other_watts() -> None:
    # 10 min at 700 W are 420 kJ: at 1000 W 7 min; the label's tenth either way 6.4 to 7.8.
    found = fit_recipe(MICROWAVE, watts=1000)
    assert found.steps[0].duration == "about 7 min (6 min 30 s to 8 min)"
    assert found.total_s == pytest.approx(420)
    assert "the same energy" in told(found)
    assert fit_recipe(MICROWAVE, watts=705).steps[0].duration == "", "no kitchen measures better"


@pytest.mark.parametrize("written", list(OVENS))
@pytest.mark.parametrize("use", list(OVENS))
def test_hot_air_is_carried_over_as_the_workbench_does(written: str, use: str) -> None:
    found = fit_recipe({**OVEN, "technique": written}, oven=use)
    if written == use:
        assert found.steps[0].duration == ""
        return
    by = hot_air(200, 1200, written_for=Hot(written), use=Hot(use))
    assert found.total_s == pytest.approx(by.time_s.value)
    same = by.set_c.value == 200
    assert found.steps[0].temperature.startswith("" if same else f"{by.set_c.value:.0f} °C")
    assert (found.steps[0].temperature == "") is same
    assert "Look early" in told(found)


def test_a_preheat_is_set_as_the_reader_needs_and_no_time_is_told_for_it() -> None:
    hot = step(15, phase="come_up", appliance="oven", set_point_c=200.0)
    found = fit_recipe(recipe("oven", hot, *OVEN["steps"]), oven="fan_oven")
    assert found.steps[0].temperature.startswith("180 °C")
    assert found.steps[0].duration == "as long as yours takes"
    # 15 min of getting hot are ours; of the 20 min a fan takes 0.95.
    assert found.total_s == pytest.approx(0.95 * 1200)
    assert found.once_hot


def test_another_thickness_goes_by_the_rule_and_no_further_than_it_holds() -> None:
    thick = {**OVEN, "thickness_m": 0.02}
    found = fit_recipe(thick, thickness_m=0.03)
    by = thickness_time(1200, thickness_m=0.02, new_thickness_m=0.03)
    assert found.total_s == pytest.approx(by.value)
    beyond = fit_recipe(thick, thickness_m=0.2)
    assert beyond.steps[0].duration == ""
    assert "Not carried over" in told(beyond)
    assert fit_recipe({**MICROWAVE, "thickness_m": 0.02}, thickness_m=0.03).steps[0].duration == ""


def test_height_at_pressure_is_as_the_core_says_and_in_open_water_no_time_is_guessed() -> None:
    found = fit_recipe(PRESSURE, altitude_m=1600)
    by = pressure_time(1500, PRESSURE_PA, 0, PRESSURE_PA, 1600)
    assert found.total_s == pytest.approx(by.value)
    boiled = fit_recipe(recipe("hob_boil", step(appliance="hob")), altitude_m=1600)
    assert boiled.steps[0].duration == ""
    assert f"{float(boiling_point(1600)):.0f} °C" in told(boiled)
    assert "no time is told" in told(boiled)


def test_more_watts_are_never_longer_and_higher_is_never_shorter() -> None:
    watts = [fit_recipe(MICROWAVE, watts=w).total_s for w in range(300, 2001, 50)]
    assert all(a >= b for a, b in pairwise(watts))
    for how in (PRESSURE, recipe("steamer", step(appliance="steamer"))):
        high = [fit_recipe(how, altitude_m=h).total_s for h in range(-400, 4001, 200)]
        assert all(a <= b + 1e-9 for a, b in pairwise(high))
        assert min(high) == how["total_s"], "lower down nothing is made shorter"
    thick = [fit_recipe({**OVEN, "thickness_m": 0.02}, thickness_m=t / 1000).total_s for t in range(6, 80, 2)]
    assert all(a <= b for a, b in pairwise(thick))


def test_food_that_can_hurt_gets_no_time_without_its_core() -> None:
    bare = fit_recipe({**OVEN, "by_core": True}, oven="air_fryer")
    assert bare.steps[0].duration == ""
    assert bare.total_s == OVEN["total_s"]
    assert "safe by its core" in told(bare)
    read = recipe("oven", {**OVEN["steps"][0], "core_c": 74.0}, by_core=True)
    found = fit_recipe(read, oven="air_fryer")
    assert found.steps[0].duration
    assert "The core decides, not the time" in told(found)


def test_a_turn_comes_as_far_into_it_and_hands_stay_as_they_are() -> None:
    turn = step(0.75, during="10 min into it", during_s=600.0)
    serve = step(1, phase="plate")
    found = fit_recipe(recipe("oven", *OVEN["steps"], turn, serve), oven="air_fryer")
    assert [s.duration for s in found.steps[1:]] == ["", ""]
    assert found.steps[1].during == "about 7 min 30 s into it", "three quarters of the time"


def test_only_what_a_page_can_use_is_asked_for() -> None:
    assert asked_by([MICROWAVE]) == ("watts",)
    assert asked_by([PRESSURE]) == ("altitude",)
    assert asked_by([{**OVEN, "thickness_m": 0.02}]) == ("thickness", "oven")
    assert asked_by([recipe("slow_cooker", step(appliance="slow_cooker"), thickness_m=0.02)]) == ()


@pytest.mark.parametrize(
    "typed",
    [
        {"watts": "nan"}, {"watts": "1e99"}, {"altitude": "9000"}, {"thickness": "-3"}, {"oven": "kiln"},
        {"watts": "0"}, {"altitude": "<b>"},
    ],
)  # fmt: skip
def test_what_cannot_be_so_is_told_and_reckoned_with_by_nobody(typed: dict[str, str]) -> None:
    kitchen = read_kitchen(typed)
    assert len(kitchen.wrong) == 1
    assert not kitchen.said
    assert kitchen.typed == typed, "what was typed stands in the form again"


def test_two_things_at_once_both_count_and_both_are_said() -> None:
    thick = {**OVEN, "thickness_m": 0.02}
    by = thickness_time(1200, thickness_m=0.02, new_thickness_m=0.03)
    both = fit_recipe(thick, thickness_m=0.03, oven="fan_oven")
    air = hot_air(200, by.value, written_for=Hot.OVEN, use=Hot.FAN_OVEN)
    assert both.total_s == pytest.approx(air.time_s.value)
    assert both.steps[0].temperature.startswith("180 °C")
    assert "mm thick" in told(both)
    assert "ours was an oven without a fan" in told(both)
    # Far past what the rule for thickness holds for, the oven is carried over all the same.
    half = fit_recipe(thick, thickness_m=0.2, oven="fan_oven")
    assert "Not carried over" in told(half)
    assert half.steps[0].temperature.startswith("180 °C")


def test_whatever_else_is_said_more_never_turns_into_less() -> None:
    thick = {**OVEN, "thickness_m": 0.02}
    for oven in OVENS:
        times = [fit_recipe(thick, thickness_m=mm / 1000, oven=oven).total_s for mm in range(14, 32, 2)]
        assert all(a < b for a, b in pairwise(times)), oven
    pot = {**PRESSURE, "thickness_m": 0.02}
    for mm in (15, 20, 28):
        times = [fit_recipe(pot, thickness_m=mm / 1000, altitude_m=h).total_s for h in (0, 600, 1200, 2400)]
        assert all(a <= b for a, b in pairwise(times))
    wave = {**MICROWAVE, "thickness_m": 0.02}
    for h in (0.0, 2000.0):
        times = [fit_recipe(wave, watts=w, altitude_m=h).total_s for w in (500, 700, 900, 1200)]
        assert all(a > b for a, b in pairwise(times))


def test_with_everything_said_the_core_still_decides() -> None:
    read = recipe(
        "oven", step(20, appliance="oven", set_point_c=200.0, core_c=74.0), thickness_m=0.02, by_core=True
    )
    found = fit_recipe(read, thickness_m=0.025, oven="air_fryer", altitude_m=1500, watts=900)
    assert told(found).endswith("go on until it is read.")
    unread = recipe("oven", step(20, appliance="oven", set_point_c=200.0), thickness_m=0.02, by_core=True)
    assert fit_recipe(unread, thickness_m=0.025, oven="air_fryer").steps[0].duration == ""


CORED = recipe("oven", step(20, appliance="oven", set_point_c=180.0, core_c=74.0), start_c=20.0)
SAFE = {**CORED, "by_core": True, "start_c": 5.0}


@pytest.mark.parametrize("shape", ["slab", "cylinder", "sphere"])
@pytest.mark.parametrize("h", [8.0, 25.0, 100.0, 2000.0])
@pytest.mark.parametrize("around", [90.0, 130.0, 180.0])
@pytest.mark.parametrize(("new_start", "new_end"), [(5.0, 74.0), (20.0, 65.0), (20.0, 80.0), (5.0, 80.0)])
def test_another_start_or_core_lies_where_heat_led_inward_puts_it(
    shape: str, h: float, around: float, new_start: float, new_end: float
) -> None:
    # The whole series, of whatever surroundings the food feels below its oven’s air.
    piece = Piece(shape, 0.02)  # type: ignore[arg-type]
    was = time_to_target(piece, 74.0, 20.0, around, h, 0.45, 1.4e-7)
    now = time_to_target(piece, new_end, new_start, around, h, 0.45, 1.4e-7)
    told = core_time(was, start_c=20.0, end_c=74.0, new_start_c=new_start, new_end_c=new_end, around_c=180.0)
    assert told.low * 0.97 <= now <= told.high * 1.03


def test_from_the_fridge_takes_longer_and_from_room_warmth_shorter() -> None:
    cold = fit_recipe(CORED, start="fridge")
    assert cold.total_s > CORED["total_s"]
    assert "from 20 to 74 °C" in told(cold)
    assert "The core decides" in told(cold)
    assert fit_recipe({**CORED, "start_c": 5.0}, start="room").total_s < CORED["total_s"]
    assert fit_recipe(CORED, start="room").steps[0].duration == "", "as ours was"


def test_food_that_can_hurt_is_never_warmed_before_nor_ended_lower() -> None:
    warm = fit_recipe(SAFE, start="room")
    assert warm.total_s == SAFE["total_s"]
    assert "kept cold until it is cooked" in told(warm)
    raw = fit_recipe(SAFE, core_c=60.0)
    assert raw.total_s == SAFE["total_s"]
    assert raw.steps[0].until == ""
    assert "no lower core than 74 °C" in told(raw)
    more = fit_recipe(SAFE, core_c=80.0)
    assert more.total_s > SAFE["total_s"]
    assert more.steps[0].until == "until the core reads 80 °C (176 °F)"


@pytest.mark.parametrize("core", [40.0, 55.0, 65.0, 80.0, 90.0, 99.0])
@pytest.mark.parametrize("start", ["", "fridge", "room"])
@pytest.mark.parametrize("one", [CORED, SAFE])
def test_a_hotter_core_never_takes_less_and_a_colder_start_never_either(
    one: dict[str, Any], start: str, core: float
) -> None:
    found = fit_recipe(one, start=start, core_c=core)
    assert found.total_s <= fit_recipe(one, start=start, core_c=min(99.0, core + 5)).total_s + 1e-6
    assert found.total_s <= fit_recipe(one, start="fridge", core_c=core).total_s + 1e-6
    if one["by_core"]:
        assert found.total_s >= one["total_s"] - 1e-6


def test_what_another_start_does_is_not_guessed() -> None:
    for of in (OVEN, {**CORED, "start_c": None}, {**CORED, "technique": "microwave"}):
        found = fit_recipe(of, start="fridge")
        assert found.total_s == of["total_s"]
        assert "Not carried over" in told(found)
    second = recipe("oven", *OVEN["steps"], *CORED["steps"], start_c=20.0)
    assert fit_recipe(second, start="fridge").steps[1].duration == "", "it was warm already"
    assert asked_by([CORED])[:2] == ("core", "start")
    assert "start" not in asked_by([OVEN])

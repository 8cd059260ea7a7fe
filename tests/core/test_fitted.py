"""A page's recipe in a reader's kitchen: figures by hand, and what must hold whatever is said."""

from itertools import pairwise
from typing import Any

import pytest

from yeasty.core.heat.steam import boiling_point, pressure_time
from yeasty.core.publish.fitted import PRESSURE_PA, Fitted, fit_recipe
from yeasty.core.publish.reader import OVENS, asked_by, read_kitchen
from yeasty.core.workbench.rules import Hot, hot_air, thickness_time


def step(minutes: float = 10, **more: Any) -> dict[str, Any]:
    s = 60.0 * minutes
    return {
        "what": "Cook", "phase": "cook", "during": "", "duration_s": s, "low_s": s, "high_s": s,
        "duration": "10 min", "temperature": "", "appliance": "", "set_point_c": None, "power_w": None,
        "core_c": None, "during_s": None, **more,
    }  # fmt: skip


def recipe(technique: str, *steps: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {
        "technique": technique, "thickness_m": None, "altitude_m": 0.0, "by_core": False,
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

"""Microwave, frying, preheat, drying."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.heat.drying import Page, fit_page, target_weight
from yeasty.core.heat.frying import Fryer, FryLoad, fat_after_loading, headroom, largest_load, oil_taken_up
from yeasty.core.heat.microwave import (
    WaterRun,
    check_times,
    real_power,
    run_power,
    share_of_input,
    standing_time,
    time_at_power,
    time_for_load,
)
from yeasty.core.heat.preheat import duty_cycle, duty_of_swings, fit_offset, fit_preheat
from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import OutOfRange, Refused, RuleError


# Microwave
def test_the_water_test_counts_the_vessel() -> None:
    bare = WaterRun(1.0, 20, 30, 60)
    assert run_power(replace(bare, vessel_kg=0.5)) == pytest.approx(run_power(bare) + 0.5 * 830 * 10 / 60)


@given(power=st.floats(300, 1100), kg=st.floats(0.4, 2), seconds=st.floats(40, 120))
@settings(max_examples=50)
def test_the_water_test_finds_the_power_that_heated_it(power: float, kg: float, seconds: float) -> None:
    rise = power * seconds / (kg * 4187)
    if 2 < rise < 55:
        assert run_power(WaterRun(kg, 20, 20 + rise, seconds)) == pytest.approx(power)


def test_more_runs_make_it_surer_and_runs_that_differ_do_not() -> None:
    one = real_power([WaterRun(1, 20, 30, 60)]).power
    three = real_power([WaterRun(1, 20, 30, 60)] * 3).power
    apart = real_power([WaterRun(1, 20, r, 60) for r in (28.5, 30, 31.5)]).power
    assert three.high - three.low < one.high - one.low < apart.high - apart.low


def test_the_water_test_refuses_what_tells_nothing() -> None:
    for run, word in (
        (WaterRun(1, 20, 21, 60), "less than 2 K"),
        (WaterRun(1, 20, 95, 600), "vapour"),
        (WaterRun(1, 30, 20, 60), "less than 2 K"),
        (WaterRun(0, 20, 30, 60), "mass of water"),
        (WaterRun(1, 68, 86, 60), "temperature before"),
        (WaterRun(1, 20, float("nan"), 60), "nan"),
    ):
        with pytest.raises(RuleError, match=word):
            real_power([run])


def test_power_known_with_a_range_gives_a_time_with_a_range() -> None:
    t = time_at_power(150, Ranged(800, 800, 800, ""), Ranged(700, 650, 750, "water test"))
    assert t.low < t.value < t.high
    assert t.value * 700 == pytest.approx(150 * 800)


@given(ratio=st.floats(0.3, 3.5))
@settings(max_examples=40)
def test_twice_the_load_needs_more_but_less_than_twice(ratio: float) -> None:
    t = time_for_load(200, load_kg=0.4, new_load_kg=0.4 * ratio)
    assert t.low <= t.value <= t.high
    assert min(1, ratio) * 200 - 1e-9 <= t.value <= max(1, ratio) * 200 + 1e-9


def test_looks_begin_early_and_end_after_the_late_end() -> None:
    looks = check_times(Ranged(300, 240, 380, ""))
    assert looks[0] == 240
    assert looks[-1] >= 380
    assert standing_time(0.4, 0.03).value > standing_time(0.4, 0.015).value
    with pytest.raises(RuleError, match="more than"):
        share_of_input(900, 800)


# Frying
FRYER = Fryer(2.6, 1700, 175)


def test_a_larger_load_drops_the_fat_further_and_more_fat_less() -> None:
    lows = [fat_after_loading(FRYER, FryLoad(m)).lowest_c for m in (0.3, 0.9, 1.5)]
    assert lows == sorted(lows, reverse=True)
    assert fat_after_loading(replace(FRYER, fat_kg=5.2), FryLoad(1.5)).lowest_c > lows[2]


def test_the_largest_load_keeps_the_limit_and_a_little_more_does_not() -> None:
    most = largest_load(FRYER, FryLoad(0.1), 160)
    assert fat_after_loading(FRYER, FryLoad(most.value)).lowest_c == pytest.approx(160, abs=0.5)
    assert fat_after_loading(FRYER, FryLoad(most.value * 1.1)).lowest_c < 160


def test_fat_above_the_limit_or_foam_at_the_rim_is_told() -> None:
    assert "Too full" in headroom(0.006, 0.003, 0.2, limit_share=0.33).sentence
    assert "foam" in headroom(0.003, 0.0018, 0.5, limit_share=0.7).sentence
    with pytest.raises(RuleError, match="ice in hot fat"):
        fat_after_loading(FRYER, FryLoad(0.3, start_c=-1))
    with pytest.raises(RuleError, match="not below the set point"):
        largest_load(FRYER, FryLoad(0.3), 180)


def test_oil_taken_up_is_what_is_missing_and_never_below_none() -> None:
    assert oil_taken_up(2.65, 2.60).value == pytest.approx(0.05)
    assert oil_taken_up(2.65, 2.651).value == 0
    with pytest.raises(RuleError, match="more than before"):
        oil_taken_up(2.65, 2.70)


# Preheat
def test_a_noisy_preheat_gives_back_its_time_constant_and_time_to_target() -> None:
    rng = np.random.default_rng(3)
    t = np.arange(0.0, 900, 10)
    held = 0
    for _ in range(30):
        y = 21 + 270 * (1 - np.exp(-np.maximum(t - 25, 0) / 420)) + rng.normal(0, 1, len(t))
        p = fit_preheat(t, y)
        held += p.tau_range_s[0] <= 420 <= p.tau_range_s[1]
        assert p.time_to(180).value == pytest.approx(25 + 420 * np.log(270 / 111), rel=0.05)
    assert held >= 22


def test_what_the_thermostat_does_afterwards_is_left_out() -> None:
    t = np.arange(0.0, 1800, 10)
    y = np.minimum(21 + 270 * (1 - np.exp(-t / 420)), 200) - 6 * (t > 700) * np.abs(np.sin(t / 60))
    assert fit_preheat(t, y).tau_s == pytest.approx(420, rel=0.2)


def test_preheat_logs_that_tell_nothing_are_refused() -> None:
    t = np.arange(0.0, 300, 10)
    with pytest.raises(Refused, match="rises by"):
        fit_preheat(t, 20 + 0.05 * t)
    with pytest.raises(RuleError, match="Sort"):
        fit_preheat(t[::-1], 20 + t)
    with pytest.raises(RuleError, match="readings"):
        fit_preheat(t[:5], 20 + t[:5] * 5)
    with pytest.raises(Refused, match="full power"):
        fit_preheat(np.arange(0.0, 900, 10), 20 + 150 * (1 - np.exp(-np.arange(0.0, 900, 10) / 200))).time_to(
            250
        )


@given(offset=st.floats(-40, 40), slope=st.floats(0.85, 1.15), wanted=st.floats(120, 240))
@settings(max_examples=50)
def test_the_setting_for_a_wanted_temperature_gives_it(offset: float, slope: float, wanted: float) -> None:
    curve = fit_offset([(s, 180 + offset + slope * (s - 180)) for s in (150.0, 180.0, 230.0)])
    assert curve.measured(curve.setting(wanted)) == pytest.approx(wanted, abs=1e-6)


def test_one_point_is_a_constant_offset_and_a_wrong_unit_is_noticed() -> None:
    assert fit_offset([(200, 188)]).setting(188) == pytest.approx(200)
    with pytest.raises(RuleError, match="80 K"):
        fit_offset([(200, 388)])


def test_duty_is_the_share_of_time_that_it_heats() -> None:
    assert duty_cycle([0, 10, 40], [1000, 0, 0], 1000) == pytest.approx(0.25)
    assert duty_of_swings(30, 90) == 0.25
    with pytest.raises(RuleError):
        duty_of_swings(0, 0)


# Drying
def test_the_dry_matter_stays() -> None:
    end = target_weight(1.0, 0.87, 0.12)
    assert end * (1 - 0.12) == pytest.approx(1.0 * (1 - 0.87))
    with pytest.raises(RuleError):
        target_weight(1.0, 0.5, 0.6)


def test_the_interval_of_the_drying_time_holds_as_often_as_it_says() -> None:
    rng = np.random.default_rng(8)
    held = total = 0
    for _ in range(120):
        true = Page(
            rng.uniform(5000, 20000), rng.uniform(0.8, 1.3), 1.0, 0.13, 0.0083, 0.0, 9, np.zeros((2, 2))
        )
        t = np.arange(0.0, true.scale_s * 1.2, true.scale_s * 0.12)
        w = true.weight(t) + np.concatenate(([0.0], rng.normal(0, 0.002, len(t) - 1)))
        goal = target_weight(1.0, 0.87, 0.35)
        fitted = fit_page(t, w, start_water=0.87).time_to(goal)
        exact = true.scale_s * (-np.log((goal - 0.1383) / (1 - 0.1383))) ** (1 / true.n)
        held += fitted.low <= exact <= fitted.high
        total += 1
    assert 0.82 <= held / total <= 0.98


@pytest.mark.parametrize(
    ("times", "weights", "water", "words"),
    [
        ([0, 60, 120], [1, 0.9, 0.8], 0.87, "four or more"),
        ([0, 60, 50, 120], [1, 0.9, 0.8, 0.7], 0.87, "does not rise"),
        ([0, 60, 120, 180], [1, 0.9, 0.95, 0.7], 0.87, "heavier"),
        ([0, 60, 120, 180], [1, 0.9, 0.5, 0.3], 0.5, "lost more"),
        ([0, 60, 120, 180], [1, 0.999, 0.998, 0.997], 0.87, "has gone"),
    ],
)
def test_weighings_that_cannot_be_are_told(
    times: list[float], weights: list[float], water: float, words: str
) -> None:
    with pytest.raises(RuleError, match=words):
        fit_page(times, weights, start_water=water)


def test_a_weight_lighter_than_it_can_get_is_refused() -> None:
    page = Page(9000, 1.1, 1.0, 0.13, 0.0083, 0.0, 9, np.zeros((2, 2)))
    with pytest.raises(Refused, match="is not between"):
        page.time_to(0.1)
    with pytest.raises(OutOfRange):
        target_weight(float("nan"), 0.8, 0.1)

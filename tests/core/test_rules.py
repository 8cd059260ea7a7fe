"""Rules used in the head, the kitchen's own records, yields."""

from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.workbench.own_records import Record, correct
from yeasty.core.workbench.rules import (
    Hot,
    Pan,
    another_pan,
    dose,
    hot_air,
    liquid_after,
    scaled_time,
    thickness_time,
    weight_time,
)
from yeasty.core.workbench.yields import Weights, balance, cost_per_portion, energy_used, shrink, yields


@given(mass=st.floats(0.03, 20), more=st.floats(1.01, 3))
@settings(max_examples=60)
def test_more_weight_never_takes_less_time(mass: float, more: float) -> None:
    a, b = (weight_time(m, first_s=1200, further_s=900) for m in (mass, min(30, mass * more)))
    assert a.value <= b.value
    assert a.low <= a.value <= a.high


def test_the_first_unit_counts_for_itself_and_each_further_for_less() -> None:
    assert weight_time(0.5, first_s=1200, further_s=900).value == 1200
    assert weight_time(2.0, first_s=1200, further_s=900).value == 1200 + 3 * 900


@given(ratio=st.floats(0.3, 3.9))
@settings(max_examples=40)
def test_scaling_there_and_back_returns(ratio: float) -> None:
    there = scaled_time(1000, mass_kg=1, new_mass_kg=ratio).value
    assert scaled_time(there, mass_kg=ratio, new_mass_kg=1).value == pytest.approx(1000)
    there = thickness_time(1000, thickness_m=0.02, new_thickness_m=0.02 * ratio).value
    assert thickness_time(there, thickness_m=0.02 * ratio, new_thickness_m=0.02).value == pytest.approx(1000)


def test_far_beyond_what_was_cooked_is_refused() -> None:
    with pytest.raises(Refused, match="measure instead"):
        scaled_time(1000, mass_kg=1, new_mass_kg=5)
    with pytest.raises(Refused, match="measure instead"):
        thickness_time(1000, thickness_m=0.01, new_thickness_m=0.05)


def test_a_large_biot_number_makes_thickness_count_more() -> None:
    few, many = (
        thickness_time(600, thickness_m=0.02, new_thickness_m=0.04, biot=b).value for b in (0.05, 50)
    )
    assert few < many <= 4 * 600


@pytest.mark.parametrize("a", list(Hot))
@pytest.mark.parametrize("b", list(Hot))
def test_between_ovens_there_and_back_returns_and_the_range_holds_the_value(a: Hot, b: Hot) -> None:
    there = hot_air(190, 1200, written_for=a, use=b)
    assert there.set_c.low <= there.set_c.value <= there.set_c.high
    assert there.time_s.low <= there.time_s.value <= there.time_s.high
    back = hot_air(there.set_c.value, there.time_s.value, written_for=b, use=a)
    assert (back.set_c.value, back.time_s.value) == (pytest.approx(190), pytest.approx(1200))


def test_another_pan_keeps_the_volume() -> None:
    old, new = Pan(0.06, diameter_m=0.20), Pan(0.05, length_m=0.30, width_m=0.20)
    change = another_pan(old, 0.03, 1500, new)
    assert change.depth_m * new.area() == pytest.approx(0.03 * old.area())
    assert change.time_s.value < 1500
    small = another_pan(new, 0.04, 1500, Pan(0.04, diameter_m=0.16))
    assert not small.fits
    assert "does not fit" in small.sentence
    with pytest.raises(RuleError, match="diameter"):
        another_pan(old, 0.03, 1500, Pan(0.05))


def test_dose_and_liquid() -> None:
    assert dose(2.0, 0.018).value == pytest.approx(0.036)
    left = liquid_after(1.2, Ranged(0.3, 0.2, 1.5, ""), 0.1)
    assert (left.value, left.low, left.high) == (pytest.approx(0.8), 0.0, pytest.approx(0.9))
    for wrong in (float("nan"), -1.0):
        with pytest.raises(RuleError, match="weight"):
            dose(wrong, 0.01)


# The kitchen's own records
RULE = Ranged(1000, 700, 1430, "a rule of thumb")


def test_few_records_stay_near_the_rule_and_many_go_to_the_data() -> None:
    values = [correct(RULE, [Record(1000, 1300)] * n).value.value for n in (0, 1, 3, 30)]
    assert values == sorted(values)
    assert values[0] == 1000
    assert 1000 < values[1] < 1290
    assert values[3] == pytest.approx(1300, rel=0.02)
    assert [correct(RULE, [Record(1000, 1300)] * n).records for n in (0, 1, 3, 30)] == [0, 1, 3, 30]


def test_simulated_shifts_teach_nothing() -> None:
    assert correct(RULE, [Record(1000, 1300, simulated=True)] * 9).value == RULE


def test_records_make_the_range_narrower_until_it_is_the_spread_of_cooking() -> None:
    widths = [correct(RULE, [Record(1000, 1000 * f) for f in (0.95, 1.05)] * n).value for n in (1, 4, 16)]
    shares = [w.high / w.low for w in widths]
    assert shares == sorted(shares, reverse=True)
    assert shares[-1] > 1.1


@given(factors=st.lists(st.floats(0.5, 2), min_size=1, max_size=8))
@settings(max_examples=60)
def test_a_correction_lies_between_rule_and_data(factors: list[float]) -> None:
    import math

    got = correct(RULE, [Record(1000, 1000 * f) for f in factors])
    mean = math.exp(sum(math.log(f) for f in factors) / len(factors))
    assert min(1, mean) - 1e-9 <= got.factor <= max(1, mean) + 1e-9
    assert got.value.low <= got.value.value <= got.value.high


def test_a_record_of_nothing_is_told() -> None:
    with pytest.raises(RuleError, match="record"):
        correct(RULE, [Record(1000, 0)])


# Yield, energy, cost
def test_yields_say_which_weight_is_missing() -> None:
    y = yields(Weights(raw=0.5, prepared=0.4, cooked=0.3))
    assert (y.cooked, y.prepared, y.drained) == (pytest.approx(0.75), pytest.approx(0.8), None)
    assert y.missing == ("drained", "edible")


def test_the_balance_closes_or_says_what_is_unaccounted_for() -> None:
    closed = balance(Weights(prepared=0.4, cooked=0.36, drip=0.02, rendered_fat=0.02))
    assert closed.closes
    lost = balance(Weights(prepared=0.4, cooked=0.32, drip=0.02))
    assert lost.unaccounted_kg == pytest.approx(0.06)
    assert "evaporated" in lost.sentence
    fried = balance(Weights(prepared=0.36, cooked=0.37, fat_taken_up=0.036))
    assert fried.unaccounted_kg == pytest.approx(0.026)
    soaked = balance(Weights(prepared=0.25, cooked=0.55))
    assert "taken up" in soaked.sentence
    with pytest.raises(RuleError, match="weights"):
        balance(Weights(prepared=0.25))


def test_shrink_by_length_and_area() -> None:
    assert shrink(0.1, 0.09) == pytest.approx(0.1)
    assert shrink(0.1, 0.09, dimensions=2) == pytest.approx(0.19)
    with pytest.raises(RuleError):
        shrink(0, 0.1)


def test_the_meter_comes_before_reckoning() -> None:
    assert energy_used(metered_j=1e6, input_w=1000, duty=0.5, time_s=60).how == "metered"
    assert energy_used(input_w=1000, duty=0.5, time_s=60).joule == 30000
    with pytest.raises(RuleError, match="not metered"):
        energy_used(input_w=1000)


def test_cost_is_for_what_can_be_eaten() -> None:
    assert cost_per_portion(Decimal("3.00"), 3.6e6, Decimal("0.30"), 1.1, 0.22) == Decimal("0.6600")
    with pytest.raises(RuleError, match="price per kWh"):
        cost_per_portion(Decimal("3.00"), 3.6e6, None, 1.1, 0.22)

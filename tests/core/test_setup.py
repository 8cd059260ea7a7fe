from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.heat.conversions import microwave_time
from yeasty.core.kernel.errors import OutOfRange
from yeasty.core.kernel.steps import Attention, Phase, Step
from yeasty.core.setup.allergens import union
from yeasty.core.setup.appliances import Appliance, check_appliance, rounds_needed
from yeasty.core.setup.claimed import sentence
from yeasty.core.setup.differences import MethodFacts, differences
from yeasty.core.setup.offers import Measured, offers
from yeasty.core.workbench.own_records import Record

COOK = Step("c", "Bake", Attention.FREE, Phase.COOK, 600, set_point_c=200)
REST = Step("r", "Rest", Attention.FREE, Phase.WAIT, 300)
BASE = MethodFacts("OV", "Oven", 0.36, 0.06, 20, {"oil": 0.01, "flour": 0.2}, (COOK, REST))


def fields(a: MethodFacts, b: MethodFacts) -> set[str]:
    return {d.field for d in differences([a, b], [])}


def test_the_same_in_other_units_is_no_difference() -> None:
    assert fields(replace(BASE, batch_kg=0.45359237), replace(BASE, tag="AF", batch_kg=0.454)) == set()


def test_an_extra_rest_and_oil_in_one_arm_are_found() -> None:
    other = replace(BASE, tag="AF", amounts={"flour": 0.2}, steps=(COOK, replace(REST, duration_s=600)))
    assert fields(BASE, other) == {"rest", "amount of oil"}


@given(st.sampled_from(["batch_kg", "piece_kg", "start_c"]), st.floats(1.1, 3))
def test_a_difference_added_is_always_found(field: str, factor: float) -> None:
    assert len(fields(BASE, replace(BASE, tag="AF", **{field: getattr(BASE, field) * factor}))) == 1


@given(st.permutations(["OV", "AF", "DF"]))
def test_permuting_methods_changes_nothing(order: list[str]) -> None:
    by_tag = {"OV": BASE, "AF": replace(BASE, tag="AF", start_c=5), "DF": replace(BASE, tag="DF")}
    found = differences([by_tag[t] for t in order], [])
    assert [(d.field, d.signature, dict(d.values)) for d in found] == [
        (d.field, d.signature, dict(d.values)) for d in differences(list(by_tag.values()), [])
    ]


def test_what_was_accepted_lapses_when_the_values_change() -> None:
    a = differences([BASE, replace(BASE, tag="AF", start_c=5)], [])[0]
    b = differences([BASE, replace(BASE, tag="AF", start_c=6)], [])[0]
    assert a.field == b.field
    assert a.signature != b.signature


def test_varied_fields_come_last_and_are_not_doubts() -> None:
    found = differences([BASE, replace(BASE, tag="AF", technique="Air fryer", start_c=5)], ["technique"])
    assert [(d.field, d.varied) for d in found] == [("start temperature", False), ("technique", True)]
    assert "slipped in (rest)" in sentence(["rest"], 0, 1)
    assert sentence([], 1, 2).startswith("Fair")


def test_microwave_time_keeps_energy() -> None:
    assert microwave_time(210, rated_w=800, actual_w=700) == pytest.approx(240)
    with pytest.raises(OutOfRange):
        microwave_time(60, rated_w=800, actual_w=50)


@given(st.floats(10, 900), st.floats(200, 1500), st.floats(200, 1500))
def test_microwave_conversion_there_and_back(seconds: float, a: float, b: float) -> None:
    there = microwave_time(seconds, rated_w=a, actual_w=b)
    assert there * b == pytest.approx(seconds * a)
    assert microwave_time(there, rated_w=b, actual_w=a) == pytest.approx(seconds)


def test_the_measured_power_is_offered_before_the_label() -> None:
    step = Step("m", "Microwave", Attention.FREE, Phase.COOK, 210, power_w=800)
    oven = Appliance("a", "Microwave", "microwave", 1250, 800, 700)
    offer = offers(step, oven, Measured(), 0, {})[0]
    assert offer.offered.value == pytest.approx(240)
    assert "(measured)" in offer.source
    tested = offers(step, oven, Measured(power={"power_w": 700, "low_w": 680, "high_w": 720}), 0, {})[0]
    assert tested.offered.high - tested.offered.low < offer.offered.high - offer.offered.low
    assert offers(replace(step, power_w=700), oven, Measured(), 0, {}) == []
    assert offers(step, replace(oven, kind="oven"), Measured(), 0, {}) == []


def test_the_setting_that_gives_what_is_written_is_offered_and_its_own_preheat() -> None:
    bake = Step("b", "Bake", Attention.FREE, Phase.COOK, 900, set_point_c=200)
    oven = Appliance("o", "Oven", "oven", 3000, offset_k=-12)
    setting = offers(bake, oven, Measured(), 0, {})[0]
    assert setting.offered.value == 212
    taken = replace(bake, set_point_c=212, dial_for_c=setting.also["dial_for_c"])
    assert offers(taken, oven, Measured(), 0, {}) == []
    points = Measured(offset={"intercept_c": -10, "slope": 0.99, "low_c": 150, "high_c": 230})
    assert offers(bake, oven, points, 0, {})[0].offered.value == pytest.approx(212, abs=1)
    assert offers(bake, replace(oven, offset_k=1.0), Measured(), 0, {}) == []
    heat = Step("p", "Preheat", Attention.FREE, Phase.COME_UP, 900, set_point_c=200)
    own = Measured(preheat={"start_c": 20, "full_c": 280, "tau_s": 800, "dead_s": 30})
    found = {o.rule: o for o in offers(heat, replace(oven, offset_k=None), own, 0, {})}
    assert found["preheat"].offered.value > 900
    slower = offers(heat, replace(oven, offset_k=None), own, 0, {"preheat": [Record(900, 1100)] * 3})[0]
    assert slower.offered.value > found["preheat"].offered.value
    assert slower.records == 3


def test_altitude_is_offered_to_pressure_cookers_from_where_it_counts() -> None:
    cook = Step("c", "Cook at pressure", Attention.FREE, Phase.COOK, 780)
    pot = Appliance("p", "Pot", "pressure_cooker", 1000)
    assert offers(cook, pot, Measured(), 100, {}) == []
    higher = offers(cook, pot, Measured(), 1600, {})[0]
    assert higher.offered.value > 900
    assert (
        offers(replace(cook, duration_s=higher.offered.value, for_altitude_m=1600), pot, Measured(), 1600, {})
        == []
    )


def test_output_above_input_cannot_be() -> None:
    wrong = check_appliance(
        Appliance("a", "M", "microwave", input_w=700, rated_w=900, offset_k=200, capacity_pieces=0)
    )
    assert {w.field for w in wrong} == {"rated output", "offset", "capacity"}


def test_rounds_and_allergens() -> None:
    assert rounds_needed(12, 5) == 3
    assert union([["milk"], [], ["egg", "milk"]]) == ("egg", "milk")

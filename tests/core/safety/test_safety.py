"""Lethality, core minima, the safety clock, contact, circuits, the gate, cautions."""

import csv
import itertools
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.ask.techniques import techniques
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.kernel.steps import Phase
from yeasty.core.safety.cautions import at_phase, cautions, hazards_of, keeps_from_publishing, limits
from yeasty.core.safety.circuits import Circuit, Heating, circuit_loads
from yeasty.core.safety.clock import Reading, judge_cooling, strictest_zone, zone_time, zones
from yeasty.core.safety.contact import Use, contact_prompts
from yeasty.core.safety.core_minimum import (
    Changed,
    CoreStanding,
    authorities,
    check_change,
    food_classes,
    held_at,
    judge_core,
    requirements,
)
from yeasty.core.safety.gate import gate
from yeasty.core.safety.lethality import (
    equivalent_time,
    equivalents,
    hold_needed,
    listeria,
    log_reductions,
    tabled_share,
)
from yeasty.operations.safety.batches import life_of

SHIPPED = Path(__file__).parents[3] / "yeasty" / "core" / "safety" / "limits.csv"
REFERENCE = Path(__file__).parents[2] / "reference" / "safety_limits.csv"


def test_the_limits_shipped_are_those_given_and_each_has_a_status() -> None:
    assert list(csv.DictReader(SHIPPED.read_text().splitlines())) == list(
        csv.DictReader(REFERENCE.read_text().splitlines())
    )
    assert {row.status for row in limits().values()} == {"recalled"}


# Lethality
@pytest.mark.parametrize(("celsius", "table_s"), equivalents())
def test_each_equivalent_asks_for_what_the_model_asks_or_up_to_a_fifth_more(
    celsius: float, table_s: float
) -> None:
    model = listeria()
    model_s = 6 * model.d_s * 10 ** ((model.reference_c - celsius) / model.z_k)
    assert model_s <= table_s * (1 + 1e-9)
    assert table_s <= 1.2 * model_s


def test_two_minutes_at_seventy_are_six_decimal_reductions() -> None:
    assert log_reductions([0, 120], [70, 70], listeria()) == pytest.approx(6)


curves = st.lists(st.floats(20, 95), min_size=3, max_size=12)


@given(curve=curves, hotter=st.floats(0, 10), longer=st.floats(1, 3))
@settings(max_examples=80)
def test_hotter_or_longer_never_lowers_lethality(curve: list[float], hotter: float, longer: float) -> None:
    t = np.arange(len(curve)) * 60.0
    base = equivalent_time(t, curve, reference_c=70, z_k=7.5)
    assert equivalent_time(t, [c + hotter for c in curve], reference_c=70, z_k=7.5) >= base * (1 - 1e-9)
    assert equivalent_time(t * longer, curve, reference_c=70, z_k=7.5) >= base * (1 - 1e-9)
    share = tabled_share(t, curve)
    assert tabled_share(t, [c + hotter for c in curve]) >= share * (1 - 1e-9)
    assert tabled_share(t * longer, curve) >= share * (1 - 1e-9)


@given(curve=curves, cut=st.integers(1, 10))
@settings(max_examples=60)
def test_lethality_adds_up_and_more_readings_on_a_line_change_nothing(curve: list[float], cut: int) -> None:
    t = np.arange(len(curve)) * 60.0
    whole = equivalent_time(t, curve, reference_c=70, z_k=7.5)
    n = min(cut, len(curve) - 1)
    parts = equivalent_time(t[: n + 1], curve[: n + 1], reference_c=70, z_k=7.5) + equivalent_time(
        t[n:], curve[n:], reference_c=70, z_k=7.5
    )
    assert parts == pytest.approx(whole, rel=1e-9, abs=1e-12)
    fine = np.linspace(0, t[-1], 60 * (len(curve) - 1) + 1)
    assert equivalent_time(fine, np.interp(fine, t, curve), reference_c=70, z_k=7.5) == pytest.approx(
        whole, rel=1e-6, abs=1e-12
    )


def test_the_closed_form_is_the_integral() -> None:
    t = np.linspace(0, 600, 6001)
    rate = 10 ** ((np.interp(t, [0, 600], [55, 80]) - 70) / 7.5)
    sums = float(np.sum((rate[1:] + rate[:-1]) / 2 * np.diff(t)))
    assert equivalent_time([0, 600], [55, 80], reference_c=70, z_k=7.5) == pytest.approx(sums, rel=1e-5)


def test_nothing_is_read_below_the_table() -> None:
    with pytest.raises(Refused, match="lowest in the table"):
        hold_needed(59.9)
    assert tabled_share([0, 86400], [59.9, 59.9]) == 0
    assert hold_needed(62.5) == pytest.approx((2700 * 600) ** 0.5)


def test_a_log_going_back_is_told() -> None:
    with pytest.raises(RuleError, match="goes back"):
        equivalent_time([0, 60, 30], [70, 70, 70], reference_c=70, z_k=7.5)
    with pytest.raises(RuleError, match="core temperature"):
        equivalent_time([0, 60], [70, float("nan")], reference_c=70, z_k=7.5)


# Core minima
def test_no_reading_is_not_known_and_never_met() -> None:
    for food in food_classes():
        standing = judge_core(requirements(food), [], []).standing
        assert standing is (
            CoreStanding.NOT_NEEDED if food in ("plant", "baked", "shelf_stable") else CoreStanding.UNKNOWN
        )


@given(
    curve=curves,
    food=st.sampled_from([f for f in food_classes() if food_classes()[f].limits]),
    extra=st.floats(0.5, 10),
)
@settings(max_examples=80)
def test_a_stricter_profile_never_frees_a_sample(curve: list[float], food: str, extra: float) -> None:
    t = [60.0 * n for n in range(len(curve))]

    def met(asked: tuple) -> bool:  # type: ignore[type-arg]
        return judge_core(asked, t, curve).standing is CoreStanding.MEETS

    strict = met(requirements(food))
    for authority in authorities()[1:]:
        assert met(requirements(food, authority)) >= strict
    row = next(limits()[i] for i in food_classes()[food].limits if limits()[i].kind == "core_minimum")
    own = Changed(
        row.id,
        min(100.0, float(row.temperature_c) + extra),
        float(row.hold_s or 0),
        "our own stricter figure",
    )
    assert met(requirements(food, own=[own])) <= strict


@given(curve=curves, hotter=st.floats(0, 20))
@settings(max_examples=60)
def test_hotter_readings_never_close_what_was_open(curve: list[float], hotter: float) -> None:
    t = [60.0 * n for n in range(len(curve))]
    asked = requirements("whole_cut")
    if judge_core(asked, t, curve).standing is CoreStanding.MEETS:
        assert judge_core(asked, t, [c + hotter for c in curve]).standing is CoreStanding.MEETS


def test_hot_enough_but_not_seen_to_stay_is_not_known() -> None:
    asked = requirements("whole_cut")
    assert judge_core(asked, [0], [66]).standing is CoreStanding.UNKNOWN
    assert (
        judge_core(asked, [0, 3600], [66, 66]).standing is CoreStanding.UNKNOWN
    )  # an hour without a reading between
    assert judge_core(asked, [60.0 * n for n in range(15)], [66.0] * 15).standing is CoreStanding.MEETS
    assert judge_core(asked, [0], [58]).standing is CoreStanding.BELOW


def test_a_sentence_says_meets_the_figure_entered_and_never_safe() -> None:
    said = judge_core(requirements("poultry"), [0, 60, 120], [80, 80, 80]).sentence
    assert "Meets the figure entered" in said
    assert "recalled" in said
    assert "safe" not in said.lower()


def test_a_laxer_figure_is_known_as_one_and_needs_a_reason() -> None:
    lax = check_change(Changed("us-whole-cuts", 57, 180, "seared outside, served at once by house rule"))
    assert lax.laxer()
    assert any(r.laxer for r in requirements("whole_cut", own=[lax]))
    with pytest.raises(RuleError, match="reason"):
        check_change(Changed("us-whole-cuts", 57, 180, "why not"))
    with pytest.raises(RuleError, match="limit"):
        check_change(Changed("uk-zone", 57, 180, "not a core minimum at all"))


def test_held_at_takes_the_longest_unbroken_time() -> None:
    assert held_at([0, 60, 120, 180, 240], [70, 60, 70, 70, 70], 63) == pytest.approx(120 + 60 * 0.7)


# Clock
def test_the_strictest_zone_is_the_widest_and_shortest() -> None:
    z = strictest_zone()
    for other in zones():
        assert z.cold_c <= other.cold_c
        assert z.hot_c >= other.hot_c
        assert other.use_s is None or (z.use_s or 0) <= other.use_s
    with pytest.raises(RuleError, match="not more"):
        strictest_zone(8000)
    assert strictest_zone(3600).use_s == 3600


@given(
    temps=st.lists(st.one_of(st.none(), st.floats(0, 90)), min_size=1, max_size=8), wait=st.floats(0, 7200)
)
@settings(max_examples=80)
def test_time_between_cold_and_hot_only_grows_and_unknown_counts(
    temps: list[float | None], wait: float
) -> None:
    life = [Reading(600.0 * n, c) for n, c in enumerate(temps)]
    z = strictest_zone()
    now = life[-1].at
    first = zone_time(life, now, z)
    later = zone_time(life, now + wait, z)
    assert later.spent_s >= first.spent_s - 1e-9
    assert first.spent_s <= now + 1e-9
    blind = zone_time([Reading(r.at, None) for r in life], now, z)
    assert blind.spent_s >= first.spent_s - 1e-9


def test_time_out_and_back_in_the_cold_is_added_up() -> None:
    life = [Reading(0, 15), Reading(3600, 15), Reading(3601, 3), Reading(7200, 3), Reading(7201, 15)]
    found = zone_time(life, 7201 + 3000, strictest_zone())
    assert found.spent_s == pytest.approx(3600 + 3000, abs=5)
    assert zone_time(life, 7201 + 4000, strictest_zone()).late == "discard"


def test_food_that_was_read_hot_once_it_was_out_does_not_stay_hot() -> None:
    zone = strictest_zone()
    # Out at noon, read 96 °C a minute later; nobody looked again.
    life = life_of("plant", [], [(60.0, 96.0)], 0.0, zone.hot_c)
    assert zone_time(life, 3600, zone).late == ""
    assert zone_time(life, 3 * 3600, zone).late == "discard"
    assert zone_time(life, 18 * 86400, zone).guessed
    # Read hot every half hour it was held hot; from the last look on it counts.
    held = life_of("plant", [], [(1800.0 * n, 75.0) for n in range(1, 7)], 0.0, zone.hot_c)
    assert zone_time(held, 3 * 3600 + 600, zone).late == ""
    assert zone_time(held, 6 * 3600, zone).late == "discard"
    # Read cold, it is kept: what the fridge does is seen by its own readings.
    kept = life_of("plant", [], [(600.0, 70.0), (4000.0, 3.0)], 0.0, zone.hot_c)
    assert zone_time(kept, 86400, zone).late == ""


def test_cooling_in_two_stages() -> None:
    assert judge_cooling([0, 7000, 20000], [60, 20, 5]).standing == "met"
    assert judge_cooling([0, 7000], [60, 20]).standing == "not known"
    assert judge_cooling([0, 7300, 20000], [57, 25, 5]).standing == "not met"
    assert judge_cooling([0, 25000], [57, 20]).standing == "not met"
    assert judge_cooling([0, 600], [40, 20]).standing == "not known"


# Contact
def test_one_probe_from_raw_to_ready_is_prompted_unless_washed() -> None:
    uses = [
        Use(0, "probe", "a", False, "poultry"),
        Use(100, "probe", "a", True, "poultry"),
        Use(200, "tongs", "b", True, "poultry"),
    ]
    assert [(p.thing, p.at) for p in contact_prompts(uses)] == [("probe", 100)]
    assert contact_prompts(uses, [(50, "probe")]) == []
    assert (
        contact_prompts([Use(0, "probe", "a", False, "plant"), Use(9, "probe", "b", True, "poultry")]) == []
    )


# Circuits
@given(
    watts=st.lists(st.floats(300, 3500), min_size=1, max_size=6),
    breaker=st.sampled_from([10.0, 13.0, 16.0, 20.0, 32.0]),
)
@settings(max_examples=60)
def test_a_circuit_counts_the_full_input_of_all_that_may_heat_at_once(
    watts: list[float], breaker: float
) -> None:
    heatings = [Heating(f"a{n}", f"A{n}", "B", w, 100.0 * n, 100.0 * n + 150) for n, w in enumerate(watts)]
    load = circuit_loads(heatings, {"B": Circuit("B", breaker, 230)})[0]
    pairs = [a + b for a, b in itertools.pairwise(watts)] or watts
    assert load.drawn_w == pytest.approx(max([*pairs, *watts]))
    assert load.over == (load.drawn_w > breaker * 230 * 0.9)


def test_unknown_input_or_breaker_is_said_and_a_shared_appliance_counts_once() -> None:
    twice = [Heating("oven", "Oven", "A", 3000, 0, 100), Heating("oven", "Oven", "A", 3000, 50, 200)]
    assert circuit_loads(twice, {})[0].drawn_w == 3000
    assert "breaker is not entered" in circuit_loads(twice, {})[0].sentence
    lamp = [Heating("x", "Steamer", "A", None, 0, 100)]
    assert "counts as not met" in circuit_loads(lamp, {"A": Circuit("A", 16, 230)})[0].sentence
    with pytest.raises(RuleError, match="breaker"):
        circuit_loads(twice, {"A": Circuit("A", 0, 230)})


# Gate
def test_unknown_food_or_core_bars_until_the_lead_owns_it() -> None:
    nothing = judge_core(requirements("poultry"), [], [])
    assert not gate(True, nothing, None).open
    assert not gate(False, None, None).open
    owned = gate(True, nothing, None, owned="read with a second probe, written on paper: 78 °C")
    assert owned.open
    assert owned.tells


def test_food_past_the_time_stays_barred_even_if_owned() -> None:
    late = zone_time([Reading(0, 21), Reading(3 * 3600, 21)], 3 * 3600, strictest_zone())
    guessed = zone_time([Reading(0, None)], 3 * 3600, strictest_zone())
    assert gate(
        True, judge_core((), [], []), guessed, owned="it stood in the cold room, only nobody wrote it down"
    ).open
    assert not gate(True, judge_core((), [], []), late, owned="we are hungry and it looks fine").open


# Cautions
def test_every_hazard_has_words_a_source_and_a_phase() -> None:
    for c in cautions().values():
        assert c.severity in ("care", "danger")
        assert len(c.text) > 20
        assert c.source
        assert c.phases
    for technique in techniques().values():
        assert set(technique.hazards) <= set(cautions())


def test_food_and_ingredients_bring_their_hazards_to_the_step() -> None:
    hazards = hazards_of(["hot_oil"], "poultry", ["turkey, minced", "cooked rice"])
    assert {"core_poultry", "raw_contact", "rice_cooling"} <= set(hazards)
    assert "core_poultry" in {c.key for c in at_phase(hazards, Phase.COOK)}
    with pytest.raises(RuleError, match="not in the table"):
        at_phase(["lava"], Phase.COOK)


def test_what_is_never_for_publishing_and_what_needs_a_statement() -> None:
    assert keeps_from_publishing(["hot_oil"], "") == []
    assert "not for publishing" in str(
        keeps_from_publishing(["not_for_food"], "a long statement that helps nothing")[0]
    )
    assert keeps_from_publishing(["canning"], "")
    assert (
        keeps_from_publishing(
            ["canning"], "Tested process of the national extension service, jar of 500 ml, 11 min"
        )
        == []
    )


def on_ring(start: float, end: float) -> Heating:
    return Heating("hob", "Hob", "D", 7200, start, end, rings=4)


def test_each_vessel_draws_its_share_and_never_more_than_the_whole() -> None:
    assert [round(c.drawn_w) for c in circuit_loads([on_ring(0, 600)], {"D": Circuit("D", 32, 230)})] == [
        1800
    ]
    assert [
        round(c.drawn_w)
        for c in circuit_loads([on_ring(0, 600), on_ring(300, 900)], {"D": Circuit("D", 32, 230)})
    ] == [3600]
    assert [round(c.drawn_w) for c in circuit_loads([on_ring(0, 600)] * 6, {"D": Circuit("D", 32, 230)})] == [
        7200
    ]
    oven = Heating("oven", "Oven", "D", 3000, 0, 600)
    assert [round(c.drawn_w) for c in circuit_loads([oven, oven], {"D": Circuit("D", 32, 230)})] == [3000]

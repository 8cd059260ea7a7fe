"""Dealing pieces, places, differences and what they sway, jobs, readiness, substitution, what was really
done.
"""

from dataclasses import replace
from itertools import permutations
from math import log10

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.ask.trial import Attribute, DoneRule, Fairness, TrialKind
from yeasty.core.cook.as_done import done_facts
from yeasty.core.cook.measures import measures
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.scales import Scale
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step
from yeasty.core.kernel.words import plain
from yeasty.core.setup.allocation import all_dealings, allocate
from yeasty.core.setup.appliances import Appliance, Capacity, DialWord, capacity_for, check_appliance
from yeasty.core.setup.claimed import claim, claim_links, links, the_change
from yeasty.core.setup.composition import check_label, shares_of
from yeasty.core.setup.differences import MethodFacts, compare, differences
from yeasty.core.setup.job import job
from yeasty.core.setup.job import sentence as job_sentence
from yeasty.core.setup.labels import STOCKS, MapSheet, Tag, labels_html, maps_html
from yeasty.core.setup.places import (
    Place,
    Spot,
    VesselMap,
    dealt,
    fitting_places,
    hand_over,
    heat_at,
    problems,
    turned,
)
from yeasty.core.setup.readiness import checklist
from yeasty.core.setup.substitution import LotFacts, effects
from yeasty.core.setup.sways import Sway, check_sway, merged, pulls, shipped, weight

WEIGHTS = st.lists(st.floats(10, 100), min_size=4, max_size=60)


# Dealing


@settings(max_examples=40, deadline=None)
@given(WEIGHTS, st.integers(2, 6), st.integers(0, 10_000))
def test_every_piece_is_dealt_once_or_spare_and_groups_are_equal(
    weights: list[float], groups: int, seed: int
) -> None:
    if len(weights) < groups:
        weights = weights + [50.0] * groups
    a = allocate(weights, groups, seed, 0.05)
    dealt_out = [i for g in a.groups for i in g] + list(a.spare)
    assert sorted(dealt_out) == list(range(len(weights)))
    assert {len(g) for g in a.groups} == {len(weights) // groups}
    assert a.within == (a.deviation <= 0.05 * (1 + 1e-9) + 1e-12)
    means = [sum(weights[i] for i in g) / len(g) for g in a.groups]
    assert max(abs(m - sum(means) / groups) for m in means) / (sum(means) / groups) == pytest.approx(
        a.deviation
    )
    assert allocate(weights, groups, seed, 0.05).groups == a.groups


@settings(max_examples=20, deadline=None)
@given(st.integers(1, 12), st.integers(1, 12), st.integers(2, 4), st.integers(0, 99))
def test_strata_are_balanced_to_within_a_piece(outer: int, inner: int, groups: int, seed: int) -> None:
    kinds = ["outer"] * (outer + groups) + ["inner"] * (inner + groups)
    a = allocate([50.0 + i for i in range(len(kinds))], groups, seed, 0.5, kinds)
    for kind in ("outer", "inner"):
        counts = [sum(kinds[i] == kind for i in g) for g in a.groups]
        assert max(counts) - min(counts) <= 1


def test_two_hundred_pieces_into_eight_within_one_percent_and_twelve_into_four_as_near_as_can_be() -> None:
    from random import Random

    rng = Random(4)
    big = allocate([rng.gauss(60, 9) for _ in range(200)], 8, seed=1)
    assert big.within
    assert big.deviation <= 0.01
    assert big.log10_dealings > 100
    assert not big.few
    twelve = allocate([50.0 + 7 * i for i in range(12)], 4, seed=1, tolerance=0.0001)
    assert twelve.best_proven
    assert twelve.counted
    assert twelve.within or twelve.deviation == pytest.approx(twelve.best_deviation)


def test_what_is_counted_is_counted_right() -> None:
    """All dealings of equal pieces are within any tolerance: their number is known; so is that of a small
    case by hand.
    """
    assert allocate([1.0] * 9, 3, seed=1).dealings == all_dealings(9, 3) == 1680
    by_hand = 0
    w = [40.0, 45.0, 50.0, 55.0, 60.0, 70.0]
    middle = sum(w) / 2
    for order in permutations(range(6)):
        if list(order[:3]) == sorted(order[:3]) and list(order[3:]) == sorted(order[3:]):
            by_hand += abs(sum(w[i] for i in order[:3]) - middle) / 3 <= 0.05 * sum(w) / 6
    assert allocate(w, 2, seed=3, tolerance=0.05).dealings == by_hand


def test_the_estimate_of_a_walk_agrees_with_counting() -> None:
    """Forty pieces of two weights: the number of near-equal dealings is known by counting combinations."""
    from math import comb

    w = [50.0] * 20 + [60.0] * 20
    exact = sum(comb(20, k) * comb(20, 20 - k) for k in range(21) if abs(k - 10) * 10 / 20 / 55 <= 0.02)
    found = allocate(w, 2, seed=5, tolerance=0.02)
    assert not found.counted
    assert found.log10_dealings == pytest.approx(log10(exact), abs=0.3)


def test_every_admissible_dealing_is_as_likely_as_any_other() -> None:
    """Chi-square over 600 seeds, six pieces into two groups."""
    counts: dict[tuple[int, ...], int] = {}
    for seed in range(600):
        key = allocate([40.0, 45.0, 50.0, 55.0, 60.0, 70.0], 2, seed, 0.05).groups[0]
        counts[key] = counts.get(key, 0) + 1
    expected = 600 / len(counts)
    assert sum((n - expected) ** 2 / expected for n in counts.values()) < 3 * len(counts)


def test_spare_pieces_are_named_and_too_few_refused() -> None:
    a = allocate([50.0] * 36, 2, seed=1, each=16)
    assert {len(g) for g in a.groups} == {16}
    assert len(a.spare) == 4
    with pytest.raises(RuleError, match="Get 2 more"):
        allocate([50.0] * 10, 2, seed=1, each=6)
    with pytest.raises(RuleError, match="piece 2"):
        allocate([50.0, 0.0, 50.0], 2, seed=1)
    with pytest.raises(RuleError, match="strata"):
        allocate([50.0] * 4, 2, seed=1, strata=["a"])


# Differences

COOK = Step("c", "Bake", Attention.FREE, Phase.COOK, 600, set_point_c=200)
REST = Step("r", "Rest", Attention.FREE, Phase.WAIT, 300)
BASE = MethodFacts(
    "OV",
    "Oven",
    0.36,
    0.06,
    20,
    {"oil": 0.01, "flour": 0.2, "salt": 0.004},
    (COOK, REST),
    vessel="baking sheet",
    lid="uncovered",
    place="middle shelf",
    operator="A",
    pieces=6,
    capacity=12,
)
ADDED = {
    "vessel": "glass dish",
    "lid": "lid on",
    "place": "top shelf",
    "operator": "B",
    "batch_kg": 0.5,
    "start_c": 4.0,
    "piece_kg": 0.09,
    "thickness_m": 0.05,
    "pieces": 24,
    "dealt_kg": 0.08,
}


@pytest.mark.parametrize("field", list(ADDED))
def test_a_difference_added_anywhere_is_found(field: str) -> None:
    plainly = replace(BASE, thickness_m=0.04, dealt_kg=0.06)
    found = {d.field for d in differences([plainly, replace(plainly, tag="AF", **{field: ADDED[field]})], [])}
    assert found
    assert found <= {
        "vessel",
        "lid",
        "place",
        "operator",
        "weight per batch",
        "start temperature",
        "weight of a piece",
        "thickness of a piece",
        "pieces",
        "rounds",
        "mean weight of the pieces dealt",
    }


@pytest.mark.parametrize(
    ("change", "field"),
    [
        (replace(COOK, end_rule=EndRule.CORE, end_core_c=93), "end rule"),
        (replace(COOK, set_point_c=210), "set point"),
        (replace(COOK, appliance="a"), "appliance"),
        (replace(COOK, attention=Attention.WATCHED), "watched steps"),
    ],
)
def test_a_step_that_differs_is_found(change: Step, field: str) -> None:
    other = replace(BASE, tag="AF", steps=(change, REST), appliances={"a": "Air fryer"})
    assert [d.field for d in differences([BASE, other], [])] == [field]


def test_words_and_units_that_say_the_same_are_no_difference() -> None:
    other = replace(
        BASE,
        tag="AF",
        vessel="Tray",
        lid="Lid off",
        place="Middle  shelf",
        batch_kg=0.7936641432 * 0.45359237,
    )
    assert differences([BASE, other], []) == []
    assert differences([BASE, other], [], System.US) == []
    assert plain("Stovetop") == plain("hob")


@given(st.permutations(range(4)))
def test_the_order_of_methods_does_not_matter(order: list[int]) -> None:
    arms = [
        replace(BASE, tag=t, vessel=v, start_c=c)
        for t, v, c in (("OV", "tin", 4), ("AF", "tray", 20), ("DF", "tin", 20), ("MW", "", 12))
    ]
    first = differences(arms, [])
    again = differences([arms[i] for i in order], [])
    assert [(d.field, d.signature, dict(d.values)) for d in first] == [
        (d.field, d.signature, dict(d.values)) for d in again
    ]


def test_totals_are_worked_out_and_not_told_twice() -> None:
    more = replace(BASE, tag="AF", amounts={**BASE.amounts, "salt": 0.006})
    assert [d.field for d in differences([BASE, more], [])] == ["amount of salt"]
    hidden = replace(BASE, tag="AF", labels={"flour": {"salt": 0.02}})
    assert [d.field for d in differences([BASE, hidden], [])] == ["total salt"]
    salted = replace(
        BASE,
        tag="AF",
        amounts={"oil": 0.01, "flour": 0.2, "salt": 0.003, "soy paste": 0.01},
        labels={"soy paste": {"salt": 0.1}},
    )
    assert {d.field for d in differences([BASE, salted], [])} == {"amount of salt", "amount of soy paste"}


def test_with_an_end_by_state_time_is_a_result() -> None:
    other = replace(BASE, tag="AF", steps=(replace(COOK, duration_s=900), REST))
    assert differences([BASE, other], [], done_rule=DoneRule.BY_STATE)[0].result
    assert not differences([BASE, other], [], done_rule=DoneRule.BY_CLOCK)[0].result


def test_when_two_things_change_and_one_is_credited_it_says_so() -> None:
    said = claim(
        TrialKind.CHAMPION,
        Fairness.SAME_RECIPE,
        DoneRule.BY_CLOCK,
        ["preparation"],
        ["amount of flour"],
        [],
        "preparation",
    )
    assert "Two things change" in said
    assert "not to the preparation alone" in said
    assert "nothing can be credited" in claim(
        TrialKind.GRID, Fairness.SAME_RECIPE, DoneRule.BY_CLOCK, ["rest"], [], ["lid"]
    )
    assert "as a whole" in claim(
        TrialKind.SIDE_BY_SIDE, Fairness.EACH_AT_ITS_BEST, DoneRule.BY_STATE, ["technique"], ["rest"], []
    )


def test_versions_are_held_against_the_one_they_came_from() -> None:
    a, b = replace(BASE, tag="VA"), replace(BASE, tag="VB", lid="lid on")
    c = replace(b, tag="VC", vessel="tin", start_c=4)
    found = links([a, b, c], {"VB": "VA", "VC": "VB"})
    assert found == {"VB": ["lid"], "VC": ["start temperature", "vessel"]}
    assert the_change(found) == ["lid"]
    assert "VC changes two things at once" in claim_links(found)
    assert "differs in nothing" in claim_links({"VD": []})


def test_compositions_are_checked_and_looked_up() -> None:
    assert shares_of("whole milk")["liquid"] == 1.0  # type: ignore[index]
    assert shares_of("butter", {"fat": 0.6})["fat"] == 0.6  # type: ignore[index]
    for label in ({"fat": 0.8, "water": 0.4}, {"gold": 0.1}, {"fat": 1.5}):
        with pytest.raises(RuleError):
            check_label(label)


# What sways what


def test_a_difference_is_ordered_by_what_it_sways_and_never_hidden() -> None:
    crust = [Attribute("c", "Crust", Scale.INTENSITY, 3)]
    assert weight("vessel", crust, shipped()) > weight("rests", crust, shipped()) >= 0
    assert all((s.reason and s.status == "kitchen practice") or s.status == "conduction" for s in shipped())
    ours = merged([Sway("vessel", ("crust",), 0, "all our vessels are alike", "this kitchen")])
    assert pulls("vessel", crust, ours)[0].strength == 0
    assert pulls("vessel", [Attribute("u", "Underside", Scale.INTENSITY)], ours)[0].strength == 3
    assert pulls("amount of butter", [Attribute("l", "Liking", Scale.LIKING)], shipped())
    with pytest.raises(RuleError, match="strength"):
        check_sway("vessel", ["crust"], 7, "because")


# Places

TRAY = VesselMap("tray", 0.38, 0.30, 0.05, 0.01, spots=(Spot(0.05, 0.25, 10.0),))


@settings(deadline=None)
@given(st.floats(0.1, 0.5), st.floats(0.1, 0.5), st.floats(0.03, 0.09), st.floats(0, 0.03), st.booleans())
def test_places_that_fit_lie_inside_and_apart(
    width: float, depth: float, piece: float, gap: float, is_round: bool
) -> None:
    m = VesselMap("tray", width, depth, piece, gap, is_round)
    laid = replace(m, places=tuple(replace(p, tag="OV", piece=i) for i, p in enumerate(fitting_places(m), 1)))
    assert problems(laid) == []
    assert problems(turned(laid)) == []


def test_a_half_way_turn_twice_is_the_map_itself_and_hot_spots_stay() -> None:
    laid = replace(
        TRAY, places=tuple(replace(p, tag="OV", piece=i) for i, p in enumerate(fitting_places(TRAY), 1))
    )
    twice = turned(turned(laid))
    assert [(round(p.x_m, 9), round(p.y_m, 9), p.piece) for p in twice.places] == [
        (round(p.x_m, 9), round(p.y_m, 9), p.piece) for p in laid.places
    ]
    assert turned(laid).spots == laid.spots
    corner = Place(0.05, 0.25, "OV", 1)
    assert heat_at(TRAY, corner.x_m, corner.y_m) == pytest.approx(10)
    far = turned(replace(TRAY, places=(corner,))).places[0]
    assert heat_at(TRAY, far.x_m, far.y_m) == 0


def test_pieces_over_the_rim_touching_or_twice_are_named() -> None:
    m = replace(TRAY, places=(Place(0.01, 0.1, "OV", 1), Place(0.2, 0.1, "AF", 1), Place(0.24, 0.1, "AF", 1)))
    told = [e.message for e in problems(m)]
    assert any("rim" in t for t in told)
    assert any("touch" in t for t in told)
    assert any("too" in t for t in told)


def test_identity_is_kept_from_tray_to_plate() -> None:
    places = tuple(
        replace(p, tag=("OV", "AF")[i % 2], piece=i // 2 + 1) for i, p in enumerate(fitting_places(TRAY)[:8])
    )
    plate = hand_over(replace(TRAY, places=places), VesselMap("plate", 0.28, 0.28, 0.05, 0.005, True))
    assert {(p.tag, p.piece) for p in plate.places if p.tag} == {(p.tag, p.piece) for p in places}
    assert problems(plate) == []
    with pytest.raises(RuleError, match="handed over"):
        hand_over(replace(TRAY, places=places), VesselMap("plate", 0.08, 0.08, 0.05))


def test_dealt_places_say_how_hot_each_method_lies() -> None:
    m = replace(TRAY, places=fitting_places(TRAY)[:4])
    laid = dealt(m, [(0, 3), (1, 2)], ["OV", "AF"])
    assert [(p.tag, p.piece) for p in laid.places] == [("OV", 1), ("AF", 1), ("AF", 2), ("OV", 2)]
    assert laid.spread_k == pytest.approx(abs(laid.mean_k["OV"] - laid.mean_k["AF"]))


@pytest.mark.parametrize("stock", list(STOCKS))
def test_labels_stay_on_their_sheet(stock: str) -> None:
    s = STOCKS[stock]
    width, height = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}[s.paper]
    assert s.left_mm + s.columns * s.width_mm + (s.columns - 1) * s.gap_x_mm <= width + 0.05
    assert s.top_mm + s.rows * s.height_mm + (s.rows - 1) * s.gap_y_mm <= height + 0.05
    html = labels_html(
        [Tag(n, "AA", f"Way {n} <b>", "batch 1") for n in range(s.columns * s.rows + 1)],
        stock,
        "Florets & co",
    )
    assert html.count("<section>") == 2
    assert "<b> " not in html
    assert stock.startswith("flags") or "Florets &amp; co" in html


def test_maps_print_both_ways_and_bad_paper_is_named() -> None:
    html = maps_html(
        [MapSheet("Tray", "As laid.", replace(TRAY, places=(Place(0.1, 0.1, "OV", 1),)))],
        {"OV": 3},
        "Florets",
    )
    assert "OV1" in html
    assert "+10 K" in html
    with pytest.raises(RuleError, match="Letter"):
        maps_html([], {}, "x", "A5")


# The whole job, readiness, substitution, appliances


def test_the_slow_appliance_may_win_on_the_whole_job() -> None:
    quick = job(
        [
            Step("a", "Heat the oil", Attention.WATCHED, Phase.COME_UP, 900),
            Step("b", "Fry", Attention.WATCHED, Phase.COOK, 360),
            Step("w", "Wash up", Attention.HANDS, Phase.WASH_UP, 840),
        ]
    )
    slow = job(
        [
            Step("a", "Bake", Attention.FREE, Phase.COOK, 1500),
            Step("w", "Wash up", Attention.HANDS, Phase.WASH_UP, 120),
        ]
    )
    assert "By cook time alone it would have seemed to be DF" in job_sentence({"DF": quick, "OV": slow})
    assert quick.watched_s == 1260
    ahead = job([Step("s", "Soak", Attention.FREE, Phase.PREPARE, 43200, days_before=1), COOK])
    assert (ahead.ahead_s, ahead.total_s) == (43200, 600)


def test_readiness_comes_from_steps_vessel_and_hazards() -> None:
    texts = [
        i.text
        for i in checklist(
            [replace(COOK, end_rule=EndRule.CORE, end_core_c=74)],
            ["sealed_skin", "hot_oil"],
            ["pressure_cooker"],
            "baking tray",
            "covered",
            ["radio off", "  "],
            ["Circuit B: two at once"],
        )
    ]
    for part in ("Skin pierced", "Vent shut", "Tray lined", "Lid on", "Probe in", "radio off", "Circuit B"):
        assert any(part in t for t in texts), part
    assert len(texts) == len(set(texts))


def test_another_lot_is_worked_out_not_just_noted() -> None:
    planned = LotFacts(
        "butter",
        grade="salted",
        label={"fat": 0.82, "salt": 0.012},
        allergens=["milk"],
        price_per_kg=8.0,
        age_days=2,
    )
    bought = LotFacts(
        "butter",
        grade="unsalted",
        label={"fat": 0.80},
        allergens=["milk", "soya"],
        price_per_kg=12.0,
        age_days=9,
    )
    found = effects(planned, bought, {"OV": 0.1}, ["AF"], 0.5)
    words = " ".join(e.text for e in found)
    assert [e.weight for e in found[:2]] == ["redo", "redo"]
    for part in (
        "not be cooked from one lot",
        "New allergen: soya",
        "Salt: 1.2 g less",
        "Grade salted",
        "Age 2",
        "Price × 1.50",
    ):
        assert part in words, part


def test_capacity_goes_with_size_and_dial_words_are_checked() -> None:
    a = Appliance(
        "a", "Fryer", "deep_fryer", capacity_pieces=6, capacities=(Capacity(0.05, 9), Capacity(0.1, 2))
    )
    assert capacity_for(a, 0.05)[0] == 9
    assert capacity_for(a, 0.03)[0] == 9
    assert capacity_for(a, 0.2)[0] == 1
    assert capacity_for(a, None) == (6, "as on its profile")
    wrong = replace(
        a,
        dial=(DialWord("low", 88, True), DialWord("Low"), DialWord("high", None, True)),
        capacities=(Capacity(2, 0),),
    )
    assert [e.field for e in check_appliance(wrong)] == ["dial", "dial, high", "capacity by size"]


# As it was done


def test_what_was_really_done_is_compared_and_departures_told() -> None:
    turn = Step("t", "Turn", Attention.HANDS, Phase.TURN, 30, during_offset_s=300)
    steps = (
        Step("l", "Load", Attention.HANDS, Phase.LOAD, 60),
        COOK,
        turn,
        Step("o", "Out", Attention.HANDS, Phase.OUT, 60),
        REST,
        Step("p", "Plate", Attention.HANDS, Phase.PLATE, 60),
    )
    at = {"l": (0, 60), "c": (60, 660), "t": (360, 390), "o": (660, 720), "r": (720, 1020), "p": (1020, 1080)}

    def cooked(tag: str, late: float, turned_it: bool, who: str) -> tuple[dict[str, object], list[str]]:
        chain = Chain(tag, tag, steps)
        plan = [PlannedStep(tag, k, a, b) for k, (a, b) in at.items()]
        facts = [
            (EntryKind.IN, "l", 60.0),
            (EntryKind.OUT, "o", 720.0 + late),
            (EntryKind.DONE, "p", 1080.0 + late),
        ]
        facts += [(EntryKind.TURNED, "t", 390.0)] if turned_it else []
        log = [
            Entry(f"{tag}{n}", tag, kind, when, "d", n, {"step": step})
            for n, (kind, step, when) in enumerate(facts)
        ]
        log.append(Entry(f"{tag}w", tag, EntryKind.WEIGHT, 10.0, "d", 90, {"kg": 0.36, "of": "raw"}))
        found, away = done_facts(chain, plan, log, measures(chain, plan, log), [who])
        return found, [d.what for d in away]  # type: ignore[return-value]

    a, none = cooked("OV", 0, True, "A")
    b, away = cooked("AF", 240, False, "B")
    assert none == []
    assert set(away) == {"cooking time", "turns"}
    fields = {d.field for d in compare({"OV": a, "AF": b}, [])}  # type: ignore[dict-item]
    assert {"cooking time", "turns", "operator"} <= fields
    assert "weight that went in" not in fields

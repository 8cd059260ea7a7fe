"""Dealing pieces, their places in a vessel, and what is printed of both."""

from dataclasses import replace
from itertools import permutations
from math import log10

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.allocation import all_dealings, allocate
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

WEIGHTS = st.lists(st.floats(10, 100), min_size=4, max_size=60)


# Dealing


@settings(max_examples=40)
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


@settings(max_examples=20)
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


# Places

TRAY = VesselMap("tray", 0.38, 0.30, 0.05, 0.01, spots=(Spot(0.05, 0.25, 10.0),))


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

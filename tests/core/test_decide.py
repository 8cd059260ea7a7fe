from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.ask.trial import Attribute
from yeasty.core.cook.measures import BatchMeasures, Clocks, Standing
from yeasty.core.decide.chance import batch_spread, first_place_shares, means, paired_interval
from yeasty.core.decide.outcome import HowSure, School
from yeasty.core.decide.scores import Answer, rank_points, weighted_scores
from yeasty.core.decide.servings import choose_another, for_servings, ingredient_cost
from yeasty.core.decide.verdict import Arm, judge
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import Scale

CRUST = Attribute("crust", "crust", Scale.INTENSITY, 3)
CRUMB = Attribute("crumb", "crumb", Scale.INTENSITY, 1)
ORDER = Attribute("order", "order", Scale.RANK, 0)


def panel(scores: dict[str, list[float]], attribute: str = "crust", batch: str = "1") -> list[Answer]:
    return [
        Answer(f"t{n}", m, f"{m}-{batch}", attribute, v)
        for m, row in scores.items()
        for n, v in enumerate(row)
    ]


def arms(*tags: str, batches: int = 1) -> list[Arm]:
    return [Arm(t, t, t, batches) for t in tags]


def test_the_paired_interval_is_the_textbook_one() -> None:
    """d = 1, 2, 3: mean 2, s = 1, n = 3, t(0.975, 2) = 4.3027, half width 2.4842."""
    table = weighted_scores(panel({"x": [7, 8, 9], "y": [6, 6, 6]}), [CRUST], 2)
    i = paired_interval(table, "x", "y")
    assert (i.difference, i.low, i.high) == pytest.approx((2, 2 - 2.4842, 2 + 2.4842), abs=1e-3)
    wider = paired_interval(table, "x", "y", batch_sd=0.5, batches={"x": 2, "y": 2})
    assert wider.high - wider.low > i.high - i.low


def test_one_taster_gives_no_interval() -> None:
    with pytest.raises(RuleError, match="At least two"):
        paired_interval(weighted_scores(panel({"x": [7], "y": [6]}), [CRUST], 2), "x", "y")


def test_a_refusal_is_left_out_and_not_a_zero() -> None:
    answers = [
        *panel({"x": [8, 8], "y": [5, 5]}),
        Answer("t0", "x", "x-1", "crumb", None),
        Answer("t1", "x", "x-1", "crumb", 4),
    ]
    table = weighted_scores(answers, [CRUST, CRUMB], 2)
    assert ("t0", "x") not in table
    assert table["t1", "x"] == pytest.approx(7.0)


def test_two_batches_of_a_method_count_once_a_taster() -> None:
    answers = panel({"x": [8], "y": [5]}) + panel({"x": [6]}, batch="2")
    assert weighted_scores(answers, [CRUST], 2)["t0", "x"] == pytest.approx(7.0)


def test_rank_points_share_ties_and_use_the_tasters_own_order_first() -> None:
    points = rank_points(panel({"x": [8, 7], "y": [8, 5], "z": [2, 6]}), [CRUST], 3)
    assert (points["t0", "x"], points["t0", "y"], points["t0", "z"]) == (1.5, 1.5, 0)
    own = rank_points(panel({"x": [3], "y": [1], "z": [2]}, "order"), [ORDER], 3)
    assert (own["t0", "y"], own["t0", "z"], own["t0", "x"]) == (2, 1, 0)


def test_cooked_once_is_never_more_than_leaning_for_these_batches() -> None:
    v = judge(
        School.WEIGHTED,
        arms("x", "y"),
        panel({"x": [9, 9, 8.5, 9, 9.5, 9], "y": [3, 2, 3, 3.5, 2, 3]}),
        [CRUST],
    )
    assert v.how_sure is HowSure.LEANING
    assert "for these batches" in v.headline
    assert any("cooked once" in s.text for s in v.sentences)


def test_cooked_twice_and_far_apart_is_clear() -> None:
    v = judge(
        School.WEIGHTED,
        arms("x", "y", batches=2),
        panel({"x": [9, 9, 8.5, 9, 9.5, 9], "y": [3, 2, 3, 3.5, 2, 3]}),
        [CRUST],
    )
    assert (v.how_sure, v.leader) == (HowSure.CLEAR, "x")


def test_a_difference_below_what_matters_cannot_be_told_apart() -> None:
    answers = panel({"x": [7, 7.1, 7, 7.1, 7, 7.1], "y": [6.9, 7, 6.9, 7, 6.9, 6.9]})
    assert (
        judge(School.WEIGHTED, arms("x", "y", batches=2), answers, [CRUST], matters=0.5).how_sure
        is HowSure.LEVEL
    )


def test_an_unread_core_bars_the_leader_and_all_unread_is_not_safe() -> None:
    answers = panel({"x": [9, 9, 9], "y": [5, 5, 4], "z": [2, 3, 2]})
    barred = Arm("x", "x", "x", 1, failed_core=("x batch 1: no reading",))
    v = judge(School.WEIGHTED, [barred, *arms("y", "z")], answers, [CRUST])
    assert v.leader == "y"
    assert dict(v.shares)["x"] == 0
    assert any("not recommended" in s.text for s in v.sentences)
    every = [Arm(t, t, t, 1, failed_core=("no reading",)) for t in "xyz"]
    assert judge(School.WEIGHTED, every, answers, [CRUST]).how_sure is HowSure.NOT_SAFE


def test_void_batches_are_told_and_not_judged() -> None:
    aside = Arm("x", "x", "x", 1, set_aside=("x batch 2: void, burnt",))
    v = judge(School.WEIGHTED, [aside, *arms("y")], panel({"x": [7, 8], "y": [5, 6]}), [CRUST])
    assert any("1 of 2 batches of x set aside" in s.text for s in v.sentences)


def test_nobody_or_one_method_is_not_comparable() -> None:
    assert judge(School.WEIGHTED, arms("x", "y"), [], [CRUST]).how_sure is HowSure.NOT_COMPARABLE
    assert judge(School.RANK, arms("x"), panel({"x": [5, 5]}), [CRUST]).how_sure is HowSure.NOT_COMPARABLE


@given(st.permutations(range(5)))
def test_permuting_tasters_changes_nothing(order: list[int]) -> None:
    rows = {"x": [8, 6, 7, 9, 5.5], "y": [6, 6.5, 7, 5, 5]}
    a = judge(School.WEIGHTED, arms("x", "y"), panel(rows), [CRUST])
    b = judge(
        School.WEIGHTED, arms("x", "y"), panel({m: [r[i] for i in order] for m, r in rows.items()}), [CRUST]
    )
    assert a.headline == b.headline
    assert dict(a.scores) == pytest.approx(dict(b.scores))
    assert a.interval is not None
    assert b.interval is not None
    assert (a.interval.low, a.interval.high) == pytest.approx((b.interval.low, b.interval.high))


@given(st.lists(st.lists(st.integers(0, 10), min_size=3, max_size=3), min_size=2, max_size=7))
def test_shares_sum_to_one(rows: list[list[int]]) -> None:
    table = {(f"t{i}", f"m{j}"): float(v) for i, row in enumerate(rows) for j, v in enumerate(row)}
    shares = first_place_shares(table, ["m0", "m1", "m2"], seed=1, resamples=300)
    assert sum(shares.values()) == pytest.approx(1)
    assert means(table).keys() == shares.keys()


@pytest.mark.parametrize("methods", [2, 4])
def test_identical_methods_are_rarely_called_clear(methods: int) -> None:
    """Held on simulated panels of identical methods: at most 5 % may be called clear (400 panels, so the
    check allows two standard errors: 7.2 %).
    """
    random = np.random.default_rng(5)
    tags = [f"m{i}" for i in range(methods)]
    wrong = 0
    for _ in range(400):
        taste = random.normal(6, 1, 6)
        scores = {t: list(np.clip(taste + random.normal(0, 1, 6), 0, 10)) for t in tags}
        table = weighted_scores(panel(scores), [CRUST], methods)
        order = sorted(means(table), key=lambda m: -means(table)[m])
        wrong += paired_interval(table, order[0], order[1]).low > 0
    assert wrong / 400 <= 0.072


def test_batch_spread_pools_over_methods() -> None:
    assert batch_spread([[6, 8], [5, 5]]) == pytest.approx(1.0)
    assert batch_spread([[6], [7]]) is None


def measured(energy: float | None = 3.6e6) -> BatchMeasures:
    clocks = Clocks(300, 600, 900, 200, 240)
    return BatchMeasures(
        "b",
        Standing.JUDGED,
        "",
        clocks,
        False,
        True,
        (),
        None,
        energy,
        None,
        None,
        None,
        3,
        None,
        (),
        (),
        (),
        (),
    )


def test_a_small_basket_is_charged_its_rounds() -> None:
    s = for_servings(
        [measured()],
        pieces=12,
        pieces_per_batch=6,
        capacity=6,
        ingredient_cost=Decimal("2.00"),
        price_per_kwh=Decimal("0.30"),
    )
    assert s.rounds == 2
    assert (s.clocks.hands_s, s.clocks.cooking_s, s.clocks.come_up_s) == (600, 1800, 600)
    assert s.cost == Decimal("2.60")
    one = for_servings(
        [measured(None)], pieces=12, pieces_per_batch=6, capacity=12, ingredient_cost=None, price_per_kwh=None
    )
    assert (one.rounds, one.cost, one.energy_j) == (1, None, None)
    assert ingredient_cost({"flour": 1, "leek": 1}, {"flour": Decimal(1), "leek": None}) is None


def test_another_is_chosen_only_for_what_was_measured() -> None:
    quick = for_servings(
        [measured()], pieces=6, pieces_per_batch=6, capacity=6, ingredient_cost=None, price_per_kwh=None
    )
    slow = for_servings(
        [measured()], pieces=12, pieces_per_batch=6, capacity=6, ingredient_cost=None, price_per_kwh=None
    )
    found = choose_another({"x": "X", "y": "Y"}, {"x": slow, "y": quick}, {"crust": ("y",)}, leader="x")
    assert found[0][0] == "y"
    assert "crust matters most" in found[0][1]
    assert choose_another({"x": "X", "y": "Y"}, {}, {}, leader="x") == []


def test_what_cannot_be_compared_names_its_methods_and_shows_no_key() -> None:
    arms = [Arm("key-1", "OV", "Oven", 1, (), ()), Arm("key-2", "ST", "Steamer", 1, (), ())]
    crust = Attribute("a", "Crust", Scale.INTENSITY, 1.0)
    answers = [Answer("t", m, f"b-{m}", "a", v) for m, v in (("key-1", 5.0), ("key-2", 6.0))]
    verdict = judge(School.WEIGHTED, arms, answers, [crust], seed=1)
    assert verdict.how_sure is HowSure.NOT_COMPARABLE
    assert "Oven" in verdict.headline
    assert "key-" not in verdict.headline

from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import t as student

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.cook.measures import BatchMeasures, Clocks, Standing
from yeasty.core.decide.nested import (
    Earlier,
    Fit,
    assumed_range,
    chances_of_best,
    could_be_best,
    dunnett,
    fit,
    in_words,
    nested_range,
    spread_of,
)
from yeasty.core.decide.outcome import HowSure
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.decide.scored import Arm
from yeasty.core.decide.scores import Answer, rank_points, weighted_scores
from yeasty.core.decide.servings import for_servings, ingredient_cost
from yeasty.core.decide.verdict import judge
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


def two_batches(scores: dict[str, list[list[float]]]) -> list[Answer]:
    """Method to a row a batch, a number a person."""
    return [
        Answer(f"t{n}", m, f"{m}-{b}", "crust", v)
        for m, rows in scores.items()
        for b, row in enumerate(rows)
        for n, v in enumerate(row)
    ]


def fitted(scores: dict[str, list[list[float]]]) -> Fit:
    answers = two_batches(scores)
    found = fit({(a.taster, a.batch): a.value or 0.0 for a in answers}, {a.batch: a.method for a in answers})
    assert found is not None
    return found


HAND = {"x": [[7, 8, 6], [8, 9, 8]], "y": [[5, 6, 5], [5, 7, 6]]}


def test_mean_squares_are_those_worked_out_by_hand() -> None:
    """Three people, two ways, two batches each.

    Batch means x 7, 25/3; y 16/3, 6. MS of batches: 3 (2 (2/3)^2 + 2 (1/3)^2) / 2 = 5/3. Person by way: means
    of people over batches x 7.5, 8.5, 7; y 5, 6.5, 5.5; people 6.25, 7.5, 6.25; ways 23/3, 17/3; residuals
    for x 1/4, 0, -1/4, for y the same turned: 2 (4/16) / 2 = 1/4. Rest: x first batch -1/2, -1/2, -1 against
    -2/3 gives 1/6, 1/6, -1/3 and the second the reverse; y 0, -1/2, -1/2 against -1/3 gives 1/3, -1/6, -1/6:
    sum of squares 1/3 + 1/3, on 4 degrees.
    """
    f = fitted(HAND)
    assert f.means == pytest.approx({"x": 23 / 3, "y": 17 / 3})
    assert (f.f_batch, f.f_person, f.f_rest) == (2, 2, 4)
    assert f.ms_batch == pytest.approx(5 / 3)
    assert f.ms_person == pytest.approx(1 / 4)
    assert f.ms_rest == pytest.approx(1 / 6)
    # v = 5/3 + 1/4 - 1/6 = 7/4; df = v^2 / ((5/3)^2/2 + (1/4)^2/2) = 2.156; half = t sqrt(2 v / 6).
    r = nested_range(f, "x", "y")
    assert r is not None
    assert r.difference == pytest.approx(2)
    half = float(student.ppf(0.975, 1.75**2 / ((5 / 3) ** 2 / 2 + 0.25**2 / 2))) * (2 * 1.75 / 6) ** 0.5
    assert (r.high - r.low) / 2 == pytest.approx(half)


def test_with_one_batch_the_spread_is_assumed_and_the_range_is_that_of_hand() -> None:
    """x 7, 8, 9; y 6, 6, 6. Residuals ±1/2: mean square 1/2 on 2; held by 3 at 0.8: (1 + 2.4) / 5 = 0.68.
    Variance a mean 0.68/3 + 0.36; t(0.95, 6) = 1.9432.
    """
    f = fitted({"x": [[7, 8, 9]], "y": [[6, 6, 6]]})
    r = assumed_range(f, "x", "y")
    assert r.difference == pytest.approx(2)
    assert (r.high - r.low) / 2 == pytest.approx(1.9432 * (2 * (0.68 / 3 + 0.36)) ** 0.5, abs=1e-3)
    assert nested_range(f, "x", "y") is None


def test_who_missed_a_sample_does_not_move_the_others() -> None:
    """A harsh person who had only y: plain means would put x first, people taken out they are equal."""
    answers = [
        *panel({"x": [7, 8, 7.5, 8], "y": [7, 8, 7.5, 8]}),
        Answer("harsh", "y", "y-1", "crust", 2),
        Answer("harsh", "z", "z-1", "crust", 2),
        *panel({"z": [7, 8, 7.5, 8]}),
    ]
    f = fit({(a.taster, a.batch): a.value or 0.0 for a in answers}, {a.batch: a.method for a in answers})
    assert f is not None
    assert f.means["x"] == pytest.approx(f.means["y"])


def test_panels_that_share_nobody_are_not_compared() -> None:
    cells = {("a", "x1"): 7.0, ("b", "x1"): 8.0, ("c", "y1"): 3.0, ("d", "y1"): 2.0}
    assert fit(cells, {"x1": "x", "y1": "y"}) is None


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
    # Two orders, crust weighing twice: x is first and last, y second and first, z last and second.
    both = [
        *panel({"x": [1], "y": [2], "z": [3]}, "crust order"),
        *panel({"x": [3], "y": [1], "z": [2]}, "order"),
    ]
    crust = Attribute("crust order", "crust order", Scale.RANK, 2)
    mixed = rank_points(both, [crust, replace(ORDER, weight=1)], 3)
    # Points 2, 1, 0 by crust and 0, 2, 1 by taste.
    assert mixed == {("t0", "x"): 4 / 3, ("t0", "y"): 4 / 3, ("t0", "z"): 1 / 3}
    half = rank_points(both[:3], [crust, replace(ORDER, weight=1)], 3)
    assert half == {}, "who gave one order only is not counted"
    own = rank_points(panel({"x": [3], "y": [1], "z": [2]}, "order"), [ORDER], 3)
    assert (own["t0", "y"], own["t0", "z"], own["t0", "x"]) == (2, 1, 0)


FAR = {"x": [9, 9, 8.5, 9, 9.5, 9], "y": [3, 2, 3, 3.5, 2, 3]}


def test_cooked_once_is_never_more_than_leaning_for_these_batches() -> None:
    v = judge(School.WEIGHTED, arms("x", "y"), panel(FAR), [CRUST])
    assert v.how_sure is HowSure.LEANING
    assert "for these cookings" in v.headline
    assert any("cooked once" in s.text for s in v.sentences)
    assert any("is assumed" in s.stands_on for s in v.sentences)
    assert v.likely == "9 in 10", "never more with one batch"


def test_cooked_twice_and_tasted_once_is_tasted_once() -> None:
    v = judge(School.WEIGHTED, arms("x", "y", batches=2), panel(FAR), [CRUST])
    assert v.how_sure is HowSure.LEANING
    assert any("tasted of one cooking only" in s.text for s in v.sentences)


@pytest.mark.parametrize("school", list(SCHOOLS))
def test_tasted_twice_and_far_apart_is_clear(school: School) -> None:
    rows = {m: [row, [v + 0.5 * (n % 2) for n, v in enumerate(row)]] for m, row in FAR.items()}
    v = judge(school, arms("x", "y", batches=2), two_batches(rows), [CRUST])
    assert (v.how_sure, v.leader) == (HowSure.CLEAR, "x")


def test_what_was_not_tasted_blind_is_never_clear_and_says_so() -> None:
    rows = {m: [row, [v + 0.5 * (n % 2) for n, v in enumerate(row)]] for m, row in FAR.items()}
    v = judge(
        School.WEIGHTED,
        arms("x", "y", batches=2),
        two_batches(rows),
        [CRUST],
        knew="All knew which is which.",
    )
    assert v.how_sure is HowSure.LEANING
    assert v.headline.endswith("not tasted blind")
    assert "knew which is which" in v.sentences[0].text


def test_three_people_are_never_clear() -> None:
    rows = {m: [row[:3], [v + 0.1 for v in row[:3]]] for m, row in FAR.items()}
    assert (
        judge(School.WEIGHTED, arms("x", "y", batches=2), two_batches(rows), [CRUST]).how_sure
        is HowSure.LEANING
    )


def test_two_who_agree_wholly_are_not_proof() -> None:
    rows = {"x": [[8, 8, 8, 8], [8, 8, 8, 8]], "y": [[4, 4, 4, 4], [4, 4, 4, 4]]}
    v = judge(School.WEIGHTED, arms("x", "y", batches=2), two_batches(rows), [CRUST])
    assert v.how_sure is not HowSure.CLEAR
    assert any("that is agreement, not proof" in s.text for s in v.sentences)


def test_less_than_what_matters_is_said_only_from_two_tasted_batches() -> None:
    rows = {"x": [[7, 7.1, 7, 7.1, 7, 7.1]] * 2, "y": [[6.9, 7, 6.9, 7, 6.9, 6.9], [7, 7, 6.9, 7, 7, 6.9]]}
    v = judge(School.WEIGHTED, arms("x", "y", batches=2), two_batches(rows), [CRUST], matters=0.5)
    assert "differ by less than the 0.5 that matters" in v.headline
    once = {m: r[:1] for m, r in rows.items()}
    v = judge(School.WEIGHTED, arms("x", "y"), two_batches(once), [CRUST], matters=0.5)
    assert "cannot be told apart by this panel" in v.headline


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
    assert any("1 of 2 cookings of x set aside" in s.text for s in v.sentences)


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
def test_chances_sum_to_one_and_the_leader_is_never_ruled_out(rows: list[list[int]]) -> None:
    cells = {(f"t{i}", f"m{j}"): float(v) for i, row in enumerate(rows) for j, v in enumerate(row)}
    found = fit(cells, {f"m{j}": f"m{j}" for j in range(3)})
    assert found is not None
    chances = chances_of_best(found, list(found.means))
    assert sum(chances.values()) == pytest.approx(1)
    best = max(found.means, key=lambda m: found.means[m])
    assert best in could_be_best(found, list(found.means))


def simulated(
    random: np.random.Generator, people: int, methods: int, batches: int, spread: float, gap: float = 0.0
) -> Fit:
    """A panel: people differ by 1, answers by 1, batches by `spread`; the first way is better by `gap`."""
    person = random.normal(6, 1, people)
    batch = random.normal(0, spread, (methods, batches)) if spread else np.zeros((methods, batches))
    batch[0] += gap
    raw = person[:, None, None] + batch[None] + random.normal(0, 1, (people, methods, batches))
    value = np.clip(np.round(raw * 2) / 2, 0, 10)
    found = fit(
        {
            (f"p{i}", f"m{m}b{b}"): float(value[i, m, b])
            for i in range(people)
            for m in range(methods)
            for b in range(batches)
        },
        {f"m{m}b{b}": f"m{m}" for m in range(methods) for b in range(batches)},
    )
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("people", "methods", "batches", "spread"),
    [(4, 2, 2, 0.6), (6, 2, 2, 0.0), (8, 2, 2, 0.6), (12, 2, 2, 1.0), (8, 4, 2, 0.6), (8, 4, 3, 1.0)],
)
def test_identical_methods_are_rarely_called_clear(
    people: int, methods: int, batches: int, spread: float
) -> None:
    """At most 5 % plus two standard errors of 600 panels; and the range holds nought as it says."""
    random, wrong, held, panels = np.random.default_rng(5), 0, 0, 600
    for _ in range(panels):
        found = simulated(random, people, methods, batches, spread)
        first, second = sorted(found.means, key=lambda m: -found.means[m])[:2]
        r, named = nested_range(found, first, second), nested_range(found, "m0", "m1")
        assert r is not None
        assert named is not None
        wrong += r.low > 0
        held += named.low <= 0 <= named.high
    assert wrong / panels <= 0.05 + 2 * (0.05 * 0.95 / panels) ** 0.5
    assert held / panels >= 0.92


@pytest.mark.parametrize(
    ("people", "methods", "spread"), [(2, 2, 0.6), (6, 2, 0.6), (8, 4, 0.6), (6, 2, 0.0)]
)
def test_identical_methods_lean_seldom_where_the_assumed_spread_is_true(
    people: int, methods: int, spread: float
) -> None:
    random, wrong, panels = np.random.default_rng(6), 0, 600
    for _ in range(panels):
        found = simulated(random, people, methods, 1, spread)
        first, second = sorted(found.means, key=lambda m: -found.means[m])[:2]
        wrong += assumed_range(found, first, second).low > 0
    assert wrong / panels <= 0.08 + 2 * (0.08 * 0.92 / panels) ** 0.5


def test_earlier_trials_are_pooled_as_a_variance_whoever_tasted_them() -> None:
    """By hand: the batches of HAND spread by (5/3 - 1/6) / 3 = 1/2, on 2 degrees of freedom."""
    f = fitted(HAND)
    assert spread_of([f, f]) is None, "four degrees of freedom tell too little"
    known = spread_of([f, f, f])
    assert known == Earlier(pytest.approx(0.5), 6, 3)
    # These batches and what the earlier ones let expect: (2 * 5/3 + 6 * (3 * 1/2 + 1/6)) / 8 = 5/3, now on 8.
    alone, joined = nested_range(f, "x", "y"), nested_range(replace(f, earlier=known), "x", "y")
    assert alone is not None
    assert joined is not None
    half = float(student.ppf(0.975, 1.75**2 / ((5 / 3) ** 2 / 8 + 0.25**2 / 2))) * (2 * 1.75 / 6) ** 0.5
    assert (joined.high - joined.low) / 2 == pytest.approx(half)
    assert joined.high - joined.low < alone.high - alone.low
    wide = assumed_range(replace(f, earlier=Earlier(4.0, 12, 6)), "x", "y")
    assert wide.high - wide.low > assumed_range(f, "x", "y").high - assumed_range(f, "x", "y").low


@pytest.mark.parametrize(
    ("people", "batches", "spread", "trials"),
    [(4, 2, 0.6, 6), (8, 2, 1.0, 6), (12, 2, 0.6, 3), (8, 3, 0.6, 3), (8, 1, 0.6, 6), (4, 1, 0.6, 3)],
)
def test_what_the_kitchen_knows_makes_identical_methods_no_more_often_differ(
    people: int, batches: int, spread: float, trials: int
) -> None:
    """Two ways alike, beside earlier trials of eight people: *clear* at most 5 %, *leaning* on one batch at
    most 8 %, each and two standard errors; the range holds nought as it says.
    """
    random, wrong, held, panels = np.random.default_rng(15), 0, 0, 500
    for _ in range(panels):
        known = spread_of([simulated(random, 8, 2, 2, spread) for _ in range(trials)])
        found = replace(simulated(random, people, 2, batches, spread), earlier=known)
        first, second = sorted(found.means, key=lambda m: -found.means[m])
        r = nested_range(found, first, second) if batches > 1 else assumed_range(found, first, second)
        assert r is not None
        wrong += r.low > 0
        held += r.low <= 0 <= r.high
    most = 0.05 if batches > 1 else 0.08
    assert wrong / panels <= most + 2 * (most * (1 - most) / panels) ** 0.5
    assert held / panels >= 1 - most - 0.03


def test_a_verdict_says_whose_spread_it_stands_on() -> None:
    known = Earlier(0.09, 12, 6)
    once = judge(School.WEIGHTED, arms("x", "y"), panel(FAR), [CRUST], earlier=known)
    # Twelve degrees at 0.09 and three at 0.36: a spread of 0.38.
    assert "a spread from cooking to cooking of 0.4 points is taken from 6 earlier trials of this dish" in (
        once.sentences[0].stands_on
    )
    twice = judge(School.WEIGHTED, arms("x", "y", batches=2), two_batches(HAND), [CRUST], earlier=known)
    words = twice.sentences[0].stands_on
    assert words.endswith("how far cookings lay apart in 6 earlier trials of this dish: 0.3 points"), words
    ranked = judge(School.RANK, arms("x", "y"), panel(FAR), [CRUST], earlier=known)
    assert "is assumed" in ranked.sentences[0].stands_on, "never across trials for ranks"


def test_the_chance_of_being_best_is_as_often_true_as_it_says_and_the_best_is_kept() -> None:
    """Ways drawn from the sizes thought possible; said chances in fifths against how often they were true."""
    random = np.random.default_rng(9)
    said: dict[int, list[bool]] = {}
    kept, panels = 0, 150
    for _ in range(panels):
        tau, sd = (
            random.choice([0.25, 0.5, 1, 1.5]),
            random.choice([0.2, 0.4, 0.6, 0.9], p=[0.2, 0.3, 0.3, 0.2]),
        )
        true = random.normal(0, tau, 4)
        value = (
            random.normal(6, 1, 8)[:, None]
            + (true + random.normal(0, sd, 4))[None]
            + random.normal(0, 1, (8, 4))
        )
        found = fit(
            {(f"p{i}", f"m{m}"): float(value[i, m]) for i in range(8) for m in range(4)},
            {f"m{m}": f"m{m}" for m in range(4)},
        )
        assert found is not None
        best = f"m{int(true.argmax())}"
        for m, p in chances_of_best(found, list(found.means)).items():
            said.setdefault(min(4, int(p * 5)), []).append(m == best)
        kept += best in could_be_best(found, list(found.means))
    assert kept / panels >= 0.95 - 2 * (0.05 * 0.95 / panels) ** 0.5
    for fifth, true_ones in said.items():
        share, n = sum(true_ones) / len(true_ones), len(true_ones)
        assert abs(share - (fifth + 0.5) / 5) <= 0.1 + 0.06 + 2 * (0.25 / n) ** 0.5, (fifth, share, n)


def test_a_critical_value_for_one_rival_is_the_plain_one() -> None:
    for df in (3.0, 6.0, 20.0):
        assert dunnett(1, df) == pytest.approx(student.ppf(0.95, df), abs=2e-3)
    assert dunnett(5, 10) > dunnett(3, 10) > dunnett(1, 10)


def test_words_for_a_chance_are_near_it() -> None:
    for p in np.linspace(0.1, 0.95, 40):
        a, b = in_words(float(p), one_batch=False).split(" in ")
        assert abs(int(a) / int(b) - p) < 0.09


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


def test_what_cannot_be_compared_names_its_methods_and_shows_no_key() -> None:
    arms = [Arm("key-1", "OV", "Oven", 1, (), ()), Arm("key-2", "ST", "Steamer", 1, (), ())]
    crust = Attribute("a", "Crust", Scale.INTENSITY, 1.0)
    answers = [Answer("t", m, f"b-{m}", "a", v) for m, v in (("key-1", 5.0), ("key-2", 6.0))]
    verdict = judge(School.WEIGHTED, arms, answers, [crust])
    assert verdict.how_sure is HowSure.NOT_COMPARABLE
    assert "Oven" in verdict.headline
    assert "key-" not in verdict.headline

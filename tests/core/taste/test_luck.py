"""What luck gives: every table of the reference, and lots drawn."""

import csv
from collections.abc import Iterator, Mapping
from fractions import Fraction
from itertools import permutations
from pathlib import Path
from random import Random

import pytest

from yeasty.core.taste.dprime import LUCK, d_prime_of, power, share_right
from yeasty.core.taste.luck import (
    COUNTED,
    _trend,
    apart_at_least,
    as_uneven,
    at_least,
    at_least_hits,
    beside_luck,
    concordance,
    fewest_right,
    hits_by_luck,
    often,
    rankings_by_luck,
    trend_at_least,
)
from yeasty.core.taste.rounds import TestKey

REFERENCE = Path(__file__).parents[2] / "reference"


def table(name: str) -> Iterator[dict[str, str]]:
    with (REFERENCE / f"taste_{name}.csv").open(encoding="utf-8") as lines:
        yield from csv.DictReader(lines)


def chance_of(tests: str) -> Fraction:
    return Fraction(1, 3) if "triangle" in tests else Fraction(1, 2)


def test_right_answers_are_as_likely_as_the_reference_says() -> None:
    rows = list(table("right_answers"))
    assert len(rows) > 1000
    for r in rows:
        n, right, p = int(r["n"]), int(r["right"]), chance_of(r["tests"])
        assert float(at_least(right, n, p)) == pytest.approx(float(r["p_at_least"]), abs=6e-9)
        if r["p_two_sided"]:
            assert float(as_uneven(right, n - right)) == pytest.approx(float(r["p_two_sided"]), abs=6e-9)


def test_the_fewest_right_that_mean_something() -> None:
    for r in table("right_critical"):
        got = fewest_right(int(r["n"]), chance_of(r["tests"]), Fraction(r["alpha"]))
        assert got == (int(r["least_right_one_sided"]) if r["least_right_one_sided"] else None), r


def test_labels_put_at_random_hit_as_often_as_all_orders_say() -> None:
    for r in table("matching_hits"):
        assert float(hits_by_luck(int(r["k"]))[int(r["hits"])]) == pytest.approx(
            float(r["p_exactly"]), abs=6e-9
        )
    for k in range(2, 7):
        count = [sum(a == b for a, b in enumerate(order)) for order in permutations(range(k))]
        assert [Fraction(count.count(h), len(count)) for h in range(k + 1)] == list(hits_by_luck(k))
    for r in table("matching_panel"):
        got = at_least_hits(int(r["hits_in_all"]), int(r["k"]), int(r["n"]))
        assert float(got) == pytest.approx(float(r["p_at_least"]), abs=6e-9)


def test_one_that_is_picked_out_by_luck() -> None:
    for r in table("guess_one"):
        got = at_least(int(r["right"]), int(r["n"]), Fraction(1, int(r["k"])))
        assert float(got) == pytest.approx(float(r["p_at_least"]), abs=6e-9)


def sums_of(k: int, n: int, squares: float) -> list[list[int]] | None:
    """Rankings by n people of k samples whose rank sums have this sum of squared deviations."""
    chance = Random(k * 1000 + n * 10)
    for _ in range(4000):
        rows = [chance.sample(range(1, k + 1), k) for _ in range(n)]
        sums = [sum(c) for c in zip(*rows, strict=True)]
        if sum((s - n * (k + 1) / 2) ** 2 for s in sums) == pytest.approx(squares):
            return rows
    return None


@pytest.mark.parametrize(("k", "n"), [(2, 5), (3, 4), (3, 9), (4, 5), (5, 4), (6, 3)])
def test_agreement_by_luck_is_counted_exactly(k: int, n: int) -> None:
    """Every panel that chance happens on, against the list of all cases."""
    wanted = {
        float(r["sum_of_squares"]): r for r in table("friedman_exact") if (int(r["k"]), int(r["n"])) == (k, n)
    }
    assert wanted
    seen = 0
    for squares, r in wanted.items():
        rows = sums_of(k, n, squares)
        if rows is None:
            continue
        seen += 1
        luck = rankings_by_luck(rows)
        assert not luck.drawn
        assert luck.agree == pytest.approx(float(r["p"]), abs=6e-9)
        sums = [sum(c) for c in zip(*rows, strict=True)]
        assert concordance(sums, n) == pytest.approx(float(r["kendall_w"]), abs=6e-5)
    assert seen >= min(3, len(wanted))


def test_rank_sums_far_enough_apart_are_those_of_the_reference() -> None:
    checked = 0
    for r in table("rank_sums_critical"):
        k, n, alpha = int(r["k"]), int(r["n"]), float(r["alpha"])
        least = r["pair_named_before_exact"]
        # Of two samples the sums lie an even or an odd number apart, never both.
        step = 2 if k == 2 else 1
        if least:
            assert float(apart_at_least(float(least), k, n)) <= alpha
            assert float(apart_at_least(float(least) - step, k, n)) > alpha
        if r["any_pair_exact"] and n <= min(COUNTED.get(k, 0), 8):
            luck = rankings_by_luck([tuple(range(1, k + 1))] * n)
            assert luck.any_pair(float(r["any_pair_exact"])) <= alpha + 1e-12
            assert luck.any_pair(float(r["any_pair_exact"]) - step) > alpha
            checked += 1
    assert checked > 15


@pytest.mark.parametrize("places", [(1, 2, 3, 4), (1, 2.5, 2.5, 4), (1.5, 1.5, 3.5, 3.5)])
def test_what_is_drawn_agrees_with_what_is_counted_also_with_shared_places(
    places: tuple[float, ...],
) -> None:
    chance = Random(5)
    rows = [chance.sample(places, 4) for _ in range(5)]
    counted, drawn = rankings_by_luck(rows, count=True), rankings_by_luck(rows, count=False)
    assert drawn.drawn
    assert drawn.agree == pytest.approx(counted.agree, abs=4 * (0.25 / 20_000) ** 0.5)
    assert sum(counted.apart.values()) == pytest.approx(1)


DRAWN = {
    "triangle": TestKey.TRIANGLE,
    "duo_trio": TestKey.DUO_TRIO,
    "tetrad": TestKey.TETRAD,
    "two_afc": TestKey.DIRECTED_PAIR,
}


def test_the_share_right_at_a_distance_and_what_a_panel_finds() -> None:
    tests = set()
    for r in table("dprime"):
        tests.add(r["test"])
        assert share_right(DRAWN[r["test"]], float(r["d_prime"])) == pytest.approx(
            float(r["share_right"]), abs=2e-6
        )
    assert len(tests) == 4
    for r in table("power"):
        if int(r["n"]) in (2, 4, 8, 12, 30):
            for d in ("0.5", "1", "2"):
                got = power(DRAWN[r["test"]], float(d), int(r["n"]))
                assert got == pytest.approx(float(r[f"power_d{d}"]), abs=6e-5), r


def test_a_distance_is_found_back_from_the_share_it_gives() -> None:
    for test in LUCK:
        right = round(1000 * share_right(test, 1.2))
        low, value, high = d_prime_of(test, right, 1000)
        assert low < value < high
        assert value == pytest.approx(1.2, abs=0.01)
    assert d_prime_of(TestKey.TRIANGLE, 1, 12)[1] == 0.0


def test_words_for_how_often_are_near_what_they_stand_for() -> None:
    for p in [x / 1000 for x in range(3, 950, 7)]:
        words = often(p)
        number = int(words.split()[0]) / int(words.split()[-1])
        assert abs(number - p) < 0.06, (p, words)
    assert [beside_luck(Fraction(p)) for p in ("0.05", "0.06", "0.3")] == [
        "more than luck",
        "perhaps luck",
        "what luck gives",
    ]


def test_pages_trend_has_the_least_l_of_the_table() -> None:
    for row in table("page_critical"):
        k, n, alpha = int(row["k"]), int(row["n"]), float(row["alpha"])
        if k > 6 or not row["least_L"]:
            continue
        chances = _trend(k, n)

        def tail(least: int, chances: Mapping[int, Fraction] = chances) -> float:
            return float(sum(c for x, c in chances.items() if x >= least))

        least = int(row["least_L"])
        assert tail(least) <= alpha < tail(least - 1)
        assert tail(least) == pytest.approx(float(row["p"]), abs=1e-6)


def test_a_trend_against_the_ladder_is_as_rare_as_one_with_it() -> None:
    assert trend_at_least([16, 12, 8, 4], 4) == 1
    assert float(trend_at_least([4, 8, 12, 16], 4)) == pytest.approx(1 / 24**4)

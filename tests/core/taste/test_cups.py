"""Cups that nobody knows, what may be compared, how old a sample is, part of the samples a person."""

from collections import Counter
from itertools import combinations
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.alike import Put, alike
from yeasty.core.taste.blinding import balance, blocks
from yeasty.core.taste.cups import Protocol, how, letters, places, read_off
from yeasty.core.taste.leak import leak_check
from yeasty.core.taste.rounds import Cup, Given, Round, Settings, TestKey
from yeasty.core.taste.said import SaidChoice, SaidLabels
from yeasty.core.taste.serving import APART_S, Ready, ages, apart, serving_clock
from yeasty.core.taste.tests import TESTS


@given(st.integers(1, 48), st.integers())
def test_letters_are_all_different_and_none_reads_as_another_when_turned(count: int, seed: int) -> None:
    dealt = letters(count, Random(seed))
    assert len(set(dealt)) == count
    # These read as another, or as themselves and so hide which way is up.
    assert not set("".join(dealt)) & set("MWHINOSXZBQU0A")


def test_a_hand_never_simply_goes_from_left_to_right() -> None:
    for seed in range(200):
        draw = places(4, Random(seed))
        assert sorted(draw) == [1, 2, 3, 4]
        assert draw != [1, 2, 3, 4]


def test_what_to_do_names_every_cup_every_card_and_every_move() -> None:
    said = " ".join(how(Protocol.ALONE, [("C", "Oven"), ("K", "Pan")], ["317", "402"], [2, 1]))
    for word in ("C under Oven", "K under Pan", "317, 402", "place 2", "the second to place 1"):
        assert word in said
    assert "Oven" not in " ".join(how(Protocol.HELPER, [("C", "Oven")], ["317"], [1]))


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ({0: "C"}, "was not read"),
        ({0: "C", 1: ""}, "was not read"),
        ({0: "C", 1: "X"}, "was not dealt"),
        ({0: "C", 1: "c"}, "both read C"),
    ],
)
def test_a_cup_that_cannot_be_so_is_refused_by_its_code(said: dict[int, str], says: str) -> None:
    with pytest.raises(RuleError, match=says) as wrong:
        read_off(said, ["C", "K"], {0: "317", 1: "402"})
    assert "402" in wrong.value.field


@given(st.integers(3, 24), st.integers(1, 16), st.integers(2, 12), st.integers())
def test_part_of_the_samples_comes_as_often_as_any_other(n: int, people: int, each: int, seed: int) -> None:
    each = min(each, n)
    rows = blocks(n, people, each, Random(seed))
    often = Counter(x for row in rows for x in row)
    counts = [often[x] for x in range(n)]
    assert max(counts) - min(counts) <= 1
    assert all(len(set(row)) == each for row in rows)


def test_whoever_comes_late_gets_what_was_served_least() -> None:
    rows = blocks(6, 3, 2, Random(4))
    [late] = blocks(6, 1, 2, Random(5), rows[:2])
    assert set(late) <= set(range(6)) - set(rows[0]) - set(rows[1])
    pairs = Counter(frozenset(p) for row in blocks(5, 10, 2, Random(1)) for p in combinations(row, 2))
    assert max(pairs.values()) <= 2
    assert "2 of 5 a person" in balance(blocks(5, 10, 2, Random(1))).words()


def test_kept_is_not_compared_with_fresh_and_an_edge_piece_not_with_the_middle() -> None:
    served = [
        Put("1", "a", "Oven", "fresh", "edge"),
        Put("2", "a", "Oven", "fresh", "middle"),
        Put("3", "b", "Pan", "fresh", "middle"),
        Put("4", "c", "Pot", "kept", "middle"),
    ]
    found = alike(served)
    assert set(found.apart) == {"1", "4"}
    assert "Pot (kept)" in found.lines[0]
    assert "Oven edge" in found.lines[1]
    assert alike([Put(str(n), m, m, "kept", "") for n, m in enumerate("ab")]).apart == {}, "all kept is alike"


def test_ages_are_told_by_way_and_what_waited_longer_is_said() -> None:
    batches = [Ready("Oven", 0.0), Ready("Pan", APART_S, 70.0), Ready("Pot", None)]
    told = ages(APART_S + 120, batches)
    assert "Oven: 7 min out of the heat" in told[0]
    assert "Pot: when it came out of the heat is not on record" in told[0]
    assert told[1] == "Oven has waited 5 min longer than Pan: what differs may be the waiting."
    assert apart(0, [Ready("Oven", 0.0), Ready("Pan", APART_S - 1)]) == []
    cool = apart(0, [Ready("Oven", 0.0, 75.0), Ready("Pan", 0.0, 55.0)])
    assert cool == ["Pan was 20 °C cooler than Oven when last read: warmth may be what is tasted."]


@given(st.dictionaries(st.text(min_size=1, max_size=3), st.floats(0, 1e5), min_size=2, max_size=6))
def test_all_leave_for_the_table_at_one_age(ready: dict[str, float]) -> None:
    now = sorted(ready.values())[len(ready) // 2]
    out = {b: at for b, at in ready.items() if at <= now}
    clock = serving_clock(now, out, {b: at for b, at in ready.items() if at > now})
    assert clock is not None
    assert all(x.at - ready[x.name] == pytest.approx(clock.age_s) for x in clock.leaves)
    assert [x.at for x in clock.leaves] == sorted(x.at for x in clock.leaves)
    assert all(x.at >= now - 1e-6 for x in clock.leaves), "nothing can leave before now"
    assert clock.age_s >= 120
    assert {x.name for x in clock.leaves if x.foretold} == set(ready) - set(out)


def test_what_is_late_comes_out_now_at_the_soonest() -> None:
    clock = serving_clock(1000.0, {"Oven": 900.0}, {"Pan": 400.0})
    assert clock is not None
    assert [(x.name, x.at) for x in clock.leaves] == [("Oven", 1020.0), ("Pan", 1120.0)]


def _guessed(right: int, of: int) -> Round:
    cups = [Cup("317", "x", "a", "Oven"), Cup("402", "y", "b", "Pan"), Cup("555", "z", "c", "Pot")]
    given_ = [
        Given(str(n), True, ["317", "402", "555"], SaidChoice("317" if n < right else "402"))
        for n in range(of)
    ]
    return Round(TestKey.GUESS_ONE, cups, given_, [], Settings(label="a"))


def test_a_guess_shows_that_it_leaked_and_never_that_it_did_not() -> None:
    leaked, all_right = _guessed(6, 6), _guessed(2, 6)
    known, told = leak_check([leaked], [TESTS[leaked.test].analyse(leaked)])
    assert known
    assert "6 of 6 were right" in told[0]
    known, told = leak_check([all_right], [TESTS[all_right.test].analyse(all_right)])
    assert not known
    assert "would not notice a small one" in told[0]


def test_one_person_who_labels_all_three_right_shows_nothing_either_way() -> None:
    cups = [Cup("317", "x", "a", "Oven"), Cup("402", "y", "b", "Pan"), Cup("555", "z", "c", "Pot")]
    said = SaidLabels({"317": "a", "402": "b", "555": "c"})
    r = Round(TestKey.MATCH_LABELS, cups, [Given("1", True, ["317", "402", "555"], said)], [])
    known, told = leak_check([r], [TESTS[r.test].analyse(r)])
    assert not known
    assert "1 person got 3 of 3 labels right; luck gives so many 1 time in 6" in told[0]

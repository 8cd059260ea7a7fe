"""Limits, ties, claims, flavour for effort: figures worked out by hand from kitchens' numbers."""

from collections.abc import Mapping, Sequence
from random import Random

import pytest

from yeasty.core.ask.deciding import Deciding, Limit, School
from yeasty.core.ask.trial import Attribute
from yeasty.core.cook.measures import BatchMeasures, Clocks, Standing
from yeasty.core.decide.another import by_measures, by_questions
from yeasty.core.decide.gaps import better, break_tie, gap
from yeasty.core.decide.measured import FIXED, OneBatch, measure_of, measured, order, told
from yeasty.core.decide.one_person import cooking_by_cooking
from yeasty.core.decide.outcome import Answered, Asks, HowSure
from yeasty.core.decide.questions import QUESTIONS
from yeasty.core.decide.questions.kind import Asked, Basis, Way
from yeasty.core.decide.rules import broken, frontier, limit_words
from yeasty.core.decide.schools.pairs import duels
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer
from yeasty.core.decide.servings import for_servings
from yeasty.core.decide.verdict import judge
from yeasty.core.kernel.scales import Scale

LIKED = Attribute("q", "liked", Scale.INTENSITY, 1)
NAMES = {"a": "Oven", "b": "Air fryer", "c": "Steamer"}


def batch(
    total: float, *, hands: float = 300, energy: float | None = None, drip: float | None = None
) -> OneBatch:
    m = BatchMeasures(
        "b", Standing.JUDGED, "", Clocks(hands, 0, total - hands, 0, 0), True, True, (), 0.9, energy, 96.0,
        None, None, 1, None, (), (), (), (), 2, (("drip", drip),) if drip is not None else (),
    )  # fmt: skip
    s = for_servings(
        [m], pieces=4, pieces_per_batch=4, capacity=None, ingredient_cost=None, price_per_kwh=None
    )
    return OneBatch(m, s)


def test_measures_come_from_the_log_and_say_only_what_batches_told() -> None:
    by_log = measured({"a": [batch(1800, drip=0.10), batch(1860)], "b": [batch(1200, energy=3.6e6)]})
    assert by_log["total_s"] == {"a": (1800, 1860), "b": (1200,)}
    assert by_log["energy_j"] == {"b": (3.6e6,)}, "what was not metered is left out, not nought"
    assert by_log["loss:drip"] == {"a": (0.10,)}
    assert "cost" not in by_log
    assert measure_of("loss:") is None
    assert measure_of("nothing") is None


@pytest.mark.parametrize(
    ("first", "second", "stands"),
    [
        # Twice each, ten minutes apart, each pair within half a minute of itself.
        ([1200, 1220], [1800, 1790], True),
        # Twice each, and each spreads as far as they lie apart.
        ([1200, 1900], [1500, 2100], False),
        # Alike to the second on both evenings: a clock that a hand stops is no better than half a minute.
        ([1200, 1200], [1210, 1210], False),
        # Once each: only what is plain.
        ([1200], [1300], False),
        ([600], [1300], True),
    ],
)
def test_a_gap_stands_by_batches_or_where_it_is_plain(
    first: Sequence[float], second: Sequence[float], stands: bool
) -> None:
    g = gap(first, second, FIXED["total_s"].grain)
    assert g.stands is stands
    assert gap(second, first, 30).difference == -g.difference


def test_alike_ways_are_rarely_told_apart_and_the_range_holds() -> None:
    random, wrong, held, runs = Random(4), 0, 0, 2000
    for _ in range(runs):
        # Minutes of the same way cooked on two evenings, and of another way truly five minutes longer.
        alike = [[random.gauss(1800, 120) for _ in range(2)] for _ in range(2)]
        wrong += gap(*alike, 30).stands
        g = gap([random.gauss(2100, 120) for _ in range(2)], alike[0], 30)
        held += g.low is not None and g.high is not None and g.low <= 300 <= g.high
    assert wrong / runs <= 0.06
    assert held / runs >= 0.93


def test_a_limit_is_kept_by_every_batch_or_not_kept() -> None:
    by_log = measured({"a": [batch(3500), batch(3700)], "b": [batch(3000)], "c": []})
    hour = [Limit("total_s", at_most=3600)]
    assert limit_words(hour[0]) == "from start to clean at most 1 h"
    (said,) = broken(hour, "a", by_log)
    assert "1 of 2 cookings outside" in said
    assert broken(hour, "b", by_log) == []
    # The half minute that a tap leaves open is not held against a way.
    assert broken([Limit("total_s", at_most=2990)], "b", by_log) == []
    assert "does not count as kept" in broken([Limit("energy_j", at_most=7.2e6)], "b", by_log)[0]


def test_what_is_over_a_limit_leads_nothing_and_the_verdict_says_so() -> None:
    answers = [
        Answer(f"p{n}", m, m + b, "q", v)
        for n in range(6)
        for m, v in (("a", 9.0), ("b", 5.0 + n % 2))
        for b in "12"
    ]
    over = Arm("a", "OV", "Oven", 2, (), (), ("from start to clean at most 1 h: 2 h in one cooking",))
    v = judge(School.WEIGHTED, [over, Arm("b", "AF", "Air fryer", 2)], answers, [LIKED])
    assert v.leader == "b"
    assert any("does not keep to a limit" in s.text for s in v.sentences)
    both = [over, Arm("b", "AF", "Air fryer", 2, (), (), ("hands at most 1 min: 4 min",))]
    none = judge(School.WEIGHTED, both, answers, [LIKED])
    assert none.leader is None
    assert "No way keeps to the limits" in none.headline
    assert none.how_sure is HowSure.NOT_COMPARABLE, "a slow way is not an unsafe one"


def test_a_tie_is_broken_by_the_first_rule_that_tells_one_from_all_others() -> None:
    by_log = {
        "hands_s": {"a": (300, 310), "b": (305, 300)},
        "wash_up_s": {"a": (600, 620), "b": (120, 130)},
        "total_s": {"a": (900, 910), "b": (1900, 1910)},
    }
    found = break_tie(["hands_s", "wash_up_s", "total_s"], ["a", "b"], by_log, NAMES)
    assert found is not None
    assert (found.way, found.measure) == ("b", "washing-up")
    assert "Oven 10 min" in found.why
    # A rule that one of them was not measured by is passed over: nothing is won by default.
    del by_log["wash_up_s"]["a"]
    again = break_tie(["hands_s", "wash_up_s", "total_s"], ["a", "b"], by_log, NAMES)
    assert again is not None
    assert again.measure == "from start to clean"
    assert break_tie(["hands_s"], ["a", "b"], by_log, NAMES) is None


def test_the_frontier_is_what_nothing_beats_in_both() -> None:
    effort = {"a": (1800.0,), "b": (600.0,), "c": (1900.0,)}
    points = frontier({"a": 8.0, "b": 6.0, "c": 7.0}, FIXED["total_s"], effort)
    assert {p.way: p.beaten_by for p in points} == {"a": None, "b": None, "c": "a"}
    # Liked alike and as long within half a minute: neither beats the other.
    level = frontier({"a": 7.0, "b": 7.0}, FIXED["total_s"], {"a": (600.0,), "b": (610.0,)})
    assert all(p.beaten_by is None for p in level)


def rows(first: Sequence[float], second: Sequence[float]) -> list[Answer]:
    return [
        Answer(f"p{n}", m, m + b, "q", x + d)
        for m, values in (("a", first), ("b", second))
        for b, d in (("1", 0.0), ("2", 0.5))
        for n, x in enumerate(values)
    ]


def ask(
    question: Asks,
    answers: list[Answer],
    by_log: Mapping[str, Mapping[str, Sequence[float]]],
    deciding: Deciding,
) -> Answered:
    ways = [Way(k, k.upper(), NAMES[k], True) for k in "ab"]
    arms = [Arm(w.key, w.tag, w.name, 2) for w in ways]
    v = judge(School.WEIGHTED, arms, answers, [LIKED])
    base = scored(School.WEIGHTED, arms, answers, [LIKED])
    basis = Basis(v, base.table, base.method_of, base.fit, True, NAMES, by_log)
    return QUESTIONS[question](Asked(ways, deciding=deciding), basis)


LEVEL = rows([6, 7, 5, 7, 6, 5], [7, 6, 6, 6, 5, 6])
APART = rows([9, 9, 8, 9, 8, 9], [4, 5, 4, 3, 4, 5])
WASHED = {"wash_up_s": {"a": (600, 620), "b": (120, 130)}, "total_s": {"a": (1800, 1810), "b": (3600, 3610)}}


def test_washing_up_decides_where_taste_cannot_and_only_there() -> None:
    level = ask(Asks.BEST, LEVEL, WASHED, Deciding())
    assert level.leader == "b"
    assert level.how_sure is HowSure.LEVEL, "a rule for a tie makes nothing surer"
    assert "washing-up decides for Air fryer" in level.headline
    apart = ask(Asks.BEST, APART, WASHED, Deciding())
    assert apart.leader == "a"
    assert "decides" not in apart.headline


def test_flavour_for_effort_and_no_winner_name_no_more_than_they_hold() -> None:
    worth = ask(Asks.BEST, APART, WASHED, Deciding(school=School.FRONTIER, effort="wash_up_s"))
    assert worth.leader is None
    assert worth.headline.startswith("Worth what they take: Oven (8.9, 10 min) and Air fryer")
    best = ask(Asks.BEST, APART, WASHED, Deciding(school=School.FRONTIER))
    assert best.leader == "a", "liked best and quickest"
    assert best.picture.shape == "frontier"
    open_ended = ask(Asks.BEST, APART, WASHED, Deciding(school=School.NO_WINNER))
    assert open_ended.leader is None
    assert any("By weighted score: Recommend Oven" in s.text for s in open_ended.sentences)


def test_a_claim_stands_on_batches_and_needs_no_tasting() -> None:
    drip = {"loss:drip": {"a": (0.20, 0.22), "b": (0.08, 0.09)}}
    found = ask(Asks.CLAIM, [], drip, Deciding(claim="loss:drip"))
    assert (found.leader, found.how_sure) == ("b", HowSure.CLEAR)
    assert found.headline.startswith("Least drip: Air fryer, 8.0 % to 9.0 % in 2 cookings; next Oven")
    once = ask(Asks.CLAIM, [], {"loss:drip": {"a": (0.20,), "b": (0.08,)}}, Deciding(claim="loss:drip"))
    assert once.how_sure is HowSure.LEANING
    near = ask(
        Asks.CLAIM, [], {"loss:drip": {"a": (0.2, 0.1), "b": (0.1, 0.19)}}, Deciding(claim="loss:drip")
    )
    assert (near.leader, near.how_sure) == (None, HowSure.LEVEL)
    alone = ask(Asks.CLAIM, [], {"loss:drip": {"a": (0.2,)}}, Deciding(claim="loss:drip"))
    assert alone.leader is None
    assert any("Not measured, so not compared: Air fryer" in s.text for s in alone.sentences)


def test_most_of_a_yield_is_better_and_a_core_is_neither() -> None:
    assert better(FIXED["cooked_yield"], [0.92, 0.93], [0.80, 0.81])
    assert not better(FIXED["highest_core_c"], [70, 71], [96, 97])
    assert order(FIXED["cooked_yield"], {"a": (0.8,), "b": (0.9,)}) == ["b", "a"]
    assert told(FIXED["cooked_yield"], (0.9, 0.9)) == "90 % in 2 cookings"


def test_another_is_offered_only_for_what_stands() -> None:
    alike = {"total_s": {"a": (1740, 1750), "b": (1739, 1749)}, "hands_s": {"a": (300, 310), "b": (299, 309)}}
    assert by_measures("a", ["a", "b"], alike) == {}, "a tie is no reason to choose another"
    quick = {"total_s": {"a": (3600,), "b": (900,)}}
    assert by_measures("a", ["a", "b"], quick) == {
        "b": ["time is short: from start to clean 15 min against 1 h, in one cooking"]
    }
    assert by_measures("b", ["a", "b"], quick) == {}
    sure_and_small = {"total_s": {"a": (2940, 2941), "b": (2820, 2821)}}
    assert by_measures("a", ["a", "b"], sure_and_small) == {}, "two minutes of fifty send nobody elsewhere"
    arms = [Arm(k, k.upper(), NAMES[k], 2) for k in "ab"]
    assert by_questions("b", arms, APART, [LIKED], day_of={}) == {"a": ["liked matters most"]}
    assert by_questions("b", arms, LEVEL, [LIKED], day_of={}) == {}


def test_duels_of_one_person_add_up() -> None:
    answers = [Answer("p", "a", "a1", "q", 8), Answer("p", "b", "b1", "q", 5), Answer("p", "c", "c1", "q", 5)]
    assert duels(answers, [LIKED], 3) == {("p", "a"): 100.0, ("p", "b"): 25.0, ("p", "c"): 25.0}


def test_cookings_are_set_beside_one_another_by_their_evening() -> None:
    table = {("p", "a1"): 7.0, ("p", "b1"): 6.0, ("p", "a2"): 4.0, ("p", "b2"): 5.0}
    of = {"a1": "a", "a2": "a", "b1": "b", "b2": "b"}
    days = {"a1": "1", "b1": "1", "a2": "2", "b2": "2"}
    assert cooking_by_cooking("a", "b", table, of, days) == [1.0, -1.0]
    # On one evening every cooking stands beside every other.
    assert cooking_by_cooking("a", "b", table, of, {}) == [2.0, 1.0, -1.0, -2.0]

"""Taste tests: each is complete, serves what it says, and tells what was answered."""

from collections import Counter
from fractions import Fraction
from itertools import pairwise
from random import Random

import pytest

from yeasty.core.ask.trial import Attribute
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import Scale
from yeasty.core.taste.rounds import Cup, Given, Round
from yeasty.core.taste.said import (
    Said,
    SaidChoice,
    SaidGroups,
    SaidLabels,
    SaidOrder,
    SaidRange,
    SaidTally,
    SaidValue,
    SaidWords,
    checked,
)
from yeasty.core.taste.tests import TESTS, Settings, TestKey
from yeasty.core.taste.tests.pairs import can_mean

PEOPLE = 500
CRUST = Attribute("c", "Crust", Scale.INTENSITY)
LIKING = Attribute("l", "Liking", Scale.LIKING)


def laid(test: TestKey, batches: int, people: int, seed: int = 1) -> tuple[list[Cup], list[list[str]]]:
    """Cups of a round and everybody's order."""
    kind = TESTS[test]
    names = ["Oven", "Steamer", "Air fryer", "Pan", "Grill"]
    codes = iter(str(200 + n) for n in range(60))
    cups = [[next(codes) for _ in range(kind.cups)] for _ in range(batches)]
    orders = kind.serve(cups, list(range(batches)), people, Random(seed))
    return [Cup(c, f"b{b}", f"m{b}", names[b]) for b, mine in enumerate(cups) for c in mine], orders


def answered(test: TestKey, cups: list[Cup], orders: list[list[str]], right: int) -> list[Given]:
    """So many right answers, the others wrong."""
    of = {c.code: c.batch for c in cups}
    given = []
    for n, order in enumerate(orders):
        good = n < right
        said: Said
        match test:
            case TestKey.TRIANGLE:
                odd = next(c for c in order if [of[x] for x in order].count(of[c]) == 1)
                said = SaidChoice(odd if good else next(c for c in order if c != odd))
            case TestKey.DUO_TRIO:
                said = SaidChoice(next(c for c in order[1:] if (of[c] == of[order[0]]) is good))
            case TestKey.TETRAD:
                mate = next(c for c in order[1:] if (of[c] == of[order[0]]) is good)
                pair = [order[0], mate]
                said = SaidGroups([pair, [c for c in order if c not in pair]])
            case _:
                said = SaidChoice(next(c for c in order if (of[c] == "b0") is good))
        given.append(Given(f"p{n}", True, order, TESTS[test].check(said, order, Settings())))
    return given


def test_every_test_that_is_named_is_there_and_says_what_it_can_show() -> None:
    assert set(TESTS) == set(TestKey)
    for key, t in TESTS.items():
        assert t.key is key
        assert t.tells.endswith(".")
        assert t.question({"attribute": "crisp", "label": "Oven"})
        assert 1 <= t.fewest <= t.most
    kinds = list(TESTS)
    assert kinds.index(TestKey.TETRAD) < kinds.index(TestKey.TRIANGLE), "the one that finds more comes first"
    assert not TESTS[TestKey.TRIANGLE].front


@pytest.mark.parametrize("test", [TestKey.TRIANGLE, TestKey.TETRAD, TestKey.DUO_TRIO])
def test_tests_of_two_serve_each_pattern_equally_often(test: TestKey) -> None:
    cups, orders = laid(test, 2, 12)
    of = {c.code: c.batch for c in cups}
    patterns = Counter("".join(of[c] for c in order) for order in orders)
    assert len(set(patterns.values())) == 1
    assert len(patterns) == (4 if test is TestKey.DUO_TRIO else 6)
    for order in orders:
        assert len(set(order)) == len(order), "no cup stands twice before one person"


@pytest.mark.parametrize(
    ("test", "luck"),
    [
        (TestKey.TRIANGLE, Fraction(1, 3)),
        (TestKey.TETRAD, Fraction(1, 3)),
        (TestKey.DUO_TRIO, Fraction(1, 2)),
        (TestKey.GUESS_ONE, Fraction(1, 3)),
    ],
)
def test_guessing_is_right_as_often_as_luck_says(test: TestKey, luck: Fraction) -> None:
    """Whoever chooses blindly: 500 people."""
    chance = Random(11)
    cups, orders = laid(test, 3 if test is TestKey.GUESS_ONE else 2, PEOPLE)
    given = []
    for n, order in enumerate(orders):
        if test is TestKey.TETRAD:
            mixed = chance.sample(order, 4)
            said: Said = SaidGroups([mixed[:2], mixed[2:]])
        else:
            said = SaidChoice(chance.choice(order[1:] if test is TestKey.DUO_TRIO else order))
        given.append(Given(f"p{n}", True, order, said))
    found = TESTS[test].analyse(Round(test, cups, given, [], Settings(label="m0")))
    assert found.right is not None
    assert found.right / PEOPLE == pytest.approx(float(luck), abs=4 * (0.25 / PEOPLE) ** 0.5)


@pytest.mark.parametrize(
    ("test", "people", "right", "sure"),
    [
        (TestKey.TRIANGLE, 6, 5, True),
        (TestKey.TRIANGLE, 6, 4, False),
        (TestKey.TETRAD, 12, 8, True),
        (TestKey.TETRAD, 12, 7, False),
        (TestKey.DUO_TRIO, 8, 7, True),
        (TestKey.DUO_TRIO, 8, 6, False),
    ],
)
def test_told_apart_is_said_from_so_many_right_on(test: TestKey, people: int, right: int, sure: bool) -> None:
    cups, orders = laid(test, 2, people)
    r = Round(test, cups, answered(test, cups, orders, right), [])
    found = TESTS[test].analyse(r)
    assert (found.right, found.of) == (right, people)
    assert ("not told apart" not in found.headline) is sure
    assert ("more than luck" in found.lines[0]) is sure
    assert (found.settle == "") is sure


def test_four_people_and_a_coin_can_show_nothing() -> None:
    assert "no answer could mean anything" in can_mean(4, Fraction(1, 2))
    cups, orders = laid(TestKey.DUO_TRIO, 2, 4)
    r = Round(TestKey.DUO_TRIO, cups, answered(TestKey.DUO_TRIO, cups, orders, 4), [])
    found = TESTS[TestKey.DUO_TRIO].analyse(r)
    assert "not told apart" in found.headline
    assert "no answer could mean anything" in found.settle


def test_a_preference_is_two_sided_and_who_has_none_is_not_split() -> None:
    cups, orders = laid(TestKey.PREFERENCE, 2, 9)
    kind = TESTS[TestKey.PREFERENCE]
    votes = [cups[0].code] * 8 + [""]
    given = [
        Given(f"p{n}", True, o, kind.check(SaidChoice(v), o, Settings(ties=True)))
        for n, (o, v) in enumerate(zip(orders, votes, strict=True))
    ]
    found = kind.analyse(Round(TestKey.PREFERENCE, cups, given, [], Settings(ties=True)))
    assert found.headline == "Oven is preferred to Steamer, 8 to 0."
    assert found.chance == pytest.approx(2 / 2**8)
    assert "1 person had no preference." in found.lines
    with pytest.raises(RuleError):
        kind.check(SaidChoice(""), orders[0], Settings())
    five = kind.analyse(Round(TestKey.PREFERENCE, cups, given[:5], []))
    assert "No preference that luck would not give" in five.headline, "5 to 0 is luck 1 time in 16"
    assert "no split could mean anything" in five.settle


def test_a_directed_pair_counts_one_way_only_where_that_was_set_beforehand() -> None:
    cups, orders = laid(TestKey.DIRECTED_PAIR, 2, 5)
    kind = TESTS[TestKey.DIRECTED_PAIR]
    given = answered(TestKey.DIRECTED_PAIR, cups, orders, 5)
    said = Round(TestKey.DIRECTED_PAIR, cups, given, [CRUST], Settings(attribute="c", label="m0"))
    assert kind.analyse(said).headline.startswith("Oven has more crust: 5 of 5")
    other = Round(TestKey.DIRECTED_PAIR, cups, given, [CRUST], Settings(attribute="c", label="m1"))
    assert "not shown" in kind.analyse(other).headline
    open_ = Round(TestKey.DIRECTED_PAIR, cups, given, [CRUST], Settings(attribute="c"))
    assert "not told apart" in kind.analyse(open_).headline, "two-sided, 5 of 5 is luck 1 time in 16"


def test_labels_are_counted_in_all_and_by_way() -> None:
    cups, orders = laid(TestKey.MATCH_LABELS, 4, 3)
    kind = TESTS[TestKey.MATCH_LABELS]
    right = SaidLabels({c.code: c.method for c in cups})
    given = [Given(f"p{n}", True, o, kind.check(right, o, Settings())) for n, o in enumerate(orders)]
    found = kind.analyse(Round(TestKey.MATCH_LABELS, cups, given, []))
    assert (found.right, found.of) == (12, 12)
    assert found.chance == pytest.approx((1 / 24) ** 3)
    assert [b.words for b in found.bars] == ["3 of 3"] * 4
    with pytest.raises(RuleError):
        kind.check(SaidLabels({c.code: "m0" for c in cups}), orders[0], Settings())


def test_a_ranking_tells_agreement_and_only_of_these_batches() -> None:
    cups, orders = laid(TestKey.RANKING, 3, 4)
    kind = TESTS[TestKey.RANKING]
    best = [c.code for c in cups]
    given = [
        Given(f"p{n}", True, o, kind.check(SaidOrder([[c] for c in best]), o, Settings()))
        for n, o in enumerate(orders)
    ]
    found = kind.analyse(Round(TestKey.RANKING, cups, given, []))
    assert found.headline == "People agree on an order: Oven first, Air fryer last."
    assert found.chance == pytest.approx(6 / 6**4)
    assert "these cookings only" in found.lines[2]
    tied = SaidOrder([[best[0], best[1]], [best[2]]])
    with pytest.raises(RuleError):
        kind.check(tied, orders[0], Settings())
    assert kind.check(tied, orders[0], Settings(ties=True)) == tied
    with pytest.raises(RuleError):
        kind.check(SaidOrder([[best[0]]]), orders[0], Settings(ties=True))


def test_two_that_the_question_is_about_have_a_chance_of_their_own() -> None:
    cups, orders = laid(TestKey.RANKING, 3, 4)
    code = {c.method: c.code for c in cups}
    place = [code["m1"], code["m2"], code["m0"]]
    given = [Given(f"p{n}", True, o, SaidOrder([[c] for c in place])) for n, o in enumerate(orders)]

    def told(named: list[tuple[str, str]]) -> str:
        return " ".join(
            TESTS[TestKey.RANKING].analyse(Round(TestKey.RANKING, cups, given, [], named=named)).lines
        )

    assert "which the question is about" not in told([])
    # Four who all put two places between them: of 6**4 orders, 2 hold that either way.
    assert "Steamer is put before Oven, which the question is about, by 8 places in all" in told(
        [("m0", "m1")]
    )
    assert told([("m0", "m1"), ("m0", "m2")]).count("which the question is about") == 2
    # With one round named apart and codes twice, the exact chance is not that of this table.
    twice = [*cups, Cup("299", "b0x", "m0", "Oven")]
    rows = [
        Given(f"p{n}", True, [*o, "299"], SaidOrder([[c] for c in [*place, "299"]]))
        for n, o in enumerate(orders)
    ]
    found = TESTS[TestKey.RANKING].analyse(Round(TestKey.RANKING, twice, rows, [], named=[("m0", "m1")]))
    assert "which the question is about" not in " ".join(found.lines)


def scores(rows: dict[str, list[float]], attribute: Attribute, cups: list[Cup]) -> list[Given]:
    return [
        Given(who, True, [c.code for c in cups], SaidValue(v), c.code, attribute.key)
        for who, values in rows.items()
        for c, v in zip(cups, values, strict=True)
    ]


def test_scores_are_told_by_way_with_where_people_differ_and_no_claim() -> None:
    cups, _ = laid(TestKey.SCORED, 2, 2)
    given = scores({"a": [7, 5], "b": [8, 2]}, CRUST, cups)
    found = TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, given, [CRUST]))
    assert found.headline == "2 people have tasted. Highest in crust: Oven 7.5."
    assert found.lines == ("Crust: people differ most on Steamer, from 2 to 5.",)
    assert [(b.label, b.value, b.low, b.high) for b in found.bars] == [
        ("Oven", 7.5, 7, 8),
        ("Steamer", 3.5, 2, 5),
    ]
    assert "Decide" in found.settle


def test_one_batch_served_twice_tells_of_the_panel() -> None:
    cups = [Cup("201", "b0", "m0", "Oven"), Cup("202", "b0", "m0", "Oven"), Cup("203", "b1", "m1", "Pan")]
    given = scores({"a": [7, 5, 6], "b": [6, 6, 6]}, CRUST, cups)
    found = TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, given, [CRUST]))
    # Squares of differences over two: 2 and 0; their mean 1; one answer strays by 1.
    assert any("vary by about 1.0 either way" in line for line in found.lines)
    assert [b.value for b in found.bars if b.label == "Oven"] == [6.0], "one number a person and way"


def test_each_is_held_against_the_rest_and_nobody_is_named() -> None:
    """Three set Oven below Steamer below Air fryer, one the other way round."""
    cups, _ = laid(TestKey.SCORED, 3, 4)
    code = [c.code for c in cups]
    rows = {f"p{n}": [2.0 + n, 5.0, 8.0] for n in range(3)} | {"p3": [8.0, 5.0, 2.0]}
    given = [
        Given(p, True, code, SaidValue(v), c, CRUST.key)
        for p, row in rows.items()
        for c, v in zip(code, row, strict=True)
    ]
    told = TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, given, [CRUST])).lines
    said = next(x for x in told if "against the rest" in x)
    assert "3 of 4 set the samples the same way, 1 the other way round" in said
    assert not [p for p in rows if p in " ".join(told)]
    few = [g for g in given if g.who in ("p0", "p3")]
    assert "against the rest" not in " ".join(
        TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, few, [CRUST])).lines
    )


def test_too_much_costs_what_each_liked_less_than_they_usually_do() -> None:
    """Three samples: just right, too much, too little. Mild and harsh alike, by 2 less where it was too much
    and by 1 less where it was too little.
    """
    salt = Attribute("s", "Salt", Scale.JUST_RIGHT)
    cups, _ = laid(TestKey.SCORED, 3, 4)
    code = [c.code for c in cups]
    given = []
    for n, usual in enumerate((8.0, 6.0, 5.0, 4.0)):
        for c, amount, liked in zip(code, (3.0, 5.0, 2.0), (usual, usual - 2, usual - 1), strict=True):
            given.append(Given(f"p{n}", True, code, SaidValue(amount), c, salt.key))
            given.append(Given(f"p{n}", True, code, SaidValue(liked), c, LIKING.key))
    lines = " ".join(TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, given, [salt, LIKING])).lines)
    assert "Salt: where it was too much (4 answers), liking was 2.0 lower than where it was just" in lines
    assert "Salt: where it was too little (4 answers), liking was 1.0 lower than where it was just" in lines
    alone = TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, given, [salt])).lines
    assert "lower" not in " ".join(alone)


def test_likings_that_split_are_told_as_so_many_each() -> None:
    cups, _ = laid(TestKey.SCORED, 2, 4)
    rows = {"a": [8.0, 3.0], "b": [9.0, 2.0], "c": [3.0, 8.0], "d": [5.0, 5.0]}
    found = TESTS[TestKey.SCORED].analyse(Round(TestKey.SCORED, cups, scores(rows, LIKING, cups), [LIKING]))
    assert "Liking: 2 like Oven most, 1 like Steamer most." in found.lines


def test_who_knows_which_is_which_and_who_refuses_counts_apart() -> None:
    cups, orders = laid(TestKey.TRIANGLE, 2, 6)
    given = answered(TestKey.TRIANGLE, cups, orders, 6)
    given[0] = Given("p0", False, orders[0], given[0].said)
    given[1] = Given("p1", True, orders[1], None)
    found = TESTS[TestKey.TRIANGLE].analyse(Round(TestKey.TRIANGLE, cups, given, []))
    assert (found.right, found.of) == (4, 4)
    assert "1 person knows which is which and counted apart." in found.lines
    assert "1 would rather not say." in found.lines


@pytest.mark.parametrize(
    ("scale", "words", "good", "bad"),
    [
        (Scale.INTENSITY, (), SaidRange(8, 9), SaidRange(9, 8)),
        (Scale.INTENSITY, (), SaidValue(10), SaidTally(1, 2)),
        (Scale.LIKING, (), SaidValue(9), SaidValue(9.5)),
        (Scale.WORDS, ("raw", "firm", "soft"), SaidValue(3), SaidValue(4)),
        (Scale.WORDS, ("raw", "firm", "soft"), SaidValue(1), SaidValue(1.5)),
        (Scale.CHECK_ALL, ("nutty", "sweet"), SaidWords(["nutty"]), SaidWords(["salty"])),
        (Scale.CHECK_ALL, ("nutty", "sweet"), SaidWords([]), SaidWords(["nutty", "nutty"])),
        (Scale.TALLY, (), SaidTally(6, 8), SaidTally(9, 8)),
        (Scale.STANDARDS, (), SaidValue(2), SaidRange(1, 2)),
        (Scale.EATEN, (), SaidValue(4), SaidChoice("201")),
    ],
)
def test_an_answer_fits_its_scale_or_is_refused(
    scale: Scale, words: tuple[str, ...], good: Said, bad: Said
) -> None:
    asked = Attribute("a", "this", scale, words=words)
    assert checked(asked, good, 3) == good
    with pytest.raises(RuleError):
        checked(asked, bad, 3)


@pytest.mark.parametrize(("samples", "tasters"), [(3, 3), (5, 5), (3, 6), (7, 7), (4, 8)])
def test_whole_squares_come_first_so_places_are_balanced(samples: int, tasters: int) -> None:
    from yeasty.core.taste.blinding import balance, orders

    for seed in range(40):
        assert balance(orders(samples, tasters, Random(seed))).place_spread == 0


def test_ways_with_two_samples_are_spread_over_places_too() -> None:
    from yeasty.core.taste.blinding import orders

    arms = [0, 0, 1, 1]
    together = 0
    for seed in range(30):
        rows = [[arms[x] for x in row] for row in orders(4, 6, Random(seed), arms=arms)]
        firsts = Counter(row[0] for row in rows)
        assert max(firsts.values()) - min(firsts.values()) <= 2
        together += sum(a == b for row in rows for a, b in pairwise(row))
    assert together / (30 * 6 * 3) < 0.45


def test_codes_read_as_no_other_upside_down_and_are_not_those_of_last_month() -> None:
    from yeasty.core.taste.blinding import codes, turned

    dealt = codes(150, Random(3))
    assert not {turned(c) for c in dealt if turned(c) not in ("", c)}
    assert not set(codes(100, Random(4), dealt)) & set(dealt)
    many = codes(200, Random(1), [str(n) for n in range(102, 700)])
    assert {len(c) for c in many} == {4}, "where most of the short ones are taken"


def test_two_of_one_name_are_told_as_the_two_batches() -> None:
    cups = [Cup("101", "b1", "m1", "Oven"), Cup("202", "b2", "m2", "Oven")]
    given = [Given(f"p{n}", True, ("101", "202", "202"), SaidChoice("101")) for n in range(8)]
    for key in (TestKey.TRIANGLE, TestKey.DUO_TRIO):
        found = TESTS[key].analyse(Round(key, cups, given, []))
        assert found.headline.startswith("The two batches are told apart: 8 of 8 found the "), key

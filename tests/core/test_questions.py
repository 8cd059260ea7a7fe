"""Each question's answer against figures worked out by hand, and what it must never say."""

from collections.abc import Mapping, Sequence
from random import Random

import pytest

from yeasty.core.ask.deciding import School
from yeasty.core.ask.screening import WORDS
from yeasty.core.ask.trial import Attribute, TrialKind
from yeasty.core.decide.outcome import Answered, Asks, HowSure
from yeasty.core.decide.questions import QUESTIONS, USUAL
from yeasty.core.decide.questions.change import keeps_safe
from yeasty.core.decide.questions.grid import additive
from yeasty.core.decide.questions.kind import Asked, Basis, Rescued, Way
from yeasty.core.decide.questions.ladder import best_point
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer
from yeasty.core.decide.verdict import judge
from yeasty.core.kernel.scales import Scale

LIKED = Attribute("q", "liked", Scale.INTENSITY, 1)
Rows = Mapping[str, Sequence[Sequence[float]]]


def given(rows: Rows) -> list[Answer]:
    """Method to its batches to one number a person."""
    return [
        Answer(f"p{n}", m, f"{m}{b}", "q", v)
        for m, batches in rows.items()
        for b, people in enumerate(batches)
        for n, v in enumerate(people)
    ]


def ask(question: Asks, asked: Asked, rows: Rows) -> Answered:
    answers = given(rows)
    arms = [
        Arm(w.key, w.tag, w.name, len(rows.get(w.key, ())), (), () if w.fit else ("core not read",))
        for w in asked.ways
    ]
    v = judge(School.WEIGHTED, arms, answers, [LIKED], matters=asked.matters)
    base = scored(School.WEIGHTED, arms, answers, [LIKED])
    return QUESTIONS[question](asked, Basis(v, base.table, base.method_of, base.fit))


def ways(*keys: str, **more: object) -> list[Way]:
    return [Way(k, k.upper(), f"Way {k}", True, **more) for k in keys]  # type: ignore[arg-type]


def test_every_kind_of_trial_has_its_question() -> None:
    assert set(USUAL) == set(TrialKind)
    assert set(USUAL.values()) | {Asks.CLAIM} == set(QUESTIONS)


NEAR = {"a": [[6, 7, 6, 7, 6, 7], [7, 6, 7, 6, 7, 6]], "b": [[6.5, 6.5, 6, 7, 6.5, 6.5]] * 2}
FAR = {
    "a": [[9, 9, 8.5, 9, 9.5, 9], [9, 9.5, 8.5, 9, 9, 9]],
    "b": [[3, 2, 3, 3.5, 2, 3], [3, 2.5, 3, 3, 2, 3]],
}


def test_on_a_tie_the_champion_stays_whoever_came_out_ahead() -> None:
    asked = Asked(ways("a", "b"), champion="a", matters=0.5)
    tied = ask(Asks.CHAMPION, asked, NEAR)
    assert tied.leader == "a"
    assert tied.headline.startswith("Way a keeps the title")
    low = ask(Asks.CHAMPION, Asked(ways("a", "b"), champion="b"), FAR)
    assert (low.leader, low.how_sure) == ("a", HowSure.CLEAR)
    assert low.headline.startswith("Way a takes the title: ahead of Way b by 6.")


def test_a_margin_set_beforehand_is_not_taken_by_less() -> None:
    ahead = {"a": [[7, 6.5, 7, 7, 7, 6.9]] * 2, "b": [[6.5, 6, 6.5, 6.4, 6.6, 6.4]] * 2}
    keeps = ask(Asks.CHAMPION, Asked(ways("a", "b"), champion="b", matters=1.0), ahead)
    assert keeps.leader == "b"
    assert "less than the 1 that takes the title" in keeps.headline


def test_a_challenger_that_differs_in_more_than_its_change_takes_nothing() -> None:
    kept = ask(Asks.CHAMPION, Asked(ways("a", "b"), champion="b", slipped=["vessel"]), FAR)
    assert kept.leader == "b"
    assert "also differed in vessel" in kept.headline


def test_a_champion_whose_core_was_not_read_is_not_recommended() -> None:
    pair = [Way("a", "A", "Way a", True), Way("b", "B", "Way b", False)]
    found = ask(Asks.CHAMPION, Asked(pair, champion="b", slipped=["rest"]), FAR)
    assert found.leader is None
    assert "may not be recommended" in found.headline


def test_one_change_is_credited_only_where_nothing_else_differed() -> None:
    pair = ways("a", "b")
    plain = ask(Asks.CHANGE, Asked(pair, change="pressed flat"), FAR)
    assert plain.headline.startswith("It matters: Way a is ahead by 6.")
    muddled = ask(Asks.CHANGE, Asked(pair, change="pressed flat", slipped=["vessel"]), FAR)
    assert "but vessel differed too" in muddled.headline
    assert muddled.how_sure is HowSure.LEANING
    assert "no difference may be credited" in muddled.sentences[0].text


@pytest.mark.parametrize("change", ["soaked overnight", "pricked", "rested 10 min", "chilled first", ""])
def test_a_step_that_keeps_people_safe_is_never_told_as_one_to_leave_out(change: str) -> None:
    same = {m: [[6, 6.1, 6, 6, 6.1, 6, 6, 6.1], [6.1, 6, 6, 6.1, 6, 6, 6.1, 6]] for m in "ab"}
    assert keeps_safe(change)
    found = ask(Asks.CHANGE, Asked(ways("a", "b"), change=change, matters=1.0), same)
    assert "left out" not in found.headline
    needless = ask(Asks.CHANGE, Asked(ways("a", "b"), change="pressed flat", matters=1.0), same)
    assert needless.headline.startswith("It can be left out")


def test_no_difference_shown_is_not_the_same_as_none() -> None:
    found = ask(Asks.CHANGE, Asked(ways("a", "b"), change="pressed flat", matters=0.1), NEAR)
    assert found.headline == "No difference could be shown; that is not the same as none"
    assert found.leader is None


def rungs(
    means: Sequence[float], first: float = 600, step: float = 120, unfit: int = 0
) -> tuple[Asked, Rows]:
    every = [
        Way(f"r{n}", f"R{n}", f"Rung {n}", n >= unfit, first + n * step, f"{(first + n * step) / 60:g} min")
        for n in range(len(means))
    ]
    wobble = (0.3, -0.3, 0.2, -0.2, 0.1, -0.1)
    return Asked(every, rises="time"), {f"r{n}": [[m + w for w in wobble]] for n, m in enumerate(means)}


def test_the_best_point_of_a_parabola_is_its_top_and_not_the_best_rung() -> None:
    # y = 8 − ((x − 870)/240)², so the top lies at 14 min 30 s, between two rungs.
    means = [8 - ((600 + 120 * n - 870) / 240) ** 2 for n in range(6)]
    noisy = [m + e for m, e in zip(means, (0.02, -0.02, 0.01, -0.01, 0.02, -0.02), strict=True)]
    found = best_point([600 + 120 * n for n in range(6)], noisy)
    assert found.at == pytest.approx(870, abs=15)
    asked, rows = rungs(noisy)
    told = ask(Asks.LADDER, asked, rows)
    assert told.headline.startswith("Best at about 14 min 30 s, between 12 min and 16 min")
    assert told.leader in ("r2", "r3")


def test_a_ladder_that_still_rises_names_the_next_rung_and_recommends_none() -> None:
    asked, rows = rungs([2, 3.5, 5, 6.4, 7.6, 8.8])
    told = ask(Asks.LADDER, asked, rows)
    assert told.headline == "No best point inside what was tried: still rising at 20 min; try next 22 min"
    assert told.leader is None


def test_a_flat_ladder_has_no_best_point() -> None:
    asked, rows = rungs([6.0, 6.1, 5.9, 6.1, 6.0, 6.0])
    told = ask(Asks.LADDER, asked, rows)
    assert told.headline.startswith("No best point can be read off")
    assert told.leader is None


def test_a_best_point_below_the_first_safe_rung_is_not_recommended() -> None:
    asked, rows = rungs([5, 6.8, 7.5, 7.0, 5.5, 3.2], unfit=4)
    told = ask(Asks.LADDER, asked, rows)
    assert told.leader is None or told.leader in ("r4", "r5")
    assert any("core was not read as reached" in s.text for s in told.sentences)


def grid_of(cells: Mapping[tuple[str, str], float], people: int = 6) -> tuple[Asked, Rows]:
    wobble = [0.2, -0.2, 0.1, -0.1, 0.3, -0.3]
    every = [Way(f"{a}{b}", f"{a}{b}".upper(), f"{a}, {b}", True, levels=(a, b)) for a, b in cells]
    rows = {f"{a}{b}": [[v + wobble[n % 6] for n in range(people)]] for (a, b), v in cells.items()}
    return Asked(every, factors=["pre-cook", "finish"]), rows


def test_effects_of_a_grid_are_those_of_hand() -> None:
    cells = {("raw", "oven"): 4.0, ("raw", "pan"): 5.0, ("steamed", "oven"): 7.0, ("steamed", "pan"): 8.2}
    asked, rows = grid_of(cells)
    answers = given(rows)
    base = scored(School.WEIGHTED, [Arm(w.key, w.tag, w.name, 1) for w in asked.ways], answers, [LIKED])
    found = additive(base.table, base.method_of, asked.ways, asked.factors)
    assert found is not None
    gaps = {e.factor: (e.high, e.gap) for e in found.effects}
    # (7.0 + 8.2 − 4.0 − 5.0) / 2 and (5.0 + 8.2 − 4.0 − 7.0) / 2
    assert gaps["pre-cook"] == ("steamed", pytest.approx(3.1))
    assert gaps["finish"] == ("pan", pytest.approx(1.1))
    assert found.df == 1, "a 2 by 2 has one degree of freedom: its ranges are wide"
    told = ask(Asks.GRID, asked, rows)
    assert any("act together cannot be told" in s.text for s in told.sentences)
    assert told.leader == "steamedpan"


def test_a_cell_that_is_missing_is_said_and_factors_are_still_told() -> None:
    cells = {(a, b): 5.0 + i + 0.5 * j for i, a in enumerate("xyz") for j, b in enumerate("uvw")}
    del cells["z", "w"]
    asked, rows = grid_of(cells)
    asked = Asked([*asked.ways, Way("zw", "ZW", "z, w", True, levels=("z", "w"))], factors=asked.factors)
    told = ask(Asks.GRID, asked, rows)
    assert "pre-cook matters (z over x)" in told.headline.lower().replace("pre-cook m", "pre-cook m")
    assert any(s.text.startswith("Not tasted: z, w") for s in told.sentences)


def test_factors_that_were_only_changed_together_are_not_told_apart() -> None:
    asked, rows = grid_of({("a", "u"): 4, ("b", "v"): 8, ("a", "u2"): 4.2})
    told = ask(Asks.GRID, Asked(asked.ways, factors=asked.factors), rows)
    assert told.question is Asks.GRID


def test_a_screening_keeps_all_that_tie_and_leads_with_nothing_that_is_void() -> None:
    every = [
        Way("a", "A", "Milk first", True, word=WORDS[3]),
        Way("b", "B", "Rice first", True, word=WORDS[3]),
        Way("c", "C", "Pressure", False, word=WORDS[4]),
        Way("d", "D", "Cold milk", True, word=WORDS[1]),
    ]
    told = QUESTIONS[Asks.SCREENING](
        Asked(every, words=WORDS, few=1),
        Basis(judge(School.WEIGHTED, [], [], [LIKED]), {}, {}, None),
    )
    assert told.headline == "Look closer at: Milk first; Rice first"
    assert told.leader is None
    assert any("Pressure" in s.text for s in told.sentences)
    assert [m.picked for m in told.picture.marks] == [False, True, True, False]


def test_a_rescue_has_a_word_of_its_own_and_goes_on_to_nothing() -> None:
    every = [
        Way("a", "A", "Milk first", True, word=WORDS[1]),
        Way("b", "B", "Rice first", True, word=WORDS[3]),
    ]
    told = QUESTIONS[Asks.SCREENING](
        Asked(every, words=WORDS, few=1, rescued=[Rescued("Milk first", "blended", WORDS[4])]),
        Basis(judge(School.WEIGHTED, [], [], [LIKED]), {}, {}, None),
    )
    assert told.headline == "Look closer at: Rice first", "a better word after a finish is not the way's"
    said = f"Milk first, rescued by “blended”: “{WORDS[4]}”, where it was “{WORDS[1]}” by itself."
    assert said in [s.text for s in told.sentences]


def test_a_chain_is_told_version_by_version_and_last_against_first() -> None:
    every = [
        Way("a", "A", "First", True),
        Way("b", "B", "Second", True, parent="a", change="rolled thinner", aimed_defect="thick",
            outcome="thin, tears", failed_tries=1),
        Way("c", "C", "Third", True, parent="b", change="rested longer", aimed_defect="tears"),
    ]  # fmt: skip
    rows = {"a": FAR["b"], "b": [[5, 5, 5.5, 5, 5, 5]] * 2, "c": FAR["a"]}
    told = ask(Asks.CHAIN, Asked(every), rows)
    assert told.headline.startswith("Third is better than First, where it began, by 6.")
    assert "came out: thin, tears; after 1 failed try" in told.sentences[0].text
    assert "how it came out is not written down" in told.sentences[1].text
    untasted = ask(Asks.CHAIN, Asked(every), {})
    assert untasted.headline == "Whether the defect is gone is not written down for Third"


@pytest.mark.parametrize("steep", [1.0, 3.0])
def test_the_range_of_a_best_point_holds_it_also_where_the_fall_is_steeper(steep: float) -> None:
    """Six rungs, one top somewhere inside, a curve that falls more steeply than it rises."""
    chance = Random(11)
    told = held = 0
    for _ in range(300):
        top = chance.uniform(1.5, 3.5)
        y = [8 - 0.5 * (x - top) ** 2 * (steep if x > top else 1.0) + chance.gauss(0, 0.25) for x in range(6)]
        found = best_point(range(6), y)
        if found.at is None:
            continue
        told += 1
        low = -1.0 if found.low is None else found.low
        held += low <= top <= (6.0 if found.high is None else found.high)
    assert told > 100
    assert held / told >= 0.92


def test_effects_of_a_grid_hold_what_is_true_also_where_people_differ_by_factor() -> None:
    """Two by three, one batch a cell: batches spread by 0.6, people want a factor more or less by 0.5."""
    chance = Random(12)
    held = panels = 0
    factors = ["oil", "heat"]
    for _ in range(200):
        every = [Way(f"{a}{b}", "T", f"{a} {b}", True, levels=(a, b)) for a in "xy" for b in "uvw"]
        batch = {w.key: chance.gauss(0, 0.6) for w in every}
        table = {}
        for p in range(8):
            level, own = chance.gauss(6, 1), chance.gauss(0, 0.5)
            for w in every:
                true = 1.0 + own if w.levels[0] == "y" else 0.0
                table[f"p{p}", w.key] = level + true + batch[w.key] + chance.gauss(0, 1)
        found = additive(table, {w.key: w.key for w in every}, every, factors)
        assert found is not None
        oil = next(e for e in found.effects if e.factor == "oil")
        gap = oil.gap if oil.high == "y" else -oil.gap
        panels += 1
        held += abs(gap - 1.0) <= oil.half
    assert held / panels >= 0.92

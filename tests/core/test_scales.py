"""Scales: each is complete, and the one whose best lies in the middle is counted, never averaged."""

import pytest
from scipy.stats import binomtest

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute, check_answer, share_of_scale
from yeasty.core.decide.outcome import HowSure
from yeasty.core.decide.scored import Arm
from yeasty.core.decide.scores import Answer, weighted_scores
from yeasty.core.decide.verdict import judge, per_attribute
from yeasty.core.kernel.errors import OutOfRange
from yeasty.core.kernel.scales import SCALES, Scale
from yeasty.core.kernel.scales.just_right import counts


def test_every_scale_that_is_named_is_there_and_the_reverse() -> None:
    assert set(SCALES) == set(Scale)
    assert all(k.key is key for key, k in SCALES.items())


@pytest.mark.parametrize("scale", list(Scale))
def test_every_scale_is_drawn_worded_and_checked_through_its_whole_range(scale: Scale) -> None:
    kind, samples = SCALES[scale], 5
    assert kind.name
    assert kind.drawn in ("slider", "words", "places", "ticks", "tally")
    assert kind.shape in ("value", "words", "tally")
    own = ("raw", "firm", "tender", "soft") if kind.own_words else ()
    top = kind.highest(samples, own)
    steps = round((top - kind.low) / kind.step) + 1
    assert steps >= 3
    if kind.drawn == "words":
        assert len(own or kind.words) == steps
    asked = Attribute("a", "crust", scale, words=own)
    for n in range(steps):
        value = round(kind.low + n * kind.step, 6)
        assert check_answer(asked, value, samples) == value
    for beyond in (kind.low - 1, top + 1):
        with pytest.raises(OutOfRange):
            check_answer(asked, beyond, samples)
    if kind.averaged:
        shares = [share_of_scale(asked, v, samples) for v in (kind.low, top)]
        assert sorted(shares) == [0.0, 10.0]
        assert (shares[0] == 10.0) is kind.low_is_best
    assert kind.averaged or not kind.weighs, "what is not averaged counts in no score"


def test_the_wanted_end_turns_a_share_around() -> None:
    low = Attribute("a", "oil", Scale.INTENSITY, high_is_better=False)
    assert share_of_scale(low, 0, 4) == 10.0
    assert share_of_scale(low, 2.5, 4) == 7.5


@pytest.mark.parametrize(("low", "right", "high"), [(0, 2, 6), (1, 3, 2), (5, 0, 0), (4, 4, 4), (1, 0, 9)])
def test_the_chance_of_a_lean_is_that_of_a_coin(low: int, right: int, high: int) -> None:
    got = counts([1.0] * low + [3.0] * right + [4.0] * high)
    assert (got.too_little, got.right, got.too_much) == (low, right, high)
    assert got.chance == pytest.approx(binomtest(high, low + high).pvalue)
    assert ("leans to" in got.words) is (got.chance is not None and got.chance < 0.05)


def test_where_all_say_right_there_is_nothing_to_test() -> None:
    assert counts([3.0] * 8).chance is None
    assert counts([3.0] * 8).words == "8 of 8 just right"


def salt(taster: str, method: str, value: float) -> Answer:
    return Answer(taster, method, method, "salt", value)


def test_just_right_enters_no_score_and_no_mean_whatever_weight_it_was_given() -> None:
    crust = Attribute("crust", "crust", Scale.INTENSITY, 2)
    right = Attribute("salt", "salt", Scale.JUST_RIGHT, 5)
    answers = [
        Answer("t", "m", "m", "crust", 8),
        salt("t", "m", 1),
        salt("u", "m", 5),
        Answer("u", "m", "m", "crust", 6),
    ]
    assert weighted_scores(answers, [crust, right], 2) == {("t", "m"): 8.0, ("u", "m"): 6.0}
    assert per_attribute(answers, [crust, right]) == {"crust": {"m": 7.0}, "salt": {}}
    with pytest.raises(ValueError, match="no better end"):
        share_of_scale(right, 5, 2)


def test_a_trial_that_asked_nothing_to_be_scored_says_so() -> None:
    right = Attribute("salt", "salt", Scale.JUST_RIGHT, 1)
    arms = [Arm("m", "M", "Oven", 2), Arm("n", "N", "Pan", 2)]
    answers = [salt(t, m, v) for t in "tuv" for m, v in (("m", 3.0), ("n", 5.0))]
    told = judge(School.WEIGHTED, arms, answers, [right])
    assert told.how_sure is HowSure.NOT_COMPARABLE
    assert "nothing that was asked counts in a score" in told.headline

"""What is proposed of a new trial: never laxer than its words, and nothing where they say nothing."""

import pytest

from yeasty.core.ask.proposals import MOST_JUDGED, STRICT, _food_words, _judged, propose_food, propose_judged
from yeasty.core.kernel.techniques import shipped
from yeasty.core.safety.core_minimum import food_classes


@pytest.mark.parametrize(
    ("said", "kind"),
    [
        (("Turkey meatballs",), "poultry"),
        (("meatballs",), "mince"),
        (("filled yeast buns",), "plant"),
        (("yeast buns",), "baked"),
        (("yeast buns", "Which way with a chicken filling?"), "stuffed"),
        (("peppers stuffed with mince",), "stuffed"),
        (("leek filled with egg",), "stuffed"),
        (("mince and peppers",), "mince"),
        (("rice pudding",), "plant"),
        (("rice pudding", "with egg"), "egg_dish"),
        (("CHICKPEAS, soaked",), "plant"),
        (("a dish of mine",), ""),
        ((""), ""),
    ],
)
def test_the_strictest_kind_that_a_word_points_to_is_proposed(said: tuple[str, ...], kind: str) -> None:
    found = propose_food(*said)
    assert found.food_class == kind
    assert bool(found.why) == bool(kind)


def test_what_is_filled_with_something_unnamed_is_told_to_be_looked_at() -> None:
    assert "stricter" in propose_food("filled yeast buns").why
    assert "stricter" not in propose_food("buns filled with turkey").why


def test_the_tables_name_only_what_there_is() -> None:
    assert set(_food_words().values()) <= set(food_classes())
    assert set(_food_words().values()) <= set(STRICT)
    for row in _judged():
        assert set(row.techniques) <= set(shipped()), row
        assert row.low
        assert row.high


def test_what_is_judged_follows_dish_and_technique_and_ends_with_taste() -> None:
    names = [j.name for j in propose_judged("filled yeast buns", ["oven", "deep_fryer", "steamer"])]
    assert names[:3] == ["Crust", "Crumb", "Rise"]
    assert names[-1] == "Taste"
    assert len(names) == len(set(names)) <= MOST_JUDGED
    assert "Browning" in [j.name for j in propose_judged("cauliflower florets", ["oven"])]
    assert "Browning" not in [j.name for j in propose_judged("cauliflower florets", ["steamer"])]
    assert [j.name for j in propose_judged("soup", [])] == ["Taste"]

"""What to do with what is left, against the limits by which this program lets food be tasted."""

import re

import pytest

from yeasty.core.publish.leftovers import leftovers
from yeasty.core.safety.asked import judge_kept
from yeasty.core.safety.cautions import Limit
from yeasty.core.safety.clock import strictest_zone
from yeasty.core.safety.core_minimum import STRICTEST, food_classes


def status(row: Limit) -> str:
    return row.status


def told(food: str, hazards: tuple[str, ...] = ()) -> str:
    rules = leftovers(food, hazards, status, profile=STRICTEST)
    assert all(source for _, source in rules)
    return "\n".join(text for text, _ in rules)


@pytest.mark.parametrize("food", [*food_classes(), ""])
def test_food_that_spoils_has_a_clock_a_way_to_cool_it_and_a_core(food: str) -> None:
    known = food_classes().get(food)
    if known is not None and not known.perishable:
        assert told(food) == ""
        return
    text = told(food)
    hours = strictest_zone().use_s
    assert hours is not None
    assert f"keeps {hours / 3600:g} h at most" in text
    assert "half of that where it is above 32 °C" in text
    assert "within 2 h, and to 5 °C (41 °F) within 6 h in all" in text
    assert "Reheat it once" in text
    cores = [float(c) for c in re.findall(r"core at (\d+)", text)]
    assert cores == [74.0]


def test_food_treated_as_told_is_let_through_and_slower_is_not() -> None:
    """The gate that judges readings of kept food takes what the page tells, and bars what goes beyond it."""
    as_told = judge_kept(
        [0, 7_000, 21_000, 60_000, 60_600, 60_800], [60, 20.9, 4, 4, 75, 75], now=60_900, rice=False
    )
    assert as_told.bars == ()
    slow = judge_kept([0, 9_000, 30_000], [60, 25, 4], now=30_100, rice=False)
    assert slow.bars
    cool = judge_kept([0, 7_000, 21_000, 60_000, 60_600], [60, 20.9, 4, 4, 65], now=60_700, rice=False)
    assert any("Reheated" in b for b in cool.bars)


def test_cooked_rice_is_told_its_own_shorter_times_alone() -> None:
    text = told("plant", ("rice_cooling",))
    assert "cold within 1 h, kept cold 24 h at most" in text
    assert "within 6 h" not in text
    assert "rice" not in told("plant").lower()

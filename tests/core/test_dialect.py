"""Units and words of a reader: what is written in both is told in one, and nothing else changes."""

import pytest

from yeasty.core.kernel.quantities_said import say_mass_both, say_temperature_both
from yeasty.core.publish.dialect import has_words, in_units, in_words, speaker, spoken
from yeasty.core.publish.reader import Units, Words, read_kitchen


@pytest.mark.parametrize("celsius", [-18.0, 4.0, 73.9, 100.0, 180.0, 232.5])
def test_a_temperature_said_in_both_is_told_in_one(celsius: float) -> None:
    both = f"Set to {say_temperature_both(celsius)}, then wait"
    metric, us = in_units(both, Units.METRIC), in_units(both, Units.US)
    assert "°F" not in metric
    assert "(" not in metric
    assert f"{celsius:g} °C" in metric
    assert "°C" not in us
    assert "(" not in us
    told = float(us.split("Set to ")[1].split(" °F")[0])
    assert told == pytest.approx(celsius * 9 / 5 + 32, abs=2.5)
    assert in_units(both, Units.BOTH) == both


@pytest.mark.parametrize("kg", [0.0005, 0.004, 0.1, 0.454, 0.999, 1.25, 3.0])
def test_a_mass_said_in_both_is_told_in_one(kg: float) -> None:
    both = say_mass_both(kg)
    assert " lb" not in in_units(both, Units.METRIC)
    assert " oz" not in in_units(both, Units.METRIC)
    if "(" in both:
        assert "g" not in in_units(both, Units.US).replace("lb", "").replace("oz", "")


def test_what_stands_in_one_unit_alone_is_turned_over() -> None:
    assert in_units("ours is set to 200 °C for that", Units.US) == "ours is set to 390 °F for that"
    assert in_units("from 5 to 74 °C in the middle", Units.US) == "from 41 to 165 °F in the middle"
    assert in_units("Ours were 25 mm thick", Units.US) == "Ours were 0.98 in thick"
    assert in_units("25 min at 74 °C (165 °F)", Units.US) == "25 min at 165 °F", "minutes are no millimetres"


def test_words_of_one_side_are_said_as_on_the_other() -> None:
    assert (
        in_words("Grilled under the grill; Hob off", Words.AMERICAN)
        == "Broiled under the broiler; Stovetop off"
    )
    assert in_words("Broil? No: under the broiler", Words.BRITISH) == "Broil? No: under the grill"
    assert in_words("a hobby", Words.AMERICAN) == "a hobby", "whole words only"
    there = {"a": "Broil on high", "b": "then over the grill outside"}
    say = speaker(there, Units.BOTH, Words.AMERICAN)
    assert spoken(there, say)["b"] == "then over the grill outside", (
        "in a kitchen that broils a grill is a fire"
    )


def test_names_that_parts_find_each_other_by_and_what_people_said_stay() -> None:
    record = {
        "tag": "HOB",
        "steps": [{"key": "hob", "what": "On the hob"}],
        "quotes": ["from the hob"],
        "n": 3,
    }
    told = spoken(record, speaker(record, Units.US, Words.AMERICAN))
    assert told == {
        "tag": "HOB",
        "steps": [{"key": "hob", "what": "On the stovetop"}],
        "quotes": ["from the hob"],
        "n": 3,
    }
    assert has_words(record)
    assert not has_words({"what": "Bake it", "quotes": ["on the hob"]})


def test_what_a_reader_types_is_read_in_their_units() -> None:
    us = read_kitchen({"units": "us", "thickness": "1", "altitude": "5280", "core": "165"})
    assert us.wrong == ()
    assert us.thickness_m == pytest.approx(0.0254)
    assert us.altitude_m == pytest.approx(1609.3, abs=0.1)
    assert us.core_c == pytest.approx(73.9, abs=0.05)
    said = read_kitchen({"thickness": "1 in", "core": "165F", "altitude": "5280 ft"})
    assert (said.thickness_m, said.core_c) == (us.thickness_m, us.core_c)
    metric = read_kitchen({"units": "us", "core": "74 °C", "thickness": "2,5 cm"})
    assert (metric.core_c, metric.thickness_m) == (74, pytest.approx(0.025))


@pytest.mark.parametrize(
    ("typed", "told"),
    [
        ({"core": "200"}, "The core you want"),
        ({"core": "20 F"}, "The core you want"),
        ({"core": "74 g"}, "The core you want"),
        ({"thickness": "30", "units": "us"}, "inches"),
        ({"units": "stone"}, "Units: choose one of the list."),
        ({"words": "welsh"}, "Words: choose one of the list."),
        ({"start": "freezer"}, "Your food: choose one of the list."),
    ],
)
def test_what_cannot_be_so_is_told_by_name_and_what_was_typed_stays(typed: dict[str, str], told: str) -> None:
    kitchen = read_kitchen(typed)
    assert any(told in line for line in kitchen.wrong)
    assert kitchen.typed == typed
    assert not kitchen.said

from contextlib import suppress
from math import isclose, isfinite

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.kernel.errors import BadQuantity
from yeasty.core.kernel.quantities import (
    System,
    fahrenheit,
    parse_duration,
    parse_energy,
    parse_mass,
    parse_power,
    parse_temperature,
    parse_volume,
)
from yeasty.core.kernel.quantities_said import say_duration, say_mass, say_temperature_both


@pytest.mark.parametrize(
    ("text", "kg"),
    [
        ("454 g", 0.454),
        ("1 lb", 0.45359237),
        ("1 lb 4 oz", 0.5669904625),
        ("1½ kg", 1.5),
        ("1 1/2 kg", 1.5),
        ("1 ½ kg", 1.5),
        ("0,5 kg", 0.5),
        ("450", 0.45),
        (" 2 Kilos ", 2.0),
        ("⅓ kg", 1 / 3),
        ("1lb4oz", 0.5669904625),
    ],
)
def test_masses_as_cooks_write_them(text: str, kg: float) -> None:
    assert isclose(parse_mass(text), kg, rel_tol=1e-6)


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("2:30", 150),
        ("1:02:30", 3750),
        ("12", 720),
        ("1 h 10 min", 4200),
        ("90 s", 90),
        ("½ h", 1800),
        ("1.5 min", 90),
    ],
)
def test_durations_as_cooks_write_them(text: str, seconds: float) -> None:
    assert isclose(parse_duration(text), seconds)


@pytest.mark.parametrize("text", ["", "abc", "5 apples", "1:75", "12 kg", "--3", "1 / 0 min", "3 4 min"])
def test_what_is_no_duration_is_refused_with_an_example(text: str) -> None:
    with pytest.raises(BadQuantity) as refused:
        parse_duration(text, "rest")
    assert refused.value.field == "rest"
    assert refused.value.todo


def test_a_bare_number_follows_the_persons_units() -> None:
    assert parse_temperature("212", system=System.US) == pytest.approx(100)
    assert parse_temperature("212") == 212
    assert parse_mass("16", system=System.US) == pytest.approx(0.45359237)
    assert parse_volume("1", system=System.US) == pytest.approx(236.588e-6, rel=1e-4)


def test_temperatures_outside_a_kitchen_are_refused() -> None:
    with pytest.raises(BadQuantity):
        parse_temperature("2000 C")
    with pytest.raises(BadQuantity):
        parse_temperature("warm")
    assert parse_temperature("−18 °C") == -18


def test_powers_and_energies() -> None:
    assert parse_power("1.5 kW") == 1500
    assert parse_power("700") == 700
    assert parse_energy("0.5 kWh") == 1_800_000


@given(st.integers(1, 100_000))
def test_a_written_duration_reads_back(seconds: int) -> None:
    shown = parse_duration(say_duration(seconds))
    assert abs(shown - seconds) <= (30 if seconds >= 3600 else 0)


@given(st.floats(0.001, 0.999))
def test_a_written_mass_reads_back_to_three_figures(kg: float) -> None:
    assert parse_mass(say_mass(kg)) == pytest.approx(kg, rel=6e-3)


@given(st.text(max_size=12))
def test_any_text_is_read_or_refused_never_a_crash(text: str) -> None:
    for parse in (parse_mass, parse_duration, parse_temperature):
        with suppress(BadQuantity):
            assert isfinite(parse(text))


def test_both_units_of_a_set_point() -> None:
    assert say_temperature_both(200) == "200 °C (390 °F)"
    assert fahrenheit(-40) == -40

import csv
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.heat.steam import (
    Load,
    atmospheric_pressure,
    boiled_off,
    boiling_point,
    come_up_time,
    cooking_time_factor,
    dial_pressure,
    pressure_time,
    release_time,
    saturation_temperature,
)
from yeasty.core.kernel.errors import OutOfRange, RuleError
from yeasty.core.kernel.quantities import parse_pressure

TABLE = list(
    csv.DictReader(
        (Path(__file__).parents[2] / "reference" / "steam_saturation.csv").read_text().splitlines()
    )
)


@pytest.mark.parametrize("row", TABLE, ids=lambda r: f"{r['altitude_m']} m, {r['gauge_pressure_pa']} Pa")
def test_saturation_is_that_of_the_table(row: dict[str, str]) -> None:
    got = saturation_temperature(float(row["gauge_pressure_pa"]), float(row["altitude_m"]))
    assert float(got) == pytest.approx(float(row["saturation_c"]), abs=0.006)


@given(low=st.floats(0, 4000), higher=st.floats(10, 1500), gauge=st.floats(0, 120e3))
@settings(max_examples=40)
def test_higher_up_is_never_hotter(low: float, higher: float, gauge: float) -> None:
    assert saturation_temperature(gauge, low + higher) < saturation_temperature(gauge, low)
    assert boiling_point(low + higher) < boiling_point(low)


def test_a_pressure_cooker_higher_up_takes_longer_and_the_range_holds_the_value() -> None:
    t = pressure_time(1500, 80e3, 0, 80e3, 1600)
    assert 1500 < t.low <= t.value <= t.high
    assert pressure_time(1500, 80e3, 0, 80e3, 0).value == pytest.approx(1500)


@given(a=st.floats(86, 124), b=st.floats(86, 124))
@settings(max_examples=40)
def test_there_and_back_is_where_it_began(a: float, b: float) -> None:
    assert cooking_time_factor(a, b).value * cooking_time_factor(b, a).value == pytest.approx(1)


def test_more_power_comes_up_sooner_and_more_mass_later() -> None:
    base = come_up_time(Load(0.4, 1.2), 1000, 80e3)
    assert (
        come_up_time(Load(0.4, 1.2), 2000, 80e3).value
        < base.value
        < come_up_time(Load(0.4, 2.4), 1000, 80e3).value
    )
    assert base.low < base.value < base.high
    assert release_time(Load(0.4, 2.4), 80e3).value > release_time(Load(0.4, 1.2), 80e3).value


def test_a_lid_keeps_most_of_the_water() -> None:
    assert boiled_off(1000, 600, covered=True).high < boiled_off(1000, 600).low


@pytest.mark.parametrize(
    ("text", "pascal"),
    [
        ("70 kPa", 70e3),
        ("0.7 bar", 70e3),
        ("10 psi", 68947.57),
        ("11.6 psi", 79979.2),
        ("high", 80e3),
        ("low", 45e3),
        ("80", 80e3),
    ],
)
def test_pressure_as_cooks_and_gauges_write_it(text: str, pascal: float) -> None:
    assert parse_pressure(text) == pytest.approx(pascal, rel=1e-5)


@pytest.mark.parametrize("text", ["warm", "80 °C", "", "-3 psi", "9 bar"])
def test_what_is_no_pressure_is_told(text: str) -> None:
    with pytest.raises(RuleError, match="pressure"):
        parse_pressure(text)


def test_bad_input_names_its_field() -> None:
    with pytest.raises(OutOfRange, match="gauge pressure"):
        saturation_temperature(-5, 0)
    with pytest.raises(OutOfRange, match="altitude"):
        atmospheric_pressure(float("nan"))
    with pytest.raises(RuleError, match="dial"):
        dial_pressure("turbo")
    with pytest.raises(RuleError, match="start temperature"):
        come_up_time(Load(0.4, 1.2, start_c=130), 1000, 80e3)

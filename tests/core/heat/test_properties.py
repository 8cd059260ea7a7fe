import csv
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.heat.conduction import Piece
from yeasty.core.heat.properties import (
    Composition,
    composition_matters,
    composition_of,
    ingredients,
    properties,
    surface_coefficients,
    with_air,
    with_label,
)
from yeasty.core.kernel.errors import Refused, RuleError

REFERENCE = Path(__file__).parents[2] / "reference"
SHIPPED = Path(__file__).parents[3] / "yeasty" / "core" / "heat"


def test_the_coefficients_shipped_are_those_checked() -> None:
    assert (SHIPPED / "choi_okos.csv").read_text() == (REFERENCE / "choi_okos.csv").read_text()


def test_a_lean_meat_has_the_properties_of_the_worked_example() -> None:
    """70 % water, 21 % protein, 8 % fat, 1 % ash at 20 °C: 1049 kg/m³, 3523 J/kgK, 0.492 W/mK."""
    p = properties(Composition(0.70, 0.21, 0.08, 0, 0, 0.01), 20)
    assert (round(p.density), round(p.heat_capacity), round(p.conductivity, 3)) == (1049, 3523, 0.492)
    assert p.diffusivity == pytest.approx(p.conductivity / (p.density * p.heat_capacity))


def test_water_alone_is_water() -> None:
    row = {
        r["property"]: r
        for r in csv.DictReader((REFERENCE / "choi_okos.csv").read_text().splitlines())
        if r["component"] == "water"
    }
    p = properties(Composition(1.0), 0.0)
    assert p.heat_capacity == pytest.approx(float(row["heat_capacity_j_kgk"]["a"]))
    assert p.conductivity == pytest.approx(float(row["conductivity_w_mk"]["a"]))


def test_every_ingredient_adds_up_and_says_that_it_is_typical() -> None:
    table = ingredients()
    assert 55 <= len(table) <= 80
    for name, composition in table.values():
        assert sum(composition.shares().values()) == pytest.approx(1, abs=0.02), name
        assert composition.status == "typical"
        p = properties(composition, 40)
        assert 3e-8 < p.diffusivity < 2e-7, name


def test_frozen_food_is_refused_with_the_reason() -> None:
    with pytest.raises(Refused, match="frozen: heat goes into melting"):
        properties(ingredients()["meatball_mix"][1], -5)


def test_a_label_replaces_what_is_typical() -> None:
    base = ingredients()["meatball_mix"][1]
    lean = with_label(base, {"fat": 0.03})
    assert lean.fat == pytest.approx(0.03)
    assert lean.water > base.water
    assert lean.status == "label"


@pytest.mark.parametrize(
    "shares", [{"water": 0.5}, {"water": 0.7, "protein": -0.1, "fat": 0.4}, {"moisture": 1.0}]
)
def test_shares_that_cannot_be_are_told(shares: dict[str, float]) -> None:
    with pytest.raises(RuleError):
        composition_of(shares)


@given(air=st.floats(0.0, 0.8))
@settings(max_examples=30)
def test_air_makes_it_insulate(air: float) -> None:
    solid = properties(ingredients()["bread_crumb"][1], 60)
    crumb = with_air(solid, solid.density * (1 - air))
    assert crumb.conductivity <= solid.conductivity + 1e-9
    assert crumb.conductivity >= 0.028 * 0.9


def test_what_a_tenth_of_composition_does_to_the_time_is_shown_largest_first() -> None:
    found = composition_matters(
        Composition(0.7, 0.21, 0.08, 0, 0, 0.01), Piece("sphere", 0.02), 74, 5, 100, 2000
    )
    sizes = [max(abs(s.less), abs(s.more)) for s in found]
    assert sizes == sorted(sizes, reverse=True)
    assert 0 < sizes[0] < 0.1


def test_surface_coefficients_have_a_range_and_a_status() -> None:
    for c in surface_coefficients().values():
        assert c.low < c.typical < c.high
        assert c.status == "typical"

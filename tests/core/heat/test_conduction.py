import csv
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.heat.conduction import (
    Piece,
    centre_temperature,
    coefficients,
    roots,
    temperature,
    time_to_target,
    unaccomplished,
)
from yeasty.core.heat.finite_volumes import centre_curves
from yeasty.core.kernel.errors import OutOfRange, Refused, RuleError

# One-term roots and coefficients computed from the eigenvalue equations to 4 digits (kept beside the tests).
REFERENCE = Path(__file__).parents[2] / "reference"
TABLE = list(csv.DictReader((REFERENCE / "conduction_one_term.csv").read_text().splitlines()))


@pytest.mark.parametrize("row", TABLE, ids=lambda r: f"Bi {r['biot']}")
def test_roots_and_coefficients_are_those_of_the_table(row: dict[str, str]) -> None:
    for shape in ("slab", "cylinder", "sphere"):
        zeta = roots(shape, float(row["biot"]))
        assert zeta[0] == pytest.approx(float(row[f"{shape}_root"]), abs=6e-5)
        assert coefficients(shape, zeta)[0] == pytest.approx(float(row[f"{shape}_coefficient"]), abs=6e-5)
        assert np.all(np.diff(zeta) > 0)


@pytest.mark.parametrize("shape", ["slab", "cylinder", "sphere"])
def test_the_centre_rises_without_a_step_and_never_past_its_surroundings(shape: str) -> None:
    t = centre_temperature(shape, 0.02, np.linspace(0, 7200, 400), 5, 180, 30, 0.5, 1.4e-7)
    assert t[0] == 5
    assert np.all(np.diff(t) >= -1e-6)
    assert np.all(t <= 180)
    assert np.max(np.diff(t)) < 3


def test_thin_pieces_follow_lumped_cooling() -> None:
    """At Biot 0.02 a slab is nearly uniform: within 1 % of exp(−h t / (ρ c L))."""
    h, k, a, half = 10.0, 0.5, 1.4e-7, 0.001
    seconds = np.array([60.0, 180.0, 400.0])
    lumped = np.exp(-h * seconds * a / (k * half))
    got = (centre_temperature("slab", half, seconds, 80, 20, h, k, a) - 20) / 60
    assert got == pytest.approx(lumped, rel=0.02)


def test_what_is_no_food_is_refused() -> None:
    with pytest.raises(OutOfRange):
        centre_temperature("sphere", 0.02, 60, 5, 180, 1e9, 0.5, 1.4e-7)
    with pytest.raises(RuleError):
        centre_temperature("sphere", 0.02, -1, 5, 180, 30, 0.5, 1.4e-7)
    with pytest.raises(RuleError):
        roots("cube", 1.0)  # type: ignore[arg-type]


@pytest.mark.parametrize("shape", ["slab", "cylinder", "sphere"])
def test_series_and_finite_volumes_agree_to_a_twentieth_of_a_kelvin(shape: str) -> None:
    """Over Biot 0.05 to 50 and Fourier 0.005 to 3, from 5 °C into 180 °C: two ways that share no line of
    code.
    """
    half, k, alpha, start, around = 0.02, 0.5, 1.4e-7, 5.0, 180.0
    biot = np.geomspace(0.05, 50, 9)
    fourier = np.concatenate(([0.0], np.geomspace(0.005, 3, 60)))
    seconds = fourier * half**2 / alpha
    h = biot * k / half
    for place in (0.0, 0.5):
        series = around + (start - around) * unaccomplished(shape, biot[:, None], fourier[None, :], place)
        volumes = centre_curves(
            shape, half, seconds, start, around, h[:, None], k, alpha, position=place, cells=120, substeps=8
        )
        assert np.abs(series - volumes).max() < 0.05


def test_short_times_join_on_without_a_step() -> None:
    """Where the series gives way to the semi-infinite body both say the same."""
    fourier = np.geomspace(1e-7, 1e-3, 400)
    for shape in ("slab", "cylinder", "sphere"):
        left = unaccomplished(shape, 5.0, fourier, 0.995)
        assert np.all(np.diff(left) <= 1e-12)
        assert np.abs(np.diff(left, 2)).max() < 2e-3


def test_a_brick_is_the_product_of_its_slabs_and_a_cube_heats_faster_than_a_slab() -> None:
    brick = Piece("brick", 0.02, half_width=0.03, half_length=0.05)
    args = (600.0, 5.0, 180.0, 30.0, 0.5, 1.4e-7)
    parts = [(temperature(Piece("slab", d), *args) - 180) / (5 - 180) for d in (0.02, 0.03, 0.05)]
    assert temperature(brick, *args) == pytest.approx(180 - 175 * float(np.prod(parts)))
    cube = Piece("brick", 0.02, half_width=0.02, half_length=0.02)
    assert temperature(cube, *args) > temperature(Piece("slab", 0.02), *args) + 10


@given(
    half=st.floats(0.004, 0.06),
    h=st.floats(5, 2000),
    k=st.floats(0.2, 0.7),
    alpha=st.floats(8e-8, 2e-7),
    start=st.floats(-5, 30),
    around=st.floats(90, 250),
    share=st.floats(0.05, 0.95),
)
@settings(max_examples=60)
def test_time_to_target_is_where_the_curve_crosses_it(
    half: float, h: float, k: float, alpha: float, start: float, around: float, share: float
) -> None:
    target = start + share * (around - start)
    seconds = time_to_target(Piece("sphere", half), target, start, around, h, k, alpha)
    assert temperature(Piece("sphere", half), seconds, start, around, h, k, alpha) == pytest.approx(
        target, abs=0.02
    )


@given(thicker=st.floats(1.05, 3), h=st.floats(5, 500))
@settings(max_examples=40)
def test_a_thicker_piece_takes_longer_by_a_power_between_one_and_two(thicker: float, h: float) -> None:
    a, b = (time_to_target(Piece("slab", 0.01 * f), 75, 5, 180, h, 0.5, 1.4e-7) for f in (1, thicker))
    assert thicker * 0.999 <= b / a <= thicker**2 * 1.001


@pytest.mark.parametrize(
    ("change", "names"),
    [
        ({"piece": Piece("sphere", -0.02)}, "radius"),
        ({"piece": Piece("brick", 0.02)}, "half width"),
        ({"target": 200.0}, "target temperature"),
        ({"target": float("nan")}, "target temperature"),
        ({"h": float("nan")}, "surface coefficient"),
        ({"initial": 1e6}, "temperature"),
        ({"diffusivity": 1.4e-4}, "diffusivity"),
    ],
)
def test_bad_input_names_its_field(change: dict[str, object], names: str) -> None:
    good: dict[str, object] = {
        "piece": Piece("sphere", 0.02),
        "target": 75.0,
        "initial": 5.0,
        "ambient": 180.0,
        "h": 30.0,
        "conductivity": 0.5,
        "diffusivity": 1.4e-7,
    }
    with pytest.raises(RuleError) as told:
        time_to_target(**{**good, **change})  # type: ignore[arg-type]
    assert names in told.value.field


def test_a_target_above_the_surroundings_says_what_to_do() -> None:
    with pytest.raises(Refused, match="hotter surroundings"):
        time_to_target(Piece("slab", 0.02), 190, 5, 180, 30, 0.5, 1.4e-7)

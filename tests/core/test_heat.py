import csv
from pathlib import Path

import numpy as np
import pytest

from yeasty.core.errors import OutOfRange, RuleError
from yeasty.core.heat.conduction import centre_temperature, coefficients, roots

# One-term roots and coefficients computed from the eigenvalue equations to 4 digits (kept beside the tests).
TABLE = list(csv.DictReader((Path(__file__).parent / "conduction_one_term.csv").read_text().splitlines()))


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

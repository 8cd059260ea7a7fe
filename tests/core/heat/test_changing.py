from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.heat.changing import Stage, _WetSurface, heat_through, peak_after_pull, pull_for_peak
from yeasty.core.heat.conduction import Piece, temperature
from yeasty.core.heat.finite_volumes import centre_curves
from yeasty.core.heat.moist_air import (
    boiling_point_at,
    evaporation,
    latent_heat,
    one_evaporation,
    one_latent_heat,
    one_vapour_pressure,
    vapour_pressure,
    wet_bulb,
)
from yeasty.core.kernel.errors import Refused, RuleError

FOOD = (5.0, 0.48, 1.4e-7)


@pytest.mark.parametrize(
    "piece",
    [
        Piece("slab", 0.015),
        Piece("cylinder", 0.02),
        Piece("sphere", 0.025),
        Piece("short cylinder", 0.03, half_length=0.02),
    ],
    ids=lambda p: p.shape,
)
def test_energy_gained_is_energy_that_flowed_in(piece: Piece) -> None:
    stages = [
        Stage(300, 60, 20, ambient_end_c=200),
        Stage(600, 200, 25),
        Stage(300, 175, 250),
        Stage(600, 22, 8),
    ]
    out = heat_through(piece, stages, np.arange(60.0, 1801, 60), *FOOD)
    assert np.abs(out.gained_j_m3 - out.flowed_j_m3).max() < 1e-6 * np.abs(out.gained_j_m3).max()


def test_the_balance_closes_with_a_wet_surface_too() -> None:
    out = heat_through(
        Piece("sphere", 0.02), [Stage(1800, 180, 25, wet=True)], np.arange(60.0, 1801, 60), *FOOD
    )
    assert np.abs(out.gained_j_m3 - out.flowed_j_m3).max() < 1e-6 * np.abs(out.gained_j_m3).max()
    assert np.all(np.diff(out.evaporated_kg_m2) >= 0)


def test_constant_surroundings_give_the_series() -> None:
    for piece in (Piece("sphere", 0.02), Piece("short cylinder", 0.03, half_length=0.02)):
        times = np.array([120.0, 600, 1500])
        got = heat_through(piece, [Stage(1500, 180, 40)], times, *FOOD).centre_c
        assert got == pytest.approx(temperature(piece, times, FOOD[0], 180, 40, *FOOD[1:]), abs=0.06)


def test_refining_cells_shows_second_order() -> None:
    """Halving the cells' size quarters the error, against the series."""
    fourier = np.linspace(0, 0.4, 9)
    seconds = fourier * 0.02**2 / 1.4e-7
    exact = temperature(Piece("slab", 0.02), seconds, 5, 180, 60, 0.5, 1.4e-7)
    errors = [
        np.abs(
            centre_curves("slab", 0.02, seconds, 5, 180, 60, 0.5, 1.4e-7, cells=n, substeps=400)[0] - exact
        ).max()
        for n in (8, 16, 32)
    ]
    orders = np.log2(np.array(errors[:-1]) / np.array(errors[1:]))
    assert np.all(orders > 1.7), (errors, orders)


def test_refining_steps_shows_second_order() -> None:
    seconds = np.linspace(0, 900, 4)
    fine = centre_curves("sphere", 0.02, seconds, 5, 180, 60, 0.5, 1.4e-7, substeps=1600)[0]
    errors = [
        np.abs(centre_curves("sphere", 0.02, seconds, 5, 180, 60, 0.5, 1.4e-7, substeps=n)[0] - fine).max()
        for n in (20, 40, 80)
    ]
    orders = np.log2(np.array(errors[:-1]) / np.array(errors[1:]))
    assert np.all(orders > 1.7), (errors, orders)


def test_a_wet_surface_stays_near_the_wet_bulb_until_it_is_dry() -> None:
    stage = Stage(5400, 180, 25, wet=True, air_vapour_pa=2000, water_kg_m2=0.8)
    out = heat_through(Piece("slab", 0.01), [stage], np.arange(60.0, 5401, 60), 20.0, 0.5, 1.4e-7)
    wet = out.evaporated_kg_m2 < 0.79
    assert out.surface_c[wet].max() < wet_bulb(180, 2000) + 3
    assert out.surface_c[-1] > 120
    assert out.evaporated_kg_m2[-1] == pytest.approx(0.8, abs=0.02)


def test_steam_condenses_on_what_is_cold() -> None:
    assert evaporation(20, 90_000, 20) < 0
    assert wet_bulb(60, 101_000) > 59.9


@given(st.floats(0.05, 249.9), st.floats(0, 100_000), st.floats(0.5, 500))
def test_one_surface_is_reckoned_as_many(celsius: float, vapour: float, h: float) -> None:
    assert one_vapour_pressure(celsius) == pytest.approx(float(vapour_pressure(celsius)), rel=1e-9)
    assert one_latent_heat(celsius) == pytest.approx(float(latent_heat(celsius)), rel=1e-9)
    surface = min(celsius, 99.9)
    assert one_evaporation(surface, vapour, h) == pytest.approx(
        float(evaporation(surface, vapour, h)), rel=1e-6, abs=1e-12
    )


@given(
    st.lists(st.tuples(st.floats(20, 320), st.floats(2, 99)), min_size=2, max_size=5),
    st.floats(3, 500),
    st.floats(20, 5000),
)
def test_a_wet_surface_is_where_what_comes_in_goes_on_or_boils_off(
    moments: list[tuple[float, float]], h: float, inner: float
) -> None:
    """Found from where it was before, whatever that was: heat from the air is what leaves as vapour and what
    goes inwards; else it is held below boiling.
    """
    skin = _WetSurface(Stage(60, 200, h, wet=True), 101325.0)
    for air, last in moments:
        surface, slope, around = skin.balance(air, last, inner)
        gain = h * (air - surface) - float(evaporation(surface, 1500.0, h) * latent_heat(surface))
        inwards = inner * (surface - last)
        if surface < skin.limit:
            assert gain == pytest.approx(inwards, abs=1e-3 * (h + inner))
        else:
            assert gain >= inwards - 1e-6
        assert slope * (around - surface) == pytest.approx(inwards, abs=1e-6 * inner)


@pytest.mark.parametrize(("celsius", "joule"), [(0.01, 2.5009e6), (25, 2.4417e6), (100, 2.2564e6)])
def test_latent_heat_of_water(celsius: float, joule: float) -> None:
    """Saturation values of water by IAPWS-95, as the library computes them, to 0.1 %."""
    assert float(latent_heat(celsius)) == pytest.approx(joule, rel=1e-3)


def test_carryover_pull_reaches_the_wanted_peak_and_bigger_pieces_coast_further() -> None:
    heating, air = Stage(5400, 180, 25), Stage(1800, 22, 8)
    small, large = (pull_for_peak(Piece("sphere", r), heating, air, 70.0, *FOOD) for r in (0.02, 0.035))
    assert small.peak_c == pytest.approx(70, abs=0.2)
    assert large.peak_c == pytest.approx(70, abs=0.2)
    assert large.peak_c - large.pull_c > small.peak_c - small.pull_c > 0.5
    later = peak_after_pull(Piece("sphere", 0.02), heating, air, small.time_s + 120, *FOOD)
    assert later.peak_c > small.peak_c


def test_a_peak_that_cannot_be_is_refused() -> None:
    with pytest.raises(Refused, match="peak temperature"):
        pull_for_peak(Piece("sphere", 0.03), Stage(300, 180, 25), Stage(900, 22, 8), 80.0, *FOOD)
    with pytest.raises(Refused, match="above the start"):
        pull_for_peak(Piece("sphere", 0.03), Stage(300, 180, 25), Stage(900, 22, 8), 4.0, *FOOD)


@pytest.mark.parametrize(
    ("stages", "times", "names"),
    [
        ([], [60.0], "stages"),
        ([Stage(600, 180, 25)], [60.0, 30.0], "time"),
        ([Stage(600, 180, 25)], [700.0], "time"),
        ([Stage(600, float("nan"), 25)], [60.0], "surroundings"),
        ([Stage(-1, 180, 25)], [], "time"),
    ],
)
def test_bad_stages_name_what_is_wrong(stages: list[Stage], times: list[float], names: str) -> None:
    with pytest.raises((RuleError, IndexError)) as told:
        heat_through(Piece("sphere", 0.02), stages, times or [1.0], *FOOD)
    assert names in str(told.value)


def test_a_wet_brick_is_refused_not_guessed() -> None:
    brick = Piece("brick", 0.02, half_width=0.02, half_length=0.02)
    with pytest.raises(RuleError, match="slab, cylinder and sphere"):
        heat_through(brick, [replace(Stage(600, 180, 25), wet=True)], [60.0], *FOOD)


def test_boiling_point_falls_with_pressure() -> None:
    assert boiling_point_at(101325) > boiling_point_at(83500) > boiling_point_at(70000)

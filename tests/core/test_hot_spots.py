"""Hot and cool spots of a vessel: what a test of thermometers or of toast makes of its map."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.places import HeatTest, Spot, VesselMap, check_spots, heat_at, heat_unit, with_test

TRAY = VesselMap("tray", 0.4, 0.3, 0.05)
PLACES = st.tuples(st.integers(1, 39), st.integers(1, 29), st.floats(170, 225))


@given(st.lists(PLACES, min_size=3, max_size=9, unique_by=lambda p: (p[0], p[1])))
def test_what_thermometers_read_is_what_the_map_tells_there(read: list[tuple[int, int, float]]) -> None:
    """By the definition: a place is hotter than the middle by what lies between the two readings."""
    readings = [Spot(x / 100, y / 100, c) for x, y, c in read]
    m = with_test(TRAY, HeatTest.THERMOMETER, readings)
    for a in readings:
        for b in readings:
            told = heat_at(m, a.x_m, a.y_m) - heat_at(m, b.x_m, b.y_m)
            # Each is kept to a tenth.
            assert told == pytest.approx(a.k - b.k, abs=0.11)
    assert heat_at(m, 0.2, 0.15) == pytest.approx(0, abs=0.11)
    lowest, highest = min(s.k for s in m.spots), max(s.k for s in m.spots)
    for x in (0.0, 0.13, 0.27, 0.4):
        for y in (0.0, 0.11, 0.3):
            assert lowest - 1e-9 <= heat_at(m, x, y) <= highest + 1e-9


def test_a_kitchen_whose_back_left_corner_runs_hot_is_told_so() -> None:
    """Read off an oven: 200 °C in the middle, 214 at the back left, 197 in front."""
    m = with_test(
        TRAY,
        HeatTest.THERMOMETER,
        [Spot(0.2, 0.15, 200), Spot(0.05, 0.27, 214), Spot(0.05, 0.03, 197), Spot(0.35, 0.03, 197)],
    )
    assert heat_at(m, 0.05, 0.27) == 14
    assert heat_at(m, 0.35, 0.03) == -3
    beside = heat_at(m, 0.08, 0.25)
    assert 5 < beside < 14
    assert heat_unit(m) == "K"


def test_toast_is_told_in_shades_and_never_beside_degrees() -> None:
    m = with_test(TRAY, HeatTest.TOAST, [Spot(0.2, 0.15, 3), Spot(0.05, 0.27, 6), Spot(0.35, 0.03, 2)])
    assert heat_unit(m) == "shades"
    assert heat_at(m, 0.05, 0.27) == 3
    with pytest.raises(RuleError, match="shades of toast and in degrees"):
        check_spots(replace(m, spots=(*m.spots, Spot(0.1, 0.1, 5.0))))


def test_a_test_that_cannot_tell_is_refused_by_name() -> None:
    two = [Spot(0.2, 0.15, 200), Spot(0.05, 0.27, 214)]
    with pytest.raises(RuleError, match="at least 3"):
        with_test(TRAY, HeatTest.THERMOMETER, two)
    with pytest.raises(RuleError, match="shade"):
        with_test(TRAY, HeatTest.TOAST, [*two, Spot(0.3, 0.1, 3)])
    with pytest.raises(RuleError, match="outside the vessel"):
        with_test(TRAY, HeatTest.THERMOMETER, [*two, Spot(0.5, 0.1, 200)])
    with pytest.raises(RuleError, match="by eye"):
        with_test(TRAY, HeatTest.EYE, [*two, Spot(0.3, 0.1, 200)])


def test_spots_put_by_eye_fade_as_before() -> None:
    m = replace(TRAY, spots=(Spot(0.05, 0.25, 10.0),))
    assert heat_at(m, 0.05, 0.25) == 10
    assert heat_at(m, 0.39, 0.01) == 0

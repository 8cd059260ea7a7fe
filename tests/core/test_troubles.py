"""What goes wrong: what ships is held against the core's own reckoning; a page tells what belongs to it."""

import pytest

from yeasty.core.ask.techniques import techniques
from yeasty.core.heat import conduction, microwave, moist_air, steam
from yeasty.core.heat.changing import Stage, peak_after_pull
from yeasty.core.heat.conduction import Piece
from yeasty.core.heat.frying import Fryer, FryLoad, fat_after_loading
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.troubles import SHIPPED, Trouble, check_trouble, for_page


@pytest.mark.parametrize("key", SHIPPED)
def test_each_that_ships_is_whole_and_belongs_to_known_techniques(key: str) -> None:
    s = SHIPPED[key]
    check_trouble(s.trouble)
    assert s.trouble.stands_on
    assert s.techniques
    assert set(s.techniques) <= set(techniques())


def _through(half: float) -> float:
    return conduction.time_to_target(Piece("slab", half), 60.0, 5.0, 180.0, 25.0, 0.45, 1.4e-7)


def test_twice_as_thick_takes_more_than_twice_and_at_most_four_times() -> None:
    assert 2 < _through(0.02) / _through(0.01) <= 4.0
    assert "up to four times" in SHIPPED["thick_piece"].trouble.causes


def test_water_boils_cooler_the_higher() -> None:
    heights = [0.0, 500.0, 1_500.0, 3_000.0]
    boils = [float(steam.boiling_point(h)) for h in heights]
    assert boils == sorted(boils, reverse=True)
    assert boils[0] - boils[2] > 4


def test_a_wet_surface_stays_far_below_the_air() -> None:
    assert moist_air.wet_bulb(180.0, 2_000.0) < 60


def test_a_larger_load_cools_the_oil_further() -> None:
    fryer = Fryer(2.6, 1700, 175)
    small, large = (fat_after_loading(fryer, FryLoad(kg)).lowest_c for kg in (0.3, 0.9))
    assert large < small - 5


def test_a_fuller_pot_comes_to_pressure_later() -> None:
    small, large = (steam.come_up_time(steam.Load(kg, kg), 1800, 80_000).value for kg in (0.5, 1.0))
    assert large > 1.4 * small


def test_a_thick_piece_goes_on_heating_after_it_is_out() -> None:
    pulled = peak_after_pull(
        Piece("sphere", 0.03), Stage(1, 180, 25), Stage(1800, 22, 8), 1800, 5, 0.45, 1.4e-7
    )
    assert pulled.peak_c > pulled.pull_c + 3


def test_a_microwaved_load_needs_time_to_even_out() -> None:
    assert microwave.standing_time(0.5, 0.03).value > 60


def test_more_in_the_microwave_takes_longer() -> None:
    assert microwave.time_for_load(180, load_kg=0.3, new_load_kg=0.6).value > 180


TOLD = Trouble("pale", "no colour", "wet", "dry it", normal=False, stands_on="")


def test_a_page_tells_what_belongs_to_it() -> None:
    own = Trouble("splits", "a seam opens", "sealed badly", "pinch it", normal=False, stands_on="")
    known = [(TOLD, ["oven"], False), (own, [], True)]
    assert for_page(known, {"oven"}) == (own, TOLD)
    assert for_page(known, {"microwave"}) == (own,)
    other = [(own, ["microwave"], True)]
    assert for_page(other, {"oven"}) == (), "of a way that the page does not write out"
    assert for_page([(own, [], False)], {"oven"}) == ()


@pytest.mark.parametrize("field", ["name", "looks", "causes", "cure"])
def test_what_says_nothing_is_refused(field: str) -> None:
    words = {"name": "n", "looks": "l", "causes": "c", "cure": "x", field: " "}
    with pytest.raises(RuleError) as told:
        check_trouble(Trouble(**words, normal=False, stands_on=""))
    assert told.value.field == field


def test_what_is_normal_needs_no_cure() -> None:
    check_trouble(Trouble("quiet at first", "no colour", "it comes last", "", normal=True, stands_on=""))

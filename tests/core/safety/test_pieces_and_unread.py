"""Cores of pieces, holds between two readings, food that was kept, food that nobody read while it warmed."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.heat.conduction import centre_temperature
from yeasty.core.safety.asked import judge_kept
from yeasty.core.safety.contact import Use, carrying
from yeasty.core.safety.core_minimum import CoreStanding, judge_core, requirements
from yeasty.core.safety.lethality import hold_needed
from yeasty.core.safety.pieces import CoreReading, Pieces, advice, judge_pieces
from yeasty.core.safety.unread import (
    DIFFUSIVITY,
    FILMS,
    HEAT_CAPACITY,
    Seen,
    Setting,
    heating_up_s,
    seen_by_setting,
    slowest_s,
    warmed,
)

SIX = Pieces(6, one=False, strict=True)
POULTRY = requirements("poultry")


def held(piece: str, celsius: float, at: float = 0.0, hold: float = 30.0) -> list[CoreReading]:
    return [
        CoreReading(at, celsius, piece, id=f"{piece}{at}"),
        CoreReading(at + hold, celsius, piece, id=f"{piece}{at}b"),
    ]


def test_a_cold_piece_bars_whatever_the_others_read() -> None:
    warm = held("1", 79) + held("2", 79)
    assert judge_pieces(POULTRY, warm, SIX).standing is CoreStanding.MEETS
    assert judge_pieces(POULTRY, [*warm, CoreReading(60, 61, "3")], SIX).standing is CoreStanding.BELOW


@given(st.lists(st.tuples(st.sampled_from("abcd"), st.floats(40, 95)), min_size=1, max_size=8))
@settings(max_examples=60)
def test_one_more_cold_piece_never_opens_and_the_order_does_not_count(rows: list[tuple[str, float]]) -> None:
    readings = [CoreReading(60.0 * n, c, p, id=str(n)) for n, (p, c) in enumerate(rows)]
    before = judge_pieces(POULTRY, readings, SIX)
    assert judge_pieces(POULTRY, readings[::-1], SIX).standing is before.standing
    with_cold = judge_pieces(POULTRY, [*readings, CoreReading(0, 50, "cold", id="x")], SIX)
    assert with_cold.standing is not CoreStanding.MEETS


def test_between_two_readings_the_lower_one_counts() -> None:
    wait = hold_needed(70.0)
    assert judge_core(POULTRY, [0, wait * 0.9], [79, 79]).standing is CoreStanding.MEETS
    # 79 °C once and 75 °C after ten seconds: at 75 °C half a minute is tabled.
    assert judge_core(POULTRY, [0, 10], [79, 75]).standing is CoreStanding.UNKNOWN
    assert judge_core(POULTRY, [0, 31], [79, 75]).standing is CoreStanding.MEETS


def test_one_reading_alone_is_never_a_hold_however_hot() -> None:
    for celsius in (79.0, 80.0, 96.0):
        assert judge_core(POULTRY, [0], [celsius]).standing is CoreStanding.UNKNOWN
        told = advice(POULTRY, [CoreReading(0, celsius, "1")], SIX)
        assert told is not None
        assert told.again_at == 30.0


def test_a_pot_is_one_piece_and_a_later_reading_stands_for_it() -> None:
    pot = Pieces(1, one=True, strict=True)
    assert (
        judge_pieces(POULTRY, [CoreReading(0, 61), CoreReading(600, 82), CoreReading(630, 82)], pot).standing
        is CoreStanding.MEETS
    )


def test_batches_from_before_pieces_are_judged_as_they_were() -> None:
    old = Pieces()
    readings = [CoreReading(0, 61), CoreReading(600, 82), CoreReading(630, 82)]
    assert judge_pieces(POULTRY, readings, old).standing is CoreStanding.MEETS


def test_kept_food_is_cooled_in_two_stages_kept_and_reheated_once_hot_through() -> None:
    cooled = ([0.0, 3600.0, 14400.0], [80.0, 20.0, 4.0])
    assert judge_kept(*cooled, now=20000, rice=False).bars == ()
    slow = judge_kept([0, 9000, 14400], [80, 30, 4], now=20000, rice=False)
    assert any("Cooling" in b for b in slow.bars)
    reheated = judge_kept([*cooled[0], 20000, 20040], [*cooled[1], 76, 76], now=20100, rice=False)
    assert reheated.bars == ()
    twice = judge_kept(
        [*cooled[0], 20000, 20040, 30000, 40000, 40040],
        [*cooled[1], 76, 76, 4, 76, 76],
        now=40100,
        rice=False,
    )
    assert any("more than once" in b for b in twice.bars)
    rice = judge_kept([0, 3000, 3500, 100_000], [80, 20, 4, 4], now=100_001, rice=True)
    assert any("at most 24 h" in b for b in rice.bars)


def test_raw_dough_on_the_hands_is_carried_until_they_are_washed() -> None:
    use = Use(0, "hands", "a", False, "baked", raw=True)
    assert carrying([use]) == ["hands"]
    assert carrying([use], [(5, "hands")]) == []
    assert carrying([Use(0, "hands", "a", False, "baked")]) == []


@pytest.mark.parametrize("medium", ["liquid", "air"])
@pytest.mark.parametrize("thickness", [0.01, 0.03, 0.06, 0.12])
@pytest.mark.parametrize("around", [75.0, 97.0, 150.0])
def test_the_bound_is_never_shorter_than_the_slabs_own_time(
    medium: str, thickness: float, around: float
) -> None:
    """Against the series of the heat core, which knows nothing of the bound, for the very food the bound
    supposes.
    """
    bound = slowest_s(5.0, around, thickness / 2, FILMS[medium], 63.0)
    k = DIFFUSIVITY * HEAT_CAPACITY
    at = centre_temperature("slab", thickness / 2, bound, 5.0, around, FILMS[medium], k, DIFFUSIVITY)
    assert float(np.asarray(at)) >= 63.0 - 1e-6


def test_what_is_not_on_record_bounds_nothing() -> None:
    boiling = [Seen(0.0, 97.0, "liquid", "seen boiling")]
    known = {
        "start_c": 5.0,
        "thickness_m": 0.04,
        "mass_kg": None,
        "vessel": "",
        "out_at": 6000.0,
        "hot_c": 63.0,
    }
    assert warmed(boiling, **known) is not None  # type: ignore[arg-type]
    for change in (
        {"start_c": None},
        {"start_c": -18.0},
        {"thickness_m": None},
        {"thickness_m": None, "mass_kg": 1.0},
    ):
        assert warmed(boiling, **{**known, **change}) is None  # type: ignore[arg-type]
    assert warmed([], **known) is None  # type: ignore[arg-type]
    assert warmed([Seen(0.0, 66.0, "liquid", "warm")], **known) is None  # type: ignore[arg-type]
    # A long silence ends what is known: a thick piece is not hot within it.
    assert warmed(boiling, **{**known, "thickness_m": 0.3, "out_at": 1e6}) is None  # type: ignore[arg-type]


def test_a_measured_low_bounds_the_time_only_while_it_was_on_record_that_it_ran() -> None:
    low = Setting(88.0, "low", 250.0)
    hourly = [3600.0 * n for n in range(1, 9)]
    known = {"start_c": 8.0, "mass_kg": 1.5, "hot_c": 63.0}
    seen = seen_by_setting(low, confirmed_at=0.0, looked_at=hourly, **known)
    assert seen
    # A crock's own energy balance, worked out step by step: never hotter than the bound says.
    celsius, t = 8.0, 0.0
    while celsius < seen[0].celsius:
        celsius += 10 * 250.0 * (88 - celsius) / (88 - 8) / (1.5 * 4186)
        t += 10
    assert t <= seen[0].at
    size = {
        "start_c": 8.0,
        "thickness_m": 0.03,
        "mass_kg": None,
        "vessel": "",
        "out_at": 30000.0,
        "hot_c": 63.0,
    }
    found = warmed(seen, **size)  # type: ignore[arg-type]
    assert found is not None
    assert seen[0].at < found.hot_from < 30000
    assert "low" in found.sentence
    for change in (
        {"looked_at": [5.0 * 3600]},  # a gap in which it may have been off
        {"mass_kg": None},
        {"start_c": -18.0},
        {"start_c": None},
    ):
        told = {"confirmed_at": 0.0, "looked_at": hourly, **known, **change}
        assert seen_by_setting(low, **told) == []  # type: ignore[arg-type]
    assert seen_by_setting(Setting(66, "warm", 250), confirmed_at=0.0, looked_at=hourly, **known) == []


@given(st.floats(0.3, 5), st.floats(60, 400), st.floats(0, 20))
def test_more_in_the_crock_or_less_power_never_heats_sooner(mass: float, power: float, start: float) -> None:
    at = heating_up_s(Setting(88, "low", power), mass, start, 75)
    assert heating_up_s(Setting(88, "low", power), mass * 1.2, start, 75) > at
    assert heating_up_s(Setting(88, "low", power * 0.8), mass, start, 75) > at

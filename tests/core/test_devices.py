"""Readings of devices, whether a probe can be believed, a shift's clock, and the stand-ins that ship."""

import itertools
import json
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.cook.probe_faults import HOTTEST_CORE_C, ProbeFault, believed, doubt, trusted
from yeasty.core.cook.readings import Heard, hear, pack, read_line, unpack
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.heat.steam import saturation_temperature
from yeasty.core.kernel.errors import RuleError
from yeasty.devices.physics import Piece, SimulatedBatch
from yeasty.devices.stand_ins import Hub, Meter, Outbox, Scale, a_bad_day


@pytest.mark.parametrize(
    ("line", "field"),
    [
        ("{", "line 3"),
        ("[1]", "line 3"),
        ('{"t": 1, "celsius": 4}', "line 3, seq"),
        ('{"seq": true, "t": 1, "celsius": 4}', "line 3, seq"),
        ('{"seq": 1, "celsius": 4}', "line 3, t"),
        ('{"seq": 1, "t": 5, "ago": 1, "celsius": 4}', "line 3, t"),
        ('{"seq": 1, "t": 5, "celsius": 1200}', "line 3, celsius"),
        ('{"seq": 1, "t": 5, "celsius": "hot"}', "line 3, celsius"),
        ('{"seq": 1, "t": 5, "kg": 0.2}', "line 3, reading"),
        ('{"seq": 1, "t": 5, "celsius": 4, "channel": 7}', "line 3, channel"),
        ('{"seq": 1, "t": 5, "event": "bored"}', "line 3, event"),
        ('{"seq": 1, "ago": -4, "celsius": 4}', "line 3, ago"),
    ],
)
def test_a_line_that_cannot_be_read_is_refused_by_line_and_field(line: str, field: str) -> None:
    with pytest.raises(RuleError) as wrong:
        read_line(line, "hub", 3)
    assert wrong.value.field == field
    assert wrong.value.todo


def test_a_probe_that_reads_nothing_says_so_and_a_hub_without_a_clock_says_how_long_ago() -> None:
    assert read_line('{"seq": 1, "t": 5, "celsius": null}', "hub", 1).value is None
    silent = read_line('{"seq": 2, "ago": 1.5, "celsius": 20}', "hub", 1)
    assert (silent.at, silent.ago, silent.channel) == (None, 1.5, "1")
    assert read_line('{"seq": 3, "t": 5, "event": "battery", "value": 0.4}', "scale", 1).event == "battery"


@given(st.lists(st.integers(0, 60), max_size=80))
def test_however_lines_arrive_each_is_new_once_and_what_is_missing_is_known(seqs: list[int]) -> None:
    heard = Heard()
    fresh: list[int] = []
    for i in range(0, len(seqs), 7):
        heard, new, again = hear(heard, seqs[i : i + 7])
        fresh += new
        assert len(new) + len(again) == len(seqs[i : i + 7])
    assert sorted(fresh) == sorted(set(seqs))
    if seqs:
        missing = {n for a, b in heard.gaps for n in range(a, b + 1)}
        assert missing == set(range(max(seqs) + 1)) - set(seqs)
        assert all(heard.has(n) for n in seqs)
        assert not any(heard.has(n) for n in missing)


@given(
    st.lists(
        st.tuples(st.floats(0.001, 400), st.one_of(st.none(), st.floats(-60, 600))), min_size=1, max_size=200
    ),
    st.floats(1e9, 2e9),
)
def test_readings_come_out_of_a_chunk_as_they_went_in_to_a_thousandth(
    rows: list[tuple[float, float | None]], start: float
) -> None:
    times, at = [], start
    for step, _ in rows:
        at += step
        times.append(at)
    values = [v for _, v in rows]
    chunk = pack(times, values)
    back_times, back = unpack(chunk.starts, chunk.data)
    assert back_times == pytest.approx(times, abs=0.0011)
    assert [v is None for v in back] == [v is None for v in values]
    assert [v for v in back if v is not None] == pytest.approx(
        [v for v in values if v is not None], abs=0.00051
    )
    assert chunk.count == len(rows)


def test_an_hour_of_a_probe_takes_little_room_and_a_counter_of_joules_keeps_its_digits() -> None:
    random = Random(4)
    chunk = pack(
        [1e9 + i for i in range(3600)], [round(40 + i / 90 + random.gauss(0, 0.12), 2) for i in range(3600)]
    )
    assert len(chunk.data) < 3600 * 4
    assert unpack(0.0, pack([1.0, 2.0], [0.0241, None], fine=True).data)[1] == [0.0241, None]
    assert unpack(0.0, pack([1e9, 1e9 + 1], [7.2e9, 7.2e9 + 900]).data)[1] == [7.2e9, 7.2e9 + 900]


# ---------------------------------------------------------------- belief


def a_core(seconds: int, seed: int = 1) -> list[tuple[float, float | None]]:
    random = Random(seed)
    return [(float(t), 8 + 70 * (1 - 0.5 ** (t / 500)) + random.gauss(0, 0.12)) for t in range(0, seconds, 2)]


def the_oven(seconds: int) -> list[tuple[float, float]]:
    from math import sin

    return [(float(t), 195 + 6 * sin(t / 33)) for t in range(0, seconds, 2)]


@pytest.mark.parametrize("until", range(120, 2400, 173))
def test_a_core_that_heats_as_cores_do_is_not_doubted(until: int) -> None:
    read = a_core(until)
    assert doubt(read, read[-1][0], chamber=the_oven(until)) is None
    assert len(trusted(read)) == len(read)


@pytest.mark.parametrize(
    ("spoil", "fault"),
    [
        (lambda t, v: 20.0 + (v - v) if t >= 900 else v, ProbeFault.JUMP),
        (lambda t, v: None if t >= 900 else v, ProbeFault.SILENT),
        (lambda t, v: 46.0 if t >= 600 else v, ProbeFault.FLAT),
    ],
)
def test_a_probe_pulled_out_dead_or_stuck_is_recognised_and_believed_only_before(
    spoil, fault: ProbeFault
) -> None:  # type: ignore[no-untyped-def]
    read = [(t, spoil(t, v)) for t, v in a_core(1200)]
    found = doubt(read, 1198.0)
    assert found is not None
    assert found.fault is fault
    assert found.sentence
    assert all(t < found.since for t, _ in believed(read, found))


def test_a_probe_in_the_air_of_the_oven_or_on_its_wall_is_recognised() -> None:
    oven = the_oven(1200)
    in_air: list[tuple[float, float | None]] = [(t, v + 1) for t, v in oven]
    on_wall: list[tuple[float, float | None]] = [(t, 45 + t / 60 + 0.5 * (v - 195)) for t, v in oven]
    assert doubt(in_air, 1198.0, chamber=oven).fault is ProbeFault.OUT_OF_FOOD  # type: ignore[union-attr]
    assert doubt(on_wall, 1198.0, chamber=oven).fault is ProbeFault.ON_METAL  # type: ignore[union-attr]
    # At rest food cools towards the room, and may well stand still.
    warm = [(t, v - 130) for t, v in oven]
    assert doubt([(t, v + 1) for t, v in warm], 1198.0, chamber=warm, heated=False) is None
    # Hotter than water boils under pressure no food is, at rest or not.
    assert doubt(in_air, 1198.0, chamber=oven, heated=False).fault is ProbeFault.OUT_OF_FOOD  # type: ignore[union-attr]
    assert doubt([(float(t), 60.0) for t in range(0, 600, 2)], 598.0, heated=False) is None
    # In boiling water a core ends near it and stays there.
    assert doubt([(float(t), 98.6) for t in range(0, 600, 2)], 598.0, steady_c=99.0) is None


@pytest.mark.parametrize("every_s", [2, 30, 120, 240])
def test_an_ovens_air_is_no_core_however_seldom_the_probe_is_read(every_s: int) -> None:
    read = [(float(t), 60.0 if t < 1200 else 138.0) for t in range(0, 2400, every_s)]
    assert max(v for _, v in trusted(read)) == 60.0
    assert doubt(read, read[-1][0]) is not None


def test_a_core_under_pressure_is_believed_up_to_where_water_boils_there() -> None:
    # Twice the air's pressure is what a canner or pressure cooker reaches at its highest setting.
    hottest = float(saturation_temperature(103e3, 0.0))
    assert 118 < hottest < HOTTEST_CORE_C
    read = [(float(t), min(hottest, 20 + t / 10)) for t in range(0, 1200, 5)]
    assert trusted(read) == read


@given(st.integers(200, 900), st.integers(20, 300), st.floats(60, 220))
@settings(max_examples=60)
def test_what_a_probe_read_in_the_oven_never_counts_as_core(at: int, long: int, oven_c: float) -> None:
    read = a_core(1300, seed=at)
    spoilt = [(t, oven_c if at <= t < at + long else v) for t, v in read]
    kept = trusted(spoilt)
    inside = [v for t, v in kept if at <= t < at + long]
    there = next(v for t, v in read if t >= at and v is not None)
    if abs(oven_c - there) > 15:
        assert inside == []
        assert kept[-1][0] > at + long, "it is believed again once it is back"


def test_a_single_wild_reading_is_left_out_and_doubts_nothing() -> None:
    read = a_core(600)
    read[150] = (read[150][0], 400.0)
    assert doubt(read, 598.0) is None
    assert max(v for _, v in trusted(read)) < 90


# ---------------------------------------------------------------- clock


@given(st.floats(1, 60), st.floats(1, 60), st.floats(0, 5000), st.floats(0, 5000))
def test_a_simulated_clock_never_jumps_when_its_speed_changes(
    a: float, b: float, wait: float, later: float
) -> None:
    clock = ShiftClock(1000.0, 50.0, a)
    at = 50.0 + wait
    faster = clock.at_rate(b, at)
    assert faster.at(at) == pytest.approx(clock.at(at))
    assert faster.at(at + later) == pytest.approx(clock.at(at) + b * later)
    assert faster.real(faster.at(at + later)) == pytest.approx(at + later)


def test_a_shift_on_the_kitchens_clock_has_no_speed() -> None:
    with pytest.raises(RuleError, match="simulated"):
        ShiftClock().at_rate(2.0, 0.0)
    with pytest.raises(RuleError):
        ShiftClock(0, 0, 10.0).at_rate(61.0, 0.0)


# ---------------------------------------------------------------- stand-ins


def test_a_hub_sends_again_what_was_lost_and_nothing_twice() -> None:
    hub = Hub(["1", "2"], seed=3)
    heard, got = Heard(), set[int]()
    for i in range(200):
        hub.read(float(i), 1.0, lambda _: 40.0, lambda _: 180.0)
        seqs = [json.loads(line)["seq"] for line in hub.outbox.body().split("\n") if line]
        heard, fresh, again = hear(heard, seqs)
        assert again == []
        got |= set(fresh)
        hub.outbox.acknowledged([list(g) for g in heard.gaps])
    assert got >= set(range(hub.outbox.count - 8))


def test_faults_of_a_bad_day_show_in_what_a_hub_reads() -> None:
    day = a_bad_day(2, ["1"], 0.0, 4000.0)
    hub = Hub(["1"], 5, day)
    hub.outbox = Outbox("hub", Random(99))
    rows = []
    for i in range(4000):
        before = hub.outbox.count
        hub.read(float(i), 1.0, lambda _: 50.0, lambda _: 190.0)
        rows.append(
            json.loads(hub.outbox.lines[before])["celsius"] if hub.outbox.count > before else "silent"
        )
    told = {f.what: f for f in day}
    middle = lambda f: int((f.start + f.end) / 2)  # noqa: E731
    assert rows[middle(told["pulled out"])] > 150
    assert 80 < rows[middle(told["on metal"])] < 150
    assert rows[middle(told["drop-out"])] is None
    assert rows[middle(told["dead battery"])] == "silent"


def test_a_piece_warms_towards_what_surrounds_it_and_never_beyond() -> None:
    piece = Piece("sphere", 0.04, "", 8.0, Random(1))
    cores = []
    for _ in range(120):
        piece.pass_time(20.0, 180.0, 40.0, wet=True)
        cores.append(piece.core_c)
    assert all(b >= a - 1e-6 for a, b in itertools.pairwise(cores))
    assert 60 < cores[-1] <= 100
    piece.pass_time(36000.0, 5.0, 10.0, wet=False)
    assert piece.core_c == pytest.approx(5.0, abs=0.5)


def test_a_simulated_batch_heats_only_while_it_is_in_its_heat() -> None:
    batch = SimulatedBatch("oven", {"thickness_m": 0.04, "start_c": 20.0}, seed=1)
    batch.advance(900, heating=True, in_heat=False, set_point_c=200.0)
    assert batch.chamber.celsius > 150
    assert batch.piece.core_c < 24
    batch.advance(900, heating=True, in_heat=True, set_point_c=200.0)
    assert 40 < batch.piece.core_c < 60
    assert batch.watts(False, 2000.0) == 0.0
    assert SimulatedBatch("microwave", {"start_c": 20.0}, seed=1).watts(True, 1200.0) == 1200.0


def test_a_scale_says_a_weight_once_and_a_meter_counts_on() -> None:
    scale, meter = Scale(1), Meter(1)
    scale.read(1.0, 0.312)
    scale.read(2.0, 0.312)
    assert scale.outbox.count == 1
    for i in range(10):
        meter.read(float(i), 1.0, 1000.0)
    joules = [
        json.loads(line)["joule"] for line in meter.outbox.lines.values() if "joule" in json.loads(line)
    ]
    assert joules == sorted(joules)
    assert joules[-1] == 10_000

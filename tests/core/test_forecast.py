"""What the bench foretells of a core, and the workbench's own reading of what was typed."""

from dataclasses import replace

import numpy as np
import pytest

from yeasty.core.cook.forecast import MOST_RISE_K, CoreQuestion, forecast
from yeasty.core.heat.changing import Stage, heat_through, peak_after_pull
from yeasty.core.heat.conduction import Piece, temperature, time_to_target
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.workbench.calculators import calculator, calculators, measured_by
from yeasty.core.workbench.spec import Asked, Field

BALL = Piece("sphere", 0.02)
IN = 1_000_000.0
STEAMED = CoreQuestion(IN, IN, 720, "steamer", "sphere", 0.04, "meatball_mix", 5.0, 100.0, None, 74.0, ())
TRUE_S = time_to_target(BALL, 74, 5, 100, 900, 0.45, 1.35e-7)


def read_until(seconds: float, seed: int = 1) -> tuple[tuple[float, float], ...]:
    times = np.arange(5.0, seconds, 5.0)
    core = temperature(BALL, times, 5, 100, 900, 0.45, 1.35e-7) + np.random.default_rng(seed).normal(
        0, 0.3, len(times)
    )
    return tuple((IN + float(t), float(c)) for t, c in zip(times, core, strict=True))


def test_before_the_probe_size_and_technique_give_a_range_that_holds_the_time() -> None:
    told = forecast(STEAMED)
    assert told.basis == "size"
    assert told.ready_low is not None
    assert told.ready_high is not None
    assert told.ready_low <= IN + TRUE_S * 1.1
    assert told.ready_high >= IN + TRUE_S * 0.9
    assert told.curve[0][1] == pytest.approx(5, abs=0.5)


def test_what_waits_is_foretold_the_same_only_later() -> None:
    waiting = replace(STEAMED, in_at=None, now=1000.0)
    told, later = forecast(waiting), forecast(replace(waiting, now=1600.0, readings=((900.0, 6.0),)))
    assert later.basis == "size"
    for name in ("ready_at", "ready_low", "ready_high"):
        assert getattr(later, name) == pytest.approx(getattr(told, name) + 600)
    assert [c[1:] for c in later.curve] == [c[1:] for c in told.curve]
    assert later.curve[0][0] == pytest.approx(1600)


def test_the_probe_narrows_it_as_the_cook_runs() -> None:
    widths = []
    for share in (0.4, 0.6, 0.8):
        told = forecast(replace(STEAMED, now=IN + share * TRUE_S, readings=read_until(share * TRUE_S)))
        assert told.basis == "probe"
        assert told.ready_high is not None
        assert told.ready_low is not None
        assert told.ready_at == pytest.approx(IN + TRUE_S, abs=0.1 * TRUE_S)
        widths.append(told.ready_high - told.ready_low)
    assert widths == sorted(widths, reverse=True)


def test_what_is_pulled_as_told_is_not_pulled_before_it_can_coast_there() -> None:
    told = forecast(replace(STEAMED, now=IN + 0.7 * TRUE_S, readings=read_until(0.7 * TRUE_S)))
    assert told.pull_c is not None
    assert told.pull_at is not None
    assert told.ready_at is not None
    assert 74 - MOST_RISE_K - 0.01 <= told.pull_c < 74
    assert told.pull_at < told.ready_at
    rest = Stage(1800, 22, 8, wet=True)
    simulated = peak_after_pull(BALL, Stage(1, 100, 900), rest, told.pull_at - IN, 5.0, 0.45, 1.35e-7)
    assert simulated.peak_c > 73


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"target_c": None}, "no core target"),
        ({"shape": ""}, "not stated"),
        ({"thickness_m": None}, "not stated"),
        ({"start_c": None}, "not stated"),
        ({"around_c": None}, "not stated"),
        ({"technique": "microwave"}, "read the core"),
        ({"around_c": 60.0}, "never reached"),
    ],
)
def test_where_nothing_can_be_told_it_says_why_and_gives_no_time(
    change: dict[str, object], words: str
) -> None:
    told = forecast(replace(STEAMED, **change))  # type: ignore[arg-type]
    assert told.ready_at is None
    assert words in told.why_not


@pytest.mark.parametrize("around", [120.0, 180.0, 205.0])
@pytest.mark.parametrize("target", [74.0, 93.0])
def test_from_size_alone_hot_air_gives_a_range_that_holds_the_wet_surface(
    around: float, target: float
) -> None:
    """93 °C was said never to be reached in any air under 206 °C: what the surface feels was a constant."""
    q = replace(STEAMED, technique="oven", around_c=around, target_c=target, planned_s=3600)
    told = forecast(q)
    assert told.basis == "size", told.why_not
    assert told.ready_low is not None
    assert told.ready_high is not None
    assert told.ready_at is not None
    assert told.ready_low <= told.ready_at <= told.ready_high
    # The core's own model of a surface that gives off vapour, at the usual coefficient of a still oven, wet
    # or soon dry.
    for water in (0.3, 2.0):
        stage = Stage(9 * 3600.0, around, 15.0, wet=True, water_kg_m2=water)
        times = np.geomspace(60.0, 9 * 3600.0, 160)
        core = heat_through(BALL, [stage], times, 5.0, 0.45, 1.35e-7, cells=20).centre_c
        true_s = float(times[int(np.argmax(core >= target))])
        assert told.ready_low - 60 <= IN + true_s <= IN + (told.ready_high - IN) * 1.05 + 60
    assert all(lo <= hi + 1e-6 for _, lo, _, hi in told.curve)


def test_a_chamber_probe_that_reads_cold_makes_no_nonsense() -> None:
    oven = replace(STEAMED, technique="oven", around_c=180.0)
    right, cold = forecast(oven), forecast(replace(oven, chamber_c=38.0))
    assert cold.basis == "size"
    assert cold.ready_at == right.ready_at
    hardly = forecast(replace(oven, around_c=76.0))
    assert hardly.ready_at is None or hardly.ready_high is not None


def test_a_probe_that_cannot_tell_is_not_replaced_by_a_guess_from_size() -> None:
    flat = tuple((IN + 5.0 * n, 5.0) for n in range(1, 30))
    told = forecast(replace(STEAMED, now=IN + 150, readings=flat))
    assert (told.basis, told.ready_at) == ("", None)
    assert "moved by" in told.why_not
    assert told.core_c == 5.0


# The workbench
def test_every_calculator_answers_and_says_where_it_stands() -> None:
    for c in calculators().values():
        result = c.run({})
        assert result.headline[0].isupper() or result.headline[0].isdigit(), c.key
        assert result.lines or result.notes, c.key
        assert "nan" not in str(result).lower(), c.key
        if result.rule:
            assert result.predicted is not None, c.key


def test_units_never_change_an_answer() -> None:
    metric = calculator("core-time").run(
        {"thickness": "4 cm", "start": "5 °C", "air": "180 °C", "target": "74 °C"}
    )
    us = calculator("core-time").run(
        {"thickness": "1.5748 in", "start": "41 F", "air": "356 F", "target": "165.2 F"}, System.US
    )
    assert metric.predicted == pytest.approx(us.predicted, rel=1e-3)


def test_a_table_names_row_and_column_of_what_it_cannot_read() -> None:
    with pytest.raises(RuleError, match=r"Core log, row 2, core"):
        calculator("probe-log").run({"log": [["0 s", "5 °C"], ["10 s", "warm"]]})
    with pytest.raises(RuleError, match="empty cell"):
        calculator("drying").run({"weighings": [["0 s", "1 kg"], ["1 h", ""]]})
    with pytest.raises(RuleError, match="2"):
        calculator("drying").run({"weighings": [["0 s", "1 kg", "extra"]]})
    asked = Asked(
        {"t": Field("t", "Rows", "table", columns=(("number", "n"),))},
        {"t": [[""], ["4"], [None]]},
        System.METRIC,
    )
    assert asked.rows("t") == [[4.0]]


def test_what_is_not_known_is_refused_by_name() -> None:
    with pytest.raises(RuleError, match="not known here"):
        calculator("dose").run({"spice": "1"})
    with pytest.raises(RuleError, match="Choose one of"):
        calculator("abacus")
    with pytest.raises(RuleError, match="measurement"):
        measured_by("dose", {}, System.METRIC)


def test_measurements_come_out_in_si() -> None:
    runs = {"runs": [["1 kg", "68 °F", "86 °F", "60 s"]] * 3, "vessel_kg": "", "room": "68 °F"}
    assert measured_by("water-test", runs, System.US)["power_w"] == pytest.approx(698, abs=1)
    assert measured_by("preheat", {}, System.METRIC)["tau_s"] == pytest.approx(480, rel=0.05)
    assert measured_by("offset", {"pairs": [["392 F", "370.4 F"]]}, System.US)["offset_k"] == pytest.approx(
        -12
    )

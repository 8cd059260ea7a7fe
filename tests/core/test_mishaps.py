"""Mishaps: laid only where they can happen, and lived through as a kitchen would."""

import pytest

from yeasty.core.cook.mishaps import LaidMishap, Mishap, Setting, lay_mishap
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.kernel.steps import Attention, Phase, Step
from yeasty.devices.mishaps import Mishaps
from yeasty.devices.physics import SimulatedBatch

H, F = Attention.HANDS, Attention.FREE


def batch(tag: str, appliance: str, *, turned: bool = False) -> Chain:
    turn = [Step("turn", "Turn the tray", H, Phase.TURN, 30, during_offset_s=300)] if turned else []
    return Chain(
        tag,
        tag,
        (
            Step("up", "Heat up", F, Phase.COME_UP, 300, appliance=appliance),
            Step("cook", "Cook", F, Phase.COOK, 600, appliance=appliance),
            *turn,
        ),
    )


def setting(*, circuit: str = "K", turned: bool = False, technique: str = "pressure_cooker") -> Setting:
    chains = [batch("P", "pot", turned=turned), batch("O", "oven")]
    plan = [
        PlannedStep("P", "up", 0, 300),
        PlannedStep("P", "cook", 300, 900),
        *([PlannedStep("P", "turn", 600, 630)] if turned else []),
        PlannedStep("O", "up", 100, 400),
        PlannedStep("O", "cook", 400, 1500),
    ]
    return Setting(
        chains,
        plan,
        {"P": technique, "O": "oven"},
        {"pot": "Pot", "oven": "Oven"},
        {"pot": "K", "oven": circuit},
    )


def laid(what: Mishap, s: Setting) -> LaidMishap:
    found = lay_mishap(what, s)
    assert isinstance(found, LaidMishap), found
    return found


def test_late_pressure_holds_the_tap_until_it_is_up_and_is_seen_twice() -> None:
    t = laid(Mishap.LATE_PRESSURE, setting())
    assert (t.batch, t.begin, t.end) == ("P", 300, 540)
    m = Mishaps([t])
    assert not m.holds("O", "up", 310)
    assert m.holds("P", "up", 310)
    assert not m.holds("P", "up", 541)
    assert m.seen(299) == []
    assert [s.text for s in m.seen(320)] == ["P: no pressure yet, steam still comes from the valve"]
    assert m.seen(330) == []
    assert [s.text for s in m.seen(600)] == ["P: the pressure is up"]
    assert m.slower("P") > 1.5
    assert m.slower("O") == 1


@pytest.mark.parametrize(
    ("what", "given", "why"),
    [
        (Mishap.LATE_PRESSURE, setting(technique="oven"), "pressure"),
        (Mishap.FORGOTTEN_TURN, setting(), "turned"),
        (Mishap.BREAKER, setting(circuit="L"), "circuit"),
        (Mishap.BREAKER, setting(circuit=""), "circuit"),
    ],
)
def test_what_cannot_happen_says_why(what: Mishap, given: Setting, why: str) -> None:
    said = lay_mishap(what, given)
    assert isinstance(said, str)
    assert why in said


def test_a_breaker_takes_both_appliances_and_gives_them_back() -> None:
    t = laid(Mishap.BREAKER, setting())
    m = Mishaps([t])
    assert m.dead(t.begin - 1) == set()
    assert m.dead(t.begin + 1) == {"pot", "oven"}
    assert m.dead(t.end + 1) == set()
    # Both heat when it goes.
    assert 100 <= t.begin < 400
    [seen] = m.seen(t.begin)
    assert "Oven and Pot" in seen.text
    assert not seen.of_batch
    assert not seen.for_good


def test_what_has_gone_out_stays_out_in_the_middle_of_its_cooking() -> None:
    t = laid(Mishap.APPLIANCE_GONE, setting())
    assert t.appliances == ("oven",)
    assert 400 < t.begin < 1500
    m = Mishaps([t])
    assert m.dead(1e9) == {"oven"}
    assert m.seen(t.begin)[0].for_good


def test_a_forgotten_turn_waits_and_a_probe_out_is_for_the_bench_to_notice() -> None:
    t = laid(Mishap.FORGOTTEN_TURN, setting(turned=True))
    m = Mishaps([t, laid(Mishap.PROBE_OUT, setting())])
    assert m.holds("P", "turn", 700)
    assert not m.holds("P", "turn", 970)
    assert m.out_of("P") == (600, 840)
    assert m.out_of("O") is None
    assert [s.text for s in m.seen(1e9)] == ["P: nobody thinks of “Turn the tray”"]


@pytest.mark.parametrize(("technique", "set_to"), [("oven", 180.0), ("air_fryer", 175.0), ("steamer", None)])
def test_food_of_a_rehearsal_keeps_to_its_plan_and_that_of_a_simulation_to_its_model(
    technique: str, set_to: float | None
) -> None:
    def minutes_to(core_c: float, food: SimulatedBatch) -> float:
        food.chamber.celsius = set_to or 100.0
        for n in range(600):
            if food.piece.core_c >= core_c:
                return n / 2
            food.advance(30.0, True, True, set_to)
        raise AssertionError("never")

    given = {"shape": "sphere", "thickness_m": 0.05, "start_c": 20.0}
    model, kept = SimulatedBatch(technique, given, 1), SimulatedBatch(technique, given, 1)
    planned = 1.7 * minutes_to(74.0, model)
    kept.keep_to(74.0, 60 * planned, set_to, 6 * 3600)
    assert minutes_to(74.0, kept) == pytest.approx(planned, rel=0.1)
    out_of_reach = SimulatedBatch(technique, given, 1)
    out_of_reach.keep_to(400.0, 600.0, set_to, 3600)
    assert out_of_reach.pace == 1.0

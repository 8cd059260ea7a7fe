"""What rings, what comes first for the hands, what was logged twice, and words for the bench."""

from random import Random
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.ask.techniques import techniques
from yeasty.core.cook.bench import ActionType, NextAction, RunState, StepRun
from yeasty.core.cook.bench_words import CueChip, cue_chips, have_ready, look_in, start_signs
from yeasty.core.cook.measures import measures
from yeasty.core.cook.next_up import in_turn
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.problem import Chain
from yeasty.core.cook.timers import timers
from yeasty.core.cook.twice import logged_twice
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step

K = EntryKind


def entry(
    n: int,
    kind: EntryKind,
    payload: dict[str, Any],
    at: float,
    batch: str = "b",
    device: str = "d",
    supersedes: str | None = None,
) -> Entry:
    return Entry(f"e{n}", batch, kind, at, device, n, payload, supersedes)


def test_a_timer_of_ones_own_rings_once_or_again_and_again_until_it_is_stopped() -> None:
    once = entry(1, K.TIMER, {"seconds": 60, "name": "sauce"}, 100.0, "")
    often = entry(2, K.TIMER, {"seconds": 90, "name": "look", "every_s": 30}, 100.0, "")
    assert [(t.name, t.rings) for t in timers([], [once, often], {}, 150.0)] == [
        ("sauce", 160.0),
        ("look", 190.0),
    ]
    assert timers([], [often], {}, 300.0)[0].rings == 280.0
    assert timers([], [often], {}, 311.0)[0].rings == 310.0
    assert timers([], [once, entry(3, K.TIMER_DONE, {"timer": "e1"}, 120.0, "")], {}, 150.0) == []
    assert timers([], [once, entry(4, K.UNDONE, {}, 120.0, "", supersedes="e1")], {}, 150.0) == []


def test_look_ins_count_from_the_last_look_and_leave_the_end_alone() -> None:
    run = StepRun("b", "s", 0.0, 3600.0, RunState.RUNNING)
    every = {("b", "s"): (900.0, "water level")}
    assert timers([run], [], every, 10.0)[0].rings == 900.0
    looked = entry(1, K.LOOKED, {"water": "right"}, 1000.0)
    assert timers([run], [looked], every, 1001.0)[0].rings == 1900.0
    assert timers([run], [entry(2, K.LOOKED, {"water": "right"}, 2500.0)], every, 2501.0) == []
    assert timers([StepRun("b", "s", 0.0, 3600.0, RunState.DONE)], [], every, 10.0) == []


def an_action(step: str, due: float, kind: ActionType = ActionType.DO, batch: str = "b") -> NextAction:
    return NextAction(batch, step, kind, due)


STEPS = {
    "cut": Step("cut", "Cut", Attention.HANDS, Phase.PREPARE, 60),
    "out": Step("out", "Take out", Attention.HANDS, Phase.OUT, 30),
    "plate": Step("plate", "Plate", Attention.HANDS, Phase.PLATE, 60),
    "fry": Step("fry", "Fry", Attention.WATCHED, Phase.COOK, 300),
}
SPOTS = {"cut": "table", "out": "oven", "plate": "table", "fry": "hob"}


def turn(actions: list[NextAction], now: float, here: str = "") -> list[str]:
    return [a.step for a in in_turn(actions, lambda a: STEPS[a.step], lambda a: SPOTS[a.step], now, here)]


def test_food_in_the_heat_comes_before_what_fell_due_earlier() -> None:
    assert turn([an_action("cut", 80.0), an_action("out", 100.0)], 100.0) == ["out", "cut"]
    assert turn([an_action("cut", 80.0), an_action("fry", 110.0, ActionType.CONFIRM)], 100.0) == [
        "fry",
        "cut",
    ]
    assert turn([an_action("cut", 80.0), an_action("out", 200.0)], 100.0) == ["cut", "out"]


def test_among_equals_the_hands_stay_where_they_are() -> None:
    both = [an_action("cut", 100.0), an_action("plate", 120.0), an_action("out", 500.0)]
    assert turn(both, 110.0, "table") == ["cut", "plate", "out"]
    steps = {**STEPS, "wipe": Step("wipe", "Wipe", Attention.HANDS, Phase.PREPARE, 10)}
    spots = {**SPOTS, "wipe": "oven"}
    three = [an_action("wipe", 95.0), an_action("cut", 100.0), an_action("plate", 110.0)]
    got = in_turn(three, lambda a: steps[a.step], lambda a: spots[a.step], 110.0, "table")
    assert [a.step for a in got] == ["cut", "plate", "wipe"]


@given(st.lists(st.tuples(st.sampled_from(sorted(STEPS)), st.floats(0, 500)), max_size=8), st.floats(0, 500))
def test_every_action_is_in_its_turn_once_and_what_is_to_come_keeps_its_order(
    rows: list[tuple[str, float]], now: float
) -> None:
    actions = [an_action(s, due, batch=f"b{i}") for i, (s, due) in enumerate(rows)]
    got = in_turn(actions, lambda a: STEPS[a.step], lambda a: SPOTS[a.step], now, "table")
    assert sorted(got, key=repr) == sorted(actions, key=repr)
    to_come = [a.due for a in got if a.due > now + 30]
    assert to_come == sorted(to_come)


def test_two_devices_that_log_one_thing_are_shown_and_one_device_is_not() -> None:
    a, b = (
        entry(1, K.OUT, {"step": "s"}, 100.0, device="one"),
        entry(2, K.OUT, {"step": "s"}, 4000.0, device="two"),
    )
    assert [(t.first, t.second) for t in logged_twice([b, a])] == [("e1", "e2")]
    assert logged_twice([a, entry(3, K.OUT, {"step": "s"}, 110.0, device="one")]) == []
    weights = [
        entry(4, K.WEIGHT, {"of": "cooked", "kg": 1.0}, 100.0, device="one"),
        entry(5, K.WEIGHT, {"of": "cooked", "kg": 1.1}, 1000.0, device="two"),
    ]
    assert logged_twice(weights) == [], "weighed again later is another weighing"
    assert logged_twice([a, b, entry(6, K.UNDONE, {}, 4100.0, supersedes="e2")]) == []
    assert (
        logged_twice(
            [
                entry(7, K.NOTE, {"text": "pale"}, 1.0, device="one"),
                entry(8, K.NOTE, {"text": "pale"}, 1.0, device="two"),
            ]
        )
        == []
    )


def test_washing_up_timed_thing_by_thing_is_added_up() -> None:
    chain = Chain("b", "OV", techniques()["oven"].steps)
    log = [
        entry(1, K.WASH_ITEM, {"item": "tray", "seconds": 90}, 1.0),
        entry(2, K.WASH_ITEM, {"item": "rack", "seconds": 60}, 2.0),
        entry(3, K.WASH_ITEM, {"item": "tray", "seconds": 30}, 3.0),
    ]
    m = measures(chain, (), log)
    assert (m.clocks.wash_up_s, m.wash_up_timed, m.wash_items) == (180.0, True, 2)


def test_chips_are_the_kitchens_own_first_then_the_techniques() -> None:
    chips = cue_chips(
        ["air_fryer"], [CueChip("air_fryer", "top", "like glass"), CueChip("deep_fryer", "", "elsewhere")]
    )
    assert chips[0].text == "like glass"
    assert chips[1].technique == "air_fryer"
    assert "elsewhere" not in [c.text for c in chips]
    assert len({(c.technique, c.face, c.text) for c in chips}) == len(chips)


def test_only_long_unwatched_cooking_is_looked_in_on_and_says_where_that_comes_from() -> None:
    boil = Step("a", "Boil", Attention.FREE, Phase.COOK, 3600)
    found = look_in("hob_boil", boil)
    assert found is not None
    assert found.source.startswith("usual practice")
    assert look_in("hob_boil", Step("a", "Boil", Attention.FREE, Phase.COOK, 600)) is None
    assert look_in("hob_boil", Step("a", "Boil", Attention.WATCHED, Phase.COOK, 3600)) is None
    assert look_in("microwave", boil) is None


def test_a_core_asks_for_a_clean_thermometer_and_every_appliance_has_a_sign() -> None:
    core = Step("a", "Bake", Attention.FREE, Phase.COOK, 600, EndRule.CORE, end_core_c=93)
    assert have_ready(core, (), "oven") == ["clean thermometer"]
    for kind in ("oven", "microwave", "pressure_cooker", "air_fryer", "deep_fryer", "hob", "unheard of"):
        assert start_signs(kind)[-1] == "rise on the probe"


@pytest.mark.parametrize(
    ("kind", "payload"),
    [
        (K.CONFIRMED, {"step": "s"}),
        (K.LOOKED, {}),
        (K.LOOKED, {"water": "salty"}),
        (K.TIMER, {"seconds": 0, "name": "x"}),
        (K.TIMER, {"seconds": 5}),
        (K.TIMER_DONE, {}),
        (K.PROBE, {"device": "d", "channel": "1", "where": "ear"}),
        (K.RESCUED, {"finish": "sear", "why": "pale"}),
        (K.WASH_ITEM, {"item": "", "seconds": 4}),
        (K.WASHED, {"thing": "elephant"}),
    ],
)
def test_a_payload_of_the_bench_that_is_not_what_its_kind_needs_is_refused(
    kind: EntryKind, payload: dict[str, Any]
) -> None:
    with pytest.raises(RuleError):
        check_payload(kind, payload)


def test_the_payloads_of_the_bench_are_taken() -> None:
    random = Random(1)
    for kind, payload in (
        (K.CONFIRMED, {"step": "s", "sign": "hiss"}),
        (K.LOOKED, {"water": "topped up", "added_kg": 0.3}),
        (K.LOOKED, {"text": "trembles"}),
        (K.TIMER, {"seconds": random.uniform(1, 99), "name": "x", "every_s": 30}),
        (K.PROBE, {"device": "d", "channel": "1", "where": "out"}),
        (K.RESCUED, {"finish": "sear", "why": "pale", "child": "c"}),
        (K.WASHED, {"thing": "probe 1.2"}),
    ):
        check_payload(kind, payload)

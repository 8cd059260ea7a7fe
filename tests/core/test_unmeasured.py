"""What one way was measured on and another not: asked once the food is out, until when, and no longer."""

from typing import Any

import pytest

from yeasty.core.cook.measures import gaps, measures
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.problem import Chain
from yeasty.core.cook.unmeasured import unmeasured
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, Phase, Step

K = EntryKind
STEPS = (
    Step("load", "Load", Attention.HANDS, Phase.LOAD, 60),
    Step("cook", "Cook", Attention.FREE, Phase.COOK, 600),
    Step("out", "Take out", Attention.HANDS, Phase.OUT, 60),
)
BOTH = [Chain("a", "OV", STEPS), Chain("b", "AF", STEPS)]


def log(*rows: tuple[str, EntryKind, dict[str, Any]]) -> list[Entry]:
    for _, kind, payload in rows:
        check_payload(kind, payload)
    return [
        Entry(str(n), batch, kind, 100.0 + n, "d", n, payload)
        for n, (batch, kind, payload) in enumerate(rows)
    ]


OUT_B = ("b", K.OUT, {"step": "out"})
DRIP_A = ("a", K.WEIGHT, {"kg": 0.02, "of": "drip"})


def test_it_is_asked_once_the_food_is_out_and_until_it_is_taken_or_said_not_to_apply() -> None:
    assert unmeasured(BOTH, log(DRIP_A)) == ()
    [asked] = unmeasured(BOTH, log(DRIP_A, OUT_B))
    assert (asked.batch, asked.kind, asked.of, asked.too_late) == ("b", K.WEIGHT, "drip", False)
    assert asked.sentence == "Drip weight was taken for OV: weigh AF’s before the pan is washed."
    taken = ("b", K.WEIGHT, {"kg": 0.03, "of": "drip"})
    assert unmeasured(BOTH, log(DRIP_A, OUT_B, taken)) == ()
    not_so = ("b", K.STATED, {"question": "applies", "answer": "no", "measure": asked.measure})
    assert unmeasured(BOTH, log(DRIP_A, OUT_B, not_so)) == ()
    # Taken back, it is asked again.
    undone = [*log(DRIP_A, OUT_B, not_so), Entry("u", "b", K.UNDONE, 200, "d", 9, {}, supersedes="2")]
    assert unmeasured(BOTH, undone) == (asked,)


@pytest.mark.parametrize(
    ("kind", "payload", "said"),
    [
        (K.WEIGHT, {"kg": 0.3, "of": "cooked"}, "weigh AF’s before it is eaten"),
        (K.WEIGHT, {"kg": 0.3, "of": "prepared"}, "can't be had any more"),
        (K.SIZE, {"metre": 0.03, "of": "diameter", "when": "before"}, "can't be had any more"),
        (K.SIZE, {"metre": 0.03, "of": "diameter", "when": "after"}, "measure AF’s before it is eaten"),
        (K.TALLY, {"of": "Sealed ", "count": 5, "out_of": 8}, "Pieces that are sealed were counted for OV"),
        (K.ENERGY, {"joule": 3.6e6}, "read AF’s meter"),
        (K.TEMPERATURE, {"celsius": 75, "where": "core"}, "read AF’s while it is hot"),
        (K.EFFORT, {"wash_s": 90}, "note AF’s"),
    ],
)
def test_each_kind_of_measure_says_what_to_do(kind: EntryKind, payload: dict[str, Any], said: str) -> None:
    [asked] = unmeasured(BOTH, log(("a", kind, payload), OUT_B))
    assert said in asked.sentence
    assert asked.too_late == ("any more" in asked.sentence)


def test_notes_chambers_and_void_batches_ask_for_nothing() -> None:
    nothing = log(
        ("a", K.NOTE, {"text": "pale"}),
        ("a", K.TEMPERATURE, {"celsius": 180, "where": "chamber"}),
        ("a", K.EFFORT, {"hands_s": 60}),
        OUT_B,
    )
    assert unmeasured(BOTH, nothing) == ()
    void = ("b", K.VOID, {"why": "fell"})
    assert unmeasured(BOTH, log(DRIP_A, OUT_B, void)) == ()
    # A void batch that was weighed asks no other.
    assert unmeasured(BOTH, log(DRIP_A, ("a", K.VOID, {"why": "fell"}), OUT_B)) == ()


def test_a_probe_in_the_core_is_a_core_temperature() -> None:
    probe = ("a", K.PROBE, {"device": "x", "channel": "1", "where": "core", "name": "1"})
    [asked] = unmeasured(BOTH, log(probe, OUT_B))
    assert asked.measure == "core temperature"
    read = ("b", K.TEMPERATURE, {"celsius": 75, "where": "core"})
    assert unmeasured(BOTH, log(probe, OUT_B, read)) == ()


def test_what_does_not_apply_is_no_gap_of_the_verdict() -> None:
    not_so = ("b", K.STATED, {"question": "applies", "answer": "no", "measure": "drip weight"})
    told = {"OV": measures(BOTH[0], [], log(DRIP_A)), "AF": measures(BOTH[1], [], log(OUT_B))}
    assert [g for g in gaps(told) if g.startswith("drip")]
    told["AF"] = measures(BOTH[1], [], log(OUT_B, not_so))
    assert not [g for g in gaps(told) if g.startswith("drip")]


def test_a_measure_must_be_named() -> None:
    with pytest.raises(RuleError):
        check_payload(K.STATED, {"question": "applies", "answer": "no", "measure": ""})

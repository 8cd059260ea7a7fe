"""What a page tells of times and cautions: the log's, not the plan's; each caution once in full."""

from collections.abc import Mapping
from dataclasses import asdict, replace

import pytest

from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.took import step_times, times_of
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.steps import Attention, Phase, Step
from yeasty.core.publish.markdown import markdown
from yeasty.core.publish.recipe import step_texts
from yeasty.core.setup.rounds import in_rounds, once

STEPS = (
    Step("mix", "Mix", Attention.HANDS, Phase.PREPARE, 300),
    Step("heat", "Heat the oven", Attention.FREE, Phase.COME_UP, 600),
    Step("in", "Load", Attention.HANDS, Phase.LOAD, 30),
    Step("bake", "Bake", Attention.FREE, Phase.COOK, 900, set_point_c=200),
    Step("out", "Take out", Attention.HANDS, Phase.OUT, 30),
    Step("wash", "Wash up", Attention.HANDS, Phase.WASH_UP, 120),
)
PLAN = [
    PlannedStep("b", s.key, at, at + s.duration_s)
    for s, at in zip(STEPS, (0.0, 300.0, 900.0, 930.0, 1830.0, 1860.0), strict=True)
]


def tap(n: int, kind: EntryKind, step: str, at: float) -> Entry:
    return Entry(f"e{n}", "b", kind, at, "d", n, {"step": step})


def times(taps: Mapping[str, tuple[EntryKind, float]]) -> dict[str, float]:
    entries = [tap(n, kind, step, at) for n, (step, (kind, at)) in enumerate(taps.items())]
    return step_times(Chain("b", "OV", STEPS), PLAN, entries)


def test_a_time_is_the_logs_where_both_its_ends_were_tapped_and_else_nobodys() -> None:
    found = times(
        {
            "mix": (EntryKind.DONE, 300),
            "heat": (EntryKind.STARTED, 310),
            "in": (EntryKind.IN, 1000),
            "out": (EntryKind.OUT, 2260),
        }
    )
    # In at 1000, out at 2260: 21 minutes between the two taps, of which taking out is half a minute.
    assert found["bake"] == pytest.approx(1260, abs=31)
    assert "heat" not in found, "hot and waiting is not coming up: nobody tapped that it was there"
    assert "mix" not in found, "nobody tapped when mixing began"
    assert "wash" not in found
    assert times({"mix": (EntryKind.DONE, 300)}) == {}
    beeped = {"mix": (EntryKind.DONE, 310.0), "heat": (EntryKind.DONE, 900.0), "in": (EntryKind.IN, 2000.0)}
    reached = times(beeped)
    assert reached["heat"] == pytest.approx(590)


def test_rounds_count_as_one_by_their_mean_and_only_where_all_were_logged() -> None:
    assert times_of([{"bake": 600.0}, {"bake": 700.0}]) == {"bake": (600.0, 700.0)}
    twice = in_rounds(STEPS, 2)
    assert [s.what for s in once(twice)] == [s.what for s in STEPS]
    assert [s.key for s in once(twice)] == [s.key for s in STEPS]


def test_a_page_tells_what_was_cooked_and_marks_what_nobody_logged() -> None:
    told = {s.what: s for s in step_texts(STEPS, (), times={"bake": (1200.0, 1320.0), "out": (31.0,)})}
    assert told["Bake"].duration == "20 min to 22 min"
    assert told["Bake"].beside == "planned 15 min"
    assert told["Bake"].duration_s == 1260
    assert told["Heat the oven"].beside == "as planned"
    assert told["Take out"].beside == "", "a second is within what a tap leaves open"
    never = step_texts(STEPS, ())
    assert all(s.beside == "" for s in never), (
        "nothing was cooked: the whole page is a plan and says so above"
    )


def test_a_reader_is_told_the_temperature_that_is_meant_and_beside_it_what_our_dial_says() -> None:
    bake = replace(STEPS[2], what="Bake", appliance="o", set_point_c=200.0, dial_for_c=190.0)
    told = step_texts([bake], (), word_of=lambda _key, _c: "")[0]
    assert told.temperature == "190 °C (375 °F) in the middle; ours is set to 200 °C for that"
    assert told.set_point_c == 190.0, "another kitchen is reckoned from what is meant"
    near = step_texts([replace(bake, dial_for_c=199.0)], ())[0]
    assert near.temperature == "199 °C (390 °F)"
    word = step_texts([replace(bake, set_point_c=88.0, dial_for_c=None)], (), word_of=lambda _k, _c: "low")[0]
    assert word.temperature == "88 °C (190 °F); ours is on “low” for that"


def test_a_caution_stands_in_full_once_and_then_in_brief_with_where_it_stood() -> None:
    fryer = [
        replace(STEPS[1], key="oil", what="Heat the oil"),
        replace(STEPS[2], key="lower", what="Lower in"),
        replace(STEPS[3], key="fry", what="Fry"),
    ]
    told = step_texts(fryer, ("hot_oil",))
    with_it = [(n, c) for n, s in enumerate(told, 1) for c in s.cautions]
    assert len(with_it) > 1
    (first, full), *later = with_it
    assert full.first == 0
    assert all(c.first == first and c.text == full.text and full.text.startswith(c.brief) for _, c in later)
    record = {
        "version": 2, "method": "Fryer", "tag": "DF", "mark": 2, "pieces": 6, "dish": "florets",
        "title": "T", "headline": "H", "intro": "", "yield_text": "6", "total_s": 60, "ingredients": [],
        "allergens": [], "gear": [], "steps": [asdict(s) for s in told],
        "normal": "", "serving": "", "keeping": "", "cues": [], "why": [], "choose_another": [],
        "how_sure": "", "evidence": [], "not_equal": [], "disclosure": "", "defer": "D",
    }  # fmt: skip
    text = markdown(record, published="today", version=1)
    assert text.count(full.text.split(". ")[-1].rstrip(".")[:40]) == 1, "its last words stand once"
    assert text.count(f"as at step {first}") == len(later)

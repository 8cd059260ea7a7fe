"""What a rehearsal showed: figures by hand, from two pans and one pair of hands."""

from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.rehearsed import rehearsed
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.steps import Attention, Phase, Step

H, F = Attention.HANDS, Attention.FREE


def chain(tag: str) -> Chain:
    steps = (
        Step("load", "Load the pan", H, Phase.LOAD, 60),
        Step("cook", "Fry", F, Phase.COOK, 600),
        Step("out", "Turn it out", H, Phase.OUT, 60),
    )
    return Chain(tag, tag, steps)


PLAN = [
    PlannedStep("A", "load", 0, 60),
    PlannedStep("A", "cook", 60, 660),
    PlannedStep("A", "out", 660, 720),
    PlannedStep("B", "load", 120, 180),
    PlannedStep("B", "cook", 180, 780),
    PlannedStep("B", "out", 780, 840),
]


def log(*rows: tuple[str, EntryKind, str, float]) -> list[Entry]:
    return [
        Entry(str(n), batch, kind, at, "d", n, {"step": step})
        for n, (batch, kind, step, at) in enumerate(rows)
    ]


K = EntryKind
IN_TIME = log(
    ("A", K.STARTED, "load", 0),
    ("A", K.IN, "load", 60),
    ("B", K.STARTED, "load", 120),
    ("B", K.IN, "load", 180),
    ("A", K.STARTED, "out", 660),
    ("A", K.OUT, "out", 720),
    ("B", K.STARTED, "out", 780),
    ("B", K.OUT, "out", 840),
)


def test_what_went_as_planned_has_nothing_to_tell() -> None:
    r = rehearsed([chain("A"), chain("B")], PLAN, IN_TIME, 1, {})
    assert (r.late, r.clashes, r.skipped) == ((), (), ())
    assert [(p.tag, p.planned, p.done) for p in r.plates] == [("A", 720, 720), ("B", 840, 840)]
    assert r.sentence == "All plates met when they were to; nothing began late."


def test_late_cooking_is_told_with_what_held_it_up_and_hands_that_clashed() -> None:
    entries = log(
        ("A", K.STARTED, "load", 0),
        ("A", K.IN, "load", 60),
        ("B", K.STARTED, "load", 120),
        ("B", K.IN, "load", 180),
        # A fries four minutes more, and both are turned out at once.
        ("A", K.STARTED, "out", 900),
        ("A", K.OUT, "out", 990),
        ("B", K.STARTED, "out", 920),
        ("B", K.OUT, "out", 1000),
    )
    r = rehearsed([chain("A"), chain("B")], PLAN, entries, 1, {})
    assert [(x.tag, x.what, x.late_s) for x in r.late] == [
        ("A", "Turn it out", 240),
        ("B", "Turn it out", 140),
    ]
    assert r.late[0].why == "Fry took 4 min longer than planned"
    [clash] = r.clashes
    assert (clash.begin, clash.end, clash.hands) == (920, 990, 2)
    assert set(clash.what) == {"A, Turn it out", "B, Turn it out"}
    assert rehearsed([chain("A"), chain("B")], PLAN, entries, 2, {}).clashes == ()
    assert r.sentence == (
        "The last plate was 4 min late; 2 steps began more than a minute late; "
        "hands were wanted in two places once."
    )


def test_hands_that_were_elsewhere_are_named() -> None:
    entries = log(
        ("A", K.STARTED, "load", 0),
        # Loading A took five minutes, so B waited for the hands.
        ("A", K.IN, "load", 300),
        ("B", K.STARTED, "load", 300),
        ("B", K.IN, "load", 360),
    )
    r = rehearsed([chain("A"), chain("B")], PLAN, entries, 1, {})
    late = {(x.tag, x.what): x for x in r.late}
    assert late["B", "Load the pan"].late_s == 180
    assert late["B", "Load the pan"].why == "hands were at A, Load the pan"
    assert r.clashes == ()


def test_plates_that_were_not_reached_and_steps_left_out_are_named_and_a_void_batch_is_none() -> None:
    some = IN_TIME[:6]
    r = rehearsed([chain("A"), chain("B")], PLAN, some, 1, {})
    assert r.sentence.startswith("1 of 2 plates were reached, not B")
    assert "B: Turn it out" in r.skipped
    void = [*some, Entry("v", "B", K.VOID, 800, "d", 99, {"why": "the pan went out"})]
    assert rehearsed([chain("A"), chain("B")], PLAN, void, 1, {}).skipped == ()
    assert rehearsed([chain("A")], PLAN[:3], [], 1, {}).sentence == "Nothing was done yet."


def test_what_has_to_lie_ready_is_told_once_with_all_its_batches_by_the_first() -> None:
    ready = {"A": ["A thermometer", "A pan"], "B": ["A thermometer"]}
    r = rehearsed([chain("B"), chain("A")], PLAN, IN_TIME, 1, ready)
    assert [(x.text, sorted(x.tags), x.by) for x in r.ready] == [
        ("A pan", ["A"], 0),
        ("A thermometer", ["A", "B"], 0),
    ]

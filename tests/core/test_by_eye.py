"""What is poured by eye: weighed before and after, told of the batch, never among the weights of the food."""

from typing import Any

import pytest

from yeasty.core.ask.techniques import techniques
from yeasty.core.cook.as_done import done_facts
from yeasty.core.cook.measures import gaps, measures
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.problem import Chain
from yeasty.core.cook.unmeasured import unmeasured
from yeasty.core.kernel.entries import Entry
from yeasty.core.kernel.entries import EntryKind as K
from yeasty.core.kernel.errors import RuleError

OIL = {"kg": 0.014, "of": "by eye", "item": "Olive  oil", "before_kg": 0.514, "after_kg": 0.5}


def entry(n: int, payload: dict[str, Any], batch: str = "b") -> Entry:
    return Entry(f"e{n}{batch}", batch, K.WEIGHT, float(n), "d", n, payload)


def test_two_pours_add_up_and_are_no_weight_of_the_food() -> None:
    chain = Chain("b", "OV", techniques()["oven"].steps)
    more = {"kg": 0.006, "of": "by eye", "item": "olive oil", "before_kg": 0.5, "after_kg": 0.494}
    log = [entry(1, OIL), entry(2, more), entry(3, {"kg": 0.36, "of": "raw"})]
    m = measures(chain, (), log)
    assert m.by_eye == (("olive oil", pytest.approx(0.020)),)
    assert m.weights == (("raw", 0.36),)
    assert m.contradicted == ()
    facts, _ = done_facts(chain, (), log, m, ["A"])
    assert facts["amount of olive oil, by eye"].value == pytest.approx(0.020)
    assert not any("by eye" in g for g in gaps({"OV": m}))


def test_who_took_some_unweighed_is_asked_to_say_so() -> None:
    steps = techniques()["oven"].steps
    chains = [Chain("a", "OV", steps), Chain("b", "AF", steps)]
    out = next(s.key for s in steps if s.phase.value == "out")
    log = [
        entry(1, OIL, "a"),
        Entry("o1", "a", K.OUT, 50.0, "d", 2, {"step": out}),
        Entry("o2", "b", K.OUT, 60.0, "d", 3, {"step": out}),
    ]
    (asked,) = unmeasured(chains, log)
    assert (asked.batch, asked.of, asked.too_late) == ("b", "by eye: olive oil", True)
    assert asked.sentence == (
        "Olive oil used by eye was weighed for OV and not for AF: it can't be had any more."
    )


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"item": ""}, "item"),
        ({"after_kg": 0.514}, "after_kg"),
        ({"after_kg": None}, "after_kg"),
        ({"kg": 0.05}, "kg"),
        ({"of": "raw"}, "item"),
    ],
)
def test_what_two_readings_cannot_have_told_is_refused(change: dict[str, Any], field: str) -> None:
    check_payload(K.WEIGHT, OIL)
    with pytest.raises(RuleError) as wrong:
        check_payload(K.WEIGHT, {**OIL, **change})
    assert wrong.value.field == field

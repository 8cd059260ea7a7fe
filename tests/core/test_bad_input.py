"""What is wrong is told at its field, with what to do; nothing that is right is refused."""

from dataclasses import replace

import pytest

from yeasty.core.ask.grid import Factor, Grid, Level, check_grid
from yeasty.core.ask.ladder import Ladder, check_ladder
from yeasty.core.cook.payloads import check_payload
from yeasty.core.cook.plannable import check_problem
from yeasty.core.cook.problem import Chain, Place, Problem
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step, check_steps

MIX = Step("m", "Mix", Attention.HANDS, Phase.PREPARE, 120)
BAKE = Step("b", "Bake", Attention.FREE, Phase.COOK, 600, appliance="oven")
TURN = Step("t", "Turn", Attention.HANDS, Phase.TURN, 30, during_offset_s=300)


@pytest.mark.parametrize(
    ("steps", "field", "word"),
    [
        ((replace(MIX, what=""),), "step 1 (no name)", "has no text"),
        ((replace(MIX, duration_s=0),), "step 1 (Mix)", "lasts 0 s"),
        ((replace(MIX, duration_s=-5),), "step 1 (Mix)", "lasts -5 s"),
        ((MIX, replace(BAKE, duration_s=9e9)), "step 2 (Bake)", "lasts"),
        ((TURN, BAKE), "step 1 (Turn)", "none comes before"),
        ((BAKE, replace(TURN, during_offset_s=-1)), "step 2 (Turn)", "before the cooking"),
        ((BAKE, replace(TURN, during_offset_s=590)), "Turn", "does not fit into"),
        ((replace(BAKE, end_rule=EndRule.CORE),), "step 1 (Bake)", "ends by core temperature"),
        ((replace(BAKE, end_rule=EndRule.CUE),), "step 1 (Bake)", "ends by a cue"),
        ((replace(BAKE, end_rule=EndRule.WEIGHT),), "step 1 (Bake)", "ends by weight"),
        ((replace(BAKE, end_rule=EndRule.WEIGHT, end_kg=-1),), "step 1 (Bake)", "ends by weight"),
        ((replace(BAKE, end_rule=EndRule.MATCH),), "step 1 (Bake)", "matches a sample"),
        ((replace(MIX, longest_s=600),), "step 1 (Mix)", "cannot last between two times"),
        ((replace(MIX, days_before=31),), "step 1 (Mix)", "31 days before"),
    ],
)
def test_a_step_that_cannot_be_is_named(steps: tuple[Step, ...], field: str, word: str) -> None:
    found = check_steps(steps)
    assert [f.field for f in found] == [field]
    assert word in found[0].message
    assert found[0].todo.endswith(".")


def test_steps_that_can_be_are_let_through() -> None:
    assert check_steps((MIX, BAKE, TURN)) == []
    assert check_steps((replace(BAKE, end_rule=EndRule.CORE, end_core_c=74, longest_s=900),)) == []
    assert check_steps((replace(MIX, attention=Attention.FREE, longest_s=600),)) == []


GRID = Grid(
    (
        Factor("heat", (Level("low", "", {}), Level("high", "", {}))),
        Factor("coat", (Level("none", "", {}), Level("rice", "", {}))),
    )
)


@pytest.mark.parametrize(
    ("grid", "field"),
    [
        (replace(GRID, factors=()), "factors"),
        (replace(GRID, factors=(GRID.factors[0], GRID.factors[0])), "factors"),
        (replace(GRID, factors=(replace(GRID.factors[0], name=""),)), "factors"),
        (replace(GRID, factors=(Factor("heat", (Level("low", "", {}),)),)), "heat"),
        (replace(GRID, factors=(Factor("heat", (Level("low", "", {}), Level("Low", "", {}))),)), "heat"),
        (
            replace(
                GRID, factors=(Factor("heat", (Level("low", "", {"colour": 1}), Level("high", "", {}))),)
            ),
            "low",
        ),
        (replace(GRID, pieces_a_cell=0), "pieces a cell"),
        (replace(GRID, replicates=0), "replicates"),
        (replace(GRID, barred={(a, b): "" for a in (0, 1) for b in (0, 1)}), "cells"),
        (
            replace(
                GRID,
                factors=tuple(
                    Factor(f"f{n}", tuple(Level(f"l{k}", "", {}) for k in range(9))) for n in range(3)
                ),
            ),
            "cells",
        ),
    ],
)
def test_a_grid_that_cannot_be_laid_out_is_named(grid: Grid, field: str) -> None:
    assert field in [f.field for f in check_grid(grid)]
    assert check_grid(GRID) == []


LADDER = Ladder("time", (480.0, 600.0, 720.0, 840.0), 500.0, 1, 2, 60.0)


@pytest.mark.parametrize(
    ("ladder", "word"),
    [
        (replace(LADDER, rises="hope"), "not known"),
        (replace(LADDER, rungs=(480.0,)), "1"),
        (replace(LADDER, rungs=(480.0, 480.0, 600.0, 700.0)), "do not rise"),
        (replace(LADDER, rungs=(0.0, 480.0, 600.0, 700.0)), "begin at 0"),
        (replace(LADDER, guess=400.0), "none lies under your guess"),
        (replace(LADDER, guess=800.0), "fewer than two lie past"),
        (replace(LADDER, pots=9), "9 for 4 rungs"),
        (replace(LADDER, rungs=(480.0, 500.0, 520.0, 560.0), guess=490.0), "between two pulls"),
    ],
)
def test_a_ladder_that_cannot_answer_says_why(ladder: Ladder, word: str) -> None:
    assert word in check_ladder(ladder)[0].message
    assert check_ladder(LADDER) == []


CHAIN = Chain("x", "OV", (MIX, BAKE))
PROBLEM = Problem((CHAIN,), 10_000, 10_300, places=(Place("oven", "Oven"),))


@pytest.mark.parametrize(
    ("problem", "field"),
    [
        (replace(PROBLEM, chains=()), "batches"),
        (replace(PROBLEM, chains=(CHAIN, CHAIN)), "batches"),
        (replace(PROBLEM, chains=(replace(CHAIN, steps=()),)), "OV"),
        (replace(PROBLEM, serve_until=9_000), "serving window"),
        (replace(PROBLEM, not_before=10_000 + 40 * 86400), "serving window"),
        (replace(PROBLEM, people=0), "people"),
        (replace(PROBLEM, people=5), "people"),
        (replace(PROBLEM, places=(Place("hob", "Hob"),)), "OV, Bake"),
        (replace(PROBLEM, chains=(replace(CHAIN, steps=(replace(MIX, duration_s=0),)),)), "OV, step 1 (Mix)"),
        (replace(PROBLEM, chains=(replace(CHAIN, steps=(replace(MIX, days_before=1), BAKE)),)), "OV"),
        (
            replace(
                PROBLEM, midnight=0.0, chains=(replace(CHAIN, steps=(MIX, replace(BAKE, days_before=1))),)
            ),
            "OV",
        ),
    ],
)
def test_a_shift_that_cannot_be_planned_says_so_at_its_field(problem: Problem, field: str) -> None:
    with pytest.raises(RuleError) as wrong:
        check_problem(problem)
    assert wrong.value.field == field
    assert wrong.value.todo
    check_problem(PROBLEM)


K = EntryKind


@pytest.mark.parametrize(
    ("kind", "payload", "field"),
    [
        (K.TEMPERATURE, {"where": "core"}, "celsius"),
        (K.TEMPERATURE, {"celsius": 700, "where": "core"}, "celsius"),
        (K.WEIGHT, {"kg": 0.1, "of": "hope"}, "of"),
        (K.ENERGY, {"joule": -1}, "joule"),
        (K.CUE, {"text": ""}, "text"),
        (K.NOTE, {"text": "x" * 2001}, "text"),
        (K.PHOTO, {}, "photo_id"),
        (K.EXTENDED, {"step": "b", "seconds": 1e6}, "seconds"),
        (K.EFFORT, {"wash_items": -1}, "wash_items"),
        (K.EFFORT, {"wash_s": "long"}, "wash_s"),
        (K.VOID, {"why": "  "}, "why"),
        (K.CONFIRMED, {"step": "b"}, "sign"),
        (K.LOOKED, {"water": "wet"}, "water"),
        (K.LOOKED, {}, "text"),
        (K.TIMER, {"seconds": 0, "name": "x"}, "seconds"),
        (K.TIMER, {"seconds": 60}, "name"),
        (K.TIMER_DONE, {}, "timer"),
        (K.PROBE, {"device": "d", "channel": "1", "where": "toe"}, "where"),
        (K.RESCUED, {"finish": "grill", "why": "pale"}, "child"),
        (K.WASH_ITEM, {"item": "tray", "seconds": 9000}, "seconds"),
        (K.WASHED, {"thing": "car"}, "thing"),
        (K.READY, {"items": []}, "items"),
        (K.READY, {"items": ["tray"]}, "items"),
        (K.READY, {"items": [{"item": "t", "text": "Tray", "waived": ""}]}, "waived"),
        (K.STARTED, {}, "step"),
        (K.FORESEEN, {"step": "b", "ends_at": 1, "low": 1, "high": "soon", "target_c": 74}, "high"),
        (K.NOTE, {"text": "x", "at": -5}, "at"),
    ],
)
def test_a_fact_that_cannot_be_is_told_at_its_field(
    kind: EntryKind, payload: dict[str, object], field: str
) -> None:
    with pytest.raises(RuleError) as wrong:
        check_payload(kind, payload)
    assert wrong.value.field == field


@pytest.mark.parametrize(
    ("kind", "payload"),
    [
        (K.TEMPERATURE, {"celsius": -18.5, "where": "core"}),
        (K.WEIGHT, {"kg": 0, "of": "drip"}),
        (K.EFFORT, {"nuisance": ["smell"], "hands_s": 60}),
        (K.LOOKED, {"text": "simmering"}),
        (K.LOOKED, {"water": "topped up", "added_kg": 0.2}),
        (K.PROBE, {"device": "d", "channel": "1", "where": "out"}),
        (K.WASHED, {"thing": "probe 3"}),
        (K.READY, {"items": [{"item": "t", "text": "Tray", "waived": "none here"}]}),
        (K.OUT, {}),
        (K.UNDONE, {}),
        (K.EXTENDED, {"step": "b", "seconds": -60}),
        (K.FORESEEN, {"step": "b", "ends_at": 1.0, "low": 1.0, "high": None, "target_c": 74.0}),
    ],
)
def test_facts_that_can_be_are_taken(kind: EntryKind, payload: dict[str, object]) -> None:
    check_payload(kind, payload)

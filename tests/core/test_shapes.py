"""Shapes are written once: what has the same fields is filled from the other, not copied field by field."""

import ast
from collections import Counter
from pathlib import Path

import yeasty
from yeasty.core.ask.techniques import techniques
from yeasty.core.kernel.steps import Phase
from yeasty.store.ask.tables import Step
from yeasty.store.base import row_of

# Of one other shape, so many fields by hand are a copy.
A_COPY = 3
# Each stands where most of a shape is worked out, and what is taken is named otherwise or is a part only.
LEFT = {
    "Recipe": "a page's own words; of the method it takes what names it",
    "WayText": "a page's own words; of the method it takes what names it",
    "Problem": "positions of a planner's problem; of the shift three settings",
    "Step": "steps that were read begin with what they were read as",
    "BatchMeasures": "worked out from three folds, each of which gives a part",
}


def copies(source: str) -> list[tuple[str, int]]:
    """Shapes that are made by copying fields of one other by hand, and how many of them."""
    found = []
    for node in ast.walk(ast.parse(source)):
        if not isinstance(node, ast.Call):
            continue
        name = ast.unparse(node.func).split(".")[-1]
        of = Counter(
            ast.unparse(k.value.value)
            for k in node.keywords
            if isinstance(k.value, ast.Attribute) and k.value.attr == k.arg
        )
        if name[:1].isupper() and (most := max(of.values(), default=0)) >= A_COPY:
            found.append((name, most))
    return found


def test_a_copy_is_seen_for_what_it_is() -> None:
    assert copies("Row(a=x.a, b=x.b, c=x.c, d=1)") == [("Row", 3)]
    assert copies("Row(a=x.a, b=x.b, c=y.c)") == []
    assert copies("make(a=x.a, b=x.b, c=x.c)") == []


def test_hardly_any_shape_is_copied_by_hand() -> None:
    root = Path(yeasty.__file__).parent
    found = [c for p in sorted(root.rglob("*.py")) for c in copies(p.read_text("utf-8"))]
    assert {name for name, _ in found} <= LEFT.keys()
    assert sum(n for _, n in found) <= 20


def test_a_row_takes_what_it_has_of_another_shape() -> None:
    step = next(s for s in techniques()["oven"].steps if s.phase is Phase.COOK)
    row = row_of(Step, step, position=3, what="Bake on")
    assert (row.phase, row.duration_s, row.end_rule) == ("cook", step.duration_s, step.end_rule.value)
    assert (row.position, row.what) == (3, "Bake on")
    assert row.id is None

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


VERBS = ("get", "post", "put", "patch", "delete")


def endpoints(text: str) -> list[tuple[str, int]]:
    """Functions that answer an address, with how many lines they have beneath what they say of themselves."""
    found = []
    for f in ast.parse(text).body:
        if not isinstance(f, ast.FunctionDef):
            continue
        calls = [d.func for d in f.decorator_list if isinstance(d, ast.Call)]
        if not any(isinstance(c, ast.Attribute) and c.attr in VERBS for c in calls):
            continue
        body = f.body[1:] if ast.get_docstring(f) is not None else f.body
        found.append((f.name, (body[-1].end_lineno or 0) - body[0].lineno + 1))
    return found


def test_an_endpoint_parses_calls_and_answers() -> None:
    """What is longer thinks: that is an operation's, or says something: that is a view's."""
    root = Path(yeasty.__file__).parent / "api"
    all_of_them = [e for p in root.rglob("*.py") for e in endpoints(p.read_text("utf-8"))]
    assert len(all_of_them) > 200
    assert [(name, lines) for name, lines in all_of_them if lines > 15] == []


def test_the_counter_of_lines_counts() -> None:
    told = "@a.get('/x')\n@b\ndef x():\n    '''Says.'''\n    one = 1\n    return one\n\n\ndef y(): ...\n"
    assert endpoints(told) == [("x", 2)]

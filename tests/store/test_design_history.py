"""What an edit changed is the same whether all of a design is written out or only what is not alike."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from yeasty.operations.ask.design_history import changes, flat

values = st.one_of(st.none(), st.booleans(), st.integers(0, 3), st.sampled_from(["", "tray", "bowl"]))
ids = st.sampled_from("abc")
rows = st.lists(
    st.dictionaries(st.sampled_from(["id", "what", "n"]), st.one_of(ids, values), max_size=3), max_size=4
)
with_ids = st.lists(st.fixed_dictionaries({"id": ids, "n": values}), max_size=3, unique_by=lambda r: r["id"])
designs = st.dictionaries(
    st.sampled_from(["hunch", "version", "steps", "layout"]),
    st.one_of(values, rows, with_ids, st.dictionaries(ids, st.one_of(values, with_ids), max_size=3)),
    max_size=4,
)


@given(designs, designs)
def test_what_changed_is_what_the_whole_written_out_says(
    before: dict[str, Any], after: dict[str, Any]
) -> None:
    old, new = flat(before), flat(after)
    wanted = {p: (old.get(p), new.get(p)) for p in {*old, *new} if old.get(p) != new.get(p)}
    assert {c["path"]: (c["before"], c["after"]) for c in changes(before, after)} == wanted


def test_a_row_that_moved_has_not_changed() -> None:
    first, second = {"id": "a", "n": 1}, {"id": "b", "n": 2}
    assert changes({"steps": [first, second]}, {"steps": [second, first]}) == []
    assert changes({"steps": [first]}, {"steps": [second, {**first, "n": 3}]}) == [
        {"path": "steps.a.n", "before": 1, "after": 3},
        {"path": "steps.b.id", "before": None, "after": "b"},
        {"path": "steps.b.n", "before": None, "after": 2},
    ]

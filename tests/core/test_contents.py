"""The list of pages: found by words, a sheet at a time, none lost and none twice."""

from dataclasses import replace

import pytest

from yeasty.core.publish.contents import A_SHEET, Entry, contents, sheet

ONE = Entry(
    "a",
    1,
    "Flatbread",
    "flatbread",
    "It folds.",
    "",
    "One method",
    ("Griddle",),
    "9 min",
    "flatbread griddle",
)


def test_every_word_asked_for_has_to_be_there_and_dishes_stand_together() -> None:
    pages = [
        replace(ONE, slug="c", dish="Rice", title="Rice", text="rice oven"),
        ONE,
        replace(ONE, slug="b", title="Another", text="flatbread oven"),
    ]
    assert [e.slug for e in contents(pages)] == ["b", "a", "c"]
    assert [e.slug for e in contents(pages, "OVEN flatbread")] == ["b"]
    assert contents(pages, "oven griddle") == []


@pytest.mark.parametrize("many", [0, 1, A_SHEET - 1, A_SHEET, A_SHEET + 1, 3 * A_SHEET + 7])
def test_sheets_hold_each_page_once(many: int) -> None:
    pages = [replace(ONE, slug=str(n)) for n in range(many)]
    first = sheet(pages, 1)
    seen = [e.slug for n in range(first.of) for e in sheet(pages, n + 1).entries]
    assert seen == [str(n) for n in range(many)]
    assert first.found == many
    for beyond in (0, -4, first.of + 1, 10**9):
        assert 1 <= sheet(pages, beyond).number <= first.of

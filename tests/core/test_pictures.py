"""Photos of a page: what part of them is shown, where they may stand, and what each has to say."""

from random import Random

import pytest

from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.document import Page, check_page
from yeasty.core.publish.kinds import PageKind
from yeasty.core.publish.pictures import (
    CUTS,
    MOST_PICTURES,
    Chosen,
    PageSpot,
    Shown,
    at,
    box_of,
    check_chosen,
    read_file,
    size_of,
    widths_of,
)


def test_the_cut_never_leaves_the_photo_and_keeps_its_shape() -> None:
    chance = Random(3)
    for _ in range(2_000):
        c = Chosen(
            "p",
            chance.choice(list(PageSpot)),
            x=chance.random(),
            y=chance.random(),
            zoom=chance.uniform(1, 4),
            width=chance.randint(300, 2000),
            height=chance.randint(300, 2000),
        )
        left, top, right, bottom = box_of(c)
        assert 0 <= left < right <= 1.0001
        assert 0 <= top < bottom <= 1.0001
        shape = (right - left) * c.width / ((bottom - top) * c.height)
        assert shape == pytest.approx(CUTS[c.spot].aspect, rel=0.01)
        wide, high = size_of(c)
        assert wide <= CUTS[c.spot].widths[-1]
        assert wide <= (right - left) * c.width + 1, "no photo is blown up"
        assert high == pytest.approx(wide / CUTS[c.spot].aspect, abs=1)


def test_what_is_touched_lies_in_the_middle_unless_the_edge_is_near() -> None:
    middle = box_of(Chosen("p", PageSpot.WAY, x=0.4, y=0.6, zoom=4, width=1600, height=1200))
    assert ((middle[0] + middle[2]) / 2, (middle[1] + middle[3]) / 2) == pytest.approx((0.4, 0.6))
    corner = box_of(Chosen("p", PageSpot.WAY, x=0, y=1, zoom=4, width=1600, height=1200))
    assert corner == (0.0, 0.75, 0.25, 1.0)


def test_a_closer_cut_holds_less_by_the_square() -> None:
    def area(zoom: float) -> float:
        left, top, right, bottom = box_of(Chosen("p", PageSpot.WAY, zoom=zoom, width=1600, height=1200))
        return (right - left) * (bottom - top)

    assert area(1) / area(2) == pytest.approx(4, rel=0.01)


@pytest.mark.parametrize(
    ("rows", "field"),
    [
        ([Chosen("a", PageSpot.FIRST), Chosen("b", PageSpot.FIRST)], "picture 2"),
        ([Chosen("a", PageSpot.WAY, "m"), Chosen("b", PageSpot.WAY, "m")], "picture 2"),
        ([Chosen("a", PageSpot.STEP, "m", "s"), Chosen("b", PageSpot.STEP, "m", "s")], "picture 2"),
        ([Chosen("a", PageSpot.FIRST, zoom=9)], "picture 1, zoom"),
        ([Chosen("a", PageSpot.FIRST, x=-0.1)], "picture 1, middle"),
        ([Chosen("a", PageSpot.FIRST, y=float("nan"))], "picture 1, middle"),
        ([Chosen("a", PageSpot.WAY, str(n)) for n in range(MOST_PICTURES + 1)], "pictures"),
    ],
)
def test_what_cannot_stand_is_told_by_its_number(rows: list[Chosen], field: str) -> None:
    with pytest.raises(RuleError) as told:
        check_chosen(rows)
    assert told.value.field == field


def test_one_photo_may_stand_at_several_spots() -> None:
    check_chosen(
        [
            Chosen("a", PageSpot.FIRST),
            Chosen("a", PageSpot.WAY, "m"),
            Chosen("a", PageSpot.STEP, "m", "s"),
            Chosen("a", PageSpot.STEP, "m", "t"),
            Chosen("a", PageSpot.STEP, "n", "s"),
        ]
    )


def test_a_photo_without_words_keeps_a_page_from_going_out() -> None:
    photo = Shown(1, "p", PageSpot.FIRST, (0, 0, 1, 1), caption="Oven, cut", alt="  ")
    page = Page(PageKind.CLAIM, "t", "d", "h", "s", (), (), photos=(photo,))
    assert [p.field for p in check_page(page)] == ["photo 1 (Oven, cut)"]


def test_a_photo_is_found_where_it_stands_and_nowhere_else() -> None:
    photos = [
        {"spot": "first", "tag": "OV", "step": ""},
        {"spot": "way", "tag": "OV", "step": ""},
        {"spot": "step", "tag": "OV", "step": "s1"},
    ]
    assert at(photos, "first") == photos[0]
    assert at(photos, "way", "OV") == photos[1]
    assert at(photos, "way", "AF") is None
    assert at(photos, "step", "OV", "s1") == photos[2]
    assert at(photos, "step", "OV", "s2") is None
    assert at(photos, "step", "AF", "s1") is None


NO_FILES = ["", "1", "1-.jpg", "-1.jpg", "1-2-3.jpg", "../1-2.jpg", "1-2.png", "²-360.jpg", "1" * 30]


@pytest.mark.parametrize("name", NO_FILES)
def test_no_other_name_is_taken_for_a_file(name: str) -> None:
    assert read_file(name) is None


def test_the_widths_of_a_small_photo_are_its_own() -> None:
    assert widths_of("way", 300) == [300]
    assert widths_of("way", 720) == [360, 720]

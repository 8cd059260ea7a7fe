"""What readers say: which notes set a caution aside, and how many of what are counted."""

import pytest

from yeasty.core.publish.tried import Told, against_caution, counted


@pytest.mark.parametrize(
    "note",
    [
        "Pink but fine",
        "a bit RAW in the middle, we ate it",
        "still rare, lovely",
        "I skipped the soaking, no harm",
        "didn't read the core",
        "Did not bother with a thermometer",
        "no need to chill them",
        "Left out overnight and still good",
        "stood on the counter for hours",
        "filled it fuller than you say",
        "filled the pot full to the brim",
        "reheated it twice",
        "without pricking, nothing burst",
        "Never washed the rice",
    ],
)
def test_a_note_that_sets_a_caution_aside_is_caught(note: str) -> None:
    assert against_caution(note)


@pytest.mark.parametrize(
    "note",
    [
        "",
        "Crisp, and my oven took 20 min",
        "Six fit only in two rounds of mine.",
        "My family loved it",
        "Turned out dry, next time shorter",
        "I rested them longer",
        "Brown on top, pale where they touch",
    ],
)
def test_what_is_about_cooking_is_not(note: str) -> None:
    assert not against_caution(note)


def test_counts_are_told_by_way_in_numbers_that_add_up() -> None:
    rows = [("Oven", "well"), ("Pan", "badly"), ("Oven", "fairly"), ("Oven", "well")]
    told = Told(counted(rows), ())
    assert told.sentence == (
        "Oven: 3 readers say that they cooked it (2 well, 1 fairly). "
        "Pan: 1 reader says that they cooked it (1 badly)."
    )
    assert sum(sum(c[1:]) for c in told.counts) == len(rows)
    assert Told((), ()).sentence == ""

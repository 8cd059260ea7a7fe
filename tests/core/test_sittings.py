"""Sittings: even, with a method in common; what shifts leave open is told and nothing else."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.sittings import Cooked, sittings, what_shifts_tell


@given(st.integers(3, 60), st.integers(2, 20), st.data())
def test_every_sitting_has_the_common_method_none_is_too_large_and_each_other_is_cooked_once(
    count: int, most: int, data: st.DataObject
) -> None:
    methods = [f"m{n}" for n in range(count)]
    common = data.draw(st.sampled_from(methods))
    if count <= most:
        with pytest.raises(RuleError, match="hold all"):
            sittings(methods, common, most)
        return
    found = sittings(methods, common, most)
    assert all(s[0] == common and 2 <= len(s) <= most for s in found)
    assert sorted(m for s in found for m in s[1:]) == sorted(m for m in methods if m != common)
    sizes = sorted(len(s) for s in found)
    assert sizes[-1] - sizes[0] <= 1
    assert what_shifts_tell([Cooked(m, f"day {n}") for n, s in enumerate(found) for m in s]) == ()


def test_days_that_share_a_method_with_another_hang_together_and_others_are_named() -> None:
    chain = [
        Cooked(tag, day) for day, pair in enumerate(pairwise("ABCDE")) for tag in pair for day in [str(day)]
    ]
    assert what_shifts_tell(chain) == ()
    (told,) = what_shifts_tell([*chain, Cooked("F", "9")])
    assert told.startswith("A, B, C, D, E (0, 1, 2, 3) and F (9) were never cooked in one shift")
    assert what_shifts_tell([]) == ()


def test_repeats_of_one_shift_that_were_prepared_at_once_are_less_than_whole() -> None:
    twice = [Cooked("A", "1", prepared=True)] * 2
    (told,) = what_shifts_tell(twice)
    assert "one preparation" in told
    assert what_shifts_tell([Cooked("A", "1"), Cooked("A", "1")]) == ()
    assert what_shifts_tell([Cooked("A", "1", prepared=True), Cooked("A", "2", prepared=True)]) == ()

"""What is occupied is found by stretches of time, and it is the same as by looking at all of it."""

from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.cook.backward import _Busy, _Taken
from yeasty.core.kernel.steps import Attention

span = st.tuples(
    st.floats(-100_000, 100_000), st.sampled_from([0.0, 1.0, 59.5, 600.0, 1199.9, 7200.0, 60_000.0])
).map(lambda t: (t[0], t[0] + t[1]))


@given(taken=st.lists(span, max_size=40), asked=span)
def test_what_overlaps_is_found_whatever_the_lengths(
    taken: list[tuple[float, float]], asked: tuple[float, float]
) -> None:
    busy = [_Busy(a, b, str(n), Attention.HANDS, "", "", None) for n, (a, b) in enumerate(taken)]
    by_looking_at_all = [b for b in busy if b.start < asked[1] - 1e-6 and asked[0] < b.end - 1e-6]
    assert _Taken(busy).over(*asked) == by_looking_at_all


def test_what_needs_neither_hands_nor_an_appliance_is_in_nobodys_way() -> None:
    free = _Busy(0, 86_400, "a", Attention.FREE, "", "", None)
    in_oven = _Busy(0, 86_400, "a", Attention.FREE, "", "oven", 200.0)
    assert _Taken([free]).over(0, 10) == []
    assert _Taken([in_oven]).over(0, 10) == [in_oven]

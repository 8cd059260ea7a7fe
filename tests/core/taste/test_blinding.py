from collections import Counter
from itertools import pairwise
from random import Random

import pytest

from yeasty.core.kernel.errors import OutOfRange
from yeasty.core.taste.blinding import balance, codes, orders, williams


@pytest.mark.parametrize("n", range(2, 13))
def test_a_williams_design_puts_every_sample_in_every_place_and_after_every_other_equally_often(
    n: int,
) -> None:
    rows = williams(n)
    assert len(rows) == (n if n % 2 == 0 else 2 * n)
    places = Counter((i, x) for row in rows for i, x in enumerate(row))
    follows = Counter(p for row in rows for p in pairwise(row))
    assert len(set(places.values())) == 1
    assert len(places) == n * n
    assert len(set(follows.values())) == 1
    assert len(follows) == n * (n - 1)


def test_codes_are_three_digits_all_different_and_repeatable() -> None:
    dealt = codes(40, Random(7))
    assert len(set(dealt)) == 40
    assert all(len(c) == 3 and c.isdigit() and c[0] != "0" for c in dealt)
    assert dealt == codes(40, Random(7))
    assert dealt != codes(40, Random(8))
    assert not {"666", "911", "123"} & set(codes(200, Random(1)))
    with pytest.raises(OutOfRange):
        codes(500, Random(1))


@pytest.mark.parametrize(("samples", "tasters"), [(5, 6), (4, 4), (3, 8), (2, 5), (6, 3)])
def test_first_places_are_spread_as_evenly_as_can_be(samples: int, tasters: int) -> None:
    dealt = orders(samples, tasters, Random(3))
    firsts = Counter(row[0] for row in dealt)
    assert max(firsts.values()) - min(firsts.get(i, 0) for i in range(samples)) <= 1
    assert len(dealt) == tasters
    assert all(sorted(row) == list(range(samples)) for row in dealt)


def test_the_balance_is_told_as_it_is() -> None:
    assert balance(williams(6)).words().startswith("Every sample stands in every place equally often")
    assert (
        "differs by 1, the least that this number of people allows"
        in balance(orders(5, 3, Random(1))).words()
    )
    worst = balance([(0, 1, 2)] * 4)
    assert (worst.place_spread, "the least" in worst.words()) == (4, False)
    assert "nothing can be balanced" in balance([(0, 1, 2)]).words()

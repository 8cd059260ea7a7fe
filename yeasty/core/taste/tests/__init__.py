"""Taste tests, one file each: what is served, what is asked, what it tells.

Nobody else asks which test it is: what differs is a field or a function of `TasteTest`.
"""

from collections.abc import Mapping

from yeasty.core.taste.rounds import Settings, TestKey
from yeasty.core.taste.tests.directed_pair import DIRECTED_PAIR
from yeasty.core.taste.tests.duo_trio import DUO_TRIO
from yeasty.core.taste.tests.guess_one import GUESS_ONE
from yeasty.core.taste.tests.kind import TasteTest
from yeasty.core.taste.tests.match_labels import MATCH_LABELS
from yeasty.core.taste.tests.preference import PREFERENCE
from yeasty.core.taste.tests.ranking import RANKING
from yeasty.core.taste.tests.scored import SCORED
from yeasty.core.taste.tests.tetrad import TETRAD
from yeasty.core.taste.tests.triangle import TRIANGLE

# In the order in which they are offered: tetrads before triangles, since they find more.
TESTS: Mapping[TestKey, TasteTest] = {
    t.key: t
    for t in (
        SCORED,
        RANKING,
        PREFERENCE,
        DIRECTED_PAIR,
        MATCH_LABELS,
        GUESS_ONE,
        TETRAD,
        TRIANGLE,
        DUO_TRIO,
    )
}

__all__ = ["TESTS", "Settings", "TasteTest", "TestKey"]

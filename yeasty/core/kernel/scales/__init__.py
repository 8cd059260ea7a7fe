"""Ways to answer a question at the table, one file each: its range, its words, what an answer is worth, how
it is drawn.

Nobody else asks which scale it is: what differs is a field or a method of `ScaleKind`.
"""

from collections.abc import Mapping

from yeasty.core.kernel.scales.check_all import CHECK_ALL
from yeasty.core.kernel.scales.eaten import EATEN
from yeasty.core.kernel.scales.intensity import INTENSITY
from yeasty.core.kernel.scales.just_right import JUST_RIGHT
from yeasty.core.kernel.scales.kind import Scale, ScaleKind
from yeasty.core.kernel.scales.likeness import LIKENESS
from yeasty.core.kernel.scales.liking import LIKING
from yeasty.core.kernel.scales.rank import RANK
from yeasty.core.kernel.scales.standards import STANDARDS
from yeasty.core.kernel.scales.tally import TALLY
from yeasty.core.kernel.scales.words import WORDS

SCALES: Mapping[Scale, ScaleKind] = {
    k.key: k
    for k in (INTENSITY, LIKING, JUST_RIGHT, RANK, WORDS, CHECK_ALL, STANDARDS, LIKENESS, TALLY, EATEN)
}

__all__ = ["SCALES", "Scale", "ScaleKind"]

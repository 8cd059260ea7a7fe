"""Ways to answer a question at the table, one file each: its range, its words, what an answer is worth, how
it is drawn.

Nobody else asks which scale it is: what differs is a field or a method of `ScaleKind`.
"""

from collections.abc import Mapping

from yeasty.core.kernel.scales.intensity import INTENSITY
from yeasty.core.kernel.scales.just_right import JUST_RIGHT
from yeasty.core.kernel.scales.kind import Scale, ScaleKind
from yeasty.core.kernel.scales.liking import LIKING
from yeasty.core.kernel.scales.rank import RANK

SCALES: Mapping[Scale, ScaleKind] = {k.key: k for k in (INTENSITY, LIKING, JUST_RIGHT, RANK)}

__all__ = ["SCALES", "Scale", "ScaleKind"]

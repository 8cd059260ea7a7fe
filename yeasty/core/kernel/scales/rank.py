"""All samples put in order, the best first."""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

RANK = ScaleKind(Scale.RANK, "Put in order", 1, None, 1, drawn="places", weighs=False, low_is_best=True)

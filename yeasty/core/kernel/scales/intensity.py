"""How strong something is, between two ends in the kitchen's own words, one of which is wanted."""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

INTENSITY = ScaleKind(Scale.INTENSITY, "0 to 10, words at the ends", 0, 10, 0.5, ends=True, ranges=True)

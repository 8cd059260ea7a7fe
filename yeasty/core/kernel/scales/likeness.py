"""How like a reference: the promise on the box, the sample that is to be matched."""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

LIKENESS = ScaleKind(
    Scale.LIKENESS, "How like the reference", 0, 10, 0.5, ends=True, weighs=False, ranges=True
)

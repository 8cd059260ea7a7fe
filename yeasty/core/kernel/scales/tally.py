"""So many pieces of so many: came clean, burst, stayed whole."""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

TALLY = ScaleKind(
    Scale.TALLY, "So many of so many pieces", 0, 1, 0.01, drawn="tally", weighs=False, shape="tally"
)

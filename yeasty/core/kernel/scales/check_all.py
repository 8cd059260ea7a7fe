"""Words that fit are ticked, as many as fit."""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

CHECK_ALL = ScaleKind(
    Scale.CHECK_ALL,
    "Tick all words that fit",
    1,
    None,
    1,
    drawn="ticks",
    weighs=False,
    averaged=False,
    shape="words",
    own_words=True,
)

"""A ladder of words of the question's own, from the lowest to the highest: raw, firm, tender, falling apart.

Its answers are ordered, but nobody knows how far one word lies from the next: they are counted, and the
middle one is told, never a mean.
"""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

WORDS = ScaleKind(
    Scale.WORDS, "A ladder of words", 1, None, 1, drawn="words", weighs=False, averaged=False, own_words=True
)

"""What people did: said by nobody, seen by whoever serves, or told by oneself afterwards."""

from collections.abc import Sequence

from yeasty.core.kernel.scales.kind import Scale, ScaleKind, by_word

STEPS = ("left it", "ate some", "ate it", "asked for more")


def tell(values: Sequence[float], _words: Sequence[str]) -> str:
    """How many did what.

    >>> tell([4, 4, 1], ())
    '2 asked for more, 1 left it'
    """
    return by_word(values, STEPS)


EATEN = ScaleKind(
    Scale.EATEN,
    "What people did",
    1,
    4,
    1,
    words=STEPS,
    drawn="words",
    weighs=False,
    averaged=False,
    takes_in_all=True,
    tell=tell,
)

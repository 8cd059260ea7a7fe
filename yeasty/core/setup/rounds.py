"""A batch that an appliance does not hold at once goes through it in rounds: loaded, cooked and taken out
again and again.
"""

import re
from collections.abc import Sequence
from dataclasses import replace

from yeasty.core.kernel.steps import Phase, Step, chain_of

GONE_THROUGH = (Phase.LOAD, Phase.COOK, Phase.OUT)
_MARK = re.compile(r"\.r(\d+)$")
_SAID = re.compile(r", round \d+ of \d+$")


def round_of(key: str) -> int:
    """Which round a step belongs to, by its key: 1 where there is only one.

    >>> round_of("bake"), round_of("bake.r2")
    (1, 2)
    """
    found = _MARK.search(key)
    return int(found.group(1)) if found else 1


def first_round(key: str) -> str:
    """The key of the same step in the first round.

    >>> first_round("bake.r2"), first_round("bake")
    ('bake', 'bake')
    """
    return _MARK.sub("", key)


def once(steps: Sequence[Step]) -> tuple[Step, ...]:
    """Steps as they are gone through once: the first round of each, without saying which it is.

    >>> from yeasty.core.kernel.steps import Attention
    >>> bake = [Step("b", "Bake", Attention.FREE, Phase.COOK, 600)]
    >>> [s.what for s in once(in_rounds(bake, 3))]
    ['Bake']
    """
    return tuple(replace(s, what=_SAID.sub("", s.what)) for s in steps if round_of(s.key) == 1)


def rounds_in(steps: Sequence[Step]) -> int:
    """How many rounds a chain goes through."""
    return max((round_of(s.key) for s in steps), default=1)


def in_rounds(steps: Sequence[Step], rounds: int) -> tuple[Step, ...]:
    """Steps with loading, cooking and taking out gone through so many times, what is done meanwhile too.

    The come-up happens once, and so does all that follows. Steps of later rounds have the key of the first
    with a mark behind.

    >>> from yeasty.core.kernel.steps import Attention
    >>> once = [Step("l", "Load", Attention.HANDS, Phase.LOAD, 60), Step("b", "Bake", Attention.FREE, Phase.COOK, 600),
    ...         Step("p", "Plate", Attention.HANDS, Phase.PLATE, 60)]
    >>> [(s.key, s.what) for s in in_rounds(once, 2)][:3]
    [('l', 'Load, round 1 of 2'), ('b', 'Bake, round 1 of 2'), ('l.r2', 'Load, round 2 of 2')]
    """  # noqa: E501
    chain = chain_of(steps)
    again = [n for n, (main, _) in enumerate(chain) if main.phase in GONE_THROUGH and not main.days_before]
    if rounds < 2 or not again:
        return tuple(steps)
    part = chain[again[0] : again[-1] + 1]
    found = [s for main, during in chain[: again[0]] for s in (main, *during)]
    for n in range(1, rounds + 1):
        found += [
            replace(s, key=s.key if n == 1 else f"{s.key}.r{n}", what=f"{s.what}, round {n} of {rounds}")
            for main, during in part
            for s in (main, *during)
        ]
    return (*found, *(s for main, during in chain[again[-1] + 1 :] for s in (main, *during)))

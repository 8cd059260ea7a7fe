"""Sittings: what is too much for one cooking and tasting, spread over several, and what such shifts can tell.

A day, a cook and a panel change from one sitting to the next. What was never cooked in one shift with a
common method cannot be told from its day.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil

from yeasty.core.kernel.errors import RuleError


def sittings(methods: Sequence[str], common: str, most: int) -> list[list[str]]:
    """Methods by sitting, as even as can be, the common one first in each.

    Parameters
    ----------
    methods : in their order; common : that every sitting cooks; most : methods in a sitting, the common one
        among them

    Raises
    ------
    RuleError : a common method that is not among them, fewer than two in a sitting, or all would fit into one

    >>> sittings(["A", "B", "C", "D", "E"], "C", 3)
    [['C', 'A', 'B'], ['C', 'D', 'E']]
    """
    if common not in methods:
        raise RuleError("method in common", "is not cooked in this shift", "Choose one of its methods.")
    if most < 2:
        raise RuleError(
            "methods in a sitting", f"{most}", "Give at least two: the one in common and another."
        )
    others = [m for m in dict.fromkeys(methods) if m != common]
    if len(others) < most:
        raise RuleError(
            "methods in a sitting", f"{most} hold all {len(others) + 1}", "Give fewer, or leave it as it is."
        )
    count = ceil(len(others) / (most - 1))
    base, more = divmod(len(others), count)
    found, at = [], 0
    for n in range(count):
        size = base + (1 if n < more else 0)
        found.append([common, *others[at : at + size]])
        at += size
    return found


@dataclass(frozen=True)
class Cooked:
    """A batch: its method's tag, the shift it is of, in words, and whether it had a share in a shared
    preparation.
    """

    tag: str
    shift: str
    prepared: bool = False


def what_shifts_tell(batches: Sequence[Cooked]) -> tuple[str, ...]:
    """What the way batches lie in shifts leaves open, in words; nothing where it leaves nothing open.

    >>> a, b = Cooked("AF", "Monday"), Cooked("OV", "Tuesday")
    >>> what_shifts_tell([a, b])[0].split(":")[0]
    'AF (Monday) and OV (Tuesday) were never cooked in one shift, nor each with a method in common'
    >>> what_shifts_tell([a, b, Cooked("OV", "Monday")])
    ()
    """
    found = []
    apart = _islands(batches)
    if len(apart) > 1:
        told = " and ".join(f"{', '.join(tags)} ({', '.join(shifts)})" for tags, shifts in apart)
        found.append(
            f"{told} were never cooked in one shift, nor each with a method in common: a difference "
            f"between them may be "
            "the day’s. Cook one method in every shift."
        )
    twice = sorted(
        {
            b.tag
            for b in batches
            if b.prepared and sum(o.tag == b.tag and o.shift == b.shift for o in batches) > 1
        }
    )
    if twice:
        found.append(
            f"{', '.join(twice)}: repeats of one shift come from one preparation. They tell how the "
            f"cooking varies, not the "
            "preparation; for that prepare anew on another day."
        )
    return tuple(found)


def _islands(batches: Sequence[Cooked]) -> list[tuple[list[str], list[str]]]:
    """Methods that hang together by shifts they share, with their shifts."""
    left = {s: {b.tag for b in batches if b.shift == s} for s in dict.fromkeys(b.shift for b in batches)}
    found = []
    while left:
        first = next(iter(left))
        tags, shifts = set(left.pop(first)), [first]
        grown = True
        while grown:
            near = [s for s, t in left.items() if t & tags]
            grown = bool(near)
            for s in near:
                tags |= left.pop(s)
                shifts.append(s)
        found.append((sorted(tags), shifts))
    return found

"""Like is compared with like: fresh with fresh, an edge piece with an edge piece."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Put:
    """How a sample comes to the table: its code, its method in words and by key, its state and its piece."""

    code: str
    method: str
    name: str
    state: str
    piece: str


@dataclass(frozen=True)
class Alike:
    """Which samples may be compared.

    Attributes
    ----------
    apart : code to what sets it apart from the others; it is told and not compared with them
    lines : what is to be known, in sentences
    """

    apart: dict[str, str]
    lines: tuple[str, ...]


def alike(samples: Sequence[Put]) -> Alike:
    """Which samples of a round may be compared, and which stand beside.

    >>> found = alike([Put("1", "a", "Oven", "fresh", "edge"), Put("2", "b", "Pan", "fresh", "middle")])
    >>> found.apart, found.lines[0][:40]
    ({}, 'Pieces are not alike: Oven edge, Pan mid')
    """
    states = {s.state for s in samples}
    usual = "fresh" if "fresh" in states else min(states, default="fresh")
    apart = {s.code: s.state for s in samples if s.state != usual}
    lines = []
    if apart:
        names = sorted({f"{s.name} ({s.state})" for s in samples if s.code in apart})
        lines.append(f"{', '.join(names)}: told beside the others, not compared with what is {usual}.")
    rest = [s for s in samples if s.code not in apart]
    kinds: dict[str, set[str]] = {}
    for s in rest:
        kinds.setdefault(s.method, set()).add(s.piece)
    every = set().union(*kinds.values()) if kinds else set()
    common = set.intersection(*kinds.values()) if kinds else set()
    if len(every) > 1 and common:
        other = [s for s in rest if s.piece not in common]
        apart |= {s.code: s.piece for s in other}
        if other:
            names = sorted({f"{s.name} {s.piece}".strip() for s in other})
            lines.append(f"{', '.join(names)}: no such piece of every way, so it is told and not compared.")
    elif len(every) > 1:
        names = sorted({f"{s.name} {s.piece or 'no piece named'}" for s in rest})
        lines.append(f"Pieces are not alike: {', '.join(names)}. Part of any gap may be the piece.")
    return Alike(apart, tuple(lines))

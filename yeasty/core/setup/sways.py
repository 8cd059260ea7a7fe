"""What sways which attribute: why a difference matters for what is judged.

Shipped as a table with reasons (`sways.csv`), entered as kitchen practice and marked so: it orders what to
look at first and never hides a difference. A kitchen may change strength and reason of a line or add lines of
its own.
"""

import csv
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from yeasty.core.ask.trial import Attribute
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import SCALES
from yeasty.core.kernel.words import plain

# How hard, in words.
STRENGTHS = {0: "does not matter here", 1: "a little", 2: "clearly", 3: "strongly"}


@dataclass(frozen=True)
class Sway:
    """One line: a field, the attributes it sways, how hard (0 to 3), why, and where that comes from."""

    field: str
    attributes: tuple[str, ...]
    strength: int
    reason: str
    status: str


@dataclass(frozen=True)
class Pull:
    """A field's pull on an attribute of a trial."""

    attribute: str
    strength: int
    reason: str
    status: str


@cache
def shipped() -> tuple[Sway, ...]:
    """The table as it ships."""
    text = files("yeasty.core.setup").joinpath("sways.csv").read_text("utf-8")
    return tuple(
        Sway(r["field"], tuple(r["attribute"].split(";")), int(r["strength"]), r["reason"], r["status"])
        for r in csv.DictReader(text.splitlines())
    )


def check_sway(field: str, attributes: Sequence[str], strength: int, reason: str) -> None:
    """Raise where a kitchen's line is not one."""
    if not field.strip() or not [a for a in attributes if a.strip()]:
        raise RuleError("line", "names no field or no attribute", "Write what differs and what it sways.")
    if strength not in STRENGTHS:
        raise RuleError("strength", f"{strength}", "Give 0 (does not matter here) to 3 (strongly).")
    if len(reason.strip()) < 3:
        raise RuleError("reason", "is empty", "Say why; it is shown beside the difference.")


def merged(own: Iterable[Sway]) -> list[Sway]:
    """Shipped lines with the kitchen's in their place: a line for the same field and attribute goes by the
    kitchen's.

    Of a shipped line with several attributes only those are replaced that the kitchen names.

    >>> ours = [Sway("rest", ("crust",), 3, "our buns soften fast", "this kitchen")]
    >>> [s.strength for s in merged(ours) if s.field == "rest" and "crust" in s.attributes]
    [3]
    """
    ours = list(own)
    taken = {(plain(s.field), plain(a)) for s in ours for a in s.attributes}
    found = list(ours)
    for s in shipped():
        left = tuple(a for a in s.attributes if (plain(s.field), plain(a)) not in taken)
        if left:
            found.append(Sway(s.field, left, s.strength, s.reason, s.status))
    return found


def _alike(words: str, attribute: str) -> bool:
    a, b = plain(words), plain(attribute)
    stems = {w[:5] for w in a.split() if len(w) > 2} & {w[:5] for w in b.split() if len(w) > 2}
    return a == b or bool(stems)


def pulls(field: str, attributes: Sequence[Attribute], lines: Sequence[Sway]) -> list[Pull]:
    """What a field sways among a trial's attributes, hardest first.

    An attribute of liking is swayed by whatever sways anything: it then takes the hardest line of that field.

    >>> from yeasty.core.ask.trial import Scale
    >>> [p.strength for p in pulls("lid", [Attribute("a", "Crust", Scale.INTENSITY)], shipped())]
    [3]
    """
    of_field = [
        s
        for s in lines
        if plain(field) == plain(s.field) or (s.field.endswith(" of") and field.startswith(s.field))
    ]
    found = []
    for attribute in attributes:
        fit = [s for s in of_field if any(_alike(w, attribute.name) for w in s.attributes)]
        if not fit and SCALES[attribute.scale].takes_in_all:
            fit = [s for s in of_field if s.strength > 0]
        if fit:
            top = max(fit, key=lambda s: s.strength)
            found.append(Pull(attribute.name, top.strength, top.reason, top.status))
    return sorted(found, key=lambda p: (-p.strength, p.attribute))


def weight(field: str, attributes: Sequence[Attribute], lines: Sequence[Sway]) -> float:
    """How much a field matters for a trial: its pulls times the attributes' weights."""
    by_name = {a.name: max(a.weight, 0.1) for a in attributes}
    return sum(p.strength * by_name[p.attribute] for p in pulls(field, attributes, lines))

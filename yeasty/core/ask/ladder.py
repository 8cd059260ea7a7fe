"""A ladder: pieces pulled at rising times or temperatures, past the right one on purpose."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities_said import say_duration

# What may rise, and its unit.
RISES: Mapping[str, str] = {
    "time": "s",
    "core temperature": "°C",
    "set point": "°C",
    "amount": "of the first",
}
LEAST_RUNGS = 4
# Hands need this long to pull one rung's pieces, with the lid and the water looked at [s].
PULL_S = 45.0


@dataclass(frozen=True)
class Ladder:
    """What rises, its rungs, and how they are cooked.

    Attributes
    ----------
    rises : key of `RISES`
    rungs : rising values, SI
    guess : where the cook expects the right one
    pots : 1 where all pieces share a pot and are pulled from it one rung after another; else how many pots
    pieces_a_rung : how many are pulled at each
    pull_s : hands needed for a pull [s]
    """

    rises: str
    rungs: tuple[float, ...]
    guess: float
    pots: int = 1
    pieces_a_rung: int = 2
    pull_s: float = PULL_S


@dataclass(frozen=True)
class Pull:
    """One staged pull.

    Attributes
    ----------
    rung : position on the ladder, from 0
    pot : which pot, from 0
    at_s : from the moment that pot's pieces go in [s]
    start_s : when that pot's pieces go in, from the first pot's [s]
    since_last_s : since the pull before from the same pot [s]
    pieces_out, left : pulled now, and left in the pot after it
    waits_s : how long these pieces have waited when the last rung is out [s]
    """

    rung: int
    pot: int
    at_s: float
    start_s: float
    since_last_s: float
    pieces_out: int
    left: int
    waits_s: float


def ladder_from_record(record: Mapping[str, Any]) -> Ladder:
    """A ladder from its stored record."""
    return Ladder(
        str(record.get("rises") or "time"),
        tuple(float(r) for r in record.get("rungs", [])),
        float(record.get("guess") or 0),
        int(record.get("pots") or 1),
        int(record.get("pieces_a_rung") or 2),
        float(record.get("pull_s") or PULL_S),
    )


def rungs(first: float, step: float, count: int) -> tuple[float, ...]:
    """Evenly rising rungs.

    >>> rungs(480, 120, 4)
    (480, 600, 720, 840)
    """
    return tuple(first + i * step for i in range(count))


def check_ladder(ladder: Ladder) -> list[RuleError]:
    """What keeps a ladder from answering “how long”, each with what to do."""
    found: list[RuleError] = []
    if ladder.rises not in RISES:
        found.append(
            RuleError("what rises", f"{ladder.rises} is not known", "Use one of: " + ", ".join(RISES) + ".")
        )
    if len(ladder.rungs) < LEAST_RUNGS:
        found.append(
            RuleError(
                "rungs",
                f"{len(ladder.rungs)}",
                f"Give at least {LEAST_RUNGS}: fewer cannot show a best point and its range.",
            )
        )
    if any(b <= a for a, b in zip(ladder.rungs, ladder.rungs[1:], strict=False)):
        found.append(
            RuleError("rungs", "do not rise", "Write them from the lowest to the highest, none twice.")
        )
    if ladder.rungs and ladder.rises in ("time", "amount") and ladder.rungs[0] <= 0:
        found.append(RuleError("rungs", f"begin at {ladder.rungs[0]:g}", "Begin above zero."))
    if not found and not ladder.rungs[0] < ladder.guess:
        found.append(RuleError("rungs", "none lies under your guess", "Add one that must be underdone."))
    if not found and sum(r > ladder.guess for r in ladder.rungs) < 2:
        found.append(
            RuleError(
                "rungs", "fewer than two lie past your guess", "Go past the right one on purpose: add rungs."
            )
        )
    if not found and not 1 <= ladder.pots <= len(ladder.rungs):
        found.append(
            RuleError(
                "pots", f"{ladder.pots} for {len(ladder.rungs)} rungs", "Use one pot, or up to one a rung."
            )
        )
    if not found and ladder.rises == "time":
        for p in pulls(ladder):
            if 0 < p.since_last_s < ladder.pull_s:
                found.append(
                    RuleError(
                        "rungs",
                        f"{say_duration(p.since_last_s)} between two pulls from one pot, and a pull takes "
                        f"{say_duration(ladder.pull_s)}",
                        "Space them wider, or use more pots.",
                    )
                )
                break
    return found


def can_be_pulled(ladder: Ladder) -> bool:
    """Whether its rungs are times, and its pots no more than its rungs."""
    return ladder.rises == "time" and 1 <= ladder.pots <= max(1, len(ladder.rungs))


def pulls(ladder: Ladder) -> list[Pull]:
    """Staged pulls of a ladder in time, in order of the clock.

    From one pot everything goes in together and each rung waits for the last. From several pots rungs are
    shared out in turn, and pots go in one after another so that all are empty at the same moment.

    >>> [(p.at_s, p.since_last_s, p.left) for p in pulls(Ladder("time", (300, 420, 540, 660), 400))]
    [(300, 300.0, 6), (420, 120, 4), (540, 120, 2), (660, 120, 0)]
    >>> max(p.waits_s for p in pulls(Ladder("time", (300.0, 420.0), 300, pots=2)))
    0.0
    """
    longest = max(ladder.rungs, default=0.0)
    found = []
    for pot in range(ladder.pots):
        mine = [(i, r) for i, r in enumerate(ladder.rungs) if i % ladder.pots == pot]
        start = longest - mine[-1][1] if mine else 0.0
        before = 0.0
        for n, (i, r) in enumerate(mine):
            left = (len(mine) - n - 1) * ladder.pieces_a_rung
            found.append(Pull(i, pot, r, start, r - before, ladder.pieces_a_rung, left, longest - start - r))
            before = r
    return sorted(found, key=lambda p: (p.start_s + p.at_s, p.rung))


def say_rung(ladder: Ladder, value: float) -> str:
    """A rung in words.

    >>> say_rung(Ladder("time", (), 0), 720), say_rung(Ladder("set point", (), 0), 180)
    ('12 min', '180 °C')
    """
    if ladder.rises == "time":
        return say_duration(value)
    if ladder.rises == "amount":
        return f"× {value:g}"
    return f"{value:g} °C"


_PULLED = " left; look at the water level"


def pull_words(pull: Pull, said: str) -> str:
    """What is done at a rung of one pot, as the bench says it.

    `said` : the rung in words
    """
    return f"Pull {pull.pieces_out} at {said}, {pull.left}{_PULLED}"


def for_readers(what: str) -> str:
    """A step as somebody cooks it who pulls no rungs.

    >>> for_readers("Pull 4 at 30 min, 8 left; look at the water level"), for_readers("Rest")
    ('Take out', 'Rest')
    """
    return "Take out" if what.startswith("Pull ") and what.endswith(_PULLED) else what

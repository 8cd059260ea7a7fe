"""Two cooks who logged the same thing: shown to each other, never merged silently."""

from collections.abc import Sequence
from dataclasses import dataclass

from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import STEP_ENDS, Entry, EntryKind

# The same fact from two devices within this is likely one fact [s].
NEAR_S = 180.0


@dataclass(frozen=True)
class Twice:
    """Two entries that seem to say one thing: their ids, the batch, and what it is."""

    first: str
    second: str
    batch: str
    what: str


def _fact(e: Entry) -> tuple[str, ...] | None:
    p = e.payload
    match e.kind:
        case EntryKind.STARTED | EntryKind.DONE | EntryKind.IN | EntryKind.TURNED | EntryKind.OUT:
            return ("step", str(p["step"])) if p.get("step") else ("fact", e.kind.value)
        case EntryKind.WEIGHT:
            return "weight", str(p["of"])
        case EntryKind.EXTENDED:
            return "extended", str(p["step"]), str(p["seconds"])
        case EntryKind.ENERGY:
            return ("energy",)
        case EntryKind.HANDLING_ERROR | EntryKind.VOID:
            return (e.kind.value,)
    return None


def logged_twice(entries: Sequence[Entry]) -> list[Twice]:
    """Pairs of entries from different devices that seem to say the same; a step can only end once, however
    far apart.

    >>> a = Entry("a", "b", EntryKind.OUT, 100.0, "one", 1, {"step": "s"})
    >>> b = Entry("c", "b", EntryKind.OUT, 130.0, "two", 1, {"step": "s"})
    >>> [(t.first, t.second) for t in logged_twice([b, a])]
    [('a', 'c')]
    """
    seen: dict[tuple[str, ...], list[Entry]] = {}
    found = []
    for e in effective(entries):
        fact = _fact(e)
        if fact is None:
            continue
        for other in seen.setdefault((e.batch, *fact), []):
            once = fact[0] == "step" and (e.kind in STEP_ENDS) == (other.kind in STEP_ENDS)
            if e.device != other.device and (once or abs(e.when - other.when) <= NEAR_S):
                found.append(Twice(other.id, e.id, e.batch, e.kind.value))
        seen[e.batch, *fact].append(e)
    return found

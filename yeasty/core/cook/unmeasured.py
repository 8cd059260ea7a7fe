"""What one batch of a shift was measured on and another not: asked for before anybody leaves the bench."""

from collections.abc import Sequence
from dataclasses import dataclass

from yeasty.core.cook.payloads import BY_EYE
from yeasty.core.cook.problem import Chain
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.steps import Phase

# What somebody states of a measure that a batch has none of: it does not apply, or can't be had any more.
APPLIES = "applies"
# Weights, and sizes taken before the heat, are gone once the food has been in it.
BEFORE_HEAT = ("raw", "prepared", "before")
# Until when a weight can still be had, where it is not long.
WHILE = {
    "drip": "before the pan is washed",
    "rendered fat": "before the pan is washed",
    "expelled liquid": "before it is poured away",
    "liquid left": "before it is poured away",
    "cooked": "before it is eaten",
    "drained": "before it is eaten",
    "edible": "before it is eaten",
    "trimmings": "before they are thrown away",
}


@dataclass(frozen=True)
class Unmeasured:
    """A measure that a batch lacks and others have.

    Attributes
    ----------
    batch : its id; kind, of : what to log, as "weight" and "drip"; measure : both, as a person says it
    too_late : it can't be had any more
    sentence : what to do, and until when
    """

    batch: str
    kind: EntryKind
    of: str
    measure: str
    too_late: bool
    sentence: str


def _measure(e: Entry) -> tuple[EntryKind, str, str] | None:
    """What an entry measured: kind, of what, and how a person says it; None where it measured nothing."""
    p = e.payload
    match e.kind:
        case EntryKind.WEIGHT if p["of"] == BY_EYE:
            item = " ".join(str(p["item"]).split()).lower()
            return e.kind, f"{BY_EYE}: {item}", f"{item} used by eye"
        case EntryKind.WEIGHT:
            return e.kind, str(p["of"]), f"{p['of']} weight"
        case EntryKind.SIZE:
            return e.kind, f"{p['of']} {p['when']}", f"{p['of']} {p['when']} the heat"
        case EntryKind.TALLY:
            word = " ".join(str(p["of"]).split()).lower()
            return e.kind, word, f"pieces that are {word}"
        case EntryKind.ENERGY:
            return e.kind, "", "energy"
        case EntryKind.TEMPERATURE | EntryKind.PROBE if p.get("where") == "core":
            return EntryKind.TEMPERATURE, "core", "core temperature"
        case EntryKind.WASH_ITEM:
            return EntryKind.EFFORT, "washing-up", "washing-up"
        case EntryKind.EFFORT if p.get("wash_s") is not None:
            return e.kind, "washing-up", "washing-up"
        case _:
            return None


def waived(entries: Sequence[Entry]) -> frozenset[str]:
    """Measures of which it was said that they do not apply to a batch."""
    return frozenset(
        str(e.payload.get("measure") or "")
        for e in entries
        if e.kind is EntryKind.STATED and e.payload.get("question") == APPLIES
    )


def unmeasured(chains: Sequence[Chain], entries: Sequence[Entry]) -> tuple[Unmeasured, ...]:
    """What each batch lacks that another of its shift was measured on, once its food is out of the heat.

    A batch that is void is measured no more, and asks of no other. What all lack is asked of none: a measure
    is missed only where it could have been compared.
    """
    of: dict[str, list[Entry]] = {}
    for e in effective(entries):
        of.setdefault(e.batch, []).append(e)
    going = [c for c in chains if not any(e.kind is EntryKind.VOID for e in of.get(c.batch, []))]
    has = {c.batch: {m: e for e in of.get(c.batch, []) if (m := _measure(e))} for c in going}
    every = sorted({m for found in has.values() for m in found}, key=lambda m: (m[0].value, m[1]))
    found = []
    for c in going:
        mine = of.get(c.batch, [])
        if not _is_out(c, mine):
            continue
        off = waived(mine)
        for measure in every:
            kind, what, said = measure
            if measure in has[c.batch] or said in off:
                continue
            by = [o.tag for o in going if measure in has[o.batch]]
            # What was poured before the heat was poured: its bottle tells no more.
            late = what.startswith(BY_EYE) or any(w in BEFORE_HEAT for w in what.split())
            words = _sentence(c.tag, kind, what, said, by, late)
            found.append(Unmeasured(c.batch, kind, what, said, late, words))
    return tuple(found)


def _is_out(chain: Chain, entries: Sequence[Entry]) -> bool:
    """Whether its food has come out of the heat; a chain without such a step, whether its last is done."""
    ends = {str(e.payload.get("step")) for e in entries if e.kind is not EntryKind.STARTED}
    outs = [s.key for s in chain.steps if s.phase is Phase.OUT] or [
        s.key for s in chain.steps if s.phase is not Phase.WASH_UP
    ][-1:]
    return bool(outs) and outs[-1] in ends


def _sentence(tag: str, kind: EntryKind, what: str, said: str, by: Sequence[str], late: bool) -> str:
    others = ", ".join(dict.fromkeys(by))
    took = "were counted" if kind is EntryKind.TALLY else "was taken"
    if what.startswith(BY_EYE):
        took = "was weighed"
    first = f"{said[:1].upper()}{said[1:]} {took} for {others}"
    if late:
        return f"{first} and not for {tag}: it can't be had any more."
    if kind is EntryKind.WEIGHT:
        until = f" {WHILE[what]}" if what in WHILE else ""
        return f"{first}: weigh {tag}’s{until}."
    do = {
        EntryKind.TEMPERATURE: f"read {tag}’s while it is hot",
        EntryKind.ENERGY: f"read {tag}’s meter",
        EntryKind.SIZE: f"measure {tag}’s before it is eaten",
        EntryKind.TALLY: f"count {tag}’s before they are eaten",
        EntryKind.EFFORT: f"note {tag}’s",
    }
    return f"{first}: {do[kind]}."

"""The records that a claim opens to: lines of the log and of what people said, which name nobody."""

from collections.abc import Callable, Iterable, Mapping, Sequence

from yeasty.core.decide.measured import CURVE, TALLY
from yeasty.core.decide.outcome import Dot
from yeasty.core.kernel.entries import Entry
from yeasty.core.kernel.entries import EntryKind as K

_TIMES = frozenset({K.STARTED, K.IN, K.OUT, K.DONE, K.EXTENDED})
_WASHING = frozenset({K.EFFORT, K.WASH_ITEM})
# What of the log a measure is taken from.
_FROM: Mapping[str, frozenset[K]] = {
    "total_s": _TIMES | _WASHING,
    "hands_s": _TIMES | {K.EFFORT},
    "come_up_s": _TIMES,
    "cooking_s": _TIMES,
    "waiting_s": _TIMES,
    "busy_s": _TIMES,
    "wash_up_s": _WASHING,
    "call_backs": frozenset({K.TURNED, K.LOOKED, K.TEMPERATURE, K.EXTENDED, K.CUE}),
    "energy_j": frozenset({K.ENERGY}),
    "cost": frozenset({K.ENERGY}),
    "cooked_yield": frozenset({K.WEIGHT}),
    "highest_core_c": frozenset({K.TEMPERATURE}),
    "lowest_core_c": frozenset({K.TEMPERATURE}),
    "hot_kitchen": frozenset({K.EFFORT}),
}
_BY_KIND: Mapping[str, frozenset[K]] = {
    "loss:": frozenset({K.WEIGHT}),
    "weight:": frozenset({K.WEIGHT}),
    "shrink:": frozenset({K.SIZE}),
    TALLY: frozenset({K.TALLY}),
    CURVE + "core": frozenset({K.TEMPERATURE}),
    CURVE + "weight": frozenset({K.WEIGHT}),
}


def kinds_of(measure: str) -> frozenset[K]:
    """Kinds of entries that a measure is taken from.

    >>> [k.value for k in kinds_of("loss:drip")], list(kinds_of("score"))
    (['weight'], [])
    """
    if measure in _FROM:
        return _FROM[measure]
    return next((kinds for start, kinds in _BY_KIND.items() if measure.startswith(start)), frozenset())


def line_of(entry: Entry, step: Callable[[str], str]) -> str:
    """One line of the log in words, without its time and without names; "" for what belongs to no measure.

    `step` : a step's key to what is done at it
    """
    p = entry.payload
    match entry.kind:
        case K.WEIGHT:
            return f"weight, {p['of']}: {1000 * float(p['kg']):.0f} g"
        case K.SIZE:
            return f"{p['of']} {p['when']} the heat: {1000 * float(p['metre']):.1f} mm"
        case K.TALLY:
            return f"counted {p['of']}: {p['count']} of {p['out_of']}"
        case K.TEMPERATURE:
            return f"{p['where']} {float(p['celsius']):.1f} °C"
        case K.ENERGY:
            return f"meter: {float(p['joule']) / 3.6e6:.2f} kWh"
        case K.EFFORT:
            told = [
                f"{name} {float(p[key]) / 60:.1f} min"
                for key, name in (("hands_s", "hands"), ("wash_s", "washing-up"))
                if p.get(key) is not None
            ]
            return ", ".join(told)
        case K.WASH_ITEM:
            return f"washed up {p['item']}: {float(p['seconds']):.0f} s"
        case K.EXTENDED:
            return f"{step(str(p['step']))}: {float(p['seconds']) / 60:+.0f} min"
        case K.STARTED | K.DONE | K.IN | K.OUT | K.TURNED:
            what = step(str(p["step"])) if p.get("step") else ""
            return f"{_DID[entry.kind]}{': ' + what if what else ''}"
        case K.LOOKED | K.CUE:
            return "looked at it"
        case _:
            return ""


_DID: Mapping[K, str] = {
    K.STARTED: "started",
    K.DONE: "done",
    K.IN: "in the heat",
    K.OUT: "out of the heat",
    K.TURNED: "turned",
}


def lines_of(
    measure: str, entries: Iterable[Entry], name: str, came: str, step: Callable[[str], str]
) -> list[str]:
    """A batch's part of the records: what it came to, then the log behind it, by minutes since its first
    line.
    """
    wanted = kinds_of(measure)
    mine = sorted((e for e in entries if e.kind in wanted and _meant(measure, e)), key=lambda e: e.when)
    first = mine[0].when if mine else 0.0
    told = [f"{name}: {came}"]
    for e in mine:
        words = line_of(e, step)
        if words:
            told.append(f"{name}, minute {(e.when - first) / 60:.0f}: {words}")
    return told


def _meant(measure: str, e: Entry) -> bool:
    """Whether an entry of the right kind speaks of what is measured."""
    if measure.startswith(TALLY):
        return " ".join(str(e.payload["of"]).split()).lower() == measure.removeprefix(TALLY)
    if measure.startswith("shrink:"):
        return str(e.payload["of"]) == measure.removeprefix("shrink:")
    if measure.startswith("weight:"):
        return str(e.payload["of"]) == measure.removeprefix("weight:")
    if measure in ("highest_core_c", "lowest_core_c", CURVE + "core"):
        return str(e.payload["where"]) == "core"
    return True


def judged_lines(rows: Sequence[Dot], pairs: Sequence[tuple[str, str]]) -> list[str]:
    """What each person gave each way, people as numbers.

    Parameters
    ----------
    rows : a person's mean answer about a way, on one question; pairs : a way's key and its name, in order
    """
    people = sorted({d.taster for d in rows})
    by = {(d.taster, d.method): d.value for d in rows}
    told = []
    for n, who in enumerate(people, 1):
        said = ", ".join(f"{name} {by[who, key]:.1f}" for key, name in pairs if (who, key) in by)
        if said:
            told.append(f"person {n}: {said}")
    return told

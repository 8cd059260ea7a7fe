"""Entries of the bench log: one fact each, never changed. A correction is a new entry that names the old one.

The order of entries is (corrected device time, device, counter); it does not depend on when they arrive.
"""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from yeasty.core.errors import BadQuantity, RuleError, check_range
from yeasty.core.text import cannot_be_kept


class EntryKind(StrEnum):
    """What an entry says happened."""

    STARTED = "started"
    DONE = "done"
    IN = "in"
    TURNED = "turned"
    OUT = "out"
    TEMPERATURE = "temperature"
    WEIGHT = "weight"
    ENERGY = "energy"
    CUE = "cue"
    PHOTO = "photo"
    NOTE = "note"
    EXTENDED = "extended"
    EFFORT = "effort"
    HANDLING_ERROR = "handling_error"
    VOID = "void"
    WASHED = "washed"
    READY = "ready"
    UNDONE = "undone"
    CONFIRMED = "confirmed"
    LOOKED = "looked"
    TIMER = "timer"
    TIMER_DONE = "timer_done"
    PROBE = "probe"
    RESCUED = "rescued"
    WASH_ITEM = "wash_item"
    FORESEEN = "foreseen"
    CLEARED = "cleared"
    STATED = "stated"
    SIZE = "size"


STEP_ENDS = frozenset({EntryKind.DONE, EntryKind.IN, EntryKind.TURNED, EntryKind.OUT})
WEIGHTS = (
    "raw",
    "prepared",
    "cooked",
    "drained",
    "edible",
    "drip",
    "expelled liquid",
    "rendered fat",
    "fat taken up",
    "liquid added",
    "liquid left",
    "trimmings",
    "kept",
)
# A piece is measured before the heat and after it.
DIMENSIONS = ("length", "width", "thickness", "diameter")
MEASURED = ("before", "after")
THINGS = ("probe", "tongs", "board", "plate", "hands")
PLACES = ("core", "chamber", "surface")
WATER = ("right", "low", "topped up", "not looked")
# What somebody can state of a batch, because no instrument tells it; see `yeasty.core.safety.asked`.
QUESTIONS = ("pulses_boiled", "hazards_known", "food_known")
NUISANCES = ("smell", "spatter", "noise", "heat", "watching")


@dataclass(frozen=True)
class Entry:
    """One fact.

    Parameters
    ----------
    id : made by the client
    batch : which batch, or "" for the shift
    kind : what happened
    at : corrected device time of the tap [s since 1970]; the fact itself may be placed back, see `when`
    device, counter : who wrote it, and its place on that device
    payload : what belongs to the kind; see `check_payload`
    supersedes : id of the entry it corrects, which may arrive later, or None
    """

    id: str
    batch: str
    kind: EntryKind
    at: float
    device: str
    counter: int
    payload: Mapping[str, Any]
    supersedes: str | None = None

    @property
    def when(self) -> float:
        """When the fact was so [s]: the tap, or the moment it was placed back to."""
        placed = self.payload.get("at")
        return float(placed) if isinstance(placed, int | float) else self.at


def _number(
    payload: Mapping[str, Any], key: str, low: float, high: float, unit: str, required: bool = True
) -> None:
    value = payload.get(key)
    if value is None and not required:
        return
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise BadQuantity(key, "is missing or not a number", f"Give it in {unit}.")
    check_range(key, value, low, high, unit)


def _text(payload: Mapping[str, Any], key: str, most: int = 2000) -> None:
    value = payload.get(key)
    if not isinstance(value, str) or not value.strip():
        raise RuleError(key, "is empty", "Write a word or two.")
    if len(value) > most:
        raise RuleError(key, f"has {len(value)} characters", f"Keep it to {most}.")


def _one_of(payload: Mapping[str, Any], key: str, known: Iterable[str]) -> None:
    known = tuple(known)
    if payload.get(key) not in known:
        raise RuleError(
            key, f"{payload.get(key)!r:.60} is not known", "Use one of: " + ", ".join(known) + "."
        )


# What a payload may hold, by kind; beside them all may say "at", the moment it was so.
KEYS: Mapping[EntryKind, frozenset[str]] = {
    EntryKind(kind): frozenset(keys.split())
    for kind, keys in {
        "started": "step",
        "done": "step",
        "in": "step",
        "turned": "step",
        "out": "step",
        "temperature": "celsius where piece place",
        "weight": "kg of",
        "size": "metre of when piece",
        "energy": "joule",
        "cue": "text face part",
        "photo": "photo_id face part",
        "note": "text",
        "extended": "step seconds",
        "effort": "hands_s wash_items wash_s nuisance",
        "handling_error": "why",
        "void": "why",
        "washed": "thing",
        "ready": "items",
        "undone": "",
        "confirmed": "step sign",
        "looked": "water added_kg text",
        "timer": "seconds name every_s",
        "timer_done": "timer",
        "probe": "device channel where name",
        "rescued": "finish why child",
        "wash_item": "item seconds",
        "foreseen": "step ends_at low high target_c",
        "cleared": "reading why",
        "stated": "question answer text",
    }.items()
}
SHORT = ("face", "part", "piece", "place", "name", "text", "step", "thing", "water")
LONGEST_PAYLOAD, DEEPEST_PAYLOAD, LARGEST_NUMBER = 8000, 3, 1e12


def check_shape(kind: EntryKind, payload: Mapping[str, Any]) -> None:
    """Raise where a payload cannot be kept, or holds what its kind does not have: keys, size, depth, characters, numbers.

    >>> check_shape(EntryKind.NOTE, {"text": "pale"})
    """
    unknown = sorted(set(payload) - KEYS[kind] - {"at"})
    if unknown:
        raise RuleError(f"{unknown[0]:.40}", f"does not belong to {kind}", "Leave it out.")
    size, left = 0, [(key, value, 1) for key, value in payload.items()]
    while left:
        key, value, depth = left.pop()
        if isinstance(value, str):
            if why := cannot_be_kept(value):
                raise RuleError(key, why, "Type it again without that.")
            size += len(value)
        elif isinstance(value, Mapping | list | tuple):
            if depth >= DEEPEST_PAYLOAD:
                raise RuleError(key, "is nested too deep", "Give plain values.")
            inside = value.values() if isinstance(value, Mapping) else value
            left += [(key, v, depth + 1) for v in inside]
            size += sum(len(str(k)) for k in value) if isinstance(value, Mapping) else len(value)
        elif not (value is None or (isinstance(value, int | float) and abs(value) <= LARGEST_NUMBER)):
            raise RuleError(key, "is no number of a kitchen", "Look at what was typed.")
        if size > LONGEST_PAYLOAD:
            raise RuleError(key, f"makes it longer than {LONGEST_PAYLOAD} characters", "Write it shorter.")
    for key in SHORT:
        if payload.get(key) is not None and not isinstance(payload[key], str):
            raise RuleError(key, "is not a text", "Write a word or two.")


def check_payload(kind: EntryKind, payload: Mapping[str, Any]) -> None:
    """Raise where a payload is not what its kind needs.

    Payloads (SI): temperature {celsius, where, piece?, place?} (which piece was read, and where in it);
    cleared {reading, why} (a low reading that names no piece, put aside by an act); stated {question, answer, text?}; weight {kg, of} ("kept": after keeping, the next day or later); size {metre, of, when: before or after the heat, piece?}; energy {joule}; cue {text, face?};
    photo {photo_id, face?}; note {text}; extended {step, seconds}; effort {hands_s?, wash_items?, wash_s?,
    nuisance?}; handling_error and void {why}; washed {thing}; ready {items: [{item, text, waived?: why not needed}]}; started and done {step}; in, turned, out {step?};
    confirmed {step, sign} (a start that was seen); looked {water?, added_kg?, text?}; timer {seconds, name, every_s?};
    timer_done {timer}; probe {device, channel, where (or "out"), name?}; rescued {finish, why, child}; wash_item {item, seconds};
    foreseen {step, ends_at, low, high, target_c}: when a running step will end by its probe [s since 1970], written by the
    kitchen itself; without `high` it is only known not to end before.

    >>> check_payload(EntryKind.WEIGHT, {"kg": 0.36, "of": "cooked"})
    """
    check_shape(kind, payload)
    _number(payload, "at", 0, 1e11, "s", required=False)
    match kind:
        case EntryKind.TEMPERATURE:
            _number(payload, "celsius", -60, 600, "°C")
            _one_of(payload, "where", PLACES)
            for key in ("piece", "place"):
                if payload.get(key) is not None:
                    _text(payload, key, 60)
        case EntryKind.CLEARED:
            _text(payload, "reading", 64)
            _text(payload, "why")
        case EntryKind.STATED:
            _one_of(payload, "question", QUESTIONS)
            _one_of(payload, "answer", ("yes", "no"))
            if payload.get("text"):
                _text(payload, "text")
        case EntryKind.WEIGHT:
            _number(payload, "kg", 0, 100, "kg")
            _one_of(payload, "of", WEIGHTS)
        case EntryKind.SIZE:
            _number(payload, "metre", 0.0005, 2, "m")
            _one_of(payload, "of", DIMENSIONS)
            _one_of(payload, "when", MEASURED)
            if payload.get("piece") is not None:
                _text(payload, "piece", 60)
        case EntryKind.ENERGY:
            _number(payload, "joule", 0, 1e9, "J")
        case EntryKind.CUE | EntryKind.NOTE:
            _text(payload, "text")
        case EntryKind.PHOTO:
            _text(payload, "photo_id", 64)
        case EntryKind.EXTENDED:
            _text(payload, "step", 64)
            _number(payload, "seconds", -86400, 86400, "s")
        case EntryKind.EFFORT:
            _number(payload, "hands_s", 0, 86400, "s", required=False)
            _number(payload, "wash_items", 0, 200, "things", required=False)
            _number(payload, "wash_s", 0, 86400, "s", required=False)
            words = payload.get("nuisance", [])
            if not isinstance(words, list) or len(words) > len(NUISANCES):
                raise RuleError("nuisance", "is not a list of words", "Choose among those offered.")
            for word in words:
                _one_of({"nuisance": word}, "nuisance", NUISANCES)
        case EntryKind.HANDLING_ERROR | EntryKind.VOID:
            _text(payload, "why")
        case EntryKind.CONFIRMED:
            _text(payload, "step", 64)
            _text(payload, "sign", 200)
        case EntryKind.LOOKED:
            if payload.get("water") is not None:
                _one_of(payload, "water", WATER)
            _number(payload, "added_kg", 0, 50, "kg", required=False)
            if payload.get("water") is None:
                _text(payload, "text")
        case EntryKind.TIMER:
            _number(payload, "seconds", 1, 7 * 86400, "s")
            _number(payload, "every_s", 1, 86400, "s", required=False)
            _text(payload, "name", 100)
        case EntryKind.TIMER_DONE:
            _text(payload, "timer", 64)
        case EntryKind.PROBE:
            _text(payload, "device", 64)
            _text(payload, "channel", 20)
            _one_of(payload, "where", (*PLACES, "out"))
        case EntryKind.RESCUED:
            _text(payload, "finish", 200)
            _text(payload, "why")
            _text(payload, "child", 64)
        case EntryKind.WASH_ITEM:
            _text(payload, "item", 100)
            _number(payload, "seconds", 0, 7200, "s")
        case EntryKind.FORESEEN:
            _text(payload, "step", 64)
            for key in ("ends_at", "low", "high"):
                _number(payload, key, 0, 1e11, "s", required=key != "high")
            _number(payload, "target_c", -60, 300, "°C")
        case EntryKind.WASHED:
            if not str(payload.get("thing", "")).startswith("probe "):
                _one_of(payload, "thing", THINGS)
            _text(payload, "thing", 120)
        case EntryKind.READY:
            items = payload.get("items")
            if not isinstance(items, list) or not items or len(items) > 60:
                raise RuleError("items", "are missing", "Tick or waive at least one thing.")
            for row in items:
                if not isinstance(row, Mapping):
                    raise RuleError("items", "cannot be read", "Give each its key and text.")
                _text(row, "item", 64)
                _text(row, "text")
                if "waived" in row:
                    _text(row, "waived")
        case EntryKind.STARTED | EntryKind.DONE:
            _text(payload, "step", 64)
        case EntryKind.IN | EntryKind.TURNED | EntryKind.OUT | EntryKind.UNDONE:
            pass


def unreadable(kind: EntryKind, payload: Any) -> str:
    """Why an entry that is stored cannot be read, in words; "" where it can. What came in before its kind had a shape may be so.

    >>> unreadable(EntryKind.WEIGHT, {"kg": float("nan"), "of": "raw"})
    'kg: is no number of a kitchen'
    """
    if not isinstance(payload, Mapping):
        return "payload: is no object"
    try:
        check_payload(kind, payload)
    except (RuleError, TypeError, ValueError, AttributeError) as wrong:
        return f"{wrong.field}: {wrong.message}" if isinstance(wrong, RuleError) else f"payload: {wrong}"
    return ""


# A tap may be stamped this much ahead of the server, beyond what was measured of its device's clock [s]; a moment that
# somebody typed may be this much ahead of the tap.
CLOCK_ERROR_S = 900.0
TYPED_AHEAD_S = 60.0


def check_moment(at: float, payload: Mapping[str, Any], now: float) -> None:
    """Raise where an entry speaks of what is still to come.

    Parameters
    ----------
    at : corrected device time of the tap; now : moment by the shift's clock at the server [s since 1970]

    >>> check_moment(100.0, {"at": 90.0}, 100.0)
    """
    if at > now + CLOCK_ERROR_S:
        raise RuleError(
            "device_time",
            f"lies {(at - now) / 60:.0f} min ahead",
            "Set the device's clock, then log it again.",
        )
    placed = payload.get("at")
    if isinstance(placed, int | float) and placed > max(at, now) + TYPED_AHEAD_S:
        raise RuleError(
            "at", "lies ahead of now", "Log it when it has happened, or give a moment that is past."
        )


def check_step(kind: EntryKind, payload: Mapping[str, Any], steps: Collection[str]) -> None:
    """Raise where an entry names a step that its batch does not have.

    >>> check_step(EntryKind.STARTED, {"step": "a"}, {"a"})
    """
    step = payload.get("step")
    if step is not None and step not in steps:
        raise RuleError("step", "is not one of this batch", "Reload the bench and tap the step again.")


def in_order(entries: Iterable[Entry]) -> list[Entry]:
    """Entries by (corrected device time, device, counter), each id once."""
    by_id = {e.id: e for e in entries}
    return sorted(by_id.values(), key=lambda e: (e.at, e.device, e.counter, e.id))


def effective(entries: Iterable[Entry]) -> list[Entry]:
    """What stands after corrections: a superseded entry falls away, an undo leaves nothing in its place; what cannot be read
    says nothing.

    An undo of an undo brings the first entry back; of two corrections of one entry the later one stands.

    >>> a = Entry("a", "b", EntryKind.NOTE, 1, "d", 1, {"text": "pale"})
    >>> u = Entry("u", "b", EntryKind.UNDONE, 2, "d", 2, {}, supersedes="a")
    >>> effective([a, u]), [e.id for e in effective([a])]
    ([], ['a'])
    """
    ordered = [e for e in in_order(entries) if not unreadable(e.kind, e.payload)]
    facts = [e for e in ordered if e.kind is not EntryKind.UNDONE]
    alive = _alive(ordered)
    root = _roots(facts)
    replaced = {e.supersedes for e in facts if e.supersedes != e.id and e.id in alive}
    # Of a fact and all its corrections one stands: the last that was neither undone nor corrected.
    stands: dict[str, Entry] = {}
    for e in facts:
        if e.id in alive and e.id not in replaced:
            stands[root[e.id]] = e
    for e in facts:
        # Corrections that go round in a circle: the last of them.
        if e.id in alive and (root[e.id] not in stands or stands[root[e.id]].id in replaced):
            stands[root[e.id]] = e
    return [e for e in facts if stands.get(root[e.id]) is e]


def _alive(ordered: Iterable[Entry]) -> frozenset[str]:
    """Entries that were not undone, by id; an undo that was undone undoes nothing. Walked without recursion."""
    ordered = list(ordered)
    undos: dict[str, list[str]] = {}
    for e in ordered:
        if e.kind is EntryKind.UNDONE and e.supersedes and e.supersedes != e.id:
            undos.setdefault(e.supersedes, []).append(e.id)
    found: dict[str, bool] = {}
    for e in ordered:
        open_ = [] if e.id in found else [(e.id, iter(undos.get(e.id, ())))]
        path = {e.id}
        while open_:
            _, rivals = open_[-1]
            lives: bool | None = True
            for u in rivals:
                if u in path:
                    continue
                if u not in found:
                    open_.append((u, iter(undos.get(u, ()))))
                    path.add(u)
                    lives = None
                    break
                if found[u]:
                    lives = False
                    break
            while lives is not None and open_:
                one, _ = open_.pop()
                found[one] = lives
                path.discard(one)
                # An undo that lives settles what it undoes; else the next one is looked at.
                lives = False if lives else None
    return frozenset(k for k, lives in found.items() if lives)


def _roots(facts: Iterable[Entry]) -> dict[str, str]:
    """Of each fact the id of what it corrects in the end, which need not have arrived."""
    target = {e.id: e.supersedes for e in facts}
    root: dict[str, str] = {}
    for start in target:
        path: dict[str, int] = {}
        at = start
        while at not in root:
            path[at] = len(path)
            then = target.get(at)
            if not then or then == at:
                root[at] = at
            elif then in path:
                root[at] = min(list(path)[path[then] :])
            else:
                at = then
        for one in path:
            root[one] = root[at]
    return root

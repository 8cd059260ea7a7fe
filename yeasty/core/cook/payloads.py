"""What a payload of each kind of entry holds: its keys and what they may say, one row a kind.

Values are SI. Besides its own keys every payload may say `at`, the moment it was so [s since 1970]. Unknown
keys are refused: a typing mistake in a client would else be kept for ever and say nothing.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from yeasty.core.kernel.entries import EntryKind as K
from yeasty.core.kernel.errors import BadQuantity, RuleError, check_range
from yeasty.core.kernel.text import cannot_be_kept

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
    "by eye",
)
# What is poured or strewn by eye: the bottle is weighed before it and after it.
BY_EYE = "by eye"
# A scale of the kitchen reads to a gram; two of its readings together to this [kg].
TWO_READINGS_KG = 0.002
# A piece is measured before the heat and after it.
DIMENSIONS = ("length", "width", "thickness", "diameter")
MEASURED = ("before", "after")
THINGS = ("probe", "tongs", "board", "plate", "hands")
FACES = ("top", "underside", "cut", "crumb", "drip")
PLACES = ("core", "chamber", "surface")
WATER = ("right", "low", "topped up", "not looked")
# What somebody can state of a batch, because no instrument tells it; see `yeasty.core.safety.asked`.
# "applies" is about a measure that other batches have: see `yeasty.core.cook.unmeasured`.
QUESTIONS = ("pulses_boiled", "hazards_known", "food_known", "applies")
NUISANCES = ("smell", "spatter", "noise", "heat", "watching")

Payload = Mapping[str, Any]
SHORT = ("face", "of", "part", "piece", "place", "name", "text", "step", "thing", "water", "item")
LONGEST_PAYLOAD, DEEPEST_PAYLOAD, LARGEST_NUMBER = 8000, 3, 1e12


@dataclass(frozen=True)
class Rule:
    """A key that a kind may have, and what raises where its value cannot be so."""

    key: str
    check: Callable[[Payload], None]


def number(key: str, low: float, high: float, unit: str, *, required: bool = True) -> Rule:
    """A number within a range."""

    def check(payload: Payload) -> None:
        value = payload.get(key)
        if value is None and not required:
            return
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise BadQuantity(key, "is missing or not a number", f"Give it in {unit}.")
        check_range(key, value, low, high, unit)

    return Rule(key, check)


def text(key: str, most: int = 2000, *, required: bool = True, blank: bool = False) -> Rule:
    """Words; `blank` ones are as good as none."""

    def check(payload: Payload) -> None:
        value = payload.get(key)
        if not required and (value is None or (blank and value == "")):
            return
        if not isinstance(value, str) or not value.strip():
            raise RuleError(key, "is empty", "Write a word or two.")
        if len(value) > most:
            raise RuleError(key, f"has {len(value)} characters", f"Keep it to {most}.")

    return Rule(key, check)


def one_of(key: str, known: Iterable[str], *, required: bool = True) -> Rule:
    """One of the known words."""
    words = tuple(known)

    def check(payload: Payload) -> None:
        value = payload.get(key)
        if value is None and not required:
            return
        if value not in words:
            raise RuleError(key, f"{value!r:.60} is not known", "Use one of: " + ", ".join(words) + ".")

    return Rule(key, check)


def free(key: str) -> Rule:
    """Nothing is asked of it but what `check_shape` asks of all."""
    return Rule(key, lambda _: None)


def _nuisance(payload: Payload) -> None:
    words = payload.get("nuisance", [])
    if not isinstance(words, list) or len(words) > len(NUISANCES):
        raise RuleError("nuisance", "is not a list of words", "Choose among those offered.")
    for word in words:
        one_of("nuisance", NUISANCES).check({"nuisance": word})


def _looked_text(payload: Payload) -> None:
    if payload.get("water") is None:
        text("text").check(payload)


def _thing(payload: Payload) -> None:
    if not str(payload.get("thing", "")).startswith("probe "):
        one_of("thing", THINGS).check(payload)
    text("thing", 120).check(payload)


MOST_COUNTED = 500


def _tally(payload: Payload) -> None:
    out_of = _whole(payload, "out_of")
    check_range("out_of", out_of, 1, MOST_COUNTED, "pieces")
    check_range("count", _whole(payload, "count"), 0, out_of, "pieces")


def _whole(payload: Payload, key: str) -> int:
    value = payload.get(key)
    if isinstance(value, bool) or not isinstance(value, int):
        raise BadQuantity(key, "is missing or not a whole number", "Count the pieces.")
    return value


def _by_eye(payload: Payload) -> None:
    if payload.get("of") != BY_EYE:
        for key in ("item", "before_kg", "after_kg"):
            if payload.get(key) is not None:
                raise RuleError(
                    key, f"does not belong to a weight called {payload.get('of')}", "Leave it out."
                )
        return
    text("item", 100).check(payload)
    for key in ("before_kg", "after_kg"):
        number(key, 0, 100, "kg").check(payload)
    used = payload["before_kg"] - payload["after_kg"]
    if used <= 0:
        raise RuleError("after_kg", "is not less than before", "Weigh what it came from, before and after.")
    if abs(used - payload["kg"]) > TWO_READINGS_KG:
        raise RuleError("kg", "is not what was taken between the two", "Type both weights again.")


def _items(payload: Payload) -> None:
    items = payload.get("items")
    if not isinstance(items, list) or not items or len(items) > 60:
        raise RuleError("items", "are missing", "Tick or waive at least one thing.")
    for row in items:
        if not isinstance(row, Mapping):
            raise RuleError("items", "cannot be read", "Give each its key and text.")
        text("item", 64).check(row)
        text("text").check(row)
        if "waived" in row:
            text("waived").check(row)


RULES: Mapping[K, tuple[Rule, ...]] = {
    K.STARTED: (text("step", 64),),
    K.DONE: (text("step", 64),),
    K.IN: (free("step"),),
    K.TURNED: (free("step"),),
    K.OUT: (free("step"),),
    # Which piece was read, and where in it.
    K.TEMPERATURE: (
        number("celsius", -60, 600, "°C"),
        one_of("where", PLACES),
        text("piece", 60, required=False),
        text("place", 60, required=False),
    ),
    # "kept": after keeping, the next day or later.
    K.WEIGHT: (
        number("kg", 0, 100, "kg"),
        one_of("of", WEIGHTS),
        Rule("item", _by_eye),
        free("before_kg"),
        free("after_kg"),
    ),
    K.SIZE: (
        number("metre", 0.0005, 2, "m"),
        one_of("of", DIMENSIONS),
        one_of("when", MEASURED),
        text("piece", 60, required=False),
    ),
    # Of so many pieces that were looked at, so many were it: sealed, burst, tender.
    K.TALLY: (
        text("of", 60),
        Rule("count", _tally),
        free("out_of"),
    ),
    K.ENERGY: (number("joule", 0, 1e9, "J"),),
    K.CUE: (text("text"), free("face"), free("part")),
    K.PHOTO: (text("photo_id", 64), free("face"), free("part")),
    K.NOTE: (text("text"),),
    K.EXTENDED: (text("step", 64), number("seconds", -86400, 86400, "s")),
    K.EFFORT: (
        number("hands_s", 0, 86400, "s", required=False),
        number("wash_items", 0, 200, "things", required=False),
        number("wash_s", 0, 86400, "s", required=False),
        Rule("nuisance", _nuisance),
    ),
    K.HANDLING_ERROR: (text("why"),),
    K.VOID: (text("why"),),
    K.WASHED: (Rule("thing", _thing),),
    # items: [{item, text, waived?: why it was not needed}]
    K.READY: (Rule("items", _items),),
    K.UNDONE: (),
    # A start that was seen.
    K.CONFIRMED: (text("step", 64), text("sign", 200)),
    K.LOOKED: (
        one_of("water", WATER, required=False),
        number("added_kg", 0, 50, "kg", required=False),
        Rule("text", _looked_text),
    ),
    K.TIMER: (
        number("seconds", 1, 7 * 86400, "s"),
        number("every_s", 1, 86400, "s", required=False),
        text("name", 100),
    ),
    K.TIMER_DONE: (text("timer", 64),),
    K.PROBE: (text("device", 64), text("channel", 20), one_of("where", (*PLACES, "out")), free("name")),
    K.RESCUED: (text("finish", 200), text("why"), text("child", 64)),
    K.WASH_ITEM: (text("item", 100), number("seconds", 0, 7200, "s")),
    # When a running step will end by its probe, written by the kitchen itself; without `high` it is only
    # known not to end before.
    K.FORESEEN: (
        text("step", 64),
        number("ends_at", 0, 1e11, "s"),
        number("low", 0, 1e11, "s"),
        number("high", 0, 1e11, "s", required=False),
        number("target_c", -60, 300, "°C"),
    ),
    # A low reading that names no piece, put aside by an act.
    K.CLEARED: (text("reading", 64), text("why")),
    K.STATED: (
        one_of("question", QUESTIONS),
        one_of("answer", ("yes", "no")),
        text("text", required=False, blank=True),
        text("measure", 100, required=False),
    ),
}
_AT = number("at", 0, 1e11, "s", required=False)


def check_shape(kind: K, payload: Payload) -> None:
    """Raise where a payload cannot be kept, or holds what its kind does not have: keys, size, depth,
    characters, numbers.

    >>> check_shape(K.NOTE, {"text": "pale"})
    """
    unknown = sorted(set(payload) - {r.key for r in RULES[kind]} - {"at"})
    if unknown:
        raise RuleError(f"{unknown[0]:.40}", f"does not belong to {kind}", "Leave it out.")
    size, left = 0, [(key, value, 1) for key, value in payload.items()]
    while left:
        key, value, depth = left.pop()
        if isinstance(value, Mapping | list | tuple):
            if depth >= DEEPEST_PAYLOAD:
                raise RuleError(key, "is nested too deep", "Give plain values.")
            inside = value.values() if isinstance(value, Mapping) else value
            left += [(key, v, depth + 1) for v in inside]
        size += _size(key, value)
        if size > LONGEST_PAYLOAD:
            raise RuleError(key, f"makes it longer than {LONGEST_PAYLOAD} characters", "Write it shorter.")
    for key in SHORT:
        if payload.get(key) is not None and not isinstance(payload[key], str):
            raise RuleError(key, "is not a text", "Write a word or two.")


def _size(key: str, value: Any) -> int:
    """Characters of one value, without those of what lies in it."""
    if isinstance(value, str):
        if why := cannot_be_kept(value):
            raise RuleError(key, why, "Type it again without that.")
        return len(value)
    if isinstance(value, Mapping):
        return sum(len(str(k)) for k in value)
    if isinstance(value, list | tuple):
        return len(value)
    if not (value is None or (isinstance(value, int | float) and abs(value) <= LARGEST_NUMBER)):
        raise RuleError(key, "is no number of a kitchen", "Look at what was typed.")
    return 0


def check_payload(kind: K, payload: Payload) -> None:
    """Raise where a payload is not what its kind needs; see `RULES`.

    >>> check_payload(K.WEIGHT, {"kg": 0.36, "of": "cooked"})
    """
    check_shape(kind, payload)
    _AT.check(payload)
    for rule in RULES[kind]:
        rule.check(payload)


def unreadable(kind: K, payload: Any) -> str:
    """Why an entry that is stored cannot be read, in words; "" where it can. What came in before its kind had
    a shape may be so.

    >>> unreadable(K.WEIGHT, {"kg": float("nan"), "of": "raw"})
    'kg: is no number of a kitchen'
    """
    if not isinstance(payload, Mapping):
        return "payload: is no object"
    try:
        check_payload(kind, payload)
    except (RuleError, TypeError, ValueError, AttributeError) as wrong:
        return f"{wrong.field}: {wrong.message}" if isinstance(wrong, RuleError) else f"payload: {wrong}"
    return ""

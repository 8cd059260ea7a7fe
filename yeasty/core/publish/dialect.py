"""A page in the units and words of whoever reads it. What is frozen says both units and the words of its
kitchen; nothing but how it is said changes here.
"""

import re
from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from yeasty.core.kernel.quantities_said import say_temperature_both
from yeasty.core.publish.reader import Units, Words

# British word and American one; a longer one before what it holds.
PAIRS: tuple[tuple[str, str], ...] = (
    ("grilled", "broiled"),
    ("grilling", "broiling"),
    ("grill", "broiler"),
    ("hob", "stovetop"),
    ("oven gloves", "oven mitts"),
    ("oven glove", "oven mitt"),
    ("baking paper", "parchment paper"),
    ("kitchen paper", "paper towel"),
    ("cling film", "plastic wrap"),
)
# In a kitchen that broils, a grill is something else: an open fire outdoors.
_ONLY_WITHOUT = {"grilled": "broil", "grilling": "broil", "grill": "broil"}
# What people said stays as they said it; names by which parts of a record find each other are no words.
_AS_THEY_ARE = frozenset(
    {
        "quotes",
        "source",
        "stands_on",
        "tag",
        "key",
        "kind",
        "phase",
        "technique",
        "appliance",
        "photo",
        "spot",
    }
    | {"step", "slug", "standing", "values", "shape", "box"}
)
_NUMBER = r"[−-]?\d+(?:\.\d+)?"
_BOTH_HEAT = re.compile(rf"({_NUMBER} °C) \(({_NUMBER} °F)\)")
_BOTH_MASS = re.compile(rf"({_NUMBER} k?g) \(({_NUMBER} lb(?: {_NUMBER} oz)?|{_NUMBER} oz)\)")
_FROM_TO = re.compile(rf"({_NUMBER}) to ({_NUMBER}) °C")
_HEAT = re.compile(rf"({_NUMBER}) °C")
_THICK = re.compile(rf"({_NUMBER}) mm\b")


def _in_us(text: str) -> str:
    def heat(words: str) -> str:
        return say_temperature_both(float(words.replace("−", "-"))).partition("(")[2].removesuffix(")")

    text = _BOTH_MASS.sub(r"\2", _BOTH_HEAT.sub(r"\2", text))
    text = _FROM_TO.sub(lambda m: f"{heat(m[1]).removesuffix(' °F')} to {heat(m[2])}", text)
    text = _HEAT.sub(lambda m: heat(m[1]), text)
    return _THICK.sub(lambda m: f"{float(m[1]) / 25.4:.2g} in", text)


def _in_metric(text: str) -> str:
    return _BOTH_MASS.sub(r"\1", _BOTH_HEAT.sub(r"\1", text))


def in_units(text: str, units: Units) -> str:
    """A text of a page in one system of units.

    >>> in_units("140 g (4.9 oz) at 200 °C (390 °F)", Units.METRIC)
    '140 g at 200 °C'
    >>> in_units("140 g (4.9 oz) at 200 °C (390 °F), 30 mm thick, from 5 to 74 °C", Units.US)
    '4.9 oz at 390 °F, 1.2 in thick, from 41 to 165 °F'
    """
    return {Units.METRIC: _in_metric, Units.US: _in_us}.get(units, str)(text)


def _said(new: str, found: re.Match[str]) -> str:
    return new[:1].upper() + new[1:] if found[0][:1].isupper() else new


def in_words(text: str, words: Words, page: str = "") -> str:
    """A text of a page in the words of one side of the sea; `page` : all that it says, in small letters.

    >>> in_words("Hob on; under the grill", Words.AMERICAN), in_words("The stovetop", Words.BRITISH)
    ('Stovetop on; under the broiler', 'The hob')
    """
    if words is Words.WRITTEN:
        return text
    for british, american in PAIRS:
        old, new = (british, american) if words is Words.AMERICAN else (american, british)
        if words is Words.AMERICAN and _ONLY_WITHOUT.get(british, "\0") in page:
            continue
        text = re.sub(rf"\b{old}\b", partial(_said, new), text, flags=re.IGNORECASE)
    return text


def _texts(value: Any) -> list[str]:
    if isinstance(value, str):
        return [value]
    if isinstance(value, Mapping):
        return [t for k, v in value.items() if k not in _AS_THEY_ARE for t in _texts(v)]
    return [t for v in value for t in _texts(v)] if isinstance(value, list | tuple) else []


def everything_said(record: Mapping[str, Any]) -> str:
    """All words of a record, in small letters."""
    return "\n".join(_texts(record)).casefold()


_ANY = re.compile(rf"\b(?:{'|'.join(word for pair in PAIRS for word in pair)})\b")


def has_words(record: Mapping[str, Any]) -> bool:
    """Whether a page says anything that is called otherwise elsewhere."""
    return _ANY.search(everything_said(record)) is not None


def speaker(record: Mapping[str, Any], units: Units, words: Words) -> Callable[[str], str]:
    """How a page's texts are said for a reader."""
    page = everything_said(record) if words is Words.AMERICAN else ""
    return lambda text: in_words(in_units(text, units), words, page)


def spoken(value: Any, say: Callable[[str], str]) -> Any:
    """A record, or what was fitted from it, with every text as a reader has it; names by which its parts find
    each other stay.
    """
    if isinstance(value, str):
        return say(value)
    if isinstance(value, Mapping):
        return {k: v if k in _AS_THEY_ARE else spoken(v, say) for k, v in value.items()}
    return [spoken(v, say) for v in value] if isinstance(value, list | tuple) else value

"""Readiness: what is checked before a method's first heat, from its steps, vessel and hazards."""

import csv
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from hashlib import sha256
from importlib.resources import files

from yeasty.core.kernel.steps import Phase, Step
from yeasty.core.kernel.words import plain


@dataclass(frozen=True)
class Item:
    """One thing to tick.

    Attributes
    ----------
    key : the same for the same words, so that a tick belongs to what was read
    text : what is to be so
    why : what it comes from, as "hazard: hot oil"
    """

    key: str
    text: str
    why: str


@cache
def _rules() -> tuple[tuple[str, str, str], ...]:
    text = files("yeasty.core.setup").joinpath("readiness.csv").read_text("utf-8")
    return tuple((r["when"], r["is"], r["item"]) for r in csv.DictReader(text.splitlines()))


def item(text: str, why: str) -> Item:
    """An item with the key of its words."""
    return Item(sha256(plain(text).encode()).hexdigest()[:12], text.strip(), why)


def checklist(
    steps: Sequence[Step],
    hazards: Iterable[str],
    appliance_kinds: Iterable[str],
    vessel: str,
    lid: str,
    own: Sequence[str] = (),
    circuits_over: Sequence[str] = (),
) -> list[Item]:
    """What is to be ticked or waived before a method starts.

    Parameters
    ----------
    hazards : keys of `yeasty.core.safety.cautions`
    appliance_kinds : kinds of the appliances its steps use
    own : items the cook added
    circuits_over : sentences on circuits that would be overloaded, as `yeasty.core.safety.circuits` says them

    >>> [i.text for i in checklist([], ["sealed_skin"], [], "baking sheet", "")]
    ['Skin pierced', 'Tray lined or oiled', 'Tape and mark on the vessel']
    """
    kinds, given = set(appliance_kinds), set(hazards)
    phases = {s.phase.value for s in steps}
    ends = {s.end_rule.value for s in steps if s.phase in (Phase.COOK, Phase.COME_UP)}
    vessel_word, lid_word = plain(vessel), plain(lid)
    found: list[Item] = []
    for when, value, text in _rules():
        fits = {
            "hazard": value in given,
            "phase": value in phases,
            "appliance_kind": value in kinds,
            "end": value in ends,
            "vessel": bool(vessel_word) and plain(value) in vessel_word.split(),
            "lid": bool(lid_word) and plain(value) == lid_word,
            "always": True,
        }[when]
        if fits:
            found.append(
                item(text, f"{when.replace('_', ' ')}: {value.replace('_', ' ')}" if value else when)
            )
    found += [item(sentence, "circuits") for sentence in circuits_over]
    found += [item(text, "added by the kitchen") for text in own if text.strip()]
    return list({i.key: i for i in found}.values())

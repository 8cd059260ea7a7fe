"""Words for the bench: cues by technique and face, when to look in on a long cook, signs that it started,
what to have ready.
"""

import csv
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step
from yeasty.core.kernel.techniques import shipped

FACES = ("top", "underside", "cut", "crumb", "drip")
PARTS = ("crust", "centre", "filling", "edge", "stalk", "leaf")


@dataclass(frozen=True)
class CueChip:
    """A cue that is one tap: for a technique ("" for all) and a face ("" for any)."""

    technique: str
    face: str
    text: str


@dataclass(frozen=True)
class LookIn:
    """When someone must look in on a long cook: every so long [s], at what, and where that comes from."""

    every_s: float
    look_for: str
    source: str


@cache
def _rows(name: str) -> tuple[dict[str, str], ...]:
    return tuple(csv.DictReader(files("yeasty.core.cook").joinpath(name).read_text("utf-8").splitlines()))


def cue_chips(techniques: Sequence[str], own: Sequence[CueChip] = ()) -> list[CueChip]:
    """Chips for some techniques: the kitchen's own first, then those of the technique, then those for all.

    >>> [c.text for c in cue_chips(["deep_fryer"])][:1]
    ['bubbles slow down']
    """
    mine = [c for c in own if c.technique in ("", *techniques)]
    closer = [CueChip(k, c.face, c.text) for k, t in shipped().items() if k in techniques for c in t.cues]
    for_all = [CueChip("", r["face"], r["text"]) for r in _rows("cues.csv")]
    return list(dict.fromkeys([*mine, *closer, *for_all]))


def look_in(technique: str, step: Step) -> LookIn | None:
    """When to look in during a step; None where it is short, watched anyway, or no heat.

    >>> look_in("hob_boil", Step("a", "Boil", Attention.FREE, Phase.COOK, 3600)).every_s
    900.0
    """
    if (
        step.phase is not Phase.COOK
        or step.attention is not Attention.FREE
        or step.during_offset_s is not None
    ):
        return None
    known = shipped().get(technique)
    rule = known.look_in if known else None
    if rule is None or step.duration_s <= rule.longer_than_s:
        return None
    return LookIn(float(rule.every_s), rule.look_for, rule.source)


def start_signs(appliance_kind: str) -> list[str]:
    """Signs by which a start is confirmed on an appliance; the rise on a probe counts on all.

    >>> start_signs("microwave")
    ['turns and counts down', 'light on', 'rise on the probe']
    """
    found = [r["sign"] for r in _rows("start_signs.csv") if r["kind"] == appliance_kind]
    return list(dict.fromkeys([*found, "rise on the probe"]))


def have_ready(step: Step, gear: Sequence[str], technique: str) -> list[str]:
    """What the hands need for a step, before it is due.

    >>> have_ready(Step("a", "Lift out", Attention.HANDS, Phase.OUT, 30), ("slotted spoon", "rack"), "deep_fryer")
    ['slotted spoon', 'rack', 'dry cloth', 'plate with its mark']
    """  # noqa: E501
    found: list[str] = []
    if step.attention is not Attention.HANDS:
        return ["clean thermometer"] if step.end_rule is EndRule.CORE else []
    if step.phase in (Phase.OUT, Phase.TURN):
        found += [
            g for g in gear if any(w in g for w in ("tongs", "spoon", "rack", "cloth", "spatula", "fork"))
        ]
        found += ["dry cloth"] if not any("cloth" in g for g in found) else []
        found += ["plate with its mark"] if step.phase is Phase.OUT else []
    elif step.phase is Phase.LOAD:
        found += [
            *[g for g in gear if any(w in g for w in ("tray", "dish", "basket", "bag", "trivet", "paper"))][
                :2
            ],
            "pieces of this batch",
        ]
        known = shipped().get(technique)
        found += known.ready_at_load if known else ()
    elif step.phase is Phase.PLATE:
        found += ["plate with its mark", "scale"]
    if step.end_rule is EndRule.CORE:
        found.append("clean thermometer")
    return list(dict.fromkeys(found))

"""What differs besides what is meant to.

Each method is laid out as facts: a field, a value that can be compared, and the value in words. Values
are SI, so 1 lb and 454 g are the same fact within what a kitchen scale can tell.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from hashlib import sha256

from yeasty.core.ask.trial import TrialKind
from yeasty.core.cook.steps import EndRule, Phase, Step, chain_of
from yeasty.core.quantities import System, say_duration, say_length, say_mass, say_temperature

# Two masses are one when a scale cannot tell: 0.5 g, or 0.5 % of a larger one.
MASS_STEP_KG = 0.0005
MASS_SHARE = 0.005

VARIED_BY_KIND: Mapping[TrialKind, tuple[str, ...]] = {
    TrialKind.SIDE_BY_SIDE: (
        "technique", "appliance", "set point", "power", "come-up time", "cooking time", "watched steps", "turns",
    ),
    TrialKind.ONE_CHANGE: (),
}  # fmt: skip


@dataclass(frozen=True)
class MethodFacts:
    """What is compared of one method.

    Parameters
    ----------
    tag : two letters
    technique : name of the technique
    batch_kg : food put in per batch [kg], or None
    piece_kg : weight of one piece [kg], or None
    start_c : temperature of the food at the start [°C], or None
    amounts : ingredient to mass per batch [kg]
    steps : its chain
    appliances : appliance key to name
    thickness_m : thickness of a piece [m], or None
    """

    tag: str
    technique: str
    batch_kg: float | None = None
    piece_kg: float | None = None
    start_c: float | None = None
    amounts: Mapping[str, float] = field(default_factory=dict)
    steps: Sequence[Step] = ()
    appliances: Mapping[str, str] = field(default_factory=dict)
    thickness_m: float | None = None


@dataclass(frozen=True)
class Difference:
    """A field that is not the same in every method.

    Attributes
    ----------
    field : its name
    values : tag to value in words; "not written" where a method has none
    varied : declared as varied on purpose
    signature : changes whenever the values do, so that what was accepted is what is still there
    """

    field: str
    values: Mapping[str, str]
    varied: bool
    signature: str


Fact = tuple[float | str | None, str]
NOT_WRITTEN: Fact = (None, "not written")


def _mass(kg: float | None, system: System) -> Fact:
    return NOT_WRITTEN if kg is None else (kg, say_mass(kg, system))


def _seconds(total: float) -> Fact:
    return (round(total), say_duration(total) if total else "none")


def facts(method: MethodFacts, system: System = System.METRIC) -> dict[str, Fact]:
    """Every comparable fact of a method, by field; its value in SI, its words in a person's units."""
    found: dict[str, Fact] = {
        "technique": (method.technique, method.technique),
        "weight per batch": _mass(method.batch_kg, system),
        "weight of a piece": _mass(method.piece_kg, system),
        "start temperature": NOT_WRITTEN if method.start_c is None else (method.start_c, say_temperature(method.start_c, system)),
    }
    if method.thickness_m is not None:
        found["thickness of a piece"] = (method.thickness_m, say_length(method.thickness_m, system))
    for name, kg in method.amounts.items():
        found[f"amount of {name}"] = _mass(kg, system)
    by_phase = {
        phase: sum(s.duration_s for s in method.steps if s.phase is phase and s.during_offset_s is None)
        for phase in (Phase.COME_UP, Phase.COOK, Phase.WAIT)
    }
    found["come-up time"] = _seconds(by_phase[Phase.COME_UP])
    found["cooking time"] = _seconds(by_phase[Phase.COOK])
    found["rest"] = _seconds(by_phase[Phase.WAIT])
    cooking = [s for s in method.steps if s.phase is Phase.COOK]
    used = sorted({method.appliances.get(s.appliance or "", "") for s in method.steps} - {""})
    found["appliance"] = (" + ".join(used), " + ".join(used) or "not chosen")
    points = [s.set_point_c for s in cooking if s.set_point_c is not None]
    said = " / ".join(say_temperature(p, system) for p in points)
    found["set point"] = ("/".join(f"{p:g}" for p in points), said or "none")
    powers = "/".join(f"{s.power_w:g}" for s in cooking if s.power_w is not None)
    found["power"] = (powers, f"{powers} W" if powers else "none")
    turns = sum(len([d for d in during if d.phase is Phase.TURN]) for _, during in chain_of(method.steps))
    found["turns"] = (turns, f"{turns}")
    watched = sum(1 for s in method.steps if s.attention == "watched")
    found["watched steps"] = (watched, f"{watched}")
    found["end rule"] = (_rules(cooking, System.METRIC), _rules(cooking, system) or "no cooking step")
    preparations = ", ".join(s.what.strip().lower() for s in method.steps if s.phase is Phase.PREPARE)
    found["preparation"] = (preparations, preparations or "none")
    return found


def _rules(cooking: Sequence[Step], system: System) -> str:
    return ", ".join(
        "clock" if s.end_rule is EndRule.CLOCK
        else f"core {say_temperature(s.end_core_c, system)}" if s.end_rule is EndRule.CORE and s.end_core_c is not None
        else f"cue: {s.end_cue.strip().lower()}"
        for s in cooking
    )  # fmt: skip


def _same(a: float | str | None, b: float | str | None, mass: bool) -> bool:
    if isinstance(a, int | float) and isinstance(b, int | float):
        return abs(a - b) <= (max(MASS_STEP_KG, MASS_SHARE * max(abs(a), abs(b))) if mass else 1e-9)
    return a == b


def differences(
    methods: Sequence[MethodFacts], varied: Sequence[str], system: System = System.METRIC
) -> list[Difference]:
    """All fields that are not the same in every method, slipped-in ones first, in words of a person's units.

    An ingredient that one method has and another lacks is a difference: the other has none of it. The signature does
    not depend on the units, so what one person accepted stands for the other.

    >>> a = MethodFacts("OV", "Oven", batch_kg=0.4536)
    >>> b = MethodFacts("AF", "Oven", batch_kg=0.454)
    >>> differences([a, b], [])
    []
    """
    laid_out = {m.tag: facts(m) for m in methods}
    in_words = {m.tag: facts(m, system) for m in methods}
    fields = sorted({name for f in laid_out.values() for name in f})
    found = []
    for name in fields:
        missing: Fact = (0.0, "none") if name.startswith("amount of ") else NOT_WRITTEN
        column = {tag: f.get(name, missing) for tag, f in laid_out.items()}
        values = [value for value, _ in column.values()]
        mass = name.startswith(("amount of ", "weight "))
        if all(_same(values[0], v, mass) for v in values[1:]):
            continue
        words = {tag: f.get(name, missing)[1] for tag, f in in_words.items()}
        raw = "|".join(f"{tag}={column[tag][1]}" for tag in sorted(column))
        found.append(Difference(name, words, name in varied, sha256(f"{name}:{raw}".encode()).hexdigest()[:16]))
    return sorted(found, key=lambda d: (d.varied, d.field))


def sentence(open_fields: Sequence[str], accepted: int, varied: int) -> str:
    """The one sentence that opens Set up.

    >>> sentence(["rest"], 0, 2)
    'Not yet fair: 1 difference slipped in (rest). Mend it, or accept it in writing.'
    """
    if not open_fields:
        stand = f"; {accepted} accepted in writing" if accepted else ""
        return f"Fair as far as it is written: only what is meant to differ differs ({varied} fields){stand}."
    count = len(open_fields)
    names = ", ".join(open_fields[:4]) + (", …" if count > 4 else "")
    one = count == 1
    return (
        f"Not yet fair: {count} difference{'' if one else 's'} slipped in ({names}). "
        f"Mend {'it' if one else 'them'}, or accept {'it' if one else 'them'} in writing."
    )

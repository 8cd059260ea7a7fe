"""What differs besides what is meant to.

Each method is laid out as facts: a field, a value that can be compared, and the value in words. Values are SI
and words are taken to their plain form, so 1 lb and 454 g, a sheet and a tray are the same fact. The same
comparison runs over the design and over what was really done (`yeasty.core.cook.as_done`).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from hashlib import sha256

from yeasty.core.ask.trial import DoneRule
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.quantities_said import say_duration, say_length, say_mass, say_temperature
from yeasty.core.kernel.steps import Phase, Step, chain_of, end_words
from yeasty.core.kernel.words import plain
from yeasty.core.setup.appliances import rounds_needed
from yeasty.core.setup.composition import shares_of

# Two masses are one when a scale cannot tell: 0.5 g, or 0.5 % of a larger one.
MASS_STEP_KG = 0.0005
MASS_SHARE = 0.005
# Steps at or below this are in the cold, above the other hot: between them food stands at room temperature
# [°C].
COLD_C, WARM_C = 8.0, 40.0

# What a design calls its cells and rungs; what differs by it is told in fields of its own.
LEVELS = "factor levels"


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
    vessel, lid, place, operator : in the cook's words, "" where not said
    load : what it is cooked together with is called; "" where it is cooked by itself
    pieces, capacity : pieces in a batch, and how many its appliance holds; None where not known
    labels : ingredient to the shares its lot declares
    lots : ingredient to the lot it is taken from, in words
    dealt_kg : mean weight of the pieces dealt to it [kg], or None
    levels : its levels of a grid, or its rung, in words
    kinds : kinds of the appliances that its steps heat in
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
    vessel: str = ""
    lid: str = ""
    place: str = ""
    operator: str = ""
    load: str = ""
    pieces: int | None = None
    capacity: int | None = None
    labels: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    lots: Mapping[str, str] = field(default_factory=dict)
    dealt_kg: float | None = None
    levels: Sequence[str] = ()
    kinds: Sequence[str] = ()


@dataclass(frozen=True)
class Fact:
    """A value to compare and the value in words; `near` is how far two may lie apart and be one [same
    unit].
    """

    value: float | str | None
    words: str
    near: float = 1e-9


@dataclass(frozen=True)
class Difference:
    """A field that is not the same in every method.

    Attributes
    ----------
    field : its name
    values : tag to value in words; "not written" where a method has none
    varied : declared as varied on purpose
    result : not a difference of the design but an outcome, as time is where a state ends the cooking
    signature : changes whenever the values do, so that what was accepted is what is still there
    """

    field: str
    values: Mapping[str, str]
    varied: bool
    signature: str
    result: bool = False


NOT_WRITTEN = Fact(None, "not written")


def mass(kg: float | None, system: System) -> Fact:
    """A mass as a fact."""
    return NOT_WRITTEN if kg is None else Fact(kg, say_mass(kg, system), max(MASS_STEP_KG, MASS_SHARE * kg))


def seconds(total: float, near: float = 0.5) -> Fact:
    """A duration as a fact."""
    return Fact(float(round(total)), say_duration(total) if total else "none", near)


def _text(said: str) -> Fact:
    return Fact(plain(said), said.strip() or "not written") if said.strip() else NOT_WRITTEN


def facts(method: MethodFacts, system: System = System.METRIC) -> dict[str, Fact]:
    """Every comparable fact of a method, by field; its value in SI, its words in a person's units."""
    found: dict[str, Fact] = {
        "technique": Fact(method.technique, method.technique),
        "weight per batch": mass(method.batch_kg, system),
        "weight of a piece": mass(method.piece_kg, system),
        "start temperature": NOT_WRITTEN
        if method.start_c is None
        else Fact(method.start_c, say_temperature(method.start_c, system), 0.05),
    }
    if method.thickness_m is not None:
        found["thickness of a piece"] = Fact(method.thickness_m, say_length(method.thickness_m, system), 2e-4)
    if method.dealt_kg is not None:
        found["mean weight of the pieces dealt"] = Fact(
            method.dealt_kg, say_mass(method.dealt_kg, system), 0.01 * method.dealt_kg
        )
    for name in ("vessel", "lid", "place", "operator"):
        found[name] = _text(getattr(method, name))
    if method.load:
        found["load"] = _text(method.load)
    if method.levels:
        found[LEVELS] = Fact(plain(" / ".join(method.levels)), " / ".join(method.levels))
    for name, kg in method.amounts.items():
        found[f"amount of {name}"] = mass(kg, system)
    for name, lot in method.lots.items():
        found[f"lot of {name}"] = _text(lot)
    found |= _totals(method, system)
    found |= _chain_facts(method, system)
    if sum(
        m
        for n, m in method.amounts.items()
        if (shares_of(n, method.labels.get(n)) or {}).get("liquid", 0) > 0.5
    ):
        found["sealed or open"] = Fact(closure(method), closure(method))
    if method.pieces is not None:
        found["pieces"] = Fact(float(method.pieces), f"{method.pieces}")
        rounds = rounds_needed(method.pieces, method.capacity)
        found["rounds"] = Fact(float(rounds), f"{rounds}")
    return found


SEALED_KINDS = frozenset({"pressure_cooker"})
COVER_WORDS = ("lid", "foil", "cover", "closed", "tight", "on")
OPEN_WORDS = ("no lid", "lid off", "without", "open", "uncovered", "ajar", "none")


def closure(method: MethodFacts) -> str:
    """Whether what boils can leave the vessel: "sealed", "covered" or "open"; the lid's words decide.

    >>> closure(MethodFacts("AA", "Pressure cooker", kinds=("pressure_cooker",)))
    'sealed'
    >>> closure(MethodFacts("AA", "Simmered", lid="lid off"))
    'open'
    """
    if SEALED_KINDS & set(method.kinds):
        return "sealed"
    said = method.lid.strip().lower()
    covered = said and not any(w in said for w in OPEN_WORDS) and any(w in said for w in COVER_WORDS)
    return "covered" if covered else "open"


def _totals(method: MethodFacts, system: System) -> dict[str, Fact]:
    """Total salt, fat and liquid, from what is known of the ingredients."""
    found = {}
    shares = {name: shares_of(name, method.labels.get(name)) for name in method.amounts}
    for what in ("salt", "fat", "liquid"):
        kg = sum(
            kg * (s or {}).get(what, 0.0) for (name, kg) in method.amounts.items() if (s := shares[name])
        )
        if method.amounts:
            found[f"total {what}"] = Fact(
                kg, say_mass(kg, system) if kg > 0 else "none", max(MASS_STEP_KG / 2, MASS_SHARE * 2 * kg)
            )
    return found


def _chain_facts(method: MethodFacts, system: System) -> dict[str, Fact]:
    chain = chain_of(method.steps)
    mains = [s for s, _ in chain]
    cooking = [s for s in mains if s.phase is Phase.COOK]
    first_heat = next((i for i, s in enumerate(mains) if s.phase in (Phase.COME_UP, Phase.COOK)), len(mains))

    def spent(*phases: Phase) -> float:
        return sum(s.duration_s for s in mains if s.phase in phases)

    standing = [
        s
        for s in mains[:first_heat]
        if s.phase in (Phase.PREPARE, Phase.WAIT)
        and s.attention.value == "free"
        and (s.set_point_c is None or COLD_C < s.set_point_c < WARM_C)
        and not s.days_before
    ]
    waits = [s for s in mains[first_heat:] if s.phase is Phase.WAIT]
    used = sorted({method.appliances.get(s.appliance or "", "") for s in method.steps} - {""})
    points = [s.set_point_c for s in cooking if s.set_point_c is not None]
    powers = [s.power_w for s in cooking if s.power_w is not None]
    turned = [(d.during_offset_s or 0.0) for _, during in chain for d in during if d.phase is Phase.TURN]
    watched = sum(1 for s in method.steps if s.attention == "watched")
    rules = dict.fromkeys(end_words(s, lambda c: f"{c:.1f} °C", lambda kg: f"{kg:.4f} kg") for s in cooking)
    said_rules = dict.fromkeys(
        end_words(s, lambda c: say_temperature(c, system), lambda kg: say_mass(kg, system)) for s in cooking
    )
    prepared = [s.what.strip() for s in mains if s.phase is Phase.PREPARE and s not in standing]
    ahead = max((s.days_before for s in method.steps), default=0)
    return {
        "come-up time": seconds(spent(Phase.COME_UP)),
        "cooking time": seconds(sum(s.duration_s for s in cooking)),
        "rest": seconds(sum(s.duration_s for s in waits)),
        "rests": Fact(float(len(waits)), f"{len(waits)}"),
        "time at room temperature": seconds(sum(s.duration_s for s in standing)),
        "appliance": Fact(" + ".join(plain(u) for u in used), " + ".join(used) or "not chosen"),
        "set point": Fact(
            "/".join(f"{p:.1f}" for p in points),
            " / ".join(say_temperature(p, system) for p in points) or "none",
        ),
        "power": Fact(
            "/".join(f"{p:g}" for p in powers),
            ("/".join(f"{p:g}" for p in powers) + " W") if powers else "none",
        ),
        "turns": Fact(
            "/".join(f"{t:.0f}" for t in turned),
            f"{len(turned)}" + (f" (after {', '.join(say_duration(t) for t in turned)})" if turned else ""),
        ),
        "watched steps": Fact(float(watched), f"{watched}"),
        "end rule": Fact(", ".join(plain(r) for r in rules), ", ".join(said_rules) or "no cooking step"),
        "preparation": Fact(", ".join(plain(p) for p in prepared), ", ".join(prepared).lower() or "none"),
        "day-before work": Fact(
            float(ahead), f"{ahead} day{'' if ahead == 1 else 's'} before" if ahead else "none"
        ),
    }


def _same(a: Fact, b: Fact) -> bool:
    if isinstance(a.value, int | float) and isinstance(b.value, int | float):
        return abs(a.value - b.value) <= max(a.near, b.near)
    return a.value == b.value


def _missing(name: str) -> Fact:
    if name == "load":
        return Fact("", "its own")
    return Fact(0.0, "none") if name.startswith(("amount of ", "total ")) else NOT_WRITTEN


def compare(
    laid_out: Mapping[str, Mapping[str, Fact]],
    varied: Sequence[str],
    in_words: Mapping[str, Mapping[str, Fact]] | None = None,
    results: Sequence[str] = (),
) -> list[Difference]:
    """All fields that are not the same in every column, slipped-in ones first, then those varied, then
    results.

    An ingredient that one method has and another lacks is a difference: the other has none of it. Values are
    one where the least and the greatest lie within what can be told. `in_words` may hold the same facts in
    other units; the signature is made of `laid_out`, so what one person accepted stands for the other. The
    order of the columns does not matter.
    """
    said = in_words or laid_out
    fields = sorted({name for f in laid_out.values() for name in f})
    loose = tuple(v for v in varied if v.endswith(" of"))
    found = []
    for name in fields:
        missing = _missing(name)
        column = {tag: f.get(name, missing) for tag, f in laid_out.items()}
        values = list(column.values())
        numbers = [f for f in values if isinstance(f.value, int | float)]
        if len(numbers) == len(values) and values:
            low, high = min(numbers, key=_number), max(numbers, key=_number)
            if _same(low, high):
                continue
        elif all(_same(values[0], v) for v in values[1:]):
            continue
        words = {tag: f.get(name, missing).words for tag, f in said.items()}
        raw = "|".join(f"{tag}={column[tag].words}" for tag in sorted(column))
        signature = sha256(f"{name}:{raw}".encode()).hexdigest()[:16]
        meant = name in varied or name.startswith(loose) if loose else name in varied
        found.append(Difference(name, words, meant, signature, name in results and not meant))
    return sorted(found, key=lambda d: (d.result, d.varied, d.field))


def _number(f: Fact) -> float:
    return float(f.value) if isinstance(f.value, int | float) else 0.0


def results_by(done_rule: DoneRule) -> tuple[str, ...]:
    """Fields that are outcomes where a state or a match ends the cooking: time is then a result."""
    return () if done_rule is DoneRule.BY_CLOCK else ("cooking time",)


def differences(
    methods: Sequence[MethodFacts],
    varied: Sequence[str],
    system: System = System.METRIC,
    done_rule: DoneRule = DoneRule.BY_CLOCK,
) -> list[Difference]:
    """What differs between designs, in words of a person's units.

    >>> a = MethodFacts("OV", "Oven", batch_kg=0.4536, vessel="baking sheet")
    >>> b = MethodFacts("AF", "Oven", batch_kg=0.454, vessel="Tray")
    >>> differences([a, b], [])
    []
    """
    laid_out = {m.tag: facts(m) for m in methods}
    said = laid_out if system is System.METRIC else {m.tag: facts(m, system) for m in methods}
    found = compare(laid_out, varied, said, results_by(done_rule))
    changed = [d.field.removeprefix("amount of ") for d in found if d.field.startswith("amount of ")]
    labels = {name: label for m in methods for name, label in m.labels.items()}
    return [
        d
        for d in found
        if not (
            d.field.startswith("total ") and _said_already(d.field.removeprefix("total "), changed, labels)
        )
    ]


def _said_already(part: str, changed: Sequence[str], labels: Mapping[str, Mapping[str, float]]) -> bool:
    """Whether a total differs by one ingredient alone, whose amount is listed as a difference itself."""
    return sum(1 for name in changed if (shares_of(name, labels.get(name)) or {}).get(part, 0.0) > 0) == 1

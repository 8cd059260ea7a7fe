"""Yield: what went in, what came out, and what is unaccounted for; energy and cost of it.

All weights in kg. A weight that was not taken is None, never zero: what follows from it is then not known.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from statistics import fmean

from yeasty.core.kernel.errors import RuleError, check_range

# A kitchen scale and a transfer from vessel to scale, each weighing [kg]; a share of the weight where that is
# more.
WEIGHING_KG = 0.002
WEIGHING_SHARE = 0.002
# Shares of what went into the heat; of keeping, of what came out.
LOSSES = ("rendered fat", "drip", "expelled liquid", "fat taken up", "trimmings")
LOST_IN_KEEPING = "lost in keeping"


@dataclass(frozen=True)
class Weights:
    """Weights of one batch [kg].

    Attributes
    ----------
    raw : as bought; prepared : as it goes into the heat; cooked : as it comes out; drained; edible : without
        bone, skin, stone
    liquid_added : water or stock that went in with it and is counted with the outputs
    drip : what fell from it; expelled : liquid pressed out; rendered_fat : fat poured off; fat_taken_up : oil
        taken up
    liquid_left : of what was added, after cooking
    trimmings : cut off after cooking and thrown away
    """

    raw: float | None = None
    prepared: float | None = None
    cooked: float | None = None
    drained: float | None = None
    edible: float | None = None
    liquid_added: float | None = None
    liquid_left: float | None = None
    drip: float | None = None
    expelled: float | None = None
    rendered_fat: float | None = None
    fat_taken_up: float | None = None
    trimmings: float | None = None

    def start(self) -> float | None:
        """What went into the heat: prepared, else raw [kg]."""
        return self.prepared if self.prepared is not None else self.raw


def losses(weights: Mapping[str, float]) -> dict[str, float]:
    """What a batch lost or took up, as shares of what went into the heat [-]; of keeping, of what it was when
    cooked.

    `weights` by the kinds of the log. What was not weighed is left out; a result of the next day comes in
    when it is there.

    >>> {k: round(v, 3) for k, v in losses({"prepared": 0.5, "cooked": 0.4, "rendered fat": 0.02, "kept": 0.36}).items()}
    {'rendered fat': 0.04, 'lost in keeping': 0.1}
    """  # noqa: E501
    start = weights.get("prepared", weights.get("raw"))
    found = {name: weights[name] / start for name in LOSSES if start and name in weights}
    if weights.get("cooked") and "kept" in weights:
        found[LOST_IN_KEEPING] = 1 - weights["kept"] / weights["cooked"]
    return found


@dataclass(frozen=True)
class Balance:
    """A mass balance.

    Attributes
    ----------
    into, out : named weights [kg] that were taken
    unaccounted_kg : in less out; `unsure_kg` what the weighings leave open
    closes : whether that is nothing, within the weighings
    sentence : what the rest most likely is
    """

    into: Mapping[str, float]
    out: Mapping[str, float]
    unaccounted_kg: float
    unsure_kg: float
    closes: bool
    sentence: str


@dataclass(frozen=True)
class Yields:
    """Yields as shares of what they are over [-]; None where a weight is missing. `missing` names it."""

    cooked: float | None
    drained: float | None
    edible: float | None
    prepared: float | None
    missing: tuple[str, ...]


def _share(top: float | None, bottom: float | None) -> float | None:
    return top / bottom if top is not None and bottom else None


def yields(w: Weights) -> Yields:
    """Cooked, drained and edible over what went into the heat; prepared over raw.

    >>> yields(Weights(prepared=0.360, cooked=0.324)).cooked
    0.9
    """
    for name, value in vars(w).items():
        if value is not None:
            check_range(f"{name.replace('_', ' ')} weight", value, 0, 1000, "kg")
    start = w.start()
    missing = [n for n in ("cooked", "drained", "edible") if getattr(w, n) is None]
    if start is None:
        missing.insert(0, "raw or prepared")
    return Yields(
        _share(w.cooked, start),
        _share(w.drained, start),
        _share(w.edible, start),
        _share(w.prepared, w.raw),
        tuple(missing),
    )


def balance(w: Weights) -> Balance:
    """Close the mass balance of a cooking and name what is unaccounted for.

    In: what went into the heat, liquid added, oil taken up. Out: cooked, liquid left, drip, expelled liquid,
    rendered fat.

    Raises
    ------
    RuleError : no start or no cooked weight

    >>> b = balance(Weights(prepared=0.360, cooked=0.310, drip=0.012))
    >>> round(b.unaccounted_kg, 3), b.sentence
    (0.038, '38 g went unweighed: most likely water that evaporated.')
    """
    start = w.start()
    if start is None or w.cooked is None:
        raise RuleError("weights", "start or cooked weight is missing", "Weigh before and after cooking.")
    into = {"food": start}
    out = {"cooked": w.cooked}
    for name, value in (("liquid added", w.liquid_added), ("fat taken up", w.fat_taken_up)):
        if value is not None:
            into[name] = value
    for name, value in (
        ("liquid left", w.liquid_left),
        ("drip", w.drip),
        ("expelled liquid", w.expelled),
        ("rendered fat", w.rendered_fat),
    ):
        if value is not None:
            out[name] = value
    rest = sum(into.values()) - sum(out.values())
    unsure = (
        1.645 * sum(max(WEIGHING_KG, WEIGHING_SHARE * v) ** 2 for v in (*into.values(), *out.values())) ** 0.5
    )
    grams = f"{abs(rest) * 1000:.0f} g"
    if abs(rest) <= unsure:
        sentence = "It closes within what the weighings leave open."
    elif rest > 0:
        sentence = f"{grams} went unweighed: most likely water that evaporated."
        if w.drip is None and w.rendered_fat is None:
            sentence = f"{grams} went unweighed: water that evaporated, and drip or fat that was not weighed."
    elif w.liquid_added is None:
        sentence = f"{grams} more came out than went in: water or fat taken up that was not weighed."
    else:
        sentence = f"{grams} more came out than went in: check the weighings and the tare."
    return Balance(into, out, rest, unsure, abs(rest) <= unsure, sentence)


def shrinks(sizes: Sequence[tuple[str, str, str, float]]) -> dict[str, float]:
    """Shrink of a batch by dimension, as a share of the length before [-]; below nought where it grew.

    Parameters
    ----------
    sizes : dimension, piece ("" where none was named), "before" or "after", length [m]; the last of a piece
        stands

    Pieces that were measured before and after are compared each with itself; else the means of all before and
    all after.

    >>> sizes = [("diameter", "1", "before", 0.050), ("diameter", "1", "after", 0.045), ("length", "", "before", 0.1)]
    >>> round(shrinks(sizes)["diameter"], 3), len(shrinks(sizes))
    (0.1, 1)
    """  # noqa: E501
    found = {}
    for dimension in dict.fromkeys(of for of, *_ in sizes):
        before, after = (
            {
                (piece or f"no name {n}"): metre
                for n, (of, piece, at, metre) in enumerate(sizes)
                if of == dimension and at == when
            }
            for when in ("before", "after")
        )
        both = before.keys() & after.keys()
        if both:
            found[dimension] = fmean(shrink(before[p], after[p]) for p in sorted(both))
        elif before and after:
            found[dimension] = shrink(fmean(before.values()), fmean(after.values()))
    return found


def shrink(before: float, after: float, *, dimensions: int = 1) -> float:
    """Shrink as a share [-] of a length (1) or an area (2), from lengths or areas before and after in one
    unit.

    >>> round(shrink(0.10, 0.08), 3)
    0.2
    >>> round(shrink(0.10, 0.08, dimensions=2), 2)
    0.36
    """
    check_range("size", (before, after), 1e-6, 1e3, "")
    if dimensions not in (1, 2):
        raise RuleError("dimensions", f"{dimensions}", "Give 1 for a length, 2 for an area from one length.")
    return 1 - (after / before) ** dimensions


@dataclass(frozen=True)
class Energy:
    """Energy from the mains [J] and how it is known: metered, or input × duty × time."""

    joule: float
    how: str


def energy_used(
    *,
    metered_j: float | None = None,
    input_w: float | None = None,
    duty: float | None = None,
    time_s: float | None = None,
) -> Energy:
    """Energy of a cooking: from the meter where there is one, else input × share of time it heats × time.

    Raises
    ------
    RuleError : neither a meter nor all three of the others

    >>> energy_used(input_w=1700, duty=0.5, time_s=3600).joule / 3.6e6
    0.85
    """
    if metered_j is not None:
        check_range("metered energy", metered_j, 0, 1e9, "J")
        return Energy(metered_j, "metered")
    if input_w is None or duty is None or time_s is None:
        raise RuleError(
            "energy",
            "is not metered, and input, duty and time are not all known",
            "Meter it, or give all three.",
        )
    check_range("input power", input_w, 1, 20000, "W")
    check_range("duty", duty, 0, 1, "of the time")
    check_range("time", time_s, 0, 864000, "s")
    return Energy(
        input_w * duty * time_s, f"{input_w:g} W × {duty:.0%} of {time_s / 60:.0f} min: reckoned, not metered"
    )


def cost_per_portion(
    ingredients: Decimal,
    energy_j: float | None,
    price_per_kwh: Decimal | None,
    edible_kg: float,
    portion_kg: float,
) -> Decimal:
    """Cost of one edible portion, in the currency of the prices.

    Raises
    ------
    RuleError : nothing edible, or energy without its price

    >>> cost_per_portion(Decimal("2.40"), 3.6e6, Decimal("0.30"), 0.9, 0.3)
    Decimal('0.9000')
    """
    check_range("edible weight", edible_kg, 1e-4, 1000, "kg")
    check_range("portion", portion_kg, 1e-4, 50, "kg")
    total = ingredients
    if energy_j is not None:
        if price_per_kwh is None:
            raise RuleError("price per kWh", "is missing", "Enter it at Kitchen, or leave the energy out.")
        total += price_per_kwh * (Decimal(str(energy_j)) / Decimal(3_600_000))
    return (total * Decimal(str(portion_kg)) / Decimal(str(edible_kg))).quantize(Decimal("0.0001"))

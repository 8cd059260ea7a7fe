"""Circuits: the full input of all that may heat at once, a base load and a margin, against breaker and
voltage.

A thermostat that rests now may switch on the next moment, so averages do not count. Local electrical codes
and a licensed electrician come first.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from yeasty.core.kernel.errors import check_range

MARGIN = 0.9
CODES_FIRST = "Local electrical codes and a licensed electrician come first."


@dataclass(frozen=True)
class Circuit:
    """A circuit: breaker [A], voltage [V], what is always on [W]."""

    name: str
    breaker_a: float
    voltage_v: float
    base_w: float = 0.0

    def usable_w(self) -> float:
        """What may be drawn beside the base load, a tenth kept back [W].

        >>> Circuit("B", 16, 230, 100).usable_w()
        3212.0
        """
        check_range(f"breaker of circuit {self.name}", self.breaker_a, 1, 125, "A")
        check_range(f"voltage of circuit {self.name}", self.voltage_v, 90, 440, "V")
        check_range(f"base load of circuit {self.name}", self.base_w, 0, 50000, "W")
        return self.breaker_a * self.voltage_v * MARGIN - self.base_w


@dataclass(frozen=True)
class Heating:
    """An appliance that may heat from `start` to `end` [s], on a circuit, with its full input [W], None where
    unknown, spread over so many rings.
    """

    appliance: str
    name: str
    circuit: str
    input_w: float | None
    start: float
    end: float
    rings: int = 1


@dataclass(frozen=True)
class CircuitLoad:
    """The heaviest moment of a circuit.

    Attributes
    ----------
    drawn_w, usable_w : full input then, and what may be drawn [W]; `usable_w` None where breaker or voltage
        is not known
    from_s, until_s : when [s]; appliances : names of those that may heat then
    over : more than may be drawn; unknown : appliances whose input is not known, which counts as not met
    """

    circuit: str
    drawn_w: float
    usable_w: float | None
    from_s: float
    until_s: float
    appliances: tuple[str, ...]
    unknown: tuple[str, ...]
    over: bool
    sentence: str


def circuit_loads(heatings: Sequence[Heating], circuits: Mapping[str, Circuit]) -> list[CircuitLoad]:
    """The heaviest moment of each circuit, the worst first. One appliance counts once, however many batches
    use it; of a hob as many of its rings as have something on them, each with its share of the full input.

    >>> b = Circuit("B", 13, 230)
    >>> one = Heating("f", "Deep fryer", "B", 1800, 0, 600)
    >>> two = Heating("a", "Air fryer", "B", 1700, 300, 900)
    >>> [(round(c.drawn_w), c.over) for c in circuit_loads([one, two], {"B": b})]
    [(3500, True)]
    """
    found = []
    for name in sorted({h.circuit for h in heatings if h.circuit}):
        mine = [h for h in heatings if h.circuit == name]
        cuts = sorted({t for h in mine for t in (h.start, h.end)})
        moments = []
        for a, b in pairwise(cuts):
            using = [h for h in mine if h.start < b and h.end > a]
            on = {h.appliance: h for h in using}
            drawn = sum(
                (h.input_w or 0.0) * min(1.0, sum(u.appliance == key for u in using) / h.rings)
                for key, h in on.items()
            )
            moments.append((drawn, -a, b, on))
        if not moments:
            continue
        drawn, start, end, on = max(moments, key=lambda m: m[:2])
        circuit = circuits.get(name)
        usable = circuit.usable_w() if circuit else None
        names = tuple(sorted(h.name for h in on.values()))
        unknown = tuple(sorted({h.name for h in mine if h.input_w is None}))
        over = usable is not None and drawn > usable
        found.append(
            CircuitLoad(
                name,
                drawn,
                usable,
                -start,
                end,
                names,
                unknown,
                over,
                _say(name, drawn, usable, names, unknown, over),
            )
        )
    return sorted(found, key=lambda c: (not c.over, c.circuit))


def _say(
    name: str,
    drawn: float,
    usable: float | None,
    names: tuple[str, ...],
    unknown: tuple[str, ...],
    over: bool,
) -> str:
    both = " and ".join(names)
    words = f"Circuit {name}: {drawn / 1000:.1f} kW" + (
        f" of {usable / 1000:.1f} kW" if usable is not None else ""
    )
    words += f" if {both} heat{'s' if len(names) == 1 else ' at once'}"
    if over:
        words += ": it will trip. Move one to another circuit, or one after the other"
    if usable is None:
        words += "; its breaker is not entered"
    if unknown:
        words += f"; input not known for {', '.join(unknown)}, which counts as not met"
    return words + "."

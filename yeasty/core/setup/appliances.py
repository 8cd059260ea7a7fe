"""Appliance profiles: three powers kept apart, the offset of the dial, what it holds."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil

from yeasty.core.ask.techniques import APPLIANCE_KINDS
from yeasty.core.kernel.errors import RuleError, check_range
from yeasty.core.safety.unread import Setting


@dataclass(frozen=True)
class DialWord:
    """A word on the dial ("low", "gas 4") and the temperature it gives [°C]; `measured` says whether anyone
    measured it.
    """

    word: str
    celsius: float | None = None
    measured: bool = False


@dataclass(frozen=True)
class Capacity:
    """How many pieces of a size fit at once."""

    piece_m: float
    pieces: int


@dataclass(frozen=True)
class Appliance:
    """What a kitchen knows of one appliance.

    Parameters
    ----------
    input_w : from the mains [W]; rated_w : output by its label [W]; measured_w : output measured [W]
    offset_k : measured minus set, at the middle [K]; None where never measured
    capacity_pieces : pieces that fit at once; None where not known
    spot : where it stands; two watched steps at one spot can be watched by one person
    dial : words on its dial with what they give; capacities : pieces that fit, by size
    """

    key: str
    name: str
    kind: str
    input_w: float | None = None
    rated_w: float | None = None
    measured_w: float | None = None
    offset_k: float | None = None
    capacity_pieces: int | None = None
    circuit: str = ""
    spot: str = ""
    dial: tuple[DialWord, ...] = ()
    capacities: tuple[Capacity, ...] = ()


def check_appliance(a: Appliance) -> list[RuleError]:
    """What is wrong with a profile. Output above input cannot be."""
    return [*_wrong_in_power(a), *_wrong_in_dial(a), *_wrong_in_room(a)]


def _wrong_in_power(a: Appliance) -> Iterator[RuleError]:
    if a.kind not in APPLIANCE_KINDS:
        yield RuleError("kind", f"{a.kind} is not known", "Use one of: " + ", ".join(APPLIANCE_KINDS) + ".")
    outputs = (("rated output", a.rated_w), ("measured output", a.measured_w))
    for field, value in (("input power", a.input_w), *outputs):
        if value is not None:
            try:
                check_range(field, value, 1, 20000, "W")
            except RuleError as wrong:
                yield wrong
    for field, value in outputs:
        if value is not None and a.input_w is not None and value > a.input_w:
            yield RuleError(
                field,
                f"{value:g} W is more than the {a.input_w:g} W it draws",
                "Check which number is which.",
            )


def _wrong_in_dial(a: Appliance) -> Iterator[RuleError]:
    if a.offset_k is not None and abs(a.offset_k) > 80:
        yield RuleError(
            "offset", f"{a.offset_k:g} K", "Give measured minus set; 80 K is the most that is taken."
        )
    words = [d.word.strip().lower() for d in a.dial]
    if "" in words or len(set(words)) != len(words):
        yield RuleError("dial", "has a word without letters or twice", "Give each mark of the dial once.")
    for d in a.dial:
        if d.celsius is not None and not -30 <= d.celsius <= 500:
            yield RuleError(
                f"dial, {d.word}", f"{d.celsius:g} °C", "Give what a thermometer read, -30 to 500 °C."
            )
        if d.measured and d.celsius is None:
            yield RuleError(
                f"dial, {d.word}",
                "is said to be measured, but no temperature is given",
                "Type what was read.",
            )


def _wrong_in_room(a: Appliance) -> Iterator[RuleError]:
    if a.capacity_pieces is not None and a.capacity_pieces < 1:
        yield RuleError(
            "capacity", f"{a.capacity_pieces} pieces", "Give how many pieces fit at once, 1 or more."
        )
    for c in a.capacities:
        if c.pieces < 1 or not 0.003 <= c.piece_m <= 1:
            yield RuleError(
                "capacity by size",
                f"{c.pieces} of {c.piece_m * 100:g} cm",
                "Give 1 or more pieces of 3 mm to 1 m.",
            )


def capacity_for(a: Appliance, piece_m: float | None) -> tuple[int | None, str]:
    """How many pieces of a size fit, and how that is known.

    Between two sizes on record the number goes with the area a piece takes; beyond the largest it does so
    too, and smaller than the smallest no more are promised than were seen. Without a size on record the plain
    capacity stands.

    >>> capacity_for(Appliance("a", "Air fryer", "air_fryer", capacity_pieces=6, capacities=(Capacity(0.05, 9), Capacity(0.10, 2))), 0.07)
    (4, 'between 9 of 5 cm and 2 of 10 cm, by area')
    """  # noqa: E501
    rows = sorted(a.capacities, key=lambda c: c.piece_m)
    if piece_m is None or not rows:
        return a.capacity_pieces, "as on its profile" if a.capacity_pieces else "not known"
    below = [c for c in rows if c.piece_m <= piece_m + 1e-9]
    above = [c for c in rows if c.piece_m >= piece_m - 1e-9]
    if not below:
        return rows[0].pieces, f"as for {rows[0].piece_m * 100:g} cm: smaller ones were not tried"
    if not above:
        last = rows[-1]
        fit = int(last.pieces * (last.piece_m / piece_m) ** 2)
        return max(1, fit), f"from {last.pieces} of {last.piece_m * 100:g} cm, by area"
    low, high = below[-1], above[0]
    if low.piece_m == high.piece_m:
        return low.pieces, f"{low.pieces} of {low.piece_m * 100:g} cm were seen to fit"
    share = (1 / low.piece_m**2 - 1 / piece_m**2) / (1 / low.piece_m**2 - 1 / high.piece_m**2)
    fit = int(low.pieces + share * (high.pieces - low.pieces))
    return (
        fit,
        f"between {low.pieces} of {low.piece_m * 100:g} cm and {high.pieces} of {high.piece_m * 100:g} cm, "
        f"by area",
    )


def dial_reading(a: Appliance, word: str) -> DialWord | None:
    """What a word on the dial gives, or None where the dial has none such."""
    return next((d for d in a.dial if d.word.strip().lower() == word.strip().lower()), None)


# Appliances that are cold when the food goes in: how fast they heat is known only where their output was
# measured.
FROM_COLD = ("slow_cooker",)


def setting_of(a: Appliance, set_point_c: float) -> Setting | None:
    """What a set point was measured to give: by a measured word of the dial, else by the measured offset.

    >>> crock = Appliance("a", "Crock", "slow_cooker", measured_w=150, dial=(DialWord("low", 88, True), DialWord("high", 96)))
    >>> setting_of(crock, 88), setting_of(crock, 96)
    (Setting(celsius=88, words='low', power_w=150), None)
    """  # noqa: E501
    word = next((d for d in a.dial if d.measured and d.celsius == set_point_c), None)
    if a.kind in FROM_COLD:
        known = word is not None and a.measured_w
        return Setting(set_point_c, word.word, a.measured_w) if word and known else None
    if word is not None:
        return Setting(set_point_c, word.word)
    if a.offset_k is None or any(d.celsius == set_point_c for d in a.dial):
        return None
    return Setting(set_point_c + a.offset_k, f"{set_point_c:.0f} °C")


def rounds_needed(pieces: int, capacity: int | None) -> int:
    """How many rounds a number of pieces takes; one where capacity is not known.

    >>> rounds_needed(12, 6), rounds_needed(13, 6), rounds_needed(5, None)
    (2, 3, 1)
    """
    return 1 if capacity is None else max(1, ceil(pieces / capacity))

"""Appliance profiles: three powers kept apart, the offset of the dial, what it holds."""

from dataclasses import dataclass
from math import ceil

from yeasty.core.errors import RuleError, check_range


@dataclass(frozen=True)
class Appliance:
    """What a kitchen knows of one appliance.

    Parameters
    ----------
    input_w : from the mains [W]; rated_w : output by its label [W]; measured_w : output measured [W]
    offset_k : measured minus set, at the middle [K]; None where never measured
    capacity_pieces : pieces that fit at once; None where not known
    spot : where it stands; two watched steps at one spot can be watched by one person
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


def check_appliance(a: Appliance) -> list[RuleError]:
    """What is wrong with a profile. Output above input cannot be."""
    found: list[RuleError] = []
    for field, value in (("input power", a.input_w), ("rated output", a.rated_w), ("measured output", a.measured_w)):
        if value is not None:
            try:
                check_range(field, value, 1, 20000, "W")
            except RuleError as wrong:
                found.append(wrong)
    for field, value in (("rated output", a.rated_w), ("measured output", a.measured_w)):
        if value is not None and a.input_w is not None and value > a.input_w:
            found.append(
                RuleError(field, f"{value:g} W is more than the {a.input_w:g} W it draws", "Check which number is which.")
            )
    if a.offset_k is not None and abs(a.offset_k) > 80:
        found.append(RuleError("offset", f"{a.offset_k:g} K", "Give measured minus set; 80 K is the most that is taken."))
    if a.capacity_pieces is not None and a.capacity_pieces < 1:
        found.append(RuleError("capacity", f"{a.capacity_pieces} pieces", "Give how many pieces fit at once, 1 or more."))
    return found


def rounds_needed(pieces: int, capacity: int | None) -> int:
    """How many rounds a number of pieces takes; one where capacity is not known.

    >>> rounds_needed(12, 6), rounds_needed(13, 6), rounds_needed(5, None)
    (2, 3, 1)
    """
    return 1 if capacity is None else max(1, ceil(pieces / capacity))

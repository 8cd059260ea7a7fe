"""Rules used in the head: time from weight and thickness, oven to fan to air fryer, dose, another pan,
liquid.

Each is a rule of thumb: it returns a value and a range, says where it holds, and the kitchen's own records
correct it (`own_records.py`). Figures marked *typical* come from general practice and were not checked
against a table.
"""

from dataclasses import dataclass
from enum import StrEnum
from math import exp, log, sqrt

from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import Refused, RuleError, check_range


def weight_time(mass_kg: float, *, first_s: float, further_s: float, unit_kg: float = 0.5) -> Ranged:
    """Time for a piece or load by weight: so long for the first unit, so long for each further one [s].

    Parameters
    ----------
    mass_kg : 0.02 to 30 kg; first_s, further_s : for the first unit and each further [s]; unit_kg : 0.05 to 5
        kg

    Notes
    -----
    Below one unit time goes with weight to the power 2/3, as heating-through does. Range: a quarter either
    way, the spread of shape at one weight (typical).

    >>> round(weight_time(1.5, first_s=1200, further_s=900).value)
    3000
    """
    check_range("weight", mass_kg, 0.02, 30, "kg")
    check_range("unit of weight", unit_kg, 0.05, 5, "kg")
    check_range("time", (first_s, further_s), 1, 86400, "s")
    units = mass_kg / unit_kg
    value = first_s * units ** (2 / 3) if units < 1 else first_s + (units - 1) * further_s
    return Ranged(
        value, 0.75 * value, 1.25 * value, "weight rule; shape at one weight differs by a quarter (typical)"
    )


def scaled_time(time_s: float, *, mass_kg: float, new_mass_kg: float) -> Ranged:
    """Time for a piece of the same shape and another weight [s]: weight to the power 2/3.

    Range: power 1/3 (heat held up at the surface) to 2/3 (held up inside), half to twice the weight and
    further.

    Raises
    ------
    Refused : beyond a quarter to four times the weight

    >>> t = scaled_time(1800, mass_kg=0.06, new_mass_kg=0.12)
    >>> round(t.value), round(t.low), round(t.high)
    (2546, 2268, 2857)
    """
    check_range("time", time_s, 1, 864000, "s")
    check_range("weight", (mass_kg, new_mass_kg), 0.0005, 50, "kg")
    ratio = new_mass_kg / mass_kg
    if not 0.25 <= ratio <= 4:
        raise Refused(
            "weight",
            f"{ratio:.2g} times the first",
            "The rule holds from a quarter to four times: measure instead.",
        )
    value, a, b = (time_s * ratio**p for p in (0.5, 1 / 3, 2 / 3))
    return Ranged(
        value,
        min(a, b),
        max(a, b),
        "same shape, size as the cube root of weight; time as size to the power 1 to 2",
    )


def thickness_time(
    time_s: float, *, thickness_m: float, new_thickness_m: float, biot: float | None = None
) -> Ranged:
    """Time for another thickness [s]: to the power 1 (surface decides) to 2 (inside decides).

    Parameters
    ----------
    thickness_m, new_thickness_m : 0.5 mm to 0.5 m
    biot : h × half thickness / conductivity of the first; gives the power (1 + Bi/(1 + Bi)), else 1.5 is
        taken

    >>> t = thickness_time(600, thickness_m=0.02, new_thickness_m=0.03)
    >>> round(t.value), round(t.low), round(t.high)
    (1102, 900, 1350)
    """
    check_range("time", time_s, 1, 864000, "s")
    check_range("thickness", (thickness_m, new_thickness_m), 0.0005, 0.5, "m")
    ratio = new_thickness_m / thickness_m
    if not 0.25 <= ratio <= 4:
        raise Refused(
            "thickness",
            f"{ratio:.2g} times the first",
            "The rule holds from a quarter to four times: measure instead.",
        )
    if biot is not None:
        check_range("Biot number", biot, 1e-4, 1e4, "")
        power, spread = 1 + biot / (1 + biot), 0.15
    else:
        power, spread = 1.5, 0.5
    value, a, b = (time_s * ratio**p for p in (power, max(1.0, power - spread), min(2.0, power + spread)))
    return Ranged(value, min(a, b), max(a, b), "thickness to the power 1 to 2, by what holds the heat up")


# So much hotter than its end are the surroundings of a core at least [K]: nearer, it takes for ever.
_LEAST_ABOVE_K = 8.0
# First coefficient of the series for the middle of a plate, a rod or a ball, from a slow to a fast surface.
_FIRST = (1.0, 2.0)


def core_time(
    time_s: float, *, start_c: float, end_c: float, new_start_c: float, new_end_c: float, around_c: float
) -> Ranged:
    """Time of a core from another start or to another end [s], of the same piece in the same surroundings.

    By the first term of heat led into a plate, a rod or a ball. Wet food feels far less than the air around
    it, so the range is from just above its end to that air.

    Parameters
    ----------
    time_s : as it took; start_c, end_c : from and to where its core went [°C]
    new_start_c, new_end_c : the other way; around_c : of air, oil or steam around it [°C]

    Raises
    ------
    Refused : an end that is not between start and surroundings

    >>> t = core_time(1200, start_c=20, end_c=74, new_start_c=5, new_end_c=74, around_c=180)
    >>> round(t.low), round(t.value), round(t.high)
    (1295, 1350, 1461)
    """
    check_range("time", time_s, 1, 864000, "s")
    for a, b in ((start_c, end_c), (new_start_c, new_end_c)):
        if not a < b <= around_c - _LEAST_ABOVE_K:
            raise Refused(
                "core",
                f"{b:g} °C is not between a start of {a:g} °C and {around_c:g} °C around it",
                "Choose an end well below what is around it: near that the time is anybody's guess.",
            )
    coldest = max(end_c, new_end_c) + _LEAST_ABOVE_K

    def ratio(around: float, first: float) -> float:
        new, old = (
            log(first * (around - a) / (around - b)) for a, b in ((new_start_c, new_end_c), (start_c, end_c))
        )
        return new / old

    found = [ratio(around, first) for around in (coldest, around_c) for first in _FIRST]
    middle = ratio((coldest + around_c) / 2, sqrt(_FIRST[0] * _FIRST[1]))
    return Ranged(
        time_s * middle,
        time_s * min(*found, middle),
        time_s * max(*found, middle),
        "heat led to the middle, of food that feels less than what is around it while it is wet",
    )


class Hot(StrEnum):
    """Ways of baking with hot air."""

    OVEN = "oven"
    FAN_OVEN = "fan_oven"
    AIR_FRYER = "air_fryer"


# Setting lower than a still oven's [K], and time as a share of its: low, value, high. Typical.
_AIR = {
    Hot.OVEN: ((0.0, 0.0, 0.0), (1.0, 1.0, 1.0)),
    Hot.FAN_OVEN: ((10.0, 20.0, 25.0), (0.85, 0.95, 1.0)),
    Hot.AIR_FRYER: ((10.0, 20.0, 30.0), (0.6, 0.75, 0.9)),
}


@dataclass(frozen=True)
class AirSetting:
    """A setting for another way of baking with hot air: temperature [°C] and time [s], each with a range."""

    set_c: Ranged
    time_s: Ranged


def hot_air(set_c: float, time_s: float, *, written_for: Hot, use: Hot) -> AirSetting:
    """Set point and time carried from still oven, fan oven or air fryer to another of them.

    Rules of thumb: fan 20 K lower (10 to 25) at about the same time; air fryer 20 K lower (10 to 30) and
    three quarters of the time (0.6 to 0.9), basket not crowded. All typical; look early.

    Raises
    ------
    OutOfRange : a set point no such appliance has

    >>> s = hot_air(200, 1200, written_for=Hot.OVEN, use=Hot.AIR_FRYER)
    >>> s.set_c.value, s.time_s.value
    (180.0, 900.0)
    """
    check_range("set point", set_c, 60, 300, "°C")
    check_range("time", time_s, 10, 86400, "s")
    if written_for is use:
        return AirSetting(Ranged(set_c, set_c, set_c, "the same"), Ranged(time_s, time_s, time_s, "the same"))
    (lo1, v1, hi1), (tl1, tv1, th1) = _AIR[written_for]
    (lo2, v2, hi2), (tl2, tv2, th2) = _AIR[use]
    words = "rule of thumb for moving air (typical)"
    ratios = sorted(b / a for a in (tl1, th1) for b in (tl2, th2))
    return AirSetting(
        Ranged(set_c + v1 - v2, set_c + lo1 - hi2, set_c + hi1 - lo2, words),
        Ranged(time_s * tv2 / tv1, time_s * ratios[0], time_s * ratios[-1], words),
    )


def dose(mass_kg: float, per_kg: float, *, unsure: float = 0.0) -> Ranged:
    """Amount of something given per kilo (salt, yeast, curing mix) [kg]; `unsure` as a share widens it.

    >>> round(dose(0.75, 0.018).value, 4)
    0.0135
    """
    check_range("weight", mass_kg, 0.0001, 1000, "kg")
    check_range("dose", per_kg, 0, 1, "kg per kg")
    check_range("uncertainty", unsure, 0, 1, "of the dose")
    value = mass_kg * per_kg
    return Ranged(value, value * (1 - unsure), value * (1 + unsure), "dose per kilo")


@dataclass(frozen=True)
class Pan:
    """A pan: round (diameter) or square-cornered (length, width), inner height [m]."""

    height_m: float
    diameter_m: float | None = None
    length_m: float | None = None
    width_m: float | None = None

    def area(self) -> float:
        """Area of the floor [m²].

        >>> round(Pan(0.05, length_m=0.30, width_m=0.20).area(), 3)
        0.06
        """
        if self.diameter_m is not None:
            check_range("diameter", self.diameter_m, 0.02, 1.5, "m")
            return 3.141592653589793 * self.diameter_m**2 / 4
        if self.length_m is None or self.width_m is None:
            raise RuleError(
                "pan", "has neither a diameter nor length and width", "Give the one or the other."
            )
        check_range("length and width", (self.length_m, self.width_m), 0.02, 2, "m")
        return self.length_m * self.width_m


@dataclass(frozen=True)
class PanChange:
    """A batch in another pan: factor for the same depth; depth if the batch stays as it is [m]; time then
    [s].
    """

    same_depth_factor: float
    depth_m: float
    time_s: Ranged
    fits: bool
    sentence: str


def another_pan(pan: Pan, depth_m: float, time_s: float, new: Pan) -> PanChange:
    """What a batch becomes in another pan.

    >>> c = another_pan(Pan(0.06, diameter_m=0.20), 0.03, 1500, Pan(0.06, diameter_m=0.24))
    >>> round(c.same_depth_factor, 2), round(c.depth_m * 1000), round(c.time_s.value)
    (1.44, 21, 868)
    """
    check_range("depth", depth_m, 0.001, 0.3, "m")
    factor = new.area() / pan.area()
    depth = depth_m / factor
    fits = depth <= new.height_m * 0.9
    time = thickness_time(time_s, thickness_m=depth_m, new_thickness_m=depth)
    sentence = (
        f"For the same depth make {factor:.2f} times as much: the time stays. The same batch stands "
        f"{depth * 1000:.0f} mm deep: "
        f"about {time.value / 60:.0f} min."
    )
    if not fits:
        sentence = (
            f"The same batch would stand {depth * 1000:.0f} mm deep and does not fit. "
            + sentence.split(". ")[0]
            + "."
        )
    return PanChange(factor, depth, time, fits, sentence)


def liquid_after(start_kg: float, boiled_off: Ranged, taken_up_kg: float = 0.0) -> Ranged:
    """Liquid left in a pot [kg] after boiling off and after the food has taken some up; never below none.

    >>> liquid_after(1.2, Ranged(0.3, 0.2, 0.4, "")).value
    0.8999999999999999
    """
    check_range("liquid", start_kg, 0, 100, "kg")
    check_range("liquid taken up", taken_up_kg, 0, 100, "kg")
    rest = [max(0.0, start_kg - taken_up_kg - b) for b in (boiled_off.value, boiled_off.high, boiled_off.low)]
    return Ranged(
        rest[0], rest[1], rest[2], f"what was there less what boils off; {boiled_off.source}".rstrip("; ")
    )


def geometric(ranged: Ranged) -> tuple[float, float]:
    """A range as (log value, standard deviation of the logarithm), the range taken as 90 %.

    >>> geometric(Ranged(1.0, 1.0, 1.0, ""))
    (0.0, 0.02)
    """
    return log(ranged.value), max(0.02, log(ranged.high / ranged.low) / (2 * 1.645))


def from_geometric(log_value: float, sd: float, source: str) -> Ranged:
    """The reverse of `geometric`."""
    return Ranged(exp(log_value), exp(log_value - 1.645 * sd), exp(log_value + 1.645 * sd), source)

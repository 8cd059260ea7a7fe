"""Units in and out: what cooks write, turned into SI, and SI written as cooks read it.

Everything behind this module is SI (kg, s, m, W, J; °C where a temperature is meant). `System` is a
person's choice; it decides what a bare number means and how a value is written, never what is stored.
"""

import re
import unicodedata
from collections.abc import Callable, Mapping
from enum import StrEnum
from fractions import Fraction
from functools import cache
from math import isfinite
from typing import Any

from yeasty.core.kernel.errors import BadQuantity, check_range


class System(StrEnum):
    """A person's choice of units."""

    METRIC = "metric"
    US = "us"


_FRACTION = re.compile(
    r"(?P<whole>\d+)\s+(?P<over>\d+)\s*/\s*(?P<under>\d+)|(?P<over2>\d+)\s*/\s*(?P<under2>\d+)"
)
_NUMBER_UNIT = re.compile(
    r"\s*(?P<number>[+-]?\d+(?:[.,]\d+)?|[.,]\d+)\s*(?P<unit>[^\d\s.,+-][^\d,+-]*?)?\s*(?=$|[\d.,+-])"
)
_CLOCK = re.compile(r"^(?:(?P<h>\d{1,3}):)?(?P<m>\d{1,3}):(?P<s>\d{2}(?:\.\d+)?)$")

_UNITS: dict[str, dict[str, str]] = {
    "mass": {
        "g": "gram",
        "gr": "gram",
        "gram": "gram",
        "grams": "gram",
        "kg": "kilogram",
        "kilo": "kilogram",
        "kilos": "kilogram",
        "mg": "milligram",
        "lb": "pound",
        "lbs": "pound",
        "pound": "pound",
        "pounds": "pound",
        "oz": "ounce",
        "ounce": "ounce",
        "ounces": "ounce",
        "t": "metric_ton",
    },
    "volume": {
        "l": "liter",
        "litre": "liter",
        "litres": "liter",
        "liter": "liter",
        "liters": "liter",
        "dl": "deciliter",
        "cl": "centiliter",
        "ml": "milliliter",
        "tsp": "teaspoon",
        "teaspoon": "teaspoon",
        "teaspoons": "teaspoon",
        "tbsp": "tablespoon",
        "tablespoon": "tablespoon",
        "tablespoons": "tablespoon",
        "cup": "cup",
        "cups": "cup",
        "floz": "fluid_ounce",
        "fl oz": "fluid_ounce",
        "pt": "pint",
        "pint": "pint",
        "qt": "quart",
        "gal": "gallon",
    },
    "duration": {
        "s": "second",
        "sec": "second",
        "secs": "second",
        "second": "second",
        "seconds": "second",
        "min": "minute",
        "mins": "minute",
        "minute": "minute",
        "minutes": "minute",
        "m": "minute",
        "h": "hour",
        "hr": "hour",
        "hrs": "hour",
        "hour": "hour",
        "hours": "hour",
        "d": "day",
        "day": "day",
        "days": "day",
    },
    "power": {"w": "watt", "watt": "watt", "watts": "watt", "kw": "kilowatt"},
    "energy": {"j": "joule", "kj": "kilojoule", "mj": "megajoule", "wh": "watt_hour", "kwh": "kilowatt_hour"},
    "pressure": {
        "pa": "pascal",
        "kpa": "kilopascal",
        "mbar": "millibar",
        "bar": "bar",
        "psi": "psi",
        "psig": "psi",
    },
    "length": {
        "m": "meter",
        "cm": "centimeter",
        "mm": "millimeter",
        "in": "inch",
        "inch": "inch",
        "inches": "inch",
        '"': "inch",
        "ft": "foot",
    },
}
_SI = {
    "mass": "kilogram",
    "volume": "meter**3",
    "duration": "second",
    "power": "watt",
    "energy": "joule",
    "length": "meter",
    "pressure": "pascal",
}
_BARE = {
    "mass": {System.METRIC: "gram", System.US: "ounce"},
    "volume": {System.METRIC: "milliliter", System.US: "cup"},
    "duration": {System.METRIC: "minute", System.US: "minute"},
    "power": {System.METRIC: "watt", System.US: "watt"},
    "energy": {System.METRIC: "kilowatt_hour", System.US: "kilowatt_hour"},
    "length": {System.METRIC: "centimeter", System.US: "inch"},
    "pressure": {System.METRIC: "kilopascal", System.US: "psi"},
}
_EXAMPLES = {
    "mass": '"450 g" or "1 lb 4 oz"',
    "volume": '"250 ml" or "½ tsp"',
    "duration": '"12 min", "2:30" or "1 h 10 min"',
    "power": '"700 W"',
    "energy": '"0.4 kWh"',
    "length": '"2.5 cm" or "1 in"',
    "pressure": '"70 kPa", "10 psi", "0.7 bar", or low, medium or high',
}


@cache
def _registry() -> Any:
    import pint

    return pint.UnitRegistry(cache_folder=None)


@cache
def factor(unit: str, si: str) -> float:
    return float(_registry().Quantity(1, unit).to(si).magnitude)


# Nobody writes a quantity longer than this; what is longer is told before it is looked at.
LONGEST = 60


def _short(text: str, field: str) -> str:
    """A text that is no longer than a quantity can be, without the spaces around it.

    >>> _short(" 450 g ", "weight")
    '450 g'
    """
    if len(text) > LONGEST:
        raise BadQuantity(field, f"has {len(text)} characters", "Write a number and its unit.")
    return text.strip()


def _plain_numbers(text: str) -> str:
    """Fractions, written as cooks write them, as decimals: "1 ½" and "1½" and "1 1/2" are 1.5."""
    out = []
    for i, letter in enumerate(text):
        try:
            value = unicodedata.numeric(letter) if unicodedata.category(letter) == "No" else None
        except ValueError:
            value = None
        if value is None:
            out.append(letter)
            continue
        near = Fraction(value).limit_denominator(16)
        fraction = f"{near.numerator}/{near.denominator}"
        before = "".join(out).rstrip()
        out.append(" " + fraction if i and before[-1:].isdigit() else fraction)
    text = "".join(out)

    def decimal(m: re.Match[str]) -> str:
        if m["over2"]:
            top, bottom, whole = m["over2"], m["under2"], "0"
        else:
            top, bottom, whole = m["over"], m["under"], m["whole"]
        if int(bottom) == 0:
            return "nan?"
        return f"{int(whole) + int(top) / int(bottom):.9g}"

    return _FRACTION.sub(decimal, text)


def _parse(kind: str, text: str, field: str, system: System) -> float:
    text = _short(text, field)
    wrong = BadQuantity(field, f'"{text}" is not a {kind}', f"Write it as {_EXAMPLES[kind]}.")
    plain = _plain_numbers(text.lower())
    if not plain:
        raise wrong
    total, at = 0.0, 0
    parts = 0
    while at < len(plain):
        m = _NUMBER_UNIT.match(plain, at)
        if not m or m.end() == at:
            raise wrong
        unit = (m["unit"] or "").strip().rstrip(".").strip()
        unit = unit.removesuffix("and").strip() if unit != "and" else ""
        if unit:
            name = _UNITS[kind].get(unit)
        else:
            name = _BARE[kind][system] if not parts and m.end() == len(plain) else None
        if name is None:
            raise wrong
        parts += 1
        number = float(m["number"].replace(",", "."))
        if number < 0:
            raise BadQuantity(field, f'"{text}" is below zero', "Write a value of zero or more.")
        total += number * factor(name, _SI[kind])
        at = m.end()
    return total


def parse_mass(text: str, field: str = "weight", system: System = System.METRIC) -> float:
    """Mass [kg] from what a cook writes; a bare number is grams (metric) or ounces (US).

    >>> round(parse_mass("1 lb 4 oz"), 4)
    0.567
    >>> parse_mass("450"), parse_mass("1½ kg")
    (0.45, 1.5)
    """
    return _parse("mass", text, field, system)


def parse_volume(text: str, field: str = "volume", system: System = System.METRIC) -> float:
    """Volume [m³]; a bare number is millilitres (metric) or US cups.

    >>> round(parse_volume("½ tsp") * 1e6, 2)
    2.46
    """
    return _parse("volume", text, field, system)


def parse_duration(text: str, field: str = "duration", system: System = System.METRIC) -> float:
    """Duration [s]; "2:30" is minutes and seconds, "1:02:30" hours too, a bare number is minutes.

    >>> parse_duration("2:30"), parse_duration("1 h 10 min"), parse_duration("12")
    (150.0, 4200.0, 720.0)
    """
    text = _short(text, field)
    m = _CLOCK.match(text)
    if m:
        if float(m["s"]) >= 60 or (m["h"] and int(m["m"]) >= 60):
            raise BadQuantity(
                field, f'"{text}" has 60 or more in a place that ends at 59', "Write it as 2:30 or 1:02:30."
            )
        return int(m["h"] or 0) * 3600.0 + int(m["m"]) * 60.0 + float(m["s"])
    return _parse("duration", text, field, system)


def parse_power(text: str, field: str = "power", system: System = System.METRIC) -> float:
    """Power [W].

    >>> parse_power("1.5 kW")
    1500.0
    """
    return _parse("power", text, field, system)


def parse_energy(text: str, field: str = "energy", system: System = System.METRIC) -> float:
    """Energy [J]; a bare number is kWh.

    >>> parse_energy("0.5 kWh")
    1800000.0
    """
    return _parse("energy", text, field, system)


def parse_length(text: str, field: str = "length", system: System = System.METRIC) -> float:
    """Length [m]; a bare number is centimetres (metric) or inches (US).

    >>> round(parse_length("1 in"), 4)
    0.0254
    """
    return _parse("length", text, field, system)


# Words on dials, as gauge pressure [Pa]: low, usual, high. Makers differ: typical, not checked.
DIAL_PA = {"low": (30e3, 45e3, 60e3), "medium": (45e3, 60e3, 70e3), "high": (65e3, 80e3, 105e3)}


def parse_pressure(text: str, field: str = "gauge pressure", system: System = System.METRIC) -> float:
    """Gauge pressure [Pa] of a cooker, up to 300 kPa; a word of a dial is its usual figure, a bare number is
    kPa or psi.

    >>> parse_pressure("0.7 bar"), parse_pressure("high")
    (70000.0, 80000.0)
    """
    word = _short(text, field).lower()
    if word in DIAL_PA:
        return DIAL_PA[word][1]
    pascal = _parse("pressure", text, field, system)
    if pascal > 300e3:
        raise BadQuantity(field, f'"{text}" is more than any cooker holds', "Check the number and its unit.")
    return pascal


_TEMPERATURE = re.compile(
    r"^(?P<number>[+-]?\d+(?:[.,]\d+)?)\s*(?:°|º|deg(?:rees)?)?\s*(?P<unit>c|f|k|celsius|fahrenheit)?$"
)


def parse_temperature(text: str, field: str = "temperature", system: System = System.METRIC) -> float:
    """Temperature [°C]; a bare number is °C (metric) or °F (US).

    >>> parse_temperature("200 °C"), round(parse_temperature("392F"), 1), parse_temperature("212", system=System.US)
    (200.0, 200.0, 100.0)
    """  # noqa: E501
    text = _short(text, field)
    m = _TEMPERATURE.match(text.lower().replace("−", "-"))
    if not m:
        raise BadQuantity(field, f'"{text}" is not a temperature', 'Write it as "180 °C" or "350 °F".')
    number = float(m["number"].replace(",", "."))
    unit = (m["unit"] or ("f" if system is System.US else "c"))[0]
    celsius = {"c": number, "f": (number - 32) / 1.8, "k": number - 273.15}[unit]
    if not -100 <= celsius <= 1200:
        raise BadQuantity(field, f'"{text}" is no temperature of a kitchen', "Check the number and its unit.")
    return celsius


def fahrenheit(celsius: float) -> float:
    """°F of a temperature in °C.

    >>> fahrenheit(100.0)
    212.0
    """
    return celsius * 1.8 + 32


def celsius(fahrenheit: float) -> float:
    """°C of a temperature in °F.

    >>> celsius(212.0)
    100.0
    """
    return (fahrenheit - 32) / 1.8


# What a kitchen can mean, in SI; a number that comes without words is held to it as words are.
SI_RANGES: Mapping[str, tuple[float, float, str]] = {
    "mass": (0, 1000, "kg"),
    "weight": (0, 1000, "kg"),
    "duration": (0, 60 * 86400, "s"),
    "temperature": (-100, 1200, "°C"),
    "power": (0, 100_000, "W"),
    "energy": (0, 1e10, "J"),
    "length": (0, 10, "m"),
}


def check_si(kind: str, value: float, field: str) -> float:
    """A number in SI, if a kitchen can mean it.

    Raises
    ------
    OutOfRange : names the field; also for what is no number

    >>> check_si("temperature", 200.0, "set point")
    200.0
    """
    low, high, unit = SI_RANGES[kind]
    check_range(field, value, low, high, unit)
    return value


PARSERS: Mapping[str, Callable[[str, str, System], float]] = {
    "mass": parse_mass,
    "volume": parse_volume,
    "duration": parse_duration,
    "temperature": parse_temperature,
    "power": parse_power,
    "energy": parse_energy,
    "length": parse_length,
    "pressure": parse_pressure,
}


def read_quantity(kind: str, text: str, field: str, system: System = System.METRIC) -> float:
    """What a cook typed, in SI: a kind of `PARSERS`, "number" or "percent" (a share).

    Raises
    ------
    BadQuantity : names the field

    >>> read_quantity("percent", "12 %", "water"), read_quantity("length", "2 cm", "thickness")
    (0.12, 0.02)
    """
    if not text.strip():
        raise BadQuantity(field, "is empty", "Type a value.")
    if kind in PARSERS:
        return PARSERS[kind](text, field, system)
    if kind not in ("number", "percent"):
        raise BadQuantity(field, f"{kind} is no kind of quantity", "Reload the page and try again.")
    try:
        value = float(text.strip().rstrip("%").strip().replace(",", ".").replace("−", "-"))
    except ValueError:
        raise BadQuantity(field, f"“{text[:40]}” is not a number", "Type a number.") from None
    if not isfinite(value):
        raise BadQuantity(field, "is not a finite number", "Type a number.")
    return value / 100 if kind == "percent" else value

"""Quantities in words, in either system of units."""

from yeasty.core.kernel.quantities import System, factor, fahrenheit


def say_mass(kg: float, system: System = System.METRIC) -> str:
    """Mass in words of the person's system.

    >>> say_mass(0.0605), say_mass(1.25), say_mass(0.567, System.US)
    ('60.5 g', '1.25 kg', '1 lb 4 oz')
    """
    if system is System.US:
        ounces = kg / factor("ounce", "kilogram")
        pounds, rest = divmod(round(ounces, 1), 16)
        if pounds:
            return f"{pounds:g} lb {rest:g} oz" if rest else f"{pounds:g} lb"
        return f"{rest:.2g} oz" if rest < 1 else f"{rest:g} oz"
    if kg >= 1:
        return f"{kg:.3g} kg"
    return f"{kg * 1000:.3g} g"


def say_duration(seconds: float) -> str:
    """Duration as a cook says it.

    >>> say_duration(45), say_duration(720), say_duration(150), say_duration(4200)
    ('45 s', '12 min', '2 min 30 s', '1 h 10 min')
    """
    total = round(seconds)
    if total >= 3600:
        hours, minutes = divmod(round(total / 60), 60)
        return f"{hours} h {minutes} min" if minutes else f"{hours} h"
    minutes, rest = divmod(total, 60)
    if not minutes:
        return f"{rest} s"
    return f"{minutes} min {rest} s" if rest else f"{minutes} min"


def say_temperature(celsius: float, system: System = System.METRIC) -> str:
    """A temperature in the person's units.

    >>> say_temperature(93.0), say_temperature(93.0, System.US)
    ('93 °C', '199 °F')
    """
    return f"{round(fahrenheit(celsius)):g} °F" if system is System.US else f"{celsius:g} °C"


# Cores, boiling water, steam and pressure cookers lie below; settings of ovens and fryers above [°C].
FINE_BELOW_C = 130.0


def say_temperature_both(celsius: float) -> str:
    """A temperature in both units, °F to the nearest 5 as dials have it, to the degree where water and food
    are meant.

    >>> say_temperature_both(200), say_temperature_both(93), say_temperature_both(100)
    ('200 °C (390 °F)', '93 °C (199 °F)', '100 °C (212 °F)')
    """
    f = fahrenheit(celsius)
    f = round(f) if celsius < FINE_BELOW_C else 5 * round(f / 5)
    return f"{celsius:g} °C ({f:g} °F)"


def say_length(metres: float, system: System = System.METRIC) -> str:
    """A length in the person's units.

    >>> say_length(0.025), say_length(0.0254, System.US)
    ('25 mm', '1 in')
    """
    return f"{metres / 0.0254:.3g} in" if system is System.US else f"{metres * 1000:.3g} mm"


def say_mass_both(kg: float) -> str:
    """A mass for readers of either system.

    >>> say_mass_both(0.454), say_mass_both(0.001)
    ('454 g (1 lb)', '1 g')
    """
    other = say_mass(kg, System.US)
    # Less than such a scale shows is no ounce at all.
    return say_mass(kg) if other.startswith("0 ") else f"{say_mass(kg)} ({other})"

"""Steam, boiling and altitude; pressure cookers.

Source: IAPWS-95 saturation (library `chemicals`) and the 1976 standard atmosphere (library `fluids`). Weather
moves the real air pressure by some ±3 kPa, the boiling point by some ±1 K.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.moist_air import boiling_point_at, latent_heat
from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import DIAL_PA

WATER_J_KGK = 4187.0


def atmospheric_pressure(altitude: ArrayLike) -> Floats:
    """Air pressure of the standard atmosphere [Pa] at an altitude of −400 to 6000 m.

    >>> atmospheric_pressure(1600).round(-1).tolist()
    83530.0
    """
    from fluids.atmosphere import ATMOSPHERE_1976

    metres = checked("altitude", altitude, -400, 6000, "m")
    return np.asarray(np.vectorize(lambda z: float(ATMOSPHERE_1976(float(z)).P), otypes=[float])(metres))


def saturation_temperature(gauge_pressure: ArrayLike, altitude: ArrayLike) -> Floats:
    """Temperature of steam without air in it [°C]; arguments broadcast.

    Parameters
    ----------
    gauge_pressure : above the air around [Pa], 0 to 300 kPa
    altitude : [m], −400 to 6000

    >>> saturation_temperature(100000, 0).round(2).tolist()
    120.42
    """
    gauge = checked("gauge pressure", gauge_pressure, 0, 300e3, "Pa")
    absolute = gauge + atmospheric_pressure(altitude)
    return np.asarray(np.vectorize(boiling_point_at, otypes=[float])(absolute))


def boiling_point(altitude: ArrayLike) -> Floats:
    """Boiling point of water [°C] at an altitude [m].

    >>> boiling_point(2000).round(2).tolist()
    93.32
    """
    return saturation_temperature(0.0, altitude)


def dial_pressure(word: str) -> Ranged:
    """Gauge pressure that a word on a dial usually means [Pa], with its range.

    >>> dial_pressure("high").value
    80000.0
    """
    if word not in DIAL_PA:
        raise RuleError(
            "pressure",
            f"“{word}” is no word of a dial",
            "Use low, medium or high, or a pressure in kPa, bar or psi.",
        )
    low, value, high = DIAL_PA[word]
    return Ranged(value, low, high, "typical words of dials; makers differ, so read your manual")


def cooking_time_factor(from_c: float, to_c: float) -> Ranged:
    """Factor on the time when food that softens in steam or water cooks at another temperature.

    A rule of thumb: softening goes ten times faster for every z degrees, z 18 to 30 K (pulses and roots; 24
    taken). Heating through to the middle is not in it. Between 85 and 125 °C.

    >>> f = cooking_time_factor(120, 100)
    >>> round(f.value, 1), round(f.low, 1), round(f.high, 1)
    (6.8, 4.6, 12.9)
    """
    checked("temperature", [from_c, to_c], 85, 125, "°C")
    value, a, b = (10 ** ((from_c - to_c) / z) for z in (24.0, 18.0, 30.0))
    return Ranged(
        value, min(a, b), max(a, b), "first-order softening with z of 18 to 30 K (typical, not for safety)"
    )


def pressure_time(
    time_s: float, gauge_pa: float, altitude_m: float, to_gauge_pa: float, to_altitude_m: float
) -> Ranged:
    """Time at pressure in another cooker or at another altitude [s].

    >>> round(pressure_time(1500, 80e3, 0, 80e3, 1600).value)
    2035
    """
    checked("time", time_s, 1, 86400, "s")
    before = float(saturation_temperature(gauge_pa, altitude_m))
    after = float(saturation_temperature(to_gauge_pa, to_altitude_m))
    return cooking_time_factor(before, after).times(
        time_s, f"{before:.1f} °C becomes {after:.1f} °C in the steam"
    )


@dataclass(frozen=True)
class Load:
    """What is in a pot: food and water [kg], the pot's own heat capacity [J/K], temperature at the start
    [°C].
    """

    food_kg: float
    water_kg: float
    vessel_j_k: float = 900.0
    start_c: float = 20.0

    def heat_capacity(self) -> float:
        """Heat capacity of all together [J/K]; food counted at 3600 J/kgK."""
        checked("mass of food", self.food_kg, 0, 100, "kg")
        checked("mass of water", self.water_kg, 0, 100, "kg")
        checked("heat capacity of the pot", self.vessel_j_k, 0, 1e5, "J/K")
        return self.food_kg * 3600 + self.water_kg * WATER_J_KGK + self.vessel_j_k


def come_up_time(load: Load, heater_w: float, gauge_pa: float, altitude_m: float = 0.0) -> Ranged:
    """Time until a closed pot is at pressure [s].

    Heater power less losses; 60 to 90 % of it reaches the pot (an element inside: the upper end; gas on
    the hob: below the range). Only the outer part of dense food warms meanwhile: from half of its heat to
    all.

    >>> t = come_up_time(Load(0.4, 1.2), 1000, 80e3)
    >>> round(t.value / 60), round(t.low / 60), round(t.high / 60)
    (15, 12, 20)
    """
    checked("heater power", heater_w, 50, 20000, "W")
    rise = float(saturation_temperature(gauge_pa, altitude_m)) - load.start_c
    if rise <= 0:
        raise RuleError("start temperature", "is above the steam's", "Check the temperature and its unit.")
    whole = load.heat_capacity()
    part = whole - load.food_kg * 3600 / 2
    return Ranged(
        (whole + part) / 2 * rise / (0.75 * heater_w),
        part * rise / (0.9 * heater_w),
        whole * rise / (0.6 * heater_w),
        "energy balance; 60 to 90 % of the heater's power reaches the pot",
    )


def release_time(load: Load, gauge_pa: float, altitude_m: float = 0.0, room_c: float = 22.0) -> Ranged:
    """Time of a natural release, from pressure to boiling without pressure [s].

    The pot cools as a lump; losses of 2 to 5 W/K (3 taken) for pots of 4 to 8 litres that stand still.

    >>> t = release_time(Load(0.4, 1.2), 80e3)
    >>> round(t.value / 60), round(t.low / 60), round(t.high / 60)
    (8, 5, 12)
    """
    hot = float(saturation_temperature(gauge_pa, altitude_m))
    calm = float(boiling_point(altitude_m)) + 0.5
    if hot <= calm:
        raise RuleError("gauge pressure", "is too low for a release", "Give the pressure it cooked at.")
    span = float(np.log((hot - room_c) / (calm - room_c))) * load.heat_capacity()
    return Ranged(
        span / 3, span / 5, span / 2, "cooling as a lump, 2 to 5 W/K lost by a pot that stands still"
    )


def boiled_off(heater_w: float, time_s: float, altitude_m: float = 0.0, covered: bool = False) -> Ranged:
    """Water that boils off [kg] with the heater on full once it boils; a lid keeps most of it.

    >>> round(boiled_off(1000, 600).value, 2)
    0.17
    """
    checked("heater power", heater_w, 10, 20000, "W")
    checked("time", time_s, 1, 864000, "s")
    each = heater_w * time_s / float(latent_heat(float(boiling_point(altitude_m))))
    low, value, high = (0.05, 0.15, 0.4) if covered else (0.45, 0.65, 0.85)
    return Ranged(
        each * value,
        each * low,
        each * high,
        "heat left over goes into vapour; 45 to 85 % without a lid (typical)",
    )

"""Moist air beside a wet surface: vapour pressure, latent heat, wet-bulb temperature and evaporation.

Saturation from the IAPWS-95 formulation (library `chemicals`), tabulated once; latent heat from it by
Clapeyron. Evaporation by the Chilton–Colburn analogy between heat and mass transfer, with the flow of
vapour away from the surface counted (Stefan), so that a wet surface never passes the boiling point.
"""

from collections.abc import Sequence
from functools import cache
from math import exp, log

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked

ATMOSPHERE_PA = 101325.0
# Molar masses of water and air [kg/mol], heat capacity of air [J/kgK], Lewis number of water vapour in air:
# usual engineering values near 60 °C, good to some 3 %.
WATER_OVER_AIR = 0.018015 / 0.028965
AIR_HEAT_CAPACITY = 1008.0
LEWIS_TWO_THIRDS = 0.87 ** (2 / 3)


@cache
def _saturation() -> tuple[Floats, Floats, Floats]:
    from chemicals.iapws import iapws95_dPsat_dT, iapws95_Psat, iapws95_saturation

    celsius = np.linspace(0.01, 250, 501)
    pressures, heats = [], []
    for t in celsius + 273.15:
        rise, pressure = iapws95_dPsat_dT(float(t))
        _, liquid, vapour = iapws95_saturation(float(t))
        pressures.append(iapws95_Psat(float(t)))
        heats.append(t * (1 / vapour - 1 / liquid) * rise)
        del pressure
    return celsius, np.log(np.array(pressures)), np.array(heats)


def vapour_pressure(celsius: ArrayLike) -> Floats:
    """Saturation pressure of water [Pa] at 0.01 to 250 °C.

    >>> vapour_pressure(100).round(-1).tolist()
    101420.0
    """
    grid, logs, _ = _saturation()
    return np.asarray(np.exp(np.interp(checked("temperature", celsius, 0.01, 250, "°C"), grid, logs)))


@cache
def _lists() -> tuple[float, float, list[float], list[float]]:
    """First moment and step of the table, and its columns, as they are quickest to read one by one."""
    celsius, logs, heats = _saturation()
    return float(celsius[0]), float(celsius[1] - celsius[0]), logs.tolist(), heats.tolist()


def _between(column: Sequence[float], first: float, step: float, at: float) -> float:
    place = min(max((at - first) / step, 0.0), len(column) - 1.0)
    below = min(int(place), len(column) - 2)
    return column[below] + (place - below) * (column[below + 1] - column[below])


def one_vapour_pressure(celsius: float) -> float:
    """As `vapour_pressure` for one number, unchecked: what lies outside counts as the nearer end.

    >>> round(one_vapour_pressure(100), -1)
    101420.0
    """
    first, step, logs, _ = _lists()
    return exp(_between(logs, first, step, celsius))


def one_latent_heat(celsius: float) -> float:
    """As `latent_heat` for one number, unchecked."""
    first, step, _, heats = _lists()
    return _between(heats, first, step, celsius)


def one_evaporation(
    surface_c: float, air_vapour_pa: float, h: float, pressure_pa: float = ATMOSPHERE_PA
) -> float:
    """As `evaporation` for one surface, unchecked: a wet surface is balanced thousands of times in one
    cooking.

    >>> round(one_evaporation(60, 1000, 20) * 3600, 2)
    10.2
    """
    most = pressure_pa * (1 - 1e-9)
    driving = log(
        (pressure_pa - min(air_vapour_pa, most)) / (pressure_pa - min(one_vapour_pressure(surface_c), most))
    )
    return h / AIR_HEAT_CAPACITY * WATER_OVER_AIR / LEWIS_TWO_THIRDS * driving


def boiling_point_at(pressure_pa: float) -> float:
    """Boiling point of water [°C] at an absolute pressure of 30 to 600 kPa [Pa].

    >>> round(boiling_point_at(101325), 2)
    99.97
    """
    from chemicals.iapws import iapws95_Tsat

    return float(iapws95_Tsat(float(checked("pressure", pressure_pa, 3e4, 6e5, "Pa")))) - 273.15


def latent_heat(celsius: ArrayLike) -> Floats:
    """Heat of evaporation of water [J/kg] at 0.01 to 250 °C.

    >>> (latent_heat(100) / 1e6).round(3).tolist()
    2.256
    """
    grid, _, heats = _saturation()
    return np.asarray(np.interp(checked("temperature", celsius, 0.01, 250, "°C"), grid, heats))


def evaporation(
    surface_c: ArrayLike, air_vapour_pa: ArrayLike, h: ArrayLike, pressure_pa: float = ATMOSPHERE_PA
) -> Floats:
    """Water leaving a wet surface [kg/m²s]; negative where it condenses.

    Parameters
    ----------
    surface_c : [°C], 0.01 to just below boiling at `pressure_pa`
    air_vapour_pa : partial pressure of vapour in the air around [Pa]
    h : convective surface coefficient [W/m²K]

    >>> float((evaporation(60, 1000, 20) * 3600).round(2))
    10.2
    """
    at_surface = np.minimum(vapour_pressure(surface_c), pressure_pa * (1 - 1e-9))
    driving = np.log(
        (pressure_pa - np.minimum(air_vapour_pa, pressure_pa * (1 - 1e-9))) / (pressure_pa - at_surface)
    )
    return np.asarray(np.asarray(h) / AIR_HEAT_CAPACITY * WATER_OVER_AIR / LEWIS_TWO_THIRDS * driving)


def wet_bulb(air_c: float, air_vapour_pa: float, pressure_pa: float = ATMOSPHERE_PA) -> float:
    """Temperature that a wet surface without heat from inside settles at [°C].

    Parameters
    ----------
    air_c : 1 to 350; air_vapour_pa : partial pressure of vapour [Pa]

    Notes
    -----
    Convection only: radiation in an oven puts the real surface some kelvin higher.

    >>> round(wet_bulb(180, 2000), 1)
    45.6
    """
    from scipy.optimize import brentq

    checked("air temperature", air_c, 1, 350, "°C")
    checked("vapour pressure", air_vapour_pa, 0, pressure_pa, "Pa")

    def gain(surface: float) -> float:
        leaving = one_evaporation(surface, air_vapour_pa, 1.0, pressure_pa)
        return air_c - surface - leaving * one_latent_heat(surface)

    high = min(air_c, boiling_point_at(pressure_pa) - 1e-3)
    return high if gain(high) > 0 else float(brentq(gain, 0.02, high))

"""Deep frying: how far the fat falls when food goes in, how it comes back, how much fits, what is taken up.

Energy balance of the fat with its heater. The food is a body with a surface: heat comes to the surface from
the fat (coefficient h) and goes on into the body (about 5 k/r for a compact piece); what the surface gets
beyond that at 100 °C boils water off. Heat capacity of fat 2000 to 2500 J/kgK at frying temperature (typical,
2200 taken).
"""

from dataclasses import dataclass

import numpy as np

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import Refused, RuleError

FAT_J_KGK = 2200.0
BOILING_C = 100.0
VAPOUR_J_KG = 2.257e6


@dataclass(frozen=True)
class Fryer:
    """A fryer or pot.

    Attributes
    ----------
    fat_kg, heater_w, set_c : fat [kg], heater into the fat [W], thermostat [°C]
    swing_k : how far the fat falls before the thermostat switches on [K]
    loss_w_k, room_c : loss to the room [W/K, °C]
    """

    fat_kg: float
    heater_w: float
    set_c: float
    swing_k: float = 4.0
    loss_w_k: float = 1.5
    room_c: float = 22.0


@dataclass(frozen=True)
class FryLoad:
    """What goes in: mass [kg], temperature [°C], water that may boil off as a share of mass, surface for each
    kg [m²/kg].
    """

    mass_kg: float
    start_c: float = 20.0
    water_share: float = 0.15
    area_m2_kg: float = 0.12
    h: float = 300.0
    heat_capacity_j_kgk: float = 3000.0
    conductivity: float = 0.45
    density: float = 900.0


@dataclass(frozen=True)
class FatCurve:
    """Fat temperature after loading: times [s], fat [°C]; lowest, when, and when it is back at the
    thermostat's lower point."""

    times_s: Floats
    fat_c: Floats
    lowest_c: float
    lowest_at_s: float
    back_at_s: float | None


def _check(fryer: Fryer, load: FryLoad) -> None:
    checked("mass of fat", fryer.fat_kg, 0.1, 50, "kg")
    checked("heater power", fryer.heater_w, 100, 30000, "W")
    checked("set point", fryer.set_c, 120, 210, "°C")
    checked("mass of food", load.mass_kg, 0.005, 20, "kg")
    checked("start temperature", load.start_c, -2, 100, "°C")
    checked("share of water that boils off", load.water_share, 0, 0.9, "of mass")
    checked("surface", load.area_m2_kg, 0.005, 2, "m²/kg")


def fat_after_loading(fryer: Fryer, load: FryLoad, length_s: float = 900.0) -> FatCurve:
    """Fat temperature after food goes in, the thermostat having just switched off.

    Notes
    -----
    A well stirred bath: bubbles see to that. Not for frozen food, which takes more heat and boils over
    (refused).

    >>> c = fat_after_loading(Fryer(2.6, 1700, 175), FryLoad(0.36, 24.0))
    >>> 160 < c.lowest_c < 172
    True
    """
    _check(fryer, load)
    if load.start_c < 0:
        raise Refused(
            "start temperature",
            "is below freezing: thawing takes heat this does not count",
            "Thaw the food and dry it: ice in hot fat boils over.",
        )
    checked("time", length_s, 10, 7200, "s")
    step_s = 1.0
    times = np.arange(0.0, length_s + step_s, step_s)
    fat = np.empty_like(times)
    area = load.area_m2_kg * load.mass_kg
    inner = 5 * load.conductivity * load.density * load.area_m2_kg / 3  # 5 k / r, r = 3 V / A
    t, body, water, heating = fryer.set_c, load.start_c, load.water_share * load.mass_kg, False
    for n in range(len(times)):
        fat[n] = t
        surface = (load.h * t + inner * body) / (load.h + inner)
        if surface > BOILING_C and water > 0:
            surface = BOILING_C
            water -= (load.h * (t - surface) - inner * (surface - body)) * area * step_s / VAPOUR_J_KG
        flow = load.h * area * (t - surface)
        body += inner * area * (surface - body) * step_s / (load.mass_kg * load.heat_capacity_j_kgk)
        heating = t < fryer.set_c if heating else t < fryer.set_c - fryer.swing_k
        loss = fryer.loss_w_k * (t - fryer.room_c)
        t += ((fryer.heater_w if heating else 0.0) - flow - loss) * step_s / (fryer.fat_kg * FAT_J_KGK)
    at = int(fat.argmin())
    back = np.flatnonzero((fat >= fryer.set_c - fryer.swing_k) & (np.arange(len(fat)) > at))
    return FatCurve(
        times, fat, float(fat[at]), float(times[at]), float(times[back[0]]) if back.size else None
    )


def largest_load(fryer: Fryer, load: FryLoad, lowest_c: float) -> Ranged:
    """Largest load [kg] that keeps the fat above a limit; range from coefficient 200 to 450 W/m²K.

    Raises
    ------
    Refused : even 20 g is too much, or the limit is not below the thermostat

    >>> r = largest_load(Fryer(2.6, 1700, 175), FryLoad(0.1, 24.0), 160)
    >>> r.low < r.value < r.high
    True
    """
    from dataclasses import replace

    from scipy.optimize import brentq

    _check(fryer, load)
    checked("lowest fat temperature", lowest_c, 100, 210, "°C")
    if lowest_c >= fryer.set_c:
        raise RuleError(
            "lowest fat temperature",
            "is not below the set point",
            "Choose a lower limit or a hotter thermostat.",
        )

    def most(h: float) -> float:
        def over(mass: float) -> float:
            return fat_after_loading(fryer, replace(load, mass_kg=mass, h=h)).lowest_c - lowest_c

        if over(0.02) < 0:
            raise Refused(
                "lowest fat temperature",
                f"{lowest_c:g} °C is passed by 20 g of food",
                "More fat, more power, or a lower limit.",
            )
        return 20.0 if over(20.0) > 0 else float(brentq(over, 0.02, 20.0, xtol=1e-3))

    value, a, b = most(load.h), most(450.0), most(200.0)
    return Ranged(
        value,
        min(value, a, b),
        max(value, a, b),
        "energy balance; surface coefficient of 200 to 450 W/m²K (typical)",
    )


@dataclass(frozen=True)
class Headroom:
    """Fill of a vessel: share filled by fat, by fat and food, and by fat, food and foam; whether each limit
    is kept.
    """

    fat_share: float
    with_food_share: float
    with_foam_share: float
    within_limit: bool
    sentence: str


def headroom(
    vessel_m3: float,
    fat_m3: float,
    food_kg: float,
    *,
    limit_share: float,
    food_density: float = 1000.0,
    foam: float = 0.35,
) -> Headroom:
    """Whether fat, food and foam stay inside the vessel.

    Parameters
    ----------
    vessel_m3, fat_m3 : volume to the rim, of the fat [m³]
    food_kg : what is lowered in [kg]; its volume pushes the fat up
    limit_share : most of the vessel that fat may fill: from the table of limits, or the fryer's own line
    foam : rise of the fat while water boils out, as a share of its volume: 0.2 to 0.5 (typical)

    >>> headroom(0.006, 0.0018, 0.3, limit_share=0.33).within_limit
    True
    >>> headroom(0.006, 0.0035, 0.3, limit_share=0.33).within_limit
    False
    """
    checked("volume of the vessel", vessel_m3, 0.0002, 0.1, "m³")
    checked("volume of the fat", fat_m3, 0.00005, 0.1, "m³")
    checked("mass of food", food_kg, 0, 20, "kg")
    checked("limit", limit_share, 0.05, 0.95, "of the vessel")
    fat = fat_m3 / vessel_m3
    food = fat + food_kg / food_density / vessel_m3
    foamed = food + foam * fat
    within = fat <= limit_share and foamed <= 0.95
    if fat > limit_share:
        sentence = (
            f"Too full: {fat:.0%} of the vessel is fat, at most {limit_share:.0%}. Take some out "
            f"before it is hot."
        )
    elif foamed > 0.95:
        sentence = f"It may foam over: {foamed:.0%} of the vessel with food and foam. Fry fewer at a time."
    else:
        sentence = f"{fat:.0%} of the vessel is fat; up to {foamed:.0%} with food and foam."
    return Headroom(fat, food, foamed, within, sentence)


def oil_taken_up(
    before_kg: float, after_kg: float, *, dripped_kg: float = 0.0, weighing_kg: float = 0.002
) -> Ranged:
    """Oil taken up by the food [kg]: what the fryer lost, less what dripped and was weighed.

    Range: two weighings, each good to `weighing_kg`. What splashed or smoked off is counted as taken up.

    >>> r = oil_taken_up(2.650, 2.608, dripped_kg=0.006)
    >>> round(r.value, 3), round(r.low, 3), round(r.high, 3)
    (0.036, 0.031, 0.041)
    """
    checked("weight of oil", [before_kg, after_kg], 0.01, 60, "kg")
    checked("weight of drippings", dripped_kg, 0, 10, "kg")
    taken = before_kg - after_kg - dripped_kg
    if taken < -2 * weighing_kg:
        raise RuleError(
            "weight of oil after", "is more than before", "Check the two weighings and the drippings."
        )
    half = weighing_kg * 2**0.5 * 1.645
    return Ranged(max(0.0, taken), max(0.0, taken - half), max(0.0, taken) + half, "mass balance of the oil")

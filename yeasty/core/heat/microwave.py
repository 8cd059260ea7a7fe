"""Microwave: what a power really is, time at another power or load, when to look, how long to stand.

Output into the load, rated output and input from the mains are three numbers; none stands in for another
here.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from yeasty.core.heat.arrays import checked
from yeasty.core.heat.conversions import microwave_time
from yeasty.core.heat.ranged import Ranged
from yeasty.core.heat.steam import WATER_J_KGK
from yeasty.core.kernel.errors import Refused, RuleError

# Specific heat of vessels [J/kgK]: usual engineering values, good to some 10 %.
VESSEL_J_KGK = {"glass": 830.0, "ceramic": 900.0, "plastic": 1700.0}
# Two-sided 90 % points of Student's t for the runs of one water test (1 to 9 degrees of freedom), from scipy.
LEAST_RUNS = 1
READING_SD_K = 0.3
START_UNSURE = 0.03


@dataclass(frozen=True)
class WaterRun:
    """One run: water and vessel [kg], vessel material, temperatures before and after stirring [°C], time [s].

    `vessel_warmed` says whether the vessel stayed in touch with the water long enough to warm with it.
    """

    water_kg: float
    start_c: float
    end_c: float
    time_s: float
    vessel_kg: float = 0.0
    vessel: str = "glass"
    room_c: float = 20.0


@dataclass(frozen=True)
class RealPower:
    """Output into the load [W] with its 90 % range; each run's own result; what to mind."""

    power: Ranged
    runs_w: tuple[float, ...]
    notes: tuple[str, ...]


def run_power(run: WaterRun) -> float:
    """Output by one run of the water test [W].

    The vessel is counted as warming with the water from the same start, where its mass is given.

    Raises
    ------
    OutOfRange, RuleError : values no such test has; a water that boiled, where heat goes into vapour

    >>> round(run_power(WaterRun(1.0, 20.0, 30.0, 60.0)))
    698
    """
    checked("mass of water", run.water_kg, 0.1, 5, "kg")
    checked("time", run.time_s, 5, 1800, "s")
    checked("mass of the vessel", run.vessel_kg, 0, 5, "kg")
    checked("temperature before", run.start_c, 0.5, 60, "°C")
    checked("temperature after", run.end_c, 0.5, 100, "°C")
    if run.vessel not in VESSEL_J_KGK:
        raise RuleError(
            "vessel", f"{run.vessel} is not known", "Use one of: " + ", ".join(VESSEL_J_KGK) + "."
        )
    if run.end_c - run.start_c < 2:
        raise RuleError(
            "temperature after",
            "is less than 2 K above that before",
            "Heat longer: small rises are mostly error.",
        )
    if run.end_c > 80:
        raise Refused(
            "temperature after",
            f"{run.end_c:g} °C: much has gone into vapour",
            "Heat for a shorter time, to 60 °C at most.",
        )
    heat = (run.water_kg * WATER_J_KGK + run.vessel_kg * VESSEL_J_KGK[run.vessel]) * (run.end_c - run.start_c)
    return heat / run.time_s


def real_power(runs: Sequence[WaterRun]) -> RealPower:
    """Real output from one to ten runs of the water test.

    Range: from the spread of the runs by Student's t, never narrower than what reading (0.3 K a thermometer)
    and starting (3 % of the time, the tube warms up) leave open.

    >>> r = real_power([WaterRun(1, 20, 30, 60), WaterRun(1, 20, 30.4, 60), WaterRun(1, 20, 29.8, 60)])
    >>> round(r.power.value), r.power.low < 690 < r.power.high
    (702, True)
    """
    from scipy.stats import t

    if not LEAST_RUNS <= len(runs) <= 10:
        raise RuleError("runs", f"{len(runs)}", "Give one to ten runs of the water test.")
    each = [run_power(r) for r in runs]
    mean = float(np.mean(each))
    rise = float(np.mean([r.end_c - r.start_c for r in runs]))
    instrument = 1.645 * sqrt((sqrt(2) * READING_SD_K / rise) ** 2 / len(runs) + START_UNSURE**2) * mean
    spread = 0.0
    if len(runs) > 1:
        spread = float(t.ppf(0.95, len(runs) - 1)) * float(np.std(each, ddof=1)) / sqrt(len(runs))
    half = max(instrument, spread)
    notes = []
    if len(runs) < 3:
        notes.append("One or two runs: let it cool and do three.")
    if rise < 8:
        notes.append(f"The water rose by {rise:.0f} K: heat longer, a rise of 10 K or more is read better.")
    if any(abs(r.start_c - r.room_c) > 10 for r in runs):
        notes.append(
            "Water far from room temperature: vessel and air take or give heat. Start nearer to the room's."
        )
    if len(runs) > 2 and max(each) - min(each) > 0.15 * mean:
        notes.append("The runs differ by more than 15 %: a tube that was warm gives less. Wait between runs.")
    return RealPower(
        Ranged(mean, mean - half, mean + half, f"water test, {len(runs)} run{'' if len(runs) == 1 else 's'}"),
        tuple(each),
        tuple(notes),
    )


def time_for_load(time_s: float, *, load_kg: float, new_load_kg: float) -> Ranged:
    """Time for another load at the same power [s].

    A rule of thumb: time goes with the load to the power 0.7 to 1 (0.85 taken). Energy alone would say 1;
    small loads take up the field less well, so doubling needs less than twice. Between a quarter and four
    times the load.

    >>> t = time_for_load(240, load_kg=0.3, new_load_kg=0.6)
    >>> round(t.value), round(t.low), round(t.high)
    (433, 390, 480)
    """
    checked("time", time_s, 5, 7200, "s")
    checked("load", [load_kg, new_load_kg], 0.02, 10, "kg")
    ratio = new_load_kg / load_kg
    if not 0.25 <= ratio <= 4:
        raise Refused(
            "load",
            f"{ratio:.1f} times the first",
            "The rule holds from a quarter to four times: measure it instead.",
        )
    value, a, b = (time_s * ratio**p for p in (0.85, 0.7, 1.0))
    return Ranged(value, min(a, b), max(a, b), "rule of thumb: load to the power 0.7 to 1 (typical)")


def check_times(first_guess: Ranged) -> tuple[float, ...]:
    """When to look [s, rising]: at the early end of a guess, then in steps of an eighth of it until past the
    late end.

    >>> check_times(Ranged(240, 200, 280, ""))
    (200, 225.0, 250.0, 275.0, 300.0)
    """
    checked("time", [first_guess.low, first_guess.high], 1, 86400, "s")
    step = max(10.0, first_guess.low / 8)
    times = [first_guess.low]
    while times[-1] < first_guess.high and len(times) < 40:
        times.append(times[-1] + step)
    return tuple(times)


def standing_time(load_kg: float, half_thickness_m: float, diffusivity: float = 1.4e-7) -> Ranged:
    """How long to let stand, covered, until hot and cold places have evened out [s].

    A tenth to a fourth of half thickness² / diffusivity: the longest-lived unevenness falls to a third in a
    tenth of it in a slab. At least a minute, since steam under the cover has to settle.

    >>> round(standing_time(0.4, 0.02).value / 60, 1)
    7.1
    """
    checked("load", load_kg, 0.02, 10, "kg")
    half = float(checked("half thickness", half_thickness_m, 0.002, 0.1, "m"))
    unit = half**2 / float(checked("diffusivity", diffusivity, 1e-8, 1e-6, "m²/s"))
    low, value, high = (max(60.0, unit * f) for f in (0.10, 0.15, 0.25))
    return Ranged(
        value, low, high, "conduction: unevenness left after a share of half thickness² / diffusivity"
    )


def share_of_input(output_w: float, input_w: float) -> float:
    """Share of what is drawn from the mains that reaches the load [-].

    Raises
    ------
    RuleError : output above input cannot be

    >>> share_of_input(700, 1250)
    0.56
    """
    checked("power", [output_w, input_w], 50, 5000, "W")
    if output_w > input_w:
        raise RuleError(
            "output", f"{output_w:g} W is more than the {input_w:g} W from the mains", "Check which is which."
        )
    return output_w / input_w


def time_at_power(time_s: float, written: Ranged, real: Ranged) -> Ranged:
    """Time that gives the same energy where both powers are known with a range [s].

    >>> t = time_at_power(150, Ranged(1000, 1000, 1000, ""), Ranged(700, 665, 735, ""))
    >>> round(t.value), round(t.low), round(t.high)
    (214, 204, 226)
    """
    value = microwave_time(time_s, rated_w=written.value, actual_w=real.value)
    return Ranged(
        value,
        time_s * written.low / real.high,
        time_s * written.high / real.low,
        f"the same energy; {real.source}".rstrip("; "),
    )

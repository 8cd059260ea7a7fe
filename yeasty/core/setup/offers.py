"""Conversions offered at the step where they are needed: this kitchen's appliance against what is written."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.heat.microwave import time_at_power
from yeasty.core.heat.preheat import OffsetCurve, Preheat
from yeasty.core.heat.ranged import Ranged
from yeasty.core.heat.steam import pressure_time
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Phase, Step
from yeasty.core.setup.appliances import Appliance
from yeasty.core.workbench.own_records import Record, correct

# Differences smaller than these are left alone: no kitchen measures better.
LEAST_SHARE = 0.02
LEAST_K = 3.0
LEAST_ALTITUDE_M = 300.0
PRESSURE_USUAL_PA = 80e3


@dataclass(frozen=True)
class Measured:
    """What was measured of an appliance: numbers as its profile keeps them, by kind of measurement."""

    power: Mapping[str, float] | None = None
    offset: Mapping[str, float] | None = None
    preheat: Mapping[str, float] | None = None


@dataclass(frozen=True)
class Offer:
    """A step worked out again for this kitchen.

    Attributes
    ----------
    field : "duration_s" or "set_point_c"; written, offered : in SI, with the range of what is offered
    also : other fields of the step that change with it, so that it is not offered again
    rule, source : which rule, and what it rests on; records : how many of the kitchen's own corrected it
    """

    step_key: str
    field: str
    written: float
    offered: Ranged
    also: Mapping[str, float]
    rule: str
    source: str
    records: int


def offers(
    step: Step,
    appliance: Appliance,
    measured: Measured,
    altitude_m: float,
    records: Mapping[str, Sequence[Record]],
) -> list[Offer]:
    """What to offer for a step on an appliance; nothing where it fits already.

    Microwave: time for its measured or rated output. Ovens and the like: the setting that gives what is
    written in the middle. Preheat: the time that this appliance takes. Pressure cooker: time at this
    altitude.

    >>> from yeasty.core.kernel.steps import Attention
    >>> step = Step("m", "Microwave", Attention.FREE, Phase.COOK, 210, power_w=800)
    >>> found = offers(step, Appliance("a", "Microwave", "microwave", 1250, 800, 700), Measured(), 0.0, {})[0]
    >>> found.field, round(found.offered.value)
    ('duration_s', 240)
    """
    found = [
        _microwave(step, appliance, measured, records),
        _setting(step, appliance, measured),
        _preheat(step, measured, records),
        _altitude(step, appliance, altitude_m, records),
    ]
    return [f for f in found if f is not None]


def _microwave(
    step: Step, appliance: Appliance, measured: Measured, records: Mapping[str, Sequence[Record]]
) -> Offer | None:
    real = appliance.measured_w or appliance.rated_w
    if (
        appliance.kind != "microwave"
        or step.power_w is None
        or real is None
        or abs(step.power_w - real) / real < LEAST_SHARE
    ):
        return None
    source, low, high = "its label, not measured", 0.9 * real, 1.1 * real
    if appliance.measured_w:
        source = "measured"
        if measured.power:
            low, high, source = measured.power["low_w"], measured.power["high_w"], "its water test"
    ranged = time_at_power(
        step.duration_s, Ranged(step.power_w, step.power_w, step.power_w, ""), Ranged(real, low, high, "")
    )
    fixed = correct(ranged, records.get("microwave power", ()))
    words = (
        f"{step.duration_s:g} s × {step.power_w:g} W ÷ {real:g} W ({source}): the same energy. "
        f"{fixed.sentence}"
    )
    return Offer(
        step.key,
        "duration_s",
        step.duration_s,
        fixed.value,
        {"power_w": real},
        "microwave power",
        words,
        fixed.records,
    )


def _setting(step: Step, appliance: Appliance, measured: Measured) -> Offer | None:
    if (
        step.set_point_c is None
        or step.phase not in (Phase.COOK, Phase.COME_UP)
        or appliance.kind in ("microwave", "pressure_cooker")
    ):
        return None
    wanted = step.dial_for_c if step.dial_for_c is not None else step.set_point_c
    if measured.offset:
        o = measured.offset
        curve = OffsetCurve(o["intercept_c"], o["slope"], o["low_c"], o["high_c"], 2, None)
        value, words = curve.setting(wanted), "from its offset points"
    elif appliance.offset_k is not None:
        value, words = wanted - appliance.offset_k, f"it runs {appliance.offset_k:+g} K at the middle"
    else:
        return None
    value = float(round(value))
    if abs(value - step.set_point_c) < LEAST_K:
        return None
    return Offer(
        step.key,
        "set_point_c",
        step.set_point_c,
        Ranged(value, value - 3, value + 3, words),
        {"dial_for_c": wanted},
        "offset of the dial",
        f"To have {wanted:g} °C in the middle: {words}.",
        0,
    )


def _preheat(step: Step, measured: Measured, records: Mapping[str, Sequence[Record]]) -> Offer | None:
    if step.phase is not Phase.COME_UP or step.set_point_c is None or not measured.preheat:
        return None
    p = measured.preheat
    lag = Preheat(
        p["start_c"], p["full_c"], p["tau_s"], p["dead_s"], 0.0, (0.9 * p["tau_s"], 1.1 * p["tau_s"])
    )
    try:
        fixed = correct(lag.time_to(step.set_point_c), records.get("preheat", ()))
    except RuleError:
        return None
    value = 15.0 * round(fixed.value.value / 15)
    if abs(value - step.duration_s) < max(60.0, LEAST_SHARE * step.duration_s):
        return None
    offered = Ranged(value, fixed.value.low, fixed.value.high, fixed.value.source)
    return Offer(
        step.key,
        "duration_s",
        step.duration_s,
        offered,
        {},
        "preheat",
        f"Its own preheat, fitted. {fixed.sentence}",
        fixed.records,
    )


def _altitude(
    step: Step, appliance: Appliance, altitude_m: float, records: Mapping[str, Sequence[Record]]
) -> Offer | None:
    written_for = step.for_altitude_m or 0.0
    if (
        appliance.kind != "pressure_cooker"
        or step.phase is not Phase.COOK
        or abs(altitude_m - written_for) < LEAST_ALTITUDE_M
    ):
        return None
    rule = pressure_time(step.duration_s, PRESSURE_USUAL_PA, written_for, PRESSURE_USUAL_PA, altitude_m)
    fixed = correct(rule, records.get("pressure and altitude", ()))
    words = (
        f"At {altitude_m:g} m the steam has another temperature at the same gauge pressure; written for "
        f"{written_for:g} m. "
        f"{fixed.sentence}"
    )
    return Offer(
        step.key,
        "duration_s",
        step.duration_s,
        fixed.value,
        {"for_altitude_m": altitude_m},
        "pressure and altitude",
        words,
        fixed.records,
    )

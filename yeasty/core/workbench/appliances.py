"""Calculators of appliances: offset, preheat, pressure, fat, drying; microwaves have a file of their own."""

import numpy as np

from yeasty.core.heat import drying, frying, preheat, steam
from yeasty.core.heat.ranged import Ranged
from yeasty.core.safety.cautions import limits
from yeasty.core.workbench.own_records import correct
from yeasty.core.workbench.spec import (
    Asked,
    Calculator,
    Chart,
    Field,
    Line,
    Mark,
    Result,
    Series,
    say_range,
    sayer,
)


def pressure(asked: Asked) -> Result:
    """Pressure, altitude and time."""
    from_pa, to_pa = asked.number("from_pressure"), asked.number("to_pressure")
    here, there = asked.number("from_altitude"), asked.number("to_altitude")
    t = steam.pressure_time(asked.number("time"), from_pa, here, to_pa, there)
    fixed = correct(t, asked.records)
    say_t = sayer("temperature", asked.system)
    temperatures = [float(steam.saturation_temperature(p, z)) for p, z in ((from_pa, here), (to_pa, there))]
    return Result(
        f"Cook {say_range(fixed.value, sayer('duration', asked.system))} at pressure.",
        (
            Line(
                "Steam",
                f"{say_t(temperatures[0])} becomes {say_t(temperatures[1])}",
                "IAPWS saturation, 1976 standard atmosphere",
            ),
            Line("Without pressure", f"water boils at {say_t(float(steam.boiling_point(there)))} there"),
            Line("Own records", fixed.sentence, t.source),
        ),
        ("For softening, not for safety: where a temperature has to be reached, read it.",),
        rule="pressure and altitude",
        predicted=t.value,
        predicted_kind="duration",
        take=fixed.value.value,
        take_kind="duration",
    )


def come_up(asked: Asked) -> Result:
    """Come-up and natural release."""
    load = steam.Load(asked.number("food"), asked.number("water"), start_c=asked.number("start"))
    gauge, altitude = asked.number("pressure"), asked.number("altitude")
    up = correct(steam.come_up_time(load, asked.number("heater"), gauge, altitude), asked.records)
    down = steam.release_time(load, gauge, altitude)
    say = sayer("duration", asked.system)
    return Result(
        f"Comes up in {say_range(up.value, say)}; a natural release takes {say_range(down, say)}.",
        (
            Line("Come-up", up.sentence, up.rule.source),
            Line("Release", "standing still, lid on", down.source),
        ),
        ("At most two thirds full, half for what foams; someone stays while it comes up.",),
        rule="come-up",
        predicted=up.rule.value,
        predicted_kind="duration",
        take=up.value.value,
        take_kind="duration",
    )


def fat(asked: Asked) -> Result:
    """Fat after loading, and how much fits."""
    fryer = frying.Fryer(asked.number("fat"), asked.number("heater"), asked.number("set"))
    load = frying.FryLoad(asked.number("load"), asked.number("start"))
    curve = frying.fat_after_loading(fryer, load, 600)
    most = frying.largest_load(fryer, load, asked.number("least"))
    say_t, say_m = sayer("temperature", asked.system), sayer("mass", asked.system)
    points = tuple(
        (float(t) / 60, asked.shown(float(c)))
        for t, c in zip(curve.times_s[::10], curve.fat_c[::10], strict=True)
    )
    back = (
        "not within ten minutes"
        if curve.back_at_s is None
        else f"after {sayer('duration', asked.system)(curve.back_at_s)}"
    )
    return Result(
        f"The fat falls to {say_t(curve.lowest_c)}; up to {say_range(most, say_m)} keep it above "
        f"{say_t(asked.number('least'))}.",
        (
            Line(
                "Lowest",
                f"{say_t(curve.lowest_c)} after {sayer('duration', asked.system)(curve.lowest_at_s)}",
                "energy balance",
            ),
            Line("Back at the thermostat", back),
            Line("Largest load", say_range(most, say_m), most.source),
        ),
        ("Hot oil: someone stays. Dry the food; never above the vessel's fill line.",),
        (
            Chart(
                "min",
                asked.degrees,
                (Series("fat", points),),
                (Mark("limit", asked.shown(asked.number("least"))),),
            ),
        ),
    )


def fill(asked: Asked) -> Result:
    """Fill of a fryer or pot, with food and foam."""
    own = asked.maybe("line")
    limit = own if own is not None else float(limits()["fryer-oil"].value)
    row = limits()["fryer-oil"]
    h = frying.headroom(asked.number("vessel"), asked.number("fat"), asked.number("load"), limit_share=limit)
    source = (
        "the fryer's own fill line"
        if own is not None
        else f"{row.authority}; {row.status}, check your authority's current edition"
    )
    return Result(
        h.sentence,
        (
            Line("Fat", f"{h.fat_share:.0%} of the vessel, at most {limit:.0%}", source),
            Line("With the food in", f"{h.with_food_share:.0%}"),
            Line(
                "With foam",
                f"{h.with_foam_share:.0%}",
                "rise of a third of the fat while water boils out (typical)",
            ),
        ),
        ("Hot oil: someone stays, a lid close by, never water on burning fat.",),
    )


def preheat_fit(asked: Asked) -> Result:
    """A preheat log fitted."""
    rows = asked.full_rows("log")
    t, y = [r[0] for r in rows], [r[1] for r in rows]
    p = preheat.fit_preheat(t, y)
    say, say_t = sayer("duration", asked.system), sayer("temperature", asked.system)
    target = asked.number("target")
    wait = p.time_to(target)
    at = np.linspace(0, max(t[-1], wait.value) * 1.05, 60)
    curve = p.start_c + (p.full_c - p.start_c) * (1 - np.exp(-np.maximum(at - p.dead_s, 0) / p.tau_s))
    return Result(
        f"From cold to {say_t(target)} in {say_range(wait, say)}.",
        (
            Line("Time constant", say_range(Ranged(p.tau_s, *p.tau_range_s, ""), say)),
            Line("Full power would end at", say_t(p.full_c)),
            Line("Residual", f"{p.residual_k:.1f} K"),
        ),
        (),
        (
            Chart(
                "min",
                asked.degrees,
                (
                    Series("read", tuple((x / 60, asked.shown(c)) for x, c in zip(t, y, strict=True)), True),
                    Series(
                        "fit", tuple((float(x) / 60, asked.shown(c)) for x, c in zip(at, curve, strict=True))
                    ),
                ),
                (Mark("target", asked.shown(target)),),
            ),
        ),
    )


def offset(asked: Asked) -> Result:
    """Offset curve of a dial."""
    pairs = [(r[0], r[1]) for r in asked.full_rows("pairs")]
    curve = preheat.fit_offset(pairs)
    say_t = sayer("temperature", asked.system)
    wanted = asked.number("wanted")
    lows = np.linspace(min(s for s, _ in pairs) - 20, max(s for s, _ in pairs) + 20, 20)
    spread = (
        "two points or fewer: no spread known"
        if curve.spread_k is None
        else f"points lie {curve.spread_k:.1f} K around the line"
    )
    return Result(
        f"For {say_t(wanted)} in the middle set {say_t(curve.setting(wanted))}.",
        (
            Line("Points", f"{curve.pairs}, {spread}"),
            Line("Line", f"measured = {curve.intercept:.1f} °C + {curve.slope:.2f} × set", "least squares"),
        ),
        (),
        (
            Chart(
                "set",
                "measured",
                (
                    Series("points", tuple((asked.shown(a), asked.shown(b)) for a, b in pairs), True),
                    Series(
                        "line", tuple((asked.shown(s), asked.shown(curve.measured(float(s)))) for s in lows)
                    ),
                ),
            ),
        ),
    )


def dry(asked: Asked) -> Result:
    """Target weight and time of drying."""
    rows = asked.full_rows("weighings")
    water = asked.number("water")
    goal = drying.target_weight(rows[0][1] if rows else 0.0, water, asked.number("end_water"))
    page = drying.fit_page([r[0] for r in rows], [r[1] for r in rows], start_water=water)
    wait = page.time_to(goal)
    say, say_m = sayer("duration", asked.system), sayer("mass", asked.system)
    at = np.linspace(0, wait.high * 1.05, 60)
    return Result(
        f"Dry enough at {say_m(goal)}: {say_range(wait, say)} after the start.",
        (
            Line(
                "Page's model",
                f"scale {page.scale_s / 3600:.1f} h, exponent {page.n:.2f}",
                "fitted to the weighings",
            ),
            Line("Residual", say_m(max(page.residual_kg, 1e-5))),
        ),
        ("How dry keeps is a matter of water activity and of your local guidance.",),
        (
            Chart(
                "h",
                "g",
                (
                    Series("weighed", tuple((r[0] / 3600, r[1] * 1000) for r in rows), True),
                    Series(
                        "fit",
                        tuple(
                            (float(t) / 3600, float(w) * 1000)
                            for t, w in zip(at, page.weight(at), strict=True)
                        ),
                    ),
                ),
                (Mark("goal", goal * 1000),),
            ),
        ),
    )


_PREHEAT = tuple(
    (f"{s} s", f"{round(21 + 262 * (1 - np.exp(-max(0, s - 25) / 480)))} °C") for s in range(0, 721, 60)
)
_DRYING = (("0 s", "1000 g"), ("1 h", "742 g"), ("2 h", "538 g"), ("3 h", "393 g"), ("4 h", "297 g"))
CALCULATORS = (
    Calculator(
        "pressure",
        "Appliances",
        "Pressure and altitude",
        "Cooking time at another pressure or height above the sea.",
        (
            Field("time", "Time that works", "duration", "25 min"),
            Field("from_pressure", "At", "pressure", "high", help="kPa, bar, psi, or a word of the dial"),
            Field("from_altitude", "Height there, m", "number", "0"),
            Field("to_pressure", "Now at", "pressure", "70 kPa"),
            Field("to_altitude", "Height here, m", "number", "600"),
        ),
        pressure,
        "Steam without air in it; softening of pulses and roots.",
    ),
    Calculator(
        "come-up",
        "Appliances",
        "Coming up to pressure",
        "How long a pot takes to pressure and back by itself.",
        (
            Field("food", "Food", "mass", "500 g"),
            Field("water", "Water", "mass", "1.2 kg"),
            Field("start", "Start temperature", "temperature", "20 °C"),
            Field("heater", "Heater", "power", "1000 W"),
            Field("pressure", "Pressure", "pressure", "high"),
            Field("altitude", "Height, m", "number", "0"),
        ),
        come_up,
        "A closed pot of 4 to 8 litres.",
    ),
    Calculator(
        "fat",
        "Appliances",
        "Fat and load",
        "How far the fat falls when food goes in, and how much fits.",
        (
            Field("fat", "Fat", "mass", "2.6 kg"),
            Field("heater", "Heater", "power", "1700 W"),
            Field("set", "Thermostat", "temperature", "175 °C"),
            Field("load", "Food", "mass", "360 g"),
            Field("start", "Food is at", "temperature", "24 °C"),
            Field("least", "Keep the fat above", "temperature", "160 °C"),
        ),
        fat,
        "Not frozen; a thermostat that swings 4 K.",
    ),
    Calculator(
        "fill",
        "Appliances",
        "Fill of a fryer or pot",
        "How full it is with fat, with the food in it, and when it foams.",
        (
            Field("vessel", "Vessel holds to the rim", "volume", "6 l"),
            Field("fat", "Fat", "volume", "1.8 l"),
            Field("load", "Food", "mass", "360 g"),
            Field(
                "line",
                "Its own fill line",
                "percent",
                "",
                optional=True,
                help="share of the vessel; a third is taken for a pot on the hob",
            ),
        ),
        fill,
        "Food that sinks or floats whole in the fat.",
    ),
    Calculator(
        "preheat",
        "Appliances",
        "Preheat",
        "A log from switching on: how long this appliance takes to any temperature.",
        (
            Field(
                "log",
                "Chamber log",
                "table",
                _PREHEAT,
                columns=(("duration", "time"), ("temperature", "chamber")),
            ),
            Field("target", "Target", "temperature", "200 °C"),
        ),
        preheat_fit,
        "Up to the first time the thermostat switches off.",
    ),
    Calculator(
        "offset",
        "Appliances",
        "The dial and the middle",
        "Set and measured pairs: what to set for what is wanted.",
        (
            Field(
                "pairs",
                "Points",
                "table",
                (("150 °C", "142 °C"), ("200 °C", "188 °C"), ("230 °C", "215 °C")),
                columns=(("temperature", "set"), ("temperature", "measured")),
            ),
            Field("wanted", "Wanted", "temperature", "180 °C"),
        ),
        offset,
        "Means over several swings of the thermostat.",
    ),
    Calculator(
        "drying",
        "Appliances",
        "Drying",
        "The weight at which it is dry enough, and when that will be.",
        (
            Field(
                "weighings", "Weighings", "table", _DRYING, columns=(("duration", "time"), ("mass", "weight"))
            ),
            Field("water", "Water at the start", "percent", "87 %"),
            Field("end_water", "Water wanted", "percent", "12 %"),
        ),
        dry,
        "One steady setting; four weighings or more.",
    ),
)

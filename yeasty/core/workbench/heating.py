"""Calculators of heating through: when is it done, when to pull, what a log tells, what a food is like."""

import numpy as np

from yeasty.core.heat import changing, fitting, properties
from yeasty.core.heat.candidates import Known
from yeasty.core.heat.conduction import Piece, check_target, temperature, time_to_target
from yeasty.core.heat.ranged import Ranged
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

SHAPE_CHOICES = (
    ("sphere", "ball"),
    ("cylinder", "long roll"),
    ("slab", "flat slab"),
    ("short cylinder", "short roll or disc"),
    ("brick", "block"),
)
FOOD_CHOICES = tuple((k, name) for k, (name, _) in properties.ingredients().items())
TECHNIQUE_CHOICES = tuple((k, k.replace("_", " ")) for k in properties.surface_coefficients())
PIECE_FIELDS = (
    Field("shape", "Shape", "choice", "sphere", choices=SHAPE_CHOICES),
    Field("thickness", "Thickness or diameter", "length", "4 cm", help="through the thinnest way"),
    Field("length", "Length", "length", "6 cm", only_for=("shape", ("short cylinder", "brick"))),
    Field("width", "Width", "length", "6 cm", only_for=("shape", ("brick",))),
    Field("food", "Food", "choice", "meatball_mix", choices=FOOD_CHOICES),
)


def _piece(asked: Asked) -> Piece:
    shape = asked.choice("shape")
    length = asked.number("length") / 2 if shape in ("short cylinder", "brick") else None
    width = asked.number("width") / 2 if shape == "brick" else None
    return Piece(shape, asked.number("thickness") / 2, width, length)


def _x(seconds: np.ndarray) -> list[float]:
    return [float(s) / 60 for s in seconds]


def core_time(asked: Asked) -> Result:
    """Time until the core is at a target, with the range that an unknown surface coefficient leaves."""
    piece, start, target, air = (
        _piece(asked),
        asked.number("start"),
        asked.number("target"),
        asked.number("air"),
    )
    food = properties.ingredients()[asked.choice("food")][1]
    usual = properties.surface_coefficients()[asked.choice("technique")]
    check_target(target, start, air)
    mean = properties.mean_properties(food, start, target)
    say = sayer("duration", asked.system)
    times = {
        h: time_to_target(piece, target, start, air, h, mean.conductivity, mean.diffusivity)
        for h in (usual.low, usual.typical, usual.high)
    }
    value, low, high = times[usual.typical], times[usual.high], times[usual.low]
    at = np.linspace(0, high * 1.05, 80)
    curves = tuple(
        Series(
            f"{words}, {h:g} W/m²K",
            tuple(
                zip(
                    _x(at),
                    (
                        asked.shown(float(t))
                        for t in temperature(piece, at, start, air, h, mean.conductivity, mean.diffusivity)
                    ),
                    strict=True,
                )
            ),
        )
        for words, h in (("usual", usual.typical), ("slow", usual.low), ("fast", usual.high))
    )
    matters = properties.composition_matters(food, piece, target, start, air, usual.typical)[:2]
    return Result(
        f"The core is at {sayer('temperature', asked.system)(target)} after "
        f"{say_range(Ranged(value, low, high, ''), say)}.",
        (
            Line(
                "Properties",
                f"{mean.conductivity:.2f} W/mK, {mean.diffusivity * 1e6:.3f} mm²/s, {mean.density:.0f} kg/m³",
                "Choi and Okos from a typical composition",
            ),
            Line(
                "Surface coefficient",
                f"{usual.low:g} to {usual.high:g} W/m²K, {usual.typical:g} taken",
                f"{usual.note}; {usual.status}",
            ),
            *(
                Line(
                    f"10 % more {m.component} in it",
                    f"{m.more:+.1%} of the time",
                    "the others give way in proportion",
                )
                for m in matters
            ),
        ),
        (
            "Constant surroundings and a surface that is not held back by evaporation: in an oven food "
            "with a wet surface takes longer.",
            "A reading decides, not the clock: read the core.",
        ),
        (Chart("min", asked.degrees, curves, (Mark("target", asked.shown(target)),)),),
        rule=f"core time, {asked.choice('technique')}",
        predicted=value,
        predicted_kind="duration",
        take=value,
        take_kind="duration",
    )


def pull(asked: Asked) -> Result:
    """When to take it out so that it coasts to a peak."""
    piece = _piece(asked)
    food = properties.ingredients()[asked.choice("food")][1]
    usual = properties.surface_coefficients()[asked.choice("technique")]
    start, peak = asked.number("start"), asked.number("target")
    check_target(peak, start, asked.number("air"))
    mean = properties.mean_properties(food, start, peak)
    heating = changing.Stage(4 * 3600, asked.number("air"), usual.typical)
    single = len(piece.axes()) == 1
    calm = properties.surface_coefficients()["rest"].typical
    rest = changing.Stage(2400, asked.number("room"), calm, wet=single)
    got = changing.pull_for_peak(piece, heating, rest, peak, start, mean.conductivity, mean.diffusivity)
    say_t, say = sayer("temperature", asked.system), sayer("duration", asked.system)
    return Result(
        f"Take it out at {say_t(got.pull_c)}, after about {say(got.time_s)}: it coasts to "
        f"{say_t(got.peak_c)}.",
        (
            Line(
                "Rise after pulling",
                f"{got.peak_c - got.pull_c:.1f} K, its highest {say(got.peak_after_s)} later",
                "implicit finite volumes",
            ),
            Line(
                "Surface coefficient",
                f"{usual.typical:g} W/m²K in the heat, {rest.h:g} at rest",
                f"{usual.note}; {usual.status}",
            ),
        ),
        (
            "At rest the surface is taken as wet, which cools it: a dry crust, covered or stacked pieces "
            "coast further."
            if single
            else "At rest the surface is taken as dry: a wet one coasts less, so pull later.",
            "Where a limit asks for a core temperature, the reading after the rest counts.",
        ),
    )


def food_properties(asked: Asked) -> Result:
    """Properties of a food, label values put in where given."""
    name, food = properties.ingredients()[asked.choice("food")]
    label = {
        k: v
        for k in ("water", "protein", "fat", "carbohydrate", "fibre", "ash")
        if (v := asked.maybe(k)) is not None
    }
    if label:
        food = properties.with_label(food, label)
    p = properties.properties(food, asked.number("at"))
    air = asked.maybe("density")
    if air is not None:
        p = properties.with_air(p, air)
    shares = ", ".join(f"{v:.1%} {k}" for k, v in food.shares().items() if v)
    return Result(
        f"{name}: {p.conductivity:.3f} W/mK, {p.heat_capacity:.0f} J/kgK, {p.density:.0f} kg/m³, "
        f"{p.diffusivity * 1e6:.3f} mm²/s.",
        (
            Line("Composition", shares, food.status),
            Line("Source", "Choi and Okos (1986) by mass and volume", "above freezing only"),
        ),
    )


def probe_log(asked: Asked) -> Result:
    """What a core log says of when it will be done."""
    rows = asked.rows("log")
    times = np.array([r[0] if r[0] is not None else np.nan for r in rows], dtype=float)
    core = np.array([r[1] if r[1] is not None else np.nan for r in rows], dtype=float)
    half = asked.maybe("thickness")
    known = Known(
        ambient_c=asked.maybe("air"),
        wet=asked.choice("surface") == "wet",
        half_thickness_m=half / 2 if half else None,
    )
    fit = fitting.fit_log(times, core, known)
    ready = fitting.time_to(fit, asked.number("target"))
    say, say_t = sayer("duration", asked.system), sayer("temperature", asked.system)
    at = np.linspace(0, max(ready.high_s, fit.last_s) * 1.05, 60)
    low, middle, high = fitting.curve_of(fit, at)
    lines = [Line("Surroundings as felt", say_range(fit.ambient_c, say_t), "from the log")]
    if half:
        alpha = fit.diffusivity(half / 2)
        lines.append(
            Line(
                "Effective diffusivity",
                say_range(alpha, lambda v: f"{v * 1e6:.3f} mm²/s"),
                "from the log and the thickness",
            )
        )
        lines.append(
            Line(
                "Effective surface coefficient",
                say_range(fit.coefficient(half / 2, 0.5), lambda v: f"{v:.0f} W/m²K"),
                "at 0.5 W/mK",
            )
        )
    drawn = [(float(t) / 60, asked.shown(float(c))) for t, c in zip(times, core, strict=True) if c == c]
    bands = tuple(
        Series(n, tuple(zip(_x(at), (asked.shown(float(v)) for v in values), strict=True)))
        for n, values in (("middle", middle), ("low", low), ("high", high))
    )
    headline = (
        f"It reads {say_t(ready.target_c)} already."
        if ready.reached
        else f"It will read {say_t(ready.target_c)} {say(ready.at_s - fit.last_s)} from the last reading "
        f"({say(ready.low_s - fit.last_s)} to {say(ready.high_s - fit.last_s)}, in 9 of 10 cases)."
    )
    return Result(
        headline,
        tuple(lines),
        ("The probe's place is what is foretold: the coldest spot may lag behind it.",),
        (
            Chart(
                "min",
                asked.degrees,
                (Series("read", tuple(drawn), True), *bands),
                (Mark("target", asked.shown(ready.target_c)),),
            ),
        ),
    )


_DEMO_LOG = tuple(
    (f"{60 * n} s", f"{t} °C")
    for n, t in enumerate((8, 8.2, 9.5, 12.4, 16.6, 21.4, 26.3, 31, 35.5, 39.8, 43.8, 47.4, 50.8, 54))
)

CALCULATORS = (
    Calculator(
        "core-time",
        "Heating through",
        "Time to a core temperature",
        "How long until the middle is there, for a shape, a size and a way of heating.",
        (
            *PIECE_FIELDS,
            Field("technique", "Heated by", "choice", "oven", choices=TECHNIQUE_CHOICES),
            Field("start", "Start temperature", "temperature", "5 °C"),
            Field("air", "Surroundings", "temperature", "180 °C"),
            Field("target", "Target core", "temperature", "74 °C"),
        ),
        core_time,
        "Above freezing, constant surroundings, no crust that dries.",
    ),
    Calculator(
        "pull",
        "Heating through",
        "When to pull",
        "Carryover: take it out early, so that it coasts to the peak that is wanted.",
        (
            *PIECE_FIELDS,
            Field("technique", "Heated by", "choice", "oven", choices=TECHNIQUE_CHOICES),
            Field("start", "Start temperature", "temperature", "5 °C"),
            Field("air", "Surroundings", "temperature", "180 °C"),
            Field("target", "Wanted peak", "temperature", "74 °C"),
            Field("room", "Room", "temperature", "22 °C"),
        ),
        pull,
        "Rests in still air; up to four hours of heating.",
    ),
    Calculator(
        "probe-log",
        "Heating through",
        "What a probe log tells",
        "Paste a core log as far as it has run: when will it be done, and how sure.",
        (
            Field(
                "log", "Core log", "table", _DEMO_LOG, columns=(("duration", "time"), ("temperature", "core"))
            ),
            Field("target", "Target core", "temperature", "74 °C"),
            Field("air", "Surroundings, if known", "temperature", "170 °C", optional=True),
            Field("thickness", "Thickness, if known", "length", "5 cm", optional=True),
            Field(
                "surface",
                "Surface",
                "choice",
                "dry",
                choices=(("dry", "in liquid, steam or fat, or dry"), ("wet", "wet, in hot air")),
            ),
        ),
        probe_log,
        "One stage of heating in steady surroundings.",
    ),
    Calculator(
        "properties",
        "Heating through",
        "Properties of a food",
        "Conductivity, heat capacity, density and diffusivity from composition and temperature.",
        (
            Field("food", "Food", "choice", "enriched_dough", choices=FOOD_CHOICES),
            Field("at", "Temperature", "temperature", "40 °C"),
            *(
                Field(k, f"{k.capitalize()} by the label", "percent", "", optional=True)
                for k in ("water", "protein", "fat", "carbohydrate", "fibre", "ash")
            ),
            Field("density", "Density with its air, kg/m³", "number", "", optional=True),
        ),
        food_properties,
        "−1 to 150 °C.",
    ),
)

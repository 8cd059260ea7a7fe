"""Calculators of rules used in the head, yield, and safety figures."""

from yeasty.core.heat.steam import boiled_off
from yeasty.core.safety.clock import judge_cooling
from yeasty.core.safety.core_minimum import food_classes, judge_core, requirements
from yeasty.core.safety.lethality import listeria, log_reductions
from yeasty.core.workbench import rules
from yeasty.core.workbench.own_records import Corrected, correct
from yeasty.core.workbench.spec import Asked, Calculator, Field, Line, Result, say_range, sayer
from yeasty.core.workbench.yields import Weights, balance, yields

HOT = tuple((h.value, h.value.replace("_", " ")) for h in rules.Hot)


def _time(
    asked: Asked, fixed: Corrected, rule: str, headline: str, *lines: Line, notes: tuple[str, ...] = ()
) -> Result:
    said = headline.format(say_range(fixed.value, sayer("duration", asked.system)))
    return Result(
        said,
        (
            *lines,
            Line("By the rule", say_range(fixed.rule, sayer("duration", asked.system)), fixed.rule.source),
            Line("Own records", fixed.sentence),
        ),
        notes,
        rule=rule,
        predicted=fixed.rule.value,
        predicted_kind="duration",
        take=fixed.value.value,
        take_kind="duration",
    )


def by_weight(asked: Asked) -> Result:
    """So long for the first, so long for each further."""
    rule = rules.weight_time(
        asked.number("mass"),
        first_s=asked.number("first"),
        further_s=asked.number("further"),
        unit_kg=asked.number("unit"),
    )
    return _time(asked, correct(rule, asked.records), "time by weight", "Give it {}.")


def by_size(asked: Asked) -> Result:
    """Another weight of the same shape."""
    rule = rules.scaled_time(
        asked.number("time"), mass_kg=asked.number("mass"), new_mass_kg=asked.number("new_mass")
    )
    return _time(asked, correct(rule, asked.records), "time by size", "Give it {}.")


def by_thickness(asked: Asked) -> Result:
    """Another thickness."""
    rule = rules.thickness_time(
        asked.number("time"),
        thickness_m=asked.number("thickness"),
        new_thickness_m=asked.number("new_thickness"),
    )
    return _time(asked, correct(rule, asked.records), "time by thickness", "Give it {}.")


def oven_to_oven(asked: Asked) -> Result:
    """Still oven, fan oven, air fryer."""
    here, there = rules.Hot(asked.choice("written_for")), rules.Hot(asked.choice("use"))
    s = rules.hot_air(asked.number("set"), asked.number("time"), written_for=here, use=there)
    fixed = correct(s.time_s, asked.records)
    say_t = sayer("temperature", asked.system)
    return _time(
        asked,
        fixed,
        f"{here} to {there}",
        f"Set {say_range(s.set_c, say_t)} for {{}}.",
        Line("Set point", say_range(s.set_c, say_t), s.set_c.source),
        notes=("Look at the early end. A crowded basket is a still oven again.",),
    )


def dosing(asked: Asked) -> Result:
    """So much per kilo."""
    amount = rules.dose(asked.number("mass"), asked.number("per_kg"))
    return Result(
        f"{sayer('mass', asked.system)(amount.value)} for "
        f"{sayer('mass', asked.system)(asked.number('mass'))}.",
        (Line("Dose", f"{asked.number('per_kg'):.2%} of the weight"),),
        take=amount.value,
        take_kind="mass",
    )


def _pan(asked: Asked, which: str) -> rules.Pan:
    if asked.choice(f"{which}_shape") == "round":
        return rules.Pan(asked.number(f"{which}_height"), diameter_m=asked.number(f"{which}_across"))
    return rules.Pan(
        asked.number(f"{which}_height"),
        length_m=asked.number(f"{which}_across"),
        width_m=asked.number(f"{which}_width"),
    )


def pans(asked: Asked) -> Result:
    """A batch in another pan."""
    change = rules.another_pan(
        _pan(asked, "old"), asked.number("depth"), asked.number("time"), _pan(asked, "new")
    )
    fixed = correct(change.time_s, asked.records)
    say = sayer("length", asked.system)
    return _time(
        asked,
        fixed,
        "another pan",
        change.sentence.replace("{", "").replace("}", ""),
        Line("Depth then", say(change.depth_m)),
        Line("For the same depth", f"{change.same_depth_factor:.2f} times the batch"),
    )


def boil_off(asked: Asked) -> Result:
    """Liquid that boils off."""
    off = boiled_off(
        asked.number("heater"), asked.number("time"), asked.number("altitude"), asked.choice("lid") == "on"
    )
    left = rules.liquid_after(asked.number("liquid"), off, asked.maybe("taken_up") or 0.0)
    say = sayer("mass", asked.system)
    low = left.low <= 0
    return Result(
        f"Left: {say_range(left, say)}." + (" It may boil dry: look in earlier." if low else ""),
        (
            Line("Boils off", say_range(off, say), off.source),
            Line("To have that much at the end", say(asked.number("liquid") + off.value)),
        ),
        rule="boil-off",
        predicted=off.value,
        predicted_kind="mass",
        take=asked.number("liquid") + off.value,
        take_kind="mass",
    )


WEIGHTS = (
    ("prepared", "Into the heat"),
    ("cooked", "Out of the heat"),
    ("drained", "Drained"),
    ("edible", "Edible"),
    ("liquid_added", "Liquid added"),
    ("liquid_left", "Liquid left"),
    ("drip", "Drip"),
    ("expelled", "Pressed out"),
    ("rendered_fat", "Fat poured off"),
    ("fat_taken_up", "Fat taken up"),
)


def mass_balance(asked: Asked) -> Result:
    """Yield and what is unaccounted for."""
    w = Weights(**{k: asked.maybe(k) for k, _ in WEIGHTS})
    b, y = balance(w), yields(w)
    say = sayer("mass", asked.system)
    shares = [
        Line(f"{n.capitalize()} yield", f"{v:.1%}")
        for n, v in (("cooked", y.cooked), ("drained", y.drained), ("edible", y.edible))
        if v is not None
    ]
    return Result(
        (f"Yield {y.cooked:.1%}. " if y.cooked is not None else "") + b.sentence,
        (
            *shares,
            Line("In", ", ".join(f"{n} {say(v)}" for n, v in b.into.items())),
            Line("Out", ", ".join(f"{n} {say(v)}" for n, v in b.out.items())),
            Line(
                "Unaccounted for",
                f"{b.unaccounted_kg * 1000:+.0f} g, weighings leave {b.unsure_kg * 1000:.0f} g open",
            ),
        ),
    )


FOODS = tuple((k, c.name) for k, c in food_classes().items())


def lethal(asked: Asked) -> Result:
    """Core readings against the figures entered."""
    rows = asked.full_rows("log")
    times, core = [r[0] for r in rows], [r[1] for r in rows]
    found = judge_core(requirements(asked.choice("food")), times, core)
    logs = log_reductions(times, core, listeria())
    say_t = sayer("temperature", asked.system)
    lines = [
        Line(
            r.authority,
            say_t(r.temperature_c)
            + (f" for {r.hold_s:g} s" if r.hold_s else "")
            + (" or its equivalent" if r.equivalent else ""),
            r.status,
        )
        for r in found.asked
    ]
    return Result(
        found.sentence,
        (
            *lines,
            Line(
                "Decimal reductions", f"{logs:.1f}", "reference 70 °C, z 7.5 K, six in two minutes; recalled"
            ),
        ),
        (
            "The figures were entered from memory: check your authority's current edition. Local rules "
            "come first.",
        ),
    )


def cooling(asked: Asked) -> Result:
    """Cooling in two stages against the figures entered."""
    rows = asked.full_rows("log")
    found = judge_cooling([r[0] for r in rows], [r[1] for r in rows])
    return Result(
        found.sentence if found.standing != "not met" else f"Not met: {found.sentence}",
        notes=(
            "Shallow, uncovered, in the cold. The figures were entered from memory: check your authority's "
            "current edition. "
            "Local rules come first.",
        ),
    )


_COOLING = (
    ("0 s", "82 °C"),
    ("30 min", "57 °C"),
    ("1 h 30 min", "34 °C"),
    ("2 h 20 min", "21 °C"),
    ("5 h", "5 °C"),
)
_LOG = (("0 s", "62 °C"), ("1:00", "66 °C"), ("2:00", "70 °C"), ("3:00", "73 °C"), ("4:00", "75 °C"))
_PAN = tuple(
    f
    for which, words, across in (("old", "Pan it was made in", "20 cm"), ("new", "Pan at hand", "24 cm"))
    for f in (
        Field(
            f"{which}_shape",
            words,
            "choice",
            "round",
            choices=(("round", "round"), ("square", "with corners")),
        ),
        Field(f"{which}_across", "diameter or length", "length", across),
        Field(f"{which}_width", "width", "length", "20 cm", only_for=(f"{which}_shape", ("square",))),
        Field(f"{which}_height", "height inside", "length", "6 cm"),
    )
)
CALCULATORS = (
    Calculator(
        "weight",
        "Rules of thumb",
        "Time by weight",
        "So long for the first unit of weight, so long for each further one.",
        (
            Field("mass", "Weight", "mass", "1.2 kg"),
            Field("unit", "Unit", "mass", "500 g"),
            Field("first", "For the first", "duration", "20 min"),
            Field("further", "For each further", "duration", "15 min"),
        ),
        by_weight,
        "20 g to 30 kg.",
    ),
    Calculator(
        "size",
        "Rules of thumb",
        "Another size of piece",
        "The same shape, another weight.",
        (
            Field("time", "Time that works", "duration", "16 min"),
            Field("mass", "For", "mass", "60 g"),
            Field("new_mass", "Now", "mass", "90 g"),
        ),
        by_size,
        "A quarter to four times.",
    ),
    Calculator(
        "thickness",
        "Rules of thumb",
        "Another thickness",
        "Thicker or thinner of the same.",
        (
            Field("time", "Time that works", "duration", "20 min"),
            Field("thickness", "For", "length", "3 cm"),
            Field("new_thickness", "Now", "length", "4 cm"),
        ),
        by_thickness,
        "A quarter to four times.",
    ),
    Calculator(
        "hot-air",
        "Rules of thumb",
        "Oven, fan oven, air fryer",
        "Carry a setting from one to another.",
        (
            Field("set", "Set point", "temperature", "200 °C"),
            Field("time", "Time", "duration", "20 min"),
            Field("written_for", "Written for", "choice", "oven", choices=HOT),
            Field("use", "Used", "choice", "air_fryer", choices=HOT),
        ),
        oven_to_oven,
        "60 to 300 °C; basket not crowded.",
    ),
    Calculator(
        "dose",
        "Rules of thumb",
        "Dose per kilo",
        "Salt, yeast, mixes by weight.",
        (Field("mass", "Weight", "mass", "1.5 kg"), Field("per_kg", "Dose", "percent", "1.8 %")),
        dosing,
    ),
    Calculator(
        "pan",
        "Rules of thumb",
        "Another pan",
        "Area, depth and time in another pan.",
        (
            *_PAN,
            Field("depth", "Stands deep", "length", "3 cm"),
            Field("time", "Time that works", "duration", "25 min"),
        ),
        pans,
        "A quarter to four times the depth.",
    ),
    Calculator(
        "boil-off",
        "Rules of thumb",
        "What boils off",
        "Liquid left after boiling.",
        (
            Field("liquid", "Liquid", "mass", "1.2 kg"),
            Field("heater", "Heater once it boils", "power", "1000 W"),
            Field("time", "Boils for", "duration", "20 min"),
            Field("lid", "Lid", "choice", "off", choices=(("off", "off"), ("on", "on"))),
            Field("altitude", "Height, m", "number", "0"),
            Field("taken_up", "Taken up by the food", "mass", "", optional=True),
        ),
        boil_off,
    ),
    Calculator(
        "balance",
        "Yield and safety figures",
        "Yield and mass balance",
        "What came out of what went in, and what is unaccounted for.",
        tuple(
            Field(
                k,
                words,
                "mass",
                {"prepared": "360 g", "cooked": "324 g", "drip": "8 g"}.get(k, ""),
                optional=True,
            )
            for k, words in WEIGHTS
        ),
        mass_balance,
    ),
    Calculator(
        "cooling",
        "Yield and safety figures",
        "Cooling in two stages",
        "Readings while it cools, against the marks and times entered.",
        (
            Field(
                "log",
                "Readings",
                "table",
                _COOLING,
                columns=(("duration", "time"), ("temperature", "middle")),
            ),
        ),
        cooling,
        "Marks that no reading shows as passed are not known.",
    ),
    Calculator(
        "core",
        "Yield and safety figures",
        "A core log against the figures entered",
        "Temperature and hold against each authority's figure, and the kill it adds up to.",
        (
            Field("log", "Core log", "table", _LOG, columns=(("duration", "time"), ("temperature", "core"))),
            Field("food", "Kind of food", "choice", "poultry", choices=FOODS),
        ),
        lethal,
        "60 °C and above; gaps over five minutes count as not known.",
    ),
)

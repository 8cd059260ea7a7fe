"""Calculators of microwaves: real power, another power, another load."""

from yeasty.core.heat import microwave
from yeasty.core.heat.ranged import Ranged
from yeasty.core.workbench.own_records import correct
from yeasty.core.workbench.spec import (
    Asked,
    Calculator,
    Field,
    Line,
    Result,
    say_range,
    sayer,
)

VESSELS = tuple((k, k) for k in microwave.VESSEL_J_KGK)


def power_of(asked: Asked) -> microwave.RealPower:
    """Real output from the runs that were filled in."""
    vessel_kg, vessel, room = asked.maybe("vessel_kg") or 0.0, asked.choice("vessel"), asked.number("room")
    return microwave.real_power(
        [microwave.WaterRun(r[0], r[1], r[2], r[3], vessel_kg, vessel, room) for r in asked.full_rows("runs")]
    )


def water_test(asked: Asked) -> Result:
    """Real output of a microwave from runs of the water test."""
    real = power_of(asked)
    lines = [Line(f"Run {n}", f"{w:.0f} W") for n, w in enumerate(real.runs_w, 1)]
    mains = asked.maybe("mains")
    if mains:
        lines.append(
            Line(
                "Of what it draws",
                f"{microwave.share_of_input(real.power.value, mains):.0%} of {mains:.0f} W reaches the water",
            )
        )
    return Result(
        f"It gives {say_range(real.power, sayer('power', asked.system))} into the water.",
        tuple(lines),
        real.notes,
    )


def microwave_power(asked: Asked) -> Result:
    """Time at another microwave's power."""
    fixed = [Ranged(w, w, w, "") for w in (asked.number("written"), asked.number("real"))]
    t = microwave.time_at_power(asked.number("time"), fixed[0], fixed[1])
    fixed_by = correct(Ranged(t.value, 0.9 * t.value, 1.1 * t.value, "the same energy"), asked.records)
    looks = ", ".join(sayer("duration", asked.system)(s) for s in microwave.check_times(fixed_by.value)[:5])
    return Result(
        f"Give it {say_range(fixed_by.value, sayer('duration', asked.system))}.",
        (
            Line(
                "Energy",
                f"{asked.number('time') * fixed[0].value / 1000:.0f} kJ into the load, the same in both",
                "energy balance",
            ),
            Line("Look at", looks, "early end of the range, then in steps of an eighth"),
            Line("Own records", fixed_by.sentence),
        ),
        (
            "The same load and vessel. Over ten minutes losses count: going to less power it then takes "
            "longer than this.",
        ),
        rule="microwave power",
        predicted=t.value,
        predicted_kind="duration",
        take=fixed_by.value.value,
        take_kind="duration",
    )


def microwave_load(asked: Asked) -> Result:
    """Time for another load."""
    t = microwave.time_for_load(
        asked.number("time"), load_kg=asked.number("load"), new_load_kg=asked.number("new_load")
    )
    fixed = correct(t, asked.records)
    stand = microwave.standing_time(asked.number("new_load"), asked.number("thickness") / 2)
    say = sayer("duration", asked.system)
    return Result(
        f"Give it {say_range(fixed.value, say)}, then let it stand {say_range(stand, say)}.",
        (
            Line("Load", fixed.sentence, t.source),
            Line("Standing", "covered, until hot and cold places have evened out", stand.source),
        ),
        rule="microwave load",
        predicted=t.value,
        predicted_kind="duration",
        take=fixed.value.value,
        take_kind="duration",
    )


CALCULATORS = (
    Calculator(
        "water-test",
        "Appliances",
        "Microwave water test",
        "Real output from heating water: two or three runs, the vessel counted.",
        (
            Field(
                "runs",
                "Runs",
                "table",
                (
                    ("1 kg", "20 °C", "30.0 °C", "60 s"),
                    ("1 kg", "20 °C", "30.3 °C", "60 s"),
                    ("1 kg", "20 °C", "29.8 °C", "60 s"),
                ),
                columns=(
                    ("mass", "water"),
                    ("temperature", "before"),
                    ("temperature", "after"),
                    ("duration", "time"),
                ),
            ),
            Field("vessel_kg", "Vessel weighs", "mass", "350 g", optional=True),
            Field("vessel", "Vessel of", "choice", "glass", choices=VESSELS),
            Field("room", "Room", "temperature", "20 °C"),
            Field("mains", "Draws from the mains", "power", "1250 W", optional=True),
        ),
        water_test,
        "Full power, a litre of water, stirred before each reading.",
    ),
    Calculator(
        "microwave-power",
        "Appliances",
        "Another microwave",
        "The same energy at another power; when to look.",
        (
            Field("time", "Time as written", "duration", "3:30"),
            Field("written", "Written for", "power", "1000 W"),
            Field("real", "This one gives", "power", "700 W"),
        ),
        microwave_power,
        "Output into the load, not what is drawn from the mains.",
    ),
    Calculator(
        "microwave-load",
        "Appliances",
        "Another load in the microwave",
        "More or fewer pieces at the same power, and how long to let stand.",
        (
            Field("time", "Time that works", "duration", "4 min"),
            Field("load", "For", "mass", "300 g"),
            Field("new_load", "Now", "mass", "500 g"),
            Field("thickness", "Thickness of a piece", "length", "4 cm"),
        ),
        microwave_load,
        "A quarter to four times the load.",
    ),
)

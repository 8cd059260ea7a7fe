"""What to do with what is left over: the same limits by which this program lets food be tasted."""

from collections.abc import Callable, Collection, Sequence

from yeasty.core.kernel.quantities import fahrenheit
from yeasty.core.kernel.quantities_said import say_duration
from yeasty.core.safety.cautions import Limit, limits
from yeasty.core.safety.clock import Zone, strictest_zone
from yeasty.core.safety.core_minimum import Requirement, food_classes, requirements

Rule = tuple[str, str]
# Above this the time between cold and hot is halved: said in the row of `us-zone` in limits.csv.
HOT_ROOM_C = 32.0


def leftovers(
    food: str,
    hazards: Collection[str],
    status: Callable[[Limit], str],
    *,
    profile: str,
    zone: Zone | None = None,
) -> tuple[Rule, ...]:
    """Rules for what is not eaten at once, each with its source.

    Parameters
    ----------
    food : kind of food, "" where nobody said: then it is taken to spoil
    hazards : of the ways that are told; cooked rice has figures of its own
    status : how far a figure was checked, in words
    profile : the authority whose core minimum counts here; zone : times between cold and hot, the strictest
        where none is given

    Returns
    -------
    none for food that does not spoil at room temperature
    """
    known = food_classes().get(food)
    if known is not None and not known.perishable:
        return ()
    z = zone or strictest_zone()
    cooling, rice = limits()["us-cooling"], limits()["cooked-rice"]
    until, low = (float(t) for t in cooling.temperature_c.split(" to "))
    found = [
        (
            f"Between {_both(z.cold_c)} and {_both(z.hot_c)} it keeps {say_duration(z.use_s or 0)} at most, "
            f"half of that where it is above {_both(HOT_ROOM_C)}, all times added up: then throw it away.",
            f"{z.authority}; figures {z.status}",
        )
    ]
    if "rice_cooling" in hazards:
        found.append(
            (
                f"Cooked rice or grains: cold within {say_duration(float(rice.hold_s))}, kept cold "
                f"{say_duration(float(rice.value))} at most.",
                f"{rice.authority}; figure {status(rice)}",
            )
        )
    else:
        found.append(
            (
                f"To keep it, cool it fast, shallow and uncovered, in the cold: from {_both(until)} to "
                f"{_both(low)} within {say_duration(float(cooling.hold_s))}, and to {_both(5)} within "
                f"{say_duration(float(cooling.value))} in all.",
                f"{cooling.authority}; figure {status(cooling)}",
            )
        )
    asked = requirements("leftovers", profile)
    found.append((_reheat(asked), _sources(asked)))
    return tuple(found)


def _both(celsius: float) -> str:
    return f"{celsius:g} °C ({fahrenheit(celsius):.0f} °F)"


def _reheat(asked: Sequence[Requirement]) -> str:
    words = []
    for r in asked:
        hold = f" for {say_duration(r.hold_s)}" if r.hold_s else ""
        words.append(f"{_both(r.temperature_c)}{hold}{' or its equal' if r.equivalent else ''}")
    core = ", and ".join(words)
    return f"Reheat it once, stirred and hot through: the core at {core}. What is left then, throw away."


def _sources(asked: Sequence[Requirement]) -> str:
    return "; ".join(dict.fromkeys(f"{r.authority}, figure {r.status}" for r in asked))

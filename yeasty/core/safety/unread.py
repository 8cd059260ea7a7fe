"""Food that nobody read while it warmed: by when it was hot at the latest, from what is on record of its
surroundings.

A pot that was seen boiling heats what is in it, read or not. The bound is on the careful side: the slowest
way of heating through (a slab, food that conducts badly, a weak film around it), from the moment its
surroundings were seen, and only for as long as somebody looked in. Nothing is bounded where a piece of this
is not on record; then unknown counts as not met, and a high reading at the end never undoes a slow warm-up.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log, pi

# Slow ends of what food is, for the careful side: diffusivity of dense food with little water [m²/s], and the
# heat it takes up [J/m³K]. Kitchen practice; `core/heat/properties.py` gives 1.2e-7 to 1.5e-7 for most food.
DIFFUSIVITY, HEAT_CAPACITY = 1.1e-7, 3.9e6
# Weak ends of films: food in liquid that moves little, food in still hot air [W/m²K]. Kitchen practice.
# Liquid that hardly moves has the weak end of `core/kernel/techniques`.
FILMS = {"liquid": 300.0, "still liquid": 50.0, "air": 8.0}
# What was seen is taken to go on for this long, and no longer [s]; kitchen practice.
LONGEST_SILENCE_S = 7200.0
DENSITY = 1000.0
# Heat that a kilogram takes up, that of water [J/kgK]: no food takes more. What the vessel takes and the lid
# loses beside it makes the heating up longer by this factor; kitchen practice.
WATER_J_KG_K, VESSEL_TAKES = 4186.0, 1.5


@dataclass(frozen=True)
class Seen:
    """That the surroundings were seen hot: a moment [s], what they were at least [°C], in which film, and
    words.
    """

    at: float
    celsius: float
    medium: str
    words: str


@dataclass(frozen=True)
class Setting:
    """A setting of which somebody measured what it gives.

    Attributes
    ----------
    celsius : measured in the middle, at the end [°C]; words : as on the dial
    power_w : measured output into what is in it [W]; None where it was hot before the food went in
    """

    celsius: float
    words: str
    power_w: float | None = None


@dataclass(frozen=True)
class Warmed:
    """From when on the food was hot at the latest, until when that is on record [s], and the reasoning in
    words.
    """

    hot_from: float
    hot_until: float
    sentence: str


def slowest_s(start_c: float, around_c: float, half_m: float, film: float, target_c: float) -> float:
    """Longest time for the middle of a slab to reach a temperature in constant surroundings [s].

    Parameters
    ----------
    start_c, around_c, target_c : [°C], start below target below surroundings
    half_m : from the surface to the middle [m]; film : around it [W/m²K]

    Notes
    -----
    One term of the series with its largest coefficient 4/π, and 1/ζ² bounded from above by 1/Bi + 4/π² (exact
    at both ends of Bi, above it between). So it is never shorter than the slab's own time.

    >>> 900 < slowest_s(5, 97, 0.02, 300, 63) < 2400
    True
    """
    share = 4 / pi * (around_c - start_c) / (around_c - target_c)
    conductivity = DIFFUSIVITY * HEAT_CAPACITY
    biot = film * half_m / conductivity
    return (1 / biot + 4 / pi**2) * half_m**2 / DIFFUSIVITY * log(share)


def heating_up_s(setting: Setting, mass_kg: float, start_c: float, target_c: float) -> float:
    """How long all that is in a vessel takes to a temperature below its setting's [s], on the careful side.

    Notes
    -----
    Its output falls with what is left to the setting: a lag of m·c·(setting - start)/P, and half as much
    again.

    >>> 2.5 * 3600 < heating_up_s(Setting(88, "low", 150), 2.0, 10, 75) < 4.5 * 3600
    True
    """
    if setting.power_w is None:
        return 0.0
    way = setting.celsius - start_c
    lag = mass_kg * WATER_J_KG_K * way / setting.power_w
    return VESSEL_TAKES * lag * log(way / (setting.celsius - target_c))


def seen_by_setting(
    setting: Setting,
    *,
    confirmed_at: float,
    looked_at: Sequence[float],
    start_c: float | None,
    mass_kg: float | None,
    hot_c: float,
) -> list[Seen]:
    """What a measured setting says of the surroundings while it was on record that it ran.

    Parameters
    ----------
    confirmed_at : when its start was confirmed with the food in it [s]; looked_at : when somebody looked in
        since
    start_c, mass_kg : of all that is in it, needed where it heats up with the food

    Returns
    -------
    nothing after the first gap longer than `LONGEST_SILENCE_S`: it may have been off

    >>> low = Setting(88, "low", 150)
    >>> hourly = [3600.0 * n for n in range(1, 9)]
    >>> found = seen_by_setting(low, confirmed_at=0, looked_at=hourly, start_c=10, mass_kg=2, hot_c=63)
    >>> 3 * 3600 < found[0].at < 4 * 3600
    True
    >>> seen_by_setting(low, confirmed_at=0, looked_at=[8 * 3600.0], start_c=10, mass_kg=2, hot_c=63)
    []
    """
    # Halfway from what is hot enough to what the setting gives in the end.
    around = (hot_c + 5 + setting.celsius) / 2
    if setting.celsius <= hot_c + 5 or start_c is None or not 0 <= start_c < hot_c:
        return []
    if setting.power_w is not None and not mass_kg:
        return []
    hot_at = confirmed_at + heating_up_s(setting, mass_kg or 0.0, start_c, around)
    known = [confirmed_at]
    for at in sorted(t for t in looked_at if t > confirmed_at):
        if at - known[-1] > LONGEST_SILENCE_S:
            break
        known.append(at)
    if known[-1] < hot_at:
        # Nobody looked in once it was hot, so that nothing says it got there.
        return []
    film = "air" if setting.power_w is None else "still liquid"
    words = f"It ran on “{setting.words}”, measured to give {setting.celsius:.0f} °C"
    return [Seen(t, around, film, words) for t in [hot_at, *(k for k in known if k > hot_at)]]


def warmed(
    seen: Sequence[Seen],
    *,
    start_c: float | None,
    thickness_m: float | None,
    mass_kg: float | None,
    vessel: str,
    out_at: float | None,
    hot_c: float,
) -> Warmed | None:
    """By when food was hot at the latest; None where what is on record does not tell.

    Parameters
    ----------
    seen : that its surroundings were hot, in any order
    start_c : of the food, not frozen; thickness_m : its largest dimension, else `mass_kg` as one lump in a
        known `vessel`
    out_at : when it came out of its heat [s], None where that is not on record

    >>> pot = [Seen(0.0, 97.0, "liquid", "seen boiling"), Seen(3600.0, 97.0, "liquid", "looked in")]
    >>> found = warmed(pot, start_c=5.0, thickness_m=0.04, mass_kg=None, vessel="", out_at=5000.0, hot_c=63.0)
    >>> found is not None and 900 < found.hot_from < 3600, found is not None and found.hot_until
    (True, 5000.0)
    >>> warmed(pot, start_c=-18.0, thickness_m=0.04, mass_kg=None, vessel="", out_at=5000.0, hot_c=63.0)
    """
    if start_c is None or start_c < 0 or start_c >= hot_c or not seen:
        return None
    if thickness_m:
        half, size = thickness_m / 2, f"{thickness_m * 100:.3g} cm thick"
    elif mass_kg and vessel.strip():
        # One lump in its vessel, heated from one side.
        half, size = (mass_kg / DENSITY) ** (1 / 3), f"{mass_kg:.3g} kg in one lump"
    else:
        return None
    ordered = sorted(seen, key=lambda s: s.at)
    for n, first in enumerate(ordered):
        run = [first]
        for later in ordered[n + 1 :]:
            if later.at - run[-1].at > LONGEST_SILENCE_S:
                break
            run.append(later)
        around = min(s.celsius for s in run)
        if around <= hot_c + 5:
            continue
        until = run[-1].at + LONGEST_SILENCE_S
        if out_at is not None:
            until = min(until, out_at)
        length = slowest_s(start_c, around, half, min(FILMS[s.medium] for s in run), hot_c)
        if first.at + length < until:
            return Warmed(
                first.at + length,
                until,
                f"Not read while it warmed. {first.words}, at least {around:.0f} °C around it; {size}, "
                f"from {start_c:g} °C: "
                f"hot after {length / 60:.0f} min at the latest (the slowest case of conduction; kitchen "
                f"practice).",
            )
    return None

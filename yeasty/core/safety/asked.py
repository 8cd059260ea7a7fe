"""What is asked of food before anybody eats it that neither a core nor a clock answers.

Each question is put at the gate where it belongs and counts as not met until somebody has stated it in the
log; what a statement cannot mend (pulses that were never boiled hard) bars for good. Sources stand with the
figures; where none is tabled the rule is kitchen practice and says so.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from yeasty.core.safety.cautions import limits
from yeasty.core.safety.clock import judge_cooling
from yeasty.core.safety.core_minimum import CoreStanding, judge_core, requirements

# Up to here food counts as cooled: the warmest cold end of the tabled zones [°C].
COLD_C = 8.0


@dataclass(frozen=True)
class Asked:
    """A question at the gate.

    Attributes
    ----------
    key : of `yeasty.core.kernel.entries.QUESTIONS`, or "" where no statement can answer it
    text : the question; bar : why it bars while it is not answered with yes
    final : nobody may own it
    """

    key: str
    text: str
    bar: str
    final: bool = False


def questions(
    hazards: Collection[str],
    *,
    food: str,
    techniques_known: bool,
    appliance_kinds: Collection[str],
    cooked: bool,
    stated: Mapping[str, str],
) -> list[Asked]:
    """What still bars a batch, by its hazards and what was stated of it.

    Parameters
    ----------
    hazards : keys of the table of cautions, without those struck out
    food : key of its kind of food
    techniques_known : whether its technique is one whose hazards are known
    appliance_kinds : what heats it
    cooked : whether all its heats are done
    stated : question to "yes" or "no"

    >>> [a.key for a in questions({"pulses_boil"}, food="plant", techniques_known=True, appliance_kinds={"hob"}, cooked=True, stated={})]
    ['pulses_boiled']
    >>> questions({"pulses_boil"}, food="plant", techniques_known=True, appliance_kinds={"slow_cooker"}, cooked=True, stated={"pulses_boiled": "no"})[0].final
    True
    """  # noqa: E501
    found = []
    if "pulses_boil" in hazards and stated.get("pulses_boiled") != "yes":
        row = limits()["kidney-beans"]
        never = "slow_cooker" in appliance_kinds and stated.get("pulses_boiled") == "no"
        said = (
            "were not boiled hard"
            if stated.get("pulses_boiled") == "no"
            else "it is not on record that they were boiled hard"
        )
        found.append(
            Asked(
                "" if never else "pulses_boiled",
                "Were the beans soaked, and boiled hard for at least 10 minutes?",
                f"Beans of a kind that is poisonous raw: {said} for {float(row.hold_s) / 60:g} min "
                f"({row.authority}; {row.status}).",
                never,
            )
        )
    if "raw_dough" in hazards and not cooked:
        found.append(
            Asked(
                "",
                "",
                "Holds flour or dough, and its heat is not on record as done: raw flour and dough are not "
                "for tasting (kitchen practice).",
            )
        )
    if not techniques_known and stated.get("hazards_known") != "yes":
        found.append(
            Asked(
                "hazards_known",
                "Its way of cooking is not in the library. Are its hazards thought through and written "
                "down at Set up?",
                "Its way of cooking is not in the library, so its hazards are not known.",
            )
        )
    if food == "shelf_stable":
        found.append(
            Asked(
                "",
                "",
                "Dried, cured and shelf-stable food is judged by figures this program does not have: the "
                "lead has to own it, and it is not published.",
            )
        )
    return found


@dataclass(frozen=True)
class Kept:
    """How kept food stands: sentences that bar, and sentences to show."""

    bars: tuple[str, ...]
    tells: tuple[str, ...]


def judge_kept(
    times: Sequence[float], celsius: Sequence[float], *, now: float, rice: bool, profile: str = "strictest"
) -> Kept:
    """Food that was cooled after cooking, from its readings: cooled in two stages, kept cold, reheated once
    and hot through.

    Parameters
    ----------
    times, celsius : readings from when it came out of its heat [s, °C]; now : moment [s]; rice : cooked rice
        or grains

    Returns
    -------
    nothing to say where no reading shows that it was cooled

    >>> judge_kept([0], [80], now=60, rice=False)
    Kept(bars=(), tells=())
    >>> kept = judge_kept([0, 3600, 14400, 20000], [80, 20, 4, 60], now=20060, rice=False)
    >>> [b.split(":")[0] for b in kept.bars]
    ['Reheated']
    """
    pairs = sorted(zip(times, celsius, strict=True))
    cold_at = next((i for i, (_, c) in enumerate(pairs) if c <= COLD_C), None)
    if cold_at is None:
        return Kept((), ())
    bars: list[str] = []
    tells: list[str] = []
    cooling = judge_cooling([t for t, _ in pairs[: cold_at + 1]], [c for _, c in pairs[: cold_at + 1]])
    line = f"Cooling: {cooling.sentence}"
    (tells if cooling.standing == "met" else bars).append(line)
    after = pairs[cold_at:]
    warm = [(t, c) for t, c in after if c > COLD_C]
    chilled_until = warm[0][0] if warm else now
    kept_h = (chilled_until - after[0][0]) / 3600
    tells.append(f"Kept cold for {kept_h:.1f} h, as read.")
    if rice:
        row = limits()["cooked-rice"]
        if chilled_until - after[0][0] > float(row.value):
            bars.append(
                f"Cooked rice kept {kept_h:.0f} h: at most {float(row.value) / 3600:g} h chilled is "
                f"entered ({row.authority}; {row.status})."
            )
        first = next((t for t, c in pairs if c <= COLD_C), None)
        if first is not None and first - pairs[0][0] > float(row.hold_s):
            bars.append(
                f"Cooked rice: cold after {(first - pairs[0][0]) / 60:.0f} min; within "
                f"{float(row.hold_s) / 60:g} min is entered ({row.authority}; {row.status})."
            )
    if warm:
        times_hot = sum(1 for (_, a), (_, b) in pairwise(after) if a <= COLD_C < b)
        if times_hot > 1:
            bars.append("Reheated: more than once; reheat once, then throw away (kitchen practice).")
        core = judge_core(requirements("leftovers", profile), [t for t, _ in warm], [c for _, c in warm])
        if core.standing is CoreStanding.MEETS:
            tells.append(f"Reheated: {core.sentence}")
        else:
            bars.append(f"Reheated: {core.sentence}")
    return Kept(tuple(bars), tuple(tells))

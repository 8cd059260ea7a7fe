"""A method as a reader cooks it: amounts, steps with their cautions, times no finer than can be kept."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from yeasty.core.kernel.quantities import fahrenheit
from yeasty.core.kernel.quantities_said import say_duration, say_mass_both, say_temperature_both
from yeasty.core.kernel.steps import EndRule, Phase, Step, chain_of
from yeasty.core.kernel.text import capital
from yeasty.core.safety.cautions import Limit, at_phase


@dataclass(frozen=True)
class Ingredient:
    """An ingredient with its mass [kg] for the stated yield and its allergens."""

    name: str
    mass_kg: float
    text: str
    allergens: tuple[str, ...]


@dataclass(frozen=True)
class CautionText:
    """A caution as it is shown, with its source and the status of its figure.

    `first` : number of the step that says it in full, where this is a later one; `brief` : what is then said
    in its place. `danger` : it can maim or kill, and stands whole on paper at every step
    """

    text: str
    source: str
    first: int = 0
    brief: str = ""
    danger: bool = False


@dataclass(frozen=True)
class StepText:
    """A step as a reader cooks it.

    Attributes
    ----------
    duration_s : for files that want numbers; low_s, high_s : the shortest and the longest it took [s]
    beside : says where a time was planned and not logged, or was planned otherwise
    phase, appliance, set_point_c, power_w, core_c, during_s : what another kitchen is reckoned from;
        set_point_c the temperature that is meant, whatever stands on this kitchen's dial;
        appliance by its kind, "" where none is needed
    key : of the step it was planned as
    """

    what: str
    duration_s: float
    duration: str
    temperature: str
    until: str
    during: str
    cautions: tuple[CautionText, ...]
    beside: str = ""
    days_before: int = 0
    low_s: float = 0.0
    high_s: float = 0.0
    phase: str = ""
    appliance: str = ""
    set_point_c: float | None = None
    power_w: float | None = None
    core_c: float | None = None
    during_s: float | None = None
    key: str = ""


@dataclass(frozen=True)
class Recipe:
    """One method as it is cooked.

    Attributes
    ----------
    method, tag, mark : which it is
    yield_text, pieces, total_s : what it makes, and from start to plate [s]
    allergens : of what goes into it; `says` : what a reader has to know of how it is told
    technique, thickness_m, altitude_m : how it was cooked, of what thickness a piece was, and how high [m]
    by_core : whether this kind of food is safe by its core alone
    start_c : how warm it was when its cooking began [°C], None where that is not on record
    """

    method: str
    tag: str
    mark: int
    pieces: int
    yield_text: str
    total_s: float
    ingredients: tuple[Ingredient, ...]
    allergens: tuple[str, ...]
    allergens_unchecked: tuple[str, ...]
    gear: tuple[str, ...]
    steps: tuple[StepText, ...]
    says: tuple[str, ...] = ()
    technique: str = ""
    thickness_m: float | None = None
    altitude_m: float = 0.0
    by_core: bool = True
    start_c: float | None = None


Times = Mapping[str, Sequence[float]]
# Beside the log the plan is told where it differs by more than a tap leaves open and a twentieth.
RHYTHM_S, RHYTHM_SHARE = 30.0, 0.05
# Nearer than that nobody sets a dial.
LEAST_K = 2.0


def step_texts(
    steps: Sequence[Step],
    hazards: Sequence[str],
    status: Callable[[Limit], str] = lambda row: row.status,
    times: Times | None = None,
    kind_of: Callable[[str], str] = lambda _: "",
    word_of: Callable[[str, float], str] = lambda _key, _c: "",
) -> tuple[StepText, ...]:
    """Steps as a reader cooks them, each with its cautions; `status` says how far a figure was checked.

    Washing-up is left out: it is counted in the evidence, not told as a step. A caution stands in full at the
    first step it belongs to and in brief, with where it stood, at the later ones.

    Parameters
    ----------
    times : step to how long it took in each judged batch [s]; a step that is not among them is told as it was
        planned, and says so. None where nothing was cooked
    kind_of : an appliance's key to its kind
    word_of : an appliance's key and what it is set to [°C] to the word on its dial, "" where it has none
    """
    told: list[StepText] = []
    said: dict[str, int] = {}
    for main, during in chain_of([s for s in steps if s.phase is not Phase.WASH_UP]):
        for step in (main, *during):
            took = (times or {}).get(step.key, ())
            seconds = sum(took) / len(took) if took else step.duration_s
            meant = step.set_point_c if step.dial_for_c is None else step.dial_for_c
            temperature = _set_to(step, meant, word_of)
            if step.power_w is not None:
                temperature = temperature if temperature else f"{step.power_w:g} W into the food"
            offset = (
                f"{say_duration(step.during_offset_s)} into it" if step.during_offset_s is not None else ""
            )
            told.append(
                StepText(
                    capital(step.what),
                    seconds,
                    _took(took) if took else say_duration(step.duration_s),
                    temperature,
                    _until(step),
                    offset,
                    _cautions(step, hazards, status, said, len(told) + 1),
                    _beside(step, took, cooked=times is not None),
                    step.days_before,
                    min(took) if took else step.duration_s,
                    max(took) if took else step.duration_s,
                    step.phase.value,
                    kind_of(step.appliance) if step.appliance else "",
                    meant,
                    step.power_w,
                    step.end_core_c if step.end_rule is EndRule.CORE else None,
                    step.during_offset_s,
                    step.key,
                )
            )
    return tuple(told)


def _set_to(step: Step, meant: float | None, word_of: Callable[[str, float], str]) -> str:
    """The temperature that is meant, which a reader can set; beside it what stands on this kitchen's dial,
    where that is something else.
    """
    if meant is None or step.set_point_c is None:
        return ""
    told = say_temperature_both(meant)
    word = word_of(step.appliance, step.set_point_c) if step.appliance else ""
    if word:
        return f"{told}; ours is on “{word}” for that"
    if abs(meant - step.set_point_c) < LEAST_K:
        return told
    return f"{told} in the middle; ours is set to {step.set_point_c:g} °C for that"


def for_readers(seconds: float) -> str:
    """A time from a log, no finer than a reader can keep to.

    >>> for_readers(1751), for_readers(437), for_readers(47)
    ('29 min', '7 min 30 s', '45 s')
    """
    grain = 5 if seconds < 120 else 30 if seconds < 600 else 60
    return say_duration(max(grain, round(seconds / grain) * grain))


def _took(times: Sequence[float]) -> str:
    """Times of one step as they are said.

    >>> _took([600.0, 600.0]), _took([600.0, 720.0])
    ('10 min', '10 min to 12 min')
    """
    low, high = for_readers(min(times)), for_readers(max(times))
    return low if low == high else f"{low} to {high}"


def _beside(step: Step, took: Sequence[float], *, cooked: bool) -> str:
    if not cooked or step.duration_s <= 0:
        return ""
    if not took:
        return "as planned"
    off = abs(sum(took) / len(took) - step.duration_s)
    return (
        f"planned {say_duration(step.duration_s)}"
        if off > max(RHYTHM_S, RHYTHM_SHARE * step.duration_s)
        else ""
    )


def until_core(celsius: float) -> str:
    """The end of a step by its core.

    >>> until_core(74)
    'until the core reads 74 °C (165 °F)'
    """
    return f"until the core reads {celsius:g} °C ({fahrenheit(celsius):.0f} °F)"


def _until(step: Step) -> str:
    if step.end_rule is EndRule.CORE and step.end_core_c is not None:
        return until_core(step.end_core_c)
    if step.end_rule is EndRule.CUE:
        return f"until {step.end_cue}"
    if step.end_rule is EndRule.WEIGHT and step.end_kg is not None:
        return f"until it weighs {say_mass_both(step.end_kg)}"
    if step.end_rule is EndRule.MATCH:
        return f"until it matches {step.end_cue}"
    return ""


def _cautions(
    step: Step,
    hazards: Sequence[str],
    status: Callable[[Limit], str],
    said: dict[str, int],
    number: int,
) -> tuple[CautionText, ...]:
    """Cautions of a step; `said` keeps which step said each in full."""
    found = []
    for c in at_phase(hazards, step.phase):
        first = said.setdefault(c.key, number)
        found.append(
            CautionText(
                c.text,
                c.source + (f"; figure {status(c.limit)}" if c.limit is not None else ""),
                0 if first == number else first,
                "" if first == number else _brief(c.text),
                c.severity == "danger",
            )
        )
    return tuple(found)


def _brief(text: str) -> str:
    """The first thing a caution says.

    >>> _brief("Hot oil: keep water away. Lower food slowly.")
    'Hot oil: keep water away.'
    """
    end = text.find(". ")
    return text if end < 0 else text[: end + 1]


def ingredients(
    amounts: Mapping[str, float], allergens: Mapping[str, Sequence[str]], scale: float
) -> tuple[Ingredient, ...]:
    """Ingredients for the stated yield: measured amounts [kg] times `scale`, largest first, in metric and US
    units.
    """
    rows = sorted(amounts.items(), key=lambda r: (-r[1], r[0]))
    return tuple(
        Ingredient(name, kg * scale, say_mass_both(kg * scale), tuple(allergens.get(name, ())))
        for name, kg in rows
    )

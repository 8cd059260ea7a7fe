"""Steps: one thing to do, who it needs, and what ends it."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from yeasty.core.kernel.errors import RuleError, check_range


class Attention(StrEnum):
    """What a step needs of the cook: hands, someone there, or nothing."""

    HANDS = "hands"
    WATCHED = "watched"
    FREE = "free"


class Phase(StrEnum):
    """What part of the job a step is; the five clocks are sums over phases."""

    PREPARE = "prepare"
    COME_UP = "come_up"
    LOAD = "load"
    COOK = "cook"
    TURN = "turn"
    OUT = "out"
    WAIT = "wait"
    PLATE = "plate"
    WASH_UP = "wash_up"


class EndRule(StrEnum):
    """What ends a step."""

    CLOCK = "clock"
    CORE = "core"
    CUE = "cue"
    WEIGHT = "weight"
    MATCH = "match"


LONGEST_STEP_S = 7 * 86400.0
# What may last anything between two lengths: food that stands, not food in the heat.
RANGED_PHASES = (Phase.PREPARE, Phase.WAIT)


@dataclass(frozen=True)
class Step:
    """One thing to do.

    Attributes
    ----------
    key : identity within the trial
    what : in the imperative, as "Turn the tray"
    attention, phase, end_rule : see the enumerations
    duration_s : planned [s]; with an end by core or cue, the first guess
    during_offset_s : for a step done while the cooking before it goes on (a turn, a shake): how long
        after that cooking began [s]; None for a step in the chain
    end_core_c, end_cue, end_kg : what ends it, where the end rule says so; with a match `end_cue` names the
        sample
    appliance : key of the appliance used, or None
    set_point_c, power_w : what is set on it; `power_w` is output into the food
    dial_for_c : temperature in the middle that the set point was chosen to give, None where the two were not
        told apart
    for_altitude_m : altitude that the time was worked out for, None for sea level
    days_before : done this many days before serving (a soak, a chill, drying), 0 for the day itself
    longest_s : for a wait that may take anything between two lengths (a rest of 10 to 30 min) the longer of
        them [s]; `duration_s` is the shorter. For cooking that the food ends, by core or cue: the longest
        that it may take beyond the first guess. None where it lasts as long as it lasts
    """

    key: str
    what: str
    attention: Attention
    phase: Phase
    duration_s: float
    end_rule: EndRule = EndRule.CLOCK
    during_offset_s: float | None = None
    end_core_c: float | None = None
    end_cue: str = ""
    appliance: str | None = None
    set_point_c: float | None = None
    power_w: float | None = None
    dial_for_c: float | None = None
    for_altitude_m: float | None = None
    end_kg: float | None = None
    days_before: int = 0
    longest_s: float | None = None

    @property
    def drawn_out(self) -> bool:
        """Whether it is a wait that the cook may draw out."""
        return self.longest_s is not None and self.phase in RANGED_PHASES

    @property
    def slack_s(self) -> float:
        """By how much it may be drawn out at no cost [s]."""
        return max(0.0, (self.longest_s or 0.0) - self.duration_s) if self.drawn_out else 0.0

    @property
    def overrun_s(self) -> float:
        """By how much the food may take longer than the first guess [s]."""
        return max(0.0, (self.longest_s or 0.0) - self.duration_s) if self.phase is Phase.COOK else 0.0


def step_from_record(record: Mapping[str, Any]) -> Step:
    """A step from a plain record, as stored or packaged.

    >>> step_from_record({"key": "a", "what": "Rest", "attention": "free", "phase": "wait", "duration_s": 60}).phase
    <Phase.WAIT: 'wait'>
    """  # noqa: E501
    return Step(
        key=str(record["key"]),
        what=record["what"],
        attention=Attention(record["attention"]),
        phase=Phase(record["phase"]),
        duration_s=float(record["duration_s"]),
        end_rule=EndRule(record.get("end_rule") or "clock"),
        during_offset_s=record.get("during_offset_s"),
        end_core_c=record.get("end_core_c"),
        end_cue=record.get("end_cue") or "",
        appliance=record.get("appliance"),
        set_point_c=record.get("set_point_c"),
        power_w=record.get("power_w"),
        dial_for_c=record.get("dial_for_c"),
        for_altitude_m=record.get("for_altitude_m"),
        end_kg=record.get("end_kg"),
        days_before=int(record.get("days_before") or 0),
        longest_s=record.get("longest_s"),
    )


def chain_of(steps: Sequence[Step]) -> list[tuple[Step, list[Step]]]:
    """Steps of the main chain, each with those done while it goes on, in order of their offset."""
    chain: list[tuple[Step, list[Step]]] = []
    for step in steps:
        if step.during_offset_s is None or not chain:
            chain.append((step, []))
        else:
            chain[-1][1].append(step)
    for _, during in chain:
        during.sort(key=lambda s: (s.during_offset_s or 0.0, s.key))
    return chain


def empty_preheats(steps: Sequence[Step]) -> frozenset[str]:
    """Every preheat with nothing in it, by key: also the first heat's. Begun, it says nothing yet of the
    food.
    """
    found: set[str] = set()
    inside = False
    for step, _ in chain_of(steps):
        match step.phase:
            case Phase.COOK | Phase.LOAD:
                inside = True
            case Phase.OUT:
                inside = False
            case Phase.COME_UP if not inside:
                found.add(step.key)
    return frozenset(found)


def preheats_beside(steps: Sequence[Step]) -> frozenset[str]:
    """Preheats for a later heat, by key: the appliance heats up empty, beside what the food does meanwhile.

    The first heat's preheat stands where it is written. A come-up with the food in it (under pressure, in a
    pan) is none.

    >>> def step(phase, n): return Step(f"{phase}{n}", phase, Attention.FREE, Phase(phase), 60)
    >>> steamed = [step(p, 1) for p in ("come_up", "load", "cook", "out")]
    >>> baked = [step(p, 2) for p in ("come_up", "load", "cook")]
    >>> sorted(preheats_beside([*steamed, *baked]))
    ['come_up2']
    """
    found: set[str] = set()
    cooked = inside = False
    for step, _ in chain_of(steps):
        match step.phase:
            case Phase.COOK:
                cooked = inside = True
            case Phase.LOAD:
                inside = True
            case Phase.OUT:
                inside = False
            case Phase.COME_UP if cooked and not inside:
                found.add(step.key)
    return frozenset(found)


def contiguous(before: Step, after: Step) -> bool:
    """Whether `after` must follow `before` at once: food goes straight into heat and straight out of it.

    A gap is allowed after a preheat (a hot oven keeps), between preparations, and while the food waits.
    What is loaded is heated at once, also where pressure has to come up first. After a wait that may be drawn
    out the next step comes within its range.

    >>> load, cook = (Step(p, p, Attention.HANDS, Phase(p), 60) for p in ("load", "cook"))
    >>> contiguous(load, cook), contiguous(cook, load)
    (True, True)
    """
    if before.drawn_out:
        return False
    return before.phase in (Phase.COOK, Phase.LOAD) or after.phase in (Phase.COOK, Phase.WAIT)


def end_words(step: Step, say_c: Callable[[float], str], say_kg: Callable[[float], str]) -> str:
    """What ends a step, in words; temperatures and weights as the caller says them.

    >>> s = Step("a", "Bake", Attention.FREE, Phase.COOK, 60, EndRule.WEIGHT, end_kg=0.3)
    >>> end_words(s, str, lambda kg: f"{kg * 1000:g} g")
    'weighs 300 g'
    """
    match step.end_rule:
        case EndRule.CORE if step.end_core_c is not None:
            return f"core {say_c(step.end_core_c)}"
        case EndRule.WEIGHT if step.end_kg is not None:
            return f"weighs {say_kg(step.end_kg)}"
        case EndRule.MATCH:
            return f"matches {step.end_cue.strip()}"
        case EndRule.CUE:
            return f"cue: {step.end_cue.strip().lower()}"
    return "clock"


def _wrong_in(step: Step, *, first: bool) -> Iterator[tuple[str, str]]:
    """What is wrong with one step, and what to do."""
    if not step.what.strip():
        yield "has no text", "Say what is done, as in “Turn the tray”."
    try:
        check_range("lasts", step.duration_s, 1, LONGEST_STEP_S, "s")
    except RuleError:
        yield f"lasts {step.duration_s:g} s", "Give it between 1 second and 7 days."
    if step.during_offset_s is not None:
        if first:
            yield "is done during a step, but none comes before", "Move it down."
        elif step.during_offset_s < 0:
            yield "comes before the cooking it belongs to", "Give a time after its start."
    yield from _wrong_in_end(step)
    yield from _wrong_in_range(step)
    if not 0 <= step.days_before <= 30:
        yield f"{step.days_before} days before", "Give 0 to 30 days."


def _wrong_in_end(step: Step) -> Iterator[tuple[str, str]]:
    """An end that says what it goes by, and does not give it."""
    match step.end_rule:
        case EndRule.CORE if step.end_core_c is None:
            yield "ends by core temperature, but none is given", "Type the temperature."
        case EndRule.CUE if not step.end_cue.strip():
            yield "ends by a cue, but none is given", "Say what is seen when it is done."
        case EndRule.WEIGHT if not (step.end_kg and step.end_kg > 0):
            yield "ends by weight, but none is given", "Type the weight it is to come down to."
        case EndRule.MATCH if not step.end_cue.strip():
            yield "ends when it matches a sample, but none is named", "Name the sample on the table."


def _wrong_in_range(step: Step) -> Iterator[tuple[str, str]]:
    """Two times where there may be one only."""
    if step.longest_s is None:
        return
    cooking = step.phase is Phase.COOK and step.during_offset_s is None
    waits = step.phase in RANGED_PHASES and step.attention is Attention.FREE and step.during_offset_s is None
    if step.longest_s < step.duration_s:
        yield "lasts longer at least than at most", "Give the shorter time first."
    elif cooking and step.end_rule is EndRule.CLOCK:
        yield (
            "ends by the clock and has two times",
            "Say what ends it (core, cue, weight, match), or give one time.",
        )
    elif not cooking and not waits:
        yield (
            "cannot last between two times",
            "Only a wait without hands may (a rest, a rise, a soak, a chill), or cooking that the food ends.",
        )


def check_steps(steps: Sequence[Step]) -> list[RuleError]:
    """What is wrong with a method's steps, each naming the step and what to do."""
    found: list[RuleError] = []
    for n, step in enumerate(steps, 1):
        field = f"step {n} ({step.what or 'no name'})"
        found += [RuleError(field, *wrong) for wrong in _wrong_in(step, first=n == 1)]
    for main, during in chain_of(steps):
        for step in during:
            if (step.during_offset_s or 0) + step.duration_s > main.duration_s:
                found.append(
                    RuleError(
                        f"{step.what}",
                        f"does not fit into “{main.what}”",
                        "Let it begin earlier, or cook longer.",
                    )
                )
    return found

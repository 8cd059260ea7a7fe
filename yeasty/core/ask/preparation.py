"""The shared preparation of a trial: what all its methods have in common before they part (make the dough,
soak, shape).

It is written once, counted alike for all, planned and tapped once for all batches of a shift, and stands
first on the page.
"""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Phase, Step, check_steps, step_from_record
from yeasty.core.kernel.words import plain
from yeasty.core.safety.cautions import cautions

# Heat is where methods part: what is prepared for all is work and waiting.
PHASES = (Phase.PREPARE, Phase.WAIT)
MOST_STEPS = 20


@dataclass(frozen=True)
class Preparation:
    """Steps in their order, and hazards of the food while it is prepared (keys of
    `yeasty.core.safety.cautions`).
    """

    steps: tuple[Step, ...] = ()
    hazards: tuple[str, ...] = ()

    def record(self) -> dict[str, Any]:
        """As it is stored."""
        return {"steps": [asdict(s) for s in self.steps], "hazards": list(self.hazards)} if self.steps else {}


def preparation(record: Mapping[str, Any]) -> Preparation:
    """From its record; an empty one is none.

    >>> preparation({}).steps
    ()
    """
    steps = tuple(step_from_record(s) for s in record.get("steps") or ())
    return Preparation(steps, tuple(record.get("hazards") or ()))


def check_preparation(steps: Sequence[Step], hazards: Sequence[str]) -> Preparation:
    """A preparation that can be planned.

    Raises
    ------
    RuleError : names the step and what to do
    """
    if len(steps) > MOST_STEPS:
        raise RuleError("shared preparation", f"{len(steps)} steps", f"Keep it to {MOST_STEPS}.")
    for wrong in check_steps(steps) if steps else ():
        raise wrong
    for n, step in enumerate(steps, 1):
        if step.phase not in PHASES or step.appliance is not None:
            raise RuleError(
                f"step {n} ({step.what})",
                "heats, loads or plates",
                "Only work and waiting is shared; what differs by method belongs to the method.",
            )
        if step.during_offset_s is not None:
            raise RuleError(
                f"step {n} ({step.what})",
                "is done during another",
                "Put it after that one, or make it one step.",
            )
    days = [s.days_before for s in steps]
    if days != sorted(days, reverse=True):
        raise RuleError("shared preparation", "goes back a day", "Put day-before work first.")
    for hazard in hazards:
        if hazard not in cautions():
            raise RuleError(
                "hazard",
                f"{hazard} is not in the table of cautions",
                "Use one of: " + ", ".join(cautions()) + ".",
            )
    return Preparation(tuple(steps), tuple(hazards) if steps else ())


@dataclass(frozen=True)
class Parted:
    """A recipe that joins a trial: what is prepared for all from now on, what the other methods have to do by
    themselves, and what is left of the recipe.
    """

    shared: tuple[Step, ...]
    others: tuple[Step, ...]
    own: tuple[Step, ...]


def part(shared: Sequence[Step], steps: Sequence[Step], *, first: bool) -> Parted:
    """Where a recipe parts from what is prepared for all.

    The first method of a trial brings its preparation along. Of a later one the steps that it has in common,
    in order and in words, are done for all; from the first that differs each does its own, so that it shows
    as a difference.

    Parameters
    ----------
    shared : what is prepared for all so far; steps : of the recipe; first : no other method is there yet

    >>> from yeasty.core.kernel.steps import Attention
    >>> def step(what, phase, s=60.0): return Step(what, what, Attention.HANDS, Phase(phase), s)
    >>> knead, soak, bake = step("Knead", "prepare"), step("Soak", "prepare"), step("Bake", "cook")
    >>> [s.what for s in part((), [knead, bake], first=True).shared]
    ['Knead']
    >>> p = part((knead, soak), [knead, bake], first=False)
    >>> [[s.what for s in some] for some in (p.shared, p.others, p.own)]
    [['Knead'], ['Soak'], ['Bake']]
    """
    opening = []
    for s in steps[:MOST_STEPS]:
        if s.phase not in PHASES or s.appliance is not None or s.during_offset_s is not None:
            break
        opening.append(s)
    # Something has to be left for the method itself.
    opening = opening[: len(steps) - 1]
    if first and not shared:
        return Parted(tuple(opening), (), tuple(steps[len(opening) :]))
    alike = 0
    for a, b in zip(shared, opening, strict=False):
        if (plain(a.what), a.duration_s, a.days_before) != (plain(b.what), b.duration_s, b.days_before):
            break
        alike += 1
    return Parted(tuple(shared[:alike]), tuple(shared[alike:]), tuple(steps[alike:]))

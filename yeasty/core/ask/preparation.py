"""The shared preparation of a trial: what all its methods have in common before they part (make the dough, soak, shape).

It is written once, counted alike for all, planned and tapped once for all batches of a shift, and stands first on the page.
"""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from yeasty.core.cook.steps import Phase, Step, check_steps, step_from_record
from yeasty.core.errors import RuleError
from yeasty.core.safety.cautions import cautions

# Heat is where methods part: what is prepared for all is work and waiting.
PHASES = (Phase.PREPARE, Phase.WAIT)
MOST_STEPS = 20


@dataclass(frozen=True)
class Preparation:
    """Steps in their order, and hazards of the food while it is prepared (keys of `yeasty.core.safety.cautions`)."""

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

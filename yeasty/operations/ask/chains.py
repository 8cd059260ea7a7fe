"""Chains of steps as a layout needs them: joined, cut short, set to a level’s values."""

from collections.abc import Sequence
from dataclasses import replace

from yeasty.core.ask.grid import Level
from yeasty.core.cook.waits import wait_rule
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.steps import Phase

LAST = (Phase.PLATE, Phase.WASH_UP)


def joined(chains: Sequence[Sequence[core_steps.Step]], food: str = "") -> list[core_steps.Step]:
    """Chains one after another; only the last is plated and washed up after.

    Half-cooked food of a kind that has to go straight on does not rest between its heats.
    """
    return [s for n, chain in enumerate(chains) for s in part(chain, food, last=n == len(chains) - 1)]


def part(steps: Sequence[core_steps.Step], food: str, *, last: bool) -> list[core_steps.Step]:
    """What of a technique's chain stays where another follows it."""
    if last:
        return list(steps)
    kept = [s for s in steps if s.phase not in LAST]
    while kept and kept[-1].phase is Phase.WAIT and kept[-1].duration_s > wait_rule(food).half_cooked_s:
        kept.pop()
    return kept


def with_values(steps: Sequence[core_steps.Step], level: Level) -> list[core_steps.Step]:
    """Steps with a level's values on them: set point and power on heat, lengths on cooking and rest."""
    found = list(steps)
    for n, s in enumerate(found):
        if (
            s.phase in (Phase.COOK, Phase.COME_UP)
            and "set_point_c" in level.sets
            and (s.set_point_c is not None or s.phase is Phase.COOK)
        ):
            found[n] = s = replace(s, set_point_c=level.sets["set_point_c"])
        if s.phase is Phase.COOK and "power_w" in level.sets:
            found[n] = s = replace(s, power_w=level.sets["power_w"])
        if s.phase is Phase.COOK and "cook_s" in level.sets:
            found[n] = replace(s, duration_s=level.sets["cook_s"])
        if s.phase is Phase.WAIT and "rest_s" in level.sets:
            found[n] = replace(s, duration_s=level.sets["rest_s"])
    return shortened(found)


def shortened(steps: Sequence[core_steps.Step]) -> list[core_steps.Step]:
    """Work done during a cooking moved to its middle, or left out, where the cooking became too short for
    it.
    """
    found: list[core_steps.Step] = []
    main: core_steps.Step | None = None
    for s in steps:
        if s.during_offset_s is None:
            main = s
        elif main is not None and s.during_offset_s + s.duration_s > main.duration_s:
            if main.duration_s < 2 * s.duration_s:
                continue
            s = replace(s, during_offset_s=float(round(main.duration_s / 2)))
            if (s.during_offset_s or 0) + s.duration_s > main.duration_s:
                continue
        found.append(s)
    return found

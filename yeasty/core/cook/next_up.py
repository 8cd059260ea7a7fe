"""Which of the things that are due comes first for the hands: by urgency, then by least walking.

The same rule runs in the browser (`web/src/bench/nextUp.ts`); both are held to
`tests/vectors/bench_fold.json`.
"""

from collections.abc import Callable, Sequence
from enum import IntEnum

from yeasty.core.cook.bench import ActionType, NextAction
from yeasty.core.kernel.steps import Attention, Phase, Step

# What falls due within this of now is at hand [s].
AT_HAND_S = 30.0
# Things at hand this near to each other may change places to save a walk [s].
TOGETHER_S = 45.0


class Urgency(IntEnum):
    """How much waiting costs: food in the heat first, then what is at hand, then what is to come."""

    HEAT = 0
    AT_HAND = 1
    TO_COME = 2


def urgency(action: NextAction, step: Step, now: float) -> Urgency:
    """How urgent an action is at a moment [s since 1970].

    Taking out, turning, and the end of a cooking or of something watched are work on food in the heat.
    """
    if action.due > now + AT_HAND_S:
        return Urgency.TO_COME
    in_heat = step.phase in (Phase.OUT, Phase.TURN) or (
        action.type is ActionType.CONFIRM
        and (step.phase is Phase.COOK or step.attention is Attention.WATCHED)
    )
    return Urgency.HEAT if in_heat else Urgency.AT_HAND


def in_turn(
    actions: Sequence[NextAction],
    step_of: Callable[[NextAction], Step],
    spot_of: Callable[[NextAction], str],
    now: float,
    here: str,
) -> list[NextAction]:
    """Actions in the order in which the hands should take them.

    `spot_of` tells where an action is done ("" where not known), `here` where the cook was last. Among
    actions of one urgency that fall due within three quarters of a minute of the first, those that need no
    walk come first.
    """
    found: list[NextAction] = []
    for level in Urgency:
        rest = sorted(
            (a for a in actions if urgency(a, step_of(a), now) is level),
            key=lambda a: (a.due, a.batch, a.step),
        )
        place = here
        while rest:
            near = (
                [a for a in rest if a.due <= rest[0].due + TOGETHER_S]
                if level is not Urgency.TO_COME
                else rest[:1]
            )
            best = min(
                near,
                key=lambda a: (
                    bool(place) and bool(spot_of(a)) and spot_of(a) != place,
                    a.due,
                    a.batch,
                    a.step,
                ),
            )
            rest.remove(best)
            found.append(best)
            place = spot_of(best) or place
    return found

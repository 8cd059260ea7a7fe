"""How far a trial is: one word of its own for each state, in the order in which they count."""

from enum import StrEnum


class TrialState(StrEnum):
    """How far a trial is. Where several hold, the first is told: food in the heat waits for nobody."""

    COOKING = "cooking"
    PLANNED = "planned"
    TASTING = "tasting"
    OUT = "out"
    WITHDRAWN = "withdrawn"
    TASTED = "tasted"
    COOKED = "cooked"
    DESIGNED = "designed"


# As the list of trials says it, where it has nothing closer to say.
STATE_WORDS = {
    TrialState.COOKING: "in the heat",
    TrialState.PLANNED: "planned",
    TrialState.TASTING: "being tasted",
    TrialState.OUT: "page out",
    TrialState.WITHDRAWN: "page withdrawn",
    TrialState.TASTED: "tasted, no page yet",
    TrialState.COOKED: "cooked, not tasted",
    TrialState.DESIGNED: "being designed",
}

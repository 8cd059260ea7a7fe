"""How a trial is to be decided, said before it is cooked: school, limits, what breaks a tie, one claim."""

from dataclasses import dataclass, field
from enum import StrEnum


class School(StrEnum):
    """A way of judging."""

    WEIGHTED = "weighted_score"
    RANK = "rank_points"
    PAIRS = "head_to_head"
    FRONTIER = "flavour_for_effort"
    NO_WINNER = "no_winner"


@dataclass(frozen=True)
class Limit:
    """What a way must keep to, by a measure of the log; see `yeasty.core.decide.measured`.

    Attributes
    ----------
    measure : its key
    at_most, at_least : in the measure's own unit, None for no such end
    """

    measure: str
    at_most: float | None = None
    at_least: float | None = None


# A claim of how a face looked: words of the log, laid side by side.
LOOKS = "looks:"

# Least work first: what is usually said where nobody said otherwise. Shown at Ask, changed there.
USUAL_TIES = ("hands_s", "wash_up_s", "total_s", "energy_j", "cost")


@dataclass(frozen=True)
class Deciding:
    """The rules of a trial's answer.

    Attributes
    ----------
    school : by which the answer is given
    ties : measures in the order in which they decide where taste cannot
    limits : what a way must keep to, to be recommended
    claim : a measure of the log that is itself the question, or looks of a face; "" where the kind's own
        question is asked
    effort : the measure that flavour is held against
    said_at : when it was last changed [s since 1970], None where nobody touched it
    """

    school: School = School.WEIGHTED
    ties: tuple[str, ...] = USUAL_TIES
    limits: tuple[Limit, ...] = field(default=())
    claim: str = ""
    effort: str = "total_s"
    said_at: float | None = None

"""Work that takes more than a moment: its kinds, how it can end, and how long it takes by what it took."""

from collections.abc import Sequence
from enum import StrEnum
from statistics import median


class WorkKind(StrEnum):
    """Work that somebody may wait for."""

    PLAN = "plan"
    WHAT_IF = "what_if"
    VERDICT = "verdict"
    PDF = "pdf"
    ARCHIVE = "archive"


class WorkOutcome(StrEnum):
    """How work stands."""

    GOING_ON = ""
    DONE = "done"
    STOPPED = "stopped"


# Before anything was measured in this kitchen [s]: seen on a machine of two cores, and only to begin with.
FIRST_GUESS = {
    WorkKind.PLAN: 5.0,
    WorkKind.WHAT_IF: 12.0,
    WorkKind.VERDICT: 3.0,
    WorkKind.PDF: 5.0,
    WorkKind.ARCHIVE: 4.0,
}


def usual_s(kind: WorkKind, of_subject: Sequence[float], of_kind: Sequence[float]) -> float:
    """How long work of a kind usually takes [s]: the middle of what the same subject took lately, else of
    what others took.

    >>> usual_s(WorkKind.PLAN, [], [4.0, 6.0, 30.0])
    6.0
    >>> usual_s(WorkKind.PLAN, [2.0], [4.0, 6.0])
    2.0
    """
    took = of_subject or of_kind
    return median(took) if took else FIRST_GUESS[kind]

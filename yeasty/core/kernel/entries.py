"""Entries of the bench log: one fact each, never changed. A correction is a new entry that names the old one.

The order of entries is (corrected device time, device, counter); it does not depend on when they arrive.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from yeasty.core.kernel.errors import RuleError


class EntryKind(StrEnum):
    """What an entry says happened."""

    STARTED = "started"
    DONE = "done"
    IN = "in"
    TURNED = "turned"
    OUT = "out"
    TEMPERATURE = "temperature"
    WEIGHT = "weight"
    ENERGY = "energy"
    CUE = "cue"
    PHOTO = "photo"
    NOTE = "note"
    EXTENDED = "extended"
    EFFORT = "effort"
    HANDLING_ERROR = "handling_error"
    VOID = "void"
    WASHED = "washed"
    READY = "ready"
    UNDONE = "undone"
    CONFIRMED = "confirmed"
    LOOKED = "looked"
    TIMER = "timer"
    TIMER_DONE = "timer_done"
    PROBE = "probe"
    RESCUED = "rescued"
    WASH_ITEM = "wash_item"
    FORESEEN = "foreseen"
    CLEARED = "cleared"
    STATED = "stated"
    SIZE = "size"
    TALLY = "tally"


STEP_ENDS = frozenset({EntryKind.DONE, EntryKind.IN, EntryKind.TURNED, EntryKind.OUT})


@dataclass(frozen=True)
class Entry:
    """One fact.

    Parameters
    ----------
    id : made by the client
    batch : which batch, or "" for the shift
    kind : what happened
    at : corrected device time of the tap [s since 1970]; the fact itself may be placed back, see `when`
    device, counter : who wrote it, and its place on that device
    payload : what belongs to the kind; see `payloads`
    supersedes : id of the entry it corrects, which may arrive later, or None
    """

    id: str
    batch: str
    kind: EntryKind
    at: float
    device: str
    counter: int
    payload: Mapping[str, Any]
    supersedes: str | None = None

    @property
    def when(self) -> float:
        """When the fact was so [s]: the tap, or the moment it was placed back to."""
        placed = self.payload.get("at")
        return float(placed) if isinstance(placed, int | float) else self.at


# A tap may be stamped this much ahead of the server, beyond what was measured of its device's clock [s]; a
# moment that somebody typed may be this much ahead of the tap.
CLOCK_ERROR_S = 900.0
TYPED_AHEAD_S = 60.0


def check_moment(at: float, payload: Mapping[str, Any], now: float) -> None:
    """Raise where an entry speaks of what is still to come.

    Parameters
    ----------
    at : corrected device time of the tap; now : moment by the shift's clock at the server [s since 1970]

    >>> check_moment(100.0, {"at": 90.0}, 100.0)
    """
    if at > now + CLOCK_ERROR_S:
        raise RuleError(
            "device_time",
            f"lies {(at - now) / 60:.0f} min ahead",
            "Set the device's clock, then log it again.",
        )
    placed = payload.get("at")
    if isinstance(placed, int | float) and placed > max(at, now) + TYPED_AHEAD_S:
        raise RuleError(
            "at", "lies ahead of now", "Log it when it has happened, or give a moment that is past."
        )


def check_step(kind: EntryKind, payload: Mapping[str, Any], steps: Collection[str]) -> None:
    """Raise where an entry names a step that its batch does not have.

    >>> check_step(EntryKind.STARTED, {"step": "a"}, {"a"})
    """
    step = payload.get("step")
    if step is not None and step not in steps:
        raise RuleError("step", "is not one of this batch", "Reload the bench and tap the step again.")

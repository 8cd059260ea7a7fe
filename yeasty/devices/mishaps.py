"""Mishaps as stand-ins live through them: what is dead, what is held back, what is to be seen."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isinf

from yeasty.core.cook.mishaps import PRESSURE_SHARE, LaidMishap, Mishap


@dataclass(frozen=True)
class Seen:
    """Something that shows: in words, of which batch or of all, and whether it stays so."""

    text: str
    batch: str
    of_batch: bool
    appliances: tuple[str, ...] = ()
    for_good: bool = False


class Mishaps:
    """The mishaps of one rehearsal."""

    def __init__(self, laid: Sequence[LaidMishap]) -> None:
        self.laid = list(laid)
        self._told: set[tuple[Mishap, str]] = set()

    def dead(self, now: float) -> set[str]:
        """Appliances that draw nothing at a moment of the shift [s]."""
        return {a for t in self.laid if t.begin <= now < t.end for a in t.appliances}

    def holds(self, batch: str, step: str, now: float) -> bool:
        """Whether a stand-in who cooks does not tap a step yet: no pressure, or forgotten."""
        held = (Mishap.LATE_PRESSURE, Mishap.FORGOTTEN_TURN)
        return any(t.what in held and (t.batch, t.step) == (batch, step) and now < t.end for t in self.laid)

    def out_of(self, batch: str) -> tuple[float, float] | None:
        """From when to when the probe of a batch lies beside its food [s], None where it stays in."""
        return next(
            ((t.begin, t.end) for t in self.laid if t.what is Mishap.PROBE_OUT and t.batch == batch), None
        )

    def slower(self, batch: str) -> float:
        """By how many times a batch comes up more slowly."""
        late = any(t.what is Mishap.LATE_PRESSURE and t.batch == batch for t in self.laid)
        return 1 + PRESSURE_SHARE if late else 1.0

    def seen(self, now: float) -> list[Seen]:
        """What has come to be seen since it was asked last."""
        found = []
        for t in self.laid:
            one = not t.appliances
            for at, text in ((t.begin, t.say), (t.end, t.after)):
                if text and now >= at and (t.what, text) not in self._told:
                    self._told.add((t.what, text))
                    found.append(Seen(text, t.batch, one, t.appliances, isinf(t.end)))
        return found

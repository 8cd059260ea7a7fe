"""The clock of a shift: the kitchen's own, or a simulated one with its origin and rate."""

from dataclasses import dataclass

from yeasty.core.kernel.errors import RuleError, check_range

SLOWEST, FASTEST = 1.0, 60.0
# Above this rate a plan is old before it is there: plans are then made for a moment ahead.
PLAN_AHEAD_ABOVE = 10.0


@dataclass(frozen=True)
class ShiftClock:
    """What time it is at a bench.

    Attributes
    ----------
    origin : the shift's time at `anchor` [s since 1970]
    anchor : the real moment at which it showed `origin` [s since 1970]
    rate : seconds of the shift to a real second; None for a shift on the kitchen's own clock
    """

    origin: float = 0.0
    anchor: float = 0.0
    rate: float | None = None

    @property
    def simulated(self) -> bool:
        """Whether it is not the kitchen's own."""
        return self.rate is not None

    def at(self, real: float) -> float:
        """The shift's time at a real moment [s since 1970].

        >>> ShiftClock(1000.0, 50.0, 10.0).at(53.0), ShiftClock().at(53.0)
        (1030.0, 53.0)
        """
        return real if self.rate is None else self.origin + (real - self.anchor) * self.rate

    def real(self, at: float) -> float:
        """The real moment at which the shift's clock shows `at` [s since 1970]."""
        return at if self.rate is None else self.anchor + (at - self.origin) / self.rate

    def at_rate(self, rate: float, real: float) -> "ShiftClock":
        """The same clock going on at another rate from a real moment on; it never jumps.

        Raises
        ------
        RuleError : the shift is on the kitchen's own clock, or a rate out of 1 to 60

        >>> c = ShiftClock(1000.0, 50.0, 10.0).at_rate(2.0, 53.0)
        >>> c.at(53.0), c.at(54.0)
        (1030.0, 1032.0)
        """
        if self.rate is None:
            raise RuleError("speed", "belongs to simulated time", "Make a shift on simulated time first.")
        check_range("speed", rate, SLOWEST, FASTEST, "times")
        return ShiftClock(self.at(real), real, rate)

    def ahead_s(self, planning_s: float) -> float:
        """How far ahead a plan is made that takes so long to make [s of the shift]; nought up to ten times.

        >>> ShiftClock(0, 0, 60.0).ahead_s(1.5), ShiftClock(0, 0, 10.0).ahead_s(1.5)
        (90.0, 0.0)
        """
        return planning_s * self.rate if self.rate is not None and self.rate > PLAN_AHEAD_ABOVE else 0.0

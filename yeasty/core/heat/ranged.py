"""A figure with its range, for rules of thumb: how far it may be off, and where it comes from."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Ranged:
    """A value, the range it may lie in, and its source in words. `low` and `high` hold the value between
    them.
    """

    value: float
    low: float
    high: float
    source: str

    def times(self, factor: float, source: str = "") -> "Ranged":
        """The figure multiplied by a number above zero.

        >>> Ranged(2, 1, 3, "a rule").times(10).high
        30
        """
        words = f"{source}; {self.source}" if source else self.source
        return Ranged(self.value * factor, self.low * factor, self.high * factor, words)

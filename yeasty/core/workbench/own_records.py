"""The kitchen's own records correct a rule of thumb, shrunk towards the rule while they are few.

A rule's error in this kitchen is taken as one factor for all uses: its logarithm is normal around zero, as
wide as the rule's own range; each record is that factor with a spread of its own. With few records the answer
stays near the rule, with many it goes to the data. Source: the normal model with a normal prior.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite, log, sqrt

from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import RuleError, check_range
from yeasty.core.workbench.rules import from_geometric, geometric

# Spread from cooking to cooking where there are too few records to tell [log].
USUAL_SPREAD = 0.10


@dataclass(frozen=True)
class Record:
    """What a rule said and what was so, in the same unit, both above zero; `simulated` ones teach nothing."""

    predicted: float
    observed: float
    simulated: bool = False


@dataclass(frozen=True)
class Corrected:
    """A rule's answer, corrected.

    Attributes
    ----------
    rule : what the rule said; value : with the kitchen's records
    records : how many were used; weight : share that they have against the rule [-]
    factor : this kitchen against the rule [-]
    """

    rule: Ranged
    value: Ranged
    records: int
    weight: float
    factor: float
    sentence: str


def correct(rule: Ranged, records: Sequence[Record]) -> Corrected:
    """Correct a rule by the kitchen's records.

    Raises
    ------
    RuleError : a record that is not above zero

    >>> c = correct(Ranged(100, 75, 133, "rule"), [Record(100, 120)] * 2)
    >>> round(c.value.value), c.records
    (117, 2)
    >>> correct(Ranged(100, 75, 133, "rule"), [Record(100, 120, simulated=True)]).value.value
    100
    """
    real = [r for r in records if not r.simulated]
    for r in real:
        if not (isfinite(r.predicted) and isfinite(r.observed)) or r.predicted <= 0 or r.observed <= 0:
            raise RuleError("record", f"said {r.predicted:g}, was {r.observed:g}", "Both must be above zero.")
        check_range("record against the rule", r.observed / r.predicted, 0.1, 10, "times")
    if not real:
        return Corrected(rule, rule, 0, 0.0, 1.0, "By the rule alone: no records of this kitchen yet.")
    middle, prior_sd = geometric(rule)
    ratios = [log(r.observed / r.predicted) for r in real]
    n = len(ratios)
    mean = sum(ratios) / n
    # The spread is pooled with the usual one, which counts as four records.
    squares = sum((x - mean) ** 2 for x in ratios)
    spread = sqrt((squares + 4 * USUAL_SPREAD**2) / (n - 1 + 4))
    weight = prior_sd**2 / (prior_sd**2 + spread**2 / n)
    shift = weight * mean
    left = sqrt(prior_sd**2 * (1 - weight) + spread**2)
    value = from_geometric(
        middle + shift, left, f"{rule.source}; {n} record{'' if n == 1 else 's'} of this kitchen"
    )
    said = (
        f"By the rule and {n} record{'' if n == 1 else 's'} of this kitchen, which count {weight:.0%}: "
        f"{from_geometric(shift, 0, '').value:.2f} times the rule."
    )
    return Corrected(rule, value, n, weight, from_geometric(shift, 0, "").value, said)

"""May it be tasted: a batch is let through only when everything asked of it is known and met, or the lead
owns it.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from yeasty.core.safety.clock import ZoneTime
from yeasty.core.safety.core_minimum import CoreResult, CoreStanding


@dataclass(frozen=True)
class Gate:
    """Whether a batch may be tasted.

    Attributes
    ----------
    open : it may
    barred_by : sentences, each a reason it may not; empty where it may
    owned : the lead's written reason that lets it through all the same, or ""
    tells : sentences to show though it may be tasted
    may_be_owned : whether the lead may let it through in writing
    """

    open: bool
    barred_by: tuple[str, ...]
    owned: str
    tells: tuple[str, ...]
    may_be_owned: bool = True


def gate(
    food_stated: bool,
    core: CoreResult | None,
    zone: ZoneTime | None,
    owned: str = "",
    bars: Sequence[str] = (),
    *,
    never: Sequence[str] = (),
    tells: Sequence[str] = (),
    meant: str = "",
) -> Gate:
    """The gate before tasting.

    Food that was read to be past the time for throwing away stays barred, owned or not.

    Parameters
    ----------
    food_stated : whether the kind of food is stated; where not, what is asked of it is not known
    core, zone : how the batch stands; None where the kind of food is not stated
    owned : the lead's reason for letting it through
    bars : other reasons it may not be tasted; never : reasons that nobody may own
    tells : other sentences to show
    meant : the kitchen's written rule where it is meant pink, soft or raw: then its core does not bar

    >>> gate(False, None, None).open
    False
    """
    reasons = [*never, *bars]
    shown = list(tells)
    final = bool(never)
    if not food_stated:
        reasons.append("The kind of food is not stated at Set up, so what its core needs is not known.")
    if core is not None:
        if core.standing in (CoreStanding.UNKNOWN, CoreStanding.BELOW):
            if meant:
                shown.append(f"Meant so by the kitchen's written rule: {meant} {core.sentence}")
            else:
                reasons.append(core.sentence)
        elif core.standing is CoreStanding.MEETS:
            shown.append(core.sentence)
    if zone is not None:
        if zone.late == "discard":
            reasons.append(zone.sentence)
            final = final or not zone.guessed
        elif zone.late:
            reasons.append(zone.sentence)
        elif zone.spent_s:
            shown.append(zone.sentence)
    if reasons and owned.strip() and not final:
        return Gate(True, (), owned.strip(), (*reasons, *shown))
    return Gate(not reasons, tuple(reasons), "", tuple(shown), not final)

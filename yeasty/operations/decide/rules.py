"""How a trial is decided, kept; and what fits tonight."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from yeasty.core.ask.deciding import LOOKS, Deciding, Limit
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.outcome import Outcome
from yeasty.core.decide.rules import broken, limit_words
from yeasty.core.kernel.errors import RuleError
from yeasty.operations.ask import designs
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now


def set_deciding(trial: Trial, wanted: Deciding) -> None:
    """Keep how a trial is decided, and when that was said.

    Raises
    ------
    RuleError : a measure that no log tells, a limit without an end, one tie rule twice
    """
    for key in wanted.ties:
        _known("ties", key)
    _known("effort", wanted.effort)
    if wanted.claim and not wanted.claim.startswith(LOOKS):
        _known("claim", wanted.claim)
    if len(set(wanted.ties)) != len(wanted.ties):
        raise RuleError("ties", "name one measure twice", "Put each measure once, in its order.")
    check_limits(wanted.limits)
    if replace(wanted, said_at=trial.deciding.said_at) == trial.deciding:
        return
    trial.deciding = replace(wanted, said_at=now().timestamp())
    designs.touch(trial)


def check_limits(limits: Sequence[Limit]) -> None:
    """Whether limits can be kept to.

    Raises
    ------
    RuleError : a measure that no log tells, no end, ends crossed, one measure twice
    """
    seen = set()
    for x in limits:
        _known("limits", x.measure)
        if x.measure in seen:
            raise RuleError("limits", f"{limit_words(x)} comes twice", "Give each measure one limit.")
        seen.add(x.measure)
        if x.at_most is None and x.at_least is None:
            raise RuleError("limits", f"{limit_words(x)} has no end", "Say at most or at least how much.")
        if x.at_most is not None and x.at_least is not None and x.at_least > x.at_most:
            raise RuleError("limits", f"{limit_words(x)} leaves nothing", "Swap the two ends.")


def _known(field: str, key: str) -> None:
    if measure_of(key) is None:
        raise RuleError(field, f"“{key}” is no measure of the log", "Choose one of the list.")


@dataclass(frozen=True)
class Fits:
    """A way tonight: whether it fits, and why not; what is not known of it counts as not fitting."""

    method: str
    fits: bool
    why_not: Sequence[str]


def tonight(trial: Trial, outcome: Outcome, limits: Sequence[Limit]) -> list[Fits]:
    """Which ways fit what there is tonight, as they were measured; what was never cooked fits nothing."""
    check_limits(limits)
    by_log = {m.key: m.values for m in outcome.measures}
    cooked = {m.method for m in outcome.methods if m.servings}
    unsafe = {m.method for m in outcome.methods if any(b.complete and b.core_met is False for b in m.batches)}
    found = []
    for m in trial.methods:
        key = str(m.id)
        why = broken(limits, key, by_log) if key in cooked else ["never cooked to the end"]
        if key in unsafe:
            why = ["its core temperature is not on record as reached", *why]
        found.append(Fits(key, not why, why))
    return found

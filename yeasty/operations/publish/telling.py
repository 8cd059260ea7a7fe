"""What may be told to readers: methods that were cooked, met what their food needs, and are not barred by a
hazard.

The gate before anybody reads. It stands on the records as they were when the food was tasted and as they are
now: what was put right after eating never opens it backwards. What the lead owned in writing was for tasting
only.
"""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.cook.measures import BatchMeasures, Standing, core_words
from yeasty.core.safety.cautions import cautions
from yeasty.core.safety.core_minimum import CoreStanding
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.safety.batches import BatchSafety, safety_of_trial
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Batch
from yeasty.store.taste.tables import Sample, Tasting

NEVER_COOKED = "It was never cooked to the end here."
FAILED = (CoreStanding.UNKNOWN, CoreStanding.BELOW)


@dataclass(frozen=True)
class Telling:
    """What may be told of a trial.

    Attributes
    ----------
    unfit : method to why it may not be recommended
    says : sentences that the page has to say
    warned : methods that somebody could be hurt by: told as a warning and never as something to cook
    """

    unfit: Mapping[uuid.UUID, str]
    says: tuple[str, ...]
    warned: frozenset[uuid.UUID] = frozenset()


def telling(db: Session, trial: Trial, at: float | None = None) -> Telling:
    """Which methods of a trial may not be told to readers, and why; what the page has to say all the same.

    `at` is the moment it stands for [s since 1970], else now.
    """
    measured = trial_measures(db, trial.id)
    batches = [b for b, _ in measured]
    at = now().timestamp() if at is None else at
    standing = safety_of_trial(db, trial.id, batches, at)
    tasted = tasted_at(db, [b.id for b in batches])
    eaten = safety_of_trial(db, trial.id, batches, at, known_at=tasted) if tasted else standing
    unfit = {}
    says = []
    warned = set()
    for method in trial.methods:
        mine = [(b, m) for b, m in measured if b.method_id == method.id]
        judged = [(b, m) for b, m in mine if m.standing is Standing.JUDGED and m.complete]
        danger = _danger(trial, method)
        why = danger or _why_not(trial, method, mine, standing, eaten)
        if why:
            unfit[method.id] = why
        if danger or (why and judged):
            warned.add(method.id)
        for b, m in mine:
            if m.standing is not Standing.SIMULATED and standing[b.id].owned and b.id in tasted:
                says.append(
                    f"{method.name}, batch {b.replicate}: it was let through to tasting on the lead's own "
                    f"written "
                    "responsibility; that is no recommendation."
                )
        if method.meant and method.meant.get("rule"):
            says.append(f"{method.name}: {method.meant['rule']} Not for: {method.meant['not_for']}.")
    return Telling(unfit, tuple(says), frozenset(warned))


def tasted_at(db: Session, batch_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, datetime]:
    """Batch to when it was first served: what was laid ready before the heat was not eaten then."""
    rows = db.execute(
        select(Sample.batch_id, func.min(Tasting.served_at))
        .join(Tasting, Tasting.id == Sample.tasting_id)
        .where(Sample.batch_id.in_(batch_ids), Tasting.served_at.is_not(None))
        .group_by(Sample.batch_id)
    )
    return {batch: at for batch, at in rows if batch is not None and at is not None}


def _danger(trial: Trial, method: Method) -> str:
    """Why a method is for no page whatever was cooked: a hazard that is never told as something to do."""
    never = [cautions()[h] for h in hazards_of_method(trial, method) if cautions()[h].publishing == "never"]
    return f"It is not for publishing: {never[0].text}" if never else ""


def _why_not(
    trial: Trial,
    method: Method,
    mine: Sequence[tuple[Batch, BatchMeasures]],
    standing: Mapping[uuid.UUID, BatchSafety],
    eaten: Mapping[uuid.UUID, BatchSafety],
) -> str:
    real = [(b, m) for b, m in mine if m.standing is not Standing.SIMULATED]
    judged = [(b, m) for b, m in real if m.standing is Standing.JUDGED and m.complete]
    if not judged:
        if any(m.standing is Standing.VOID for _, m in real):
            return "Its only cooking is void."
        if any(m.standing is Standing.HANDLING_ERROR for _, m in real):
            return "It was cooked only with a handling error."
        return NEVER_COOKED
    if trial.food_class == "shelf_stable":
        return "Dried, cured and shelf-stable food is judged by figures this program does not have."
    for b, m in judged:
        meant = bool(method.meant and method.meant.get("rule"))
        if m.core_met is False and not meant:
            return (
                f"Batch {b.replicate}: its core target of {m.core_target_c:g} °C is not on record, "
                f"{core_words(m)}."
            )
        for s in (standing[b.id], eaten[b.id]):
            if s.core is None:
                return "The kind of food is not stated, so what its core needs is not known."
            if s.core.standing in FAILED and not meant:
                late = "" if s is standing[b.id] else " That was how it stood when it was tasted."
                return f"Batch {b.replicate}: {s.core.sentence}{late}"
            blocked = [a.bar for a in s.unanswered]
            if blocked:
                return f"Batch {b.replicate}: {blocked[0]}"
    return ""

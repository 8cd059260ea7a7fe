"""Picking a claim, and withdrawing one."""

import uuid
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.decide.outcome import Claimable, ClaimTold, Outcome
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.operations.decide.decisions import Decision, decision_of
from yeasty.operations.kitchen.taking_away import take_away
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.decide.queries import claims_of
from yeasty.store.decide.tables import Claim

MOST_CLAIMS = 40


@dataclass(frozen=True)
class Claims:
    """What is claimed, and what may be; `fresh` : whether that is still what the records say."""

    fresh: bool
    claims: Sequence[ClaimTold]
    claimable: Sequence[Claimable]


def claims_now(db: Session, trial: Trial) -> Claims:
    """Claims of a trial as Decide told them last; those withdrawn since are left out."""
    said = decision_of(db, trial.id)
    if said.outcome is None:
        return Claims(said.fresh, (), ())
    kept = claims_kept(db, trial.id, said.outcome)
    return Claims(said.fresh, kept, said.outcome.claimable)


def claims_kept(db: Session, trial_id: uuid.UUID, outcome: Outcome) -> list[ClaimTold]:
    """Claims as they were told last, without those withdrawn since."""
    here = {str(row.id) for row in claims_of(db, trial_id)}
    return [c for c in outcome.claims if c.id in here]


def pick(db: Session, trial: Trial, measure: str, subject: uuid.UUID, other: uuid.UUID | None) -> Claim:
    """Claim something that the records carry.

    Raises
    ------
    RuleError : the verdict is being worked out, or there are too many
    Refused : the records do not carry it; the reason is told
    """
    rows = claims_of(db, trial.id)
    if len(rows) >= MOST_CLAIMS:
        raise RuleError("claims", f"are {len(rows)} already", "Withdraw one that matters less.")
    said = decision_of(db, trial.id)
    # One that falls with the next look at the records is told so there.
    if said.outcome is None:
        raise RuleError("claim", "cannot be looked at yet: the verdict is being worked out", "Try again.")
    found = _claimable(said, measure, {str(subject), *([str(other)] if other else [])}, alone=other is None)
    if found is None:
        raise Refused(
            "claim",
            "does not stand on what was cooked and tasted here",
            "Pick one of those offered: measures that every way has, ways that were cooked.",
        )
    if not found.stands:
        raise Refused(
            "claim", found.why_not.rstrip("."), "Claim what stands, or write it as the kitchen's opinion."
        )
    if any((r.measure, {r.subject_id, r.other_id}) == (measure, {subject, other}) for r in rows):
        raise RuleError("claim", "is claimed already", "Pick another.")
    row = Claim(
        trial_id=trial.id,
        measure=found.measure,
        subject_id=uuid.UUID(found.subject),
        other_id=uuid.UUID(found.other) if found.other else None,
        made_at=now(),
    )
    db.add(row)
    db.flush()
    return row


def _claimable(said: Decision, measure: str, ways: set[str], *, alone: bool) -> Claimable | None:
    """What was picked among what may be; the order of a pair does not matter."""
    if said.outcome is None:
        return None
    return next(
        (
            c
            for c in said.outcome.claimable
            if c.measure == measure
            and (c.other is None) == alone
            and {c.subject, *([c.other] if c.other else [])} == ways
        ),
        None,
    )


def withdraw_claim(db: Session, trial: Trial, claim_id: uuid.UUID, by: uuid.UUID) -> None:
    """Claim it no longer. `by` : whose account.

    Raises
    ------
    LookupError : there is no such claim of this trial
    """
    row = next((r for r in claims_of(db, trial.id) if r.id == claim_id), None)
    if row is None:
        raise LookupError(f"claim {claim_id} is none of this trial")
    take_away(db, row, "the claim", by, trial.id)

"""What the rounds of opened tastings tell: worked out in the worker, kept, read back as it was written."""

import uuid
from dataclasses import dataclass, field

from pydantic import TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from yeasty.core.taste.tests import TESTS
from yeasty.core.taste.tests.kind import Found
from yeasty.operations.decide.decisions import is_fresh, keep, kept_analysis
from yeasty.operations.taste.answers import rounds_of
from yeasty.store.taste.queries import changed_answers, opened_tastings

TASTE = "taste"


@dataclass(frozen=True)
class FoundInTasting:
    """What one tasting tells: each round by its place; how many people, how many of them knew which is which,
    how many answers were changed after more bites.
    """

    rounds: dict[int, Found]
    people: int
    knowing: int
    changed: int


@dataclass(frozen=True)
class Findings:
    """What the opened tastings of a trial tell, by their ids."""

    tastings: dict[str, FoundInTasting] = field(default_factory=dict)


_ADAPTER = TypeAdapter(Findings)


def work_out(db: Session, trial_id: uuid.UUID) -> Findings:
    """Every round of every opened tasting, by its own test."""
    found = {}
    for tasting in opened_tastings(db, trial_id):
        if tasting.stopped_at is not None:
            continue
        rounds = rounds_of(db, tasting)
        who = {(g.who, g.blind) for r in rounds for g in r.given}
        found[str(tasting.id)] = FoundInTasting(
            {n: TESTS[r.test].analyse(r) for n, r in enumerate(rounds)},
            len({w for w, _ in who}),
            len({w for w, blind in who if not blind}),
            changed_answers(db, [s.id for s in tasting.seats]),
        )
    return Findings(found)


def find(db: Session, trial_id: uuid.UUID) -> None:
    """Work out and keep."""
    keep(db, trial_id, TASTE, lambda: _ADAPTER.dump_python(work_out(db, trial_id), mode="json"))


def found_of(db: Session, trial_id: uuid.UUID) -> tuple[Findings, bool]:
    """What was found last, and whether it is still that of the records; what no longer fits is nothing."""
    kept = kept_analysis(db, trial_id, TASTE)
    if kept is None:
        return Findings(), False
    try:
        return _ADAPTER.validate_python(kept.result), is_fresh(db, kept)
    except ValidationError:
        return Findings(), False

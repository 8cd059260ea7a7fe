"""What the rounds of opened tastings told when it was worked out last, read back as it was kept."""

import uuid
from dataclasses import dataclass, field

from pydantic import TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from yeasty.core.taste.tests.kind import Found
from yeasty.operations.decide.decisions import is_fresh, kept_analysis

TASTE = "taste"


@dataclass(frozen=True)
class FoundInTasting:
    """What one tasting tells: each round by its place; how many people, how many of them knew which is which,
    how many answers were changed after more bites; whether a guess in it shows that it was `not_blind`, and
    what it tells of that; what was not alike on the table.
    """

    rounds: dict[int, Found]
    people: int
    knowing: int
    changed: int
    not_blind: bool
    blindness: tuple[str, ...]
    table: tuple[str, ...]


@dataclass(frozen=True)
class Findings:
    """What the opened tastings of a trial tell, by their ids."""

    tastings: dict[str, FoundInTasting] = field(default_factory=dict)


ADAPTER = TypeAdapter(Findings)


def found_of(db: Session, trial_id: uuid.UUID) -> tuple[Findings, bool]:
    """What was found last, and whether it is still that of the records; what no longer fits is nothing."""
    kept = kept_analysis(db, trial_id, TASTE)
    if kept is None:
        return Findings(), False
    try:
        return ADAPTER.validate_python(kept.result), is_fresh(db, kept)
    except ValidationError:
        return Findings(), False

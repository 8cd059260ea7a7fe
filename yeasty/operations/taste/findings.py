"""What the rounds of opened tastings tell: worked out in the worker, kept, read back as it was written."""

import uuid
from dataclasses import dataclass, field

from pydantic import TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from yeasty.core.taste.cups import Protocol
from yeasty.core.taste.leak import leak_check
from yeasty.core.taste.tests import TESTS
from yeasty.core.taste.tests.kind import Found
from yeasty.operations.decide.decisions import is_fresh, keep, kept_analysis
from yeasty.operations.taste.answers import alike_in, rounds_of
from yeasty.operations.taste.panels import names_of_methods
from yeasty.operations.taste.serving import ages_told
from yeasty.store.taste.queries import changed_answers, opened_tastings
from yeasty.store.taste.tables import Tasting

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


_ADAPTER = TypeAdapter(Findings)


def work_out(db: Session, trial_id: uuid.UUID) -> Findings:
    """Every round of every opened tasting, by its own test."""
    found = {}
    for tasting in opened_tastings(db, trial_id):
        if tasting.stopped_at is not None:
            continue
        rounds = rounds_of(db, tasting)
        who = {(g.who, g.blind) for r in rounds for g in r.given}
        told = [TESTS[r.test].analyse(r) for r in rounds]
        known, blindness = leak_check(rounds, told)
        found[str(tasting.id)] = FoundInTasting(
            dict(enumerate(told)),
            len({w for w, _ in who}),
            len({w for w, blind in who if not blind}),
            changed_answers(db, [s.id for s in tasting.seats]),
            known,
            (*_how_blind(tasting), *blindness),
            tuple(_on_the_table(db, tasting)),
        )
    return Findings(found)


PROTOCOL_TOLD = {
    Protocol.ALONE: "Nobody plated: letters under shuffled cups were read off after every answer was sealed.",
    Protocol.HELPER: "A helper placed the samples and said which was which after every answer was sealed.",
}


def _how_blind(tasting: Tasting) -> list[str]:
    """How codes were kept, and what no cup could hide."""
    told = [PROTOCOL_TOLD[p]] if (p := Protocol(tasting.protocol)) in PROTOCOL_TOLD else []
    shows = [f"{c.batch.method.name}: {c.shows}" for c in tasting.cups if c.shows]
    if shows:
        told.append(
            f"What no cup could hide: {'; '.join(sorted(shows))}. Who knows the ways may have known these."
        )
    return told


def _on_the_table(db: Session, tasting: Tasting) -> list[str]:
    """What was not alike when it was served: pieces, states, ages, warmth."""
    names = names_of_methods(db, tasting.trial_id)
    lines = [line for row in tasting.rounds for line in alike_in(row, names).lines]
    return [*dict.fromkeys(lines), *ages_told(db, tasting)]


def find(db: Session, trial_id: uuid.UUID) -> Findings:
    """Work out and keep."""
    kept = keep(db, trial_id, TASTE, lambda: _ADAPTER.dump_python(work_out(db, trial_id), mode="json"))
    return _ADAPTER.validate_python(kept)


def found_of(db: Session, trial_id: uuid.UUID) -> tuple[Findings, bool]:
    """What was found last, and whether it is still that of the records; what no longer fits is nothing."""
    kept = kept_analysis(db, trial_id, TASTE)
    if kept is None:
        return Findings(), False
    try:
        return _ADAPTER.validate_python(kept.result), is_fresh(db, kept)
    except ValidationError:
        return Findings(), False

"""What the rounds of opened tastings tell, worked out in the worker: it loads the scientific libraries."""

import uuid
from dataclasses import replace

from sqlalchemy.orm import Session

from yeasty.core.taste.cups import Protocol
from yeasty.core.taste.dprime import SHARE_RIGHT, how_far_apart
from yeasty.core.taste.leak import leak_check
from yeasty.core.taste.rounds import Round
from yeasty.core.taste.tests import TESTS
from yeasty.core.taste.tests.kind import Found
from yeasty.operations.decide.decisions import keep
from yeasty.operations.taste.findings import ADAPTER, TASTE, Findings, FoundInTasting
from yeasty.operations.taste.gathered import alike_in, rounds_of
from yeasty.operations.taste.panels import names_of_methods
from yeasty.operations.taste.serving import ages_told
from yeasty.store.taste.queries import changed_answers, opened_tastings
from yeasty.store.taste.tables import Tasting


def work_out(db: Session, trial_id: uuid.UUID) -> Findings:
    """Every round of every opened tasting, by its own test."""
    found = {}
    for tasting in opened_tastings(db, trial_id):
        if tasting.stopped_at is not None:
            continue
        rounds = rounds_of(db, tasting)
        who = {(g.who, g.blind) for r in rounds for g in r.given}
        told = [_analysed(r) for r in rounds]
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


def _analysed(r: Round) -> Found:
    """What a round tells, by its own test; where answers are right or wrong, with how far apart they lie."""
    found = TESTS[r.test].analyse(r)
    if r.test not in SHARE_RIGHT or not found.of or found.right is None:
        return found
    return replace(found, lines=(*found.lines, how_far_apart(r.test, found.right, found.of)))


def find(db: Session, trial_id: uuid.UUID) -> Findings:
    """Work out and keep."""
    kept = keep(db, trial_id, TASTE, lambda: ADAPTER.dump_python(work_out(db, trial_id), mode="json"))
    return ADAPTER.validate_python(kept)

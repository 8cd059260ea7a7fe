"""What taste tests that give no scores told: a preference, an order, what was told apart."""

from collections.abc import Container

from sqlalchemy.orm import Session

from yeasty.core.decide.outcome import HowSure, ScopeTold
from yeasty.core.taste.leak import CHECKS
from yeasty.core.taste.rounds import TestKey
from yeasty.core.taste.tests import TESTS
from yeasty.core.taste.tests.kind import Found
from yeasty.operations.taste.findings import Findings
from yeasty.store.ask.tables import Trial
from yeasty.store.taste.queries import opened_tastings
from yeasty.store.taste.tables import TasteRound

# Scores are the verdict's own; guesses at which is which are told as how blind it was.
OF_THEIR_OWN = frozenset(TESTS) - {TestKey.SCORED, *CHECKS}


def tests_told(
    db: Session, trial: Trial, found: Findings, leader: str | None, counted: Container[str]
) -> list[ScopeTold]:
    """What each such round of the opened tastings told, and whether people put another way in front than the
    verdict's `leader`. `counted` : batches that are judged; a round of others says so and turns nothing.
    """
    opened = [t for t in opened_tastings(db, trial.id) if str(t.id) in found.tastings]
    told = []
    for tasting in opened:
        by_round = found.tastings[str(tasting.id)].rounds
        for n, row in enumerate(tasting.rounds):
            if n in by_round and TestKey(row.test) in OF_THEIR_OWN:
                name = _name(row, tasting.name if len(opened) > 1 else "")
                aside = any(s.batch_id and str(s.batch_id) not in counted for s in row.samples)
                ways = {str(s.batch.method_id) for s in row.samples if s.batch}
                told.append(_told(name, by_round[n], leader, ways, aside=aside))
    return told


def _told(name: str, f: Found, leader: str | None, ways: Container[str], *, aside: bool) -> ScopeTold:
    """Nothing of it is clear of ways: it speaks of the cookings that were on the table. Two of the `ways` say
    nothing of a leader that did not stand beside them, nor does what was not cooked here.
    """
    words = f.headline.removesuffix(".") + (", with a cooking that is set aside" if aside else "")
    first = f.prefers if f.prefers in ways and not aside else ""
    return ScopeTold(
        name,
        words,
        HowSure.LEANING if first else HowSure.LEVEL,
        first or None,
        bool(first and leader in ways and first != leader),
    )


def _name(row: TasteRound, tasting: str) -> str:
    """What was asked, of what, and at which tasting where there were several."""
    of = [w.strip() for w in (row.part, row.condition, tasting) if w.strip()]
    return f"Asked “{TESTS[TestKey(row.test)].name}”" + (f" ({', '.join(of)})" if of else "")

"""What the last verdicts leave open: things to try that nobody has put on the list yet."""

from sqlalchemy.orm import Session

from yeasty.core.decide.outcome import HowSure, Outcome
from yeasty.operations.decide.decisions import latest_outcomes
from yeasty.store.ask.tables import Trial
from yeasty.store.publish.promises import open_promises

LOOK_BACK, MOST_GAPS = 20, 2


def what_next(db: Session, most: int = 12) -> list[tuple[str, Trial]]:
    """What the list does not hold yet: leaders not told from the next, gaps in what was measured."""
    on_list = {(p.trial_id, p.text) for p in open_promises(db, closed=True)}
    found = [
        (text, db.get_one(Trial, trial_id))
        for trial_id, outcome in latest_outcomes(db, LOOK_BACK)
        for text in _left_open(outcome)
        if (trial_id, text) not in on_list
    ]
    return found[:most]


def _left_open(outcome: Outcome) -> list[str]:
    texts = [f"Weigh or read what is missing: {g}" for g in outcome.gaps[:MOST_GAPS]]
    said = outcome.answer
    if said.leader and said.how_sure is not HowSure.CLEAR:
        texts.insert(0, f"Cook the leader and the runner-up again: {said.how_sure.value} so far")
    return texts

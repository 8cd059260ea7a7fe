"""The kitchen's own spread of batches: earlier trials of a dish stand in a later verdict, and only they."""

from datetime import timedelta

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from tests.conftest import session
from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.entries import EntryKind
from yeasty.demo.evening import Ask, Evening, finish
from yeasty.operations.decide.analysis import analyse
from yeasty.operations.decide.decisions import is_fresh, kept_analysis, outcome_of
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.queries import append_entries, kitchen_entry
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.kitchen.tables import Appliance


def an_evening(db: Session, title: str, ago: int, asks: str = "Softness", **more: object) -> Trial:
    """A finished trial of rice cakes, three ways."""
    appliances = {a.kind: a for a in db.scalars(select(Appliance))}
    lead = db.scalars(select(Account).where(Account.login == "lead")).one()
    people = [Person(name=f"{title} {n}") for n in range(8)]
    db.add_all(people)
    db.flush()
    ways = tuple(("griddle", f"Way {n}", f"W{n}") for n in range(3))
    spec = Evening(
        title,
        "rice cakes",
        TrialKind.SIDE_BY_SIDE,
        "Which is softest?",
        "Softness.",
        ways,
        (Ask(asks, 1.0, "hard", "soft", (6.0, 5.2, 4.8)),),
        **{"days": 4, **more},  # type: ignore[arg-type]
    )
    finish(db, spec, appliances, (lead, people), now() - timedelta(days=ago), 4000 + ago)
    return db.scalars(select(Trial).where(Trial.title == title)).one()


def stands_on(db: Session, trial: Trial) -> str:
    db.expire_all()
    analyse(db, trial.id)
    outcome = outcome_of(db, trial.id)
    assert outcome is not None
    return outcome.verdicts[School.WEIGHTED].sentences[0].stands_on


def test_earlier_trials_of_the_dish_that_asked_the_same_are_what_a_verdict_stands_on(demo_url: str) -> None:
    with session(demo_url) as db:
        first = an_evening(db, "Rice cakes, first", 40)
        an_evening(db, "Rice cakes, other question", 30, "Colour")
        later = an_evening(db, "Rice cakes, again", 20, days=1)
        assert "is taken from 1 earlier trial of this dish" in stands_on(db, later)
        assert "earlier" not in stands_on(db, first), "what came after is no earlier trial"

        kept = kept_analysis(db, later.id)
        assert is_fresh(db, kept)
        shift = db.scalars(select(Shift).where(Shift.trial_id == first.id)).first()
        assert shift is not None
        why = {"why": "the griddle was not level"}
        for batch in shift.batches:
            append_entries(db, shift.id, [kitchen_entry(batch, EntryKind.VOID, why, None)])
        db.flush()
        assert not is_fresh(db, kept_analysis(db, later.id)), "what it stands on has changed"
        assert "is assumed" in stands_on(db, later), "two evenings of it tell too little"


@pytest.mark.parametrize("what", ["dish", "simulated"])
def test_another_dish_or_a_rehearsal_tells_nothing_of_it(demo_url: str, what: str) -> None:
    with session(demo_url) as db:
        first = an_evening(db, "Rice cakes, first", 40)
        later = an_evening(db, "Rice cakes, again", 20, days=1)
        if what == "dish":
            first.dish = "semolina flatbread"
        else:
            first.simulated = True
        db.flush()
        assert "is assumed" in stands_on(db, later)

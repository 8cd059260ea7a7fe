"""How far batches of one way lie apart in this kitchen, from its earlier trials of a dish."""

from collections.abc import Sequence
from dataclasses import replace

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.cook.measures import Standing
from yeasty.core.decide.nested import Earlier, Fit, fit, spread_of
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.kernel.words import plain
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.taste.gathered import scopes_of
from yeasty.store.ask.tables import Trial
from yeasty.store.taste.queries import opened_tastings
from yeasty.store.taste.tables import Tasting

# More of them change little and cost a verdict its seconds.
MOST_TRIALS = 20


def earlier_spread(db: Session, trial: Trial, attributes: Sequence[Attribute]) -> Earlier | None:
    """What earlier trials of the same dish tell, scored by the questions of this one; None where that is too
    little. A trial counts that asked all that weighs here, under the same name on the same scale, blind, and
    whose codes were opened before those of this one.
    """
    weighing = [a for a in attributes if a.weight > 0]
    fits = [_fit_of(db, other, weighing) for other in _before(db, trial)]
    return spread_of([f for f in fits if f is not None])


def _before(db: Session, trial: Trial) -> list[Trial]:
    mine = min((t.opened_at for t in opened_tastings(db, trial.id) if t.opened_at), default=None)
    opened = func.min(Tasting.opened_at)
    query = (
        select(Trial)
        .join(Tasting, Tasting.trial_id == Trial.id)
        .where(
            Trial.id != trial.id,
            func.lower(Trial.dish) == trial.dish.strip().lower(),
            Trial.simulated.is_(False),
            Tasting.opened_at.is_not(None),
            Tasting.stopped_at.is_(None),
            Tasting.from_elsewhere.is_(False),
        )
        .group_by(Trial.id)
        .order_by(opened.desc(), Trial.id)
        .limit(MOST_TRIALS)
    )
    if mine is not None:
        query = query.having(opened < mine)
    return list(db.scalars(query))


def _fit_of(db: Session, other: Trial, weighing: Sequence[Attribute]) -> Fit | None:
    """How the batches of another trial lie by the questions that weigh here; None where it asked others."""
    scopes = scopes_of(db, other.id)
    if not scopes or not scopes[0].blind:
        return None
    theirs = [a.spec() for a in other.attributes]
    key = {}
    for a in weighing:
        same = [t for t in theirs if plain(t.name) == plain(a.name) and t.scale is a.scale]
        if len(same) != 1:
            return None
        key[same[0].key] = a.key
    judged = {str(b.id) for b, m in trial_measures(db, other.id) if m.standing is Standing.JUDGED}
    answers = [
        replace(x, attribute=key[x.attribute])
        for x in scopes[0].answers
        if x.batch in judged and x.attribute in key
    ]
    method_of = {x.batch: x.method for x in answers}
    if not method_of:
        return None
    table = SCHOOLS[School.WEIGHTED].table(
        [replace(x, method=x.batch) for x in answers], weighing, len(method_of)
    )
    return fit(table, method_of, day_of=scopes[0].day_of)

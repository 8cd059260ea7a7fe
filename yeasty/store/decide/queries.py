"""What other trials of a dish hold, for what stands on them."""

import uuid

from sqlalchemy import Text, cast, func, literal, select
from sqlalchemy.orm import Session

from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import EntryRow, Shift
from yeasty.store.decide.tables import Claim
from yeasty.store.taste.tables import Tasting


def sum_of_dish(db: Session, trial_id: uuid.UUID) -> str:
    """What earlier trials of the dish hold, as one sum: it changes when a tasting of them is opened or
    something is logged in them.
    """
    dish = select(func.lower(Trial.dish)).where(Trial.id == trial_id).scalar_subquery()
    others = (
        select(Trial.id)
        .join(Tasting, Tasting.trial_id == Trial.id)
        .where(Trial.id != trial_id, func.lower(Trial.dish) == dish, Tasting.opened_at.is_not(None))
    )
    tastings = select(literal("t"), func.count(), cast(func.max(Tasting.opened_at), Text)).where(
        Tasting.trial_id.in_(others)
    )
    entries = (
        select(literal("e"), func.count(), cast(func.max(EntryRow.number), Text))
        .join(Shift, Shift.id == EntryRow.shift_id)
        .where(Shift.trial_id.in_(others))
    )
    return " ".join(str(tuple(row)) for row in db.execute(tastings.union_all(entries)))


def claims_of(db: Session, trial_id: uuid.UUID) -> list[Claim]:
    """Claims of a trial, in the order in which they were picked."""
    return list(db.scalars(select(Claim).where(Claim.trial_id == trial_id).order_by(Claim.made_at, Claim.id)))

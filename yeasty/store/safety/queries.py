"""Safety records: the kitchen's own figures, figures that were checked, what the lead owns in writing."""

import uuid
from collections.abc import Mapping, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.safety.cautions import Limit, limits
from yeasty.core.safety.core_minimum import Changed, food_classes
from yeasty.store.safety.tables import LimitChange, LimitCheck, Ownership


def own_figures(db: Session) -> list[Changed]:
    """The kitchen's own figures that count."""
    rows = db.scalars(
        select(LimitChange).where(LimitChange.withdrawn_at.is_(None)).order_by(LimitChange.set_at)
    )
    newest = {r.limit_id: Changed(r.limit_id, r.temperature_c, r.hold_s, r.reason) for r in rows}
    return list(newest.values())


def checks(db: Session) -> dict[str, LimitCheck]:
    """The newest check of each figure."""
    return {r.limit_id: r for r in db.scalars(select(LimitCheck).order_by(LimitCheck.checked_at))}


def status_of(row: Limit, checked: Mapping[str, LimitCheck]) -> str:
    """Status of a figure in words: as entered, or verified with edition and page."""
    found = checked.get(row.id)
    if found is None:
        return f"{row.status}, check your authority's current edition"
    return f"verified by the kitchen: {found.edition}" + (f", {found.page}" if found.page else "")


def owned(db: Session, batch_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Batch to the lead's newest words."""
    rows = db.scalars(
        select(Ownership)
        .where(Ownership.batch_id.in_(batch_ids), Ownership.from_elsewhere.is_(False))
        .order_by(Ownership.owned_at)
    )
    return {r.batch_id: r.why for r in rows}


def laxer_for(db: Session, food: str) -> list[str]:
    """Reasons of the kitchen's figures that ask for less than an authority for this food; such a method is
    not published.
    """
    mine = food_classes()[food].limits if food in food_classes() else ()
    return [
        f"{limits()[c.limit_id].authority}: {c.reason}"
        for c in own_figures(db)
        if c.limit_id in mine and c.laxer()
    ]

"""How far trials are, as a part of queries: the list may be narrowed to a state without reading it all."""

import uuid
from collections.abc import Sequence

from sqlalchemy import ColumnElement, case, exists, literal, select
from sqlalchemy.orm import Session

from yeasty.core.ask.states import TrialState
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import EntryRow, Shift
from yeasty.store.publish.tables import Publication
from yeasty.store.taste.tables import Seat, Tasting


def begun() -> ColumnElement[bool]:
    """Whether anything was ever logged of the shift of the query around it; a plan alone is none of that."""
    return exists().where(EntryRow.shift_id == Shift.id).correlate(Shift)


def state_of() -> ColumnElement[str]:
    """The state of the trial of the query around it. Rehearsals and foreign tastings do not count."""
    shift = (Shift.trial_id == Trial.id) & Shift.clock_rate.is_(None)
    open_shift = shift & Shift.ended_at.is_(None)
    seated = exists().where(Seat.tasting_id == Tasting.id).correlate(Tasting)
    tasting = (
        (Tasting.trial_id == Trial.id)
        & Tasting.stopped_at.is_(None)
        & Tasting.from_elsewhere.is_(False)
        & seated
    )
    newest = (
        select(
            case(
                (Publication.withdrawn_at.is_(None), literal(TrialState.OUT.value)),
                else_=TrialState.WITHDRAWN.value,
            )
        )
        .where(Publication.trial_id == Trial.id)
        .order_by(Publication.version.desc())
        .limit(1)
        .correlate(Trial)
        .scalar_subquery()
    )
    return case(
        (exists().where(open_shift, begun()).correlate(Trial), TrialState.COOKING.value),
        (exists().where(open_shift).correlate(Trial), TrialState.PLANNED.value),
        (exists().where(tasting, Tasting.opened_at.is_(None)).correlate(Trial), TrialState.TASTING.value),
        (newest.is_not(None), newest),
        (exists().where(tasting, Tasting.opened_at.is_not(None)).correlate(Trial), TrialState.TASTED.value),
        (exists().where(shift).correlate(Trial), TrialState.COOKED.value),
        else_=TrialState.DESIGNED.value,
    )


def in_state(state: TrialState) -> ColumnElement[bool]:
    """Trials in a state. What is going on is looked for among what is open, which is little, however many
    trials there are.
    """
    is_so = state_of() == state.value
    if state in (TrialState.COOKING, TrialState.PLANNED):
        return Trial.id.in_(select(Shift.trial_id).where(Shift.ended_at.is_(None))) & is_so
    if state is TrialState.TASTING:
        return Trial.id.in_(select(Tasting.trial_id).where(Tasting.opened_at.is_(None))) & is_so
    return is_so


def states(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, TrialState]:
    """Trial to how far it is."""
    rows = db.execute(select(Trial.id, state_of()).where(Trial.id.in_(trial_ids)))
    return {i: TrialState(s) for i, s in rows}

"""How far each of several trials is, in words for the list; five queries whatever their number."""

import time
import uuid
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.ask.states import STATE_WORDS, TrialState
from yeasty.core.kernel.text import Written, clock_time
from yeasty.store.ask.states import begun, states
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish.tables import Publication
from yeasty.store.taste.tables import Seat, Tasting


@dataclass(frozen=True)
class HowFar:
    """How far a trial is, and in words."""

    state: TrialState
    words: str


def how_far(db: Session, trial_ids: Sequence[uuid.UUID], written: Written) -> dict[uuid.UUID, HowFar]:
    """Trial to what goes on with it: what is in the heat first, then who is waited for, then what is out."""
    zone = ZoneInfo(the_kitchen(db).time_zone)
    closer: dict[TrialState, dict[uuid.UUID, str]] = {
        TrialState.OUT: _pages(db, trial_ids),
        TrialState.TASTING: _tasted(db, trial_ids),
    }
    closer[TrialState.COOKING] = closer[TrialState.PLANNED] = _cooked(db, trial_ids, zone, written)
    return {
        i: HowFar(state, closer.get(state, {}).get(i, STATE_WORDS[state]))
        for i, state in states(db, trial_ids).items()
    }


def _cooked(
    db: Session, trial_ids: Sequence[uuid.UUID], zone: ZoneInfo, written: Written
) -> dict[uuid.UUID, str]:
    """What is in the heat or planned next, in words."""
    rows = db.execute(
        select(Shift.trial_id, Shift.serve_from, begun())
        .where(Shift.trial_id.in_(trial_ids), Shift.clock_rate.is_(None), Shift.ended_at.is_(None))
        .order_by(Shift.serve_from)
    )
    going: dict[uuid.UUID, list[str]] = defaultdict(list)
    for trial_id, serve, logged in rows:
        state = "in the heat" if logged else "planned"
        at = clock_time(serve.timestamp(), zone, time.time(), written)
        going[trial_id].append(f"{state}, plates at {at}")
    return {k: min(v, key=lambda w: w.startswith("planned")) for k, v in going.items()}


def _tasted(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Who is waited for at a tasting whose codes are closed."""
    here = Seat.revoked_at.is_(None)
    rows = db.execute(
        select(
            Tasting.trial_id,
            Tasting.served_at,
            func.count(Seat.id).filter(here),
            func.count(Seat.finished_at).filter(here),
        )
        .join(Seat, Seat.tasting_id == Tasting.id)
        .where(
            Tasting.trial_id.in_(trial_ids),
            Tasting.opened_at.is_(None),
            Tasting.stopped_at.is_(None),
            Tasting.from_elsewhere.is_(False),
        )
        .group_by(Tasting.id)
        .order_by(Tasting.created_at)
    )
    waiting: dict[uuid.UUID, str] = {}
    for trial_id, served_at, seats, done in rows:
        if served_at is None:
            waiting[trial_id] = "tasting laid ready"
        else:
            waiting[trial_id] = f"being tasted, {done} of {seats} done"
    return waiting


def _pages(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, str]:
    """The newest page of each, in words."""
    rows = db.execute(
        select(Publication.trial_id, Publication.version)
        .where(Publication.trial_id.in_(trial_ids))
        .order_by(Publication.version)
    )
    return {trial_id: f"page out, version {version}" for trial_id, version in rows}

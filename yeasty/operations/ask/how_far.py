"""How far each of several trials is, in words for the list; four queries whatever their number."""

import time
import uuid
from collections import defaultdict
from collections.abc import Sequence
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.kernel.text import clock_time
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish.tables import Publication
from yeasty.store.taste.tables import Seat, Tasting

DESIGNED = "being designed"


def how_far(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, str]:
    """Trial to what goes on with it: what is in the heat first, then who is waited for, then what is out."""
    zone = ZoneInfo(the_kitchen(db).time_zone)
    pages = _pages(db, trial_ids)
    tasted = _tasted(db, trial_ids)
    cooked = _cooked(db, trial_ids, zone)
    found = {}
    for i in trial_ids:
        cooking, over = cooked.get(i, ("", False))
        waiting, opened = tasted.get(i, ("", False))
        found[i] = (
            cooking
            or waiting
            or pages.get(i)
            or ("tasted, no page yet" if opened else "cooked, not tasted" if over else DESIGNED)
        )
    return found


def _cooked(db: Session, trial_ids: Sequence[uuid.UUID], zone: ZoneInfo) -> dict[uuid.UUID, tuple[str, bool]]:
    """What is in the heat or planned next, in words, and whether a shift is over."""
    rows = db.execute(
        select(Shift.trial_id, Shift.serve_from, Shift.ended_at, Shift.last_number)
        .where(Shift.trial_id.in_(trial_ids), Shift.clock_rate.is_(None))
        .order_by(Shift.serve_from)
    )
    going: dict[uuid.UUID, list[str]] = defaultdict(list)
    over: set[uuid.UUID] = set()
    for trial_id, serve, ended, logged in rows:
        if ended is not None:
            over.add(trial_id)
            continue
        state = "in the heat" if logged else "planned"
        going[trial_id].append(f"{state}, plates at {clock_time(serve.timestamp(), zone, time.time())}")
    first = {k: min(v, key=lambda w: w.startswith("planned")) for k, v in going.items()}
    return {k: (first.get(k, ""), k in over) for k in {*first, *over}}


def _tasted(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, tuple[str, bool]]:
    """Who is waited for at a tasting whose codes are closed, and whether one was opened."""
    here = Seat.revoked_at.is_(None)
    rows = db.execute(
        select(
            Tasting.trial_id,
            Tasting.opened_at,
            Tasting.served_at,
            func.count(Seat.id).filter(here),
            func.count(Seat.finished_at).filter(here),
        )
        .join(Seat, Seat.tasting_id == Tasting.id)
        .where(
            Tasting.trial_id.in_(trial_ids), Tasting.stopped_at.is_(None), Tasting.from_elsewhere.is_(False)
        )
        .group_by(Tasting.id)
        .order_by(Tasting.created_at)
    )
    waiting: dict[uuid.UUID, str] = {}
    opened: set[uuid.UUID] = set()
    for trial_id, opened_at, served_at, seats, done in rows:
        if opened_at is not None:
            opened.add(trial_id)
        elif served_at is None:
            waiting[trial_id] = "tasting laid ready"
        else:
            waiting[trial_id] = f"being tasted, {done} of {seats} done"
    return {k: (waiting.get(k, ""), k in opened) for k in {*waiting, *opened}}


def _pages(db: Session, trial_ids: Sequence[uuid.UUID]) -> dict[uuid.UUID, str]:
    """The newest page of each, in words."""
    rows = db.execute(
        select(Publication.trial_id, Publication.version, Publication.withdrawn_at)
        .where(Publication.trial_id.in_(trial_ids))
        .order_by(Publication.version)
    )
    return {
        trial_id: "page withdrawn" if withdrawn else f"page out, version {version}"
        for trial_id, version, withdrawn in rows
    }

"""A shift that is too much for one sitting, spread over several; and what the shifts of a trial leave
open.
"""

import uuid
from collections import Counter
from collections.abc import Iterable
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from yeasty.core.cook.problem import usual_window_s
from yeasty.core.kernel.errors import Refused
from yeasty.core.setup.sittings import Cooked, sittings
from yeasty.operations.cook.shifts import make_shift
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import batches_of_trial, remove_unbegun, shifts_of
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.kitchen.queries import the_kitchen


def split(db: Session, trial: Trial, shift: Shift, common: uuid.UUID, most: int) -> list[Shift]:
    """Several shifts in place of one that was never begun: one a day, at the same time of day, each with a
    method in common.

    Raises
    ------
    RuleError, Refused : a shift that has begun or is on simulated time, or what `core.setup.sittings` says
    """
    if shift.clock_rate is not None or shift.written_up:
        raise Refused("shift", "is not one to come", "Split a shift that is still to be cooked.")
    counts = Counter(b.method_id for b in shift.batches)
    by_id = {str(m): m for m in counts}
    split_up = sittings(list(by_id), str(common), most)
    remove_unbegun(db, shift)
    db.flush()
    appliances = appliances_of(db, trial)
    zone = ZoneInfo(the_kitchen(db).time_zone)
    made = []
    for n, some in enumerate(split_up):
        local = shift.serve_from.astimezone(zone)
        # The same time of day, also where the clocks are changed in between.
        day = local.date() + timedelta(days=n)
        serve = datetime.combine(day, local.time(), tzinfo=zone)
        replicates = {by_id[k]: counts[by_id[k]] for k in some}
        window = usual_window_s(sum(replicates.values()), same_age=shift.same_age)
        row = make_shift(
            db,
            trial,
            name=f"{shift.name}, sitting {n + 1}"[:100],
            serve_from=serve,
            serve_until=serve + timedelta(seconds=window),
            people=shift.people,
            replicates=replicates,
            appliances=appliances,
            walk_s=shift.walk_s,
            same_age=shift.same_age,
        )
        row.leave_room, row.cooks = shift.leave_room, shift.cooks
        made.append(row)
    db.flush()
    return made


def in_shifts(db: Session, trial: Trial, batches: Iterable[Batch] | None = None) -> list[Cooked]:
    """Batches with the shift they are of, in words; all that are cooked on the kitchen's own clock, or those
    that are given.
    """
    rows = batches_of_trial(db, trial.id) if batches is None else batches
    zone = ZoneInfo(the_kitchen(db).time_zone)
    real = [s for s in shifts_of(db, trial.id) if s.clock_rate is None]
    words = {s.id: f"{s.name}, {s.serve_from.astimezone(zone):%d %b}" for s in real}
    often = Counter(words.values())
    words = {k: w if often[w] == 1 else f"{w}, {str(k)[:4]}" for k, w in words.items()}
    return [
        Cooked(
            b.method.tag,
            words[b.shift_id],
            any(s.get("prepared") for s in b.steps),
        )
        for b in rows
        if b.shift_id in words and b.parent_batch_id is None
    ]

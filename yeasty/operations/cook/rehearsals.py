"""Rehearsals: a planned shift gone through on simulated time with stand-ins, and then for real."""

import time
import uuid
from collections import Counter
from collections.abc import Collection, Sequence
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from yeasty.core.cook.mishaps import NAMES, Mishap, Setting, lay_mishap
from yeasty.core.cook.rehearsed import Rehearsed, rehearsed
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.kernel.errors import Refused
from yeasty.operations.cook.shifts import make_shift
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.queries import begun_of, entries_after, moment, newest_plan
from yeasty.store.cook.rehearsals import call_stand_ins, first_plan, going, rehearsal_of
from yeasty.store.cook.tables import Rehearsal, RehearsalState, Shift
from yeasty.store.kitchen.queries import all_appliances

# Stand-ins of so many rehearsals are driven at once.
MOST = 2
# The clock begins so long before the first thing to do [s]; a real shift leaves as much to lay things out.
BEFORE_S, LAY_OUT_S = 120.0, 900.0


def setting_of(db: Session, shift: Shift) -> Setting | None:
    """What mishaps of a shift are laid out from; None while it has no plan."""
    plan = first_plan(db, shift.id)
    if plan is None:
        return None
    known = all_appliances(db)
    return Setting(
        [b.chain() for b in shift.batches],
        plan.planned(),
        {str(b.id): b.method.technique for b in shift.batches},
        {str(a.id): a.name for a in known},
        {str(a.id): a.circuit for a in known},
    )


def possible(db: Session, shift: Shift) -> dict[Mishap, str]:
    """Mishap to why it can't happen in a shift, "" where it can; empty while there is no plan."""
    setting = setting_of(db, shift)
    if setting is None:
        return {}
    laid = {m: lay_mishap(m, setting) for m in Mishap}
    return {m: t if isinstance(t, str) else "" for m, t in laid.items()}


def start(db: Session, shift: Shift, by: uuid.UUID, *, hands: bool, mishaps: Collection[Mishap]) -> Rehearsal:
    """Ask for the stand-ins of a shift on simulated time.

    Raises
    ------
    Refused : a shift on the kitchen's own clock, one that has ended, one whose stand-ins are at work, too
        many at once, or a turn forgotten by a cook who is not a stand-in
    """
    if shift.clock_rate is None:
        raise Refused("shift", "is on the kitchen's own clock", "Rehearse it: that makes one beside it.")
    if shift.ended_at is not None:
        raise Refused("shift", "has ended", "Rehearse it anew.")
    if Mishap.FORGOTTEN_TURN in mishaps and not hands:
        raise Refused(
            "mishaps",
            f"“{NAMES[Mishap.FORGOTTEN_TURN]}” is for a stand-in who cooks",
            "Let the stand-in cook, or leave it out: whether you forget it is yours.",
        )
    row = rehearsal_of(db, shift.id)
    if row is not None and row in going(db):
        raise Refused("shift", "has its stand-ins already", "End the rehearsal first.")
    if len(going(db)) >= MOST:
        raise Refused(
            "rehearsal", f"is one too many: {MOST} go on already", "End one of them at its bench first."
        )
    if row is None:
        row = Rehearsal(shift_id=shift.id)
        db.add(row)
    row.account_id, row.hands, row.mishaps = by, hands, sorted(mishaps)
    row.state, row.problem, row.begun_at = RehearsalState.WAITING.value, "", now()
    db.flush()
    call_stand_ins(db)
    return row


def beside(db: Session, trial: Trial, shift: Shift, speed: float) -> Shift:
    """A shift on simulated time just like one that is planned; its clock begins shortly before its first
    step.

    Raises
    ------
    Refused : the shift has no plan yet, or is one of simulated time
    """
    if shift.clock_rate is not None:
        raise Refused("shift", "is a rehearsal", "Rehearse the real one, or start this one again.")
    plan = newest_plan(db, shift.id)
    if plan is None or not plan.items:
        raise Refused("shift", "has no plan yet", "Wait until it is planned, then rehearse it.")
    begin = min(p.start for p in plan.planned()) - BEFORE_S
    made = make_shift(
        db,
        trial,
        name=f"Rehearsal of {shift.name}"[:100],
        serve_from=shift.serve_from,
        serve_until=shift.serve_until,
        people=shift.people,
        replicates=_cooked(shift),
        appliances=appliances_of(db, trial),
        walk_s=shift.walk_s,
        same_age=shift.same_age,
        clock=ShiftClock(begin, time.time(), speed),
    )
    # As it was planned, also where the design has moved on since.
    was = {(b.method_id, b.replicate): b for b in shift.batches}
    for batch in made.batches:
        of = was.get((batch.method_id, batch.replicate))
        if of is not None:
            batch.steps, batch.facts = of.steps, of.facts
    made.room_c, made.cooks, made.leave_room = shift.room_c, shift.cooks, shift.leave_room
    db.flush()
    return made


def _cooked(shift: Shift) -> Counter[uuid.UUID]:
    """How often each method is cooked in a shift; what was rescued is no cooking of its own."""
    return Counter(b.method_id for b in shift.batches if b.parent_batch_id is None)


def skip_to_first(db: Session, shift: Shift) -> None:
    """Put the clock of a rehearsal shortly before its first step, where nothing was logged and it is far
    off.
    """
    plan = newest_plan(db, shift.id)
    clock = shift.clock()
    if plan is None or not plan.items or begun_of(db, [shift.id]) or clock.rate is None:
        return
    real = time.time()
    first = min(p.start for p in plan.planned()) - BEFORE_S
    if first > clock.at(real):
        shift.clock_origin, shift.clock_anchor = moment(first), moment(real)


def end(db: Session, shift: Shift) -> None:
    """Let the stand-ins go, wherever they are."""
    row = rehearsal_of(db, shift.id)
    if row is not None and row.state != RehearsalState.FAILED.value:
        row.state = RehearsalState.OVER.value
    call_stand_ins(db)


def report(db: Session, shift: Shift) -> Rehearsed | None:
    """What a rehearsal showed so far; None while there is no plan."""
    plan = first_plan(db, shift.id)
    if plan is None:
        return None
    entries = [e.core() for e in entries_after(db, shift.id, 0, 1_000_000)]
    return rehearsed(
        [b.chain() for b in shift.batches],
        plan.planned(),
        entries,
        shift.people,
        {str(b.id): [str(i["text"]) for i in b.facts.get("checklist") or []] for b in shift.batches},
    )


def for_real(db: Session, trial: Trial, shift: Shift) -> tuple[Shift, bool]:
    """The shift that was rehearsed, on the kitchen's own clock; and whether it was made now.

    Raises
    ------
    Refused : the shift is no rehearsal, or has no plan to take its length from
    """
    if shift.clock_rate is None:
        raise Refused("shift", "is no rehearsal", "Cook it as it stands.")
    if trial.simulated:
        raise Refused("shift", "is of a practice trial", "Ask a question of your own, and cook that.")
    row = rehearsal_of(db, shift.id)
    was = db.get(Shift, row.of_shift_id) if row is not None and row.of_shift_id else None
    if was is not None and was.ended_at is None and was.serve_until > now():
        return was, False
    plan = first_plan(db, shift.id)
    if plan is None or not plan.items:
        raise Refused("shift", "has no plan yet", "Wait until it is planned.")
    long_s = shift.serve_from.timestamp() - min(p.start for p in plan.planned())
    serve = _on_the_five(now() + timedelta(seconds=long_s + LAY_OUT_S))
    made = make_shift(
        db,
        trial,
        name=f"Shift of {serve:%d %b}",
        serve_from=serve,
        serve_until=serve + (shift.serve_until - shift.serve_from),
        people=shift.people,
        replicates=_cooked(shift),
        appliances=appliances_of(db, trial),
        walk_s=shift.walk_s,
        same_age=shift.same_age,
    )
    made.room_c, made.cooks, made.leave_room = shift.room_c, shift.cooks, shift.leave_room
    return made, True


def _on_the_five(at: datetime) -> datetime:
    """The next full five minutes.

    >>> _on_the_five(datetime(2026, 5, 4, 18, 31, 2)).minute
    35
    """
    whole = at.replace(second=0, microsecond=0, minute=at.minute - at.minute % 5)
    return whole if whole == at else whole + timedelta(minutes=5)


def chosen(words: Sequence[str]) -> list[Mishap]:
    """Mishaps as they are kept."""
    return [Mishap(w) for w in words]

"""Planning a shift from a moment on, and keeping the plan."""

import uuid

from sqlalchemy.orm import Session

from yeasty.core.cook.departures import what_moved
from yeasty.core.cook.plan import solve
from yeasty.core.cook.problem import Plan
from yeasty.operations.cook.problems import problem_now, problem_of, progress
from yeasty.store.base import now
from yeasty.store.cook.queries import newest_plan, next_numbers, no_plan_asked
from yeasty.store.cook.tables import PlanRow, Shift

# For all ranks of a plan together [s]; again while the kitchen waits, less.
FIRST_S, AGAIN_S = 4.0, 1.5


def replan(
    db: Session, shift_id: uuid.UUID, at: float, time_limit_s: float | None = None, why: str = ""
) -> PlanRow:
    """Plan a shift from a moment on, keep it, and wake the screens; `why` is what made it necessary.

    Batches that have begun keep what they are doing: their steps stand where the bench fold puts them, and
    what they use is not given to others. The rest is planned anew towards the serving window, moved as little
    as can be.
    """
    shift = db.get_one(Shift, shift_id)
    old = newest_plan(db, shift_id)
    now_ = progress(db, shift)
    plan: Plan | None = None
    clock = shift.clock()
    if why and old is not None and not now_.free:
        no_plan_asked(db, shift_id)
        # Everything has begun: the bench moves what is left by itself, and there is nothing to choose.
        return old
    if now_.free:
        seconds = time_limit_s or (AGAIN_S if old else FIRST_S)
        at += clock.ahead_s(seconds)
        plan = solve(problem_now(db, shift, now_, at), seconds)
        untouched = not now_.begun and not now_.hot
        if untouched and not shift.written_up and plan.items[0].start < at:
            plan = solve(problem_of(db, shift, at, only=now_.free), seconds)
    notes = list(plan.notes) if plan else []
    if why and plan:
        moved = what_moved(
            [p for p in now_.planned if p.batch not in now_.begun],
            plan.items,
            {str(b.id): b.method.tag for b in shift.batches},
            why,
        )
        notes += [moved] if moved else []
    hot = [p for p in now_.hot if p.batch in {str(b.id) for b in now_.free}]
    items = sorted(
        [*now_.kept, *hot, *(plan.items if plan else ())], key=lambda p: (p.start, p.batch, p.step)
    )
    row = PlanRow(
        shift_id=shift_id,
        number=next_numbers(db, shift_id, 1),
        made_at=now(),
        items=[{"batch": p.batch, "step": p.step, "start": p.start, "end": p.end} for p in items],
        holds=dict(plan.holds) if plan else {},
        served={**dict(now_.served), **(dict(plan.served) if plan else {})},
        longest_hold_s=plan.longest_hold_s if plan else 0.0,
        proof=plan.proof if plan else "everything has begun",
        notes=notes,
    )
    db.add(row)
    no_plan_asked(db, shift_id)
    return row

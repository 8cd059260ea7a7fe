"""Planning a shift from a moment on, and keeping the plan."""

import uuid

from sqlalchemy.orm import Session

from yeasty.core.cook.bench import RunState, bench_state
from yeasty.core.cook.departures import what_moved
from yeasty.core.cook.plan import solve
from yeasty.core.cook.problem import Plan, PlannedStep
from yeasty.store.base import now
from yeasty.store.bench import PlanRow, Shift, entries_after, newest_plan, next_numbers, wake
from yeasty.store.problems import problem_of

# For all ranks of a plan together [s]; again while the kitchen waits, less.
FIRST_S, AGAIN_S = 4.0, 1.5


def replan(db: Session, shift_id: uuid.UUID, at: float, time_limit_s: float | None = None, why: str = "") -> PlanRow:
    """Plan a shift from a moment on, keep it, and wake the screens; `why` is what made it necessary.

    Batches that have begun keep what they are doing: their steps stand where the bench fold puts them, and what they use is
    not given to others. The rest is planned anew towards the serving window, moved as little as can be.
    """
    shift = db.get_one(Shift, shift_id)
    old = newest_plan(db, shift_id)
    entries = [e.core() for e in entries_after(db, shift_id, 0, 1_000_000)]
    chains = [b.chain() for b in shift.batches]
    planned = old.planned() if old else []
    state = bench_state(chains, planned, entries)
    begun = {r.batch for r in state.runs if r.state is not RunState.TODO}
    kept = [PlannedStep(r.batch, r.step, r.start, r.end) for r in state.runs if r.batch in begun]
    free = [b for b in shift.batches if str(b.id) not in begun]
    plan: Plan | None = None
    if why and old is not None and not free:
        # Everything has begun: the bench moves what is left by itself, and there is nothing to choose.
        return old
    if free:
        fixed = [(b, tuple(k for k in kept if k.batch == str(b.id))) for b in shift.batches if str(b.id) in begun]
        before = [p for p in planned if p.batch not in begun] if begun else []
        seconds = time_limit_s or (AGAIN_S if old else FIRST_S)
        plan = solve(problem_of(db, shift, at if begun else None, only=free, fixed=fixed, before=before), seconds)
        if not begun and plan.items[0].start < at:
            plan = solve(problem_of(db, shift, at, only=free), seconds)
    notes = list(plan.notes) if plan else []
    if why and plan:
        moved = what_moved([p for p in planned if p.batch not in begun], plan.items, {str(b.id): b.method.tag for b in shift.batches}, why)
        notes += [moved] if moved else []
    items = sorted([*kept, *(plan.items if plan else ())], key=lambda p: (p.start, p.batch, p.step))
    row = PlanRow(
        shift_id=shift_id, number=next_numbers(db, shift_id, 1), made_at=now(),
        items=[{"batch": p.batch, "step": p.step, "start": p.start, "end": p.end} for p in items],
        holds=dict(plan.holds) if plan else {}, served=dict(plan.served) if plan else {},
        longest_hold_s=plan.longest_hold_s if plan else 0.0,
        proof=plan.proof if plan else "everything has begun", notes=notes,
    )  # fmt: skip
    db.add(row)
    db.flush()
    wake(db, shift_id)
    return row


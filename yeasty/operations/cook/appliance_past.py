"""What an appliance did in earlier trials."""

import uuid
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from yeasty.core.cook.bench import RunState, bench_state
from yeasty.core.cook.measures import measures
from yeasty.core.kernel.entries import Entry
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import newest_plan
from yeasty.store.cook.tables import Batch, EntryRow, Shift

MOST = 20


@dataclass(frozen=True)
class Past:
    """One cooking: what was set, how long it was planned and took, what came of it."""

    trial_id: str
    trial: str
    method: str
    tag: str
    served_at: datetime
    set_point_c: float | None
    power_w: float | None
    planned_s: float
    took_s: float | None
    highest_core_c: float | None
    standing: str
    notes: list[str]


def past_of(db: Session, appliance_id: uuid.UUID) -> list[Past]:
    """The last cookings on an appliance, newest first; simulated ones are left out, they are no evidence."""
    key = str(appliance_id)
    query = (
        select(Batch, Shift, Trial)
        .join(Shift, Shift.id == Batch.shift_id)
        .join(Trial, Trial.id == Shift.trial_id)
        .where(
            Batch.steps.contains([{"appliance": key}]), Shift.clock_rate.is_(None), Trial.simulated.is_(False)
        )
        .order_by(Shift.serve_from.desc(), Batch.position)
        .limit(MOST)
        .options(joinedload(Batch.method))
    )
    found = []
    rows = db.execute(query).all()
    entries: dict[uuid.UUID, list[Entry]] = {}
    for row in db.scalars(select(EntryRow).where(EntryRow.batch_id.in_([b.id for b, _, _ in rows]))):
        entries.setdefault(row.batch_id, []).append(row.core())  # type: ignore[arg-type]
    plans = {s.id: newest_plan(db, s.id) for _, s, _ in rows}
    for batch, shift, trial in rows:
        row_plan = plans[shift.id]
        plan = row_plan.planned() if row_plan else []
        chain, mine = batch.chain(), entries.get(batch.id, [])
        m = measures(chain, plan, mine)
        runs = {r.step: r for r in bench_state([chain], plan, mine).runs}
        used = [s for s in chain.steps if s.appliance == key and s.phase.value == "cook"] or [
            s for s in chain.steps if s.appliance == key
        ]
        done = [runs[s.key] for s in used if s.key in runs and runs[s.key].state is RunState.DONE]
        found.append(
            Past(
                str(trial.id),
                trial.title,
                batch.method.name,
                batch.method.tag,
                shift.serve_from,
                used[0].set_point_c,
                used[0].power_w,
                sum(s.duration_s for s in used),
                sum(r.end - r.start for r in done) if done else None,
                m.highest_core_c,
                m.standing.value,
                list(m.notes[:3]),
            )
        )
    return found

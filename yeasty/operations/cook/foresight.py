"""Looking, every few seconds, whether a probe foretells another end than is expected; then the log says so
and the rest is planned again.
"""

import uuid
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.bench import bench_state
from yeasty.core.cook.departures import departures
from yeasty.core.cook.foresee import Foretold, foreseen
from yeasty.core.kernel.entries import EntryKind
from yeasty.operations.cook.outlook import outlook_of
from yeasty.store.base import now
from yeasty.store.cook.queries import append_entries, asked_for_plan, entries_after, newest_plan
from yeasty.store.cook.tables import EntryRow, Shift

# Who writes such entries: the kitchen itself, as a device of its own.
KITCHEN = uuid.uuid5(uuid.NAMESPACE_URL, "yeasty:kitchen-foresight")
Ask = Callable[[list[dict[str, Any]]], list[dict[str, Any]]]


def probed_shifts(db: Session) -> list[Shift]:
    """Shifts that are going on and have a probe in something."""
    probed = select(EntryRow.shift_id).where(EntryRow.kind == EntryKind.PROBE.value)
    # One that nobody ended is left alone after half a day; on a clock of its own its day may be any.
    near = (Shift.serve_until > now() - timedelta(hours=12)) | Shift.clock_rate.is_not(None)
    return list(db.scalars(select(Shift).where(Shift.ended_at.is_(None), near, Shift.id.in_(probed))))


def look_ahead(db: Session, shift: Shift, at: float, ask: Ask) -> str:
    """Write down what probes foretell of a shift at a moment [s]; what makes a new plan necessary, "" where
    nothing does.
    """
    found = outlook_of(db, shift, at)
    probed = {
        batch: q
        for batch, q in found.questions.items()
        if q["readings"] and q["in_at"] is not None and q["target_c"] is not None
    }
    plan = newest_plan(db, shift.id)
    if not probed or plan is None:
        return ""
    entries = [e.core() for e in entries_after(db, shift.id, 0, 1_000_000)]
    chains = {c.batch: c for c in (b.chain() for b in shift.batches)}
    runs = bench_state(list(chains.values()), plan.planned(), entries).runs
    rows: list[EntryRow] = []
    for (batch, q), told in zip(probed.items(), ask(list(probed.values())), strict=True):
        said = Foretold(
            told["basis"],
            told["ready_at"],
            told["ready_low"],
            told["ready_high"],
            told["pull_at"],
            q["target_c"],
            told["soonest_at"],
        )
        payload = foreseen(str(batch), chains[str(batch)].steps, runs, said, entries, at)
        if payload is not None:
            rows.append(
                EntryRow(
                    id=uuid.uuid4(),
                    shift_id=shift.id,
                    batch_id=batch,
                    kind=EntryKind.FORESEEN.value,
                    device_id=KITCHEN,
                    counter=len(entries) + len(rows),
                    offset_ms=0.0,
                    device_time=datetime.fromtimestamp(at, UTC),
                    server_time=now(),
                    author_id=None,
                    payload=payload,
                    supersedes=None,
                )
            )
    if not rows:
        return ""
    written, _ = append_entries(db, shift.id, rows)
    steps = {(c.batch, s.key): s for c in chains.values() for s in c.steps}
    why = departures(
        plan.planned(), steps, {c.batch: c.tag for c in chains.values()}, [r.core() for r in written]
    )
    if why:
        asked_for_plan(db, shift.id)
    return "; ".join(why[:2])

"""Entries of the bench log: taken in from devices, and written where a deed says so by itself."""

import time
import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Protocol

from sqlalchemy.orm import Session

from yeasty.core.cook.departures import departures
from yeasty.core.cook.payloads import check_payload
from yeasty.core.kernel.entries import STEP_ENDS, EntryKind, check_moment, check_step
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.store.base import now, row_of
from yeasty.store.cook import queries as store
from yeasty.store.cook.queries import moment
from yeasty.store.cook.tables import Batch, EntryRow, Shift

# What was logged of these may put the rest of a plan elsewhere.
TELLING = frozenset({*STEP_ENDS, EntryKind.STARTED, EntryKind.EXTENDED, EntryKind.VOID, EntryKind.UNDONE})


class Told(Protocol):
    """An entry as a device made it; `device_time` [s since 1970], `offset_ms` to the server's clock."""

    @property
    def id(self) -> uuid.UUID: ...
    @property
    def batch(self) -> uuid.UUID | None: ...
    @property
    def kind(self) -> EntryKind: ...
    @property
    def device(self) -> uuid.UUID: ...
    @property
    def device_time(self) -> float: ...
    @property
    def offset_ms(self) -> float: ...
    @property
    def payload(self) -> dict[str, Any]: ...


@dataclass(frozen=True)
class Taken:
    """What became of entries: rows that are new, ids that were there, ids that are refused and why."""

    written: Sequence[EntryRow]
    known: Sequence[uuid.UUID]
    refused: Sequence[tuple[uuid.UUID, RuleError]]


def take(db: Session, shift: Shift, told: Sequence[Told], *, by: uuid.UUID) -> Taken:
    """Append entries. Each is judged by itself: one that is refused keeps none of the others back."""
    at = now()
    # A simulated shift has a clock of its own, which its stand-ins go by.
    latest = max(at.timestamp(), shift.clock().at(at.timestamp()))
    steps_of = {b.id: {str(s["key"]) for s in b.steps} for b in shift.batches}
    rows: list[EntryRow] = []
    refused: list[tuple[uuid.UUID, RuleError]] = []
    for e in told:
        try:
            check_payload(e.kind, e.payload)
            if e.batch is not None and e.batch not in steps_of:
                raise Refused("batch", "is not one of this shift", "Reload the bench and log it again.")
            check_moment(e.device_time + e.offset_ms / 1000, e.payload, latest)
            check_step(e.kind, e.payload, steps_of[e.batch] if e.batch else set())
        except RuleError as wrong:
            refused.append((e.id, wrong))
            continue
        sent = datetime.fromtimestamp(e.device_time, UTC)
        rows.append(
            row_of(
                EntryRow,
                e,
                id=e.id,
                shift_id=shift.id,
                batch_id=e.batch,
                device_id=e.device,
                device_time=sent,
                server_time=at,
                author_id=by,
            )
        )
    written, known = store.append_entries(db, shift.id, rows) if rows else ([], [])
    return Taken(written, known, refused)


def note(
    db: Session,
    shift: Shift,
    batches: Sequence[Batch],
    kind: EntryKind,
    payload: dict[str, Any],
    *,
    by: uuid.UUID,
    device: uuid.UUID | None = None,
    counter: int = 0,
) -> None:
    """Write one fact of several batches, now by the shift's own clock; of no device where none is named."""
    real = time.time()
    rows = [
        EntryRow(
            id=uuid.uuid4(),
            shift_id=shift.id,
            batch_id=b.id,
            kind=kind.value,
            device_id=device or uuid.uuid4(),
            counter=counter,
            offset_ms=1000 * (shift.clock().at(real) - real),
            device_time=moment(real),
            server_time=now(),
            author_id=by,
            payload=payload,
            supersedes=None,
        )
        for b in batches
    ]
    store.append_entries(db, shift.id, rows)


def departed(db: Session, shift: Shift, written: Sequence[EntryRow]) -> list[str]:
    """In what way that which was logged departs from the plan that counts; nothing where there is no plan to
    follow any more.
    """
    telling = [r for r in written if r.kind in TELLING]
    if not telling or shift.ended_at is not None or shift.written_up:
        return []
    plan = store.newest_plan(db, shift.id)
    if plan is None:
        return []
    chains = [b.chain() for b in shift.batches]
    steps = {(c.batch, s.key): s for c in chains for s in c.steps}
    return departures(plan.planned(), steps, {c.batch: c.tag for c in chains}, [r.core() for r in telling])

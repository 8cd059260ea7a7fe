"""The live stream: NOTIFY only wakes; a client catches up by number."""

import json
import threading
import time
from collections import Counter, deque
from collections.abc import Callable, Iterator
from typing import Any, NamedTuple
from uuid import UUID

import psycopg
import structlog
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from yeasty.core.cook.payloads import unreadable
from yeasty.core.cook.plan_words import ROOM
from yeasty.core.kernel.entries import EntryKind
from yeasty.store.base import ACCOUNTS, CHANNEL
from yeasty.store.cook.queries import entries_after
from yeasty.store.cook.tables import Batch, EntryRow, PlanRow, Shift

log = structlog.get_logger()
HEARTBEAT_S = 15.0
OUT = "event: out\ndata: {}\n\n"
MOST_STREAMS = 60
# Of one account in one process: a cook's tablets, phones and tabs, with room to spare.
MOST_STREAMS_OF_ONE = 24
MOST_FEEDS = 50
MOST_AT_ONCE = 5000
# Changes kept written out for whoever listens; who is further behind asks the database.
KEPT_CHANGES = 400


class Seen(NamedTuple):
    """How often something was said: to all, of accounts, and about what is watched."""

    all: int
    accounts: int
    about: int

    @property
    def signed_in(self) -> tuple[int, int]:
        """What changes when whoever listens may have been signed out."""
        return self.all, self.accounts


class Hub:
    """One LISTEN connection a process, and a count per shift that streams wait for."""

    def __init__(self, url: str) -> None:
        self._url = url
        self._changed = threading.Condition()
        self._counts: dict[str, int] = {}
        self._all = 0
        self._thread: threading.Thread | None = None
        self._streams = 0
        self._streams_of: Counter[str] = Counter()
        self._feeds: dict[UUID, Feed] = {}

    def start(self) -> None:
        """Start listening, once, in the process that serves (after gunicorn's fork)."""
        with self._changed:
            if self._thread is None:
                self._thread = threading.Thread(target=self._listen, name="live-listen", daemon=True)
                self._thread.start()

    def _listen(self) -> None:
        while True:
            try:
                with psycopg.connect(self._url, autocommit=True, connect_timeout=5) as connection:
                    connection.execute(f"listen {CHANNEL}")
                    self._wake_all()
                    for notice in connection.notifies():
                        with self._changed:
                            self._counts[notice.payload] = self._counts.get(notice.payload, 0) + 1
                            self._changed.notify_all()
            except psycopg.Error as failed:
                log.warning("listen_lost", reason=str(failed).strip()[:200])
                time.sleep(1.0)

    def _wake_all(self) -> None:
        with self._changed:
            self._all += 1
            self._changed.notify_all()

    def _seen(self, about: str) -> Seen:
        return Seen(self._all, self._counts.get(ACCOUNTS, 0), self._counts.get(about, 0))

    def seen(self, about: str) -> Seen:
        """The count to wait beyond."""
        with self._changed:
            return self._seen(about)

    def wait(self, about: str, seen: Seen, timeout: float) -> bool:
        """Until something was said about this, or of accounts, or the time is over."""
        with self._changed:
            return self._changed.wait_for(lambda: self._seen(about) != seen, timeout)

    def feed(self, shift_id: UUID) -> "Feed":
        """What the streams of a shift share; the shifts that were listened to longest ago are forgotten."""
        with self._changed:
            found = self._feeds.pop(shift_id, None) or Feed(shift_id)
            self._feeds[shift_id] = found
            while len(self._feeds) > MOST_FEEDS:
                self._feeds.pop(next(iter(self._feeds)))
            return found

    def take_place(self, who: str = "") -> bool:
        """Take one of the stream places; false when all are taken, so that taps still get a thread, or when
        one account has more than its share, so that there are some for the others.
        """
        with self._changed:
            if self._streams >= MOST_STREAMS or (who and self._streams_of[who] >= MOST_STREAMS_OF_ONE):
                return False
            self._streams += 1
            self._streams_of[who] += 1
            return True

    def leave_place(self, who: str = "") -> None:
        """Give the place back."""
        with self._changed:
            self._streams -= 1
            self._streams_of[who] -= 1
            if not self._streams_of[who]:
                del self._streams_of[who]


def entry_record(row: EntryRow) -> dict[str, Any]:
    """An entry as it is streamed and listed; `at` is corrected device time [s since 1970]."""
    why = unreadable(EntryKind(row.kind), row.payload)
    return {
        "id": str(row.id),
        "number": row.number,
        "batch": str(row.batch_id) if row.batch_id else "",
        "kind": row.kind,
        "at": row.device_time.timestamp() + row.offset_ms / 1000,
        "device": str(row.device_id),
        "counter": row.counter,
        "payload": {} if why else row.payload,
        "unreadable": why,
        "supersedes": str(row.supersedes) if row.supersedes else None,
    }


def plan_record(row: PlanRow) -> dict[str, Any]:
    """A plan as it is streamed and listed."""
    return {
        "number": row.number,
        "made_at": row.made_at.timestamp(),
        "items": row.items,
        "holds": row.holds,
        "served": row.served,
        "longest_hold_s": row.longest_hold_s,
        "proof": row.proof,
        "notes": [n for n in row.notes if not n.startswith(ROOM)],
        "room": next((n for n in row.notes if n.startswith(ROOM)), ""),
    }


def shift_state(db: Session, shift_id: UUID) -> dict[str, Any]:
    """What of a shift itself may change while it goes on: window, hands, clock, whether a plan is on its
    way.
    """
    row = db.execute(
        select(
            Shift.serve_from,
            Shift.serve_until,
            Shift.people,
            Shift.leave_room,
            Shift.clock_origin,
            Shift.clock_anchor,
            Shift.clock_rate,
            Shift.plan_asked_at,
            Shift.ended_at,
            func.count(Batch.id).label("batches"),
        )
        .join(Batch, Batch.shift_id == Shift.id)
        .where(Shift.id == shift_id)
        .group_by(Shift.id)
    ).one()
    clock = {
        "origin": row.clock_origin.timestamp() if row.clock_origin else 0.0,
        "anchor": row.clock_anchor.timestamp() if row.clock_anchor else 0.0,
        "rate": row.clock_rate,
    }
    return {
        "serve_from": row.serve_from.timestamp(),
        "serve_until": row.serve_until.timestamp(),
        "people": row.people,
        "leave_room": row.leave_room,
        "clock": clock,
        "planning": row.plan_asked_at is not None and row.ended_at is None,
        "ended": row.ended_at is not None,
        "batches": row.batches,
    }


def changes_after(db: Session, shift_id: UUID, number: int) -> list[tuple[int, str, dict[str, Any]]]:
    """Entries and plans of a shift with a higher number, in order."""
    entries = entries_after(db, shift_id, number, MOST_AT_ONCE)
    found = [(e.number, "entry", entry_record(e)) for e in entries]
    query = select(PlanRow).where(PlanRow.shift_id == shift_id, PlanRow.number > number)
    if len(entries) == MOST_AT_ONCE:
        # The rest comes with the next question: nothing may be told that lies beyond it.
        query = query.where(PlanRow.number < entries[-1].number)
    plans = db.scalars(query)
    found += [(p.number, "plan", plan_record(p)) for p in plans]
    return sorted(found, key=lambda f: f[0])


class Feed:
    """What a shift's streams in one process share: each change is read and written out once, however many
    screens listen.
    """

    def __init__(self, shift_id: UUID) -> None:
        self._shift = shift_id
        self._lock = threading.Lock()
        self._seen: Seen | None = None
        self._floor = self._latest = -1
        self._recent: deque[tuple[int, str]] = deque(maxlen=KEPT_CHANGES)
        self._state = ""

    def read(
        self, sessions: sessionmaker[Session], seen: Seen, after: int
    ) -> tuple[list[tuple[int, str]], str]:
        """Changes with a higher number as they are sent, and the state of the shift; asks the database once
        for a wake.
        """
        with self._lock:
            if seen != self._seen:
                with sessions() as db:
                    if self._latest < 0:
                        self._floor = self._latest = after
                    for number, event, record in changes_after(db, self._shift, self._latest):
                        if len(self._recent) == KEPT_CHANGES:
                            self._floor = self._recent[0][0]
                        self._recent.append(
                            (number, f"id: {number}\nevent: {event}\ndata: {json.dumps(record)}\n\n")
                        )
                        self._latest = number
                    self._state = json.dumps(shift_state(db, self._shift))
                self._seen = seen
            recent, floor, state = [c for c in self._recent if c[0] > after], self._floor, self._state
        if after < floor:
            # One that comes back after long is told from the database what the others know.
            with sessions() as db:
                older = [
                    (n, f"id: {n}\nevent: {event}\ndata: {json.dumps(record)}\n\n")
                    for n, event, record in changes_after(db, self._shift, after)
                    if n <= floor
                ]
            recent = older + [c for c in recent if c[0] > floor]
        return recent, state


def stream(
    hub: Hub,
    sessions: sessionmaker[Session],
    shift_id: UUID,
    after: int,
    still_in: Callable[[Session], bool] = lambda _: True,
    who: str = "",
) -> Iterator[str]:
    """Server-sent events of a shift: what is missing first, then what comes. Holds no connection while it
    waits.

    `still_in` : whether whoever listens is still signed in; asked when something was said of accounts, and at
        every beat
    """
    feed = hub.feed(shift_id)
    try:
        yield "retry: 1000\n\n"
        told, asked = "", None
        while True:
            seen = hub.seen(str(shift_id))
            try:
                if asked != seen.signed_in:
                    with sessions() as db:
                        if not still_in(db):
                            yield OUT
                            return
                    asked = seen.signed_in
                changes, state = feed.read(sessions, seen, after)
            except Exception as failed:
                log.warning("stream_query", reason=type(failed).__name__)
                return
            if changes:
                after = changes[-1][0]
                yield "".join(text for _, text in changes)
            if state != told:
                # It has no number: it is told as it is, not as it came to be.
                told = state
                yield f"event: shift\ndata: {state}\n\n"
            if not hub.wait(str(shift_id), seen, HEARTBEAT_S):
                asked = None
                yield f"event: beat\ndata: {json.dumps({'server_now': time.time()})}\n\n"
    finally:
        hub.leave_place(who)


def told_of(
    hub: Hub,
    sessions: sessionmaker[Session],
    about: str,
    still_in: Callable[[Session], bool],
    who: str = "",
) -> Iterator[str]:
    """Server-sent events that say no more than that something has changed: the screen then asks for what it
    shows. Holds no connection while it waits.

    `about` : the id of what is watched
    """
    try:
        yield "retry: 1000\n\n"
        while True:
            seen = hub.seen(about)
            with sessions() as db:
                if not still_in(db):
                    yield OUT
                    return
            changed = hub.wait(about, seen, HEARTBEAT_S)
            yield f"event: {'changed' if changed else 'beat'}\ndata: {{}}\n\n"
    finally:
        hub.leave_place(who)

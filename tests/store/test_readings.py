"""Readings in chunks: written over, cut, joined and thinned, and always the same readings."""

import time
from random import Random

from sqlalchemy import func, select

from tests.conftest import session
from yeasty.core.cook.readings import WireLine
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.store.base import now
from yeasty.store.cook import devices, readings
from yeasty.store.cook.tables import ReadingChunk


def test_however_they_come_the_same_readings_are_read_and_joining_changes_none(demo_url: str) -> None:
    random = Random(3)
    start = round(time.time() - 7200)
    rows = [
        (float(start + n), None if n % 97 == 5 else round(20 + n / 50 + random.gauss(0, 0.1), 2))
        for n in range(3000)
    ]
    with session(demo_url) as db:
        hub, _ = devices.make_device(db, "hub", "hub", None)
        at = 0
        while at < len(rows):
            some = random.randint(1, 40)
            lines = [
                WireLine(at + i, t, None, "1", "celsius", v) for i, (t, v) in enumerate(rows[at : at + some])
            ]
            random.shuffle(lines)
            devices.take(db, hub, lines, time.time(), time.time(), time.time())
            at += some
        db.commit()
        before = readings.readings_of(db, hub.id, "1", start, start + 3000)
        assert [v for _, v in before] == [v for _, v in rows]
        assert all(abs(a - b) < 2 for (a, _), (b, _) in zip(before, rows, strict=True))
        count = db.scalar(
            select(func.count()).select_from(ReadingChunk).where(ReadingChunk.device_id == hub.id)
        )
        assert count == 24
        # Too few to be worth joining; with more of them they become one.
        assert readings.join_chunks(db, now()) == 0
        for n in range(31):
            readings.keep_chunk(db, hub.id, "1", "celsius", [(start - 100.0 - n, 1.0)])
        joined = readings.join_chunks(db, now())
        assert joined == 55
        assert readings.readings_of(db, hub.id, "1", start, start + 3000) == before
        thinned = readings.readings_of(db, hub.id, "1", start, start + 3000, most=200, peaks=True)
        assert len(thinned) < 500
        known = [v for _, v in before if v is not None]
        told = [v for _, v in thinned if v is not None]
        assert (min(told), max(told)) == (min(known), max(known))
        again = readings.readings_of(db, hub.id, "1", start, start + 3000, most=200, peaks=True)
        assert again == thinned


def test_a_probe_is_where_the_newest_entry_says_until_the_next() -> None:
    def put(n: int, batch: str, where: str, at: float) -> Entry:
        return Entry(
            f"e{n}", batch, EntryKind.PROBE, at, "d", n, {"device": "h", "channel": "1", "where": where}
        )

    log = [put(1, "a", "core", 10.0), put(2, "b", "chamber", 20.0), put(3, "b", "out", 30.0)]
    found = [(s.batch, s.where, s.since, s.until) for s in devices.stays(log)]
    assert found == [("a", "core", 10.0, 20.0), ("b", "chamber", 20.0, 30.0)]
    taken_back = [*log, Entry("u", "b", EntryKind.UNDONE, 40.0, "d", 4, {}, "e3")]
    assert devices.stays(taken_back)[-1].until is None

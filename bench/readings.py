"""Readings of probes: room they take, and how long a bench waits for the curves of thirty probes over three
hours.

Makes a kitchen of its own with so many million readings of thirty channels (hours that were joined, as the
worker leaves them), then a shift with three hours of live readings as hubs send them. Loopback only, bounded.
Run: PYTHONPATH=. .venv/bin/python bench/readings.py [millions]
"""

import json
import os
import platform
import shutil
import signal
import statistics
import sys
import tempfile
import time
import uuid
from pathlib import Path
from random import Random

from sqlalchemy import select, text

from yeasty.cli import prepare
from yeasty.core.cook.probe_log import thin
from yeasty.core.kernel.entries import EntryKind
from yeasty.process import cluster
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook import devices as store
from yeasty.store.cook import readings as kept
from yeasty.store.cook.queries import append_entries, entries_after, moment
from yeasty.store.cook.tables import EntryRow, Shift
from yeasty.store.database import make_engine, session_factory

CHANNELS = 30


def curve(random: Random, count: int, start: float) -> list[tuple[float, float | None]]:
    """A core that warms, with noise, a reading a second."""
    return [
        (start + i, round(8 + 80 * (1 - 0.5 ** (i / 1500)) + random.gauss(0, 0.12), 2)) for i in range(count)
    ]


def main(millions: float = 20.0) -> None:
    folder = Path(tempfile.mkdtemp(prefix="yeasty-readings-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    database = cluster.start(folder / "pg", durable=False)
    random = Random(1)
    try:
        prepare(database.url, demo=True, fresh=False)
        sessions = session_factory(make_engine(database.url, pool=2))
        hour = curve(random, 3600, 1.7e9)
        chunks = int(millions * 1e6 / 3600)
        with sessions.begin() as db:
            old, _ = store.make_device(db, "old hub", "hub", None)
            for n in range(chunks):
                at = 1.7e9 + 3600 * (n // CHANNELS)
                kept.keep_chunk(
                    db, old.id, str(n % CHANNELS), "celsius", [(t - 1.7e9 + at, v) for t, v in hour]
                )
                if n % 500 == 499:
                    db.flush()
        with sessions.begin() as db:
            shift = db.scalars(
                select(Shift).join(Trial).where(Trial.dish == "chickpeas", Shift.ended_at.is_(None))
            ).one()
            hubs = [store.make_device(db, f"hub {h}", "hub", None)[0] for h in range(5)]
            start, entries = time.time() - 3 * 3600, []
            for h, hub in enumerate(hubs):
                for c in range(6):
                    entries.append(
                        EntryRow(
                            id=uuid.uuid4(),
                            shift_id=shift.id,
                            batch_id=shift.batches[(h + c) % len(shift.batches)].id,
                            kind=EntryKind.PROBE.value,
                            device_id=uuid.uuid4(),
                            counter=1,
                            offset_ms=0.0,
                            device_time=moment(start - 1),
                            server_time=now(),
                            author_id=None,
                            supersedes=None,
                            payload={
                                "device": str(hub.id),
                                "channel": str(c),
                                "where": "core" if c % 2 else "chamber",
                                "name": f"{h}.{c}",
                            },
                        )
                    )
                    rows = curve(random, 3 * 3600, start)
                    for i in range(0, len(rows), 3600):
                        kept.keep_chunk(db, hub.id, str(c), "celsius", rows[i : i + 3600])
            append_entries(db, shift.id, entries)
            shift_id = shift.id
        with sessions() as db:
            size = db.scalar(text("select pg_total_relation_size('reading_chunk')")) or 0
            count = db.scalar(text("select sum(count) from reading_chunk")) or 0
        took, numbers, one = [], [], []
        for _ in range(5):
            with sessions() as db:
                shift = db.get_one(Shift, shift_id)
                log = [e.core() for e in entries_after(db, shift_id, 0, 100_000)]
                began = time.perf_counter()
                found = store.live_logs(db, shift, log, time.time(), most=240, peaks=True)
                points = [thin(tuple(r.times_s), tuple(v), 240) for r in found for v in r.channels.values()]
                took.append(1000 * (time.perf_counter() - began))
                began = time.perf_counter()
                store.live_logs(db, shift, log, time.time())
                numbers.append(1000 * (time.perf_counter() - began))
                began = time.perf_counter()
                kept.readings_of(db, hubs[0].id, "1", time.time() - 1200, time.time())
                one.append(1000 * (time.perf_counter() - began))
        print(
            json.dumps(
                {
                    "machine": f"{os.cpu_count()} cores, {platform.machine()}, Python "
                    f"{platform.python_version()}, load {os.getloadavg()[0]:.1f}",
                    "readings": int(count),
                    "megabytes": round(size / 1e6, 1),
                    "bytes_a_reading": round(size / count, 2),
                    "curves": len(points),
                    "thirty_curves_of_three_hours_ms": round(statistics.median(took), 1),
                    "thirty_for_forecasts_ms": round(statistics.median(numbers), 1),
                    "last_twenty_minutes_of_one_probe_ms": round(statistics.median(one), 2),
                },
                indent=1,
            )
        )
    finally:
        database.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main(*(float(x) for x in sys.argv[1:]))

"""Readings as they are kept: in chunks that never change, the newest in a tail that is written over, joined
when they are old.

A table with a row a reading would hold 20 million rows of 60 bytes and an index beside them; a chunk holds up
to an hour of a channel in a few kilobytes, is written once, and is found by device, channel and time
(docs/decisions/17-devices.md).
"""

import threading
import uuid
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import ceil, log2
from typing import Any

from sqlalchemy import func, select, tuple_
from sqlalchemy.orm import Session

from yeasty.core.cook.readings import extremes, pack, unpack
from yeasty.store.base import now, row_of
from yeasty.store.cook.queries import moment
from yeasty.store.cook.tables import ReadingChunk, ReadingTail

Curve = list[tuple[float, float | None]]

# Chunks older than this are joined into chunks of at most `JOINED` readings.
JOIN_AFTER = timedelta(minutes=5)

JOINED = 3600

# A tail that has so many readings gives them to a chunk, but for the newest few: what comes late still finds
# its place.
TAIL, CHUNK = 150, 120

# Thinned chunks kept in a process, of a few hundred readings each.
MOST_THINNED = 600

_thinning = threading.Lock()

_kept_thinned: "OrderedDict[tuple[int, int, bool], list[tuple[float, float | None]]]" = OrderedDict()


def add_readings(
    db: Session,
    device_id: uuid.UUID,
    channel: str,
    measure: str,
    rows: Sequence[tuple[float, float | None]],
    tail: ReadingTail | None,
) -> None:
    """Put readings to the tail of a channel; a tail that is long enough becomes a chunk."""
    held: Curve = (
        list(zip(*unpack(tail.starts_at.timestamp(), tail.data), strict=True))
        if tail is not None and tail.data
        else []
    )
    held = sorted([*held, *rows], key=lambda r: r[0])
    while len(held) >= TAIL:
        keep_chunk(db, device_id, channel, measure, held[:CHUNK])
        held = held[CHUNK:]
    if tail is None:
        tail = ReadingTail(device_id=device_id, channel=channel, measure=measure)
        db.add(tail)
    c = pack([t for t, _ in held], [v for _, v in held], fine=measure == "kg") if held else None
    tail.starts_at, tail.data = (moment(c.starts), c.data) if c else (now(), b"")


def keep_chunk(
    db: Session, device_id: uuid.UUID, channel: str, measure: str, rows: Sequence[tuple[float, float | None]]
) -> None:
    """Keep readings of one channel as a chunk."""
    rows = sorted(rows, key=lambda r: r[0])
    c = pack([t for t, _ in rows], [v for _, v in rows], fine=measure == "kg")
    db.add(
        row_of(
            ReadingChunk,
            c,
            device_id=device_id,
            channel=channel,
            measure=measure,
            starts_at=moment(c.starts),
            ends_at=moment(c.ends),
        )
    )


def _thinned(key: int, starts: float, data: bytes, take: int, peaks: bool) -> Curve:
    """A chunk's readings, thinned. Chunks never change: the thinned ones used last are kept in the
    process.
    """
    if take == 1:
        return list(zip(*unpack(starts, data), strict=True))
    name = (key, take, peaks)
    with _thinning:
        if name in _kept_thinned:
            _kept_thinned.move_to_end(name)
            return _kept_thinned[name]
    found = extremes(data, 2 * take) if peaks else list(zip(*unpack(starts, data, take), strict=True))
    with _thinning:
        _kept_thinned[name] = found
        while len(_kept_thinned) > MOST_THINNED:
            _kept_thinned.popitem(last=False)
    return found


@dataclass(frozen=True)
class Stretch:
    """A channel between two moments [s since 1970]."""

    device: uuid.UUID
    channel: str
    since: float
    until: float

    @property
    def key(self) -> tuple[uuid.UUID, str]:
        """What it is a stretch of."""
        return self.device, self.channel


def readings_of(
    db: Session,
    device_id: uuid.UUID,
    channel: str,
    since: float,
    until: float,
    measure: str = "celsius",
    most: int | None = None,
    peaks: bool = False,
) -> Curve:
    """Readings of a channel between two moments [s since 1970], rising; see `curves_of`."""
    return curves_of(db, [Stretch(device_id, channel, since, until)], measure, most, peaks)[0]


def curves_of(
    db: Session,
    stretches: Sequence[Stretch],
    measure: str = "celsius",
    most: int | None = None,
    peaks: bool = False,
) -> list[Curve]:
    """Readings of each stretch, rising; two queries however many there are.

    With `most` at about so many of each: every so-many-th, or with `peaks` the lowest and highest of every
    stretch of time.
    """
    if not stretches:
        return []
    channels = {s.key for s in stretches}
    chunks: dict[tuple[uuid.UUID, str], list[Any]] = {key: [] for key in channels}
    for row in db.execute(
        select(
            ReadingChunk.id,
            ReadingChunk.device_id,
            ReadingChunk.channel,
            ReadingChunk.starts_at,
            ReadingChunk.ends_at,
            ReadingChunk.data,
            ReadingChunk.count.label("size"),
        ).where(
            tuple_(ReadingChunk.device_id, ReadingChunk.channel).in_(channels),
            ReadingChunk.measure == measure,
            ReadingChunk.ends_at >= moment(min(s.since for s in stretches)),
            ReadingChunk.starts_at <= moment(max(s.until for s in stretches)),
        )
    ):
        chunks[row.device_id, row.channel].append(row)
    tails = {
        (t.device_id, t.channel): t
        for t in db.scalars(
            select(ReadingTail).where(
                tuple_(ReadingTail.device_id, ReadingTail.channel).in_(channels),
                ReadingTail.measure == measure,
            )
        )
    }
    return [_curve(s, chunks[s.key], tails.get(s.key), most, peaks) for s in stretches]


def _curve(
    stretch: Stretch, chunks: Sequence[Any], tail: ReadingTail | None, most: int | None, peaks: bool
) -> Curve:
    since, until = moment(stretch.since), moment(stretch.until)
    rows = [r for r in chunks if r.ends_at >= since and r.starts_at <= until]
    total = sum(r.size for r in rows)
    # By powers of two, so that what was thinned once serves for as long as a stay grows to its double.
    take = 2 ** ceil(log2(total / most)) if most and total > most else 1
    found: Curve = []
    for r in rows:
        found += _thinned(r.id, r.starts_at.timestamp(), r.data, take, peaks)
    if tail is not None and tail.data:
        found += zip(*unpack(tail.starts_at.timestamp(), tail.data), strict=True)
    return sorted((r for r in found if stretch.since <= r[0] <= stretch.until), key=lambda r: r[0])


def join_chunks(db: Session, before: datetime | None = None) -> int:
    """Join small chunks that are old into large ones; how many were taken up. Done by the worker, now and
    then.
    """
    old = (before or now()) - JOIN_AFTER
    keys = db.execute(
        select(ReadingChunk.device_id, ReadingChunk.channel, ReadingChunk.measure)
        .where(ReadingChunk.ends_at < old, ReadingChunk.count < JOINED // 2)
        .group_by(ReadingChunk.device_id, ReadingChunk.channel, ReadingChunk.measure)
        .having(func.count() > 30)
        .limit(50)
    ).all()
    joined = 0
    for device_id, channel, measure in keys:
        rows = db.scalars(
            select(ReadingChunk)
            .where(
                ReadingChunk.device_id == device_id,
                ReadingChunk.channel == channel,
                ReadingChunk.measure == measure,
                ReadingChunk.ends_at < old,
                ReadingChunk.count < JOINED // 2,
            )
            .order_by(ReadingChunk.starts_at)
            .limit(5000)
            .with_for_update(skip_locked=True)
        ).all()
        kept: Curve = []
        for row in rows:
            times, values = unpack(row.starts_at.timestamp(), row.data)
            kept += list(zip(times, values, strict=True))
            db.delete(row)
        joined += len(rows)
        kept.sort(key=lambda r: r[0])
        for i in range(0, len(kept), JOINED):
            keep_chunk(db, device_id, channel, measure, kept[i : i + JOINED])
    db.flush()
    return joined

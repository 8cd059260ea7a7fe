"""Devices that read by themselves, where their probes are, and what of it belongs to a batch; the kitchen's
own cue words.
"""

import hashlib
import secrets
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.cook.probe_faults import trusted
from yeasty.core.cook.readings import KINDS, WireLine, hear
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.store.base import now
from yeasty.store.cook.queries import moment
from yeasty.store.cook.readings import Stretch, add_readings, curves_of, readings_of
from yeasty.store.cook.tables import CueWord, Device, ProbeLogRow, ReadingTail, Shift


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def make_device(
    db: Session,
    name: str,
    kind: str,
    made_by: uuid.UUID | None,
    *,
    appliance_id: uuid.UUID | None = None,
    simulated_for: uuid.UUID | None = None,
) -> tuple[Device, str]:
    """A device and its token, which is told once and stored nowhere."""
    token = secrets.token_urlsafe(32)
    row = Device(
        name=name,
        kind=kind,
        token_hash=_hash(token),
        made_at=now(),
        made_by=made_by,
        appliance_id=appliance_id,
        simulated_shift_id=simulated_for,
    )
    db.add(row)
    db.flush()
    return row, token


def device_of_token(db: Session, token: str) -> Device | None:
    """The device a token belongs to, locked for what it sends; None where there is none or it was revoked."""
    return db.scalar(
        select(Device).where(Device.token_hash == _hash(token), Device.revoked_at.is_(None)).with_for_update()
    )


def devices(db: Session) -> list[Device]:
    """All devices that were not revoked, by name; stand-ins of shifts that have ended are left out."""
    query = (
        select(Device)
        .outerjoin(Shift, Device.simulated_shift_id == Shift.id)
        .where(Device.revoked_at.is_(None), Shift.ended_at.is_(None))
    )
    return list(db.scalars(query.order_by(Device.name, Device.id)))


@dataclass(frozen=True)
class Taken:
    """What became of the lines of a device: how many are kept, how many had come before, and which counts are
    missing.
    """

    kept: int
    again: int
    missing: tuple[tuple[int, int], ...]


def take(
    db: Session,
    device: Device,
    lines: Sequence[WireLine],
    sent_at: float | None,
    real: float,
    clock_at: float,
) -> Taken:
    """Keep what is new of what a device sent.

    Parameters
    ----------
    sent_at : the device's own clock when it sent [s since 1970], None where it has none
    real : the server's clock [s since 1970]; clock_at : the same on the clock of the shift it belongs to
    """
    heard, fresh, again = hear(device.heard(), [line.seq for line in lines])
    offset = real - sent_at if sent_at is not None else 0.0
    new = set(fresh)
    by_channel: dict[tuple[str, str], list[tuple[float, float | None]]] = {}
    for line in lines:
        if line.seq not in new:
            continue
        new.discard(line.seq)
        at = (
            (line.at + offset if line.at is not None else real - (line.ago or 0.0))
            if device.simulated_shift_id is None
            else _simulated(line, clock_at)
        )
        if line.event == "battery":
            device.battery = line.value
        elif line.event == "unplugged":
            by_channel.setdefault((line.channel, KINDS[device.kind][0]), []).append((at, None))
        elif line.measure:
            by_channel.setdefault((line.channel, line.measure), []).append((at, line.value))
    tails = (
        {
            (t.channel, t.measure): t
            for t in db.scalars(select(ReadingTail).where(ReadingTail.device_id == device.id))
        }
        if by_channel
        else {}
    )
    for (channel, measure), rows in by_channel.items():
        add_readings(db, device.id, channel, measure, rows, tails.get((channel, measure)))
        if measure != "joule":
            newest = max(rows, key=lambda r: r[0])
            device.channels = {**device.channels, channel: [newest[0], newest[1], measure]}
    device.last_seq, device.missing = heard.last, [list(g) for g in heard.gaps]
    device.offset_ms, device.heard_at = offset * 1000, now()
    db.flush()
    return Taken(len(fresh), len(again), heard.gaps)


def _simulated(line: WireLine, clock_at: float) -> float:
    """A stand-in's moment is on the clock of its shift."""
    return line.at if line.at is not None else clock_at - (line.ago or 0.0)


def metered(db: Session, appliance_id: uuid.UUID, shift: Shift, since: float, until: float) -> float | None:
    """Energy that a meter before an appliance counted between two moments [J]; None where none stands there
    or it said too little.
    """
    query = select(Device).where(
        Device.appliance_id == appliance_id, Device.kind == "meter", Device.revoked_at.is_(None)
    )
    if shift.clock_rate is not None:
        query = query.where(Device.simulated_shift_id == shift.id)
    else:
        query = query.where(Device.simulated_shift_id.is_(None))
    meter = db.scalars(query.order_by(Device.made_at.desc()).limit(1)).one_or_none()
    if meter is None:
        return None
    counted = [v for _, v in readings_of(db, meter.id, "1", since, until, "joule") if v is not None]
    if len(counted) < 2:
        return None
    # A counter that was started again begins at nought: what it had counted before stays counted.
    return sum(b - a if b >= a else b for a, b in pairwise(counted))


# A scale counts as standing still where its last two readings lie this near [kg, share].
STILL_KG, STILL_SHARE = 0.0005, 0.01

# What lies on a scale is read where it was last heard within so long [s].
FRESH_S = 120.0


def on_the_scale(db: Session, after: float) -> tuple[Device, float, float] | None:
    """The kitchen's scale, what lies on it [kg] and since when it says so [s since 1970]; None where there is
    none.

    Of several the one that spoke last. Stand-ins of simulated shifts are none.

    Raises
    ------
    RuleError : it is silent, empty, still swings, or says what it said `after` which the last piece was read
    """
    scales = [d for d in devices(db) if d.kind == "scale" and d.simulated_shift_id is None]
    if not scales:
        return None
    scale = max(scales, key=lambda d: d.heard_at.timestamp() if d.heard_at else 0.0)
    real = now().timestamp()
    name, channel = scale.name, max(scale.channels, key=lambda k: scale.channels[k][0], default="")
    if not channel or scale.heard_at is None or real - scale.heard_at.timestamp() > FRESH_S:
        raise RuleError(name, "says nothing", "Wake it and lay the piece on again, or type the weight.")
    rows = [
        (t, v) for t, v in readings_of(db, scale.id, channel, real - FRESH_S, real + 5, "kg") if v is not None
    ]
    if not rows or rows[-1][1] < 2 * STILL_KG / 5:
        raise RuleError(name, "is empty", "Lay the next piece on it.")
    at, kg = rows[-1]
    if at <= after:
        raise RuleError(name, "has said nothing new since the last piece", "Lay the next piece on it.")
    if len(rows) > 1 and at - rows[-2][0] < 1.0 and abs(kg - rows[-2][1]) > max(STILL_KG, STILL_SHARE * kg):
        raise RuleError(name, "still swings", "Wait a moment and press again.")
    return scale, kg, at


@dataclass(frozen=True)
class ProbeStay:
    """A channel in a batch: since when and until when (None while it is there), and where in it."""

    device: str
    channel: str
    batch: str
    where: str
    since: float
    until: float | None
    name: str = ""


def stays(entries: Sequence[Entry]) -> list[ProbeStay]:
    """Where each probe was, from the entries that say so; what says "out" ends a stay and begins none."""
    found: list[ProbeStay] = []
    open_: dict[tuple[str, str], ProbeStay] = {}
    for e in sorted((e for e in effective(entries) if e.kind is EntryKind.PROBE), key=lambda e: e.when):
        key = (str(e.payload["device"]), str(e.payload["channel"]))
        before = open_.pop(key, None)
        if before is not None:
            found.append(
                ProbeStay(
                    before.device,
                    before.channel,
                    before.batch,
                    before.where,
                    before.since,
                    e.when,
                    before.name,
                )
            )
        if e.payload["where"] != "out":
            open_[key] = ProbeStay(
                *key, e.batch, str(e.payload["where"]), e.when, None, str(e.payload.get("name") or "")
            )
    return found + list(open_.values())


def live_logs(
    db: Session,
    shift: Shift,
    entries: Sequence[Entry],
    until: float,
    most: int | None = 1500,
    peaks: bool = False,
) -> list[ProbeLogRow]:
    """What probes read in a shift, in the shape of a probe log that was brought in; not stored.

    Readings of a core that are not to be believed (pulled out, moved) stand in a channel of their own, "core,
    doubted": they count for nothing. `most` readings a stay are taken, see `readings_of`. Once a shift is
    over its readings are kept as probe logs (`settle`), and nothing is told twice.
    """
    if shift.ended_at is not None:
        return []
    known = {str(b.id): b for b in shift.batches}
    here = [s for s in stays(entries) if s.batch in known]
    stretches = [Stretch(uuid.UUID(s.device), s.channel, s.since, min(s.until or until, until)) for s in here]
    found = []
    for s, rows in zip(here, curves_of(db, stretches, most=most, peaks=peaks), strict=True):
        if not rows:
            continue
        channels: dict[str, Any] = {s.where: [v for _, v in rows]}
        if s.where == "core":
            good = {t for t, _ in trusted(rows)}
            channels["core"] = [v if t in good else None for t, v in rows]
            if len(good) < sum(v is not None for _, v in rows):
                channels["core, doubted"] = [None if t in good else v for t, v in rows]
        found.append(
            ProbeLogRow(
                id=uuid.uuid5(uuid.UUID(s.device), f"{s.channel}|{s.since}"),
                batch_id=known[s.batch].id,
                name=s.name or f"probe {s.channel}",
                starts_at=moment(rows[0][0]),
                times_s=[t - rows[0][0] for t, _ in rows],
                channels=channels,
                added_at=moment(s.since),
            )
        )
    return found


def probe_logs(
    db: Session, shifts: Sequence[Shift], entries: Mapping[uuid.UUID, Sequence[Entry]]
) -> dict[uuid.UUID, list[ProbeLogRow]]:
    """Probe logs by batch, oldest first: those that are kept, and what probes of shifts that go on have read
    until now.
    """
    batches = [b.id for s in shifts for b in s.batches]
    found: dict[uuid.UUID, list[ProbeLogRow]] = {}
    for row in db.scalars(
        select(ProbeLogRow).where(ProbeLogRow.batch_id.in_(batches)).order_by(ProbeLogRow.added_at)
    ):
        found.setdefault(row.batch_id, []).append(row)
    for shift in shifts:
        for row in live_logs(db, shift, entries.get(shift.id, ()), shift.clock().at(now().timestamp())):
            found.setdefault(row.batch_id, []).append(row)
    return found


def settle(db: Session, shift: Shift, entries: Sequence[Entry], until: float) -> int:
    """Keep the readings of a shift that ends as probe logs of its batches, so that they go with the trial;
    how many.
    """
    rows = live_logs(db, shift, entries, until, most=None)
    for row in rows:
        if db.get(ProbeLogRow, row.id) is None:
            db.add(row)
    db.flush()
    return len(rows)


def cue_words(db: Session) -> list[CueWord]:
    """The kitchen's own cue chips, in the order they were added."""
    return list(db.scalars(select(CueWord).order_by(CueWord.added_at, CueWord.id)))

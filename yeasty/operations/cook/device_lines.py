"""What devices send by themselves: lines read one by one, and kept."""

import time
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.cook.readings import LATEST_S, MOST_LINES, WireLine, read_line
from yeasty.core.kernel.errors import RuleError
from yeasty.store.cook import devices as store
from yeasty.store.cook.tables import Device, Shift

MOST_BYTES = 2 * 1024 * 1024


@dataclass(frozen=True)
class Received:
    """What became of what was sent, by the server's clock [s since 1970]."""

    taken: store.Taken
    refused: Sequence[RuleError]
    server_now: float


def receive(db: Session, device: Device, raw: bytes, device_time: str) -> Received:
    """Keep what a device sends, each line judged by itself; `device_time` is what its clock showed when it
    sent, empty where it has none.

    Raises
    ------
    RuleError : too much, no text, no lines, or a clock that shows no time
    """
    rows = _lines(raw)
    sent_at = _clock(device_time)
    read, refused = list[WireLine](), list[RuleError]()
    for n, row in enumerate(rows, 1):
        try:
            read.append(read_line(row, device.kind, n))
        except RuleError as wrong:
            refused.append(wrong)
    real = time.time()
    shift = db.get(Shift, device.simulated_shift_id) if device.simulated_shift_id else None
    taken = store.take(db, device, read, sent_at, real, shift.clock().at(real) if shift else real)
    return Received(taken, refused, real)


def _lines(raw: bytes) -> list[str]:
    if len(raw) > MOST_BYTES:
        raise RuleError("lines", f"are {len(raw)} bytes", f"Send at most {MOST_BYTES} bytes at once.")
    try:
        rows = [line for line in raw.decode().split("\n") if line.strip()]
    except UnicodeDecodeError:
        raise RuleError("lines", "are not UTF-8", "Send UTF-8 text.") from None
    if not 0 < len(rows) <= MOST_LINES:
        raise RuleError("lines", f"{len(rows)}", f"Send 1 to {MOST_LINES} lines at once.")
    return rows


def _clock(said: str) -> float | None:
    try:
        at = float(said) if said else None
    except ValueError:
        at = -1.0
    if at is not None and not 0 <= at <= LATEST_S:
        raise RuleError(
            "X-Device-Time", f"“{said[:40]}” is no time", "Send seconds since 1970, or leave it out."
        )
    return at

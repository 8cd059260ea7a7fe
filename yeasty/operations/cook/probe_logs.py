"""A probe log that is brought in as a file: read first, kept once it is confirmed."""

import uuid
from dataclasses import dataclass

from sqlalchemy.orm import Session

from yeasty.core.cook.probe_log import ProbeLog, read_probe_log
from yeasty.core.kernel.errors import RuleError
from yeasty.store.base import now
from yeasty.store.cook import queries as store
from yeasty.store.cook.tables import Batch, ProbeLogRow


@dataclass(frozen=True)
class Read:
    """A log as it was read; `starts_at` is when its first reading was taken [s since 1970], where known."""

    log: ProbeLog
    starts_at: float | None

    def spans(self) -> dict[str, list[float]]:
        """Lowest and highest of each channel [°C]."""
        found = {name: [v for v in values if v is not None] for name, values in self.log.channels}
        return {name: [min(v), max(v)] for name, v in found.items() if v}


def read_file(raw: bytes, unit: str | None, starts_at: float | None) -> Read:
    """A log as a file holds it; what is said of its unit and its beginning counts before what it says.

    Raises
    ------
    RuleError : no UTF-8, or what `read_probe_log` refuses
    """
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise RuleError(
            "file", "is not UTF-8 text", "Save the log as CSV (UTF-8) and choose that file."
        ) from None
    log = read_probe_log(text, unit)
    return Read(log, starts_at if starts_at is not None else log.starts_at)


def keep(db: Session, batch_id: uuid.UUID, name: str, read: Read) -> None:
    """Keep a log with its batch, and wake its bench.

    Raises
    ------
    RuleError : it is not known when its first reading was taken
    """
    if read.starts_at is None:
        raise RuleError(
            "starts_at", "is not known", "The file has no date: say when its first reading was taken."
        )
    db.add(
        ProbeLogRow(
            batch_id=batch_id,
            name=name,
            starts_at=store.moment(read.starts_at),
            times_s=list(read.log.times_s),
            channels={n: list(v) for n, v in read.log.channels},
            added_at=now(),
        )
    )
    store.wake(db, db.get_one(Batch, batch_id).shift_id)

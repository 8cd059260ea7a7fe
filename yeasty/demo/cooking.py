"""What a demo's batches went through: entries from a plan, probe curves from conduction, pictures drawn."""

import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from io import BytesIO
from random import Random
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from yeasty.core.cook.problem import PlannedStep
from yeasty.core.heat.conduction import centre_temperature
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.kernel.steps import Phase, Step
from yeasty.operations.cook.replanning import replan
from yeasty.operations.cook.shifts import batch_of
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.pictures import store_photo
from yeasty.store.cook.queries import append_entries, moment
from yeasty.store.cook.tables import Batch, EntryRow, ProbeLogRow, Shift
from yeasty.store.kitchen.people_tables import Account

ENDS = {Phase.LOAD: EntryKind.IN, Phase.TURN: EntryKind.TURNED, Phase.OUT: EntryKind.OUT}


@dataclass
class Story:
    """What is told of one batch beside its steps.

    `facts` are (seconds after going in, kind, payload); `probe` gives [°C] at seconds after going in.
    """

    facts: Sequence[tuple[float, EntryKind, dict[str, Any]]] = ()
    late_s: float = 0.0
    radius_m: float = 0.021
    start_c: float = 24.0
    around_c: float = 100.0
    h: float = 400.0
    chamber_c: float | None = None
    volumetric_k_s: float | None = None
    read_every_s: float = 240.0
    effort: dict[str, Any] = field(default_factory=dict)


class Log:
    """Collects entries of one device and appends them in one go."""

    def __init__(self, shift: Shift, author: Account, seed: int) -> None:
        self._shift, self._author = shift, author
        self._random = Random(seed)
        self._device = uuid.UUID(int=self._random.getrandbits(128), version=4)
        self._facts: list[tuple[float, uuid.UUID, EntryKind, dict[str, Any]]] = []

    def add(self, at: float, batch: uuid.UUID, kind: EntryKind, payload: dict[str, Any]) -> None:
        """A fact at a moment [s since 1970]."""
        self._facts.append((at, batch, kind, payload))

    def write(self, db: Session, until: float) -> None:
        """Append what happened up to a moment."""
        rows = [
            EntryRow(
                id=uuid.UUID(int=self._random.getrandbits(128), version=4),
                shift_id=self._shift.id,
                batch_id=batch,
                kind=kind.value,
                device_id=self._device,
                counter=n,
                offset_ms=0.0,
                device_time=datetime.fromtimestamp(at, UTC),
                server_time=datetime.fromtimestamp(at, UTC),
                author_id=self._author.person_id,
                payload=payload,
                supersedes=None,
            )
            for n, (at, batch, kind, payload) in enumerate(sorted(self._facts, key=lambda f: f[0]), 1)
            if at <= until
        ]
        append_entries(db, self._shift.id, rows)


def planned_at(db: Session, shift: Shift, before: datetime) -> list[PlannedStep]:
    """Plan a shift as at a moment before it; the plan says so."""
    row = replan(db, shift.id, before.timestamp())
    row.made_at = before
    return row.planned()


def running_shift(
    db: Session, trial: Trial, name: str, at: datetime, serve_in_min: int
) -> tuple[Shift, list[PlannedStep]]:
    """A shift laid around a moment, one batch a method, planned from two hours before."""
    used = appliances_of(db, trial)
    serve = (at + timedelta(minutes=serve_in_min)).replace(second=0, microsecond=0)
    before = at - timedelta(hours=2)
    shift = Shift(
        trial_id=trial.id,
        name=name,
        serve_from=serve,
        serve_until=serve + timedelta(minutes=4),
        people=1,
        created_at=before,
    )
    db.add(shift)
    db.flush()
    for position, method in enumerate(trial.methods):
        shift.batches.append(batch_of(trial, method, shift, position, 1, used))
    db.flush()
    return shift, planned_at(db, shift, before)


def core_curve(story: Story, seconds: np.ndarray) -> np.ndarray:
    """Core temperature [°C] while cooking: conduction into a wet piece whose surface stays near `around_c`,
    or volumetric heating up to just below boiling.
    """
    if story.volumetric_k_s is not None:
        return np.asarray(
            98.0 - (98.0 - story.start_c) * np.exp(-story.volumetric_k_s * seconds / (98.0 - story.start_c))
        )
    return centre_temperature(
        "sphere", story.radius_m, seconds, story.start_c, story.around_c, story.h, 0.45, 1.5e-7
    )


def cook_batch(
    db: Session, log: Log, batch: Batch, plan: Sequence[PlannedStep], story: Story, until: float, seed: int
) -> None:
    """Log a batch as planned with a cook's small delays, read the probe now and then, keep its curve."""
    random = Random(seed)
    steps: dict[str, Step] = {s.key: s for s in batch.chain().steps}
    mine = sorted((p for p in plan if p.batch == str(batch.id)), key=lambda p: p.start)
    into = next(p for p in mine if steps[p.step].phase is Phase.COOK)
    went_in = into.start + story.late_s
    for n, p in enumerate(mine):
        step = steps[p.step]
        delay = story.late_s + random.uniform(-8, 14)
        if step.attention.value == "hands":
            kind = ENDS.get(step.phase, EntryKind.DONE)
            log.add(p.end + delay, batch.id, kind, {"step": p.step})
        elif n == 0:
            log.add(p.start + story.late_s, batch.id, EntryKind.STARTED, {"step": p.step})
        elif step.phase is Phase.COME_UP and steps[mine[n + 1].step].attention.value != "hands":
            log.add(p.end + delay, batch.id, EntryKind.DONE, {"step": p.step})
    out_at = next((p.start for p in mine if p.start >= into.end - 1), into.end) + story.late_s
    length = out_at - went_in
    times = np.arange(0.0, length + 1, 5.0)
    core = core_curve(story, times)
    noise = np.array([random.gauss(0, 0.15) for _ in times])
    at = story.read_every_s
    while at < length:
        value = float(np.interp(at, times, core))
        log.add(went_in + at, batch.id, EntryKind.TEMPERATURE, {"celsius": round(value, 1), "where": "core"})
        at += story.read_every_s
    last = {"celsius": round(float(core[-1]), 1), "where": "core"}
    log.add(went_in + length, batch.id, EntryKind.TEMPERATURE, last)
    for offset, kind, payload in story.facts:
        log.add(went_in + offset, batch.id, kind, payload)
    if story.effort:
        log.add(mine[-1].end + story.late_s + 600, batch.id, EntryKind.EFFORT, story.effort)
    shown = times[times <= max(0.0, until - went_in)]
    if len(shown) > 2:
        channels: dict[str, Any] = {"core": [round(float(v), 2) for v in (core + noise)[: len(shown)]]}
        if story.chamber_c is not None:
            swing = [story.chamber_c + 5 * np.sin(2 * np.pi * t / 210) for t in shown]
            channels["chamber"] = [round(float(v), 2) for v in swing]
        db.add(
            ProbeLogRow(
                batch_id=batch.id,
                name="bench probe",
                starts_at=moment(went_in),
                times_s=[float(t) for t in shown],
                channels=channels,
                added_at=moment(min(until, went_in + length)),
            )
        )


def draw_bun(db: Session, trial_id: uuid.UUID, top: str, crumb: str, seed: int) -> uuid.UUID:
    """A small drawn picture of a cut bun, as a stand-in for a photo."""
    from PIL import Image, ImageDraw

    random = Random(seed)
    image = Image.new("RGB", (640, 480), "#d9cdb6")
    pen = ImageDraw.Draw(image)
    pen.ellipse((60, 330, 580, 440), fill="#c8bba2")
    pen.pieslice((90, 90, 550, 560), 180, 360, fill=top)
    pen.pieslice((112, 116, 528, 540), 180, 360, fill=crumb)
    for _ in range(160):
        x, y, r = random.uniform(130, 510), random.uniform(150, 322), random.uniform(1.5, 5)
        if ((x - 320) / 200) ** 2 + ((y - 325) / 200) ** 2 < 0.9:
            pen.ellipse((x - r, y - r, x + r, y + r), outline="#cdb88e")
    pen.ellipse((245, 235, 395, 322), fill="#7c7350")
    for _ in range(40):
        x, y = random.uniform(260, 380), random.uniform(245, 312)
        pen.ellipse((x - 6, y - 3, x + 6, y + 3), fill=random.choice(["#5f5a3d", "#98a06a", "#b9b48c"]))
    out = BytesIO()
    image.save(out, "PNG")
    photo_id = uuid.UUID(int=random.getrandbits(128), version=4)
    store_photo(db, trial_id, photo_id, out.getvalue(), None)
    return photo_id

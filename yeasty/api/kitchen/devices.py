"""Devices that read by themselves: making them known, what they send, and what a bench sees of them."""

import time
from uuid import UUID

from flask import Response, request
from pydantic import BaseModel, Field

from yeasty.api.blueprint import blueprint
from yeasty.api.cook.endpoints import open_shift
from yeasty.api.cook.views import ShiftPath
from yeasty.api.problems import ApiError, FieldProblem, not_found
from yeasty.api.request import answer, db, done, each, me, require, told
from yeasty.api.shared_answers import shared
from yeasty.api.shown import shown
from yeasty.core.cook.bench_words import FACES, CueChip, cue_chips
from yeasty.core.cook.probe_log import thin
from yeasty.core.kernel.errors import RuleError
from yeasty.operations.cook.device_lines import receive
from yeasty.operations.cook.outlook import metered_of_batch
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook import devices as store
from yeasty.store.cook.queries import entries_after
from yeasty.store.cook.tables import CueWord, Device, Shift
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.tables import Appliance

devices = blueprint("devices", "devices")
# Screens at one bench ask every few seconds; a probe reads once a second.
_KEEP_S = 0.8
# A device that has said nothing for so long is shown as silent [s of the server's clock].
SILENT_S = 60.0
CURVE_POINTS = 240


class DeviceIn(BaseModel):
    """A device to make known; a meter may say whose mains it measures."""

    name: str = Field(min_length=1, max_length=80)
    kind: str = Field(pattern="^(hub|scale|meter)$")
    appliance_id: UUID | None = None
    simulated_for: UUID | None = Field(
        default=None, description="shift on simulated time that it is a stand-in of"
    )


class ChannelView(BaseModel):
    """A probe or pan and what it last read: `at` [s since 1970, on the shift's clock for stand-ins], °C, kg
    or W.
    """

    channel: str
    at: float
    value: float | None
    measure: str


class DeviceView(BaseModel):
    """A device as it stands."""

    id: str
    name: str
    kind: str
    appliance: str
    simulated: bool
    battery: float | None
    heard_at: float | None
    silent: bool
    missing: int
    channels: list[ChannelView]


class DeviceMade(DeviceView):
    """A new device with its token, told this once."""

    token: str


class DeviceList(BaseModel):
    """All devices."""

    items: list[DeviceView]


class DevicePath(BaseModel):
    """Which device."""

    device_id: UUID


class LinesAnswer(BaseModel):
    """What became of what was sent. `kept` are durable; `missing` are counts never seen, as [first, last], to
    be sent again.
    """

    kept: int
    again: int
    refused: list[FieldProblem]
    missing: list[list[int]]
    server_now: float


class ProbeCurve(BaseModel):
    """What a probe read in a batch, thinned without losing its lowest and highest: [s since 1970, °C or
    null].
    """

    device: str
    channel: str
    name: str
    batch: str
    where: str
    points: list[list[float | None]]


class ProbesView(BaseModel):
    """Devices and where their probes are; `curves` where they were asked for."""

    devices: list[DeviceView]
    curves: list[ProbeCurve]
    shift_now: float


class ProbesQuery(BaseModel):
    """Whether curves are wanted too."""

    curves: bool = False


class MeteredView(BaseModel):
    """Energy by the meters before a batch's appliances while it heated [J]; None where no meter stands
    there.
    """

    joule: float | None
    shared_with: list[str] = Field(
        description="tags of batches that heated in the same appliance meanwhile: it is theirs too"
    )


class BatchOfShift(ShiftPath):
    """Which batch of which shift."""

    batch_id: UUID


class ChipView(BaseModel):
    """A cue that is one tap."""

    technique: str
    face: str
    text: str


class ChipList(BaseModel):
    """Chips for the techniques of a trial, the kitchen's own first."""

    items: list[ChipView]
    faces: list[str]


class ChipIn(BaseModel):
    """A cue to keep as a chip."""

    technique: str = Field(default="", max_length=40)
    face: str = Field(default="", max_length=40)
    text: str = Field(min_length=1, max_length=80)


def _view(d: Device, appliances: dict[UUID, str]) -> DeviceView:
    return shown(
        DeviceView,
        d,
        id=str(d.id),
        appliance=appliances.get(d.appliance_id, "") if d.appliance_id else "",
        simulated=d.simulated_shift_id is not None,
        heard_at=d.heard_at.timestamp() if d.heard_at else None,
        silent=d.heard_at is None or (now() - d.heard_at).total_seconds() > SILENT_S,
        missing=sum(b - a + 1 for a, b in d.missing),
        channels=[
            ChannelView(channel=c, at=v[0], value=v[1], measure=v[2]) for c, v in sorted(d.channels.items())
        ],
    )


def _appliance_names(rows: list[Device]) -> dict[UUID, str]:
    ids = {d.appliance_id for d in rows if d.appliance_id}
    return {a.id: a.name for a in db().query(Appliance).filter(Appliance.id.in_(ids))} if ids else {}


@devices.get("/devices", responses={200: DeviceList})
@require(Role.COOK)
def list_devices() -> Response:
    """The kitchen's devices."""
    rows = store.devices(db())
    names = _appliance_names(rows)
    return answer(DeviceList(items=each(rows, lambda d: _view(d, names))))


def _check_may_add(body: DeviceIn) -> None:
    """A stand-in of a shift on simulated time by whoever cooks it; any other device by the lead."""
    if body.simulated_for is None:
        if me().role != Role.LEAD:
            raise ApiError(
                403, "For the lead", "Only the lead may make a device known. Ask them, or sign in as lead."
            )
    elif open_shift(body.simulated_for).clock_rate is None:
        raise RuleError(
            "simulated_for",
            "is a shift on the kitchen's own clock",
            "Stand-ins belong to shifts on simulated time.",
        )


@devices.post("/devices", responses={201: DeviceMade})
@require(Role.COOK)
def add_device(body: DeviceIn) -> Response:
    """Make a device known. Its token is told once: put it into the device."""
    _check_may_add(body)
    row, token = store.make_device(
        db(),
        body.name,
        body.kind,
        me().person_id,
        appliance_id=body.appliance_id,
        simulated_for=body.simulated_for,
    )
    return answer(DeviceMade(**_view(row, _appliance_names([row])).model_dump(), token=token), 201)


@devices.delete("/devices/<uuid:device_id>", responses={204: None})
@require(Role.LEAD)
def revoke_device(path: DevicePath) -> Response:
    """Take a device's token away; what it has read stays."""
    row = db().get(Device, path.device_id)
    if row is None:
        raise not_found("device")
    row.revoked_at = row.revoked_at or now()
    return done()


@devices.post("/device-lines", responses={200: LinesAnswer})
def take_lines() -> Response:
    """What a device sends: JSON lines, with its token as bearer. See docs/guide/devices.md.

    Each line is judged by itself. Sending a line again changes nothing; counts that were never seen are told
    back.
    """
    got = receive(db(), _sender(), request.get_data(cache=False), request.headers.get("X-Device-Time", ""))
    return answer(
        shown(
            LinesAnswer,
            got.taken,
            refused=each(got.refused, lambda wrong: shown(FieldProblem, wrong)),
            missing=[list(g) for g in got.taken.missing],
            server_now=got.server_now,
        )
    )


def _sender() -> Device:
    """The device whose token a request bears, or 401."""
    token = request.headers.get("Authorization", "").removeprefix("Bearer ").strip()
    device = store.device_of_token(db(), token) if token else None
    if device is None:
        raise ApiError(
            401,
            "Not a known device",
            "Send the token that was shown when the device was made known, as a bearer.",
        )
    return device


@devices.get("/shifts/<uuid:shift_id>/probes", responses={200: ProbesView})
@require(Role.COOK)
def get_probes(path: ShiftPath, query: ProbesQuery) -> Response:
    """Devices of a bench, what they last read, and curves where they are wanted."""
    shift = open_shift(path.shift_id)
    if query.curves:
        return told(probes_view(shift, True).model_dump_json())
    return told(
        shared("probes", _KEEP_S).get(
            (shift.id, shift.last_number), lambda: probes_view(shift, False).model_dump_json()
        )
    )


def probes_view(shift: Shift, with_curves: bool) -> ProbesView:
    """Devices of a bench as they are now."""
    until = shift.clock().at(time.time())
    rows = [
        d
        for d in store.devices(db())
        if d.simulated_shift_id in (None, shift.id) and (shift.clock_rate is None or d.simulated_shift_id)
    ]
    curves = []
    if with_curves:
        entries = [e.core() for e in entries_after(db(), shift.id, 0, 1_000_000)]
        for log in store.live_logs(db(), shift, entries, until, most=CURVE_POINTS, peaks=True):
            start = log.starts_at.timestamp()
            for where, values in log.channels.items():
                points = [[start + t, v] for t, v in thin(tuple(log.times_s), tuple(values), CURVE_POINTS)]
                curves.append(
                    ProbeCurve(
                        device="",
                        channel="",
                        name=log.name,
                        batch=str(log.batch_id),
                        where=where,
                        points=points,
                    )
                )
    names = _appliance_names(rows)
    return ProbesView(devices=[_view(d, names) for d in rows], curves=curves, shift_now=until)


@devices.get("/shifts/<uuid:shift_id>/batches/<uuid:batch_id>/metered", responses={200: MeteredView})
@require(Role.COOK)
def get_metered(path: BatchOfShift) -> Response:
    """What the meters counted while a batch heated, to be taken over by one tap."""
    shift = open_shift(path.shift_id)
    if not any(b.id == path.batch_id for b in shift.batches):
        raise not_found("batch")
    joule, shared = metered_of_batch(db(), shift, path.batch_id, shift.clock().at(time.time()))
    return answer(MeteredView(joule=joule, shared_with=shared))


@devices.get("/shifts/<uuid:shift_id>/cue-chips", responses={200: ChipList})
@require(Role.COOK)
def list_chips(path: ShiftPath) -> Response:
    """Cues that are one tap at this bench."""
    trial = db().get_one(Trial, open_shift(path.shift_id).trial_id)
    own = [CueChip(c.technique, c.face, c.text) for c in store.cue_words(db())]
    chips = cue_chips(sorted({m.technique for m in trial.methods}), own)
    return answer(
        ChipList(
            items=[shown(ChipView, c) for c in chips],
            faces=list(FACES),
        )
    )


@devices.post("/cue-chips", responses={201: ChipView})
@require(Role.COOK)
def add_chip(body: ChipIn) -> Response:
    """Keep a cue as a chip of this kitchen; one that is there already stays as it is."""
    text = " ".join(body.text.split())
    there = {(c.technique, c.face, c.text) for c in store.cue_words(db())}
    if (body.technique, body.face, text) not in there:
        db().add(CueWord(technique=body.technique, face=body.face, text=text, added_at=now()))
        db().flush()
    return answer(shown(ChipView, body, text=text), 201)

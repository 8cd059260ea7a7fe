"""`yeasty simulate`: stand-ins for a shift on simulated time, driven by what its bench says is going on.

It speaks to the kitchen as any device would, over HTTP: it signs in to make its stand-ins known and to see
the bench, then sends lines with their tokens. With `hands` it also taps what falls due, as a cook would, so
that a whole cooking can be watched.
"""

import time
import uuid
from collections.abc import Callable, Collection, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from http.client import HTTPException
from math import ceil
from random import Random
from typing import Any
from urllib.parse import quote

from yeasty.core.cook.bench import ActionType, BenchState, NextAction, RunState, bench_state
from yeasty.core.cook.mishaps import LaidMishap
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.cook.shift_clock import ShiftClock
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Phase, Step, step_from_record
from yeasty.devices.kitchen import Kitchen
from yeasty.devices.mishaps import Mishaps
from yeasty.devices.physics import ROOM_C, SimulatedBatch
from yeasty.devices.stand_ins import Fault, Hub, Meter, Outbox, Scale, a_bad_day

ENDS = {Phase.LOAD: EntryKind.IN, Phase.TURN: EntryKind.TURNED, Phase.OUT: EntryKind.OUT}
PROBES_A_HUB = 6
# A hub reads this often on the shift's clock, however seldom the stand-ins get a turn [s].
READS_EVERY_S = 10.0
TRIES = 40
# Food that the model has not done by then is left to the model [s].
LONGEST_S = 8 * 3600.0


@dataclass
class Watched:
    """The bench as the simulator knows it."""

    clock: ShiftClock
    chains: list[Chain]
    records: Mapping[str, Mapping[str, Any]]
    plan: list[PlannedStep]
    entries: dict[str, Entry] = field(default_factory=dict)
    number: int = 0
    ended: bool = False

    def state(self) -> BenchState:
        """Where every step stands."""
        return bench_state(self.chains, self.plan, list(self.entries.values()))

    def step(self, batch: str, key: str) -> Step:
        """A step of a batch."""
        return next(s for c in self.chains if c.batch == batch for s in c.steps if s.key == key)

    def heat_before(self, batch: str, key: str) -> Step | None:
        """The cooking that taking out ends; None where nothing was cooked before."""
        steps = next(c.steps for c in self.chains if c.batch == batch)
        before = steps[: [s.key for s in steps].index(key)]
        return next(
            (s for s in reversed(before) if s.phase is Phase.COOK and s.during_offset_s is None), None
        )


def _entry(r: Mapping[str, Any]) -> Entry:
    return Entry(
        r["id"],
        r["batch"],
        EntryKind(r["kind"]),
        r["at"],
        r["device"],
        r["counter"],
        r["payload"],
        r["supersedes"],
    )


def _plan(p: Mapping[str, Any] | None) -> list[PlannedStep]:
    return [PlannedStep(i["batch"], i["step"], i["start"], i["end"]) for i in p["items"]] if p else []


class Simulation:
    """A shift on simulated time with its stand-ins."""

    def __init__(
        self,
        kitchen: Kitchen,
        shift: str,
        *,
        seed: int = 1,
        faults: bool = True,
        hands: bool = False,
        mishaps: Sequence[LaidMishap] = (),
        as_planned: bool = False,
        say: Callable[[str], None] = print,
    ) -> None:
        self.kitchen, self.shift, self.seed, self.hands, self.say = kitchen, shift, seed, hands, say
        self._random = Random(seed)
        self.device, self.counter = (
            str(uuid.UUID(int=Random(f"{shift}{seed}{time.time_ns()}").getrandbits(128), version=4)),
            0,
        )
        self.bench = self._load()
        if not self.bench.clock.simulated:
            raise RuleError(
                "shift",
                "is on the kitchen's own clock",
                "Make a shift on simulated time: real food needs real devices.",
            )
        self.mishaps, self._as_planned = Mishaps(mishaps), as_planned
        self.batches = {c.batch: self._batch(c, n) for n, c in enumerate(self.bench.chains)}
        self._make_devices(faults)
        self._before = self.bench.clock.at(time.time())
        self._next_battery = 0.0

    def _load(self) -> Watched:
        b = self.kitchen.ask("GET", f"/shifts/{self.shift}/bench")
        c = b["shift"]["clock"]
        chains = [
            Chain(
                x["id"], x["tag"], tuple(step_from_record(s) for s in x["steps"]), None, None, x["together"]
            )
            for x in b["batches"]
        ]
        seen = Watched(
            ShiftClock(c["origin"], c["anchor"], c["rate"]),
            chains,
            {x["id"]: x for x in b["batches"]},
            _plan(b["plan"]),
            number=b["number"],
            ended=b["shift"]["ended"],
        )
        seen.entries = {e["id"]: _entry(e) for e in b["entries"]}
        return seen

    def _batch(self, chain: Chain, n: int) -> SimulatedBatch:
        x = self.bench.records[chain.batch]
        facts = {
            "shape": "sphere",
            "thickness_m": 0.042,
            "start_c": 8.0,
            **{k: v for k, v in x["piece"].items() if v not in (None, "")},
        }
        come_up = next((s.duration_s for s in chain.steps if s.phase is Phase.COME_UP), 300.0)
        food = SimulatedBatch(
            str(x["technique"]),
            facts,
            self.seed * 1000 + n,
            tau_s=max(60.0, come_up / 1.6) * self.mishaps.slower(chain.batch),
        )
        until = next((s for s in chain.steps if s.phase is Phase.COOK and s.end_core_c is not None), None)
        if self._as_planned and until is not None and until.end_core_c is not None:
            food.keep_to(until.end_core_c, until.duration_s, until.set_point_c, LONGEST_S)
        return food

    def _make_devices(self, faults: bool) -> None:
        ids = [c.batch for c in self.bench.chains]
        # Two probes a batch, one in the middle of the food and one beside it.
        self.where: dict[tuple[int, str], tuple[str, str]] = {}
        places = [(b, w) for b in ids for w in ("core", "chamber")]
        self.hubs: list[tuple[Hub, str, str]] = []
        first = min((p.start for p in self.bench.plan), default=self.bench.clock.at(time.time()))
        last = max((p.end for p in self.bench.plan), default=first + 3600)
        for h in range(0, len(places), PROBES_A_HUB):
            some = places[h : h + PROBES_A_HUB]
            channels = [str(i + 1) for i in range(len(some))]
            cores = [c for c, (_, w) in zip(channels, some, strict=True) if w == "core"]
            bad = a_bad_day(self.seed + h, cores, first, last) if faults and h == 0 and cores else []
            for channel, (batch, where) in zip(channels, some, strict=True):
                out = self.mishaps.out_of(batch) if where == "core" else None
                if out is not None:
                    bad.append(Fault("pulled out", channel, *out))
            made = self.kitchen.ask(
                "POST",
                "/devices",
                {"name": f"stand-in hub {h // PROBES_A_HUB + 1}", "kind": "hub", "simulated_for": self.shift},
            )
            self.hubs.append((Hub(channels, self.seed + h, bad), made["token"], made["id"]))
            for channel, place in zip(channels, some, strict=True):
                self.where[len(self.hubs) - 1, channel] = place
        scale = self.kitchen.ask(
            "POST", "/devices", {"name": "stand-in scale", "kind": "scale", "simulated_for": self.shift}
        )
        self.scale, self.scale_token = Scale(self.seed), scale["token"]
        self.meters: list[tuple[Meter, str, str, float]] = []
        inputs = {a["id"]: a for a in self.kitchen.ask("GET", "/appliances")["items"]}
        used = {s.appliance for c in self.bench.chains for s in c.steps if s.appliance in inputs}
        for n, key in enumerate(sorted(k for k in used if k)):
            made = self.kitchen.ask(
                "POST",
                "/devices",
                {
                    "name": f"stand-in meter, {inputs[key]['name']}",
                    "kind": "meter",
                    "appliance_id": key,
                    "simulated_for": self.shift,
                },
            )
            self.meters.append(
                (Meter(self.seed + n), made["token"], key, float(inputs[key]["input_w"] or 2000))
            )
        taken = {
            (str(e.payload["device"]), str(e.payload["channel"]))
            for e in self.bench.entries.values()
            if e.kind is EntryKind.PROBE
        }
        for n, (hub, _, device_id) in enumerate(self.hubs):
            for channel in hub.channels:
                batch, where = self.where[n, channel]
                if (device_id, channel) not in taken:
                    self.log(
                        batch,
                        EntryKind.PROBE,
                        {
                            "device": device_id,
                            "channel": channel,
                            "where": where,
                            "name": f"{n + 1}.{channel}",
                        },
                    )

    def log(self, batch: str, kind: EntryKind, payload: dict[str, Any]) -> None:
        """One entry, sent until it is acknowledged; sending it again changes nothing."""
        self.counter += 1
        real = time.time()
        entry = {
            "id": str(uuid.uuid4()),
            "batch": batch or None,
            "kind": kind.value,
            "device": self.device,
            "counter": self.counter,
            "device_time": real,
            "offset_ms": 1000 * (self.bench.clock.at(real) - real),
            "payload": payload,
        }
        for n in range(TRIES):
            try:
                got = self.kitchen.ask("POST", f"/shifts/{self.shift}/entries", {"entries": [entry]})
                for r in got["refused"]:
                    self.say(f"refused: {r['problem']['field']} {r['problem']['message']}")
                return
            except (OSError, HTTPException, ValueError):
                time.sleep(min(2.0, 0.1 * (n + 1)))
        raise RuleError("kitchen", "does not answer", "Look whether it still runs.")

    def catch_up(self) -> None:
        """Take in what was logged and planned meanwhile."""
        got = self.kitchen.ask("GET", f"/shifts/{self.shift}/changes?after={self.bench.number}")
        for item in got["items"]:
            self.bench.number = max(self.bench.number, item["number"])
            if item["event"] == "entry":
                e = _entry(item["data"])
                self.bench.entries[e.id] = e
                if e.kind is EntryKind.RESCUED:
                    self._take_over()
            else:
                self.bench.plan = _plan(item["data"])
        c = got["shift"]["clock"]
        self.bench.clock, self.bench.ended = (
            ShiftClock(c["origin"], c["anchor"], c["rate"]),
            got["shift"]["ended"],
        )

    def _take_over(self) -> None:
        """A rescue has begun: its food is that of the batch it was made from, as warm as that is."""
        self.bench = self._load()
        for n, c in enumerate(self.bench.chains):
            if c.batch not in self.batches:
                self.batches[c.batch] = self._batch(c, n)
                parent = self.batches.get(str(self.bench.records[c.batch]["parent"]))
                if parent is not None:
                    self.batches[c.batch].piece = deepcopy(parent.piece)

    def round(self) -> BenchState:
        """One round: time passes in the food, devices read and send, hands tap what is due where they are
        asked to.
        """
        self.catch_up()
        now = self.bench.clock.at(time.time())
        # However long ago the last round was: what has passed is gone through as it would have been read.
        seconds = min(max(0.0, now - self._before), 600.0)
        self._before = now
        state = self.bench.state()
        self._tell(now)
        slices = max(1, ceil(seconds / READS_EVERY_S))
        for n in range(slices):
            at = now - seconds * (slices - 1 - n) / slices
            on = self._pass_time(state, seconds / slices, at)
            self._read(at, seconds / slices, on)
        self._send()
        if self.hands:
            self._tap(state, now)
        return state

    def _tell(self, now: float) -> None:
        """What somebody in the kitchen would see by now goes into the log, once each."""
        for t in self.mishaps.seen(now):
            self.log(t.batch if t.of_batch else "", EntryKind.NOTE, {"text": t.text})
            if self.hands and t.for_good:
                # A stand-in does not think: what was in it is lost, and who cooks for real would ask what if.
                for batch in self._in(t.appliances):
                    self.log(batch, EntryKind.VOID, {"why": t.text})

    def _in(self, appliances: Collection[str]) -> list[str]:
        """Batches that still need one of these."""
        done = {(r.batch, r.step) for r in self.bench.state().runs if r.state is RunState.DONE}
        return [
            c.batch
            for c in self.bench.chains
            if any(
                s.appliance in appliances and s.phase is Phase.COOK and (c.batch, s.key) not in done
                for s in c.steps
            )
        ]

    def _pass_time(self, state: BenchState, seconds: float, now: float) -> dict[str, float]:
        """Let so long go by in food and chambers; the share of its mains that each appliance draws."""
        running = {(r.batch, r.step) for r in state.runs if r.state is RunState.RUNNING}
        done = {(r.batch, r.step) for r in state.runs if r.state is RunState.DONE}
        on: dict[str, float] = {}
        for chain in self.bench.chains:
            food = self.batches[chain.batch]
            mains = [s for s in chain.steps if s.during_offset_s is None]
            heats = [s for s in mains if s.phase in (Phase.COME_UP, Phase.COOK)]
            going = [s for s in heats if (chain.batch, s.key) in running]
            begun = any((chain.batch, s.key) in done for s in heats)
            cooks = [s for s in heats if s.phase is Phase.COOK]
            left = any((chain.batch, s.key) not in done for s in cooks)
            heating = bool(going) or (begun and left)
            in_heat = any(s.phase is Phase.COOK for s in going)
            point = next((s.set_point_c for s in reversed(heats) if s.set_point_c is not None), None)
            lit = heating and not self.mishaps.dead(now) & {s.appliance for s in heats}
            food.advance(seconds, lit, in_heat, point)
            for s in heats:
                if s.appliance and lit:
                    on[s.appliance] = max(on.get(s.appliance, 0.0), food.watts(True, 1.0))
        return on

    def _read(self, now: float, seconds: float, on: Mapping[str, float]) -> None:
        for n, (hub, _, _) in enumerate(self.hubs):

            def truth(channel: str, n: int = n) -> float | None:
                batch, where = self.where[n, channel]
                return (
                    self.batches[batch].piece.core_c
                    if where == "core"
                    else self.batches[batch].chamber.reads()
                )

            def chamber(channel: str, n: int = n) -> float:
                return self.batches[self.where[n, channel][0]].chamber.reads()

            hub.read(now, max(0.1, seconds), truth, chamber)
            if now >= self._next_battery:
                hub.say_battery(now)
        if now >= self._next_battery:
            self._next_battery = now + 300
        for meter, _, key, input_w in self.meters:
            meter.read(now, max(0.1, seconds), on.get(key, 0.0) * input_w)

    def _send(self) -> None:
        boxes: Sequence[tuple[Outbox, str]] = (
            [(h.outbox, t) for h, t, _ in self.hubs]
            + [(m.outbox, t) for m, t, *_ in self.meters]
            + [(self.scale.outbox, self.scale_token)]
        )
        for box, token in boxes:
            if box.waiting:
                try:
                    box.acknowledged(self.kitchen.send_lines(token, box.body())["missing"])
                except (OSError, HTTPException, ValueError):
                    continue  # kept, and sent with the next round

    def weigh(self, batch: str, of: str) -> None:
        """Put a batch on the scale and log what it says."""
        kg = self.batches[batch].weight_kg
        self.scale.read(self.bench.clock.at(time.time()), kg)
        self.log(batch, EntryKind.WEIGHT, {"kg": round(kg, 4), "of": of})

    def _tap(self, state: BenchState, now: float) -> None:
        due = [a for a in state.actions if a.due <= now and not self.mishaps.holds(a.batch, a.step, now)]
        for a in due[:3]:
            step = self.bench.step(a.batch, a.step)
            heat = (
                step
                if a.type is ActionType.CONFIRM
                else self.bench.heat_before(a.batch, a.step)
                if step.phase is Phase.OUT
                else None
            )
            if (
                heat is not None
                and heat.end_core_c is not None
                and self.batches[a.batch].piece.core_c < heat.end_core_c
            ):
                # Read, not there yet: a minute more.
                self.log(a.batch, EntryKind.EXTENDED, {"step": heat.key, "seconds": 60})
                continue
            self._ready(a)
            kind = {ActionType.START: EntryKind.STARTED, ActionType.CONFIRM: EntryKind.DONE}.get(
                a.type
            ) or ENDS.get(step.phase, EntryKind.DONE)
            self.log(a.batch, kind, {"step": a.step})
            if step.phase is Phase.LOAD:
                self.weigh(a.batch, "prepared")
            if step.phase is Phase.OUT:
                self.log(
                    a.batch,
                    EntryKind.TEMPERATURE,
                    {"celsius": round(self.batches[a.batch].piece.core_c, 1), "where": "core"},
                )
                self.weigh(a.batch, "cooked")

    def _ready(self, a: NextAction) -> None:
        said = {e.batch for e in self.bench.entries.values() if e.kind is EntryKind.READY}
        items = self.bench.records[a.batch].get("checklist") or []
        if items and a.batch not in said:
            self.log(
                a.batch, EntryKind.READY, {"items": [{"item": i["key"], "text": i["text"]} for i in items]}
            )
            self.catch_up()

    def run(self, until_s: float | None = None, every_s: float = 0.5) -> None:
        """Go on until the shift ends, everything is done, or so many real seconds have passed."""
        stop = time.monotonic() + until_s if until_s is not None else None
        told = 0.0
        while stop is None or time.monotonic() < stop:
            state = self.round()
            now = self.bench.clock.at(time.time())
            if time.monotonic() - told > 10:
                told = time.monotonic()
                clock = time.strftime("%H:%M:%S", time.localtime(now))
                cores = ", ".join(
                    f"{c.tag} {self.batches[c.batch].piece.core_c:.0f} °C" for c in self.bench.chains
                )
                self.say(f"{clock} on the shift's clock, {self.bench.clock.rate:g} times: {cores}")
            if self.bench.ended or (self.hands and self.bench.plan and not state.actions):
                break
            time.sleep(every_s)
        self.say(f"Stopped. The room was {ROOM_C:g} °C all along.")


def simulated_shift(kitchen: Kitchen, trial: str, speed: float, serve_in_min: float) -> str:
    """A shift on simulated time of a trial found by any of its words, planned and ready; its id."""
    found = kitchen.ask("GET", f"/trials?search={quote(trial)}")["items"]
    if not found:
        raise RuleError("trial", f"“{trial}” is not found", "Give a word of its title or dish.")
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 60 * serve_in_min))
    made = kitchen.ask(
        "POST", f"/trials/{found[0]['id']}/shifts", {"name": "Simulated", "serve_from": serve, "speed": speed}
    )
    for _ in range(TRIES):
        if kitchen.ask("GET", f"/shifts/{made['id']}/bench")["plan"]:
            return str(made["id"])
        time.sleep(0.5)
    raise RuleError("plan", "did not come", "Look whether the worker runs.")

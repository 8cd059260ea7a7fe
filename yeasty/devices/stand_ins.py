"""Stand-ins for a thermometer hub, a scale and a power meter: what they send is made up from the physics of a
shift, with noise, lag, drop-outs, a dead battery, a probe pulled out or touching metal.
"""

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from random import Random

# A probe's tip follows what it is in with this lag [s].
PROBE_LAG_S = 7.0
NOISE_K = 0.12
# Of a hundred lines so many are lost on the way and sent again when asked for.
LOST_IN_100 = 1.5
FAULTS = ("pulled out", "on metal", "drop-out", "dead battery")


@dataclass(frozen=True)
class Fault:
    """Something that goes wrong with a channel: what, from when to when [s of the shift]."""

    what: str
    channel: str
    start: float
    end: float


@dataclass
class Outbox:
    """Lines of a device with their counts: what was not acknowledged is sent again, what is asked for again
    too.
    """

    kind: str
    random: Random
    lines: dict[int, str] = field(default_factory=dict)
    waiting: list[int] = field(default_factory=list)
    count: int = 0

    def add(self, at: float, row: dict[str, object]) -> None:
        """Count a line and keep it for sending."""
        self.lines[self.count] = json.dumps({"seq": self.count, "t": round(at, 3), **row})
        if self.random.uniform(0, 100) >= LOST_IN_100:
            self.waiting.append(self.count)
        self.count += 1

    def body(self) -> str:
        """What is sent now."""
        return "\n".join(self.lines[n] for n in self.waiting)

    def acknowledged(self, missing: Sequence[Sequence[int]]) -> None:
        """What was sent has come; what is missing is sent with the next."""
        self.waiting = [n for a, b in missing for n in range(a, b + 1) if n in self.lines]
        for old in [n for n in self.lines if n < self.count - 5000]:
            del self.lines[old]


class Hub:
    """A hub with several probes: each reads what it is put into."""

    def __init__(self, channels: Sequence[str], seed: int, faults: Sequence[Fault] = ()) -> None:
        self.random = Random(seed)
        self.outbox = Outbox("hub", self.random)
        self.channels = list(channels)
        self.faults = list(faults)
        self._tip: dict[str, float] = {}
        self.battery = 1.0

    def read(
        self, at: float, seconds: float, truth: Callable[[str], float | None], chamber: Callable[[str], float]
    ) -> None:
        """One reading of every channel after so long; `truth` gives what a probe is in [°C], None where it
        lies unplugged.
        """
        self.battery = max(0.0, self.battery - seconds / (40 * 3600))
        if any(f.what == "dead battery" and f.start <= at < f.end for f in self.faults):
            return  # it says nothing at all, and counts nothing
        for channel in self.channels:
            real = truth(channel)
            now = [f.what for f in self.faults if f.channel == channel and f.start <= at < f.end]
            if real is None or "drop-out" in now:
                self.outbox.add(at, {"channel": channel, "celsius": None})
                continue
            if "pulled out" in now:
                real = chamber(channel)
            elif "on metal" in now:
                real = 0.45 * real + 0.55 * chamber(channel)
            before = self._tip.get(channel, real)
            lag = 1.5 if "pulled out" in now else PROBE_LAG_S
            self._tip[channel] = before + (real - before) * min(1.0, seconds / (lag + seconds))
            shown = self._tip[channel] + self.random.gauss(0, NOISE_K)
            self.outbox.add(at, {"channel": channel, "celsius": round(max(-60.0, min(600.0, shown)), 2)})

    def say_battery(self, at: float) -> None:
        """Say how full the battery is."""
        self.outbox.add(at, {"event": "battery", "value": round(self.battery, 3)})


class Scale:
    """A scale that says what lies on it whenever that changes."""

    def __init__(self, seed: int) -> None:
        self.random = Random(seed)
        self.outbox = Outbox("scale", self.random)
        self._said: float | None = None

    def read(self, at: float, kg: float) -> None:
        """Say a weight, where it is another than before."""
        shown = round(kg, 4)
        if self._said is None or abs(shown - self._said) > 0.0005:
            self._said = shown
            self.outbox.add(at, {"kg": shown})


class Meter:
    """A meter before one appliance: what is drawn now, and what was drawn in all."""

    def __init__(self, seed: int) -> None:
        self.random = Random(seed)
        self.outbox = Outbox("meter", self.random)
        self.joule = 0.0

    def read(self, at: float, seconds: float, watt: float) -> None:
        """One reading after so long."""
        shown = max(0.0, watt * (1 + self.random.gauss(0, 0.004)))
        self.joule += watt * seconds
        self.outbox.add(at, {"channel": "1", "watt": round(shown, 1)})
        self.outbox.add(at, {"channel": "1", "joule": round(self.joule, 0)})


def a_bad_day(seed: int, channels: Sequence[str], start: float, end: float) -> list[Fault]:
    """Faults spread over a shift: one of each kind, at made-up moments between its start and end [s].

    >>> [f.what for f in a_bad_day(1, ["1", "2"], 0.0, 6000.0)]
    ['pulled out', 'on metal', 'drop-out', 'dead battery']
    """
    random = Random(seed)
    found = []
    for i, what in enumerate(FAULTS):
        at = start + (end - start) * (0.2 + 0.6 * (i + random.uniform(0.1, 0.7)) / len(FAULTS))
        found.append(
            Fault(
                what,
                channels[i % len(channels)],
                at,
                at + {"drop-out": 90.0, "dead battery": 150.0}.get(what, 240.0),
            )
        )
    return found

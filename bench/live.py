"""Taps with screens live, probes reading and plans being made: acknowledgement and arrival elsewhere, and
resident memory, and what share of a processor each part takes.

Starts the program on a demo of its own (PostgreSQL with fsync on), opens streams, lets hubs send and screens
ask what each screen asks, has plans made one after another, taps, reads /proc. All of it runs on the same
cores. Loopback only, bounded: about two minutes. Run: PYTHONPATH=. .venv/bin/python bench/live.py [streams]
[taps] [probes, 0 for none] [seconds between taps]
"""

import json
import os
import platform
import statistics
import sys
import threading
import time
import uuid
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from urllib.request import Request

from bench.kitchens import kitchen
from tests.e2e.conftest import Served
from tests.e2e.test_faults import Hands
from yeasty.devices.kitchen import Kitchen as Served_
from yeasty.process import cluster

PARTS = {b"gunicorn": "web", b"yeasty.worker": "worker", b"postgres": "database"}


def listen(
    hands: Hands, shift: str, seen: dict[str, list[float]], ready: threading.Barrier, done: threading.Event
) -> None:
    with hands.http.open(
        Request(f"{hands.address}/api/v1/shifts/{shift}/stream?after=0"), timeout=90
    ) as stream:
        ready.wait(60)
        for raw in stream:
            if done.is_set():
                return
            if raw.startswith(b"data: "):
                record = json.loads(raw[6:])
                if record.get("id") in seen:
                    seen[record["id"]].append(time.perf_counter())


def processes(*roots: int) -> Iterator[tuple[str, Path]]:
    """The part each process below these belongs to, and its folder of `/proc`."""
    waiting = list(roots)
    while waiting:
        pid = waiting.pop()
        try:
            waiting += [int(x) for x in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
            command = Path(f"/proc/{pid}/cmdline").read_bytes()
        except (FileNotFoundError, ProcessLookupError):
            continue
        part = next((part for word, part in PARTS.items() if word in command), "supervisor")
        yield part, Path(f"/proc/{pid}")


def memory(served: Served) -> dict[str, list[float]]:
    """Resident MB by part, the program's own processes only."""
    found: dict[str, list[float]] = {"supervisor": [], "web": [], "worker": []}
    for part, folder in processes(served.process.pid):
        status = (folder / "status").read_text()
        found[part].append(round(int(status.split("VmRSS:")[1].split()[0]) / 1024, 1))
    return found


def processor(*roots: int) -> Counter[str]:
    """Seconds of the processor taken so far, by part."""
    found: Counter[str] = Counter()
    for part, folder in processes(*roots):
        fields = (folder / "stat").read_text().rsplit(")", 1)[1].split()
        found[part] += (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")
    return found


def visit_everything(hands: Hands) -> None:
    """Ask for what every screen asks for, several times, so that both web processes have loaded it."""
    for _ in range(6):
        for card in hands.ask("GET", "/trials")["items"]:
            for part in ("", "/stations", "/fairness", "/shifts", "/tastings", "/decision", "/publication"):
                hands.ask("GET", f"/trials/{card['id']}{part}")
        hands.ask("GET", "/appliances")


def probes(address: str, tokens: list[tuple[str, int]], done: threading.Event, sent: list[int]) -> None:
    """Hubs that send one reading of each channel a second, as real ones would."""
    client = Served_(address)
    seq = [0] * len(tokens)
    while not done.is_set():
        began = time.perf_counter()
        for n, (token, channels) in enumerate(tokens):
            lines = [
                json.dumps({"seq": seq[n] + c, "t": time.time(), "channel": str(c + 1), "celsius": 40.0 + c})
                for c in range(channels)
            ]
            seq[n] += channels
            sent[0] += client.send_lines(token, "\n".join(lines))["kept"]
        done.wait(max(0.0, 1.0 - (time.perf_counter() - began)))


def screens_ask(hands: Hands, shift: str, screens: int, done: threading.Event) -> None:
    """What a screen asks beside its stream: probes every three seconds, the outlook every twenty."""
    turn = 0
    while not done.is_set():
        began = time.perf_counter()
        hands.ask("GET", f"/shifts/{shift}/probes")
        if turn % 7 == 0:
            hands.ask("GET", f"/shifts/{shift}/outlook")
        turn += 1
        done.wait(max(0.0, 3.0 / screens - (time.perf_counter() - began)))


def plans_are_made(hands: Hands, shift: str, done: threading.Event) -> None:
    """A plan asked for again as soon as the worker may have made the one before."""
    while not done.is_set():
        hands.ask("POST", f"/shifts/{shift}/plan-requests", {})
        done.wait(2.0)


def main(streams: int = 20, taps: int = 300, channels: int = 30, every_s: float = 0.2) -> None:
    done = threading.Event()
    with kitchen() as own:
        served = own.served
        hands = Hands(served.address)
        visit_everything(hands)
        trial = hands.ask("GET", "/trials?search=buns")["items"][0]["id"]
        serve_at = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 3 * 3600))
        shift = hands.ask("POST", f"/trials/{trial}/shifts", {"serve_from": serve_at})["id"]
        batches = [b["id"] for b in hands.ask("GET", f"/shifts/{shift}/bench")["batches"]]
        seen: dict[str, list[float]] = {}
        ready = threading.Barrier(streams + 1)
        for _ in range(streams):
            threading.Thread(target=listen, args=(hands, shift, seen, ready, done), daemon=True).start()
        ready.wait(60)
        sent = [0]
        device, counter = str(uuid.uuid4()), 0
        if channels:
            tokens = []
            for h in range(0, channels, 6):
                made = hands.ask("POST", "/devices", {"name": f"hub {h}", "kind": "hub"})
                tokens.append((made["token"], min(6, channels - h)))
                for c in range(min(6, channels - h)):
                    counter += 1
                    place = {
                        "device": made["id"],
                        "channel": str(c + 1),
                        "where": "core" if c % 2 else "chamber",
                        "name": f"{h + c}",
                    }
                    hands.ask(
                        "POST",
                        f"/shifts/{shift}/entries",
                        {
                            "entries": [
                                an_entry(batches[(h + c) % len(batches)], "probe", place, device, counter)
                            ]
                        },
                    )
            threading.Thread(target=probes, args=(served.address, tokens, done, sent), daemon=True).start()
            for other in (
                lambda: screens_ask(Hands(served.address), shift, streams, done),
                lambda: plans_are_made(Hands(served.address), shift, done),
            ):
                threading.Thread(target=other, daemon=True).start()
            time.sleep(20)
        roots = served.process.pid, cluster.postmaster_pid(own.database.data) or 0
        print("tapping", file=sys.stderr, flush=True)
        worked, before, t0 = processor(*roots), sent[0], time.perf_counter()
        acknowledged, began = [], {}
        for n in range(taps):
            entry = an_entry(batches[n % len(batches)], "note", {"text": f"tap {n}"}, device, counter + 1 + n)
            seen[entry["id"]] = []
            began[entry["id"]] = time.perf_counter()
            hands.ask("POST", f"/shifts/{shift}/entries", {"entries": [entry]})
            acknowledged.append(1000 * (time.perf_counter() - began[entry["id"]]))
            time.sleep(every_s)
        took = time.perf_counter() - t0
        rate, worked = (sent[0] - before) / took, processor(*roots) - worked
        time.sleep(2)
        arrivals = [1000 * (t - began[i]) for i, ts in seen.items() for t in ts]
        used = memory(served)
        done.set()

        def p(values: list[float], share: int) -> float:
            return round(statistics.quantiles(values, n=100)[share - 1], 1)

        made_plans = sum(
            c["event"] == "plan" for c in hands.ask("GET", f"/shifts/{shift}/changes?after=0")["items"]
        )
        print(
            json.dumps(
                {
                    "machine": f"{os.cpu_count()} cores, {platform.machine()}, Python "
                    f"{platform.python_version()}, load {os.getloadavg()[0]:.1f}",
                    "streams": streams,
                    "taps": taps,
                    "readings_a_second": round(rate, 1),
                    "plans_made_meanwhile": made_plans,
                    "acknowledged_ms": {"median": p(acknowledged, 50), "p95": p(acknowledged, 95)},
                    "shown_elsewhere_ms": {
                        "median": p(arrivals, 50),
                        "p95": p(arrivals, 95),
                        "arrived": len(arrivals),
                        "of": streams * taps,
                    },
                    "resident_mb": used,
                    "processor_percent": {part: round(100 * s / took) for part, s in worked.items()},
                },
                indent=1,
            )
        )


def an_entry(
    batch: str, kind: str, payload: dict[str, object], device: str, counter: int
) -> dict[str, object]:
    return {
        "id": str(uuid.uuid4()),
        "batch": batch,
        "kind": kind,
        "device": device,
        "counter": counter,
        "device_time": time.time(),
        "payload": payload,
    }


if __name__ == "__main__":
    main(*(int(x) for x in sys.argv[1:4]), *(float(x) for x in sys.argv[4:5]))

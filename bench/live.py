"""Taps with screens live: acknowledgement and arrival elsewhere, and resident memory of the whole.

Starts the program on a demo of its own (PostgreSQL with fsync on), opens streams, taps, reads /proc. Loopback only, bounded:
about a minute. Run:  PYTHONPATH=. .venv/bin/python bench/live.py [streams] [taps]
"""

import json
import os
import platform
import shutil
import signal
import statistics
import sys
import tempfile
import threading
import time
import uuid
from pathlib import Path
from urllib.request import Request

from tests.e2e.conftest import Served, serve, stop
from tests.e2e.test_faults import Hands
from yeasty.cli import prepare
from yeasty.process import cluster


def listen(hands: Hands, shift: str, seen: dict[str, list[float]], ready: threading.Barrier, done: threading.Event) -> None:
    with hands.http.open(Request(f"{hands.address}/api/v1/shifts/{shift}/stream?after=0"), timeout=90) as stream:
        ready.wait(60)
        for raw in stream:
            if done.is_set():
                return
            if raw.startswith(b"data: "):
                record = json.loads(raw[6:])
                if record.get("id") in seen:
                    seen[record["id"]].append(time.perf_counter())


def memory(served: Served) -> dict[str, list[float]]:
    """Resident MB by part, the program's own processes only."""
    found: dict[str, list[float]] = {"supervisor": [], "web": [], "worker": []}
    todo = [served.process.pid]
    while todo:
        pid = todo.pop()
        todo += [int(x) for x in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
        command = Path(f"/proc/{pid}/cmdline").read_bytes()
        kind = "web" if b"gunicorn" in command else "worker" if b"yeasty.worker" in command else "supervisor"
        status = Path(f"/proc/{pid}/status").read_text()
        found[kind].append(round(int(status.split("VmRSS:")[1].split()[0]) / 1024, 1))
    return found


def visit_everything(hands: Hands) -> None:
    """Ask for what every screen asks for, several times, so that both web processes have loaded it."""
    for _ in range(6):
        for card in hands.ask("GET", "/trials")["items"]:
            for part in ("", "/stations", "/fairness", "/shifts", "/tastings", "/decision", "/publication"):
                hands.ask("GET", f"/trials/{card['id']}{part}")
        hands.ask("GET", "/appliances")


def main(streams: int = 20, taps: int = 300) -> None:
    folder = Path(tempfile.mkdtemp(prefix="yeasty-bench-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    database = cluster.start(folder / "pg")
    prepare(database.url, demo=True, fresh=False)
    served = serve(database.url)
    try:
        hands = Hands(served.address)
        visit_everything(hands)
        trial = hands.ask("GET", "/trials?search=chickpeas")["items"][0]["id"]
        shift = hands.ask("GET", f"/trials/{trial}/shifts")["items"][0]["id"]
        batch = hands.ask("GET", f"/shifts/{shift}/bench")["batches"][0]["id"]
        seen: dict[str, list[float]] = {}
        done = threading.Event()
        ready = threading.Barrier(streams + 1)
        for _ in range(streams):
            threading.Thread(target=listen, args=(hands, shift, seen, ready, done), daemon=True).start()
        ready.wait(60)
        time.sleep(1)
        device, acknowledged, began = str(uuid.uuid4()), [], {}
        for n in range(taps):
            entry = {"id": str(uuid.uuid4()), "batch": batch, "kind": "note", "device": device, "counter": n,
                     "device_time": time.time(), "payload": {"text": f"tap {n}"}}  # fmt: skip
            seen[entry["id"]] = []
            began[entry["id"]] = time.perf_counter()
            hands.ask("POST", f"/shifts/{shift}/entries", {"entries": [entry]})
            acknowledged.append(1000 * (time.perf_counter() - began[entry["id"]]))
            time.sleep(0.03)
        time.sleep(2)
        arrivals = [1000 * (t - began[i]) for i, ts in seen.items() for t in ts]
        used = memory(served)
        done.set()

        def p(values: list[float], share: int) -> float:
            return round(statistics.quantiles(values, n=100)[share - 1], 1)

        print(json.dumps({
            "machine": f"{os.cpu_count()} cores, {platform.machine()}, Python {platform.python_version()}",
            "streams": streams, "taps": taps,
            "acknowledged_ms": {"median": p(acknowledged, 50), "p95": p(acknowledged, 95)},
            "shown_elsewhere_ms": {"median": p(arrivals, 50), "p95": p(arrivals, 95), "arrived": len(arrivals), "of": streams * taps},
            "resident_mb": used,
        }, indent=1))  # fmt: skip
    finally:
        stop(served)
        database.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main(*(int(x) for x in sys.argv[1:]))

"""SIGKILL of web, worker and database at random moments while three writers tap: nothing lost, nothing twice.

Starts the program on a demo of its own (PostgreSQL with fsync on), kills one part after another, starts the
database again where it was killed (the program starts its own parts again), and compares what was tapped with
what is stored. Only processes it started are killed. Loopback only, bounded: about five seconds a kill. Run:
PYTHONPATH=. .venv/bin/python bench/faults.py [kills] [seed]
"""

import json
import os
import platform
import signal
import sys
import threading
import time
from collections import Counter
from pathlib import Path
from random import Random

import psycopg

from bench.kitchens import kitchen
from tests.e2e.conftest import Served
from tests.e2e.test_faults import Hands, gunicorn_workers, wait_for_backends, write
from yeasty.process import cluster


def part(served: Served, of: bytes) -> list[int]:
    """Process ids of a part of this program: its own children only."""
    return [c for c in served.children() if of in Path(f"/proc/{c}/cmdline").read_bytes()]


def main(kills: int = 100, seed: int = 1) -> None:
    random = Random(seed)
    done = threading.Event()
    began = time.monotonic()
    killed: Counter[str] = Counter()
    with kitchen() as own:
        served = own.served
        hands = Hands(served.address)
        trial = hands.ask("GET", "/trials?search=chickpeas")["items"][0]["id"]
        shift = hands.ask("GET", f"/trials/{trial}/shifts")["items"][0]["id"]
        batch = hands.ask("GET", f"/shifts/{shift}/bench")["batches"][0]["id"]
        acknowledged, sent = set[str](), set[str]()
        writers = [
            threading.Thread(target=write, args=(hands, shift, batch, done, acknowledged, sent), daemon=True)
            for _ in range(3)
        ]
        for w in writers:
            w.start()
        for _ in range(kills):
            time.sleep(random.uniform(0.2, 2.5))
            what = random.choice(("web", "web", "worker", "database"))
            try:
                if what == "web":
                    for pid in gunicorn_workers(served):
                        os.kill(pid, signal.SIGKILL)
                elif what == "worker":
                    for pid in part(served, b"yeasty.worker"):
                        os.kill(pid, signal.SIGKILL)
                else:
                    postgres = cluster.postmaster_pid(own.folder / "pg")
                    if postgres is None:
                        continue
                    os.kill(postgres, signal.SIGKILL)
                    own.database.process.wait(60)
                    wait_for_backends(own.folder / "pg")
                    own.database = cluster.start(own.folder / "pg", port=own.database.port)
            except (AssertionError, ProcessLookupError, FileNotFoundError):
                continue  # it is just being started again: nothing there to kill
            killed[what] += 1
        time.sleep(5)
        done.set()
        for w in writers:
            w.join(120)
        with psycopg.connect(own.database.url) as db:
            stored = [str(r[0]) for r in db.execute("select id from entry where shift_id = %s", (shift,))]
            numbers = [r[0] for r in db.execute("select number from entry where shift_id = %s", (shift,))]
        print(
            json.dumps(
                {
                    "machine": f"{os.cpu_count()} cores, {platform.machine()}, Python "
                    f"{platform.python_version()}",
                    "seed": seed,
                    "killed": dict(killed),
                    "minutes": round((time.monotonic() - began) / 60, 1),
                    "tapped": len(sent),
                    "acknowledged": len(acknowledged),
                    "lost": len(sent - set(stored)),
                    "acknowledged_and_lost": len(acknowledged - set(stored)),
                    "twice": len(stored) - len(set(stored)),
                    "numbers_twice": len(numbers) - len(set(numbers)),
                },
                indent=1,
            )
        )


if __name__ == "__main__":
    main(*(int(x) for x in sys.argv[1:]))

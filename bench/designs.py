"""Requests of Ask and Set up in a kitchen of many large trials: how long each takes, in a process that serves
nothing else.

    python bench/designs.py [trials] [methods]

Lays out (300) trials of (40) methods each, asks every request of the two stations of (10) of them, and prints
median and 95th percentile, with the machine. Beside each stands the bare round trip of the smallest request
as a baseline.
"""

import gc
import os
import platform
import shutil
import signal
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from random import Random
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from sqlalchemy import update  # noqa: E402

from tests.api.helpers import Client  # noqa: E402
from yeasty.api.app import Settings, create_app  # noqa: E402
from yeasty.cli import prepare  # noqa: E402
from yeasty.core.ask.screening import Row  # noqa: E402
from yeasty.core.ask.techniques import techniques  # noqa: E402
from yeasty.core.ask.trial import TrialKind  # noqa: E402
from yeasty.operations.ask import designs, families, lots, versions  # noqa: E402
from yeasty.process import cluster  # noqa: E402
from yeasty.store.ask.tables import Trial  # noqa: E402
from yeasty.store.database import make_engine, session_factory  # noqa: E402
from yeasty.store.kitchen.queries import all_appliances  # noqa: E402
from yeasty.store.setup import queries as pieces  # noqa: E402

ASKED = 10


def lay_out(url: str, trials: int, methods: int) -> list[str]:
    """The trials; ids of those that are asked."""
    engine = make_engine(url, pool=1)
    keys = list(techniques())
    with session_factory(engine)() as db:
        first = designs.new_trial(
            db, title="Florets", dish="cauliflower florets", question="Which?", kind=TrialKind.SIDE_BY_SIDE
        )
        rows = [Row(f"Way {n}", keys[n % len(keys)], f"note {n}") for n in range(methods)]
        versions.add_ways(db, first, rows, techniques(), all_appliances(db), "oven")
        amounts = [{m.id: 0.1 + n / 100 for m in first.methods} for n in range(8)]
        lots.set_ingredients(db, first, [lots.Lot(f"lot {n}", amounts=a) for n, a in enumerate(amounts)])
        designs.set_attributes(db, first, [designs.Asked("Crust")])
        rng = Random(1)
        pieces.set_pieces(db, first, [pieces.WeighedPiece(rng.gauss(0.06, 0.006)) for _ in range(200)])
        ids = [str(first.id)]
        for n in range(trials - 1):
            made = families.copy_trial(
                db, first, kind=TrialKind.SIDE_BY_SIDE, title=f"Florets {n}", question="Which?"
            )
            if n % 50 == 0:
                db.commit()
                print(f"  {n} trials", file=sys.stderr)
            # Pairs of trials are families; a family of hundreds is not what a kitchen has.
            if n % 2:
                db.execute(update(Trial).where(Trial.id == made.id).values(parent_trial_id=None))
                for m in made.methods:
                    m.parent_method_id = None
            ids.append(str(made.id))
        for trial_id in ids[2::2]:
            db.execute(update(Trial).where(Trial.id == trial_id).values(parent_trial_id=None))
        db.commit()
        step = max(1, len(ids) // ASKED)
        asked = ids[1::step][:ASKED]
    with session_factory(engine)() as db:
        from sqlalchemy import text

        db.execute(text("update method set parent_method_id = null where trial_id != :t"), {"t": ids[1]})
        db.execute(text("update trial set parent_trial_id = null where id != :t"), {"t": ids[1]})
        db.commit()
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as c:
        c.exec_driver_sql("vacuum analyze")
    engine.dispose()
    return asked


def timed(act: Callable[[], Any], times: int) -> list[float]:
    found = []
    for _ in range(times):
        began = time.perf_counter()
        got = act()
        found.append((time.perf_counter() - began) * 1000)
        assert got.status_code < 300, got.text[:300]
    return found


def main() -> None:
    trials, methods = (int(a) for a in (sys.argv[1:3] or ["300", "40"]))
    folder = Path(tempfile.mkdtemp(prefix="yeasty-bench-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    server = cluster.start(folder / "pg", durable=False)
    socket_path = str(folder / "reckoner")
    reckoner = subprocess.Popen([sys.executable, "-m", "yeasty.worker.reckoner", socket_path], cwd=ROOT)
    try:
        prepare(server.url, demo=True, fresh=False)
        ids = lay_out(server.url, trials, methods)
        app = create_app(Settings(server.url, reckoner=socket_path, testing=True))
        # As in yeasty/process/wsgi.py.
        gc.collect()
        gc.freeze()
        gc.set_threshold(50_000, 20, 100)
        lead = Client(app.test_client()).sign_in("lead", "flour-water-salt")
        while not os.path.exists(socket_path):
            time.sleep(0.1)
        gets = {
            "trial": "/trials/{}",
            "stations": "/trials/{}/stations",
            "fairness": "/trials/{}/fairness",
            "as done": "/trials/{}/fairness/as-done",
            "offers": "/trials/{}/offers",
            "jobs": "/trials/{}/jobs",
            "readiness": "/trials/{}/readiness",
            "worth": "/trials/{}/worth",
            "family": "/trials/{}/family",
            "pieces": "/trials/{}/pieces",
            "maps": "/trials/{}/maps",
            "guesses": "/trials/{}/guesses",
            "list of trials": "/trials?search=",
            "search": "/trials?search=florets+cauliflower",
            "techniques": "/techniques",
            "sways": "/sways",
            "promises": "/promises",
            "kinds": "/kinds-of-trial",
        }
        lead.get(f"/trials/{ids[0]}/offers")
        base = statistics.median(timed(lambda: lead.get("/kinds-of-trial"), 30))
        print(
            f"{trials} trials of {methods} methods; {platform.machine()}, {os.cpu_count()} cores, Python "
            f"{platform.python_version()}; load {os.getloadavg()[0]:.1f}"
        )
        print(f"{'request':<22}{'median ms':>10}{'p95 ms':>9}{'times the smallest':>20}")
        for name, path in gets.items():
            took = [t for i in ids for t in timed(lambda i=i, path=path: lead.get(path.format(i)), 4)]
            report(name, took, base)

        def edit(path: str, method: str, body: Any) -> list[float]:
            took = []
            for i in ids:
                version = lead.get(f"/trials/{i}").json["version"]
                took += timed(lambda i=i, v=version: lead.send(method, path.format(i), body(i), v), 1)
            return took

        report("change words", edit("/trials/{}", "PATCH", lambda _: {"hunch": "the oven"}), base)
        firsts = {i: lead.get(f"/trials/{i}").json for i in ids}
        took = [
            t
            for i, f in firsts.items()
            for t in timed(
                lambda i=i, f=f: lead.send(
                    "PATCH", f"/trials/{i}/methods/{f['methods'][0]['id']}", {"vessel": "tray"}, f["version"]
                ),
                1,
            )
        ]
        report("vessel of a method", took, base)
        report(
            "copy a trial",
            [t for i in ids[:3] for t in timed(lambda i=i: lead.send("POST", f"/trials/{i}/copies", {}), 1)],
            base,
        )
    finally:
        reckoner.terminate()
        server.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)


def report(name: str, took: list[float], base: float) -> None:
    ordered = sorted(took)
    p95 = ordered[min(len(ordered) - 1, round(0.95 * (len(ordered) - 1)))]
    print(f"{name:<22}{statistics.median(took):>10.1f}{p95:>9.1f}{statistics.median(took) / base:>20.1f}")


if __name__ == "__main__":
    main()

"""One PostgreSQL cluster for the whole run, a database of its own for whoever asks."""

import atexit
import contextlib
import functools
import gc
import itertools
import json
import os
import select
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psycopg
import pytest
from hypothesis import HealthCheck, settings
from sqlalchemy.orm import Session

from yeasty.process import cluster
from yeasty.store.database import make_engine, session_factory

ROOT = Path(__file__).resolve().parents[1]
_names = itertools.count(1)

# No search fails by the clock: the first example may read tables in, and machines are shared.
settings.register_profile("shared machine", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("shared machine")


# Files that take longest go first, so that the other half of a run is not left waiting for one of them.
LONGEST = (
    "e2e/test_simulated_shift",
    "api/test_described",
    "e2e/test_for_everyone",
    "e2e/",
    "core/test_plan",
    "store/",
    "process/",
    "api/",
)


# Journeys that share a kitchen, in this order: a start of the whole program takes longer than most of them.
# Each of the other files has one of its own.
KITCHENS = {
    "what is tasted": ("test_tasters.py", "test_every_question.py", "test_by_keys.py"),
    "what is told": ("test_page_photos.py", "test_answers.py", "test_deciding.py", "test_claims.py"),
    # Somebody's password is another one after the last.
    "the bench": (
        "test_bench_views.py",
        "test_put_right.py",
        "test_together.py",
        "test_science.py",
        "test_accounts.py",
    ),
}


def kitchen_of(file: str) -> str:
    return next((name for name, files in KITCHENS.items() if file in files), file)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    shared = [file for files in KITCHENS.values() for file in files]

    def place(item: pytest.Item) -> tuple[int, int]:
        long = next((n for n, part in enumerate(LONGEST) if part in item.nodeid), len(LONGEST))
        of_kitchen = "e2e/" in item.nodeid and item.path.name in shared
        return long, shared.index(item.path.name) if of_kitchen else -1

    items.sort(key=place)


# The third process of a run takes what the other two leave of the machine, and of the tests those that only
# compute; but for plans, which get so many seconds by the clock.
BESIDE = "gw2"
BY_THE_CLOCK = ("/test_plan", "/test_together")


def only_computes(file: str) -> bool:
    return "tests/core/" in file and not any(name in file for name in BY_THE_CLOCK)


def pytest_configure(config: pytest.Config) -> None:
    if getattr(config, "workerinput", {}).get("workerid") == BESIDE:
        os.nice(15)


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> Any:
    """A file at a time, or a kitchen."""
    from xdist.scheduler import LoadScopeScheduling
    from xdist.workermanage import WorkerController

    class ByKitchen(LoadScopeScheduling):
        def _split_scope(self, nodeid: str) -> str:
            file = nodeid.partition("::")[0]
            return kitchen_of(Path(file).name) if "e2e/" in file else file

        def _reschedule(self, node: WorkerController) -> None:
            if node.gateway.id == BESIDE and self.workqueue and not any(map(only_computes, self.workqueue)):
                if not node.shutting_down:
                    node.shutdown()
            else:
                super()._reschedule(node)

        def _assign_work_unit(self, node: WorkerController) -> None:
            if node.gateway.id == BESIDE:
                fit = next((scope for scope in self.workqueue if only_computes(scope)), None)
                if fit:
                    self.workqueue.move_to_end(fit, last=False)
            super()._assign_work_unit(node)

    return ByKitchen(config, log)


def pytest_collection_finish() -> None:
    """As web processes do: what was loaded stays, and need not be walked through with each collection."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)


# Where a cluster is kept in memory: a copy of the demo is some 660 files, which takes ten times as long on a
# disk.
IN_MEMORY, ROOM_BYTES = Path("/dev/shm"), 6 * 2**30


def _folder() -> Path:
    """A new folder for a cluster: in memory where there is plenty of it."""
    roomy = IN_MEMORY.is_dir() and os.access(IN_MEMORY, os.W_OK)
    if roomy:
        roomy = min(shutil.disk_usage(IN_MEMORY).free, _free_memory()) > ROOM_BYTES
    folder = Path(tempfile.mkdtemp(prefix="yeasty-test-", dir=IN_MEMORY if roomy else "/tmp"))
    folder.chmod(0o755)
    return folder


def _free_memory() -> int:
    """What the machine says can still be had [bytes]; 0 where it does not say."""
    with contextlib.suppress(OSError, StopIteration):
        lines = Path("/proc/meminfo").read_text().splitlines()
        return 1024 * int(next(x for x in lines if x.startswith("MemAvailable:")).split()[1])
    return 0


def make_demo(folder: Path) -> None:
    """Leave a cluster at rest with the demo in it, and a note of what the demo's database is called."""
    folder.mkdir(exist_ok=True)
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    running = cluster.start(folder / "pg", durable=False)
    (folder / "template").write_text(demo_in(running).rsplit("/", 1)[1])
    running.stop()


@functools.cache
def demo_made_once() -> Path:
    """What `make_demo` left: beforehand, beside the checks of `./test`, or now."""
    if given := os.environ.get("YEASTY_TEST_DEMO"):
        return Path(given)
    folder = _folder()
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    make_demo(folder)
    return folder


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node: Any) -> None:
    """Hand the demo, made once, to each worker, which starts from a copy."""
    node.workerinput["demo"] = str(demo_made_once())


def given_demo(config: pytest.Config) -> Path | None:
    given = getattr(config, "workerinput", {}).get("demo") or os.environ.get("YEASTY_TEST_DEMO")
    return Path(given) if given else None


@pytest.fixture(scope="session")
def server(request: pytest.FixtureRequest) -> Iterator[cluster.Cluster]:
    folder = _folder()
    given = given_demo(request.config)
    if given:
        subprocess.run(["cp", "-a", f"{given}/.", str(folder)], check=True)
    else:
        cluster.make(folder / "pg")
    running = cluster.start(folder / "pg", durable=False)
    yield running
    running.stop(signal.SIGQUIT)
    # Some hundred databases: nobody waits for them to be gone.
    subprocess.Popen(["rm", "-rf", str(folder)], start_new_session=True)


# Databases of tests that are over, longest ago first; the last of them stay, for who may not have let go yet.
_made: list[str] = []
KEPT = 25


def new_database(server: cluster.Cluster, template: str = "", *, stays: bool = False) -> str:
    """The address of a new database, empty or a copy of another; those of long ago that nobody holds go, but
    for what stays.
    """
    name = f"t{os.getpid()}_{next(_names)}"
    with psycopg.connect(server.owner_url, autocommit=True) as db:
        db.execute(f"create database {name} owner {cluster.ROLE} {template and f'template {template}'}")
        held = {row[0] for row in db.execute("select datname from pg_stat_activity")}
        for old in set(_made[:-KEPT]) - held:
            with contextlib.suppress(psycopg.errors.ObjectInUse):
                db.execute(f"drop database {old}")
                _made.remove(old)
    if not stays:
        _made.append(name)
    return server.url.rsplit("/", 1)[0] + "/" + name


@pytest.fixture
def empty_url(server: cluster.Cluster) -> str:
    """A database without tables."""
    return new_database(server)


def demo_in(server: cluster.Cluster) -> str:
    """The address of a new database with the demo in it."""
    from yeasty.cli import prepare

    url = new_database(server, stays=True)
    prepare(url, demo=True, fresh=False)
    # What waits is done once here, or every test that runs a worker would print the demo's pages again.
    run_worker_once(url)
    return url


@pytest.fixture(scope="session")
def demo_template(request: pytest.FixtureRequest, server: cluster.Cluster) -> str:
    """A database with the demo in it, made once."""
    given = given_demo(request.config)
    if not given:
        return demo_in(server)
    return server.url.rsplit("/", 1)[0] + "/" + (given / "template").read_text()


def copy_of(server: cluster.Cluster, template: str, *, stays: bool = False) -> str:
    return new_database(server, template.rsplit("/", 1)[1], stays=stays)


@pytest.fixture
def demo_url(server: cluster.Cluster, demo_template: str) -> str:
    """A copy of the demo that a test may change."""
    return copy_of(server, demo_template)


def session(url: str) -> Session:
    """A session in a database, to look into what is stored."""
    return session_factory(make_engine(url, pool=2))()


@pytest.fixture(scope="session")
def reckoner() -> Iterator[str]:
    """The reckoner in a process of its own, as in real life; its socket."""
    folder = tempfile.mkdtemp(prefix="yeasty-reckon-", dir="/tmp")
    path = f"{folder}/reckoner"
    process = subprocess.Popen(
        [sys.executable, "-m", "yeasty.worker.reckoner", path], cwd=ROOT, stdin=subprocess.DEVNULL
    )
    until = time.monotonic() + 60
    while not os.path.exists(path):
        assert process.poll() is None
        assert time.monotonic() < until
        time.sleep(0.05)
    # The first question loads the scientific libraries; on a busy machine that takes its time.
    for key in ("core-time", "probe-log", "fat"):
        with socket.socket(socket.AF_UNIX) as s:
            s.settimeout(240)
            s.connect(path)
            s.sendall(
                json.dumps(
                    {"ask": "run", "with": {"key": key, "given": {}, "system": "metric", "records": []}}
                ).encode()
                + b"\n"
            )
            with s.makefile("rb") as told:
                assert b'"answer"' in told.readline()
    yield path
    process.terminate()
    process.wait(30)
    shutil.rmtree(folder, ignore_errors=True)


# A worker that has loaded its libraries and waits for the address of a database on each line: what is asked
# of it is done by a child, which begins with all of them and ends with its work. What comes by the clock has
# tests of its own.
WAITING_WORKER = """
import os, sys
from yeasty.worker import main
for line in sys.stdin:
    child = os.fork()
    if not child:
        app = main.make_app(line.strip())
        app.periodic_registry.periodic_tasks.clear()
        with app.open():
            app.run_worker(
                wait=False, listen_notify=False, install_signal_handlers=False, delete_jobs="always")
        os._exit(0)
    print(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)
"""


@functools.cache
def waiting_worker() -> "subprocess.Popen[str]":
    process = subprocess.Popen(
        [sys.executable, "-c", WAITING_WORKER],
        cwd=ROOT,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )
    atexit.register(process.terminate)
    return process


def run_worker_once(url: str) -> None:
    """Do all jobs that wait, in a process of their own as in real life, and come back."""
    worker = waiting_worker()
    assert worker.stdin
    assert worker.stdout
    worker.stdin.write(url + "\n")
    worker.stdin.flush()
    assert select.select([worker.stdout], [], [], 400)[0], "the worker's jobs did not come to their end"
    assert worker.stdout.readline() == "0\n", "the worker failed: what it said stands above"

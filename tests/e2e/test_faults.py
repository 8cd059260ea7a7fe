"""Killing the web server, then the database, while entries are written: nothing acknowledged is lost, nothing
doubled.
"""

import json
import os
import shutil
import signal
import tempfile
import threading
import time
import uuid
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any
from urllib.error import HTTPError
from urllib.request import HTTPCookieProcessor, OpenerDirector, Request, build_opener

import psycopg

from tests.e2e.conftest import Served, serve, stop
from yeasty.process import cluster


class Hands:
    """Someone who taps: keeps every entry until it was acknowledged and sends it again until then."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.http: OpenerDirector = build_opener(HTTPCookieProcessor(CookieJar()))
        self.csrf = self.ask("GET", "/session")["csrf"]
        self.ask("POST", "/session", {"login": "lead", "password": "flour-water-salt"})
        self.csrf = self.ask("GET", "/session")["csrf"]

    def ask(self, method: str, path: str, body: Any = None, patience_s: float = 30) -> Any:
        headers = {"Content-Type": "application/json", "X-CSRFToken": getattr(self, "csrf", "")}
        data = json.dumps(body).encode() if body is not None else None
        with self.http.open(
            Request(self.address + "/api/v1" + path, data, headers, method=method), timeout=patience_s
        ) as answer:
            return json.loads(answer.read() or b"null")


def write(
    hands: Hands, shift: str, batch: str, done: threading.Event, acknowledged: set[str], sent: set[str]
) -> None:
    device, counter = str(uuid.uuid4()), 0
    waiting: list[dict[str, Any]] = []
    while not done.is_set() or (waiting and counter < 100_000):
        if not done.is_set():
            counter += 1
            entry = {
                "id": str(uuid.uuid4()),
                "batch": batch,
                "kind": "note",
                "device": device,
                "counter": counter,
                "device_time": time.time(),
                "payload": {"text": f"tap {counter}"},
            }
            waiting.append(entry)
            sent.add(entry["id"])
        try:
            answer = hands.ask("POST", f"/shifts/{shift}/entries", {"entries": waiting[:200]}, 5)
        except (OSError, HTTPError, HTTPException, ValueError):  # also an answer cut off by the kill
            time.sleep(0.05)
            continue
        there = {w["id"] for w in answer["written"]} | set(answer["known"])
        acknowledged |= there
        waiting = [e for e in waiting if e["id"] not in there]
        time.sleep(0.005)


def test_sigkill_of_the_web_server_and_of_postgresql_loses_nothing_acknowledged() -> None:
    from yeasty.cli import prepare

    folder = Path(tempfile.mkdtemp(prefix="yeasty-fault-", dir="/tmp"))
    folder.chmod(0o755)
    cluster.make(folder / "pg")
    database = cluster.start(folder / "pg")
    served: Served | None = None
    done = threading.Event()
    try:
        prepare(database.url, demo=True, fresh=False)
        served = serve(database.url)
        hands = Hands(served.address)
        trial = hands.ask("GET", "/trials?search=chickpeas")["items"][0]["id"]
        shift = hands.ask("GET", f"/trials/{trial}/shifts")["items"][0]["id"]
        batch = hands.ask("GET", f"/shifts/{shift}/bench")["batches"][0]["id"]
        acknowledged, sent = set[str](), set[str]()
        threads = [
            threading.Thread(target=write, args=(hands, shift, batch, done, acknowledged, sent), daemon=True)
            for _ in range(3)
        ]
        for t in threads:
            t.start()
        time.sleep(1.5)
        for pid in gunicorn_workers(served):
            os.kill(pid, signal.SIGKILL)
        time.sleep(2.0)
        before = len(acknowledged)
        postgres = cluster.postmaster_pid(folder / "pg")
        assert postgres
        os.kill(postgres, signal.SIGKILL)
        database.process.wait(60)
        durable_by_now = set(acknowledged)
        wait_for_backends(folder / "pg")
        database = cluster.start(folder / "pg", port=database.port)
        time.sleep(2.5)
        done.set()
        for t in threads:
            t.join(120)
        assert not any(t.is_alive() for t in threads)
        assert before > 3
        with psycopg.connect(database.url) as db:
            stored = [str(r[0]) for r in db.execute("select id from entry where shift_id = %s", (shift,))]
            numbers = [r[0] for r in db.execute("select number from entry where shift_id = %s", (shift,))]
        assert durable_by_now <= set(stored)
        assert acknowledged == sent
        assert sent <= set(stored)
        assert len(stored) == len(set(stored))
        assert len(numbers) == len(set(numbers))
    finally:
        done.set()
        if served:
            stop(served)
        database.stop(signal.SIGQUIT)
        shutil.rmtree(folder, ignore_errors=True)


def gunicorn_workers(served: Served) -> list[int]:
    """Process ids of this program's own web workers: children of its gunicorn."""
    for child in served.children():
        command = Path(f"/proc/{child}/cmdline").read_bytes()
        if b"gunicorn" in command:
            found = Path(f"/proc/{child}/task/{child}/children").read_text().split()
            assert found
            return [int(x) for x in found]
    raise AssertionError("no gunicorn")


def wait_for_backends(data: Path) -> None:
    """Until the killed server's own backends have gone and its lock file can be taken over."""
    pid = int((data / "postmaster.pid").read_text().splitlines()[0])
    for _ in range(100):
        try:
            os.kill(pid, 0)
        except ProcessLookupError:
            break
        time.sleep(0.1)
    time.sleep(0.5)


def test_a_postmaster_that_is_killed_is_brought_up_again_and_nothing_is_lost() -> None:
    folder = Path(tempfile.mkdtemp(prefix="yeasty-own-", dir="/tmp"))
    folder.chmod(0o755)
    kitchen = serve("", "--empty", data=folder)
    try:
        http = build_opener(HTTPCookieProcessor(CookieJar()))

        def ask(method: str, path: str, body: Any = None, csrf: str = "") -> Any:
            headers = {"Content-Type": "application/json", "X-CSRFToken": csrf}
            data = json.dumps(body).encode() if body is not None else None
            with http.open(Request(f"{kitchen.address}/api/v1{path}", data, headers, method=method)) as got:
                return json.loads(got.read() or b"null")

        csrf = ask("GET", "/session")["csrf"]
        lead = {"kitchen": "K", "name": "L", "login": "lead", "password": "flour water salt yeast"}
        assert ask("POST", "/first-lead", lead, csrf)["login"] == "lead"
        before = cluster.postmaster_pid(folder / "pg")
        assert before
        os.kill(before, signal.SIGKILL)
        until = time.monotonic() + 60
        while True:
            try:
                session = ask("GET", "/session")
                break
            except (OSError, HTTPException):
                assert time.monotonic() < until, (folder / "log").read_text()[-2000:]
                time.sleep(0.3)
        assert session["me"]["login"] == "lead"
        assert cluster.postmaster_pid(folder / "pg") not in (None, before)
    finally:
        stop(kitchen)
        assert cluster.postmaster_pid(folder / "pg") is None
        shutil.rmtree(folder, ignore_errors=True)


def test_strangers_with_half_a_request_each_stop_nobody(served: Served) -> None:
    """Over twice as many sockets as there are threads; a tap gets its answer, and what a whole request is
    comes through.
    """
    import socket

    port = int(served.address.rsplit(":", 1)[1])
    halves = (
        b"GET /api/v1/clock HTTP/1.1\r\nHos",
        b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Length: 60\r\n\r\n{",
        b"POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Length: 62914560\r\n\r\n{",
    )
    there = []
    try:
        for n in range(150):
            one = socket.create_connection(("127.0.0.1", port), 10)
            one.sendall(halves[n % len(halves)])
            there.append(one)
        hands = Hands(served.address)
        assert hands.ask("GET", "/trials")["items"]
        there[2].settimeout(30)
        assert there[2].recv(4096).startswith(b"HTTP/1.1 4"), (
            "60 MB of a stranger are refused by their header"
        )
    finally:
        for one in there:
            one.close()

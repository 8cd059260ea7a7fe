"""The whole program as it is served, and real Chromium before it."""

import contextlib
import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect, sync_playwright

from tests.conftest import ROOT, copy_of, kitchen_of
from yeasty.process import cluster

CHROMIUM = "/usr/bin/chromium"
# Machines are shared: what is waited for is waited for long, and passes as soon as it is there.
expect.set_options(timeout=60_000)
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # Pages of one context share a process: see `Contexts`.
    "--process-per-site",
]


@dataclass
class Served:
    """A running program: its address and its process."""

    address: str
    process: "subprocess.Popen[bytes]"
    data: Path

    def children(self) -> list[int]:
        found = subprocess.run(
            ["pgrep", "-P", str(self.process.pid)], capture_output=True, text=True, check=False
        )
        return [int(x) for x in found.stdout.split()]


def serve(
    url: str,
    *arguments: str,
    scheme: str = "http",
    wait_s: float = 240,
    port: int | None = None,
    data: Path | None = None,
) -> Served:
    port = port or cluster.free_port()
    data = data or Path(tempfile.mkdtemp(prefix="yeasty-e2e-", dir="/tmp"))
    log = (data / "log").open("wb")
    process = subprocess.Popen(
        [sys.executable, "-m", "yeasty", "serve", "--port", str(port), *arguments],
        cwd=ROOT,
        stdout=log,
        stderr=log,
        env={**os.environ, "DATABASE_URL": url, "YEASTY_DATA": str(data)},
        stdin=subprocess.DEVNULL,
        start_new_session=True,
    )
    until = time.monotonic() + wait_s
    while "Ctrl-C" not in (data / "log").read_text():
        if process.poll() is not None or time.monotonic() > until:
            raise AssertionError((data / "log").read_text())
        time.sleep(0.1)
    with socket.create_connection(("127.0.0.1", port), 5):
        pass
    return Served(f"{scheme}://127.0.0.1:{port}", process, data)


def stop(served: Served) -> None:
    if served.process.poll() is None:
        served.process.send_signal(signal.SIGINT)
    with contextlib.suppress(subprocess.TimeoutExpired):
        served.process.wait(60)
    assert served.process.poll() is not None


class Kitchens:
    """One running program at a time, kept as long as files that share a kitchen follow each other."""

    def __init__(self, begin: Callable[[], Served]) -> None:
        self._begin, self._name = begin, ""
        self._running: Served | None = None

    def at(self, name: str) -> Served:
        if self._running is None or name != self._name:
            self.close()
            self._running, self._name = self._begin(), name
        return self._running

    def close(self) -> None:
        if self._running is not None:
            stop(self._running)
        self._running = None


_running: list[Kitchens] = []


@pytest.fixture(scope="session")
def kitchens(server: cluster.Cluster, demo_template: str) -> Kitchens:
    _running.append(Kitchens(lambda: serve(copy_of(server, demo_template))))
    return _running[0]


@pytest.hookimpl(wrapper=True)
def pytest_runtest_teardown(item: pytest.Item, nextitem: pytest.Item | None) -> Iterator[None]:
    """A kitchen is closed behind the last who share it: shifts in it would go on."""
    yield
    if nextitem is None or kitchen_of(nextitem.path.name) != kitchen_of(item.path.name):
        for kitchen in _running:
            kitchen.close()


@pytest.fixture(scope="module")
def served(request: pytest.FixtureRequest, kitchens: Kitchens) -> Served:
    """The program with the demo in it; see `KITCHENS` for the files that share it."""
    return kitchens.at(kitchen_of(request.path.name))


@pytest.fixture(scope="session")
def chromium() -> Iterator[Callable[..., Browser]]:
    with sync_playwright() as p:
        started: list[Browser] = []

        def launch(*more: str) -> Browser:
            browser = p.chromium.launch(executable_path=CHROMIUM, args=[*ARGUMENTS, *more])
            started.append(browser)
            return browser

        yield launch
        for browser in started:
            browser.close()


@pytest.fixture(scope="session")
def browser(chromium: Callable[..., Browser]) -> Browser:
    return chromium()


class Contexts:
    """Browser contexts, used again where nothing of the test before is left in them. A page that shows next
    to nothing stays open in each, and with it the process that has compiled what the program's pages are
    made of: opening one takes half as long.
    """

    def __init__(self, browser: Browser) -> None:
        self._browser = browser
        self._free: dict[str, list[BrowserContext]] = {}
        self._taken: list[tuple[str, BrowserContext]] = []
        self.wrong: list[str] = []

    def take(self, **options: Any) -> BrowserContext:
        free = self._free.get(repr(options), [])
        c = free.pop() if free else self._new(**options)
        self._taken.append((repr(options), c))
        return c

    def _new(self, **options: Any) -> BrowserContext:
        c = self._browser.new_context(**options)
        c.set_default_timeout(60_000)
        c.on("weberror", lambda e: self.wrong.append(str(e.error)))
        c.on("console", lambda m: self.wrong.append(m.text) if "Content Security Policy" in m.text else None)
        return c

    def give_back(self) -> None:
        """All that were taken: without cookies, what pages stored, what they may; or closed for good."""
        for options, c in self._taken:
            if "allow" in options or "accept_downloads" in options:
                c.close()
            else:
                _emptied(c)
                self._free.setdefault(options, []).append(c)
        self._taken.clear()


STAYS = "/loaf.svg"


def _emptied(c: BrowserContext) -> None:
    origins = {"/".join(p.url.split("/")[:3]) for p in c.pages if p.url.startswith("http")}
    c.set_offline(False)
    c.unroute_all()
    stays = next((p for p in c.pages if p.url.endswith(STAYS)), None) or c.new_page()
    if origins and not stays.url.endswith(STAYS):
        # Whatever has become of the program meanwhile: the address is what counts.
        stays.route("**" + STAYS, lambda route: route.fulfill(body="", content_type="text/plain"))
        stays.goto(min(origins) + STAYS)
    for page in c.pages:
        if page is not stays:
            page.close()
    c.clear_cookies()
    c.clear_permissions()
    storage = c.new_cdp_session(stays)
    for origin in origins:
        storage.send("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "all"})
    storage.detach()


@pytest.fixture(scope="session")
def contexts(browser: Browser) -> Contexts:
    return Contexts(browser)


@pytest.fixture
def context(contexts: Contexts) -> Iterator[Callable[..., BrowserContext]]:
    """Contexts whose pages may not raise errors nor breach the content policy."""
    contexts.wrong.clear()

    def new(**options: Any) -> BrowserContext:
        # Whoever asks what works without network asks for the service worker too: it fetches everything.
        usual = {"viewport": {"width": 1280, "height": 800}, "service_workers": "block"}
        return contexts.take(**{**usual, **options})

    yield new
    contexts.give_back()
    assert contexts.wrong == []


def sign_in_by_form(
    page: Page, address: str, login: str = "lead", password: str = "flour-water-salt"
) -> None:
    """Sign in as anybody would, and stand before the list of trials."""
    page.goto(address + "/signin")
    page.fill("input[name=login]", login)
    page.fill("input[name=password]", password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Trials").wait_for()


def sign_in(page: Page, address: str, login: str = "lead", password: str = "flour-water-salt") -> None:
    """Sign in without the form, which tests of its own fill in, and stand before the list of trials."""
    csrf = page.request.get(f"{address}/api/v1/session").json()["csrf"]
    who = {"login": login, "password": password}
    told = page.request.post(f"{address}/api/v1/session", data=who, headers={"X-CSRFToken": csrf})
    assert told.ok, told.text()
    page.goto(address + "/")
    page.get_by_role("heading", name="Trials").wait_for()


def trial_called(page: Page, name: str | re.Pattern[str]) -> Locator:
    """The link of a trial in the list of all: what waits above it leads elsewhere by the same name."""
    return page.get_by_role("list", name="All trials").get_by_role("link", name=name).first


def judge_nothing_yet(page: Page) -> None:
    """Strike out all that a new trial's dialog proposes to judge."""
    proposed = page.get_by_role("group", name="What is judged").get_by_role("button", pressed=True)
    proposed.first.wait_for()
    while proposed.count():
        proposed.first.click()


def bench_of(page: Page, address: str, word: str) -> str:
    """The address of a trial's current bench, and where its page is opened."""
    trial_called(page, word).click()
    page.wait_for_url("**/ask")
    page.get_by_role("link", name="Cook running").click()
    page.wait_for_url("**/cook/*")
    page.get_by_text("next for your hands").wait_for()
    return page.url

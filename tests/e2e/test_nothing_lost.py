"""Taps that meet everything that goes wrong with networks, tabs, clocks and servers: each arrives once."""

import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.conftest import copy_of
from tests.e2e.conftest import Served, bench_of, serve, sign_in, stop
from tests.e2e.test_faults import Hands
from yeasty.process import cluster
from yeasty.process.backup import backup, restore

Context = Callable[..., BrowserContext]
# A device clock that the test can move; what the browser itself counts on goes on.
SKEW = """() => {
  const real = Date.now.bind(Date)
  window.__skew = 0
  try { window.__skew = Number(localStorage.getItem('test-skew') ?? 0) } catch { /* a page without storage */ }
  Date.now = () => real() + window.__skew
}"""  # noqa: E501


def note(page: Page, words: str) -> None:
    page.keyboard.press("n")
    page.fill("textarea[name=text]", words)
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_role("dialog")).to_be_hidden()


def notes_of(address: str, shift: str) -> list[tuple[str, float]]:
    entries = Hands(address).ask("GET", f"/shifts/{shift}/bench")["entries"]
    return sorted(
        (e["payload"]["text"], e["at"])
        for e in entries
        if e["kind"] == "note" and e["payload"]["text"].startswith("lost?")
    )


def until_there(page: Page, address: str, shift: str, count: int) -> None:
    """Until the server has so many of the notes, at most a minute."""
    until = time.monotonic() + 120
    while len(notes_of(address, shift)) < count and time.monotonic() < until:
        page.wait_for_timeout(500)


def wait_for_worker(page: Page) -> None:
    for _ in range(120):
        if page.evaluate("navigator.serviceWorker.controller !== null"):
            return
        page.wait_for_timeout(500)
    raise AssertionError("the service worker never took over")


def test_tabs_closed_and_opened_a_second_tab_and_a_moved_clock_lose_nothing(
    served: Served, context: Context
) -> None:
    c = context(service_workers="allow")
    c.add_init_script(f"({SKEW})()")
    page = c.new_page()
    sign_in(page, served.address)
    address = bench_of(page, served.address, "Turkey")
    shift = address.rsplit("/", 1)[1]
    expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")
    wait_for_worker(page)
    c.set_offline(True)
    taps: list[tuple[str, float]] = []

    def tap(on: Page, words: str) -> None:
        taps.append((f"lost? {words}", time.time()))
        note(on, f"lost? {words}")

    tap(page, "1 offline")
    second = c.new_page()
    second.goto(address)
    second.locator(".card h1").wait_for()
    tap(second, "2 in a second tab")
    page.close()
    tap(second, "3 with the first tab closed")
    # Somebody puts the tablet's clock back by ten minutes.
    second.evaluate("() => { window.__skew = -600_000; localStorage.setItem('test-skew', '-600000') }")
    second.wait_for_timeout(2500)
    tap(second, "4 with the clock put back")
    second.reload()
    second.locator(".card h1").wait_for()
    expect(second.get_by_test_id("saving")).to_contain_text("kept here")
    second.close()
    third = c.new_page()
    third.goto(address)
    third.locator(".card h1").wait_for()
    c.set_offline(False)
    until_there(third, served.address, shift, 4)
    expect(third.get_by_test_id("saving")).to_contain_text("all entries saved")
    stored = notes_of(served.address, shift)
    assert [w for w, _ in stored] == [w for w, _ in taps]
    off = [round(at - meant, 1) for (_, at), (_, meant) in zip(stored, taps, strict=True)]
    assert all(abs(o) < 90 for o in off), f"a wrong device clock was not corrected: {off}"
    # Half an hour ahead, with the network there: measured anew and corrected.
    third.evaluate("() => { window.__skew = 1_800_000 }")
    third.wait_for_timeout(8000)
    meant = time.time()
    note(third, "lost? 5 with the clock put ahead")
    until_there(third, served.address, shift, 5)
    last = notes_of(served.address, shift)[-1]
    assert last[0] == "lost? 5 with the clock put ahead"
    assert abs(last[1] - meant) < 90


@pytest.fixture
def own(server: cluster.Cluster, demo_template: str) -> Iterator[tuple[Served, str]]:
    url = copy_of(server, demo_template)
    running = serve(url)
    yield running, url
    stop(running)


def test_a_server_restored_from_an_older_backup_is_given_again_what_devices_hold(
    own: tuple[Served, str], context: Context, tmp_path: Path
) -> None:
    served, url = own
    c = context()
    page = c.new_page()
    sign_in(page, served.address)
    address = bench_of(page, served.address, "Turkey")
    shift = address.rsplit("/", 1)[1]
    note(page, "lost? before the backup")
    until_there(page, served.address, shift, 1)
    backup(url, tmp_path / "older")
    note(page, "lost? after the backup")
    until_there(page, served.address, shift, 2)
    stop(served)
    restore(url, tmp_path / "older")
    port = int(served.address.rsplit(":", 1)[1])
    again = serve(url, port=port)
    try:
        assert [w for w, _ in notes_of(again.address, shift)] == ["lost? before the backup"]
        page.goto(served.address + "/signin")
        sign_in(page, served.address)
        page.goto(address)
        page.locator(".card h1").wait_for()
        expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")
        until_there(page, again.address, shift, 2)
        assert [w for w, _ in notes_of(again.address, shift)] == [
            "lost? after the backup",
            "lost? before the backup",
        ]
    finally:
        stop(again)

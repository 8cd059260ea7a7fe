"""Hands for journeys: what has to be done before one begins, through the page's session; and those of
somebody without a pointer.
"""

import re
import time
from typing import Any

from playwright.sync_api import Locator, Page, expect

from tests.api.helpers import an_entry

_SEND = """async ([method, path, body, version]) => {
  const csrf = (await (await fetch('/api/v1/session')).json()).csrf
  const headers = { 'X-CSRFToken': csrf, 'Content-Type': 'application/json' }
  if (version !== null) headers['If-Match'] = `"${version}"`
  const sent = body === null ? undefined : JSON.stringify(body)
  const got = await fetch('/api/v1' + path, { method, headers, body: sent })
  return { status: got.status, json: await got.json().catch(() => null) }
}"""


def send(page: Page, method: str, path: str, body: Any = None, version: int | None = None) -> Any:
    """One request as whoever is signed in on this page."""
    got = page.evaluate(_SEND, [method, path, body, version])
    assert got["status"] < 300, got
    return got["json"]


def trial_with_shift(
    page: Page, techniques: tuple[str, ...], dish: str = "beetroot wedges", food_class: str = "plant"
) -> tuple[dict[str, Any], str]:
    """A trial of several ways that asks how moist each is, and its planned shift."""
    body = {"question": "Which is moister?", "dish": dish, "food_class": food_class}
    t = send(page, "POST", "/trials", body)
    for technique in techniques:
        t = send(page, "POST", f"/trials/{t['id']}/methods", {"technique": technique}, t["version"])
    asked = {
        "items": [{"name": "Moist", "scale": "intensity", "weight": 1, "low_words": "", "high_words": ""}]
    }
    t = send(page, "PUT", f"/trials/{t['id']}/attributes", asked, t["version"])
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 2 * 3600))
    shift = send(page, "POST", f"/trials/{t['id']}/shifts", {"serve_from": serve, "window_s": 300})
    return t, str(shift["id"])


def cook(page: Page, shift: str, *, read: bool = True) -> None:
    """Everything cooked as planned, just now, and, where it is read, hot in the middle."""
    for _ in range(60):
        bench = send(page, "GET", f"/shifts/{shift}/bench")
        if bench["plan"] and bench["plan"]["items"]:
            break
        page.wait_for_timeout(500)
    back = max(i["end"] for i in bench["plan"]["items"]) - time.time()
    steps = {(b["id"], s["key"]): s for b in bench["batches"] for s in b["steps"]}
    entries = []
    for i in bench["plan"]["items"]:
        step = steps[i["batch"], i["step"]]
        kind = "done" if step["attention"] == "hands" else "started" if step["phase"] == "come_up" else ""
        if kind:
            at = (i["end"] if kind == "done" else i["start"]) - max(0.0, back)
            entries.append(an_entry(i["batch"], kind, {"step": i["step"], "at": at}, len(entries)))
    for b in bench["batches"] if read else []:
        hot = {"celsius": 96, "where": "core"}
        entries.append(an_entry(b["id"], "temperature", hot, len(entries)))
    got = send(page, "POST", f"/shifts/{shift}/entries", {"entries": entries})
    assert len(got["written"]) == len(entries), got


def until(page: Page, told: str, *given: Any) -> None:
    """Wait until a page says yes. Asked from outside each time: what the browser would go on asking by itself
    it may not evaluate, where the page's content policy stands.
    """
    for _ in range(300):
        if page.evaluate(told, *given):
            return
        page.wait_for_timeout(100)
    raise AssertionError(f"the page never said yes: {told}")


def pick(box: Locator, name: str | re.Pattern[str], *, exact: bool = False) -> None:
    """Open a box of choices and take one. The list scrolls to it before the hand goes down: where the page
    itself scrolls, as a click would have it, a busy list follows between down and up, and nothing is taken.
    """
    box.click()
    choice = box.page.get_by_role("option", name=name, exact=exact)
    choice.wait_for()
    choice.evaluate("e => e.scrollIntoView({ block: 'nearest' })")
    choice.click()


class Keys:
    """Somebody without a pointer: the tab key until something has the keys, then a key."""

    MOST = 120

    def __init__(self, page: Page) -> None:
        self.page = page

    def to(self, what: Locator) -> None:
        """Go on until `what` has the keys; never by a script. What cannot be pressed yet is waited for."""
        expect(what.first).to_be_enabled(timeout=90_000)
        for _ in range(self.MOST):
            if what.first.evaluate("e => e === document.activeElement"):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"{what} cannot be reached by the tab key")

    def press(self, what: Locator, key: str = "Enter") -> None:
        self.to(what)
        self.page.keyboard.press(key)

    def fill(self, what: Locator, words: str) -> None:
        self.to(what)
        self.page.keyboard.type(words)

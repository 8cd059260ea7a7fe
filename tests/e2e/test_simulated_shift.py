"""A whole cooking of five methods on simulated time, through the real bench: by keyboard on one screen, by
touch on another.
"""

import contextlib
import re
import threading
import time
from collections.abc import Callable
from typing import Any

from playwright.sync_api import BrowserContext, Page, Request, TimeoutError, expect

from tests.e2e.conftest import Served, sign_in
from yeasty.devices.kitchen import Kitchen
from yeasty.devices.simulate import Simulation, simulated_shift

# Fast while nothing is near, slow where hands are busy: a tap of this test takes real seconds.
SPEED, BUSY_SPEED = 60.0, 12.0
# Real seconds after which the shift must be over.
MOST_S = 600.0
READ_CARD = """() => {
  const card = document.querySelector('.card'); if (!card) return null
  const h1 = card.querySelector('h1')?.innerText ?? ''
  const facts = card.querySelector('.head p')?.innerText ?? ''
  const count = card.querySelector('.count')?.innerText ?? ''
  return { what: h1, facts, tag: facts.split(' · ')[0], count, asking: !!card.querySelector('.ask'), later: !!document.querySelector('.notes button') }
}"""  # noqa: E501


def seconds(count: str) -> float:
    """What a countdown shows [s], under nought when late."""
    sign = -1 if count.startswith("−") else 1
    parts = [int(x) for x in re.findall(r"\d+", count)]
    return sign * sum(p * 60**i for i, p in enumerate(reversed(parts)))


class Cook:
    """Someone at the bench who does what the card asks, but for what the story says."""

    def __init__(self, keys: Page, touch: Page, kitchen: Kitchen, shift: str) -> None:
        self.keys, self.touch, self.kitchen, self.shift = keys, touch, kitchen, shift
        self.late_preheat = self.cut = self.voided = self.rescued = False
        self.forgot, self.accepted_min, self.taps, self.speed = "", 0, 0, SPEED
        self.looked = time.monotonic()
        keys.on("request", self.asked)

    def asked(self, request: Request) -> None:
        """What was accepted is what the screen asked for."""
        if request.url.endswith("/window") and request.method == "POST":
            self.accepted_min += request.post_data_json["later_min"]

    def pace(self, speed: float) -> None:
        """Have the shift's clock go slower or faster."""
        if speed != self.speed:
            self.speed = speed
            self.kitchen.ask("POST", f"/shifts/{self.shift}/speed", {"speed": speed})

    def busy(self) -> tuple[float, float]:
        """How fast the clock may go while hands are busy, and how long before they are it must: what is put
        off comes back after a minute of it, and a machine that is slow to look must come to something else
        before; it also looks twice before something is near.
        """
        took, self.looked = time.monotonic() - self.looked, time.monotonic()
        speed = next((s for s in (BUSY_SPEED, BUSY_SPEED / 2, BUSY_SPEED / 4) if s * took < 10), 1.0)
        return speed, 40 + 2 * SPEED * min(took, 2.0)

    def ready(self, page: Page) -> None:
        """Tick the list, where one is asked for; another screen's tap or a new plan may take it away before
        it is pressed, and then the next look at the card says what is asked.
        """
        button = page.get_by_role("button", name=re.compile(r"are so, start$"))
        if button.count():
            with contextlib.suppress(TimeoutError):
                button.first.click(timeout=2500)

    def tap(self, card: dict[str, Any]) -> None:
        """Say that it is done: in turn by key and by finger."""
        self.taps += 1
        other = self.touch.evaluate(READ_CARD)
        if (
            self.taps % 3 == 2
            and other
            and (other["what"], other["tag"], other["asking"]) == (card["what"], card["tag"], False)
        ):
            # Another screen's tap may take it away under the finger: then the next look at the card says what
            # is asked.
            with contextlib.suppress(TimeoutError):
                self.touch.locator(".card .acts .main").tap(timeout=2500)
                self.ready(self.touch)
        else:
            self.keys.keyboard.press(" ")
            self.ready(self.keys)

    def go_on(self) -> bool:
        """One look at the card; False once nothing is left."""
        card, (busy, near) = self.keys.evaluate(READ_CARD), self.busy()
        if card is None:
            return True
        if card["what"].startswith("Nothing left"):
            return False
        if card["asking"]:
            self.keys.keyboard.press(" ")
            return True
        if (
            card["later"]
            and self.keys.get_by_role("button", name=re.compile(r"^Serve \d+ min later$")).count()
        ):
            # It is withdrawn as soon as a plan comes that needs no move. By its key: a finger waits until
            # nothing moves on the screen, which on a busy machine may be never.
            with contextlib.suppress(TimeoutError):
                self.keys.get_by_role("button", name=re.compile(r"^Serve \d+ min later$")).press(
                    "Enter", timeout=4000
                )
            return True
        left = seconds(card["count"]) if card["count"] else 1e9
        self.pace(busy if left < near and card["what"] else SPEED)
        if left > 0:
            return True
        if card["what"].startswith("Start: preheat the oven") and not self.late_preheat:
            if left > -300:
                return True
            self.late_preheat = True
        if card["what"] == "Turn the tray":
            self.forgot = card["tag"]
            self.keys.keyboard.press("l")
            return True
        if card["tag"] == "MW" and card["what"].startswith(("Take out", "Plate")) and not self.voided:
            self.void()
            return True
        if card["what"].startswith("Take out") and not self.cut:
            self.without_network(card)
            return True
        self.tap(card)
        return True

    def void(self) -> None:
        """The microwave's dropped on the floor: stopped, kept, never tasted."""
        tags = [b["tag"] for b in self.kitchen.ask("GET", f"/shifts/{self.shift}/bench")["batches"]]
        self.keys.keyboard.press(str(tags.index("MW") + 1))
        self.keys.keyboard.press("h")
        self.keys.keyboard.press("0")
        self.keys.get_by_role("textbox", name="What happened").fill("dropped on the floor")
        self.keys.get_by_role("button", name=re.compile("^Void")).click()
        self.keys.get_by_role("button", name="Log it").click()
        self.keys.get_by_role("dialog").wait_for(state="hidden")
        self.voided = True

    def without_network(self, card: dict[str, Any]) -> None:
        """The network goes, the tap is kept, the next thing comes up; then it is back."""
        self.keys.context.set_offline(True)
        self.keys.get_by_text("no network").first.wait_for()
        self.keys.keyboard.press(" ")
        self.ready(self.keys)
        # What another screen or a new plan took off the card in this moment leaves nothing to tap: then at
        # the next one.
        with contextlib.suppress(TimeoutError):
            self.keys.get_by_text(re.compile(r"no network: \d+ kept here")).first.wait_for(timeout=8000)
            self.cut = True
        if self.cut:
            self.keys.wait_for_function(
                "(was) => document.querySelector('.card h1')?.innerText + document.querySelector('.card "
                ".head p')?.innerText !== was",
                arg=card["what"] + card["facts"],
            )
        self.keys.context.set_offline(False)
        self.keys.get_by_text("all entries saved").wait_for()

    def rescue(self) -> None:
        """The oven's tray came out pale underneath: seared, as a sample of its own."""
        self.keys.keyboard.press("1")
        self.keys.keyboard.press("s")
        self.keys.get_by_role("button", name="sear each side").click()
        self.keys.locator("input[name=why]").fill("pale underneath, the turn was forgotten")
        self.keys.get_by_role("button", name="Begin the rescue").click()
        self.keys.get_by_role("dialog").wait_for(state="hidden")
        self.keys.keyboard.press("0")
        self.rescued = True


def drive(simulation: Simulation, done: threading.Event, problems: list[str]) -> None:
    while not done.is_set():
        try:
            simulation.round()
        except Exception as wrong:  # told at the end of the test
            problems.append(repr(wrong))
            return
        done.wait(0.4)


def test_five_methods_on_simulated_time_meet_where_it_was_promised(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    shift = simulated_shift(kitchen, "buns", SPEED, 47)
    first = kitchen.ask("GET", f"/shifts/{shift}/bench")["shift"]
    trial = first["trial_id"]
    keys = context().new_page()
    touch = context(viewport={"width": 820, "height": 1180}, has_touch=True).new_page()
    for page, who in ((keys, ("lead", "flour-water-salt")), (touch, ("cook", "proof-shape-bake"))):
        sign_in(page, served.address, *who)
        page.goto(f"{served.address}/trials/{trial}/cook/{shift}")
        page.get_by_text("Simulated time").wait_for()
    done, problems = threading.Event(), list[str]()
    simulation = Simulation(kitchen, shift, seed=3, faults=True, say=lambda _: None)
    devices = threading.Thread(target=drive, args=(simulation, done, problems), daemon=True)
    devices.start()
    cook, until = Cook(keys, touch, kitchen, shift), time.monotonic() + MOST_S
    try:
        while time.monotonic() < until:
            if not cook.go_on():
                if cook.rescued:
                    break
                cook.rescue()
                keys.locator(".card h1", has_text="Sear each side").wait_for()
            time.sleep(0.15)
    finally:
        done.set()
        devices.join(30)
    assert problems == []
    assert cook.rescued, "the shift did not come to its end in time"
    assert cook.late_preheat
    assert cook.forgot == "OV"
    assert cook.cut
    assert cook.voided
    keys.get_by_text("all entries saved").wait_for()
    expect(touch.locator(".card")).to_contain_text("Nothing left for the hands")
    bench = kitchen.ask("GET", f"/shifts/{shift}/bench")
    entries = bench["entries"]
    # The window moved by what was accepted, and by nothing else.
    assert bench["shift"]["serve_from"] == first["serve_from"] + 60 * cook.accepted_min
    tags = {b["id"]: b["tag"] for b in bench["batches"]}
    plates = {
        s["key"] for b in bench["batches"] if not b["parent"] for s in b["steps"] if s["phase"] == "plate"
    }
    plated = {tags[e["batch"]]: e["at"] for e in entries if e["payload"].get("step") in plates}
    assert set(plated) == {"OV", "AF", "DF", "PS"}
    slow = 20 * BUSY_SPEED  # a tap of this test takes real seconds, each of them many of the shift's
    # From the window first promised to the one accepted last: nothing before the first, nothing after the
    # last.
    assert all(
        first["serve_from"] - slow <= t <= bench["shift"]["serve_until"] + slow for t in plated.values()
    ), (plated, first, bench["shift"])
    # Every tap arrived once, on both screens' devices; the turn that was forgotten was never logged.
    assert len({e["id"] for e in entries}) == len(entries)
    hands = {e["device"] for e in entries if e["kind"] in ("in", "out", "done", "started", "turned")}
    assert len(hands) == 2
    turns = {
        s["key"] for b in bench["batches"] if b["tag"] == "OV" for s in b["steps"] if s["phase"] == "turn"
    }
    assert not any(e["payload"].get("step") in turns for e in entries)
    assert [e["kind"] for e in entries if e["batch"] in {b for b, t in tags.items() if t == "MW"}].count(
        "void"
    ) == 1
    child = next(b for b in bench["batches"] if b["parent"])
    assert tags[child["parent"]] == "OV"
    assert any(e["batch"] == child["id"] and e["kind"] == "done" for e in entries)
    # Probes read all along, and what was not to be believed did not count.
    probes = kitchen.ask("GET", f"/shifts/{shift}/probes?curves=true")
    cores = [p[1] for c in probes["curves"] if c["where"] == "core" for p in c["points"] if p[1] is not None]
    assert len(probes["curves"]) >= 10
    assert max(cores) < 110

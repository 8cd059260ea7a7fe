"""Two heats at the bench, yesterday's paper, and a forgotten tap put right, as a cook would do them."""

import re
import time
from collections.abc import Callable

from playwright.sync_api import BrowserContext, expect

from tests.e2e.conftest import Served, sign_in, trial_called

Context = Callable[..., BrowserContext]


def test_the_oven_is_started_beside_the_steaming_and_half_cooked_meat_goes_straight_on(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial_called(page, re.compile("pre-cook × finish")).click()
    page.get_by_role("link", name=re.compile("^Cook")).click()
    page.get_by_role("button", name="Plan it").click()
    page.locator(".block.beside").first.wait_for(timeout=60_000)
    shift = page.url.rsplit("/", 1)[1]
    bench = page.evaluate(f"async () => (await fetch('/api/v1/shifts/{shift}/bench')).json()")
    at = {(i["batch"], i["step"]): i for i in bench["plan"]["items"]}
    twice = 0
    for b in bench["batches"]:
        heats = [s for s in b["steps"] if s["phase"] == "cook"]
        if len(heats) < 2:
            continue
        twice += 1
        first, second = (at[b["id"], s["key"]] for s in heats)
        names = {s["key"]: s for s in b["steps"]}
        preheat = next((s for s in b["steps"] if s["phase"] == "come_up" and s is not b["steps"][0]), None)
        assert second["start"] - first["end"] < 200, b["name"]
        if preheat is not None:
            assert at[b["id"], preheat["key"]]["end"] <= second["start"]
            assert at[b["id"], preheat["key"]]["start"] < first["end"]
        assert not any(names[k]["phase"] == "wait" for k in _between(b["steps"], heats)), b["name"]
    assert twice >= 4
    # It is asked for at its own time, beside what the food does, and once for all that go into the oven.
    expect(page.locator(".block.beside").first).to_contain_text("°C")
    assert not [n for n in bench["plan"]["notes"] if "half-cooked" in n]


def _between(steps: list[dict[str, object]], heats: list[dict[str, object]]) -> list[object]:
    a, b = steps.index(heats[0]), steps.index(heats[1])
    return [s["key"] for s in steps[a + 1 : b]]


def test_yesterdays_paper_is_typed_in_and_a_forgotten_out_is_put_right(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial_called(page, re.compile("^Cauliflower florets Which")).click()
    page.get_by_role("link", name=re.compile("^Cook")).click()
    page.get_by_text("Cooked already").click()
    page.get_by_label("Who cooks").fill("Ada")
    page.get_by_role("button", name="Write it up").click()
    paper = page.get_by_role("dialog", name="Write up times")
    paper.wait_for(timeout=60_000)
    # The out of the first was forgotten on paper too: everything else as it was planned.
    paper.get_by_role("button", name="All by time").click()
    paper.get_by_role("button", name="Fill in as planned").click()
    out = paper.get_by_label(re.compile("AF, Take out"))
    planned_out = out.input_value()
    out.fill("25:99")
    paper.get_by_role("button", name="Keep these times").click()
    expect(paper.get_by_role("alert")).to_contain_text("Give a clock time")
    out.fill("")
    paper.get_by_role("button", name="Keep these times").click()
    expect(paper).to_be_hidden()
    expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")
    # Remembered later: it came out three minutes before that.
    page.get_by_role("button", name="Write up times").click()
    hours, minutes = (int(x) for x in planned_out.split(":"))
    earlier = time.strftime("%H:%M", time.gmtime((hours * 60 + minutes - 3) * 60))
    paper.get_by_label(re.compile("AF, Take out")).fill(earlier)
    paper.get_by_role("button", name="Keep these times").click()
    expect(paper).to_be_hidden()
    # And moved once more, in the log: the first value stays there.
    page.get_by_role("button", name=re.compile(r"^Log \(")).click()
    log = page.get_by_role("dialog", name="Log of this shift")
    line = log.locator("li", has_text="Take out").filter(has_text=earlier)
    line.get_by_role("button", name="Correct").click()
    later = time.strftime("%H:%M", time.gmtime((hours * 60 + minutes - 1) * 60))
    log.get_by_label("When it was").fill(later)
    log.get_by_label("When it was").press("Enter")
    expect(log.locator("li", has_text="Take out").filter(has_text=later)).to_contain_text("corrected")
    expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")
    shift = page.url.rsplit("/", 1)[1]
    bench = page.evaluate(f"async () => (await fetch('/api/v1/shifts/{shift}/bench')).json()")
    outs = [e for e in bench["entries"] if e["kind"] == "out" and e["supersedes"]]
    assert outs, "the correction is there, and what it corrects is kept"
    assert {e["id"] for e in bench["entries"]} >= {e["supersedes"] for e in outs}
    page.get_by_role("button", name="Close this dialog").first.click()
    page.get_by_role("link", name=re.compile("^Cook")).click()
    expect(page.locator("tr", has_text="written up afterwards")).to_contain_text("cooked by Ada")

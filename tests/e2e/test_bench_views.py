"""The bench by hand: the camera, keys of one's own, a timer in two touches, photos side by side, cues that
are kept.
"""

import re
from collections.abc import Callable

from playwright.sync_api import Browser, Page, Route, expect

from tests.e2e.conftest import Served, bench_of, sign_in
from tests.e2e.hands import until

CAMERA = ("--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream")


def saved(page: Page) -> None:
    expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")


def take(page: Page, face: str) -> None:
    page.keyboard.press("p")
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name=face, exact=True).click()
    until(page, "() => document.querySelector('video')?.videoWidth > 0")
    dialog.get_by_role("button", name="Take it").click()
    dialog.get_by_alt_text("What was taken").wait_for()
    dialog.get_by_role("button", name="Log it").click()
    expect(dialog).to_be_hidden()


def test_photos_are_framed_by_the_one_before_and_stand_side_by_side(
    served: Served, chromium: Callable[..., Browser]
) -> None:
    c = chromium(*CAMERA).new_context(viewport={"width": 1280, "height": 800}, permissions=["camera"])
    page = c.new_page()
    sign_in(page, served.address)
    bench_of(page, served.address, "Turkey")
    saved(page)
    page.keyboard.press("1")
    take(page, "top")
    saved(page)
    page.keyboard.press("2")
    page.keyboard.press("p")
    page.get_by_role("dialog").get_by_role("button", name="top", exact=True).click()
    expect(page.locator(".frame .over")).to_have_count(1)
    page.get_by_role("button", name="Not now").click()
    take(page, "top")
    saved(page)
    # A photo that is not there yet is asked for again.
    away: list[str] = []

    def not_yet(route: Route) -> None:
        away.append(route.request.url)
        if len(away) <= 2:
            route.fulfill(status=404)
        else:
            route.continue_()

    page.route(re.compile(r"/photos/[0-9a-f-]{36}\?"), not_yet)
    page.keyboard.press("f")
    shown = page.get_by_role("dialog", name="Photos side by side")
    expect(shown.locator("tbody tr", has_text="top").locator("img")).to_have_count(2)
    until(page, "() => [...document.querySelectorAll('figure img')].every((i) => i.naturalWidth > 0)")
    sides = page.evaluate(
        "() => [...document.querySelectorAll('figure img')].map((i) => i.naturalWidth === i.naturalHeight)"
    )
    assert sides == [True, True], "the same square crop"
    c.close()


def test_keys_are_of_ones_own_choosing_and_a_timer_takes_two_touches(
    served: Served, browser: Browser
) -> None:
    c = browser.new_context(viewport={"width": 1280, "height": 800})
    page = c.new_page()
    sign_in(page, served.address)
    bench_of(page, served.address, "Turkey")
    saved(page)
    page.keyboard.press("?")
    keys = page.get_by_role("dialog", name="Keys")
    keys.get_by_role("button", name=re.compile("Note$")).click()
    page.keyboard.press("t")
    expect(keys.get_by_role("alert")).to_contain_text("Temperature")
    page.keyboard.press("q")
    page.keyboard.press("Escape")
    expect(keys).to_be_hidden()
    expect(page.get_by_role("button", name=re.compile(r"^Note\s*Q$"))).to_be_visible()
    page.reload()
    page.locator(".card h1").wait_for()
    page.keyboard.press("q")
    page.fill("textarea[name=text]", "by a key of my own")
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.keyboard.press("m")
    page.locator(".set").get_by_role("button", name=re.compile("^5")).click()
    expect(page.locator(".timer", has_text="5 min")).to_contain_text("4:5")
    page.locator(".timer", has_text="5 min").get_by_role("button", name="Stop").click()
    expect(page.locator(".timer", has_text="5 min")).to_have_count(0)
    page.keyboard.press("c")
    page.fill("textarea[name=text]", "rings when tapped")
    page.get_by_role("button", name=re.compile("as a chip of this kitchen")).click()
    expect(page.get_by_role("button", name="rings when tapped", exact=True)).to_be_visible()
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    saved(page)
    page.keyboard.press("j")
    expect(page.locator(".card.big h1")).to_be_visible()
    assert page.locator(".card.big .acts .main").evaluate("(b) => b.getBoundingClientRect().height") >= 90
    page.keyboard.press("j")
    c.close()

"""Photos cut by touch and by keys, a reader who cooked it, what goes wrong written up: in the browser."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.e2e.conftest import Served, sign_in
from tests.e2e.hands import pick, send
from tests.e2e.test_deciding import trial_of

Context = Callable[..., BrowserContext]


def head(page: Page, trial: str) -> tuple[float, float, float]:
    """What lies in the middle of the first photo, and how close it is."""
    told = send(page, "GET", f"/trials/{trial}/publication")["pictures"]
    first = next(p for p in told if p["spot"] == "first")
    return first["x"], first["y"], first["zoom"]


def kept(page: Page, trial: str, x: float, y: float, zoom: float) -> None:
    """Waits until the first photo is cut so; told with how it is cut where it never comes."""
    wanted = pytest.approx((x, y, zoom), abs=0.03)
    for _ in range(60):
        if head(page, trial) == wanted:
            return
        page.wait_for_timeout(500)
    assert head(page, trial) == wanted


def test_a_photo_is_cut_put_into_words_and_published(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial = trial_of(page, "Filled yeast buns")
    page.goto(f"{served.address}/trials/{trial}/publish")
    photos = page.get_by_role("region", name="Photos of the page")
    first = photos.get_by_role("button", name=re.compile("^Photo at the head of the page"))
    first.scroll_into_view_if_needed()
    expect(first.locator("img")).to_have_js_property("complete", True)
    pick(photos.locator("li", has_text="at the head of the page").locator(".el-select"), "twice as close")
    # With a quick hand: nothing waits for what is on its way.
    box = first.bounding_box()
    assert box
    first.click(position={"x": 0.25 * box["width"], "y": 0.75 * box["height"]})
    kept(page, trial, 0.25, 0.75, 2)
    first.focus()
    page.keyboard.press("ArrowRight")
    kept(page, trial, 0.3, 0.75, 2)
    pick(photos.locator("label.field .el-select"), "at the step “Air-fry”")
    photos.get_by_role("button", name=re.compile("^Take Air fryer, cut")).click()
    at_step = photos.locator("li", has_text="at the step “Air-fry”")
    expect(at_step).to_be_visible()
    page.get_by_label("What the next version corrects").fill("a photo at the step")
    page.get_by_role("button", name="Publish a correction").click()
    expect(page.get_by_role("alert").first).to_contain_text("has no words for who does not see it")
    words = at_step.get_by_label("What is to be seen, for who does not see it")
    words.fill("Buns in the basket, a thumb apart")
    words.blur()
    draft = page.frame_locator("iframe")
    expect(draft.get_by_alt_text("Buns in the basket, a thumb apart")).to_be_visible()
    page.get_by_role("button", name="Publish a correction").click()
    expect(page.get_by_text("Version 2", exact=True)).to_be_visible()
    guest = context(viewport={"width": 390, "height": 844}).new_page()
    guest.goto(f"{served.address}/p/filled-yeast-buns-air-fried")
    seen = guest.get_by_alt_text("Buns in the basket, a thumb apart")
    seen.scroll_into_view_if_needed()
    expect(seen).to_have_js_property("complete", True)
    assert seen.evaluate("i => i.naturalWidth") > 200
    assert guest.evaluate("document.documentElement.scrollWidth") <= 390
    guest.get_by_role("link", name="What changed").click()
    expect(guest.get_by_text("7 photos, where there were 6.")).to_be_visible()


def test_a_reader_says_that_they_cooked_it_and_the_lead_counts_it(served: Served, context: Context) -> None:
    guest = context(viewport={"width": 390, "height": 844}, java_script_enabled=False).new_page()
    guest.goto(f"{served.address}/p/filled-yeast-buns-air-fried")
    form = guest.locator("form.tried")
    form.get_by_label("badly").check()
    form.get_by_label("It took").fill("22 min")
    form.get_by_label("A note").fill("Mine split at the seam")
    form.get_by_role("button", name="Send it").click()
    expect(guest.get_by_role("heading", name="Thank you")).to_be_visible()
    page = context().new_page()
    sign_in(page, served.address)
    page.goto(f"{served.address}/trials/{trial_of(page, 'Filled yeast buns')}/publish")
    said = page.get_by_role("region", name="Readers who cooked it")
    row = said.locator("li", has_text="split at the seam")
    expect(row).to_contain_text("22 min")
    # A note that sets a caution aside has no button that would show it.
    against = said.locator("li", has_text="overnight")
    expect(against.get_by_role("button", name="Count it with its note")).to_have_count(0)
    row.get_by_role("button", name="Count it with its note").click()
    expect(row).to_contain_text("counted, its note shown")
    row.get_by_role("button", name="Something to try").click()
    expect(row.get_by_role("button", name="On the list")).to_be_disabled()
    guest.goto(f"{served.address}/p/filled-yeast-buns-air-fried")
    expect(guest.get_by_text("“Mine split at the seam”")).to_be_visible()
    expect(guest.get_by_text(re.compile("3 readers say"))).to_be_visible()


def test_what_a_trial_saw_is_written_up_and_told_on_its_page(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial = trial_of(page, "Flatbread that folds the next day, four versions")
    page.goto(f"{served.address}/trials/{trial}/publish")
    page.get_by_role("link", name="Troubleshooting").click()
    seen = page.get_by_role("region", name="Seen in this trial")
    seen.get_by_role("button", name="Write it up").first.click()
    dialog = page.get_by_role("dialog", name="What goes wrong")
    name = dialog.get_by_label("What it is called").input_value()
    dialog.get_by_label("What to do").fill("Roll it thicker.")
    dialog.get_by_role("button", name="Keep it").click()
    expect(dialog.get_by_role("alert")).to_contain_text("causes")
    dialog.get_by_label("Likely why").fill("Rolled too thin.")
    dialog.get_by_role("button", name="Keep it").click()
    expect(dialog).to_be_hidden()
    row = page.locator("main > ul.lines > li", has_text="Roll it thicker.")
    expect(row).to_contain_text("told on pages")
    page.goto(f"{served.address}/trials/{trial}/publish")
    draft = page.frame_locator("iframe")
    expect(draft.locator("dl.troubles")).to_contain_text(name)
    page.goto(f"{served.address}/defects")
    row.get_by_role("button", name=re.compile("^Put it off")).click()
    expect(row.get_by_role("button", name=re.compile("^Take it up"))).to_be_visible()
    page.goto(f"{served.address}/trials/{trial}/publish")
    expect(draft.locator("h1")).to_be_visible()
    expect(draft.get_by_text("Roll it thicker.")).to_have_count(0)

"""The first hour: from nothing to the heat in few touches, a shift rehearsed, the list narrowed."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.e2e.conftest import Served, serve, sign_in, stop, trial_called
from tests.e2e.hands import Keys, pick, until
from yeasty.devices.kitchen import Kitchen

MOST_TOUCHES = 30


class Counted:
    """Touches: a press, a choice, a field filled count one each."""

    def __init__(self) -> None:
        self.touches = 0

    def press(self, what: Locator) -> None:
        self.touches += 1
        what.click()

    def fill(self, page: Page, field: str, words: str) -> None:
        self.touches += 1
        page.fill(field, words)


def test_from_a_new_trial_to_the_first_heat_of_three_ways(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    by = Counted()
    by.press(page.get_by_role("button", name="New trial"))
    by.fill(page, "textarea[name=question]", "Which way keeps leeks bright and tender?")
    by.fill(page, "input[name=dish]", "leeks in rounds")
    ways = page.get_by_role("group", name="Which ways")
    for name in ("Microwave", "Pan", "Pressure cooker"):
        by.press(ways.get_by_role("button", name=name, exact=True))
    expect(page.get_by_role("dialog")).to_contain_text("Proposed from “leeks”")
    expect(page.get_by_role("group", name="What is judged")).to_contain_text("Tenderness")
    by.press(page.get_by_role("button", name="Begin"))
    expect(page.get_by_role("heading", level=1)).to_contain_text(
        "3 methods side by side, judged on tenderness"
    )
    by.press(page.get_by_role("navigation", name="Stations").get_by_text("Cook", exact=True))
    by.press(page.get_by_role("button", name="Plan it"))
    page.wait_for_url("**/cook/*")
    card = page.locator(".card h1")
    expect(card).to_contain_text(re.compile(r"\w"), timeout=90_000)
    for _ in range(12):
        ready = page.get_by_role("button", name=re.compile("^All .* start$"))
        early = page.get_by_role("button", name=re.compile("^Yes, "))
        if ready.is_visible():
            by.press(ready)
        elif early.is_visible():
            by.press(early)
        else:
            by.press(page.locator(".card .act.main"))
        page.wait_for_timeout(500)
        if {e["kind"] for e in bench(page, served)["entries"]} & {"started", "in"}:
            break
    assert {e["kind"] for e in bench(page, served)["entries"]} & {"started", "in"}
    assert by.touches <= MOST_TOUCHES, by.touches
    print("touches", by.touches)


def bench(page: Page, served: Served) -> dict[str, list[dict[str, str]]]:
    shift = page.url.rsplit("/", 1)[1].split("?")[0]
    found = page.request.get(f"{served.address}/api/v1/shifts/{shift}/bench").json()
    return {"entries": found["entries"]}


def test_a_shift_is_rehearsed_by_buttons_and_then_cooked_for_real(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    t = kitchen.ask(
        "POST",
        "/trials",
        {
            "question": "Which way is quicker?",
            "dish": "leeks, rehearsed",
            "food_class": "plant",
            "techniques": ["microwave", "pan"],
            "judged": [{"name": "Taste", "scale": "intensity"}],
        },
    )
    page = context().new_page()
    sign_in(page, served.address)
    trial_called(page, "leeks, rehearsed").click()
    page.get_by_role("navigation", name="Stations").get_by_text("Cook", exact=True).click()
    page.get_by_role("button", name="Plan it").click()
    page.wait_for_url("**/cook/*")
    real = page.url
    page.get_by_text("next for your hands").wait_for()
    page.get_by_role("navigation", name="Stations").get_by_text("Cook", exact=True).click()
    page.get_by_role("button", name="Rehearse").click()
    form = page.get_by_role("dialog")
    # No pressure here, so it can't come late.
    expect(form.get_by_role("checkbox", name=re.compile("Pressure comes late"))).to_be_disabled()
    form.get_by_text("A probe slips out").click()
    form.get_by_role("button", name="Begin the rehearsal").click()
    clock = page.get_by_text("Simulated time", exact=True)
    clock.wait_for()
    assert page.url != real
    expect(page.get_by_text("A stand-in cooks.")).to_be_visible()
    page.get_by_role("button", name="60×").click()
    told = page.get_by_role("dialog", name="What the rehearsal showed")
    told.wait_for(timeout=240_000)
    # Sixty times as fast, a second of a busy machine is a minute of the rehearsal: it is told either way.
    expect(told).to_contain_text(
        re.compile(r"All plates met when they were to|The last plate was \d+ min late")
    )
    expect(told.get_by_role("heading", name="To have ready")).to_be_visible()
    told.get_by_role("button", name="Cook it for real").click()
    page.wait_for_url(real)
    expect(clock).to_be_hidden()
    rows = kitchen.ask("GET", "/trials?search=rehearsed")["items"]
    assert [r["state"] for r in rows if r["id"] == t["id"]] == ["planned"]


# How many places a choice has had until half a second after its list was opened.
MOVES = """async () => {
  const box = document.querySelector('[aria-label="Show only"] .el-select__wrapper')
  const seen = new Set()
  box.click()
  for (const until = performance.now() + 500; performance.now() < until; ) {
    await new Promise(requestAnimationFrame)
    const choice = document.querySelector('.el-popper[aria-hidden="false"] .el-select-dropdown__item')
    if (choice?.offsetHeight) seen.add(Math.round(choice.getBoundingClientRect().top))
  }
  return seen.size
}"""


def test_the_list_is_narrowed_and_going_back_finds_it_again(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    everything = page.get_by_role("list", name="All trials").get_by_role("listitem")
    everything.first.wait_for()
    before = everything.count()
    # Nothing above it comes later, and a list of choices stands whole at once: nothing moves under a hand.
    assert page.evaluate(MOVES) == 1
    page.keyboard.press("Escape")
    pick(page.get_by_role("group", name="Show only").locator(".el-select").first, "page out", exact=True)
    expect(everything.first).to_contain_text("page out")
    assert 0 < everything.count() < before
    assert everything.count() == everything.filter(has_text="page out").count()
    everything.first.get_by_role("link").click()
    page.wait_for_url("**/ask")
    page.go_back()
    page.wait_for_url("**/?state=out")
    expect(everything.first).to_contain_text("page out")
    page.get_by_role("button", name="Show all").click()
    expect(everything).to_have_count(before)


def test_a_station_says_what_it_is_for_until_it_is_sent_away(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial_called(page, "Filled yeast buns").click()
    guide = page.get_by_role("complementary", name="What Ask is for")
    expect(guide).to_contain_text("Say what you want to know")
    guide.get_by_role("button", name="Got it").click()
    expect(guide).to_be_hidden()
    page.reload()
    page.get_by_role("navigation", name="Stations").wait_for()
    expect(guide).to_be_hidden()
    mark = page.get_by_role("button", name="What this station is for")
    mark.click()
    expect(guide).to_be_visible()
    # Another station still has its own, and a bench only when it is asked.
    page.get_by_role("navigation", name="Stations").get_by_text("Decide", exact=True).click()
    expect(page.get_by_role("complementary", name="What Decide is for")).to_be_visible()
    page.get_by_role("navigation", name="Stations").get_by_text("Cook", exact=True).click()
    page.wait_for_url("**/cook/*")
    page.get_by_text("next for your hands").wait_for()
    at_bench = page.get_by_role("complementary", name="What Cook is for")
    expect(at_bench).to_be_hidden()
    mark.click()
    expect(at_bench).to_be_visible()
    at_bench.get_by_role("link", name="The guide").click()
    expect(page.get_by_role("heading", level=1, name="Cook")).to_be_visible()
    picture = page.get_by_role("img", name="Cook")
    expect(picture).to_be_visible()
    assert picture.evaluate("i => i.complete && i.naturalWidth > 0")


def test_by_keys_alone_from_signing_in_to_the_first_tap_and_back(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    page = context().new_page()
    page.goto(served.address + "/signin")
    by = Keys(page)
    by.fill(page.locator("input[name=login]"), "lead")
    by.fill(page.locator("input[name=password]"), "flour-water-salt")
    page.keyboard.press("Enter")
    by.press(page.get_by_role("button", name="New trial"))
    dialog = page.get_by_role("dialog")
    by.fill(dialog.locator("textarea[name=question]"), "Which way keeps leeks green?")
    by.fill(dialog.locator("input[name=dish]"), "leeks, by keys")
    ways = dialog.get_by_role("group", name="Which ways")
    for name in ("Microwave", "Pan"):
        by.press(ways.get_by_role("button", name=name, exact=True), "Space")
        expect(ways.get_by_role("button", name=name, exact=True)).to_have_attribute("aria-pressed", "true")
    expect(dialog.get_by_role("group", name="What is judged")).to_contain_text("Tenderness")
    by.press(dialog.get_by_role("button", name="Begin"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("2 methods side by side")
    by.press(page.get_by_role("navigation", name="Stations").get_by_role("link", name=re.compile("^Cook")))
    by.press(page.get_by_role("button", name="Plan it"))
    page.wait_for_url("**/cook/*")
    expect(page.locator(".card h1")).to_contain_text(re.compile(r"\w"), timeout=90_000)
    for _ in range(12):
        said = page.get_by_role("button", name=re.compile("^(All .* start|Yes, .*)$"))
        if said.first.is_visible():
            by.press(said.first)
        else:
            by.press(page.locator(".card .act.main"))
        page.wait_for_timeout(500)
        if {e["kind"] for e in bench(page, served)["entries"]} & {"started", "in"}:
            break
    kinds = [e["kind"] for e in bench(page, served)["entries"]]
    assert {"started", "in"} & set(kinds)
    # A letter opens what it is for, Escape leaves it, and the keys are where they were.
    page.keyboard.press("n")
    note = page.get_by_role("dialog")
    note.wait_for()
    page.keyboard.press("Escape")
    expect(note).to_have_count(0)
    assert [e["kind"] for e in bench(page, served)["entries"]] == kinds
    by.press(page.get_by_role("link", name="All trials"))
    expect(page.get_by_role("list", name="All trials")).to_contain_text("leeks, by keys")


def test_a_method_that_was_removed_is_put_back_by_name(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial_called(page, re.compile("^Cauliflower florets(?!,)")).click()
    page.wait_for_url("**/ask")
    path = page.url.replace("/trials/", "/api/v1/trials/").removesuffix("/ask")
    before = page.request.get(path).json()["methods"]
    page.get_by_role("button", name="Remove", exact=True).first.click()
    told = page.get_by_role("status", name="What can be put back")
    expect(told).to_contain_text(f"{before[0]['name']} was taken away.")
    assert [m["name"] for m in page.request.get(path).json()["methods"]] == [before[1]["name"]]
    told.get_by_role("button", name=f"Put back {before[0]['name']}").click()
    expect(page.get_by_role("row")).to_have_count(3)
    expect(told).to_have_count(0)
    assert page.request.get(path).json()["methods"] == before


def test_a_newcomer_in_a_kitchen_with_nothing_is_led_from_the_account_to_the_bench(
    empty_url: str, context: Callable[..., BrowserContext]
) -> None:
    kitchen = serve(empty_url, "--empty")
    try:
        page = context().new_page()
        page.goto(kitchen.address + "/")
        page.get_by_label("Name of the kitchen").fill("Corner kitchen")
        page.get_by_label("Your name").fill("Newcomer")
        page.get_by_label("Login").fill("new")
        page.get_by_label("Password, 10 characters or more").fill("oven door hinge 44")
        page.get_by_role("button", name="Make this kitchen").click()
        mine = page.get_by_role("group", name="What do you cook with?")
        for name in ("Hob", "Griddle"):
            mine.get_by_role("button", name=name, exact=True).click()
        page.get_by_role("button", name="These are mine").click()
        expect(page.get_by_text("This kitchen has griddle, hob.")).to_be_visible()
        page.get_by_role("button", name="Ask it").click()
        page.fill("textarea[name=question]", "Which way gives flatbread that puffs and stays soft?")
        page.fill("input[name=dish]", "flatbread")
        ways = page.get_by_role("group", name="Which ways", exact=True)
        for name in ("Pan", "Griddle"):
            ways.get_by_role("button", name=name, exact=True).click()
        page.fill("textarea[name=ingredients]", "300 g flour\n180 g water\n6 g salt")
        # What is proposed comes by itself, from the words; a hand that is quicker begins without it.
        expect(page.get_by_role("dialog")).to_contain_text("Proposed from “flatbread”")
        expect(page.get_by_role("group", name="What is judged")).to_be_visible()
        page.get_by_role("button", name="Begin").click()
        # Each station says where it goes on, until there is something at the next one.
        page.get_by_role("link", name="Go on: what differs").click()
        page.get_by_role("link", name="Go on: plan the cooking").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("No shift yet")
        when = page.get_by_label("Plates meet at")
        before = when.input_value()
        page.get_by_role("button", name="As soon as can be").click()
        expect(when).not_to_have_value(before)
        page.get_by_role("button", name="Plan it").click()
        page.wait_for_url("**/cook/*")
        expect(page.locator(".card h1")).to_contain_text("Start: heat the", timeout=90_000)
        trial = page.url.split("/trials/")[1].split("/")[0]
        told = page.evaluate("async t => (await fetch('/api/v1/trials/' + t)).json()", trial)
        assert {i["name"] for i in told["ingredients"]} == {"flour", "water", "salt"}
        assert all(abs(m["batch_kg"] - 0.486) < 1e-9 for m in told["methods"])
        page.goto(f"{kitchen.address}/trials/{trial}/ask")
        expect(page.get_by_role("heading", level=1)).to_contain_text("2 methods side by side")
        expect(page.get_by_role("link", name="Go on: what differs")).to_have_count(0)
        # A word of the trade says what it means, by keys too.
        page.goto(f"{kitchen.address}/trials/{trial}/setup")
        word = page.get_by_role("button", name="Held equal (what it means)")
        word.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("note")).to_contain_text("What you keep the same on purpose")
        page.keyboard.press("Escape")
        expect(page.get_by_role("note")).to_be_hidden()
    finally:
        stop(kitchen)


COVERED = """name => {
  scrollTo(0, document.body.scrollHeight)
  const strip = document.querySelector('[aria-label="What can be put back"]').getBoundingClientRect()
  const last = [...document.querySelectorAll('main button')].find(b => b.textContent.includes(name))
  return last.getBoundingClientRect().bottom - strip.top
}"""


@pytest.mark.parametrize("size", [(1280, 800), (390, 844)])
def test_what_can_be_put_back_covers_nothing_that_is_pressed_at_the_end_of_a_page(
    served: Served, context: Callable[..., BrowserContext], size: tuple[int, int]
) -> None:
    page = context(viewport={"width": size[0], "height": size[1]}).new_page()
    sign_in(page, served.address)
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    buns = kitchen.ask("GET", "/trials?search=stuffed+leek")["items"][0]["id"]
    page.goto(f"{served.address}/trials/{buns}/ask")
    page.get_by_role("button", name="Edit steps").first.click()
    lasts = page.locator(".editor li").nth(1).get_by_label("Lasts")
    lasts.fill("7 min" if size[0] > 400 else "8 min")
    page.get_by_role("button", name="Save steps").click()
    page.get_by_label("What can be put back").wait_for()
    page.get_by_role("navigation", name="Stations").get_by_text("Set up", exact=True).click()
    page.get_by_role("button", name="Lots and amounts").click()
    page.get_by_role("button", name="Save lots and amounts").wait_for()
    until(page, f"({COVERED})('Save lots and amounts') < 0")
    page.get_by_role("button", name="Leave it so").click()
    until(page, "getComputedStyle(document.documentElement).getPropertyValue('--strip') === '0px'")

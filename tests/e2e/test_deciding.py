"""How a trial is decided: said at Ask, applied at Decide; which one tonight; the page as readers see it."""

import re
from collections.abc import Callable

from playwright.sync_api import BrowserContext, Page, expect

from tests.e2e.conftest import Served, sign_in
from tests.e2e.hands import pick, send

Context = Callable[..., BrowserContext]


def trial_of(page: Page, title: str) -> str:
    found = send(page, "GET", "/trials?search=")["items"]
    return str(next(t["id"] for t in found if t["title"] == title))


def test_a_limit_said_at_ask_is_evaluated_at_decide_and_tonight_is_chosen_by_the_log(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial = trial_of(page, "Cauliflower, three finishes of one tray")
    page.goto(f"{served.address}/trials/{trial}/ask")
    page.get_by_text("How it is decided").click()
    page.get_by_role("button", name="Add a limit").click()
    most = page.get_by_label("from start to clean at most")
    most.fill("1")
    most.press("Tab")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Not saved yet.")).to_have_count(0)
    kept = send(page, "GET", f"/trials/{trial}")["deciding"]["limits"]
    assert kept == [{"measure": "total_s", "at_most": 60.0, "at_least": None}]
    page.goto(f"{served.address}/trials/{trial}/decide")
    expect(page.locator("h1")).to_contain_text("No way keeps to the limits", timeout=90_000)
    expect(page.get_by_text("A way had to keep to: from start to clean at most 60 s")).to_be_visible()
    # Taken away again: the kitchen's own question answers, and says that the rules came late.
    page.goto(f"{served.address}/trials/{trial}/ask")
    page.get_by_text("How it is decided").click()
    page.get_by_role("button", name="Take away the limit on from start to clean").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Not saved yet.")).to_have_count(0)
    page.goto(f"{served.address}/trials/{trial}/decide")
    expect(page.locator("h1")).to_contain_text("Recommend", timeout=90_000)
    expect(page.get_by_text(re.compile("changed after codes had been opened")).first).to_be_visible()
    page.get_by_label("from start to clean at most").fill("1")
    page.get_by_label("from start to clean at most").press("Tab")
    page.get_by_role("button", name="What fits?").click()
    expect(page.get_by_text("None of these.")).to_be_visible()
    expect(page.locator(".tonight li").first).to_contain_text("does not: from start to clean at most 60 s")


def test_many_ways_are_read_in_rows_that_sort_and_search(served: Served, context: Context) -> None:
    page = context(viewport={"width": 390, "height": 844}).new_page()
    sign_in(page, served.address)
    page.goto(f"{served.address}/trials/{trial_of(page, 'Rice pudding, 16 ways')}/decide")
    rows = page.locator("section.ways li")
    expect(rows).to_have_count(16, timeout=90_000)
    expect(rows.first).to_contain_text("better than any yet")
    page.get_by_placeholder("a word").fill("leave it")
    expect(rows).to_have_count(2)
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth"), (
        "nothing scrolls sideways"
    )


def test_the_draft_is_the_page_and_notes_come_only_by_picking(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.goto(f"{served.address}/trials/{trial_of(page, 'Filled yeast buns')}/publish")
    draft = page.frame_locator("iframe")
    expect(draft.get_by_text("Draft: nobody else sees it")).to_be_visible()
    offered = page.locator(".offer button").first
    words = offered.inner_text().removeprefix("+ ")
    expect(draft.get_by_text(words)).to_have_count(0)
    offered.click()
    page.get_by_role("button", name="Save the words").click()
    expect(draft.get_by_text(words)).to_be_visible()


def test_a_reader_on_a_phone_chooses_for_tonight_reckons_amounts_and_takes_them_on_paper(
    served: Served, context: Context
) -> None:
    # No account, no script.
    reader = context(viewport={"width": 390, "height": 844}, java_script_enabled=False).new_page()
    reader.goto(f"{served.address}/p/?q=chickpeas tonight")
    reader.get_by_role("link", name="Crisp chickpeas: which way tonight").click()
    reader.get_by_label("Minutes from start to clean, at most").fill("35")
    reader.get_by_role("button", name="Choose").click()
    expect(reader.get_by_text("Griddle fits.")).to_be_visible()
    expect(reader.get_by_text("Oven does not: from start to clean at most 35 min")).to_be_visible()
    reader.goto(f"{served.address}/p/?q=flatbread folds")
    reader.get_by_role("link", name="A flatbread that still folds tomorrow").click()
    reader.get_by_label("Amounts for").fill("20")
    reader.get_by_role("button", name="Reckon").click()
    expect(reader.get_by_text("cook in 3 rounds of at most 7")).to_be_visible()
    reader.get_by_role("link", name="Print view").click()
    expect(reader.get_by_text("Amounts for 20.")).to_be_visible()
    expect(reader.locator("form")).to_have_count(0)


def test_a_reader_on_a_phone_fits_a_page_to_their_kitchen_without_a_script_and_prints_it(
    served: Served, context: Context
) -> None:
    reader = context(viewport={"width": 390, "height": 844}, java_script_enabled=False).new_page()
    reader.goto(f"{served.address}/p/filled-yeast-buns-air-fried")
    reader.get_by_label("You have").select_option(label="oven without a fan")
    reader.get_by_label("Your pieces’ thickness").fill("soon")
    reader.get_by_role("button", name="Reckon").click()
    expect(reader.get_by_role("alert")).to_contain_text("“soon” cannot be so")
    step = reader.locator("ol.steps li", has_text="Air-fry")
    expect(step).to_contain_text("in your kitchen; ours: 15 min")
    expect(step).to_contain_text("until the core reads 93 °C")
    expect(step).to_contain_text("The core decides, not the time")
    reader.get_by_role("link", name="Print view").click()
    expect(reader.locator("form")).to_have_count(0)
    expect(reader.locator("ol.steps li", has_text="Air-fry")).to_contain_text("in your kitchen")


def test_the_lead_turns_a_page_without_a_winner_into_one_about_a_method(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.goto(f"{served.address}/trials/{trial_of(page, 'Chickpeas, crisped three ways')}/publish")
    draft = page.frame_locator("iframe")
    expect(draft.get_by_text("Which one tonight: no winner.")).to_be_visible()
    expect(page.get_by_text("Recommend", exact=True)).to_have_count(0)
    pick(page.get_by_text("as the outcome asks: Which one tonight: no winner"), "One method", exact=True)
    pick(page.get_by_text("what the question came to", exact=True), "GR Griddle")
    page.get_by_role("button", name="Save the words").click()
    expect(
        draft.get_by_text("Griddle: the lead’s choice.").or_(draft.get_by_text("the lead's choice"))
    ).to_be_visible()
    expect(draft.get_by_text("One method.")).to_be_visible()

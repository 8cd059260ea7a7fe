"""Journeys through Ask and Set up: a grid with too few pieces, a challenger, a tray turned, a difference
mended.
"""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.e2e.conftest import Served, sign_in, trial_called
from tests.e2e.test_journeys import part, station

Context = Callable[..., BrowserContext]


def open_trial(page: Page, served: Served, search: str, title: str) -> None:
    page.goto(served.address + "/")
    # A list that another answer replaces between press and release of the button takes the click with it.
    page.get_by_role("heading", level=1).wait_for()
    listed = page.get_by_role("list", name="All trials").get_by_role("listitem")
    listed.first.wait_for()
    everything = listed.count()
    page.get_by_label("Search trials").fill(search)
    expect(listed).not_to_have_count(everything)
    trial_called(page, re.compile(f"^{re.escape(title)}")).click()
    page.wait_for_url("**/ask")


def test_a_grid_with_too_few_pieces_is_cooked_in_part(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.get_by_role("button", name="New trial").click()
    page.fill("textarea[name=question]", "Does steaming first help, and with which finish?")
    page.fill("input[name=dish]", "beetroot wedges")
    kind = page.get_by_role("radio", name=re.compile("^Which of several things matters"))
    page.get_by_role("dialog").get_by_text("Which of several things matters").click()
    expect(kind).to_be_checked()
    page.get_by_role("button", name="Begin").click()
    page.get_by_text("Name what is varied and its levels").first.wait_for()
    page.fill("input[name=factor-0]", "pre-cook")
    page.fill("input[name=level-0-0]", "none")
    page.fill("input[name=level-0-1]", "steamed")
    page.fill("input[name=factor-1]", "finish")
    for n, name in enumerate(("oven", "air fryer")):
        page.fill(f"input[name=level-1-{n}]", name)
        page.get_by_role("combobox", name=f"Steps that {name} brings").click()
        page.get_by_role("listbox", name=f"Steps that {name} brings").get_by_role(
            "option", name=("Oven", "Air fryer")[n], exact=True
        ).click()
    page.get_by_role("button", name="Add a level").nth(1).click()
    page.fill("input[name=level-1-2]", "griddle")
    page.get_by_role("combobox", name="Steps that griddle brings").click()
    page.get_by_role("listbox", name="Steps that griddle brings").get_by_role(
        "option", name="Griddle", exact=True
    ).click()
    page.get_by_label("Pieces at hand").fill("26")
    page.get_by_label("Pieces at hand").press("Tab")
    expect(page.get_by_text("10 pieces too few before the first cut")).to_be_visible()
    expect(page.get_by_role("button", name="Lay out 6 methods")).to_be_disabled()
    page.get_by_role("button", name="none × griddle").click()
    expect(page.get_by_text("4 pieces too few before the first cut")).to_be_visible()
    page.get_by_role("button", name="As many as the pieces allow: 4").click()
    expect(
        page.get_by_text("Told apart only in part").or_(page.get_by_text("Cannot be told apart"))
    ).to_be_visible()
    with page.expect_response(re.compile("/layout$")) as laid:
        page.get_by_role("button", name="Lay out 4 methods").click()
    assert laid.value.status == 200, laid.value.text()
    part(page, "Methods")
    expect(page.locator("table.methods tbody tr")).to_have_count(4)


def test_a_challenger_from_a_finished_trial(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    open_trial(page, served, "stuffed leek", "Filled yeast buns")
    page.get_by_role("button", name="Challenge the leader").click()
    page.fill("input[name=change]", "brushed with milk before baking")
    page.fill("input[name=defect]", "")
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("alert").filter(has_text="defect")).to_be_visible()
    page.fill("input[name=defect]", "dull crust")
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("champion against challenger")
    part(page, "Methods")
    expect(page.locator("table.methods tbody tr")).to_have_count(2)
    expect(page.get_by_text("aims at “dull crust”")).to_be_visible()
    expect(page.get_by_text("Comes from Filled yeast buns")).to_be_visible()
    part(page, "Family")
    expect(page.locator(".node")).to_have_count(7)
    page.locator(".node", has_text="brushed").click()
    expect(page.get_by_text("Meant:")).to_be_visible()


def test_a_tray_map_is_turned_half_way_and_printed(served: Served, context: Context) -> None:
    c = context(accept_downloads=True)
    page = c.new_page()
    sign_in(page, served.address)
    open_trial(page, served, "cauliflower", "Cauliflower florets, coated")
    station(page, "Set up")
    part(page, "Places")
    first = page.locator("g.piece").first
    expect(first).to_have_attribute("aria-label", re.compile(r"(AF|RC) \d+"))
    where = first.locator("circle.disc").get_attribute("cx")
    page.get_by_role("button", name="Turn half-way").click()
    expect(page.get_by_role("heading", name=re.compile("after the half-way turn"))).to_be_visible()
    assert page.locator("g.piece").first.locator("circle.disc").get_attribute("cx") != where
    page.get_by_role("button", name="As laid").click()
    # Dragged by keyboard onto its neighbour, it is told.
    first.focus()
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    expect(
        page.get_by_text(re.compile("apart; 20 mm are wanted|touch; 20 mm are wanted")).first
    ).to_be_visible()
    page.get_by_role("button", name="Deal", exact=True).click()
    expect(page.get_by_text("apart; 20 mm are wanted")).to_have_count(0)
    page.get_by_role("button", name="Hand over to another vessel").click()
    page.get_by_role("button", name="Hand over", exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("^Plate: 12 of"))).to_be_visible()
    link = page.get_by_role("link", name="Print the maps").get_attribute("href") or ""
    pdf = page.request.get(served.address + link)
    assert pdf.body()[:5] == b"%PDF-"
    part(page, "Marks to print")
    labels = page.request.get(
        served.address + (page.get_by_role("link", name="Labels as PDF").get_attribute("href") or "")
    )
    assert labels.body()[:5] == b"%PDF-"


def test_pieces_are_dragged_and_hot_spots_put_by_touch_and_read_from_thermometers(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    open_trial(page, served, "cauliflower", "Cauliflower florets, coated")
    station(page, "Set up")
    part(page, "Places")
    tray = page.get_by_role("group", name=re.compile(r"^Tray.*: \d+ pieces"))
    page.locator("svg.map").evaluate("e => e.scrollIntoView()")
    box = tray.bounding_box()
    assert box
    # A piece is dragged by its disc, and lies where it was let go when the page is read again.
    piece = page.locator("g.piece", has=page.locator("text", has_text=re.compile(r"^AF1$")))
    disc = piece.locator("circle.disc").bounding_box()
    assert disc
    page.mouse.move(disc["x"] + disc["width"] / 2, disc["y"] + disc["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 40, steps=6)
    with page.expect_response(lambda r: r.request.method == "PUT" and "/maps/" in r.url) as kept:
        page.mouse.up()
    assert kept.value.ok
    page.reload()
    page.locator("svg.map").evaluate("e => e.scrollIntoView()")
    box = tray.bounding_box()
    assert box
    there = piece.locator("circle.disc").bounding_box()
    assert there
    assert there["x"] + there["width"] / 2 == pytest.approx(box["x"] + box["width"] / 2, abs=4)
    # Hot spots: three touches on the map, each with what a thermometer read.
    page.get_by_role("button", name="Tell them anew").click()
    page.get_by_role("button", name="Thermometers").click()
    tray.evaluate("e => e.scrollIntoView()")
    box = tray.bounding_box()
    assert box
    for across, down in ((0.5, 0.5), (0.12, 0.1), (0.9, 0.92)):
        page.mouse.click(box["x"] + box["width"] * across, box["y"] + box["height"] * down)
    points = page.locator("g.point")
    while points.count() > 3:
        points.first.focus()
        page.keyboard.press("Delete")
    for n, read in ((1, "200 °C"), (2, "213 °C"), (3, "196 °C")):
        page.get_by_label(f"Point {n}: temperature").fill(read)
    page.get_by_role("button", name="Keep these").click()
    expect(page.get_by_text("Thermometers at 3 places")).to_be_visible()
    expect(page.locator("text.spot-word")).to_have_text(["0 K", "+13 K", "-4 K"])
    # By keys: one in the middle, moved twice to the right.
    page.get_by_role("button", name="Tell them anew").click()
    page.get_by_role("button", name="By eye").click()
    page.get_by_role("button", name="Add one in the middle").press("Enter")
    page.locator("g.point").focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("20 cm across")).to_be_visible()


def test_a_step_is_stretched_and_moved_by_hand_and_by_keys_and_is_stored_so(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    open_trial(page, served, "cauliflower", "Cauliflower florets, coated")
    part(page, "Methods")
    page.get_by_role("button", name="Edit steps").first.click()
    drawn = page.get_by_role("region", name="Steps as the bench draws them")
    drawn.evaluate("e => e.scrollIntoView()")
    steps = drawn.get_by_role("button")
    names = [(name or "").split(": ", 1)[1] for name in steps.evaluate_all("x => x.map(y => y.ariaLabel)")]
    cook = next(i for i, name in enumerate(names) if " min" in name and steps.nth(i).locator(".edge").count())
    edge = steps.nth(cook).locator(".edge").bounding_box()
    assert edge
    before = page.get_by_label("Lasts").nth(cook).input_value()
    page.mouse.move(edge["x"] + 40, edge["y"] + 6)
    page.mouse.down()
    page.mouse.move(edge["x"] + 40, edge["y"] + 70, steps=5)
    page.mouse.up()
    longer = page.get_by_label("Lasts").nth(cook).input_value()
    assert longer != before
    # By keys: the last step before the one above it, and a little shorter.
    last = steps.last
    what = names[-1].split(",")[0]
    last.focus()
    page.keyboard.press("ArrowUp")
    expect(drawn.get_by_role("status")).to_contain_text(f"{what}: now step {len(names) - 1} of {len(names)}")
    page.keyboard.press("-")
    shorter = (page.evaluate("document.activeElement.ariaLabel") or "").split(", ")[-1]
    assert shorter not in names[-1]
    with page.expect_response(lambda r: r.request.method == "PUT" and r.url.endswith("/steps")) as saved:
        page.get_by_role("button", name="Save steps").click()
    assert saved.value.ok
    page.reload()
    part(page, "Methods")
    page.get_by_role("button", name="Edit steps").first.click()
    expect(page.get_by_label("Lasts").nth(cook)).to_have_value(longer)
    expect(steps.nth(len(names) - 2)).to_have_attribute("aria-label", re.compile(f"{what}, {shorter}$"))


def test_a_slipped_in_difference_is_found_and_mended(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    open_trial(page, served, "beetroot pressure", "Beetroot wedges under pressure")
    station(page, "Set up")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fair as far as it is written")
    part(page, "Readiness")
    box = page.get_by_label(re.compile("^Vessel of")).first
    box.fill("Glass dish")
    box.press("Tab")
    expect(page.get_by_role("heading", level=1)).to_contain_text("1 difference slipped in (vessel)")
    box = page.get_by_label(re.compile("^Vessel of")).first
    box.fill("Baskets")
    box.press("Tab")
    # The same thing in other words is no difference.
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fair as far as it is written")
    box.fill("pot")
    box.press("Tab")
    expect(page.get_by_role("heading", level=1)).to_contain_text("slipped in")
    part(page, "What differs")
    expect(page.get_by_text("nothing can be credited")).to_be_visible()
    page.get_by_role("button", name="Mend it").click()
    page.get_by_role("dialog").get_by_text(re.compile("^basket")).click()
    page.get_by_role("button", name="Make it the same").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fair as far as it is written")


def test_forty_ways_are_judged_by_keyboard_and_a_guess_comes_by_its_link(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.get_by_role("button", name="New trial").click()
    page.fill("textarea[name=question]", "Which of forty ways are worth a closer look?")
    page.fill("input[name=dish]", "rice pudding")
    kind = page.get_by_role("radio", name=re.compile("^What is worth trying at all"))
    page.get_by_role("dialog").get_by_text("What is worth trying at all").click()
    expect(kind).to_be_checked()
    page.get_by_role("button", name="Begin").click()
    page.fill("textarea[name=ways]", "\n".join(f"Way {n}\tOven\tnote {n}" for n in range(1, 41)))
    page.get_by_role("button", name="Add them").click()
    expect(page.locator("ol.sheet li")).to_have_count(40)
    page.locator("[data-row]").first.focus()
    for key in "5433512":
        page.keyboard.press(key)
    expect(page.get_by_text("7 of 40 judged")).to_be_visible()
    page.get_by_role("button", name="Save the words").click()
    page.get_by_label("How many go on").fill("1")
    page.get_by_label("How many go on").press("Tab")
    expect(page.get_by_role("button", name=re.compile("^Closer trial with"))).to_be_enabled()
    page.get_by_label("How many go on").fill("3")
    page.get_by_label("How many go on").press("Tab")
    expect(page.get_by_role("button", name=re.compile("^Closer trial with these"))).to_be_enabled()
    page.get_by_role("button", name=re.compile("^Closer trial with these")).click()
    expect(page.get_by_text("Comes from rice pudding")).to_be_visible()
    part(page, "Guesses")
    link = page.locator("a.mono").get_attribute("href") or ""
    phone = context(viewport={"width": 390, "height": 844}).new_page()
    phone.goto(served.address + link)
    phone.get_by_text("Way 1", exact=True).click()
    phone.get_by_role("button", name="Send the guess").click()
    expect(phone.get_by_text("Thank you.")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    page.reload()
    expect(page.get_by_role("heading", name="1 guess, closed until the codes are open")).to_be_visible()

"""Tasters on their phones: a yes that stops, answers through a dead network, one touch that stops all."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.e2e.conftest import Served, sign_in
from tests.e2e.hands import cook, send, trial_with_shift
from yeasty.devices.kitchen import Kitchen

Context = Callable[..., BrowserContext]
PHONE: dict[str, Any] = {"viewport": {"width": 390, "height": 844}, "has_touch": True}


def tasting(kitchen: Kitchen) -> tuple[str, dict[str, Any], list[str]]:
    """A tasting of two rounds on the demo's buns, by three people: the trial, the tasting, their links."""
    trial = kitchen.ask("GET", "/trials?search=buns")["items"][0]["id"]
    there = kitchen.ask("GET", f"/trials/{trial}/tastings")["candidates"]
    for c in (c for c in there if not c["may"]):
        why = {"why": "kept frozen, reheated to 80 °C in the middle"}
        kitchen.ask("POST", f"/batches/{c['batch_id']}/ownerships", why)
    two = [{"batch_id": c["batch_id"]} for c in there[:2]]
    made = kitchen.ask(
        "POST",
        f"/trials/{trial}/tastings",
        {
            "name": "Second evening",
            "rounds": [{"samples": two, "part": "crumb"}, {"test": "preference", "samples": two}],
            "tasters": ["Ola", "Kim", "Niko"],
            "served_with": [{"what": "dip", "allergens": ["celery"]}],
        },
    )
    links = [
        kitchen.ask("POST", f"/tastings/{made['id']}/seats/{s['id']}/hand-overs")["link"].rsplit("/", 1)[1]
        for s in made["seats"]
    ]
    return trial, made, links


def may_eat(page: Page, but: str = "") -> None:
    page.get_by_text("Before the first bite").wait_for()
    every = page.get_by_role("button", name="I may eat all of these")
    (every if every.count() else page.get_by_role("button", name="I may eat it")).first.click()
    if but:
        page.get_by_role("group", name=f"Must you not eat {but}?").get_by_role(
            "button", name="I must not"
        ).click()
    page.get_by_role("button", name="Go on").click()


def test_phones_of_a_tasting_stop_wait_and_end_together(served: Served, context: Context) -> None:
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    trial, made, links = tasting(kitchen)

    # Somebody who must not eat celery.
    careful = context(**PHONE).new_page()
    careful.goto(f"{served.address}/t/{links[0]}")
    may_eat(careful, but="celery")
    expect(careful.get_by_role("alert").filter(has_text="Do not taste")).to_contain_text("celery")

    # Somebody whose network dies: what is said is kept, also through a reload, and leaves when it is back.
    phone = context(**PHONE).new_page()
    phone.goto(f"{served.address}/t/{links[1]}")
    may_eat(phone)
    phone.get_by_role("heading", name=re.compile(r"^\d{3,4}$")).wait_for()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    phone.context.set_offline(True)
    phone.get_by_label("Crust", exact=True).fill("7")
    phone.locator("textarea").fill("snaps, then soft")
    phone.get_by_label("Crumb", exact=True).fill("6")
    phone.get_by_text("kept on this phone").wait_for()
    phone.context.set_offline(False)
    phone.get_by_text("kept as you say it").wait_for()
    phone.reload()
    expect(phone.locator("textarea")).to_have_value("snaps, then soft")
    seat = kitchen.ask("GET", f"/tastings/{made['id']}")["seats"][1]
    assert seat["answered"] == 1

    # Nobody at the kitchen's screen has asked anew: it was told.
    lead = context().new_page()
    sign_in(lead, served.address)
    lead.goto(f"{served.address}/trials/{trial}/taste")
    expect(lead.get_by_text("must not eat celery: do not serve")).to_be_visible()
    third = context(**PHONE).new_page()
    third.goto(f"{served.address}/t/{links[2]}")
    may_eat(third)
    for _ in range(2):
        third.get_by_role("button", name="Not for me tonight").click()
        if third.get_by_role("button", name="Next sample").count():
            third.get_by_role("button", name="Next sample").click()
    third.get_by_role("button", name="Next round").click()
    third.locator(".cups button").first.click()
    third.get_by_role("button", name="I am done").click()
    third.get_by_text("Done. Thank you.").wait_for()
    lead.get_by_text("1 of 3 tasters are done").wait_for()

    # A fault comes up: one touch, and every page says so by itself.
    lead.get_by_role("button", name="Stop everyone").click()
    lead.locator("textarea[name=own-why]").fill("a core was read too low")
    lead.get_by_role("button", name="Do it").click()
    expect(phone.get_by_role("alert").filter(has_text="put everything aside")).to_be_visible()
    expect(lead.get_by_text("Stopped: a core was read too low").first).to_be_visible()


# From the last plate to the first bite, hot food does not wait for more.
MOST_TOUCHES = 12


def test_laid_before_the_heat_it_is_a_few_touches_from_the_last_plate_to_the_first_bite(
    served: Served, context: Context
) -> None:
    lead = context().new_page()
    sign_in(lead, served.address)
    t, shift = trial_with_shift(lead, ("oven", "microwave", "steamer"))

    # Before the heat: laid ready from what Ask says to judge, links handed over, allergens answered.
    lead.goto(f"{served.address}/trials/{t['id']}/taste")
    lead.get_by_role("button", name="New tasting").click()
    lead.locator("textarea[name=tasters]").fill("Ola\nKim")
    lead.get_by_role("button", name="Lay it ready").click()
    lead.get_by_role("button", name="Serve now").wait_for()
    made = send(lead, "GET", f"/trials/{t['id']}/tastings")["items"][0]
    ola = next(s["id"] for s in made["seats"] if s["name"] == "Ola")
    link = send(lead, "POST", f"/tastings/{made['id']}/seats/{ola}/hand-overs")["link"]
    phone = context(**PHONE).new_page()
    phone.goto(link)
    may_eat(phone)
    phone.get_by_text("Not served yet.").wait_for()

    cook(lead, shift)
    lead.goto(f"{served.address}/trials/{t['id']}/cook")
    touches = 0

    def touch(what: Locator) -> None:
        nonlocal touches
        what.click()
        touches += 1

    touch(lead.get_by_role("link", name=re.compile("^Taste")))
    touch(lead.get_by_role("button", name="Serve now"))
    touch(lead.get_by_role("button", name="Key, to plate"))
    touch(lead.get_by_role("button", name="Show the key"))
    expect(lead.locator(".el-dialog .mono")).to_have_count(3)
    touch(phone.get_by_label("Moist", exact=True))
    assert touches <= MOST_TOUCHES
    expect(phone.get_by_role("heading", name=re.compile(r"^\d{3,4}$"))).to_be_visible()


def test_a_lone_cook_is_blind_until_the_cups_are_turned_over(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    t, shift = trial_with_shift(page, ("oven", "microwave"))
    page.goto(f"{served.address}/trials/{t['id']}/taste")
    page.get_by_role("button", name="New tasting").click()
    page.get_by_text("Nobody: I am alone").click()
    page.locator("textarea[name=tasters]").fill("")
    page.get_by_role("button", name="Lay it ready").click()
    page.get_by_text("Write a letter underneath").wait_for()
    cook(page, shift)
    page.get_by_role("button", name="Serve now").click()
    page.get_by_role("button", name=re.compile("^Taste now")).click()
    may_eat(page)
    for n in range(2):
        page.get_by_label("Moist", exact=True).fill(str(4 + n))
        if page.get_by_role("button", name="Next sample").count():
            page.get_by_role("button", name="Next sample").click()
    page.get_by_role("button", name="Next round").click()
    page.get_by_text("Each of these labels belongs").wait_for()
    page.get_by_role("button", name="I would rather not say").click()
    page.get_by_text("I would rather not say: kept").wait_for()
    page.get_by_role("button", name="I am done").click()
    page.get_by_role("button", name="Back to the kitchen").click()
    page.get_by_text("Every answer is sealed").wait_for()
    rows = page.locator(".nobody .row")
    for n in range(2):
        rows.nth(n).locator("label").nth(0).click()
    # One letter under two cups cannot be so: said by code, and nothing is opened.
    page.get_by_role("button", name="That is what was under them").click()
    expect(page.get_by_role("alert").first).to_contain_text("both read")
    rows.nth(1).locator("label").nth(1).click()
    page.get_by_role("button", name="That is what was under them").click()
    page.get_by_text("Nobody plated: letters under shuffled cups").wait_for()


def test_two_who_plate_with_half_a_key_each_do_not_know(served: Served, context: Context) -> None:
    lead, cook_page = context().new_page(), context().new_page()
    sign_in(lead, served.address)
    sign_in(cook_page, served.address, "cook", "proof-shape-bake")
    t, shift = trial_with_shift(lead, ("oven", "microwave", "steamer"))
    cook(lead, shift)
    known = send(lead, "GET", f"/trials/{t['id']}/tastings")["panelists"]
    me = next(p["id"] for p in known if p["name"].startswith("Cook"))
    samples = [
        {"batch_id": c["batch_id"]}
        for c in send(lead, "GET", f"/trials/{t['id']}/tastings")["candidates"]
        if c["may"]
    ]
    body = {"name": "Halves", "rounds": [{"samples": samples}], "tasters": ["Ola"], "panelists": [me]}
    made = send(lead, "POST", f"/trials/{t['id']}/tastings", body)
    codes = {c for r in made["rounds"] for c in r["codes"]}

    def half(page: Page, which: str) -> list[tuple[str, str]]:
        page.goto(f"{served.address}/trials/{t['id']}/taste")
        page.get_by_role("button", name="Key, to plate").click()
        page.get_by_text(which).click()
        page.get_by_role("button", name="Show the key").click()
        rows = page.locator(".el-dialog .mono")
        expect(rows).to_have_count(3)
        shown = [r.split(" = ", 1) for r in rows.all_inner_texts()]
        page.keyboard.press("Escape")
        return [(a, b) for a, b in shown]

    fills = half(lead, "Which letter goes under which way")
    puts = half(cook_page, "Which code goes on which letter")
    assert {k for k, _ in fills} == {k for k, _ in puts}, "the same letters under the same cups"
    assert not any(code in words for _, words in fills for code in codes)
    assert {v for _, v in puts} == codes
    seat = cook_page.get_by_role("row").filter(has_text="Cook")
    expect(seat.first).to_be_visible()
    expect(cook_page.get_by_text("knows which is which: saw the key")).to_have_count(0)
    half(cook_page, "Which letter goes under which way")
    cook_page.reload()
    expect(cook_page.get_by_text("knows which is which: saw the key")).to_be_visible()

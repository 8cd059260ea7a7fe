"""Tasters on their phones: a yes that stops, answers through a dead network, one touch that stops all."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import BrowserContext, Page, expect

from tests.e2e.conftest import Served, sign_in
from yeasty.devices.simulate import Kitchen

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
    page.get_by_role("button", name="I may eat all of these").click()
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
    expect(phone.get_by_role("alert").filter(has_text="put everything aside")).to_be_visible(timeout=20_000)
    expect(lead.get_by_text("Stopped: a core was read too low").first).to_be_visible()

"""Somebody without a pointer goes the whole way: a practice through all six stations, and a tasting."""

import re
from collections.abc import Callable

from playwright.sync_api import BrowserContext, expect

from tests.e2e.conftest import Served, sign_in
from tests.e2e.hands import Keys, send
from tests.e2e.test_tasters import tasting
from yeasty.devices.kitchen import Kitchen


def test_a_practice_is_gone_through_by_keys_alone(
    served: Served, context: Callable[..., BrowserContext]
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    by = Keys(page)
    by.press(page.get_by_role("link", name="Guide"))
    by.press(page.get_by_role("button", name=re.compile("^Practise with stand-ins")))
    guide = page.get_by_role("complementary", name="Practice")
    expect(guide).to_contain_text("Practice, 1 of 6: Ask")
    on = guide.get_by_role("link", name=re.compile("^Go on"))

    # What there is to do is left or done: the way on says which.
    expect(on).to_have_class(re.compile("quiet"))
    by.press(page.get_by_role("button", name="Question and rule"))
    by.fill(page.get_by_label("Your hunch before the test"), "The griddle, by a little.")
    by.press(page.get_by_role("button", name="Save").first)
    expect(on).to_have_class(re.compile("strong"))
    by.press(on)

    expect(guide).to_contain_text("Practice, 2 of 6: Set up")
    expect(page.get_by_role("heading", level=1)).to_contain_text(
        "1 difference slipped in (weight of a piece)"
    )
    by.press(page.get_by_role("button", name="Mend it"))
    mend = page.get_by_role("dialog")
    by.press(mend.get_by_role("radio").first, "Space")
    by.press(mend.get_by_role("button", name="Make it the same"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fair as far as it is written")
    expect(on).to_have_class(re.compile("strong"))
    by.press(on)

    expect(guide).to_contain_text("Practice, 3 of 6: Cook")
    by.press(guide.get_by_role("button", name="Let them cook"))
    page.wait_for_url("**/cook/*")
    expect(page.get_by_text("A stand-in cooks.")).to_be_visible(timeout=120_000)
    by.press(page.get_by_role("button", name="60×"))
    shown = page.get_by_role("dialog", name="What the rehearsal showed")
    expect(shown).to_contain_text("On the table", timeout=240_000)
    by.press(shown.get_by_role("link", name="Go on: taste it"))

    expect(guide).to_contain_text("Practice, 4 of 6: Taste")
    by.press(guide.get_by_role("button", name="Let them taste"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("6 of 6 tasters are done")
    by.press(page.get_by_role("button", name="Open the codes"))
    by.press(page.get_by_role("dialog").get_by_role("button", name=re.compile("^Open")))
    expect(on).to_have_class(re.compile("strong"))
    by.press(on)

    expect(guide).to_contain_text("Practice, 5 of 6: Decide")
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile("Pan|Griddle"), timeout=90_000)
    expect(on).to_have_class(re.compile("strong"))
    by.press(on)

    expect(guide).to_contain_text("Practice, 6 of 6: Publish")
    by.press(page.get_by_role("button", name="Publish", exact=True))
    expect(page.get_by_role("alert")).to_contain_text("practice: its food was made up")
    trial = page.url.split("/trials/")[1].split("/")[0]
    by.press(guide.get_by_role("button", name="Ask a question of my own"))
    expect(page.get_by_role("dialog", name="A new trial")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("list", name="All trials")).not_to_contain_text("Practice:")
    # Put away, it is all there.
    told = send(page, "GET", f"/trials/{trial}")
    assert told["hunch"] == "The griddle, by a little."
    assert len({m["piece_kg"] for m in told["methods"]}) == 1
    assert send(page, "GET", f"/trials/{trial}/practice")["at"] == 5


def test_a_taster_answers_by_keys_alone(served: Served, context: Callable[..., BrowserContext]) -> None:
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    _, made, links = tasting(kitchen)
    page = context().new_page()
    page.goto(f"{served.address}/t/{links[0]}")
    by = Keys(page)
    page.get_by_text("Before the first bite").wait_for()
    by.press(page.get_by_role("button", name="I may eat all of these"))
    by.press(page.get_by_role("button", name="Go on"))
    for last in (False, True):
        expect(page.get_by_role("slider").first).to_be_visible()
        for asked in page.locator("fieldset").all():
            slider = asked.get_by_role("slider")
            if slider.count():
                by.to(slider)
                for _ in range(3):
                    page.keyboard.press("ArrowRight")
            else:
                by.press(asked.get_by_role("button").first, "Space")
        if not last:
            by.press(page.get_by_role("button", name="Next sample"))
    by.press(page.get_by_role("button", name="Next round"))
    by.press(page.locator(".cups button").first)
    expect(page.locator(".cups button").first).to_have_attribute("aria-pressed", "true")
    by.press(page.get_by_role("button", name="I am done"))
    expect(page.get_by_text("Done. Thank you.")).to_be_visible()
    seat = kitchen.ask("GET", f"/tastings/{made['id']}")["seats"][0]
    assert seat["finished"]

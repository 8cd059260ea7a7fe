"""Each kind of question is answered on the screen: its sentence in front, its picture beneath."""

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import BrowserContext, expect

from tests.e2e.conftest import Served, sign_in
from yeasty.devices.kitchen import Kitchen

Context = Callable[..., BrowserContext]
SHOWN = (
    ("Beetroot in the steamer, how long", "^(Best at about|No best point)", "figure.picture svg"),
    ("Flatbread, rested or not", "^(It matters|No difference)", ""),
    ("Cauliflower, a new coat against the old", "(keeps|takes) the title", ".effects .dot"),
    ("Beetroot wedges, oil by heat", "matter", "svg .curve"),
)


@pytest.mark.parametrize("width", [1280, 390])
def test_a_trial_is_answered_as_it_was_asked(served: Served, context: Context, width: int) -> None:
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    trials = {t["title"]: t["id"] for t in kitchen.ask("GET", "/trials?search=")["items"]}
    page = context(viewport={"width": width, "height": 844}).new_page()
    sign_in(page, served.address)
    for title, headline, picture in SHOWN:
        page.goto(f"{served.address}/trials/{trials[title]}/decide")
        expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(headline))
        if picture:
            expect(page.locator(picture).first).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.goto(f"{served.address}/trials/{trials['Flatbread, rested or not']}/decide")
    expect(page.get_by_text("with butter:")).to_be_visible()
    expect(page.get_by_text("Asked which is Rolled at once").first).to_be_visible()

"""A forgotten password, a role and one's own password, as people meet them."""

import re
from collections.abc import Callable

from playwright.sync_api import BrowserContext, expect

from tests.e2e.conftest import Served, sign_in

Context = Callable[..., BrowserContext]
NEW, OWN = "seven brown loaves cool", "rye on the top shelf"


def test_a_lead_helps_a_cook_who_forgot_and_reads_what_was_done(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.get_by_role("link", name="Kitchen").click()
    row = page.locator("tr", has_text=re.compile("cook"))
    row.get_by_role("button", name="Link for a new password").first.click()
    link = page.get_by_test_id("reset-link").inner_text()
    cook = context().new_page()
    cook.goto(link)
    cook.fill("input[name=new-password]", "password1234")
    cook.get_by_role("button", name="Set it").click()
    expect(cook.get_by_role("alert")).to_contain_text("tried first")
    cook.fill("input[name=new-password]", NEW)
    cook.get_by_role("button", name="Set it").click()
    cook.wait_for_url("**/signin")
    sign_in(cook, served.address, "cook", NEW)
    # Used once: the same link again says so.
    stranger = context().new_page()
    stranger.goto(link)
    stranger.fill("input[name=new-password]", NEW)
    stranger.get_by_role("button", name="Set it").click()
    expect(stranger.get_by_role("alert")).to_contain_text("It was used")
    # One's own password; the tablet beside it is signed out.
    tablet = context().new_page()
    sign_in(tablet, served.address, "cook", NEW)
    cook.get_by_role("link", name="Kitchen").click()
    cook.fill("input[name=current-password]", NEW)
    cook.fill("input[name=new-password]", OWN)
    cook.get_by_role("button", name="Change it").click()
    expect(cook.get_by_text("Every other device is signed out")).to_be_visible()
    tablet.reload()
    expect(tablet.get_by_role("heading", name="Sign in")).to_be_visible()
    page.reload()
    page.get_by_text(re.compile("What was done lately")).click()
    expect(page.locator("details tr", has_text="set a new password by a link")).to_be_visible()
    expect(page.locator("details tr", has_text="changed the password")).to_be_visible()

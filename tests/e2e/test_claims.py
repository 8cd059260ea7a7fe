"""Claims in the browser: what stands is claimed and goes to the page, what does not is refused; a tie that
the washing-up decides; pieces counted at the bench.
"""

import re
from collections.abc import Callable

from playwright.sync_api import BrowserContext, expect

from tests.api.helpers import an_entry
from tests.e2e.conftest import Served, bench_of, sign_in
from tests.e2e.hands import pick, send
from tests.e2e.test_deciding import trial_of

Context = Callable[..., BrowserContext]


def test_a_claim_is_picked_opens_to_its_records_and_stands_on_the_page(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial = trial_of(page, "Chickpeas, crisped three ways")
    page.goto(f"{served.address}/trials/{trial}/decide")
    claims = page.get_by_role("region", name="Claims")
    # By taste nothing can be told apart: each is refused with its reason, and no button offers it.
    expect(claims.get_by_text(re.compile("cannot be told apart in all")).first).to_be_visible(timeout=90_000)
    expect(claims.get_by_role("button", name=re.compile("^Claim: "))).to_have_count(0)
    pick(claims.locator(".el-select"), "from start to clean (measured)")
    offers = claims.get_by_role("button", name=re.compile("^Claim: "))
    words = str(offers.first.get_attribute("aria-label")).removeprefix("Claim: ")
    offers.first.click()
    kept = claims.locator(".kept > li")
    expect(kept).to_contain_text(words, timeout=90_000)
    kept.locator("summary").click()
    expect(kept.locator(".records li").first).to_be_visible()
    page.goto(f"{served.address}/trials/{trial}/publish")
    draft = page.frame_locator("iframe")
    expect(draft.get_by_role("heading", name="What we claim")).to_be_visible()
    # Among the claims, and where it is told what changed since the version before.
    expect(draft.get_by_text(words).first).to_be_visible()
    page.goto(f"{served.address}/trials/{trial}/decide")
    claims.get_by_role("button", name="Withdraw this claim").click()
    expect(claims.locator(".kept > li")).to_have_count(0)


def test_a_tie_is_decided_by_the_washing_up_that_was_said_beforehand(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    trial = trial_of(page, "Chickpeas, crisped three ways")
    ways = [m["id"] for m in send(page, "GET", f"/trials/{trial}")["methods"]]
    minutes = dict(zip(ways, (9, 7, 2), strict=True))
    for s in send(page, "GET", f"/trials/{trial}/shifts")["items"]:
        for b in send(page, "GET", f"/shifts/{s['id']}/bench")["batches"]:
            washed = an_entry(b["id"], "effort", {"wash_s": 60 * minutes[b["method_id"]]})
            send(page, "POST", f"/shifts/{s['id']}/entries", {"entries": [washed]})
    page.goto(f"{served.address}/trials/{trial}/ask")
    page.get_by_text("How it is decided").click()
    page.get_by_text("Weighted score: what counts more weighs more").click()
    page.get_by_role("button", name="Leave out hands").click()
    expect(page.locator("form.deciding li").first).to_contain_text("1. washing-up")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Not saved yet.")).to_have_count(0)
    page.goto(f"{served.address}/trials/{trial}/decide")
    expect(page.locator("h1")).to_contain_text("washing-up decides for Griddle", timeout=90_000)
    expect(page.locator(".verdict")).to_contain_text("It was washing-up")


def test_pieces_are_counted_at_the_bench_under_one_word(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    bench_of(page, served.address, "Turkey")
    page.get_by_role("button", name="Count").click()
    dialog = page.get_by_role("dialog", name="Count pieces")
    dialog.get_by_role("button", name="Log it").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Say what is counted")
    dialog.get_by_role("button", name="burst", exact=True).click()
    dialog.get_by_label("How many").fill("1")
    dialog.get_by_label("of", exact=True).fill("8")
    dialog.get_by_role("button", name="Log it").click()
    expect(dialog).to_be_hidden()
    page.get_by_role("button", name=re.compile(r"^Log \(")).click()
    expect(page.get_by_role("dialog", name="Log of this shift")).to_contain_text("burst: 1 of 8")

"""The workbench, an appliance's measurements, a bench that looks ahead, the gate; two tabs on one stream."""

import re
from collections.abc import Callable

from playwright.sync_api import BrowserContext, expect

from tests.e2e.conftest import Served, bench_of, sign_in, trial_called
from tests.e2e.hands import cook, trial_with_shift

Context = Callable[..., BrowserContext]


def test_a_workbench_link_keeps_its_inputs_and_records_correct_the_rule(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.get_by_role("link", name="Workbench").click()
    page.get_by_role("link", name="Time by weight").click()
    expect(page.locator(".told h2")).to_contain_text("about 41 min", timeout=90_000)
    page.fill("input[name=mass]", "a lot")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("alert")).to_contain_text("Weight")
    page.fill("input[name=mass]", "4 lb")
    page.get_by_role("button", name="Work it out").click()
    page.wait_for_url("**/workbench/weight?mass=4*")
    told = page.locator(".told h2").inner_text()
    page.reload()
    expect(page.locator("input[name=mass]")).to_have_value("4 lb")
    expect(page.locator(".told h2")).to_have_text(told, timeout=90_000)
    page.fill("input[name=observed]", "1 h 25 min")
    page.get_by_role("button", name="Keep as a record").click()
    expect(page.get_by_text("1 record of this kitchen").first).to_be_visible(timeout=90_000)


def test_what_is_measured_of_an_appliance_is_offered_at_the_step(served: Served, context: Context) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    page.get_by_role("link", name="Kitchen").click()
    page.get_by_role("row", name="Oven").get_by_role("link", name="Measure").click()
    page.get_by_role("button", name="The dial and the middle").click()
    page.get_by_label("measured, row 2").fill("183 °C")
    page.get_by_role("button", name="Keep this measurement").click()
    expect(page.get_by_role("button", name="Strike out")).to_be_visible(timeout=90_000)
    page.goto(served.address)
    trial_called(page, "Turkey").click()
    page.wait_for_url("**/ask")
    page.goto(page.url.replace("/ask", "/setup"))
    offer = page.locator(".offer", has_text="OV · Bake")
    expect(offer).to_contain_text("from its offset points", timeout=90_000)
    offer.get_by_role("button").click()
    expect(page.locator(".offer", has_text="OV · Bake")).to_have_count(0)


def test_the_bench_looks_ahead_and_unknown_cores_are_barred_until_owned(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    bench_of(page, served.address, "Turkey")
    expect(page.locator(".ahead")).to_contain_text(
        re.compile("reaches 74 °C|should be at 74 °C"), timeout=90_000
    )
    expect(page.locator(".ahead")).to_contain_text("Between cold and hot")
    expect(page.locator(".ahead")).to_contain_text("Circuit B")
    expect(page.locator(".ready").first).to_be_visible()
    # Cooked to the end, and nobody has read a core.
    trial, shift = trial_with_shift(page, ("air_fryer", "oven"), "turkey meatballs", "poultry")
    cook(page, shift, read=False)
    page.goto(f"{served.address}/trials/{trial['id']}/taste")
    barred = page.locator(".barred li", has_text="AF Air fryer")
    expect(barred).to_contain_text("unknown counts as not met")
    barred.get_by_role("button", name="Own it in writing").click()
    page.fill("textarea[name=own-why]", "read with the second probe, 79 °C, on the paper sheet")
    page.get_by_role("button", name="Own it", exact=True).click()
    expect(page.get_by_text("let through by the lead")).to_be_visible()


def test_two_tabs_share_one_stream_and_both_see_what_comes(served: Served, context: Context) -> None:
    c = context()
    streams: list[str] = []
    c.on("request", lambda r: streams.append(r.url) if "/stream" in r.url else None)
    first = c.new_page()
    sign_in(first, served.address)
    url = bench_of(first, served.address, "Chickpeas")
    expect(first.get_by_test_id("saving")).to_contain_text("all entries saved")
    second = c.new_page()
    second.goto(url)
    second.get_by_text("next for your hands").wait_for()
    other = context().new_page()
    sign_in(other, served.address, "cook", "proof-shape-bake")
    other.goto(url)
    other.get_by_text("next for your hands").wait_for()
    other.wait_for_timeout(1500)
    other.keyboard.press("n")
    other.get_by_role("dialog").locator("textarea").fill("seen by both tabs")
    other.get_by_role("button", name="Log it").click()
    for tab in (first, second):
        tab.get_by_role("button", name="Log (").click()
        expect(tab.get_by_text("seen by both tabs")).to_be_visible()
    assert len(set(streams)) == 1, streams
    # The tab that listens closes: the other takes over.
    first.close()
    other.keyboard.press("n")
    other.get_by_role("dialog").locator("textarea").fill("after the first tab closed")
    other.get_by_role("button", name="Log it").click()
    expect(second.get_by_text("after the first tab closed")).to_be_visible()

"""Two treatments on one tray and a dough made for all: written at Ask, one tap each at the bench, read back
from the log.
"""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import BrowserContext, Page, expect

from tests.e2e.conftest import Served, sign_in
from tests.e2e.hands import pick
from tests.e2e.test_journeys import part, station

Context = Callable[..., BrowserContext]
SEND = """async ([method, path, body, version]) => {
  const csrf = (await (await fetch('/api/v1/session')).json()).csrf
  const headers = { 'Content-Type': 'application/json', 'X-CSRFToken': csrf }
  if (version !== null) headers['If-Match'] = `"${version}"`
  const got = await fetch('/api/v1' + path, { method, headers, body: JSON.stringify(body) })
  if (!got.ok) throw new Error(await got.text())
  return got.json()
}"""
RECIPE = """# Seeded flatbread
## Ingredients
- 250 g flour
- 150 g water
## Method
1. Make the dough for 10 min.
2. Bake at 230 °C for 8 minutes.
"""


def send(page: Page, method: str, path: str, body: Any, version: int | None = None) -> Any:
    return page.evaluate(SEND, [method, path, body, version])


def bench_of(page: Page) -> dict[str, Any]:
    shift = page.url.rsplit("/", 1)[1]
    return dict(page.evaluate(f"async () => (await fetch('/api/v1/shifts/{shift}/bench')).json()"))


def test_a_dough_for_all_and_two_treatments_on_one_tray_are_one_tap_each(
    served: Served, context: Context
) -> None:
    page = context().new_page()
    sign_in(page, served.address)
    t = send(
        page,
        "POST",
        "/trials",
        {"question": "Does seeding the top change it?", "dish": "flatbread", "food_class": "baked"},
    )
    # The first recipe brings its dough along for all.
    page.goto(f"{served.address}/trials/{t['id']}/ask")
    part(page, "Methods")
    page.get_by_role("button", name="Bring in a recipe").click()
    page.get_by_label("Recipe text").fill(RECIPE)
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("checkbox", name=re.compile("Prepared once for all methods"))).to_be_checked()
    page.get_by_role("button", name="Make it a method").click()
    expect(page.locator("table.methods tbody tr")).to_contain_text("Seeded flatbread")
    t = page.evaluate(f"async () => (await fetch('/api/v1/trials/{t['id']}')).json()")
    assert [s["what"] for s in t["preparation"]["items"]] == ["Make the dough for 10 min."]
    t = send(page, "DELETE", f"/trials/{t['id']}/methods/{t['methods'][0]['id']}", None, t["version"])
    for name in ("Plain top", "Seeded top", "On a stone"):
        body = {"technique": "oven", "name": name}
        t = send(page, "POST", f"/trials/{t['id']}/methods", body, t["version"])
        m = t["methods"][-1]
        top = {"what": f"Treat: {name}", "attention": "hands", "phase": "prepare", "duration_s": 120}
        first = next(n for n, s in enumerate(m["steps"]) if s["phase"] == "load")
        steps = [*m["steps"][:first], top, *m["steps"][first:]]
        t = send(page, "PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"])
    page.reload()
    part(page, "Methods")
    pick(page.locator(".loads .el-select"), re.compile("Plain top"))
    page.get_by_role("option", name=re.compile("Seeded top")).click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Cook them together").click()
    expect(page.get_by_role("alert")).to_contain_text("has no name")
    page.fill("input[name=load-name]", "tray 1")
    page.get_by_role("button", name="Cook them together").click()
    expect(page.get_by_text("cooked together: tray 1")).to_have_count(2)
    station(page, "Set up")
    expect(
        page.get_by_role("row", name=re.compile("^load")).or_(page.get_by_text("its own")).first
    ).to_be_visible()
    station(page, "Cook")
    page.get_by_role("button", name="Plan it").click()
    page.locator(".card h1").wait_for(timeout=90_000)
    bench = bench_of(page)
    tags = {b["id"]: b["name"] for b in bench["batches"]}
    # What the card asks is done, asked twice where it is early, its list ticked, until the tray is in.
    for _ in range(120):
        page.keyboard.press(" ")
        tick = page.get_by_role("button", name=re.compile(r"are so, start$"))
        if tick.count():
            tick.first.click()
        page.wait_for_timeout(250)
        if sum(e["kind"] == "in" and tags[e["batch"]] != "On a stone" for e in bench_of(page)["entries"]) > 1:
            break
    expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")
    entries = bench_of(page)["entries"]
    dough = [e for e in entries if e["payload"].get("step", "").startswith("all-")]
    assert {tags[e["batch"]] for e in dough} == set(tags.values()), "the dough is done for all by one tap"
    went_in = [e for e in entries if e["kind"] == "in" and tags[e["batch"]] != "On a stone"]
    assert {tags[e["batch"]] for e in went_in} == {"Plain top", "Seeded top"}
    assert max(e["at"] for e in went_in) - min(e["at"] for e in went_in) < 2
    treated = [e for e in entries if e["kind"] == "done" and not e["payload"]["step"].startswith("all-")]
    assert {tags[e["batch"]] for e in treated} >= {"Plain top", "Seeded top"}

"""Every main view, bright and dark, at desk and phone size: nothing that axe calls serious."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page

from tests.conftest import ROOT
from tests.e2e.conftest import Served, sign_in
from tests.e2e.test_tasters import may_eat, tasting
from yeasty.core.publish.kinds import PageKind
from yeasty.devices.kitchen import Kitchen

AXE = Path(ROOT) / "web" / "node_modules" / "axe-core" / "axe.min.js"
SERIOUS = ("serious", "critical")
LOOK = """async () => (await axe.run(document, { resultTypes: ['violations'] })).violations
  .map(v => ({ id: v.id, impact: v.impact, where: v.nodes.slice(0, 3).map(n => n.html.slice(0, 160)) }))"""
VIEWS = (
    "/",
    "/trials/{buns}/ask",
    "/trials/{buns}/setup",
    "/trials/{buns}/cook",
    "/trials/{buns}/taste",
    "/trials/{buns}/decide",
    "/trials/{buns}/publish",
    "/kitchen",
    "/workbench",
    "/defects",
)


def serious(page: Page) -> list[dict[str, Any]]:
    """What axe finds that keeps somebody out."""
    page.add_script_tag(path=str(AXE))
    return [v for v in page.evaluate(LOOK) if v["impact"] in SERIOUS]


@pytest.mark.parametrize(("width", "dark"), [(1280, False), (1280, True), (390, False)])
def test_no_main_view_keeps_anybody_out(
    served: Served, context: Callable[..., BrowserContext], width: int, dark: bool
) -> None:
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    buns = kitchen.ask("GET", "/trials?search=buns")["items"][0]["id"]
    page = context(
        viewport={"width": width, "height": 844},
        color_scheme="dark" if dark else "light",
        reduced_motion="reduce",
        bypass_csp=True,
    ).new_page()
    sign_in(page, served.address)
    found: dict[str, list[dict[str, Any]]] = {}
    _, _, links = tasting(kitchen)
    chickpeas = kitchen.ask("GET", "/trials?search=chickpeas")["items"][0]["id"]
    shift = kitchen.ask("GET", f"/trials/{chickpeas}/stations")["shift_id"]
    for view in (*VIEWS, f"/trials/{chickpeas}/cook/{shift}"):
        page.goto(served.address + view.format(buns=buns))
        page.locator("main").first.wait_for()
        page.wait_for_load_state("networkidle")
        if dark:
            page.evaluate("document.documentElement.classList.add('dark')")
        wrong = serious(page)
        if wrong:
            found[view] = wrong
    page.goto(f"{served.address}/trials/{buns}/taste")
    page.get_by_role("button", name="New tasting").click()
    page.get_by_text("What this can find").wait_for()
    found["a new tasting"] = serious(page)
    page.goto(served.address)
    page.get_by_role("button", name="New trial").click()
    page.fill("input[name=dish]", "turkey meatballs")
    page.get_by_role("button", name="Oven", exact=True).click()
    page.get_by_role("group", name="What is judged").wait_for()
    found["a new trial"] = serious(page)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    page.goto(f"{served.address}/guide/cook")
    page.get_by_role("img").wait_for()
    found["the guide"] = serious(page)
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    for name, act in (("before the bite", None), ("a sample", may_eat)):
        if act is None:
            page.goto(f"{served.address}/t/{links[0]}")
            page.get_by_text("Before the first bite").wait_for()
        else:
            act(page)
            page.get_by_role("button", name="Next sample").wait_for()
        found[name] = serious(page)
    assert {k: v for k, v in found.items() if v} == {}


@pytest.mark.parametrize("width", [1280, 390])
def test_no_published_page_keeps_anybody_out_or_runs_off_the_side(
    served: Served, context: Callable[..., BrowserContext], width: int
) -> None:
    page = context(viewport={"width": width, "height": 844}, bypass_csp=True).new_page()
    page.goto(f"{served.address}/p/")
    links = page.eval_on_selector_all(".list a", "all => all.map(a => a.getAttribute('href'))")
    assert len(links) >= len(PageKind)
    found = {}
    for link in ("/p/", *links):
        page.goto(served.address + link)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, link
        found[link] = serious(page)
    assert {k: v for k, v in found.items() if v} == {}

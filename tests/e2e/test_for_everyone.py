"""Nobody is kept out: what axe calls serious, what runs off the side or lies under something else at any size
and magnification, what only colour would tell, what only a pointer would reach.
"""

from collections.abc import Callable
from itertools import pairwise
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
LOOK = """async rules => (await axe.run(document, {
  resultTypes: ['violations'], ...(rules.length ? { runOnly: rules } : {}) })).violations
  .map(v => ({ id: v.id, impact: v.impact, where: v.nodes.slice(0, 3).map(n => n.html.slice(0, 160)) }))"""
MEASURED = (Path(__file__).parent / "measured.js").read_text("utf-8")
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
# Besides: many ways, a grid, a ladder, a shift in the heat, the guide, what is published.
MORE = (
    "/trials/{pudding}/ask",
    "/trials/{pudding}/setup",
    "/trials/{pudding}/decide",
    "/trials/{grid}/ask",
    "/trials/{ladder}/decide",
    "/trials/{chickpeas}/cook/{shift}",
    "/guide/cook",
    "/p/",
    "/p/filled-yeast-buns-air-fried",
    "/p/rice-pudding-every-way-we-tried",
)


def serious(page: Page, *rules: str) -> list[dict[str, Any]]:
    """What axe finds that keeps somebody out, by all its rules or by these."""
    if not page.evaluate("'axe' in window"):
        page.add_script_tag(path=str(AXE))
    return [v for v in page.evaluate(LOOK, rules) if v["impact"] in SERIOUS]


# Looked at nowhere else.
REST = ("/kitchen/safety", "/techniques", "/promises", "/guide/words", "/signin")


# A view is opened at the first size and taken to the others: a desk, a tablet in a dark kitchen, a desk at
# 200 %; a phone, and a desk at 400 %, which has the room of a small phone.
SIZES = {"desk": [(1280, 800), (820, 1180), (640, 400)], "phone": [(390, 844), (320, 256)]}


@pytest.mark.parametrize("held", SIZES)
def test_no_main_view_keeps_anybody_out_at_any_size_and_magnification(
    served: Served, context: Callable[..., BrowserContext], held: str
) -> None:
    """Each view is whole and in reach at all sizes, looked at by axe where people hold it so; once told to a
    screen reader, gone through by keys alone, and read in colours of the reader's own.
    """
    first, *others = SIZES[held]
    page = context(
        viewport={"width": first[0], "height": first[1]}, reduced_motion="reduce", bypass_csp=True
    ).new_page()
    sign_in(page, served.address)
    there = places(served)
    found: dict[str, Any] = {}
    framed = 0
    practice = Kitchen(served.address)
    practice.sign_in("lead", "flour-water-salt")
    own = f"/trials/{practice.ask('POST', '/practice', {})['id']}/setup"
    for view in (*VIEWS, *MORE, *REST, own):
        turn(page, first)
        opened(page, served, view, there)
        found[f"{view}, {first}"] = not_whole(page, view) or serious(page)
        if held == "desk":
            found[f"{view}, told"] = badly_told(page, view)
            apart = view in KEYED or view not in (*VIEWS, *MORE)
            found[f"{view}, keys"] = [] if apart else out_of_reach(page)
            found[f"{view}, framed"] = not_framed(page)
            framed += page.locator(CHOSEN).count()
            # As who chose it is shown, at the sizes that follow.
            page.evaluate("document.documentElement.classList.add('dark')")
        for size in others:
            turn(page, size)
            magnified = size[0] in (640, 320)
            found[f"{view}, {size}"] = not_whole(page, view) or (not magnified and serious(page))
    assert {k: v for k, v in found.items() if v} == {}
    assert held == "phone" or framed > 10


def turn(page: Page, size: tuple[int, int]) -> None:
    """Take a page to another size, dark where it is the tablet's; what follows the size has followed."""
    page.emulate_media(color_scheme="dark" if size[0] == 820 else "light")
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.evaluate(DRAWN_TWICE)


def not_whole(page: Page, view: str) -> dict[str, Any]:
    """What runs off the side, lies under something else or is too small for a finger."""
    found = page.evaluate(MEASURED)
    assert found.pop("bars") <= 45, f"{view}: what stays in place leaves no room to read"
    return {k: v[:6] for k, v in found.items() if v}


@pytest.mark.parametrize(("width", "dark"), [(1280, False), (390, True)])
def test_nothing_that_opens_keeps_anybody_out(
    served: Served, context: Callable[..., BrowserContext], width: int, dark: bool
) -> None:
    page = context(
        viewport={"width": width, "height": 844},
        color_scheme="dark" if dark else "light",
        reduced_motion="reduce",
        bypass_csp=True,
    ).new_page()
    sign_in(page, served.address)
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    buns = kitchen.ask("GET", "/trials?search=buns")["items"][0]["id"]
    _, _, links = tasting(kitchen)
    found: dict[str, list[dict[str, Any]]] = {}

    def look(what: str) -> None:
        if dark:
            page.evaluate("document.documentElement.classList.add('dark')")
        found[what] = serious(page)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, what

    page.goto(f"{served.address}/trials/{buns}/taste")
    page.get_by_role("button", name="New tasting").click()
    page.get_by_text("What this can find").wait_for()
    look("a new tasting")
    page.goto(served.address)
    page.get_by_role("button", name="New trial").click()
    page.fill("input[name=dish]", "turkey meatballs")
    page.get_by_role("button", name="Oven", exact=True).click()
    page.get_by_role("group", name="What is judged").wait_for()
    look("a new trial")
    page.goto(f"{served.address}/guide/cook")
    page.get_by_role("img").wait_for()
    look("the guide")
    page.goto(f"{served.address}/t/{links[0]}")
    page.get_by_text("Before the first bite").wait_for()
    look("before the bite")
    may_eat(page)
    page.get_by_role("button", name="Next sample").wait_for()
    look("a sample")
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


def places(served: Served) -> dict[str, str]:
    """Trials of the demo by a short name, and the shift that is in the heat."""
    kitchen = Kitchen(served.address)
    kitchen.sign_in("lead", "flour-water-salt")
    titles = {
        "buns": "Filled yeast buns",
        "pudding": "Rice pudding, 16 ways",
        "grid": "Beetroot wedges, oil by heat",
        "ladder": "Beetroot in the steamer, how long",
        "chickpeas": "Chickpeas, soaked or not",
    }
    of = {t["title"]: t["id"] for t in kitchen.ask("GET", "/trials?size=100")["items"]}
    found = {k: of[v] for k, v in titles.items()}
    return {**found, "shift": kitchen.ask("GET", f"/trials/{found['chickpeas']}/stations")["shift_id"]}


def opened(page: Page, served: Served, view: str, there: dict[str, str]) -> None:
    page.goto(served.address + view.format(**there))
    page.locator("main").first.wait_for()
    page.wait_for_load_state("networkidle")


DRAWN_TWICE = "() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"
CHOSEN = "[aria-pressed=true], [aria-selected=true], [aria-current=page]"
FRAMED = """which => [...document.querySelectorAll(which)]
  .filter(e => e.checkVisibility() && getComputedStyle(e).outlineStyle === 'none')
  .map(e => e.outerHTML.slice(0, 120))"""
UNREAD = """() => [...document.querySelectorAll('button.act, a.act')].filter(e => e.checkVisibility())
  .map(e => [e.textContent, getComputedStyle(e).color, getComputedStyle(e).backgroundColor])
  .filter(([, ink, ground]) => ink === ground)"""


def not_framed(page: Page) -> list[Any]:
    """What is chosen and has no frame, and what is written in the colour it stands on, where colours are the
    reader's own.
    """
    page.emulate_media(forced_colors="active", color_scheme="dark")
    page.evaluate(DRAWN_TWICE)
    assert page.evaluate("matchMedia('(forced-colors: active)').matches")
    found = [*page.evaluate(FRAMED, CHOSEN), *page.evaluate(UNREAD)]
    page.emulate_media(forced_colors="none", color_scheme="light")
    return found


REACH = """() => {
  const seen = e =>
    e.checkVisibility({ contentVisibilityAuto: true, visibilityProperty: true }) && !e.closest('[inert]')
  const which = 'a[href],button,input,select,textarea,summary,[tabindex="0"]'
  return [...document.querySelectorAll(which)]
    .filter(e => seen(e) && !e.disabled && e.tabIndex >= 0 && e.type !== 'hidden')
    .map((e, n) => {
      e.dataset.reach = n
      // Of buttons that exclude one another the chosen one is reached, the others by arrows.
      return e.type === 'radio' ? e.name || 'radio' : String(n)
    })
}"""
HERE = """async () => {
  const e = document.activeElement
  if (!e || e === document.body) return null
  const box = e.closest('.el-input__wrapper, .el-select__wrapper, .el-checkbox, .el-radio, label') ?? e
  const parts = [e, box, box.querySelector('.el-checkbox__inner, .el-radio__inner') ?? e]
  const look = () => parts.map(x => getComputedStyle(x))
    .map(s => [s.outlineStyle, s.outlineWidth, s.boxShadow, s.borderColor]).join()
  const drawn = () => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))
  await drawn()
  const held = look()
  e.blur()
  await drawn()
  const left = look()
  e.focus()
  return {
    at: e.type === 'radio' ? e.name || 'radio' : e.dataset.reach ?? '',
    // What was taken away while it was looked at shows nothing any more, and need not.
    marked: held !== left || !e.isConnected,
    what: e.outerHTML.slice(0, 120),
  }
}"""
KEYED = ("/", "/trials/{grid}/ask", "/trials/{buns}/decide", "/trials/{chickpeas}/cook/{shift}")


@pytest.mark.parametrize("view", KEYED)
def test_keys_alone_reach_every_control_and_show_where_they_are(
    served: Served, context: Callable[..., BrowserContext], view: str
) -> None:
    page = context(bypass_csp=True).new_page()
    sign_in(page, served.address)
    opened(page, served, view, places(served))
    page.add_style_tag(content="* { transition: none !important }")

    def marked() -> str | None:
        here = page.evaluate(HERE)
        assert here is None or here["marked"], f"nothing shows that {here['what']} has the keys"
        return here and str(here["at"])

    assert not missed(page, marked)


QUICK = """() => {
  const e = document.activeElement
  if (!e || e === document.body) return null
  return e.type === 'radio' ? e.name || 'radio' : e.dataset.reach ?? ''
}"""


def missed(page: Page, look: Callable[[], str | None], *, again: int = 2) -> list[str]:
    """Controls that the Tab key does not come to, from where the page has it. What was drawn anew is another
    control: then it is gone through once more.

    `look` : says which control has the keys
    """
    wanted = set(page.evaluate(REACH))
    assert len(wanted) > 3, page.url
    reached: set[str] = set()
    for _ in range(len(wanted) + 40):
        page.keyboard.press("Tab")
        reached.add(look() or "")
        if wanted <= reached:
            return []
    left = sorted(wanted - reached)
    there = [page.locator(f"[data-reach='{n}']") for n in left if n.isdigit()]
    if again and not all(c.count() for c in there):
        return missed(page, look, again=again - 1)
    return [c.evaluate("e => e.outerHTML.slice(0, 160)") for c in there[:5]] or left


def out_of_reach(page: Page) -> list[str]:
    """The same, without a look at how each shows that it has the keys."""
    return missed(page, lambda: page.evaluate(QUICK))


# Signing in is two fields and a button.
NO_CONTROLS = ("/signin",)
ACTED_ON = ("button", "link", "textbox", "combobox", "checkbox", "radio", "slider", "spinbutton", "switch")


def badly_told(page: Page, view: str) -> list[str]:
    """What a screen reader is not told: a control without a name, or a level of headings that is jumped over
    on the way down, for who moves by headings would miss a part.
    """
    tree = page.context.new_cdp_session(page)
    nodes = [n for n in tree.send("Accessibility.getFullAXTree")["nodes"] if not n["ignored"]]
    tree.detach()
    role = {n["nodeId"]: n["role"]["value"] for n in nodes}
    said = {n["nodeId"]: (n.get("name") or {}).get("value", "").strip() for n in nodes}
    acted = [n["nodeId"] for n in nodes if role[n["nodeId"]] in ACTED_ON]
    if not view.startswith(NO_CONTROLS):
        assert len(acted) > 3, view
    wrong = [f"a {role[n]} without a name" for n in acted if not said[n]]
    if "main" not in role.values():
        wrong.append("no main part")
    heads = [
        int(p["value"]["value"])
        for n in nodes
        if role[n["nodeId"]] == "heading"
        for p in n.get("properties", [])
        if p["name"] == "level"
    ]
    return wrong + [f"heading {b} beneath {a}" for a, b in pairwise(heads) if b > a + 1]

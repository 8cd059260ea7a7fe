"""Long journeys through the real program in a real browser."""

import re
from collections.abc import Callable

from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.conftest import copy_of
from tests.e2e.conftest import Served, bench_of, judge_nothing_yet, serve, sign_in, sign_in_by_form, stop
from tests.e2e.hands import pick
from yeasty.process import cluster

Context = Callable[..., BrowserContext]


def saved(page: Page) -> None:
    expect(page.get_by_test_id("saving")).to_contain_text("all entries saved")


def part(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Parts of this station").get_by_role(
        "button", name=re.compile(f"^{name}")
    ).click()


def choose_food(page: Page, name: str) -> None:
    """The kind of food in the dialog. A list that opens while the page is busy may close over the tap: what
    was chosen is read back, and chosen again where it did not stay.
    """
    food = page.get_by_role("dialog").locator(".el-select").first
    for _ in range(4):
        pick(food, name)
        page.wait_for_timeout(300)
        if name in food.inner_text():
            break
    expect(food).to_contain_text(name)


def station(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Stations").get_by_text(name, exact=True).click()


def test_from_question_to_published_method_as_lead(served: Served, context: Context) -> None:
    c = context()
    page = c.new_page()
    sign_in_by_form(page, served.address)

    # Ask
    page.get_by_role("button", name="New trial").click()
    page.fill("textarea[name=question]", "Which way keeps cauliflower florets moist and browned?")
    page.fill("input[name=dish]", "cauliflower florets")
    choose_food(page, "vegetables, fruit, pulses")
    judge_nothing_yet(page)
    page.get_by_role("button", name="Begin").click()
    page.get_by_text("Before it can be set up").wait_for()
    for technique in ("Oven", "Microwave"):
        page.get_by_role("button", name="Add a method").click()
        dialog = page.get_by_role("dialog")
        if technique != "Oven":
            pick(dialog.locator(".el-select"), technique, exact=True)
        dialog.get_by_role("button", name="Add", exact=True).click()
        expect(dialog).to_be_hidden()
    expect(page.get_by_text("one slash")).to_be_visible()
    expect(page.get_by_text("two slashes")).to_be_visible()
    part(page, "Judged on")
    page.get_by_role("button", name="Add an attribute").click()
    page.fill("input[name=attribute-0]", "Moistness")
    page.get_by_role("button", name="Save attributes").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(
        "2 methods side by side, judged on moistness"
    )
    part(page, "Methods")
    page.get_by_role("button", name="Edit steps").first.click()
    page.locator("li:has-text('3. What') input").nth(1).wait_for()
    bake = page.locator(".editor li").nth(2)
    bake.get_by_label("Lasts").fill("sixty")
    page.get_by_role("button", name="Save steps").click()
    expect(page.get_by_role("alert")).to_contain_text("row 3")
    bake.get_by_label("Lasts").fill("22 min")
    page.get_by_role("button", name="Save steps").click()
    expect(page.locator("table.methods td.mono").first).to_have_text("22 min")

    # Set up
    station(page, "Set up")
    page.get_by_text("Not yet fair").wait_for()
    part(page, "Lots and amounts")
    page.get_by_role("button", name="Add an ingredient").click()
    page.fill("input[name=ingredient-0]", "cauliflower")
    page.get_by_label("cauliflower in OV").fill("1 lb")
    page.get_by_label("cauliflower in MI").fill("454 g")
    page.get_by_role("button", name="Save lots and amounts").click()
    expect(page.get_by_label("cauliflower in OV")).to_have_value("454 g")
    part(page, "What differs")
    expect(page.locator("td", has_text="amount of cauliflower")).to_have_count(0)
    while page.get_by_role("button", name="Accept in writing").count():
        left = page.get_by_role("button", name="Accept in writing").count()
        page.get_by_role("button", name="Accept in writing").first.click()
        page.fill("textarea[name=reason]", "it comes with the method")
        page.get_by_role("button", name="Accept", exact=True).click()
        expect(page.get_by_role("button", name="Accept in writing")).to_have_count(left - 1)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fair as far as it is written")

    # Cook: every step by the space bar, the core read by key
    station(page, "Cook")
    page.get_by_role("button", name="Plan it").click()
    page.wait_for_url("**/cook/*")
    expect(page.locator(".card h1")).to_have_text("Start: preheat the oven", timeout=90_000)
    page.keyboard.press("1")
    page.keyboard.press("t")
    page.fill("input[name=number]", "21.5")
    page.get_by_role("button", name="Log it").click()
    saved(page)
    page.keyboard.press("0")
    for _ in range(30):
        if page.get_by_role("heading", name="Nothing left for the hands").is_visible():
            break
        before = page.locator(".card h1").inner_text() + page.locator(".card .head p").inner_text()
        page.keyboard.press("Space")
        if asked_whether_early(page):
            page.keyboard.press("Space")
        ready = page.get_by_role("button", name=re.compile("^All .* start$"))
        page.wait_for_timeout(120)
        if ready.is_visible():
            ready.click()
            expect(ready).to_be_hidden()
        expect(page.locator(".card")).not_to_contain_text(re.compile(f"^{re.escape(before)}$"))
        page.wait_for_timeout(120)
    expect(page.get_by_role("heading", name="Nothing left for the hands")).to_be_visible()
    saved(page)

    # Taste: two tasters on phone-sized pages, through their links
    station(page, "Taste")
    page.get_by_role("button", name="New tasting").click()
    page.fill("textarea[name=tasters]", "Taster A\nTaster B")
    page.get_by_role("button", name="Deal codes and orders").click()
    page.get_by_text("0 of 2 tasters are done").wait_for()
    links = []
    for n in range(2):
        page.get_by_role("button", name="Hand the link over").nth(n).click()
        links.append(page.locator(".link a").get_attribute("href") or "")
        page.keyboard.press("Escape")
        expect(page.locator(".link a")).to_be_hidden()
    for n, link in enumerate(links):
        phone = context(viewport={"width": 390, "height": 844}, has_touch=True).new_page()
        phone.goto(served.address + "/t/" + link.rsplit("/", 1)[1])
        eats_all(phone)
        assert phone.evaluate("document.documentElement.scrollWidth") <= 390
        for i in range(2):
            phone.get_by_label("Moistness").fill(str(6 + i * 2 + n))
            phone.locator("textarea").fill(f"sample {i}")
            phone.get_by_role("button", name="Next sample" if i == 0 else "I am done").click()
        phone.get_by_text("Done. Thank you.").wait_for()
        body = phone.content().lower()
        assert "oven" not in body
        assert "microwave" not in body
    page.get_by_text("2 of 2 tasters are done").wait_for()
    page.get_by_role("button", name="Open the codes").click()
    page.get_by_role("button", name="Open them").click()
    page.get_by_text("were opened; answers are closed").wait_for()

    # Decide and Publish
    station(page, "Decide")
    expect(page.get_by_role("heading", level=1)).to_contain_text(
        re.compile("cannot be told apart|leaning|Taste cannot tell"), timeout=90_000
    )
    expect(page.get_by_text("cooked once").first).to_be_visible()
    station(page, "Publish")
    page.fill("input[name=page-title]", "Cauliflower florets")
    page.get_by_role("button", name="Publish", exact=True).click()
    page.get_by_text("Version 1 is out").wait_for()
    with c.expect_page() as opened:
        page.get_by_role("link", name="Page", exact=True).click()
    reader = opened.value
    expect(reader.get_by_role("heading", name="Cauliflower florets")).to_be_visible()
    expect(reader.get_by_text("454 g (1 lb)")).to_be_visible()
    expect(page.get_by_role("link", name="PDF")).to_be_visible(timeout=90_000)


def eats_all(phone: Page) -> None:
    """Say of everything on the table that it may be eaten."""
    phone.get_by_text("Before the first bite").wait_for()
    for may in phone.get_by_role("button", name="I may eat it").all():
        may.click()
    phone.get_by_role("button", name="Go on").click()


def test_two_browsers_at_one_bench_see_each_other(served: Served, context: Context) -> None:
    one, two = context().new_page(), context().new_page()
    sign_in(one, served.address)
    url = bench_of(one, served.address, "Chickpeas")
    sign_in(two, served.address, "cook", "proof-shape-bake")
    two.goto(url)
    saved(two)
    count = two.get_by_role("button", name=re.compile(r"^Log \("))
    before = int(re.findall(r"\d+", count.inner_text())[0])
    one.keyboard.press("n")
    one.fill("textarea[name=text]", "foam at the valve")
    one.get_by_role("button", name="Log it").click()
    expect(count).to_have_text(f"Log ({before + 1})")
    expect(one.get_by_role("dialog")).to_be_hidden()
    one.keyboard.press("u")
    expect(count).to_have_text(f"Log ({before})")


def asked_whether_early(page: Page) -> bool:
    """Whether the card asks if it is meant so early: it does by the clock, whatever the demo's shift has come
    to by now.
    """
    page.wait_for_timeout(300)
    return page.get_by_text(re.compile(r"early\. Log it as \w+ now")).is_visible()


def test_a_minute_without_network_and_a_reload_lose_nothing(served: Served, context: Context) -> None:
    c = context(service_workers="allow")
    page = c.new_page()
    sign_in(page, served.address)
    bench_of(page, served.address, "Chickpeas")
    saved(page)
    for _ in range(60):
        if page.evaluate("navigator.serviceWorker.controller !== null"):
            break
        page.wait_for_timeout(500)
    else:
        raise AssertionError("the service worker never took over")
    heading = page.locator(".card h1").inner_text()
    c.set_offline(True)
    page.keyboard.press("Space")
    if asked_whether_early(page):
        page.keyboard.press("Space")
    expect(page.locator(".card h1")).not_to_have_text(heading)
    after = page.locator(".card h1").inner_text()
    page.keyboard.press("n")
    page.fill("textarea[name=text]", "written without network")
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_test_id("saving")).to_contain_text("kept here")
    page.wait_for_timeout(8000)
    page.reload()
    expect(page.locator(".card h1")).to_have_text(after)
    expect(page.get_by_test_id("saving")).to_contain_text("2 kept here")
    page.wait_for_timeout(50_000)
    c.set_offline(False)
    saved(page)
    other = context().new_page()
    sign_in(other, served.address, "cook", "proof-shape-bake")
    other.goto(page.url)
    expect(other.locator(".card h1")).to_have_text(after)
    other.get_by_role("button", name=re.compile(r"^Log \(")).click()
    expect(other.get_by_text("written without network")).to_have_count(1)


def test_over_tls_with_the_local_authority_a_tablet_gets_a_secure_origin(
    server: cluster.Cluster, demo_template: str, chromium: Callable[..., Browser]
) -> None:
    running = serve(copy_of(server, demo_template), "--host", "0.0.0.0", scheme="https")
    try:
        import hashlib
        import ssl
        import urllib.request
        from base64 import b64encode

        from cryptography import x509
        from cryptography.hazmat.primitives import serialization

        authority = running.data / "tls" / "authority.crt"
        trusting = ssl.create_default_context(cafile=str(authority))
        with urllib.request.urlopen(running.address + "/trust", context=trusting, timeout=10) as answer:
            assert b"comes to trust this kitchen" in answer.read()
        with urllib.request.urlopen(
            running.address + "/trust/authority.crt", context=trusting, timeout=10
        ) as answer:
            assert answer.read() == authority.read_bytes()
        assert (running.data / "tls" / "authority.key").stat().st_mode & 0o077 == 0
        # Chromium takes the server's key as trusted, as a tablet does after installing the authority.
        server_crt = x509.load_pem_x509_certificate((running.data / "tls" / "server.crt").read_bytes())
        spki = server_crt.public_key().public_bytes(
            serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo
        )
        pin = b64encode(hashlib.sha256(spki).digest()).decode()
        port = running.address.rsplit(":", 1)[1]
        browser = chromium(
            f"--ignore-certificate-errors-spki-list={pin}", "--host-resolver-rules=MAP kitchen.test 127.0.0.1"
        )
        page = browser.new_context(viewport={"width": 1024, "height": 768}).new_page()
        address = f"https://kitchen.test:{port}"
        sign_in_by_form(page, address)
        assert page.evaluate(
            "window.isSecureContext && 'serviceWorker' in navigator && 'wakeLock' in navigator"
        )
        cookie = next(k for k in page.context.cookies() if k["name"] == "yeasty")
        assert cookie["secure"]
        assert cookie["httpOnly"]
        bench_of(page, address, "Chickpeas")
        page.keyboard.press("n")
        page.fill("textarea[name=text]", "over TLS")
        page.get_by_role("button", name="Log it").click()
        saved(page)
        expect(page.get_by_text("Plain HTTP on this address")).to_have_count(0)
    finally:
        stop(running)


def test_over_plain_http_beyond_loopback_one_is_told_what_will_not_work(
    served: Served, chromium: Callable[..., Browser]
) -> None:
    port = served.address.rsplit(":", 1)[1]
    browser = chromium("--host-resolver-rules=MAP kitchen.test 127.0.0.1")
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    address = f"http://kitchen.test:{port}"
    sign_in_by_form(page, address)
    expect(page.get_by_role("alert")).to_contain_text("the screen will not stay awake")
    bench_of(page, address, "Chickpeas")
    page.keyboard.press("n")
    page.fill("textarea[name=text]", "over plain HTTP")
    page.get_by_role("button", name="Log it").click()
    saved(page)
    page.get_by_role("link", name="How to mend it").click()
    expect(
        page.get_by_text("works on this machine").or_(
            page.get_by_text("On this machine (localhost) all works")
        )
    ).to_be_visible()

"""Half an hour without network, in real time: taps in a browser whose tabs, clock and page are meddled with;
each arrives once.

Starts the program on a demo of its own and real Chromium before it, cuts the network, taps at random moments,
reloads, opens a second tab, closes the first, puts the device's clock back by ten minutes, and only then
gives the network again. Bounded by the minutes asked for. Run: PYTHONPATH=. .venv/bin/python bench/offline.py
[minutes] [taps] [seed]
"""

import json
import os
import platform
import sys
import time
from random import Random

from playwright.sync_api import Page, sync_playwright

from bench.kitchens import kitchen
from tests.e2e.conftest import ARGUMENTS, CHROMIUM, bench_of, sign_in
from tests.e2e.test_nothing_lost import SKEW, note, notes_of, until_there, wait_for_worker


def card(page: Page) -> str:
    """What the card asks for, and when."""
    return " | ".join(s for s in page.locator(".card").first.inner_text().split("\n")[:9] if s.strip())


def main(minutes: float = 30, taps: int = 40, seed: int = 1) -> None:
    random = Random(seed)
    with kitchen() as own, sync_playwright() as p:
        browser = p.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.set_default_timeout(60_000)
        context.add_init_script(f"({SKEW})()")
        page = context.new_page()
        sign_in(page, own.served.address)
        address = bench_of(page, own.served.address, "Turkey")
        shift = address.rsplit("/", 1)[1]
        page.get_by_text("all entries saved").wait_for()
        wait_for_worker(page)
        began = time.time()
        context.set_offline(True)
        told, cards, happened = {}, [card(page)], []
        acts = [
            (0.2, "reload"),
            (0.4, "second tab"),
            (0.5, "first tab closed"),
            (0.7, "clock put back ten minutes"),
            (0.85, "reload"),
        ]
        moments = sorted(random.uniform(0.01, 0.99) for _ in range(taps))
        for share in sorted([*moments, *(s for s, _ in acts)]):
            page.wait_for_timeout(max(0.0, 1000 * (began + share * 60 * minutes - time.time())))
            act = next((a for s, a in acts if s == share), "")
            if act == "reload":
                page.reload()
            elif act == "second tab":
                first, page = page, context.new_page()
                page.goto(address)
            elif act == "first tab closed":
                first.close()
            elif act:
                page.evaluate(
                    "() => { window.__skew = -600_000; localStorage.setItem('test-skew', '-600000') }"
                )
                page.wait_for_timeout(2500)
            page.locator(".card h1").wait_for()
            if act:
                happened.append(act)
                cards.append(card(page))
            else:
                words = f"lost? {len(told):03d}"
                told[words] = time.time()
                note(page, words)
        page.wait_for_timeout(max(0.0, 1000 * (began + 60 * minutes - time.time())))
        cards.append(card(page))
        cut_min = (time.time() - began) / 60
        context.set_offline(False)
        back = time.monotonic()
        until_there(page, own.served.address, shift, taps)
        took = time.monotonic() - back
        stored = notes_of(own.served.address, shift)
        words = [w for w, _ in stored]
        print(
            json.dumps(
                {
                    "machine": f"{os.cpu_count()} cores, {platform.machine()}, Python "
                    f"{platform.python_version()}",
                    "minutes_without_network": round(cut_min, 1),
                    "taps": len(told),
                    "lost": sorted(set(told) - set(words)),
                    "twice": len(words) - len(set(words)),
                    "all_there_after_s": round(took, 1),
                    "largest_error_of_their_time_s": round(max(abs(at - told[w]) for w, at in stored), 1),
                    "meanwhile": happened,
                    "card": cards,
                },
                indent=1,
                ensure_ascii=False,
            )
        )
        browser.close()


if __name__ == "__main__":
    main(*(float(x) for x in sys.argv[1:2]), *(int(x) for x in sys.argv[2:4]))

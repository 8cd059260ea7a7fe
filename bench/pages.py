"""How long a published page takes to come, plain and fitted to a reader's kitchen, over HTTP on this machine.

    PYTHONPATH=. .venv/bin/python bench/pages.py

Median and 95th percentile, with the size of what came. Fitted answers are asked for once before (warm), and
fewer than the limit for one address.
"""

import http.client
import os
import platform
import time
from statistics import median
from urllib.parse import urlsplit

import psycopg

from bench.kitchens import kitchen
from yeasty.store.database import plain_url

PLAIN, WARM = 300, 40
# Each of the demo's pages stands so many times more in the list.
MANY = 50
PAGES = (
    "/p/filled-yeast-buns-air-fried",
    "/p/crisp-chickpeas-which-way-tonight",
    "/p/rice-pudding-every-way-we-tried",
    "/p/",
    "/p/?q=oven&sheet=2",
)
FITTED = (
    "/p/filled-yeast-buns-air-fried?oven=oven&thickness=40",
    "/p/browned-beetroot-what-matters?oven=fan_oven",
    "/p/beetroot-wedges-from-the-steamer-how-long?altitude=1500",
)


def took(address: str, path: str, times: int) -> tuple[list[float], int]:
    """Milliseconds of so many requests on one connection, sorted; bytes of the last."""
    to = urlsplit(address)
    line = http.client.HTTPConnection(to.hostname or "", to.port, timeout=30)
    found, size = [], 0
    for _ in range(times):
        began = time.perf_counter()
        line.request("GET", path)
        answer = line.getresponse()
        size = len(answer.read())
        found.append((time.perf_counter() - began) * 1000)
        assert answer.status == 200, (path, answer.status)
    line.close()
    return sorted(found), size


def copies(url: str, times: int) -> None:
    """So many more pages than the demo has: its own under other addresses."""
    with psycopg.connect(url, autocommit=True) as db:
        db.execute(
            "insert into publication (id, trial_id, slug, version, document, correction, published_at,"
            " published_by, withdrawn_why, from_elsewhere)"
            " select gen_random_uuid(), trial_id, slug || '-' || n, 1000 + n, document, '', published_at,"
            " published_by, '', false from publication, generate_series(1, %s) n",
            (times,),
        )


def told(name: str, ms: list[float], size: int) -> str:
    """One row."""
    return f"{name:<62}{median(ms):>9.1f}{ms[round(0.95 * (len(ms) - 1))]:>9.1f}{size / 1000:>9.1f}"


if __name__ == "__main__":
    with kitchen() as own:
        copies(plain_url(own.database.url), MANY)
        print(f"{platform.machine()}, {os.cpu_count()} cores, load {os.getloadavg()[0]:.1f}")
        print(f"{'page':<62}{'median':>9}{'95 %':>9}{'kB':>9}")
        for path in PAGES:
            took(own.served.address, path, 5)
            print(told(path, *took(own.served.address, path, PLAIN)))
        for path in FITTED:
            first, _ = took(own.served.address, path, 1)
            print(told(path, *took(own.served.address, path, WARM)), f" first {first[0]:.0f} ms")

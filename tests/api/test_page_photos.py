"""Photos of a page: chosen by the lead, cut alike, put into words, and gone with their batch."""

from concurrent.futures import ThreadPoolExecutor
from io import BytesIO
from pathlib import Path
from threading import Thread
from typing import Any

import pytest
from PIL import Image
from pypdf import PdfReader

from tests.api.helpers import Client, an_entry, ok, trial_id
from tests.conftest import run_worker_once
from yeasty.operations.publish.static import write_pages
from yeasty.store.database import make_engine, session_factory

PATH = "/trials/{}/publication"


@pytest.fixture
def buns(lead: Client) -> str:
    return trial_id(lead)


def draft(lead: Client, trial: str) -> dict[str, Any]:
    return dict(lead.get(PATH.format(trial)).json)


def choose(lead: Client, trial: str, rows: list[dict[str, Any]]) -> Any:
    return lead.send("PATCH", PATH.format(trial), {"pictures": rows}, draft(lead, trial)["version"])


def plain(p: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in p.items() if k != "box"}


def picture(data: bytes) -> Image.Image:
    return Image.open(BytesIO(data))


def test_a_page_shows_its_photos_with_words_and_sizes(lead: Client, app: Any, buns: str) -> None:
    reader = app.test_client()
    out = draft(lead, buns)["versions"][0]["path"]
    page = reader.get(out).text
    ways = {p["way"] for p in draft(lead, buns)["photos"]}
    assert page.count("<figure>") == 1 + len(ways)
    assert 'alt="Drawing of a cut bun, white all over, around a dark filling"' in page
    assert f'<meta property="og:image" content="http://localhost{out}/photos/1-640.jpg">' in page
    assert reader.get(out + "/recipe.json").json["image"].endswith(f"{out}/photos/1-640.jpg")
    assert "white all over" in reader.get(out + "/method.md").text
    large, small = (picture(reader.get(f"{out}/photos/2-{w}.jpg").data) for w in (512, 360))
    assert (large.size, small.size) == ((512, 384), (360, 270))
    assert not large.getexif()
    assert reader.get(f"{out}/photos/2-512.jpg").headers["Cache-Control"] == "public, max-age=86400"
    for name in ("2-511.jpg", "9-360.jpg", "2-360.png", "²-360.jpg", "0-360.jpg"):
        assert reader.get(f"{out}/photos/{name}").status_code == 404, name
    whole = draft(lead, buns)["photos"][0]["photo"]
    assert reader.get(f"/api/v1/trials/{buns}/photos/{whole}").status_code in (401, 403)


def test_what_is_cut_away_is_in_no_file(lead: Client, buns: str) -> None:
    rows = [plain(p) for p in draft(lead, buns)["pictures"]]
    first = next(p for p in rows if p["spot"] == "first")
    first.update(x=0.0, y=0.0, zoom=4)
    told = choose(lead, buns, rows)
    assert told.status_code == 200
    box = next(p["box"] for p in told.json["pictures"] if p["spot"] == "first")
    assert box == [0.0, 0.0, 0.25, pytest.approx(0.1667, abs=0.001)]
    corner = picture(lead.get(PATH.format(buns) + "/photos/1-160.jpg").data)
    assert corner.size == (160, 80)
    # The corner of the drawing is bare table: nothing of the bun is in it.
    spread = [high - low for low, high in corner.getextrema()]  # type: ignore[misc,operator]
    assert max(spread) < 30


def test_words_are_asked_for_before_a_photo_goes_out(lead: Client, buns: str) -> None:
    rows = [plain(p) for p in draft(lead, buns)["pictures"]]
    rows[0]["alt"] = " "
    ok(choose(lead, buns, rows))
    refused = lead.send("POST", f"/trials/{buns}/publications", {"correction": "photos"})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"].startswith("photo 1")
    rows[0]["alt"] = "A cut bun"
    ok(choose(lead, buns, rows))
    out = lead.send("POST", f"/trials/{buns}/publications", {"correction": "photos"})
    assert out.status_code == 201


def test_what_may_not_be_shown_is_refused_by_its_number(lead: Client, buns: str) -> None:
    d = draft(lead, buns)
    rows = [plain(p) for p in d["pictures"]]
    ways = {p["way"]: p["photo"] for p in d["photos"]}
    one, other = list(ways)[:2]
    nobody = "00000000-0000-4000-8000-000000000000"
    cases = [
        ({"photo": nobody, "spot": "first"}, "of no judged batch"),
        ({"photo": ways[one], "spot": "way", "way": other}, "of another method"),
        ({"photo": ways[one], "spot": "step", "way": one, "step": ""}, "no step"),
    ]
    for row, word in cases:
        told = choose(lead, buns, [row])
        assert told.status_code == 422
        assert word in told.json["errors"][0]["message"], told.json
    assert choose(lead, buns, [rows[0], rows[0]]).status_code == 422
    assert choose(lead, buns, [{**rows[0], "zoom": 40}]).status_code == 422
    assert [plain(p) for p in draft(lead, buns)["pictures"]] == rows, "what stood stands"


def test_a_photo_at_a_step_stands_there_and_its_cook_may_not_be_seen(lead: Client, buns: str) -> None:
    d = draft(lead, buns)
    step = next(s for s in d["photo_steps"] if s["what"] == "Air-fry")
    photo = next(p["photo"] for p in d["photos"] if p["way"] == step["way"])
    row = {"photo": photo, "spot": "step", "way": step["way"], "step": step["step"], "alt": "in the basket"}
    ok(choose(lead, buns, [row]))
    page = lead.get(PATH.format(buns) + "/page").text
    at = page.index('alt="in the basket"')
    assert page.rindex("<b>Air-fry</b>", 0, at) > page.rindex("<b>Load the basket</b>", 0, at)
    assert at < page.index("<b>Shake the basket</b>")


def test_a_photo_falls_with_its_batch(lead: Client, demo_url: str, buns: str) -> None:
    shift = lead.get(f"/trials/{buns}/shifts").json["items"][0]["id"]
    bench = lead.get(f"/shifts/{shift}/bench").json
    batch = next(b for b in bench["batches"] if b["tag"] == "OV")
    before = lead.get(PATH.format(buns) + "/page").text
    assert "Oven, cut" in before
    void = an_entry(batch["id"], "void", {"why": "wrong flour"})
    ok(lead.send("POST", f"/shifts/{shift}/entries", {"entries": [void]}))
    lead.get(f"/trials/{buns}/decision")
    run_worker_once(demo_url)
    page = lead.get(PATH.format(buns) + "/page").text
    assert "Oven, cut" not in page
    assert "Air fryer, cut" in page
    assert page.count("<figure>") == before.count("<figure>") - 1
    # The files follow: each number is that of a photo on the page.
    assert lead.get(PATH.format(buns) + f"/photos/{page.count('<figure>')}-360.jpg").status_code == 200
    assert lead.get(PATH.format(buns) + f"/photos/{before.count('<figure>')}-360.jpg").status_code == 404


def test_a_version_keeps_its_photos_whatever_is_chosen_later(lead: Client, app: Any, buns: str) -> None:
    reader = app.test_client()
    out = draft(lead, buns)["versions"][0]["path"]
    before = reader.get(f"{out}/photos/1-640.jpg").data
    rows = [plain(p) for p in draft(lead, buns)["pictures"]]
    ok(choose(lead, buns, rows[1:]))
    ok(lead.send("POST", f"/trials/{buns}/publications", {"correction": "no first photo"}))
    assert reader.get(f"{out}/photos/1-640.jpg").data == before
    newest = draft(lead, buns)["versions"][0]["path"]
    page = reader.get(newest).text
    assert "og:image" not in page
    assert "5 photos, where there were 6." in page
    ok(lead.send("POST", f"/trials/{buns}/withdrawal", {"why": "a mistake"}))
    assert reader.get(f"{out}/photos/1-640.jpg").status_code == 410


def test_paper_and_plain_files_carry_them(
    lead: Client, app: Any, demo_url: str, buns: str, tmp_path: Path
) -> None:
    version = draft(lead, buns)["versions"][0]
    lead.get(version["path"] + "/method.pdf")
    run_worker_once(demo_url)
    pdf = PdfReader(BytesIO(app.test_client().get(version["path"] + "/method.pdf").data))
    assert sum(len(p.images) for p in pdf.pages) >= 6
    engine = make_engine(demo_url, pool=1)
    with session_factory(engine)() as db:
        write_pages(db, tmp_path)
    engine.dispose()
    page = (tmp_path / f"{version['slug']}.html").read_text("utf-8")
    for n in range(1, 7):
        name = f"{version['slug']}-{n}-{640 if n == 1 else 512}.jpg"
        assert f'src="{name}"' in page
        assert picture((tmp_path / name).read_bytes()).format == "JPEG"


def test_many_readers_ask_at_once_while_the_worker_makes_them(
    lead: Client, app: Any, demo_url: str, buns: str
) -> None:
    ok(lead.send("POST", f"/trials/{buns}/publications", {"correction": "once more"}))
    out = draft(lead, buns)["versions"][0]["path"]
    names = [f"{n}-{w}.jpg" for n in range(2, 7) for w in (360, 512)]

    def ask(name: str) -> tuple[int, bytes]:
        got = app.test_client().get(f"{out}/photos/{name}")
        return got.status_code, got.data

    worker = Thread(target=run_worker_once, args=(demo_url,))
    worker.start()
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(ask, names * 6))
    worker.join()
    assert {status for status, _ in found} == {200}
    assert len({data for _, data in found}) == len(names), "whoever makes it, each is the same"
    assert {ask(name) for name in names} == set(found)

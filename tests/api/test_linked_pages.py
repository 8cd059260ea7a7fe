"""Pages that belong to each other, lessons, a card for another site, units and words of whoever reads."""

import re
from typing import Any

import pytest

from tests.api.helpers import Client, ok, trial_id
from tests.conftest import run_worker_once

PATH = "/trials/{}/publication"
HELD = "Salt early, whichever way it is cooked.\nNothing is crisper than a dry rim."


@pytest.fixture
def buns(lead: Client) -> str:
    return trial_id(lead)


def slug_of(lead: Client, trial: str) -> str:
    return str(lead.get(PATH.format(trial)).json["versions"][0]["slug"])


@pytest.fixture
def other(lead: Client, buns: str) -> str:
    """Another trial whose page is out."""
    trials = (str(t["id"]) for t in lead.get("/trials").json["items"])
    return next(t for t in trials if t != buns and lead.get(PATH.format(t)).json["versions"])


def write(lead: Client, trial: str, **what: Any) -> Any:
    return lead.send("PATCH", PATH.format(trial), what, lead.get(PATH.format(trial)).json["version"])


def publish(lead: Client, trial: str) -> str:
    ok(lead.send("POST", f"/trials/{trial}/publications", {"correction": "what belongs to it"}))
    return str(lead.get(PATH.format(trial)).json["versions"][0]["path"])


def test_a_page_tells_what_belongs_to_it_until_that_is_withdrawn(
    lead: Client, app: Any, buns: str, other: str
) -> None:
    reader = app.test_client()
    slug = slug_of(lead, other)
    view = write(lead, buns, linked=[slug, slug], lessons=HELD).json
    assert view["texts"]["linked"] == slug, "once"
    assert slug in {p["slug"] for p in view["linkable"]}
    assert slug_of(lead, buns) not in {p["slug"] for p in view["linkable"]}, "not itself"
    assert {"field": "Lessons", "words": "crisper than"} in view["opinions"]
    out = publish(lead, buns)
    theirs = lead.get(PATH.format(other)).json
    page, text = reader.get(out).text, reader.get(out + "/method.md").text
    for told in (page, text):
        assert "Whichever way it is cooked" in told
        assert "Salt early" in told
        assert "Belongs to it" in told
    assert f'<a href="/p/{slug}">' in page
    assert theirs["headline"].split(",")[0] in page
    assert "Belongs to it now:" in page, "among what changed"
    ok(lead.send("POST", f"/trials/{other}/withdrawal", {"why": "a figure was wrong"}))
    for told in (reader.get(out).text, reader.get(out + "/method.md").text):
        assert f"/p/{slug}" not in told
        assert "Belongs to it</h2>" not in told
        assert "## Belongs to it" not in told
    assert slug not in {p["slug"] for p in lead.get(PATH.format(buns)).json["linkable"]}


def test_a_sheet_that_quotes_a_page_is_made_anew_once_that_is_withdrawn(
    lead: Client, app: Any, demo_url: str, buns: str, other: str
) -> None:
    reader = app.test_client()
    ok(write(lead, buns, linked=[slug_of(lead, other)]))
    out = publish(lead, buns)
    run_worker_once(demo_url)
    assert reader.get(out + "/method.pdf").status_code == 200
    ok(lead.send("POST", f"/trials/{other}/withdrawal", {"why": "a figure was wrong"}))
    assert reader.get(out + "/method.pdf").status_code == 202, "being made again"


@pytest.mark.parametrize(
    ("slugs", "told"), [(["nowhere"], "no page that is out"), (["x"] * 9, "more than 8")]
)
def test_what_is_no_page_cannot_belong_to_one(lead: Client, buns: str, slugs: list[str], told: str) -> None:
    refused = write(lead, buns, linked=slugs)
    assert refused.status_code == 422
    assert told in str(refused.json)
    assert "linked" not in lead.get(PATH.format(buns)).json["texts"]


def test_a_card_may_stand_anywhere_and_runs_nothing(lead: Client, app: Any, buns: str) -> None:
    reader, slug = app.test_client(), slug_of(lead, buns)
    got = reader.get(f"/p/{slug}/card")
    policy = got.headers["Content-Security-Policy"]
    assert "frame-ancestors *" in policy
    assert "default-src 'none'" in policy
    assert "<script" not in got.text
    assert "<form" not in got.text
    assert f'href="http://localhost/p/{slug}" target="_blank"' in got.text
    draft = lead.get(PATH.format(buns)).json
    assert draft["how_sure"] in got.text
    shown = re.search(r'src="http://localhost(/p/[^"]+)"', got.text)
    assert shown
    assert reader.get(shown[1]).status_code == 200
    assert "frame-ancestors 'none'" in reader.get(f"/p/{slug}").headers["Content-Security-Policy"]
    ok(lead.send("POST", f"/trials/{buns}/withdrawal", {"why": "a figure was wrong"}))
    gone = reader.get(f"/p/{slug}/card")
    assert gone.status_code == 410
    assert "withdrawn" in gone.text
    assert reader.get("/p/nowhere/card").status_code == 404


def test_a_reader_has_a_page_in_their_units_and_it_is_kept_in_its_links(lead: Client, app: Any) -> None:
    reader = app.test_client()
    for slug in re.findall(r'href="/p/([a-z0-9-]+)"', reader.get("/p/").text):
        both, metric, us = (reader.get(f"/p/{slug}{q}").text for q in ("", "?units=metric", "?units=us"))
        seen = {
            u: re.sub(r"<(script|form)\b.*?</\1>|<[^>]+>", " ", t, flags=re.S)
            for u, t in (("both", both), ("metric", metric), ("us", us))
        }
        assert " °F" not in re.sub(r"USDA[^.]*", "", seen["metric"]), slug
        assert " °C" not in seen["us"], slug
        if "method.pdf" in both:
            assert "units=us" in us.split("method.pdf")[1][:80]
    odd = reader.get(f"/p/{slug_of(lead, trial_id(lead))}?units=stone").text
    assert "Units: choose one of the list." in odd


def test_a_colder_start_is_carried_over_on_the_page_and_food_that_can_hurt_is_not_warmed(
    lead: Client, app: Any
) -> None:
    reader = app.test_client()
    slugs = re.findall(r'href="/p/([a-z0-9-]+)"', reader.get("/p/").text)
    asked = [s for s in slugs if 'name="start"' in reader.get(f"/p/{s}").text]
    assert asked, "no page of the demo asks how cold the food is"
    for slug in asked:
        fridge = reader.get(f"/p/{slug}?start=fridge").text
        assert 'value="fridge" selected' in fridge
        assert "in your kitchen; ours:" in fridge or "Left as it is" in fridge or "Not carried over" in fridge


def trial_of(lead: Client, slug: str) -> str:
    trials = (str(t["id"]) for t in lead.get("/trials").json["items"])
    return next(t for t in trials if slug in [v["slug"] for v in lead.get(PATH.format(t)).json["versions"]])


def test_a_reader_may_want_another_point_of_how_long_and_is_told_which_is_recommended(
    lead: Client, app: Any
) -> None:
    reader = app.test_client()
    slug = next(s for s in re.findall(r'href="/p/([a-z0-9-]+)"', reader.get("/p/").text) if "how-long" in s)
    page = reader.get(f"/p/{slug}").text
    points = re.findall(r'<option value="([^"]+)">(\d+ min): ([^<]+)<', page)
    assert len(points) == 5
    for tag, minutes, came_to in points:
        mine = reader.get(f"/p/{slug}?done={tag}").text
        assert f"Told for {minutes}, as you asked. This page recommends 30 min." in mine
        assert re.search(rf"<b>Steam</b></p>\s*<p class=\"n\">{minutes} ", mine)
        assert f"<td>{minutes}</td><td>{came_to}</td>" in page.replace("<b>", "").replace("</b>", "")
        assert f"done={tag}" in mine.split("method.pdf")[1][:80]
        assert f'<option value="{tag}" selected>{minutes}</option>' in mine, "who cooked it cooked this"
    version = lead.get(PATH.format(trial_of(lead, slug))).json["versions"][0]["version"]
    where = f"/api/v1/published/{slug}/{version}/tries"
    assert reader.post(where, data={"way": points[0][0], "came": "badly"}).status_code == 200
    assert reader.post(where, data={"came": "well"}).status_code == 422, "of which point is not guessed"
    said = lead.get(f"/trials/{trial_of(lead, slug)}/reader-tries").json["items"]
    assert [(t["method"], t["came"]) for t in said] == [(points[0][1], "badly")]
    same = reader.get(f"/p/{slug}?done=nothing").text
    assert "as you asked" not in same

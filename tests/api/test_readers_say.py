"""Readers who cooked it: read first, counted beside the evidence, no caution set aside."""

from typing import Any

import pytest

from tests.api.helpers import Client, ok, trial_id


@pytest.fixture
def buns(lead: Client) -> str:
    return trial_id(lead)


@pytest.fixture
def out(lead: Client, buns: str) -> str:
    return str(lead.get(f"/trials/{buns}/publication").json["versions"][0]["path"])


def send(app: Any, out: str, **said: str) -> Any:
    return app.test_client().post(f"/api/v1/published{out.removeprefix('/p')}/tries", data=said)


def tries(lead: Client, trial: str) -> list[dict[str, Any]]:
    return list(lead.get(f"/trials/{trial}/reader-tries").json["items"])


def test_it_is_counted_once_somebody_has_read_it(lead: Client, app: Any, buns: str, out: str) -> None:
    reader = app.test_client()
    before = reader.get(out).text
    assert "2 readers say that they cooked it (1 well, 1 fairly)" in before
    sent = send(app, out, came="badly", took="25 min", kitchen="an oven", note="Mine split at the seam")
    assert sent.status_code == 200
    assert "Thank you" in sent.text
    assert reader.get(out).text == before, "nobody has looked yet"
    new = tries(lead, buns)[0]
    assert (new["came"], new["took_s"], new["counted"], new["method"]) == ("badly", 1500, None, "Air fryer")
    one = f"/trials/{buns}/reader-tries/{new['id']}"
    ok(lead.send("PUT", one, {"counted": True}))
    page = reader.get(out).text
    assert "3 readers say that they cooked it (1 well, 1 fairly, 1 badly)" in page
    assert "split at the seam" not in page, "its note was not let through"
    ok(lead.send("PUT", one, {"counted": True, "note_shown": True}))
    assert "“Mine split at the seam”" in reader.get(out).text
    ok(lead.send("PUT", one, {"counted": False}))
    assert reader.get(out).text == before
    evidence = lead.get(f"/trials/{buns}/decision").json["outcome"]["answer"]
    assert "reader" not in str(evidence).lower(), "it is no evidence"


def test_a_note_that_sets_a_caution_aside_is_never_shown(lead: Client, app: Any, buns: str, out: str) -> None:
    ok(send(app, out, came="well", note="Still raw in the middle but fine"))
    new = tries(lead, buns)[0]
    assert new["against"]
    one = f"/trials/{buns}/reader-tries/{new['id']}"
    refused = lead.send("PUT", one, {"counted": True, "note_shown": True})
    assert refused.status_code == 409
    assert "never shown" in refused.json["errors"][0]["message"]
    ok(lead.send("PUT", one, {"counted": True}))
    assert "raw in the middle" not in app.test_client().get(out).text


def test_it_leads_to_a_thing_to_try(lead: Client, app: Any, buns: str, out: str) -> None:
    ok(send(app, out, came="badly", note="Mine split at the seam"))
    new = tries(lead, buns)[0]
    ok(lead.send("POST", f"/trials/{buns}/reader-tries/{new['id']}/promise", {}))
    promised = lead.get("/promises").json["items"][0]
    assert promised["text"] == "Air fryer, cooked by a reader, came out badly: Mine split at the seam"
    assert promised["source"] == "reader"


@pytest.mark.parametrize(
    ("said", "word"),
    [
        ({"came": "splendid"}, "how it came out"),
        ({}, "how it came out"),
        ({"came": "well", "took": "a while"}, "duration"),
        ({"came": "well", "took": "900 h"}, "time"),
    ],
)
def test_what_cannot_be_is_told_to_the_reader(app: Any, out: str, said: dict[str, str], word: str) -> None:
    told = send(app, out, **said)
    assert told.status_code == 422
    assert word in told.text
    assert "Go back" in told.text


def test_a_trap_a_flood_and_what_is_not_there(lead: Client, app: Any, buns: str, out: str) -> None:
    before = len(tries(lead, buns))
    assert send(app, out, came="well", website="https://example.org").status_code == 200
    assert len(tries(lead, buns)) == before
    assert send(app, "/p/none/1", came="well").status_code == 404
    assert [send(app, out, came="well").status_code for _ in range(6)] == [200] * 5 + [429]
    assert len(tries(lead, buns)) == before + 5
    other = "00000000-0000-4000-8000-000000000000"
    assert lead.send("PUT", f"/trials/{buns}/reader-tries/{other}", {"counted": True}).status_code == 422


def test_what_is_not_lead_counts_nothing(lead: Client, cook: Client, buns: str) -> None:
    waiting = next(t for t in tries(lead, buns) if t["counted"] is None)
    one = f"/trials/{buns}/reader-tries/{waiting['id']}"
    assert cook.send("PUT", one, {"counted": True}).status_code == 403


def test_a_page_of_several_ways_asks_which(app: Any, lead: Client) -> None:
    items = lead.get("/trials?limit=100").json["items"]
    chickpeas = next(t["id"] for t in items if "Chickpeas, crisped" in t["title"])
    out = lead.get(f"/trials/{chickpeas}/publication").json["versions"][0]["path"]
    page = app.test_client().get(out).text
    assert '<select name="way" required>' in page
    assert "Choose which" in send(app, out, came="well").text
    tag = page.split('<select name="way" required>')[1].split('<option value="')[2].split('"')[0]
    ok(send(app, out, came="well", way=tag))
    assert tries(lead, chickpeas)[0]["came"] == "well"

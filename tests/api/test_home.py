"""What the kitchen sees first: what is in the heat, and what waits for whom; nothing that is over."""

import re
import time
from datetime import UTC, datetime, timedelta
from typing import Any

from tests.api.helpers import Client, an_entry, make_shift, new_trial, ok, sitting, trial_id
from tests.conftest import run_worker_once
from yeasty.operations.kitchen.home import home
from yeasty.store.cook.tables import Shift
from yeasty.store.database import make_engine, session_factory


def seen(client: Client) -> dict[str, Any]:
    return dict(client.get("/home").json)


def of(client: Client, trial: str) -> list[str]:
    return [w["words"] for w in seen(client)["items"] if f"/trials/{trial}/" in w["path"]]


def test_the_sentence_is_made_of_what_stands_below_it_and_each_leads_somewhere(lead: Client) -> None:
    told = seen(lead)
    for item in told["items"]:
        if item["brief"]:
            assert item["brief"][1:] in told["sentence"]
        assert item["path"].startswith("/")
    assert "in the heat" in " ".join(w["words"] for w in told["items"])


def test_a_shift_is_planned_until_something_is_logged_and_gone_once_it_ended(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    [words] = of(lead, t["id"])
    assert words.startswith("planned, plates at ")
    assert re.search(r"in (2 h|1 h 5\d min)$", words)
    assert "cauliflower florets: plates" not in seen(lead)["sentence"]
    # A plan that has come is no cooking yet.
    run_worker_once(demo_url)
    assert of(lead, t["id"])[0].startswith("planned, plates at ")
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    ok(
        lead.send(
            "POST", f"/shifts/{shift}/entries", {"entries": [an_entry(batch, "note", {"text": "begun"})]}
        )
    )
    [words] = of(lead, t["id"])
    assert words.startswith("in the heat, plates at ")
    assert "cauliflower florets: plates at" in seen(lead)["sentence"].lower()
    ok(lead.send("POST", f"/shifts/{shift}/end"))
    assert of(lead, t["id"]) == []


def test_a_shift_that_is_late_says_so_and_one_that_was_forgotten_is_left_out(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    with session_factory(make_engine(demo_url))() as db:
        serve = db.get_one(Shift, shift).serve_from

        def words(after: timedelta) -> list[str]:
            return [w.words for w in home(db, serve + after) if t["id"] in w.path]

        assert words(timedelta(minutes=-6))[0].endswith("in 6 min")
        assert "plates were to meet at" in words(timedelta(minutes=1))[0]
        assert words(timedelta(hours=13)) == []
        assert words(timedelta(hours=-30)) == []


def test_who_is_missing_at_a_tasting_is_counted_until_its_codes_are_opened(
    lead: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["Ann", "Ben"])
    trial = str(lead.get("/trials").json["items"][0]["id"])
    assert of(lead, trial)[-1] == "being tasted, 2 tasters are missing"
    assert "2 tasters are missing at" in seen(lead)["sentence"]
    seats = [s["id"] for s in tasting["seats"]]
    ok(lead.send("POST", f"/tastings/{tasting['id']}/seats/{seats[0]}/leave"))
    assert of(lead, trial)[-1] == "being tasted, 1 taster is missing"
    ok(lead.send("PUT", f"/trials/{trial}/put-away", {"away": True}))
    assert of(lead, trial) == []


def test_a_verdict_is_new_until_somebody_of_the_kitchen_has_looked(
    lead: Client, cook: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["Ann", "Ben"])
    t = lead.get("/trials").json["items"][0]
    assert "verdict" not in " ".join(of(lead, t["id"]))
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}))
    assert of(cook, t["id"])[-1] == "its codes are open: nobody has looked at the verdict yet"
    assert f"verdict on {t['title']} is new" in seen(cook)["sentence"]
    # Twice is as good as once.
    ok(cook.send("POST", f"/trials/{t['id']}/decision/looked-at"))
    ok(cook.send("POST", f"/trials/{t['id']}/decision/looked-at"))
    assert "verdict" not in " ".join(of(lead, t["id"]))


def test_what_readers_say_waits_until_somebody_has_looked(app: Any, lead: Client) -> None:
    buns = trial_id(lead)
    version = lead.get(f"/trials/{buns}/publication").json["versions"][0]
    before = of(lead, buns)
    guest = app.test_client()
    where = f"/api/v1/published/{version['slug']}/{version['version']}"
    assert guest.post(f"{where}/tries", data={"came": "well"}).status_code == 200
    after = of(lead, buns)
    assert after != before
    assert "not looked at yet" in after[0]
    for item in lead.get(f"/trials/{buns}/reader-tries").json["items"]:
        if item["counted"] is None:
            body = {"counted": False, "note_shown": False}
            ok(lead.send("PUT", f"/trials/{buns}/reader-tries/{item['id']}", body))
    assert of(lead, buns) == []


def test_a_guest_sees_nothing_of_it(app: Any) -> None:
    assert app.test_client().get("/api/v1/home").status_code == 401


def test_nothing_is_said_of_a_kitchen_without_anything(empty_url: str) -> None:
    from yeasty.cli import prepare

    prepare(empty_url, demo=False, fresh=False)
    with session_factory(make_engine(empty_url))() as db:
        rows = home(db, datetime.fromtimestamp(time.time(), UTC))
    assert [w.brief for w in rows if w.brief] == []
    assert [w.path for w in rows] == ["/kitchen/safety"]


def test_the_demo_waits_for_tasters_at_one_table_and_for_codes_at_another(lead: Client) -> None:
    told = seen(lead)["sentence"]
    assert "2 tasters are missing at Flatbread, pan or griddle" in told
    assert "everybody has tasted Beetroot, roasted or boiled: the codes can be opened" in told
    states = {t["title"]: t["state"] for t in lead.get("/trials").json["items"]}
    assert states["Flatbread, pan or griddle"] == states["Beetroot, roasted or boiled"] == "tasting"

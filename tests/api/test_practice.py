"""A practice trial goes through all six stations with stand-ins, and nothing of it counts outside of it."""

import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from tests.api.helpers import Client, ok, trial_id
from tests.api.test_rehearsals import faster
from tests.conftest import run_worker_once
from yeasty.operations.kitchen import practice
from yeasty.process.rehearse import Rehearser


@pytest.fixture
def rehearser(demo_url: str) -> Iterator[Rehearser]:
    made = Rehearser(demo_url)
    yield made
    made.engine.dispose()


def at(client: Client, trial: str) -> dict[str, Any]:
    seen = client.get(f"/trials/{trial}/practice").json
    stage = seen["stages"][seen["at"]]
    return dict(stage) | {"shift": seen["shift_id"]}


def act(client: Client, trial: str, what: str) -> Any:
    return client.send("POST", f"/trials/{trial}/practice", {"act": what})


def cooked(client: Client, url: str, rehearser: Rehearser, trial: str) -> str:
    """The stand-ins have cooked; the shift."""
    assert client.get(f"/trials/{trial}/practice").json["stages"][2]["act"] == "cook"
    ok(act(client, trial, "cook"))
    # A second touch asks for nothing twice.
    assert "being cooked" in act(client, trial, "cook").json["errors"][0]["message"]
    shift = str(at(client, trial)["shift"])
    run_worker_once(url)
    faster(url, shift)
    until = time.monotonic() + 120
    while not client.get(f"/trials/{trial}/practice").json["stages"][2]["done"] and time.monotonic() < until:
        rehearser.look()
        run_worker_once(url)
        time.sleep(0.3)
    told = client.get(f"/shifts/{shift}/rehearsal").json
    assert told["state"] == "over", told
    return shift


def test_a_practice_goes_through_all_six_stations(lead: Client, demo_url: str, rehearser: Rehearser) -> None:
    trial = lead.send("POST", "/practice", {}).json
    t = trial["id"]
    assert trial["simulated"]
    assert at(lead, t)["station"] == "ask"
    # In their order, however far ahead somebody looks.
    assert "to taste yet" in act(lead, t, "taste").json["errors"][0]["message"]
    assert "not there yet" in act(lead, t, "open").json["errors"][0]["message"]
    said = lead.send("PATCH", f"/trials/{t}", {"hunch": "The griddle, by a little."}, trial["version"])
    assert said.status_code == 200, said.json

    assert at(lead, t)["station"] == "setup"
    told = lead.get(f"/trials/{t}/fairness").json
    doubts = [d for d in told["differences"] if not d["varied"] and not d["result"] and not d["accepted"]]
    assert [d["field"] for d in doubts] == ["weight of a piece"]
    griddle = lead.get(f"/trials/{t}").json["methods"][1]
    assert griddle["technique"] == "griddle"
    # Settled by making it so, as well as by a reason: the records tell.
    ok(lead.send("PATCH", f"/trials/{t}/methods/{griddle['id']}", {"piece_kg": 0.029}, trial["version"] + 1))
    assert lead.get(f"/trials/{t}/fairness").json["open_count"] == 0

    # Real food has no place in it.
    serve = datetime.now(UTC) + timedelta(hours=3)
    real = lead.send("POST", f"/trials/{t}/shifts", {"serve_from": serve.isoformat()})
    assert "practice trial" in real.json["errors"][0]["message"]
    shift = cooked(lead, demo_url, rehearser, t)
    assert "practice" in lead.send("POST", f"/shifts/{shift}/for-real").json["errors"][0]["message"]

    assert (at(lead, t)["station"], at(lead, t)["act"]) == ("taste", "taste")
    ok(act(lead, t, "taste"))
    assert "has been held" in act(lead, t, "taste").json["errors"][0]["message"]
    (sat,) = lead.get(f"/trials/{t}/tastings").json["items"]
    assert [s["finished"] for s in sat["seats"]] == [True] * 6
    # A lead opens the codes as in real life: nothing is done for them.
    assert (at(lead, t)["station"], at(lead, t)["act"]) == ("taste", "")
    ok(lead.send("POST", f"/tastings/{sat['id']}/open", {"though_unfinished": False}))
    run_worker_once(demo_url)
    assert at(lead, t)["station"] == "decide"
    verdict = lead.get(f"/trials/{t}/decision").json
    ids = {m["name"]: m["id"] for m in lead.get(f"/trials/{t}").json["methods"]}
    judged = {b["method"] for b in verdict["outcome"]["methods"]}
    assert judged == set(ids.values())
    assert verdict["outcome"]["answer"]["how_sure"] != "clear"
    ok(lead.send("POST", f"/trials/{t}/decision/looked-at", {}))
    assert at(lead, t)["station"] == "publish"
    out = lead.send("POST", f"/trials/{t}/publications", {"method_id": ids["Griddle"]})
    assert out.status_code == 409
    assert "practice" in str(out.json)


def test_nothing_of_a_practice_counts_outside(
    cook: Client, demo_url: str, rehearser: Rehearser, monkeypatch: pytest.MonkeyPatch
) -> None:
    def waiting() -> list[tuple[str, str]]:
        return [(w["path"], w["trial"]) for w in cook.get("/home").json["items"]]

    before = waiting()
    assert before
    people = [p["name"] for p in cook.get(f"/trials/{trial_id(cook)}/tastings").json["panelists"]]
    t = cook.send("POST", "/practice", {}).json["id"]
    # Stand-ins on a busy machine are late: their clock comes to be ahead of the day's.
    monkeypatch.setattr(practice, "BEFORE_NOW_S", -3600.0)
    cooked(cook, demo_url, rehearser, t)
    ok(act(cook, t, "taste"))
    assert waiting() == before
    # A cook may open no codes but these.
    sat = cook.get(f"/trials/{t}/tastings").json
    assert cook.send("POST", f"/tastings/{sat['items'][0]['id']}/open", {}).status_code == 403
    ok(act(cook, t, "open"))
    assert waiting() == before
    run_worker_once(demo_url)
    page = cook.get(f"/trials/{t}/publication").json
    assert page["unfit"] == {}, "it was cooked before it was tasted"
    assert page["headline"]
    assert [p["name"] for p in sat["panelists"]] == people
    said = cook.send(
        "POST", "/trial-proposals", {"dish": "flatbread", "question": "?", "techniques": []}
    ).json
    assert "Practice" not in said["earlier"]


def test_a_trial_that_is_none_has_no_practice(lead: Client) -> None:
    real = trial_id(lead)
    assert lead.get(f"/trials/{real}/practice").status_code == 404
    assert act(lead, real, "taste").status_code == 404

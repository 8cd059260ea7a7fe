"""A rehearsal from a planned shift to its report, driven as the program drives it; nothing of it counts."""

import time
from collections.abc import Iterator
from typing import Any

import pytest

from tests.api.helpers import Client, make_shift, new_trial, ok
from tests.conftest import run_worker_once
from yeasty.process.rehearse import INTERRUPTED, Rehearser
from yeasty.store.cook.tables import Rehearsal, Shift
from yeasty.store.database import make_engine, session_factory

# As fast as no button lets it go: the test looks at what comes out, not at how it looks meanwhile.
FAST = 600.0


@pytest.fixture
def rehearser(demo_url: str) -> Iterator[Rehearser]:
    made = Rehearser(demo_url)
    yield made
    made.engine.dispose()


def faster(url: str, shift: str) -> None:
    with session_factory(make_engine(url)).begin() as db:
        row = db.get_one(Shift, shift)
        now = time.time()
        origin = row.clock().at(now)
        row.clock_origin = row.clock_origin.fromtimestamp(origin, row.clock_origin.tzinfo)  # type: ignore[union-attr]
        row.clock_anchor = row.clock_anchor.fromtimestamp(now, row.clock_anchor.tzinfo)  # type: ignore[union-attr]
        row.clock_rate = FAST


def gone_through(lead: Client, url: str, rehearser: Rehearser, shift: str) -> dict[str, Any]:
    run_worker_once(url)
    faster(url, shift)
    until = time.monotonic() + 120
    while time.monotonic() < until:
        rehearser.look()
        run_worker_once(url)
        seen = lead.get(f"/shifts/{shift}/rehearsal").json
        if seen["state"] in ("over", "failed"):
            return dict(seen)
        time.sleep(0.3)
    raise AssertionError(lead.get(f"/shifts/{shift}/rehearsal").json)


def test_a_planned_shift_is_rehearsed_told_and_then_cooked_for_real(
    lead: Client, demo_url: str, rehearser: Rehearser
) -> None:
    t = new_trial(lead, ("oven", "steamer"))
    real = make_shift(lead, t)["id"]
    refused = lead.send("POST", f"/shifts/{real}/rehearsals", {})
    assert "no plan yet" in refused.json["errors"][0]["message"]
    run_worker_once(demo_url)
    made = lead.send("POST", f"/shifts/{real}/rehearsals", {"speed": 60})
    assert made.status_code == 201
    shift = made.json["id"]
    assert made.json["simulated"]
    before = lead.get(f"/shifts/{shift}/rehearsal").json
    assert before["state"] == "waiting"
    assert str(before["of_shift_id"]) == real
    again = lead.send("PUT", f"/shifts/{shift}/rehearsal", {})
    assert "stand-ins already" in again.json["errors"][0]["message"]
    seen = gone_through(lead, demo_url, rehearser, shift)
    assert seen["state"] == "over", seen["problem"]
    told = seen["report"]
    assert len(told["plates"]) == 2
    assert all(p["done"] for p in told["plates"]), told
    assert told["ready"]
    bench = lead.get(f"/shifts/{shift}/bench").json
    kinds = {e["kind"] for e in bench["entries"]}
    assert {"in", "out", "weight", "temperature", "probe"} <= kinds
    # Its stand-ins are gone from the kitchen, and what they read is not.
    assert "stand-in" not in str(lead.get("/devices").json)
    # Nothing of it counts.
    mine = {b["id"] for b in bench["batches"]}
    offered = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert not mine & {c["batch_id"] for c in offered if c["may"]}
    assert next(x for x in lead.get("/trials").json["items"] if x["id"] == t["id"])["state"] == "planned"
    back = lead.send("POST", f"/shifts/{shift}/for-real")
    assert (back.status_code, back.json["id"]) == (200, real)


def test_without_a_shift_of_its_own_the_real_one_is_made_as_soon_as_it_can_be(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 6 * 3600))
    shift = ok_json(
        lead.send("POST", f"/trials/{t['id']}/shifts", {"name": "Try", "serve_from": serve, "speed": 20})
    )["id"]
    assert lead.get(f"/shifts/{shift}/rehearsal").json["state"] is None
    run_worker_once(demo_url)
    plan = lead.get(f"/shifts/{shift}/bench").json["plan"]
    long_s = lead.get(f"/shifts/{shift}/bench").json["shift"]["serve_from"] - min(
        i["start"] for i in plan["items"]
    )
    made = lead.send("POST", f"/shifts/{shift}/for-real")
    assert made.status_code == 201
    assert not made.json["simulated"]
    assert long_s + 600 < made.json["serve_from"] - time.time() < long_s + 1800
    assert lead.send("POST", f"/shifts/{made.json['id']}/for-real").status_code == 409


def ok_json(answer: Any) -> Any:
    ok(answer)
    return answer.json


def test_what_goes_wrong_is_offered_where_it_can_and_shows_in_log_and_report(
    lead: Client, demo_url: str, rehearser: Rehearser
) -> None:
    t = new_trial(lead, ("oven", "microwave"))
    real = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    shift = ok_json(
        lead.send("POST", f"/shifts/{real}/rehearsals", {"speed": 60, "mishaps": ["appliance_gone"]})
    )["id"]
    run_worker_once(demo_url)
    can = {p["mishap"]: p["why_not"] for p in lead.get(f"/shifts/{shift}/rehearsal").json["possible"]}
    assert can["appliance_gone"] == ""
    assert "pressure" in can["late_pressure"]
    gone_through(lead, demo_url, rehearser, shift)
    entries = lead.get(f"/shifts/{shift}/bench").json["entries"]
    notes = [e["payload"]["text"] for e in entries if e["kind"] == "note"]
    assert any("gone out" in n for n in notes), notes
    assert [e["kind"] for e in entries].count("void") == 1


def test_a_cook_who_rehearses_with_own_hands_forgets_by_themselves_and_too_many_are_refused(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    real = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    refused = lead.send("POST", f"/shifts/{real}/rehearsals", {"hands": False, "mishaps": ["forgotten_turn"]})
    assert refused.json["errors"][0]["field"] == "mishaps"
    made = [ok_json(lead.send("POST", f"/shifts/{real}/rehearsals", {}))["id"] for _ in range(2)]
    third = lead.send("POST", f"/shifts/{real}/rehearsals", {})
    assert "one too many" in third.json["errors"][0]["message"]
    ended = lead.send("POST", f"/shifts/{made[0]}/rehearsal/end")
    assert ended.json["state"] == "over"
    ok(lead.send("POST", f"/shifts/{real}/rehearsals", {}))
    assert lead.send("PUT", f"/shifts/{real}/rehearsal", {}).status_code == 409


def test_what_went_on_when_the_program_stopped_says_so(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    real = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    shift = ok_json(lead.send("POST", f"/shifts/{real}/rehearsals", {}))["id"]
    with session_factory(make_engine(demo_url)).begin() as db:
        db.get_one(Rehearsal, shift).state = "running"
    Rehearser(demo_url).engine.dispose()
    seen = lead.get(f"/shifts/{shift}/rehearsal").json
    assert (seen["state"], seen["problem"]) == ("failed", INTERRUPTED)
    ok(lead.send("PUT", f"/shifts/{shift}/rehearsal", {}))

"""Shifts, entries, probe logs."""

import time
import uuid
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from tests.api.helpers import Client, an_entry, make_shift, new_trial, trial_id
from tests.conftest import run_worker_once, session
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.text import Dates, Hours, Written
from yeasty.operations.cook.sheets import run_sheet
from yeasty.store.cook.queries import newest_plan
from yeasty.store.cook.tables import Shift
from yeasty.store.kitchen.queries import the_kitchen


def test_entries_are_judged_one_by_one_and_twice_is_once(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    good, bad = (
        an_entry(batch, "note", {"text": "pale"}),
        an_entry(batch, "temperature", {"celsius": "hot", "where": "core"}),
    )
    other = an_entry(str(uuid.uuid4()), "note", {"text": "elsewhere"})
    first = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [good, bad, other]}).json
    assert [w["id"] for w in first["written"]] == [good["id"]]
    assert {r["id"]: r["problem"]["field"] for r in first["refused"]} == {
        bad["id"]: "celsius",
        other["id"]: "batch",
    }
    second = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [good]}).json
    assert second["known"] == [good["id"]]
    assert len([e for e in lead.get(f"/shifts/{shift}/bench").json["entries"] if e["id"] == good["id"]]) == 1
    after = lead.get(f"/shifts/{shift}/changes?after=0").json["items"]
    assert [i["event"] for i in after].count("entry") == 1


def test_a_shift_in_the_past_or_with_a_window_turned_round_is_refused(lead: Client) -> None:
    t = new_trial(lead)
    past = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": "2020-01-01T12:00:00Z"})
    assert past.json["errors"][0]["field"] == "serving time"
    assert (
        lead.send(
            "POST", f"/trials/{t['id']}/shifts", {"serve_from": "2030-01-01T12:00:00Z", "window_s": -5}
        ).status_code
        == 422
    )


def test_the_worker_plans_and_the_plan_comes_with_a_number(lead: Client, demo_url: str) -> None:
    shift = make_shift(lead, new_trial(lead))
    assert lead.get(f"/shifts/{shift['id']}/bench").json["plan"] is None
    run_worker_once(demo_url)
    plan = lead.get(f"/shifts/{shift['id']}/bench").json["plan"]
    assert max(plan["served"].values()) <= shift["serve_until"] + 1e-3
    assert plan["proof"].startswith("proven best in")


def test_a_probe_log_with_a_guessed_unit_waits_for_confirmation(lead: Client) -> None:
    t = trial_id(lead)
    shift = lead.get(f"/trials/{t}/shifts").json["items"][0]["id"]
    bench = lead.get(f"/shifts/{shift}/bench").json
    batch, before = bench["batches"][0]["id"], len(bench["curves"])
    csv = b"time,core\n2026-05-01T17:00:00Z,70\n2026-05-01T17:30:00Z,205\n"
    headers = {"X-CSRFToken": lead.csrf}
    path = f"/api/v1/batches/{batch}/probe-logs"
    read = lead.http.post(path, data=csv, headers=headers).json
    assert (read["saved"], read["unit"], read["unit_stated"]) == (False, "F", False)
    assert len(lead.get(f"/shifts/{shift}/bench").json["curves"]) == before
    assert lead.http.post(path + "?unit=F&confirm=true", data=csv, headers=headers).json["saved"]
    assert len(lead.get(f"/shifts/{shift}/bench").json["curves"]) == before + 1
    undated = lead.http.post(path + "?unit=C&confirm=true", data=b"time,core\n0,20\n60,30\n", headers=headers)
    assert undated.json["errors"][0]["field"] == "starts_at"


def test_a_departure_makes_the_worker_plan_again_and_says_what_moved(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift['id']}/bench").json
    first = bench["plan"]["items"][0]
    # Begun early: that batch is kept, the other is planned around it.
    entry = an_entry(
        first["batch"],
        "started",
        {"step": first["step"], "at": min(first["start"] - 3600, time.time() - 5)},
        1,
    )
    assert len(lead.send("POST", f"/shifts/{shift['id']}/entries", {"entries": [entry]}).json["written"]) == 1
    run_worker_once(demo_url)
    again = lead.get(f"/shifts/{shift['id']}/bench").json["plan"]
    assert again["number"] > bench["plan"]["number"]
    other = {i["step"]: i["start"] for i in bench["plan"]["items"] if i["batch"] != first["batch"]}
    for i in again["items"]:
        if i["batch"] != first["batch"]:
            assert abs(i["start"] - other[i["step"]]) <= 1800
    note = an_entry(first["batch"], "note", {"text": "smells good"}, 2)
    lead.send("POST", f"/shifts/{shift['id']}/entries", {"entries": [note]})
    run_worker_once(demo_url)
    assert lead.get(f"/shifts/{shift['id']}/bench").json["plan"]["number"] == again["number"]


def test_the_plan_goes_on_paper_and_into_a_calendar(lead: Client, demo_url: str) -> None:
    shift = make_shift(lead, new_trial(lead))
    assert lead.get(f"/shifts/{shift['id']}/run-sheet.pdf").status_code == 409
    run_worker_once(demo_url)
    assert lead.get(f"/shifts/{shift['id']}/run-sheet.pdf?paper=Letter").data[:5] == b"%PDF-"
    text = lead.get(f"/shifts/{shift['id']}/calendar.ics").data.decode()
    assert text.startswith("BEGIN:VCALENDAR")
    assert "plates meet" in text
    assert text.count("BEGIN:VALARM") >= 1


def test_the_run_sheet_tells_the_time_as_its_reader_does_and_the_day_where_it_is_another(
    lead: Client, demo_url: str
) -> None:
    shift = make_shift(lead, new_trial(lead))
    run_worker_once(demo_url)
    with session(demo_url) as db:
        row = db.get_one(Shift, uuid.UUID(shift["id"]))
        zone = ZoneInfo(the_kitchen(db).time_zone)

        def sheet(written: Written) -> str:
            return run_sheet(db, row, "A4", System.METRIC, written)

        first = min(p.start for p in newest_plan(db, row.id).planned())
        begins, serves = datetime.fromtimestamp(first, zone), row.serve_from.astimezone(zone)
        row.serve_from += timedelta(days=1)
        assert f"{begins:%H:%M}, {begins:%-d %b}" in sheet(Written())
        row.serve_from -= timedelta(days=1)
        said = sheet(Written(Dates.MONTH_FIRST, Hours.HOURS_12))
        half = "am" if serves.hour < 12 else "pm"
        assert f"{serves:%A}, {serves:%b %-d}, {serves.hour % 12 or 12}:{serves:%M} {half}" in said
        db.rollback()


def test_what_ifs_are_compared_and_the_window_moves_only_when_it_is_taken(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "air_fryer", "deep_fryer"))
    shift = make_shift(lead, t)
    run_worker_once(demo_url)
    oven = next(s["appliance_id"] for m in t["methods"] for s in m["steps"] if s["appliance_id"])
    asked = {"items": [{"more_people": 1}, {"later_min": 30}, {"another": oven}]}
    found = lead.send("POST", f"/shifts/{shift['id']}/what-ifs", asked).json
    as_is, hands, later, twin = found["items"]
    assert [o["words"] for o in found["items"]][:3] == ["as it is", "1 more pair of hands", "30 min later"]
    assert hands["longest_hold_s"] <= as_is["longest_hold_s"]
    assert later["served_until"] <= shift["serve_until"] + 1801
    assert "another oven" in twin["words"]
    assert lead.get(f"/shifts/{shift['id']}/bench").json["shift"]["serve_from"] == shift["serve_from"]
    assert (
        lead.send("POST", f"/shifts/{shift['id']}/what-ifs", {"items": [{"another": "nowhere"}]}).status_code
        == 422
    )
    moved = lead.send("POST", f"/shifts/{shift['id']}/window", {"later_min": 30, "people": 2}).json
    assert moved["serve_from"] == shift["serve_from"] + 1800
    run_worker_once(demo_url)
    plan = lead.get(f"/shifts/{shift['id']}/bench").json["plan"]
    assert max(plan["served"].values()) >= shift["serve_from"] + 1800 - 1


def test_a_shift_tasted_at_one_age_is_planned_one_after_another(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "microwave", "pan"))
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 2 * 3600))
    made = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": serve, "same_age": True})
    assert made.status_code == 201, made.json
    shift = made.json
    assert shift["same_age"]
    assert shift["serve_until"] - shift["serve_from"] == 1200, "ten minutes from one tasting to the next"
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift['id']}/bench").json
    at = {(i["batch"], i["step"]): i for i in bench["plan"]["items"]}
    ages = set()
    for b in bench["batches"]:
        heat = [s for s in b["steps"] if s["phase"] == "cook"][-1]
        ages.add(round(bench["plan"]["served"][b["id"]] - at[b["id"], heat["key"]]["end"]))
    assert len(ages) == 1, bench["plan"]["proof"]
    assert "one after another" in lead.get(f"/shifts/{shift['id']}/calendar.ics").text
    together = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": serve}).json
    assert together["serve_until"] - together["serve_from"] == 300

"""The log put right: forgotten taps placed back, a shift typed in from paper, the day of a shift, what is put
away.
"""

import time
from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, cook_all, make_shift, new_trial, ok, trial_id
from tests.conftest import run_worker_once


def stamp(seconds_from_now: float) -> str:
    return time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + seconds_from_now))


def log(lead: Client, shift: str, *rows: dict[str, Any]) -> dict[str, Any]:
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": list(rows)}).json
    assert not got["refused"], got
    return dict(got)


def clocks(lead: Client, trial: str, demo_url: str) -> dict[str, dict[str, float]]:
    lead.get(f"/trials/{trial}/decision")
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{trial}/decision").json["outcome"]
    return {m["method"]: m["servings"]["clocks"] for m in outcome["methods"] if m["servings"]}


def test_a_forgotten_out_is_placed_back_and_is_not_wrong_for_good(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"), "baked")
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url, core=None)
    batch = bench["batches"][0]
    out = next(s for s in batch["steps"] if s["phase"] == "out")
    cook = next(s for s in batch["steps"] if s["phase"] == "cook")
    entries = lead.get(f"/shifts/{shift}/bench").json["entries"]
    first = next(e for e in entries if e["batch"] == batch["id"] and e["payload"].get("step") == out["key"])
    method = batch["method_id"]
    as_tapped = clocks(lead, t["id"], demo_url)[method]["cooking_s"]
    # It came out five minutes before anybody thought of the tap.
    earlier = {**first["payload"], "at": first["payload"]["at"] - 300}
    log(lead, shift, an_entry(batch["id"], first["kind"], earlier, 9000, supersedes=first["id"]))
    put_right = clocks(lead, t["id"], demo_url)[method]["cooking_s"]
    assert as_tapped - put_right == pytest.approx(300, abs=1)
    assert cook["duration_s"] > 300
    kept = lead.get(f"/shifts/{shift}/bench").json["entries"]
    assert first["id"] in {e["id"] for e in kept}, "the first value is kept"


def test_yesterdays_paper_is_typed_in_and_counts_marked_as_written_up(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"), "baked")
    body = {"serve_from": stamp(-86400), "window_s": 600, "cooks": "Ada and Bo", "weather": "humid"}
    refused = lead.send("POST", f"/trials/{t['id']}/shifts", body)
    assert refused.status_code == 422
    assert "written up" in refused.json["errors"][0]["todo"]
    made = lead.send(
        "POST", f"/trials/{t['id']}/shifts", {**body, "written_up": True, "room_c": "70 °F"}
    ).json
    assert (made["written_up"], made["begun"], made["cooks"]) == (True, False, "Ada and Bo")
    assert made["room_c"] == pytest.approx(21.1, abs=0.05)
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{made['id']}/bench").json
    planned = bench["plan"]["items"]
    assert max(i["end"] for i in planned) < time.time() - 3600, "it is planned on its own day, not from now"
    steps = {(b["id"], s["key"]): s for b in bench["batches"] for s in b["steps"]}
    rows = []
    for n, i in enumerate(planned):
        step = steps[i["batch"], i["step"]]
        if step["attention"] == "hands" or step["phase"] == "come_up":
            kind = "done" if step["attention"] == "hands" else "started"
            at = i["end"] if kind == "done" else i["start"]
            rows.append(an_entry(i["batch"], kind, {"step": i["step"], "at": at + 120}, n))
    log(lead, made["id"], *rows)
    again = lead.get(f"/shifts/{made['id']}/bench").json
    assert again["plan"]["number"] == bench["plan"]["number"], "nothing is planned anew for what is past"
    assert again["shift"]["begun"]
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{t['id']}/decision").json["outcome"]
    batches = [b for m in outcome["methods"] for b in m["batches"]]
    assert all(b["complete"] and b["standing"] == "judged" and b["written_up"] for b in batches)
    ahead = lead.send(
        "POST",
        f"/trials/{t['id']}/shifts",
        {"serve_from": stamp(3600), "window_s": 600, "written_up": True},
    )
    assert ahead.status_code == 422


def test_only_a_shift_that_was_never_begun_is_removed(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"), "baked")
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    ok(lead.send("DELETE", f"/shifts/{shift}"))
    assert lead.get(f"/trials/{t['id']}/shifts").json["items"] == []
    assert lead.get(f"/shifts/{shift}/bench").status_code == 404
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    log(lead, shift, an_entry(batch, "note", {"text": "begun"}))
    refused = lead.send("DELETE", f"/shifts/{shift}")
    assert refused.status_code == 409
    assert len(lead.get(f"/trials/{t['id']}/shifts").json["items"]) == 1


def test_the_day_of_a_shift_is_its_own_and_room_may_be_given_up(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"), "baked")
    shift = make_shift(lead, t)
    assert shift["cooks"], "who made it cooks, unless somebody else is named"
    change = {"weather": "thunder", "room_c": "25 °C", "cooks": "Bo"}
    got = lead.send("PATCH", f"/shifts/{shift['id']}", change).json
    assert (got["weather"], got["room_c"], got["cooks"], got["leave_room"]) == ("thunder", 25, "Bo", True)
    lead.send("PATCH", f"/shifts/{shift['id']}", {"leave_room": False})
    stored = lead.get(f"/trials/{t['id']}/shifts").json["items"][0]
    assert (stored["weather"], stored["leave_room"], stored["planning"]) == ("thunder", False, True)
    assert lead.send("PATCH", f"/shifts/{shift['id']}", {"room_c": "warm"}).status_code == 422


def test_a_trial_is_put_away_and_brought_back(lead: Client) -> None:
    tid = trial_id(lead)
    ok(lead.send("PUT", f"/trials/{tid}/put-away", {"away": True}))
    assert tid not in [i["id"] for i in lead.get("/trials").json["items"]]
    assert [i["id"] for i in lead.get("/trials?away=true").json["items"]] == [tid]
    assert lead.get(f"/trials/{tid}").json["put_away"]
    ok(lead.send("PUT", f"/trials/{tid}/put-away", {"away": False}))
    assert tid in [i["id"] for i in lead.get("/trials").json["items"]]


def test_how_long_food_may_stand_is_the_kitchens_to_make_stricter(lead: Client, cook: Client) -> None:
    now = lead.get("/safety")
    waits = {w["food"]: w for w in now.json["waits"]}
    assert waits["poultry"]["half_cooked_s"] == 0
    body = {"profile": now.json["profile"], "zone_use_s": now.json["zone_use_s"]}
    version = int(now.headers["ETag"].strip('"'))
    got = lead.send("PUT", "/safety", {**body, "waits": {"plant": {"half_cooked_s": "10 min"}}}, version).json
    assert next(w for w in got["waits"] if w["food"] == "plant")["own_half_cooked_s"] == 600
    # Left out, they stay; laxer is refused at the field.
    ok(lead.send("PUT", "/safety", body, version + 1))
    kept = {w["food"]: w for w in lead.get("/safety").json["waits"]}
    assert kept["plant"]["own_half_cooked_s"] == 600
    laxer = lead.send("PUT", "/safety", {**body, "waits": {"mince": {"half_cooked_s": "5 min"}}}, version + 2)
    assert laxer.status_code == 422
    assert "laxer" in laxer.json["errors"][0]["message"]
    assert cook.send("PUT", "/safety", body, version + 2).status_code == 403


def test_what_is_prepared_for_all_is_written_once_and_stands_first_everywhere(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "steamer"), "baked")
    items = [
        {"what": "Make the dough", "attention": "hands", "phase": "prepare", "duration_s": "15 min"},
        {
            "what": "Let it rise",
            "attention": "free",
            "phase": "wait",
            "duration_s": "40 min",
            "longest_s": "1 h",
        },
    ]
    path = f"/trials/{t['id']}/preparation"
    wrong = lead.send("PUT", path, {"items": [{**items[0], "phase": "cook"}]}, t["version"])
    assert wrong.status_code == 422
    assert "Make the dough" in wrong.json["errors"][0]["field"]
    body = {"items": items, "hazards": ["raw_dough"]}
    got = lead.send("PUT", path, body, t["version"]).json
    assert lead.send("PUT", path, body, t["version"]).status_code == 412, "two at once lose nothing"
    stored = lead.get(f"/trials/{t['id']}").json["preparation"]
    assert [(s["what"], s["duration_s"], s["longest_s"]) for s in stored["items"]] == [
        ("Make the dough", 900, None),
        ("Let it rise", 2400, 3600),
    ]
    # Saved as it was shown, it is as it was: the same keys too.
    again = lead.send("PUT", path, {"items": stored["items"], "hazards": ["raw_dough"]}, got["version"]).json
    assert again["preparation"] == stored
    job = lead.get(f"/trials/{t['id']}/jobs").json["items"][0]
    assert job["hands_s"] >= 900
    shift = make_shift(lead, got)["id"]
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    for b in bench["batches"]:
        assert [s["what"] for s in b["steps"][:2]] == ["Make the dough", "Let it rise"]
        assert any(
            "flour" in c["text"].lower() or "dough" in c["text"].lower() for c in b["steps"][0]["cautions"]
        )
    begins = {i["start"] for i in bench["plan"]["items"] if i["step"] == stored["items"][0]["key"]}
    assert len(begins) == 1
    words = [b["shared"][stored["items"][0]["key"]] for b in bench["batches"]]
    assert len(words) == 2
    assert len(set(words)) == 1
    # A tap for all begins no batch of its own: the rest is still free to be planned.
    at = begins.pop()
    log(
        lead,
        shift,
        *(
            an_entry(
                b["id"], "done", {"step": stored["items"][0]["key"], "at": min(at + 900, time.time())}, n
            )
            for n, b in enumerate(bench["batches"])
        ),
    )
    assert lead.send("POST", f"/shifts/{shift}/plan-requests").status_code == 202
    run_worker_once(demo_url)
    planned = lead.get(f"/shifts/{shift}/bench").json["plan"]
    assert planned["number"] > bench["plan"]["number"]
    assert planned["proof"] != "everything has begun"

"""Devices over the wire, shifts on simulated time, rescues, the last cooking, chips."""

import json
import time
import uuid
from typing import Any

import psycopg

from tests.api.helpers import Client, an_entry, cook_all, make_shift, new_trial
from tests.conftest import run_worker_once


def a_hub(lead: Client, **more: Any) -> dict[str, Any]:
    return dict(lead.send("POST", "/devices", {"name": "hub by the oven", "kind": "hub", **more}).json)


def send(lead: Client, token: str, lines: list[dict[str, Any]], at: float | None = None) -> Any:
    headers = {"Authorization": f"Bearer {token}"} | ({"X-Device-Time": str(at)} if at is not None else {})
    return lead.http.post(
        "/api/v1/device-lines", data="\n".join(json.dumps(line) for line in lines), headers=headers
    )


def test_a_token_is_told_once_and_without_one_nothing_is_taken(lead: Client, cook: Client) -> None:
    hub = a_hub(lead)
    assert len(hub["token"]) > 30
    assert "token" not in lead.get("/devices").json["items"][0]
    assert cook.send("POST", "/devices", {"name": "mine", "kind": "scale"}).status_code == 403
    assert send(lead, "guessed", [{"seq": 0, "t": 1.0, "celsius": 4}]).status_code == 401
    assert lead.send("DELETE", f"/devices/{hub['id']}").status_code == 204
    assert send(lead, hub["token"], [{"seq": 0, "t": 1.0, "celsius": 4}]).status_code == 401


def test_lines_are_judged_one_by_one_repeats_change_nothing_and_gaps_are_asked_for(lead: Client) -> None:
    hub = a_hub(lead)
    now = time.time()
    lines = [{"seq": n, "t": now + n, "celsius": 20 + n} for n in (0, 1, 2, 6)]
    got = send(lead, hub["token"], [*lines, {"seq": 7, "t": now, "celsius": 9000}], at=now + 6).json
    assert (got["kept"], got["missing"], got["refused"][0]["field"]) == (4, [[3, 5]], "line 5, celsius")
    again = send(lead, hub["token"], lines, at=now + 6).json
    assert (again["kept"], again["again"]) == (0, 4)
    late = send(
        lead, hub["token"], [{"seq": n, "t": now + n, "celsius": 20 + n} for n in (3, 4, 5)], at=now + 8
    ).json
    assert (late["kept"], late["missing"]) == (3, [])
    device = next(d for d in lead.get("/devices").json["items"] if d["id"] == hub["id"])
    assert device["missing"] == 0
    assert not device["silent"]
    assert send(lead, hub["token"], []).json["errors"][0]["field"] == "lines"


def test_the_kitchens_scale_weighs_pieces_and_a_made_up_weight_stays_marked(lead: Client) -> None:
    t = new_trial(lead)

    def read(after: float = 0) -> Any:
        return lead.get(f"/trials/{t['id']}/scale?number=1&after={after}")

    made_up = read().json
    assert (made_up["simulated"], made_up["name"]) == (True, "stand-in scale")
    scale = lead.send("POST", "/devices", {"name": "the blue scale", "kind": "scale"}).json
    assert read().json["errors"][0]["message"] == "says nothing"
    now = time.time()
    send(lead, scale["token"], [{"seq": 0, "t": now - 3, "kg": 0.0}], at=now)
    assert read().json["errors"][0]["message"] == "is empty"
    swings = [{"seq": 1, "t": now - 1.2, "kg": 0.031}, {"seq": 2, "t": now - 0.9, "kg": 0.024}]
    send(lead, scale["token"], swings, at=now)
    assert read().json["errors"][0]["message"] == "still swings"
    send(lead, scale["token"], [{"seq": 3, "t": now - 0.5, "kg": 0.0241}], at=now)
    got = read().json
    assert (got["kg"], got["name"], got["simulated"]) == (0.0241, "the blue scale", False)
    assert read(got["at"]).json["errors"][0]["message"] == "has said nothing new since the last piece"
    pieces = [
        {"mass_kg": "24.1 g", "part": "outer", "ingredient_id": None},
        {"mass_kg": "25 g", "part": "", "ingredient_id": None, "simulated": True},
    ]
    version = lead.get(f"/trials/{t['id']}/pieces").json["version"]
    lead.send("PUT", f"/trials/{t['id']}/pieces", {"items": pieces}, version)
    kept = lead.get(f"/trials/{t['id']}/pieces").json
    assert [p["simulated"] for p in kept["items"]] == [False, True]
    assert "1 of the weights is made up" in kept["sentence"]


def test_a_probe_put_into_a_batch_is_read_there_and_its_clock_is_corrected(
    lead: Client, demo_url: str
) -> None:
    shift = make_shift(lead, new_trial(lead))["id"]
    run_worker_once(demo_url)
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    hub = a_hub(lead)
    now = time.time()
    put = an_entry(
        batch,
        "probe",
        {"device": hub["id"], "channel": "1", "where": "core", "name": "1", "at": now - 700},
        1,
    )
    assert lead.send("POST", f"/shifts/{shift}/entries", {"entries": [put]}).json["written"]
    # The hub's own clock is an hour behind; what it sends is placed by how far it is off.
    lines = [
        {"seq": n, "t": now - 3600 - 600 + 2 * n, "channel": "1", "celsius": 20 + n / 10} for n in range(300)
    ]
    assert send(lead, hub["token"], lines, at=now - 3600).json["kept"] == 300
    seen = lead.get(f"/shifts/{shift}/probes?curves=true").json
    curve = seen["curves"][0]
    assert (curve["batch"], curve["where"]) == (batch, "core")
    assert abs(curve["points"][0][0] - (now - 600)) < 5
    assert max(p[1] for p in curve["points"]) == 49.9
    # Pulled out into the oven: nothing of that counts as core.
    hot = [{"seq": 300 + n, "ago": 1.0 - n / 100, "channel": "1", "celsius": 190.0} for n in range(60)]
    send(lead, hub["token"], hot)
    outlook = next(b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"] if b["batch"] == batch)
    assert "pulled out" in outlook["doubt"]
    doubted = {c["where"]: c for c in lead.get(f"/shifts/{shift}/probes?curves=true").json["curves"]}
    assert max(p[1] for p in doubted["core"]["points"] if p[1] is not None) < 50
    assert max(p[1] for p in doubted["core, doubted"]["points"] if p[1] is not None) == 190.0
    # When the shift ends what was read goes with the trial.
    lead.send("POST", f"/shifts/{shift}/end", {})
    kept = {c["name"] for c in lead.get(f"/shifts/{shift}/bench").json["curves"]}
    assert kept == {"core", "core, doubted"}


def test_a_meter_counts_what_a_batch_drew(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    batch = next(
        b for b in bench["batches"] if any(s["appliance"] and s["phase"] == "come_up" for s in b["steps"])
    )
    heat = next(s for s in batch["steps"] if s["phase"] == "come_up" and s["appliance"])
    meter = lead.send(
        "POST", "/devices", {"name": "meter", "kind": "meter", "appliance_id": heat["appliance"]}
    ).json
    now = time.time()
    assert lead.get(f"/shifts/{shift}/batches/{batch['id']}/metered").json["joule"] is None
    start = an_entry(batch["id"], "started", {"step": heat["key"], "at": now - 100}, 1)
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": [start]})
    send(
        lead,
        meter["token"],
        [{"seq": n, "t": now - 120 + 10 * n, "joule": 5e9 + 20_000 * n} for n in range(12)],
        at=now,
    )
    got = lead.get(f"/shifts/{shift}/batches/{batch['id']}/metered").json
    assert got["joule"] == 20_000 * 9
    assert lead.get(f"/shifts/{shift}/batches/{uuid.uuid4()}/metered").status_code == 404


def test_a_shift_on_simulated_time_goes_by_its_own_clock_and_proves_nothing(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 7200))
    shift = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": serve, "speed": 60}).json
    assert shift["simulated"]
    assert shift["clock"]["rate"] == 60
    far = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": "2040-01-01T00:00:00Z", "speed": 60})
    assert far.json["errors"][0]["field"] == "serving time"
    time.sleep(0.5)
    one = lead.get(f"/shifts/{shift['id']}/probes").json["shift_now"]
    slower = lead.send("POST", f"/shifts/{shift['id']}/speed", {"speed": 1}).json["clock"]
    two = lead.get(f"/shifts/{shift['id']}/probes").json["shift_now"]
    assert one - time.time() > 20
    assert 0 <= two - one < 30
    assert slower["rate"] == 1
    cook_all(lead, shift["id"], demo_url)
    gates = lead.get(f"/trials/{t['id']}/tastings").json
    assert "simulated time" in json.dumps(gates)
    real = make_shift(lead, t)["id"]
    assert lead.send("POST", f"/shifts/{real}/speed", {"speed": 10}).json["errors"][0]["field"] == "speed"
    refused = lead.send("POST", "/devices", {"name": "x", "kind": "hub", "simulated_for": real})
    assert refused.json["errors"][0]["field"] == "simulated_for"


def test_a_rescue_is_a_sample_of_its_own_and_the_first_result_stays(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    cook_all(lead, shift, demo_url)
    parent = lead.get(f"/shifts/{shift}/bench").json["batches"][0]
    asked = {
        "batch": parent["id"],
        "finish": "sear each side",
        "why": "pale underneath",
        "duration_s": "2 min",
        "technique": "pan",
        "device": str(uuid.uuid4()),
        "counter": 0,
    }
    assert (
        lead.send("POST", f"/shifts/{shift}/rescues", {**asked, "duration_s": "9 h"}).json["errors"][0][
            "field"
        ]
        == "duration"
    )
    assert lead.send(
        "POST", f"/shifts/{shift}/rescues", {**asked, "batch": str(uuid.uuid4())}
    ).status_code in (409, 422)
    made = lead.send("POST", f"/shifts/{shift}/rescues", asked)
    assert made.status_code == 201, made.json
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    child = next(b for b in bench["batches"] if b["id"] == made.json["batch"])
    assert (child["parent"], child["rescue"], child["method_id"]) == (
        parent["id"],
        "sear each side",
        parent["method_id"],
    )
    assert any(i["batch"] == child["id"] for i in bench["plan"]["items"])
    assert [e["payload"]["child"] for e in bench["entries"] if e["kind"] == "rescued"] == [child["id"]]
    steps = [an_entry(child["id"], "done", {"step": s["key"]}, n) for n, s in enumerate(child["steps"])]
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": steps})
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{t['id']}/decision").json
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{t['id']}/decision").json["outcome"]
    assert [r["finish"] for r in outcome["rescues"]] == ["sear each side"]
    method = next(m for m in outcome["methods"] if m["method"] == parent["method_id"])
    assert {b["standing"] for b in method["batches"]} == {"judged", "rescue"}


def test_the_last_cooking_is_shown_before_the_next_and_chips_can_be_kept(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    first = make_shift(lead, t)["id"]
    bench = cook_all(lead, first, demo_url)
    cue = an_entry(bench["batches"][0]["id"], "cue", {"text": "pale underneath", "face": "underside"}, 99)
    lead.send("POST", f"/shifts/{first}/entries", {"entries": [cue]})
    second = make_shift(lead, t)["id"]
    told = {x["method"]: x for x in lead.get(f"/shifts/{second}/last-times").json["items"]}
    mine = told[bench["batches"][0]["method_id"]]
    assert mine["cues"] == ["pale underneath"]
    assert mine["same_method"]
    assert mine["cooked_s"] > 0
    technique = lead.get(f"/shifts/{second}/bench").json["batches"][0]["technique"]
    before = lead.get(f"/shifts/{second}/cue-chips").json["items"]
    for _ in range(2):
        assert (
            lead.send(
                "POST", "/cue-chips", {"technique": technique, "face": "top", "text": "  like   glass "}
            ).status_code
            == 201
        )
    after = lead.get(f"/shifts/{second}/cue-chips").json["items"]
    assert after[0]["text"] == "like glass"
    assert len(after) == len(before) + 1


def test_two_cooks_who_log_the_same_are_shown_to_each_other(lead: Client, demo_url: str) -> None:
    shift = make_shift(lead, new_trial(lead))["id"]
    run_worker_once(demo_url)
    b = lead.get(f"/shifts/{shift}/bench").json["batches"][0]
    step = b["steps"][0]["key"]
    both = [an_entry(b["id"], "done", {"step": step}, n) for n in range(2)]
    both[1]["device"] = str(uuid.uuid4())
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": both})
    twice = lead.get(f"/shifts/{shift}/outlook").json["twice"]
    assert [{t["first"], t["second"]} for t in twice] == [{both[0]["id"], both[1]["id"]}]


def test_rungs_pulled_from_two_pots_are_planned_together_and_tapped_as_one(
    lead: Client, demo_url: str
) -> None:
    found = lead.get("/trials?search=beetroot").json["items"][0]["id"]
    with psycopg.connect(demo_url) as db:
        db.execute("update trial set layout = jsonb_set(layout, '{pots}', '2') where id = %s", (found,))
    shift = make_shift(lead, {"id": found})["id"]
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    pots: dict[str, list[dict[str, Any]]] = {}
    for b in bench["batches"]:
        pots.setdefault(b["together"], []).append(b)
    assert {len(own) for own in pots.values()} == {3}
    assert "" not in pots
    at = {(i["batch"], i["step"]): i for i in bench["plan"]["items"]}
    for own in pots.values():
        cooks = [next(s for s in b["steps"] if s["phase"] == "cook") for b in own]
        went_in = {at[b["id"], k["key"]]["start"] for b, k in zip(own, cooks, strict=True)}
        assert len(went_in) == 1
        assert sorted(
            at[b["id"], k["key"]]["end"] - went_in.copy().pop() for b, k in zip(own, cooks, strict=True)
        ) == sorted(k["duration_s"] for k in cooks)
        groups = [set(b["shared"].values()) for b in own]
        assert groups[0]
        assert all(g == groups[0] for g in groups)


def test_an_appliance_that_fails_moves_what_has_not_begun_and_a_batch_more_is_planned_in(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "air_fryer"))
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    oven = next(b for b in bench["batches"] if b["technique"] == "oven")
    fryer = next(b for b in bench["batches"] if b["technique"] == "air_fryer")
    of = {b["technique"]: next(s["appliance"] for s in b["steps"] if s["appliance"]) for b in (oven, fryer)}
    path = f"/shifts/{shift}/appliance-gone"
    assert (
        lead.send("POST", path, {"appliance_id": of["oven"], "instead_id": of["oven"]}).json["errors"][0][
            "field"
        ]
        == "instead"
    )
    assert lead.send("POST", path, {"appliance_id": str(uuid.uuid4())}).status_code == 404
    first = fryer["steps"][0]
    begun = an_entry(
        fryer["id"], "started" if first["attention"] != "hands" else "done", {"step": first["key"]}, 1
    )
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": [begun]})
    other = next(a["id"] for a in lead.get("/appliances").json["items"] if a["id"] not in of.values())
    assert lead.send("POST", path, {"appliance_id": of["oven"], "instead_id": other}).json == {
        "moved": ["OV"],
        "given_up": [],
        "begun": [],
    }
    assert lead.send("POST", path, {"appliance_id": of["air_fryer"]}).json["begun"] == ["AF"]
    more = lead.send("POST", f"/shifts/{shift}/batches", {"method_id": oven["method_id"]})
    assert more.json["replicate"] == 2
    run_worker_once(demo_url)
    after = lead.get(f"/shifts/{shift}/bench").json
    moved = next(b for b in after["batches"] if b["id"] == oven["id"])
    assert {s["appliance"] for s in moved["steps"] if s["appliance"]} == {other}
    assert {i["batch"] for i in after["plan"]["items"]} == {b["id"] for b in after["batches"]}
    # Given up: the batch is void and planned no more.
    given = lead.send("POST", path, {"appliance_id": of["oven"]}).json
    assert given["given_up"] == ["OV"]
    run_worker_once(demo_url)
    last = lead.get(f"/shifts/{shift}/bench").json
    assert [e["batch"] for e in last["entries"] if e["kind"] == "void"] == [more.json["batch"]]

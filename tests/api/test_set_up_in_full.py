"""Set up in full, through the API: pieces, maps, differences mended, lots, the whole job, readiness."""

import uuid
from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, by_title, cook_all, make_shift, new_trial, trial_id
from tests.conftest import session
from yeasty.operations.decide.asked import slipped_in
from yeasty.operations.publish.evidence import not_equal
from yeasty.store.ask.tables import Trial


def test_pieces_are_dealt_again_with_the_same_seed_and_too_few_are_told(lead: Client) -> None:
    t = by_title(lead, "Cauliflower florets, coated")
    first = lead.send("POST", f"/trials/{t['id']}/dealings", {"seed": 7}).json["dealing"]
    again = lead.send("POST", f"/trials/{t['id']}/dealings", {"seed": 7}).json["dealing"]
    assert first["groups"] == again["groups"]
    assert len(first["spare"]) == 4
    assert "dealings whose mean weights lie within 1 %" in first["sentence"]
    few = [{"mass_kg": "24 g"}] * 20
    got = lead.send(
        "PUT",
        f"/trials/{t['id']}/pieces",
        {"items": few},
        lead.get(f"/trials/{t['id']}/pieces").json["version"],
    ).json
    assert got["short_of"] == 12
    assert "too few before the first cut" in got["sentence"]
    assert got["dealing"] is None
    refused = lead.send("POST", f"/trials/{t['id']}/dealings", {})
    assert refused.status_code == 422
    assert "Get 12 more" in refused.json["errors"][0]["todo"]
    bad = lead.send(
        "PUT",
        f"/trials/{t['id']}/pieces",
        {"items": [{"mass_kg": "24 g"}, {"mass_kg": "heavy"}]},
        lead.get(f"/trials/{t['id']}/pieces").json["version"],
    )
    assert bad.status_code == 422
    assert "1" in bad.json["errors"][0]["field"]
    scale = lead.get(f"/trials/{t['id']}/scale?number=3").json
    assert scale["simulated"]
    assert scale["readings"][-1] == scale["kg"]


def test_a_tray_is_drawn_dealt_turned_and_handed_over(lead: Client) -> None:
    t = by_title(lead, "Cauliflower florets, coated")
    ids = [m["id"] for m in t["methods"]]
    made = lead.send(
        "POST",
        f"/trials/{t['id']}/maps",
        {
            "name": "Rack",
            "kind": "rack",
            "width_m": "30 cm",
            "depth_m": "20 cm",
            "piece_m": "5 cm",
            "spacing_m": "1 cm",
            "spots": [{"x_m": 0.03, "y_m": 0.17, "k": 12}],
        },
    ).json
    rack = made["items"][-1]
    assert rack["capacity"] == 15
    got = lead.send(
        "POST",
        f"/trials/{t['id']}/maps/{rack['id']}/dealings",
        {"how": "balanced", "method_ids": ids, "pieces_each": 6, "seed": 3},
    ).json
    rack = next(m for m in got["items"] if m["id"] == rack["id"])
    assert sorted(p["piece"] for p in rack["places"] if p["tag"] == t["methods"][0]["tag"]) == [
        1,
        2,
        3,
        4,
        5,
        6,
    ]
    assert abs(rack["mean_k"]["AF"] - rack["mean_k"]["RC"]) <= 2.1
    tests = f"/trials/{t['id']}/maps/{rack['id']}/heat-tests"
    shades = [
        {"x_m": x, "y_m": y, "shade": s} for x, y, s in ((0.15, 0.1, 3), (0.03, 0.17, 6), (0.27, 0.03, 2))
    ]
    toast = lead.send("POST", tests, {"how": "toast", "readings": shades}).json["items"][-1]
    assert [s["k"] for s in toast["spots"]] == [0, 3, -1]
    assert toast["heat_unit"] == "shades"
    unread = lead.send(
        "POST", tests, {"how": "thermometer", "readings": [*shades[:2], {"x_m": 0.1, "y_m": 0.1}]}
    )
    assert unread.json["errors"][0]["field"] == "reading"
    again = lead.send(
        "POST",
        f"/trials/{t['id']}/maps/{rack['id']}/dealings",
        {"how": "balanced", "method_ids": ids, "pieces_each": 6, "seed": 3},
    ).json["items"][-1]
    assert abs(again["mean_k"]["AF"] - again["mean_k"]["RC"]) <= 0.3
    assert "shades" in again["dealt_how"]
    turned = {(p["tag"], p["piece"]): (p["x_m"], p["y_m"]) for p in rack["turned"]}
    for p in rack["places"]:
        assert turned[p["tag"], p["piece"]] == pytest.approx((0.30 - p["x_m"], 0.20 - p["y_m"]), abs=1e-3)
    too_many = lead.send(
        "POST", f"/trials/{t['id']}/maps/{rack['id']}/dealings", {"method_ids": ids, "pieces_each": 9}
    )
    assert too_many.json["errors"][0]["field"] == "pieces"
    plate = {
        "name": "Plate",
        "kind": "plate",
        "round": True,
        "width_m": "30 cm",
        "depth_m": "30 cm",
        "piece_m": "5 cm",
        "spacing_m": "5 mm",
    }
    handed = lead.send("POST", f"/trials/{t['id']}/maps/{rack['id']}/hand-overs", plate).json["items"][-1]
    assert {(p["tag"], p["piece"]) for p in handed["places"] if p["tag"]} == set(turned)
    pdf = lead.get(f"/trials/{t['id']}/maps.pdf?paper=Letter")
    assert pdf.data[:5] == b"%PDF-"
    for stock in ("flags-a4", "labels-30"):
        assert lead.get(f"/trials/{t['id']}/labels.pdf?stock={stock}").data[:5] == b"%PDF-"
    assert lead.get(f"/trials/{t['id']}/labels.pdf?stock=nowhere").status_code == 422


def test_a_difference_is_mended_in_one_act_and_the_claim_follows(lead: Client) -> None:
    t = new_trial(lead)
    oven, mw = t["methods"]
    t = lead.send(
        "PATCH", f"/trials/{t['id']}/methods/{oven['id']}", {"vessel": "tin", "start_c": "5 °C"}, t["version"]
    ).json
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    slipped = [d["field"] for d in fair["differences"] if not d["varied"] and not d["result"]]
    assert {"vessel", "start temperature"} <= set(slipped)
    assert "nothing can be credited" in fair["claim"]
    t = lead.send("PATCH", f"/trials/{t['id']}", {"varied": [*t["varied"], "vessel"]}, t["version"]).json
    t = lead.send(
        "POST",
        f"/trials/{t['id']}/mended-differences",
        {"field": "start temperature", "like": oven["id"]},
        t["version"],
    ).json
    assert {m["start_c"] for m in t["methods"]} == {5.0}
    refused = lead.send(
        "POST",
        f"/trials/{t['id']}/mended-differences",
        {"field": "technique", "like": oven["id"]},
        t["version"],
    )
    assert refused.json["errors"][0]["field"] == "technique"
    line = lead.send(
        "POST",
        "/sways",
        {"field": "rest", "attributes": ["moistness"], "strength": 3, "reason": "ours dry out in minutes"},
    )
    assert line.status_code == 201
    own = next(s for s in line.json["items"] if s["status"] == "this kitchen")
    assert lead.send("DELETE", f"/sways/{own['id']}").status_code == 204
    assert mw["tag"]


def test_what_was_really_done_is_compared_after_cooking(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    assert "Fewer than two" in lead.get(f"/trials/{t['id']}/fairness/as-done").json["sentence"]
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    done = lead.get(f"/trials/{t['id']}/fairness/as-done").json
    assert len(done["batches"]) == 2
    buns = lead.get(f"/trials/{trial_id(lead)}/fairness/as-done").json
    assert {"weight that went in"} & {d["field"] for d in buns["differences"]} == set()
    assert any(d["field"] == "core at the end" for d in buns["differences"])
    assert next(d for d in buns["differences"] if d["field"] == "rest")["accepted"]
    assert "start temperature" not in {d["field"] for d in buns["differences"]}


def one_change(lead: Client, first: dict[str, str], second: dict[str, str]) -> dict[str, Any]:
    """A trial of one change that is not named among what is varied: what is set of either version."""
    t = new_trial(lead, ("oven",))
    t = lead.send(
        "POST", f"/trials/{t['id']}/copies", {"kind": "one_change", "method_ids": [t["methods"][0]["id"]]}
    ).json
    here = f"/trials/{t['id']}"
    if first:
        t = lead.send("PATCH", f"{here}/methods/{t['methods'][0]['id']}", first, t["version"]).json
    t = lead.send(
        "POST",
        f"{here}/methods/{t['methods'][0]['id']}/versions",
        {"change": "another", "aimed_defect": "", "name": "Changed"},
        t["version"],
    ).json
    t = lead.send("PATCH", f"{here}/methods/{t['methods'][-1]['id']}", second, t["version"]).json
    return dict(lead.send("PATCH", here, {"varied": []}, t["version"]).json)


def test_the_one_thing_changed_is_meant_as_it_was_cooked_too(lead: Client, demo_url: str) -> None:
    t = one_change(lead, {"start_c": "5 °C"}, {"start_c": "20 °C"})
    shift = make_shift(lead, t)["id"]
    cook_all(lead, shift, demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    read = []
    for n, batch in enumerate(bench["batches"]):
        first = min(
            e["payload"]["at"] for e in bench["entries"] if e["batch"] == batch["id"] if "at" in e["payload"]
        )
        core = {"celsius": 20.0 if n else 5.0, "where": "core", "at": first}
        read.append(an_entry(batch["id"], "temperature", core, 900 + n))
    assert len(lead.send("POST", f"/shifts/{shift}/entries", {"entries": read}).json["written"]) == 2
    for told in ("fairness", "fairness/as-done"):
        found = {d["field"]: d for d in lead.get(f"/trials/{t['id']}/{told}").json["differences"]}
        assert found["start temperature"]["varied"], told


def test_set_up_decide_and_the_page_have_one_answer_to_what_slipped_in(lead: Client, demo_url: str) -> None:
    t = one_change(lead, {}, {"lid": "lid on"})
    second = t["methods"][-1]
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    assert {d["field"]: d["varied"] for d in fair["differences"]} == {"lid": True}
    with session(demo_url) as db:
        trial = db.get_one(Trial, uuid.UUID(t["id"]))
        assert slipped_in(db, trial) == []
        assert not_equal(db, trial) == ()
    # What slips in beside it is told by all three.
    now = lead.get(f"/trials/{t['id']}").json
    lead.send("PATCH", f"/trials/{t['id']}/methods/{second['id']}", {"vessel": "tin"}, now["version"])
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    assert {d["field"] for d in fair["differences"] if not d["varied"]} == {"lid", "vessel"}
    with session(demo_url) as db:
        trial = db.get_one(Trial, uuid.UUID(t["id"]))
        assert set(slipped_in(db, trial)) == {"lid", "vessel"}
        assert [line.split(":")[0] for line in not_equal(db, trial)] == ["lid", "vessel"]


def test_a_substitution_is_worked_out_then_put_in_and_the_plan_stays_on_record(lead: Client) -> None:
    t = by_title(lead, "Flatbread dough, six versions")
    flour = next(i for i in t["ingredients"] if i["name"].startswith("wheat flour"))
    half = [m["id"] for m in t["methods"][:3]]
    body = {
        "name": "wheat flour, wholemeal",
        "grade": "stoneground",
        "allergens": ["gluten"],
        "method_ids": half,
    }
    told = lead.send("POST", f"/trials/{t['id']}/ingredients/{flour['id']}/substitutions", body).json
    assert not told["taken"]
    assert "not be cooked from one lot" in told["effects"][0]["text"]
    got = lead.send(
        "POST",
        f"/trials/{t['id']}/ingredients/{flour['id']}/substitutions",
        {**body, "take": True},
        t["version"],
    )
    assert got.json["taken"]
    after = lead.get(f"/trials/{t['id']}").json
    new = next(i for i in after["ingredients"] if i["name"] == "wheat flour, wholemeal")
    assert new["stands_for"]["name"] == flour["name"]
    fields = {d["field"] for d in lead.get(f"/trials/{t['id']}/fairness").json["differences"]}
    assert "amount of wheat flour, wholemeal" in fields


def test_jobs_readiness_and_shopping_of_a_trial(lead: Client) -> None:
    t = by_title(lead, "Turkey meatballs, pre-cook × finish")
    jobs = lead.get(f"/trials/{t['id']}/jobs").json
    assert len(jobs["items"]) == 6
    assert all(j["total_s"] >= j["hands_s"] + j["wash_up_s"] for j in jobs["items"])
    ready = lead.get(f"/trials/{t['id']}/readiness").json["items"]
    assert any("Tray lined" in i["text"] for i in ready[0]["items"])
    worth = lead.get(f"/trials/{t['id']}/worth").json
    turkey = next(b for b in worth["buy"] if b["name"] == "turkey, minced")
    assert turkey["kg"] == pytest.approx(0.9)
    assert len(turkey["used_by"]) == 6


def test_the_checklist_goes_with_the_batch_and_is_ticked_in_the_log(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)
    bench = lead.get(f"/shifts/{shift['id']}/bench").json
    batch = bench["batches"][0]
    assert len(batch["checklist"]) >= 2
    items = [{"item": c["key"], "text": c["text"]} for c in batch["checklist"]]
    items[0]["waived"] = "no drip expected"
    got = lead.send(
        "POST",
        f"/shifts/{shift['id']}/entries",
        {"entries": [an_entry(batch["id"], "ready", {"items": items}, 1)]},
    )
    assert len(got.json["written"]) == 1, got.json
    bad = lead.send(
        "POST",
        f"/shifts/{shift['id']}/entries",
        {"entries": [an_entry(batch["id"], "ready", {"items": []}, 2)]},
    )
    assert not bad.json.get("written")

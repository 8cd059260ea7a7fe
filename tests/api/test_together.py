"""Two treatments on one tray: written down, planned and tapped as one load; read back wherever it is kept."""

import time
from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, make_shift, new_trial, ok, trial_id
from tests.conftest import run_worker_once


def on_one_tray(lead: Client) -> dict[str, Any]:
    """Three ways in the same oven: two on one tray, one by itself."""
    t = new_trial(lead, ("oven", "oven", "oven"), "baked")
    for m in t["methods"]:
        coat = {"what": f"Coat {m['tag']}", "attention": "hands", "phase": "prepare", "duration_s": 300}
        first = next(n for n, s in enumerate(m["steps"]) if s["phase"] == "load")
        steps = [*m["steps"][:first], coat, *m["steps"][first:]]
        t = lead.send(
            "PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"]
        ).json
    a, b, _ = (m["id"] for m in t["methods"])
    got = lead.send(
        "PUT", f"/trials/{t['id']}/loads", {"items": [{"name": "tray 1", "methods": [a, b]}]}, t["version"]
    )
    ok(got)
    return dict(got.json)


def test_a_load_is_kept_read_back_and_shown_as_a_difference_to_what_is_cooked_alone(lead: Client) -> None:
    t = on_one_tray(lead)
    assert [m["together"] for m in lead.get(f"/trials/{t['id']}").json["methods"]] == ["tray 1", "tray 1", ""]
    found = lead.get(f"/trials/{t['id']}/fairness").json["differences"]
    load = next(d for d in found if d["field"] == "load")
    assert sorted(load["values"].values()) == ["its own", "tray 1", "tray 1"]
    got = lead.send("PUT", f"/trials/{t['id']}/loads", {"items": []}, t["version"])
    assert [m["together"] for m in got.json["methods"]] == ["", "", ""]


def test_a_load_that_cannot_be_is_refused_with_its_name_and_what_to_do(lead: Client) -> None:
    t = on_one_tray(lead)
    a, b, c = (m["id"] for m in t["methods"])

    def refused(*items: tuple[str, list[str]]) -> tuple[str, str]:
        body = {"items": [{"name": n, "methods": m} for n, m in items]}
        got = lead.send("PUT", f"/trials/{t['id']}/loads", body, t["version"])
        assert got.status_code == 422, got.json
        error = got.json["errors"][0]
        assert error["todo"]
        return error["field"], error["message"]

    assert refused(("", [a, b])) == ("cooked together", "has no name")
    assert refused(("tray 1", [a])) == ("tray 1", "has one method in it")
    assert refused(("tray 1", [a, a])) == ("tray 1", "has one method in it")
    assert refused(("tray 1", [a, b]), ("tray 2", [b, c]))[1] == "is in two loads"
    hotter = [{**s, "set_point_c": 150} if s["phase"] == "cook" else s for s in t["methods"][2]["steps"]]
    t = lead.send("PUT", f"/trials/{t['id']}/methods/{c}/steps", {"items": hotter}, t["version"]).json
    assert "one appliance at one setting" in refused(("tray 1", [b, c]))[1]
    kept = lead.get(f"/trials/{t['id']}").json["methods"]
    assert [m["together"] for m in kept] == ["tray 1", "tray 1", ""]


def test_one_tap_takes_the_load_in_and_the_plan_moves_it_as_one(lead: Client, demo_url: str) -> None:
    t = on_one_tray(lead)
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    one, two, alone = bench["batches"]
    assert one["together"] == two["together"] != alone["together"] == ""
    shared = {s["phase"] for s in one["steps"] if s["key"] in one["shared"]}
    assert {"load", "cook", "out"} <= shared
    assert not shared & {"prepare", "plate"}
    at = {(i["batch"], i["step"]): i["start"] for i in bench["plan"]["items"]}
    load = {b["id"]: next(s["key"] for s in b["steps"] if s["phase"] == "load") for b in bench["batches"]}
    assert at[one["id"], load[one["id"]]] == at[two["id"], load[two["id"]]]
    # Coating the first has begun and takes longer: the tray goes in when both are ready, still as one.
    coat = next(s for s in one["steps"] if s["phase"] == "prepare")
    late = an_entry(one["id"], "extended", {"step": coat["key"], "seconds": 600}, 2)
    begin = an_entry(one["id"], "started", {"step": coat["key"]}, 1)
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [begin, late]}).json
    assert not got["refused"], got
    assert lead.send("POST", f"/shifts/{shift}/plan-requests").status_code == 202
    run_worker_once(demo_url)
    again = lead.get(f"/shifts/{shift}/bench").json
    assert again["plan"]["number"] > bench["plan"]["number"]
    at = {(i["batch"], i["step"]): i["start"] for i in again["plan"]["items"]}
    assert at[one["id"], load[one["id"]]] == at[two["id"], load[two["id"]]]
    assert at[one["id"], load[one["id"]]] >= at[one["id"], coat["key"]] + coat["duration_s"] + 600


def test_a_shift_that_is_too_much_is_split_into_sittings_with_a_method_in_common(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "microwave", "steamer", "air_fryer", "deep_fryer"), "plant")
    ids = [m["id"] for m in t["methods"]]
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 30 * 3600))
    shift = lead.send(
        "POST", f"/trials/{t['id']}/shifts", {"serve_from": serve, "same_age": True, "name": "Screening"}
    ).json
    path = f"/shifts/{shift['id']}/sittings"
    bad = lead.send("POST", path, {"common": trial_id(lead), "most": 3}).json["errors"][0]
    assert bad["field"] == "method in common"
    bad = lead.send("POST", path, {"common": ids[1], "most": 5}).json["errors"][0]
    assert bad["field"] == "methods in a sitting"
    made = lead.send("POST", path, {"common": ids[1], "most": 3})
    assert made.status_code == 201, made.json
    run_worker_once(demo_url)
    listed = lead.get(f"/trials/{t['id']}/shifts").json["items"]
    assert {s["name"] for s in listed} == {"Screening, sitting 1", "Screening, sitting 2"}
    first, second = sorted(listed, key=lambda s: s["serve_from"])
    assert second["serve_from"] - first["serve_from"] == pytest.approx(86400, abs=3600)
    benches = [lead.get(f"/shifts/{s['id']}/bench").json for s in (first, second)]
    cooked = [[b["method_id"] for b in bench["batches"]] for bench in benches]
    assert all(ids[1] in some and len(some) == 3 for some in cooked)
    assert {m for some in cooked for m in some} == set(ids)
    assert all(bench["plan"]["items"] for bench in benches)
    assert lead.get(f"/trials/{t['id']}/fairness").json["shifts"] == []
    # Without the common method in the second one nothing links the two days.
    only = [b["method_id"] for b in benches[1]["batches"] if b["method_id"] != ids[1]]
    ok(lead.send("DELETE", f"/shifts/{second['id']}"))
    later = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 54 * 3600))
    body = {"serve_from": later, "replicates": dict.fromkeys(only, 1), "name": "The rest"}
    lead.send("POST", f"/trials/{t['id']}/shifts", body)
    (told,) = lead.get(f"/trials/{t['id']}/fairness").json["shifts"]
    assert "were never cooked in one shift" in told
    assert "The rest" in told

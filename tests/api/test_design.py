"""Ask and Set up: versions, units, differences, offers."""

import pytest

from tests.api.helpers import Client, new_trial, trial_id


def test_a_lost_update_is_refused_and_never_silent(lead: Client) -> None:
    t = trial_id(lead)
    version = lead.get(f"/trials/{t}").json["version"]
    assert lead.send("PATCH", f"/trials/{t}", {"hunch": "mine"}, version).status_code == 200
    late = lead.send("PATCH", f"/trials/{t}", {"hunch": "theirs"}, version)
    assert late.status_code == 412
    assert "Reload" in late.json["detail"]
    assert lead.send("PATCH", f"/trials/{t}", {"hunch": "none"}).status_code == 428
    assert lead.get(f"/trials/{t}").json["hunch"] == "mine"


def test_bad_input_names_the_field_and_nothing_is_lost(lead: Client) -> None:
    t = new_trial(lead)
    method = t["methods"][0]
    steps = [
        {**s, "duration_s": "a while" if n == 2 else s["duration_s"]} for n, s in enumerate(method["steps"])
    ]
    bad = lead.send("PUT", f"/trials/{t['id']}/methods/{method['id']}/steps", {"items": steps}, t["version"])
    assert bad.status_code == 422
    assert bad.json["errors"][0]["field"].endswith("items.2.duration_s")
    assert "2:30" in bad.json["errors"][0]["todo"]
    assert lead.get(f"/trials/{t['id']}").json["methods"][0]["steps"] == method["steps"]


def test_quantities_are_read_as_written_and_in_the_persons_units(lead: Client) -> None:
    t = new_trial(lead)
    path = f"/trials/{t['id']}/methods/{t['methods'][0]['id']}"
    t = lead.send("PATCH", path, {"batch_kg": "1 lb 4 oz", "start_c": "68 F"}, t["version"]).json
    assert t["methods"][0]["batch_kg"] == pytest.approx(0.567, abs=1e-3)
    assert t["methods"][0]["start_c"] == pytest.approx(20)
    lead.send("PATCH", "/me", {"units": "us"})
    t = lead.send("PATCH", path, {"start_c": "212", "batch_kg": ""}, t["version"]).json
    assert t["methods"][0]["start_c"] == pytest.approx(100)
    assert t["methods"][0]["batch_kg"] is None


def test_differences_are_found_accepted_in_writing_and_come_back_when_they_change(lead: Client) -> None:
    t = new_trial(lead)
    a, b = (m["id"] for m in t["methods"])
    rows = {"items": [{"name": "oil", "allergens": [], "amounts": {a: "10 g", b: None}}]}
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    oil = next(d for d in fair["differences"] if d["field"] == "amount of oil")
    assert oil["values"] == {"OV": "10 g", "MI": "none"}
    body = {"field": oil["field"], "signature": oil["signature"], "reason": "the tray needs it"}
    t = lead.send("POST", f"/trials/{t['id']}/accepted-differences", body, t["version"]).json
    again = {d["field"]: d["accepted"] for d in lead.get(f"/trials/{t['id']}/fairness").json["differences"]}
    assert again["amount of oil"] == "the tray needs it"
    rows["items"][0] |= {"id": t["ingredients"][0]["id"], "amounts": {a: "20 g", b: None}}
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    again = {d["field"]: d["accepted"] for d in lead.get(f"/trials/{t['id']}/fairness").json["differences"]}
    assert again["amount of oil"] is None


def test_a_step_that_is_there_keeps_its_id_and_one_that_is_written_twice_is_another(lead: Client) -> None:
    t = new_trial(lead)
    method = t["methods"][0]
    first, *rest = method["steps"]
    new = {**first, "id": None, "what": "Turn the tray", "end_rule": "clock"}
    again = {**first, "what": first["what"] + " once more"}
    t = lead.send(
        "PUT",
        f"/trials/{t['id']}/methods/{method['id']}/steps",
        {"items": [*rest, first, new, again]},
        t["version"],
    ).json
    stored = lead.get(f"/trials/{t['id']}").json["methods"][0]["steps"]
    assert [s["what"] for s in stored] == [
        *(s["what"] for s in rest),
        first["what"],
        "Turn the tray",
        f"{first['what']} once more",
    ]
    assert [s["id"] for s in stored][: len(rest) + 1] == [*(s["id"] for s in rest), first["id"]]
    assert len({s["id"] for s in stored}) == len(stored)
    # Whatever else is written of a step is what was there.
    assert {k: v for k, v in stored[len(rest)].items() if k != "position"} == {
        k: v for k, v in first.items() if k != "position"
    }


def test_the_microwaves_measured_power_is_offered(lead: Client) -> None:
    t = new_trial(lead)
    mw = t["methods"][1]
    steps = [{**s, "power_w": "800 W" if s["phase"] == "cook" else None} for s in mw["steps"]]
    t = lead.send("PUT", f"/trials/{t['id']}/methods/{mw['id']}/steps", {"items": steps}, t["version"]).json
    found = {(o["method_id"], o["rule"]): o for o in lead.get(f"/trials/{t['id']}/offers").json["items"]}
    offer = found[mw["id"], "microwave power"]
    assert (offer["also"], offer["records"]) == ({"power_w": 700}, 0)
    assert offer["offered"] == pytest.approx(180 * 8 / 7)
    assert offer["low"] < offer["offered"] < offer["high"]
    oven = found[t["methods"][0]["id"], "offset of the dial"]
    assert (oven["written"], oven["offered"]) == (200, 212)


def test_an_appliance_that_gives_more_than_it_draws_is_refused(lead: Client) -> None:
    wrong = lead.send(
        "POST", "/appliances", {"name": "M", "kind": "microwave", "input_w": "700 W", "rated_w": "0.9 kW"}
    )
    assert wrong.status_code == 422
    assert wrong.json["errors"][0]["field"] == "rated output"


def test_search_needs_every_word_and_pages_by_cursor(lead: Client) -> None:
    assert [t["title"] for t in lead.get("/trials?search=stuffed+leek").json["items"]] == [
        "Filled yeast buns"
    ]
    assert lead.get("/trials?search=stuffed+beetroot").json["items"] == []
    assert lead.get("/trials?search=%25").json["items"] == []
    before = len(lead.get("/trials").json["items"])
    for n in range(32):
        lead.send("POST", "/trials", {"question": f"Q{n}?", "dish": "rice pudding"})
    first = lead.get("/trials").json
    rest = lead.get(f"/trials?cursor={first['cursor']}").json
    ids = [t["id"] for t in first["items"] + rest["items"]]
    assert len(ids) == len(set(ids)) == before + 32
    assert rest["cursor"] == ""
    assert lead.get("/trials?cursor=rubbish").status_code == 422

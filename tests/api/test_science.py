"""Heat and safety in use: workbench, measurements, outlook, figures, the gate, what is not for publishing."""

import time
from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, cook_all, make_shift, new_trial, trial_id, whole_run
from tests.conftest import run_worker_once
from yeasty.api.app import Settings, create_app


def test_every_calculator_answers_its_own_example_in_both_systems(lead: Client) -> None:
    items = lead.get("/workbench").json["items"]
    assert len(items) >= 20
    for units in ("metric", "us"):
        assert lead.send("PATCH", "/me", {"units": units}).status_code in (200, 204)
        for c in items:
            got = lead.send("POST", f"/workbench/{c['key']}", {"given": {}})
            assert got.status_code == 200, (c["key"], got.json)
            assert got.json["headline"], c["key"]


@pytest.mark.parametrize(
    ("key", "given", "field"),
    [
        ("core-time", {"thickness": "-2 cm"}, "thickness"),
        ("core-time", {"target": "230 °C"}, "target temperature"),
        ("core-time", {"start": "-4 °C"}, "temperature"),
        ("pressure", {"to_pressure": "hot"}, "at"),
        ("probe-log", {"log": [["0 s", "165 °C"]] * 20}, "time"),
        ("water-test", {"runs": [["1 kg", "20 °C", "20.5 °C", "60 s"]]}, "temperature after"),
        ("drying", {"water": "NaN"}, "water"),
        ("hot-air", {"use": "spaceship"}, "used"),
        ("weight", {"nonsense": "1"}, "inputs"),
    ],
)
def test_what_cannot_be_reckoned_names_its_field(
    lead: Client, key: str, given: dict[str, Any], field: str
) -> None:
    got = lead.send("POST", f"/workbench/{key}", {"given": given})
    assert got.status_code in (409, 422), got.json
    assert field in got.json["errors"][0]["field"].lower()
    assert got.json["errors"][0]["todo"]


def test_a_core_of_165_in_celsius_is_flagged(lead: Client) -> None:
    log = [[f"{10 * n} s", f"{60 + 8 * n} °C"] for n in range(16)]
    got = lead.send("POST", "/workbench/probe-log", {"given": {"log": log}})
    assert got.status_code == 422
    assert "Fahrenheit" in got.json["errors"][0]["todo"]


def test_own_records_correct_a_rule_and_are_counted(lead: Client) -> None:
    first = lead.send("POST", "/workbench/weight", {"given": {}}).json
    assert (first["rule"], first["records"]) == ("time by weight", 0)
    for _ in range(3):
        kept = lead.send(
            "POST",
            "/rule-records",
            {
                "rule": first["rule"],
                "predicted": first["predicted"],
                "kind": first["predicted_kind"],
                "observed": "55 min",
            },
        )
        assert kept.status_code == 201, kept.json
    after = lead.send("POST", "/workbench/weight", {"given": {}}).json
    assert after["records"] == 3
    assert "3 records of this kitchen" in str(after["lines"])
    assert after["headline"] != first["headline"]
    assert len(lead.get("/rule-records").json["items"]) == 3
    wrong = {"rule": "time by weight", "predicted": 100.0, "kind": "duration", "observed": "9 days"}
    assert lead.send("POST", "/rule-records", wrong).status_code == 422


def test_without_the_reckoner_the_rest_goes_on(demo_url: str) -> None:
    made = create_app(Settings(demo_url, reckoner="/nowhere/reckoner", testing=True))
    lead = Client(made.test_client()).sign_in("lead", "flour-water-salt")
    assert lead.get("/workbench").status_code == 503
    shift = lead.get(f"/trials/{trial_id(lead, 'chickpeas')}/shifts").json["items"][0]["id"]
    look = lead.get(f"/shifts/{shift}/outlook")
    assert look.status_code == 200
    made.extensions["yeasty_engine"].dispose()


# Appliances
def test_a_water_test_goes_into_the_profile_and_struck_out_comes_out_again(lead: Client) -> None:
    mw = next(a for a in lead.get("/appliances").json["items"] if a["kind"] == "microwave")
    runs = [["1 kg", "20 °C", f"{20 + 9.0 + d} °C", "60 s"] for d in (0, 0.2, -0.2)]
    made = lead.send(
        "POST",
        f"/appliances/{mw['id']}/measurements",
        {"kind": "water-test", "given": {"runs": runs, "vessel_kg": ""}},
    )
    assert made.status_code == 201, made.json
    now = next(a for a in lead.get("/appliances").json["items"] if a["id"] == mw["id"])
    assert now["measured_w"] == pytest.approx(628, abs=2)
    assert (
        lead.send(
            "POST",
            f"/appliances/{mw['id']}/measurements/{made.json['id']}/strike",
            {"why": "the jug was warm"},
        ).status_code
        == 200
    )
    after = next(a for a in lead.get("/appliances").json["items"] if a["id"] == mw["id"])
    assert after["measured_w"] == mw["measured_w"] == 700
    kept = lead.get(f"/appliances/{mw['id']}/measurements").json["items"]
    assert kept[0]["struck_why"] == "the jug was warm"


def test_offset_points_and_preheat_are_offered_at_the_step(lead: Client) -> None:
    oven = next(a for a in lead.get("/appliances").json["items"] if a["kind"] == "oven")
    pairs = {"pairs": [["150 °C", "140 °C"], ["200 °C", "185 °C"], ["230 °C", "212 °C"]]}
    assert (
        lead.send(
            "POST", f"/appliances/{oven['id']}/measurements", {"kind": "offset", "given": pairs}
        ).status_code
        == 201
    )
    log = {
        "log": [
            [f"{s} s", f"{20 + 230 * (1 - 2.718281828 ** (-s / 900)):.1f} °C"] for s in range(0, 1501, 60)
        ]
    }
    assert (
        lead.send(
            "POST", f"/appliances/{oven['id']}/measurements", {"kind": "preheat", "given": log}
        ).status_code
        == 201
    )
    offers = {o["rule"]: o for o in lead.get(f"/trials/{new_trial(lead)['id']}/offers").json["items"]}
    assert offers["offset of the dial"]["offered"] == pytest.approx(216, abs=2)
    assert offers["preheat"]["offered"] > 1200
    assert "own preheat" in offers["preheat"]["source"]


# Cook
def chickpea_shift(lead: Client) -> str:
    return str(lead.get(f"/trials/{trial_id(lead, 'chickpeas')}/shifts").json["items"][0]["id"])


def test_the_outlook_tells_circuits_and_each_batch(lead: Client) -> None:
    look = lead.get(f"/shifts/{chickpea_shift(lead)}/outlook").json
    assert {b["core_standing"] for b in look["batches"]} == {"no core minimum for this food"}
    assert any("kW" in c["sentence"] for c in look["planned"])
    assert "licensed electrician" in look["codes_first"]
    assert look["reckoning"]


def meatballs(
    lead: Client, demo_url: str, food: str = "poultry"
) -> tuple[dict[str, Any], str, dict[str, Any]]:
    """A trial of meatballs by two ways with a core target, shift planned and begun."""
    t = new_trial(lead, ("deep_fryer", "steamer"))
    t = lead.send("PATCH", f"/trials/{t['id']}", {"food_class": food}, t["version"]).json
    for n, m in enumerate(list(t["methods"])):
        piece = {
            "piece_shape": "sphere",
            "piece_thickness_m": "4 cm",
            "piece_food": "meatball_mix",
            "start_c": "5 °C",
        }
        t = lead.send("PATCH", f"/trials/{t['id']}/methods/{m['id']}", piece, t["version"]).json
        steps = [
            {
                **s,
                **(
                    {"end_rule": "core", "end_core_c": "74 °C", "set_point_c": ["170 °C", "100 °C"][n]}
                    if s["phase"] == "cook"
                    else {}
                ),
            }
            for s in m["steps"]
        ]
        got = lead.send("PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"])
        assert got.status_code == 200, got.json
        t = got.json
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    return t, shift, dict(lead.get(f"/shifts/{shift}/bench").json)


def into_the_heat(bench: dict[str, Any], batch: dict[str, Any], at: float) -> list[dict[str, Any]]:
    """Entries that bring a batch into its heat at a moment."""
    entries = []
    for n, s in enumerate(batch["steps"]):
        if s["phase"] == "cook":
            break
        if s["during_offset_s"] is None:
            kind = "done" if s["attention"] == "hands" else "started" if n == 0 else "done"
            entries.append(
                an_entry(batch["id"], kind, {"step": s["key"], "at": at - (0 if kind == "done" else 300)}, n)
            )
            if kind == "started":
                entries.append(an_entry(batch["id"], "done", {"step": s["key"], "at": at - 120}, n + 50))
    return entries


def test_a_ready_time_from_size_gives_way_to_one_from_the_probe(lead: Client, demo_url: str) -> None:
    _, shift, bench = meatballs(lead, demo_url)
    before = {b["batch"]: b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"]}
    steamed = next(b for b in bench["batches"] if "team" in b["name"])
    f = before[steamed["id"]]["forecast"]
    assert f["basis"] == "size"
    assert f["ready_low"] < f["ready_at"] < f["ready_high"]
    assert "165 °F" not in f["sentence"]
    assert "74 °C" in f["sentence"]

    from yeasty.core.heat.conduction import Piece, temperature, time_to_target

    begun = time.time() - 420
    args = (5.0, 100.0, 900.0, 0.45, 1.35e-7)
    entries = into_the_heat(bench, steamed, begun)
    for n in range(1, 22):
        celsius = float(temperature(Piece("sphere", 0.02), 20.0 * n, *args))
        entries.append(
            an_entry(
                steamed["id"],
                "temperature",
                {"celsius": round(celsius, 1), "where": "core", "at": begun + 20 * n},
                100 + n,
            )
        )
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": entries}).json
    assert got["refused"] == []
    look = {b["batch"]: b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"]}
    f = look[steamed["id"]]["forecast"]
    assert f["basis"] == "probe", f
    true = begun + time_to_target(Piece("sphere", 0.02), 74, *args)
    assert abs(f["ready_at"] - true) < 60
    assert look[steamed["id"]]["core_standing"] == "below the figure entered"
    assert "between 4 and 63" in look[steamed["id"]]["zone"]


def test_a_probe_on_raw_poultry_is_carried_until_it_is_washed(lead: Client, demo_url: str) -> None:
    _, shift, bench = meatballs(lead, demo_url)
    batch = bench["batches"][0]["id"]
    lead.send(
        "POST",
        f"/shifts/{shift}/entries",
        {"entries": [an_entry(batch, "temperature", {"celsius": 6, "where": "core"})]},
    )
    assert lead.get(f"/shifts/{shift}/outlook").json["carrying"] == ["probe"]
    washed = an_entry(batch, "washed", {"thing": "probe"}, 2, time.time() + 1)
    assert lead.send("POST", f"/shifts/{shift}/entries", {"entries": [washed]}).json["refused"] == []
    assert lead.get(f"/shifts/{shift}/outlook").json["carrying"] == []
    strange = an_entry(batch, "washed", {"thing": "car"}, 3)
    assert lead.send("POST", f"/shifts/{shift}/entries", {"entries": [strange]}).json["refused"]


# The gate
def test_unknown_is_not_met_until_the_lead_owns_it_in_writing(
    lead: Client, cook: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    t = lead.send("PATCH", f"/trials/{t['id']}", {"food_class": "mince"}, t["version"]).json
    shift = make_shift(lead, t)
    bench = cook_all(lead, shift["id"], demo_url, core=None)
    one = bench["batches"][0]["id"]
    found = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert not any(c["may"] for c in found)
    assert all("unknown counts as not met" in c["why_not"] for c in found)
    asked = {"batches": [c["batch_id"] for c in found], "tasters": ["a"]}
    assert lead.send("POST", f"/trials/{t['id']}/tastings", asked).status_code == 422
    assert (
        cook.send(
            "POST", f"/batches/{one}/ownerships", {"why": "read with a second probe, on paper"}
        ).status_code
        == 403
    )
    for b in bench["batches"]:
        assert lead.send("POST", f"/batches/{b['id']}/ownerships", {"why": "too short"}).status_code == 422
        why = "read with a second probe, 78 °C, written on the sheet"
        assert lead.send("POST", f"/batches/{b['id']}/ownerships", {"why": why}).status_code == 204
    after = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert all(c["may"] for c in after), after
    assert lead.send("POST", f"/trials/{t['id']}/tastings", asked).status_code == 201


def test_a_trial_without_a_kind_of_food_is_not_tasted(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, food="")
    assert lead.send("PATCH", f"/trials/{t['id']}", {"food_class": "lava"}, t["version"]).status_code == 422
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    found = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert all("kind of food is not stated" in c["why_not"] for c in found)


# Figures
def test_figures_carry_their_status_and_can_be_verified_or_made_stricter(lead: Client, cook: Client) -> None:
    view = lead.get("/safety").json
    assert all("recalled" in f["status"] for f in view["figures"])
    assert cook.send("POST", "/safety/figures/us-poultry/checks", {"edition": "2025"}).status_code == 403
    view = lead.send(
        "POST", "/safety/figures/us-poultry/checks", {"edition": "2025 edition", "page": "p. 12"}
    ).json
    assert (
        "verified by the kitchen: 2025 edition, p. 12"
        in next(f for f in view["figures"] if f["id"] == "us-poultry")["status"]
    )
    own = {"temperature_c": "76 °C", "hold_s": "30 s", "reason": "we keep a margin for the probe's error"}
    view = lead.send("POST", "/safety/figures/us-poultry/own", own).json
    mine = next(f for f in view["figures"] if f["id"] == "us-poultry")
    assert (mine["own"], mine["laxer"]) == ("76 °C, 30 s", False)
    assert lead.send("DELETE", "/safety/figures/us-poultry/own").json["figures"] != view["figures"]
    assert lead.put("/safety", {"profile": "strictest", "zone_use_s": "3 h"}).status_code == 422
    assert (
        lead.put("/safety", {"profile": "UK national guidance", "zone_use_s": "60 min"}).json["zone_use_s"]
        == 3600
    )


def test_what_is_cooked_by_a_laxer_figure_is_not_published(lead: Client, demo_url: str) -> None:
    t = whole_run(lead, demo_url)
    t = lead.get(f"/trials/{t['id']}").json
    t = lead.send("PATCH", f"/trials/{t['id']}", {"food_class": "whole_cut"}, t["version"]).json
    own = {"temperature_c": "57 °C", "hold_s": "3 min", "reason": "house rule for what is seared outside"}
    assert lead.send("POST", "/safety/figures/us-whole-cuts/own", own).json
    items = [{"name": "cauliflower", "allergens": [], "amounts": {m["id"]: "450 g" for m in t["methods"]}}]
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", {"items": items}, t["version"]).json
    page = lead.get(f"/trials/{t['id']}/publication").json
    chosen = {"method_id": t["methods"][0]["id"], "title": "By our own figure"}
    assert lead.send("PATCH", f"/trials/{t['id']}/publication", chosen, page["version"]).status_code == 200
    refused = lead.send("POST", f"/trials/{t['id']}/publications", {"correction": ""})
    assert refused.status_code == 409, refused.json
    assert "laxer" in refused.json["detail"]


def test_circuits_are_kept_and_wrong_ones_named(lead: Client) -> None:
    items = lead.get("/circuits").json["items"]
    assert {c["name"] for c in items} == {"A", "B", "C", "D"}
    twice = lead.put("/circuits", {"items": [items[0], items[0]]})
    assert twice.status_code == 422
    assert (
        lead.put("/circuits", {"items": [{"name": "A", "breaker_a": 0, "voltage_v": 230}]}).status_code == 422
    )
    assert lead.put("/circuits", {"items": items[:1]}).json["items"] == items[:1]

"""Ask in full, through the API: kinds laid out, families, recipes, lists, guesses; the library beside it."""

import io
import json
import uuid
import zipfile
from typing import Any

import pytest

from tests.api.helpers import Client, by_title, trial_id


def begin(client: Client, kind: str, technique: str = "") -> dict[str, Any]:
    t = client.send(
        "POST",
        "/trials",
        {"question": "Which?", "dish": "cauliflower florets", "kind": kind, "food_class": "plant"},
    ).json
    if technique:
        t = client.send("POST", f"/trials/{t['id']}/methods", {"technique": technique}, t["version"]).json
    return dict(t)


GRID = {
    "factors": [
        {
            "name": "pre-cook",
            "levels": [
                {"name": "none"},
                {"name": "steamed", "technique": "steamer", "sets": {"cook_s": 300}},
            ],
        },
        {
            "name": "finish",
            "levels": [
                {"name": "oven", "technique": "oven", "sets": {"set_point_c": 220, "cook_s": 600}},
                {"name": "fryer", "technique": "air_fryer"},
                {"name": "torch", "technique": "torch"},
            ],
        },
    ],
    "barred": [],
    "pieces_a_cell": 4,
    "pieces_at_hand": 18,
}


def test_a_grid_says_what_it_needs_offers_a_part_and_becomes_methods(lead: Client) -> None:
    plan = lead.send("POST", "/grid-plans", {"grid": GRID}).json
    assert plan["whole"]["short_of"] == 6
    assert "too few before the first cut" in plan["sentence"]
    assert plan["affordable"] == plan["least"] == 4
    part = lead.send("POST", "/grid-plans", {"grid": GRID, "cells": 4, "shifts": 2}).json
    assert part["part"]["short_of"] == 0
    assert "Cannot be told apart" in part["tells"] or "in part" in part["tells"]
    assert len(part["blocks"]["blocks"]) == 2
    t = begin(lead, "grid")
    got = lead.send(
        "PUT", f"/trials/{t['id']}/layout", {"grid": {"grid": GRID, "cells": part["chosen"]}}, t["version"]
    )
    assert got.status_code == 200, got.json
    methods = {tuple(m["levels"]): m for m in got.json["methods"]}
    assert len(methods) == 4
    mixed = next(m for levels, m in methods.items() if levels[0] == "steamed")
    whats = [s["what"] for s in mixed["steps"]]
    assert whats.index("Steam") < len(whats) - 2
    assert sum(s["phase"] == "wash_up" for s in mixed["steps"]) == 1
    assert [m["tag"] for m in got.json["methods"]] == sorted(
        {m["tag"] for m in got.json["methods"]}, key=[m["tag"] for m in got.json["methods"]].index
    )
    again = lead.send(
        "PUT",
        f"/trials/{t['id']}/layout",
        {"grid": {"grid": GRID, "cells": part["chosen"][:3]}},
        got.json["version"],
    ).json
    assert {m["id"] for m in again["methods"]} < {m["id"] for m in got.json["methods"]}


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"factors": []}, "factors"),
        ({"factors": [{"name": "heat", "levels": [{"name": "a"}]}]}, "heat"),
        ({"factors": [{"name": "", "levels": [{"name": "a"}, {"name": "b"}]}]}, "factors"),
    ],
)
def test_a_bad_grid_is_told_at_its_field(lead: Client, change: dict[str, Any], field: str) -> None:
    got = lead.send("POST", "/grid-plans", {"grid": {**GRID, **change}})
    assert got.status_code == 422
    assert got.json["errors"][0]["field"] == field
    assert got.json["errors"][0]["todo"]


def test_a_ladder_shows_its_pulls_and_becomes_rungs(lead: Client) -> None:
    layout = {
        "base_technique": "pressure_cooker",
        "rises": "time",
        "rungs": [360, 540, 720, 900, 1080],
        "guess": 600,
        "pots": 1,
        "pieces_a_rung": 3,
    }
    plan = lead.send("POST", "/ladder-plans", layout).json
    assert [p["left"] for p in plan["pulls"]] == [12, 9, 6, 3, 0]
    assert plan["problems"] == []
    assert (
        "past your guess" in lead.send("POST", "/ladder-plans", {**layout, "guess": 1000}).json["problems"][0]
    )
    t = begin(lead, "ladder")
    got = lead.send("PUT", f"/trials/{t['id']}/layout", {"ladder": layout}, t["version"]).json
    assert [m["name"] for m in got["methods"]] == ["6 min", "9 min", "12 min", "15 min", "18 min"]
    assert [s["duration_s"] for m in got["methods"] for s in m["steps"] if s["phase"] == "cook"] == [
        360,
        540,
        720,
        900,
        1080,
    ]
    assert "look at the water level" in next(
        s["what"] for s in got["methods"][0]["steps"] if s["phase"] == "out"
    )
    cores = {**layout, "rises": "core temperature", "rungs": [60, 64, 68, 72, 76], "guess": 66}
    t = begin(lead, "ladder")
    got = lead.send("PUT", f"/trials/{t['id']}/layout", {"ladder": cores}, t["version"]).json
    assert [s["end_core_c"] for m in got["methods"] for s in m["steps"] if s["phase"] == "cook"] == [
        60,
        64,
        68,
        72,
        76,
    ]


def test_a_branch_shares_its_cook_and_varieties_exchange_one_ingredient(lead: Client) -> None:
    t = begin(lead, "branch")
    layout = {
        "base_technique": "steamer",
        "finishes": [
            {"name": "as it comes"},
            {"name": "torched", "technique": "torch", "sets": {"cook_s": 60}},
        ],
    }
    got = lead.send("PUT", f"/trials/{t['id']}/layout", {"branch": layout}, t["version"]).json
    plain, torched = got["methods"]
    assert [s["what"] for s in plain["steps"]][:3] == [s["what"] for s in torched["steps"]][:3]
    assert "torch" in torched["hazards"]
    assert "torch" not in plain["hazards"]
    t = begin(lead, "varieties", "hob_boil")
    m = t["methods"][0]["id"]
    t = lead.send(
        "PUT",
        f"/trials/{t['id']}/ingredients",
        {
            "items": [
                {"name": "pudding rice", "amounts": {m: "60 g"}},
                {"name": "milk", "amounts": {m: "500 g"}},
            ]
        },
        t["version"],
    ).json
    got = lead.send(
        "PUT",
        f"/trials/{t['id']}/layout",
        {
            "varieties": {
                "ingredient": "pudding rice",
                "varieties": ["pudding rice", "risotto rice", "basmati"],
            }
        },
        t["version"],
    ).json
    names = {i["id"]: i["name"] for i in got["ingredients"]}
    assert [
        [names[a["ingredient_id"]] for a in m["amounts"] if names[a["ingredient_id"]] != "milk"]
        for m in got["methods"]
    ] == [["pudding rice"], ["risotto rice"], ["basmati"]]
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    assert fair["open_count"] == 0, fair
    assert "to the variety" in fair["claim"]


def test_forty_ways_are_pasted_judged_and_the_best_go_on(lead: Client) -> None:
    t = begin(lead, "screening")
    table = "\n".join(f"Way {n}\t{('Oven', 'Steamer', 'hob_boil')[n % 3]}\tnote {n}" for n in range(40))
    t = lead.send("POST", f"/trials/{t['id']}/ways", {"table": table}, t["version"]).json
    assert len({m["tag"] for m in t["methods"]}) == len({m["mark"]["number"] for m in t["methods"]}) == 40
    words = t["layout"]["words"]
    rows = [{"method_id": m["id"], "word": words[n % 5], "note": ""} for n, m in enumerate(t["methods"])]
    t = lead.send("PUT", f"/trials/{t['id']}/screening-verdicts", {"items": rows}, t["version"]).json
    best = lead.get(f"/trials/{t['id']}/best-few?few=3").json
    assert len(best["method_ids"]) == 8
    closer = lead.send(
        "POST", f"/trials/{t['id']}/copies", {"kind": "side_by_side", "method_ids": best["method_ids"]}
    ).json
    assert len(closer["methods"]) == 8
    assert closer["parent_trial_id"] == t["id"]
    wrong = lead.send("POST", f"/trials/{t['id']}/ways", {"table": "New\t—"}, t["version"])
    assert wrong.json["errors"][0]["field"] == "line 1"
    bad = lead.send(
        "PUT",
        f"/trials/{t['id']}/screening-verdicts",
        {"items": [{"method_id": t["methods"][0]["id"], "word": "sublime"}]},
        t["version"],
    )
    assert bad.status_code == 422


def test_a_challenger_comes_from_a_finished_trial_with_everything_copied(lead: Client) -> None:
    buns = lead.get(f"/trials/{trial_id(lead)}").json
    got = lead.send(
        "POST",
        f"/trials/{buns['id']}/challenges",
        {"change": "brushed with milk before baking", "aimed_defect": "dull crust"},
    )
    assert got.status_code == 201, got.json
    t = got.json
    champion, challenger = t["methods"]
    assert t["kind"] == "champion"
    assert t["layout"]["champion"] == champion["id"]
    leader = next(m for m in buns["methods"] if m["id"] == champion["parent_method_id"])
    assert [s["what"] for s in champion["steps"]] == [s["what"] for s in leader["steps"]]
    assert [a["name"] for a in t["attributes"]] == [a["name"] for a in buns["attributes"]]
    assert {i["name"] for i in t["ingredients"]} == {i["name"] for i in buns["ingredients"]}
    assert challenger["aimed_defect"] == "dull crust"
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    assert "differs in nothing that is written" in fair["claim"]
    family = lead.get(f"/trials/{t['id']}/family").json
    assert {i["trial"] for i in family["items"]} == {buns["title"], t["title"]}
    assert next(i for i in family["items"] if i["method_id"] == challenger["id"])["generation"] == 2
    refused = lead.send("POST", f"/trials/{buns['id']}/challenges", {"change": "x", "aimed_defect": ""})
    assert refused.status_code in (409, 422)


def test_versions_say_what_changed_and_count_failed_tries(lead: Client) -> None:
    t = by_title(lead, "Flatbread dough, six versions")
    family = {
        i["tag"]: i for i in lead.get(f"/trials/{t['id']}/family").json["items"] if i["trial_id"] == t["id"]
    }
    assert family["VC"]["changed"] == ["set point: 210 °C → 230 °C"]
    assert family["VF"]["changed"] == ["amount of rapeseed oil: none → 8 g"]
    assert lead.get(f"/trials/{t['id']}/fairness").json["claim"].startswith("Each version changes one thing")
    last = next(m for m in t["methods"] if m["tag"] == "VF")
    got = lead.send(
        "POST", f"/trials/{t['id']}/methods/{last['id']}/failed-tries", {"note": "pan too cold"}, t["version"]
    ).json
    assert next(m for m in got["methods"] if m["tag"] == "VF")["failed_tries"] == 2
    more = lead.send(
        "POST",
        f"/trials/{t['id']}/methods/{last['id']}/versions",
        {"change": "longer rest", "aimed_defect": "sticks"},
        got["version"],
    ).json
    assert more["methods"][-1]["parent_method_id"] == last["id"]


def test_a_recipe_is_read_shown_and_made_a_method(lead: Client) -> None:
    text = (
        "# Pan bread\n## Ingredients\n- 250 g flour\n- 1 egg-sized knob of butter\n## Method\n1. Knead "
        "for 5 min.\n2. Bake at 200 °C for 20 minutes."
    )
    reading = lead.send("POST", "/recipe-readings", {"text": text}).json
    assert any("knob of butter" in n for n in reading["not_understood"])
    t = lead.send("POST", "/recipes", {"text": text}).json
    assert t["dish"] == "Pan bread"
    # What the first brings along before its heat is prepared for all that will join it.
    assert [s["what"] for s in t["preparation"]["items"]] == ["Knead for 5 min."]
    assert [s["duration_s"] for s in t["methods"][0]["steps"]] == [1200]
    other = text.replace("2. Bake at 200 °C", "2. Rest for 10 min.\n3. Steam")
    seen = lead.send("POST", "/recipe-readings", {"text": other, "trial_id": t["id"]}).json
    assert (seen["prepared"], seen["by_the_others"], seen["advised"]) == (["Knead for 5 min."], [], True)
    t = lead.send("POST", "/recipes", {"text": other, "trial_id": t["id"]}, t["version"]).json
    assert [len(m["steps"]) for m in t["methods"]] == [1, 2]
    # One that is not kneaded: what it does not have in common each of the others does by itself, said before.
    third = text.replace("1. Knead for 5 min.\n2.", "1.")
    seen = lead.send("POST", "/recipe-readings", {"text": third, "trial_id": t["id"]}).json
    assert (seen["prepared"], seen["by_the_others"], seen["advised"]) == ([], ["Knead for 5 min."], False)
    t = lead.send("POST", "/recipes", {"text": third, "trial_id": t["id"]}, t["version"]).json
    assert t["preparation"]["items"] == []
    assert [[s["what"][:5] for s in m["steps"]] for m in t["methods"]] == [
        ["Knead", "Bake "],
        ["Knead", "Rest ", "Steam"],
        ["Bake "],
    ]
    assert (
        lead.send("POST", "/recipe-readings", {"text": "<html><body></body></html>"}).json["errors"][0][
            "field"
        ]
        == "recipe"
    )


def test_promises_come_from_notes_verdicts_and_readers_and_become_trials(lead: Client, app: Any) -> None:
    found = lead.get("/promises").json
    assert {s["source"] for s in found["suggestions"]} == {"note", "what_next"}
    note = next(s for s in found["suggestions"] if s["source"] == "note")
    kept = lead.send(
        "POST",
        "/promises",
        {"text": note["text"], "source": "note", "trial_id": note["trial_id"], "entry_id": note["entry_id"]},
    ).json
    assert note["entry_id"] not in {s["entry_id"] for s in kept["suggestions"]}
    public = app.test_client()
    assert (
        public.post(
            "/api/v1/published/filled-yeast-buns-air-fried/questions", data={"text": "Would rye flour work?"}
        ).status_code
        == 200
    )
    assert (
        public.post(
            "/api/v1/published/filled-yeast-buns-air-fried/questions",
            data={"text": "spam spam", "website": "x"},
        ).status_code
        == 200
    )
    items = lead.get("/promises").json["items"]
    assert [p["text"] for p in items if p["source"] == "reader"][:1] == ["Would rye flour work?"]
    assert "spam spam" not in {p["text"] for p in items}
    mine = next(p for p in items if p["source"] == "note")
    trial = lead.send("POST", f"/promises/{mine['id']}/trial", {"kind": "one_change"}).json
    assert trial["parent_trial_id"] == mine["trial_id"]
    assert len(trial["methods"]) == 1
    assert lead.send("POST", f"/promises/{mine['id']}/trial", {}).status_code == 409


def test_guesses_are_kept_closed_until_the_codes_are_open(lead: Client, app: Any) -> None:
    t = by_title(lead, "Cauliflower florets, coated")
    guesses = lead.get(f"/trials/{t['id']}/guesses").json
    assert (guesses["count"], guesses["shown"], guesses["items"]) == (2, False, [])
    token = guesses["link"].removeprefix("/g/")
    public = app.test_client()
    page = public.get(f"/api/v1/guess-pages/{token}").json
    assert set(page) == {"question", "dish", "choices", "closed"}
    sent = public.post(
        f"/api/v1/guess-pages/{token}/guesses",
        json={"method_id": t["methods"][0]["id"], "why": "flour turns gummy"},
    )
    assert sent.status_code == 204
    assert (
        public.post(f"/api/v1/guess-pages/{token}/guesses", json={"method_id": str(uuid.uuid4())}).status_code
        == 422
    )
    assert public.get("/api/v1/guess-pages/not-a-token-at-all").status_code == 404
    shown = lead.send("POST", f"/trials/{t['id']}/guesses/closure").json
    assert shown["shown"]
    assert len(shown["items"]) == 3
    late = public.post(f"/api/v1/guess-pages/{token}/guesses", json={"method_id": t["methods"][0]["id"]})
    assert late.status_code == 409


def test_the_library_is_changed_hidden_and_put_back(lead: Client) -> None:
    before = lead.get("/techniques").json["items"]
    assert len(before) >= 24
    oven = next(t for t in before if t["key"] == "oven")
    body = {
        "name": "Oven, our way",
        "appliance_kind": "oven",
        "gear": ["tray"],
        "hazards": ["hot_surface"],
        "ranges": {"set_point_c": [190, 230]},
        "steps": [
            {
                "what": "Bake",
                "attention": "free",
                "phase": "cook",
                "duration_s": "25 min",
                "set_point_c": "210 °C",
            }
        ],
    }
    lead.technique("PUT", "oven", body)
    got = {t["key"]: t for t in lead.technique("PATCH", "oven", {"hidden": True}).json["items"]}
    assert (got["oven"]["name"], got["oven"]["own"], got["oven"]["hidden"]) == ("Oven, our way", True, True)
    t = begin(lead, "side_by_side", "oven")
    assert t["methods"][0]["name"] == "Oven, our way"
    assert (
        lead.technique("PUT", "oven", {**body, "hazards": ["moonlight"]}).json["errors"][0]["field"]
        == "hazard"
    )
    back = {t["key"]: t for t in lead.send("DELETE", "/techniques/oven").json["items"]}
    assert back["oven"]["name"] == oven["name"]


def test_an_appliance_keeps_its_dial_its_sizes_and_its_past(lead: Client) -> None:
    items = {a["name"]: a for a in lead.get("/appliances").json["items"]}
    slow = items["Slow cooker"]
    assert {d["word"]: d["measured"] for d in slow["dial"]} == {"low": True, "high": True, "warm": False}
    body = {k: v for k, v in slow.items() if k not in ("id", "version")} | {
        "dial": [{"word": "low", "celsius": "190 °F", "measured": True}],
        "capacities": [{"piece_m": "2 in", "pieces": 8}],
    }
    got = lead.send("PUT", f"/appliances/{slow['id']}", body, slow["version"]).json
    assert got["dial"][0]["celsius"] == pytest.approx(87.78, abs=0.01)
    assert got["capacities"][0]["piece_m"] == pytest.approx(0.0508)
    past = lead.get(f"/appliances/{items['Oven']['id']}/past").json["items"]
    assert past[0]["trial"] in ("Turkey meatballs", "Filled yeast buns")
    assert any(p["took_s"] for p in past)


def test_an_archive_of_a_challenger_stands_by_itself(lead: Client) -> None:
    t = by_title(lead, "Cauliflower florets, coated")
    data = lead.get(f"/trials/{t['id']}/archive").data
    tables = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("trial.json"))
    assert tables["trial"][0]["parent_trial_id"] is None
    assert tables["trial"][0]["parent_words"] == "Cauliflower florets"
    assert "guess_token" not in tables["trial"][0]
    inside = {m["id"] for m in tables["method"]}
    assert {m["parent_method_id"] for m in tables["method"]} - {None} <= inside
    assert len(tables["piece"]) == 36
    assert len(tables["place_map"]) == 1

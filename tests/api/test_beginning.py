"""A new trial with all that its first dialog gathers: read back as it is stored."""

from typing import Any

import pytest

from tests.api.helpers import Client, cook_all, make_shift, ok


def begun(lead: Client, **given: Any) -> Any:
    return lead.send(
        "POST", "/trials", {"question": "Which is moister?", "dish": "turkey meatballs", **given}
    )


def test_four_ways_come_at_once_with_the_kitchens_appliances_and_one_core(lead: Client) -> None:
    made = begun(
        lead,
        food_class="poultry",
        techniques=["oven", "air_fryer", "steamer", "microwave"],
        judged=[{"name": "Juiciness", "scale": "intensity", "low_words": "dry", "high_words": "juicy"}],
        pieces=8,
        piece_kg="45 g",
        core_c="74 °C",
    )
    assert made.status_code == 201, made.json
    t = lead.get(f"/trials/{made.json['id']}").json
    assert [m["technique"] for m in t["methods"]] == ["oven", "air_fryer", "steamer", "microwave"]
    assert len({m["tag"] for m in t["methods"]}) == len({m["mark"]["number"] for m in t["methods"]}) == 4
    for m in t["methods"]:
        assert (m["pieces_per_batch"], m["piece_kg"], m["batch_kg"]) == (8, 0.045, 0.36)
        cook = [s for s in m["steps"] if s["phase"] == "cook" and s["during_offset_s"] is None][-1]
        assert (cook["end_rule"], cook["end_core_c"]) == ("core", 74)
    oven = next(s for s in t["methods"][0]["steps"] if s["phase"] == "cook")
    kinds = {a["id"]: a["kind"] for a in lead.get("/appliances").json["items"]}
    assert kinds[oven["appliance_id"]] == "oven"
    assert [a["name"] for a in t["attributes"]] == ["Juiciness"]
    assert t["food_class"] == "poultry"
    assert t["missing"] == []


def test_a_question_and_a_dish_are_enough(lead: Client) -> None:
    t = begun(lead).json
    assert (t["methods"], t["attributes"], t["food_class"]) == ([], [], "")


def test_what_does_not_fit_is_named_and_nothing_is_made(lead: Client) -> None:
    before = len(lead.get("/trials").json["items"])
    for given, field in (
        ({"techniques": ["oven", "teleport"]}, "techniques"),
        ({"techniques": ["oven"], "kind": "ladder"}, "techniques"),
        ({"techniques": ["oven", "pan", "steamer"], "kind": "one_change"}, "techniques"),
        ({"techniques": ["oven"], "core_c": "300 °C"}, "core"),
        ({"food_class": "stone"}, "kind of food"),
        (
            {"judged": [{"name": "A", "scale": "intensity"}, {"name": "a", "scale": "intensity"}]},
            "attributes",
        ),
    ):
        refused = begun(lead, **given)
        assert refused.status_code in (409, 422), given
        assert refused.json["errors"][0]["field"] == field
    assert len(lead.get("/trials").json["items"]) == before


def proposal(lead: Client, dish: str, question: str = "", techniques: tuple[str, ...] = ()) -> Any:
    answer = lead.send(
        "POST", "/trial-proposals", {"dish": dish, "question": question, "techniques": list(techniques)}
    )
    ok(answer)
    return answer.json


def test_what_is_proposed_comes_from_the_same_dish_before_or_from_its_words(lead: Client) -> None:
    words = proposal(lead, "cauliflower gratin", techniques=("oven",))
    assert words["food"]["food_class"] == "plant"
    assert words["earlier"] == ""
    assert {"Tenderness", "Browning", "Taste"} <= {j["name"] for j in words["judged"]}
    ok(
        begun(
            lead,
            dish="Cauliflower gratin",
            food_class="egg_dish",
            judged=[{"name": "Top", "scale": "intensity", "low_words": "pale", "high_words": "brown"}],
        )
    )
    again = proposal(lead, "cauliflower gratin")
    assert again["food"]["food_class"] == "egg_dish"
    assert [j["name"] for j in again["judged"]] == ["Top"]
    assert "Which is" not in again["food"]["why"]
    assert "as in" in again["food"]["why"]
    # Words that ask for more are not talked down by what was said before.
    assert proposal(lead, "cauliflower gratin", "and with turkey?")["food"]["food_class"] == "poultry"
    assert proposal(lead, "")["food"] == {"food_class": "", "why": ""}


def test_a_pasted_way_that_no_library_holds_is_the_kitchens_own_and_its_hazards_are_asked_for(
    lead: Client, demo_url: str
) -> None:
    made = {"question": "Which to look at?", "dish": "beetroot", "food_class": "plant", "kind": "screening"}
    t = lead.send("POST", "/trials", made).json
    table = "Under a lid of dough; clay pot; sealed\nOpen; oven"
    body = {"table": table, "base_technique": "oven"}
    t = lead.send("POST", f"/trials/{t['id']}/ways", body, t["version"]).json
    clay, oven = t["methods"]
    assert (clay["technique"], clay["vessel"], oven["technique"]) == ("own_clay_pot", "clay pot", "oven")
    assert [s["what"] for s in clay["steps"]] == [s["what"] for s in oven["steps"]]
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    held = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert [c["may"] for c in held] == [False, True]
    assert "not in the library, so its hazards are not known" in held[0]["why_not"]


def test_what_goes_into_a_batch_is_said_once_for_all_ways(lead: Client) -> None:
    lines = "500 g cauliflower, in florets\n1 tbsp oil\n\n200 g cauliflower\na pinch of salt"
    made = begun(lead, techniques=["oven", "pan"], ingredients=lines)
    assert made.status_code == 201, made.json
    t = lead.get(f"/trials/{made.json['id']}").json
    named = {i["name"]: i for i in t["ingredients"]}
    assert list(named) == ["cauliflower", "oil", "a pinch of salt"]
    for m in t["methods"]:
        of = {a["ingredient_id"]: a["mass_kg"] for a in m["amounts"]}
        assert of[named["cauliflower"]["id"]] == pytest.approx(0.7)
        # Nobody can tell what a spoon of oil or a pinch weighs: listed, and weighed at Set up.
        assert named["a pinch of salt"]["id"] not in of
        assert m["batch_kg"] == pytest.approx(sum(of.values()))
    none = begun(lead, ingredients="500 g cauliflower")
    assert none.status_code == 422
    assert "ingredients" in none.json["errors"][0]["field"]

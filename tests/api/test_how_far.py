"""The list of trials says how far each is, from what is on record."""

from typing import Any

from tests.api.helpers import (
    Client,
    an_entry,
    cook_all,
    first_answer,
    handed_over,
    lay,
    make_shift,
    new_trial,
    no_allergies,
    ok,
    samples,
)


def said(lead: Client, trial: str) -> str:
    return str(next(t["how_far"] for t in lead.get("/trials?search=").json["items"] if t["id"] == trial))


def test_a_trial_is_told_from_its_design_to_its_page(lead: Client, app: Any, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"))
    assert said(lead, t["id"]) == "being designed"
    shift = make_shift(lead, t)["id"]
    assert said(lead, t["id"]).startswith("planned, plates at ")
    cook_all(lead, shift, demo_url)
    assert said(lead, t["id"]).startswith("in the heat, plates at ")
    ok(lead.send("POST", f"/shifts/{shift}/end", {}))
    assert said(lead, t["id"]) == "cooked, not tasted"
    found = lead.get(f"/trials/{t['id']}/tastings").json
    table = {"trial": t, "batches": [c["batch_id"] for c in found["candidates"]]}
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 2).json
    assert said(lead, t["id"]) == "being tasted, 0 of 2 done"
    for seat in (0, 1):
        guest = Client(app.test_client())
        token = handed_over(lead, tasting, seat)
        no_allergies(guest, token)
        for answer in first_answer(guest.get(f"/taste/{token}").json["rounds"][0]):
            ok(guest.send("POST", f"/taste/{token}/answers", answer))
        ok(guest.send("POST", f"/taste/{token}/finish", {}))
        assert said(lead, t["id"]) == f"being tasted, {seat + 1} of 2 done"
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    assert said(lead, t["id"]) == "tasted, no page yet"


def test_pages_that_are_out_and_what_is_in_the_heat_stand_in_front(lead: Client) -> None:
    words = {t["title"]: t["how_far"] for t in lead.get("/trials?search=").json["items"]}
    assert words["Filled yeast buns"] == "page out, version 1"
    assert words["Turkey meatballs"].startswith("in the heat, plates at ")


def listed(lead: Client, query: str) -> set[str]:
    return {t["id"] for t in lead.get(f"/trials?{query}").json["items"]}


def test_each_state_lists_the_trials_that_say_they_are_in_it_and_no_others(lead: Client) -> None:
    t = new_trial(lead)
    everything = lead.get("/trials").json["items"]
    assert not lead.get("/trials").json["cursor"]
    states = [s["key"] for s in lead.get("/trial-filters").json["states"]]
    found = {s: listed(lead, f"state={s}") for s in states}
    assert {i for ids in found.values() for i in ids} == {x["id"] for x in everything}
    for x in everything:
        assert [s for s in states if x["id"] in found[s]] == [x["state"]], x["title"]
    assert t["id"] in found["designed"]
    assert found["out"]
    assert found["cooking"]
    words = {x["how_far"].split(",")[0] for x in everything if x["state"] == "cooking"}
    assert words == {"in the heat"}


def test_a_list_is_narrowed_by_kind_technique_person_and_words_together(lead: Client) -> None:
    t = new_trial(lead, ("steamer", "microwave"))
    lead.send(
        "POST", "/accounts", {"name": "Ida", "login": "ida", "password": "flour-and-so", "role": "cook"}
    )
    assert t["id"] in listed(lead, "technique=steamer&kind=side_by_side")
    assert t["id"] not in listed(lead, "technique=deep_fryer")
    assert t["id"] not in listed(lead, "technique=steamer&kind=ladder")
    assert listed(lead, "technique=steamer&search=florets") < listed(lead, "technique=steamer")
    people = {p["name"]: p["key"] for p in lead.get("/trial-filters").json["people"]}
    mine = lead.get("/session").json["me"]["name"]
    assert t["id"] in listed(lead, f"person={people[mine]}")
    assert listed(lead, f"person={people['Ida']}") == set()
    refused = lead.get("/trials?state=eaten")
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"] == "state"


def test_who_only_cooked_is_found_by_the_log(lead: Client, cook: Client) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    people = {p["name"]: p["key"] for p in lead.get("/trial-filters").json["people"]}
    hers = people[cook.get("/session").json["me"]["name"]]
    assert t["id"] not in listed(lead, f"person={hers}")
    batch = cook.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    ok(cook.send("POST", f"/shifts/{shift}/entries", {"entries": [an_entry(batch, "note", {"text": "x"})]}))
    assert t["id"] in listed(lead, f"person={hers}")

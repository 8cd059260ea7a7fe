"""Days, times and words of the kitchen, each person's own."""

import re

from tests.api.helpers import Client, new_trial


def test_days_times_and_words_are_each_persons_own(lead: Client, cook: Client) -> None:
    ways = {"dates": "month_first", "clock": "12", "words": "american"}
    assert lead.send("PATCH", "/me", ways).json["words"] == "american"
    me = lead.get("/session").json["me"]
    assert {k: me[k] for k in ways} == ways
    assert cook.get("/session").json["me"]["words"] == ""

    def named(client: Client) -> dict[str, str]:
        return {t["key"]: t["name"] for t in client.get("/techniques").json["items"]}

    assert named(lead)["hob_boil"] == "Stovetop, boil"
    assert named(lead)["grill_element"] == "Broiler, element above"
    # Over an open fire it is a grill there too.
    assert named(lead)["outdoor_grill"] == named(cook)["outdoor_grill"] == "Outdoor grill"
    assert named(cook)["hob_boil"] == "Hob, boil"
    # Of a shift that goes on: late in a long run of tests its plates were to meet some time ago.
    waiting = [w["words"] for w in lead.get("/home").json["items"] if "in the heat, plates" in w["words"]]
    assert waiting
    assert all(re.search(r"at (\w{3} )?\d{1,2}:\d\d [ap]m", w) for w in waiting), waiting
    assert lead.send("PATCH", "/me", {"words": "martian"}).status_code == 422
    # What a way is called is written in the words of who adds it, and stays so for everybody.
    t = new_trial(lead, ("hob_boil",))
    assert cook.get(f"/trials/{t['id']}").json["methods"][0]["name"] == "Stovetop, boil"


def test_a_template_that_somebody_opened_in_their_words_is_saved_as_they_saw_it(lead: Client) -> None:
    lead.send("PATCH", "/me", {"words": "american"})
    shown = next(t for t in lead.get("/techniques").json["items"] if t["key"] == "grill_element")
    body = {k: shown[k] for k in ("name", "appliance_kind", "gear", "hazards", "ranges", "steps")}
    body["steps"] = [{k: v for k, v in s.items() if k != "id"} for s in shown["steps"]]
    saved = lead.technique("PUT", "grill_element", body)
    assert saved.status_code == 200, saved.json
    lead.send("PATCH", "/me", {"words": ""})
    again = next(t for t in lead.get("/techniques").json["items"] if t["key"] == "grill_element")
    assert again["own"]
    assert again["name"] == shown["name"]

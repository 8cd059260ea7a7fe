"""The list of trials says how far each is, from what is on record."""

from typing import Any

from tests.api.helpers import (
    Client,
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

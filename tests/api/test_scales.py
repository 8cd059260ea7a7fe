"""A question of the kind just right, from Ask to Decide."""

from typing import Any

from tests.api.helpers import Client, cook_all, handed_over, make_shift, new_trial, no_allergies, ok, value
from tests.conftest import run_worker_once
from yeasty.core.kernel.scales import SCALES


def test_scales_are_told_with_all_that_a_screen_needs(lead: Client) -> None:
    items = {s["key"]: s for s in lead.get("/answer-scales").json["items"]}
    assert set(items) == {s.value for s in SCALES}
    assert items["just_right"]["words"][2] == "just right"
    assert items["just_right"]["weighs"] is False
    assert items["rank"]["high"] is None


def test_just_right_is_asked_answered_counted_and_never_scored(lead: Client, app: Any, demo_url: str) -> None:
    t = new_trial(lead)
    asked = [
        t["attributes"][0],
        {"name": "Salt", "scale": "just_right", "weight": 4},
    ]
    t = lead.send("PUT", f"/trials/{t['id']}/attributes", {"items": asked}, t["version"]).json
    assert [a["weight"] for a in t["attributes"]] == [1, 0], "it counts in no score, whatever was typed"
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    people = ["a", "b", "c", "d", "e", "f"]
    tasting = lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": people}).json
    moist, salt = (a["id"] for a in t["attributes"])
    for seat in range(len(people)):
        token = handed_over(lead, tasting, seat)
        taster = Client(app.test_client())
        page = taster.get(f"/taste/{token}").json
        scale = next(s for s in page["scales"] if s["key"] == "just_right")
        assert len(scale["words"]) == 5
        ok(no_allergies(taster, token))
        for n, code in enumerate(s["code"] for s in page["rounds"][0]["samples"]):
            ok(taster.send("POST", f"/taste/{token}/answers", _answer(code, moist, 5 + n)))
            ok(taster.send("POST", f"/taste/{token}/answers", _answer(code, salt, 5)))
            beyond = taster.send("POST", f"/taste/{token}/answers", _answer(code, salt, 6))
            assert beyond.status_code == 422
        ok(taster.send("POST", f"/taste/{token}/finish", {}))
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{t['id']}/decision").json["outcome"]
    assert outcome["means"][salt] == {}
    assert set(outcome["means"][moist]) == {m["id"] for m in t["methods"]}
    said = outcome["counted"][salt]
    assert {m["id"] for m in t["methods"]} == set(said)
    assert set(said.values()) == {"0 of 6 just right, 6 too much: leans to too much (chance 3 in 100)"}


def _answer(code: str, attribute: str, points: float) -> dict[str, Any]:
    return {"code": code, "attribute_id": attribute, "said": value(points)}

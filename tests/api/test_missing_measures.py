"""What one way was measured on and another not is asked at the bench, until it is answered."""

from typing import Any

from tests.api.helpers import Client, an_entry, cook_all, make_shift, new_trial


def send(lead: Client, shift: str, *entries: dict[str, Any]) -> None:
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": list(entries)}).json
    assert not got["refused"], got


def test_it_is_asked_until_it_is_measured_or_said_not_to_apply(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer", "microwave"))
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url)
    a, b, c = (x["id"] for x in bench["batches"])

    def asked() -> list[tuple[str, str]]:
        rows = lead.get(f"/shifts/{shift}/outlook").json["unmeasured"]
        return [(r["batch"], r["measure"]) for r in rows]

    assert asked() == []
    send(lead, shift, an_entry(a, "weight", {"kg": 0.02, "of": "drip"}, 100))
    assert asked() == [(b, "drip weight"), (c, "drip weight")]
    send(lead, shift, an_entry(b, "weight", {"kg": 0.03, "of": "drip"}, 101))
    waived = an_entry(c, "stated", {"question": "applies", "answer": "no", "measure": "drip weight"}, 102)
    send(lead, shift, waived)
    assert asked() == []
    taken_back = an_entry(c, "undone", {}, 103, supersedes=waived["id"])
    send(lead, shift, taken_back)
    assert asked() == [(c, "drip weight")]


def test_a_measure_that_is_not_named_is_refused(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    wrong = an_entry(batch, "stated", {"question": "does it", "answer": "no", "measure": "drip weight"})
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [wrong]}).json
    assert got["refused"][0]["problem"]["field"] == "question"


def test_what_was_used_by_eye_is_carried_to_the_next_run_as_an_amount(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"))
    shift = make_shift(lead, t)["id"]
    a, b = (x["id"] for x in cook_all(lead, shift, demo_url)["batches"])
    for n, (batch, used) in enumerate(((a, 0.012), (a, 0.004), (b, 0.006))):
        oil = {"kg": used, "of": "by eye", "item": "Oil", "before_kg": 0.5, "after_kg": 0.5 - used}
        send(lead, shift, an_entry(batch, "weight", oil, 200 + n))
    told = lead.get(f"/trials/{t['id']}/used-by-eye").json["items"]
    of = {m["id"]: m["technique"] for m in t["methods"]}
    assert [(of[u["method_id"]], u["item"], round(u["kg"], 4), u["written_kg"]) for u in told] == [
        ("oven", "oil", 0.016, None),
        ("steamer", "oil", 0.006, None),
    ]
    version = lead.get(f"/trials/{t['id']}").json["version"]
    kept = lead.send("POST", f"/trials/{t['id']}/used-by-eye/carried", {}, version)
    assert kept.status_code == 200, kept.json
    now = lead.get(f"/trials/{t['id']}").json
    (oil,) = now["ingredients"]
    assert oil["name"] == "oil"
    amounts = {of[m["id"]]: m["amounts"][0]["mass_kg"] for m in now["methods"]}
    assert amounts == {"oven": 0.016, "steamer": 0.006}
    again = lead.get(f"/trials/{t['id']}/used-by-eye").json["items"]
    assert all(u["kg"] == u["written_kg"] for u in again)
    stale = lead.send("POST", f"/trials/{t['id']}/used-by-eye/carried", {}, version)
    assert stale.status_code == 412

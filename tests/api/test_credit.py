"""What a claim credits: a cause alone only where nothing else differed, by the design and as cooked."""

from tests.api.helpers import Client, an_entry, ok
from tests.api.test_answers import outcome_of
from tests.api.test_claims import worked_out

FINISHES = "Cauliflower, three finishes of one tray"


def test_what_went_in_colder_is_named_beside_the_cause_that_was_meant(lead: Client, demo_url: str) -> None:
    trial, _ = outcome_of(lead, demo_url, FINISHES)
    t, ways = str(trial["id"]), trial["methods"]
    pair = {ways[0]["id"], ways[1]["id"]}

    def said() -> str:
        told = worked_out(lead, demo_url, t)["claimable"]
        c = next(c for c in told if c["measure"].startswith("asked:") and {c["subject"], c["other"]} == pair)
        assert c["stands"], c
        return str(c["text"])

    assert said().endswith("Nothing else on record differed between them than preparation.")
    for s in lead.get(f"/trials/{t}/shifts").json["items"]:
        bench = lead.get(f"/shifts/{s['id']}/bench").json
        for b in bench["batches"]:
            if b["method_id"] in pair:
                raw = {"of": "raw", "kg": 0.24 if b["method_id"] == ways[0]["id"] else 0.31}
                ok(
                    lead.send(
                        "POST", f"/shifts/{s['id']}/entries", {"entries": [an_entry(b["id"], "weight", raw)]}
                    )
                )
    after = said()
    assert "weight that went in" in after
    assert after.endswith("so it credits no single cause.")

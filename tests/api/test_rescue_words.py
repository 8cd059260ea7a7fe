"""A rescue of a screening has a word of its own: kept, refused past its ladder, told beside its way."""

import uuid
from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, cook_all, make_shift, ok
from tests.conftest import run_worker_once


@pytest.fixture
def screened(lead: Client, demo_url: str) -> tuple[str, dict[str, Any], str]:
    """A screening of two ways, cooked; a rescue of the first: trial, the batch, the rescue."""
    asked = {"question": "Which?", "dish": "flatbread", "kind": "screening", "food_class": "plant"}
    t = lead.send("POST", "/trials", asked).json
    table = "Rolled thin; Oven\nRolled thick; Oven"
    t = lead.send(
        "POST", f"/trials/{t['id']}/ways", {"table": table, "base_technique": "oven"}, t["version"]
    ).json
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url)
    parent = bench["batches"][0]
    made = lead.send(
        "POST",
        f"/shifts/{shift}/rescues",
        {
            "batch": parent["id"],
            "finish": "sear each side",
            "why": "pale",
            "duration_s": "2 min",
            "technique": "pan",
            "device": str(uuid.uuid4()),
            "counter": 0,
        },
    )
    assert made.status_code == 201, made.json
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    child = next(b for b in bench["batches"] if b["id"] == made.json["batch"])
    steps = [an_entry(child["id"], "done", {"step": s["key"]}, n) for n, s in enumerate(child["steps"])]
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": steps})
    return str(t["id"]), parent, str(child["id"])


def decided(lead: Client, trial: str, demo_url: str) -> dict[str, Any]:
    lead.get(f"/trials/{trial}/decision")
    run_worker_once(demo_url)
    said = lead.get(f"/trials/{trial}/decision").json
    assert said["state"] == "fresh"
    return dict(said["outcome"])


def test_its_word_is_kept_beside_its_ways_own(
    lead: Client, demo_url: str, screened: tuple[str, dict[str, Any], str]
) -> None:
    trial, parent, rescue = screened
    t = lead.get(f"/trials/{trial}").json
    worst, best = t["layout"]["words"][0], t["layout"]["words"][-1]
    way = next(m for m in t["methods"] if m["id"] == parent["method_id"])
    rows = {"items": [{"method_id": way["id"], "word": worst, "note": ""}]}
    ok(lead.send("PUT", f"/trials/{trial}/screening-verdicts", rows, t["version"]))
    assert decided(lead, trial, demo_url)["rescues"][0]["word"] == ""
    body = {"word": best, "note": "crisp at last"}
    ok(lead.send("PUT", f"/trials/{trial}/rescues/{rescue}/word", body))
    outcome = decided(lead, trial, demo_url)
    told = outcome["rescues"][0]
    assert (told["word"], told["note"]) == (best, "crisp at last")
    kept = next(m for m in lead.get(f"/trials/{trial}").json["methods"] if m["id"] == way["id"])
    assert kept["verdict_word"] == worst, "the way keeps its own"
    said = f"{way['name']}, rescued by “sear each side”: “{best}”, where it was “{worst}” by itself."
    assert said in [s["text"] for s in outcome["answer"]["sentences"]]
    assert not any(m["picked"] and best in m["note"] for m in outcome["answer"]["picture"]["marks"])
    page = lead.get(f"/trials/{trial}/publication/page").text
    assert f"rescued by “sear each side”: {best}; crisp at last" in page


def test_what_is_no_word_and_what_is_no_rescue_is_refused(
    lead: Client, demo_url: str, screened: tuple[str, dict[str, Any], str]
) -> None:
    trial, parent, rescue = screened
    best = lead.get(f"/trials/{trial}").json["layout"]["words"][-1]
    path = f"/trials/{trial}/rescues/{{}}/word"
    wrong = lead.send("PUT", path.format(rescue), {"word": "splendid"})
    assert wrong.status_code == 422
    assert wrong.json["errors"][0]["field"] == "word"
    assert lead.send("PUT", path.format(parent["id"]), {"word": best}).status_code == 422
    assert lead.send("PUT", path.format(uuid.uuid4()), {"word": best}).status_code == 422
    ok(lead.send("PUT", path.format(rescue), {"word": best, "note": "x"}))
    ok(lead.send("PUT", path.format(rescue), {"word": "", "note": "x"}))
    told = decided(lead, trial, demo_url)["rescues"][0]
    assert (told["word"], told["note"]) == ("", "")

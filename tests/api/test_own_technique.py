"""A technique of the kitchen's own: known everywhere by its name, and with what may hurt somebody at it."""

import uuid

import pytest

from tests.api.helpers import Client, cook_all, make_shift, new_trial, ok
from tests.conftest import session
from yeasty.operations.publish.pages import way_rows
from yeasty.store.ask.tables import Trial

EMBERS = {
    "name": "Clay pot in embers",
    "appliance_kind": "oven",
    "gear": ["clay pot"],
    "hazards": ["open_flame"],
    "ranges": {"set_point_c": [180, 260]},
    "steps": [
        {
            "what": "Bury",
            "attention": "free",
            "phase": "cook",
            "duration_s": "40 min",
            "set_point_c": "220 °C",
        },
        {"what": "Dig out", "attention": "hands", "phase": "out", "duration_s": "1 min"},
        {"what": "Plate", "attention": "hands", "phase": "plate", "duration_s": "1 min"},
    ],
}
SPLITS = {
    "name": "It splits",
    "looks": "A crack.",
    "causes": "Too dry.",
    "cure": "Brush it.",
    "taken_up": True,
}


@pytest.fixture
def embers(lead: Client) -> str:
    ok(lead.technique("PUT", "clay_embers", EMBERS))
    return "clay_embers"


def test_a_finish_with_it_carries_its_cautions(lead: Client, demo_url: str, embers: str) -> None:
    shift = make_shift(lead, new_trial(lead))["id"]
    bench = cook_all(lead, shift, demo_url)
    asked = {
        "batch": bench["batches"][0]["id"],
        "finish": "char it",
        "why": "pale",
        "duration_s": "2 min",
        "technique": embers,
        "device": str(uuid.uuid4()),
        "counter": 0,
    }
    made = lead.send("POST", f"/shifts/{shift}/rescues", asked)
    assert made.status_code == 201, made.json
    after = lead.get(f"/shifts/{shift}/bench").json["batches"]
    child = next(b for b in after if b["id"] == made.json["batch"])
    said = [c["text"] for s in child["steps"] if s["phase"] == "cook" for c in s["cautions"]]
    assert any("Open flame" in c for c in said), said


def test_what_goes_wrong_may_belong_to_it(lead: Client, embers: str) -> None:
    ok(lead.send("POST", "/defects", {**SPLITS, "techniques": [embers]}))
    kept = next(k for k in lead.get("/defects").json["items"] if k["trouble"]["name"] == "It splits")
    assert kept["techniques"] == [embers]
    refused = lead.send("POST", "/defects", {**SPLITS, "techniques": ["teleport"]})
    assert refused.json["errors"][0]["field"] == "techniques"


def test_the_data_of_a_page_call_it_by_its_name(lead: Client, demo_url: str, embers: str) -> None:
    t = new_trial(lead, ("oven", embers))
    with session(demo_url) as db:
        rows = way_rows(db, db.get_one(Trial, uuid.UUID(t["id"])))
    assert [r.technique for r in rows] == ["Oven", "Clay pot in embers"]

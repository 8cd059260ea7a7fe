"""Claims are picked, told from their records, refused past them, and carried to the page with what they stand
on.
"""

from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, ok
from tests.api.test_answers import outcome_of
from tests.conftest import run_worker_once

BUNS = "Filled yeast buns"


def worked_out(lead: Client, demo_url: str, trial: str) -> dict[str, Any]:
    """Claims of a trial after the worker looked at its records."""
    lead.get(f"/trials/{trial}/claims")
    run_worker_once(demo_url)
    told: dict[str, Any] = lead.get(f"/trials/{trial}/claims").json
    assert told["fresh"]
    return told


@pytest.fixture
def buns(lead: Client, demo_url: str) -> str:
    trial, _ = outcome_of(lead, demo_url, BUNS)
    return str(trial["id"])


def pick(lead: Client, trial: str, c: dict[str, Any]) -> Any:
    return lead.send(
        "POST",
        f"/trials/{trial}/claims",
        {"measure": c["measure"], "subject": c["subject"], "other": c["other"]},
    )


def test_what_stands_can_be_claimed_and_opens_to_its_records(lead: Client, demo_url: str, buns: str) -> None:
    told = lead.get(f"/trials/{buns}/claims").json
    offered = [c for c in told["claimable"] if c["stands"]]
    assert offered
    assert all(c["text"].endswith(".") and not c["why_not"] for c in offered)
    assert all(c["why_not"] for c in told["claimable"] if not c["stands"])
    hands = next(c for c in offered if c["measure"] == "hands_s" and c["other"])
    ok(pick(lead, buns, hands))
    kept = worked_out(lead, demo_url, buns)["claims"]
    assert [c["said"]["text"] for c in kept] == [hands["text"]]
    names = {m["id"]: m["name"] for m in lead.get(f"/trials/{buns}").json["methods"]}
    heads = [line for line in kept[0]["records"] if ", minute " not in line]
    about = {names[hands["subject"]], names[hands["other"]]}
    assert {line.split(", cooking")[0] for line in heads} == about
    assert len(kept[0]["records"]) > len(heads), "the log lies behind what each batch came to"
    assert pick(lead, buns, hands).status_code == 422, "claimed once"


def test_what_the_records_do_not_carry_is_refused_with_the_reason(lead: Client, buns: str) -> None:
    claimable = lead.get(f"/trials/{buns}/claims").json["claimable"]
    level = next(c for c in claimable if not c["stands"])
    refused = pick(lead, buns, level)
    assert refused.status_code == 409
    assert level["why_not"] in str(refused.json)
    nothing = pick(lead, buns, {"measure": "of luck", "subject": level["subject"], "other": level["other"]})
    assert nothing.status_code == 409
    itself = pick(lead, buns, {**level, "other": level["subject"]})
    assert itself.status_code == 409
    elsewhere = pick(lead, buns, {**level, "other": "00000000-0000-4000-8000-000000000000"})
    assert elsewhere.status_code == 409


def test_a_claim_falls_with_its_records_and_leaves_the_page(lead: Client, demo_url: str, buns: str) -> None:
    offered = [c for c in lead.get(f"/trials/{buns}/claims").json["claimable"] if c["stands"]]
    hands = next(c for c in offered if c["measure"] == "hands_s" and c["other"])
    ok(pick(lead, buns, hands))
    worked_out(lead, demo_url, buns)
    page = lead.get(f"/trials/{buns}/publication/page").text
    assert hands["text"] in page.replace("&#39;", "'")
    # Every batch of one of them is void now: nothing of it is measured.
    for s in lead.get(f"/trials/{buns}/shifts").json["items"]:
        bench = lead.get(f"/shifts/{s['id']}/bench").json
        for b in bench["batches"]:
            if b["method_id"] == hands["subject"]:
                entry = an_entry(b["id"], "void", {"why": "wrong flour"})
                ok(lead.send("POST", f"/shifts/{s['id']}/entries", {"entries": [entry]}))
    after = worked_out(lead, demo_url, buns)["claims"]
    assert not after[0]["said"]["stands"]
    assert "not measured" in after[0]["said"]["why_not"]
    assert hands["text"] not in lead.get(f"/trials/{buns}/publication/page").text
    gone = lead.send("DELETE", f"/trials/{buns}/claims/{after[0]['id']}")
    assert gone.json["claims"] == []
    assert lead.send("DELETE", f"/trials/{buns}/claims/{after[0]['id']}").status_code == 404


def test_pieces_are_counted_and_compared_exactly(lead: Client, demo_url: str, buns: str) -> None:
    methods = lead.get(f"/trials/{buns}").json["methods"]
    sealed = {methods[0]["id"]: 6, methods[1]["id"]: 0}
    for s in lead.get(f"/trials/{buns}/shifts").json["items"]:
        bench = lead.get(f"/shifts/{s['id']}/bench").json
        for b in bench["batches"]:
            if b["method_id"] in sealed:
                counted = {"of": "Sealed", "count": sealed[b["method_id"]], "out_of": 6}
                entry = an_entry(b["id"], "tally", counted)
                ok(lead.send("POST", f"/shifts/{s['id']}/entries", {"entries": [entry]}))
    told = worked_out(lead, demo_url, buns)
    c = next(c for c in told["claimable"] if c["measure"] == "tally:sealed")
    assert c["stands"], c
    assert "6 of 6" in c["text"]
    assert "0 of 6" in c["text"]
    version = lead.get(f"/trials/{buns}").json["version"]
    ok(lead.send("PUT", f"/trials/{buns}/deciding", {"claim": "tally:sealed"}, version))
    worked_out(lead, demo_url, buns)
    said = lead.get(f"/trials/{buns}/decision").json["outcome"]["answer"]
    assert said["question"] == "claim"
    assert said["headline"].startswith("Most “sealed”"), said["headline"]


@pytest.mark.parametrize(
    "payload",
    [
        {"of": "sealed", "count": 7, "out_of": 6},
        {"of": "sealed", "count": 1.5, "out_of": 6},
        {"of": "", "count": 1, "out_of": 6},
        {"of": "sealed", "count": True, "out_of": 6},
        {"of": "sealed", "count": 1},
    ],
)
def test_counts_that_cannot_be_are_refused(lead: Client, buns: str, payload: dict[str, Any]) -> None:
    s = lead.get(f"/trials/{buns}/shifts").json["items"][0]
    batch = lead.get(f"/shifts/{s['id']}/bench").json["batches"][0]["id"]
    answer = lead.send("POST", f"/shifts/{s['id']}/entries", {"entries": [an_entry(batch, "tally", payload)]})
    assert answer.status_code == 422 or answer.json["refused"], answer.json

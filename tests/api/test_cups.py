"""Who brings cups and codes together: nobody, a helper, two with half a key each; what is laid before the
heat.
"""

import json
import time
import uuid
from typing import Any

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

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
    value,
)
from tests.conftest import run_worker_once, session
from yeasty.operations.safety.batches import _on_the_table
from yeasty.store.taste.tables import Tasting


def everyone_answers(app: Any, lead: Client, tasting: dict[str, Any]) -> None:
    """Each sits down, answers everything with what comes first, and is done."""
    for n in range(len(tasting["seats"])):
        token = handed_over(lead, tasting, n)
        guest = Client(app.test_client())
        ok(no_allergies(guest, token))
        for r in guest.get(f"/taste/{token}").json["rounds"]:
            for said in first_answer(r):
                ok(guest.send("POST", f"/taste/{token}/answers", {"round": r["position"], **said}))
        ok(guest.send("POST", f"/taste/{token}/finish", {}))


def found_of(lead: Client, tasting: dict[str, Any], demo_url: str) -> dict[str, Any]:
    lead.get(f"/tastings/{tasting['id']}/found")
    run_worker_once(demo_url)
    return dict(lead.get(f"/tastings/{tasting['id']}/found").json)


def alone(lead: Client, table: dict[str, Any], protocol: str = "alone") -> dict[str, Any]:
    rounds = [
        {"samples": samples(table["batches"])},
        {"test": "match_labels", "samples": samples(table["batches"])},
    ]
    return dict(lay(lead, table, rounds, 1, protocol=protocol).json)


def test_nobody_knows_what_stands_where_before_the_cups_are_turned_over(
    app: Any,
    lead: Client,
    demo_url: str,
    table: dict[str, Any],
) -> None:
    tasting = alone(lead, table)
    assert len(tasting["steps"]) == 5
    assert [len(c["codes"]) for c in tasting["cards"]] == [2, 2, 2], "one place, one cup, a code a round"
    with session(demo_url) as db:
        rows = db.execute(text("select batch_id from sample where tasting_id = :t"), {"t": tasting["id"]})
        assert [r[0] for r in rows] == [None] * 6, "the link is in no row"
    refused = lead.send("POST", f"/tastings/{tasting['id']}/key-views", {"why": "to plate"})
    assert refused.status_code == 422
    assert (
        lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}).status_code == 422
    )
    letters = [u["under"] for u in tasting["under"]]
    cups = [{"place": p, "under": letter} for p, letter in enumerate(letters)]
    early = lead.send("POST", f"/tastings/{tasting['id']}/turned-over", {"cups": cups})
    assert early.status_code == 409, "answers are sealed first"
    everyone_answers(app, lead, tasting)
    for wrong, says in (
        (cups[:2], "was not read"),
        ([*cups[:2], {"place": 2, "under": letters[0]}], f"both read {letters[0]}"),
        ([*cups[:2], {"place": 2, "under": "ZZ"}], "was not dealt"),
    ):
        got = lead.send("POST", f"/tastings/{tasting['id']}/turned-over", {"cups": wrong})
        assert got.status_code == 422
        assert says in json.dumps(got.json, ensure_ascii=False)
    opened = lead.send("POST", f"/tastings/{tasting['id']}/turned-over", {"cups": cups}).json
    assert opened["opened_at"]
    assert len(opened["key"]) == 6
    assert "not turned over" not in json.dumps(opened["key"])
    # One cup is one batch in both rounds.
    for card in opened["cards"]:
        assert len({opened["key"][c] for c in card["codes"]}) == 1
    assert opened["seats"][0]["knows"] == []
    found = found_of(lead, tasting, demo_url)
    assert found["knowing"] == 0
    assert "Nobody plated" in found["blindness"][0]
    assert "labels right" in found["blindness"][1]
    again = lead.send("POST", f"/tastings/{tasting['id']}/turned-over", {"cups": cups})
    assert again.status_code == 422, "once"


def test_what_was_read_under_a_cup_is_kept_for_good(
    lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    tasting = alone(lead, table, "helper")
    cups = [{"place": p, "under": u["under"]} for p, u in enumerate(tasting["under"])]
    body = {"cups": cups, "though_unfinished": True}
    ok(lead.send("POST", f"/tastings/{tasting['id']}/turned-over", body))
    with session(demo_url) as db:
        change = text("update sample set batch_id = null where tasting_id = :t")
        with pytest.raises(DBAPIError, match="append-only"):
            db.execute(change, {"t": tasting["id"]})


def test_two_who_plate_with_half_a_key_each_do_not_know(
    lead: Client,
    demo_url: str,
    table: dict[str, Any],
) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 1).json

    def look(half: str | None) -> dict[str, str]:
        body = {"why": "to plate", "half": half}
        return dict(lead.send("POST", f"/tastings/{tasting['id']}/key-views", body).json["key"])

    letters, codes = look("letters"), look("codes")
    assert set(letters) == set(codes)
    assert not any(c in json.dumps(letters) for c in tasting["rounds"][0]["codes"])
    me = lead.get("/session").json["me"]["person_id"]
    seated = lead.send("POST", f"/tastings/{tasting['id']}/seats", {"person_id": me, "name": ""}).json
    assert "saw the key" in seated["seats"][-1]["knows"], "who saw both halves knows"
    other = lay(lead, table, [{"samples": samples(table["batches"])}], 0, panelists=[me]).json
    body = {"why": "to fill cups", "half": "letters"}
    ok(lead.send("POST", f"/tastings/{other['id']}/key-views", body))
    assert "saw the key" not in lead.get(f"/tastings/{other['id']}").json["seats"][0]["knows"]


def test_a_cook_takes_half_a_key_and_never_all_of_it(
    lead: Client, cook: Client, table: dict[str, Any]
) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 1).json
    path = f"/tastings/{tasting['id']}/key-views"
    assert cook.send("POST", path, {"why": "to plate"}).status_code == 403
    assert len(cook.send("POST", path, {"why": "to fill cups", "half": "letters"}).json["key"]) == 3
    mats = lead.get(f"/tastings/{tasting['id']}/plates.pdf")
    assert mats.data[:5] == b"%PDF-"


def test_the_plan_says_beforehand_what_will_not_be_compared(lead: Client, table: dict[str, Any]) -> None:
    b = table["batches"]
    served = [{"batch_id": b[0]}, {"batch_id": b[1]}, {"batch_id": b[2], "state": "kept"}]
    body = {"rounds": [{"samples": served}], "tasters": ["Ada"]}
    plan = lead.send("POST", f"/trials/{table['trial']['id']}/tasting-plans", body).json
    assert any("(kept)" in w and "not compared" in w for w in plan["warnings"])


def test_a_triangle_with_six_says_beforehand_what_it_can_find(lead: Client, table: dict[str, Any]) -> None:
    served = samples(table["batches"][:2])
    body = {"rounds": [{"test": "triangle", "samples": served}], "tasters": [f"P{n}" for n in range(6)]}
    plan = lead.send("POST", f"/trials/{table['trial']['id']}/tasting-plans", body).json
    said = " ".join(plan["can_find"][0])
    # Of six, five right are needed: three by luck one time in three.
    assert "5 of 6" in said, said


def test_a_tasting_is_laid_before_the_heat_and_served_when_it_may_be_eaten(
    app: Any, lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "microwave", "steamer"))
    shift = make_shift(lead, t)["id"]
    there = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert [c["later"] for c in there] == [True] * 3
    body = {
        "rounds": [{"samples": samples([c["batch_id"] for c in there])}],
        "tasters": ["Ada", "Ben"],
        "later": True,
    }
    refused = lead.send("POST", f"/trials/{t['id']}/tastings", {**body, "later": False})
    assert refused.status_code == 422, "nothing is served before it is cooked"
    tasting = lead.send("POST", f"/trials/{t['id']}/tastings", body).json
    assert tasting["serve_at"] == [], "without a plan nobody knows"
    run_worker_once(demo_url)
    ahead = lead.get(f"/tastings/{tasting['id']}").json["serve_at"]
    assert ahead[0].startswith("All are 2 min old")
    assert ahead[0].count("(by the plan)") == 3
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    ok(no_allergies(guest, token))
    page = guest.get(f"/taste/{token}").json
    assert (page["served"], page["rounds"]) == (False, [])
    said = {"round": 0, "code": tasting["rounds"][0]["codes"][0], "attribute_id": None, "comment": "x"}
    assert guest.send("POST", f"/taste/{token}/answers", said).status_code == 409
    assert lead.send("POST", f"/tastings/{tasting['id']}/serve").status_code == 422, "raw food is not served"
    cook_all(lead, shift, demo_url)
    out = lead.get(f"/tastings/{tasting['id']}").json["serve_at"]
    assert "by the plan" not in out[0]
    assert not out[0].startswith("All are 2 min old"), "what is out ages while it waits"
    served = lead.send("POST", f"/tastings/{tasting['id']}/serve").json
    assert (served["served_at"] is not None, served["serve_at"]) == (True, [])
    assert "out of the heat" in served["ages"][0]
    page = guest.get(f"/taste/{token}").json
    assert len(page["rounds"][0]["samples"]) == 3


def test_part_of_the_samples_a_person_and_nobody_is_waited_for_in_vain(
    app: Any,
    lead: Client,
    demo_url: str,
    table: dict[str, Any],
) -> None:
    rounds = [{"samples": samples(table["batches"]), "settings": {"most_each": 2}}]
    laid = lay(lead, table, rounds, 3)
    ok(laid)
    tasting = laid.json
    assert [len(s["orders"][0]) for s in tasting["seats"]] == [2, 2, 2]
    assert [s["wanted"] for s in tasting["seats"]] == [2, 2, 2]
    assert "2 of 3 a person" in tasting["rounds"][0]["balance"]
    late = lead.send("POST", f"/tastings/{tasting['id']}/seats", {"person_id": None, "name": "Late"}).json
    assert len(late["seats"][-1]["orders"][0]) == 2
    everyone_answers(app, lead, lead.get(f"/tastings/{tasting['id']}").json)
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    found = found_of(lead, tasting, demo_url)
    assert found["people"] == 4


def test_what_was_kept_is_told_beside_what_is_fresh_and_never_compared(
    app: Any,
    lead: Client,
    demo_url: str,
    table: dict[str, Any],
) -> None:
    b = table["batches"]
    served = [{"batch_id": b[0]}, {"batch_id": b[1]}, {"batch_id": b[2], "state": "kept"}]
    shows = [{"batch_id": b[0], "shows": "darker at the edge"}]
    tasting = lay(lead, table, [{"samples": served}], 4, cups=shows).json
    assert "darker" not in json.dumps(tasting), "what shows is told once the codes are open"
    everyone_answers(app, lead, tasting)
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    found = found_of(lead, tasting, demo_url)
    assert any("(kept)" in line and "not compared" in line for line in found["table"])
    assert any("darker at the edge" in line for line in found["blindness"])
    decided = lead.get(f"/trials/{table['trial']['id']}/decision").json
    assert table["method"][b[2]] not in decided["outcome"]["verdicts"]["weighted_score"]["scores"]


def test_a_guess_in_the_same_session_says_whether_it_was_blind(
    app: Any,
    lead: Client,
    demo_url: str,
    table: dict[str, Any],
) -> None:
    b = table["batches"]
    rounds = [
        {"samples": samples(b)},
        {"test": "guess_one", "samples": samples(b), "settings": {"label": table["method"][b[0]]}},
    ]
    tasting = lay(lead, table, rounds, 6).json
    key = lead.send("POST", f"/tastings/{tasting['id']}/key-views", {"why": "to test"}).json["key"]
    wanted = table["trial"]["methods"][0]["name"]
    right = next(c for c in tasting["rounds"][1]["codes"] if wanted in key[c])
    for n in range(6):
        token = handed_over(lead, tasting, n)
        guest = Client(app.test_client())
        ok(no_allergies(guest, token))
        asked = guest.get(f"/taste/{token}").json["rounds"]
        for s in asked[0]["samples"]:
            about = {"round": 0, "code": s["code"], "attribute_id": asked[0]["attributes"][0]["id"]}
            ok(guest.send("POST", f"/taste/{token}/answers", {**about, "said": value(5)}))
        said = {"round": 1, "said": {"kind": "choice", "code": right}}
        ok(guest.send("POST", f"/taste/{token}/answers", said))
        ok(guest.send("POST", f"/taste/{token}/finish", {}))
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    found = found_of(lead, tasting, demo_url)
    assert found["not_blind"] is True
    assert "6 of 6 were right" in found["blindness"][0]


def test_the_clock_runs_also_for_cups_that_nobody_plated(
    lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    made = alone(lead, table)
    with session(demo_url) as db:
        tasting = db.get_one(Tasting, uuid.UUID(made["id"]))
        assert all(s.batch_id is None for s in tasting.samples)
        there = _on_the_table(db, tasting, time.time())
        assert {str(b.id) for b, _ in there} == set(table["batches"])

"""What a lead takes away for good, and what is left of it."""

from typing import Any

import psycopg
import pytest
from sqlalchemy import text

from tests.api.helpers import Client, ok, trial_id
from yeasty.store.base import Base


def rows(app: Any) -> dict[str, int]:
    with app.extensions["yeasty_sessions"]() as db:
        return {
            name: db.execute(text(f'select count(*) from "{name}"')).scalar_one()
            for name in Base.metadata.tables
        }


def put_away(lead: Client, trial: str) -> None:
    ok(lead.send("PUT", f"/trials/{trial}/put-away", {"away": True}))


def withdraw(lead: Client, trial: str) -> None:
    lead.send("POST", f"/trials/{trial}/withdrawal", {"why": "the records are deleted"})


def every_trial(lead: Client) -> list[dict[str, Any]]:
    items: list[dict[str, Any]] = lead.get("/trials").json["items"]
    return items


def test_a_trial_is_deleted_with_all_that_was_recorded_in_it_and_nothing_of_the_others(
    app: Any, lead: Client
) -> None:
    """Every trial of the demo in turn; in the end no table that belongs to trials holds a row."""
    for card in every_trial(lead):
        others = [t["id"] for t in every_trial(lead) if t["id"] != card["id"]]
        before = {t: lead.get(f"/trials/{t}").json for t in others}
        dish = lead.get(f"/trials/{card['id']}").json["dish"]
        withdraw(lead, card["id"])
        put_away(lead, card["id"])
        ok(lead.send("POST", f"/trials/{card['id']}/deletion", {"dish": dish.upper(), "reason": "tried"}))
        assert lead.get(f"/trials/{card['id']}").status_code == 404
        for t in others:
            after = lead.get(f"/trials/{t}").json
            assert after | {"family": before[t].get("family")} == before[t] | {
                "family": before[t].get("family")
            }
    left = rows(app)
    of_trials = (
        "trial method step ingredient method_amount attribute shift batch entry plan photo probe_log "
        "tasting taste_round sample spoilt_sample seat serving comment"
        " answer key_view seat_act publication rendering draft analysis piece place_map ownership "
        "design_change"
    )
    assert {name: left[name] for name in of_trials.split() if left[name]} == {}
    assert left["deletion"] > 0
    assert left["person"] == left["account"], "panelists went with their answers"


def test_a_deletion_is_meant_twice_and_its_reason_stays(app: Any, lead: Client, cook: Client) -> None:
    t = trial_id(lead)
    dish = lead.get(f"/trials/{t}").json["dish"]
    body = {"dish": dish, "reason": "a guest asked for it"}
    assert cook.send("POST", f"/trials/{t}/deletion", body).status_code == 403
    assert lead.send("POST", f"/trials/{t}/deletion", body).json["title"] == "Not put away"
    put_away(lead, t)
    wrong = lead.send("POST", f"/trials/{t}/deletion", body | {"dish": "something else"})
    assert wrong.json["errors"][0]["field"] == "dish"
    assert lead.send("POST", f"/trials/{t}/deletion", body | {"reason": ""}).status_code == 422
    before = rows(app)
    withdraw(lead, t)
    ok(lead.send("POST", f"/trials/{t}/deletion", body))
    told = lead.get("/audit").json["items"][0]
    assert told["what"] == "deleted a trial for good"
    assert "a guest asked for it" in told["about"]
    after = rows(app)
    for kept in ("technique", "appliance", "account", "device", "kitchen"):
        assert after[kept] == before[kept]


def test_a_page_that_is_out_is_withdrawn_first_and_its_address_says_that_it_is_no_more(
    app: Any, lead: Client
) -> None:
    out = next(
        (t["id"], v)
        for t in every_trial(lead)
        for v in lead.get(f"/trials/{t['id']}/publication").json["versions"]
    )
    t, path = out[0], out[1]["path"]
    dish = lead.get(f"/trials/{t}").json["dish"]
    put_away(lead, t)
    refused = lead.send("POST", f"/trials/{t}/deletion", {"dish": dish, "reason": "tried"})
    assert refused.status_code == 409
    assert "Withdraw" in refused.text
    assert lead.get(f"/trials/{t}").status_code == 200
    withdraw(lead, t)
    ok(lead.send("POST", f"/trials/{t}/deletion", {"dish": dish, "reason": "tried"}))
    stranger = app.test_client()
    gone = stranger.get(path)
    assert gone.status_code == 410
    assert "is no more" in gone.text
    assert stranger.get(path + "/method.md").status_code in (404, 410)


def test_records_are_still_append_only_for_everything_else(app: Any, lead: Client) -> None:
    with app.extensions["yeasty_engine"].connect() as db:
        for table in ("entry", "answer", "publication"):
            with pytest.raises(Exception, match=r"append-only|frozen") as refused:
                db.execute(text(f"delete from {table}"))
            assert isinstance(refused.value.__cause__, psycopg.Error)
            db.rollback()


def test_a_person_is_erased_and_what_they_did_stands(app: Any, lead: Client) -> None:
    made = lead.send(
        "POST", "/accounts", {"name": "Ines Example", "login": "ines", "password": "proof-flour-trough-9"}
    ).json
    ines = Client(app.test_client()).sign_in("ines", "proof-flour-trough-9")
    t = ines.send("POST", "/trials", {"title": "Flatbread", "question": "Which?", "dish": "flatbread"}).json[
        "id"
    ]
    stranger = Client(app.test_client())
    assert stranger.send("POST", "/session", {"login": "INES", "password": "wrong"}).status_code == 401
    assert "ines" in lead.get("/audit").text.lower()
    person = next(p for p in lead.get("/people").json["items"] if p["login"] == "ines")
    assert person["name"] == "Ines Example"
    assert ines.send("POST", f"/people/{person['id']}/erasure", {"reason": "tried"}).status_code == 403
    ok(lead.send("POST", f"/people/{person['id']}/erasure", {"reason": "left the kitchen"}))

    assert ines.get("/trials").status_code == 401
    assert lead.get(f"/trials/{t}").status_code == 200
    everything = lead.get("/accounts").text + lead.get("/people").text + lead.get("/audit").text
    everything += lead.get(f"/trials/{t}/design-history").text
    assert "ines" not in everything.lower().replace("lines", "")
    assert made["id"] not in lead.get("/accounts").text
    assert lead.send("POST", f"/people/{person['id']}/erasure", {"reason": "twice"}).status_code == 409
    again = lead.send("PATCH", f"/accounts/{made['id']}", {"active": True})
    assert again.status_code == 409, "an erased account is not opened again"


def test_nobody_erases_themselves_nor_the_last_lead(app: Any, lead: Client) -> None:
    own = next(p for p in lead.get("/people").json["items"] if p["login"] == "lead")
    assert lead.send("POST", f"/people/{own['id']}/erasure", {"reason": "tried"}).status_code == 409
    assert lead.get("/trials").status_code == 200


def test_a_taster_is_erased_and_the_answers_stand(app: Any, lead: Client) -> None:
    me = lead.get("/session").json["me"]["person_id"]
    taster = next(p for p in lead.get("/people").json["items"] if p["seats"] and p["id"] != me)
    before = rows(app)["answer"]
    ok(lead.send("POST", f"/people/{taster['id']}/erasure", {"reason": "asked for it"}))
    assert rows(app)["answer"] == before
    assert taster["id"] not in {p["id"] for p in lead.get("/people").json["items"]}

"""What is stored and no longer fits is our fault: told, logged, and the rest of the list comes."""

import json
from typing import Any

import pytest
from sqlalchemy import text

from tests.api.helpers import Client, trial_id
from tests.conftest import run_worker_once
from yeasty.api.request import LEFT_OUT


def store(app: Any, statement: str, **values: Any) -> None:
    with app.extensions["yeasty_engine"].begin() as db:
        db.execute(text(statement), values)


@pytest.mark.parametrize(
    "nonsense",
    [
        [{"word": 7, "celsius": "warm"}],
        [{"word": "low", "celsius": 80, "measured": True, "more": {"deep": [1]}}, 5],
        [None],
    ],
)
def test_one_appliance_that_does_not_fit_leaves_the_others_shown(
    app: Any, lead: Client, nonsense: list[Any]
) -> None:
    before = lead.get("/appliances")
    assert LEFT_OUT not in before.headers
    names = [a["name"] for a in before.json["items"]]
    store(
        app,
        "update appliance set dial = cast(:d as jsonb) where name = :n",
        d=json.dumps(nonsense),
        n=names[0],
    )
    after = lead.get("/appliances")
    assert after.status_code == 200
    assert [a["name"] for a in after.json["items"]] == names[1:]
    assert after.headers[LEFT_OUT] == "1"


def test_trials_whose_marks_do_not_fit_leave_the_list_standing(app: Any, lead: Client) -> None:
    everything = lead.get("/trials").json["items"]
    store(
        app,
        "update method set mark = -1"
        " where id = (select id from method where trial_id = cast(:t as uuid) limit 1)",
        t=everything[0]["id"],
    )
    got = lead.get("/trials")
    assert got.status_code == 200
    shown = {t["id"] for t in got.json["items"]}
    assert {t["id"] for t in everything[1:]} <= shown
    assert (everything[0]["id"] in shown) is (LEFT_OUT not in got.headers)


def test_a_verdict_that_does_not_fit_is_worked_out_again(app: Any, lead: Client, demo_url: str) -> None:
    t = trial_id(lead)
    lead.get(f"/trials/{t}/decision")
    run_worker_once(demo_url)
    good = lead.get(f"/trials/{t}/decision").json
    assert good["state"] == "fresh"
    store(app, "update analysis set result = '{\"verdicts\": 7}' where trial_id = cast(:t as uuid)", t=t)
    got = lead.get(f"/trials/{t}/decision")
    assert (got.status_code, got.json["state"], got.json["outcome"]) == (200, "working", None)
    run_worker_once(demo_url)
    assert lead.get(f"/trials/{t}/decision").json["outcome"] == good["outcome"]


def test_an_answer_that_does_not_fit_its_model_is_not_told_as_the_askers_fault(
    app: Any, lead: Client
) -> None:
    t = trial_id(lead)
    shift = lead.get(f"/trials/{t}/shifts").json["items"][0]["id"]
    store(app, "update batch set steps = '[{\"key\": 1}]' where shift_id = cast(:s as uuid)", s=shift)
    got = lead.get(f"/shifts/{shift}/bench")
    assert got.status_code == 500
    assert "ours" in got.json["detail"]

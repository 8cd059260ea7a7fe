"""Taste: the gate, codes, blindness."""

import json
from random import Random
from typing import Any

import pytest

from tests.api.helpers import (
    Client,
    cook_all,
    first_answer,
    handed_over,
    lay,
    make_shift,
    new_trial,
    no_allergies,
    samples,
    seat_out,
    value,
    whole_run,
)
from tests.conftest import run_worker_once
from yeasty.core.taste.tests import TESTS


def test_an_unsafe_or_void_batch_is_barred_from_tasting(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    m = t["methods"][0]
    steps = [
        {**s, **({"end_rule": "core", "end_core_c": "99 C"} if s["phase"] == "cook" else {})}
        for s in m["steps"]
    ]
    t = lead.send("PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"]).json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    candidates = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert [c["may"] for c in candidates] == [False, True]
    assert "99 °C is not on record" in candidates[0]["why_not"]
    refused = lead.send(
        "POST",
        f"/trials/{t['id']}/tastings",
        {"batches": [c["batch_id"] for c in candidates], "tasters": ["a"]},
    )
    assert refused.status_code == 422


def test_blindness_the_same_trial_with_its_methods_permuted_gives_tasters_the_same(
    app: Any, lead: Client, demo_url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Everything a taster can get, from two trials whose methods stand in another order, under one seed of
    the shuffle.
    """
    monkeypatch.setattr("yeasty.operations.taste.panels.SystemRandom", lambda: Random(4711))
    # Codes given out lately are left out: both builds are to draw from the same ones.
    monkeypatch.setattr("yeasty.operations.taste.panels.codes_since", lambda *_: set())
    seen: list[list[Any]] = []
    for techniques in (("oven", "microwave", "steamer"), ("steamer", "oven", "microwave")):
        t = new_trial(lead, techniques)
        rows = {
            "items": [
                {
                    "name": n,
                    "allergens": al,
                    "amounts": {m["id"]: "10 g" for m in t["methods"] if m["technique"] in where},
                }
                for n, al, where in (
                    ("milk", ["milk"], ("oven",)),
                    ("nuts", ["tree nuts"], ("microwave", "steamer")),
                )
            ]
        }
        t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
        cook_all(lead, make_shift(lead, t)["id"], demo_url)
        batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
        tasting = lead.send(
            "POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["one", "two"]}
        ).json
        assert tasting["key"] == {}
        got: list[Any] = []
        known = (
            {m["id"] for m in t["methods"]}
            | set(batches)
            | {t["id"], tasting["id"]}
            | {s["id"] for s in tasting["seats"]}
        )
        for n in range(2):
            token = handed_over(lead, tasting, n)
            guest = Client(app.test_client())
            first = guest.get(f"/taste/{token}")
            assert first.headers["Cache-Control"] == "no-store"
            got.append(seat_out(first.json))
            got.append(seat_out(no_allergies(guest, token).json))
            code, attribute = (
                first.json["rounds"][0]["samples"][0]["code"],
                first.json["rounds"][0]["attributes"][0]["id"],
            )
            answer = guest.send(
                "POST", f"/taste/{token}/answers", {"code": code, "attribute_id": attribute, "said": value(7)}
            )
            got.append(seat_out(answer.json))
            got.append(
                seat_out(
                    guest.send("POST", f"/taste/{token}/answers", {"code": code, "comment": "soft"}).json
                )
            )
            got.append(guest.send("POST", f"/taste/{token}/answers", {"code": "000", "comment": "x"}).json)
            got.append(guest.get(f"/trials/{t['id']}/tables/answer.csv").status_code)
            text = json.dumps(got)
            assert not [k for k in known if k in text]
        seen.append(got)
    assert seen[0] == seen[1]


def test_no_kind_of_question_shows_a_taster_what_a_code_is(
    app: Any, lead: Client, demo_url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every kind of question, its answers, tables and papers, out of two trials that are alike but for the
    place of their ways.
    """
    monkeypatch.setattr("yeasty.operations.taste.panels.SystemRandom", lambda: Random(99))
    monkeypatch.setattr("yeasty.operations.taste.panels.codes_since", lambda *_: set())
    seen: list[list[Any]] = []
    ways = ("oven", "microwave", "steamer")
    for techniques in (ways, ("steamer", "oven", "microwave")):
        t = new_trial(lead, ways)
        shift = make_shift(lead, t)["id"]
        cook_all(lead, shift, demo_url)
        method = {m["technique"]: m["id"] for m in t["methods"]}
        there = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
        # What one trial serves under a code, the other serves under another.
        batch = {c["method_id"]: c["batch_id"] for c in there}
        batches = [batch[method[x]] for x in techniques]
        asked = t["attributes"][0]["id"]
        settings = {"directed_pair": {"attribute": asked}, "guess_one": {"label": method["oven"]}}
        oven = next(c["batch_id"] for c in there if c["method_id"] == method["oven"])
        rounds = []
        for key, test in TESTS.items():
            # What is guessed at has to be on the table; which place it has there differs between the two.
            some = batches[: min(3, test.most)]
            if key.value == "guess_one" and oven not in some:
                some[0] = oven
            rounds.append(
                {"test": key.value, "samples": samples(some), "settings": settings.get(key.value, {})}
            )
        tasting = lay(lead, {"trial": t}, rounds, 2).json
        got: list[Any] = []
        for n in range(2):
            token = handed_over(lead, tasting, n)
            guest = Client(app.test_client())
            got.append(seat_out(no_allergies(guest, token).json))
            for r in guest.get(f"/taste/{token}").json["rounds"]:
                for said in first_answer(r):
                    answer = guest.send("POST", f"/taste/{token}/answers", {"round": r["position"], **said})
                    assert answer.status_code == 200, answer.json
                    got.append(seat_out(answer.json))
            got.append(seat_out(guest.send("POST", f"/taste/{token}/finish", {}).json))
            for path in (
                f"/trials/{t['id']}/tables/answer.csv",
                f"/trials/{t['id']}/tastings",
                f"/tastings/{tasting['id']}/found",
                f"/tastings/{tasting['id']}/ballots.pdf",
                f"/shifts/{shift}/bench",
                f"/trials/{t['id']}/archive",
            ):
                refused = guest.get(path)
                assert refused.status_code in (401, 403, 404), path
                got.append((refused.status_code, len(refused.data)))
        known = {*method.values(), *batches, t["id"], tasting["id"], *(s["id"] for s in tasting["seats"])}
        assert not [k for k in known if k in json.dumps(got)]
        seen.append(got)
    assert seen[0] == seen[1]


def test_a_taster_reads_the_allergens_first_and_a_link_can_be_revoked(
    app: Any, lead: Client, demo_url: str
) -> None:
    t = whole_run(lead, demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    tasting = lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["one"]}).json
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    view = guest.get(f"/taste/{token}").json
    body = {
        "code": view["rounds"][0]["samples"][0]["code"],
        "attribute_id": view["rounds"][0]["attributes"][0]["id"],
        "said": value(7),
    }
    assert guest.send("POST", f"/taste/{token}/answers", body).status_code == 409
    no_allergies(guest, token)
    assert guest.send("POST", f"/taste/{token}/answers", {**body, "said": value(11)}).status_code == 422
    assert guest.send("POST", f"/taste/{token}/answers", {**body, "said": value(None), "refused": True}).json[
        "rounds"
    ][0]["samples"][0]["refused"]
    lead.send("POST", f"/tastings/{tasting['id']}/seats/{tasting['seats'][0]['id']}/revoke")
    assert guest.get(f"/taste/{token}").status_code == 404
    assert guest.get("/taste/forged").status_code == 404


def test_looking_at_the_key_is_recorded_and_answers_close_with_the_codes(
    app: Any, lead: Client, demo_url: str
) -> None:
    t = whole_run(lead, demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    tasting = lead.send(
        "POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["one", "two", "three"]}
    ).json
    assert (
        len(lead.send("POST", f"/tastings/{tasting['id']}/key-views", {"why": "to plate"}).json["key"]) == 2
    )
    assert lead.get(f"/tastings/{tasting['id']}").json["key_views"][0].endswith("to plate")
    guest = Client(app.test_client())
    for n in range(3):
        token = handed_over(lead, tasting, n)
        no_allergies(guest, token)
        view = guest.get(f"/taste/{token}").json
        for k, s in enumerate(sorted(view["rounds"][0]["samples"], key=lambda s: s["code"])):
            guest.send(
                "POST",
                f"/taste/{token}/answers",
                {
                    "code": s["code"],
                    "attribute_id": view["rounds"][0]["attributes"][0]["id"],
                    "said": value(5 + k * 2 + n * 0.5),
                },
            )
    asked = lead.send("POST", f"/tastings/{tasting['id']}/open", {})
    assert asked.status_code == 409
    assert "one, two, three have not finished" in asked.json["detail"]
    opened = lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}).json
    assert len(opened["key"]) == 2
    assert (
        guest.send(
            "POST",
            f"/taste/{token}/answers",
            {"code": view["rounds"][0]["samples"][0]["code"], "comment": "late"},
        ).status_code
        == 409
    )
    run_worker_once(demo_url)
    decision = lead.get(f"/trials/{t['id']}/decision").json
    assert decision["state"] == "fresh"
    verdict = decision["outcome"]["verdicts"]["weighted_score"]
    assert verdict["interval"]["difference"] == pytest.approx(2.0)
    assert verdict["how_sure"] == "leaning"
    assert "for these cookings" in verdict["headline"]

"""Tastings in rounds: each kind of question from the laying to what it tells, on phones, paper and tables."""

from typing import Any

import pytest
from sqlalchemy import select

from tests.api.helpers import (
    Client,
    an_entry,
    first_answer,
    handed_over,
    lay,
    no_allergies,
    ok,
    samples,
    value,
)
from tests.conftest import run_worker_once, session
from yeasty.core.taste.tests import TESTS
from yeasty.core.taste.tests.kind import Found
from yeasty.operations.decide.tested import _told
from yeasty.store.taste.tables import Sample

# A leader, and the ways on the table.
BESIDE = (("A", {"A", "B"}), ("A", {"B", "C"}), ("A", {"A"}))


def every_round(table: dict[str, Any]) -> list[dict[str, Any]]:
    """A round of every kind."""
    b = table["batches"]
    asked = table["trial"]["attributes"][0]["id"]
    settings = {"directed_pair": {"attribute": asked}, "guess_one": {"label": table["method"][b[0]]}}
    return [
        {
            "test": key.value,
            "samples": samples(b[: min(3, t.most)]),
            "settings": settings.get(key.value, {}),
        }
        for key, t in TESTS.items()
    ]


def test_every_kind_of_question_goes_from_laying_to_what_it_tells(
    app: Any, lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    tasting = lay(lead, table, every_round(table), 3).json
    assert [r["test"] for r in tasting["rounds"]] == [k.value for k in TESTS]
    codes = [c for r in tasting["rounds"] for c in r["codes"]]
    assert len(set(codes)) == len(codes), "no code stands twice in a tasting"
    for n in range(3):
        token = handed_over(lead, tasting, n)
        guest = Client(app.test_client())
        ok(no_allergies(guest, token))
        page = guest.get(f"/taste/{token}").json
        for r in page["rounds"]:
            for said in first_answer(r):
                got = guest.send("POST", f"/taste/{token}/answers", {"round": r["position"], **said})
                assert got.status_code == 200, (r["question"], got.json)
        again = guest.get(f"/taste/{token}").json
        for r in again["rounds"]:
            assert r["said"] or all(s["answers"] for s in r["samples"]), r["question"]
        ok(guest.send("POST", f"/taste/{token}/finish", {"may_quote": n == 0}))
    assert lead.get(f"/tastings/{tasting['id']}/found").json["state"] == "closed"
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    lead.get(f"/tastings/{tasting['id']}/found")
    run_worker_once(demo_url)
    found = lead.get(f"/tastings/{tasting['id']}/found").json
    assert found["state"] == "fresh"
    assert (found["people"], found["knowing"]) == (3, 0)
    for r in found["rounds"]:
        assert r["found"]["headline"].endswith("."), r
    told = {r["test"]: f["found"] for r, f in zip(tasting["rounds"], found["rounds"], strict=True)}
    assert told["triangle"]["of"] == 3
    assert told["ranking"]["chance"] is not None
    rows = lead.get(f"/trials/{table['trial']['id']}/tables/answer.csv").text.splitlines()
    assert len(rows) == 1 + 3 * (3 + len(TESTS) - 1), "every answer is in the table"


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"test": "triangle", "samples": 3}, "more than the 2 samples"),
        ({"test": "preference", "samples": 1}, "fewer than 2 samples"),
        ({"test": "directed_pair", "samples": 2}, "of what there is to be more"),
        ({"test": "guess_one", "samples": 2}, "way that is to be picked out"),
        ({"test": "scored", "samples": 1}, "fewer than 2 samples"),
    ],
)
def test_a_round_that_cannot_be_served_is_refused_by_name(
    lead: Client, table: dict[str, Any], wrong: dict[str, Any], says: str
) -> None:
    body = {**wrong, "samples": samples(table["batches"][: wrong["samples"]])}
    got = lay(lead, table, [body])
    assert got.status_code == 422
    assert says in got.json["errors"][0]["message"]


def test_a_batch_is_served_twice_under_two_codes_and_something_from_outside_beside_it(
    lead: Client, table: dict[str, Any]
) -> None:
    b = table["batches"]
    served = [*samples(b[:2], twice=b[0]), {"outside": "the one from the packet"}]
    tasting = lay(lead, table, [{"samples": served}], 4).json
    assert len(tasting["rounds"][0]["codes"]) == 4
    key = lead.send("POST", f"/tastings/{tasting['id']}/key-views", {"why": "to plate"}).json["key"]
    assert sum("not cooked here" in w for w in key.values()) == 1
    assert max(list(key.values()).count(w) for w in key.values()) == 2


def test_a_yes_to_an_allergen_stops_and_words_are_shown_back_unchecked(
    app: Any, lead: Client, table: dict[str, Any]
) -> None:
    served = [{"what": "cracker", "allergens": ["gluten"]}]
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 1, served_with=served).json
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    path = f"/taste/{token}/allergens-told"
    assert guest.send("POST", path, {"said": {}}).status_code == 422, "each is answered"
    there = [a["what"] for a in guest.get(f"/taste/{token}").json["allergens"]]
    said = {w: "yes" if w == "gluten" else "no" for w in there}
    page = guest.send("POST", path, {"said": said, "words": "celery"}).json
    assert page["must_not"] == ["gluten"]
    code, asked = page["rounds"][0]["samples"][0]["code"], page["rounds"][0]["attributes"][0]["id"]
    answer = {"code": code, "attribute_id": asked, "said": value(5)}
    stopped = guest.send("POST", f"/taste/{token}/answers", answer)
    assert stopped.status_code == 409
    assert "must not eat gluten" in stopped.json["detail"]
    seat = lead.get(f"/tastings/{tasting['id']}").json["seats"][0]
    assert (seat["stop"], seat["allergies"]) == ("gluten", "celery")


def test_not_for_me_tonight_needs_no_reason_and_is_no_score(
    app: Any, lead: Client, table: dict[str, Any]
) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 1).json
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    no_allergies(guest, token)
    code = guest.get(f"/taste/{token}").json["rounds"][0]["samples"][0]["code"]
    page = guest.send("POST", f"/taste/{token}/answers", {"code": code, "refused": True}).json
    assert page["rounds"][0]["samples"][0]["not_for_me"]


def test_people_who_score_one_way_higher_and_prefer_the_other_are_told_so_where_it_is_decided(
    app: Any, lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    two, trial = table["batches"][:2], table["trial"]["id"]
    rounds = [{"samples": samples(two)}, {"test": "preference", "samples": samples(two)}]
    tasting = lay(lead, table, rounds, 8).json
    with session(demo_url) as db:
        batch = {s.code: s.batch_id for s in db.scalars(select(Sample))}
    for n in range(8):
        token = handed_over(lead, tasting, n)
        guest = Client(app.test_client())
        ok(no_allergies(guest, token))
        scored, preferred = guest.get(f"/taste/{token}").json["rounds"]
        for cup in scored["samples"]:
            points = 7 + n % 2 if str(batch[cup["code"]]) == two[0] else 3 + n % 3
            about = {"code": cup["code"], "attribute_id": scored["attributes"][0]["id"]}
            ok(guest.send("POST", f"/taste/{token}/answers", {"round": 0, "said": value(points), **about}))
        code = next(c["code"] for c in preferred["samples"] if str(batch[c["code"]]) == two[1])
        choice = {"round": 1, "said": {"kind": "choice", "code": code}}
        ok(guest.send("POST", f"/taste/{token}/answers", choice))
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}))

    def beside() -> tuple[Any, dict[str, Any]]:
        lead.get(f"/trials/{trial}/decision")
        run_worker_once(demo_url)
        outcome = lead.get(f"/trials/{trial}/decision").json["outcome"]
        (told,) = outcome["beside"]
        assert told["name"] == "Asked “Which of two do you prefer?”"
        return outcome["answer"]["leader"], told

    leader, told = beside()
    assert leader == table["method"][two[0]]
    assert (told["leader"], told["turns"]) == (table["method"][two[1]], True)
    assert told["headline"].endswith("8 to 0")
    # Between two others it says nothing of the one that leads, nor does what was bought.
    found = Found("B is preferred to C, 8 to 0.", prefers="B")
    assert [_told("", found, leader, ways, aside=False).turns for leader, ways in BESIDE] == [
        True,
        False,
        False,
    ]
    page = lead.get(f"/trials/{trial}/publication/page").text
    assert f"Asked “Which of two do you prefer?”: {told['headline']}." in page
    # What is set aside turns nothing.
    (shift,) = lead.get(f"/trials/{trial}/shifts").json["items"]
    void = [an_entry(two[1], "void", {"why": "wrong flour"})]
    ok(lead.send("POST", f"/shifts/{shift['id']}/entries", {"entries": void}))
    leader, told = beside()
    assert (told["leader"], told["turns"]) == (None, False)
    assert told["headline"].endswith("8 to 0, with a cooking that is set aside")


def test_one_touch_stops_every_page_and_nothing_of_it_is_judged(
    app: Any, lead: Client, cook: Client, demo_url: str, table: dict[str, Any]
) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 2).json
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    no_allergies(guest, token)
    page = guest.get(f"/taste/{token}").json
    answer = {**first_answer(page["rounds"][0])[0], "round": 0}
    ok(guest.send("POST", f"/taste/{token}/answers", answer))
    ok(cook.send("POST", f"/tastings/{tasting['id']}/stop", {"why": "a core was read too low"}))
    assert "put everything aside" in guest.get(f"/taste/{token}").json["stop"]
    late = guest.send("POST", f"/taste/{token}/answers", answer)
    assert late.status_code == 409
    after = lead.get(f"/tastings/{tasting['id']}").json
    assert after["stopped"] == "a core was read too low"
    assert any("stopped" in v for v in after["key_views"]), "the seal is broken on record"
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}))
    lead.get(f"/trials/{table['trial']['id']}/decision")
    run_worker_once(demo_url)
    assert lead.get(f"/trials/{table['trial']['id']}/decision").json["outcome"]["tasters"] == 0


def test_a_spoilt_sample_is_kept_and_not_judged(
    app: Any, lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 2).json
    for n in range(2):
        token = handed_over(lead, tasting, n)
        guest = Client(app.test_client())
        no_allergies(guest, token)
        page = guest.get(f"/taste/{token}").json
        for said in first_answer(page["rounds"][0]):
            ok(guest.send("POST", f"/taste/{token}/answers", said))
        ok(guest.send("POST", f"/taste/{token}/finish", {}))
    dropped = tasting["rounds"][0]["codes"][0]
    told = lead.send("POST", f"/tastings/{tasting['id']}/spoilt", {"code": dropped, "why": "dropped"}).json
    assert told["rounds"][0]["spoilt"] == [f"{dropped}: dropped"]
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    run_worker_once(demo_url)
    found = lead.get(f"/tastings/{tasting['id']}/found").json
    assert len(found["rounds"][0]["found"]["bars"]) == 2, "two of three are left"
    rows = lead.get(f"/trials/{table['trial']['id']}/tables/answer.csv").text.splitlines()
    assert len(rows) == 1 + 6, "what was said of it is kept"


def test_the_same_person_at_two_tastings_is_one_once_the_lead_has_said_so(
    app: Any, lead: Client, cook: Client, demo_url: str, table: dict[str, Any]
) -> None:
    path = f"/trials/{table['trial']['id']}/tastings"
    for _ in range(2):
        tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 1).json
        token = handed_over(lead, tasting)
        guest = Client(app.test_client())
        no_allergies(guest, token)
        for said in first_answer(guest.get(f"/taste/{token}").json["rounds"][0]):
            ok(guest.send("POST", f"/taste/{token}/answers", said))
        ok(guest.send("POST", f"/taste/{token}/finish", {}))
        ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    lead.get(f"/trials/{table['trial']['id']}/decision")
    run_worker_once(demo_url)
    decision = f"/trials/{table['trial']['id']}/decision"
    told = lead.get(decision).json["outcome"]
    assert told["tasters"] == 1
    assert [b["name"] for b in told["beside"]] == ["Tasting (served before)"], "served again stands by itself"
    there = [p for p in lead.get(path).json["panelists"] if p["name"] == "Person 0"]
    assert [p["sat"] for p in there] == [1, 1], "nobody is made one by name alone"
    pair = next(p for p in lead.get(path).json["same_person"] if p["one"]["name"] == "Person 0")
    body = {"one": pair["one"]["id"], "other": pair["other"]["id"], "same": True}
    assert cook.send("POST", "/same-people", body).status_code == 403
    ok(lead.send("POST", "/same-people", body))
    assert not [p for p in lead.get(path).json["same_person"] if p["one"]["name"] == "Person 0"]
    known = [p for p in lead.get(path).json["panelists"] if p["name"] == "Person 0"]
    assert [p["sat"] for p in known] == [2]
    again = lay(lead, table, [{"samples": samples(table["batches"])}], 0, panelists=[known[0]["id"]])
    assert again.json["seats"][0]["name"] == "Person 0"
    twice = lay(lead, table, [{"samples": samples(table["batches"])}], 0, panelists=[known[0]["id"]] * 2)
    assert twice.status_code == 422


def test_two_of_one_name_stay_two_once_that_was_said(lead: Client, table: dict[str, Any]) -> None:
    for _ in range(2):
        lay(lead, table, [{"samples": samples(table["batches"])}], 1)
    path = f"/trials/{table['trial']['id']}/tastings"
    asked = [p for p in lead.get(path).json["same_person"] if p["one"]["name"] == "Person 0"]
    for p in asked:
        ok(
            lead.send(
                "POST", "/same-people", {"one": p["one"]["id"], "other": p["other"]["id"], "same": False}
            )
        )
    assert not [p for p in lead.get(path).json["same_person"] if p["one"]["name"] == "Person 0"]


def test_who_cooked_or_saw_the_key_counts_apart(
    app: Any, lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    known = lead.get(f"/trials/{table['trial']['id']}/tastings").json["panelists"]
    me = next(p for p in known if p["name"] == "Lead of the kitchen")
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 1, panelists=[me["id"]]).json
    lead.send("POST", f"/tastings/{tasting['id']}/key-views", {"why": "to plate"})
    seats = lead.get(f"/tastings/{tasting['id']}").json["seats"]
    knows = {s["name"]: s["knows"] for s in seats}
    assert knows["Person 0"] == []
    assert knows["Lead of the kitchen"] == ["cooked it", "saw the key"]


def test_somebody_comes_late_and_somebody_leaves(app: Any, lead: Client, table: dict[str, Any]) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 2).json
    after = lead.send("POST", f"/tastings/{tasting['id']}/seats", {"name": "Late"}).json
    assert [s["name"] for s in after["seats"]] == ["Person 0", "Person 1", "Late"]
    assert sorted(after["seats"][2]["orders"][0]) == sorted(tasting["rounds"][0]["codes"])
    token = handed_over(lead, after, 0)
    gone = lead.send("POST", f"/tastings/{tasting['id']}/seats/{after['seats'][0]['id']}/leave").json
    assert gone["seats"][0]["revoked"]
    assert Client(app.test_client()).get(f"/taste/{token}").status_code == 404


def test_answers_come_in_as_a_table_all_or_nothing(lead: Client, table: dict[str, Any]) -> None:
    tasting = lay(
        lead,
        table,
        [{"samples": samples(table["batches"])}, {"test": "ranking", "samples": samples(table["batches"])}],
        1,
    ).json
    path = f"/api/v1/tastings/{tasting['id']}/table"
    codes, ranked = tasting["rounds"][0]["codes"], tasting["rounds"][1]["codes"]
    head = "Seat,Round,Code,Question,Answer,Words\n"
    rows = "".join(f"Person 0,1,{c},Moist,{n + 5} to {n + 6},soft\n" for n, c in enumerate(codes))
    rows += f'Person 0,2,,,"{", ".join(ranked)}",\n'
    headers = {"X-CSRFToken": lead.csrf, "Content-Type": "text/csv"}

    def bring(text: str) -> Any:
        return lead.http.post(path, data=text.encode(), headers=headers)

    for wrong, says in (
        ("a,b\n1,2\n", "no column"),
        (head + "Nobody,1,100,Moist,5,\n", "nobody called"),
        (head + f"Person 0,1,{codes[0]},Colour,5,\n", "is not asked"),
        (head + rows + f"Person 0,1,{codes[0]},Moist,eleven,\n", "line 6"),
    ):
        got = bring(wrong)
        assert got.status_code == 422, got.json
        assert says in got.json["errors"][0]["message"]
    assert lead.get(f"/tastings/{tasting['id']}").json["seats"][0]["answered"] == 0
    taken = bring(head + rows)
    assert taken.json == {"answers": 4, "comments": 3}
    seat = lead.get(f"/tastings/{tasting['id']}").json["seats"][0]
    assert seat["finished"]
    assert any("typed a paper ballot in" in a for a in seat["acts"])


def test_a_plan_says_what_is_needed_and_what_could_be_found_and_lays_nothing(
    lead: Client, table: dict[str, Any]
) -> None:
    b = table["batches"]
    body = {
        "rounds": [{"samples": samples(b)}, {"test": "triangle", "samples": samples(b[:2])}],
        "tasters": ["a", "b", "c", "d"],
        "served_with": [{"what": "cracker"}],
    }
    plan = lead.send("POST", f"/trials/{table['trial']['id']}/tasting-plans", body).json
    assert len(plan["cuts"]) == 3
    assert any("cracker, 4 portions" in r for r in plan["ready"])
    assert "one cooking of each" in plan["can_find"][0][0]
    assert "have to be right before it is more than luck" in plan["can_find"][1][0]
    assert plan["minutes"] > 2
    assert lead.get(f"/trials/{table['trial']['id']}/tastings").json["items"] == []


def test_codes_and_ballots_are_printed_and_tell_nothing(lead: Client, table: dict[str, Any]) -> None:
    tasting = lay(lead, table, every_round(table), 2).json
    for paper in ("stickers.pdf", "ballots.pdf?paper=Letter"):
        got = lead.get(f"/tastings/{tasting['id']}/{paper}")
        assert got.status_code == 200, got.json
        assert got.data.startswith(b"%PDF")
    assert lead.get(f"/tastings/{tasting['id']}/stickers.pdf?stock=nothing").status_code == 422


def test_a_lone_cook_who_tastes_gets_an_answer_that_is_called_not_blind(
    app: Any, lead: Client, demo_url: str, table: dict[str, Any]
) -> None:
    path = f"/trials/{table['trial']['id']}/tastings"
    me = next(p for p in lead.get(path).json["panelists"] if p["name"] == "Lead of the kitchen")
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 0, panelists=[me["id"]]).json
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    no_allergies(guest, token)
    for said in first_answer(guest.get(f"/taste/{token}").json["rounds"][0]):
        ok(guest.send("POST", f"/taste/{token}/answers", said))
    ok(guest.send("POST", f"/taste/{token}/finish", {}))
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    lead.get(f"/trials/{table['trial']['id']}/decision")
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{table['trial']['id']}/decision").json["outcome"]
    assert (outcome["tasters"], outcome["blind"]) == (1, False)
    assert outcome["verdicts"]["weighted_score"]["how_sure"] == "not comparable"
    found = lead.get(f"/tastings/{tasting['id']}/found").json
    assert found["rounds"][0]["found"]["headline"] == "Nobody has answered blind."
    assert found["knowing"] == 1

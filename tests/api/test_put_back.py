"""What was taken away or written over comes back whole, by name, within its minute."""

import uuid
from datetime import timedelta
from typing import Any

import pytest
from sqlalchemy import select, update

from tests.api.helpers import Client, make_shift, new_trial
from tests.conftest import run_worker_once, session
from yeasty.store.base import now
from yeasty.store.cook.tables import Rehearsal
from yeasty.store.kitchen.people_tables import TakenAway
from yeasty.store.publish.tables import Guess
from yeasty.store.setup.tables import PlaceMap


def kept(client: Client) -> dict[str, Any] | None:
    found: dict[str, Any] | None = client.get("/taken-away").json["item"]
    return found


def ok(answer: Any, status: int = 200) -> dict[str, Any]:
    assert answer.status_code == status, answer.json
    found: dict[str, Any] = answer.json
    return found


def put_back(client: Client, item: dict[str, Any] | None) -> Any:
    assert item is not None
    return client.send("POST", f"/taken-away/{item['id']}/put-back")


def whole(client: Client, trial: str) -> dict[str, Any]:
    """A design as the screens read it, without what every edit raises."""
    t: dict[str, Any] = client.get(f"/trials/{trial}").json
    return {k: v for k, v in t.items() if k not in ("version", "updated_at")}


def trial_with_amounts(lead: Client) -> dict[str, Any]:
    t = new_trial(lead, ("oven", "microwave", "air_fryer"))
    rows = [
        {"id": None, "name": n, "amounts": {m["id"]: "100 g" for m in t["methods"]}} for n in ("leeks", "oil")
    ]
    return ok(lead.send("PUT", f"/trials/{t['id']}/ingredients", {"items": rows}, t["version"]))


def pointed_at(demo_url: str, trial: str) -> list[uuid.UUID | None]:
    """Which way each guess names."""
    with session(demo_url) as db:
        return list(db.scalars(select(Guess.method_id).where(Guess.trial_id == uuid.UUID(trial))))


def test_a_method_comes_back_with_all_that_hung_on_it_in_its_place(lead: Client, demo_url: str) -> None:
    t = trial_with_amounts(lead)
    middle = t["methods"][1]
    guess = {"method_id": middle["id"], "why": "steam", "who": "Cook"}
    ok(lead.send("POST", f"/trials/{t['id']}/guesses", guess), 201)
    before, guesses = whole(lead, t["id"]), pointed_at(demo_url, t["id"])
    assert guesses == [uuid.UUID(middle["id"])]
    ok(lead.send("DELETE", f"/trials/{t['id']}/methods/{middle['id']}", None, t["version"]))
    assert len(whole(lead, t["id"])["methods"]) == 2
    item = kept(lead)
    assert item is not None
    assert (item["what"], item["deed"]) == (middle["name"], "taken away")
    assert 55 < item["left_s"] <= 60
    assert pointed_at(demo_url, t["id"]) == [None]
    assert put_back(lead, item).status_code == 204
    assert whole(lead, t["id"]) == before
    assert pointed_at(demo_url, t["id"]) == guesses
    assert kept(lead) is None or kept(lead)["id"] != item["id"]  # type: ignore[index]
    # A version never goes back: who had the one without it open is told so.
    assert lead.get(f"/trials/{t['id']}").json["version"] > t["version"] + 1


def test_steps_that_were_written_over_and_a_question_that_was_changed(lead: Client) -> None:
    t = trial_with_amounts(lead)
    before = whole(lead, t["id"])
    m = t["methods"][0]
    steps = [{**s, "duration_s": 2 * s["duration_s"]} for s in m["steps"]]
    after = ok(lead.send("PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"]))
    assert kept(lead)["what"] == f"the steps of {m['name']}"  # type: ignore[index]
    ok(lead.send("PATCH", f"/trials/{t['id']}", {"question": "Another one?"}, after["version"]))
    item = kept(lead)
    assert item is not None
    assert (item["what"], item["deed"]) == ("the question", "changed")
    # One after the other, the last first.
    assert put_back(lead, item).status_code == 204
    assert whole(lead, t["id"])["methods"][0]["steps"][0]["duration_s"] == steps[0]["duration_s"]
    assert put_back(lead, kept(lead)).status_code == 204
    assert whole(lead, t["id"]) == before


def test_tags_that_were_exchanged_come_back_though_each_is_held_by_the_other(lead: Client) -> None:
    t = trial_with_amounts(lead)
    before = whole(lead, t["id"])
    a, b = t["methods"][0], t["methods"][1]
    for method, tag in ((a, "QQ"), (b, a["tag"]), (a, b["tag"])):
        t = ok(lead.send("PATCH", f"/trials/{t['id']}/methods/{method['id']}", {"tag": tag}, t["version"]))
    for _ in range(3):
        assert put_back(lead, kept(lead)).status_code == 204
    assert whole(lead, t["id"]) == before


def test_what_was_only_added_is_not_offered(lead: Client) -> None:
    t = new_trial(lead)
    last = kept(lead)
    ok(lead.send("POST", f"/trials/{t['id']}/methods", {"technique": "pan"}, t["version"]), 201)
    now_kept = kept(lead)
    assert (now_kept or {}).get("id") == (last or {}).get("id")


def test_it_is_refused_where_the_design_went_on_or_its_minute_is_over(
    lead: Client, cook: Client, demo_url: str
) -> None:
    t = trial_with_amounts(lead)
    m = t["methods"][2]
    t = ok(lead.send("DELETE", f"/trials/{t['id']}/methods/{m['id']}", None, t["version"]))
    item = kept(lead)
    # Somebody else's, or none at all.
    assert kept(cook) is None
    assert put_back(cook, item).status_code == 404
    assert lead.send("POST", f"/taken-away/{uuid.uuid4()}/put-back").status_code == 404
    ok(cook.send("PATCH", f"/trials/{t['id']}", {"hunch": "the oven"}, t["version"]))
    late = put_back(lead, item)
    assert late.status_code == 409
    assert "changed again" in late.json["detail"]
    assert len(whole(lead, t["id"])["methods"]) == 2
    with session(demo_url) as db:
        long_ago = now() - timedelta(seconds=90)
        db.execute(update(TakenAway).where(TakenAway.id == uuid.UUID(item["id"])).values(at=long_ago))  # type: ignore[index]
        db.commit()
    assert put_back(lead, item).status_code == 404


@pytest.mark.parametrize("thing", ["shift", "defect", "technique"])
def test_what_is_no_design_comes_back_too(lead: Client, thing: str) -> None:
    if thing == "shift":
        t = new_trial(lead)
        shift = make_shift(lead, t)["id"]
        before = lead.get(f"/shifts/{shift}/bench").json["batches"]
        assert lead.send("DELETE", f"/shifts/{shift}").status_code == 204
        assert lead.get(f"/shifts/{shift}/bench").status_code == 404
        assert "shift" in kept(lead)["what"]  # type: ignore[index]
        assert put_back(lead, kept(lead)).status_code == 204
        assert lead.get(f"/shifts/{shift}/bench").json["batches"] == before
    elif thing == "defect":
        words = {"name": "Split skins", "looks": "seams open", "causes": "too hot", "cure": "cooler"}
        found = lead.send("POST", "/defects", {**words, "techniques": ["oven"]})
        item = next(d for d in ok(found)["items"] if d["trouble"]["name"] == "Split skins")
        ok(lead.send("DELETE", f"/defects/{item['id']}"))
        assert put_back(lead, kept(lead)).status_code == 204
        assert item in lead.get("/defects").json["items"]
    else:
        bake = {"what": "Fry", "attention": "free", "phase": "cook", "duration_s": "5 min"}
        record = {"name": "Our pan", "appliance_kind": "hob", "gear": ["pan"], "steps": [bake]}
        ok(lead.technique("PUT", "pan", record))
        assert lead.technique("DELETE", "pan", None).status_code == 200
        assert put_back(lead, kept(lead)).status_code == 204
        assert (
            next(t for t in lead.get("/techniques").json["items"] if t["key"] == "pan")["name"] == "Our pan"
        )


def test_what_pointed_at_it_and_stayed_points_at_it_again(lead: Client, demo_url: str) -> None:
    """A map that pieces were handed on from, and the shift that another was rehearsed for."""
    t = new_trial(lead)
    with session(demo_url) as db:
        bowl, tray = (
            PlaceMap(
                trial_id=uuid.UUID(t["id"]),
                position=n,
                name=name,
                kind="tray",
                width_m=0.4,
                depth_m=0.3,
                piece_m=0.04,
                spacing_m=0.01,
            )
            for n, name in enumerate(("bowl", "tray"))
        )
        db.add(bowl)
        db.flush()
        tray.handed_from = bowl.id
        db.add(tray)
        db.commit()
        first, second = str(bowl.id), str(tray.id)
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    made = lead.send("POST", f"/shifts/{shift}/rehearsals", {"speed": 60})
    assert made.status_code in (200, 201), made.json

    def points() -> tuple[str | None, list[str]]:
        maps = lead.get(f"/trials/{t['id']}/maps").json["items"]
        with session(demo_url) as db:
            of = [str(s) for s in db.scalars(select(Rehearsal.of_shift_id)) if s]
        return next(m["handed_from"] for m in maps if m["id"] == second), of

    before = points()
    assert before[0] == first
    assert shift in before[1]
    assert lead.send("DELETE", f"/trials/{t['id']}/maps/{first}").status_code == 204
    assert points()[0] is None
    assert put_back(lead, kept(lead)).status_code == 204
    assert points() == before
    assert lead.send("DELETE", f"/shifts/{shift}").status_code == 204
    assert shift not in points()[1]
    assert put_back(lead, kept(lead)).status_code == 204
    assert points() == before


def test_a_shift_that_a_tasting_is_laid_ready_for_is_not_taken_away_in_silence(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    batches = [b["id"] for b in lead.get(f"/shifts/{shift}/bench").json["batches"]]
    laid = {"batches": batches, "tasters": ["Ann", "Ben"], "later": True}
    made = lead.send("POST", f"/trials/{t['id']}/tastings", laid)
    assert made.status_code == 201, made.json
    gone = lead.send("DELETE", f"/shifts/{shift}")
    assert gone.status_code == 409, gone.json
    assert lead.get(f"/shifts/{shift}/bench").status_code == 200

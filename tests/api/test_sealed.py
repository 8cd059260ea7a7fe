"""What is sealed stays sealed; lost updates are refused."""

import json
import threading
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.api.helpers import Client, handed_over, no_allergies, sitting, trial_id, value

ARCHIVES = Path(__file__).parents[1] / "archives"


def test_a_link_is_shown_once_by_an_act_that_is_kept_and_the_one_before_is_void(
    app: Any, lead: Client, cook: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["one"])
    assert "link" not in json.dumps(tasting["seats"])
    first = handed_over(cook, tasting)
    guest = Client(app.test_client())
    assert guest.get(f"/taste/{first}").status_code == 200
    second = handed_over(lead, tasting)
    assert guest.get(f"/taste/{first}").status_code == 404
    assert guest.get(f"/taste/{second}").status_code == 200
    acts = lead.get(f"/tastings/{tasting['id']}").json["seats"][0]["acts"]
    assert len(acts) == 2
    assert all("handed the link over" in a for a in acts)


def test_a_paper_ballot_only_writes_and_is_kept_as_an_act(
    app: Any, lead: Client, cook: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["one"])
    seat = tasting["seats"][0]
    trial = next(x for x in lead.get("/trials").json["items"] if x["dish"] == "cauliflower florets")
    question = lead.get(f"/trials/{trial['id']}").json["attributes"]
    token = handed_over(lead, tasting)
    asked = Client(app.test_client()).get(f"/taste/{token}").json["rounds"][0]["attributes"][0]["id"]
    assert question
    ballot = {"lines": [{"code": c, "attribute_id": asked, "text": "6"} for c in seat["orders"][0]]}
    path = f"/tastings/{tasting['id']}/seats/{seat['id']}/ballots"
    assert cook.send("POST", path, ballot).status_code == 403
    for text in ("99", "rather nice", "8 to 7"):
        assert lead.send("POST", path, {"lines": [{**ballot["lines"][0], "text": text}]}).status_code == 422
    after = lead.send("POST", path, ballot).json
    assert after["seats"][0]["finished"]
    assert any("typed a paper ballot in" in a for a in after["seats"][0]["acts"])
    assert '"value"' not in json.dumps(after)


def test_codes_are_kept_by_no_seed(lead: Client, demo_url: str) -> None:
    from sqlalchemy import text

    from yeasty.store.database import make_engine

    with make_engine(demo_url).connect() as c:
        columns = {
            r[0]
            for r in c.execute(
                text("select column_name from information_schema.columns where table_name = 'tasting'")
            )
        }
    assert "seed" not in columns


def at_once(app: Any, count: int, act: Callable[[Client], int]) -> list[int]:
    clients = [Client(app.test_client()).sign_in("lead", "flour-water-salt") for _ in range(count)]
    found: list[int] = []
    threads = [threading.Thread(target=lambda c=c: found.append(act(c))) for c in clients]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return found


def test_of_ten_edits_with_one_version_one_goes_through(app: Any, lead: Client) -> None:
    tid = trial_id(lead)
    version = lead.get(f"/trials/{tid}/publication").json["version"]
    settings, etag = lead.get("/kitchen").json, int(lead.get("/kitchen").headers["ETag"].strip('"'))
    circuits = lead.get("/circuits").json["items"]

    def draft(c: Client) -> int:
        return c.send(
            "PATCH", f"/trials/{tid}/publication", {"intro": str(uuid.uuid4())}, version
        ).status_code

    def kitchen(c: Client) -> int:
        return c.send("PUT", "/kitchen", {**settings, "name": str(uuid.uuid4())}, etag).status_code

    assert sorted(at_once(app, 10, draft)) == [200] + [412] * 9
    assert sorted(at_once(app, 6, kitchen)) == [200] + [412] * 5
    stale = lead.send("PUT", "/circuits", {"items": circuits}, etag)
    technique = next(x for x in lead.get("/techniques").json["items"] if x["key"] == "oven")

    def offer(c: Client) -> int:
        return c.send("PATCH", "/techniques/oven", {"hidden": True}, technique["version"]).status_code

    pieces = lead.get(f"/trials/{tid}/pieces").json

    def weigh(c: Client) -> int:
        rows = {"items": [{"mass_kg": 0.05, "part": str(uuid.uuid4())[:8]}]}
        return c.send("PUT", f"/trials/{tid}/pieces", rows, pieces["version"]).status_code

    assert sorted(at_once(app, 6, offer)) == [200] + [412] * 5
    assert sorted(at_once(app, 6, weigh)) == [200] + [412] * 5
    assert stale.status_code == 412
    assert lead.send("PUT", "/circuits", {"items": circuits}).status_code == 428


def test_an_answer_that_races_with_the_opening_is_in_or_out_never_after(
    app: Any, lead: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["one"])
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    no_allergies(guest, token)
    view = guest.get(f"/taste/{token}").json
    body = {
        "code": view["rounds"][0]["samples"][0]["code"],
        "attribute_id": view["rounds"][0]["attributes"][0]["id"],
        "said": value(5),
    }
    told: list[int] = []

    def answer() -> None:
        taster = Client(app.test_client())
        for n in range(12):
            told.append(
                taster.send("POST", f"/taste/{token}/answers", {**body, "said": value(n / 2)}).status_code
            )

    threads = [threading.Thread(target=answer) for _ in range(3)]
    for t in threads:
        t.start()
    opened = lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}).json[
        "opened_at"
    ]
    for t in threads:
        t.join()
    from sqlalchemy import text

    from yeasty.store.database import make_engine

    with make_engine(demo_url).connect() as c:
        late = c.execute(text("select count(*) from answer where given_at > :at"), {"at": opened}).scalar()
        kept = c.execute(
            text("select count(*) from answer a join seat s on s.id = a.seat_id where s.tasting_id = :t"),
            {"t": tasting["id"]},
        ).scalar()
    assert late == 0
    assert kept == told.count(200)

"""What tests of the API share: a browser's manners, and a trial brought as far as is needed."""

import json
import time
import uuid
from typing import Any

from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from tests.conftest import run_worker_once
from yeasty.store.kitchen.people import account_by_login


class Client:
    """A browser's manners: carries the token, remembers versions."""

    def __init__(self, client: FlaskClient) -> None:
        self.http = client
        self.csrf = self.get("/session").json["csrf"]

    def get(self, path: str, **kw: Any) -> TestResponse:
        return self.http.get("/api/v1" + path, **kw)

    def send(
        self, method: str, path: str, body: Any = None, version: int | str | None = None, **kw: Any
    ) -> TestResponse:
        headers = {"X-CSRFToken": self.csrf, **({"If-Match": f'"{version}"'} if version is not None else {})}
        return self.http.open("/api/v1" + path, method=method, json=body, headers=headers, **kw)

    def put(self, path: str, body: Any) -> TestResponse:
        """A form that carries its version in ETag, opened and sent."""
        return self.send("PUT", path, body, int(self.get(path).headers["ETag"].strip('"')))

    def technique(self, method: str, key: str, body: Any) -> TestResponse:
        """A template opened and sent with its version."""
        items = self.get("/techniques").json["items"]
        version = next((t["version"] for t in items if t["key"] == key), None)
        return self.send(method, f"/techniques/{key}", body, version)

    def known(self, login: str) -> "Client":
        """Signed in as somebody without their password, which takes long to be looked at on purpose."""
        with self.http.application.extensions["yeasty_sessions"]() as db:
            account = account_by_login(db, login)
            assert account is not None
            cookie = f"{account.id}:{account.session_epoch}"
        with self.http.session_transaction() as session:
            session["_user_id"], session["_fresh"] = cookie, True
        return self

    def sign_in(self, login: str, password: str) -> "Client":
        assert self.send("POST", "/session", {"login": login, "password": password}).status_code == 200
        return self


def trial_id(client: Client, word: str = "buns") -> str:
    return str(client.get(f"/trials?search={word}").json["items"][0]["id"])


def by_title(client: Client, title: str) -> dict[str, Any]:
    for card in client.get("/trials?search=" + title.split(",")[0].split(" ")[0]).json["items"]:
        if card["title"] == title:
            return dict(client.get(f"/trials/{card['id']}").json)
    raise AssertionError(title)


def new_trial(
    lead: Client, techniques: tuple[str, ...] = ("oven", "microwave"), food: str = "plant"
) -> dict[str, Any]:
    t = lead.send(
        "POST",
        "/trials",
        {"question": "Which is moister?", "dish": "cauliflower florets", "food_class": food},
    ).json
    for technique in techniques:
        t = lead.send("POST", f"/trials/{t['id']}/methods", {"technique": technique}, t["version"]).json
    attributes = {
        "items": [
            {"name": "Moist", "scale": "intensity", "weight": 1, "low_words": "dry", "high_words": "moist"}
        ]
    }
    return dict(lead.send("PUT", f"/trials/{t['id']}/attributes", attributes, t["version"]).json)


def make_shift(lead: Client, t: dict[str, Any]) -> dict[str, Any]:
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 2 * 3600))
    made = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": serve, "window_s": 300})
    assert made.status_code == 201, made.json
    return dict(made.json)


def an_entry(
    batch: str, kind: str, payload: dict[str, Any], n: int = 1, at: float | None = None, **other: Any
) -> dict[str, Any]:
    return {
        "id": str(uuid.uuid4()),
        "batch": batch,
        "kind": kind,
        "device": str(uuid.uuid4()),
        "counter": n,
        "device_time": at or time.time(),
        "offset_ms": 0,
        "payload": payload,
        **other,
    }


def cook_all(lead: Client, shift: str, demo_url: str, core: float | None = 96) -> dict[str, Any]:
    """Log every step as planned, with a core reading."""
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    entries: list[dict[str, Any]] = []
    # As planned, moved back so that all of it has happened: nothing may be logged ahead of now.
    back = max((i["end"] for i in bench["plan"]["items"]), default=0.0) - time.time()
    steps = {(b["id"], s["key"]): s for b in bench["batches"] for s in b["steps"]}
    for i in bench["plan"]["items"]:
        step = steps[i["batch"], i["step"]]
        kind = "done" if step["attention"] == "hands" else "started" if step["phase"] == "come_up" else None
        if kind:
            entries.append(
                an_entry(
                    i["batch"],
                    kind,
                    {"step": i["step"], "at": (i["end"] if kind == "done" else i["start"]) - max(0.0, back)},
                    len(entries),
                )
            )
    for b in bench["batches"] if core is not None else ():
        entries.append(an_entry(b["id"], "temperature", {"celsius": core, "where": "core"}, len(entries)))
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": entries})
    assert len(got.json["written"]) == len(entries), got.json
    return dict(bench)


def whole_run(lead: Client, demo_url: str) -> dict[str, Any]:
    t = new_trial(lead)
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    return t


def sitting(lead: Client, demo_url: str, tasters: list[str]) -> dict[str, Any]:
    t = whole_run(lead, demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    return dict(
        lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": tasters}).json
    )


def handed_over(lead: Client, tasting: dict[str, Any], seat: int = 0) -> str:
    """A seat's link made anew and handed over: its token."""
    got = lead.send("POST", f"/tastings/{tasting['id']}/seats/{tasting['seats'][seat]['id']}/hand-overs")
    assert got.status_code == 201, got.json
    return str(got.json["link"]).rsplit("/", 1)[1]


def seat_out(view: dict[str, Any]) -> dict[str, Any]:
    """A taster's answer without what the codes are tied to: ids of the questions."""
    text = json.dumps(view)
    asked = [a["id"] for r in view["rounds"] for a in r["attributes"]]
    for n, key in enumerate(dict.fromkeys(asked)):
        text = text.replace(key, f"question-{n}")
    return dict(json.loads(text))


def ok(answer: Any) -> None:
    assert answer.status_code in (200, 201, 204), answer.json


def value(number: float | None) -> dict[str, Any] | None:
    """A point on a scale, as it is said."""
    return None if number is None else {"kind": "value", "value": number}


def no_allergies(guest: Client, token: str) -> TestResponse:
    """Say of everything on the table that it may be eaten."""
    there = guest.get(f"/taste/{token}").json["allergens"]
    return guest.send("POST", f"/taste/{token}/allergens-told", {"said": {a["what"]: "no" for a in there}})


def first_round(view: dict[str, Any]) -> tuple[list[str], list[str]]:
    """Codes and questions of a taster's first round."""
    r = view["rounds"][0]
    return [s["code"] for s in r["samples"]], [a["id"] for a in r["attributes"]]


def samples(batches: list[str], twice: str = "") -> list[dict[str, Any]]:
    return [{"batch_id": b, "twice": b == twice} for b in batches]


def lay(
    lead: Client, table: dict[str, Any], rounds: list[dict[str, Any]], people: int = 2, **more: Any
) -> Any:
    body = {"rounds": rounds, "tasters": [f"Person {n}" for n in range(people)], **more}
    return lead.send("POST", f"/trials/{table['trial']['id']}/tastings", body)


def first_answer(r: dict[str, Any]) -> list[dict[str, Any]]:
    """What somebody says who always takes what comes first."""
    codes = [s["code"] for s in r["samples"]]
    match r["drawn"]:
        case "samples":
            return [{"code": c, "attribute_id": r["attributes"][0]["id"], "said": value(6)} for c in codes]
        case "order":
            return [{"said": {"kind": "order", "places": [[c] for c in codes]}}]
        case "groups":
            return [{"said": {"kind": "groups", "groups": [codes[:2], codes[2:]]}}]
        case "labels":
            keys = [x["key"] for x in r["labels"]]
            return [{"said": {"kind": "labels", "labels": dict(zip(codes, keys, strict=True))}}]
        case _:
            return [{"said": {"kind": "choice", "code": codes[-1]}}]

"""The API over real PostgreSQL: roles, versions, problems, blindness, publication."""

import json
import time
import uuid
from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from tests.conftest import run_worker_once
from yeasty.api.app import Settings, create_app


class Client:
    """A browser's manners: carries the token, remembers versions."""

    def __init__(self, client: FlaskClient) -> None:
        self.http = client
        self.csrf = self.get("/session").json["csrf"]

    def get(self, path: str, **kw: Any) -> TestResponse:
        return self.http.get("/api/v1" + path, **kw)

    def send(self, method: str, path: str, body: Any = None, version: int | None = None, **kw: Any) -> TestResponse:
        headers = {"X-CSRFToken": self.csrf, **({"If-Match": f'"{version}"'} if version is not None else {})}
        return self.http.open("/api/v1" + path, method=method, json=body, headers=headers, **kw)

    def sign_in(self, login: str, password: str) -> "Client":
        assert self.send("POST", "/session", {"login": login, "password": password}).status_code == 200
        return self


@pytest.fixture
def app(demo_url: str) -> Iterator[Any]:
    made = create_app(Settings(demo_url, testing=True))
    yield made
    made.extensions["yeasty_engine"].dispose()


@pytest.fixture
def lead(app: Any) -> Client:
    return Client(app.test_client()).sign_in("lead", "flour-water-salt")


@pytest.fixture
def cook(app: Any) -> Client:
    return Client(app.test_client()).sign_in("cook", "proof-shape-bake")


def trial_id(client: Client, word: str = "buns") -> str:
    return str(client.get(f"/trials?search={word}").json["items"][0]["id"])


def test_nothing_is_told_to_who_is_not_signed_in(app: Any, lead: Client) -> None:
    stranger = Client(app.test_client())
    shift = lead.get(f"/trials/{trial_id(lead)}/shifts").json["items"][0]["id"]
    rules = [r for r in app.url_map.iter_rules() if r.rule.startswith("/api/v1/")]
    told = set()
    for rule in rules:
        path = rule.rule.replace("<uuid:trial_id>", trial_id(lead)).replace("<uuid:shift_id>", shift)
        path = "/".join(
            str(uuid.uuid4()) if part.startswith("<uuid") else "x" if part.startswith("<") else part
            for part in path.split("/")
        )
        for method in (rule.methods or set()) - {"HEAD", "OPTIONS"}:
            if stranger.send(method, path.removeprefix("/api/v1"), {}).status_code not in (401, 404, 422, 428):
                told.add((method, rule.rule))
    assert told == {("GET", "/api/v1/session"), ("DELETE", "/api/v1/session"), ("GET", "/api/v1/clock")}


def test_a_wrong_password_is_a_problem_and_too_many_are_held_off(app: Any) -> None:
    c = Client(app.test_client())
    for _ in range(8):
        wrong = c.send("POST", "/session", {"login": "lead", "password": "guess"})
        assert wrong.status_code == 401
        assert wrong.content_type == "application/problem+json"
    assert c.send("POST", "/session", {"login": "lead", "password": "flour-water-salt"}).status_code == 409


def test_a_change_without_the_token_is_refused(app: Any, lead: Client) -> None:
    answer = lead.http.post("/api/v1/trials", json={"question": "q", "dish": "d"})
    assert answer.status_code == 403
    assert answer.json["title"] == "Page too old"


def test_cookies_and_headers_are_strict(app: Any) -> None:
    client = app.test_client()
    got = client.post("/api/v1/session", json={"login": "x", "password": "y"})
    assert "script-src 'self'" in got.headers["Content-Security-Policy"]
    assert "unsafe" not in got.headers["Content-Security-Policy"]
    cookie = client.get("/api/v1/session").headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Lax" in cookie


def test_a_cook_may_not_do_what_is_the_leads(cook: Client, lead: Client) -> None:
    t = trial_id(cook)
    tasting = cook.get(f"/trials/{t}/tastings").json["items"][0]["id"]
    for method, path, body in [
        ("POST", f"/trials/{t}/publications", {"correction": "x"}), ("POST", f"/trials/{t}/withdrawal", {"why": "because"}),
        ("POST", f"/tastings/{tasting}/open", None), ("POST", f"/tastings/{tasting}/key-views", {"why": "curious"}), ("GET", "/accounts", None),
    ]:  # fmt: skip
        assert cook.send(method, path, body).status_code == 403, path


def test_a_lost_update_is_refused_and_never_silent(lead: Client) -> None:
    t = trial_id(lead)
    version = lead.get(f"/trials/{t}").json["version"]
    assert lead.send("PATCH", f"/trials/{t}", {"hunch": "mine"}, version).status_code == 200
    late = lead.send("PATCH", f"/trials/{t}", {"hunch": "theirs"}, version)
    assert late.status_code == 412
    assert "Reload" in late.json["detail"]
    assert lead.send("PATCH", f"/trials/{t}", {"hunch": "none"}).status_code == 428
    assert lead.get(f"/trials/{t}").json["hunch"] == "mine"


def new_trial(lead: Client, techniques: tuple[str, ...] = ("oven", "microwave")) -> dict[str, Any]:
    t = lead.send("POST", "/trials", {"question": "Which is moister?", "dish": "cauliflower florets"}).json
    for technique in techniques:
        t = lead.send("POST", f"/trials/{t['id']}/methods", {"technique": technique}, t["version"]).json
    attributes = {"items": [{"name": "Moist", "scale": "intensity", "weight": 1, "low_words": "dry", "high_words": "moist"}]}
    return dict(lead.send("PUT", f"/trials/{t['id']}/attributes", attributes, t["version"]).json)


def test_bad_input_names_the_field_and_nothing_is_lost(lead: Client) -> None:
    t = new_trial(lead)
    method = t["methods"][0]
    steps = [{**s, "duration_s": "a while" if n == 2 else s["duration_s"]} for n, s in enumerate(method["steps"])]
    bad = lead.send("PUT", f"/trials/{t['id']}/methods/{method['id']}/steps", {"items": steps}, t["version"])
    assert bad.status_code == 422
    assert bad.json["errors"][0]["field"].endswith("items.2.duration_s")
    assert "2:30" in bad.json["errors"][0]["todo"]
    assert lead.get(f"/trials/{t['id']}").json["methods"][0]["steps"] == method["steps"]


def test_quantities_are_read_as_written_and_in_the_persons_units(lead: Client) -> None:
    t = new_trial(lead)
    path = f"/trials/{t['id']}/methods/{t['methods'][0]['id']}"
    t = lead.send("PATCH", path, {"batch_kg": "1 lb 4 oz", "start_c": "68 F"}, t["version"]).json
    assert t["methods"][0]["batch_kg"] == pytest.approx(0.567, abs=1e-3)
    assert t["methods"][0]["start_c"] == pytest.approx(20)
    lead.send("PATCH", "/me", {"units": "us"})
    t = lead.send("PATCH", path, {"start_c": "212", "batch_kg": ""}, t["version"]).json
    assert t["methods"][0]["start_c"] == pytest.approx(100)
    assert t["methods"][0]["batch_kg"] is None


def test_differences_are_found_accepted_in_writing_and_come_back_when_they_change(lead: Client) -> None:
    t = new_trial(lead)
    a, b = (m["id"] for m in t["methods"])
    rows = {"items": [{"name": "oil", "allergens": [], "amounts": {a: "10 g", b: None}}]}
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    fair = lead.get(f"/trials/{t['id']}/fairness").json
    oil = next(d for d in fair["differences"] if d["field"] == "amount of oil")
    assert oil["values"] == {"OV": "10 g", "MI": "none"}
    body = {"field": oil["field"], "signature": oil["signature"], "reason": "the tray needs it"}
    t = lead.send("POST", f"/trials/{t['id']}/accepted-differences", body, t["version"]).json
    again = {d["field"]: d["accepted"] for d in lead.get(f"/trials/{t['id']}/fairness").json["differences"]}
    assert again["amount of oil"] == "the tray needs it"
    rows["items"][0] |= {"id": t["ingredients"][0]["id"], "amounts": {a: "20 g", b: None}}
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    again = {d["field"]: d["accepted"] for d in lead.get(f"/trials/{t['id']}/fairness").json["differences"]}
    assert again["amount of oil"] is None


def test_the_microwaves_measured_power_is_offered(lead: Client) -> None:
    t = new_trial(lead)
    mw = t["methods"][1]
    steps = [{**s, "power_w": "800 W" if s["phase"] == "cook" else None} for s in mw["steps"]]
    t = lead.send("PUT", f"/trials/{t['id']}/methods/{mw['id']}/steps", {"items": steps}, t["version"]).json
    offer = lead.get(f"/trials/{t['id']}/fairness").json["offers"][0]
    assert (offer["written_w"], offer["real_w"], offer["measured"]) == (800, 700, True)
    assert offer["to_s"] == pytest.approx(180 * 8 / 7)


def test_an_appliance_that_gives_more_than_it_draws_is_refused(lead: Client) -> None:
    wrong = lead.send("POST", "/appliances", {"name": "M", "kind": "microwave", "input_w": "700 W", "rated_w": "0.9 kW"})
    assert wrong.status_code == 422
    assert wrong.json["errors"][0]["field"] == "rated output"


def make_shift(lead: Client, t: dict[str, Any]) -> dict[str, Any]:
    serve = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() + 2 * 3600))
    made = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": serve, "window_s": 300})
    assert made.status_code == 201, made.json
    return dict(made.json)


def an_entry(
    batch: str, kind: str, payload: dict[str, Any], n: int = 1, at: float | None = None, **other: Any
) -> dict[str, Any]:
    return {
        "id": str(uuid.uuid4()), "batch": batch, "kind": kind, "device": str(uuid.uuid4()), "counter": n,
        "device_time": at or time.time(), "offset_ms": 0, "payload": payload, **other,
    }  # fmt: skip


def cook_all(lead: Client, shift: str, demo_url: str) -> dict[str, Any]:
    """Log every step as planned, with a core reading."""
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    entries = []
    steps = {(b["id"], s["key"]): s for b in bench["batches"] for s in b["steps"]}
    for i in bench["plan"]["items"]:
        step = steps[i["batch"], i["step"]]
        kind = "done" if step["attention"] == "hands" else "started" if step["phase"] == "come_up" else None
        if kind:
            entries.append(
                an_entry(
                    i["batch"], kind, {"step": i["step"], "at": i["end"] if kind == "done" else i["start"]}, len(entries)
                )
            )
    for b in bench["batches"]:
        entries.append(an_entry(b["id"], "temperature", {"celsius": 96, "where": "core"}, len(entries)))
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": entries})
    assert len(got.json["written"]) == len(entries), got.json
    return dict(bench)


def test_entries_are_judged_one_by_one_and_twice_is_once(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    good, bad = (
        an_entry(batch, "note", {"text": "pale"}),
        an_entry(batch, "temperature", {"celsius": "hot", "where": "core"}),
    )
    other = an_entry(str(uuid.uuid4()), "note", {"text": "elsewhere"})
    first = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [good, bad, other]}).json
    assert [w["id"] for w in first["written"]] == [good["id"]]
    assert {r["id"]: r["problem"]["field"] for r in first["refused"]} == {bad["id"]: "celsius", other["id"]: "batch"}
    second = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [good]}).json
    assert second["known"] == [good["id"]]
    assert len([e for e in lead.get(f"/shifts/{shift}/bench").json["entries"] if e["id"] == good["id"]]) == 1
    after = lead.get(f"/shifts/{shift}/changes?after=0").json["items"]
    assert [i["event"] for i in after].count("entry") == 1


def test_a_shift_in_the_past_or_with_a_window_turned_round_is_refused(lead: Client) -> None:
    t = new_trial(lead)
    past = lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": "2020-01-01T12:00:00Z"})
    assert past.json["errors"][0]["field"] == "serving time"
    assert (
        lead.send("POST", f"/trials/{t['id']}/shifts", {"serve_from": "2030-01-01T12:00:00Z", "window_s": -5}).status_code
        == 422
    )


def test_the_worker_plans_and_the_plan_comes_with_a_number(lead: Client, demo_url: str) -> None:
    shift = make_shift(lead, new_trial(lead))
    assert lead.get(f"/shifts/{shift['id']}/bench").json["plan"] is None
    run_worker_once(demo_url)
    plan = lead.get(f"/shifts/{shift['id']}/bench").json["plan"]
    assert max(plan["served"].values()) <= shift["serve_until"] + 1e-3
    assert plan["proof"] == "not proven best"


def whole_run(lead: Client, demo_url: str) -> dict[str, Any]:
    t = new_trial(lead)
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    return t


def test_an_unsafe_or_void_batch_is_barred_from_tasting(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    m = t["methods"][0]
    steps = [{**s, **({"end_rule": "core", "end_core_c": "99 C"} if s["phase"] == "cook" else {})} for s in m["steps"]]
    t = lead.send("PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"]).json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    candidates = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert [c["may"] for c in candidates] == [False, True]
    assert "99 °C not on record" in candidates[0]["why_not"]
    refused = lead.send(
        "POST", f"/trials/{t['id']}/tastings", {"batches": [c["batch_id"] for c in candidates], "tasters": ["a"]}
    )
    assert refused.status_code == 422


def seat_out(view: dict[str, Any]) -> dict[str, Any]:
    """A taster's answer without what the codes are tied to: ids of the questions."""
    text = json.dumps(view)
    for n, a in enumerate(view["attributes"]):
        text = text.replace(a["id"], f"question-{n}")
    return dict(json.loads(text))


def test_blindness_the_same_trial_with_its_methods_permuted_gives_tasters_the_same(
    app: Any, lead: Client, demo_url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Everything a taster can get, from two trials whose methods stand in another order, under one seed of the shuffle."""
    monkeypatch.setattr("secrets.randbelow", lambda n: 4711)
    seen: list[list[Any]] = []
    for techniques in (("oven", "microwave", "steamer"), ("steamer", "oven", "microwave")):
        t = new_trial(lead, techniques)
        rows = {"items": [{"name": n, "allergens": al, "amounts": {m["id"]: "10 g" for m in t["methods"] if m["technique"] in where}}
                          for n, al, where in (("milk", ["milk"], ("oven",)), ("nuts", ["tree nuts"], ("microwave", "steamer")))]}  # fmt: skip
        t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
        cook_all(lead, make_shift(lead, t)["id"], demo_url)
        batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
        tasting = lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["one", "two"]}).json
        assert tasting["key"] == {}
        got: list[Any] = []
        known = (
            {m["id"] for m in t["methods"]} | set(batches) | {t["id"], tasting["id"]} | {s["id"] for s in tasting["seats"]}
        )
        for seat in tasting["seats"]:
            token = seat["link"].rsplit("/", 1)[1]
            guest = Client(app.test_client())
            first = guest.get(f"/taste/{token}")
            assert first.headers["Cache-Control"] == "no-store"
            got.append(seat_out(first.json))
            got.append(seat_out(guest.send("POST", f"/taste/{token}/allergens-told").json))
            code, attribute = first.json["samples"][0]["code"], first.json["attributes"][0]["id"]
            answer = guest.send("POST", f"/taste/{token}/answers", {"code": code, "attribute_id": attribute, "value": 7})
            got.append(seat_out(answer.json))
            got.append(seat_out(guest.send("POST", f"/taste/{token}/answers", {"code": code, "comment": "soft"}).json))
            got.append(guest.send("POST", f"/taste/{token}/answers", {"code": "000", "comment": "x"}).json)
            got.append(guest.get(f"/trials/{t['id']}/tables/answer.csv").status_code)
            text = json.dumps(got)
            assert not [k for k in known if k in text]
        seen.append(got)
    assert seen[0] == seen[1]


def test_a_taster_reads_the_allergens_first_and_a_link_can_be_revoked(app: Any, lead: Client, demo_url: str) -> None:
    t = whole_run(lead, demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    tasting = lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["one"]}).json
    token = tasting["seats"][0]["link"].rsplit("/", 1)[1]
    guest = Client(app.test_client())
    view = guest.get(f"/taste/{token}").json
    body = {"code": view["samples"][0]["code"], "attribute_id": view["attributes"][0]["id"], "value": 7}
    assert guest.send("POST", f"/taste/{token}/answers", body).status_code == 409
    guest.send("POST", f"/taste/{token}/allergens-told")
    assert guest.send("POST", f"/taste/{token}/answers", {**body, "value": 11}).status_code == 422
    assert guest.send("POST", f"/taste/{token}/answers", {**body, "value": None, "refused": True}).json["samples"][0][
        "refused"
    ]
    lead.send("POST", f"/tastings/{tasting['id']}/seats/{tasting['seats'][0]['id']}/revoke")
    assert guest.get(f"/taste/{token}").status_code == 404
    assert guest.get("/taste/forged").status_code == 404


def test_looking_at_the_key_is_recorded_and_answers_close_with_the_codes(app: Any, lead: Client, demo_url: str) -> None:
    t = whole_run(lead, demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    tasting = lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["one", "two", "three"]}).json
    assert len(lead.send("POST", f"/tastings/{tasting['id']}/key-views", {"why": "to plate"}).json["key"]) == 2
    assert lead.get(f"/tastings/{tasting['id']}").json["key_views"][0].endswith("to plate")
    guest = Client(app.test_client())
    for n, seat in enumerate(tasting["seats"]):
        token = seat["link"].rsplit("/", 1)[1]
        guest.send("POST", f"/taste/{token}/allergens-told")
        view = guest.get(f"/taste/{token}").json
        for k, s in enumerate(sorted(view["samples"], key=lambda s: s["code"])):
            guest.send(
                "POST",
                f"/taste/{token}/answers",
                {"code": s["code"], "attribute_id": view["attributes"][0]["id"], "value": 5 + k * 2 + n * 0.5},
            )
    opened = lead.send("POST", f"/tastings/{tasting['id']}/open").json
    assert len(opened["key"]) == 2
    assert (
        guest.send("POST", f"/taste/{token}/answers", {"code": view["samples"][0]["code"], "comment": "late"}).status_code
        == 409
    )
    run_worker_once(demo_url)
    decision = lead.get(f"/trials/{t['id']}/decision").json
    assert decision["state"] == "fresh"
    verdict = decision["outcome"]["verdicts"]["weighted_score"]
    assert verdict["interval"]["difference"] == pytest.approx(2.0)
    assert verdict["how_sure"] == "leaning"
    assert "for these batches" in verdict["headline"]


def test_a_verdict_goes_stale_when_records_change(lead: Client, demo_url: str) -> None:
    t = trial_id(lead)
    lead.get(f"/trials/{t}/decision")
    run_worker_once(demo_url)
    before = lead.get(f"/trials/{t}/decision").json
    assert before["state"] == "fresh"
    assert before["outcome"]["verdicts"]["weighted_score"]["headline"] == "Recommend Air fryer: leaning, for these batches"
    shift = lead.get(f"/trials/{t}/shifts").json["items"][0]["id"]
    batch = next(b for b in lead.get(f"/shifts/{shift}/bench").json["batches"] if b["tag"] == "AF")["id"]
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": [an_entry(batch, "void", {"why": "wrong flour"})]})
    assert lead.get(f"/trials/{t}/decision").json["state"] == "working"
    run_worker_once(demo_url)
    after = lead.get(f"/trials/{t}/decision").json["outcome"]["verdicts"]["weighted_score"]
    assert after["leader"] != before["outcome"]["verdicts"]["weighted_score"]["leader"]
    assert any("set aside" in s["text"] for s in after["sentences"])


def test_a_published_page_is_frozen_corrected_by_date_and_withdrawn_to_a_notice(
    lead: Client, app: Any, demo_url: str
) -> None:
    t = trial_id(lead)
    reader = app.test_client()
    first = lead.get(f"/trials/{t}/publication").json["versions"][0]
    before = reader.get(first["path"]).text
    assert "Recommend Air fryer" in before
    assert '"@type": "Recipe"' in before
    assert "°F" in before
    draft = lead.get(f"/trials/{t}/publication").json
    lead.send("PATCH", f"/trials/{t}/publication", {"serving": "At once, while it crackles."}, draft["version"])
    assert lead.send("POST", f"/trials/{t}/publications", {"correction": ""}).status_code == 409
    assert lead.send("POST", f"/trials/{t}/publications", {"correction": "serving"}).status_code == 201
    old = reader.get(first["path"]).text
    assert "At once, while it crackles." not in old
    assert "Read the newest, version 2" in old
    newest = reader.get(f"/p/{first['slug']}").text
    assert "Corrected: serving" in newest
    assert reader.get(first["path"] + "/method.md").text.startswith("# Filled yeast buns")
    assert reader.get(first["path"] + "/recipe.json").json["recipeYield"].startswith("6 pieces")
    assert reader.get(first["path"] + "/method.pdf").status_code == 202
    run_worker_once(demo_url)
    pdf = reader.get(first["path"] + "/method.pdf")
    assert pdf.data[:5] == b"%PDF-"
    from io import BytesIO

    from pypdf import PdfReader

    text = "".join(p.extract_text() for p in PdfReader(BytesIO(pdf.data)).pages)
    assert "Filled yeast buns, air-fried" in text
    assert "Caution" in text
    lead.send("POST", f"/trials/{t}/withdrawal", {"why": "core target was wrong"})
    for path in (f"/p/{first['slug']}", first["path"], first["path"] + "/method.md", first["path"] + "/method.pdf"):
        gone = reader.get(path)
        assert gone.status_code == 410
        assert "core target was wrong" in gone.text
        assert "flour" not in gone.text


def test_archive_and_tables_go_out_and_a_hostile_one_is_told(lead: Client) -> None:
    t = trial_id(lead)
    data = lead.get(f"/trials/{t}/archive").data
    headers = {"X-CSRFToken": lead.csrf}
    again = lead.http.post("/api/v1/archives", data=data, headers=headers)
    assert again.status_code == 422
    assert "here already" in again.json["errors"][0]["message"]
    assert (
        lead.http.post("/api/v1/archives", data=b"PK rubbish", headers=headers).json["errors"][0]["message"]
        == "it is not a zip file"
    )
    table = lead.get(f"/trials/{t}/tables/answer.csv")
    assert table.text.splitlines()[0].startswith("attribute_id,comment")
    assert len(table.text.splitlines()) > 90
    assert lead.get(f"/trials/{t}/tables/account.csv").status_code == 404


def test_a_probe_log_with_a_guessed_unit_waits_for_confirmation(lead: Client) -> None:
    t = trial_id(lead)
    shift = lead.get(f"/trials/{t}/shifts").json["items"][0]["id"]
    bench = lead.get(f"/shifts/{shift}/bench").json
    batch, before = bench["batches"][0]["id"], len(bench["curves"])
    csv = b"time,core\n2026-05-01T17:00:00Z,70\n2026-05-01T17:30:00Z,205\n"
    headers = {"X-CSRFToken": lead.csrf}
    path = f"/api/v1/batches/{batch}/probe-logs"
    read = lead.http.post(path, data=csv, headers=headers).json
    assert (read["saved"], read["unit"], read["unit_stated"]) == (False, "F", False)
    assert len(lead.get(f"/shifts/{shift}/bench").json["curves"]) == before
    assert lead.http.post(path + "?unit=F&confirm=true", data=csv, headers=headers).json["saved"]
    assert len(lead.get(f"/shifts/{shift}/bench").json["curves"]) == before + 1
    undated = lead.http.post(path + "?unit=C&confirm=true", data=b"time,core\n0,20\n60,30\n", headers=headers)
    assert undated.json["errors"][0]["field"] == "starts_at"


def test_search_needs_every_word_and_pages_by_cursor(lead: Client) -> None:
    assert [t["title"] for t in lead.get("/trials?search=stuffed+leek").json["items"]] == ["Filled yeast buns"]
    assert lead.get("/trials?search=stuffed+beetroot").json["items"] == []
    assert lead.get("/trials?search=%25").json["items"] == []
    for n in range(32):
        lead.send("POST", "/trials", {"question": f"Q{n}?", "dish": "rice pudding"})
    first = lead.get("/trials").json
    rest = lead.get(f"/trials?cursor={first['cursor']}").json
    ids = [t["id"] for t in first["items"] + rest["items"]]
    assert len(ids) == len(set(ids)) == 34
    assert rest["cursor"] == ""
    assert lead.get("/trials?cursor=rubbish").status_code == 422


def test_the_leads_settings_reach_the_taster_links_and_bad_ones_are_named(lead: Client, cook: Client) -> None:
    settings = lead.get("/kitchen").json
    assert cook.send("PUT", "/kitchen", settings).status_code == 403
    wrong = lead.send("PUT", "/kitchen", {**settings, "time_zone": "Kitchen/Table"})
    assert wrong.json["errors"][0]["field"] == "time zone"
    assert lead.send("PUT", "/kitchen", {**settings, "public_address": "ftp://x"}).status_code == 422
    lead.send("PUT", "/kitchen", {**settings, "public_address": "https://kitchen.test", "time_zone": "America/New_York"})
    tasting = lead.get(f"/trials/{trial_id(lead)}/tastings").json["items"][0]
    assert tasting["seats"][0]["link"].startswith("https://kitchen.test/t/")
    assert tasting["link_warning"] == ""
    assert lead.get("/session").json["time_zone"] == "America/New_York"


def test_a_shut_account_is_signed_out_everywhere(lead: Client, cook: Client) -> None:
    row = next(a for a in lead.get("/accounts").json["items"] if a["login"] == "cook")
    lead.send("PATCH", f"/accounts/{row['id']}", {"active": False})
    assert cook.get("/trials").status_code == 401


def test_the_client_in_the_front_end_is_the_one_generated_from_this_api(tmp_path: Any) -> None:
    import shutil
    import subprocess
    from pathlib import Path

    from yeasty.api.describe import description

    web = Path(__file__).parents[2] / "web"
    node = shutil.which("node")
    assert node, "run by ./test, which brings Node"
    (tmp_path / "openapi.json").write_text(json.dumps(description(), indent=1, sort_keys=True) + "\n")
    made = tmp_path / "schema.ts"
    command = [
        node,
        "node_modules/openapi-typescript/bin/cli.js",
        str(tmp_path / "openapi.json"),
        "--default-non-nullable=false",
        "-o",
        str(made),
    ]
    subprocess.run(command, cwd=web, check=True, capture_output=True)
    assert made.read_text() == (web / "src/api/schema.generated.ts").read_text(), (
        "run: yeasty openapi openapi.json, npm run client"
    )

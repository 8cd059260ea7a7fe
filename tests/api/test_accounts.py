"""Who may do what."""

import uuid
from typing import Any

from tests.api.helpers import Client, trial_id


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
            if stranger.send(method, path.removeprefix("/api/v1"), {}).status_code not in (
                401,
                404,
                422,
                428,
            ):
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
        ("POST", f"/trials/{t}/publications", {"correction": "x"}),
        ("POST", f"/trials/{t}/withdrawal", {"why": "because"}),
        ("POST", f"/tastings/{tasting}/open", {}),
        ("POST", f"/tastings/{tasting}/key-views", {"why": "curious"}),
        ("GET", "/accounts", None),
    ]:
        assert cook.send(method, path, body).status_code == 403, path


def test_the_leads_settings_reach_the_taster_links_and_bad_ones_are_named(lead: Client, cook: Client) -> None:
    settings = lead.get("/kitchen").json
    assert cook.send("PUT", "/kitchen", settings).status_code == 403
    wrong = lead.put("/kitchen", {**settings, "time_zone": "Kitchen/Table"})
    assert wrong.json["errors"][0]["field"] == "time zone"
    assert lead.put("/kitchen", {**settings, "public_address": "ftp://x"}).status_code == 422
    lead.put(
        "/kitchen",
        {**settings, "public_address": "https://kitchen.test", "time_zone": "America/New_York"},
    )
    tasting = lead.get(f"/trials/{trial_id(lead)}/tastings").json["items"][0]
    seat = tasting["seats"][0]["id"]
    handed = lead.send("POST", f"/tastings/{tasting['id']}/seats/{seat}/hand-overs").json
    assert handed["link"].startswith("https://kitchen.test/t/")
    assert (handed["warning"], tasting["link_warning"]) == ("", "")
    assert lead.get("/session").json["time_zone"] == "America/New_York"


def test_a_shut_account_is_signed_out_everywhere(lead: Client, cook: Client) -> None:
    row = next(a for a in lead.get("/accounts").json["items"] if a["login"] == "cook")
    lead.send("PATCH", f"/accounts/{row['id']}", {"active": False})
    assert cook.get("/trials").status_code == 401

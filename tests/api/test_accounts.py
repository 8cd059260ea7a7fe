"""Who may do what."""

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest

from tests.api.helpers import Client, trial_id
from yeasty.api.app import Settings, create_app
from yeasty.process.tls import is_public_name
from yeasty.store.kitchen import people


def test_nothing_is_told_to_who_is_not_signed_in(app: Any, lead: Client) -> None:
    stranger = Client(app.test_client())
    shift = lead.get(f"/trials/{trial_id(lead)}/shifts").json["items"][0]["id"]
    rules = [r for r in app.url_map.iter_rules() if r.rule.startswith("/api/v1/")]
    told = set()
    for rule in rules:
        path = rule.rule.replace("<uuid:trial_id>", trial_id(lead)).replace("<uuid:shift_id>", shift)
        path = "/".join(
            str(uuid.uuid4())
            if part.startswith("<uuid")
            else "1"
            if part.startswith("<int")
            else "x"
            if part.startswith("<")
            else part
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
    # The guide is our own text, and who can't sign in may need it.
    assert told == {
        ("GET", "/api/v1/session"),
        ("DELETE", "/api/v1/session"),
        ("GET", "/api/v1/clock"),
        ("GET", "/api/v1/guide"),
    }


def test_a_wrong_password_is_a_problem_and_too_many_are_held_off(app: Any) -> None:
    c = Client(app.test_client())
    for _ in range(8):
        wrong = c.send("POST", "/session", {"login": "lead", "password": "guess"})
        assert wrong.status_code == 401
        assert wrong.content_type == "application/problem+json"
    assert c.send("POST", "/session", {"login": "lead", "password": "flour-water-salt"}).status_code == 429


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


def test_browsers_are_told_to_keep_to_https_only_where_that_can_last(demo_url: str, app: Any) -> None:
    header = "Strict-Transport-Security"
    assert header not in app.test_client().get("/api/v1/clock").headers
    lasting = create_app(Settings(demo_url, tls=True, https_only=True, testing=True))
    assert lasting.test_client().get("/api/v1/clock").headers[header] == "max-age=31536000"
    lasting.extensions["yeasty_engine"].dispose()


@pytest.mark.parametrize(
    ("address", "lasts"),
    [
        ("https://kitchen.example.org", True),
        ("https://kitchen.example.org:8765/", True),
        ("https://192.168.0.7:8765", False),
        ("https://[fe80::1]:8765", False),
        ("https://kitchen.local", False),
        ("https://kitchen", False),
    ],
)
def test_a_name_of_this_network_only_is_no_public_name(address: str, lasts: bool) -> None:
    assert is_public_name(address) is lasts


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


def test_a_password_of_ones_own_is_changed_and_every_other_device_is_signed_out(
    app: Any, cook: Client
) -> None:
    tablet = Client(app.test_client()).sign_in("cook", "proof-shape-bake")
    wrong = {"current": "proof", "new": "seven brown loaves cool"}
    assert cook.send("PUT", "/me/password", wrong).json["errors"][0]["field"] == "current"
    for weak, word in (
        ("short", "characters"),
        ("password1234", "tried first"),
        ("cookcookcook", "tried first"),
    ):
        got = cook.send("PUT", "/me/password", {"current": "proof-shape-bake", "new": weak})
        assert got.status_code == 422
        assert word in got.json["errors"][0]["message"]
    new = {"current": "proof-shape-bake", "new": "seven brown loaves cool"}
    assert cook.send("PUT", "/me/password", new).status_code == 200
    assert cook.get("/trials").status_code == 200
    assert tablet.get("/trials").status_code == 401
    assert (
        Client(app.test_client()).sign_in("cook", "seven brown loaves cool").get("/trials").status_code == 200
    )


def test_signing_out_signs_out_everywhere(app: Any, cook: Client) -> None:
    tablet = Client(app.test_client()).sign_in("cook", "proof-shape-bake")
    assert cook.send("DELETE", "/session").status_code == 204
    assert tablet.get("/trials").status_code == 401


def test_a_lead_makes_a_link_for_a_new_password_that_holds_once(app: Any, lead: Client, cook: Client) -> None:
    account = next(a for a in lead.get("/accounts").json["items"] if a["login"] == "cook")
    assert cook.send("POST", f"/accounts/{account['id']}/resets").status_code == 403
    first = lead.send("POST", f"/accounts/{account['id']}/resets").json["link"].rsplit("/", 1)[1]
    token = lead.send("POST", f"/accounts/{account['id']}/resets").json["link"].rsplit("/", 1)[1]
    stranger = Client(app.test_client())
    new = "seven brown loaves cool"
    assert stranger.send("POST", "/password-resets", {"token": first, "new": new}).status_code == 404
    assert stranger.send("POST", "/password-resets", {"token": token, "new": "1234567890"}).status_code == 422
    assert stranger.send("POST", "/password-resets", {"token": token, "new": new}).status_code == 204
    assert stranger.send("POST", "/password-resets", {"token": token, "new": new}).status_code == 404
    assert cook.get("/trials").status_code == 401
    assert stranger.sign_in("cook", new).get("/trials").status_code == 200
    told = [(a["what"], a["who"] or a["about"]) for a in lead.get("/audit").json["items"]]
    assert ("set a new password by a link", "Cook of the kitchen") in told or told[0][0].startswith(
        "set a new"
    )
    assert cook.get("/audit").status_code in (401, 403)


def test_roles_change_and_the_last_leads_never(lead: Client) -> None:
    of = {a["login"]: a["id"] for a in lead.get("/accounts").json["items"]}
    got = lead.send("PATCH", f"/accounts/{of['lead']}", {"role": "cook"})
    assert got.status_code == 409
    assert "last lead" in got.json["detail"]
    assert lead.send("PATCH", f"/accounts/{of['cook']}", {"role": "lead"}).json["role"] == "lead"
    assert lead.send("PATCH", f"/accounts/{of['lead']}", {"role": "cook"}).json["role"] == "cook"
    assert lead.get("/trials").status_code == 401, "what it may do has changed: it signs in anew"


def test_too_many_failed_tries_are_told_with_a_time_also_when_they_come_at_once(app: Any) -> None:
    def one(_: int) -> int:
        return (
            Client(app.test_client()).send("POST", "/session", {"login": "lead", "password": "x"}).status_code
        )

    with ThreadPoolExecutor(8) as pool:
        codes = list(pool.map(one, range(24)))
    assert codes.count(401) == people.MOST_BY_LOGIN
    assert codes.count(429) == 24 - people.MOST_BY_LOGIN
    got = Client(app.test_client()).send(
        "POST", "/session", {"login": "lead", "password": "flour-water-salt"}
    )
    assert got.status_code == 429
    assert 0 < int(got.headers["Retry-After"]) <= 900


def test_of_two_leads_who_shut_each_other_out_at_once_one_stays(app: Any, lead: Client) -> None:
    second = lead.send(
        "POST",
        "/accounts",
        {"name": "Second", "login": "second", "password": "proof-flour-trough-9", "role": "lead"},
    ).json
    other = Client(app.test_client()).sign_in("second", "proof-flour-trough-9")
    first = next(a for a in lead.get("/accounts").json["items"] if a["login"] == "lead")
    with ThreadPoolExecutor(2) as at_once:
        answers = list(
            at_once.map(
                lambda who: who[0].send("PATCH", f"/accounts/{who[1]}", {"active": False}).status_code,
                [(lead, second["id"]), (other, first["id"])],
            )
        )
    assert sorted(answers) in ([200, 401], [200, 409])
    still = [c for c in (lead, other) if c.get("/accounts").status_code == 200]
    assert len(still) == 1

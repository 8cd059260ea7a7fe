"""What hostile or broken requests get: a problem that names what is wrong, and the next request as if nothing had been."""

import json
from typing import Any

import pytest
from flask import Flask

from tests.api.helpers import Client, new_trial
from yeasty.api import guard


def raw(client: Client, method: str, path: str, body: bytes | str, kind: str = "application/json") -> Any:
    headers = {"X-CSRFToken": client.csrf, "Content-Type": kind}
    return client.http.open("/api/v1" + path, method=method, data=body, headers=headers)


def test_every_limit_is_of_an_address_that_is_there(app: Flask) -> None:
    assert set(guard.LIMITS) | guard.ONE_BY_ONE <= set(app.view_functions)


def test_who_asks_is_looked_at_before_what_is_sent(app: Flask) -> None:
    stranger = Client(app.test_client())
    # A body that fits no model: 401 and not a list of its fields.
    assert stranger.send("POST", "/trials", {"question": 7}).status_code == 401
    assert raw(stranger, "POST", "/recipe-readings", b"x" * 3_000_000).status_code == 401
    assert stranger.send("POST", "/session", {"login": "a", "password": "b" * 20_000}).status_code == 413
    said = raw(stranger, "POST", "/session", b"[" * 60_000_000).json
    assert (said["status"], said["title"]) == (413, "Too large")


def test_a_cook_is_refused_what_is_for_the_lead_before_it_is_read(cook: Client) -> None:
    assert cook.send("POST", "/accounts", {"name": 7}).status_code == 403


def test_deep_large_and_unwritable_bodies_are_refused_with_their_field(lead: Client) -> None:
    t = new_trial(lead)
    for text, field, word in (
        ("[" * 5000 + "]" * 5000, "body", "nested"),
        ('{"question": ' + '{"a":' * 400 + "1" + "}" * 401, "body", "nested"),
        ('{"question": "cut \\ud83d", "dish": "x"}', "question", "half a character"),
        ('{"question": "a\\u0000b", "dish": "x"}', "question", "code 0"),
        ('{"question": "a", "dish": NaN}', "body", "no number"),
        ('{"question": "a", "dish": Infinity}', "body", "no number"),
    ):
        got = raw(lead, "POST", "/trials", text)
        assert got.status_code == 422, text[:40]
        assert got.json["errors"][0]["field"] == field
        assert word in got.json["errors"][0]["message"]
    assert raw(lead, "POST", "/trials", b"{" + b" " * 1_100_000 + b"}").status_code == 413
    assert raw(lead, "POST", "/trials", "{").status_code in (400, 422)
    # A whole emoji and brackets in a text are no fault.
    body = {"question": "🥟 " + "[{" * 200, "dish": "buns"}
    assert lead.send("POST", "/trials", body).status_code == 201
    assert lead.get(f"/trials/{t['id']}").status_code == 200


@pytest.mark.parametrize(
    "address", ["/trials?search=a%00b", "/trials?cursor=%00", "/workbench/%00", "/trials/x%00y"]
)
def test_nothing_in_an_address_that_no_column_can_hold(lead: Client, address: str) -> None:
    assert lead.get(address).status_code in (404, 422)


def test_sign_in_with_what_no_column_can_hold(app: Flask) -> None:
    stranger = Client(app.test_client())
    for login in ("\x00", "a\ud83d"):
        body = json.dumps({"login": login, "password": "x"})
        assert raw(stranger, "POST", "/session", body).status_code == 422
    assert stranger.send("POST", "/session", {"login": "nobody", "password": "x"}).status_code == 401


def test_numbers_beyond_what_is_kept_are_told(lead: Client) -> None:
    t = new_trial(lead)
    m = t["methods"][0]["id"]
    for value in ("9" * 400 + "/1", "1" * 10_000, "9" * 309, "1e999"):
        got = lead.send("PATCH", f"/trials/{t['id']}/methods/{m}", {"batch_kg": value}, t["version"])
        assert got.status_code == 422, value[:10]
        assert got.json["errors"][0]["field"] == "batch_kg"
    late = {"serve_from": "9999-12-31T23:59:59Z", "window_s": 300}
    assert lead.send("POST", f"/trials/{t['id']}/shifts", late).status_code == 422
    early = {"serve_from": "0001-01-01T00:00:00Z", "window_s": 300}
    assert lead.send("POST", f"/trials/{t['id']}/shifts", early).status_code == 422


def test_brackets_are_counted_outside_texts_only() -> None:
    assert guard.deepest(b'["[\\"[", {"a": []}]') == 3
    assert guard.deepest(b"") == 0
    assert guard.deepest(b"]]]][") <= 1
    # Linear: a text that never ends is walked once.
    assert guard.deepest(b'"' + b"\\" * 500_001) == 0
    assert guard.deepest(b'"' + b'\\"' * 500_000) == 0

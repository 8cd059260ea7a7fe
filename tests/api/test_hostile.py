"""What hostile or broken requests get: a problem that names what is wrong, and the next request as if nothing
had been.
"""

import json
import re
import uuid
from io import BytesIO
from random import Random
from typing import Any

import pytest
from flask import Flask
from PIL import Image
from sqlalchemy import select

from tests.api.helpers import (
    Client,
    an_entry,
    handed_over,
    make_shift,
    new_trial,
    no_allergies,
    sitting,
    trial_id,
    value,
)
from tests.conftest import run_worker_once
from yeasty.api import guard
from yeasty.api.live import Hub
from yeasty.core.cook.standing import effective
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.store.cook.tables import EntryRow


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
    for mass in ("9" * 400 + "/1", "1" * 10_000, "9" * 309, "1e999"):
        got = lead.send("PATCH", f"/trials/{t['id']}/methods/{m}", {"batch_kg": mass}, t["version"])
        assert got.status_code == 422, mass[:10]
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


def bench_with_taps(lead: Client) -> tuple[str, str]:
    shift = make_shift(lead, new_trial(lead))["id"]
    return shift, lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]


def test_a_bad_entry_is_refused_by_itself_and_the_others_are_written(lead: Client) -> None:
    shift, batch = bench_with_taps(lead)
    deep: Any = 1
    for _ in range(260):
        deep = [deep]
    bad: list[tuple[Any, str]] = [
        ({"text": deep}, "text"),
        ({"text": ["a", ["b", ["c"]]]}, "text"),
        ({"text": 7}, "text"),
        ({"text": "x" * 9000}, "text"),
        ({"text": "ok", "colour": "red"}, "colour"),
        ({"text": "a\x00b"}, "text"),
        ([1, 2], "payload"),
        ("x", "payload"),
        (None, "payload"),
    ]
    rows = [an_entry(batch, "note", {"text": "pale"}, 1)]
    rows += [an_entry(batch, "note", payload, 2 + n) for n, (payload, _) in enumerate(bad)]
    rows += [
        an_entry(batch, "weight", {"kg": 10**40, "of": "raw"}, 40),
        an_entry(batch, "effort", {"nuisance": {"a": 1}}, 41),
        an_entry(batch, "temperature", {"celsius": 80, "where": ["core"]}, 42),
        {**an_entry(batch, "note", {"text": "x"}, 43), "kind": "nonsense"},
        {**an_entry(batch, "note", {"text": "x"}, 44), "counter": 2**64},
        {**an_entry(batch, "note", {"text": "x"}, 45), "device_time": 1e300},
        {"id": "no id"},
        7,
        an_entry(batch, "note", {"text": "brown 🥟"}, 46),
    ]
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": rows})
    # Too deep for any reader: the list as a whole is told so. Everything else is told one by one.
    assert got.status_code == 422
    rows.pop(1)
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": rows})
    assert got.status_code == 200, got.json
    assert [w["id"] for w in got.json["written"]] == [rows[0]["id"], rows[-1]["id"]]
    assert len(got.json["refused"]) == len(rows) - 2
    told = {r["id"]: r["problem"]["field"] for r in got.json["refused"]}
    for row, (_, field) in zip(rows[1:], bad[1:], strict=False):
        assert told[row["id"]].split(".")[0] == field, row["payload"]
    kept = lead.get(f"/shifts/{shift}/bench").json["entries"]
    assert [e["payload"]["text"] for e in kept] == ["pale", "brown 🥟"]


def test_halves_of_characters_and_what_is_no_number_in_entries(lead: Client) -> None:
    shift, batch = bench_with_taps(lead)
    good = json.dumps(an_entry(batch, "note", {"text": "pale"}, 1))
    cut = json.dumps(an_entry(batch, "note", {"text": "HERE"}, 2)).replace("HERE", "\\ud83d")
    nan = json.dumps(an_entry(batch, "weight", {"kg": "HERE", "of": "raw"}, 3)).replace('"HERE"', "NaN")
    got = raw(lead, "POST", f"/shifts/{shift}/entries", f'{{"entries": [{good}, {cut}, {nan}]}}')
    assert got.status_code == 200, got.json
    assert len(got.json["written"]) == 1
    assert {r["problem"]["field"] for r in got.json["refused"]} == {"text", "kg"}


def test_what_is_stored_and_cannot_be_read_is_shown_as_such_and_says_nothing(
    lead: Client, app: Flask
) -> None:
    shift, batch = bench_with_taps(lead)
    lead.send("POST", f"/shifts/{shift}/entries", {"entries": [an_entry(batch, "note", {"text": "pale"}, 1)]})
    with app.extensions["yeasty_sessions"].begin() as db:
        row = db.scalars(select(EntryRow).where(EntryRow.shift_id == uuid.UUID(shift))).one()
        for n, payload in enumerate(([1], {"kg": "heavy", "of": 7}, {"text": {"a": {"b": {"c": 1}}}}), 2):
            other = EntryRow(
                **{
                    c.key: getattr(row, c.key)
                    for c in EntryRow.__table__.columns
                    if c.key not in ("id", "number")
                },
                id=uuid.uuid4(),
                number=row.number + n,
            )
            other.payload, other.kind = payload, "weight" if n == 3 else "note"
            db.add(other)
    bench = lead.get(f"/shifts/{shift}/bench")
    assert bench.status_code == 200
    assert sum(bool(e["unreadable"]) for e in bench.json["entries"]) == 3
    assert [e["payload"]["text"] for e in bench.json["entries"] if not e["unreadable"]] == ["pale"]


def test_a_chain_of_thousands_of_corrections_of_corrections_is_folded() -> None:
    chain = [Entry("e0", "b", EntryKind.NOTE, 0.0, "d", 0, {"text": "0"})]
    for n in range(1, 5001):
        chain.append(
            Entry(f"e{n}", "b", EntryKind.NOTE, float(n), "d", n, {"text": f"{n}"}, supersedes=f"e{n - 1}")
        )
    assert [e.payload["text"] for e in effective(chain)] == ["5000"]
    undone = [*chain, Entry("u", "b", EntryKind.UNDONE, 6000.0, "d", 6000, {}, supersedes="e5000")]
    assert [e.payload["text"] for e in effective(undone)] == ["4999"]


def test_what_is_made_of_records_is_left_on_no_device(lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    for path in (
        f"/shifts/{shift}/calendar.ics",
        f"/shifts/{shift}/run-sheet.pdf",
        f"/trials/{t['id']}/archive",
    ):
        got = lead.get(path)
        assert got.status_code == 200, path
        assert got.headers["Cache-Control"] == "no-store", path


def test_mutated_pictures_and_archives_are_refused(lead: Client) -> None:
    t = new_trial(lead)
    out = BytesIO()
    Image.new("RGB", (60, 40), "brown").save(out, "JPEG", comment=b"made at 51.5 N")
    whole = out.getvalue()
    random = Random(7)
    for n in range(60):
        torn = bytearray(whole)
        for _ in range(1 + n % 8):
            torn[random.randrange(len(torn))] = random.randrange(256)
        kept = torn[: len(torn) - n * 7]
        got = raw(lead, "PUT", f"/trials/{t['id']}/photos/{uuid.uuid4()}", bytes(kept), "image/jpeg")
        assert got.status_code in (204, 422), got.json
    photo = uuid.uuid4()
    assert raw(lead, "PUT", f"/trials/{t['id']}/photos/{photo}", whole, "image/jpeg").status_code == 204
    assert b"51.5" not in lead.get(f"/trials/{t['id']}/photos/{photo}").data
    archive = lead.get(f"/trials/{t['id']}/archive").data
    for n in range(60):
        torn = bytearray(archive)
        for _ in range(1 + n % 8):
            torn[random.randrange(len(torn))] = random.randrange(256)
        got = raw(lead, "POST", "/archives", bytes(torn[: len(torn) - n]), "application/zip")
        assert got.status_code in (201, 409, 422), got.json
    # The flag that says "enciphered", set in every header of the zip.
    flagged = bytearray(archive)
    for at in [m.start() for m in re.finditer(b"PK\x03\x04", archive)]:
        flagged[at + 6] |= 1
    for at in [m.start() for m in re.finditer(b"PK\x01\x02", archive)]:
        flagged[at + 8] |= 1
    assert raw(lead, "POST", "/archives", bytes(flagged), "application/zip").status_code == 422


def test_forms_for_everyone_are_limited_by_page_and_address_and_not_by_what_others_send(
    lead: Client, app: Flask
) -> None:
    slug = lead.get(f"/trials/{trial_id(lead)}/publication").json["versions"][0]["slug"]
    stranger = app.test_client()

    def send(address: str) -> int:
        return stranger.post(
            f"/api/v1/published/{slug}/questions",
            data={"text": "Does it work with rye?"},
            environ_base={"REMOTE_ADDR": address},
        ).status_code

    codes = [send("10.0.0.1") for _ in range(8)]
    assert codes == [200] * 5 + [429] * 3
    assert send("10.0.0.2") == 200, "somebody else is not shut out"


def test_a_link_gives_no_endless_answers(
    lead: Client, app: Flask, demo_url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("yeasty.operations.taste.answers.MOST_ANSWERS", 4)
    token = handed_over(lead, sitting(lead, demo_url, ["one"]))
    guest = Client(app.test_client())
    no_allergies(guest, token)
    view = guest.get(f"/taste/{token}").json
    body = {
        "code": view["rounds"][0]["samples"][0]["code"],
        "attribute_id": view["rounds"][0]["attributes"][0]["id"],
    }
    codes = [
        guest.send("POST", f"/taste/{token}/answers", {**body, "said": value(n)}).status_code
        for n in range(6)
    ]
    assert [c < 300 for c in codes] == [True] * 4 + [False] * 2


def test_one_account_cannot_take_all_streams() -> None:
    hub = Hub("postgresql://nowhere")
    assert [hub.take_place("a") for _ in range(30)].count(True) == 24
    assert hub.take_place("b")
    hub.leave_place("a")
    assert hub.take_place("a")
    assert not hub.take_place("a")

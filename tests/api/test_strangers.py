"""What comes from strangers: archives."""

import io
import json
import uuid
import zipfile
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any

import pytest

from tests.api.helpers import (
    Client,
)

ARCHIVES = Path(__file__).parents[1] / "archives"


def repacked(change: Callable[[dict[str, Any]], None], photos: dict[str, bytes] | None = None) -> bytes:
    """The stored archive with a change, its sums made right, as somebody with bad intent would."""
    source = zipfile.ZipFile(ARCHIVES / "version-5.yeasty.zip")
    members = {n: source.read(n) for n in source.namelist()}
    tables = json.loads(members["trial.json"])
    change(tables)
    members["trial.json"] = json.dumps(tables).encode()
    members |= photos or {}
    manifest = json.loads(members["manifest.json"])
    manifest["files"] = {n: sha256(d).hexdigest() for n, d in members.items() if n != "manifest.json"}
    members["manifest.json"] = json.dumps(manifest).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as z:
        for name, data in members.items():
            z.writestr(name, data)
    return out.getvalue()


def bring(lead: Client, data: bytes) -> Any:
    return lead.http.post(
        "/api/v1/archives",
        data=data,
        headers={"X-CSRFToken": lead.csrf, "Content-Type": "application/octet-stream"},
    )


def renamed(tables: dict[str, Any]) -> dict[str, Any]:
    """Ids of its own: the demo that is here came from the same rows."""
    text = json.dumps(tables)
    for rows in tables.values():
        for r in rows:
            if "id" in r:
                text = text.replace(r["id"], str(uuid.uuid5(uuid.NAMESPACE_URL, r["id"])))
    text = text.replace('"slug": "', '"slug": "other-')
    return dict(json.loads(text))


def renamed_pictures() -> dict[str, bytes]:
    """The pictures under the ids of `renamed`."""
    source = zipfile.ZipFile(ARCHIVES / "version-5.yeasty.zip")
    found = {}
    for n in (n for n in source.namelist() if n.startswith("photos/")):
        key, _, rest = n.removeprefix("photos/").partition(".")
        found[f"photos/{uuid.uuid5(uuid.NAMESPACE_URL, key)}.{rest}"] = source.read(n)
    return found


def as_another(tables: dict[str, Any], change: Callable[[dict[str, Any]], None] = lambda t: None) -> None:
    new = renamed(tables)
    tables.clear()
    tables.update(new)
    change(tables)


PNG_WITH_SCRIPT = b"<html><script>alert(1)</script></html>"


def mutants() -> list[tuple[str, Callable[[dict[str, Any]], None]]]:
    def put(table: str, column: str, value: Any) -> Callable[[dict[str, Any]], None]:
        return lambda t: t[table][0].update({column: value})

    return [
        ("a year nobody reads", put("shift", "serve_from", "9999-12-31T23:59:59+00:00")),
        ("a year before time", put("entry", "device_time", "0001-01-01T00:00:00+00:00")),
        ("an appliance without a kind", put("appliance", "kind", "cannon")),
        ("a dial that is no list of words", put("appliance", "dial", [{"word": 5}])),
        ("a capacity of nothing", put("appliance", "capacities", [{"pieces": -1, "piece_m": "x"}])),
        ("a step that lasts for ever", put("step", "duration_s", 1e300)),
        ("a step below the cold", put("step", "set_point_c", -5000.0)),
        ("a batch without steps that can be read", put("batch", "steps", [{"what": 1}])),
        ("facts that are no facts", put("batch", "facts", {"thickness_m": "wide"})),
        ("a payload of another kind", put("entry", "payload", {"nothing": True, "step": 5})),
        ("a mark beyond all marks", put("method", "mark", 4000)),
        ("an answer off its scale", put("answer", "value", 400.0)),
        ("a seat with a code of its own", put("seat", "order", ["000"])),
        ("a plan that is no plan", put("plan", "items", [{"batch": 3}])),
        ("a probe of another world", put("probe_log", "channels", {"core": ["hot"]})),
        ("texts that are no texts", put("draft", "texts", {"title": {"a": 1}})),
        ("weights beyond the kitchen", put("method_amount", "mass_kg", -4.0)),
        ("a deep nest", put("trial", "layout", json.loads("[" * 60 + "]" * 60))),
        ("a price that is none", put("ingredient", "price_per_kg", "NaN")),
        ("a question of another kind", put("trial", "kind", "riddle")),
    ]


@pytest.mark.parametrize(("name", "change"), mutants(), ids=[n for n, _ in mutants()])
def test_rows_that_could_not_be_typed_in_are_refused_and_nothing_is_written(
    lead: Client, name: str, change: Callable[[dict[str, Any]], None]
) -> None:
    before = len(lead.get("/trials").json["items"])
    got = bring(lead, repacked(lambda t: as_another(t, change), renamed_pictures()))
    assert got.status_code in (409, 422), (name, got.json)
    assert got.json["errors"], name
    assert len(lead.get("/trials").json["items"]) == before
    assert lead.get("/appliances").status_code == 200


def test_a_strangers_archive_brings_no_page_no_word_of_the_lead_and_no_script(
    app: Any, cook: Client, lead: Client
) -> None:
    def change(tables: dict[str, Any]) -> None:
        tables["photo"][0]["media_type"] = "text/html"
        batch, person = tables["batch"][0]["id"], tables["person"][0]["id"]
        tables["ownership"] = [
            {"id": str(uuid.uuid4()), "batch_id": batch, "why": "the lead let it through, in writing",
             "owned_at": "2026-01-01T00:00:00+00:00", "owned_by": person}
        ]  # fmt: skip

    got = bring(cook, repacked(lambda t: as_another(t, change), renamed_pictures()))
    assert got.status_code == 201, got.json
    tid = got.json["trial_id"]
    assert all(c["owned"] == "" for c in lead.get(f"/trials/{tid}/tastings").json["candidates"])
    tasting = lead.get(f"/trials/{tid}/tastings").json["items"][0]
    assert tasting["opened_elsewhere"]
    assert tasting["key"] == {}
    versions = lead.get(f"/trials/{tid}/publication").json["versions"]
    public = app.test_client()
    assert all(public.get(v["path"]).status_code == 404 for v in versions)
    photo = next(
        e["payload"]["photo_id"]
        for s in lead.get(f"/trials/{tid}/shifts").json["items"]
        for e in lead.get(f"/shifts/{s['id']}/bench").json["entries"]
        if e["kind"] == "photo"
    )
    shown = lead.get(f"/trials/{tid}/photos/{photo}")
    assert shown.headers["Content-Type"] == "image/jpeg"
    assert shown.data[:3] == b"\xff\xd8\xff"


def test_a_picture_that_is_none_is_refused(lead: Client) -> None:
    pictures = renamed_pictures()
    name = next(n for n in pictures if "thumb" not in n)
    pictures[name] = PNG_WITH_SCRIPT
    got = bring(lead, repacked(as_another, pictures))
    assert got.status_code in (409, 422)
    assert "not a picture" in json.dumps(got.json)

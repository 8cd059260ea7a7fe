"""What is kept of batches: rounds, photos, probe logs, and how far a trial says it is."""

import io
import json
import time
import uuid
from typing import Any

import pytest
from PIL import Image

from tests.api.helpers import Client, an_entry, cook_all, make_shift, new_trial, trial_id, whole_run
from tests.conftest import run_worker_once


def with_pieces(lead: Client, t: dict[str, Any], tag: str, pieces: int) -> dict[str, Any]:
    """The trial with so many pieces in a batch of one method."""
    method = next(m for m in t["methods"] if m["tag"] == tag)
    got = lead.send(
        "PATCH", f"/trials/{t['id']}/methods/{method['id']}", {"pieces_per_batch": pieces}, t["version"]
    )
    assert got.status_code == 200, got.json
    return dict(got.json)


def test_twelve_pieces_in_an_air_fryer_for_six_go_in_twice(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "air_fryer"))
    t = with_pieces(lead, t, "AF", 12)
    shift = make_shift(lead, t)["id"]
    run_worker_once(demo_url)
    bench = lead.get(f"/shifts/{shift}/bench").json
    fried = next(b for b in bench["batches"] if b["tag"] == "AF")
    cooks = [s for s in fried["steps"] if s["phase"] == "cook"]
    assert [s["what"].rsplit(", ", 1)[1] for s in cooks] == ["round 1 of 2", "round 2 of 2"]
    assert sum(s["phase"] == "come_up" for s in fried["steps"]) == 1
    at = {i["step"]: i for i in bench["plan"]["items"] if i["batch"] == fried["id"]}
    assert at[cooks[1]["key"]]["start"] >= at[cooks[0]["key"]]["end"] + 30, (
        "taken out and loaded again in between"
    )
    baked = next(b for b in bench["batches"] if b["tag"] == "OV")
    assert sum(s["phase"] == "cook" for s in baked["steps"]) == 1
    cook_all(lead, shift, demo_url)
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    outcome = lead.get(f"/trials/{t['id']}/decision").json["outcome"]
    servings = {m["method"]: m["servings"] for m in outcome["methods"]}
    mine = servings[fried["method_id"]]
    assert mine["how"].startswith("2 rounds of up to 6 pieces")
    assert mine["clocks"]["cooking_s"] == pytest.approx(
        sum(s["duration_s"] for s in cooks) * mine["rounds"] / 2, rel=0.05
    )


def picture(
    colour: tuple[int, int, int] = (200, 160, 90), size: tuple[int, int] = (1600, 1200), kind: str = "JPEG"
) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, kind)
    return out.getvalue()


def put_photo(lead: Client, trial: str, data: bytes, photo: str | None = None) -> tuple[str, Any]:
    photo = photo or str(uuid.uuid4())
    got = lead.http.put(
        f"/api/v1/trials/{trial}/photos/{photo}",
        data=data,
        headers={"X-CSRFToken": lead.csrf, "Content-Type": "image/jpeg"},
    )
    return photo, got


def test_a_photo_is_kept_under_its_devices_id_and_shown_small_and_whole(lead: Client) -> None:
    t = trial_id(lead)
    photo, got = put_photo(lead, t, picture())
    assert got.status_code == 204
    whole = Image.open(io.BytesIO(lead.get(f"/trials/{t}/photos/{photo}").data))
    small = Image.open(io.BytesIO(lead.get(f"/trials/{t}/photos/{photo}?thumb=true").data))
    assert small.size[0] < whole.size[0]
    assert abs(whole.size[0] / whole.size[1] - 4 / 3) < 0.01
    _, again = put_photo(lead, t, picture(), photo)
    assert again.status_code == 204, "sent twice it is the same photo"
    assert lead.get(f"/trials/{t}/photos/{uuid.uuid4()}").status_code == 404
    other = new_trial(lead)["id"]
    assert lead.get(f"/trials/{other}/photos/{photo}").status_code == 404, (
        "a photo is shown with its own trial only"
    )


@pytest.mark.parametrize("data", [b"", b"not a picture", b"\xff\xd8\xff\xe0 cut off"])
def test_what_is_no_picture_is_refused_with_what_to_do(lead: Client, data: bytes) -> None:
    _, got = put_photo(lead, trial_id(lead), data)
    assert got.status_code in (400, 409, 422)
    assert got.json["errors"][0]["field"] == "photo"


def probe_log(lead: Client, batch: str, text: str | bytes, **query: Any) -> Any:
    words = "&".join(f"{k}={v}" for k, v in query.items())
    return lead.http.post(
        f"/api/v1/batches/{batch}/probe-logs?{words}",
        data=text,
        headers={"X-CSRFToken": lead.csrf, "Content-Type": "text/csv"},
    )


def test_a_probe_log_is_shown_before_it_is_kept(lead: Client, demo_url: str) -> None:
    shift = make_shift(lead, new_trial(lead))["id"]
    run_worker_once(demo_url)
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    text = "time,core °C,air °C\n" + "\n".join(f"{30 * n},{20 + n},{180 + n % 3}" for n in range(40))
    seen = probe_log(lead, batch, text, name="thermometer").json
    assert (seen["saved"], seen["unit"], seen["rows"], seen["seconds"]) == (False, "C", 40, 1170)
    assert seen["channels"]["core"] == [20, 59] if "core" in seen["channels"] else len(seen["channels"]) == 2
    undated = probe_log(lead, batch, text, name="thermometer", confirm="true")
    assert undated.json["errors"][0]["field"] == "starts_at"
    kept = probe_log(lead, batch, text, name="thermometer", confirm="true", starts_at=time.time() - 1200)
    assert kept.json["saved"]
    assert any(c["name"] for c in lead.get(f"/shifts/{shift}/bench").json["curves"])


@pytest.mark.parametrize("text", [b"", b"\xff\xfe\x00 nonsense", b"time,core\nhot,cold\n"])
def test_a_log_that_cannot_be_read_says_so(lead: Client, demo_url: str, text: bytes) -> None:
    shift = make_shift(lead, new_trial(lead))["id"]
    run_worker_once(demo_url)
    batch = lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]
    got = probe_log(lead, batch, text, name="x")
    assert got.status_code == 422
    assert got.json["errors"][0]["field"]
    assert probe_log(lead, str(uuid.uuid4()), "time,core\n0,1\n", name="x").status_code == 404


def test_each_station_says_how_far_a_trial_is(lead: Client, demo_url: str) -> None:
    def told(t: str) -> dict[str, Any]:
        found = lead.get(f"/trials/{t}/stations").json
        return {**found["words"], "shift_id": found["shift_id"]}

    empty = lead.send(
        "POST", "/trials", {"question": "Which?", "dish": "cauliflower florets", "food_class": "plant"}
    ).json
    first = told(empty["id"])
    assert first["ask"].endswith("missing")
    assert (
        first["setup"],
        first["cook"],
        first["taste"],
        first["decide"],
        first["publish"],
        first["shift_id"],
    ) == ("not yet",) * 5 + (None,)
    t = new_trial(lead)
    assert told(t["id"])["ask"] == "2 methods"
    assert told(t["id"])["setup"] in ("fair", "1 doubt") or told(t["id"])["setup"].endswith("doubts")
    shift = make_shift(lead, t)["id"]
    assert (told(t["id"])["cook"], told(t["id"])["shift_id"]) == ("running", shift)
    run_worker_once(demo_url)
    lead.send("POST", f"/shifts/{shift}/end", {})
    assert told(t["id"])["cook"] == "done"
    buns = told(trial_id(lead))
    assert (buns["taste"], buns["decide"], buns["publish"]) == ("opened", "leaning", "version 1")
    lead.send("POST", f"/trials/{trial_id(lead)}/withdrawal", {"why": "core target was wrong"})
    assert told(trial_id(lead))["publish"] == "withdrawn"
    assert lead.get(f"/trials/{uuid.uuid4()}/stations").status_code == 404


def test_what_was_cooked_or_told_is_not_taken_away(lead: Client, demo_url: str) -> None:
    t = whole_run(lead, demo_url)
    now_ = lead.get(f"/trials/{t['id']}").json
    refused = lead.send(
        "DELETE", f"/trials/{t['id']}/methods/{now_['methods'][0]['id']}", None, now_["version"]
    )
    assert refused.status_code == 409
    assert "stands in a shift" in json.dumps(refused.json)
    buns = lead.get(f"/trials/{trial_id(lead)}").json
    fewer = {
        "items": [
            {"name": "Only this", "scale": "intensity", "weight": 1, "low_words": "no", "high_words": "yes"}
        ]
    }
    answered = lead.send("PUT", f"/trials/{buns['id']}/attributes", fewer, buns["version"])
    assert "answered by tasters" in json.dumps(answered.json)
    twice = {"items": [{**fewer["items"][0], "name": n} for n in ("Moist", " moist ")]}
    assert "same name" in json.dumps(
        lead.send("PUT", f"/trials/{t['id']}/attributes", twice, now_["version"]).json
    )


def test_an_entry_for_a_batch_of_another_shift_is_refused_alone(lead: Client, demo_url: str) -> None:
    one, other = (make_shift(lead, new_trial(lead))["id"] for _ in range(2))
    run_worker_once(demo_url)
    run_worker_once(demo_url)
    mine, theirs = (lead.get(f"/shifts/{s}/bench").json["batches"][0]["id"] for s in (one, other))
    entries = [an_entry(mine, "note", {"text": "mine"}, 1), an_entry(theirs, "note", {"text": "theirs"}, 2)]
    answer = lead.send("POST", f"/shifts/{one}/entries", {"entries": entries}).json
    assert [w["id"] for w in answer["written"]] == [entries[0]["id"]]
    assert [r["id"] for r in answer["refused"]] == [entries[1]["id"]]

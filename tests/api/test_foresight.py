"""What a probe foretells of a running step: written once, shown to all, planned by, taken back by the
cook.
"""

import time
import uuid
from typing import Any

import numpy as np
from sqlalchemy.orm import Session

from tests.api.helpers import Client, an_entry, make_shift
from tests.api.test_devices import a_hub, send
from tests.conftest import run_worker_once
from yeasty.core.heat.conduction import Piece, temperature
from yeasty.operations.cook.foresight import look_ahead, probed_shifts
from yeasty.operations.reckoning import reckon
from yeasty.store.cook.tables import Shift
from yeasty.store.database import make_engine


def look(url: str, socket: str, shift: str) -> str:
    """What the worker does every few seconds."""
    engine = make_engine(url, pool=1)
    try:
        with Session(engine) as db, db.begin():
            assert [s.id for s in probed_shifts(db)].count(uuid.UUID(shift)) == 1
            return look_ahead(
                db,
                db.get_one(Shift, uuid.UUID(shift)),
                time.time(),
                lambda questions: reckon(socket, "forecasts", {"questions": questions}),
            )
    finally:
        engine.dispose()


def a_batch_in_the_heat(
    lead: Client, url: str, since_s: float, technique: str = "deep_fryer"
) -> tuple[str, dict[str, Any], dict[str, Any]]:
    """A shift whose batch of meatballs in oil went in so long ago: shift, batch, its step in the heat."""
    trial = lead.get("/trials?search=turkey").json["items"][0]["id"]
    shift = make_shift(lead, {"id": trial})["id"]
    run_worker_once(url)
    batches = lead.get(f"/shifts/{shift}/bench").json["batches"]
    batch = next(b for b in batches if b["technique"] == technique)
    heat = next(s for s in batch["steps"] if s["phase"] == "cook")
    went_in = time.time() - since_s
    entries = []
    for n, step in enumerate(batch["steps"]):
        if step["key"] == heat["key"]:
            break
        entries.append(an_entry(batch["id"], "done", {"step": step["key"], "at": went_in - 60 + n}, n))
    entries.append(an_entry(batch["id"], "started", {"step": heat["key"], "at": went_in}, 40))
    answer = lead.send("POST", f"/shifts/{shift}/entries", {"entries": entries}).json
    assert not answer["refused"]
    return shift, batch, heat


def put_in(
    lead: Client, shift: str, batch: dict[str, Any], hub: dict[str, Any], channel: str, name: str, at: float
) -> None:
    """A probe of a hub in the core of a batch."""
    payload = {"device": hub["id"], "channel": channel, "where": "core", "name": name, "at": at}
    put = an_entry(batch["id"], "probe", payload, 50 + int(channel))
    assert lead.send("POST", f"/shifts/{shift}/entries", {"entries": [put]}).json["written"]


def read_slowly(
    lead: Client, shift: str, batch: dict[str, Any], since_s: float, alpha: float, h: float = 300.0
) -> dict[str, Any]:
    """A probe in a core that warms by conduction, slower the smaller `alpha` [m²/s]; the hub it is on."""
    hub = a_hub(lead)
    began = time.time() - since_s
    put_in(lead, shift, batch, hub, "1", "1", began)
    at = np.arange(0.0, since_s - 5, 5.0)
    core = temperature(Piece("sphere", 0.02), at, 5.0, 105.0, h, 0.45, alpha)
    lines = [
        {"seq": n, "t": began + t, "channel": "1", "celsius": float(c)}
        for n, (t, c) in enumerate(zip(at, core, strict=True))
    ]
    assert send(lead, hub["token"], lines, at=time.time()).json["kept"] == len(lines)
    return hub


def foretold(lead: Client, shift: str) -> list[dict[str, Any]]:
    return [e for e in lead.get(f"/shifts/{shift}/bench").json["entries"] if e["kind"] == "foreseen"]


def test_a_slow_core_moves_what_is_expected_and_asks_for_a_plan(
    lead: Client, demo_url: str, reckoner: str
) -> None:
    shift, batch, heat = a_batch_in_the_heat(lead, demo_url, 500)
    read_slowly(lead, shift, batch, 500, 1.1e-7)
    run_worker_once(demo_url)
    why = look(demo_url, reckoner, shift)
    said = foretold(lead, shift)
    assert len(said) == 1
    assert (said[0]["batch"], said[0]["payload"]["step"]) == (batch["id"], heat["key"])
    assert said[0]["payload"]["low"] <= said[0]["payload"]["ends_at"] <= said[0]["payload"]["high"]
    assert batch["tag"] in why
    assert "by its probe" in why
    assert lead.get(f"/shifts/{shift}/changes?after=0").json["shift"]["planning"]
    # Nothing has changed: nothing is said again.
    assert look(demo_url, reckoner, shift) == ""
    assert len(foretold(lead, shift)) == 1


def test_where_when_cannot_be_told_the_soonest_counts(lead: Client, demo_url: str, reckoner: str) -> None:
    shift, batch, _ = a_batch_in_the_heat(lead, demo_url, 1200, technique="oven")
    read_slowly(lead, shift, batch, 1200, 0.7e-7, h=12.0)
    why = look(demo_url, reckoner, shift)
    forecast = next(
        b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"] if b["batch"] == batch["id"]
    )["forecast"]
    assert forecast["ready_at"] is None
    said = foretold(lead, shift)[0]["payload"]
    assert said["high"] is None
    assert abs(said["low"] - forecast["soonest_at"]) < 5
    assert "at least" in why


def test_a_foretelling_taken_back_stays_taken_back(lead: Client, demo_url: str, reckoner: str) -> None:
    shift, batch, _ = a_batch_in_the_heat(lead, demo_url, 500)
    read_slowly(lead, shift, batch, 500, 1.1e-7)
    look(demo_url, reckoner, shift)
    said = foretold(lead, shift)[0]
    undo = an_entry(batch["id"], "undone", {}, 60, supersedes=said["id"])
    assert lead.send("POST", f"/shifts/{shift}/entries", {"entries": [undo]}).json["written"]
    assert look(demo_url, reckoner, shift) == ""
    assert len(foretold(lead, shift)) == 1


def test_a_probe_that_is_doubted_foretells_nothing(lead: Client, demo_url: str, reckoner: str) -> None:
    shift, batch, _ = a_batch_in_the_heat(lead, demo_url, 500)
    hub = a_hub(lead)
    began = time.time() - 500
    put_in(lead, shift, batch, hub, "1", "1", began)
    # Silent for the last two minutes.
    send(
        lead,
        hub["token"],
        [{"seq": n, "t": began + 5 * n, "channel": "1", "celsius": 6.0 + n / 10} for n in range(75)],
        at=time.time(),
    )
    assert look(demo_url, reckoner, shift) == ""
    assert foretold(lead, shift) == []


def test_a_foretelling_typed_by_hand_needs_its_numbers(lead: Client, demo_url: str) -> None:
    shift, batch, heat = a_batch_in_the_heat(lead, demo_url, 100)
    bad = an_entry(batch["id"], "foreseen", {"step": heat["key"], "ends_at": "soon"}, 70)
    refused = lead.send("POST", f"/shifts/{shift}/entries", {"entries": [bad]}).json["refused"]
    assert refused[0]["problem"]["field"] == "ends_at"


def test_a_probe_that_never_spoke_leaves_the_other_to_foretell(
    lead: Client, demo_url: str, reckoner: str
) -> None:
    shift, batch, _ = a_batch_in_the_heat(lead, demo_url, 500)
    hub = read_slowly(lead, shift, batch, 500, 1.1e-7)
    began = time.time() - 400
    put_in(lead, shift, batch, hub, "2", "left", began)

    def told() -> dict[str, Any]:
        looked = lead.get(f"/shifts/{shift}/outlook").json["batches"]
        return next(b for b in looked if b["batch"] == batch["id"])

    nothing = [{"seq": 900 + n, "t": began + 20 * n, "channel": "2", "celsius": None} for n in range(19)]
    assert send(lead, hub["token"], nothing, at=time.time()).json["kept"] == len(nothing)
    assert "“left” is silent" in told()["doubt"]
    assert told()["forecast"]["ready_at"] is not None
    assert look(demo_url, reckoner, shift) != ""
    put_in(lead, shift, batch, hub, "3", "right", began)
    # One that reads wrong is another matter: nobody knows which of the two is right.
    wild = [
        {"seq": 950 + n, "t": time.time() - 30 + 2 * n, "channel": "3", "celsius": 20.0 if n < 8 else 90.0}
        for n in range(14)
    ]
    assert send(lead, hub["token"], wild, at=time.time()).json["kept"] == len(wild)
    assert "“right” rose" in told()["doubt"], "and it is told before the one that is silent"
    assert told()["forecast"] is None

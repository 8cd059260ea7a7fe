"""The live stream: what is missing first, then what comes; each change read once; places for so many
screens.
"""

import json
import threading
import time
import uuid
from collections.abc import Iterator
from typing import Any

import pytest

from tests.api.helpers import Client, an_entry, handed_over, make_shift, new_trial
from tests.conftest import run_worker_once
from yeasty.api import live
from yeasty.api.kitchen.accounts import still_signed_in
from yeasty.api.live import HEARTBEAT_S, OUT, Feed, Hub, stream
from yeasty.store.database import make_engine, plain_url, session_factory
from yeasty.store.kitchen.people import account_by_login


@pytest.fixture
def sessions(demo_url: str) -> Iterator[Any]:
    engine = make_engine(demo_url, pool=3)
    yield session_factory(engine)
    engine.dispose()


def planned_shift(lead: Client, url: str) -> tuple[uuid.UUID, str]:
    """A shift with its plan, and one of its batches."""
    shift = make_shift(lead, new_trial(lead))["id"]
    run_worker_once(url)
    return uuid.UUID(shift), lead.get(f"/shifts/{shift}/bench").json["batches"][0]["id"]


def tap(lead: Client, shift: uuid.UUID, batch: str, words: str) -> str:
    entry = an_entry(batch, "note", {"text": words})
    assert lead.send("POST", f"/shifts/{shift}/entries", {"entries": [entry]}).json["written"]
    return str(entry["id"])


def events(chunk: str) -> list[tuple[str, dict[str, Any]]]:
    """What a chunk of the stream tells."""
    found = []
    for block in chunk.strip().split("\n\n"):
        fields = dict(line.split(": ", 1) for line in block.split("\n") if ": " in line)
        if "event" in fields:
            found.append((fields["event"], json.loads(fields["data"])))
    return found


def test_a_screen_is_told_what_is_missing_then_what_comes(lead: Client, demo_url: str, sessions: Any) -> None:
    shift, batch = planned_shift(lead, demo_url)
    before = [tap(lead, shift, batch, f"before {n}") for n in range(3)]
    hub = Hub(plain_url(demo_url))
    hub.start()
    assert hub.take_place()
    told = stream(hub, sessions, shift, 0)
    assert next(told).startswith("retry")
    first = events(next(told))
    assert [e["id"] for kind, e in first if kind == "entry"] == before
    assert [kind for kind, _ in first].count("plan") == 1
    kind, state = events(next(told))[0]
    assert (kind, state["planning"], state["batches"]) == ("shift", False, 2)
    later = threading.Timer(0.3, lambda: tap(lead, shift, batch, "after"))
    began = time.monotonic()
    later.start()
    assert [e["payload"]["text"] for kind, e in events(next(told)) if kind == "entry"] == ["after"]
    assert time.monotonic() - began < 10
    later.join()
    told.close()
    assert hub._streams == 0, "a screen that goes leaves its place"


@pytest.mark.parametrize("how", ["signs out", "is shut out", "becomes a lead", "gets another password"])
def test_whoever_is_signed_out_is_told_nothing_more_from_that_moment(
    lead: Client, cook: Client, demo_url: str, sessions: Any, how: str
) -> None:
    shift, batch = planned_shift(lead, demo_url)
    with sessions() as db:
        account = account_by_login(db, "cook")
        id_, still_in = account.id, still_signed_in(account.id, account.session_epoch)
    hub = Hub(plain_url(demo_url))
    hub.start()
    assert hub.take_place()
    told = stream(hub, sessions, shift, 0, still_in)
    assert [next(told) for _ in range(3)][2].startswith("event: shift")
    new = {"current": "proof-shape-bake", "new": "seven brown loaves cool"}
    sent = {
        "signs out": lambda: cook.send("DELETE", "/session"),
        "is shut out": lambda: lead.send("PATCH", f"/accounts/{id_}", {"active": False}),
        "becomes a lead": lambda: lead.send("PATCH", f"/accounts/{id_}", {"role": "lead"}),
        "gets another password": lambda: cook.send("PUT", "/me/password", new),
    }[how]()
    assert sent.status_code < 300, sent.json
    tap(lead, shift, batch, "not for them")
    began = time.monotonic()
    assert list(told) == [OUT], "nothing of what was tapped after"
    assert time.monotonic() - began < HEARTBEAT_S / 2, "said at once, not at the next beat"


def test_a_screen_of_somebody_signed_in_is_not_asked_for_again_with_each_change(
    lead: Client, demo_url: str, sessions: Any
) -> None:
    shift, batch = planned_shift(lead, demo_url)
    asked: list[Any] = []
    hub = Hub(plain_url(demo_url))
    hub.start()
    assert hub.take_place()
    told = stream(hub, sessions, shift, 0, lambda db: not asked.append(db))
    for _ in range(3):
        next(told)
    for n in range(4):
        tap(lead, shift, batch, f"{n}")
        assert "entry" in next(told)
    # Once when it is opened, and once when the listening has begun.
    assert len(asked) <= 2
    told.close()


def test_a_screen_that_comes_back_is_told_only_what_it_missed(
    lead: Client, demo_url: str, sessions: Any
) -> None:
    shift, batch = planned_shift(lead, demo_url)
    tap(lead, shift, batch, "seen")
    feed, seen = Feed(shift), (0, 0)
    everything, _ = feed.read(sessions, seen, 0)
    last = everything[-1][0]
    missed = [tap(lead, shift, batch, f"missed {n}") for n in range(2)]
    assert feed.read(sessions, seen, last)[0] == [], "without a wake nothing is asked of the database"
    again, _ = feed.read(sessions, (0, 1), last)
    assert [e["id"] for _, text in again for kind, e in events(text) if kind == "entry"] == missed


def test_a_late_comer_is_told_by_the_database_what_the_process_no_longer_keeps(
    lead: Client, demo_url: str, sessions: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(live, "KEPT_CHANGES", 3)
    shift, batch = planned_shift(lead, demo_url)
    ids = [tap(lead, shift, batch, f"{n}") for n in range(8)]
    feed = Feed(shift)
    feed._recent = type(feed._recent)(maxlen=3)
    newest, _ = feed.read(sessions, (0, 0), 0)
    assert len(newest) >= 8
    late, _ = feed.read(sessions, (0, 0), 0)
    assert [e["id"] for _, text in late for kind, e in events(text) if kind == "entry"] == ids
    assert [n for n, _ in late] == sorted(n for n, _ in late)


def test_many_changes_are_told_in_order_and_none_is_skipped(
    lead: Client, demo_url: str, sessions: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(live, "MOST_AT_ONCE", 4)
    shift, batch = planned_shift(lead, demo_url)
    ids = [tap(lead, shift, batch, f"{n}") for n in range(10)]
    got: list[str] = []
    after = 0
    for _ in range(10):
        with sessions() as db:
            part = live.changes_after(db, shift, after)
        if not part:
            break
        got += [e["id"] for _, kind, e in part if kind == "entry"]
        after = part[-1][0]
    assert got == ids


def test_there_are_places_for_so_many_screens_and_the_next_is_told(
    lead: Client, demo_url: str, app: Any
) -> None:
    shift, _ = planned_shift(lead, demo_url)
    hub = app.extensions["yeasty_hub"]
    for _ in range(live.MOST_STREAMS):
        assert hub.take_place()
    refused = lead.get(f"/shifts/{shift}/stream?after=0")
    assert refused.status_code == 503
    assert "Close one" in refused.json["detail"]
    hub.leave_place()
    assert hub.take_place()


def test_where_no_stream_can_be_held_changes_are_asked_for(lead: Client, demo_url: str) -> None:
    shift, batch = planned_shift(lead, demo_url)
    first = lead.get(f"/shifts/{shift}/changes?after=0").json
    last = first["items"][-1]["number"]
    assert lead.get(f"/shifts/{shift}/changes?after={last}").json["items"] == []
    entry = tap(lead, shift, batch, "new")
    later = lead.get(f"/shifts/{shift}/changes?after={last}").json
    assert [c["data"]["id"] for c in later["items"]] == [entry]
    assert abs(later["server_now"] - time.time()) < 30
    assert lead.get(f"/shifts/{uuid.uuid4()}/changes?after=0").status_code == 404


def test_a_screen_of_a_trial_is_told_when_a_taster_is_done(
    app: Any, lead: Client, table: dict[str, Any]
) -> None:
    trial = table["trial"]["id"]
    body = {"batches": table["batches"], "tasters": ["one"]}
    token = handed_over(lead, lead.send("POST", f"/trials/{trial}/tastings", body).json)
    chunks = iter(lead.get(f"/trials/{trial}/stream", buffered=False).response)
    assert b"retry" in next(chunks)
    taster = Client(app.test_client())
    done = threading.Timer(0.5, taster.send, ("POST", f"/taste/{token}/finish", {"may_quote": False}))
    done.start()
    told = next(chunks).decode()
    done.join()
    assert [kind for kind, _ in events(told)] == ["changed"]
    assert lead.get(f"/trials/{trial}/tastings").json["items"][0]["seats"][0]["finished"]


def test_a_wake_for_one_shift_does_not_wake_another(demo_url: str) -> None:
    hub = Hub(plain_url(demo_url))
    one, other = str(uuid.uuid4()), str(uuid.uuid4())
    seen = hub.seen(other)
    with hub._changed:
        hub._counts[one] = 1
        hub._changed.notify_all()
    assert not hub.wait(other, seen, 0.05)
    assert hub.wait(one, (0, 0), 0.05)
    hub._wake_all()
    assert hub.wait(other, seen, 0.05), "after the listener was away everyone looks"


def test_feeds_of_shifts_listened_to_long_ago_are_forgotten(demo_url: str) -> None:
    hub = Hub(plain_url(demo_url))
    first = uuid.uuid4()
    kept = hub.feed(first)
    assert hub.feed(first) is kept
    for _ in range(live.MOST_FEEDS):
        hub.feed(uuid.uuid4())
    assert hub.feed(first) is not kept
    assert len(hub._feeds) == live.MOST_FEEDS

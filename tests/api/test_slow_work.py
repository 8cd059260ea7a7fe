"""Slow work: how long it takes is told by what the like of it took; what is stopped keeps nothing."""

import uuid
from typing import Any

import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker
from werkzeug.test import TestResponse

from tests.api.helpers import Client, by_title, make_shift, new_trial
from tests.api.test_strangers import as_another, renamed_pictures, repacked
from tests.conftest import run_worker_once
from yeasty.core.kernel.slow_work import FIRST_GUESS, WorkKind
from yeasty.operations.kitchen import slow_work
from yeasty.operations.publish import archive_in
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import PlanRow, Shift
from yeasty.store.kitchen import slow_work as store
from yeasty.worker import main as worker


@pytest.fixture
def sessions(app: Any) -> sessionmaker[Session]:
    made: sessionmaker[Session] = app.extensions["yeasty_sessions"]
    return made


def stop(client: Client, kind: str, subject: str | None = None, work: str | None = None) -> int:
    body = {"kind": kind, "subject": subject, "work": work}
    return client.send("POST", "/slow-work/stops", body).status_code


def bring_in(client: Client, data: bytes, work: str | None = None) -> TestResponse:
    headers = {"X-CSRFToken": client.csrf, **({"Work-Id": work} if work else {})}
    return client.http.post("/api/v1/archives", data=data, headers=headers)


def decision(client: Client, trial: str) -> str:
    state: str = client.get(f"/trials/{trial}/decision").json["state"]
    return state


def made_stale(client: Client, trial: dict[str, Any]) -> None:
    """A record that the verdict stands on is written anew."""
    now = client.get(f"/trials/{trial['id']}")
    body = {"title": now.json["title"], "matters": (now.json["matters"] or 1) + 0.25}
    client.send("PATCH", f"/trials/{trial['id']}", body, version=now.json["version"])


def test_how_long_is_told_by_what_it_took_here_first(lead: Client, sessions: sessionmaker[Session]) -> None:
    here, elsewhere = uuid.uuid4(), uuid.uuid4()

    def told(subject: uuid.UUID) -> float:
        usual: float = lead.get(f"/slow-work?kind=archive&subject={subject}").json["usual_s"]
        return usual

    assert told(here) == FIRST_GUESS[WorkKind.ARCHIVE]
    with slow_work.slow_work(sessions, WorkKind.ARCHIVE, elsewhere) as going, sessions.begin() as db:
        going.ended(db)
    assert told(here) == told(elsewhere) < 1
    with slow_work.slow_work(sessions, WorkKind.ARCHIVE, here):
        began = lead.get(f"/slow-work?kind=archive&subject={here}").json["began_at"]
        assert began is not None
    # What found nothing to do tells nothing of how long it takes.
    assert lead.get(f"/slow-work?kind=archive&subject={here}").json["began_at"] is None


def test_a_verdict_that_waits_is_stopped_and_stays_so_until_records_change(
    lead: Client, demo_url: str
) -> None:
    trial = by_title(lead, "Filled yeast buns")
    assert decision(lead, trial["id"]) == "fresh"
    made_stale(lead, trial)
    assert decision(lead, trial["id"]) == "working"
    assert stop(lead, "verdict", trial["id"]) == 204
    assert decision(lead, trial["id"]) == "stopped"
    run_worker_once(demo_url)
    # Nobody works on it, however often it is looked at.
    assert decision(lead, trial["id"]) == "stopped"
    assert lead.get(f"/trials/{trial['id']}/publication").json["verdict_stopped"] is True
    lead.send("POST", "/slow-work/again", {"kind": "verdict", "subject": trial["id"]})
    assert decision(lead, trial["id"]) == "working"
    run_worker_once(demo_url)
    assert decision(lead, trial["id"]) == "fresh"
    assert stop(lead, "verdict", trial["id"]) == 409
    made_stale(lead, trial)
    assert decision(lead, trial["id"]) == "working"
    assert stop(lead, "verdict", trial["id"]) == 204
    made_stale(lead, trial)
    # Something else is written down now: what was stopped stood on less.
    assert decision(lead, trial["id"]) == "working"


def test_a_plan_that_is_stopped_while_it_is_made_leaves_the_old_one(
    lead: Client, sessions: sessionmaker[Session], monkeypatch: pytest.MonkeyPatch
) -> None:
    t = new_trial(lead, ("oven", "microwave"))
    shift = uuid.UUID(make_shift(lead, t)["id"])
    worker.plan_again(sessions, shift, "")
    with sessions() as db:
        before = db.scalar(select(func.count()).select_from(PlanRow).where(PlanRow.shift_id == shift))
    assert before == 1
    plans = worker.replan

    def and_stopped(*args: Any, **kwargs: Any) -> Any:
        made = plans(*args, **kwargs)
        with sessions.begin() as other:
            assert store.stop(other, WorkKind.PLAN, shift, None, "")
        return made

    monkeypatch.setattr(worker, "replan", and_stopped)
    worker.plan_again(sessions, shift, "")
    with sessions() as db:
        assert db.scalar(select(func.count()).select_from(PlanRow).where(PlanRow.shift_id == shift)) == before
    # One that waits for its turn goes too, and the screens are told that none is on its way.
    monkeypatch.undo()
    lead.send("POST", f"/shifts/{shift}/plan-requests", {})
    assert stop(lead, "plan", str(shift)) == 204
    with sessions() as db:
        assert db.get_one(Shift, shift).plan_asked_at is None


def test_an_archive_that_is_stopped_while_it_is_read_brings_nothing_in(
    lead: Client, sessions: sessionmaker[Session], monkeypatch: pytest.MonkeyPatch
) -> None:
    data = repacked(lambda t: as_another(t, lambda _: None), renamed_pictures())
    work = str(uuid.uuid4())
    reads = archive_in.import_rows

    def and_stopped(*args: Any) -> Any:
        made = reads(*args)
        with sessions.begin() as other:
            assert store.stop(other, WorkKind.ARCHIVE, None, uuid.UUID(work), "")
        return made

    def trials() -> int:
        with sessions() as db:
            return db.scalar(select(func.count()).select_from(Trial)) or 0

    before = trials()
    with monkeypatch.context() as patched:
        patched.setattr(archive_in, "import_rows", and_stopped)
        got = bring_in(lead, data, work)
    assert got.status_code == 409
    assert "Nothing of it was kept" in got.json["detail"]
    assert trials() == before
    assert bring_in(lead, data).status_code == 201
    assert trials() == before + 1
    assert stop(lead, "archive", work=work) == 409


def test_work_that_failed_tells_nothing_of_how_long_it_takes(
    lead: Client, sessions: sessionmaker[Session]
) -> None:
    assert bring_in(lead, b"no archive").status_code == 422
    with sessions() as db:
        assert store.took_s(db, WorkKind.ARCHIVE, None) == []
    odd = bring_in(lead, b"x", "mine")
    assert "UUID" in odd.json["detail"]


def test_nothing_is_asked_for_that_is_not_there(lead: Client) -> None:
    for kind in ("plan", "verdict", "pdf"):
        wanted = {"kind": kind, "subject": str(uuid.uuid4())}
        assert lead.send("POST", "/slow-work/again", wanted).status_code == 404
        assert lead.send("POST", "/slow-work/stops", wanted).status_code == 409
    again = {"kind": "archive", "subject": str(uuid.uuid4())}
    assert lead.send("POST", "/slow-work/again", again).status_code == 422

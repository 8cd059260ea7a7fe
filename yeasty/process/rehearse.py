"""The process that drives the stand-ins of rehearsals: it waits in the database until one is asked for.

It speaks to the application within its own process, as whoever asked for the rehearsal, so that nothing of a
rehearsal is written in another way than by devices and people.
"""

import contextlib
import os
import threading
import time
import uuid
from typing import Any

import psycopg
import structlog
from flask import Flask
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from yeasty.core.cook.mishaps import LaidMishap, lay_mishap
from yeasty.core.kernel.errors import RuleError
from yeasty.devices.kitchen import Kitchen, told
from yeasty.operations.cook.rehearsals import chosen, setting_of, skip_to_first
from yeasty.process.own import end_with_parent
from yeasty.store.cook.queries import newest_plan, wake
from yeasty.store.cook.rehearsals import CHANNEL, dismiss, going, say_interrupted
from yeasty.store.cook.tables import Rehearsal, RehearsalState, Shift
from yeasty.store.database import make_engine, plain_url, session_factory
from yeasty.store.kitchen.people_tables import Account

# A round of the stand-ins, and a look whether there is something to do at all [s].
ROUND_S, LOOK_S = 0.5, 5.0
INTERRUPTED = "The program was started again while it went on. Rehearse it anew."
log = structlog.get_logger()


class Within(Kitchen):
    """The kitchen within this process, signed in as a person by their account."""

    def __init__(self, app: Flask, account: Account) -> None:
        super().__init__("http://127.0.0.1")
        self._client = app.test_client()
        with self._client.session_transaction() as session:
            session["_user_id"] = f"{account.id}:{account.session_epoch}"
            session["_fresh"] = True
        self._token = self._client.get("/api/v1/session").get_json()["csrf"]

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """One request; a refusal is told in the kitchen's own words."""
        got = self._client.open(
            f"/api/v1{path}", method=method, json=body, headers={"X-CSRFToken": self._token}
        )
        if got.status_code >= 400:
            raise told(got.get_json(silent=True) or {"title": got.status}, path)
        return got.get_json(silent=True)

    def send_lines(self, token: str, body: str) -> dict[str, Any]:
        """What a device sends, with its token."""
        got = self._client.post(
            "/api/v1/device-lines",
            data=body,
            headers={"Content-Type": "application/x-ndjson", "Authorization": f"Bearer {token}"},
        )
        if got.status_code >= 400:
            raise OSError(got.status)
        return dict(got.get_json())


class Rehearser:
    """Drives what goes on, a thread each; told from outside when to stop."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.engine: Engine = make_engine(url, pool=4)
        self.sessions = session_factory(self.engine)
        self._app: Flask | None = None
        self._threads: dict[uuid.UUID, threading.Thread] = {}
        with self.sessions.begin() as db:
            say_interrupted(db, INTERRUPTED)

    def app(self) -> Flask:
        """The application; made when it is first needed."""
        if self._app is None:
            from yeasty.api.app import Settings, create_app

            self._app = create_app(Settings(self.url, reckoner=os.environ.get("YEASTY_RECKONER", "")))
        return self._app

    def look(self) -> int:
        """Take up what waits and is planned; how many go on."""
        self._threads = {k: t for k, t in self._threads.items() if t.is_alive()}
        with self.sessions.begin() as db:
            rows = going(db)
            for row in rows:
                waits = row.state == RehearsalState.WAITING.value and row.shift_id not in self._threads
                if not waits or newest_plan(db, row.shift_id) is None:
                    continue
                shift = db.get_one(Shift, row.shift_id)
                skip_to_first(db, shift)
                row.state = RehearsalState.RUNNING.value
                wake(db, shift.id)
                thread = threading.Thread(target=self._drive, args=(row.shift_id,), daemon=True)
                self._threads[row.shift_id] = thread
            n = len(rows)
        for t in self._threads.values():
            if t.ident is None:
                t.start()
        return n

    def _drive(self, shift_id: uuid.UUID) -> None:
        problem = ""
        try:
            self._rounds(shift_id)
        except RuleError as wrong:
            problem = str(wrong)
        except Exception as wrong:  # told to who rehearses, and kept for who looks after the program
            log.error("rehearsal", shift=str(shift_id), error=repr(wrong))
            problem = "A stand-in has a fault of its own. Nothing real is lost; rehearse it anew."
        with contextlib.suppress(SQLAlchemyError), self.sessions.begin() as db:
            row = db.get(Rehearsal, shift_id)
            if row is not None:
                row.state = (RehearsalState.FAILED if problem else RehearsalState.OVER).value
                row.problem = problem
                dismiss(db, shift_id)
                wake(db, shift_id)

    def _rounds(self, shift_id: uuid.UUID) -> None:
        # Loads what food and heat are reckoned with: only where there is something to rehearse.
        from yeasty.devices.simulate import Simulation

        with self.sessions() as db:
            row = db.get_one(Rehearsal, shift_id)
            shift = db.get_one(Shift, shift_id)
            account = db.get(Account, row.account_id) if row.account_id else None
            if account is None:
                raise RuleError("rehearsal", "is nobody's", "Begin it again, signed in.")
            setting = setting_of(db, shift)
            laid = [lay_mishap(m, setting) for m in chosen(row.mishaps)] if setting else []
            hands, seed = row.hands, row.seed
            kitchen = Within(self.app(), account)
        simulation = Simulation(
            kitchen,
            str(shift_id),
            seed=seed,
            faults=False,
            hands=hands,
            as_planned=True,
            mishaps=[t for t in laid if isinstance(t, LaidMishap)],
            say=lambda _: None,
        )
        while not simulation.bench.ended and self._goes_on(shift_id):
            state = simulation.round()
            if simulation.bench.plan and not state.actions:
                return
            time.sleep(ROUND_S)

    def _goes_on(self, shift_id: uuid.UUID) -> bool:
        with self.sessions() as db:
            row = db.get(Rehearsal, shift_id)
            return row is not None and row.state == RehearsalState.RUNNING.value


def main(url: str) -> None:
    """Wait and drive until the process is ended."""
    end_with_parent()
    rehearser = Rehearser(url)
    with psycopg.connect(plain_url(url), autocommit=True) as listening:
        listening.execute(f"listen {CHANNEL}")
        while True:
            # While one waits for its plan, it is looked at sooner.
            n = rehearser.look()
            for _ in listening.notifies(timeout=1.0 if n else LOOK_S, stop_after=1):
                pass


if __name__ == "__main__":
    main(os.environ["DATABASE_URL"])

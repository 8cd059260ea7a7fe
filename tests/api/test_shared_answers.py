"""Screens that ask the same at once."""

import threading
import time
from typing import Any

from tests.api.helpers import Client, an_entry, make_shift, new_trial
from tests.conftest import run_worker_once
from yeasty.api.app import Settings, create_app
from yeasty.api.shared_answers import MOST, SharedAnswers, shared


def test_what_many_ask_is_made_once_for_a_moment_and_old_keys_are_let_go() -> None:
    made: list[int] = []
    answers = SharedAnswers(0.3)

    def make() -> str:
        made.append(1)
        return str(len(made))

    assert [answers.get("a", make) for _ in range(5)] == ["1"] * 5
    time.sleep(0.35)
    assert answers.get("a", make) == "2"
    for n in range(3 * MOST):
        answers.get(n, make)
    assert len(answers._kept) == MOST
    threads = [threading.Thread(target=lambda: answers.get("b", make)) for _ in range(8)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert len(made) <= 2 + 3 * MOST + 8


def test_a_new_entry_is_never_answered_with_what_was_before_it(lead: Client, demo_url: str) -> None:
    shift = make_shift(lead, new_trial(lead))["id"]
    run_worker_once(demo_url)
    b = lead.get(f"/shifts/{shift}/bench").json["batches"][0]
    step = b["steps"][0]["key"]
    entries = [an_entry(b["id"], "done", {"step": step}, n) for n in range(2)]
    entries[1]["device"] = entries[1]["id"]
    for n, entry in enumerate(entries):
        lead.send("POST", f"/shifts/{shift}/entries", {"entries": [entry]})
        assert len(lead.get(f"/shifts/{shift}/outlook").json["twice"]) == n


def test_what_one_application_shares_another_never_tells(app: Any, demo_url: str, reckoner: str) -> None:
    other = create_app(Settings(demo_url, reckoner=reckoner, testing=True))
    try:
        with app.app_context():
            assert shared("outlook", 60.0).get("a", lambda: "here") == "here"
            assert shared("outlook", 60.0).get("a", lambda: "asked again") == "here"
            assert shared("probes", 60.0).get("a", lambda: "another kind") == "another kind"
        with other.app_context():
            assert shared("outlook", 60.0).get("a", lambda: "there") == "there"
    finally:
        other.extensions["yeasty_engine"].dispose()

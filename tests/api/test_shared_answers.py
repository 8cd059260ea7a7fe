"""Screens that ask the same at once."""

import threading
import time
from typing import Any

import pytest

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


def test_what_is_being_worked_out_is_waited_for() -> None:
    answers, made, begun = SharedAnswers(60.0), [], threading.Event()

    def slowly() -> str:
        begun.set()
        time.sleep(0.3)
        made.append(1)
        return "once"

    got: list[str] = []
    many = [threading.Thread(target=lambda: got.append(answers.get("a", slowly))) for _ in range(5)]
    for thread in many:
        thread.start()
    for thread in many:
        thread.join()
    assert (got, made) == (["once"] * 5, [1])


def test_who_waited_for_what_failed_makes_it_anew_and_nobody_waits_for_ever() -> None:
    answers, begun, got = SharedAnswers(60.0), threading.Event(), []

    def fails() -> str:
        begun.set()
        time.sleep(0.3)
        raise ValueError("no")

    def first() -> None:
        with pytest.raises(ValueError, match="no"):
            answers.get("a", fails)

    failing = threading.Thread(target=first)
    failing.start()
    assert begun.wait(10)
    got.append(answers.get("a", lambda: "mine"))
    failing.join()
    assert got == ["mine"]
    assert answers.get("a", lambda: "another") == "another"

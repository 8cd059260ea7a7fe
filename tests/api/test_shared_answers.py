"""Screens that ask the same at once."""

import threading
import time

from tests.api.helpers import Client, an_entry, make_shift, new_trial
from tests.conftest import run_worker_once
from yeasty.api.shared_answers import MOST, SharedAnswers


def test_what_many_ask_is_made_once_for_a_moment_and_old_keys_are_let_go() -> None:
    made: list[int] = []
    shared = SharedAnswers(0.3)

    def make() -> str:
        made.append(1)
        return str(len(made))

    assert [shared.get("a", make) for _ in range(5)] == ["1"] * 5
    time.sleep(0.35)
    assert shared.get("a", make) == "2"
    for n in range(3 * MOST):
        shared.get(n, make)
    assert len(shared._kept) == MOST
    threads = [threading.Thread(target=lambda: shared.get("b", make)) for _ in range(8)]
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

"""Any kitchen of one to four heats: its plans keep every rule and tell every limit they break. Planned by the
solver's own count of its work, so that the clock has no part in it; `bench/random_heats.py` has many more.
"""

import signal
from dataclasses import asdict
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from bench.random_heats import judged, kitchen
from yeasty.core.cook.plan_check import violations
from yeasty.core.cook.plan_in_turn import in_turn
from yeasty.core.cook.problem import problem_from_record


@settings(max_examples=40, derandomize=True)
@given(st.integers(0, 10**6))
def test_no_plan_of_one_to_four_heats_breaks_a_rule_or_keeps_a_broken_limit_to_itself(seed: int) -> None:
    rules, unsaid = judged(seed, 0.3)
    assert rules == []
    assert unsaid == []


def test_whoever_plans_can_be_interrupted_afterwards_as_before() -> None:
    """The solver would catch the interrupt and leave none to catch it: the program went and its database
    stayed.
    """

    def caught() -> bool:
        status = Path("/proc/self/status").read_text()
        return bool(int(status.split("SigCgt:")[1].split()[0], 16) & 1 << (signal.SIGINT - 1))

    before = signal.signal(signal.SIGINT, lambda *_: None)
    try:
        assert caught()
        judged(1, 0.1)
        assert caught()
    finally:
        signal.signal(signal.SIGINT, before)


@settings(max_examples=150)
@given(st.integers(0, 10**6))
def test_one_after_another_keeps_every_rule(seed: int) -> None:
    problem = kitchen(seed)
    items = in_turn(problem)
    assert items is not None
    assert violations(problem, items) == []


@settings(max_examples=20)
@given(st.integers(0, 10**6))
def test_a_problem_comes_back_from_its_record(seed: int) -> None:
    problem = kitchen(seed)
    assert problem_from_record(asdict(problem)) == problem

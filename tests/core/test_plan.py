import itertools
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yeasty.core.ask.techniques import techniques
from yeasty.core.cook.plan import Chain, Plan, Problem, solve
from yeasty.core.cook.steps import Attention, Phase, Step, chain_of, check_steps, contiguous
from yeasty.core.errors import RuleError


def chain(batch: str, technique: str) -> Chain:
    steps = tuple(
        replace(s, key=f"{batch}-{i}", appliance=f"{technique}-of-{batch}")
        for i, s in enumerate(techniques()[technique].steps)
    )
    return Chain(batch, batch.upper(), steps)


def breaches(problem: Problem, plan: Plan) -> list[str]:
    """An independent check, written from the rules of the work and not from the solver."""
    found = []
    steps = {(c.batch, s.key): s for c in problem.chains for s in c.steps}
    at = {(p.batch, p.step): p for p in plan.items}
    for c in problem.chains:
        mains = [m for m, _ in chain_of(c.steps) if m.phase is not Phase.WASH_UP]
        for a, b in itertools.pairwise(mains):
            gap = at[c.batch, b.key].start - at[c.batch, a.key].end
            if gap < -1e-6:
                found.append(f"{b.what} before {a.what} ends")
            if contiguous(a, b) and gap > 1e-6:
                found.append(f"{b.what} {gap:g} s after {a.what}")
        for m, during in chain_of(c.steps):
            for d in during:
                if abs(at[c.batch, d.key].start - at[c.batch, m.key].start - (d.during_offset_s or 0)) > 1e-6:
                    found.append(f"{d.what} not at its offset")
    for p in plan.items:
        if abs(p.end - p.start - steps[p.batch, p.step].duration_s) > 1e-6:
            found.append(f"{p.step} has another length")
    edges = sorted({p.start for p in plan.items})
    for t in edges:
        busy = [p for p in plan.items if p.start <= t + 1e-7 < p.end]
        if sum(steps[p.batch, p.step].attention is Attention.HANDS for p in busy) > problem.people:
            found.append(f"more hands than people at {t:g}")
    return found


@settings(max_examples=25, deadline=None)
@given(st.lists(st.sampled_from(sorted(set(techniques()) - {"slow_cooker"})), min_size=1, max_size=7), st.integers(1, 2))
def test_no_plan_breaks_a_rule(names: list[str], people: int) -> None:
    problem = Problem(tuple(chain(f"b{i}", n) for i, n in enumerate(names)), 100_000, 100_300, people)
    plan = solve(problem)
    assert breaches(problem, plan) == []
    assert max(t for _, t in plan.served) <= 100_300 + 1e-6
    assert plan.proof == "not proven best"


def test_the_plates_of_five_methods_meet_in_the_window() -> None:
    names = ["oven", "air_fryer", "deep_fryer", "pressure_cooker", "microwave"]
    problem = Problem(tuple(chain(f"b{i}", n) for i, n in enumerate(names)), 100_000, 100_300)
    plan = solve(problem)
    assert all(100_000 <= t <= 100_300 for _, t in plan.served)
    assert plan.longest_hold_s < 600
    assert plan.notes == ()


def test_two_set_points_never_share_one_oven_at_once() -> None:
    a, b = chain("a", "oven"), chain("b", "oven")
    one = [replace(s, appliance="oven" if s.phase in (Phase.COME_UP, Phase.COOK) else None) for s in a.steps]
    other = [
        replace(
            s,
            appliance="oven" if s.phase in (Phase.COME_UP, Phase.COOK) else None,
            set_point_c=160 if s.set_point_c else None,
        )
        for s in b.steps
    ]
    plan = solve(Problem((Chain("a", "A", tuple(one)), Chain("b", "B", tuple(other))), 50_000, 50_300))
    heat = {c: [p for p in plan.items if p.batch == c and p.step in (f"{c}-0", f"{c}-2")] for c in "ab"}
    for p in heat["a"]:
        for q in heat["b"]:
            assert p.end <= q.start + 1e-6 or q.end <= p.start + 1e-6


def test_watched_steps_at_two_spots_need_two_people() -> None:
    def watched(name: str) -> Chain:
        return Chain(name, name.upper(), (Step(f"{name}1", "Fry", Attention.WATCHED, Phase.COOK, 600, appliance=name),
                                          Step(f"{name}2", "Out", Attention.HANDS, Phase.OUT, 30)))  # fmt: skip

    spots = (("a", "window"), ("b", "yard"))
    alone = solve(Problem((watched("a"), watched("b")), 5000, 5100, 1, spots))
    both = solve(Problem((watched("a"), watched("b")), 5000, 5100, 2, spots))
    span = {n: next(p for p in alone.items if p.step == f"{n}1") for n in "ab"}
    assert span["a"].end <= span["b"].start or span["b"].end <= span["a"].start
    assert min(p.start for p in both.items) > min(p.start for p in alone.items)


def test_a_plan_asked_too_late_is_moved_and_says_by_how_much() -> None:
    plan = solve(Problem((chain("a", "oven"),), 1000, 1300, not_before=900))
    assert min(p.start for p in plan.items) == pytest.approx(900)
    assert "later" in plan.notes[0]


@pytest.mark.parametrize(
    ("problem", "word"),
    [
        (Problem((), 0, 10), "batches"),
        (Problem((chain("a", "oven"),), 100, 50), "serving window"),
        (Problem((Chain("a", "A", ()),), 0, 10), "no steps"),
        (Problem((chain("a", "oven"),), 0, 10, people=9), "people"),
        (Problem((Chain("a", "A", (Step("x", "Bake", Attention.FREE, Phase.COOK, -5),)),), 0, 10), "Bake"),
    ],
)
def test_bad_problems_are_told_in_a_sentence(problem: Problem, word: str) -> None:
    with pytest.raises(RuleError, match=word):
        solve(problem)


def test_steps_that_cannot_be_are_named() -> None:
    turn = Step("t", "Turn", Attention.HANDS, Phase.TURN, 30, during_offset_s=590)
    bake = Step("b", "Bake", Attention.FREE, Phase.COOK, 600)
    assert "does not fit" in check_steps([bake, turn])[0].message
    assert "none comes before" in check_steps([turn])[0].message

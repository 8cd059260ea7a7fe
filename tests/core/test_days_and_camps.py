"""Days as a term, and camps: what luck alone makes of them, by drawn panels."""

from collections.abc import Mapping
from typing import Any

import numpy as np
import pytest
from scipy.stats import rankdata

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.camps import camps, differ
from yeasty.core.decide.nested import fit, nested_range
from yeasty.core.decide.scored import Arm
from yeasty.core.decide.scores import Answer
from yeasty.core.decide.verdict import judge
from yeasty.core.kernel.scales import Scale

LIKED = Attribute("q", "liked", Scale.INTENSITY, 1)


def over_days(
    random: np.random.Generator,
    people: int,
    methods: int,
    days: int,
    day_sd: float,
    spread: float = 0.6,
    *,
    others: bool = False,
) -> tuple[dict[tuple[str, str], float], dict[str, str], dict[str, str]]:
    """A batch of each way a day; a day lifts or lowers everything. The same people come each day, or
    `others`.
    """
    person = random.normal(6, 1, people * days if others else people)
    day = random.normal(0, day_sd, days)
    batch = random.normal(0, spread, (methods, days))
    cells = {
        (f"p{i}", f"m{m}d{d}"): float(person[i] + day[d] + batch[m, d] + random.normal(0, 1))
        for i in range(len(person))
        for m in range(methods)
        for d in range(days)
        if not others or i % days == d
    }
    names = [(f"m{m}d{d}", f"m{m}", f"d{d}") for m in range(methods) for d in range(days)]
    return cells, {b: m for b, m, _ in names}, {b: d for b, _, d in names}


@pytest.mark.parametrize("others", [False, True])
@pytest.mark.parametrize(
    ("people", "methods", "days", "day_sd"),
    [(6, 2, 2, 1.0), (8, 3, 2, 1.0), (12, 2, 2, 1.0), (8, 2, 3, 0.0), (12, 3, 3, 1.5)],
)
def test_identical_ways_cooked_one_a_day_are_rarely_called_clear(
    people: int, methods: int, days: int, day_sd: float, *, others: bool
) -> None:
    random, wrong, held, panels = np.random.default_rng(7), 0, 0, 500
    for _ in range(panels):
        cells, method_of, day_of = over_days(random, people, methods, days, day_sd, others=others)
        found = fit(cells, method_of, day_of=day_of)
        assert found is not None
        first, second = sorted(found.means, key=lambda m: -found.means[m])[:2]
        r, named = nested_range(found, first, second), nested_range(found, "m0", "m1")
        assert r is not None
        assert named is not None
        wrong += r.low > 0
        held += named.low <= 0 <= named.high
    assert wrong / panels <= 0.05 + 2 * (0.05 * 0.95 / panels) ** 0.5
    assert held / panels >= 0.92


def test_a_day_is_taken_out_by_the_way_that_was_cooked_on_both() -> None:
    """By hand: day two lifts all by 2; A on both days, B on the first, C on the second."""
    values = {"A1": 5.0, "B1": 6.0, "A2": 7.0, "C2": 7.5}
    cells = {(p, b): v + d for p, d in (("p", 0.0), ("q", 0.5)) for b, v in values.items()}
    found = fit(cells, {b: b[0] for b in values}, day_of={b: b[1] for b in values})
    assert found is not None
    gap = {m: found.means[m] - found.means["A"] for m in "BC"}
    assert gap["B"] == pytest.approx(1.0)
    assert gap["C"] == pytest.approx(0.5), "and not the 2.5 that the days would make of it"


def test_what_was_tasted_on_days_that_share_no_way_is_not_compared_and_says_why() -> None:
    answers = [
        Answer(p, b[0], b, "q", v)
        for p in ("p", "q", "r")
        for b, v in (("A1", 5.0), ("B1", 6.0), ("C2", 9.0))
    ]
    v = judge(
        School.WEIGHTED,
        [Arm(m, m, m, 1) for m in "ABC"],
        answers,
        [LIKED],
        day_of={"A1": "1", "B1": "1", "C2": "2"},
    )
    assert v.leader is None
    assert "cook one of them again" in v.headline


EACH_ITS_OWN = {
    ("p", "A1"): 5.0, ("q", "A1"): 7.0, ("p", "B1"): 6.0, ("q", "B1"): 8.0,
    ("r", "A2"): 1.0, ("s", "A2"): 3.0, ("r", "B2"): 4.0, ("s", "B2"): 6.0,
}  # fmt: skip


def test_two_evenings_with_people_of_their_own_are_compared_within_each() -> None:
    """By hand: B is 1 ahead on the first evening and 3 on the second, so 2; A is 6 on the first and 2 on the
    second, so 4, and B 7 and 5, so 6. Eight answers, less four people and four batches that share two levels.
    """
    of = {b: b[0] for _, b in EACH_ITS_OWN}
    found = fit(EACH_ITS_OWN, of, day_of={b: b[1] for b in of})
    assert found is not None
    assert found.means == pytest.approx({"A": 4.0, "B": 6.0})
    assert (found.people["A"], found.batches["A"]) == (4, 2)
    assert found.f_batch == 1, "two gaps, less their mean"
    assert found.f_person + found.f_rest == 8 - 4 - 4 + 2
    assert fit(EACH_ITS_OWN, of) is None, "in one sitting that were two groups with nothing in common"


def test_what_two_days_show_of_a_spread_is_never_all_that_is_believed() -> None:
    """Both evenings show the same gap: their spread is nought by luck, and as much as is assumed counts."""
    cells = {
        (p, f"{m}{d}"): 4.0 + up + lift + (3.0 if m == "B" else 0.0) + (0.5 if (p, m) == ("p", "B") else 0.0)
        for p, up in (("p", 0.0), ("q", 1.0), ("r", 0.5), ("s", 1.5))
        for d, lift in (("1", 0.0), ("2", 1.0))
        for m in "AB"
    }
    of = {b: b[0] for _, b in cells}
    found = fit(cells, of, day_of={b: b[1] for b in of})
    assert found is not None
    assert found.f_batch == 1
    r = nested_range(found, "B", "A")
    assert r is not None
    # Of eight answers a way: 4 people a cooking, half of 4 x 0.36, on two degrees of freedom.
    least = 4.303 * (0.5 * (4 * 0.36 + found.ms_rest) * 2 / 8) ** 0.5
    assert r.high - r.difference >= 0.9 * least
    answers = [Answer(p, b[0], b, "q", v) for (p, b), v in cells.items()]
    told = judge(
        School.WEIGHTED, [Arm(m, m, m, 2) for m in "AB"], answers, [LIKED], day_of={b: b[1] for b in of}
    )
    assert "0.6 points assumed beside what these show" in told.sentences[0].stands_on


def told_of(cells: Mapping[tuple[str, str], float], **more: Any) -> str:
    answers = [Answer(p, b[0], b, "q", v) for (p, b), v in cells.items()]
    arms = [Arm(m, m, m, 1) for m in sorted({a.method for a in answers})]
    return judge(School.WEIGHTED, arms, answers, [LIKED], **more).headline


def test_why_nothing_can_be_compared_is_what_is_so() -> None:
    assert "Not comparable" not in told_of(EACH_ITS_OWN, day_of={b: b[1] for _, b in EACH_ITS_OWN})
    assert "nothing in common" in told_of(EACH_ITS_OWN)
    one_each = {k: v for k, v in EACH_ITS_OWN.items() if k[0] in "pr"}
    said = told_of(one_each, day_of={b: b[1] for _, b in one_each})
    assert "nobody tasted beside another" in said
    assert "One person" not in said
    alone = {("p", "A1"): 5.0, ("q", "B1"): 6.0}
    assert "nobody has scored two methods" in told_of(alone)
    apart = {("p", "A1"): 5.0, ("p", "B1"): 6.0, ("q", "C2"): 5.0, ("q", "D2"): 6.0}
    assert "none on both" in told_of(apart, day_of={b: b[1] for _, b in apart})


def split_panel(random: np.random.Generator, people: int, own: float) -> dict[tuple[str, str], float]:
    """Half want A by so much, half want B, over two batches each."""
    return {
        (f"p{i}", f"{m}{b}"): float(6 + (own if (i % 2 == 0) == (m == "A") else 0.0) + random.normal(0, 1))
        for i in range(people)
        for m in "AB"
        for b in range(2)
    }


METHOD_OF = {f"{m}{b}": m for m in "AB" for b in range(2)}


def test_camps_are_found_where_they_are_and_not_where_they_are_not() -> None:
    random, panels = np.random.default_rng(9), 300
    wrong = right = 0
    for _ in range(panels):
        for own in (0.0, 3.0):
            table = split_panel(random, 8, own)
            found = fit(table, METHOD_OF)
            assert found is not None
            luck = differ(found)
            seen = luck is not None and luck <= 0.05 and camps(table, METHOD_OF, "A", "B") is not None
            wrong += seen and own == 0.0
            right += seen and own > 0.0
    assert wrong / panels <= 0.02
    assert right / panels >= 0.6


def test_one_way_that_all_want_makes_no_camps() -> None:
    random = np.random.default_rng(3)
    for _ in range(200):
        table = {
            (f"p{i}", f"{m}{b}"): float(6 + (1.0 if m == "A" else 0.0) + random.normal(0, 1))
            for i in range(8)
            for m in "AB"
            for b in range(2)
        }
        assert camps(table, METHOD_OF, "A", "B") is None


def test_camps_are_told_by_how_many_want_which() -> None:
    rows = [(8, 8.5, 3, 3.5), (9, 8, 4, 3), (8.5, 8, 3, 4), (3, 4, 8, 9), (4, 3, 9, 8), (3, 3.5, 8.5, 8)]
    answers = [
        Answer(f"p{n}", m, f"{m}{b}", "q", row[2 * (m == "B") + b])
        for n, row in enumerate(rows)
        for m in "AB"
        for b in range(2)
    ]
    v = judge(School.WEIGHTED, [Arm(m, m, f"Way {m}", 2) for m in "AB"], answers, [LIKED])
    assert any(s.text.startswith("3 want Way A, 3 want Way B") for s in v.sentences)


def test_one_person_gets_an_answer_that_is_called_theirs() -> None:
    answers = [Answer("p", m, f"{m}{b}", "q", 8.0 if m == "A" else 6.0) for m in "AB" for b in range(2)]
    v = judge(School.WEIGHTED, [Arm(m, m, f"Way {m}", 2) for m in "AB"], answers, [LIKED])
    assert v.headline == "One person liked Way A better than Way B every time: their taste, not a verdict."
    assert "Way A against Way B, over 2 cookings of each" in v.sentences[0].text
    assert v.interval is None
    assert v.leader == "A"
    # How likely it is the best for people cannot be had from one of them.
    assert (v.likely, dict(v.shares)) == ("", {})


@pytest.mark.parametrize(
    ("scores", "matters", "says"),
    [
        ({"A0": 8, "B0": 6, "A1": 6, "B1": 7}, 0.0, "could not tell Way A from Way B"),
        ({"A0": 7, "B0": 7, "A1": 6, "B1": 6}, 0.0, "scored Way A and Way B alike"),
        ({"A0": 7, "B0": 6.5, "A1": 6, "B1": 5.5}, 1.0, "by less than the 1 points that matter"),
    ],
)
def test_one_person_who_cannot_tell_leads_nothing(
    scores: dict[str, float], matters: float, says: str
) -> None:
    answers = [Answer("p", b[0], b, "q", v) for b, v in scores.items()]
    day_of = {b: b[1] for b in scores}
    arms = [Arm(m, m, f"Way {m}", 2) for m in "AB"]
    v = judge(School.WEIGHTED, arms, answers, [LIKED], matters=matters, day_of=day_of)
    assert says in v.headline
    assert v.leader is None


@pytest.mark.parametrize(
    ("people", "methods", "batches", "spread"), [(4, 2, 2, 0.6), (8, 4, 2, 0.6), (12, 3, 3, 1.0)]
)
def test_identical_ways_judged_by_rank_are_rarely_called_clear(
    people: int, methods: int, batches: int, spread: float
) -> None:
    """All samples of a person ranked together, as the school of ranks does."""
    random, wrong, panels = np.random.default_rng(8), 0, 400
    names = [f"m{m}b{b}" for m in range(methods) for b in range(batches)]
    for _ in range(panels):
        true = random.normal(0, spread, len(names))
        raw = random.normal(6, 1, (people, 1)) + true + random.normal(0, 1, (people, len(names)))
        ranks = rankdata(np.clip(np.round(2 * raw) / 2, 0, 10), axis=1)
        cells = {(f"p{i}", b): float(ranks[i, j]) for i in range(people) for j, b in enumerate(names)}
        found = fit(cells, {b: b.split("b")[0] for b in names})
        assert found is not None
        first, second = sorted(found.means, key=lambda m: -found.means[m])[:2]
        r = nested_range(found, first, second)
        assert r is not None
        wrong += r.low > 0
    assert wrong / panels <= 0.05 + 2 * (0.05 * 0.95 / panels) ** 0.5

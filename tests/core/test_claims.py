"""Claims, counts, curves, crossings, loads: against figures worked out by hand, and what is never said."""

from collections.abc import Mapping, Sequence
from itertools import pairwise
from math import comb

import numpy as np
import pytest

from yeasty.core.ask.deciding import Deciding, School
from yeasty.core.ask.trial import Attribute
from yeasty.core.decide.claims import Ground, claimable, told
from yeasty.core.decide.compared import OnRecord, compare
from yeasty.core.decide.crossing import Rung, crossing
from yeasty.core.decide.curves import heights
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.nested import fit, nested_range
from yeasty.core.decide.outcome import Asks, Dot, HowSure, Stands
from yeasty.core.decide.questions import QUESTIONS
from yeasty.core.decide.questions.grid import additive
from yeasty.core.decide.questions.kind import Asked, Basis, Look, Way
from yeasty.core.decide.records import judged_lines, lines_of
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer
from yeasty.core.decide.tallies import tally_gap
from yeasty.core.decide.verdict import judge
from yeasty.core.decide.what_next import half_width, what_next
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.scales import Scale

WAYS = [Way("a", "OV", "Oven", True), Way("b", "AF", "Air fryer", True), Way("c", "ST", "Steamer", True)]


def ground(
    values: Mapping[str, Mapping[str, Sequence[float]]],
    *,
    ways: Sequence[Way] = WAYS,
    differ: Sequence[str] = ("oven set to", "lid"),
    counts: Mapping[str, Mapping[str, Sequence[tuple[int, int]]]] | None = None,
) -> Ground:
    return Ground(ways, OnRecord(values, counts or {}), {}, True, lambda a, b: differ)


HANDS = {"hands_s": {"a": (240.0, 250.0), "b": (600.0, 610.0), "c": (600.0, 605.0)}}


def test_only_what_stands_is_offered_and_the_rest_says_why() -> None:
    found = {(c.subject, c.other): c for c in claimable(ground(HANDS))}
    assert found["a", "b"].stands
    assert found["a", "b"].standing is Stands.MEASURED
    # 245 s against 605 s: six minutes less, twice each.
    assert (
        "Oven (4 min in 2 cookings) against Air fryer (10 min in 2 cookings): 6 min less"
        in found["a", "b"].text
    )
    assert not found["b", "c"].stands
    assert "cannot be told apart by hands:" in found["b", "c"].why_not
    assert found["a", None].text.startswith("Hands: Oven comes out lowest of 3 ways")
    assert ("b", None) not in found, "it stands apart from none but one"


def test_a_claim_credits_a_cause_only_where_nothing_else_differed() -> None:
    assert "credits no single cause" in told(ground(HANDS), "hands_s", "a", "b").text
    alone = told(ground(HANDS, differ=["lid"]), "hands_s", "a", "b").text
    assert alone.endswith("Nothing else on record differed between them than lid.")


def test_no_claim_of_what_was_not_measured_not_safe_or_not_there() -> None:
    some = {"hands_s": {"a": (240.0, 250.0), "b": (600.0, 610.0)}}
    assert "Steamer: not measured" in told(ground(some), "hands_s", "a", "c").why_not
    assert "Steamer: not measured" in told(ground(some), "hands_s", "a", None).why_not
    raw = [Way("a", "OV", "Oven", False), *WAYS[1:]]
    assert "nothing is claimed for it" in told(ground(HANDS, ways=raw), "hands_s", "a", "b").why_not
    assert "itself" in told(ground(HANDS), "hands_s", "a", "a").why_not
    assert "none of this trial" in told(ground(HANDS), "hands_s", "a", "z").why_not
    assert "no measure" in told(ground(HANDS), "of luck", "a", "b").why_not


def test_one_cooking_of_each_is_never_clear() -> None:
    once = {"hands_s": {"a": (240.0,), "b": (600.0,)}}
    c = told(ground(once, ways=WAYS[:2]), "hands_s", "a", "b")
    assert (c.stands, c.how_sure) == (True, HowSure.LEANING)
    assert "was not seen" in c.text


def people(rows: Mapping[str, Sequence[Sequence[float]]]) -> Ground:
    cells = {
        (f"p{n}", f"{m}{b}"): v for m, bs in rows.items() for b, ps in enumerate(bs) for n, v in enumerate(ps)
    }
    found = fit(cells, {b: b[0] for _, b in cells})
    assert found is not None
    return Ground(WAYS, OnRecord(), {"asked:q": ("crust", found)}, True, lambda a, b: [])


def test_a_difference_too_small_to_matter_is_told_as_one() -> None:
    rows = {"a": [[7, 8, 6, 7.5]] * 2, "b": [[6.6, 7.5, 5.6, 7.2]] * 2}
    cells = {(a.taster, a.batch): a.value or 0.0 for a in scored_of(rows)}
    found = fit(cells, {b: b[0] for _, b in cells})
    assert found is not None
    g = Ground(WAYS, OnRecord(), {"score": ("all", found)}, True, lambda a, b: [], matters=1.0)
    c = told(g, "score", "a", "b")
    assert c.stands
    assert c.text.startswith("Oven was judged better than Air fryer in all: 0.4 points")
    assert c.text.endswith("That is less than the 1 point that was said to matter.")


def test_what_people_said_is_claimed_with_its_range_and_never_past_it() -> None:
    far = people({"a": [[9, 9, 8.5, 9, 9.5]] * 2, "b": [[3, 2, 3, 3.5, 2]] * 2})
    c = told(far, "asked:q", "b", "a")
    assert c.text.startswith("Oven was judged better than Air fryer in crust: 6.3 points"), (
        "whichever was picked"
    )
    assert (c.standing, c.how_sure) == (Stands.JUDGED, HowSure.CLEAR)
    near = people({"a": [[6, 7, 6, 7, 6]] * 2, "b": [[6.5, 6.5, 6, 7, 6.5]] * 2})
    assert not told(near, "asked:q", "a", "b").stands
    alone = people({"a": [[9], [9]], "b": [[3], [3]]})
    assert "that person alone" in told(alone, "asked:q", "a", "b").why_not


@pytest.mark.parametrize(
    ("first", "second"), [((8, 8), (5, 8)), ((8, 8), (1, 8)), ((6, 6), (0, 6)), ((3, 10), (4, 12))]
)
def test_counts_are_compared_by_every_way_in_which_they_could_have_fallen(
    first: tuple[int, int], second: tuple[int, int]
) -> None:
    (a, m), (b, n) = first, second
    # Of all ways of dealing the ones that were it to the two, those as unlikely as what was seen or more.
    whole = a + b
    chance = {
        k: comb(m, k) * comb(n, whole - k) / comb(m + n, whole)
        for k in range(max(0, whole - n), min(m, whole) + 1)
    }
    luck = sum(p for p in chance.values() if p <= chance[a] * (1 + 1e-9))
    g = tally_gap([first], [second])
    assert g.luck == pytest.approx(luck)
    assert g.stands is (luck <= 0.05)


def test_pieces_of_one_batch_share_its_luck() -> None:
    # 12 of 16 against 4 of 16 over pieces; but each way's two batches lie as far apart as the ways do.
    apart = tally_gap([(8, 8), (4, 8)], [(4, 8), (0, 8)])
    assert apart.luck < 0.05
    assert not apart.stands
    m = measure_of("tally:sealed")
    assert m is not None
    shares = {"tally:sealed": {"a": (1.0, 0.5), "b": (0.5, 0.0)}}
    counts = {"tally:sealed": {"a": ((8, 8), (4, 8)), "b": ((4, 8), (0, 8))}}
    c = compare(m, "a", "b", OnRecord(shares, counts))
    assert c.sure is HowSure.LEVEL
    assert "in 100" in c.stands_on


def test_curves_are_held_against_each_other_where_all_of_them_go() -> None:
    oven = ((0.0, 20.0), (600.0, 80.0))
    fryer = ((300.0, 60.0), (900.0, 90.0))
    # From 5 to 10 minutes: the oven from 50 to 80, mean 65; the fryer from 60 to 75, mean 67.5.
    assert heights({"a": [oven], "b": [fryer]}) == {"a": (65.0,), "b": (67.5,)}
    assert heights({"a": [oven], "b": [((900.0, 90.0), (1000.0, 91.0))]}) == {}
    assert heights({"a": [oven], "b": [((900.0, 90.0),)]}) == {"a": (50.0,)}, "one reading is no curve"


def test_where_a_state_turns_is_bracketed_where_no_rung_has_some_of_both() -> None:
    c = crossing([Rung(600, 0, 4), Rung(720, 0, 4), Rung(840, 4, 4), Rung(960, 4, 4)])
    assert c is not None
    assert (c.separated, c.at, c.low, c.high, c.all_from) == (True, None, 720, 840, 840)
    burst = crossing([Rung(600, 4, 4), Rung(720, 0, 4)])
    assert burst is not None
    assert (burst.rises, burst.low, burst.high) == (False, 600, 720)
    assert crossing([Rung(600, 2, 4), Rung(720, 2, 4)]) is None
    assert crossing([Rung(600, 4, 4)]) is None


def test_where_a_state_turns_is_half_way_where_counts_lie_evenly() -> None:
    c = crossing([Rung(10, 0, 8), Rung(20, 2, 8), Rung(30, 6, 8), Rung(40, 8, 8)])
    assert c is not None
    assert c.at == pytest.approx(25, abs=0.5), "they lie evenly about 25"
    assert c.low is not None
    assert c.high is not None
    assert 15 < c.low < 25 < c.high < 35
    assert c.all_from == 40


def test_the_range_of_a_crossing_holds() -> None:
    random, held, runs = np.random.default_rng(8), 0, 300
    rungs = [10.0, 20.0, 30.0, 40.0, 50.0]
    for _ in range(runs):
        true = float(random.uniform(20, 40))
        rows = [Rung(r, int(random.binomial(8, 1 / (1 + np.exp(-(r - true) / 5)))), 8) for r in rungs]
        c = crossing(rows)
        if c is None:
            runs -= 1
            continue
        held += (c.low is None or c.low <= true) and (c.high is None or true <= c.high)
    assert held / runs >= 0.92


def ladder(counts: Mapping[str, Sequence[tuple[int, int]]]) -> Basis:
    rows = {"a": [[3, 4, 3, 4]], "b": [[6, 7, 6, 7]], "c": [[5, 5, 6, 5]]}
    answers = scored_of(rows)
    arms = [Arm(w.key, w.tag, w.name, 1) for w in WAYS]
    asked = [Attribute("q", "liked", Scale.INTENSITY, 1)]
    base = scored(School.WEIGHTED, arms, answers, asked)
    v = judge(School.WEIGHTED, arms, answers, asked)
    return Basis(v, base.table, base.method_of, base.fit, counts={"tally:tender": counts})


def scored_of(rows: Mapping[str, Sequence[Sequence[float]]]) -> list[Answer]:
    return [
        Answer(f"p{n}", m, f"{m}{b}", "q", v)
        for m, bs in rows.items()
        for b, ps in enumerate(bs)
        for n, v in enumerate(ps)
    ]


def test_a_ladder_tells_the_time_to_a_state_with_its_counts() -> None:
    rungs = [
        Way("a", "A", "Way a", True, 600.0, "10 min"),
        Way("b", "B", "Way b", True, 900.0, "15 min"),
        Way("c", "C", "Way c", True, 1200.0, "20 min"),
    ]
    basis = ladder({"a": [(0, 4)], "b": [(4, 4)], "c": [(4, 4)]})
    found = QUESTIONS[Asks.LADDER](Asked(rungs, rises="time", one_load=True), basis)
    said = [s.text for s in found.sentences]
    told_of = next(s for s in said if "tender" in s)
    assert "10 min 0 of 4, 15 min 4 of 4, 20 min 4 of 4" in told_of
    assert "between 10 min and 15 min" in told_of
    assert "from 15 min on all were" in told_of
    assert any("one load" in s for s in said)


def test_ways_along_a_ladder_are_a_curve_each_on_one_axis() -> None:
    names = ["200 °C", "220 °C"]
    times = {"8 min": 480.0, "10 min": 600.0, "12 min": 720.0, "14 min": 840.0}
    liked = {"200 °C": [2, 5, 7, 5], "220 °C": [5, 7, 5, 2]}
    ways, rows = [], {}
    for heat in names:
        for n, (at, _) in enumerate(times.items()):
            key = f"{heat}{at}"
            ways.append(Way(key, key, key, True, levels=(heat, at)))
            rows[key] = [[liked[heat][n] + wobble for wobble in (0.0, 0.5, -0.5, 0.25, -0.25)]]
    answers = scored_of(rows)
    arms = [Arm(w.key, w.tag, w.name, 1) for w in ways]
    asked = [Attribute("q", "liked", Scale.INTENSITY, 1)]
    base = scored(School.WEIGHTED, arms, answers, asked)
    v = judge(School.WEIGHTED, arms, answers, asked)
    found = QUESTIONS[Asks.GRID](
        Asked(ways, factors=["heat", "time"], along=(1, times)),
        Basis(v, base.table, base.method_of, base.fit),
    )
    assert found.picture.shape == "curves"
    assert {m.group for m in found.picture.marks} == set(names)
    at = [m.at for m in found.picture.marks if m.group == "200 °C"]
    assert all(a < b for a, b in pairwise([x for x in at if x is not None]))
    assert any(s.text.startswith("200 °C: ") and "12 min" in s.text for s in found.sentences)


def grid_of(days: Mapping[str, str], mood: float) -> tuple[Asked, Basis]:
    """Two factors, four cells; the second level of each is two points better, the second day by a mood."""
    ways, rows = [], {}
    for a in "xy":
        for b in "pq":
            ways.append(Way(a + b, a + b, a + b, True, levels=(a, b)))
            truth = 4 + 2 * (a == "y") + 2 * (b == "q") + (mood if days[a + b] == "2" else 0)
            rows[a + b] = [[truth + wobble for wobble in (-0.5, 0.0, 0.5, 0.25, -0.25)]]
    # What does not add up a little, else no range has a width.
    rows["xp"][0][0] += 0.2
    answers = scored_of(rows)
    arms = [Arm(w.key, w.tag, w.name, 1) for w in ways]
    asked = [Attribute("q", "liked", Scale.INTENSITY, 1)]
    base = scored(School.WEIGHTED, arms, answers, asked)
    day_of = {f"{k}0": d for k, d in days.items()}
    v = judge(School.WEIGHTED, arms, answers, asked)
    return Asked(ways, factors=["first", "second"]), Basis(
        v, base.table, base.method_of, base.fit, day_of=day_of
    )


def test_what_a_day_did_to_a_grid_is_taken_out_or_said_to_be_mixed_with_a_factor() -> None:
    across = {"xp": "1", "xq": "2", "yp": "2", "yq": "1"}
    asked, basis = grid_of(across, 3.0)
    found = additive(basis.table, basis.method_of, asked.ways, asked.factors, basis.day_of)
    assert found is not None
    assert {e.factor: round(e.gap, 1) for e in found.effects} == {"first": 2.0, "second": 2.0}
    plain = additive(basis.table, basis.method_of, asked.ways, asked.factors)
    assert plain is not None
    along = {"xp": "1", "xq": "1", "yp": "2", "yq": "2"}
    mixed = QUESTIONS[Asks.GRID](*grid_of(along, 3.0))
    assert mixed.sentences[0].text.startswith("Levels of a factor were tasted on days of their own")
    assert "matters" not in mixed.headline


def test_a_screening_tells_families_together_and_what_was_judged_from_memory() -> None:
    rows = [
        Way("a", "A", "Steamed short", True, word="fair", family="Steamer"),
        Way("b", "B", "Steamed long", True, word="good", family="Steamer"),
        Way("c", "C", "Fried", True, word="weak", family="Deep fryer", cooked=False),
    ]
    asked = Asked(rows, words=["weak", "fair", "good"], few=1)
    said = [s.text for s in QUESTIONS[Asks.SCREENING](asked, ladder({})).sentences]
    assert "Steamer: 2 ways, “fair” to “good”, furthest Steamed long." in said
    assert "Judged from memory or elsewhere, not cooked to the end here: Fried." in said
    assert not any(s.startswith("Deep fryer") for s in said), "one way is no family"


def test_looks_are_laid_side_by_side_and_none_is_called_better() -> None:
    looks = {"a": [Look("underside", "“pale” (batch 1)")], "b": [Look("top", "“brown” (batch 1)")]}
    basis = Basis(ladder({}).verdict, {}, {}, None, looks=looks)
    found = QUESTIONS[Asks.CLAIM](Asked(WAYS, deciding=Deciding(claim="looks:underside")), basis)
    assert (found.leader, found.how_sure) == (None, HowSure.NOT_COMPARABLE)
    assert found.headline.endswith("1 of 3 ways on record")
    assert any("Nothing is on record for Air fryer, Steamer" in s.text for s in found.sentences)
    assert all(s.standing is Stands.SEEN for s in found.sentences)


def test_records_that_contradict_each_other_are_told_and_none_is_chosen() -> None:
    basis = Basis(
        ladder({}).verdict,
        {},
        {},
        None,
        measured={"loss:drip": {"a": (0.1, 0.1), "b": (0.2, 0.2)}},
        contradicted=["Oven, batch 1: two weights called drip, 40 g and 80 g; the later stands"],
    )
    found = QUESTIONS[Asks.CLAIM](Asked(WAYS[:2], deciding=Deciding(claim="loss:drip")), basis)
    assert any("contradict each other: Oven, batch 1" in s.text for s in found.sentences)


def test_what_a_load_makes_of_all_it_holds_cancels_between_them() -> None:
    """Two finishes of shared cooks: cooks differ by much, finishes by nothing."""
    random, clear, narrower, runs = np.random.default_rng(3), 0, 0, 250
    attribute = Attribute("q", "liked", Scale.INTENSITY, 1)
    arms = [Arm(k, k, k, 3) for k in "ab"]
    for _ in range(runs):
        cooks = random.normal(0, 1.5, 3)
        level, answers = random.normal(5, 1, 8), []
        for m in "ab":
            for c, cook in enumerate(cooks):
                own = random.normal(0, 0.3)
                said = np.clip(level + cook + own + random.normal(0, 1, 8), 0, 10)
                answers += [Answer(f"p{n}", m, f"{m}{c}", "q", float(v)) for n, v in enumerate(said)]
        day_of = {f"{m}{c}": f"cook {c}" for m in "ab" for c in range(3)}
        within = judge(School.WEIGHTED, arms, answers, [attribute], day_of=day_of)
        plain = judge(School.WEIGHTED, arms, answers, [attribute])
        clear += within.how_sure is HowSure.CLEAR
        if within.interval and plain.interval:
            wide = [i.high - i.low for i in (within.interval, plain.interval)]
            narrower += wide[0] < wide[1]
    assert clear / runs <= 0.05 + 2 * (0.05 * 0.95 / runs) ** 0.5
    assert narrower / runs > 0.8, "the spread of the cooks is no longer in it"


def test_what_would_narrow_it_most_follows_from_its_parts() -> None:
    # Batches 1 apart within each way, all people alike: the batch is all that is left to narrow.
    rows = {"a": [[7, 7.1, 7, 7.1]], "b": [[5, 5.1, 5, 5.1]]}
    rows = {m: [bs[0], [v + 1 for v in bs[0]]] for m, bs in rows.items()}
    cells = {
        (f"p{n}", f"{m}{b}"): v for m, bs in rows.items() for b, ps in enumerate(bs) for n, v in enumerate(ps)
    }
    f = fit(cells, {b: b[0] for _, b in cells})
    assert f is not None
    # Batches of a way lie 1 apart: mean square 4 people · ½ = 2 on 2 degrees of freedom, t 4.303, so
    # 4.303 · √(2 · 2 / (4 · 2)) = 3.04. A third cooking: 4 degrees, t 2.776, 2.776 · √(4 / 12) = 1.60.
    assert half_width(f, 4, 2) == pytest.approx(3.04, abs=0.02)
    assert half_width(f, 4, 3) == pytest.approx(1.60, abs=0.02)
    assert half_width(f, 40, 2) == pytest.approx(half_width(f, 4, 2), rel=0.02), "people narrow no batch"
    told_range = nested_range(f, "a", "b")
    assert told_range is not None
    assert half_width(f, 4, 2) == pytest.approx((told_range.high - told_range.low) / 2, rel=0.01)
    # Two degrees of freedom show hardly anything of a spread: nothing is projected from them.
    few = what_next(f, "a", "b", 3600)
    assert len(few) == 1
    assert few[0].startswith("So few cookings hardly show")
    assert "about 1 h" in few[0]
    more = {m: [*bs, [v + 0.5 for v in bs[0]]] for m, bs in rows.items()}
    known = fit(
        {(a.taster, a.batch): a.value or 0.0 for a in scored_of(more)},
        {f"{m}{n}": m for m in "ab" for n in range(3)},
    )
    assert known is not None
    lines = what_next(known, "a", "b", 3600)
    assert any("about 1 h" in line for line in lines)
    assert lines[-1] == "Another cooking tells more than more people would."
    once = fit(
        {(a.taster, a.batch): a.value or 0.0 for a in scored_of({"a": [[7, 6, 7]], "b": [[5, 5, 6]]})},
        {"a0": "a", "b0": "b"},
    )
    assert once is not None
    assert what_next(once, "a", "b", None)[0].startswith("Cook each once more before asking more people")


def test_of_many_comparisons_only_what_would_stand_among_so_many_is_clear() -> None:
    """Ways alike in everything, many measures: about one in twenty stands, and hardly ever clear."""
    random, stood, clear, looked = np.random.default_rng(5), 0, 0, 0
    keys = ("total_s", "hands_s", "come_up_s", "cooking_s", "waiting_s", "wash_up_s", "busy_s", "energy_j")
    for _ in range(60):
        values = {
            k: {
                w.key: tuple(
                    random.normal(2e6 if k == "energy_j" else 1800, 2e5 if k == "energy_j" else 200, 3)
                )
                for w in WAYS
            }
            for k in keys
        }
        found = [c for c in claimable(ground(values)) if c.other]
        looked += len(found)
        stood += sum(c.stands for c in found)
        clear += any(c.how_sure is HowSure.CLEAR for c in found)
    assert stood / looked <= 0.08
    assert clear / 60 <= 0.05 + 2 * (0.05 * 0.95 / 60) ** 0.5


def entry(kind: EntryKind, at: float, payload: dict[str, object]) -> Entry:
    return Entry(f"{kind}{at}", "b", kind, at, "d", int(at), payload)


def test_records_are_what_the_measure_was_taken_from_and_name_nobody() -> None:
    log = [
        entry(EntryKind.WEIGHT, 600, {"of": "cooked", "kg": 0.4}),
        entry(EntryKind.WEIGHT, 0, {"of": "raw", "kg": 0.5}),
        entry(EntryKind.NOTE, 100, {"text": "Ada said it smells"}),
        entry(EntryKind.TEMPERATURE, 300, {"celsius": 80, "where": "core"}),
    ]
    lines = lines_of("cooked_yield", log, "Oven, batch 1", "80 %", lambda _: "")
    assert lines == [
        "Oven, batch 1: 80 %",
        "Oven, batch 1, minute 0: weight, raw: 500 g",
        "Oven, batch 1, minute 10: weight, cooked: 400 g",
    ]
    people = judged_lines([Dot("zoe", "a", "q", 7.0), Dot("ada", "a", "q", 6.0)], [("a", "Oven")])
    assert people == ["person 1: Oven 6.0", "person 2: Oven 7.0"]

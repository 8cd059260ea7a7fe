"""Kinds of trial, grids and their parts, ladders, screenings, families, shopping."""

from decimal import Decimal
from itertools import combinations
from math import prod

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from yeasty.core.ask.fractions import block, choose, least_cells, what_they_tell
from yeasty.core.ask.grid import (
    Factor,
    Grid,
    Level,
    affordable,
    all_cells,
    check_cells,
    check_grid,
    grid_from_record,
    need,
    open_cells,
    sentence,
)
from yeasty.core.ask.kinds import KINDS, Arm, Design, check_design, varied_by
from yeasty.core.ask.ladder import Ladder, check_ladder, pulls
from yeasty.core.ask.lineage import Member, generations, places
from yeasty.core.ask.marks import DOT_RADIUS, MOST_MARKS, mark
from yeasty.core.ask.screening import WORDS, best_few, check_words, read_table
from yeasty.core.ask.techniques import Technique, check_technique, offered, techniques
from yeasty.core.ask.trial import Attribute, DoneRule, TrialKind
from yeasty.core.ask.worth import worth
from yeasty.core.kernel.errors import OutOfRange, RuleError
from yeasty.core.kernel.scales import Scale

JUDGED = [Attribute("c", "crust", Scale.INTENSITY, 1)]


def grid(*levels: int, **more: object) -> Grid:
    names = "abcdef"
    return Grid(
        tuple(
            Factor(names[i], tuple(Level(f"{names[i]}{n}") for n in range(k))) for i, k in enumerate(levels)
        ),
        **more,
    )  # type: ignore[arg-type]


def test_every_kind_says_what_it_asks_of_the_later_stations() -> None:
    assert set(KINDS) == set(TrialKind)
    assert len(KINDS) == 9
    for kind in KINDS.values():
        assert set(kind.asks) == {"cook", "taste", "decide"}
        assert all(len(a) > 10 for a in kind.asks.values())


@pytest.mark.parametrize(
    ("kind", "layout", "arms", "field"),
    [
        (TrialKind.CHAMPION, {}, [Arm("A"), Arm("B", True, "coat", "dry")], "champion"),
        (TrialKind.CHAMPION, {"champion": "x"}, [Arm("A"), Arm("B", True, "coat", "")], "B"),
        (TrialKind.GRID, {}, [], "grid"),
        (TrialKind.LADDER, {}, [], "ladder"),
        (
            TrialKind.LADDER,
            {"rungs": [60, 120, 180, 240], "guess": 200, "rises": "time", "pots": 4},
            [Arm("A")] * 4,
            "rungs",
        ),
        (TrialKind.SCREENING, {"words": ["bad"]}, [Arm("A")] * 3, "words"),
        (TrialKind.CHAIN, {}, [Arm("A"), Arm("B")], "B"),
        (TrialKind.VARIETIES, {}, [Arm("A"), Arm("B")], "variety"),
        (TrialKind.BRANCH, {}, [Arm("A")], "methods"),
    ],
)
def test_each_kind_has_checks_of_its_own(
    kind: TrialKind, layout: dict[str, object], arms: list[Arm], field: str
) -> None:
    found = check_design(Design("Which?", JUDGED, kind, arms, layout))
    assert field in {e.field for e in found}
    assert all(e.todo.endswith(".") or e.todo.endswith("”.") for e in found)


def test_a_screening_needs_no_attributes_and_a_match_needs_its_sample() -> None:
    screening = Design("Which?", [], TrialKind.SCREENING, [Arm("A")] * 3, {"words": list(WORDS)})
    assert check_design(screening) == []
    match = Design("Which?", JUDGED, TrialKind.SIDE_BY_SIDE, [Arm("A"), Arm("B")], {}, DoneRule.UNTIL_MATCH)
    assert [e.field for e in check_design(match)] == ["sample to match"]


def test_what_a_ladder_varies_follows_what_rises() -> None:
    assert varied_by(TrialKind.LADDER, {"rises": "time"})[0] == "cooking time"
    assert varied_by(TrialKind.LADDER, {"rises": "core temperature"})[0] == "end rule"


@given(st.lists(st.integers(2, 4), min_size=1, max_size=3), st.data())
def test_cells_are_all_combinations_less_those_struck_out(levels: list[int], data: st.DataObject) -> None:
    g = grid(*levels)
    cells = all_cells(g)
    assert len(cells) == len(set(cells)) == int(np.prod(levels))
    struck = data.draw(st.sets(st.sampled_from(cells), max_size=len(cells) - 1))
    left = open_cells(Grid(g.factors, dict.fromkeys(struck, "not wanted")))
    assert set(left) == set(cells) - struck


@given(st.integers(1, 48), st.integers(1, 6), st.integers(1, 4), st.integers(0, 400))
def test_pieces_at_hand_and_short_of_make_what_is_needed(
    cells: int, pieces: int, replicates: int, hand: int
) -> None:
    n = need(grid(2, 2, pieces_a_cell=pieces, replicates=replicates, pieces_at_hand=hand), cells)
    assert n.pieces == cells * pieces * replicates
    assert n.short_of == max(0, n.pieces - hand)


def test_too_few_pieces_are_seen_before_the_first_cut() -> None:
    g = grid(3, 2, pieces_a_cell=6, pieces_at_hand=30)
    assert "6 pieces too few before the first cut" in sentence(g)
    assert affordable(g) == 5
    short = Design(
        "Which?",
        JUDGED,
        TrialKind.GRID,
        [Arm(str(i)) for i in range(6)],
        {
            "factors": [
                {"name": "a", "levels": [{"name": "1"}, {"name": "2"}, {"name": "3"}]},
                {"name": "b", "levels": [{"name": "x"}, {"name": "y"}]},
            ],
            "pieces_a_cell": 6,
            "pieces_at_hand": 30,
        },
    )
    assert "pieces" in {e.field for e in check_design(short)}


def test_a_bad_grid_names_what_is_wrong() -> None:
    record = {
        "factors": [
            {"name": "heat", "levels": [{"name": "180"}]},
            {"name": "heat", "levels": [{"name": "a"}, {"name": "a"}]},
        ]
    }
    fields = [e.field for e in check_grid(grid_from_record(record))]
    assert fields.count("heat") == 2
    assert "factors" in fields
    with pytest.raises(OutOfRange, match="open cells"):
        check_cells(grid(2, 2), [(0, 0), (5, 5)])


@pytest.mark.parametrize(("factors", "cells"), [(4, 8), (5, 16)])
def test_half_of_a_two_level_grid_keeps_main_effects_apart_from_pairs(factors: int, cells: int) -> None:
    """Resolution IV and V: the standard half fractions."""
    part = choose(grid(*([2] * factors)), cells)
    assert len(part.cells) == cells
    mains = set("abcde"[:factors])
    assert not any(a in mains or b in mains for a, b in part.together)
    assert (part.together == ()) == (factors == 5)
    assert part.blurred == ()


def test_the_whole_grid_tells_everything_apart_and_a_missing_cell_is_said() -> None:
    assert what_they_tell(grid(3, 2), open_cells(grid(3, 2))).sentence().startswith("Every main effect")
    one_out = Grid(grid(3, 2).factors, {(2, 1): "burns"})
    assert what_they_tell(one_out, open_cells(one_out)).blurred


@settings(max_examples=15)
@given(
    st.lists(st.integers(2, 3), min_size=2, max_size=4).filter(lambda levels: prod(levels) <= 36),
    st.randoms(use_true_random=False),
)
def test_permuting_factors_changes_nothing_in_what_cells_tell(levels: list[int], random: object) -> None:
    g = grid(*levels)
    n = max(least_cells(g), len(all_cells(g)) // 2)
    part = choose(g, n)
    order = list(range(len(levels)))
    random.shuffle(order)  # type: ignore[attr-defined]
    turned = Grid(tuple(g.factors[i] for i in order))
    other = what_they_tell(turned, [tuple(c[i] for i in order) for c in part.cells])

    def pairs(found: tuple[tuple[str, str], ...]) -> set[frozenset[str]]:
        return {frozenset(frozenset(name.split(" × ")) for name in pair) for pair in found}  # type: ignore[misc]

    assert pairs(part.together) == pairs(other.together)
    assert {frozenset(e.split(" × ")) for e in part.clear} == {frozenset(e.split(" × ")) for e in other.clear}


def test_fewer_cells_than_effects_are_refused() -> None:
    with pytest.raises(RuleError, match="At least 5"):
        choose(grid(3, 3), 4)


def test_blocks_hide_no_main_effect_and_use_every_cell_once() -> None:
    g = grid(3, 2, 2)
    split = block(g, open_cells(g), 3)
    assert sorted(c for b in split.blocks for c in b) == open_cells(g)
    assert {len(b) for b in split.blocks} == {4}
    assert not {"a", "b", "c"} & set(split.lost)


def test_one_pot_waits_and_several_pots_meet() -> None:
    rungs = (360.0, 540.0, 720.0, 900.0)
    one = pulls(Ladder("time", rungs, 500))
    assert [p.at_s for p in one] == list(rungs)
    assert [p.waits_s for p in one] == [540, 360, 180, 0]
    assert one[-1].left == 0
    several = pulls(Ladder("time", rungs, 500, pots=4))
    assert {p.start_s + p.at_s for p in several} == {900.0}


def test_a_ladder_goes_past_the_guess_and_leaves_hands_their_time() -> None:
    assert [e.message for e in check_ladder(Ladder("time", (60, 120, 180, 240), 300))] == [
        "fewer than two lie past your guess"
    ]
    assert "a pull takes" in check_ladder(Ladder("time", (60, 90, 120, 150, 180), 100))[0].message
    assert check_ladder(Ladder("time", (60, 90, 120, 150, 180), 100, pots=5)) == []
    assert check_ladder(Ladder("time", (60, 50, 180, 240), 100))[0].field == "rungs"


def test_a_pasted_table_is_read_and_its_faults_are_named_by_line() -> None:
    known = {k: t.name for k, t in techniques().items()}
    rows = read_table("Name\tTechnique\nMilk first\tOven\tslow\nRice first\tsteamer", known)
    assert [(r.name, r.technique, r.note) for r in rows] == [
        ("Milk first", "oven", "slow"),
        ("Rice first", "steamer", ""),
    ]
    [clay] = read_table("Under dough; clay pot; sealed", known)
    assert (clay.technique, clay.called, clay.note) == ("", "clay pot", "sealed")
    for text, line in (("A;—", "line 1"), ("A;oven\na;oven", "line 2"), (";oven", "line 1")):
        with pytest.raises(RuleError) as wrong:
            read_table(text, known)
        assert wrong.value.field == line
    with pytest.raises(RuleError, match="48"):
        read_table("\n".join(f"way {i}" for i in range(49)), known)


def test_nobody_who_stands_equal_with_the_last_is_left_out() -> None:
    chosen, said = best_few({"a": WORDS[3], "b": WORDS[3], "c": WORDS[3], "d": WORDS[1], "e": ""}, WORDS, 2)
    assert chosen == ("a", "b", "c")
    assert "settles nothing" in said
    with pytest.raises(RuleError):
        check_words(["good", "Good", "bad"])


@settings(max_examples=40)
@given(st.integers(1, 60), st.randoms(use_true_random=False))
def test_a_family_of_sixty_is_laid_out_without_overlap_and_parents_stand_left(
    size: int, random: object
) -> None:
    members = []
    for i in range(size):
        fathers = tuple(str(p) for p in random.sample(range(i), min(i, random.randint(0, 2))))  # type: ignore[attr-defined]
        members.append(Member(str(i), fathers, f"t{i % 5}", i))
    laid = places(members)
    assert len({(p.generation, p.row) for p in laid}) == size
    at = {p.key: p for p in laid}
    assert all(at[m.key].generation > at[p].generation for m in members for p in m.parents)
    assert all(p.row >= 0 for p in laid)


def test_nobody_is_their_own_forebear() -> None:
    with pytest.raises(RuleError, match="forebear"):
        generations([Member("a", ("b",), "t", 0), Member("b", ("a",), "t", 1)])


def test_shopping_adds_all_methods_and_replicates_up() -> None:
    w = worth(
        {"OV": {"flour": 0.2, "oil": 0.01}, "AF": {"flour": 0.3}},
        {"flour": Decimal("2.00"), "oil": None},
        {"flour": 0.5},
        {"OV": 2, "AF": 2},
        {"OV": 0.36, "AF": None},
        0.1,
        4,
    )
    assert [(b.name, b.kg, b.packs, b.cost) for b in w.buy] == [
        ("flour", 1.0, 2, Decimal("2.00")),
        ("oil", 0.02, None, None),
    ]
    assert not w.priced
    assert (round(w.food_kg, 2), w.servings, w.left_servings) == (1.32, 13, 9)
    assert "9 left over" in w.sentence("soup")


def test_techniques_of_the_kitchen_stand_in_for_shipped_ones_and_bad_ones_are_named() -> None:
    ours = Technique(
        "oven",
        "Our oven",
        "oven",
        (),
        ("hot_surface",),
        techniques()["oven"].steps,
        {"set_point_c": (220, 180)},
    )
    assert offered([ours], [])["oven"].name == "Our oven"
    assert [e.field for e in check_technique(ours)] == ["range of set_point_c"]
    bad = Technique("x", "", "rocket", (), ("moon",), (), {})
    assert {e.field for e in check_technique(bad)} == {"name", "appliance", "steps", "hazard"}


def test_forty_eight_marks_are_told_apart_in_grey_at_sixteen_pixels() -> None:
    """Each drawn at 16 px in grey: between any two, however turned or mirrored, some part is plainly darker
    in one.
    """

    def small(number: int) -> np.ndarray:
        m, big = mark(number), 256
        image = Image.new("L", (big, big), 255)
        pen = ImageDraw.Draw(image)
        k = big / 104
        for stroke in m.strokes:
            pen.line([(x * k, y * k) for x, y in stroke], fill=60, width=int(8 * k), joint="curve")
        for x, y in m.dots:
            r = DOT_RADIUS * k
            pen.ellipse([x * k - r, y * k - r, x * k + r, y * k + r], fill=60)
        return np.asarray(image.resize((16, 16), Image.Resampling.BOX), dtype=float) / 255

    pictures = [small(n) for n in range(MOST_MARKS)]
    turned = [
        [np.rot90(p, q) for p in (picture, np.fliplr(picture)) for q in range(4)] for picture in pictures
    ]
    for a, b in combinations(range(MOST_MARKS), 2):
        nearest = min(np.abs(pictures[a] - other).max() for other in turned[b])
        assert nearest > 0.35, f"{mark(a).name} and {mark(b).name} look alike at 16 px"

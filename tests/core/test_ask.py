from itertools import combinations

import numpy as np
import pytest
from PIL import Image, ImageDraw

from yeasty.core.ask.kinds import Arm, Design, check_design
from yeasty.core.ask.marks import COLOURS, DOT_RADIUS, MOST_MARKS, colour, mark, next_mark, next_tag
from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import Attribute, TrialKind, check_answer, share_of_scale
from yeasty.core.kernel.errors import OutOfRange
from yeasty.core.kernel.scales import Scale
from yeasty.core.kernel.steps import check_steps
from yeasty.core.safety.cautions import at_phase, cautions, limits

SIZE = 32


def drawn(number: int) -> np.ndarray:
    m = mark(number)
    image = Image.new("L", (SIZE * 4, SIZE * 4), 255)
    pen = ImageDraw.Draw(image)
    scale = SIZE * 4 / 100
    for stroke in m.strokes:
        pen.line([(x * scale, y * scale) for x, y in stroke], fill=0, width=9)
    for x, y in m.dots:
        r = DOT_RADIUS * scale
        pen.ellipse([x * scale - r, y * scale - r, x * scale + r, y * scale + r], fill=0)
    return np.asarray(image.resize((SIZE, SIZE)), dtype=float) / 255


def turned_and_mirrored(picture: np.ndarray) -> list[np.ndarray]:
    return [np.rot90(p, k) for p in (picture, np.fliplr(picture)) for k in range(4)]


def test_no_mark_is_another_one_turned_or_mirrored() -> None:
    pictures = {n: drawn(n) for n in range(MOST_MARKS)}
    for a, b in combinations(range(MOST_MARKS), 2):
        nearest = min(float(np.abs(pictures[a] - other).mean()) for other in turned_and_mirrored(pictures[b]))
        assert nearest > 0.008, f"{mark(a).name} and {mark(b).name} can be taken for each other"


def test_forty_eight_methods_get_marks_tags_and_colours_of_their_own() -> None:
    marks: list[int] = []
    tags: list[str] = []
    for _ in range(MOST_MARKS):
        marks.append(next_mark(marks))
        tags.append(next_tag("Oven", tags))
    assert len(set(marks)) == len(set(tags)) == 48
    assert all(len(t) == 2 and t.isupper() for t in tags)
    with pytest.raises(OutOfRange, match="48"):
        next_mark(marks)


def test_colours_stand_out_from_the_flour_ground() -> None:
    def luminance(hexed: str) -> float:
        parts = [int(hexed[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        r, g, b = (p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    for c in COLOURS:
        assert (luminance("#f5f0e6") + 0.05) / (luminance(c) + 0.05) >= 4.5, c
    assert colour(8) == colour(0)


def test_every_technique_is_a_chain_that_can_be_planned_and_its_hazards_have_cautions() -> None:
    assert len(techniques()) >= 24
    for t in techniques().values():
        assert check_steps(t.steps) == [], t.key
        told = {c.key for s in t.steps for c in at_phase(t.hazards, s.phase)}
        assert told == set(t.hazards), f"{t.key} never tells {set(t.hazards) - told}"


def test_cautions_name_their_source_and_figures_their_status() -> None:
    assert all(c.source for c in cautions().values())
    assert {limit.status for limit in limits().values()} == {"recalled"}
    assert cautions()["pressure_vessel"].limit is not None


def test_answers_outside_the_scale_are_refused() -> None:
    liking = Attribute("a", "liking", Scale.LIKING)
    assert check_answer(liking, 1, 5) == 1
    with pytest.raises(OutOfRange):
        check_answer(liking, 10, 5)
    with pytest.raises(OutOfRange):
        check_answer(Attribute("b", "order", Scale.RANK), 6, 5)


def test_a_wanted_low_end_counts_as_the_better_one() -> None:
    skins = Attribute("s", "skins", Scale.INTENSITY, high_is_better=False)
    assert share_of_scale(skins, 0, 4) == 10
    assert share_of_scale(skins, 10, 4) == 0


def test_a_question_says_what_is_missing() -> None:
    assert {m.field for m in check_design(Design(" ", [], TrialKind.SIDE_BY_SIDE, [Arm("OV")]))} == {
        "question",
        "attributes",
        "methods",
    }
    a = [Attribute("c", "crust", Scale.INTENSITY, 1)]
    assert check_design(Design("Which?", a, TrialKind.ONE_CHANGE, [Arm("A"), Arm("B")])) == []
    assert (
        check_design(Design("Which?", a, TrialKind.ONE_CHANGE, [Arm("A"), Arm("B"), Arm("C")]))[0].field
        == "methods"
    )

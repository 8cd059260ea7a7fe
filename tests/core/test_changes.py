"""What changed between two versions of a page, against pages that differ in one thing each."""

from dataclasses import replace
from typing import Any

import pytest

from yeasty.core.publish.changes import changes
from yeasty.core.publish.document import Claimed, Page, as_record
from yeasty.core.publish.kinds import PageKind
from yeasty.core.publish.recipe import CautionText, Ingredient, Recipe, StepText

HOT = CautionText("Hot metal: dry cloth.", "a manual")
STEPS = (
    StepText("Heat the oven", 600, "10 min", "180 °C (356 °F)", "", "", ()),
    StepText("Bake", 900, "15 min", "180 °C (356 °F)", "until the core reads 94 °C", "", (HOT,)),
    StepText("Plate", 60, "1 min", "", "", "", ()),
)
RECIPE = Recipe(
    method="Oven",
    tag="OV",
    mark=0,
    pieces=6,
    yield_text="6 pieces",
    total_s=1560,
    ingredients=(Ingredient("flour", 0.2, "200 g", ("gluten",)), Ingredient("salt", 0.003, "3 g", ())),
    allergens=("gluten",),
    allergens_unchecked=(),
    gear=("tray",),
    steps=STEPS,
    says=(),
)
PAGE = Page(
    PageKind.ONE_METHOD,
    "Buns",
    "buns",
    "Recommend Oven: leaning",
    "How sure: leaning.",
    ("5 batches",),
    (),
    recipe=RECIPE,
    claims=(Claimed("Oven is 4 min longer than Pan.", "measured", "clear"),),
    refused=(("Pot", "its core was not read"),),
)


def recipe(**other: Any) -> Page:
    return replace(PAGE, recipe=replace(RECIPE, **other))


def step(n: int, **other: Any) -> Page:
    steps = [replace(s, **other) if i == n else s for i, s in enumerate(STEPS)]
    return recipe(steps=tuple(steps))


def test_nothing_changed_is_nothing_told() -> None:
    assert changes(as_record(PAGE), as_record(PAGE)) == ()


@pytest.mark.parametrize(
    ("after", "said"),
    [
        (recipe(yield_text="8 pieces"), "It makes 8 pieces, where it said 6 pieces."),
        (
            recipe(ingredients=(replace(RECIPE.ingredients[0], text="220 g"), RECIPE.ingredients[1])),
            "Flour 220 g, where it said 200 g.",
        ),
        (recipe(ingredients=RECIPE.ingredients[:1]), "Salt is gone."),
        (
            recipe(ingredients=(*RECIPE.ingredients, Ingredient("milk", 0.1, "100 g", ("milk",)))),
            "Milk is new, 100 g.",
        ),
        (recipe(allergens=("gluten", "milk")), "Allergens added: milk."),
        (recipe(allergens=()), "Allergens no longer named: gluten."),
        (step(1, duration="18 min"), "“Bake”: 18 min, where it said 15 min."),
        (
            step(1, until="until the core reads 96 °C"),
            "“Bake”: until the core reads 96 °C, where it said until the core reads 94 °C.",
        ),
        (recipe(steps=STEPS[1:]), "The step “Heat the oven” is gone."),
        (recipe(steps=(STEPS[1], STEPS[0], STEPS[2])), "Steps stand in another order."),
        (
            recipe(steps=(*STEPS[:2], replace(STEPS[2], cautions=(CautionText("Sharp.", "a manual"),)))),
            "A caution more: Sharp.",
        ),
        (step(1, cautions=()), "No longer a caution: Hot metal: dry cloth."),
        (recipe(total_s=3600), "From start to plate 1 h, where it said 26 min."),
        (replace(PAGE, headline="Nothing can be told apart"), "Its answer was: Recommend Oven: leaning."),
        (replace(PAGE, claims=()), "No longer claimed: Oven is 4 min longer than Pan."),
        (replace(PAGE, refused=()), "Pot is no longer refused."),
        (
            replace(PAGE, refused=(*PAGE.refused, ("Pan", "its core was 60 °C"))),
            "Not to be cooked from this page any more: Pan. its core was 60 °C",
        ),
        (replace(PAGE, keeping="In a tin."), "Reworded: keeping."),
        (replace(PAGE, title="Soft buns"), "It was called “Buns”."),
        (
            replace(PAGE, kind=PageKind.TONIGHT),
            "It was told as “One method”, and is now “Which one tonight: no winner”.",
        ),
        (recipe(method="Pan", tag="PA"), "It told Oven; it now tells Pan, with its own amounts and steps."),
    ],
)
def test_each_change_is_told_in_its_own_sentence(after: Page, said: str) -> None:
    assert changes(as_record(PAGE), as_record(after)) == (said,)


def test_a_caution_is_told_however_much_else_changed() -> None:
    many = tuple(replace(s, what=f"{s.what} {n}") for n in range(6) for s in STEPS)
    danger = CautionText("Steam burns.", "a manual", danger=True)
    after = recipe(steps=(*many, replace(STEPS[0], what="Open", cautions=(danger,))))
    told = changes(as_record(PAGE), as_record(after))
    assert "A caution more: Steam burns." in told
    assert any("more changes of steps" in line for line in told)


TEXTS = ("title", "dish", "headline", "how_sure", "evidence", "not_equal", "cues", "choose_another")
WRITTEN = ("intro", "normal", "serving", "keeping", "disclosure", "defer")
STEP = ("what", "duration_s", "duration", "temperature", "until", "during")


def as_first_written() -> dict[str, Any]:
    """The page as the first version of the document held it: one method, flat."""
    record = as_record(PAGE)
    flat = {k: v for k, v in record["recipe"].items() if k in _FLAT}
    cautions = [{"text": HOT.text, "source": HOT.source}]
    flat["steps"] = [
        {**{k: s[k] for k in STEP}, "cautions": cautions if s["cautions"] else []}
        for s in record["recipe"]["steps"]
    ]
    return {**{k: record[k] for k in (*TEXTS, *WRITTEN)}, **flat, "why": [], "version": 1}


_FLAT = (
    "method", "tag", "mark", "pieces", "yield_text", "total_s", "ingredients", "allergens", "gear",
)  # fmt: skip


def test_a_page_of_the_first_version_is_compared_by_what_it_told() -> None:
    assert changes(as_first_written(), as_record(PAGE)) == (
        "Not to be cooked from this page any more: Pot. its core was not read",
        "Claimed: Oven is 4 min longer than Pan.",
    )

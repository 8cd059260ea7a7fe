import json

import pytest

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import Attention, Phase, check_steps
from yeasty.core.publish.recipe_in import read_amount, read_recipe, read_step

RECIPE = {
    "@context": "https://schema.org",
    "@type": ["Recipe"],
    "name": "Rice pudding &amp; cream",
    "recipeYield": ["4", "4 bowls"],
    "cookTime": "PT40M",
    "recipeIngredient": [
        "1 l whole milk",
        "60 g pudding rice",
        "2 tbsp sugar",
        "1 vanilla pod",
        "a pinch of salt",
    ],
    "recipeInstructions": [
        {
            "@type": "HowToSection",
            "name": "Cook",
            "itemListElement": [
                {"@type": "HowToStep", "text": "Bring the milk to the boil."},
                {"@type": "HowToStep", "text": "<p>Simmer on low heat until creamy.</p>"},
            ],
        },
        "Let it rest for 10 minutes.",
        "Serve.",
    ],
}


@pytest.mark.parametrize(
    "text",
    [
        json.dumps(RECIPE),
        json.dumps({"@graph": [{"@type": "WebPage"}, RECIPE]}),
        f"<html><head><script "
        f'type="application/ld+json">{json.dumps([RECIPE])}</script></head><body>x</body></html>',
    ],
)
def test_recipe_data_is_read_from_a_file_a_graph_or_a_page(text: str) -> None:
    r = read_recipe(text)
    assert (r.title, r.written_as, r.yield_text) == ("Rice pudding & cream", "JSON-LD", "4, 4 bowls")
    assert [a.kg for a in r.amounts[:2]] == [pytest.approx(1.0), pytest.approx(0.06)]
    assert [s.phase for s in r.steps] == [Phase.COME_UP, Phase.COOK, Phase.WAIT, Phase.PLATE]
    assert r.steps[1].duration_s == 2400
    assert r.steps[1].end_cue == "creamy"
    told = " ".join(r.not_understood)
    for part in ("2 tbsp sugar", "vanilla", "pinch of salt", "cooking time"):
        assert part in told, part


def test_markdown_is_read_by_its_headings_and_the_rest_is_told() -> None:
    r = read_recipe(
        "# Braised beetroot\nServes 4\n\n## What you need: ingredients\n* 1 lb 2 oz beetroot, in wedges\n* "
        "250ml stock\n- 20 g butter\n\n"
        "### Method\n1. Preheat the oven to 350 F.\n2. Braise at 180 °C for 1-1½ hours until a knife "
        "slides in.\n3. **Drain** and serve.\n\n## Notes\n- Wear gloves."
    )
    assert r.title == "Braised beetroot"
    assert r.yield_text == "4"
    assert r.amounts[0].kg == pytest.approx(18 * 0.028349523125)
    assert r.amounts[1].kg == pytest.approx(0.25)
    assert r.steps[0].set_point_c == pytest.approx(176.67, abs=0.01)
    assert r.steps[1].end_cue == "a knife slides in"
    assert any("Wear gloves" in n for n in r.not_understood)


@pytest.mark.parametrize(
    ("line", "kg", "name"),
    [
        ("250g flour", 0.25, "flour"),
        ("1 ½ kg turnips", 1.5, "turnips"),
        ("1/2 cup water", 0.1183, "water"),
        ("2 lb of leeks", 0.9072, "leeks"),
        ("100-200 g butter", 0.15, "butter"),
        ("3 onions", None, "onions"),
        ("1 cup flour", None, "flour"),
        ("salt to taste", None, "salt to taste"),
    ],
)
def test_amounts_are_parsed_and_what_has_no_weight_says_so(line: str, kg: float | None, name: str) -> None:
    a = read_amount(line)
    assert a.name == name
    assert a.kg == (None if kg is None else pytest.approx(kg, rel=1e-3))
    assert a.understood == (kg is not None)
    assert a.text == line


@pytest.mark.parametrize(
    ("line", "phase", "attention", "seconds", "days"),
    [
        ("Soak the chickpeas overnight.", Phase.PREPARE, Attention.FREE, 43200, 1),
        ("Deep-fry for 3 minutes at 170C", Phase.COOK, Attention.WATCHED, 180, 0),
        ("Turn after half the time", Phase.TURN, Attention.HANDS, 120, 0),
        ("Let cool for 1 h", Phase.WAIT, Attention.FREE, 3600, 0),
        ("Chop the leek", Phase.PREPARE, Attention.HANDS, 120, 0),
        ("Microwave 90 seconds", Phase.COOK, Attention.FREE, 90, 0),
    ],
)
def test_steps_are_known_by_their_verb(
    line: str, phase: Phase, attention: Attention, seconds: float, days: int
) -> None:
    s = read_step(line)
    assert (s.phase, s.attention, s.duration_s, s.days_before) == (phase, attention, seconds, days)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "   ",
        '{"@type": "Recipe", ',
        "<html><body>no data</body></html>",
        '{"@type": "WebPage"}',
        "just words",
        "x" * 2_000_001,
    ],
)
def test_what_is_no_recipe_is_refused_with_what_to_do(text: str) -> None:
    with pytest.raises(RuleError) as wrong:
        read_recipe(text)
    assert wrong.value.todo


def test_what_was_read_can_be_planned() -> None:
    from yeasty.core.kernel.steps import Step

    steps = [
        Step(str(n), s.text, s.attention, s.phase, s.duration_s)
        for n, s in enumerate(read_recipe(json.dumps(RECIPE)).steps)
    ]
    assert check_steps(steps) == []

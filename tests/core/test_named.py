"""What steps name against what the list holds, with lists as a kitchen writes them."""

import pytest

from yeasty.core.publish.named import unmatched

KNOWN = ["wheat flour, strong", "butter", "fresh yeast", "salt", "whole milk", "water", "leek, sweated"]


@pytest.mark.parametrize(
    ("steps", "listed", "said"),
    [
        (["Brush with butter"], ["wheat flour, strong", "butter"], ["wheat flour, strong is among"]),
        (["Brush with butter", "Dust with flour"], ["strong wheat flour"], ["names butter"]),
        (["Dust with flour"], ["rice flour"], []),
        (["Load the tray", "Bake", "Plate"], ["wheat flour, strong", "salt"], []),
        (["Bring the water to the boil"], ["salt"], []),
        (["Salt it, then stir in the milk."], ["salt", "whole milk"], []),
        (["Fold in the leeks"], ["salt"], ["names leek"]),
        (["Buttery crumbs on top"], ["salt"], []),
        ([], ["salt"], []),
        (["Melt the butter"], [], ["names butter"]),
    ],
)
def test_each_that_does_not_match_is_named(steps: list[str], listed: list[str], said: list[str]) -> None:
    found = unmatched("Oven", steps, listed, KNOWN)
    assert len(found) == len(said), found
    assert all(part in line for part, line in zip(said, found, strict=True))
    assert all(line.startswith("Oven: ") for line in found)

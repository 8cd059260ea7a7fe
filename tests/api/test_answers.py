"""What Decide says of finished trials, beside their records."""

from typing import Any

import pytest

from tests.api.helpers import Client
from tests.conftest import run_worker_once


def outcome_of(lead: Client, demo_url: str, title: str) -> tuple[dict[str, Any], dict[str, Any]]:
    """A demo trial and what Decide says of it."""
    card = next(t for t in lead.get("/trials?search=").json["items"] if t["title"] == title)
    lead.get(f"/trials/{card['id']}/decision")
    run_worker_once(demo_url)
    got = lead.get(f"/trials/{card['id']}/decision").json
    assert got["state"] == "fresh"
    return lead.get(f"/trials/{card['id']}").json, got["outcome"]


def test_a_ladder_recommends_no_more_than_its_curve_says(lead: Client, demo_url: str) -> None:
    trial, outcome = outcome_of(lead, demo_url, "Beetroot in the steamer, how long")
    answer = outcome["answer"]
    rungs = [m["at"] for m in answer["picture"]["marks"]]
    assert rungs == sorted(trial["layout"]["rungs"] if "layout" in trial else rungs)
    means = {m["label"]: m["value"] for m in answer["picture"]["marks"]}
    assert all(0 <= v <= 10 for v in means.values())
    if answer["picture"]["best_from"] is not None:
        assert min(rungs) <= answer["picture"]["best_from"] < answer["picture"]["best_to"] <= max(rungs)
        assert answer["leader"] in {m["id"] for m in trial["methods"]}


def test_a_champion_that_is_not_beaten_by_its_margin_stays(lead: Client, demo_url: str) -> None:
    trial, outcome = outcome_of(lead, demo_url, "Cauliflower, a new coat against the old")
    answer, verdict = outcome["answer"], outcome["verdicts"]["weighted_score"]
    champion = trial["methods"][0]["id"]
    ahead = verdict["interval"]["difference"] if verdict["leader"] != champion else 0.0
    assert ahead < trial["matters"], "the made-up panel finds them near one another"
    assert answer["leader"] == champion
    assert "keeps the title" in answer["headline"]


def test_rounds_with_butter_are_told_beside_the_plain_ones_and_never_pooled(
    lead: Client, demo_url: str
) -> None:
    _, outcome = outcome_of(lead, demo_url, "Flatbread, rested or not")
    assert outcome["scope"] == "plain"
    assert [b["name"] for b in outcome["beside"]] == ["with butter"]
    # 8 people, 2 evenings, 2 ways, 2 questions: one round of each evening and not both.
    assert outcome["tasters"] == 8
    verdict = outcome["verdicts"]["weighted_score"]
    assert verdict["leader"] == outcome["answer"]["leader"]
    assert outcome["beside"][0]["turns"] is (
        outcome["beside"][0]["how_sure"] in ("clear", "leaning")
        and outcome["beside"][0]["leader"] != verdict["leader"]
    )


@pytest.mark.parametrize("title", ["Beetroot wedges, oil by heat"])
def test_a_grid_names_the_cell_of_the_model_and_the_cell_tried(
    lead: Client, demo_url: str, title: str
) -> None:
    trial, outcome = outcome_of(lead, demo_url, title)
    answer = outcome["answer"]
    assert {m["group"] for m in answer["picture"]["marks"]} == {"oil", "heat"}
    assert [m["label"] for m in answer["picture"]["marks"]] == [
        "none", "a spoon", "180 °C", "200 °C", "220 °C",
    ]  # fmt: skip
    assert answer["leader"] in {m["id"] for m in trial["methods"]}
    assert any("act together cannot be told" in s["text"] for s in answer["sentences"])

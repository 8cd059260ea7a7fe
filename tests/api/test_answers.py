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
    # Heat rises, so each amount of oil has a curve along it.
    assert answer["picture"]["shape"] == "curves"
    assert {m["group"] for m in answer["picture"]["marks"]} == {"none", "a spoon"}
    assert [m["label"] for m in answer["picture"]["marks"]] == ["180 °C", "200 °C", "220 °C"] * 2
    assert {s["text"].split(":")[0] for s in answer["sentences"]} >= {"Heat", "Oil"}
    assert answer["leader"] in {m["id"] for m in trial["methods"]}
    assert any("act together cannot be told" in s["text"] for s in answer["sentences"])


def test_one_person_alone_is_told_cooking_by_cooking(lead: Client, demo_url: str) -> None:
    trial, outcome = outcome_of(lead, demo_url, "Flatbread, flour of three mills")
    answer = outcome["answer"]
    assert outcome["tasters"] == 1
    assert answer["how_sure"] == "not comparable"
    names = {m["id"]: m["name"] for m in trial["methods"]}
    # By hand from the dots of each evening: whoever leads must lead on both.
    if answer["leader"] is None:
        assert "could not tell" in answer["headline"] or "less than" in answer["headline"]
    else:
        assert names[answer["leader"]] in answer["headline"]
    assert any("letters under shuffled cups" in b for b in outcome["blindness"])
    assert any("Stone mill: a little darker" in b for b in outcome["blindness"])


def test_finishes_of_one_cook_say_what_cancels(lead: Client, demo_url: str) -> None:
    _, outcome = outcome_of(lead, demo_url, "Cauliflower, three finishes of one tray")
    assert outcome["answer"]["question"] == "branch"
    assert "how that cook went cancels" in outcome["answer"]["sentences"][-1]["text"]


def test_a_chain_draws_each_version_against_its_parent(lead: Client, demo_url: str) -> None:
    trial, outcome = outcome_of(lead, demo_url, "Flatbread that folds the next day, four versions")
    marks = outcome["answer"]["picture"]["marks"]
    assert [m["stands"] for m in marks] == ["where it began", "", "", ""]
    means = outcome["verdicts"]["weighted_score"]["scores"]
    ids = [m["id"] for m in trial["methods"]]
    for n in range(1, 4):
        assert marks[n]["value"] == pytest.approx(means[ids[n]] - means[ids[n - 1]], abs=0.06)


def test_a_claim_by_the_scale_needs_nobody_at_the_table(lead: Client, demo_url: str) -> None:
    trial, outcome = outcome_of(lead, demo_url, "Cauliflower, which keeps its weight")
    answer = outcome["answer"]
    assert outcome["tasters"] == 0
    kept = next(m for m in outcome["measures"] if m["key"] == "cooked_yield")["values"]
    mean = {k: sum(v) / len(v) for k, v in kept.items()}
    best = max(mean, key=lambda k: mean[k])
    assert (answer["question"], answer["leader"], answer["how_sure"]) == ("claim", best, "clear")
    shift = lead.get(f"/trials/{trial['id']}/shifts").json["items"][0]["id"]
    weighed: dict[str, dict[str, float]] = {}
    for e in lead.get(f"/shifts/{shift}/bench").json["entries"]:
        if e["kind"] == "weight":
            weighed.setdefault(e["batch"], {})[e["payload"]["of"]] = e["payload"]["kg"]
    by_scale = sorted(round(w["cooked"] / w["raw"], 6) for w in weighed.values())
    told = {round(v, 6) for values in kept.values() for v in values}
    assert set(by_scale) <= told, "what is told is what the scale said"

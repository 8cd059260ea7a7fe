"""How a trial is decided: said beforehand, kept, and applied to what was measured."""

from typing import Any

import pytest

from tests.api.helpers import Client, ok
from tests.api.test_answers import outcome_of

BUNS = "Filled yeast buns"


def decided(lead: Client, demo_url: str, title: str, **rules: Any) -> dict[str, Any]:
    """A demo trial's outcome once it is decided so."""
    card = next(t for t in lead.get("/trials?search=").json["items"] if t["title"] == title)
    version = lead.get(f"/trials/{card['id']}").json["version"]
    ok(lead.send("PUT", f"/trials/{card['id']}/deciding", rules, version))
    return outcome_of(lead, demo_url, title)[1]


def test_a_limit_is_evaluated_and_what_breaks_it_leads_nothing(lead: Client, demo_url: str) -> None:
    trial, before = outcome_of(lead, demo_url, BUNS)
    name = {m["id"]: m["tag"] for m in trial["methods"]}
    total = next(m for m in before["measures"] if m["key"] == "total_s")
    assert name[before["answer"]["leader"]] == "AF"
    # A limit that the leader's own log breaks, and another keeps to.
    most = max(total["values"][before["answer"]["leader"]]) - 120
    after = decided(lead, demo_url, BUNS, limits=[{"measure": "total_s", "at_most": most}])
    assert name[after["answer"]["leader"]] != "AF"
    kept = {k for k, v in total["values"].items() if max(v) <= most + 15}
    assert after["answer"]["leader"] in kept
    said = [
        s for s in after["verdicts"]["weighted_score"]["sentences"] if "does not keep to a limit" in s["text"]
    ]
    assert {s["text"].split(" does")[0] for s in said} == {
        m["name"] for m in trial["methods"] if m["id"] in total["values"] and m["id"] not in kept
    }
    assert after["limits"] == [s["stands_on"].split(":")[0] for s in said[:1]]


def test_rules_that_came_after_the_codes_were_opened_say_so(lead: Client, demo_url: str) -> None:
    after = decided(lead, demo_url, BUNS, school="rank_points")
    assert "changed after codes had been opened" in after["answer"]["sentences"][0]["text"]
    told = after["verdicts"]["rank_points"]
    if told["how_sure"] != "cannot be told apart":
        assert after["answer"]["headline"] == told["headline"]


@pytest.mark.parametrize("school", ["head_to_head", "flavour_for_effort", "no_winner"])
def test_every_school_answers_of_the_same_records(lead: Client, demo_url: str, school: str) -> None:
    trial, _ = outcome_of(lead, demo_url, BUNS)
    after = decided(lead, demo_url, BUNS, school=school)
    names = {m["id"]: m["name"] for m in trial["methods"]}
    scores = after["verdicts"]["weighted_score"]["scores"]
    total = next(m for m in after["measures"] if m["key"] == "total_s")["values"]
    if school == "no_winner":
        assert after["answer"]["leader"] is None
    elif school == "head_to_head":
        best = max(after["verdicts"][school]["scores"].items(), key=lambda kv: kv[1])[0]
        tied = after["answer"]["how_sure"] == "cannot be told apart"
        assert tied or after["answer"]["leader"] == best
    else:
        # Worth what they take: by hand, what no other is liked as well as for less.
        mean = {k: sum(v) / len(v) for k, v in total.items()}
        stands = {
            names[k] for k in scores
            if not any(scores[o] >= scores[k] and mean[o] <= mean[k] for o in scores if o != k)
        }  # fmt: skip
        marks = after["answer"]["picture"]["marks"]
        assert {m["label"] for m in marks if m["picked"]} == stands
    assert all(str(m["id"]) not in str(after["answer"]["sentences"]) for m in trial["methods"]), (
        "no id in words"
    )


def test_a_claim_is_answered_by_the_log(lead: Client, demo_url: str) -> None:
    _, before = outcome_of(lead, demo_url, BUNS)
    energy = next(m for m in before["measures"] if m["key"] == "energy_j")["values"]
    after = decided(lead, demo_url, BUNS, claim="energy_j")
    least = min(energy, key=lambda k: sum(energy[k]) / len(energy[k]))
    assert after["answer"]["question"] == "claim"
    assert after["answer"]["leader"] == least
    assert after["answer"]["how_sure"] == "leaning", "one metered cooking of each"


def test_tonight_names_what_fits_and_why_the_others_do_not(lead: Client, demo_url: str) -> None:
    trial, outcome = outcome_of(lead, demo_url, BUNS)
    total = next(m for m in outcome["measures"] if m["key"] == "total_s")["values"]
    asked = {"limits": [{"measure": "total_s", "at_most": 1800}]}
    found = lead.send("POST", f"/trials/{trial['id']}/tonight", asked).json["items"]
    assert {f["method"] for f in found if f["fits"]} == {k for k, v in total.items() if max(v) <= 1815}
    assert all(f["why_not"] for f in found if not f["fits"])
    none = {"limits": [{"measure": "total_s", "at_most": 1}]}
    got = lead.send("POST", f"/trials/{trial['id']}/tonight", none).json["items"]
    assert not any(f["fits"] for f in got)


@pytest.mark.parametrize(
    ("rules", "field"),
    [
        ({"limits": [{"measure": "luck", "at_most": 1}]}, "limits"),
        ({"limits": [{"measure": "total_s"}]}, "limits"),
        ({"limits": [{"measure": "total_s", "at_most": 1, "at_least": 2}]}, "limits"),
        ({"limits": [{"measure": "total_s", "at_most": 1}, {"measure": "total_s", "at_most": 2}]}, "limits"),
        ({"ties": ["hands_s", "hands_s"]}, "ties"),
        ({"ties": ["luck"]}, "ties"),
        ({"claim": "luck"}, "claim"),
    ],
)
def test_rules_that_cannot_be_kept_are_refused_by_field(
    lead: Client, rules: dict[str, Any], field: str
) -> None:
    card = next(t for t in lead.get("/trials?search=").json["items"] if t["title"] == BUNS)
    before = lead.get(f"/trials/{card['id']}").json
    got = lead.send("PUT", f"/trials/{card['id']}/deciding", rules, before["version"])
    assert got.status_code == 422
    assert got.json["errors"][0]["field"] == field
    assert lead.get(f"/trials/{card['id']}").json["deciding"] == before["deciding"]


def test_saving_what_nobody_touched_changes_nothing(lead: Client) -> None:
    card = next(t for t in lead.get("/trials?search=").json["items"] if t["title"] == BUNS)
    before = lead.get(f"/trials/{card['id']}").json
    same = {k: before["deciding"][k] for k in ("school", "ties", "limits", "claim", "effort")}
    ok(lead.send("PUT", f"/trials/{card['id']}/deciding", same, before["version"]))
    after = lead.get(f"/trials/{card['id']}").json
    assert after["deciding"] == before["deciding"]
    assert after["version"] == before["version"]

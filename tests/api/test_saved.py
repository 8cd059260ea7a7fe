"""What is saved is kept, and known by whom and when it was changed."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from tests.api.helpers import (
    Client,
    new_trial,
    ok,
    trial_id,
)
from tests.conftest import run_worker_once

ARCHIVES = Path(__file__).parents[1] / "archives"


def laid(lead: Client, kind: str, *techniques: str) -> dict[str, Any]:
    t = new_trial(lead, techniques or ("oven",))
    return dict(lead.send("PATCH", f"/trials/{t['id']}", {"kind": kind}, t["version"]).json)


def test_a_champion_a_screenings_words_and_scaled_amounts_are_kept(lead: Client) -> None:
    t = laid(lead, "champion", "oven", "steamer")
    champion = t["methods"][1]["id"]
    lead.send("PUT", f"/trials/{t['id']}/layout", {"champion": champion}, t["version"])
    assert lead.get(f"/trials/{t['id']}").json["layout"]["champion"] == champion

    t = laid(lead, "screening", "oven")
    words = {"screening": {"words": ["never", "perhaps", "again"]}}
    lead.send("PUT", f"/trials/{t['id']}/layout", words, t["version"])
    assert lead.get(f"/trials/{t['id']}").json["layout"]["words"] == ["never", "perhaps", "again"]

    t = laid(lead, "ladder", "oven")
    rows = {"items": [{"name": "salt", "allergens": [], "amounts": {t["methods"][0]["id"]: "10 g"}}]}
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    ladder = {"rises": "amount", "rungs": [1, 2, 3, 4], "guess": 2, "ingredient": "salt", "pieces_a_rung": 6}
    lead.send("PUT", f"/trials/{t['id']}/layout", {"ladder": ladder}, t["version"])
    kept = lead.get(f"/trials/{t['id']}").json
    assert [m["amounts"][0]["mass_kg"] for m in kept["methods"]] == pytest.approx([0.01, 0.02, 0.03, 0.04])


def test_a_grids_pieces_are_those_of_its_methods_and_levels_leave_steps_and_ingredients(lead: Client) -> None:
    t = laid(lead, "grid", "oven")
    rows = {
        "items": [
            {"name": "white flour", "allergens": ["gluten"], "amounts": {t["methods"][0]["id"]: "300 g"}}
        ]
    }
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    grid = {
        "factors": [
            {"name": "pressing", "levels": [{"name": "none"}, {"name": "pressed"}]},
            {
                "name": "flour",
                "levels": [
                    {"name": "white", "ingredient": "white flour"},
                    {"name": "whole", "ingredient": "whole flour"},
                ],
            },
        ],
        "pieces_a_cell": 4,
    }
    lead.send("PUT", f"/trials/{t['id']}/layout", {"grid": {"grid": grid}}, t["version"])
    kept = lead.get(f"/trials/{t['id']}").json
    assert [m["pieces_per_batch"] for m in kept["methods"]] == [4, 4, 4, 4]
    by_levels = {tuple(m["levels"]): m for m in kept["methods"]}
    assert by_levels["pressed", "white"]["steps"][0]["what"] == "pressing: pressed"
    assert by_levels["none", "white"]["steps"][0]["what"] != "pressing: none"
    names = {i["id"]: i["name"] for i in kept["ingredients"]}
    flour = {k: [names[a["ingredient_id"]] for a in m["amounts"]] for k, m in by_levels.items()}
    assert flour["none", "white"] == ["white flour"]
    assert flour["none", "whole"] == ["whole flour"]
    # Four pieces take four sixths of what six took.
    assert by_levels["none", "whole"]["amounts"][0]["mass_kg"] == pytest.approx(0.2)


def test_cells_that_cannot_tell_how_factors_act_together_are_not_credited_with_it(lead: Client) -> None:
    t = laid(lead, "grid", "oven")
    factor = lambda n: {"name": n, "levels": [{"name": "no"}, {"name": n}]}  # noqa: E731
    grid = {"factors": [factor("salted"), factor("rested")], "pieces_a_cell": 6}
    cells = {"grid": {"grid": grid, "cells": [[0, 0], [0, 1], [1, 0]]}}
    t = lead.send("PUT", f"/trials/{t['id']}/layout", cells, t["version"]).json
    said = lead.get(f"/trials/{t['id']}/fairness").json["claim"]
    assert "cannot tell" in said or "nothing can be credited" in said
    assert "and how they act together" not in said
    lead.send("PUT", f"/trials/{t['id']}/layout", {"grid": {"grid": grid}}, t["version"])
    for d in lead.get(f"/trials/{t['id']}/fairness").json["differences"]:
        if not d["varied"] and not d["result"]:
            accept = {"field": d["field"], "signature": d["signature"], "reason": "comes with the method"}
            version = lead.get(f"/trials/{t['id']}").json["version"]
            ok(lead.send("POST", f"/trials/{t['id']}/accepted-differences", accept, version))
    assert "how they act together" in lead.get(f"/trials/{t['id']}/fairness").json["claim"]


def test_not_offering_a_technique_changes_nothing_else_of_it(lead: Client) -> None:
    before = {t["key"]: t for t in lead.get("/techniques").json["items"]}
    for key, technique in before.items():
        lead.technique("PATCH", key, {"hidden": True})
        after = {t["key"]: t for t in lead.get("/techniques").json["items"]}[key]
        assert after == {**technique, "hidden": True, "version": after["version"]}


def test_saving_steps_that_nobody_touched_changes_nothing_in_any_units(lead: Client) -> None:
    t = lead.get(f"/trials/{trial_id(lead)}").json
    for units in ("us", "metric"):
        lead.send("PATCH", "/me", {"units": units})
        for m in t["methods"]:
            got = lead.send(
                "PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": m["steps"]}, t["version"]
            )
            assert got.status_code == 200, got.json
            t = got.json
            assert next(x for x in t["methods"] if x["id"] == m["id"])["steps"] == m["steps"]


def same(sent: Any, kept: Any, where: str = "") -> list[str]:
    """Fields that were sent and are not kept as sent."""
    if isinstance(sent, dict):
        return [
            w
            for k, v in sent.items()
            for w in same(v, kept.get(k) if isinstance(kept, dict) else None, f"{where}.{k}")
        ]
    if isinstance(sent, list):
        if not isinstance(kept, list) or len(kept) != len(sent):
            return [where]
        return [
            w for n, (a, b) in enumerate(zip(sent, kept, strict=True)) for w in same(a, b, f"{where}.{n}")
        ]
    if isinstance(sent, int | float) and not isinstance(sent, bool) and kept is not None:
        return [] if abs(float(sent) - float(kept)) < 1e-9 else [where]
    if isinstance(sent, str) and isinstance(kept, str) and sent.replace(".", "").isdigit():
        return [] if float(sent) == float(kept) else [where]
    return [] if sent == kept or (sent == "" and kept is None) else [f"{where}: {sent!r} kept as {kept!r}"]


def test_every_form_reads_back_as_it_was_saved(lead: Client) -> None:
    """Each form of the application is sent with values of its own and read back by another request."""
    t = new_trial(lead, ("oven", "steamer"))
    tid, (m, n) = t["id"], (x["id"] for x in t["methods"])

    def trial(method: str, path: str, body: Any) -> None:
        version = lead.get(f"/trials/{tid}").json["version"]
        got = lead.send(method, f"/trials/{tid}{path}", body, version)
        assert got.status_code in (200, 201), (path, got.json)

    def read() -> Any:
        return lead.get(f"/trials/{tid}").json

    def of(method: str) -> Any:
        return next(x for x in read()["methods"] if x["id"] == method)

    step = {
        "what": "Bake", "attention": "free", "phase": "cook", "duration_s": 1234.5, "end_rule": "core",
        "end_core_c": 93.3, "set_point_c": 201.7, "power_w": 333.3, "longest_s": 2000.0,
    }  # fmt: skip
    words = {
        "title": "T", "question": "Q?", "dish": "D", "aliases": "a, b", "fairness": "each_at_its_best",
        "done_rule": "by_clock", "answer_rule": "best", "matters": 0.7, "hunch": "h", "pieces": 7,
        "batches_each": 2, "serving_kg": 0.1234, "eaters": 5, "leftover_use": "soup",
    }  # fmt: skip
    method_words = {
        "name": "Ours", "batch_kg": 0.4567, "pieces_per_batch": 5, "hold_limit_s": 333.0, "piece_kg": 0.0613,
        "start_c": 4.4, "piece_shape": "sphere", "piece_thickness_m": 0.0417, "vessel": "tray", "lid": "foil",
        "place": "middle", "operator": "K", "checks": ["greased"], "change": "c", "aimed_defect": "pale",
        "outcome": "o", "gear": ["tray"], "hazards": ["hot_surface"],
    }  # fmt: skip
    lot = {
        "name": "butter", "lot": "L1", "source": "shop", "grade": "82", "age_days": 3.5, "pack_kg": 0.25,
        "composition": {"fat": 0.82}, "allergens": ["milk"], "allergens_checked": True,
    }  # fmt: skip
    asked = {
        "name": "Crust", "scale": "intensity", "weight": 2.5, "low_words": "soft", "high_words": "crisp",
        "high_is_better": False,
    }  # fmt: skip
    settings = {
        "name": "K", "time_zone": "Europe/Paris", "currency": "EUR", "price_per_kwh": "0.31",
        "public_address": "https://a.test", "altitude_m": 431,
    }  # fmt: skip
    circuit = {"name": "Z", "breaker_a": 13, "voltage_v": 231, "base_w": 77}
    appliance = {
        "name": "Oven two", "kind": "oven", "input_w": 2345.6, "rated_w": None, "measured_w": None, "offset_k": -3.5,  # noqa: E501
        "capacity_pieces": 9, "circuit": "Z", "spot": "left", "notes": "n",
        "dial": [{"word": "low", "celsius": 88.8, "measured": True}], "capacities": [{"pieces": 6, "piece_m": 0.051}],  # noqa: E501
    }  # fmt: skip
    deciding = {
        "school": "rank_points", "ties": ["wash_up_s", "cost"], "claim": "loss:drip", "effort": "hands_s",
        "limits": [{"measure": "total_s", "at_most": 1234.5, "at_least": None}],
    }  # fmt: skip
    technique = {
        "name": "Own way", "appliance_kind": "oven", "gear": ["tray"], "hazards": ["hot_surface"],
        "ranges": {"set_point_c": [151.5, 201.5], "cook_s": [61, 99], "power_w": [300, 400]}, "steps": [step],
    }  # fmt: skip
    forms: list[tuple[str, Callable[[], None], Callable[[], Any], Any]] = [
        ("words", lambda: trial("PATCH", "", words), read, words),
        ("method", lambda: trial("PATCH", f"/methods/{m}", method_words), lambda: of(m), method_words),
        (
            "steps",
            lambda: trial("PUT", f"/methods/{n}/steps", {"items": [step]}),
            lambda: of(n)["steps"],
            [step],
        ),
        ("deciding", lambda: trial("PUT", "/deciding", deciding), lambda: read()["deciding"], deciding),
        (
            "attributes",
            lambda: trial("PUT", "/attributes", {"items": [asked]}),
            lambda: read()["attributes"],
            [asked],
        ),
        (
            "ingredients",
            lambda: trial("PUT", "/ingredients", {"items": [{**lot, "amounts": {m: 0.1234}}]}),
            lambda: read()["ingredients"],
            [lot],
        ),
        (
            "controls",
            lambda: trial("PUT", "/controls", {"items": [{"what": "salt", "held_at": "9 g"}]}),
            lambda: read()["controls"],
            [{"what": "salt", "held_at": "9 g"}],
        ),
        (
            "struck hazard",
            lambda: trial(
                "PUT", f"/methods/{m}/struck-hazards", {"hazard": "hot_surface", "why": "it is cold smoked"}
            ),
            lambda: of(m)["struck_hazards"],
            {"hot_surface": "it is cold smoked"},
        ),
        (
            "written rule",
            lambda: trial(
                "PUT",
                f"/methods/{m}/meant",
                {"rule": "Seared by the house rule of May.", "not_for": "children, the old"},
            ),
            lambda: of(m)["meant"],
            {"rule": "Seared by the house rule of May.", "not_for": "children, the old"},
        ),
        ("kitchen", lambda: ok(lead.put("/kitchen", settings)), lambda: lead.get("/kitchen").json, settings),
        (
            "circuits",
            lambda: ok(lead.put("/circuits", {"items": [circuit]})),
            lambda: lead.get("/circuits").json["items"],
            [circuit],
        ),
        (
            "safety",
            lambda: ok(lead.put("/safety", {"profile": "strictest", "zone_use_s": 3601})),
            lambda: lead.get("/safety").json,
            {"profile": "strictest", "zone_use_s": 3601},
        ),
        (
            "appliance",
            lambda: ok(lead.send("POST", "/appliances", appliance)),
            lambda: next(a for a in lead.get("/appliances").json["items"] if a["name"] == "Oven two"),
            appliance,
        ),
        (
            "technique",
            lambda: ok(lead.send("PUT", "/techniques/own_way", technique)),
            lambda: next(x for x in lead.get("/techniques").json["items"] if x["key"] == "own_way"),
            technique,
        ),
        (
            "draft",
            lambda: ok(
                lead.send(
                    "PATCH",
                    f"/trials/{tid}/publication",
                    {"title": "P", "intro": "i", "keeping": "k"},
                    lead.get(f"/trials/{tid}/publication").json["version"],
                )
            ),
            lambda: lead.get(f"/trials/{tid}/publication").json["texts"],
            {"title": "P", "intro": "i", "keeping": "k"},
        ),
        (
            "units",
            lambda: ok(lead.send("PATCH", "/me", {"units": "us"})),
            lambda: lead.get("/session").json["me"],
            {"units": "us"},
        ),
    ]
    lost = {}
    for name, save, again, sent in forms:
        save()
        wrong = same(sent, again())
        if wrong:
            lost[name] = wrong
    assert lost == {}
    amounts = {a["ingredient_id"]: a["mass_kg"] for a in of(m)["amounts"]}
    assert list(amounts.values()) == [0.1234]


def test_a_verdict_is_stale_when_anything_it_stands_on_changes(lead: Client, demo_url: str) -> None:
    tid = trial_id(lead)
    run_worker_once(demo_url)

    def state() -> str:
        return str(lead.get(f"/trials/{tid}/decision").json["state"])

    def fresh_again() -> None:
        if state() != "fresh":
            run_worker_once(demo_url)
        assert state() == "fresh"

    fresh_again()
    batch = lead.get(f"/trials/{tid}/tastings").json["candidates"][0]["batch_id"]
    ok(lead.send("POST", f"/batches/{batch}/ownerships", {"why": "read with a second probe, on the sheet"}))
    assert state() == "working"
    fresh_again()
    ok(lead.put("/safety", {"profile": "strictest", "zone_use_s": 3600}))
    assert state() == "working"
    fresh_again()
    own = {"temperature_c": "76 °C", "hold_s": "30 s", "reason": "a margin for the probe's error"}
    ok(lead.send("POST", "/safety/figures/us-poultry/own", own))
    assert state() == "working"


def test_what_was_tasted_is_judged_by_the_questions_as_they_were_asked(lead: Client, demo_url: str) -> None:
    tid = trial_id(lead)
    t = lead.get(f"/trials/{tid}").json
    run_worker_once(demo_url)
    before = lead.get(f"/trials/{tid}/decision").json["outcome"]
    rows = [dict(a) for a in t["attributes"]]
    rows[0]["weight"] += 5
    renamed = [{**rows[0], "name": "Something else"}, *rows[1:]]
    refused = lead.send("PUT", f"/trials/{tid}/attributes", {"items": renamed}, t["version"])
    assert refused.status_code == 409
    assert "answered by tasters" in refused.json["errors"][0]["message"]
    ok(lead.send("PUT", f"/trials/{tid}/attributes", {"items": rows}, t["version"]))
    lead.get(f"/trials/{tid}/decision")
    run_worker_once(demo_url)
    after = lead.get(f"/trials/{tid}/decision").json["outcome"]
    assert after["verdicts"] == before["verdicts"]
    assert [a["weight"] for a in after["attributes"]] == [a["weight"] for a in before["attributes"]]
    assert after["reread"]["changed"] == [
        f"{rows[0]['name']} counts {rows[0]['weight']:g} instead of {rows[0]['weight'] - 5:g}"
    ]
    assert (
        after["reread"]["verdicts"]["weighted_score"]["scores"]
        != before["verdicts"]["weighted_score"]["scores"]
    )


def test_a_trial_keeps_who_changed_what_of_its_design(lead: Client, cook: Client) -> None:
    t = new_trial(lead)
    ok(cook.send("PATCH", f"/trials/{t['id']}", {"hunch": "the oven"}, t["version"]))
    newest = lead.get(f"/trials/{t['id']}/design-history").json["items"][0]
    assert newest["by"]
    assert newest["what"] == "Change words and rules"
    assert newest["changes"] == [{"path": "hunch", "before": "", "after": "the oven"}]
    assert newest["version"] == t["version"] + 1


def test_every_row_a_verdict_reads_belongs_to_its_trial_by_a_reference_it_always_has() -> None:
    from yeasty.operations.decide.decisions import SAME_DISH, _way, every_table
    from yeasty.store.tables import Base

    for name in every_table() - {SAME_DISH}:
        way = _way(name)
        at = name
        for column, target in way or ():
            assert not Base.metadata.tables[at].c[column].nullable, (name, at, column)
            at = target
    assert _way("answer") == (
        ("round_id", "taste_round"),
        ("tasting_id", "tasting"),
        ("trial_id", "trial"),
    )


@pytest.mark.filterwarnings("error::sqlalchemy.exc.SAWarning")
def test_an_ingredient_that_is_taken_off_goes_with_its_amounts(lead: Client) -> None:
    t = laid(lead, "side_by_side", "oven", "steamer")
    amounts = {m["id"]: "300 g" for m in t["methods"]}
    ids: dict[str, str] = {}
    for names in (["cauliflower", "salt"], ["salt"], []):
        rows = [{"id": ids.get(n), "name": n, "allergens": [], "amounts": amounts} for n in names]
        t = lead.send("PUT", f"/trials/{t['id']}/ingredients", {"items": rows}, t["version"]).json
        ids = {i["name"]: i["id"] for i in t["ingredients"]}
        assert list(ids) == names
        for m in t["methods"]:
            stored = {a["ingredient_id"]: a["mass_kg"] for a in m["amounts"]}
            assert stored == dict.fromkeys(ids.values(), 0.3)

"""What is saved is kept, what is eaten is safe, what is sealed stays sealed."""

import io
import json
import threading
import time
import uuid
import zipfile
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any

import pytest

from tests.api.helpers import (
    Client,
    an_entry,
    cook_all,
    handed_over,
    make_shift,
    new_trial,
    trial_id,
    whole_run,
)
from tests.conftest import run_worker_once

ARCHIVES = Path(__file__).parents[1] / "archives"


# What is saved is kept
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
        "done_rule": "by_clock", "answer_rule": "best", "matters": 0.7, "hunch": "h", "pieces": 7, "room_c": 21.4,
        "weather": "wet", "batches_each": 2, "serving_kg": 0.1234, "eaters": 5, "leftover_use": "soup",
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
        "name": "Oven two", "kind": "oven", "input_w": 2345.6, "rated_w": None, "measured_w": None, "offset_k": -3.5,
        "capacity_pieces": 9, "circuit": "Z", "spot": "left", "notes": "n",
        "dial": [{"word": "low", "celsius": 88.8, "measured": True}], "capacities": [{"pieces": 6, "piece_m": 0.051}],
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


def ok(answer: Any) -> None:
    assert answer.status_code in (200, 201, 204), answer.json


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


# What may be eaten
def meatballs(
    lead: Client, demo_url: str, readings: list[tuple[float, float, str]]
) -> tuple[dict[str, Any], str, str]:
    """Turkey meatballs cooked to the end, with core readings (seconds before now, °C, piece)."""
    t = new_trial(lead, ("oven", "steamer"), "poultry")
    shift = make_shift(lead, t)
    bench = cook_all(lead, shift["id"], demo_url, core=None)
    batch = bench["batches"][0]["id"]
    read(lead, shift["id"], batch, readings)
    return t, shift["id"], batch


def read(lead: Client, shift: str, batch: str, readings: list[tuple[float, float, str]]) -> None:
    now = time.time()
    entries = [
        an_entry(
            batch,
            "temperature",
            {"celsius": c, "where": "core", "at": now - ago, **({"piece": p} if p else {})},
            1000 + n,
        )
        for n, (ago, c, p) in enumerate(readings)
    ]
    got = lead.send("POST", f"/shifts/{shift}/entries", {"entries": entries}).json
    assert len(got["written"]) == len(entries), got


def candidate(lead: Client, t: dict[str, Any], batch: str) -> dict[str, Any]:
    every = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    return dict(next(c for c in every if c["batch_id"] == batch))


HELD = [(100, 79, "largest"), (70, 79, "largest"), (60, 79, "coldest"), (30, 79, "coldest")]


@pytest.mark.parametrize(
    ("readings", "may", "word"),
    [
        (HELD, True, ""),
        ([*HELD, (20, 61, "third")], False, "third"),
        ([(300, 61, "largest"), *HELD], True, ""),
        ([*HELD, (20, 61, "")], False, "without naming a piece"),
        ([(30, 96, "largest"), (30, 96, "coldest")], False, "so far 0%"),
        ([(100, 79, "largest"), (70, 79, "largest")], False, "1 of at least 2 pieces"),
        ([(60, 79, "a"), (30, 70, "a"), (60, 79, "b"), (30, 79, "b")], False, "a:"),
    ],
)
def test_the_lowest_of_the_pieces_decides(
    lead: Client, demo_url: str, readings: list[tuple[float, float, str]], may: bool, word: str
) -> None:
    _, shift, batch = meatballs(lead, demo_url, readings)
    found = next(b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"] if b["batch"] == batch)
    assert (found["core_standing"] == "meets the figure entered") is may, found["core"]
    assert word in found["core"]


def test_the_bench_says_what_is_wanted_after_one_reading_and_when(lead: Client, demo_url: str) -> None:
    _, shift, batch = meatballs(lead, demo_url, [(1, 79, "largest")])
    found = {b["batch"]: b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"]}[batch]
    assert "leave the probe in, read again in 30 s" in found["advice"]
    assert 0 < found["read_again_at"] - time.time() <= 31
    read(lead, shift, batch, [(0, 61, "second")])
    time.sleep(1.6)
    found = {b["batch"]: b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"]}[batch]
    assert "wipe the probe" in found["advice"]


def test_a_low_reading_without_a_piece_stays_until_somebody_clears_it(lead: Client, demo_url: str) -> None:
    t, _, batch = meatballs(lead, demo_url, [*HELD, (20, 61, "")])
    low = candidate(lead, t, batch)["low"]
    assert [r["celsius"] for r in low] == [61]
    ok(
        lead.send(
            "POST",
            f"/batches/{batch}/clearings",
            {"reading": low[0]["id"], "why": "the probe lay on the tray"},
        )
    )
    after = candidate(lead, t, batch)
    assert after["low"] == []
    assert "without naming a piece" not in after["why_not"]


def test_stating_the_kind_of_food_after_the_shift_counts(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, food="")
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    first = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert all("not stated" in c["why_not"] for c in first)
    t = lead.get(f"/trials/{t['id']}").json
    ok(lead.send("PATCH", f"/trials/{t['id']}", {"food_class": "plant"}, t["version"]))
    assert all(c["may"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"])


def test_beans_that_are_poisonous_raw_wait_for_somebodys_word(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("slow_cooker", "oven"))
    rows = {
        "items": [
            {
                "name": "borlotti beans, dried",
                "allergens": [],
                "amounts": {m["id"]: "200 g" for m in t["methods"]},
            }
        ]
    }
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    slow, oven = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert not slow["may"]
    assert [a["key"] for a in slow["asked"]] == ["pulses_boiled"]
    no = {"question": "pulses_boiled", "answer": "no"}
    ok(lead.send("POST", f"/batches/{slow['batch_id']}/statements", no))
    ok(lead.send("POST", f"/batches/{oven['batch_id']}/statements", {**no, "answer": "yes"}))
    slow, oven = lead.get(f"/trials/{t['id']}/tastings").json["candidates"]
    assert (slow["may"], slow["may_be_owned"]) == (False, False)
    assert "boiled hard" in slow["why_not"]
    assert "boiled hard" not in oven["why_not"]


@pytest.mark.parametrize(
    ("payload", "kind", "field"),
    [
        ({"celsius": 70, "where": "core", "at": time.time() + 3600}, "temperature", "at"),
        ({"step": "not one of it"}, "started", "step"),
    ],
)
def test_what_is_still_to_come_and_steps_of_others_are_refused_at_the_field(
    lead: Client, demo_url: str, payload: dict[str, Any], kind: str, field: str
) -> None:
    shift = make_shift(lead, new_trial(lead))
    batch = lead.get(f"/shifts/{shift['id']}/bench").json["batches"][0]["id"]
    if "at" in payload:
        payload = {**payload, "at": time.time() + 3600}
    got = lead.send(
        "POST", f"/shifts/{shift['id']}/entries", {"entries": [an_entry(batch, kind, payload)]}
    ).json
    assert [r["problem"]["field"] for r in got["refused"]] == [field]
    ahead = an_entry(batch, "note", {"text": "x"}, at=time.time() + 7200)
    got = lead.send("POST", f"/shifts/{shift['id']}/entries", {"entries": [ahead]}).json
    assert [r["problem"]["field"] for r in got["refused"]] == ["device_time"]


# What may be told
def test_a_method_that_was_never_cooked_or_failed_is_not_told_to_readers(lead: Client, demo_url: str) -> None:
    t, _, batch = meatballs(lead, demo_url, [(20, 61, "largest")])
    third = lead.send(
        "POST",
        f"/trials/{t['id']}/methods",
        {"technique": "microwave"},
        lead.get(f"/trials/{t['id']}").json["version"],
    ).json
    never = third["methods"][2]["id"]
    ok(
        lead.send(
            "POST", f"/batches/{batch}/ownerships", {"why": "the lead takes it upon herself, tasting only"}
        )
    )
    page = lead.get(f"/trials/{t['id']}/publication").json
    for method, word in ((t["methods"][0]["id"], "61"), (never, "never cooked")):
        assert word in page["unfit"][method]
        refused = lead.send("PATCH", f"/trials/{t['id']}/publication", {"method_id": method}, page["version"])
        assert refused.status_code == 409
        assert "may not be recommended" in refused.json["errors"][0]["message"]
    assert lead.get(f"/trials/{t['id']}/publication").json["method_id"] is None


def test_what_is_put_right_after_eating_opens_no_gate(lead: Client, demo_url: str) -> None:
    t, shift, batch = meatballs(lead, demo_url, [(60, 61, "largest"), (60, 61, "coldest")])
    other = next(
        c for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"] if c["batch_id"] != batch
    )
    for b in (batch, other["batch_id"]):
        ok(
            lead.send(
                "POST", f"/batches/{b}/ownerships", {"why": "the lead takes it upon herself, tasting only"}
            )
        )
    made = lead.send(
        "POST", f"/trials/{t['id']}/tastings", {"batches": [batch, other["batch_id"]], "tasters": ["a"]}
    )
    assert made.status_code == 201, made.json
    time.sleep(0.1)
    read(lead, shift, batch, [(a + 200, c, p) for a, c, p in HELD])
    unfit = lead.get(f"/trials/{t['id']}/publication").json["unfit"]
    assert "when it was tasted" in unfit[t["methods"][0]["id"]]


def test_a_page_that_would_not_stand_today_is_listed_for_the_lead(lead: Client, cook: Client) -> None:
    assert lead.get("/pages-at-risk").json["items"] == []
    tid = trial_id(lead)
    t = lead.get(f"/trials/{tid}").json
    ok(lead.send("PATCH", f"/trials/{tid}", {"food_class": "shelf_stable"}, t["version"]))
    items = lead.get("/pages-at-risk").json["items"]
    assert [i["trial_id"] for i in items] == [tid]
    assert "Withdraw" in items[0]["proposal"]
    assert cook.get("/pages-at-risk").status_code == 403


def test_no_allergen_entered_reads_not_checked(app: Any, lead: Client, demo_url: str) -> None:
    t = new_trial(lead)
    rows = {
        "items": [
            {"name": n, "allergens": [], "allergens_checked": c, "amounts": {}}
            for n, c in (("oil", True), ("crumbs", False))
        ]
    }
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", rows, t["version"]).json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    also = [
        {"what": "cracker", "allergens": ["gluten"]},
        {"what": "water", "allergens": [], "checked": True},
        {"what": "dip", "allergens": []},
    ]
    tasting = lead.send(
        "POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": ["a"], "served_with": also}
    ).json
    view = Client(app.test_client()).get(f"/taste/{handed_over(lead, tasting)}").json
    assert view["allergens"] == ["gluten"]
    assert view["unchecked"] == ["crumbs", "dip"]


# What is sealed
def sitting(lead: Client, demo_url: str, tasters: list[str]) -> dict[str, Any]:
    t = whole_run(lead, demo_url)
    batches = [c["batch_id"] for c in lead.get(f"/trials/{t['id']}/tastings").json["candidates"]]
    return dict(
        lead.send("POST", f"/trials/{t['id']}/tastings", {"batches": batches, "tasters": tasters}).json
    )


def test_a_link_is_shown_once_by_an_act_that_is_kept_and_the_one_before_is_void(
    app: Any, lead: Client, cook: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["one"])
    assert "link" not in json.dumps(tasting["seats"])
    first = handed_over(cook, tasting)
    guest = Client(app.test_client())
    assert guest.get(f"/taste/{first}").status_code == 200
    second = handed_over(lead, tasting)
    assert guest.get(f"/taste/{first}").status_code == 404
    assert guest.get(f"/taste/{second}").status_code == 200
    acts = lead.get(f"/tastings/{tasting['id']}").json["seats"][0]["acts"]
    assert len(acts) == 2
    assert all("handed the link over" in a for a in acts)


def test_a_paper_ballot_only_writes_and_is_kept_as_an_act(
    app: Any, lead: Client, cook: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["one"])
    seat = tasting["seats"][0]
    trial = next(x for x in lead.get("/trials").json["items"] if x["dish"] == "cauliflower florets")
    question = lead.get(f"/trials/{trial['id']}").json["attributes"]
    token = handed_over(lead, tasting)
    asked = Client(app.test_client()).get(f"/taste/{token}").json["attributes"][0]["id"]
    assert question
    ballot = {"answers": [{"code": c, "attribute_id": asked, "value": 6} for c in seat["order"]]}
    path = f"/tastings/{tasting['id']}/seats/{seat['id']}/ballots"
    assert cook.send("POST", path, ballot).status_code == 403
    assert lead.send("POST", path, {"answers": [{**ballot["answers"][0], "value": 99}]}).status_code == 422
    after = lead.send("POST", path, ballot).json
    assert after["seats"][0]["finished"]
    assert any("typed a paper ballot in" in a for a in after["seats"][0]["acts"])
    assert '"value"' not in json.dumps(after)


def test_codes_are_kept_by_no_seed(lead: Client, demo_url: str) -> None:
    from sqlalchemy import text

    from yeasty.store.database import make_engine

    with make_engine(demo_url).connect() as c:
        columns = {
            r[0]
            for r in c.execute(
                text("select column_name from information_schema.columns where table_name = 'tasting'")
            )
        }
    assert "seed" not in columns


def at_once(app: Any, count: int, act: Callable[[Client], int]) -> list[int]:
    clients = [Client(app.test_client()).sign_in("lead", "flour-water-salt") for _ in range(count)]
    found: list[int] = []
    threads = [threading.Thread(target=lambda c=c: found.append(act(c))) for c in clients]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return found


def test_of_ten_edits_with_one_version_one_goes_through(app: Any, lead: Client) -> None:
    tid = trial_id(lead)
    version = lead.get(f"/trials/{tid}/publication").json["version"]
    settings, etag = lead.get("/kitchen").json, int(lead.get("/kitchen").headers["ETag"].strip('"'))
    circuits = lead.get("/circuits").json["items"]

    def draft(c: Client) -> int:
        return c.send(
            "PATCH", f"/trials/{tid}/publication", {"intro": str(uuid.uuid4())}, version
        ).status_code

    def kitchen(c: Client) -> int:
        return c.send("PUT", "/kitchen", {**settings, "name": str(uuid.uuid4())}, etag).status_code

    assert sorted(at_once(app, 10, draft)) == [200] + [412] * 9
    assert sorted(at_once(app, 6, kitchen)) == [200] + [412] * 5
    stale = lead.send("PUT", "/circuits", {"items": circuits}, etag)
    technique = next(x for x in lead.get("/techniques").json["items"] if x["key"] == "oven")

    def offer(c: Client) -> int:
        return c.send("PATCH", "/techniques/oven", {"hidden": True}, technique["version"]).status_code

    pieces = lead.get(f"/trials/{tid}/pieces").json

    def weigh(c: Client) -> int:
        rows = {"items": [{"mass_kg": 0.05, "part": str(uuid.uuid4())[:8]}]}
        return c.send("PUT", f"/trials/{tid}/pieces", rows, pieces["version"]).status_code

    assert sorted(at_once(app, 6, offer)) == [200] + [412] * 5
    assert sorted(at_once(app, 6, weigh)) == [200] + [412] * 5
    assert stale.status_code == 412
    assert lead.send("PUT", "/circuits", {"items": circuits}).status_code == 428


def test_an_answer_that_races_with_the_opening_is_in_or_out_never_after(
    app: Any, lead: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["one"])
    token = handed_over(lead, tasting)
    guest = Client(app.test_client())
    guest.send("POST", f"/taste/{token}/allergens-told")
    view = guest.get(f"/taste/{token}").json
    body = {"code": view["samples"][0]["code"], "attribute_id": view["attributes"][0]["id"], "value": 5}
    told: list[int] = []

    def answer() -> None:
        taster = Client(app.test_client())
        for n in range(12):
            told.append(taster.send("POST", f"/taste/{token}/answers", {**body, "value": n / 2}).status_code)

    threads = [threading.Thread(target=answer) for _ in range(3)]
    for t in threads:
        t.start()
    opened = lead.send("POST", f"/tastings/{tasting['id']}/open", {"though_unfinished": True}).json[
        "opened_at"
    ]
    for t in threads:
        t.join()
    from sqlalchemy import text

    from yeasty.store.database import make_engine

    with make_engine(demo_url).connect() as c:
        late = c.execute(text("select count(*) from answer where given_at > :at"), {"at": opened}).scalar()
        kept = c.execute(
            text("select count(*) from answer a join seat s on s.id = a.seat_id where s.tasting_id = :t"),
            {"t": tasting["id"]},
        ).scalar()
    assert late == 0
    assert kept == told.count(200)


# What comes from strangers
def repacked(change: Callable[[dict[str, Any]], None], photos: dict[str, bytes] | None = None) -> bytes:
    """The stored archive with a change, its sums made right, as somebody with bad intent would."""
    source = zipfile.ZipFile(ARCHIVES / "version-5.yeasty.zip")
    members = {n: source.read(n) for n in source.namelist()}
    tables = json.loads(members["trial.json"])
    change(tables)
    members["trial.json"] = json.dumps(tables).encode()
    members |= photos or {}
    manifest = json.loads(members["manifest.json"])
    manifest["files"] = {n: sha256(d).hexdigest() for n, d in members.items() if n != "manifest.json"}
    members["manifest.json"] = json.dumps(manifest).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as z:
        for name, data in members.items():
            z.writestr(name, data)
    return out.getvalue()


def bring(lead: Client, data: bytes) -> Any:
    return lead.http.post(
        "/api/v1/archives",
        data=data,
        headers={"X-CSRFToken": lead.csrf, "Content-Type": "application/octet-stream"},
    )


def renamed(tables: dict[str, Any]) -> dict[str, Any]:
    """Ids of its own: the demo that is here came from the same rows."""
    text = json.dumps(tables)
    for rows in tables.values():
        for r in rows:
            if "id" in r:
                text = text.replace(r["id"], str(uuid.uuid5(uuid.NAMESPACE_URL, r["id"])))
    text = text.replace('"slug": "', '"slug": "other-')
    return dict(json.loads(text))


def renamed_pictures() -> dict[str, bytes]:
    """The pictures under the ids of `renamed`."""
    source = zipfile.ZipFile(ARCHIVES / "version-5.yeasty.zip")
    found = {}
    for n in (n for n in source.namelist() if n.startswith("photos/")):
        key, _, rest = n.removeprefix("photos/").partition(".")
        found[f"photos/{uuid.uuid5(uuid.NAMESPACE_URL, key)}.{rest}"] = source.read(n)
    return found


def as_another(tables: dict[str, Any], change: Callable[[dict[str, Any]], None] = lambda t: None) -> None:
    new = renamed(tables)
    tables.clear()
    tables.update(new)
    change(tables)


PNG_WITH_SCRIPT = b"<html><script>alert(1)</script></html>"


def mutants() -> list[tuple[str, Callable[[dict[str, Any]], None]]]:
    def put(table: str, column: str, value: Any) -> Callable[[dict[str, Any]], None]:
        return lambda t: t[table][0].update({column: value})

    return [
        ("a year nobody reads", put("shift", "serve_from", "9999-12-31T23:59:59+00:00")),
        ("a year before time", put("entry", "device_time", "0001-01-01T00:00:00+00:00")),
        ("an appliance without a kind", put("appliance", "kind", "cannon")),
        ("a dial that is no list of words", put("appliance", "dial", [{"word": 5}])),
        ("a capacity of nothing", put("appliance", "capacities", [{"pieces": -1, "piece_m": "x"}])),
        ("a step that lasts for ever", put("step", "duration_s", 1e300)),
        ("a step below the cold", put("step", "set_point_c", -5000.0)),
        ("a batch without steps that can be read", put("batch", "steps", [{"what": 1}])),
        ("facts that are no facts", put("batch", "facts", {"thickness_m": "wide"})),
        ("a payload of another kind", put("entry", "payload", {"nothing": True, "step": 5})),
        ("a mark beyond all marks", put("method", "mark", 4000)),
        ("an answer off its scale", put("answer", "value", 400.0)),
        ("a seat with a code of its own", put("seat", "order", ["000"])),
        ("a plan that is no plan", put("plan", "items", [{"batch": 3}])),
        ("a probe of another world", put("probe_log", "channels", {"core": ["hot"]})),
        ("texts that are no texts", put("draft", "texts", {"title": {"a": 1}})),
        ("weights beyond the kitchen", put("method_amount", "mass_kg", -4.0)),
        ("a deep nest", put("trial", "layout", json.loads("[" * 60 + "]" * 60))),
        ("a price that is none", put("ingredient", "price_per_kg", "NaN")),
        ("a question of another kind", put("trial", "kind", "riddle")),
    ]


@pytest.mark.parametrize(("name", "change"), mutants(), ids=[n for n, _ in mutants()])
def test_rows_that_could_not_be_typed_in_are_refused_and_nothing_is_written(
    lead: Client, name: str, change: Callable[[dict[str, Any]], None]
) -> None:
    before = len(lead.get("/trials").json["items"])
    got = bring(lead, repacked(lambda t: as_another(t, change), renamed_pictures()))
    assert got.status_code in (409, 422), (name, got.json)
    assert got.json["errors"], name
    assert len(lead.get("/trials").json["items"]) == before
    assert lead.get("/appliances").status_code == 200


def test_a_strangers_archive_brings_no_page_no_word_of_the_lead_and_no_script(
    app: Any, cook: Client, lead: Client
) -> None:
    def change(tables: dict[str, Any]) -> None:
        tables["photo"][0]["media_type"] = "text/html"
        batch, person = tables["batch"][0]["id"], tables["person"][0]["id"]
        tables["ownership"] = [
            {"id": str(uuid.uuid4()), "batch_id": batch, "why": "the lead let it through, in writing",
             "owned_at": "2026-01-01T00:00:00+00:00", "owned_by": person}
        ]  # fmt: skip

    got = bring(cook, repacked(lambda t: as_another(t, change), renamed_pictures()))
    assert got.status_code == 201, got.json
    tid = got.json["trial_id"]
    assert all(c["owned"] == "" for c in lead.get(f"/trials/{tid}/tastings").json["candidates"])
    tasting = lead.get(f"/trials/{tid}/tastings").json["items"][0]
    assert tasting["opened_elsewhere"]
    assert tasting["key"] == {}
    versions = lead.get(f"/trials/{tid}/publication").json["versions"]
    public = app.test_client()
    assert all(public.get(v["path"]).status_code == 404 for v in versions)
    photo = next(
        e["payload"]["photo_id"]
        for s in lead.get(f"/trials/{tid}/shifts").json["items"]
        for e in lead.get(f"/shifts/{s['id']}/bench").json["entries"]
        if e["kind"] == "photo"
    )
    shown = lead.get(f"/trials/{tid}/photos/{photo}")
    assert shown.headers["Content-Type"] == "image/jpeg"
    assert shown.data[:3] == b"\xff\xd8\xff"


def test_a_picture_that_is_none_is_refused(lead: Client) -> None:
    pictures = renamed_pictures()
    name = next(n for n in pictures if "thumb" not in n)
    pictures[name] = PNG_WITH_SCRIPT
    got = bring(lead, repacked(as_another, pictures))
    assert got.status_code in (409, 422)
    assert "not a picture" in json.dumps(got.json)


def test_a_pot_that_was_seen_boiling_bounds_the_time_nobody_read(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"), "mince")
    for m in t["methods"]:
        change = {"piece_thickness_m": 0.015, "start_c": 4, "piece_shape": "sphere"}
        t = lead.send("PATCH", f"/trials/{t['id']}/methods/{m['id']}", change, t["version"]).json
    bench = cook_all(lead, make_shift(lead, t)["id"], demo_url, core=None)
    batch = bench["batches"][0]
    cooking = next(s for s in batch["steps"] if s["phase"] == "cook")
    plan = next(
        i for i in bench["plan"]["items"] if i["batch"] == batch["id"] and i["step"] == cooking["key"]
    )
    back = max(i["end"] for i in bench["plan"]["items"]) - time.time()
    seen = {"step": cooking["key"], "sign": "boiling hard", "at": plan["start"] - back + 1}

    def spent() -> float:
        time.sleep(1.6)
        return float(
            next(
                b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"] if b["batch"] == batch["id"]
            )["zone_spent_s"]
        )

    shift = lead.get(f"/trials/{t['id']}/shifts").json["items"][0]["id"]
    before = spent()
    ok(
        lead.send(
            "POST", f"/shifts/{shift}/entries", {"entries": [an_entry(batch["id"], "confirmed", seen, 5000)]}
        )
    )
    after = spent()
    length = plan["end"] - plan["start"]
    # What is on record takes off at most the cooking, and never what came before it was seen.
    assert before - length - 60 < after < before - 60


def test_hands_board_and_tongs_carry_what_is_raw_until_they_are_washed(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer"), "poultry")
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url, core=None)
    carried = lead.get(f"/shifts/{shift}/outlook").json["carrying"]
    assert {"hands", "board", "tongs"} <= set(carried)
    batch = bench["batches"][0]["id"]
    rows = [an_entry(batch, "washed", {"thing": thing}, 6000 + n) for n, thing in enumerate(carried)]
    ok(lead.send("POST", f"/shifts/{shift}/entries", {"entries": rows}))
    time.sleep(1.6)
    assert lead.get(f"/shifts/{shift}/outlook").json["carrying"] == []


def test_every_row_a_verdict_reads_belongs_to_its_trial_by_a_reference_it_always_has() -> None:
    from yeasty.store.decisions import _way, every_table
    from yeasty.store.tables import Base

    for name in every_table():
        way = _way(name)
        at = name
        for column, target in way or ():
            assert not Base.metadata.tables[at].c[column].nullable, (name, at, column)
            at = target
    assert _way("answer") == (("sample_id", "sample"), ("tasting_id", "tasting"), ("trial_id", "trial"))

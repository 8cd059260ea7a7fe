"""What may be eaten, and what may be told to readers."""

import time
import uuid
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import delete, select

from tests.api.helpers import (
    Client,
    an_entry,
    cook_all,
    handed_over,
    make_shift,
    new_trial,
    ok,
    sitting,
    trial_id,
)
from tests.conftest import run_worker_once, session
from yeasty.operations.publish.at_risk import keep_telling
from yeasty.store.database import make_engine, session_factory
from yeasty.store.decide.tables import Analysis
from yeasty.store.publish.tables import Publication

ARCHIVES = Path(__file__).parents[1] / "archives"


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
    assert "no longer recommended" in items[0]["correction"]
    assert cook.get("/pages-at-risk").status_code == 403


def test_what_may_be_told_is_kept_until_something_changes_it(lead: Client, demo_url: str) -> None:
    tid = uuid.UUID(trial_id(lead))
    sessions = session_factory(make_engine(demo_url))
    why = "It was kept so."

    def named() -> list[str]:
        return [i["why"] for i in lead.get("/pages-at-risk").json["items"] if i["trial_id"] == str(tid)]

    def kept(**other: Any) -> None:
        """Kept as it is, but for the recommended method: which shows whether it is what is asked."""
        with sessions.begin() as db:
            keep_telling(db, tid)
        with sessions.begin() as db:
            row = db.get_one(Analysis, (tid, "telling"))
            assert row.result["settled"]
            telling = {**row.result["telling"], "unfit": {method: why}}
            row.result = {**row.result, "telling": telling, **other}

    t = lead.get(f"/trials/{tid}").json
    method = next(m["id"] for m in t["methods"] if m["technique"] == "air_fryer")
    assert named() == []
    kept()
    assert named() == [why]
    # By another version of the program, or where time alone may change it, it is worked out anew.
    kept(program="0.1")
    assert named() == []
    kept(settled=False)
    assert named() == []
    # So it is once anything changes that it stands on, and what it says then is kept the next time.
    kept()
    ok(lead.send("PATCH", f"/trials/{tid}", {"food_class": "shelf_stable"}, t["version"]))
    assert named()
    assert named() != [why]
    run_worker_once(demo_url)
    assert named() != [why]


def test_what_is_not_kept_of_a_page_is_kept_after_the_next_look(lead: Client, demo_url: str) -> None:
    def kept() -> dict[uuid.UUID, Any]:
        with session(demo_url) as db:
            rows = db.scalars(select(Analysis).where(Analysis.kind == "telling")).all()
            return {r.trial_id: r.made_at for r in rows}

    with session(demo_url) as db:
        pages = set(db.scalars(select(Publication.trial_id)))
        db.execute(delete(Analysis).where(Analysis.kind == "telling", Analysis.trial_id != trial_id(lead)))
        db.commit()
    before = kept()
    assert set(before) == {uuid.UUID(trial_id(lead))} < pages, "the demo's pages are kept from the start"
    assert lead.get("/pages-at-risk").json["items"] == []
    run_worker_once(demo_url)
    after = kept()
    assert set(after) == pages
    assert after.items() >= before.items(), "what stood was not worked out again"


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
    assert [a["what"] for a in view["allergens"] if a["checked"]] == ["gluten"]
    assert [a["what"] for a in view["allergens"] if not a["checked"]] == ["crumbs", "dip"]


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


def test_a_measured_low_bounds_the_time_nobody_read_only_with_its_start_and_looks(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("slow_cooker", "oven"), "mince")
    m = t["methods"][0]
    change = {"piece_thickness_m": 0.03, "start_c": 4, "batch_kg": 1.2}
    t = lead.send("PATCH", f"/trials/{t['id']}/methods/{m['id']}", change, t["version"]).json
    cooking = next(s for s in t["methods"][0]["steps"] if s["phase"] == "cook")
    crock = next(a for a in lead.get("/appliances").json["items"] if a["id"] == cooking["appliance_id"])
    body = {k: v for k, v in crock.items() if k not in ("id", "version")}
    low = {"word": "low", "celsius": 88, "measured": True}
    crock = lead.send(
        "PUT",
        f"/appliances/{crock['id']}",
        {**body, "dial": [low], "input_w": 300, "measured_w": 260},
        crock["version"],
    ).json
    steps = [
        {**s, "set_point_c": 88, "duration_s": 7 * 3600} if s["phase"] == "cook" else s
        for s in t["methods"][0]["steps"]
    ]
    ok(lead.send("PUT", f"/trials/{t['id']}/methods/{m['id']}/steps", {"items": steps}, t["version"]))
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url, core=None)
    batch = next(b for b in bench["batches"] if b["method_id"] == m["id"])
    items = bench["plan"]["items"]
    back = max(i["end"] for i in items) - time.time()
    cooked = next(s for s in batch["steps"] if s["phase"] == "cook")
    planned = next(i for i in items if i["batch"] == batch["id"] and i["step"] == cooked["key"])
    began = planned["start"] - back

    def spent() -> float:
        time.sleep(1.6)
        rows = lead.get(f"/shifts/{shift}/outlook").json["batches"]
        return float(next(b for b in rows if b["batch"] == batch["id"])["zone_spent_s"])

    def log(*rows: dict[str, Any]) -> None:
        ok(lead.send("POST", f"/shifts/{shift}/entries", {"entries": list(rows)}))

    before = spent()
    looks = [
        an_entry(batch["id"], "looked", {"text": "lid closed", "at": began + 5400 * n}, 7000 + n)
        for n in range(1, 5)
    ]
    log(*looks)
    assert spent() == pytest.approx(before, abs=30)  # nobody saw it start
    log(
        an_entry(batch["id"], "confirmed", {"step": cooked["key"], "sign": "light on", "at": began + 5}, 7100)
    )
    after = spent()
    assert before - 7 * 3600 < after < before - 1800
    told = next(b for b in lead.get(f"/shifts/{shift}/outlook").json["batches"] if b["batch"] == batch["id"])
    assert "low" in str(told)


def test_a_food_whose_ingredients_nobody_listed_is_never_called_free_of_allergens(
    app: Any, lead: Client, demo_url: str
) -> None:
    tasting = sitting(lead, demo_url, ["a"])
    page = Client(app.test_client()).get(f"/taste/{handed_over(lead, tasting)}").json
    assert [(a["what"], a["checked"]) for a in page["allergens"]] == [
        ("the food itself: its ingredients are not listed", False)
    ]

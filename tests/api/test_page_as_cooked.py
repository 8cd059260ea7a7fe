"""A page tells what was cooked and nothing private; its draft is drawn by what draws the page."""

from typing import Any

from tests.api.helpers import (
    Client,
    an_entry,
    cook_all,
    first_answer,
    handed_over,
    lay,
    make_shift,
    new_trial,
    no_allergies,
    ok,
    samples,
    trial_id,
)
from tests.conftest import run_worker_once


def page_of(lead: Client, trial: str) -> str:
    return str(lead.get(f"/trials/{trial}/publication/page").text)


def change(lead: Client, trial: str, **words: Any) -> Any:
    version = lead.get(f"/trials/{trial}/publication").json["version"]
    return lead.send("PATCH", f"/trials/{trial}/publication", words, version)


def test_what_was_noted_at_the_bench_is_told_only_once_the_lead_picks_it(
    lead: Client, app: Any, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "steamer"))
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url)
    mine = next(b for b in bench["batches"] if b["method_id"] == t["methods"][0]["id"])["id"]
    private = "the landlord came by, door stood open"
    notes = [
        an_entry(mine, "note", {"text": private}, 900),
        an_entry(mine, "cue", {"text": "brown rim"}, 901),
    ]
    ok(lead.send("POST", f"/shifts/{shift}/entries", {"entries": notes}))
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    ok(change(lead, t["id"], method_id=t["methods"][0]["id"]))
    before = page_of(lead, t["id"])
    assert private not in before
    assert "brown rim" not in before
    offered = lead.get(f"/trials/{t['id']}/publication").json["offered"]
    assert {private, "brown rim"} <= set(offered["notes"])
    ok(change(lead, t["id"], signs="brown rim"))
    after = page_of(lead, t["id"])
    assert "brown rim" in after
    assert private not in after


def test_words_of_a_taster_are_told_only_as_written_and_with_consent(
    lead: Client, app: Any, demo_url: str, table: dict[str, Any]
) -> None:
    tasting = lay(lead, table, [{"samples": samples(table["batches"])}], 2).json
    said = {0: "lovely, like my aunt’s", 1: "reminds me of hospital"}
    for seat in (0, 1):
        token = handed_over(lead, tasting, seat)
        guest = Client(app.test_client())
        no_allergies(guest, token)
        sheet = guest.get(f"/taste/{token}").json["rounds"][0]
        for answer in first_answer(sheet):
            ok(guest.send("POST", f"/taste/{token}/answers", answer))
        code = sheet["samples"][0]["code"]
        ok(guest.send("POST", f"/taste/{token}/answers", {"code": code, "comment": said[seat]}))
        ok(guest.send("POST", f"/taste/{token}/finish", {"may_quote": seat == 0}))
    ok(lead.send("POST", f"/tastings/{tasting['id']}/open", {}))
    run_worker_once(demo_url)
    t = table["trial"]
    quotes = []
    for m in t["methods"]:
        ok(change(lead, t["id"], method_id=m["id"]))
        quotes += lead.get(f"/trials/{t['id']}/publication").json["offered"]["quotes"]
    assert quotes == [said[0]]
    for words in (said[1], said[0] + " and more"):
        refused = change(lead, t["id"], quotes=words)
        assert refused.status_code == 422
        assert refused.json["errors"][0]["field"] == "quotes"
    ok(change(lead, t["id"], quotes=said[0]))
    page = page_of(lead, t["id"])
    assert said[0] in page
    assert "Person 0" not in page


def test_times_on_the_page_are_those_of_the_log_and_the_plan_stands_beside(
    lead: Client, app: Any, demo_url: str
) -> None:
    t = new_trial(lead, ("oven", "steamer"))
    shift = make_shift(lead, t)["id"]
    bench = cook_all(lead, shift, demo_url)
    batch = next(b for b in bench["batches"] if b["method_id"] == t["methods"][0]["id"])
    cook = next(s for s in batch["steps"] if s["phase"] == "cook")
    out = next(s for s in batch["steps"] if s["phase"] == "out")
    # It was taken out twelve minutes before the plan said: the correction is what happened.
    entries = lead.get(f"/shifts/{shift}/bench").json["entries"]
    was = next(e for e in entries if e["batch"] == batch["id"] and e["payload"].get("step") == out["key"])
    early = was["payload"]["at"] - 720
    fixed = an_entry(batch["id"], was["kind"], {**was["payload"], "at": early}, 990, supersedes=was["id"])
    ok(lead.send("POST", f"/shifts/{shift}/entries", {"entries": [fixed]}))
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    ok(change(lead, t["id"], method_id=t["methods"][0]["id"]))
    step = page_of(lead, t["id"]).split(f"<b>{cook['what']}</b>")[1].split("</li>")[0]
    planned = round(cook["duration_s"] / 60)
    assert f"(planned {planned} min)" in step
    assert f"{planned - 12} min" in step.split("<small>")[0]


def test_what_it_was_cooked_in_covered_or_not_and_where_is_told(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "pan"))
    of = {"vessel": "dish", "lid": "lid on", "place": "lower shelf"}
    t = lead.send("PATCH", f"/trials/{t['id']}/methods/{t['methods'][0]['id']}", of, t["version"]).json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    ok(change(lead, t["id"], method_id=t["methods"][0]["id"]))
    told = page_of(lead, t["id"])
    assert "<li>Dish, lid on</li>" in told
    assert "<li>Lower shelf</li>" in told
    assert told.count("What went into it was not written down.") == 1
    ok(change(lead, t["id"], method_id=t["methods"][1]["id"]))
    assert "<li>Dish, lid on</li>" not in page_of(lead, t["id"])


def test_a_draft_is_framed_by_this_application_alone(lead: Client, app: Any) -> None:
    t = trial_id(lead)
    draft = lead.get(f"/trials/{t}/publication/page")
    assert "frame-ancestors 'self'" in draft.headers["Content-Security-Policy"]
    assert "script-src" not in draft.headers["Content-Security-Policy"]
    out = lead.get(f"/trials/{t}/publication").json["versions"][0]["path"]
    reader = app.test_client()
    assert "frame-ancestors 'none'" in reader.get(out).headers["Content-Security-Policy"]
    assert reader.get(f"/api/v1/trials/{t}/publication/page").status_code == 401
    assert "Draft: nobody else sees it" in draft.text
    assert "Ask the kitchen" not in draft.text

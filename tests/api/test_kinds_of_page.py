"""Pages of every kind: each follows the outcome, is true of its records, and offers nothing refused."""

import csv
import html
import io
import json
import re
import zipfile
from collections import defaultdict
from io import BytesIO
from pathlib import Path
from statistics import fmean
from typing import Any
from xml.etree import ElementTree

import pytest
from pypdf import PdfReader
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tests.api.helpers import Client, cook_all, make_shift, new_trial, ok, trial_id
from tests.conftest import run_worker_once, session
from yeasty.core.kernel.entries import EntryKind
from yeasty.core.publish.html import Edition, page_html
from yeasty.core.publish.kinds import PageKind
from yeasty.core.publish.markdown import markdown
from yeasty.core.taste.said import SaidValue
from yeasty.operations.decide.decisions import outcome_of
from yeasty.operations.publish.building import build_page
from yeasty.operations.publish.pages import draft_of
from yeasty.operations.publish.report import report_of
from yeasty.operations.publish.static import write_pages
from yeasty.store.ask.queries import whole_trial
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Batch, EntryRow, Shift
from yeasty.store.kitchen.people_tables import Person
from yeasty.store.publish.queries import newest_out
from yeasty.store.publish.tables import Publication
from yeasty.store.taste.tables import AnswerRow, Sample, TasteRound, Tasting


def page_of(db: Session, kind: PageKind) -> tuple[Publication, Trial]:
    row = next(p for p in newest_out(db) if p.document["kind"] == kind.value)
    trial = whole_trial(db, row.trial_id)
    assert trial is not None
    return row, trial


def means(db: Session, trial: Trial, conditions: tuple[str, ...] = ("", "plain")) -> dict[str, float]:
    """Method to the mean of all that was said of it, straight from the answers: the newest of each counts."""
    rows = db.execute(
        select(AnswerRow, Sample, Batch)
        .join(Sample, Sample.id == AnswerRow.sample_id)
        .join(Batch, Batch.id == Sample.batch_id)
        .join(TasteRound, TasteRound.id == AnswerRow.round_id)
        .join(Tasting, Tasting.id == TasteRound.tasting_id)
        .where(
            Tasting.trial_id == trial.id, TasteRound.test == "scored", TasteRound.condition.in_(conditions)
        )
        .order_by(AnswerRow.given_at, AnswerRow.id)
    )
    newest: dict[Any, tuple[str, float]] = {}
    for a, s, b in rows:
        if isinstance(a.said, SaidValue):
            newest[a.seat_id, s.id, a.attribute_id] = (str(b.method_id), a.said.value)
    found = defaultdict(list)
    for method, value in newest.values():
        found[method].append(value)
    return {m: fmean(v) for m, v in found.items()}


def test_a_page_of_every_kind_stands_in_the_demo_and_says_what_decide_says(demo_url: str) -> None:
    with session(demo_url) as db:
        rows = newest_out(db)
        assert {p.document["kind"] for p in rows} == {k.value for k in PageKind}
        for row in rows:
            outcome = outcome_of(db, row.trial_id)
            assert outcome is not None
            said = outcome.answer
            assert row.document["headline"] == said.headline
            how_sure = f"How sure: {said.how_sure.value}."
            # Of one taster, and of a first look, its word would say something else than what it means.
            if outcome.tasters == 1:
                assert "says nothing of what others would like" in row.document["how_sure"]
            elif row.document["kind"] == "every_way":
                assert "settles nothing" in row.document["how_sure"]
            else:
                assert row.document["how_sure"] == how_sure
            marks = [(m["label"], m["value"]) for m in row.document["picture"]["marks"]]
            assert marks == [(m.label, m.value) for m in said.picture.marks]
            trial = whole_trial(db, row.trial_id)
            assert trial is not None
            method = {m.name: m for m in trial.methods}
            name = {i.id: i.name for i in trial.ingredients}
            recipe = row.document["recipe"]
            for r in [recipe] if recipe else row.document["recipes"]:
                if r["method"] not in method:
                    continue  # Any of several varieties: looked at below.
                amounts = {name[a.ingredient_id]: a.mass_kg for a in method[r["method"]].amounts}
                assert {i["name"]: i["mass_kg"] for i in r["ingredients"]} == pytest.approx(amounts)


def test_no_word_of_the_trade_stands_in_what_a_guest_reads(demo_url: str) -> None:
    with session(demo_url) as db:
        for row in newest_out(db):
            text = markdown(row.document, published="today", version=1)
            found = re.findall(r"\b(?:rungs?|cells?|batch(?:es)?|frontier|standing)\b", text, re.IGNORECASE)
            assert not found, (row.slug, found)


def test_figures_along_a_ladder_are_the_means_of_what_was_said(demo_url: str) -> None:
    with session(demo_url) as db:
        row, trial = page_of(db, PageKind.HOW_LONG)
        mean = means(db, trial)
        marks = row.document["picture"]["marks"]
        for m, mark in zip(trial.methods, marks, strict=True):
            assert mark["value"] == pytest.approx(mean[str(m.id)], abs=0.051), mark["label"]
        steps = [s["what"] for s in row.document["recipe"]["steps"]]
        assert not [s for s in steps if s.startswith("Pull")], "a reader pulls no rungs"
        assert row.document["choose_another"] == [], "raw is no choice for whoever is in a hurry"


def test_a_claims_figures_are_those_of_the_scale(demo_url: str) -> None:
    with session(demo_url) as db:
        row, trial = page_of(db, PageKind.CLAIM)
        weights: dict[Any, dict[str, float]] = defaultdict(dict)
        for e in db.scalars(select(EntryRow).where(EntryRow.kind == EntryKind.WEIGHT.value)):
            weights[e.batch_id][e.payload["of"]] = e.payload["kg"]
        for m in trial.methods:
            mine = db.scalars(select(Batch).where(Batch.method_id == m.id)).all()
            kept = [100 * weights[b.id]["cooked"] / weights[b.id]["raw"] for b in mine]
            mark = next(x for x in row.document["picture"]["marks"] if x["label"] == m.name)
            said = [float(x) for x in re.findall(r"(\d+) %", mark["note"])]
            assert (min(said), max(said)) == pytest.approx((min(kept), max(kept)), abs=0.51)
        assert row.document["recipe"] is None
        assert any("Nothing was tasted" in e for e in row.document["evidence"])


def test_a_story_tells_each_version_with_its_own_amounts(demo_url: str) -> None:
    with session(demo_url) as db:
        row, trial = page_of(db, PageKind.STORY)
        told = {w["name"]: w for w in row.document["ways"]}
        for m in trial.methods:
            assert told[m.name]["word"] == m.outcome
            assert not m.change or f"changed: {m.change}" in told[m.name]["notes"]
        oil = next(i for i in row.document["recipe"]["ingredients"] if i["name"] == "rapeseed oil")
        assert oil["mass_kg"] == pytest.approx(0.01), "the spoon of oil that the story tells of"
        assert row.document["recipe"]["steps"][0]["what"].startswith("Let the dough rest")


def test_varieties_that_nobody_could_tell_apart_are_one_recipe(demo_url: str) -> None:
    with session(demo_url) as db:
        row, trial = page_of(db, PageKind.WHICH_TO_BUY)
        names = [m.name for m in trial.methods]
        assert row.document["recipe"]["method"] == f"{', '.join(names[:-1])} or {names[-1]}"
        assert row.document["recipes"] == []
        assert row.document["recipe"]["allergens"] == ["gluten"]


def test_whichever_variety_a_reader_takes_what_any_of_them_holds_is_told(demo_url: str) -> None:
    with session(demo_url) as db:
        row, _ = page_of(db, PageKind.WHICH_TO_BUY)
        trial = whole_trial(db, row.trial_id)
        assert trial is not None
        # The last of them holds what the first does not.
        last = next(i for i in trial.ingredients if i.name == trial.methods[-1].name)
        last.allergens = ["gluten", "tree nuts"]
        db.flush()
        page = build_page(db, trial, draft_of(db, trial))
        assert page is not None
        assert page.recipe is not None
        assert page.recipe.allergens == ("gluten", "tree nuts")


def test_what_was_weighed_into_other_ways_only_is_not_left_out_in_silence(demo_url: str) -> None:
    with session(demo_url) as db:
        row, _ = page_of(db, PageKind.STORY)
        trial = whole_trial(db, row.trial_id)
        assert trial is not None
        oil = next(i for i in trial.ingredients if i.name == "rapeseed oil")
        oil.allergens = ["sesame"]
        leader = next(m for m in trial.methods if m.name == row.document["recipe"]["method"])
        draft = draft_of(db, trial)
        held = build_page(db, trial, draft)
        assert held is not None
        assert held.recipe is not None
        assert "sesame" in held.recipe.allergens
        leader.amounts = [a for a in leader.amounts if a.ingredient_id != oil.id]
        db.flush()
        page = build_page(db, trial, draft)
        assert page is not None
        assert page.recipe is not None
        assert "sesame" not in page.recipe.allergens
        assert "rapeseed oil (weighed into other ways only)" in page.recipe.allergens_unchecked


def test_no_winner_shows_every_way_and_a_reader_chooses_by_what_there_is(app: Any, demo_url: str) -> None:
    with session(demo_url) as db:
        row, trial = page_of(db, PageKind.TONIGHT)
        path, document = f"/p/{row.slug}", row.document
        assert [r["method"] for r in document["recipes"]] == [m.name for m in trial.methods]
        longest = {w["name"]: max(w["values"]["total_s"]) / 60 for w in document["ways"]}
    guest = app.test_client()
    limit = sorted(longest.values())[0] + 1
    page = guest.get(f"{path}?total_s={limit:.1f}").text
    for name, minutes in longest.items():
        assert (f"<b>{name}</b> fits." in page) is (minutes <= limit + 0.26), name
        assert (f"{name} does not:" in page) is (minutes > limit + 0.26), name
    assert "None of these fits." in guest.get(f"{path}?hands_s=0.5").text
    assert "is no number of minutes" in guest.get(f"{path}?hands_s=soon").text
    assert "fits." not in guest.get(path).text
    hostile = guest.get(path, query_string={"total_s": '"><script>1</script>'}).text
    assert "<script>1" not in hostile


def test_amounts_follow_how_many_a_reader_wants_and_times_do_not(app: Any, demo_url: str) -> None:
    with session(demo_url) as db:
        row, _ = page_of(db, PageKind.ONE_METHOD)
        recipe = row.document["recipe"]
    guest = app.test_client()
    asked = 2 * recipe["pieces"] + 1
    plain, more = guest.get(f"/p/{row.slug}").text, guest.get(f"/p/{row.slug}?pieces={asked}").text
    for i in recipe["ingredients"]:
        grams = 1000 * i["mass_kg"] * asked / recipe["pieces"]
        told = re.search(rf'<span class="n">([\d.]+) (k?)g[^<]*</span> {re.escape(i["name"])}<', more)
        assert told, i["name"]
        assert float(told[1]) * (1000 if told[2] else 1) == pytest.approx(grams, rel=0.03, abs=0.6), i["name"]
    assert f"cook in 3 rounds of at most {recipe['pieces'] - 1}" in more
    steps = re.compile(r'<ol class="steps">.*?</ol>', re.S)
    assert steps.findall(plain) == steps.findall(more)
    assert "look earlier" in guest.get(f"/p/{row.slug}?pieces=1").text
    for wrong in ("0", "-3", "many", "99999", "²"):
        answer = guest.get(f"/p/{row.slug}", query_string={"pieces": wrong})
        assert answer.status_code == 200
        assert "is no number of pieces" in answer.text, wrong
    paper = guest.get(f"/p/{row.slug}?print&pieces={asked}").text
    assert f"Amounts for {asked}." in paper
    assert "<form" not in paper


def test_what_can_hurt_somebody_is_a_warning_and_never_a_way(lead: Client, demo_url: str) -> None:
    t = new_trial(lead, ("oven", "steamer", "microwave"))
    m = t["methods"][0]
    t = lead.send(
        "PATCH", f"/trials/{t['id']}/methods/{m['id']}", {"hazards": ["not_for_food"]}, t["version"]
    ).json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    lots = {
        "items": [
            {
                "name": "cauliflower",
                "allergens": [],
                "amounts": {x["id"]: "200 g" for x in t["methods"]},
            }
        ]
    }
    ok(
        lead.send(
            "PUT", f"/trials/{t['id']}/ingredients", lots, lead.get(f"/trials/{t['id']}").json["version"]
        )
    )
    before = lead.get(f"/trials/{t['id']}/publication").json
    assert not before["headline"], "one method, and none is recommended"
    ok(lead.send("PATCH", f"/trials/{t['id']}/publication", {"kind": "tonight"}, before["version"]))
    # Amounts were written after the verdict: what is told has to be of the records as they are.
    assert not before["fresh"]
    early = lead.send("POST", f"/trials/{t['id']}/publications", {"correction": ""})
    assert early.status_code == 409
    assert "records which have changed since" in early.text
    assert lead.get(f"/trials/{t['id']}/publication").json["versions"] == []
    run_worker_once(demo_url)
    assert lead.get(f"/trials/{t['id']}/publication").json["fresh"]
    ok(lead.send("POST", f"/trials/{t['id']}/publications", {"correction": ""}))
    out = lead.get(f"/trials/{t['id']}/publication").json["versions"][0]
    page = lead.http.get(out["path"]).text
    refused = page[page.index("Not to be cooked from this page") :]
    assert f"<b>{m['name']}.</b>" in refused
    assert "It is not for publishing" in refused
    assert f'id="way-{m["tag"]}"' not in page
    assert page.count('id="way-') == 2


def test_the_lead_chooses_another_kind_and_one_that_is_none_is_refused(lead: Client, demo_url: str) -> None:
    buns = trial_id(lead)
    view = lead.get(f"/trials/{buns}/publication").json
    assert view["kind"] == "one_method"
    got = lead.send("PATCH", f"/trials/{buns}/publication", {"kind": "winner"}, view["version"])
    assert got.status_code == 422
    changed = lead.send("PATCH", f"/trials/{buns}/publication", {"kind": "tonight"}, view["version"]).json
    assert (changed["kind"], changed["chosen_method_id"]) == ("tonight", None)
    page = lead.get(f"/trials/{buns}/publication/page").text
    assert page.count('id="way-') == len(lead.get(f"/trials/{buns}").json["methods"])
    back = lead.send("PATCH", f"/trials/{buns}/publication", {"kind": ""}, changed["version"]).json
    assert (back["kind"], back["chosen_method_id"]) == ("one_method", view["chosen_method_id"])


def test_all_pages_are_listed_found_by_words_and_left_out_once_withdrawn(app: Any, lead: Client) -> None:
    guest = app.test_client()
    every = guest.get("/p/").text
    assert every.count('<a href="/p/') == len(PageKind)
    found = guest.get("/p/?q=flatbread folds").text
    assert re.findall(r'<a href="(/p/[^"]+)"', found) == ["/p/a-flatbread-that-still-folds-tomorrow"]
    assert "Nothing holds all of these words" in guest.get("/p/?q=xylophone").text
    buns = trial_id(lead)
    ok(lead.send("POST", f"/trials/{buns}/withdrawal", {"why": "a figure was wrong"}))
    assert "filled-yeast-buns-air-fried" not in guest.get("/p/").text


def test_plain_files_open_from_a_disk_and_their_links_lead_somewhere(demo_url: str, tmp_path: Path) -> None:
    with session(demo_url) as db:
        written = write_pages(db, tmp_path / "out")
        slugs = {p.slug for p in newest_out(db)}
    pages = {p.name: p.read_text() for p in written if p.suffix == ".html"}
    assert set(pages) == {"index.html", *(f"{s}.html" for s in slugs)}
    for name, text in pages.items():
        for link in re.findall(r'(?:href|src|action)="([^"]+)"', text):
            target, _, anchor = link.partition("#")
            assert not target.startswith(("/", "http")), f"{name} leads to {link}"
            assert not target or (tmp_path / "out" / target).exists(), f"{name} leads to {link}"
            assert not anchor or f'id="{anchor}"' in (pages[target] if target else text), link
        assert "<form" not in text
    for font in re.findall(r'url\("([^"]+)"\)', (tmp_path / "out" / "page.css").read_text()):
        assert (tmp_path / "out" / font).exists()


def test_a_report_tells_the_whole_trial_and_names_nobody_who_tasted(lead: Client, demo_url: str) -> None:
    for word, said in (("buns", "Deep fryer, batch 1"), ("Rice pudding", "Rice toasted in butter first")):
        trial = lead.get(f"/trials?search={word}").json["items"][0]["id"]
        got = lead.get(f"/trials/{trial}/report.pdf")
        assert got.data[:5] == b"%PDF-"
        text = " ".join("".join(p.extract_text() for p in PdfReader(BytesIO(got.data)).pages).split())
        decided = lead.get(f"/trials/{trial}/decision").json["outcome"]
        assert decided["answer"]["headline"] in text
        assert said in text
        for s in decided["answer"]["sentences"]:
            assert " ".join(s["text"].split()) in text, s["text"]
        tasters = {x["name"] for t in lead.get(f"/trials/{trial}/tastings").json["items"] for x in t["seats"]}
        assert not [n for n in tasters if n in text]
    with session(demo_url) as db:
        buns = next(t for t in db.scalars(select(Trial)) if t.title == "Filled yeast buns")
        aside = next(m for m in report_of(db, buns).parts if m.title == "What was cooked").table
        assert aside is not None
        assert any("handling error" in row[2] for row in aside.rows), "what was set aside is told too"


def test_a_comparison_in_the_leads_own_words_is_shown_before_and_told_as_opinion(lead: Client) -> None:
    buns = trial_id(lead)
    view = lead.get(f"/trials/{buns}/publication").json
    assert view["opinions"] == []
    words = {"intro": "Crisper than any oven makes them.", "keeping": "In a tin for 2 times 24 h."}
    view = lead.send("PATCH", f"/trials/{buns}/publication", words, view["version"]).json
    assert view["opinions"] == [{"field": "Introduction", "words": "Crisper than"}]
    page = lead.get(f"/trials/{buns}/publication/page").text
    assert "as its opinion and tied to no record: “Crisper than”" in page


def test_a_page_of_the_version_before_is_read_and_asks_nothing_of_a_readers_kitchen(demo_url: str) -> None:
    with session(demo_url) as db:
        row, _ = page_of(db, PageKind.ONE_METHOD)
        record = json.loads(json.dumps(row.document))
    record["version"] = 3
    for key in ("claims", "purposes"):
        del record[key]
    record["why"] = [row[:2] for row in record["why"]]
    for key in ("technique", "thickness_m", "altitude_m", "by_core"):
        del record["recipe"][key]
    for s in record["recipe"]["steps"]:
        for key in ("low_s", "high_s", "phase", "appliance", "set_point_c", "power_w", "core_c", "during_s"):
            del s[key]
    edition = Edition(record, "old", 1, "1 May 2026", "2026-05-01", "", 1)
    html = page_html(edition, base="", style="")
    assert "In your kitchen" not in html
    assert record["title"] in html
    assert "Stands on:" in html
    assert markdown(record, published="1 May 2026", version=1, correction="")


def test_a_page_is_fitted_for_one_address_so_often_and_no_more(app: Any) -> None:
    guest = app.test_client()
    path = "/p/filled-yeast-buns-air-fried?oven=oven"
    first = guest.get(path)
    assert first.status_code == 200
    assert "in your kitchen" in first.text
    for _ in range(60):
        last = guest.get(path)
    assert last.status_code == 200, "who only reads is not held off"
    assert "Times below are ours. Wait" in last.text
    assert "in your kitchen" not in last.text


def test_the_data_of_a_page_are_its_records_and_name_nobody(app: Any, lead: Client, demo_url: str) -> None:
    guest = app.test_client()
    html = guest.get("/p/flatbread-does-the-rest-matter").text
    path = re.search(r'href="([^"]+/data.zip)"', html)
    assert path
    got = guest.get(path[1])
    pack = zipfile.ZipFile(io.BytesIO(got.data))
    told = json.loads(pack.read("datapackage.json"))
    files = {}
    for resource in told["resources"]:
        rows = list(csv.DictReader(io.StringIO(pack.read(resource["path"]).decode())))
        files[resource["name"]] = rows
        if rows:
            assert list(rows[0]) == [f["name"] for f in resource["schema"]["fields"]]
    with session(demo_url) as db:
        _, trial = page_of(db, PageKind.DOES_IT_MATTER)
        tags = {str(m.id): m.tag for m in trial.methods}
        straight = means(db, trial)
        names = [p.name for p in db.scalars(select(Person))]
        counted = db.scalar(
            select(func.count()).select_from(Batch).join(Shift).where(Shift.trial_id == trial.id)
        )
    assert len(files["batches"]) == counted
    said = defaultdict(list)
    for r in files["answers"]:
        said[r["way"]].append(float(r["value"]))
    assert {w: round(fmean(v), 6) for w, v in said.items()} == {
        tags[m]: round(v, 6) for m, v in straight.items()
    }
    everything = b" ".join(pack.read(n) for n in pack.namelist()).decode()
    assert not [n for n in names if n in everything]
    assert {r["unit"] for r in files["measures"]} <= {"s", "J", "°C", "1", "count", "kg", "money"}
    ok(lead.send("POST", f"/trials/{trial.id}/withdrawal", {"why": "a figure was wrong"}))
    assert guest.get(path[1]).status_code == 410


def test_paper_carries_a_readers_kitchen_and_is_made_so_often_and_no_more(app: Any, demo_url: str) -> None:
    with session(demo_url) as db:
        row, _ = page_of(db, PageKind.WHAT_MATTERS)
    guest, path = app.test_client(), f"/p/{row.slug}/{row.version}"
    page = guest.get(f"{path}?oven=fan_oven&pieces=8").text
    link = re.search(r'href="([^"]+method\.pdf\?[^"]+)">PDF, yours', page)
    assert link
    assert "PDF, yours" not in guest.get(path).text
    paper = guest.get(html.unescape(link[1]))
    assert paper.data[:5] == b"%PDF-"
    text = " ".join("".join(p.extract_text() for p in PdfReader(BytesIO(paper.data)).pages).split())
    assert "in your kitchen; ours: " in text
    assert "ours was an oven without a fan" in text
    grams = 1000 * row.document["recipe"]["ingredients"][0]["mass_kg"] * 8 / row.document["recipe"]["pieces"]
    assert f"{grams:.0f} g" in text
    plain = "".join(p.extract_text() for p in PdfReader(BytesIO(paper.data)).pages)
    assert "Ask the kitchen" not in plain
    found = [guest.get(html.unescape(link[1])).status_code for _ in range(6)]
    assert found == [200] * 5 + [429]


def test_a_feed_and_a_sitemap_list_what_is_out_and_nothing_withdrawn(app: Any, lead: Client) -> None:
    guest = app.test_client()
    atom = "{http://www.w3.org/2005/Atom}"
    buns = trial_id(lead)
    ok(lead.send("POST", f"/trials/{buns}/publications", {"correction": "salt & <flour>"}))
    got = guest.get("/p/feed.atom")
    assert got.mimetype == "application/atom+xml"
    entries = ElementTree.fromstring(got.data).findall(f"{atom}entry")
    newest = entries[0]
    assert newest.findtext(f"{atom}title") == "Filled yeast buns, air-fried"
    assert str(newest.findtext(f"{atom}summary")).endswith("Corrected: salt & <flour>")
    ids = [str(e.findtext(f"{atom}id")) for e in entries]
    assert len(set(ids)) == len(ids) == len(PageKind)
    for entry in entries:
        link = entry.find(f"{atom}link")
        assert link is not None
        assert guest.get(str(link.get("href")).removeprefix("http://localhost")).status_code == 200
    stamps = [str(e.findtext(f"{atom}updated")) for e in entries]
    assert stamps == sorted(stamps, reverse=True)
    ok(lead.send("POST", f"/trials/{buns}/withdrawal", {"why": "a figure was wrong"}))
    assert "air-fried" not in guest.get("/p/feed.atom").text
    where = re.findall(r"<loc>http://localhost([^<]+)</loc>", guest.get("/p/sitemap.xml").text)
    assert "/p/filled-yeast-buns-air-fried" not in where
    assert len(where) == len(PageKind)
    assert all(guest.get(path).status_code == 200 for path in where)

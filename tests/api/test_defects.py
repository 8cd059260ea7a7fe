"""What goes wrong: off until a lead takes it up, told where it belongs, kept in what is out."""

import re
from typing import Any

import pytest

from tests.api.helpers import Client, ok, trial_id

SPLITS = {
    "name": "The seam opens",
    "looks": "Filling runs out at the side.",
    "causes": "The seam was wet when it was pinched.",
    "cure": "Dry the rim, pinch twice, seam down.",
    "techniques": ["air_fryer"],
    "taken_up": True,
}


@pytest.fixture
def buns(lead: Client) -> str:
    return trial_id(lead)


def library(lead: Client) -> list[dict[str, Any]]:
    return list(lead.get("/defects").json["items"])


def page(lead: Client, trial: str) -> str:
    return str(lead.get(f"/trials/{trial}/publication/page").text)


def test_nothing_that_ships_is_told_until_it_is_taken_up(lead: Client, buns: str) -> None:
    off = [k for k in library(lead) if not k["taken_up"]]
    assert off
    assert all(k["shipped"] and not k["id"] for k in off)
    assert not any(k["trouble"]["name"] in page(lead, buns) for k in off)
    thick = next(k for k in off if k["shipped"] == "thick_piece")
    body = {**thick["trouble"], "techniques": thick["techniques"], "shipped": "thick_piece", "taken_up": True}
    ok(lead.send("POST", "/defects", body))
    assert "Brown outside, not done inside" in page(lead, buns)
    mine = next(k for k in library(lead) if k["shipped"] == "thick_piece")
    assert mine["id"]
    assert len(library(lead)) == len(off) + 2, "it stands once"
    ok(lead.send("PUT", f"/defects/{mine['id']}", {**body, "taken_up": False}))
    assert "Brown outside, not done inside" not in page(lead, buns)


def test_a_kitchens_own_is_told_of_its_technique_and_kept_in_what_is_out(
    lead: Client, app: Any, buns: str
) -> None:
    ok(lead.send("POST", "/defects", SPLITS))
    assert "Dry the rim, pinch twice" in page(lead, buns)
    ok(lead.send("POST", f"/trials/{buns}/publications", {"correction": "troubleshooting"}))
    kept = next(k for k in library(lead) if k["trouble"]["name"] == SPLITS["name"])
    ok(lead.send("DELETE", f"/defects/{kept['id']}", None))
    assert "Dry the rim" not in page(lead, buns)
    out = lead.get(f"/trials/{buns}/publication").json["versions"][0]["path"]
    assert "Dry the rim" in app.test_client().get(out).text
    assert "The seam opens" in app.test_client().get(out + "/method.md").text


def test_what_only_looks_wrong_stands_with_what_is_normal(lead: Client, buns: str) -> None:
    quiet = {**SPLITS, "name": "Quiet at first", "cure": "", "normal": True}
    ok(lead.send("POST", "/defects", quiet))
    text = page(lead, buns)
    normal = text.index("Looks wrong but is normal")
    assert normal < text.index("Quiet at first") < text.index("If something goes wrong")


def test_of_another_technique_nothing_is_told(lead: Client, buns: str) -> None:
    ok(lead.send("POST", "/defects", {**SPLITS, "techniques": ["steamer"]}))
    assert "The seam opens" not in page(lead, buns)
    ok(lead.send("POST", "/defects", {**SPLITS, "techniques": [], "trial_id": buns, "name": "Here it did"}))
    assert "Here it did" in page(lead, buns)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": " "}, "name"),
        ({"cure": ""}, "cure"),
        ({"techniques": []}, "techniques"),
        ({"techniques": ["magic"]}, "techniques"),
        ({"shipped": "magic"}, "shipped"),
        ({"trial_id": "00000000-0000-4000-8000-000000000000"}, "trial"),
    ],
)
def test_what_says_too_little_is_refused_by_field(lead: Client, change: dict[str, Any], field: str) -> None:
    before = library(lead)
    told = lead.send("POST", "/defects", {**SPLITS, **change})
    assert told.status_code == 422
    assert told.json["errors"][0]["field"] == field
    assert library(lead) == before


def test_a_chain_offers_what_its_versions_were_meant_to_cure(lead: Client, cook: Client) -> None:
    items = lead.get("/trials?limit=100").json["items"]
    chain = next(t["id"] for t in items if "four versions" in t["title"])
    seen = lead.get(f"/trials/{chain}/defects-seen").json["seen"]
    aimed = {m["aimed_defect"] for m in lead.get(f"/trials/{chain}").json["methods"]} - {""}
    assert {s["name"] for s in seen} == aimed
    assert aimed
    assert cook.send("POST", "/defects", SPLITS).status_code == 403


def test_how_it_looks_is_shown_beside_it_in_words_and_goes_with_its_photo(
    lead: Client, app: Any, buns: str
) -> None:
    photos = lead.get(f"/trials/{buns}/defects-seen").json["photos"]
    assert photos
    photo = {"photo": photos[0]["photo"], "alt": "a seam that stands open", "x": 0.3, "y": 0.6, "zoom": 1.5}
    for wrong, told in (
        ({**photo, "alt": "  "}, "no words"),
        ({**photo, "photo": "00000000-0000-4000-8000-000000000000"}, "erased"),
        ({**photo, "zoom": 9}, "zoom"),
        ({**photo, "photo": 36 * "-"}, "photo"),
    ):
        refused = lead.send("POST", "/defects", {**SPLITS, "photo": wrong})
        assert refused.status_code == 422, wrong
        assert told in str(refused.json)
    before = page(lead, buns).count("<figure>")
    ok(lead.send("POST", "/defects", {**SPLITS, "photo": photo}))
    kept = next(k for k in library(lead) if k["trouble"]["name"] == SPLITS["name"])
    assert (kept["photo"]["alt"], kept["photo"]["zoom"], kept["photo_trial"]) == (photo["alt"], 1.5, buns)
    drawn = page(lead, buns)
    assert drawn.count("<figure>") == before + 1
    assert 'alt="a seam that stands open"' in drawn
    ok(lead.send("POST", f"/trials/{buns}/publications", {"correction": "how it looks"}))
    reader, out = app.test_client(), lead.get(f"/trials/{buns}/publication").json["versions"][0]["path"]
    told = reader.get(out).text
    files = re.findall(r'src="(/p/[^"]+)"[^>]*alt="a seam that stands open"', told)
    assert len(files) == 1
    assert reader.get(files[0]).status_code == 200
    body = {**SPLITS, "photo": None}
    ok(lead.send("PUT", f"/defects/{kept['id']}", body))
    assert page(lead, buns).count("<figure>") == before
    assert reader.get(files[0]).status_code == 200, "what is out keeps it"
    refused = lead.send(
        "PATCH",
        f"/trials/{buns}/publication",
        {"pictures": [{**photo, "spot": "trouble", "step": "x"}]},
        lead.get(f"/trials/{buns}/publication").json["version"],
    )
    assert refused.status_code == 422
    assert "library" in str(refused.json)

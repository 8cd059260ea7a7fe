"""Decide, Publish, files in and out, the generated client."""

import json
from typing import Any

from tests.api.helpers import Client, an_entry, cook_all, make_shift, new_trial, ok, trial_id
from tests.conftest import run_worker_once


def test_a_verdict_goes_stale_when_records_change(lead: Client, demo_url: str) -> None:
    t = trial_id(lead)
    lead.get(f"/trials/{t}/decision")
    run_worker_once(demo_url)
    before = lead.get(f"/trials/{t}/decision").json
    assert before["state"] == "fresh"
    assert (
        before["outcome"]["verdicts"]["weighted_score"]["headline"]
        == "Recommend Air fryer: leaning, for these cookings"
    )
    shift = lead.get(f"/trials/{t}/shifts").json["items"][0]["id"]
    batch = next(b for b in lead.get(f"/shifts/{shift}/bench").json["batches"] if b["tag"] == "AF")["id"]
    lead.send(
        "POST", f"/shifts/{shift}/entries", {"entries": [an_entry(batch, "void", {"why": "wrong flour"})]}
    )
    assert lead.get(f"/trials/{t}/decision").json["state"] == "working"
    run_worker_once(demo_url)
    after = lead.get(f"/trials/{t}/decision").json["outcome"]["verdicts"]["weighted_score"]
    assert after["leader"] != before["outcome"]["verdicts"]["weighted_score"]["leader"]
    assert any("set aside" in s["text"] for s in after["sentences"])


def test_a_published_page_is_frozen_corrected_by_date_and_withdrawn_to_a_notice(
    lead: Client, app: Any, demo_url: str
) -> None:
    t = trial_id(lead)
    reader = app.test_client()
    first = lead.get(f"/trials/{t}/publication").json["versions"][0]
    before = reader.get(first["path"]).text
    assert "Recommend Air fryer" in before
    assert '"@type": "Recipe"' in before
    assert "°F" in before
    draft = lead.get(f"/trials/{t}/publication").json
    lead.send(
        "PATCH", f"/trials/{t}/publication", {"serving": "At once, while it crackles."}, draft["version"]
    )
    assert lead.send("POST", f"/trials/{t}/publications", {"correction": ""}).status_code == 409
    assert lead.send("POST", f"/trials/{t}/publications", {"correction": "serving"}).status_code == 201
    old = reader.get(first["path"]).text
    assert "At once, while it crackles." not in old
    assert "Read the newest, version 2" in old
    newest = reader.get(f"/p/{first['slug']}").text
    assert "Corrected: serving" in newest
    assert reader.get(first["path"] + "/method.md").text.startswith("# Filled yeast buns")
    assert reader.get(first["path"] + "/recipe.json").json["recipeYield"].startswith("6 pieces")
    assert reader.get(first["path"] + "/method.pdf").status_code == 202
    run_worker_once(demo_url)
    pdf = reader.get(first["path"] + "/method.pdf")
    assert pdf.data[:5] == b"%PDF-"
    from io import BytesIO

    from pypdf import PdfReader

    text = "".join(p.extract_text() for p in PdfReader(BytesIO(pdf.data)).pages)
    assert "Filled yeast buns, air-fried" in text
    assert "Caution" in text
    lead.send("POST", f"/trials/{t}/withdrawal", {"why": "core target was wrong"})
    for path in (
        f"/p/{first['slug']}",
        first["path"],
        first["path"] + "/method.md",
        first["path"] + "/method.pdf",
    ):
        gone = reader.get(path)
        assert gone.status_code == 410
        assert "core target was wrong" in gone.text
        assert "flour" not in gone.text


def test_archive_and_tables_go_out_and_a_hostile_one_is_told(lead: Client) -> None:
    t = trial_id(lead)
    data = lead.get(f"/trials/{t}/archive").data
    headers = {"X-CSRFToken": lead.csrf}
    again = lead.http.post("/api/v1/archives", data=data, headers=headers)
    assert again.status_code == 422
    assert "here already" in again.json["errors"][0]["message"]
    assert (
        lead.http.post("/api/v1/archives", data=b"PK rubbish", headers=headers).json["errors"][0]["message"]
        == "it is not a zip file"
    )
    table = lead.get(f"/trials/{t}/tables/answer.csv")
    assert table.text.splitlines()[0].startswith("attribute_id,given_at,id,refused,round_id,said")
    assert len(table.text.splitlines()) > 90
    assert lead.get(f"/trials/{t}/tables/account.csv").status_code == 404


def test_the_client_in_the_front_end_is_the_one_generated_from_this_api(tmp_path: Any) -> None:
    import shutil
    import subprocess
    from pathlib import Path

    from yeasty.api.describe import description

    web = Path(__file__).parents[2] / "web"
    node = shutil.which("node")
    assert node, "run by ./test, which brings Node"
    (tmp_path / "openapi.json").write_text(json.dumps(description(), indent=1, sort_keys=True) + "\n")
    made = tmp_path / "schema.ts"
    command = [
        node,
        "node_modules/openapi-typescript/bin/cli.js",
        str(tmp_path / "openapi.json"),
        "--default-non-nullable=false",
        "-o",
        str(made),
    ]
    subprocess.run(command, cwd=web, check=True, capture_output=True)
    assert made.read_text() == (web / "src/api/schema.generated.ts").read_text(), (
        "run: yeasty openapi openapi.json, npm run client"
    )


def test_no_two_models_of_the_api_share_a_name() -> None:
    """The description keeps models by name: of two with one name, one would silently stand for both."""
    import re
    from pathlib import Path

    seen: dict[str, str] = {}
    for path in sorted(Path(__file__).parents[2].glob("yeasty/api/*.py")):
        for name in re.findall(
            r"^class (\w+)\((?:BaseModel|\w+(?:In|View|Text|List))\)", path.read_text(), re.M
        ):
            if not name.endswith("Path") and not name.endswith("Query"):
                assert seen.setdefault(name, path.name) == path.name, (
                    f"{name} is in {seen[name]} and {path.name}"
                )


def test_what_a_step_names_and_the_list_lacks_is_shown_before_anything_is_out(
    lead: Client, demo_url: str
) -> None:
    t = new_trial(lead, ("oven",))
    way = t["methods"][0]
    lots = [
        {"name": name, "lot": "", "source": "", "price_per_kg": None, "allergens": [], "amounts": amounts}
        for name, amounts in (("florets", {way["id"]: 0.4}), ("salt", {way["id"]: 0.003}), ("saffron", {}))
    ]
    t = lead.send("PUT", f"/trials/{t['id']}/ingredients", {"items": lots}, t["version"]).json
    words = {"Load the tray": "Toss the florets with saffron and load the tray"}
    steps = [{**s, "what": words.get(s["what"], s["what"])} for s in t["methods"][0]["steps"]]
    ok(lead.send("PUT", f"/trials/{t['id']}/methods/{way['id']}/steps", {"items": steps}, t["version"]))
    t = lead.get(f"/trials/{t['id']}").json
    cook_all(lead, make_shift(lead, t)["id"], demo_url)
    lead.get(f"/trials/{t['id']}/decision")
    run_worker_once(demo_url)
    path = f"/trials/{t['id']}/publication"
    draft = lead.send("PATCH", path, {"method_id": way["id"]}, lead.get(path).json["version"])
    assert draft.json["unmatched"] == [
        "Oven: a step names saffron, which is not among its ingredients.",
        "Oven: salt is among its ingredients, and no step says what becomes of it.",
    ]

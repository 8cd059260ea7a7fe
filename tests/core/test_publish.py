import io
import json
import zipfile
from dataclasses import replace
from typing import Any

import pytest

from yeasty.core.ask.techniques import techniques
from yeasty.core.cook.probe_log import read_probe_log, thin
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.archive import BadArchive, Contents, csv_table, pack, schema, unpack
from yeasty.core.publish.document import Page, as_record, check_page
from yeasty.core.publish.html import Edition, page_html
from yeasty.core.publish.kinds import PageKind
from yeasty.core.publish.linked import linked
from yeasty.core.publish.markdown import markdown
from yeasty.core.publish.recipe import Recipe, ingredients, step_texts


def recipe(technique: str = "deep_fryer", name: str = "Deep fryer", tag: str = "DF") -> Recipe:
    how = techniques()[technique]
    return Recipe(
        name,
        tag,
        2,
        6,
        "6 pieces",
        1800,
        ingredients({"flour": 0.5, "salt": 0.01}, {"flour": ["gluten"]}, 1),
        ("gluten",),
        (),
        (name,),
        step_texts(how.steps, how.hazards),
    )


def page(title: str = "Buns", kind: PageKind = PageKind.ONE_METHOD) -> Page:
    return Page(
        kind,
        title,
        "buns",
        "Recommend Deep fryer: leaning",
        "leaning",
        ("2 methods",),
        ("rest differs",),
        recipe(),
        cues=("golden",),
        why=(("ahead by 1", "6 tasters", "judged by the panel"),),
        choose_another=(("Oven", "time is short"),),
    )


def as_html(p: Page, **more: Any) -> str:
    return page_html(
        Edition(as_record(p), "x", 1, "1 May", "2026-05-01", "", 1), base="", style="s.css", **more
    )


def test_every_step_near_hot_oil_carries_its_caution_and_source() -> None:
    steps = {s.what: s for s in recipe().steps}
    for what in ("Heat the oil", "Fry", "Lift out"):
        assert any(
            "Hot oil" in c.text and "fire-service" in c.source and "recalled" in c.source
            for c in steps[what].cautions
        )
    assert "Wash up, let the oil cool first" not in steps
    assert steps["Fry"].temperature == "170 °C (340 °F)"


def test_a_page_without_amounts_is_not_published() -> None:
    bare = replace(page(), recipe=replace(recipe(), ingredients=()), title=" ")
    assert [p.field for p in check_page(bare)] == ["title", "ingredients"]
    assert [p.field for p in check_page(replace(page(), recipe=None))] == ["method"]


def test_the_page_escapes_what_people_write() -> None:
    hostile = '</script><img src=x onerror="alert(1)">'
    html = as_html(page(hostile))
    assert "<img src=x" not in html
    assert html.count("</script>") == 1
    assert "\\*bold\\*" in markdown(as_record(page("*bold*")), published="1 May", version=1)


def test_recipe_data_has_what_readers_of_it_need() -> None:
    ld = linked(as_record(page()), published_iso="2026-05-01", url="http://x/p/buns/1")
    assert ld["@type"] == "Recipe"
    assert ld["totalTime"] == "PT30M"
    assert ld["recipeIngredient"][0] == "500 g (1 lb 1.6 oz) flour"
    assert any("Hot oil" in s["text"] for s in ld["recipeInstructions"])


def empty_tables() -> dict[str, list[dict[str, object]]]:
    return {name: [] for name in schema()["$defs"]["tables"]["properties"]}


def test_an_archive_is_the_same_bytes_each_time_and_reads_back() -> None:
    contents = Contents(empty_tables(), {"a.jpg": b"123"})
    data = pack(contents, ["entry"])
    assert data == pack(contents, ["entry"])
    back = unpack(data)
    assert back.tables == contents.tables
    assert back.photos == contents.photos


def rezipped(change: dict[str, bytes | None], compress: int = zipfile.ZIP_STORED) -> bytes:
    source = zipfile.ZipFile(io.BytesIO(pack(Contents(empty_tables(), {}), [])))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", compress) as z:
        for name in source.namelist():
            data = change.get(name, source.read(name))
            if data is not None:
                z.writestr(name, data)
        for name, data in change.items():
            if name not in source.namelist() and data is not None:
                z.writestr(name, data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("data", "word"),
    [
        (b"not a zip", "not a zip"),
        (rezipped({"trial.json": None}), "trial.json is missing"),
        (rezipped({"../../etc/passwd": b"x"}), "does not belong"),
        (rezipped({"trial.json": b"{}"}), "not as the manifest says"),
        (rezipped({"trial.json": b"{"}), "can't be read|cannot be read"),
        (rezipped({"manifest.json": b'{"format": "other", "version": 1, "files": {}}'}), "format"),
        (
            rezipped(
                {
                    "manifest.json": json.dumps(
                        {"format": "yeasty-trial-archive", "version": 99, "files": {}}
                    ).encode()
                }
            ),
            "version 99",
        ),
        (rezipped({}, zipfile.ZIP_DEFLATED), "compressed"),
        (rezipped({"trial.json": b"[" * 100_000}), "cannot be read"),
    ],
)
def test_a_bad_or_hostile_archive_is_told_what_is_wrong(data: bytes, word: str) -> None:
    with pytest.raises(BadArchive, match=word):
        unpack(data)


def test_a_spreadsheet_does_not_run_what_a_cook_wrote() -> None:
    assert csv_table([{"text": "=cmd()", "n": 1.5, "none": None}]).splitlines()[1] == "1.5,,'=cmd()"


@pytest.mark.parametrize(
    ("text", "unit", "stated", "first"),
    [
        ("time,core °C\n0,20\n30,25\n", "C", True, 20.0),
        ("Time;core (F)\n17:00;68\n17:01;77\n", "F", True, 20.0),
        ("time\tcore\n2026-05-01T17:00:00Z\t68\n2026-05-01T17:30:00Z\t205\n", "F", False, 20.0),
        ("time,core,air\n0,20,\n60,,180\n", "C", False, 20.0),
    ],
)
def test_probe_logs_are_read_as_they_come(text: str, unit: str, stated: bool, first: float) -> None:
    log = read_probe_log(text)
    assert (log.unit, log.unit_stated) == (unit, stated)
    assert log.channels[0][1][0] == pytest.approx(first)
    assert log.times_s[0] == 0


def test_clock_times_pass_midnight_once() -> None:
    assert read_probe_log("time,core\n23:59:30,20\n00:00:30,21\n").times_s == (0.0, 60.0)


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("a,b\n1,2\n3,4\n", "time"),
        ("time\n1\n2\n", "no column of temperatures"),
        ("time,core\n0,20\n0,21\n", "row 3"),
        ("time,core\n0,20\n60,hot\n", "row 3, core"),
        ("time,core\nnoon,20\n60,21\n", "row 2, time"),
        ("time,core\n0,20\n1,9000\n", "row 3"),
        ("time,core\n0,20\n", "fewer than two"),
        ("time,core\n0,20\n17:00,21\n", "another way"),
        ("time,a\n0,\n1,\n", "no readings"),
        ("\x00\x00\n1\n2", "not text"),
    ],
)
def test_a_bad_probe_log_names_row_and_column(text: str, word: str) -> None:
    with pytest.raises(RuleError, match=word):
        read_probe_log(text)


def test_thinning_keeps_the_peaks() -> None:
    times = tuple(float(i) for i in range(10_000))
    values = tuple(100.0 if i == 4321 else 20.0 for i in range(10_000))
    drawn = thin(times, values, 200)
    assert len(drawn) <= 220
    assert max(v or 0 for _, v in drawn) == 100

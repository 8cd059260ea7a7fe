"""The guide: every station has a page whose pictures and example are there."""

import re
from typing import Any

import pytest

from tests.api.helpers import Client
from tests.conftest import ROOT
from yeasty.operations.kitchen.guide import PAGES, guide, read_page


def test_every_page_has_a_sentence_an_example_of_the_demo_and_pictures_that_exist(
    app: Any, lead: Client
) -> None:
    stranger = Client(app.test_client())
    items = stranger.get("/guide").json["items"]
    assert [i["name"] for i in items] == list(PAGES)
    titles = {t["title"] for t in lead.get("/trials").json["items"]}
    for page in items:
        assert page["sentence"].endswith(".")
        named = re.search(r"“([^”]+)”|\"([^\"]+)\"", page["example"])
        assert named
        assert (named[1] or named[2]) in titles, page["example"]
        for src in re.findall(r'src="([^"]+)"', page["html"]):
            got = stranger.http.get(src)
            assert (got.status_code, got.mimetype) == (200, "image/png"), src
    assert [i["name"] for i in items if "<img" not in i["html"]] == ["words"]


def test_every_word_that_a_screen_explains_is_in_the_glossary_once(lead: Client) -> None:
    words = lead.get("/guide").json["words"]
    lines = (ROOT / "docs" / "guide" / "words.md").read_text().count("\n- *")
    assert lines == len(words) > 20
    asked = {
        word
        for screen in (ROOT / "web" / "src").rglob("*.vue")
        for word in re.findall(r'<Term of="([^"]+)"', screen.read_text())
    }
    assert len(asked) >= 10
    assert asked <= set(words)


@pytest.mark.parametrize("name", ["none.png", "..%2Fmeasured.md", "Ask.png", "a.b.png"])
def test_only_pictures_of_the_guide_are_handed_out(lead: Client, name: str) -> None:
    assert lead.get(f"/guide/pictures/{name}").status_code == 404


def test_markup_in_a_page_stays_text_and_a_page_without_its_beginning_is_an_error() -> None:
    assert "<script>" not in read_page("x", "# X\n\nA.\n\n*Example.* B.\n\n<script>alert(1)</script>").html
    with pytest.raises(ValueError, match="example"):
        read_page("x", "# X\n\nOnly this.")
    assert "<script" not in "".join(p.html for p in guide())

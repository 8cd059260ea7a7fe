"""The method page as HTML that needs no script: for readers, for print, and for the PDF."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from yeasty.core.ask.marks import colour, mark
from yeasty.core.publish.chooser import ASKED, Tonight
from yeasty.core.publish.contents import Entry
from yeasty.core.publish.document import as_now
from yeasty.core.publish.figures import place, scaled
from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.linked import linked
from yeasty.core.publish.portions import Portion
from yeasty.core.publish.reader import OVENS, Kitchen, asked_by
from yeasty.core.publish.recipe import for_readers
from yeasty.core.publish.report import Report
from yeasty.core.publish.sections import sections_of
from yeasty.core.publish.sections.stands_on import reading


@dataclass(frozen=True)
class Edition:
    """A published version: its frozen record, its address and dates."""

    record: Mapping[str, Any]
    slug: str
    version: int
    published: str
    published_iso: str
    correction: str
    newest_version: int


@cache
def _templates() -> Environment:
    return Environment(
        loader=PackageLoader("yeasty.core.publish", "page"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )


def _data_block(value: Any) -> Markup:
    """JSON that can stand in a script element whatever texts it holds."""
    text = json.dumps(value, ensure_ascii=False)
    return Markup(text.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026"))


def page_html(
    edition: Edition,
    *,
    base: str,
    style: str,
    for_print: bool = False,
    draft: bool = False,
    flat: bool = False,
    tonight: Tonight | None = None,
    portion: Portion | None = None,
    kitchen: Kitchen | None = None,
    fits: Sequence[Mapping[str, Any]] = (),
    with_data: bool = False,
) -> str:
    """The page.

    Parameters
    ----------
    edition : what is told
    base : address it is told at, without a slash at its end
    style : address of the style sheet
    for_print : the paper view, without links to other views
    draft : as it would be published now, for the lead alone
    flat : as a plain file beside others: what needs the program is left out, and it says so
    tonight : what a reader has tonight, and what fits it
    portion : for how many pieces they want it
    kitchen : what they said of their kitchen; fits : each recipe fitted to it, in their order; empty where
        nothing was said
    with_data : whether its data can be fetched
    """
    record = as_now(edition.record)
    recipes = recipes_of(record)
    path = f"/p/{edition.slug}/{edition.version}"
    ld = linked(record, published_iso=edition.published_iso, url=base + path)
    return (
        _templates()
        .get_template("page.html")
        .render(
            d=record,
            e=edition,
            sections=[s.key for s in sections_of(record)],
            kind=KINDS[PageKind(record["kind"])],
            ld=_data_block(ld),
            style=style,
            for_print=for_print,
            draft=draft,
            flat=flat,
            mark=mark,
            colour=colour,
            duration=for_readers,
            reading=reading,
            place=place,
            scaled=scaled,
            asked=ASKED,
            tonight=tonight or Tonight(),
            portion=portion or Portion(),
            kitchen=kitchen or Kitchen(),
            asks=asked_by(recipes),
            ovens=OVENS,
            with_data=with_data,
            fit={r["tag"]: f for r, f in zip(recipes, fits, strict=False)},
            path=path,
        )
    )


def recipes_of(record: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    """Every recipe that a record of this version writes out."""
    return [r for r in (record["recipe"], *record["recipes"]) if r]


def index_html(entries: Sequence[Entry], asked: str, *, style: str, flat: bool = False) -> str:
    """The list of all pages. `flat` : as plain files that lie beside each other, without a search."""
    return (
        _templates().get_template("index.html").render(entries=entries, asked=asked, style=style, flat=flat)
    )


def report_html(report: Report, *, style: str) -> str:
    """A trial's report, for paper."""
    return _templates().get_template("report.html").render(r=report, style=style)


def notice_html(title: str, text: str, *, style: str, refresh_s: int = 0) -> str:
    """A page that says one thing: withdrawn, being made, not there."""
    return (
        _templates()
        .get_template("notice.html")
        .render(title=title, text=text, style=style, refresh_s=refresh_s)
    )

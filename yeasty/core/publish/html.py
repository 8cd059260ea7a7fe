"""The method page as HTML that needs no script: for readers, for print, and for the PDF."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from yeasty.core.ask.marks import colour, mark
from yeasty.core.publish.document import for_readers, recipe_json_ld


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
    edition: Edition, *, base: str, style: str, for_print: bool = False, draft: bool = False
) -> str:
    """The page.

    Parameters
    ----------
    edition : what is told
    base : address it is told at, without a slash at its end
    style : address of the style sheet
    for_print : the paper view, without links to other views
    draft : as it would be published now, for the lead alone
    """
    number = edition.record["mark"]
    path = f"/p/{edition.slug}/{edition.version}"
    ld = recipe_json_ld(edition.record, published_iso=edition.published_iso, url=base + path)
    return (
        _templates()
        .get_template("method.html")
        .render(
            d=edition.record,
            e=edition,
            ld=_data_block(ld),
            style=style,
            for_print=for_print,
            draft=draft,
            mark=mark(number),
            colour=colour(number),
            duration=for_readers,
            path=path,
        )
    )


def notice_html(title: str, text: str, *, style: str, refresh_s: int = 0) -> str:
    """A page that says one thing: withdrawn, being made, not there."""
    return (
        _templates()
        .get_template("notice.html")
        .render(title=title, text=text, style=style, refresh_s=refresh_s)
    )

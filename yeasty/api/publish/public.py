"""The public pages, which need no account and no script; fitted to a reader's kitchen where they say what it
has.
"""

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any
from zoneinfo import ZoneInfo

from flask import Blueprint, Response, current_app, request, send_from_directory

from yeasty.api.problems import ApiError, not_found
from yeasty.api.publish.endpoints import PAGE_FILES, PDF, STYLE, file_answer
from yeasty.api.request import db
from yeasty.api.tries import count_try
from yeasty.core.publish.chooser import ASKED, tonight
from yeasty.core.publish.contents import contents
from yeasty.core.publish.document import as_now
from yeasty.core.publish.html import index_html, notice_html, page_html, recipes_of
from yeasty.core.publish.linked import linked
from yeasty.core.publish.markdown import markdown
from yeasty.core.publish.portions import read as read_portion
from yeasty.core.publish.reader import FIELDS, Kitchen, asked_by, read_kitchen
from yeasty.operations.publish import pages
from yeasty.operations.publish.fitting import fitted
from yeasty.operations.reckoning import ReckonerAwayError, ReckonerFaultError
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish import queries as publications
from yeasty.store.publish.tables import Publication, Rendering

public = Blueprint("public", __name__)


def _published(slug: str, version: int | None) -> Publication | str:
    """The version, or the notice of why there is none any more."""
    found = publications.by_slug(db(), slug, version)
    if found is None:
        gone = publications.was_deleted(db(), slug)
        if gone is None:
            raise not_found("page")
        text = (
            f"The kitchen deleted it on {gone.at:%d %B %Y}, with all it stood on. Please do not cook by "
            f"an earlier copy."
        )
        return notice_html("This method is no more", text, style=STYLE)
    return _withdrawn(found) if found.withdrawn_at is not None else found


def _withdrawn(row: Publication) -> str:
    text = (
        f"Withdrawn on {row.withdrawn_at:%d %B %Y}: {row.withdrawn_why}. Please do not cook by an "
        f"earlier copy."
    )
    return notice_html("This method was withdrawn", text, style=STYLE)


@public.get("/style/<name>")
def style_file(name: str) -> Response:
    """The style sheet of public pages, and its fonts."""
    if not name.endswith((".css", ".woff2")):
        raise not_found("file")
    return send_from_directory(str(PAGE_FILES), name, max_age=3600)


@public.get("/p/")
def public_index() -> Response:
    """All pages that are out, by their newest version; those that hold all the words asked for."""
    asked = request.args.get("q", "")[:100]
    html = index_html(
        contents([(p.slug, p.version, p.document) for p in publications.newest_out(db())], asked),
        asked,
        style=STYLE,
    )
    response = current_app.response_class(html, mimetype="text/html")
    response.headers["Cache-Control"] = "no-cache"
    return response


@public.get("/p/<slug>")
@public.get("/p/<slug>/<int:version>")
def public_page(slug: str, version: int | None = None) -> Response | tuple[str, int]:
    """The page; the newest version where none is named; the notice where it was withdrawn."""
    row, newest = _published(slug, version), _published(slug, None)
    if isinstance(row, str):
        return row, 410
    if isinstance(newest, str):
        return newest, 410
    record = as_now(row.document)
    kitchen, fits = _fitted(slug, recipes_of(record))
    html = page_html(
        pages.edition(row, newest, the_kitchen(db()).time_zone),
        base=request.host_url.rstrip("/"),
        style=STYLE,
        for_print="print" in request.args,
        kitchen=kitchen,
        fits=fits,
        with_data=publications.has_file(db(), row.id, pages.DATA),
        portion=read_portion(request.args.get("pieces", "")),
        tonight=tonight(record, {k: request.args[k] for k in ASKED if k in request.args}),
    )
    response = current_app.response_class(html, mimetype="text/html")
    response.headers["Cache-Control"] = "no-cache"
    return response


# So many kitchens a page is fitted to for one address in a quarter of an hour, and all pages together.
FITS, FITS_IN_ALL = 60, 240


def _fitted(slug: str, recipes: Sequence[Mapping[str, Any]]) -> tuple[Kitchen, Sequence[Mapping[str, Any]]]:
    """What a reader said of their kitchen, and the recipes fitted to it."""
    kitchen = read_kitchen({k: request.args[k] for k in FIELDS if k in request.args})
    if not kitchen.said or not asked_by(recipes):
        return kitchen, ()
    try:
        count_try("fitting", slug, most=FITS, most_in_all=FITS_IN_ALL)
    except ApiError as many:
        return replace(kitchen, wrong=(*kitchen.wrong, f"Times below are ours. {many.problem.detail}")), ()
    try:
        return kitchen, fitted(current_app.config["RECKONER"], recipes, kitchen)
    except (ReckonerAwayError, ReckonerFaultError):
        away = "It cannot be reckoned just now: times below are ours. Try again in a minute."
        return replace(kitchen, wrong=(*kitchen.wrong, away)), ()


@public.get("/p/<slug>/<int:version>/<name>")
def public_file(slug: str, version: int, name: str) -> Response | tuple[str, int]:
    """The page as a file: method.md, recipe.json, method.pdf."""
    row = _published(slug, version)
    if isinstance(row, str):
        return row, 410
    moment = row.published_at.astimezone(ZoneInfo(the_kitchen(db()).time_zone))
    if name == "method.md":
        text = markdown(
            row.document, published=f"{moment:%d %B %Y}", version=row.version, correction=row.correction
        )
        return file_answer(text.encode(), "text/markdown; charset=utf-8", f"{slug}-{version}.md")
    if name == "recipe.json":
        ld = linked(
            row.document,
            published_iso=moment.date().isoformat(),
            url=f"{request.host_url.rstrip('/')}/p/{slug}/{version}",
        )
        return file_answer(
            json.dumps(ld, ensure_ascii=False, indent=1).encode(),
            "application/ld+json",
            f"{slug}-{version}.json",
        )
    if name == "method.pdf":
        made = db().get(Rendering, (row.id, PDF))
        if made is None:
            current_app.extensions["yeasty_jobs"].render(row.id)
            return notice_html(
                "The PDF is being made", "This page looks again in a few seconds.", style=STYLE, refresh_s=3
            ), 202
        return file_answer(made.data, PDF, f"{slug}-{version}.pdf")
    if name == "data.zip":
        kept = db().get(Rendering, (row.id, pages.DATA))
        if kept is None:
            raise not_found("file")
        return file_answer(kept.data, pages.DATA, f"{slug}-{version}-data.zip")
    raise not_found("file")

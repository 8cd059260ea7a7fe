"""The public pages, which need no account and no script; fitted to a reader's kitchen where they say what it
has.
"""

import json
from base64 import b64decode
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import Any
from zoneinfo import ZoneInfo

from flask import Blueprint, Response, current_app, request, send_from_directory

from yeasty.api.problems import ApiError, not_found
from yeasty.api.publish.endpoints import PAGE_FILES, PDF, STYLE, file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import db
from yeasty.api.tries import count_try
from yeasty.core.publish.chooser import ASKED, HAVE, PIECES, WAITS, tonight
from yeasty.core.publish.contents import contents, sheet
from yeasty.core.publish.document import as_now, at_doneness
from yeasty.core.publish.feed import Out, feed, sitemap
from yeasty.core.publish.html import card_html, index_html, notice_html, page_html, recipes_of
from yeasty.core.publish.linked import linked
from yeasty.core.publish.markdown import markdown
from yeasty.core.publish.portions import read as read_portion
from yeasty.core.publish.reader import FIELDS, Kitchen, asked_by, read_kitchen
from yeasty.operations.publish import pages
from yeasty.operations.publish.fitting import fitted
from yeasty.operations.publish.linking import standing
from yeasty.operations.publish.listing import listed
from yeasty.operations.publish.photos import in_page, photo_file, photo_files
from yeasty.operations.reckoning import ReckonerAwayError, ReckonerFaultError
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.publish import queries as publications
from yeasty.store.publish.readers import told_of
from yeasty.store.publish.tables import Publication, Rendering

public = Blueprint("public", __name__)
# What a reader asks a page's amounts to be for.
PORTION = "pieces"


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
    number = request.args.get("sheet", default=1, type=int)
    found = contents([x.entry for x in listed(db())], asked)
    html = index_html(sheet(found, number), asked, style=STYLE)
    return _listed(html.encode(), "text/html")


def _out() -> list[Out]:
    """Every page that is out, by its newest version."""
    return [
        Out(e.slug, e.version, e.title, e.headline, x.correction, x.published_at)
        for x in listed(db())
        for e in [x.entry]
    ]


@public.get("/p/feed.atom")
def public_feed() -> Response:
    """All pages as a feed."""
    base = request.host_url.rstrip("/")
    return _listed(feed(_out(), kitchen=the_kitchen(db()).name, base=base), "application/atom+xml")


@public.get("/p/sitemap.xml")
def public_sitemap() -> Response:
    """Addresses of all pages."""
    return _listed(sitemap(_out(), base=request.host_url.rstrip("/")), "application/xml")


def _listed(data: bytes, media_type: str) -> Response:
    response = current_app.response_class(data, mimetype=media_type)
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
    return _listed(_as_asked(row, newest).encode(), "text/html")


def _as_asked(row: Publication, newest: Publication) -> str:
    """A page as its reader wants it: for their kitchen, at their doneness, in their number, for tonight."""
    record = as_now(row.document)
    kitchen, fits = _fitted(row.slug, recipes_of(at_doneness(record, request.args.get("done", ""))))
    asked = {k: request.args[k] for k in (*ASKED, WAITS, PIECES) if k in request.args}
    return page_html(
        pages.edition(db(), row, newest),
        base=request.host_url.rstrip("/"),
        style=STYLE,
        for_print="print" in request.args,
        kitchen=kitchen,
        fits=fits,
        with_data=publications.has_file(db(), row.id, pages.DATA),
        tried=told_of(db(), row.slug),
        portion=read_portion(request.args.get(PORTION, "")),
        tonight=tonight(record, asked, request.args.getlist(HAVE)),
    )


# A card may stand in a frame of any site; it has no form and runs nothing.
FRAMED_ANYWHERE = (
    "default-src 'none'; style-src 'self'; font-src 'self'; img-src 'self'; base-uri 'none'; "
    "form-action 'none'; frame-ancestors *"
)


@public.get("/p/<slug>/card")
def public_card(slug: str) -> Response | tuple[str, int]:
    """The newest version in a few lines, to stand inside another site."""
    row = _published(slug, None)
    if isinstance(row, str):
        html, status = row, 410
    else:
        base = request.host_url.rstrip("/")
        html, status = card_html(pages.edition(db(), row, row), base=base, style=STYLE), 200
    response = current_app.response_class(html, status, mimetype="text/html")
    response.headers["Content-Security-Policy"] = FRAMED_ANYWHERE
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


# Sheets made for one reader: so many of one page for an address in a quarter of an hour, and of all.
SHEETS, SHEETS_IN_ALL = 6, 20


def _fitted_paper(row: Publication) -> Response:
    """The page on paper as a reader has it: fitted to their kitchen, for so many pieces."""
    count_try("paper", row.slug, most=SHEETS, most_in_all=SHEETS_IN_ALL)
    recipes = recipes_of(at_doneness(as_now(row.document), request.args.get("done", "")))
    kitchen, fits = _fitted(row.slug, recipes)
    newest = publications.by_slug(db(), row.slug) or row
    html = page_html(
        pages.edition(db(), row, newest),
        base="",
        style="page.css",
        for_print=True,
        kitchen=kitchen,
        fits=fits,
        portion=read_portion(request.args.get(PORTION, "")),
        photo=partial(in_page, photo_files(db(), row)),
    )
    return file_answer(b64decode(reckon("pdf", html=html)), PDF, f"{row.slug}-{row.version}.pdf")


FileAnswer = Response | tuple[str, int]


def _moment(row: Publication) -> datetime:
    return row.published_at.astimezone(ZoneInfo(the_kitchen(db()).time_zone))


def _markdown(row: Publication) -> FileAnswer:
    text = markdown(
        standing(db(), row.document),
        published=f"{_moment(row):%d %B %Y}",
        version=row.version,
        correction=row.correction,
    )
    return file_answer(text.encode(), "text/markdown; charset=utf-8", f"{row.slug}-{row.version}.md")


def _recipe(row: Publication) -> FileAnswer:
    url = f"{request.host_url.rstrip('/')}/p/{row.slug}/{row.version}"
    found = linked(row.document, published_iso=_moment(row).date().isoformat(), url=url)
    data = json.dumps(found, ensure_ascii=False, indent=1).encode()
    return file_answer(data, "application/ld+json", f"{row.slug}-{row.version}.json")


def _pdf(row: Publication) -> FileAnswer:
    if any(k in request.args for k in (*FIELDS, PORTION)):
        return _fitted_paper(row)
    made = db().get(Rendering, (row.id, PDF))
    if made is None:
        current_app.extensions["yeasty_jobs"].render(row.id)
        wait = "This page looks again in a few seconds."
        return notice_html("The PDF is being made", wait, style=STYLE, refresh_s=3), 202
    return file_answer(made.data, PDF, f"{row.slug}-{row.version}.pdf")


def _data(row: Publication) -> FileAnswer:
    kept = db().get(Rendering, (row.id, pages.DATA))
    if kept is None:
        raise not_found("file")
    return file_answer(kept.data, pages.DATA, f"{row.slug}-{row.version}-data.zip")


FILES: dict[str, Callable[[Publication], FileAnswer]] = {
    "method.md": _markdown,
    "recipe.json": _recipe,
    "method.pdf": _pdf,
    "data.zip": _data,
}


@public.get("/p/<slug>/<int:version>/<name>")
def public_file(slug: str, version: int, name: str) -> FileAnswer:
    """The page as a file, by its name in `FILES`."""
    row = _published(slug, version)
    if isinstance(row, str):
        return row, 410
    if name not in FILES:
        raise not_found("file")
    return FILES[name](row)


@public.get("/p/<slug>/<int:version>/photos/<name>")
def public_photo(slug: str, version: int, name: str) -> Response | tuple[str, int]:
    """A photo of a page, cut as it is shown: a version never changes, so it may be kept."""
    row = _published(slug, version)
    if isinstance(row, str):
        return row, 410
    data = photo_file(db(), row, name)
    if data is None:
        raise not_found("photo")
    response = current_app.response_class(data, mimetype="image/jpeg")
    response.headers["Cache-Control"] = "public, max-age=86400"
    return response

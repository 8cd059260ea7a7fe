"""The method page as HTML that needs no script: for readers, for print, and for the PDF."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, partial
from typing import Any

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from yeasty.core.ask.marks import colour, mark
from yeasty.core.publish.chooser import ASKED, Tonight, appliances_of, called
from yeasty.core.publish.contents import Sheet
from yeasty.core.publish.dialect import has_words, speaker, spoken
from yeasty.core.publish.document import as_now, at_doneness
from yeasty.core.publish.figures import place, scaled
from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.linked import linked
from yeasty.core.publish.pictures import at, file_of, widths_of
from yeasty.core.publish.portions import Portion
from yeasty.core.publish.reader import NUMBERS, OVENS, STARTS, Kitchen, asked_by
from yeasty.core.publish.recipe import for_readers
from yeasty.core.publish.report import Report
from yeasty.core.publish.sections import sections_of
from yeasty.core.publish.sections.stands_on import reading
from yeasty.core.publish.tried import Told


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
    photo: Callable[[int, int], str] | None = None,
    tried: Told | None = None,
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
    tried : what readers said who cooked it, as far as the kitchen counts it
    photo : number and width of a photo to where its file is; beside the page's own address where None
    """
    kitchen = kitchen or Kitchen()
    told = as_now(edition.record)
    record = swapped = at_doneness(told, kitchen.typed.get("done", ""))
    say = speaker(record, kitchen.units, kitchen.words)
    if kitchen.units or kitchen.words:
        record = spoken(record, say)
    recipes = recipes_of(record)
    path = f"/p/{edition.slug}/{edition.version}"
    ld = linked(told, published_iso=edition.published_iso, url=base + path)
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
            appliances=appliances_of(record),
            called=called,
            tonight=tonight or Tonight(),
            portion=portion or Portion(),
            kitchen=kitchen,
            say=say,
            asks=asked_by(recipes),
            ovens=OVENS,
            starts=STARTS,
            numbers=NUMBERS,
            with_words=has_words(record),
            points=_points(record),
            best="" if swapped is told else say(told["recipe"]["method"]),
            with_data=with_data,
            fit={r["tag"]: spoken(f, say) for r, f in zip(recipes, fits, strict=False)},
            path=path,
            base=base,
            tried=tried or Told((), ()),
            ways=list(cooked_by(record).items()),
            written=record["recipe"]["tag"] if record["recipe"] else "",
            picture=partial(_picture, record["photos"], photo or partial(photo_path, path)),
        )
    )


def card_html(edition: Edition, *, base: str, style: str) -> str:
    """A page in a few lines, to stand inside another site."""
    record = as_now(edition.record)
    path = f"{base}/p/{edition.slug}/{edition.version}"
    picture = partial(_picture, record["photos"], partial(photo_path, path))
    return (
        _templates()
        .get_template("card.html")
        .render(d=record, e=edition, base=base, style=style, picture=picture)
    )


def _points(record: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Points that a reader may want instead of the one written out: tag, name with what it came to."""
    value = {m["label"]: reading(m) for m in record["picture"]["marks"] if m["value"] is not None}
    return [
        (r["tag"], r["method"] + (f": {value[r['method']]}" if r["method"] in value else ""))
        for r in record["doneness"]
    ]


def photo_path(path: str, number: int, width: int) -> str:
    """Where a published photo's file is, below the address of its version."""
    return f"{path}/photos/{file_of(number, width)}"


def _picture(
    photos: Sequence[Mapping[str, Any]],
    where: Callable[[int, int], str],
    spot: str,
    tag: str = "",
    step: str = "",
) -> Mapping[str, Any] | None:
    """A photo with its files, as it is drawn; None where there is none at that spot."""
    p = at(photos, spot, tag, step)
    if p is None:
        return None
    widths = widths_of(spot, p["width"])
    return {
        **p,
        "src": where(p["number"], widths[-1]),
        "srcset": ", ".join(f"{where(p['number'], w)} {w}w" for w in widths),
    }


def recipes_of(record: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    """Every recipe that a record of this version writes out."""
    return [r for r in (record["recipe"], *record["recipes"]) if r]


def cooked_by(record: Mapping[str, Any]) -> dict[str, str]:
    """Everything that somebody may have cooked by a page, tag to name: also every point of how long."""
    return {r["tag"]: r["method"] for r in (*recipes_of(record), *record["doneness"])}


def index_html(sheet: Sheet, asked: str, *, style: str, flat: bool = False) -> str:
    """A sheet of the list of pages. `flat` : as plain files that lie beside each other, without a search."""
    return _templates().get_template("index.html").render(sheet=sheet, asked=asked, style=style, flat=flat)


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

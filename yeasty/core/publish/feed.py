"""All pages as a feed (Atom, RFC 4287) and as a sitemap, for programs that look again by themselves."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from xml.etree import ElementTree as xml

ATOM = "http://www.w3.org/2005/Atom"
SITEMAP = "http://www.sitemaps.org/schemas/sitemap/0.9"


@dataclass(frozen=True)
class Out:
    """A page that is out: its newest version; `about` its answer, and what a later version corrects."""

    slug: str
    version: int
    title: str
    about: str
    correction: str
    published: datetime


def _moment(at: datetime) -> str:
    return at.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


def _written(root: xml.Element) -> bytes:
    return bytes(xml.tostring(root, encoding="utf-8", xml_declaration=True))


def feed(pages: Sequence[Out], *, kitchen: str, base: str) -> bytes:
    """The feed, newest first. A version is an entry of its own: who reads along sees each correction.

    Parameters
    ----------
    kitchen : whose pages they are; base : address of the site, without a slash at its end
    """
    newest = sorted(pages, key=lambda p: (p.published, p.slug), reverse=True)
    root = xml.Element("feed", xmlns=ATOM)
    xml.SubElement(root, "id").text = f"{base}/p/"
    xml.SubElement(root, "title").text = kitchen
    xml.SubElement(root, "updated").text = _moment(
        newest[0].published if newest else datetime(1970, 1, 1, tzinfo=UTC)
    )
    author = xml.SubElement(root, "author")
    xml.SubElement(author, "name").text = kitchen
    xml.SubElement(root, "link", rel="self", href=f"{base}/p/feed.atom")
    xml.SubElement(root, "link", href=f"{base}/p/")
    for p in newest:
        entry = xml.SubElement(root, "entry")
        xml.SubElement(entry, "id").text = f"{base}/p/{p.slug}/{p.version}"
        xml.SubElement(entry, "title").text = p.title
        xml.SubElement(entry, "updated").text = _moment(p.published)
        xml.SubElement(entry, "link", href=f"{base}/p/{p.slug}/{p.version}")
        said = f"{p.about}. Corrected: {p.correction}" if p.correction else p.about
        xml.SubElement(entry, "summary").text = said
    return _written(root)


def sitemap(pages: Sequence[Out], *, base: str) -> bytes:
    """Addresses of all pages, each by its newest version."""
    root = xml.Element("urlset", xmlns=SITEMAP)
    for path, at in [("/p/", None), *((f"/p/{p.slug}", p.published) for p in pages)]:
        url = xml.SubElement(root, "url")
        xml.SubElement(url, "loc").text = f"{base}{path}"
        if at is not None:
            xml.SubElement(url, "lastmod").text = _moment(at)
    return _written(root)

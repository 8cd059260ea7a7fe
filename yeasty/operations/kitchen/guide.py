"""The user's guide, as it lies in docs/guide: read, checked and turned into HTML for the screen."""

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from markdown_it import MarkdownIt

FOLDER = Path(__file__).resolve().parents[3] / "docs"
# Pages of the guide in the order in which they are read; the six stations by the names of their addresses.
PAGES = ("start", "ask", "setup", "cook", "taste", "decide", "publish", "words")
# A word of the trade and what it means, as a line of the page "words".
WORD = re.compile(r"^- \*([^*]+)\*: (.+)$", re.MULTILINE)
PICTURE = re.compile(r"[a-z][a-z0-9-]*\.png")


@dataclass(frozen=True)
class GuidePage:
    """A page of the guide.

    Attributes
    ----------
    name : as in its address; title : its heading
    sentence, example : what it is for, and one example from the demo, as plain text
    html : all that follows
    """

    name: str
    title: str
    sentence: str
    example: str
    html: str


@cache
def guide() -> tuple[GuidePage, ...]:
    """All pages.

    Raises
    ------
    ValueError : a page that does not begin with a heading, a sentence and an example
    """
    return tuple(read_page(n, (FOLDER / "guide" / f"{n}.md").read_text("utf-8")) for n in PAGES)


def read_page(name: str, text: str) -> GuidePage:
    """A page from its Markdown.

    >>> p = read_page("ask", "# Ask\\n\\nSay it.\\n\\n*Example.* Buns.\\n\\n- **One**")
    >>> p.title, p.sentence, p.example, p.html
    ('Ask', 'Say it.', 'Buns.', '<ul>\\n<li><strong>One</strong></li>\\n</ul>\\n')
    """
    parts = text.split("\n\n", 3)
    if len(parts) < 4 or not parts[0].startswith("# ") or not parts[2].startswith("*Example.* "):
        raise ValueError(f"{name}: begins with a heading, a sentence and an example")
    title, sentence, example, rest = parts
    html = str(MarkdownIt("commonmark", {"html": False}).render(rest))
    html = html.replace('src="../screenshots/', 'src="/api/v1/guide/pictures/')
    return GuidePage(name, title[2:], sentence, example.removeprefix("*Example.* "), html)


@cache
def glossary() -> dict[str, str]:
    """Words of the trade, each with what it means."""
    return dict(WORD.findall((FOLDER / "guide" / "words.md").read_text("utf-8")))


def picture(name: str) -> Path | None:
    """A picture of the guide; None where there is none of that name."""
    path = FOLDER / "screenshots" / name
    return path if PICTURE.fullmatch(name) and path.is_file() else None

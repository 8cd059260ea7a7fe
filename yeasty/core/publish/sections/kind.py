"""A section of a published page: when it is there, and how it reads as Markdown. How it looks is its own part
of the page, `page/sections/<key>.html`.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

Record = Mapping[str, Any]


@dataclass(frozen=True)
class Section:
    """A section.

    Attributes
    ----------
    key : its name, and that of its file under `page/sections`
    there : whether a record has anything to say in it
    markdown : its lines
    """

    key: str
    there: Callable[[Record], bool]
    markdown: Callable[[Record], list[str]]


def md(text: object) -> str:
    """Text with the signs that Markdown would take for its own escaped, on one line.

    >>> md("*a*  b")
    '\\\\*a\\\\* b'
    """
    flat = " ".join(str(text).split())
    return "".join("\\" + c if c in "\\`*_[]<>|#" else c for c in flat)

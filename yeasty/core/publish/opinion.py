"""Comparisons in what the lead writes: the kitchen's opinion, since nothing on record is tied to them."""

import re
from collections.abc import Mapping

# Words that set one thing above another, and numbers that say by how much.
_COMPARES = re.compile(
    r"""\b(?:
        (?:more|less|fewer|better|worse|twice|half)\s+(?:\w+\s+){0,2}(?:than|as)\b
      | \w{3,}er\s+than\b
      | (?:the\s+)?(?:best|worst|most\s+\w+|least\s+\w+)\b
      | the\s+\w{3,}est\b
      | (?:never|always)\s+\w+
      | \d+(?:[.,]\d+)?\s?(?:%|per\s+cent|times)
    )""",
    re.IGNORECASE | re.VERBOSE,
)
# What the lead writes in their own words. Rules of the kitchen (keeping, process) compare nothing.
WRITTEN = {
    "title": "Title",
    "intro": "Introduction",
    "normal": "Looks wrong but is normal",
    "serving": "Serving",
    "lessons": "Lessons",
}


def opinions(texts: Mapping[str, str]) -> list[tuple[str, str]]:
    """What in the lead's own words compares or counts, each with the field it stands in.

    >>> opinions({"intro": "Crisper than the oven, and 20 % juicier. Serve it warm.", "serving": "At once."})
    [('Introduction', 'Crisper than'), ('Introduction', '20 %')]
    """
    return [(name, words) for key, name in WRITTEN.items() for words in compares(texts.get(key, ""))]


def compares(text: str) -> list[str]:
    """What of a text compares or counts.

    >>> compares("the crispest of all")
    ['the crispest']
    """
    return [" ".join(found[0].split()) for found in _COMPARES.finditer(text)]

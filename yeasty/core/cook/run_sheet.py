"""The run sheet: the whole shift on paper, in order of the clock, large enough for the wall and with room to
write.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.labels import mark_svg, paper_size


@dataclass(frozen=True)
class Line:
    """One line: clock time in words, mark, tag, what is done, what it needs, and how long it lasts."""

    clock: str
    mark: int
    tag: str
    what: str
    facts: str
    lasts: str
    hands: bool


def run_sheet_html(title: str, what: str, lines: Sequence[Line], paper: str = "A4") -> str:
    """A printable run sheet.

    Raises
    ------
    RuleError : a paper that is not known, or nothing planned yet

    >>> run_sheet_html("Tonight", "", [], "A5")
    Traceback (most recent call last):
    ...
    yeasty.core.kernel.errors.RuleError: paper: A5 is not known. Use A4 or Letter.
    """
    width, height = paper_size(paper)
    if not lines:
        raise RuleError("run sheet", "has nothing planned yet", "Wait for the plan, or plan the shift first.")
    rows = "".join(
        f'<tr class="{"hands" if line.hands else "free"}"><td class=t>{escape(line.clock)}</td><td '
        f"class=m>{mark_svg(line.mark, 8)}</td><td class=g>{escape(line.tag)}</td>"
        f"<td><b>{escape(line.what)}</b><small>{escape(line.facts)}</small></td><td "
        f"class=l>{escape(line.lasts)}</td><td class=w></td><td class=w></td></tr>"
        for line in lines
    )
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Run sheet</title><style>'
        f"@page{{size:{width}mm {height}mm;margin:12mm}}body{{margin:0;font-family:'Atkinson "
        f"Hyperlegible',sans-serif;font-size:13pt;color:#000}}"
        "h1{font-size:20pt;margin:0}p{margin:1mm 0 "
        "4mm}table{border-collapse:collapse;width:100%}thead{display:table-header-group}tr{page-break-inside:avoid}"
        "td,th{border-bottom:.3mm solid #777;padding:1.6mm "
        "2mm;text-align:left;vertical-align:middle}th{font-size:10pt;font-weight:400}"
        ".t{font-size:16pt;font-weight:700;white-space:nowrap}.g{font-weight:700}.l{white-space:nowrap}.w{width:24mm}small{display:block;font-size:10pt}"
        ".free b{font-weight:400}.m{width:9mm}"
        f"</style></head><body><h1>{escape(title)}</h1><p>{escape(what)}</p><table><thead><tr><th>Clock</th><th></th><th></th><th>What</th><th>Lasts</th><th>Done at</th><th>Noted</th></tr></thead>"  # noqa: E501
        f"<tbody>{rows}</tbody></table></body></html>"
    )

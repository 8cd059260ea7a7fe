"""A page as Markdown (CommonMark with tables)."""

from collections.abc import Mapping
from typing import Any

from yeasty.core.publish.document import as_now
from yeasty.core.publish.pictures import PageSpot, at
from yeasty.core.publish.sections import sections_of
from yeasty.core.publish.sections.kind import md


def markdown(record: Mapping[str, Any], *, published: str, version: int, correction: str = "") -> str:
    """The page as text.

    Parameters
    ----------
    record : from `as_record`, of any version
    published : date in words; version : number of the publication; correction : what this version corrects
    """
    r = as_now(record)
    out = [f"# {md(r['title'])}", "", md(r["headline"]), ""]
    out.append(f"Version {version}, {published}." + (f" Corrected: {md(correction)}" if correction else ""))
    first = at(r["photos"], PageSpot.FIRST)
    if first:
        out += ["", f"Photo on the page itself: {md(first['alt'])}"]
    for section in sections_of(r):
        out += ["", *section.markdown(r)]
    return "\n".join([*out, "", f"*{md(r['defer'])}*", ""])

"""What was tried, way by way; and what nobody should cook by this page."""

from collections.abc import Mapping
from typing import Any

from yeasty.core.publish.kinds import PageKind
from yeasty.core.publish.sections.kind import Record, Section, md


def _cell(w: Mapping[str, Any]) -> str:
    numbers = "; ".join(f"{name} {words}" for name, words in w["numbers"])
    said = [w["word"], w["when"], *w["notes"], numbers]
    return md(" · ".join(x for x in said if x)) or "—"


def _ways(r: Record) -> list[str]:
    few = r["kind"] == PageKind.EVERY_WAY
    rows = [
        f"| {md(w['name'])}{' (among the best few)' if w['picked'] and few else ''} | {_cell(w)} |"
        for w in r["ways"]
    ]
    return ["## The ways", "", "| way | what is told of it |", "|---|---|", *rows]


def _refused(r: Record) -> list[str]:
    return [
        "## Not to be cooked from this page",
        "",
        *(f"- **{md(name)}**: {md(why)}" for name, why in r["refused"]),
    ]


WAYS = Section("ways", lambda r: bool(r["ways"]), _ways)
REFUSED = Section("refused", lambda r: bool(r["refused"]), _refused)

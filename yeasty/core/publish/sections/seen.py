"""What is to be seen: photos of the ways beside one another, all on one cut, where no list of ways shows
them.
"""

from yeasty.core.publish.pictures import PageSpot
from yeasty.core.publish.sections.kind import Record, Section, md


def _ways(r: Record) -> bool:
    return not r["ways"] and any(p["spot"] == PageSpot.WAY for p in r["photos"])


def _told(r: Record) -> list[str]:
    rows = [f"- {md(p['caption'])}: {md(p['alt'])}" for p in r["photos"] if p["spot"] == PageSpot.WAY]
    return ["## How they came out", "", "Photos stand on the page itself; in words:", "", *rows]


SEEN = Section("seen", _ways, _told)

"""What the lead wrote, or picked from what was noted and said."""

from functools import partial

from yeasty.core.publish.sections.kind import Record, Section, md


def _text(title: str, key: str, r: Record) -> list[str]:
    return [f"## {title}", "", md(r[key])]


def _list(title: str, key: str, quoted: bool, r: Record) -> list[str]:
    return [f"## {title}", "", *(f"- “{md(c)}”" if quoted else f"- {md(c)}" for c in r[key])]


def _there(key: str, r: Record) -> bool:
    return bool(r[key])


INTRO = Section("intro", partial(_there, "intro"), lambda r: [md(r["intro"])])
SERVING = Section("serving", partial(_there, "serving"), partial(_text, "Serving", "serving"))
KEEPING = Section("keeping", partial(_there, "keeping"), partial(_text, "Keeping", "keeping"))


def _leftovers(r: Record) -> list[str]:
    return [
        "## What is left over",
        "",
        *(f"- {md(rule)} *({md(source)})*" for rule, source in r["leftovers"]),
    ]


LEFTOVERS = Section("leftovers", partial(_there, "leftovers"), _leftovers)
SIGNS = Section("signs", partial(_there, "cues"), partial(_list, "Signs to look for", "cues", False))
CHANGED = Section(
    "changed",
    partial(_there, "changed"),
    partial(_list, "What changed since the version before", "changed", False),
)
LESSONS = Section(
    "lessons", partial(_there, "lessons"), partial(_list, "Whichever way it is cooked", "lessons", False)
)


def _linked(r: Record) -> list[str]:
    rows = [f"- {md(p['title'])}: {md(p['headline'])} *({md(p['how_sure'])})*" for p in r["linked"]]
    return ["## Belongs to it", "", *rows]


LINKED = Section("linked", partial(_there, "linked"), _linked)
QUOTES = Section("quotes", partial(_there, "quotes"), partial(_list, "In tasters' words", "quotes", True))

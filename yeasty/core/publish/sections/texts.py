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
NORMAL = Section("normal", partial(_there, "normal"), partial(_text, "Looks wrong but is normal", "normal"))
SERVING = Section("serving", partial(_there, "serving"), partial(_text, "Serving", "serving"))
KEEPING = Section("keeping", partial(_there, "keeping"), partial(_text, "Keeping", "keeping"))
SIGNS = Section("signs", partial(_there, "cues"), partial(_list, "Signs to look for", "cues", False))
QUOTES = Section("quotes", partial(_there, "quotes"), partial(_list, "In tasters' words", "quotes", True))

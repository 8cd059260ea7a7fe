"""What a page stands on: its picture, its sentences with their records, how sure it is."""

from collections.abc import Mapping
from typing import Any

from yeasty.core.publish.kinds import KINDS, PageKind
from yeasty.core.publish.sections.kind import Record, Section, md


def reading(mark: Mapping[str, Any]) -> str:
    """One thing of a picture in words.

    >>> reading({"value": 6.21, "low": 5.0, "high": 7.5, "note": "", "stands": ""})
    '6.2 (5.0 to 7.5)'
    """
    if mark["stands"]:
        return str(mark["stands"])
    if mark["value"] is None:
        return mark["note"] or "not known"
    span = f" ({_number(mark['low'])} to {_number(mark['high'])})" if mark["low"] is not None else ""
    # A note that begins with its own number says it better than the bare one.
    own = bool(mark["note"]) and mark["note"][:1].isdigit()
    said = mark["note"] if own else f"{_number(mark['value'])}{span}"
    return f"{said}, {mark['note']}" if mark["note"] and not own else str(said)


def _number(value: float) -> str:
    """One decimal, with a minus that reads as one.

    >>> _number(-0.1), _number(-0.02)
    ('−0.1', '0.0')
    """
    text = f"{value:.1f}"
    return text.replace("-", "−") if text != "-0.0" else "0.0"


def _answer(r: Record) -> list[str]:
    p = r["picture"]
    head = p["axis"] or "what"
    rows = []
    for m in p["marks"]:
        label = f"{m['group']}: {m['label']}" if m["group"] else m["label"]
        rows.append(f"| {md(label)}{' ✓' if m['picked'] else ''} | {md(reading(m))} |")
    return ["## In figures", "", f"| {md(head)} | {md(p['scale'] or 'came to')} |", "|---|---|", *rows]


def _why(r: Record) -> list[str]:
    title = KINDS[PageKind(r["kind"])].why
    said = [(text, f"{standing}: {on}" if standing else on) for text, on, standing in r["why"]]
    return [f"## {title}", "", *(f"- {md(text)} *({md(on)})*" for text, on in said)]


def _claims(r: Record) -> list[str]:
    out = ["## What we claim", ""]
    for c in r["claims"]:
        out += [f"- {md(c['text'])} *({md(c['standing'])}, {md(c['how_sure'])})*"]
        out += [f"  - {md(line)}" for line in c["records"]]
    return out


def _purposes(r: Record) -> list[str]:
    rows = [f"| {md(m)} | {md(what)} |" for m, what in r["purposes"]]
    return ["## What each is for", "", "The kitchen's opinion.", "", "| method | for |", "|---|---|", *rows]


def _another(r: Record) -> list[str]:
    rows = [f"| {md(m)} | {md(when)} |" for m, when in r["choose_another"]]
    return ["## Choose another when", "", "| method | when |", "|---|---|", *rows]


def _sure(r: Record) -> list[str]:
    out = ["## How sure", "", md(r["how_sure"]), "", *(f"- {md(e)}" for e in r["evidence"])]
    if r["not_equal"]:
        out += ["", "Not equal between methods:", "", *(f"- {md(e)}" for e in r["not_equal"])]
    if r["opinions"]:
        told = ", ".join(f"“{md(w)}”" for w in r["opinions"])
        out += ["", f"In the kitchen's own words, as its opinion and tied to no record: {told}."]
    if r["process"]:
        out += ["", f"Process: {md(r['process'])}"]
    if r["disclosure"]:
        out += ["", f"Disclosure: {md(r['disclosure'])}"]
    return out


# Without anything in it a list is no picture; a list of ways is told way by way.
ANSWER = Section(
    "answer", lambda r: bool(r["picture"]["marks"]) and r["picture"]["shape"] not in ("", "list"), _answer
)
WHY = Section("why", lambda r: bool(r["why"]), _why)
CLAIMS = Section("claims", lambda r: bool(r["claims"]), _claims)
PURPOSES = Section("purposes", lambda r: bool(r["purposes"]), _purposes)
ANOTHER = Section("another", lambda r: bool(r["choose_another"]), _another)
SURE = Section("sure", lambda r: True, _sure)

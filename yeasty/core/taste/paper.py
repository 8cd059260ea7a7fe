"""Codes to stick on cups, and ballots, on paper. Nothing on it tells which is which."""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from yeasty.core.ask.trial import Attribute
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import SCALES
from yeasty.core.setup.labels import paper_size, sheets_html
from yeasty.core.taste.tests.kind import TasteTest


def stickers_html(codes: Sequence[str], people: int, stock: str) -> str:
    """Each code once for each person, codes in order of their digits.

    Raises
    ------
    RuleError : a stock that is not known, no codes
    """
    if not codes:
        raise RuleError("codes", "none", "Deal codes first.")
    cells = [f'<div class="code">{escape(c)}</div>' for c in sorted(codes) for _ in range(max(1, people))]
    return sheets_html(cells, stock, ".code{font-size:30pt;font-weight:700;margin:auto;letter-spacing:1mm}")


def plates_html(seats: Sequence[tuple[str, Sequence[tuple[str, Sequence[str]]]]], paper: str = "A4") -> str:
    """A mat a person to lay samples on: a ring for each code, in the order in which they are tasted.

    `seats` : name, and of each round its title and the codes in this person's order

    Raises
    ------
    RuleError : a paper that is not known
    """
    width, height = paper_size(paper)
    style = (
        f"@page{{size:{height}mm {width}mm;margin:12mm}}body{{margin:0;font-family:'Atkinson Hyperlegible',"
        "sans-serif;color:#000}section{page-break-after:always}section:last-child{page-break-after:auto}"
        "h1{font-size:16pt;margin:0 0 2mm}h2{font-size:12pt;margin:4mm 0 1mm}"
        ".ring{display:inline-block;width:46mm;height:46mm;border:.5mm solid #000;border-radius:50%;"
        "text-align:center;margin:2mm}.ring b{display:block;font-size:20pt;margin-top:15mm}"
    )
    pages = "".join(
        f"<section><h1>{escape(name)}</h1>"
        + "".join(
            f"<h2>{escape(title)}</h2>"
            + "".join(f"<div class=ring><b>{escape(c)}</b>{n}</div>" for n, c in enumerate(order, 1))
            for title, order in rounds
        )
        + "</section>"
        for name, rounds in seats
    )
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Plates</title><style>{style}'
        f"</style></head><body>{pages}</body></html>"
    )


@dataclass(frozen=True)
class BallotRound:
    """A round as it stands on a ballot."""

    test: TasteTest
    question: str
    title: str
    order: Sequence[str]
    attributes: Sequence[Attribute]
    labels: Sequence[str]
    break_s: int


@dataclass(frozen=True)
class Ballot:
    """One person's ballot."""

    name: str
    rounds: Sequence[BallotRound]


def ballots_html(
    dish: str,
    ballots: Sequence[Ballot],
    allergens: Sequence[str],
    unchecked: Sequence[str],
    paper: str = "A4",
) -> str:
    """A ballot a person, each beginning with what is on the table.

    Raises
    ------
    RuleError : a paper that is not known
    """
    width, height = paper_size(paper)
    style = (
        f"@page{{size:{width}mm {height}mm;margin:14mm}}body{{margin:0;font-family:'Atkinson "
        "Hyperlegible',sans-serif;font-size:12pt;color:#000}h1{font-size:20pt;margin:0}h2{font-size:14pt;"
        "margin:5mm 0 1mm}section{page-break-after:always}section:last-child{page-break-after:auto}"
        "table{border-collapse:collapse;width:100%}td,th{border:.3mm solid #777;padding:2mm;text-align:left;"
        "height:11mm;font-size:11pt}td.c{font-size:18pt;font-weight:700;width:22mm}.stop{border:.8mm solid "
        "#000;padding:3mm;margin:3mm 0}.box{display:inline-block;width:5mm;height:5mm;border:.4mm solid #000;"
        "vertical-align:-1mm;margin-right:2mm}.line{border-bottom:.3mm solid #777;height:10mm}"
    )
    pages = "".join(_page(dish, b, allergens, unchecked) for b in ballots)
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Ballots</title><style>{style}'
        f"</style></head><body>{pages}</body></html>"
    )


def _page(dish: str, b: Ballot, allergens: Sequence[str], unchecked: Sequence[str]) -> str:
    asked = [*((a, "") for a in allergens), *((u, " (not checked: ask before you taste)") for u in unchecked)]
    table = "".join(
        f"<p>{escape(w)}{escape(note)}: <span class=box></span>I may eat it &ensp; <span class=box></span>"
        "<b>I must not: stop, and tell the cook</b></p>"
        for w, note in asked
    )
    rounds = "".join(_round(n, r, len(b.rounds)) for n, r in enumerate(b.rounds, 1))
    return (
        f"<section><h1>{escape(dish)}</h1><p>{escape(b.name)}</p><div class=stop><b>Before the first "
        f"bite.</b> On this table:{table or ' nothing of the list of allergens.'}</div>"
        "<p>Pregnant, frail, or with a small child: leave what is soft-cooked, pink or raw. Leave any sample "
        f"out that is not for you; nobody asks why.</p>{rounds}</section>"
    )


def _round(number: int, r: BallotRound, of: int) -> str:
    head = f"Round {number}: " if of > 1 else ""
    pause = f"<p>First a break of {round(r.break_s / 60)} min and some water.</p>" if r.break_s else ""
    title = f"{head}{r.title or r.question}"
    if r.test.drawn != "samples":
        labels = f"<p>Labels: {escape(', '.join(r.labels))}</p>" if r.labels else ""
        asked = f"<p>{escape(r.question)}</p>" if r.title else ""
        first = f"<p>Taste {escape(r.order[0])} first.</p>" if r.test.reference else ""
        return (
            f"<h2>{escape(title)}</h2>{pause}{asked}{first}<p>In this order: "
            f"<b>{escape(' → '.join(r.order))}</b></p>{labels}<div class=line></div>"
        )
    ends = "".join(f"<th>{escape(a.name)}<br><small>{escape(_scale(a))}</small></th>" for a in r.attributes)
    rows = "".join(
        f"<tr><td class=c>{escape(c)}</td>{'<td></td>' * len(r.attributes)}<td></td></tr>" for c in r.order
    )
    return (
        f"<h2>{escape(title)}</h2>{pause}<p>In this order. A dash where you would rather not say.</p>"
        f"<table><thead><tr><th>Code</th>{ends}<th>In your words</th></tr></thead>"
        f"<tbody>{rows}</tbody></table>"
    )


def _scale(a: Attribute) -> str:
    scale = SCALES[a.scale]
    words = a.words if scale.own_words else scale.words
    if words and not scale.averaged:
        return " / ".join(words)
    if scale.shape == "tally":
        return "so many of so many"
    low = f"{scale.low:g} {a.low_words or (words[0] if words else '')}".strip()
    high = f"{scale.highest(9):g} {a.high_words or (words[-1] if words else '')}".strip()
    return "1 is the best" if scale.orders else f"{low} to {high}"

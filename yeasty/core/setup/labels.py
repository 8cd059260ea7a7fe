"""Flags, tape and labels to print: the mark large enough to copy by hand, the tag, the name."""

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from yeasty.core.ask.marks import DOT_RADIUS, mark
from yeasty.core.kernel.errors import RuleError
from yeasty.core.setup.places import VesselMap, heat_at, reading_order

PAPERS = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}


def paper_size(paper: str) -> tuple[float, float]:
    """Width and height of a sheet of paper [mm].

    Raises
    ------
    RuleError : a paper that is not known

    >>> paper_size("A4")
    (210.0, 297.0)
    """
    if paper not in PAPERS:
        raise RuleError("paper", f"{paper} is not known", "Use A4 or Letter.")
    return PAPERS[paper]


@dataclass(frozen=True)
class Stock:
    """How labels lie on a sheet: columns and rows of one size [mm], and the sheet's own margins [mm]."""

    name: str
    paper: str
    columns: int
    rows: int
    width_mm: float
    height_mm: float
    left_mm: float
    top_mm: float
    gap_x_mm: float
    gap_y_mm: float


STOCKS: dict[str, Stock] = {
    "flags-a4": Stock("Flags to fold round a stick, A4", "A4", 2, 10, 90, 26, 13, 14, 4, 0.7),
    "flags-letter": Stock("Flags to fold round a stick, Letter", "Letter", 2, 9, 90, 26, 15, 14, 4, 0.7),
    "tape-a4": Stock("Tape strips, 24 mm, A4", "A4", 1, 11, 180, 24, 15, 14, 0, 0.3),
    "tape-letter": Stock("Tape strips, 24 mm, Letter", "Letter", 1, 10, 180, 24, 17, 16, 0, 0.3),
    "labels-21": Stock("Labels 63.5 × 38.1 mm, 21 a sheet, A4", "A4", 3, 7, 63.5, 38.1, 7.2, 15.1, 2.5, 0),
    "labels-14": Stock("Labels 99.1 × 38.1 mm, 14 a sheet, A4", "A4", 2, 7, 99.1, 38.1, 4.7, 15.1, 2.5, 0),
    "labels-24": Stock("Labels 70 × 37 mm, 24 a sheet, A4", "A4", 3, 8, 70, 37, 0, 0.5, 0, 0),
    "labels-30": Stock(
        "Labels 2⅝ × 1 in, 30 a sheet, Letter", "Letter", 3, 10, 66.7, 25.4, 4.8, 12.7, 3.2, 0
    ),
    "labels-10": Stock("Labels 4 × 2 in, 10 a sheet, Letter", "Letter", 2, 5, 101.6, 50.8, 4.0, 12.7, 4.7, 0),
    "plain-a4": Stock("Plain A4, cut by hand", "A4", 2, 5, 92, 52, 12, 14, 2, 2),
    "plain-letter": Stock("Plain Letter, cut by hand", "Letter", 2, 4, 92, 58, 14, 14, 2, 2),
}


@dataclass(frozen=True)
class Tag:
    """What one label says: mark number, two-letter tag, method, and a line below (replicate, piece,
    weight).
    """

    mark: int
    tag: str
    name: str
    below: str = ""


def mark_svg(number: int, size_mm: float) -> str:
    """A mark in black, as it is drawn by hand.

    >>> mark_svg(0, 10)[:4]
    '<svg'
    """
    m = mark(number)
    strokes = "".join(
        f'<polyline points="{" ".join(f"{x:.1f},{y:.1f}" for x, y in s)}" fill="none" stroke="#000" '
        f'stroke-width="8" stroke-linecap="round"/>'
        for s in m.strokes
    )
    dots = "".join(f'<circle cx="{x}" cy="{y}" r="{DOT_RADIUS}" fill="#000"/>' for x, y in m.dots)
    return f'<svg viewBox="0 0 100 104" width="{size_mm:g}mm" height="{size_mm:g}mm">{strokes}{dots}</svg>'


def _page(paper: str, body: str, style: str = "") -> str:
    width, height = paper_size(paper)
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Labels</title><style>'
        f"@page{{size:{width}mm "
        f"{height}mm;margin:0}}*{{box-sizing:border-box}}body{{margin:0;font-family:'Atkinson "
        f"Hyperlegible',sans-serif;color:#000}}"
        f"{style}</style></head><body>{body}</body></html>"
    )


def labels_html(tags: Sequence[Tag], stock_key: str, title: str, copies: int = 1) -> str:
    """A printable sheet of labels.

    Parameters
    ----------
    tags : what to print, each `copies` times, in order
    stock_key : key of `STOCKS`

    Raises
    ------
    RuleError : a stock that is not known, or no tags
    """
    if not tags:
        raise RuleError("labels", "have nothing to say yet", "Add methods at Ask first.")
    if not 1 <= copies <= 20:
        raise RuleError("copies", f"{copies}", "Print 1 to 20 of each.")
    s = stock_of(stock_key)
    size = min(s.height_mm - 5, 30.0)
    fold = stock_key.startswith("flags")
    cells = []
    for t in tags:
        below = f"<small>{escape(t.below)}</small>" if t.below else ""
        words = (
            f"<div><b>{escape(t.tag)}</b> "
            f"<span>{escape(t.name)}</span>{below}<small>{escape(title)}</small></div>"
        )
        half = f"<div class=half>{mark_svg(t.mark, size * 0.8)}<b>{escape(t.tag)}</b></div>"
        cells += [half * 2 if fold else mark_svg(t.mark, size) + words] * copies
    return sheets_html(cells, stock_key)


def stock_of(key: str) -> Stock:
    """A sheet of labels.

    Raises
    ------
    RuleError : one that is not known
    """
    if key not in STOCKS:
        raise RuleError("labels", f"{key} is not known", "Use one of: " + ", ".join(STOCKS) + ".")
    return STOCKS[key]


def sheets_html(cells: Sequence[str], stock_key: str, more_style: str = "") -> str:
    """What stands on each label, laid out on sheets of a stock.

    Parameters
    ----------
    cells : HTML of each label, in order
    more_style : beside the usual style of a label

    Raises
    ------
    RuleError : a stock that is not known
    """
    s = stock_of(stock_key)
    a_page = s.columns * s.rows
    small = s.height_mm < 30
    sheets = []
    for start in range(0, len(cells), a_page):
        laid = []
        for n, inner in enumerate(cells[start : start + a_page]):
            left = s.left_mm + (n % s.columns) * (s.width_mm + s.gap_x_mm)
            top = s.top_mm + (n // s.columns) * (s.height_mm + s.gap_y_mm)
            laid.append(
                f'<div class="{"cell small" if small else "cell"}" '
                f'style="left:{left:.2f}mm;top:{top:.2f}mm;width:{s.width_mm}mm;height:{s.height_mm}mm">'
                f"{inner}</div>"
            )
        sheets.append(f"<section>{''.join(laid)}</section>")
    width, height = PAPERS[s.paper]
    style = (
        f"section{{position:relative;width:{width}mm;height:{height - 0.5}mm;page-break-after:always;overflow:hidden}}"  # noqa: E501
        "section:last-child{page-break-after:auto}"
        ".cell{position:absolute;display:flex;align-items:center;gap:3mm;padding:2mm 3mm;border:.2mm "
        "dashed #999;overflow:hidden;font-size:12pt}"
        ".cell b{font-size:20pt}.cell small{display:block;font-size:8.5pt;line-height:1.15}.cell.small{font-size:10pt}.cell.small b{font-size:15pt}"  # noqa: E501
        ".half{flex:1;display:flex;align-items:center;justify-content:center;gap:2mm;height:100%}.half:first-child{border-right:.2mm dotted #666}"  # noqa: E501
    )
    return _page(s.paper, "".join(sheets), style + more_style)


@dataclass(frozen=True)
class MapSheet:
    """A map to print, with what stands over it."""

    name: str
    what: str
    map: VesselMap


def map_svg(m: VesselMap, marks: dict[str, int], width_mm: float) -> str:
    """A vessel with its pieces, marks and tags on them, front edge below."""
    scale = width_mm / m.width_m
    height = m.depth_m * scale
    parts = []
    if m.round:
        parts.append(
            f'<ellipse cx="{width_mm / 2:.2f}" cy="{height / 2:.2f}" rx="{width_mm / 2 - 0.4:.2f}" ry="{height / 2 - 0.4:.2f}" fill="none" stroke="#000" stroke-width=".6"/>'  # noqa: E501
        )
    else:
        parts.append(
            f'<rect x=".4" y=".4" width="{width_mm - 0.8:.2f}" height="{height - 0.8:.2f}" rx="3" fill="none" stroke="#000" stroke-width=".6"/>'  # noqa: E501
        )
    r = m.piece_m / 2 * scale
    for n, p in enumerate(reading_order(m.places), 1):
        x, y = p.x_m * scale, height - p.y_m * scale
        parts.append(
            f'<circle cx="{x:.2f}" cy="{y:.2f}" r="{r:.2f}" fill="{"#fff" if p.tag else "none"}" stroke="#000" stroke-width=".3"{"" if p.tag else " stroke-dasharray=1,1"}/>'  # noqa: E501
        )
        if p.tag in marks:
            k = mark(marks[p.tag])
            f = r / 86
            for s in k.strokes:
                points = " ".join(f"{x + (a - 50) * f:.2f},{y + (b - 66) * f:.2f}" for a, b in s)
                parts.append(
                    f'<polyline points="{points}" fill="none" stroke="#000" stroke-width="{9 * f:.2f}" stroke-linecap="round"/>'  # noqa: E501
                )
            for a, b in k.dots:
                parts.append(
                    f'<circle cx="{x + (a - 50) * f:.2f}" cy="{y + (b - 66) * f:.2f}" r="{DOT_RADIUS * f:.2f}"/>'  # noqa: E501
                )
            said = f"{p.tag}{p.piece or ''}"
            parts.append(
                f'<text x="{x:.2f}" y="{y + r * 0.8:.2f}" font-size="{r * 0.4:.2f}" text-anchor="middle">{escape(said)}</text>'  # noqa: E501
            )
        else:
            parts.append(
                f'<text x="{x:.2f}" y="{y + r * 0.15:.2f}" font-size="{r * 0.4:.2f}" text-anchor="middle" fill="#777">{n}</text>'  # noqa: E501
            )
    for spot in m.spots:
        parts.append(
            f'<text x="{spot.x_m * scale:.2f}" y="{height - spot.y_m * scale:.2f}" font-size="5" text-anchor="middle" font-weight="bold" stroke="#fff" stroke-width="1.4" paint-order="stroke">{spot.k:+.0f} K</text>'  # noqa: E501
        )
    return f'<svg viewBox="0 0 {width_mm:.2f} {height:.2f}" width="{width_mm:.1f}mm" height="{height:.1f}mm" font-family="sans-serif">{"".join(parts)}</svg>'  # noqa: E501


def maps_html(sheets: Sequence[MapSheet], marks: dict[str, int], title: str, paper: str = "A4") -> str:
    """Maps to print, one a page: as laid, after the half-way turn, and every hand-over.

    Raises
    ------
    RuleError : a paper that is not known, or no maps
    """
    width, height = paper_size(paper)
    if not sheets:
        raise RuleError("maps", "none drawn yet", "Draw a map first.")
    body = []
    for s in sheets:
        room = min(width - 30, (height - 75) * s.map.width_m / s.map.depth_m)
        heats = [heat_at(s.map, p.x_m, p.y_m) for p in s.map.places if p.tag]
        note = (
            f"Places differ by up to {max(heats) - min(heats):.0f} K."
            if heats and max(heats) - min(heats) >= 1
            else ""
        )
        body.append(
            f"<section><h1>{escape(s.name)}</h1><p>{escape(s.what)} {note}</p>{map_svg(s.map, marks, room)}<p class=front>front: the cook stands here</p>"  # noqa: E501
            f"<p><small>{escape(title)}</small></p></section>"
        )
    style = "section{padding:14mm 15mm;page-break-after:always}section:last-child{page-break-after:auto}h1{font-size:20pt;margin:0 0 2mm}p{margin:0 0 3mm;font-size:12pt}.front{text-align:center}"  # noqa: E501
    return _page(paper, "".join(body), style)

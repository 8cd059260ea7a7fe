"""A ladder: the best point and its range, not the best rung tried; where to look next if it lies outside."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import isfinite, sqrt

import numpy as np
from scipy.stats import t as student

from yeasty.core.decide.crossing import Crossing, Rung, crossing
from yeasty.core.decide.measured import TALLY
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Spot, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, Way

FEWEST_RUNGS, ASKED_RUNGS = 4, 6
LEVEL = 0.95


@dataclass(frozen=True)
class BestPoint:
    """Where a curve through rungs is highest.

    Attributes
    ----------
    at : the best point, None where the curve has none inside
    low, high : the range in which it lies, None where it is open on that side: past the first or the last
    rung
    curve : (at, value)
    """

    at: float | None
    low: float | None
    high: float | None
    curve: tuple[tuple[float, float], ...] = ()


def best_point(x: Sequence[float], y: Sequence[float]) -> BestPoint:
    """M13: a parabola through means of rungs; the set of points at which its slope may be nought (Fieller),
    with a curvature that is shown to be downward; told no narrower than the rungs beside the best one,
    since curves that fall more steeply than they rise are no parabolas.

    Source: E. C. Fieller's set for a ratio of two normal estimates; the bracket is ours, after simulation.
    """
    xs, ys = np.asarray(x, float), np.asarray(y, float)
    if len(xs) < FEWEST_RUNGS:
        return BestPoint(None, None, None)
    middle, width = float(xs.mean()), float(xs.max() - xs.min()) / 2
    u = (xs - middle) / width
    design = np.stack([np.ones_like(u), u, u * u], axis=1)
    beta = np.linalg.lstsq(design, ys, rcond=None)[0]
    rest = ys - design @ beta
    df = len(xs) - 3
    s2 = float(rest @ rest) / df
    cov = s2 * np.linalg.inv(design.T @ design)
    grid = np.linspace(-1, 1, 41)
    curve = tuple((middle + width * float(g), float(beta @ [1, g, g * g])) for g in grid)
    t = float(student.ppf(0.5 + LEVEL / 2, df))
    # Of slope nought: b + 2·c·u = 0, u = −b / (2c).
    b, c = float(beta[1]), float(beta[2])
    vb, vc, vbc = float(cov[1, 1]), float(cov[2, 2]), float(cov[1, 2])
    if not (c < 0 and c + float(student.ppf(LEVEL, df)) * sqrt(vc) < 0):
        return BestPoint(None, None, None, curve)
    # (b + 2cu)² ≤ t²·(vb + 4u·vbc + 4u²·vc)
    qa, qb, qc = 4 * (c * c - t * t * vc), 4 * (b * c - t * t * vbc), b * b - t * t * vb
    root = qb * qb - 4 * qa * qc
    if qa <= 0 or root < 0:
        return BestPoint(None, None, None, curve)
    ends = sorted(((-qb - sqrt(root)) / (2 * qa), (-qb + sqrt(root)) / (2 * qa)))
    at = middle + width * (-b / (2 * c))
    low, high = (middle + width * e for e in ends)
    order = np.argsort(xs)
    xs, ys = xs[order], ys[order]
    top = int(np.argmax(ys))
    bracket = (float(xs[max(0, top - 1)]), float(xs[min(len(xs) - 1, top + 1)]))
    low, high = min(low, bracket[0]), max(high, bracket[1])
    first, last = float(xs[0]), float(xs[-1])
    if not (isfinite(low) and isfinite(high)) or top in (0, len(xs) - 1) or not first < at < last:
        return BestPoint(None, None, None, curve)
    return BestPoint(at, low if low >= first else None, high if high <= last else None, curve)


def ladder(asked: Asked, basis: Basis) -> Answered:
    """The best point and its range by a curve; else what the rungs themselves say, and which comes next. Then
    where a state turns that was counted, and what came from one pot.
    """
    found = _best(asked, basis)
    beside = _turns(asked, basis)
    if asked.one_load:
        beside.append(
            Sentence(
                "All points of a cooking were pulled from one load, so how that load went is in all of them: "
                "it cancels between them, and how loads differ from one another shows only over several.",
                "as it was laid out",
                Stands.LAID_OUT,
            )
        )
    return replace(found, sentences=(*found.sentences, *beside)) if beside else found


def _turns(asked: Asked, basis: Basis) -> list[Sentence]:
    """Where states that were counted turn, each with the counts it stands on: a table of time to state."""
    found = []
    for key, by in basis.counts.items():
        rungs = sorted(
            (w for w in asked.ways if w.rung is not None and w.key in by), key=lambda w: w.rung or 0
        )
        rows = [
            Rung(w.rung or 0.0, sum(c for c, _ in by[w.key]), sum(n for _, n in by[w.key])) for w in rungs
        ]
        name = key.removeprefix(TALLY)
        table = ", ".join(f"{say(asked, r.at)} {r.count} of {r.out_of}" for r in rows)
        c = crossing(rows)
        if c is None:
            if len(rows) > 1:
                text = f"“{name}”: {table}; it turns nowhere along what was tried."
                found.append(Sentence(text, "pieces counted", Stands.MEASURED))
            continue
        found.append(
            Sentence(
                f"“{name}”: {table}. {_turning(asked, c)}",
                "pieces counted; those of one load share its luck",
                Stands.MEASURED,
            )
        )
    return found


def _turning(asked: Asked, c: Crossing) -> str:
    more = "become it" if c.rises else "cease to be it"
    if c.separated and c.low is not None and c.high is not None:
        said = (
            f"They {more} between {say(asked, c.low)} and {say(asked, c.high)}; where in between was not seen"
        )
    elif c.at is not None:
        low = say(asked, c.low) if c.low is not None else "before the first that was tried"
        high = say(asked, c.high) if c.high is not None else "past the last that was tried"
        said = f"Half of them {more} by about {say(asked, c.at)} (95 % range {low} to {high})"
    else:
        return ""
    if c.all_from is not None:
        every = "all were" if c.rises else "none was any more"
        said += f"; from {say(asked, c.all_from)} on {every}"
    return said + "."


def _best(asked: Asked, basis: Basis) -> Answered:
    """The best point by scores."""
    v = basis.verdict
    means = basis.fit.means if basis.fit else {}
    rungs = sorted((w for w in asked.ways if w.rung is not None), key=lambda w: w.rung or 0.0)
    tasted = [w for w in rungs if w.key in means]
    if len(tasted) < 2:
        return Answered(
            Asks.LADDER, v.headline, v.how_sure, None, v.sentences, _picture(asked, rungs, basis, None)
        )
    x, y = [w.rung or 0.0 for w in tasted], [means[w.key] for w in tasted]
    found = best_point(x, y)
    picture = _picture(asked, rungs, basis, found)
    may = [w for w in tasted if w.fit]
    sentences: list[Sentence] = []
    if len(tasted) < ASKED_RUNGS:
        sentences.append(
            Sentence(
                f"{len(tasted)} points were tasted; a best point with a useful range takes about "
                f"{ASKED_RUNGS}.",
                "how often such ranges are bounded",
            )
        )
    unfit = [w for w in tasted if not w.fit]
    if unfit:
        sentences.append(
            Sentence(
                f"{', '.join(w.rung_words or w.name for w in unfit)}: the core was not read as reached, "
                f"so nothing "
                "that low is recommended.",
                "core readings",
                Stands.MEASURED,
            )
        )
    top = max(tasted, key=lambda w: (means[w.key], -(w.rung or 0.0)))
    if found.at is not None:
        near = min(may, key=lambda w: abs((w.rung or 0.0) - (found.at or 0.0))) if may else None
        lowest = min((w.rung or 0.0 for w in may), default=None)
        safe = lowest is None or found.at >= lowest
        headline = f"Best at about {say(asked, found.at)}, {_between(asked, found, x)}"
        if not safe:
            headline += ", which is below the first whose core was reached"
        sentences.insert(
            0,
            Sentence(
                f"Of those tried, the highest was {top.rung_words or top.name}; the best point is "
                f"read off the "
                "curve through all of them.",
                f"{len(tasted)} tried, 95 % range",
            ),
        )
        leader = near.key if near and safe else None
        return Answered(Asks.LADDER, headline, HowSure.LEANING, leader, (*sentences, *v.sentences), picture)
    at_end = top is tasted[-1] or top is tasted[0]
    lowest_rung = min(tasted, key=lambda w: means[w.key])
    apart = basis.range(top.key, lowest_rung.key)
    flat = apart is None or apart.low <= 0
    nxt = _next_rung(tasted, top)
    if at_end and not flat:
        way = "longer or higher" if top is tasted[-1] else "shorter or lower"
        none = "No best point inside what was tried"
        headline = (
            f"{none}: still rising at {top.rung_words}; try next {say(asked, nxt)}"
            if top is tasted[-1]
            else f"{none}: best at the first, {top.rung_words}; next at {say(asked, nxt)}"
        )
        sentences.insert(
            0, Sentence(f"The best may lie {way} than anything that was tried.", "the mean of each")
        )
    else:
        a, b = _beside(tasted, top)
        headline = (
            f"No best point can be read off: {top.rung_words or top.name} came out highest, the best may lie "
            f"anywhere between {a} and {b}"
        )
        sentences.insert(
            0,
            Sentence("The curve through them is too flat or too uneven to have a top.", "95 % range"),
        )
    leader = top.key if top.fit and not flat and not at_end else None
    return Answered(
        Asks.LADDER,
        headline,
        HowSure.LEVEL if flat else HowSure.LEANING,
        leader,
        (*sentences, *v.sentences),
        picture,
    )


def _between(asked: Asked, found: BestPoint, x: Sequence[float]) -> str:
    """The range of a best point in words; what lies past the rungs is not told."""
    low, high = found.low, found.high
    if low is not None and high is not None:
        return f"between {say(asked, low)} and {say(asked, high)}"
    past = "how far past it may lie is not told by them"
    if low is not None:
        return f"from {say(asked, low)} to {say(asked, max(x))} or beyond; {past}"
    if high is not None:
        return f"up to {say(asked, high)}, from {say(asked, min(x))} or before; {past}"
    return f"anywhere along what was tried; {past}"


def _next_rung(tasted: Sequence[Way], top: Way) -> float:
    """One step further than what was tried."""
    x = [w.rung or 0.0 for w in tasted]
    return x[-1] + (x[-1] - x[-2]) if top is tasted[-1] else max(0.0, x[0] - (x[1] - x[0]))


def _beside(tasted: Sequence[Way], top: Way) -> tuple[str, str]:
    at = list(tasted).index(top)
    a, b = tasted[max(0, at - 1)], tasted[min(len(tasted) - 1, at + 1)]
    return a.rung_words or a.name, b.rung_words or b.name


def say(asked: Asked, value: float) -> str:
    """A point of a ladder as a cook says it.

    >>> say(Asked([], rises="time"), 930.0), say(Asked([], rises="core temperature"), 74.4)
    ('15 min 30 s', '74 °C')
    """
    if asked.rises == "time":
        whole = round(value / 30) * 30
        minutes, seconds = divmod(int(whole), 60)
        return f"{minutes} min" + (f" {seconds} s" if seconds else "")
    if asked.rises == "amount":
        return f"{value:.2f} of the first"
    return f"{value:.0f} °C"


def _picture(asked: Asked, rungs: Sequence[Way], basis: Basis, found: BestPoint | None) -> Picture:
    by: dict[str, list[float]] = {}
    for (_, batch), value in sorted(basis.table.items()):
        by.setdefault(basis.method_of[batch], []).append(value)
    means = basis.fit.means if basis.fit else {}
    marks = [
        Mark(
            w.rung_words or w.name,
            w.rung,
            means.get(w.key),
            min(by[w.key]) if w.key in by else None,
            max(by[w.key]) if w.key in by else None,
            note="" if w.fit else "core not reached",
        )
        for w in rungs
    ]
    if found is None:
        return Picture("ladder", asked.rises, "score", marks)
    curve = [Spot(a, v) for a, v in found.curve]
    at = [w.rung for w in rungs if w.rung is not None]
    if found.at is None or not at:
        return Picture("ladder", asked.rises, "score", marks, curve=curve)
    low = found.low if found.low is not None else min(at)
    high = found.high if found.high is not None else max(at)
    return Picture("ladder", asked.rises, "score", marks, low, high, curve)

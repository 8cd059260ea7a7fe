"""A grid: which factor matters, by how much, and which cell to cook."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import sqrt
from statistics import fmean

import numpy as np
from numpy.typing import NDArray
from scipy.stats import t as student

from yeasty.core.decide.nested import ASSUMED_BATCH_SD
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, Way
from yeasty.core.decide.questions.ladder import best_point

LEVEL = 0.95
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Effect:
    """One level against another of a factor, others held alike.

    Attributes
    ----------
    factor, high, low : in words; `high` came out higher
    gap, half : difference and half its 95 % range [points]
    df : degrees of freedom behind it
    """

    factor: str
    high: str
    low: str
    gap: float
    half: float
    df: float

    @property
    def shown(self) -> bool:
        """Whether it is off zero."""
        return self.gap > self.half


@dataclass(frozen=True)
class Additive:
    """Cells as the sum of their factors: the mean of each level of each factor, predicted cells, effects."""

    levels: Mapping[tuple[int, str], float]
    cells: Mapping[str, float]
    effects: tuple[Effect, ...]
    df: int


def additive(
    table: Mapping[tuple[str, str], float],
    method_of: Mapping[str, str],
    ways: Sequence[Way],
    factors: Sequence[str],
    day_of: Mapping[str, str] | None = None,
) -> Additive | None:
    """M12: factors fitted together to batches of cells; error from what does not add up, from people who
    differ by factor, and from batches; days (or loads) as a term. None where factors cannot be told apart
    from one another or from the days, or fewer than two people tasted enough.
    """
    levels = {w.key: w.levels for w in ways}
    tasted = {b for _, b in table}
    batches = [
        b for w in ways if len(w.levels) == len(factors) for b in sorted(tasted) if method_of[b] == w.key
    ]
    names = list(dict.fromkeys(method_of[b] for b in batches))
    if len(names) < 3:
        return None
    columns = [(f, x) for f in range(len(factors)) for x in _levels_of(f, [levels[n] for n in names])[1:]]
    days = sorted({(day_of or {}).get(b, "") for b in batches})[1:]
    cells = np.array([[1.0, *(float(levels[method_of[b]][f] == x) for f, x in columns)] for b in batches])
    beside = np.array([[float((day_of or {}).get(b, "") == d) for d in days] for b in batches])
    design = np.hstack([cells, beside.reshape(len(batches), len(days))])
    if np.linalg.matrix_rank(design) < design.shape[1]:
        return None
    each, left = _by_person(table, batches, design, cells.shape[1])
    if len(each) < 2:
        return None
    beta = each.mean(axis=0)
    df = len(batches) - design.shape[1]
    # What does not add up, between cells; where nothing is left over, the spread that is assumed of batches.
    v_cell = max(float(left @ left) / df, 0.0) if df > 0 else ASSUMED_BATCH_SD**2
    spread = (v_cell, float(df) if df > 0 else 6.0)
    solve = np.linalg.pinv(design)
    grand = fmean(v for (_, b), v in table.items() if b in batches)
    effects = []
    values: dict[tuple[int, str], float] = {}
    for f, factor in enumerate(factors):
        every = _levels_of(f, [levels[n] for n in names])
        index = {x: columns.index((f, x)) + 1 if (f, x) in columns else None for x in every}
        at = {x: float(beta[i]) if i is not None else 0.0 for x, i in index.items()}
        base = grand - fmean(at[levels[method_of[b]][f]] for b in batches)
        values |= {(f, x): base + at[x] for x in every}
        high, low = max(every, key=lambda x: (at[x], x)), min(every, key=lambda x: (at[x], x))
        if high == low:
            continue
        contrast = np.zeros(design.shape[1])
        for x, sign in ((high, 1.0), (low, -1.0)):
            column = index[x]
            if column is not None:
                contrast[column] += sign
        half, freedom = _half(each @ contrast, contrast @ solve, spread)
        effects.append(Effect(factor, high, low, at[high] - at[low], half, freedom))
    share = np.concatenate([[1.0], cells[:, 1:].mean(axis=0)])
    told = {
        n: grand + float((cells[[method_of[b] for b in batches].index(n)] - share) @ beta[: cells.shape[1]])
        for n in names
    }
    return Additive(values, told, tuple(effects), df)


def _by_person(
    table: Mapping[tuple[str, str], float], batches: Sequence[str], design: Floats, factors: int
) -> tuple[Floats, Floats]:
    """Everybody's own factors, of those who tasted enough to tell them, and what the means of batches leave.

    Who came on one day only has no day to take out.
    """
    found, left = [], np.zeros((0, len(batches)))
    for p in sorted({p for p, _ in table}):
        mine = np.array([(p, b) in table for b in batches])
        y = np.array([table.get((p, b), 0.0) for b in batches])
        x = design[mine]
        varies = [c for c in range(design.shape[1]) if c < factors or np.ptp(x[:, c]) > 0] if len(x) else []
        if not len(x) or np.linalg.matrix_rank(x[:, varies]) < len(varies):
            continue
        beta = np.zeros(design.shape[1])
        beta[varies] = np.linalg.lstsq(x[:, varies], y[mine], rcond=None)[0]
        found.append(beta)
        left = np.vstack([left, np.where(mine, y - design @ beta, np.nan)])
    if not found:
        return np.zeros((0, design.shape[1])), np.zeros(len(batches))
    seen = ~np.isnan(left).all(axis=0)
    mean = np.zeros(len(batches))
    mean[seen] = np.nanmean(left[:, seen], axis=0)
    return np.array(found), mean


def _half(persons: Floats, weights: Floats, spread: tuple[float, float]) -> tuple[float, float]:
    """Half the 95 % range of an effect and its degrees of freedom: people who differ in it, and batches."""
    v_cell, cell_df = spread
    n = len(persons)
    v_people = float(persons.var(ddof=1)) / n
    v_cells = v_cell * float(weights @ weights)
    v = v_people + v_cells
    freedom = v * v / (v_people**2 / (n - 1) + v_cells**2 / cell_df) if v > 0 else 1.0
    return float(student.ppf(0.5 + LEVEL / 2, max(1.0, freedom))) * sqrt(v), freedom


def _levels_of(factor: int, rows: Sequence[Sequence[str]]) -> list[str]:
    return list(dict.fromkeys(r[factor] for r in rows))


def grid(asked: Asked, basis: Basis) -> Answered:
    """Effects of factors with their ranges; the cell to cook by the sum of the factors beside the best one
    tried. Where one factor rises and one other stands beside it: a curve for each on one axis.
    """
    found = _effects(asked, basis)
    curves = _along(asked, basis)
    if curves is None:
        return found
    picture, sentences = curves
    return replace(found, picture=picture, sentences=(*found.sentences, *sentences))


def _along(asked: Asked, basis: Basis) -> tuple[Picture, list[Sentence]] | None:
    """Ways by a ladder: the curve of each, with its best point where its rungs show one."""
    if asked.along is None or len(asked.factors) != 2 or basis.fit is None:
        return None
    which, values = asked.along
    means = basis.fit.means
    curves: dict[str, list[tuple[float, float, Way]]] = {}
    for w in asked.ways:
        if w.key in means and len(w.levels) == 2 and w.levels[which] in values:
            curves.setdefault(w.levels[1 - which], []).append((values[w.levels[which]], means[w.key], w))
    curves = {name: sorted(rows, key=lambda r: r[0]) for name, rows in curves.items() if len(rows) > 1}
    if not curves:
        return None
    sentences = []
    for name, rows in curves.items():
        best = best_point([r[0] for r in rows], [r[1] for r in rows])
        top = max(rows, key=lambda r: r[1])[2].levels[which]
        if best.at is not None:
            near = min(rows, key=lambda r: abs(r[0] - (best.at or 0.0)))[2].levels[which]
            low = near if best.low is None else _nearest(rows, best.low, which)
            high = near if best.high is None else _nearest(rows, best.high, which)
            text = f"{name}: best near {near}, between {low} and {high}, by its curve."
        else:
            levels = f"{len(rows)} levels of {asked.factors[which]}"
            text = f"{name}: highest at {top}; {levels} show no best point of its own."
        sentences.append(Sentence(text, f"{len(rows)} levels of it, 95 % range"))
    marks = [
        Mark(w.levels[which], at, value, group=name) for name, rows in curves.items() for at, value, w in rows
    ]
    return Picture("curves", asked.factors[which], "score", marks), sentences


def _added(asked: Asked, basis: Basis, day_of: Mapping[str, str]) -> Additive | None:
    return additive(basis.table, basis.method_of, asked.ways, asked.factors, day_of)


def _nearest(rows: Sequence[tuple[float, float, Way]], at: float, which: int) -> str:
    return min(rows, key=lambda r: abs(r[0] - at))[2].levels[which]


def _levels(asked: Asked, key: str) -> str:
    """What is set for a way, factor by factor, as a cook says it."""
    way = next(w for w in asked.ways if w.key == key)
    return ", ".join(f"{f}: {x}" for f, x in zip(asked.factors, way.levels, strict=True))


def _effects(asked: Asked, basis: Basis) -> Answered:
    v = basis.verdict
    found = _added(asked, basis, basis.day_of) if asked.factors else None
    if found is None:
        mixed = asked.factors and _added(asked, basis, {}) is not None
        why = Sentence(
            "What each factor does by itself cannot be told from what was tasted."
            if not mixed
            else "Levels of a factor were tasted on days of their own, so what the day did cannot be told "
            "from what they do.",
            "what was tasted, on which days, and by how many people",
            Stands.LAID_OUT,
        )
        return Answered(Asks.GRID, v.headline, v.how_sure, v.leader, (why, *v.sentences))
    names = {w.key: w.name for w in asked.ways}
    may = {w.key for w in asked.ways if w.fit}
    ranked = sorted((m for m in found.cells if m in may), key=lambda m: (-round(found.cells[m], 9), names[m]))
    means = basis.fit.means if basis.fit else {}
    tried = max(
        (m for m in found.cells if m in may), key=lambda m: (means.get(m, -1e9), names[m]), default=None
    )
    shown = sorted((e for e in found.effects if e.shown), key=lambda e: -e.gap)
    rest = [e for e in found.effects if not e.shown]
    sentences = [
        Sentence(
            f"{e.factor[:1].upper()}{e.factor[1:]}: {e.high} over {e.low} by {e.gap:.1f} points "
            f"(95 % range {e.gap - e.half:.1f} to {e.gap + e.half:.1f}).",
            "all of them together, people who differ by factor and what does not add up both counted",
        )
        for e in (*shown, *rest)
    ]
    batches = [sum(1 for b in basis.method_of if basis.method_of[b] == m) for m in found.cells]
    once = max(batches, default=1) < 2
    if len(asked.factors) > 1:
        pairs = " and ".join(next(iter(combinations(asked.factors, 2))))
        sentences.append(
            Sentence(
                f"Whether {pairs} act together cannot be told: each was tasted of one cooking, and "
                f"what does not "
                "add up is the only measure of chance."
                if once
                else f"Whether {pairs} act together is in what does not add up, and counted as chance here.",
                f"{found.df} more than factors need",
            )
        )
    missing = [w.name for w in asked.ways if w.levels and w.key not in found.cells]
    if missing:
        sentences.append(
            Sentence(
                f"Not tasted: {', '.join(missing[:6])}{' and more' if len(missing) > 6 else ''}; what "
                f"is said of "
                "them follows from the others.",
                "how the grid was laid out",
                Stands.LAID_OUT,
            )
        )
    leader = ranked[0] if ranked else None
    if shown:
        said = "; ".join(f"{e.factor} matters ({e.high} over {e.low})" for e in shown)
        headline = said[:1].upper() + said[1:]
        if rest:
            headline += f"; {', '.join(e.factor for e in rest)} could not be shown to"
        sure = HowSure.LEANING
    else:
        headline = "No factor could be shown to matter; that is not the same as none does"
        sure, leader = HowSure.LEVEL, leader if v.how_sure is not HowSure.LEVEL else None
    if leader and tried:
        same = leader == tried
        sentences.insert(
            0,
            Sentence(
                f"Cook it with {_levels(asked, leader)}. It is best by what each of them adds"
                + (
                    ", and as it was tasted."
                    if same
                    else f"; as tasted, {_levels(asked, tried)} came out highest, which one by itself may "
                    "owe to chance."
                ),
                "those that were tasted and may be recommended",
            ),
        )
    marks = [Mark(x, None, value, group=asked.factors[f]) for (f, x), value in found.levels.items()]
    return Answered(
        Asks.GRID, headline, sure, leader, (*sentences, *v.sentences), Picture("effects", "", "score", marks)
    )

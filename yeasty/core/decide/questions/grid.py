"""A grid: which factor matters, by how much, and which cell to cook."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import sqrt
from statistics import fmean

import numpy as np
from scipy.stats import t as student

from yeasty.core.decide.nested import ASSUMED_BATCH_SD
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, Way
from yeasty.core.decide.questions.ladder import best_point

LEVEL = 0.95


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
) -> Additive | None:
    """M12: factors fitted together to cells; error from what does not add up, from people who differ by
    factor, and from batches; None where factors cannot be told apart, or one person tasted.
    """
    levels = {w.key: w.levels for w in ways}
    people = sorted({p for p, _ in table})
    tasted = {method_of[b] for _, b in table}
    names = [w.key for w in ways if w.key in tasted and len(w.levels) == len(factors)]
    if len(people) < 2 or len(names) < 3:
        return None
    columns = [(f, x) for f in range(len(factors)) for x in _levels_of(f, [levels[n] for n in names])[1:]]
    design = np.array([[1.0, *(float(levels[n][f] == x) for f, x in columns)] for n in names])
    if np.linalg.matrix_rank(design) < design.shape[1]:
        return None
    solve = np.linalg.pinv(design)
    by_person = []
    for p in people:
        mine = [[v for (q, b), v in table.items() if q == p and method_of[b] == n] for n in names]
        if all(mine):
            by_person.append([fmean(v) for v in mine])
    if len(by_person) < 2:
        return None
    y = np.array(by_person)
    mean = y.mean(axis=0)
    beta = solve @ mean
    left = mean - design @ beta
    df = len(names) - design.shape[1]
    # What does not add up, between cells; where nothing is left over, the spread that is assumed of batches.
    v_cell = max(float(left @ left) / df, 0.0) if df > 0 else ASSUMED_BATCH_SD**2
    cell_df = float(df) if df > 0 else 6.0
    each = (solve @ y.T).T
    effects = []
    values: dict[tuple[int, str], float] = {}
    for f, factor in enumerate(factors):
        every = _levels_of(f, [levels[n] for n in names])
        index = {x: columns.index((f, x)) + 1 if (f, x) in columns else None for x in every}
        at = {x: float(beta[i]) if i is not None else 0.0 for x, i in index.items()}
        base = float(mean.mean()) - fmean(at[levels[n][f]] for n in names)
        values |= {(f, x): base + at[x] for x in every}
        high, low = max(every, key=lambda x: (at[x], x)), min(every, key=lambda x: (at[x], x))
        if high == low:
            continue
        contrast = np.zeros(design.shape[1])
        for x, sign in ((high, 1.0), (low, -1.0)):
            if index[x] is not None:
                contrast[index[x]] += sign
        persons = each @ contrast
        n = len(persons)
        v_people = float(persons.var(ddof=1)) / n
        weights = contrast @ solve
        v_cells = v_cell * float(weights @ weights)
        v = v_people + v_cells
        freedom = v * v / (v_people**2 / (n - 1) + v_cells**2 / cell_df) if v > 0 else 1.0
        half = float(student.ppf(0.5 + LEVEL / 2, max(1.0, freedom))) * sqrt(v)
        effects.append(Effect(factor, high, low, at[high] - at[low], half, freedom))
    cells = {n: float(design[i] @ beta) for i, n in enumerate(names)}
    return Additive(values, cells, tuple(effects), df)


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
            text = f"{name}: highest at {top}; {len(rows)} rungs show no best point of its own."
        sentences.append(Sentence(text, f"{len(rows)} rungs of it, 95 % range"))
    marks = [
        Mark(w.levels[which], at, value, group=name) for name, rows in curves.items() for at, value, w in rows
    ]
    return Picture("curves", asked.factors[which], "score", marks), sentences


def _nearest(rows: Sequence[tuple[float, float, Way]], at: float, which: int) -> str:
    return min(rows, key=lambda r: abs(r[0] - at))[2].levels[which]


def _effects(asked: Asked, basis: Basis) -> Answered:
    v = basis.verdict
    found = additive(basis.table, basis.method_of, asked.ways, asked.factors) if asked.factors else None
    if found is None:
        why = Sentence(
            "What each factor does by itself cannot be told from the cells that were tasted.",
            "cells tasted, and by how many people",
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
            f"{e.factor}: {e.high} over {e.low} by {e.gap:.1f} points (95 % range {e.gap - e.half:.1f} to "
            f"{e.gap + e.half:.1f}).",
            "all cells together, people who differ by factor and what does not add up both counted",
        )
        for e in (*shown, *rest)
    ]
    batches = [sum(1 for b in basis.method_of if basis.method_of[b] == m) for m in found.cells]
    once = max(batches, default=1) < 2
    if len(asked.factors) > 1:
        pairs = " and ".join(next(iter(combinations(asked.factors, 2))))
        sentences.append(
            Sentence(
                f"Whether {pairs} act together cannot be told: each cell was tasted of one batch, and "
                f"what does not "
                "add up is the only measure of chance."
                if once
                else f"Whether {pairs} act together is in what does not add up, and counted as chance here.",
                f"{found.df} cells more than factors need",
            )
        )
    missing = [w.name for w in asked.ways if w.levels and w.key not in found.cells]
    if missing:
        sentences.append(
            Sentence(
                f"Not tasted: {', '.join(missing[:6])}{' and more' if len(missing) > 6 else ''}; what "
                f"is said of "
                "them follows from the other cells.",
                "cells of the grid",
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
                f"Cook {names[leader]}: "
                + (
                    "it came out best by the sum of its factors and as it was tasted."
                    if same
                    else f"best by the sum of its factors; as tasted {names[tried]} came out highest, which "
                    "one cell by itself may owe to chance."
                ),
                "cells that were tasted and may be recommended",
            ),
        )
    marks = [Mark(x, None, value, group=asked.factors[f]) for (f, x), value in found.levels.items()]
    return Answered(
        Asks.GRID, headline, sure, leader, (*sentences, *v.sentences), Picture("effects", "", "score", marks)
    )

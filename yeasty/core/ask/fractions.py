"""Part of a grid: which cells to cook when there are too few pieces, and which effects then cannot be told
apart.

Cells are chosen by exchange so that main effects are seen as sharply and as separately as can be
(D-optimality, then least aliasing with and among two-factor interactions). Blocks split a grid over shifts in
the same manner. Source: standard design of experiments; the exchange is Fedorov's.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yeasty.core.ask.grid import Cell, Factor, Grid, effect_name, effects, open_cells
from yeasty.core.kernel.errors import RuleError

Floats = NDArray[np.float64]
# Correlation of two effects above which they are one, and above which they blur.
ONE, BLURRED = 0.999, 0.3
RESTARTS = 24
KICKS = 12


@dataclass(frozen=True)
class Fraction:
    """Cells to cook, and what they can tell.

    Attributes
    ----------
    cells : chosen, in grid order
    clear : effects told apart from every main effect and every other effect that is listed
    together : pairs of effects that cannot be told apart at all
    blurred : pairs that are told apart only in part, with their correlation [0 to 1]
    unseen : effects that these cells do not show
    """

    cells: tuple[Cell, ...]
    clear: tuple[str, ...]
    together: tuple[tuple[str, str], ...]
    blurred: tuple[tuple[str, str, float], ...]
    unseen: tuple[str, ...]

    def sentence(self) -> str:
        """What these cells can and cannot tell."""
        said = []
        if self.unseen:
            said.append(f"Not seen at all: {', '.join(self.unseen)}.")
        if self.together:
            said.append("Cannot be told apart: " + "; ".join(f"{a} from {b}" for a, b in self.together) + ".")
        if self.blurred:
            said.append(
                "Told apart only in part: "
                + "; ".join(f"{a} from {b}" for a, b, _ in self.blurred[:6])
                + (" and more" if len(self.blurred) > 6 else "")
                + "."
            )
        return " ".join(said) or "Every main effect and every two-factor interaction is told apart."


@dataclass(frozen=True)
class Blocks:
    """Cells split over shifts.

    Attributes
    ----------
    blocks : the cells of each shift
    lost : effects that cannot be told from the difference between shifts
    blurred : effects that are mixed with it in part
    """

    blocks: tuple[tuple[Cell, ...], ...]
    lost: tuple[str, ...]
    blurred: tuple[str, ...]

    def sentence(self) -> str:
        """What the split costs."""
        if not self.lost and not self.blurred:
            return "No effect is mixed with the difference between shifts."
        said = (
            [f"cannot be told from the difference between shifts: {', '.join(self.lost)}"]
            if self.lost
            else []
        )
        said += [f"in part mixed with it: {', '.join(self.blurred)}"] if self.blurred else []
        return ("; ".join(said)).capitalize() + "."


def _contrasts(levels: int) -> Floats:
    """Orthonormal contrast columns of a factor, one row a level (Helmert)."""
    columns = np.zeros((levels, levels - 1))
    for j in range(1, levels):
        columns[:j, j - 1] = -1.0
        columns[j, j - 1] = j
        columns[:, j - 1] *= np.sqrt(levels / (j * (j + 1)))
    return columns


def _columns(factors: Sequence[Factor], cells: Sequence[Cell], effect: Sequence[int]) -> Floats:
    block = np.ones((len(cells), 1))
    for i in effect:
        own = _contrasts(len(factors[i].levels))[[c[i] for c in cells]]
        block = np.einsum("ni,nj->nij", block, own).reshape(len(cells), -1)
    return block


def least_cells(grid: Grid) -> int:
    """Fewest cells that can show every main effect."""
    return 1 + sum(len(f.levels) - 1 for f in grid.factors)


def choose(grid: Grid, cells: int, seed: int = 1) -> Fraction:
    """The best part of a grid with a number of cells.

    Raises
    ------
    RuleError : too few for the main effects, or more than are open

    >>> from yeasty.core.ask.grid import Level
    >>> on_off = (Level("no"), Level("yes"))
    >>> half = choose(Grid(tuple(Factor(n, on_off) for n in ("salt", "rest", "lid"))), 4)
    >>> len(half.cells), half.together
    (4, (('salt', 'rest × lid'), ('rest', 'salt × lid'), ('lid', 'salt × rest')))
    """
    candidates = open_cells(grid)
    least = least_cells(grid)
    if cells < least:
        raise RuleError(
            "pieces",
            f"suffice for {cells} cells",
            f"At least {least} are needed to see every factor: take a level or a factor out, or get more.",
        )
    if cells > len(candidates):
        raise RuleError("cells", f"{cells} of {len(candidates)} open ones", "Choose fewer.")
    if cells == len(candidates):
        return what_they_tell(grid, candidates)
    mains = np.hstack(
        [
            np.ones((len(candidates), 1)),
            *(_columns(grid.factors, candidates, e) for e in effects(grid) if len(e) == 1),
        ]
    )
    pairs = [e for e in effects(grid) if len(e) == 2]
    twos = (
        np.hstack([_columns(grid.factors, candidates, e) for e in pairs])
        if pairs
        else np.zeros((len(candidates), 0))
    )
    rng = np.random.default_rng(seed)
    best_rows, best_score = None, -np.inf
    for _ in range(RESTARTS):
        rows = list(rng.choice(len(candidates), cells, replace=False))
        score = _score(mains, twos, rows)
        improved = True
        while improved:
            improved = False
            for at in range(cells):
                outside = [r for r in range(len(candidates)) if r not in rows]
                tries = [[*rows[:at], r, *rows[at + 1 :]] for r in outside]
                scores = _scores(mains, twos, np.array(tries))
                top = int(np.argmax(scores))
                if scores[top] > score + 1e-9:
                    rows, score, improved = tries[top], float(scores[top]), True
        if score > best_score + 1e-9:
            best_rows, best_score = sorted(rows), score
    assert best_rows is not None
    return what_they_tell(grid, [candidates[r] for r in best_rows])


def _score(mains: Floats, twos: Floats, rows: Sequence[int]) -> float:
    return float(_scores(mains, twos, np.array([rows]))[0])


def _scores(mains: Floats, twos: Floats, rows: NDArray[np.int64]) -> Floats:
    """How well each set of rows shows the main effects; higher is better."""
    n = rows.shape[1]
    m, t = mains[rows], twos[rows]
    information = np.einsum("sni,snj->sij", m, m) / n + 1e-6 * np.eye(m.shape[2])
    mixed = (np.einsum("sni,snj->sij", m[:, :, 1:], t) / n) ** 2
    among = (np.einsum("sni,snj->sij", t, t) / n) ** 2
    return np.asarray(
        100.0 * np.linalg.slogdet(information)[1]
        - 10.0 * mixed.sum((1, 2))
        - (among.sum((1, 2)) - np.einsum("sii->s", among))
    )


def _basis(columns: Floats) -> Floats:
    """An orthonormal basis of centred columns; of width zero where they do not vary."""
    centred = columns - columns.mean(axis=0)
    u, s, _ = np.linalg.svd(centred, full_matrices=False)
    return np.asarray(u[:, s > 1e-9 * max(1.0, float(s.max(initial=0.0)))])


def _alike(a: Floats, b: Floats) -> float:
    if a.shape[1] == 0 or b.shape[1] == 0:
        return 0.0
    return float(np.linalg.svd(a.T @ b, compute_uv=False).max())


def what_they_tell(grid: Grid, cells: Sequence[Cell]) -> Fraction:
    """Which effects a set of cells shows, and which it cannot tell apart.

    An interaction is left out where it needs more cells than there are to be seen by itself.
    """
    listed = effects(grid)
    bases = {e: _basis(_columns(grid.factors, cells, e)) for e in listed}
    name = {e: effect_name(grid, e) for e in listed}
    unseen = [
        e for e in listed if bases[e].shape[1] < int(np.prod([len(grid.factors[i].levels) - 1 for i in e]))
    ]
    together, blurred = [], []
    seen = [e for e in listed if bases[e].shape[1] > 0]
    for i, a in enumerate(seen):
        for b in seen[i + 1 :]:
            if set(b) >= set(a) and len(cells) == len(open_cells(grid)) and not grid.barred:
                continue
            r = _alike(bases[a], bases[b])
            if r >= ONE:
                together.append((name[a], name[b]))
            elif r >= BLURRED:
                blurred.append((name[a], name[b], round(r, 2)))
    doubtful = {n for pair in together for n in pair} | {n for a, b, _ in blurred for n in (a, b)}
    clear = [name[e] for e in listed if e not in unseen and name[e] not in doubtful]
    return Fraction(
        tuple(sorted(cells)), tuple(clear), tuple(together), tuple(blurred), tuple(name[e] for e in unseen)
    )


def block(grid: Grid, cells: Sequence[Cell], shifts: int, seed: int = 1) -> Blocks:
    """Split cells over shifts so that no effect hides in the difference between shifts, as far as can be.

    Raises
    ------
    RuleError : fewer cells than shifts

    >>> from yeasty.core.ask.grid import Level
    >>> on_off = (Level("no"), Level("yes"))
    >>> g = Grid(tuple(Factor(n, on_off) for n in ("salt", "rest", "lid")))
    >>> split = block(g, open_cells(g), 2)
    >>> [len(b) for b in split.blocks], split.lost
    ([4, 4], ())
    """
    if not 1 <= shifts <= len(cells):
        raise RuleError(
            "shifts", f"{shifts} for {len(cells)} cells", "Split over no more shifts than there are cells."
        )
    cells = sorted(cells)
    n = len(cells)
    listed = effects(grid)
    columns = {e: _columns(grid.factors, cells, e) for e in listed}
    rng = np.random.default_rng(seed)
    # Effects side by side, main effects ten times as dear: what is left of them in the blocks' means is to
    # vanish.
    dear = np.hstack([(np.sqrt(10.0) if len(e) == 1 else 1.0) * x for e, x in columns.items()])
    best, best_cost = np.arange(n) % shifts, np.inf
    for _ in range(RESTARTS):
        at = rng.permutation(np.arange(n) % shifts)
        for _ in range(KICKS):
            cost = _settle(dear, at, shifts)
            if cost < best_cost - 1e-9:
                best, best_cost = at.copy(), cost
            for _ in range(2):
                i, j = rng.integers(0, n, 2)
                at[i], at[j] = at[j], at[i]
    between = _basis(np.eye(shifts)[best])
    alike = {e: _alike(_basis(columns[e]), between) for e in listed}
    return Blocks(
        tuple(tuple(c for c, b in zip(cells, best, strict=True) if b == s) for s in range(shifts)),
        tuple(effect_name(grid, e) for e, r in alike.items() if r >= ONE),
        tuple(effect_name(grid, e) for e, r in alike.items() if BLURRED <= r < ONE),
    )


def _settle(x: Floats, at: NDArray[np.int64], shifts: int) -> float:
    """Exchange cells between blocks, in place, for as long as the blocks' means draw nearer; what is left of
    them.
    """
    size = np.bincount(at, minlength=shifts).astype(float)
    step = x[None, :, :] - x[:, None, :]
    length = (step**2).sum(-1)
    while True:
        sums = np.stack([x[at == s].sum(axis=0) for s in range(shifts)])
        along = np.einsum("ijp,ip->ij", step, sums[at])
        back = np.einsum("ijp,jp->ij", step, sums[at])
        gain = (2 * along + length) / size[at][:, None] ** 2 + (length - 2 * back) / size[at][None, :] ** 2
        gain[at[:, None] == at[None, :]] = 0.0
        i, j = np.unravel_index(int(np.argmin(gain)), gain.shape)
        if gain[i, j] > -1e-9:
            return float(((sums / size[:, None]) ** 2).sum())
        at[i], at[j] = at[j], at[i]

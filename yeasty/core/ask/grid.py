"""A grid: factors by levels, the cells they make, and what a plan of cells costs in pieces and cookings."""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import product
from math import ceil, prod
from typing import Any

from yeasty.core.kernel.errors import OutOfRange, RuleError
from yeasty.core.kernel.steps import Attention, Phase, Step

Cell = tuple[int, ...]
MOST_CELLS = 48
MOST_FACTORS = 6
# What a level may set on the steps of its technique; the unit goes with the name.
SETTABLE = ("set_point_c", "cook_s", "power_w", "rest_s")


@dataclass(frozen=True)
class Level:
    """One value of a factor.

    Attributes
    ----------
    name : as it is called at the bench, "none" or "microwave 3 min"
    technique : key of a technique whose steps it brings, or ""
    sets : values it sets on those steps (or on all, where it brings none): see `SETTABLE`; SI
    ingredient : the ingredient it takes, instead of those that the factor's other levels take, or ""
    """

    name: str
    technique: str = ""
    sets: Mapping[str, float] = field(default_factory=dict)
    ingredient: str = ""


# Names of a level at which nothing is done.
NOTHING = frozenset({"", "none", "no", "not", "without", "off", "nothing", "plain", "as it is", "raw", "0"})


def brings_a_step(level: Level) -> bool:
    """Whether a level is something done by hand: it brings no technique, sets nothing, takes nothing, yet is
    not nothing.

    >>> brings_a_step(Level("pressed")), brings_a_step(Level("none")), brings_a_step(Level("hot", sets={"set_point_c": 200}))
    (True, False, False)
    """  # noqa: E501
    name = level.name.strip().lower()
    return (
        not (level.technique or level.sets or level.ingredient)
        and name not in NOTHING
        and not re.match(r"(no|not|without)\b|un(?!der)", name)
    )


@dataclass(frozen=True)
class Factor:
    """One thing that is varied, with its levels in order."""

    name: str
    levels: tuple[Level, ...]


# How long a step that a level names is planned for until somebody says better [s].
UNTIMED_S = 60.0


def step_of(factor: Factor, level: Level) -> Step:
    """The step a level stands for, where it brings none of a technique: hand work before the rest, to be
    timed at Ask.

    >>> step_of(Factor("pressing", (Level("no"), Level("pressed"))), Level("pressed")).what
    'pressing: pressed'
    """
    return Step(
        f"level-{factor.name}-{level.name}",
        f"{factor.name}: {level.name}"[:200],
        Attention.HANDS,
        Phase.PREPARE,
        UNTIMED_S,
    )


@dataclass(frozen=True)
class Grid:
    """Factors crossed, without the cells that cannot be or are not wanted.

    Attributes
    ----------
    factors : what is varied; the first changes slowest
    barred : cell to the reason why it is not cooked
    pieces_a_cell : pieces that one cooking of a cell takes
    replicates : cookings of each cell
    pieces_at_hand : pieces that there are, or None where not counted yet
    cookings_a_shift : most cookings that fit into a shift, or None
    """

    factors: tuple[Factor, ...]
    barred: Mapping[Cell, str] = field(default_factory=dict)
    pieces_a_cell: int = 6
    replicates: int = 1
    pieces_at_hand: int | None = None
    cookings_a_shift: int | None = None


@dataclass(frozen=True)
class Need:
    """What a number of cells takes."""

    cells: int
    cookings: int
    pieces: int
    shifts: int | None
    short_of: int


def grid_from_record(record: Mapping[str, Any]) -> Grid:
    """A grid from its stored record.

    >>> grid_from_record({"factors": [{"name": "heat", "levels": [{"name": "180"}, {"name": "200"}]}]}).factors[0].name
    'heat'
    """  # noqa: E501
    factors = tuple(
        Factor(
            str(f["name"]).strip(),
            tuple(
                Level(
                    str(v["name"]).strip(),
                    v.get("technique") or "",
                    dict(v.get("sets") or {}),
                    str(v.get("ingredient") or "").strip(),
                )
                for v in f["levels"]
            ),
        )
        for f in record.get("factors", [])
    )
    barred = {tuple(int(i) for i in b["cell"]): str(b.get("why") or "") for b in record.get("barred", [])}
    return Grid(
        factors,
        barred,
        int(record.get("pieces_a_cell") or 6),
        int(record.get("replicates") or 1),
        record.get("pieces_at_hand"),
        record.get("cookings_a_shift"),
    )


def check_grid(grid: Grid) -> list[RuleError]:
    """What is wrong with a grid, each with what to do."""
    found: list[RuleError] = []
    if not 1 <= len(grid.factors) <= MOST_FACTORS:
        found.append(
            RuleError("factors", f"{len(grid.factors)}", f"Name 1 to {MOST_FACTORS} things to vary.")
        )
    names = [f.name.lower() for f in grid.factors]
    if len(set(names)) != len(names) or "" in names:
        found.append(
            RuleError("factors", "need a name each, none twice", "Name what is varied, as in “finish”.")
        )
    for f in grid.factors:
        levels = [v.name.lower() for v in f.levels]
        if len(levels) < 2:
            found.append(
                RuleError(
                    f.name or "factor", f"has {len(levels)} level", "Give it at least two, or leave it out."
                )
            )
        if len(set(levels)) != len(levels) or "" in levels:
            found.append(
                RuleError(f.name or "factor", "has levels without a name or twice", "Name each level once.")
            )
        for v in f.levels:
            unknown = sorted(set(v.sets) - set(SETTABLE))
            if unknown:
                found.append(
                    RuleError(
                        v.name, f"sets {', '.join(unknown)}", "A level sets: " + ", ".join(SETTABLE) + "."
                    )
                )
    for what, value in (("pieces a cell", grid.pieces_a_cell), ("replicates", grid.replicates)):
        if value < 1:
            found.append(RuleError(what, f"{value}", "Give 1 or more."))
    if not found and not open_cells(grid):
        found.append(RuleError("cells", "all are struck out", "Leave at least two to cook."))
    if not found and prod(len(f.levels) for f in grid.factors) > 4 * MOST_CELLS:
        found.append(
            RuleError("cells", "more than the program lays out", "Take a factor or some levels out.")
        )
    return found


def all_cells(grid: Grid) -> list[Cell]:
    """Every combination of levels, as level indexes, first factor slowest."""
    return list(product(*(range(len(f.levels)) for f in grid.factors)))


def open_cells(grid: Grid) -> list[Cell]:
    """The cells that are not barred.

    >>> two = Factor("a", (Level("x"), Level("y")))
    >>> open_cells(Grid((two, Factor("b", two.levels)), {(1, 1): "the crust would burn"}))
    [(0, 0), (0, 1), (1, 0)]
    """
    return [c for c in all_cells(grid) if c not in grid.barred]


def cells_of(grid: Grid, levels: Sequence[Sequence[str]]) -> list[Cell]:
    """The cells that methods stand in, by the names of their levels; what names no cell is left out."""
    by_name = {
        tuple(f.levels[i].name for f, i in zip(grid.factors, c, strict=True)): c for c in all_cells(grid)
    }
    return [by_name[tuple(row)] for row in levels if tuple(row) in by_name]


def interactions_tell(grid: Grid, cells: Sequence[Cell]) -> bool:
    """Whether cells show how each two factors act together: every combination of their levels is among them.

    With a whole row or corner missing the two-factor effect of the missing combination is nowhere to be seen.

    >>> two = (Level("x"), Level("y"))
    >>> g = Grid((Factor("a", two), Factor("b", two)))
    >>> interactions_tell(g, all_cells(g)), interactions_tell(g, all_cells(g)[:3])
    (True, False)
    """
    k = len(grid.factors)
    for i in range(k):
        for j in range(i + 1, k):
            seen = {(c[i], c[j]) for c in cells}
            if len(seen) < len(grid.factors[i].levels) * len(grid.factors[j].levels):
                return False
    # Two pairs of factors may hide in one another where only a part of the cells is cooked.
    return k < 3 or len(set(cells)) == len(all_cells(grid))


def cell_name(grid: Grid, cell: Cell) -> str:
    """What a cell is called: its levels joined, in the order of the factors.

    >>> two = Factor("a", (Level("x"), Level("y")))
    >>> cell_name(Grid((two, Factor("b", two.levels))), (0, 1))
    'x × y'
    """
    return " × ".join(f.levels[i].name for f, i in zip(grid.factors, cell, strict=True))


def need(grid: Grid, cells: int) -> Need:
    """What cooking a number of cells takes, and how many pieces it is short of.

    >>> two = Factor("a", (Level("x"), Level("y")))
    >>> need(Grid((two,), pieces_a_cell=6, replicates=2, pieces_at_hand=20), 2)
    Need(cells=2, cookings=4, pieces=24, shifts=None, short_of=4)
    """
    cookings = cells * grid.replicates
    pieces = cookings * grid.pieces_a_cell
    shifts = ceil(cookings / grid.cookings_a_shift) if grid.cookings_a_shift else None
    short = max(0, pieces - grid.pieces_at_hand) if grid.pieces_at_hand is not None else 0
    return Need(cells, cookings, pieces, shifts, short)


def least(grid: Grid) -> int:
    """The fewest cells that tell what each factor does by itself."""
    return 1 + sum(len(f.levels) - 1 for f in grid.factors)


def affordable(grid: Grid) -> int:
    """How many cells the pieces at hand suffice for, at most all that are open and at most 48."""
    cells = min(len(open_cells(grid)), MOST_CELLS)
    if grid.pieces_at_hand is None:
        return cells
    return min(cells, grid.pieces_at_hand // (grid.pieces_a_cell * grid.replicates))


def sentence(grid: Grid) -> str:
    """What the whole grid needs, in one sentence.

    >>> two = Factor("a", (Level("x"), Level("y")))
    >>> sentence(Grid((two, Factor("b", two.levels)), pieces_at_hand=18))
    '4 cells, 4 cookings, 24 pieces: 6 pieces too few before the first cut. 3 cells can be cooked.'
    """
    whole = need(grid, len(open_cells(grid)))
    said = f"{whole.cells} cells, {whole.cookings} cookings, {whole.pieces} pieces"
    if whole.shifts and whole.shifts > 1:
        said += f", {whole.shifts} shifts"
    if whole.short_of:
        return (
            f"{said}: {whole.short_of} pieces too few before the first cut. {affordable(grid)} cells "
            f"can be cooked."
        )
    if whole.cells > MOST_CELLS:
        return f"{said}: more than the {MOST_CELLS} methods of a trial. Cook a fraction."
    return said + ("." if grid.pieces_at_hand is None else ": enough.")


def effects(grid: Grid) -> list[tuple[int, ...]]:
    """Main effects and two-factor interactions, as indexes of factors."""
    k = len(grid.factors)
    return [(i,) for i in range(k)] + [(i, j) for i in range(k) for j in range(i + 1, k)]


def effect_name(grid: Grid, effect: Sequence[int]) -> str:
    """An effect by the names of its factors."""
    return " × ".join(grid.factors[i].name for i in effect)


def check_cells(grid: Grid, cells: Iterable[Cell]) -> list[Cell]:
    """The cells, if all are of this grid and open.

    Raises
    ------
    OutOfRange : a cell that is not of the grid or is struck out, or more than a trial holds
    """
    chosen = list(dict.fromkeys(cells))
    known = set(open_cells(grid))
    for c in chosen:
        if c not in known:
            raise OutOfRange(
                "cells", f"{list(c)} is not one of the open cells", "Choose among those that are left in."
            )
    if not 2 <= len(chosen) <= MOST_CELLS:
        raise OutOfRange("cells", f"{len(chosen)}", f"Cook 2 to {MOST_CELLS} cells.")
    return chosen

"""Dealing pieces out: at random among all dealings that are equal in number and near enough in weight.

Pieces vary, so whoever picks them by eye deals out a difference too. Here every dealing that keeps the
tolerance is as likely as any other. Small cases are counted one by one. Large ones are drawn by a random
walk: many dealings at once are swapped piece for piece while the tolerance is drawn in step by step (subset
simulation, also called multilevel splitting); the shares that survive each step multiply to the share of all
dealings, and so to their number.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import comb, exp, factorial, isfinite, lgamma, log, log10

import numpy as np
from numpy.typing import NDArray

from yeasty.core.kernel.errors import OutOfRange, RuleError, check_range

# Dealings counted one by one up to this many, groups not told apart; beyond, their number is estimated.
COUNT_UP_TO = 60_000
# Fewer dealings than this are hardly chance any more.
FEW = 20
WALKERS = 512
SWAPS_A_LEVEL = 40
MOST_LEVELS = 90
MOST_STATES = 2e6

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Allocation:
    """Pieces dealt to groups.

    Attributes
    ----------
    groups : for each group the positions of its pieces in `weights`, ascending
    spare : positions of the pieces that are left over
    means_kg : mean weight of each group, in the unit of the weights
    deviation : largest distance of a group's mean from the mean of all dealt pieces [share]
    tolerance : what was asked for [share]; within : whether it could be kept
    best_deviation : smallest deviation found [share]; best_proven : whether no dealing is better
    dealings : how many dealings keep the tolerance (or, where none does, come as near as the best); groups
        are told apart. `log10_dealings` where the number is too large to write
    counted : whether that number is exact; an estimate is good to about a factor of two
    few : too few to speak of chance
    seed : what the draw was made with
    """

    groups: tuple[tuple[int, ...], ...]
    spare: tuple[int, ...]
    means_kg: tuple[float, ...]
    deviation: float
    tolerance: float
    within: bool
    best_deviation: float
    best_proven: bool
    dealings: float
    log10_dealings: float
    counted: bool
    few: bool
    seed: int

    def sentence(self) -> str:
        """What the dealing is worth, in one sentence.

        >>> allocate([1.0, 1.0, 1.0, 1.0], 2, seed=1).sentence()
        'Drawn at random among 6 dealings whose mean weights lie within 1 % of their common mean; fewer than 20, so this is hardly chance any more.'
        """  # noqa: E501
        if self.log10_dealings < 6 and self.counted:
            many = f"{self.dealings:.0f} dealing{'' if round(self.dealings) == 1 else 's'}"
        elif self.log10_dealings < 6:
            many = f"about {float(f'{self.dealings:.1g}'):.0f} dealings"
        else:
            many = f"about 10^{self.log10_dealings:.0f} dealings"
        near = f"whose mean weights lie within {self.tolerance * 100:.3g} % of their common mean"
        if not self.within:
            proof = "no dealing is nearer" if self.best_proven else "no nearer one was found"
            near = (
                f"that come as near as can be: {self.best_deviation * 100:.2g} % instead of "
                f"{self.tolerance * 100:.3g} % ({proof})"
            )
        few = f"; fewer than {FEW}, so this is hardly chance any more" if self.few else ""
        return f"Drawn at random among {many} {near}{few}."


def allocate(
    weights: Sequence[float],
    groups: int,
    seed: int,
    tolerance: float = 0.01,
    strata: Sequence[str] | None = None,
    *,
    each: int | None = None,
) -> Allocation:
    """Deal pieces to groups in equal number, at random among all dealings within a tolerance of mean weight.

    Parameters
    ----------
    weights : of each piece, any one unit, > 0
    groups : how many groups (methods times replicates), 1 to 200
    seed : of the draw; the same seed gives the same dealing
    tolerance : most that a group's mean may lie from the mean of all dealt pieces [share], 0.0001 to 0.5
    strata : for each piece its lot or part; groups then hold the same number of each to within one piece
    each : pieces that a group takes; as many as there are where left out, the rest is spare

    Returns
    -------
    Allocation; `within` is False where no dealing keeps the tolerance: then the nearest ones are drawn from

    Raises
    ------
    RuleError : fewer pieces than groups, a weight that is not above zero, strata that are not one for each
        piece

    Notes
    -----
    Left-over pieces are drawn too, and named. Source: complete randomisation restricted to near-equal means;
    subset simulation for the count.

    >>> a = allocate([50, 52, 48, 51, 49, 50], 2, seed=7, tolerance=0.02)
    >>> len(a.groups[0]), a.within, a.counted
    (3, True, True)
    """
    check_range("tolerance", tolerance, 0.0001, 0.5, "of the mean")
    check_range("groups", groups, 1, 200, "groups")
    if len(weights) > 5000:
        raise OutOfRange("pieces", f"{len(weights)}", "Deal at most 5000 at a time.")
    for n, weight in enumerate(weights, 1):
        if not isfinite(weight) or weight <= 0:
            raise RuleError(f"piece {n}", f"weighs {weight:g}", "Weigh it again: a weight is above zero.")
    wanted = groups * (each if each is not None else 1)
    if len(weights) < wanted or (each is not None and each < 1):
        raise RuleError(
            "pieces",
            f"{len(weights)} for {groups} groups" + (f" of {each}" if each else ""),
            f"Get {wanted - len(weights)} more, or cook fewer methods or replicates.",
        )
    if strata is not None and len(strata) != len(weights):
        raise RuleError(
            "strata",
            f"{len(strata)} for {len(weights)} pieces",
            "Name the lot or part of every piece, or of none.",
        )
    kinds = [str(s) for s in strata] if strata is not None else [""] * len(weights)
    names = sorted(set(kinds))
    members = [np.array([i for i, k in enumerate(kinds) if k == name], dtype=np.int64) for name in names]
    members.sort(key=lambda m: -len(m))
    shape = _Shape([len(m) for m in members], groups, each)
    w = np.asarray(weights, dtype=float)
    # Every group holds a piece of the largest stratum: then dealings that only exchange groups are counted as
    # one.
    if shape.base[0] >= 1 and shape.log_count - lgamma(groups + 1) <= log(COUNT_UP_TO) + 1e-9:
        return _by_counting(w, members, shape, seed, tolerance)
    return _by_walking(w, members, shape, seed, tolerance)


class _Shape:
    """How many pieces of each stratum each group may hold, and how many dealings that makes.

    Each group takes the whole share of every stratum; what is left of a stratum goes to different groups, one
    each, so that all groups end with the same number; the rest is spare.
    """

    def __init__(self, sizes: Sequence[int], groups: int, each: int | None) -> None:
        self.sizes, self.groups = list(sizes), groups
        share = 1.0 if each is None else each * groups / sum(sizes)
        self.base = [int(n * share / groups + 1e-9) for n in sizes]
        self.rest = [n - b * groups for n, b in zip(sizes, self.base, strict=True)]
        self.extra = sum(self.rest) // groups if each is None else each - sum(self.base)
        if float(np.prod([min(r, groups) + 1.0 for r in self.rest])) * 2 ** min(len(sizes), 20) > MOST_STATES:
            raise RuleError(
                "strata",
                f"{len(sizes)} lots and parts among {groups} groups",
                "Balance fewer at once: leave the parts out.",
            )
        self.states = self._ways()
        self.log_count = self.states[0][tuple(0 for _ in sizes)]

    def _ways(self) -> list[dict[tuple[int, ...], float]]:
        """For each group from the last to the first: log of the number of fillings from a state of used
        extras on.
        """
        k = len(self.sizes)
        final: dict[tuple[int, ...], float] = {}
        reach: list[set[tuple[int, ...]]] = [{tuple(0 for _ in range(k))}]
        for _ in range(self.groups):
            reach.append({n for s in reach[-1] for n, _ in self._next(s)})
        for state in reach[-1]:
            final[state] = -sum(lgamma(r - u + 1) for r, u in zip(self.rest, state, strict=True))
        tables = [final]
        for g in range(self.groups - 1, -1, -1):
            table: dict[tuple[int, ...], float] = {}
            for state in reach[g]:
                options = [tables[0][n] + weight for n, weight in self._next(state) if n in tables[0]]
                if options:
                    top = max(options)
                    table[state] = top + log(sum(exp(o - top) for o in options))
            tables.insert(0, table)
        start = tuple(0 for _ in range(k))
        if start not in tables[0]:
            raise RuleError(
                "strata",
                "cannot be spread evenly",
                "Join small lots or parts, or leave the spare pieces out.",
            )
        tables[0] = {start: tables[0][start] + sum(lgamma(n + 1) for n in self.sizes)}
        return tables

    def _next(self, state: tuple[int, ...]) -> Iterator[tuple[tuple[int, ...], float]]:
        """States after one more group, and the log weight of its filling."""
        open_ones = [i for i, (u, r) in enumerate(zip(state, self.rest, strict=True)) if u < r]
        for chosen in combinations(open_ones, min(self.extra, len(open_ones))):
            after = tuple(u + (i in chosen) for i, u in enumerate(state))
            yield after, -sum(lgamma(b + (i in chosen) + 1) for i, b in enumerate(self.base))

    def draw(self, rng: np.random.Generator) -> list[list[int]]:
        """Pieces of each stratum for each group, with the chance that a random dealing has."""
        state, rows = tuple(0 for _ in self.sizes), []
        for g in range(self.groups):
            options = [
                (n, wt + self.states[g + 1][n]) for n, wt in self._next(state) if n in self.states[g + 1]
            ]
            top = max(o for _, o in options)
            share = np.array([exp(o - top) for _, o in options])
            after = options[int(rng.choice(len(options), p=share / share.sum()))][0]
            rows.append([b + a - u for b, a, u in zip(self.base, after, state, strict=True)])
            state = after
        return rows


def _deviations(sums: Floats, counts: int) -> Floats:
    """Largest distance of a group's mean from the mean of the dealt [share]; sums have groups along the last
    axis.
    """
    means = sums / counts
    middle = means.mean(axis=-1, keepdims=True)
    return np.asarray(np.abs(means - middle).max(axis=-1) / middle[..., 0])


def _fill(members: Sequence[Ints], shape: _Shape, rng: np.random.Generator, total: int) -> Ints:
    """One random dealing: the group of each piece, `groups` for spare."""
    group = np.full(total, shape.groups, dtype=np.int64)
    rows = shape.draw(rng)
    for s, pieces in enumerate(members):
        mixed = rng.permutation(pieces)
        at = 0
        for g in range(shape.groups):
            group[mixed[at : at + rows[g][s]]] = g
            at += rows[g][s]
    return group


def _rows(shape: _Shape, g: int, state: tuple[int, ...]) -> Iterator[list[tuple[int, ...]]]:
    """Ways to give each group from `g` on its number of pieces of each stratum."""
    if g == shape.groups:
        yield []
        return
    for after, _ in shape._next(state):
        if after in shape.states[g + 1]:
            row = tuple(b + a - u for b, a, u in zip(shape.base, after, state, strict=True))
            for rest in _rows(shape, g + 1, after):
                yield [row, *rest]


def _in_turn(left: tuple[int, ...], count: int, first: int, others: int) -> Iterator[tuple[int, ...]]:
    """Choices of the largest stratum by which groups stand in the order of their first piece.

    `first` : of the group before; `others` : pieces that no group takes
    """
    for chosen in combinations(left, count):
        # What is passed over stays over: later groups begin further on.
        if sum(p < chosen[0] for p in left) > others:
            return
        if chosen[0] >= first:
            yield chosen


def _every(members: Sequence[Ints], shape: _Shape, total: int) -> Iterator[Ints]:
    """All dealings but those that only exchange groups, one by one; only called for few.

    Of those the one is given in which the groups stand in the order of their first piece of the largest
    stratum.
    """

    def fill(
        s: int, g: int, left: tuple[int, ...], group: Ints, rows: list[tuple[int, ...]], first: int = -1
    ) -> Iterator[Ints]:
        if g == shape.groups:
            if s + 1 == len(members):
                yield group
            else:
                yield from fill(s + 1, 0, tuple(int(p) for p in members[s + 1]), group, rows)
            return
        count = rows[g][s]
        others = shape.sizes[0] - sum(r[0] for r in rows)
        for chosen in _in_turn(left, count, first, others) if s == 0 else combinations(left, count):
            group[list(chosen)] = g
            now_first = chosen[0] if s == 0 else -1
            yield from fill(s, g + 1, tuple(p for p in left if p not in chosen), group, rows, now_first)
            group[list(chosen)] = shape.groups

    for rows in _rows(shape, 0, tuple(0 for _ in shape.sizes)):
        yield from fill(
            0, 0, tuple(int(p) for p in members[0]), np.full(total, shape.groups, dtype=np.int64), rows
        )


def _by_counting(
    w: Floats, members: Sequence[Ints], shape: _Shape, seed: int, tolerance: float
) -> Allocation:
    total = len(w)
    every = np.array([g.copy() for g in _every(members, shape, total)], dtype=np.int16)
    sums = np.stack([(w * (every == g)).sum(axis=1) for g in range(shape.groups)], axis=1)
    counts = int((every[0] == 0).sum())
    off = _deviations(sums, counts)
    best = float(off.min())
    limit = tolerance if best <= tolerance * (1 + 1e-12) else best
    keep = np.flatnonzero(off <= limit * (1 + 1e-9) + 1e-12)
    rng = np.random.default_rng(seed)
    drawn = every[int(rng.choice(keep))].astype(np.int64)
    group = np.append(rng.permutation(shape.groups), shape.groups)[drawn]
    log_many = log10(len(keep)) + lgamma(shape.groups + 1) / log(10)
    return _result(w, group, shape, seed, tolerance, best, True, float(round(10**log_many)), log_many, True)


def _by_walking(w: Floats, members: Sequence[Ints], shape: _Shape, seed: int, tolerance: float) -> Allocation:
    rng = np.random.default_rng(seed)
    total, groups = len(w), shape.groups
    walkers = np.stack([_fill(members, shape, rng, total) for _ in range(WALKERS)])
    counts = int((walkers[0] == 0).sum())
    sums = np.stack([(w * (walkers == g)).sum(axis=1) for g in range(groups + 1)], axis=1)
    off = _deviations(sums[:, :groups], counts)
    stratum = np.zeros(total, dtype=np.int64)
    for s, pieces in enumerate(members):
        stratum[pieces] = s
    log_share, best = 0.0, float(off.min())
    stuck = 0
    for _ in range(MOST_LEVELS):
        inside = off <= tolerance
        if inside.mean() >= 0.25 or stuck > 6:
            break
        level = max(tolerance, float(np.quantile(off, 0.3)))
        survive = np.flatnonzero(off <= level)
        log_share += log(len(survive) / WALKERS)
        chosen = survive[rng.integers(0, len(survive), WALKERS)]
        walkers, sums, off = walkers[chosen], sums[chosen], off[chosen]
        _walk(w, stratum, walkers, sums, off, level, counts, rng)
        stuck = stuck + 1 if float(off.min()) >= best * (1 - 1e-9) and not (off <= tolerance).any() else 0
        best = min(best, float(off.min()))
    inside = off <= tolerance
    within = bool(inside.any())
    pool = np.flatnonzero(inside) if within else np.flatnonzero(off <= best * (1 + 1e-9) + 1e-15)
    log_share += log(len(pool) / WALKERS)
    log_many = shape.log_count + log_share
    group = walkers[int(rng.choice(pool))]
    many = exp(log_many) if log_many < 600 else float("inf")
    return _result(w, group, shape, seed, tolerance, best, False, many, log_many / log(10), False)


def _walk(
    w: Floats,
    stratum: Ints,
    walkers: Ints,
    sums: Floats,
    off: Floats,
    level: float,
    counts: int,
    rng: np.random.Generator,
) -> None:
    """Swap pieces of the same stratum between groups, in place, wherever the deviation stays within `level`.

    The proposal is symmetric, so every dealing inside the level stays as likely as any other.
    """
    total = walkers.shape[1]
    rows = np.arange(len(walkers))
    groups = sums.shape[1] - 1
    for _ in range(SWAPS_A_LEVEL + total // 4):
        a, b = rng.integers(0, total, len(rows)), rng.integers(0, total, len(rows))
        ga, gb = walkers[rows, a], walkers[rows, b]
        able = (ga != gb) & (stratum[a] == stratum[b])
        change = w[b] - w[a]
        tried = sums.copy()
        tried[rows, ga] += change
        tried[rows, gb] -= change
        new_off = _deviations(tried[:, :groups], counts)
        go = np.flatnonzero(able & (new_off <= level))
        walkers[go, a[go]], walkers[go, b[go]] = gb[go], ga[go]
        sums[go] = tried[go]
        off[go] = new_off[go]


def _result(
    w: Floats,
    group: Ints,
    shape: _Shape,
    seed: int,
    tolerance: float,
    best: float,
    proven: bool,
    many: float,
    log_many: float,
    counted: bool,
) -> Allocation:
    dealt = tuple(tuple(int(i) for i in np.flatnonzero(group == g)) for g in range(shape.groups))
    means = [float(w[list(g)].mean()) for g in dealt]
    middle = sum(means) / len(means)
    deviation = max(abs(m - middle) for m in means) / middle
    return Allocation(
        dealt,
        tuple(int(i) for i in np.flatnonzero(group == shape.groups)),
        tuple(means),
        deviation,
        tolerance,
        deviation <= tolerance * (1 + 1e-9) + 1e-12,
        min(best, deviation),
        proven,
        many,
        log_many,
        counted,
        log_many < log10(FEW),
        seed,
    )


def all_dealings(pieces: int, groups: int) -> int:
    """How many ways there are to deal pieces to groups that are told apart, weights aside.

    >>> all_dealings(12, 4)
    369600
    """
    each = pieces // groups
    spare = pieces - each * groups
    return comb(pieces, spare) * factorial(pieces - spare) // int(factorial(each) ** groups)

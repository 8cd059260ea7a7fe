"""How far apart methods lie, and how sure that is, from people who tasted cookings of methods.

Tasters are not batches: what differs between two batches of one method is no evidence for a method, and what
two people make of one batch is no second batch. So error has two parts, batch and person, and a method
stands on the batches that were *tasted*, not on those that were cooked. The rules (M1 to M4) and what they
were measured to hold are in docs/decisions; the simulations are in the tests and in `bench/panels.py`.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import pi, sqrt

import numpy as np
from scipy.optimize import brentq
from scipy.special import ndtr
from scipy.stats import chi, chi2
from scipy.stats import t as student

from yeasty.core.decide.blocks import Floats, beside_days, panels_of

# Spread from batch to batch where the kitchen has none of its own [points of 0 to 10]; told as assumed.
ASSUMED_BATCH_SD = 0.6
# Spread of a person's answers about a method: held by so many degrees of freedom at so much [points²].
HELD_BY, HELD_AT = 3, 0.8
LEANING_DF = 6
CLEAR_LEVEL, LEANING_LEVEL = 0.95, 0.90
FEWEST_PEOPLE = 4
# Size of true differences between methods, and of batch spread, that are thought possible, with their
# weights [points].
DIFFERENCES = (0.25, 0.5, 1.0, 1.5)
BATCH_SDS = {0.2: 0.2, 0.4: 0.3, 0.6: 0.3, 0.9: 0.2}
GRID = 801


# The kitchen's own spread speaks from so many degrees of freedom on: fewer say little of it.
FEWEST_EARLIER_DF = 6


@dataclass(frozen=True)
class Earlier:
    """What earlier trials of a kitchen tell of the spread from batch to batch.

    Attributes
    ----------
    variance : of batches of one way, what people and single answers make of it taken out [points² of 0 to 10]
    df : its degrees of freedom
    trials : how many trials it comes from
    """

    variance: float
    df: int
    trials: int

    @property
    def sd(self) -> float:
        """Spread from batch to batch [points]."""
        return sqrt(self.variance)

    @property
    def held_sd(self) -> float:
        """The same, held from below by what is assumed where nothing is known: a few batches that happen to
        agree prove no kitchen without a spread.
        """
        held = (self.df * self.variance + HELD_BY * ASSUMED_BATCH_SD**2) / (self.df + HELD_BY)
        return sqrt(max(self.variance, held))


@dataclass(frozen=True)
class Fit:
    """Means of methods with what they stand on.

    Attributes
    ----------
    means : method to mean, people and batches taken out
    answers, people, batches : of each method: how many answers, people, tasted cookings
    ms_batch, ms_person, ms_rest : mean squares of batches in methods, person by method, and the rest
    f_batch, f_person, f_rest : their degrees of freedom
    unit : one point of 0 to 10 in these points
    earlier : what the kitchen knows of its batches from earlier trials, None where that is too little
    """

    means: Mapping[str, float]
    answers: Mapping[str, int]
    people: Mapping[str, int]
    batches: Mapping[str, int]
    ms_batch: float
    ms_person: float
    ms_rest: float
    f_batch: int
    f_person: int
    f_rest: int
    unit: float
    earlier: Earlier | None = None

    @property
    def answers_a_batch(self) -> float:
        """How many answers a batch has, on average."""
        return sum(self.answers.values()) / max(1, sum(self.batches.values()))

    @property
    def usual_sd(self) -> float:
        """Spread from batch to batch where these batches cannot show it: the kitchen's own, else what is
        assumed [points of 0 to 10].
        """
        return self.earlier.held_sd if self.earlier else ASSUMED_BATCH_SD

    @property
    def per_mean(self) -> float:
        """Person by method, of one person's mean over their batches of a method; held where few say."""
        times = sum(self.answers.values()) / max(1, sum(self.people.values()))
        own = self.ms_person / times
        held = HELD_AT * self.unit**2 / times
        return (self.f_person * own + HELD_BY * held) / (self.f_person + HELD_BY)

    def variance(self, method: str, batch_sd: float) -> float:
        """Of a method's mean, at a spread from batch to batch."""
        return self.per_mean / self.people[method] + (batch_sd * self.unit) ** 2 / self.batches[method]

    @property
    def batch_sd(self) -> float | None:
        """Spread from batch to batch that these batches themselves show; None where none was tasted twice."""
        if not self.f_batch:
            return None
        return sqrt(max(0.0, self.ms_batch - self.ms_rest) / self.answers_a_batch)


def fit(
    cells: Mapping[tuple[str, str], float],
    method_of: Mapping[str, str],
    *,
    unit: float = 1.0,
    day_of: Mapping[str, str] | None = None,
) -> Fit | None:
    """Means by least squares on person and batch; None where fewer than two methods hang together.

    Batches that were tasted on several days are compared beside the days: what a day makes of everything is
    taken out, and what is left of batches is the error. So each day may have people of its own; those of one
    day have to hang together by what they tasted.

    Parameters
    ----------
    cells : (person, batch) to score
    method_of : batch to method
    unit : one point of 0 to 10 in the points of the score
    day_of : batch to the sitting at which it was tasted
    """
    keys = sorted(cells)
    people = sorted({p for p, _ in keys})
    batches = sorted({b for _, b in keys}, key=lambda b: (method_of[b], b))
    methods = sorted({method_of[b] for b in batches})
    if len(methods) < 2:
        return None
    on = {b: (day_of or {}).get(b, "") for b in batches}
    panel_of, panel = panels_of(keys)
    if len({(on[b], panel[b]) for b in batches}) > len(set(on.values())):
        return None
    who = np.array([people.index(p) for p, _ in keys])
    which = np.array([batches.index(b) for _, b in keys])
    y = np.array([cells[k] for k in keys])
    design = np.zeros((len(keys), len(people) + len(batches)))
    design[np.arange(len(keys)), who] = 1
    design[np.arange(len(keys)), len(people) + which] = 1
    effects = np.linalg.lstsq(design, y, rcond=None)[0]
    rest = y - design @ effects
    # What people and batches of a panel share is split between them anyhow: its people are put at nought.
    sits = np.array([panel_of[p] for p in people])
    shared = {n: effects[: len(people)][sits == n].mean() for n in set(panel_of.values())}
    of_batch = effects[len(people) :] + np.array([shared[panel[b]] for b in batches])
    arm = np.array([methods.index(method_of[b]) for b in batches])
    days = sorted(set(on.values()))
    day = np.array([days.index(on[b]) for b in batches])
    found = beside_days(of_batch, arm, day, len(methods), len(days))
    if found is None:
        return None
    mean, left, used = found
    counts = np.bincount(which, minlength=len(batches))
    ss_batch = _square_sum(counts * left**2)
    cell = who * len(methods) + arm[which]
    _, inverse = np.unique(cell, return_inverse=True)
    size = np.bincount(inverse)
    middle = np.bincount(inverse, rest) / size
    ss_person = _square_sum(size * middle**2)
    ss_rest = _square_sum((rest - middle[inverse]) ** 2)
    f_batch = len(batches) - used
    f_rest = max(0, len(keys) - len(size) - (len(batches) - len(methods)))
    f_person = len(keys) - len(people) - len(batches) + len(set(panel.values())) - f_rest
    answers = np.bincount(arm[which], minlength=len(methods))
    judges = [len({p for p, b in keys if method_of[b] == m}) for m in methods]
    return Fit(
        dict(zip(methods, map(float, mean), strict=True)),
        dict(zip(methods, map(int, answers), strict=True)),
        dict(zip(methods, judges, strict=True)),
        {m: int((arm == i).sum()) for i, m in enumerate(methods)},
        ss_batch / f_batch if f_batch else 0.0,
        ss_person / f_person if f_person > 0 else 0.0,
        ss_rest / f_rest if f_rest > 0 else 0.0,
        f_batch,
        max(0, f_person),
        f_rest,
        unit,
    )


def _square_sum(squares: Floats) -> float:
    """A sum of squares; what is only left of rounding is nought."""
    total = float(squares.sum())
    return total if total > 1e-9 else 0.0


@dataclass(frozen=True)
class Range:
    """A difference between two means, and its range at a level."""

    difference: float
    low: float
    high: float
    level: float

    @property
    def off_nought(self) -> bool:
        """Whether nought lies outside."""
        return self.low > 0 or self.high < 0


def spread_of(fits: Sequence[Fit]) -> Earlier | None:
    """The spread from batch to batch of several trials together; None where it stands on too little.

    It is the variance of batches that is pooled, never their mean squares: those grow with how many people
    tasted.
    """
    told = [f for f in fits if f.f_batch > 0 and f.f_rest > 0]
    df = sum(f.f_batch for f in told)
    if df < FEWEST_EARLIER_DF:
        return None
    squares = sum(f.f_batch * (f.ms_batch - f.ms_rest) / (f.answers_a_batch * f.unit**2) for f in told)
    return Earlier(max(0.0, squares / df), df, len(told))


def batches_pooled(f: Fit) -> tuple[float, int]:
    """Mean square of batches and its degrees of freedom: these and what earlier trials let expect.

    One degree of freedom (two ways on two days) says next to nothing of a spread: by luck it is nought, and
    the range then stands on people alone. It is held by another one at the spread that is assumed.
    """
    if f.earlier is None and f.f_batch == 1:
        noise = f.ms_rest if f.f_rest else f.ms_person
        expected = f.answers_a_batch * (ASSUMED_BATCH_SD * f.unit) ** 2 + noise
        return max(f.ms_batch, (f.ms_batch + expected) / 2), 2
    if f.earlier is None:
        return f.ms_batch, f.f_batch
    expected = f.answers_a_batch * f.earlier.variance * f.unit**2 + f.ms_rest
    df = f.f_batch + f.earlier.df
    return (f.f_batch * f.ms_batch + f.earlier.df * expected) / df, df


def _clear_variance(f: Fit) -> tuple[float, float]:
    """Variance an answer, and its degrees of freedom: batch and person together, never less than either."""
    ms_batch, f_batch = batches_pooled(f)
    v = max(ms_batch + f.ms_person - f.ms_rest, ms_batch, f.ms_person)
    parts = ms_batch**2 / f_batch + (f.ms_person**2 / f.f_person if f.f_person else 0.0)
    return v, max(1.0, v * v / parts) if parts > 0 else 1.0


def nested_range(f: Fit, first: str, second: str, level: float = CLEAR_LEVEL) -> Range | None:
    """M1: batch and person both as error; None where one of the two was tasted of fewer than two batches."""
    if f.f_batch == 0 or f.f_person == 0 or min(f.batches[first], f.batches[second]) < 2:
        return None
    v, df = _clear_variance(f)
    half = float(student.ppf(0.5 + level / 2, df)) * sqrt(v * (1 / f.answers[first] + 1 / f.answers[second]))
    gap = f.means[first] - f.means[second]
    return Range(gap, gap - half, gap + half, level)


def assumed_range(f: Fit, first: str, second: str, *, level: float = LEANING_LEVEL) -> Range:
    """M2: as if batches spread as the kitchen's do, or as is assumed; for *leaning*."""
    half = float(student.ppf(0.5 + level / 2, LEANING_DF)) * sqrt(
        f.variance(first, f.usual_sd) + f.variance(second, f.usual_sd)
    )
    gap = f.means[first] - f.means[second]
    return Range(gap, gap - half, gap + half, level)


def told_range(f: Fit, first: str, second: str) -> Range:
    """The range a word stands on: by batches (M1) where that is off nought or neither is, else with the
    spread that is known or assumed (M2).
    """
    by_batches, assumed = nested_range(f, first, second), assumed_range(f, first, second)
    if by_batches is None or (not by_batches.off_nought and assumed.off_nought):
        return assumed
    return by_batches


# Scores come in steps; what lies between two of them is chance, however well people agree [points].
ANSWER_STEP = 0.5


def chances_of_best(f: Fit, among: Sequence[str]) -> dict[str, float]:
    """M3: how likely each is the best in truth, over what true differences and batch spreads are thought
    possible and these answers leave likely.
    """
    ms = sorted(among)
    if len(ms) < 2:
        return dict.fromkeys(ms, 1.0)
    means = np.array([f.means[m] for m in ms])
    c = means - means.mean()
    people = np.array([f.people[m] for m in ms])
    batches = np.array([f.batches[m] for m in ms])
    total, weights = np.zeros(len(ms)), 0.0
    each = sum(f.answers.values()) / sum(f.batches.values())
    step = (ANSWER_STEP * f.unit) ** 2 / 12
    per_mean, ms_batch, ms_rest = (max(x, step) for x in (f.per_mean, f.ms_batch, f.ms_rest))
    for tau in DIFFERENCES:
        for sd, prior in BATCH_SDS.items():
            t2, s2 = (tau * f.unit) ** 2, (sd * f.unit) ** 2
            v = per_mean / people + s2 / batches
            spread = np.sqrt(t2 + v)
            likely = prior * float(np.prod(_normal(c / spread) / spread))
            if f.f_batch:
                expected = each * s2 + ms_rest
                likely *= float(chi2.pdf(f.f_batch * ms_batch / expected, f.f_batch)) / expected
            w = t2 / (t2 + v)
            total += likely * _best(w * c, np.sqrt(w * v))
            weights += likely
    if weights <= 0:
        return {m: 1.0 / len(ms) for m in ms}
    return {m: float(p) for m, p in zip(ms, total / weights, strict=True)}


def _normal(z: Floats) -> Floats:
    """The density of the standard normal."""
    found: Floats = np.exp(-z * z / 2) / sqrt(2 * pi)
    return found


def _best(mean: Floats, sd: Floats) -> Floats:
    """The chance of being the largest of independent normal values, by quadrature."""
    x = np.linspace((mean - 7 * sd).min(), (mean + 7 * sd).max(), GRID)
    z = (x[None, :] - mean[:, None]) / sd[:, None]
    below = np.clip(ndtr(z), 1e-300, 1)
    others = np.exp(np.log(below).sum(axis=0)[None, :] - np.log(below))
    found = np.trapezoid(_normal(z) / sd[:, None] * others, x, axis=1)
    return np.asarray(found / found.sum())


@lru_cache(maxsize=512)
def dunnett(others: int, df: float, level: float = 0.95) -> float:
    """One-sided critical value for the best against so many others, all of equal size (correlation ½).

    By a deterministic double integral over the common part and the estimate of error.

    >>> round(dunnett(1, 1e6), 3), round(dunnett(3, 20), 2)
    (1.645, 2.19)
    """
    nodes, weights = np.polynomial.hermite_e.hermegauss(40)
    weights = weights / weights.sum()
    if df > 1000:
        errors, density = np.ones(1), np.ones(1)
    else:
        errors = np.linspace(1e-4, 1 + 8 / sqrt(df), GRID)
        density = chi.pdf(errors * sqrt(df), df)
        density /= density.sum()

    def holds(d: float) -> float:
        inner = ndtr(sqrt(2) * d * errors[:, None] + nodes[None, :]) ** others
        return float(density @ (inner @ weights))

    return float(brentq(lambda d: holds(d) - level, 0.0, 100.0, xtol=1e-4))


def could_be_best(f: Fit, among: Sequence[str]) -> list[str]:
    """M4: those that may still be the best; the best one is among them in 95 of 100 trials."""
    ms = sorted(among)
    if len(ms) < 2:
        return ms
    best = max(ms, key=lambda m: (f.means[m], m))
    d: dict[float, float] = {}
    kept = []
    for m in ms:
        both = min(f.batches[m], f.batches[best]) >= 2 and f.f_batch > 0 and f.f_person > 0
        if both:
            v, df = _clear_variance(f)
            se = sqrt(v * (1 / f.answers[m] + 1 / f.answers[best]))
        else:
            df, se = float(LEANING_DF), sqrt(f.variance(m, f.usual_sd) + f.variance(best, f.usual_sd))
        df = round(df, 1)
        if df not in d:
            d[df] = dunnett(len(ms) - 1, df)
        if f.means[m] >= f.means[best] - d[df] * se:
            kept.append(m)
    return kept


_STEPS = (
    (0.1, "1 in 10"),
    (0.2, "1 in 5"),
    (0.25, "1 in 4"),
    (1 / 3, "1 in 3"),
    (0.5, "1 in 2"),
    (2 / 3, "2 in 3"),
    (0.75, "3 in 4"),
    (0.8, "4 in 5"),
    (0.9, "9 in 10"),
    (0.95, "19 in 20"),
)
MOST_WITH_ONE_BATCH = 0.9


def in_words(chance: float, *, one_batch: bool) -> str:
    """A chance as it is said; never above 9 in 10 where a batch was tasted but once.

    >>> in_words(0.77, one_batch=True), in_words(0.999, one_batch=True), in_words(0.999, one_batch=False)
    ('3 in 4', '9 in 10', '19 in 20')
    """
    p = min(chance, MOST_WITH_ONE_BATCH) if one_batch else chance
    return min(_STEPS, key=lambda s: abs(s[0] - p))[1]

"""All samples put in order, the best first."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from fractions import Fraction
from statistics import fmean

from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.luck import (
    BEYOND_LUCK,
    apart_at_least,
    concordance,
    often,
    rankings_by_luck,
    trend_at_least,
)
from yeasty.core.taste.rounds import Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidOrder, partitioned
from yeasty.core.taste.tests.kind import Bar, Found, TasteTest, knowing, refused
from yeasty.core.taste.tests.pairs import people
from yeasty.core.taste.tests.scored import serve


def check(said: Said, order: Sequence[str], settings: Settings) -> Said:
    """Every sample has a place; shared places where the session allows them."""
    if not isinstance(said, SaidOrder):
        raise RuleError("answer", "is no order", "Put the samples in order.")
    partitioned(said.places, order, "order")
    if not settings.ties and any(len(p) > 1 for p in said.places):
        raise RuleError("order", "has two samples in one place", "Give each place once.")
    return said


def places(said: SaidOrder) -> dict[str, float]:
    """Code to its place; those that share places get the mean of them.

    >>> places(SaidOrder([["102"], ["305", "417"]]))
    {'102': 1.0, '305': 2.5, '417': 2.5}
    """
    found: dict[str, float] = {}
    before = 0
    for group in said.places:
        for code in group:
            found[code] = before + (len(group) + 1) / 2
        before += len(group)
    return found


def analyse(r: Round) -> Found:
    """Rank sums, how far people agree, and how often luck agrees so. It speaks of these cookings only."""
    rows = [places(g.said) for g in r.blind() if isinstance(g.said, SaidOrder)]
    codes = [c.code for c in r.cups]
    rows = [row for row in rows if sorted(row) == sorted(codes)]
    if not rows:
        return Found("Nobody has put them in order blind.", (*refused(r), *knowing(r)))
    n, k = len(rows), len(codes)
    sums = {c: sum(row[c] for row in rows) for c in codes}
    mean: dict[str, list[float]] = defaultdict(list)
    for c in r.cups:
        mean[c.name].append(sums[c.code] / n)
    bars = tuple(
        Bar(name, fmean(v), k, f"place {fmean(v):.1f} on average", min(v), max(v))
        for name, v in sorted(mean.items(), key=lambda x: (fmean(x[1]), x[0]))
    )
    luck = rankings_by_luck([[row[c] for c in codes] for row in rows])
    ordered = sorted(codes, key=lambda c: (sums[c], c))
    first, last = r.cup(ordered[0]), r.cup(ordered[-1])
    gap = sums[last.code] - sums[first.code]
    lines = [
        f"{people(n)} put {k} in order. Agreement {concordance(list(sums.values()), n):.2f} of 1 (Kendall's "
        f"W); people who rank at random agree so or more {often(luck.agree)}.",
        f"{first.name} and {last.name} lie {gap:g} places apart in all; luck sets some two of them so far "
        f"apart {often(luck.any_pair(gap))}.",
        "It speaks of these cookings only."
        + (" Chances were drawn 20,000 times, not counted." if luck.drawn else ""),
    ]
    lines += _named_beforehand(r, sums, rows)
    lines += _along_the_ladder(r, sums, rows)
    sure = luck.agree <= 0.05
    headline = (
        f"People agree on an order: {bars[0].label} first, {bars[-1].label} last."
        if sure
        else "No order that luck would not give."
    )
    return Found(
        headline,
        (*lines, *refused(r), *knowing(r)),
        "" if sure else "More people settle it for these batches; another cooking tells of the ways.",
        bars,
        chance=luck.agree,
    )


def _named_beforehand(r: Round, sums: Mapping[str, float], rows: Sequence[Mapping[str, float]]) -> list[str]:
    """Pairs that the question is about, each by its exact chance as one named beforehand; of two samples the
    order itself says all, and with shared places there is no exact chance.
    """
    code = {c.method: c.code for c in r.cups}
    if len(r.cups) < 3 or len(code) != len(r.cups) or any(p != int(p) for row in rows for p in row.values()):
        return []
    names, told = r.names(), []
    for pair in (p for p in r.named if set(p) <= set(code)):
        ahead, behind = sorted(pair, key=lambda m: (sums[code[m]], m))
        gap = sums[code[behind]] - sums[code[ahead]]
        chance = apart_at_least(gap, len(r.cups), len(rows))
        sure = chance <= BEYOND_LUCK
        says = ("is put before", "by") if sure else ("and", "lie")
        told.append(
            f"{names[ahead]} {says[0]} {names[behind]}, which the question is about, {says[1]} {gap:g} places"
            f"{'' if sure else ' apart'} in all; luck sets those two so far apart {often(chance)}."
        )
    return told


def _along_the_ladder(r: Round, sums: Mapping[str, float], rows: Sequence[Mapping[str, float]]) -> list[str]:
    """Whether places rise or fall with the rung, by Page's test, either way; nothing with shared places."""
    code = {c.method: c.code for c in r.cups}
    if len(r.rising) < 3 or set(code) != set(r.rising) or len(r.cups) != len(code):
        return []
    if any(p != int(p) for row in rows for p in row.values()):
        return ["Places were shared, so whether they rise along the ladder is not worked out."]
    along = [int(sums[code[m]]) for m in r.rising]
    people_, k = len(rows), len(along)
    back = [people_ * (k + 1) - s for s in along]
    rises, falls = trend_at_least(along, people_), trend_at_least(back, people_)
    chance = min(Fraction(1), 2 * min(rises, falls))
    if chance > BEYOND_LUCK:
        return [
            f"No steady rise or fall along the ladder that luck would not give ({often(chance)}); a "
            f"best one in "
            f"the middle shows no such trend."
        ]
    first = r.names()[r.rising[0 if rises < falls else -1]]
    return [f"Along the ladder the order goes one way, {first} in front; luck gives that {often(chance)}."]


RANKING = TasteTest(
    TestKey.RANKING,
    "Put all in order",
    "Put the samples in order, the best first.",
    "An order that people agree on. Easier than scores for three to six samples; says nothing of how far "
    "apart they are.",
    front=True,
    fewest=2,
    most=8,
    cups=1,
    drawn="order",
    serve=serve,
    check=check,
    analyse=analyse,
)

"""How people who scored go together, and what too much or too little of something cost in liking.

Told of what was said, by those who tasted blind; neither is a test, and neither names a person.
"""

from collections import defaultdict
from collections.abc import Mapping
from statistics import fmean

from yeasty.core.ask.trial import Attribute
from yeasty.core.kernel.scales import Scale
from yeasty.core.kernel.scales.just_right import MIDDLE
from yeasty.core.taste.rounds import Round
from yeasty.core.taste.said import points

# Fewer people, or samples, say nothing of who goes with the rest.
FEWEST_PEOPLE, FEWEST_SAMPLES = 4, 3
# Fewer answers of one kind are an accident.
FEWEST_ANSWERS = 3

Cells = Mapping[str, Mapping[str, float]]


def cells_of(r: Round, attribute: str) -> Cells:
    """Person to sample to what they said of it [points], of those who tasted blind."""
    found: dict[str, dict[str, float]] = defaultdict(dict)
    for g in r.blind():
        value = points(g.said)
        if g.attribute == attribute and value is not None:
            found[g.who][g.code] = value
    return found


def with_the_rest(cells: Cells) -> tuple[int, int, int]:
    """How many people set samples the way the others do on average, how many the other way round, how many
    neither: each against the mean of the rest, by the sign of the covariance over samples that both scored.

    >>> apart = {"a": {"1": 2.0, "2": 5.0, "3": 8.0}, "b": {"1": 3.0, "2": 5.0, "3": 7.0}}
    >>> with_the_rest({**apart, "c": {"1": 2.0, "2": 4.0, "3": 9.0}, "d": {"1": 8.0, "2": 5.0, "3": 4.0}})
    (3, 1, 0)
    """
    ways = [0, 0, 0]
    for who, mine in cells.items():
        rest: dict[str, list[float]] = defaultdict(list)
        for other, theirs in cells.items():
            if other != who:
                for code, value in theirs.items():
                    rest[code].append(value)
        both = sorted(set(mine) & set(rest))
        if len(both) < FEWEST_SAMPLES:
            continue
        own, others = fmean(mine[c] for c in both), fmean(fmean(rest[c]) for c in both)
        together = sum((mine[c] - own) * (fmean(rest[c]) - others) for c in both)
        ways[0 if together > 1e-9 else 1 if together < -1e-9 else 2] += 1
    return (ways[0], ways[1], ways[2])


def agreement(r: Round, a: Attribute) -> str:
    """Who goes with the rest, in a sentence; "" where too few say so."""
    cells = cells_of(r, a.key)
    same, other, neither = with_the_rest(cells)
    people = same + other + neither
    if people < FEWEST_PEOPLE:
        return ""
    against = f", {other} the other way round" if other else ""
    none = f", {neither} neither" if neither else ""
    return (
        f"{a.name}: each held against the rest, {same} of {people} set the samples the same way{against}"
        f"{none}; where samples do not differ, half would."
    )


def cost_in_liking(r: Round, a: Attribute) -> list[str]:
    """What too much and too little of something cost in liking, where the same samples were asked for both:
    each answer beside its person's own usual liking, so that nobody's mildness counts.
    """
    liked = next((x for x in r.attributes if x.scale is Scale.LIKING), None)
    if a.scale is not Scale.JUST_RIGHT or liked is None:
        return []
    liking, amount = cells_of(r, liked.key), cells_of(r, a.key)
    sides: dict[str, list[float]] = {"too little": [], "just right": [], "too much": []}
    for who, said in amount.items():
        theirs = liking.get(who, {})
        usual = fmean(theirs.values()) if theirs else 0.0
        for code, value in said.items():
            if code in theirs:
                side = "too little" if value < MIDDLE else "too much" if value > MIDDLE else "just right"
                sides[side].append(theirs[code] - usual)
    right = sides["just right"]
    if len(right) < FEWEST_ANSWERS:
        return []
    told = []
    for side in ("too little", "too much"):
        if len(sides[side]) >= FEWEST_ANSWERS:
            gap = fmean(right) - fmean(sides[side])
            way = f"{abs(gap):.1f} {'lower' if gap > 0 else 'higher'}" if abs(gap) >= 0.05 else "the same"
            told.append(
                f"{a.name}: where it was {side} ({len(sides[side])} answers), {liked.name.lower()} was "
                f"{way}{' than' if way != 'the same' else ' as'} where it was just right ({len(right)})."
            )
    return told

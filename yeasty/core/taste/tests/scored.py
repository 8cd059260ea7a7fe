"""Each sample answered by itself, on scales, in words, by counting."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from math import sqrt
from random import Random
from statistics import fmean

from yeasty.core.ask.trial import Attribute
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.scales import SCALES
from yeasty.core.taste.agreement import agreement, cost_in_liking
from yeasty.core.taste.blinding import orders
from yeasty.core.taste.rounds import Given, Round, Settings, TestKey
from yeasty.core.taste.said import Said, SaidWords, points
from yeasty.core.taste.tests.kind import Bar, Found, TasteTest, knowing, refused


def serve(cups: Sequence[Sequence[str]], arms: Sequence[int], seats: int, chance: Random) -> list[list[str]]:
    """Every sample to everyone, each in an order of their own."""
    flat = [(code, arm) for codes, arm in zip(cups, arms, strict=True) for code in codes]
    dealt = orders(len(flat), seats, chance, arms=[arm for _, arm in flat])
    return [[flat[i][0] for i in order] for order in dealt]


def check(_said: Said, _order: Sequence[str], _settings: Settings) -> Said:
    """Nothing is asked of the round as a whole."""
    raise RuleError("answer", "belongs to no sample", "Say which sample it is about.")


def by_method(r: Round, attribute: str) -> dict[str, list[float]]:
    """Method to one number a person: the mean of what they gave its samples."""
    cells: dict[tuple[str, str], list[float]] = defaultdict(list)
    for g in r.blind():
        value = points(g.said)
        if g.attribute == attribute and value is not None:
            cells[r.cup(g.code).method, g.who].append(value)
    found: dict[str, list[float]] = defaultdict(list)
    for (method, _), values in sorted(cells.items()):
        found[method].append(fmean(values))
    return dict(found)


def _averaged(r: Round, a: Attribute, means: Mapping[str, float]) -> list[Bar]:
    scale = SCALES[a.scale]
    most = scale.highest(len(r.cups))
    ordered = sorted(means, key=lambda m: (means[m] if scale.low_is_best else -means[m], r.names()[m]))
    values = by_method(r, a.key)
    return [
        Bar(
            r.names()[m],
            means[m],
            most,
            f"{means[m]:.1f}",
            min(values[m]),
            max(values[m]),
            group=a.name,
            least=scale.low,
        )
        for m in ordered
    ]


def _ticked(r: Round, a: Attribute) -> list[Bar]:
    """How many ticked which word, by method."""
    said: dict[tuple[str, str], set[str]] = defaultdict(set)
    who: dict[str, set[str]] = defaultdict(set)
    for g in r.blind():
        if g.attribute == a.key and isinstance(g.said, SaidWords):
            method = r.cup(g.code).method
            who[method].add(g.who)
            for word in g.said.words:
                said[method, word].add(g.who)
    return [
        Bar(
            f"{r.names()[m]}: {word}",
            len(people),
            len(who[m]),
            f"{len(people)} of {len(who[m])}",
            group=a.name,
        )
        for (m, word), people in sorted(said.items(), key=lambda x: (r.names()[x[0][0]], -len(x[1]), x[0][1]))
    ]


def repeats(given: Sequence[Given], r: Round, attribute: str) -> float | None:
    """How far the same person's two answers to one batch served twice lie apart: sd of one answer [points].

    None where nothing was served twice. One person's two answers tell of the panel, not of the person.
    """
    cells: dict[tuple[str, str], list[float]] = defaultdict(list)
    for g in given:
        value = points(g.said)
        if g.attribute == attribute and value is not None:
            cells[g.who, r.cup(g.code).batch].append(value)
    squares = [(v[0] - v[1]) ** 2 / 2 for v in cells.values() if len(v) == 2]
    return sqrt(fmean(squares)) if squares else None


def _tops(r: Round, attribute: str) -> dict[str, int]:
    """Method to how many people gave it most; who gave two the same is left out."""
    person: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    for g in r.blind():
        value = points(g.said)
        if g.attribute == attribute and value is not None:
            person[g.who][r.cup(g.code).method].append(value)
    count: dict[str, int] = defaultdict(int)
    for row in person.values():
        means = {m: fmean(v) for m, v in row.items()}
        best = [m for m, v in means.items() if v == max(means.values())]
        if len(best) == 1 and len(means) > 1:
            count[best[0]] += 1
    return dict(count)


def _differ(r: Round, a: Attribute) -> str:
    """Where people differ most, in a sentence; "" where nobody does."""
    cells: dict[str, list[float]] = defaultdict(list)
    for g in r.blind():
        value = points(g.said)
        if g.attribute == a.key and value is not None:
            cells[g.code].append(value)
    wide = {c: max(v) - min(v) for c, v in cells.items() if len(v) > 1}
    if not wide or max(wide.values()) == 0:
        return ""
    code = max(wide, key=lambda c: (wide[c], c))
    name = r.cup(code).name
    return f"{a.name}: people differ most on {name}, from {min(cells[code]):g} to {max(cells[code]):g}."


def _one(r: Round, a: Attribute) -> tuple[str, list[str], list[Bar]]:
    """What one question tells: a phrase for the headline, lines, bars."""
    scale = SCALES[a.scale]
    values = by_method(r, a.key)
    names = r.names()
    if scale.shape == "words":
        return "", [], _ticked(r, a)
    if not values:
        return "", [], []
    if not scale.averaged:
        lines = [f"{a.name}, {names[m]}: {scale.tell(v, a.words)}." for m, v in sorted(values.items())]
        return "", lines + cost_in_liking(r, a), []
    means = {m: fmean(v) for m, v in values.items()}
    best = (min if scale.low_is_best else max)(means.values())
    first = [names[m] for m, v in means.items() if v == best]
    phrase = f"{a.name.lower()}: {' and '.join(sorted(first))} {best:.1f}" if len(means) > 1 else ""
    lines = [line for line in (_differ(r, a), agreement(r, a)) if line]
    spread = repeats(r.blind(), r, a.key)
    if spread is not None:
        lines.append(
            f"{a.name}: one cooking was served twice, unknown to the panel; one person's answers to the same "
            f"sample vary by about {spread:.1f} either way. Smaller gaps between two answers say nothing."
        )
    tops = _tops(r, a.key)
    if scale.takes_in_all and len(tops) > 1:
        split = sorted(tops.items(), key=lambda x: (-x[1], names[x[0]]))
        lines.append(f"{a.name}: " + ", ".join(f"{n} like {names[m]} most" for m, n in split) + ".")
    return phrase, lines, _averaged(r, a, means)


def analyse(r: Round) -> Found:
    """Means by method with where people differ; whether a gap is more than chance is the verdict's to say."""
    phrases, lines, bars = [], list[str](), list[Bar]()
    for a in r.attributes:
        phrase, more, drawn = _one(r, a)
        phrases += [phrase] if phrase else []
        lines += more
        bars += drawn
    if not r.blind():
        return Found("Nobody has answered blind.", (*refused(r), *knowing(r)))
    people = len({g.who for g in r.blind()})
    said = "1 person has tasted" if people == 1 else f"{people} people have tasted"
    headline = f"{said}. Highest in {'; in '.join(phrases)}." if phrases else f"{said}."
    return Found(
        headline,
        (*lines, *refused(r), *knowing(r)),
        "Whether a gap is more than chance is said at Decide.",
        tuple(bars),
    )


SCORED = TasteTest(
    TestKey.SCORED,
    "Score each sample",
    "Each sample by itself, in your order.",
    "How strong, how much liked, too much or too little, in words or by counting: each question apart. The "
    "usual choice where several ways are compared.",
    front=True,
    fewest=1,
    most=24,
    cups=1,
    drawn="samples",
    serve=serve,
    check=check,
    analyse=analyse,
)

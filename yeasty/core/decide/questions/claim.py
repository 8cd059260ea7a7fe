"""One claim by a measure of the log: no tasting needed, batches alone are compared."""

from yeasty.core.decide.gaps import Gap, gap
from yeasty.core.decide.measured import Measure, Values, measure_of, order, told
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence
from yeasty.core.decide.questions.kind import Asked, Basis


def claim(asked: Asked, basis: Basis) -> Answered:
    """Which way has the least, or most, of what is measured; by how much, over how many cookings."""
    m = measure_of(asked.deciding.claim)
    if m is None:
        return Answered(
            Asks.CLAIM, "What is to be measured is not a measure of the log", HowSure.NOT_COMPARABLE, None, ()
        )
    values = basis.measured.get(m.key, {})
    may = {w.key: values[w.key] for w in asked.ways if w.fit and w.key in values}
    names = {w.key: w.name for w in asked.ways}
    ranked = order(m, may)
    sentences = [
        Sentence(f"{names[w]}: {m.name} {told(m, values[w])}.", "log of its judged batches")
        for w in order(m, values)
    ]
    absent = [w.name for w in asked.ways if w.key not in values]
    if absent and values:
        sentences.append(
            Sentence(
                f"Not measured, so not compared: {', '.join(absent)}.", "what was not measured proves nothing"
            )
        )
    sentences += [
        Sentence(f"{names[w]} may not be recommended, whatever it came to here.", "its core, or a limit")
        for w in order(m, values)
        if w not in may
    ]
    if asked.slipped:
        sentences.append(
            Sentence(
                f"Ways also differed in {', '.join(asked.slipped)}, so this credits no single cause.",
                "Set up",
            )
        )
    picture = _picture(m, values, names, ranked)
    if len(ranked) < 2:
        headline = (
            f"{m.name.capitalize()} is on record for {names[ranked[0]]} alone"
            if ranked
            else f"{m.name.capitalize()} is on record for no way that may be recommended"
        )
        return Answered(Asks.CLAIM, headline, HowSure.NOT_COMPARABLE, None, tuple(sentences), picture)
    first, second = ranked[:2]
    g = gap(may[first], may[second], m.grain)
    sentences.insert(0, _range(m, names[first], names[second], g))
    if not g.stands:
        headline = f"{names[first]} and {names[second]} cannot be told apart by {m.name}"
        return Answered(Asks.CLAIM, headline, HowSure.LEVEL, None, tuple(sentences), picture)
    sure = HowSure.CLEAR if g.cookings > 1 else HowSure.LEANING
    least = "most" if m.less_is_better is False else "least"
    came = [f"{names[w]}, {told(m, may[w])}" for w in ranked[:2]]
    headline = f"{least} {m.name}: {came[0]}; next {came[1]}"
    headline = headline[0].upper() + headline[1:]
    leader = first if m.less_is_better is not None else None
    return Answered(Asks.CLAIM, headline, sure, leader, tuple(sentences), picture)


def _range(m: Measure, first: str, second: str, g: Gap) -> Sentence:
    size = m.apart(abs(g.difference))
    more = "more" if g.difference > 0 else "less"
    if g.low is None or g.high is None:
        return Sentence(
            f"{first} {size} {more} than {second}, in one cooking: how far one cooking lies from the next "
            "was not seen.",
            "1 batch of one of them",
        )
    ends = sorted((g.low, g.high), key=abs)
    if g.low <= 0 <= g.high:
        return Sentence(
            f"{first} {size} {more} than {second}; by chance alone it may be the other way round.",
            f"95 % range by batches, {g.cookings} cookings of each at least",
        )
    low, high = (m.apart(abs(e)) for e in ends)
    return Sentence(
        f"{first} {size} {more} than {second} (95 % range {low} to {high}).",
        f"by batches, {g.cookings} cookings of each at least",
    )


def _picture(m: Measure, values: Values, names: dict[str, str], ranked: list[str]) -> Picture:
    marks = [
        Mark(
            names[w],
            None,
            sum(values[w]) / len(values[w]),
            min(values[w]),
            max(values[w]),
            note=told(m, values[w]),
            picked=ranked[:1] == [w],
        )
        for w in order(m, values)
    ]
    return Picture("measure", m.name, "each bar from the least to the most of its cookings", marks)

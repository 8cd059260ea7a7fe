"""One claim by a measure of the log: no tasting needed, batches alone are compared."""

from collections.abc import Mapping, Sequence

from yeasty.core.ask.deciding import LOOKS
from yeasty.core.decide.compared import Compared, OnRecord, compare
from yeasty.core.decide.measured import Measure, measure_of, order
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, Look


def claim(asked: Asked, basis: Basis) -> Answered:
    """Which way has the least, or most, of what is measured; by how much, over how many cookings. Looks in
    words are laid side by side and put in no order.
    """
    if asked.deciding.claim.startswith(LOOKS):
        return _looks(asked, basis, asked.deciding.claim.removeprefix(LOOKS))
    m = measure_of(asked.deciding.claim)
    if m is None:
        return Answered(
            Asks.CLAIM, "What is to be measured is not a measure of the log", HowSure.NOT_COMPARABLE, None, ()
        )
    record = OnRecord(basis.measured, basis.counts)
    values = record.of(m.key)
    may = {w.key: values[w.key] for w in asked.ways if w.fit and w.key in values}
    names = {w.key: w.name for w in asked.ways}
    ranked = order(m, may)
    sentences = [
        _measured(f"{names[w]}: {m.name} {record.told(m, w)}.", "log of its judged cookings")
        for w in order(m, values)
    ]
    sentences += _provisos(asked, basis, m, values, may)
    picture = _picture(m, record, names, ranked, basis)
    if len(ranked) < 2:
        headline = (
            f"{m.name.capitalize()} is on record for {names[ranked[0]]} alone"
            if ranked
            else f"{m.name.capitalize()} is on record for no way that may be recommended"
        )
        return Answered(Asks.CLAIM, headline, HowSure.NOT_COMPARABLE, None, tuple(sentences), picture)
    first, second = ranked[:2]
    c = compare(m, first, second, record)
    sentences.insert(0, _range(names[first], names[second], c))
    if not c.stands:
        headline = f"{names[first]} and {names[second]} cannot be told apart by {m.name}"
        return Answered(Asks.CLAIM, headline, HowSure.LEVEL, None, tuple(sentences), picture)
    least = "most" if c.difference > 0 else "least"
    came = [f"{names[w]}, {record.told(m, w)}" for w in ranked[:2]]
    headline = f"{least} {m.name}: {came[0]}; next {came[1]}"
    headline = headline[0].upper() + headline[1:]
    leader = first if m.less_is_better is not None else None
    return Answered(Asks.CLAIM, headline, c.sure, leader, tuple(sentences), picture)


def _measured(text: str, on: str) -> Sentence:
    return Sentence(text, on, Stands.MEASURED)


def _range(first: str, second: str, c: Compared) -> Sentence:
    return _measured(f"{first} against {second}: {c.words}.", c.stands_on)


def _provisos(
    asked: Asked,
    basis: Basis,
    m: Measure,
    values: Mapping[str, Sequence[float]],
    may: Mapping[str, Sequence[float]],
) -> list[Sentence]:
    """What was not measured, what may not be recommended, what differed besides, what contradicts itself."""
    names = {w.key: w.name for w in asked.ways}
    found = []
    absent = [w.name for w in asked.ways if w.key not in values]
    if absent and values:
        found.append(
            _measured(
                f"Not measured, so not compared: {', '.join(absent)}.", "what was not measured proves nothing"
            )
        )
    found += [
        _measured(f"{names[w]} may not be recommended, whatever it came to here.", "its core, or a limit")
        for w in order(m, values)
        if w not in may
    ]
    found += [
        _measured(f"Records contradict each other: {line}.", "both are kept in the log")
        for line in basis.contradicted
    ]
    if asked.slipped:
        found.append(
            Sentence(
                f"Ways also differed in {', '.join(asked.slipped)}, so this credits no single cause.",
                "Set up",
                Stands.LAID_OUT,
            )
        )
    return found


def _picture(
    m: Measure, record: OnRecord, names: Mapping[str, str], ranked: Sequence[str], basis: Basis
) -> Picture:
    curves = basis.curves.get(m.key, {})
    if curves:
        marks = [
            Mark(names[w], at, value, group=f"{names[w]}, cooking {n}", note=m.say(value))
            for w in order(m, record.of(m.key))
            for n, points in enumerate(curves.get(w, ()), 1)
            for at, value in points
        ]
        return Picture("curves", "time", m.name, marks)
    values = record.of(m.key)
    marks = [
        Mark(
            names[w],
            None,
            sum(values[w]) / len(values[w]),
            min(values[w]),
            max(values[w]),
            note=record.told(m, w),
            picked=list(ranked[:1]) == [w],
        )
        for w in order(m, values)
    ]
    return Picture("measure", m.name, "each bar from the least to the most of its cookings", marks)


def _looks(asked: Asked, basis: Basis, face: str) -> Answered:
    """What was seen, in the cook's words, way by way and by the hour; no words are weighed against others."""
    names = {w.key: w.name for w in asked.ways}
    seen: dict[str, list[Look]] = {
        w.key: [look for look in basis.looks.get(w.key, ()) if look.face == face or not face]
        for w in asked.ways
    }
    there = [w for w in seen if seen[w]]
    what = f"the {face}" if face else "it"
    sentences = [
        Sentence(f"{names[w]}: {'; '.join(look.words for look in seen[w])}.", "as logged", Stands.SEEN)
        for w in there
    ]
    absent = [names[w] for w in seen if not seen[w]]
    if absent and there:
        sentences.append(Sentence(f"Nothing is on record for {', '.join(absent)}.", "the log", Stands.SEEN))
    if not there:
        headline = f"Nothing was written of how {what} looked"
        return Answered(Asks.CLAIM, headline, HowSure.NOT_COMPARABLE, None, tuple(sentences))
    sentences.append(
        Sentence(
            "Words of whoever looked, who knew which was which: they are laid side by side, and none is "
            "called the better.",
            "the cook's eyes",
            Stands.SEEN,
        )
    )
    marks = [Mark(names[w], None, None, note="; ".join(look.words for look in seen[w])) for w in there]
    headline = f"How {what} looked, way by way: {len(there)} of {len(seen)} ways on record"
    return Answered(
        Asks.CLAIM,
        headline,
        HowSure.NOT_COMPARABLE,
        None,
        tuple(sentences),
        Picture("list", "way", "seen", marks),
    )

"""A chain of versions: each against the one it came from, the last against the first."""

from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, spoken, sure_of


def chain(asked: Asked, basis: Basis) -> Answered:
    """Was the defect cured, what else moved; which version stands."""
    v = basis.verdict
    by_key = {w.key: w for w in asked.ways}
    sentences, marks = [], []
    for w in asked.ways:
        parent = by_key.get(w.parent or "")
        r = basis.range(w.key, parent.key) if parent else None
        told = [f"{w.name}"]
        if w.change:
            told.append(f"changed: {w.change}")
        if w.aimed_defect:
            told.append(f"aimed at: {w.aimed_defect}")
        told.append(f"came out: {w.outcome}" if w.outcome else "how it came out is not written down")
        if w.failed_tries:
            told.append(f"after {w.failed_tries} failed {'try' if w.failed_tries == 1 else 'tries'}")
        if parent:
            stands_on = _beside(basis, w.key, parent.key, parent.name)
            sentences.append(Sentence("; ".join(told) + ".", stands_on, Stands.SEEN))
        marks.append(
            Mark(
                w.name,
                None,
                r.difference if r else None,
                r.low if r else None,
                r.high if r else None,
                note=w.outcome or w.change,
                stands="" if parent else "where it began",
            )
        )
    tips = [w for w in asked.ways if w.key not in {x.parent for x in asked.ways}]
    first = next((w for w in asked.ways if not w.parent), None)
    last = tips[-1] if tips else None
    picture = Picture("line", "against the version it came from", "points", marks)
    if first is None or last is None or first is last:
        return Answered(Asks.CHAIN, v.headline, v.how_sure, v.leader, (*sentences, *v.sentences), picture)
    whole = basis.range(last.key, first.key)
    if whole is None or basis.fit is None:
        unknown = [w.name for w in asked.ways if w.aimed_defect and not w.outcome]
        headline = (
            f"{last.name} stands as the last version; it was not tasted beside the first"
            if not unknown
            else f"Whether the defect is gone is not written down for {', '.join(unknown)}"
        )
        return Answered(
            Asks.CHAIN,
            headline,
            HowSure.NOT_COMPARABLE,
            last.key if last.fit else None,
            (*sentences, *v.sentences),
            picture,
        )
    sure = sure_of(whole, v)
    if sure is HowSure.LEVEL:
        headline = f"{last.name} could not be told from {first.name}, where it began"
    elif whole.difference > 0:
        headline = f"{last.name} is better than {first.name}, where it began, by {spoken(whole)}"
    else:
        headline = f"{last.name} is worse than {first.name}, where it began: go back"
    leader = v.leader if sure is not HowSure.LEVEL else None
    return Answered(Asks.CHAIN, headline, sure, leader, (*sentences, *v.sentences), picture)


def _beside(basis: Basis, key: str, parent: str, name: str) -> str:
    r = basis.range(key, parent)
    return f"against {name}: {spoken(r)}" if r else f"not tasted beside {name}"

"""Which way is best: by the school chosen beforehand. Also which variety, and which finish of one cook."""

from yeasty.core.ask.deciding import School
from yeasty.core.decide.gaps import break_tie
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis
from yeasty.core.decide.rules import frontier


def best(asked: Asked, basis: Basis) -> Answered:
    """Several ways side by side."""
    return _by_school(Asks.BEST, asked, basis)


def varieties(asked: Asked, basis: Basis) -> Answered:
    """Several varieties by one way."""
    return _by_school(Asks.VARIETIES, asked, basis)


def branch(asked: Asked, basis: Basis) -> Answered:
    """Several finishes of one shared cook: what they share cancels, and what is said holds for that cook."""
    shared = Sentence(
        "All finishes come from the same cook, so how that cook went cancels between them; what is said "
        "holds for finishes of such a cook, not for other ways of cooking.",
        "finishes of one load",
        Stands.LAID_OUT,
    )
    found = _by_school(Asks.BRANCH, asked, basis)
    return Answered(
        Asks.BRANCH, found.headline, found.how_sure, found.leader, (*found.sentences, shared), found.picture
    )


def _by_school(question: Asks, asked: Asked, basis: Basis) -> Answered:
    v = basis.verdict
    match asked.deciding.school:
        case School.NO_WINNER if v.scores:
            said = Sentence(f"By {_NAME[v.school]}: {_full(v.headline)}", "what was tasted")
            return Answered(
                question,
                "No one winner: which one tonight depends on what there is",
                v.how_sure,
                None,
                (said, *v.sentences),
            )
        case School.FRONTIER if v.scores:
            found = _worth(question, asked, basis)
            return found or _level(question, asked, basis)
    return _level(question, asked, basis)


_NAME = {School.WEIGHTED: "weighted score", School.RANK: "rank points", School.PAIRS: "head to head"}


def _level(question: Asks, asked: Asked, basis: Basis) -> Answered:
    """The judged verdict; where taste cannot tell, what was said beforehand about a tie."""
    v = basis.verdict
    plain = Answered(question, v.headline, v.how_sure, v.leader, v.sentences)
    among = _beside_the_leader(asked, basis)
    if v.how_sure is not HowSure.LEVEL or len(among) < 2 or not asked.deciding.ties:
        return plain
    rules = ", then ".join(m.name for k in asked.deciding.ties if (m := measure_of(k)))
    names = {w.key: w.name for w in asked.ways}
    decided = break_tie(asked.deciding.ties, among, basis.measured, names)
    if decided is None:
        none = Sentence(
            f"Nor do the rules for a tie tell them apart: {rules}.",
            "said beforehand, at Ask",
            Stands.MEASURED,
        )
        return Answered(question, v.headline, v.how_sure, v.leader, (*v.sentences, none))
    others = [names[m] for m in among if m != decided.way]
    first = names[decided.way]
    headline = f"Taste cannot tell {_listed([first, *others])} apart; {decided.measure} decides for {first}"
    why = Sentence(
        f"On a tie, as was said beforehand, the first of these that tells them apart decides: {rules}. "
        f"It was {decided.measure}.",
        decided.why,
        Stands.MEASURED,
    )
    return Answered(question, headline, HowSure.LEVEL, decided.way, (why, *v.sentences))


# Of those that cannot be told from the leader, a tie is between the ones about as likely to be the best.
NEARLY_AS_LIKELY = 0.5


def _beside_the_leader(asked: Asked, basis: Basis) -> list[str]:
    """The leader, and whom neither its range nor its chance sets apart from it: between these lies a tie."""
    v = basis.verdict
    if v.leader is None:
        return []
    may = {w.key for w in asked.ways if w.fit}
    least = NEARLY_AS_LIKELY * v.shares.get(v.leader, 0.0)
    found = [v.leader]
    for m in v.contenders:
        r = basis.range(v.leader, m) if m != v.leader else None
        if m in may and r is not None and not r.off_nought and v.shares.get(m, 0.0) >= least:
            found.append(m)
    return found


def _worth(question: Asks, asked: Asked, basis: Basis) -> Answered | None:
    """Flavour for effort: what nothing else beats in both; None where effort is not on record."""
    m = measure_of(asked.deciding.effort)
    v = basis.verdict
    may = {w.key for w in asked.ways if w.fit}
    likes = {k: s for k, s in v.scores.items() if k in may}
    points = frontier(likes, m, basis.measured.get(m.key, {})) if m else []
    if m is None or len(points) < 2:
        return None
    names = {w.key: w.name for w in asked.ways}
    stand = [p for p in points if p.beaten_by is None]
    told = _listed([f"{names[p.way]} ({p.score:.1f}, {m.say(p.effort)})" for p in stand])
    only = stand[0].way if len(stand) == 1 else None
    headline = (
        f"{names[only]} is liked best and takes least: {told}" if only else f"Worth what they take: {told}"
    )
    sentences = [
        Sentence(
            f"{names[p.way]} is beaten by {names[p.beaten_by]}: liked no better, for no less.",
            f"{p.score:.1f} and {m.say(p.effort)}; means of what was tasted and logged",
        )
        for p in points
        if p.beaten_by is not None
    ]
    by_taste = Sentence(f"By taste alone: {_full(v.headline)}", "what was tasted")
    picture = Picture(
        "frontier",
        m.name,
        "score",
        [
            Mark(names[p.way], p.effort, p.score, note=m.say(p.effort), picked=p.beaten_by is None)
            for p in points
        ],
    )
    return Answered(question, headline, v.how_sure, only, (*sentences, by_taste, *v.sentences), picture)


def _full(words: str) -> str:
    """With a stop at its end.

    >>> _full("level"), _full("level.")
    ('level.', 'level.')
    """
    return words if words.endswith(".") else f"{words}."


def _listed(words: list[str]) -> str:
    """Words in a row.

    >>> _listed(["a", "b", "c"])
    'a, b and c'
    """
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)

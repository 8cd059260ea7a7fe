"""A screening: the best few, with all that tie; no claim."""

from collections.abc import Mapping

from yeasty.core.ask.screening import best_few
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, Way


def screening(asked: Asked, _: Basis) -> Answered:
    """M14: words from worst to best; all that stand equal with the last kept are kept. Void and refused
    ways lead nothing.
    """
    words = {w.key: w.word for w in asked.ways if w.word and w.fit}
    chosen, said = best_few(words, asked.words, asked.few)
    rank = {word: n for n, word in enumerate(asked.words)}
    marks = [
        Mark(
            w.name,
            None,
            float(rank[w.word]) if w.word in rank else None,
            note=" · ".join(x for x in (w.word, w.note, "" if w.fit else "may not be recommended") if x),
            picked=w.key in chosen,
        )
        for w in sorted(asked.ways, key=lambda w: (-rank.get(w.word, -1), w.name))
    ]
    judged = sum(1 for w in asked.ways if w.word)
    sentences = [
        Sentence(said[:1].upper() + said[1:], f"{judged} of {len(asked.ways)} ways judged", Stands.SEEN)
    ]
    out = [w.name for w in asked.ways if w.word and not w.fit]
    if out:
        sentences.append(
            Sentence(
                f"Not among them whatever was said: {', '.join(out)}.",
                "void, or refused for safety",
                Stands.MEASURED,
            )
        )
    memory = [w.name for w in asked.ways if w.word and not w.cooked]
    if memory:
        said_of = "all of them" if len(memory) == judged else "; ".join(memory)
        sentences.append(
            Sentence(
                f"Judged from memory or elsewhere, not cooked to the end here: {said_of}.",
                "no cooking of it is in the log",
                Stands.SEEN,
            )
        )
    sentences += _rescues(asked)
    sentences += _families(asked, rank)
    if not chosen:
        return Answered(
            Asks.SCREENING,
            "Nothing to choose from yet: none is judged",
            HowSure.NOT_COMPARABLE,
            None,
            sentences,
            Picture("list", "", "", marks),
        )
    kept = [m.label for m in marks if m.picked]
    listed = "; ".join(kept[:6]) + (f"; and {len(kept) - 6} more" if len(kept) > 6 else "")
    return Answered(
        Asks.SCREENING,
        f"Look closer at: {listed}",
        HowSure.LEVEL,
        None,
        sentences,
        Picture("list", "", "", marks),
    )


def _rescues(asked: Asked) -> list[Sentence]:
    """What came of ways that were given a finish: samples of their own, which lead nothing."""
    own = {w.name: w.word for w in asked.ways}
    return [
        Sentence(
            f"{r.way}, rescued by “{r.finish}”: “{r.word}”"
            + (f", where it was “{own[r.way]}” by itself." if own.get(r.way) else "."),
            "a sample of its own, by the cook; it is not the way’s result and goes on to nothing",
            Stands.SEEN,
        )
        for r in asked.rescued
    ]


def _families(asked: Asked, rank: Mapping[str, int]) -> list[Sentence]:
    """Ways of one family beside one another: how far they went, and which of them went furthest."""
    by: dict[str, list[Way]] = {}
    for w in asked.ways:
        if w.word in rank:
            by.setdefault(w.family, []).append(w)
    found = []
    for family, mine in by.items():
        if len(mine) < 2 or len(by) < 2:
            continue
        ranked = sorted(mine, key=lambda w: rank[w.word])
        worst, best = ranked[0].word, ranked[-1].word
        top = [w.name for w in mine if w.word == best]
        went = f"all “{best}”" if worst == best else f"“{worst}” to “{best}”, furthest {'; '.join(top)}"
        found.append(Sentence(f"{family}: {len(mine)} ways, {went}.", "words given to each", Stands.SEEN))
    return found

"""Does one step matter: how large the difference is, and whether the step may be left out."""

import re

from yeasty.core.decide.nested import LEANING_LEVEL, nested_range
from yeasty.core.decide.outcome import Answered, Asks, HowSure, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, spoken, sure_of

# Steps that keep people safe: however little they change at the table, they are never told as needless.
_KEEPS_SAFE = re.compile(
    r"\b(soak|boil|chill|cool|prick|pierc|vent|wash|rins|rest|hold|thaw|defrost|refrigerat|core|thermomet|drain|"
    r"clean|cover|sterili[sz]|pasteuri[sz]|blanch|reheat)",
    re.IGNORECASE,
)


def keeps_safe(words: str) -> bool:
    """Whether a step by its words may be one that keeps people safe. In doubt it is.

    >>> keeps_safe("soaked overnight"), keeps_safe("pressed flat"), keeps_safe("")
    (True, False, True)
    """
    return not words.strip() or bool(_KEEPS_SAFE.search(words))


def change(asked: Asked, basis: Basis) -> Answered:
    """One thing done or skipped."""
    v = basis.verdict
    pair = [w for w in asked.ways if basis.fit and w.key in basis.fit.means]
    r = basis.range(pair[0].key, pair[1].key) if len(pair) == 2 else None
    if r is None or basis.fit is None:
        return Answered(Asks.CHANGE, v.headline, v.how_sure, None, v.sentences)
    more, less = (pair[0], pair[1]) if r.difference >= 0 else (pair[1], pair[0])
    ahead = basis.range(more.key, less.key) or r
    sure = sure_of(ahead, v)
    sentences = list(v.sentences)
    slipped = ", ".join(asked.slipped)
    if slipped:
        sentences.insert(
            0,
            Sentence(
                f"More than the one thing differed ({slipped}), so no difference may be credited to it.",
                "what differs, at Set up",
                Stands.LAID_OUT,
            ),
        )
    if sure is not HowSure.LEVEL:
        credit = f", but {slipped} differed too" if slipped else ""
        headline = f"It matters: {more.name} is ahead by {spoken(ahead)}{credit}"
        leader = more.key if more.fit else None
        return Answered(Asks.CHANGE, headline, HowSure.LEANING if slipped else sure, leader, sentences)
    near = nested_range(basis.fit, more.key, less.key, LEANING_LEVEL)
    same = asked.matters > 0 and near is not None and -asked.matters < near.low and near.high < asked.matters
    said = asked.change or less.change or more.change
    safe = keeps_safe(said) or keeps_safe(f"{less.name} {more.name}")
    if same and not slipped and not safe:
        headline = f"It can be left out: any difference is under the {asked.matters:g} points that matter"
    elif same:
        headline = f"No difference of the {asked.matters:g} points that matter"
    else:
        headline = "No difference could be shown; that is not the same as none"
    if safe:
        sentences.append(
            Sentence(
                "The step may be one that keeps people safe; what it does at the table says nothing of "
                "that, so it "
                "is not told as one to leave out.",
                "the words of the change",
                Stands.LAID_OUT,
            )
        )
    if not same:
        sentences.append(
            Sentence(
                f"The range goes from {ahead.low:.1f} to {ahead.high:.1f} points: a difference of that "
                f"size may be "
                "there.",
                "people and cookings both counted as chance",
            )
        )
    return Answered(Asks.CHANGE, headline, HowSure.LEVEL, None, sentences)

"""Which way is best: the verdict of the school in front. Also which variety, and which finish of one cook."""

from yeasty.core.decide.outcome import Answered, Asks, Sentence
from yeasty.core.decide.questions.kind import Asked, Basis


def best(_: Asked, basis: Basis) -> Answered:
    """Several ways side by side."""
    v = basis.verdict
    return Answered(Asks.BEST, v.headline, v.how_sure, v.leader, v.sentences)


def varieties(_: Asked, basis: Basis) -> Answered:
    """Several varieties by one way."""
    v = basis.verdict
    return Answered(Asks.VARIETIES, v.headline, v.how_sure, v.leader, v.sentences)


def branch(_: Asked, basis: Basis) -> Answered:
    """Several finishes of one shared cook: what they share cancels, and what is said holds for that cook."""
    v = basis.verdict
    shared = Sentence(
        "All finishes come from the same cook, so how that cook went cancels between them; what is said "
        "holds for "
        "finishes of such a cook, not for other ways of cooking.",
        "as it was laid out",
    )
    return Answered(Asks.BRANCH, v.headline, v.how_sure, v.leader, (*v.sentences, shared))

"""The shipped techniques in the words of whoever asks; what a kitchen wrote itself stays as it wrote it."""

from collections.abc import Mapping
from dataclasses import replace

from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import Technique, techniques
from yeasty.core.publish.dialect import in_words
from yeasty.core.publish.reader import Words
from yeasty.store.kitchen.library import known_techniques

# Over an open fire a grill is a grill on both sides of the sea.
OPEN_FIRE = frozenset({"outdoor_grill", "plank"})


def technique_in_words(t: Technique, words: Words) -> Technique:
    """A technique as somebody says it.

    >>> technique_in_words(techniques()["hob_boil"], Words.AMERICAN).name
    'Stovetop, boil'
    """
    if t.key in OPEN_FIRE or t is not techniques().get(t.key):
        return t
    steps = tuple(replace(s, what=in_words(s.what, words)) for s in t.steps)
    return replace(t, name=in_words(t.name, words), steps=steps)


def known_in_words(db: Session, words: Words) -> Mapping[str, Technique]:
    """All techniques of a kitchen as somebody says them."""
    return {k: technique_in_words(t, words) for k, t in known_techniques(db).items()}

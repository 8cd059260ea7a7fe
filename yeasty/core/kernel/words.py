"""Words that say the same: what differs only in spelling, number or dialect is no difference."""

import re
from functools import cache, lru_cache

# Words that mean one thing at the bench; the first stands for all.
SAME: tuple[tuple[str, ...], ...] = (
    ("hob", "stovetop", "stove top", "cooktop", "stove"),
    ("tin", "cake tin", "loaf pan", "baking tin", "baking pan"),
    ("tray", "baking tray", "sheet", "baking sheet", "sheet pan", "cookie sheet"),
    ("grill", "broiler"),
    ("frying pan", "skillet"),
    ("foil", "aluminium foil", "aluminum foil", "tin foil"),
    ("baking paper", "parchment", "parchment paper"),
    ("cling film", "plastic wrap", "film"),
    ("rack", "wire rack", "cooling rack"),
    ("lid on", "covered", "lid", "with lid", "closed"),
    ("lid off", "uncovered", "open", "no lid", "without lid"),
    ("lid ajar", "half covered", "lid half on", "partly covered"),
    ("fridge", "refrigerator"),
    ("turn", "flip"),
    ("golden", "golden brown"),
)


@cache
def _stands_for() -> dict[str, str]:
    return {_flat(w): _flat(group[0]) for group in SAME for w in group}


def _flat(text: str) -> str:
    words = re.sub(r"[^a-z0-9%°/.,]+", " ", text.lower()).split()
    return " ".join(w[:-1] if len(w) > 3 and w.endswith("s") and not w.endswith("ss") else w for w in words)


@cache
def _phrases() -> tuple[tuple[re.Pattern[str], str], ...]:
    """Phrases that are found within a longer text, longest first: several words, or one that means nothing
    else.
    """
    alone = ("stovetop", "cooktop", "broiler", "skillet", "refrigerator")
    found = sorted((p for p in _stands_for() if " " in p or p in alone), key=len, reverse=True)
    return tuple((re.compile(rf"(?<!\w){re.escape(p)}(?!\w)"), _stands_for()[p]) for p in found)


@lru_cache(maxsize=8192)
def plain(text: str) -> str:
    """A text as it is compared: case, punctuation, plural and dialect taken out.

    >>> plain("Baking Sheet"), plain("trays") == plain("tray"), plain("uncovered") == plain("Lid off")
    ('tray', True, True)
    """
    flat = _flat(text)
    whole = _stands_for().get(flat)
    if whole is not None:
        return whole
    for pattern, word in _phrases():
        flat = pattern.sub(word, flat)
    return flat

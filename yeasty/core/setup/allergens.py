"""The allergens that are told before the first bite.

The list is that of fourteen groups labelled under EU and UK food law, entered from memory: status
*recalled*. A kitchen may name others in words; nothing is ever taken off by the program.
"""

from collections.abc import Iterable

ALLERGENS = (
    "celery",
    "gluten",
    "crustaceans",
    "egg",
    "fish",
    "lupin",
    "milk",
    "molluscs",
    "mustard",
    "peanut",
    "sesame",
    "soya",
    "sulphites",
    "tree nuts",
)


def union(per_ingredient: Iterable[Iterable[str]]) -> tuple[str, ...]:
    """All allergens of a trial's ingredients, sorted. For the whole table, never by method: that would tell
    which is which.

    >>> union([["gluten"], ["milk", "gluten"]])
    ('gluten', 'milk')
    """
    return tuple(sorted({a for names in per_ingredient for a in names}))

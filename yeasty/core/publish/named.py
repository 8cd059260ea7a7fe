"""Ingredients that a step names and the list lacks, and the reverse: shown before anything is out."""

import re
from collections.abc import Iterable, Sequence

from yeasty.core.kernel.words import plain

# What a step boils, steams or washes with is no ingredient that a reader has to buy.
NOT_BOUGHT = frozenset({"water"})


def unmatched(method: str, steps: Sequence[str], listed: Sequence[str], known: Iterable[str]) -> list[str]:
    """Sentences, one for each that does not match; none where steps and list agree.

    Parameters
    ----------
    method : its name; steps : what is done, in words
    listed : its ingredients; known : every ingredient that this kitchen has ever weighed, by which a step's
        words are known for one

    Whether a listed one is named is asked only where steps name ingredients at all: "load the tray" says
    nothing of what lies on it.

    >>> unmatched("Oven", ["Brush with butter", "Scatter the salt"], ["flour", "salt"], ["butter", "salt"])[0]
    'Oven: a step names butter, which is not among its ingredients.'
    """
    words = (plain(re.sub(r"[^\w\s]", " ", s)) for s in steps)
    text = " ".join(f" {w} " for w in words)
    mine = {_head(name): name for name in listed}
    told = {(head, _said(head, text)) for head in map(_head, known)}
    lacking = sorted(
        {
            word
            for head, word in told
            if word and word not in NOT_BOUGHT and not any(_covers(m, head) for m in mine)
        }
    )
    found = [f"{method}: a step names {head}, which is not among its ingredients." for head in lacking]
    silent = [name for head, name in mine.items() if head not in NOT_BOUGHT and not _said(head, text)]
    if len(silent) < len([h for h in mine if h not in NOT_BOUGHT]):
        found += [
            f"{method}: {name} is among its ingredients, and no step says what becomes of it."
            for name in silent
        ]
    return found


def _head(name: str) -> str:
    """What an ingredient is called before what is said of it.

    >>> _head("Turkey, minced")
    'turkey'
    """
    return plain(name.partition(",")[0])


def _said(head: str, text: str) -> str:
    """The words by which a text names it: its own, or the last of them ("the flour"); "" where it does
    not.
    """
    last = head.split()[-1:]
    return next((w for w in (head, *last) if w and f" {w} " in text), "")


def _covers(listed: str, head: str) -> bool:
    """Whether one name holds the other: "strong wheat flour" is a flour."""
    return (
        f" {head} " in f" {listed} "
        or f" {listed} " in f" {head} "
        or listed.split()[-1:] == head.split()[-1:]
    )

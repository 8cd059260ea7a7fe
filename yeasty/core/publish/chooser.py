"""Which one tonight: which of a page's ways fit what a reader has, and why the others do not."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil
from typing import Any

from yeasty.core.ask.deciding import Limit
from yeasty.core.ask.techniques import techniques
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.rules import broken
from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.portions import MOST_PIECES
from yeasty.core.publish.portions import read as read_portion

# What a reader is asked in minutes, by the measure it is held against: at most so many.
ASKED: Mapping[str, str] = {
    "total_s": "Minutes from start to clean",
    "hands_s": "Minutes of your hands",
    "wash_up_s": "Minutes of washing-up",
}
# At least so many.
WAITS, WAITS_NAME = "can_wait_s", "Minutes it has to wait for guests"
PIECES, HAVE = "for", "have"
MOST_MIN = 24 * 60.0


@dataclass(frozen=True)
class Fits:
    """A way tonight: whether it fits, what it breaks, and what is to be known where it fits."""

    name: str
    fits: bool
    why_not: Sequence[str] = ()
    note: str = ""


@dataclass(frozen=True)
class Tonight:
    """What a reader said they have: numbers as they typed them, and kinds of appliance; what fits, and what
    is wrong with what they typed.
    """

    said: Mapping[str, str] | None = None
    have: Collection[str] = ()
    fits: Sequence[Fits] = ()
    wrong: str = ""


def appliances_of(record: Mapping[str, Any]) -> list[str]:
    """Kinds of appliance that any way of a page is cooked with."""
    return sorted({kind for r in record["recipes"] for kind in _needs(r)})


def _needs(recipe: Mapping[str, Any]) -> set[str]:
    """By its steps; and by its technique, since not every step was given an appliance of this kitchen."""
    technique = techniques().get(recipe["technique"])
    of = {technique.appliance_kind} if technique else set()
    return {kind for kind in (*of, *(s["appliance"] for s in recipe["steps"])) if kind}


def called(kind: str) -> str:
    """A kind of appliance as it is said.

    >>> called("air_fryer")
    'air fryer'
    """
    return kind.replace("_", " ")


def tonight(record: Mapping[str, Any], said: Mapping[str, str], have: Collection[str] = ()) -> Tonight:
    """What fits; every cooking of a way has to, and what was not measured does not count as fitting.

    Parameters
    ----------
    record : of this version
    said : key of `ASKED`, `WAITS` or `PIECES` to what was typed; what is empty is not asked for
    have : kinds of appliance there are; empty where nothing was said of that
    """
    typed = {k: said[k].strip()[:20] for k in (*ASKED, WAITS, PIECES) if said.get(k, "").strip()}
    known = [k for k in appliances_of(record) if k in have]
    if not typed and not known:
        return Tonight(dict(said))
    try:
        limits = [Limit(k, at_most=60 * _minutes(ASKED[k], typed[k])) for k in ASKED if k in typed]
        if WAITS in typed:
            limits.append(Limit(WAITS, at_least=60 * _minutes(WAITS_NAME, typed[WAITS])))
        pieces = _pieces(typed.get(PIECES, ""))
    except RuleError as wrong:
        return Tonight(typed, known, (), str(wrong))
    written = {r["tag"]: r for r in record["recipes"]}
    found = []
    for w in record["ways"]:
        by_log = {key: {"it": tuple(values)} for key, values in w["values"].items() if measure_of(key)}
        fits = Fits(w["name"], fits=True, why_not=broken(limits, "it", by_log))
        if w["tag"] in written:
            fits = _with(fits, written[w["tag"]], known, pieces, by_time=any(k in typed for k in ASKED))
        found.append(replace(fits, fits=not fits.why_not))
    return Tonight(typed, known, found)


def _with(
    fits: Fits, recipe: Mapping[str, Any], have: Collection[str], pieces: int | None, *, by_time: bool
) -> Fits:
    why, note = list(fits.why_not), ""
    lacks = sorted(_needs(recipe) - set(have)) if have else []
    if lacks:
        why.append("needs " + " and ".join(called(k) for k in lacks))
    batch = int(recipe["pieces"] or 0)
    rounds = ceil(pieces / batch) if pieces and batch else 1
    if rounds > 1:
        note = f"{batch} at a time: {rounds} rounds"
        if by_time:
            why.append(f"{note}, and how long so many take was not measured")
    return replace(fits, why_not=why, note=note)


def _pieces(typed: str) -> int | None:
    portion = read_portion(typed)
    if portion.wrong:
        raise RuleError("Pieces", f"“{typed}” is no number of pieces", f"Give 1 to {MOST_PIECES}.")
    return portion.pieces


def _minutes(name: str, text: str) -> float:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = -1.0
    if not 0 < value <= MOST_MIN:
        raise RuleError(name, f"“{text}” is no number of minutes", "Give minutes, as 45.")
    return value

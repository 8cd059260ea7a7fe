"""What one person can say: what they liked, cooking by cooking; never a verdict for others."""

from collections.abc import Mapping
from itertools import product
from statistics import fmean

from yeasty.core.decide.outcome import Sentence
from yeasty.core.decide.scores import Table


def cooking_by_cooking(
    first: str, second: str, table: Table, method_of: Mapping[str, str], day_of: Mapping[str, str]
) -> list[float]:
    """How far the first was ahead of the second each time both were cooked: by the day where both stood
    on the table together at least twice, else every cooking of one against every cooking of the other.

    Parameters
    ----------
    table : person and batch to score; all of one person
    day_of : batch to the sitting at which it was tasted, earlier sittings first

    >>> t = {("A", "x1"): 7.0, ("A", "y1"): 6.0, ("A", "x2"): 5.0, ("A", "y2"): 5.5}
    >>> by = {"x1": "x", "x2": "x", "y1": "y", "y2": "y"}
    >>> cooking_by_cooking("x", "y", t, by, {"x1": "mon", "y1": "mon", "x2": "tue", "y2": "tue"})
    [1.0, -0.5]
    >>> cooking_by_cooking("x", "y", t, by, {"x2": "tue", "y2": "tue", "x1": "mon", "y1": "mon"})
    [-0.5, 1.0]
    """
    of: dict[tuple[str, str], list[float]] = {}
    for (_, batch), value in sorted(table.items()):
        of.setdefault((method_of[batch], day_of.get(batch, "")), []).append(value)
    both = {d for m, d in of if m == first} & {d for m, d in of if m == second}
    together = [d for d in dict.fromkeys([*day_of.values(), ""]) if d in both]
    if len(together) > 1:
        return [fmean(of[first, d]) - fmean(of[second, d]) for d in together]
    mine = [v for (m, _), values in sorted(of.items()) if m == first for v in values]
    other = [v for (m, _), values in sorted(of.items()) if m == second for v in values]
    return sorted((a - b for a, b in product(mine, other)), reverse=True)


def one_person(
    names: tuple[str, str], gaps: list[float], *, cookings: int, matters: float, blind: bool
) -> tuple[str, list[Sentence], bool]:
    """The headline, what it stands on, and whether there is a preference at all.

    Parameters
    ----------
    names : who came out ahead, and the next
    gaps : see `cooking_by_cooking`
    cookings : of the one that was tasted of fewer
    matters : the smallest difference that matters [points]; 0 where it is not on the scale

    >>> one_person(("Hill", "Stone"), [0.8, -0.4], cookings=2, matters=0.5, blind=True)[0]
    'One person could not tell Hill from Stone: which was better changed from one cooking to the next.'
    >>> one_person(("Hill", "Stone"), [0.8], cookings=1, matters=0.5, blind=True)[0]
    'One person liked Hill better than Stone, in one cooking: their taste that once, not a verdict.'
    """
    a, b = names
    mean = fmean(gaps)
    if min(gaps) <= 0:
        headline = (
            f"One person could not tell {a} from {b}: which was better changed from one cooking to the next."
            if max(gaps) > 0
            else f"One person scored {a} and {b} alike."
        )
    elif mean < matters:
        headline = f"One person put {a} before {b} by less than the {matters:g} points that matter here."
    elif cookings < 2:
        headline = (
            f"One person liked {a} better than {b}, in one cooking: their taste that once, not a verdict."
        )
    else:
        headline = f"One person liked {a} better than {b} every time: their taste, not a verdict."
    seen = "not knowing which was which" if blind else "knowing which was which"
    times = "of one cooking of each" if cookings < 2 else f"over {cookings} cookings of each"
    told = f"{a} against {b}, {times}, tasted by one person {seen}: {_said(gaps)}."
    sentences = [
        Sentence(told, "one taster"),
        Sentence(
            "It cannot say what others would like, nor how far one answer varies.",
            "two more people, or the same person blind on another day, would begin to",
        ),
    ]
    return headline, sentences, min(gaps) > 0 and mean >= matters


# More than so many are told by their ends.
_ONE_BY_ONE = 4


def _said(gaps: list[float]) -> str:
    """Each gap, or the farthest of them.

    >>> _said([1.0, -0.5]), _said([0.0])
    ('1.0 points ahead, then 0.5 points behind', 'level')
    """

    def one(g: float) -> str:
        return "level" if abs(g) < 0.05 else f"{abs(g):.1f} points {'ahead' if g > 0 else 'behind'}"

    if len(gaps) <= _ONE_BY_ONE:
        return ", then ".join(one(g) for g in gaps)
    return f"from {one(min(gaps))} to {one(max(gaps))}"

"""What would narrow a verdict most: another cooking of each, or more people; as far as its own parts tell."""

from enum import StrEnum
from math import sqrt

from scipy.stats import t as student

from yeasty.core.decide.measured import minutes
from yeasty.core.decide.nested import CLEAR_LEVEL, Fit, batches_pooled

MORE_PEOPLE = 4
# Narrower by less than that share of what is known now is about as much.
WORTH = 0.15
# With fewer degrees of freedom a spread of batches says next to nothing.
FEWEST_DF = 3


class More(StrEnum):
    """What would narrow a range most."""

    COOKINGS = "cookings"
    PEOPLE = "people"
    EITHER = "either"


SAID = {
    More.COOKINGS: "Another cooking tells more than more people would.",
    More.PEOPLE: "More people tell more than another cooking would.",
    More.EITHER: "Either tells about as much.",
}


def half_width(f: Fit, people: int, batches: int) -> float:
    """Half the 95 % range (M1) of a difference between two ways, were each judged by so many people over so
    many cookings and were batch, person by way and single answers as this fit shows them [points].

    It takes two cookings at least. What is left of chance in few cookings is mostly that so few were seen:
    that is in the degrees of freedom.
    """
    k, answer = len(f.means), f.ms_rest if f.f_rest else 0.0
    now = sum(f.batches.values()) / k
    # Below nought where batches lie nearer one another than answers let expect: so the range has it too.
    batch = (batches_pooled(f)[0] - answer) / f.answers_a_batch
    person = (f.ms_person - answer) / now
    ms_batch, ms_person = max(0.0, answer + people * batch), max(0.0, answer + batches * person)
    # Days or loads taken out cost what they tell apart.
    beside = f.f_batch < round(k * (now - 1))
    f_batch = (k - 1 if beside else k) * (batches - 1) + (f.earlier.df if f.earlier else 0)
    f_person = (people - 1) * (k - 1)
    v = max(ms_batch + ms_person - answer, ms_batch, ms_person)
    parts = ms_batch**2 / f_batch + ms_person**2 / f_person
    df = max(1.0, v * v / parts) if parts > 0 else 1.0
    return float(student.ppf(0.5 + CLEAR_LEVEL / 2, df)) * sqrt(2 * v / (people * batches))


def _hardly_known(f: Fit) -> bool:
    """Whether how far cookings lie apart stands on too little to project anything from it."""
    return batches_pooled(f)[1] < FEWEST_DF


def tells_more(f: Fit, first: str, second: str) -> More:
    """Whether one more cooking of each or some more people would narrow the range of two ways more."""
    n, b = min(f.people[first], f.people[second]), min(f.batches[first], f.batches[second])
    if f.f_person == 0 or f.f_batch == 0 or b < 2 or _hardly_known(f):
        return More.COOKINGS
    now, cooked, asked = half_width(f, n, b), half_width(f, n, b + 1), half_width(f, n + MORE_PEOPLE, b)
    if abs(cooked - asked) <= WORTH * now:
        return More.EITHER
    return More.COOKINGS if cooked < asked else More.PEOPLE


def what_next(f: Fit, first: str, second: str, cooking_s: float | None) -> list[str]:
    """How far the range of two ways would narrow, by one more cooking of each and by more people.

    Parameters
    ----------
    cooking_s : what one cooking of each takes from start to clean [s], None where it is not on record
    """
    if f.f_person == 0:
        return []
    n, b = min(f.people[first], f.people[second]), min(f.batches[first], f.batches[second])
    takes = f", about {minutes(cooking_s)}," if cooking_s else ""
    if b < 2 or f.f_batch == 0:
        return [
            f"Cook each once more{takes} before asking more people: with one tasted cooking nothing "
            "tells how far one lies from the next, and no verdict can be clear.",
        ]
    if _hardly_known(f):
        return [
            f"So few cookings hardly show how far one lies from the next: another of each{takes} tells most, "
            "before more people do.",
        ]
    now, cooked, asked = half_width(f, n, b), half_width(f, n, b + 1), half_width(f, n + MORE_PEOPLE, b)
    lines = [
        f"The difference is known to about ± {now:.1f} points.",
        f"One more cooking of each{takes} would make that about ± {cooked:.1f}; {MORE_PEOPLE} more people at "
        f"as many cookings about ± {asked:.1f}, if all stays as it showed here.",
    ]
    lines.append(SAID[tells_more(f, first, second)])
    return lines

"""What would narrow a verdict most: another cooking of each, or more people; as far as its own parts tell."""

from math import sqrt

from yeasty.core.decide.measured import minutes
from yeasty.core.decide.nested import Fit

# Half a 95 % range is about so many standard errors; with few degrees of freedom it is more.
ABOUT = 2.0
MORE_PEOPLE = 4


def half_width(f: Fit, people: float, batches: float) -> float:
    """About half the 95 % range of a difference between two ways, each judged by so many people over so many
    cookings [points]: batch, person by way and single answers each as the fit tells them, batches as the
    kitchen knows or assumes them where these cannot tell.
    """
    own = f.batch_sd
    batch = own**2 if own is not None else (f.usual_sd * f.unit) ** 2
    now = f.answers_a_batch and sum(f.batches.values()) / len(f.batches)
    rest = f.ms_rest if f.f_rest else 0.0
    person = max(0.0, f.ms_person - rest) / max(1.0, now) if f.f_rest else f.per_mean
    return ABOUT * sqrt(2 * (batch / batches + person / people + rest / (people * batches)))


def what_next(f: Fit, first: str, second: str, cooking_s: float | None) -> list[str]:
    """How far the range of two ways would narrow, by one more cooking of each and by more people.

    Parameters
    ----------
    cooking_s : what one cooking of each takes from start to clean [s], None where it is not on record
    """
    if f.f_person == 0:
        return []
    n, b = min(f.people[first], f.people[second]), min(f.batches[first], f.batches[second])
    now = half_width(f, n, b)
    cooked, asked = half_width(f, n, b + 1), half_width(f, n + MORE_PEOPLE, b)
    takes = f", about {minutes(cooking_s)}," if cooking_s else ""
    known = (
        "by how these batches lie"
        if f.batch_sd is not None
        else "by how batches lie in this kitchen"
        if f.earlier
        else "with an assumed spread from batch to batch"
    )
    lines = [
        f"The difference is known to about ± {now:.1f} points now, {known}.",
        f"One more cooking of each{takes} would make it about ± {cooked:.1f}; {MORE_PEOPLE} more people at "
        f"the same cookings about ± {asked:.1f}.",
    ]
    if cooked < asked - 0.05:
        lines.append("Another cooking tells more than more people would.")
    elif asked < cooked - 0.05:
        lines.append("More people tell more than another cooking would, and cost no oven time.")
    else:
        lines.append("Either tells about as much; more people cost no oven time.")
    return lines

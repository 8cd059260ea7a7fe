"""What a panel can find out, before anything is tasted: by the same rules that judge it afterwards."""

from functools import lru_cache

import numpy as np

from yeasty.core.decide.nested import ASSUMED_BATCH_SD, FEWEST_PEOPLE, assumed_range, fit, nested_range
from yeasty.core.taste.dprime import LUCK, power
from yeasty.core.taste.luck import often
from yeasty.core.taste.tests import TESTS, TestKey
from yeasty.core.taste.tests.pairs import can_mean, people

PANELS = 300
# A gap that a kitchen would call plain [points of 0 to 10], and a plain difference for a pair of samples.
PLAIN_GAP, PLAIN_D = 1.5, 1.0


@lru_cache(maxsize=256)
def scored_panels(tasters: int, methods: int, batches: int, gap: float) -> tuple[float, float]:
    """How often a true gap shows as *leaning* or better, and as *clear*, by simulated panels.

    People differ by 1 point, answers by 1, batches by what is assumed where the kitchen has no figure. The
    best method is ahead of all others by `gap`.

    >>> leaning, clear = scored_panels(8, 2, 1, 3.0)
    >>> leaning > 0.8, clear
    (True, 0.0)
    """
    random = np.random.default_rng(20_260_101)
    leans = clears = 0
    keys = [(f"p{i}", f"m{m}b{b}") for i in range(tasters) for m in range(methods) for b in range(batches)]
    method_of = {f"m{m}b{b}": f"m{m}" for m in range(methods) for b in range(batches)}
    for _ in range(PANELS):
        batch = random.normal(0, ASSUMED_BATCH_SD, (methods, batches))
        batch[0] += gap
        raw = (
            random.normal(6, 1, tasters)[:, None, None]
            + batch[None]
            + random.normal(0, 1, (tasters, methods, batches))
        )
        found = fit(dict(zip(keys, map(float, np.clip(raw, 0, 10).ravel()), strict=True)), method_of)
        if found is None:
            return 0.0, 0.0
        first, second = sorted(found.means, key=lambda m: -found.means[m])[:2]
        wide = nested_range(found, first, second)
        is_clear = wide is not None and wide.low > 0 and tasters >= FEWEST_PEOPLE
        clears += is_clear and first == "m0"
        leans += (is_clear or assumed_range(found, first, second).low > 0) and first == "m0"
    return leans / PANELS, clears / PANELS


def can_find(test: TestKey, tasters: int, methods: int, batches: int) -> list[str]:
    """What so many people can find in a round, in sentences.

    Parameters
    ----------
    batches : tasted cookings of each method, the fewest

    >>> can_find(TestKey.TRIANGLE, 8, 2, 1)[1]
    'A plain difference would be found 1 time in 15.'
    """
    if test in LUCK:
        said = [can_mean(tasters, LUCK[test])]
        chance = power(test, PLAIN_D, tasters)
        if chance > 0:
            said.append(f"A plain difference would be found {often(chance)}.")
        return said
    kind = TESTS[test]
    if kind.luck is not None:
        return [can_mean(tasters, kind.luck(methods))]
    if test is TestKey.SCORED and methods > 1:
        return _scored(tasters, methods, batches)
    if test is TestKey.PREFERENCE:
        return ["Fewer than 6 people: no split could mean anything."] if tasters < 6 else []
    return []


def _scored(tasters: int, methods: int, batches: int) -> list[str]:
    if tasters < 2:
        return ["One person alone: what this person liked, with no range and no claim beyond it."]
    leaning, clear = scored_panels(tasters, methods, min(batches, 4), PLAIN_GAP)
    cooked = "one cooking" if batches == 1 else f"{batches} cookings"
    said = [
        f"With {people(tasters)} and {cooked} of each, a best one ahead by {PLAIN_GAP:g} points would show "
        f"as leaning {often(leaning) if leaning > 0 else 'never'}"
        + (f", as clear {often(clear)}." if clear > 0 else ", never as clear.")
    ]
    if batches < 2:
        said.append("Two cookings of each are needed before anything can be clear.")
    if batches < 4:
        said.append("It cannot show that a step may be skipped: that takes at least four cookings of each.")
    return said

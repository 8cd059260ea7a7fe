"""What is taken out before ways are compared: days that lift everything, panels that share no level."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

Floats = NDArray[np.float64]


def beside_days(
    of_batch: Floats, arm: NDArray[np.intp], day: NDArray[np.intp], methods: int, days: int
) -> tuple[Floats, Floats, int] | None:
    """Means of methods, what is left of each batch, and how many numbers that took; None where a day cannot
    be told from the methods that were tasted on it.
    """
    if days == 1:
        mean = np.array([of_batch[arm == m].mean() for m in range(methods)])
        return mean, of_batch - mean[arm], methods
    design = np.zeros((len(of_batch), methods + days - 1))
    design[np.arange(len(of_batch)), arm] = 1
    later = day > 0
    design[np.flatnonzero(later), methods + day[later] - 1] = 1
    if np.linalg.matrix_rank(design) < design.shape[1]:
        return None
    effects = np.linalg.lstsq(design, of_batch, rcond=None)[0]
    shift = np.concatenate([[0.0], effects[methods:]])
    mean = effects[:methods] + float(shift[day].mean())
    return np.asarray(mean, dtype=np.float64), of_batch - design @ effects, design.shape[1]


def panels_of(keys: Sequence[tuple[str, str]]) -> tuple[dict[str, int], dict[str, int]]:
    """Each person, and each batch, to the number of its panel: of one are those between which one gets by
    people who judged two batches, and by batches that two people judged.
    """
    people = {p: n for n, p in enumerate(dict.fromkeys(p for p, _ in keys))}
    batches = {b: n for n, b in enumerate(dict.fromkeys(b for _, b in keys))}
    rows = [people[p] for p, _ in keys]
    columns = [len(people) + batches[b] for _, b in keys]
    size = len(people) + len(batches)
    links = coo_array((np.ones(len(keys)), (rows, columns)), shape=(size, size))
    of = connected_components(links, directed=False)[1].tolist()
    return {p: of[n] for p, n in people.items()}, {b: of[len(people) + n] for b, n in batches.items()}

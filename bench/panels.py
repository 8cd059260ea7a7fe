"""Simulated panels: how often a verdict is wrong about methods that are alike, how often its ranges hold.

    PYTHONPATH=. .venv/bin/python -m bench.panels [panels]

Prints a table a cell: people, methods, batches tasted of each, spread from batch to batch.
"""

import sys
from itertools import product

import numpy as np

from yeasty.core.decide.nested import assumed_range, chances_of_best, could_be_best, fit, nested_range


def panel(
    random: np.random.Generator, people: int, true: np.ndarray, batches: int, spread: float
) -> tuple[dict[tuple[str, str], float], dict[str, str]]:
    """Answers of a panel about methods of these true levels; half points from 0 to 10."""
    k = len(true)
    batch = true[:, None] + random.normal(0, 1, (k, batches)) * spread
    raw = random.normal(6, 1, people)[:, None, None] + batch[None] + random.normal(0, 1, (people, k, batches))
    value = np.clip(np.round(raw * 2) / 2, 0, 10)
    cells = {
        (f"p{i}", f"m{m}b{b}"): float(value[i, m, b])
        for i, m, b in product(range(people), range(k), range(batches))
    }
    return cells, {f"m{m}b{b}": f"m{m}" for m, b in product(range(k), range(batches))}


def alike(panels: int) -> None:
    """Methods that are all alike."""
    print("people methods batches spread   clear leaning   range holds")
    for people, k, batches, spread in product((4, 6, 8, 12), (2, 4), (1, 2, 3), (0.0, 0.6, 1.0)):
        random = np.random.default_rng(people * 1000 + k * 100 + batches * 10)
        clear = lean = held = 0
        for _ in range(panels):
            f = fit(*panel(random, people, np.zeros(k), batches, spread))
            assert f is not None
            first, second = sorted(f.means, key=lambda m: -f.means[m])[:2]
            wide, named = nested_range(f, first, second), nested_range(f, "m0", "m1")
            clear += wide is not None and wide.low > 0
            held += named is not None and named.low <= 0 <= named.high
            lean += assumed_range(f, first, second).low > 0
        told = f"{held / panels:6.3f}" if batches > 1 else "     -"
        cell = f"{people:6d} {k:7d} {batches:7d} {spread:6.1f}"
        print(f"{cell}  {clear / panels:6.3f} {lean / panels:7.3f}  {told}")


def best(panels: int) -> None:
    """Chance of being best, said against how often it was so; and whether the best was kept."""
    random, said, kept = np.random.default_rng(9), dict[int, list[bool]](), 0
    for _ in range(panels):
        tau = random.choice([0.25, 0.5, 1, 1.5])
        spread = random.choice([0.2, 0.4, 0.6, 0.9], p=[0.2, 0.3, 0.3, 0.2])
        true = random.normal(0, tau, 4)
        f = fit(*panel(random, 8, true, 1, spread))
        assert f is not None
        winner = f"m{int(true.argmax())}"
        for m, p in chances_of_best(f, list(f.means)).items():
            said.setdefault(min(9, int(p * 10)), []).append(m == winner)
        kept += winner in could_be_best(f, list(f.means))
    print("\nsaid        was so     of")
    for tenth, rows in sorted(said.items()):
        print(f"{tenth / 10:.1f} to {tenth / 10 + 0.1:.1f}  {sum(rows) / len(rows):6.3f}  {len(rows):6d}")
    print(f"the best was kept among those that could be in {kept / panels:.3f}")


if __name__ == "__main__":
    how_many = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    alike(how_many)
    best(how_many)

"""Planning problems to measure on: made by a generator, kept as files, the same for every way of planning.

    python bench/instances.py        # writes bench/instances/*.json

A method has nine steps or so (preheat, prepare, load, cook with a turn, out, rest, plate) with lengths drawn
from what kitchens do; appliances are an oven shared by two set points, a hob of four rings, and single ones
on two circuits. The window is fixed and wide enough for a few minutes of difference.
"""

import json
import sys
from dataclasses import asdict
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from yeasty.core.cook.problem import Chain, Place, Problem, problem_from_record
from yeasty.core.kernel.steps import Attention, Phase, Step

FOLDER = Path(__file__).parent / "instances"
SERVE = 1_800_000_000.0
PLACES = (
    Place("oven", "Oven", "oven wall", 24, 1, "A", 3000, 20.0),
    Place("air", "Air fryer", "bench", 12, 1, "B", 1700),
    Place("deep", "Deep fryer", "hood", 12, 1, "B", 1800),
    Place("press", "Pressure cooker", "bench", 12, 1, "A", 1000),
    Place("micro", "Microwave", "bench", 12, 1, "B", 1250),
    Place("hob", "Hob", "hood", None, 4, "C", 7200),
)


def problem(methods: int, people: int, seed: int, window_min: float = 15) -> Problem:
    """An instance; the same numbers give the same instance."""
    rng = Random(seed * 1000 + methods * 10 + people)
    chains = []
    for n in range(methods):
        place = PLACES[n % len(PLACES)]
        point = rng.choice((180.0, 200.0)) if place.key == "oven" else float(rng.choice((160, 170, 180)))
        minutes = rng.choice((8, 12, 15, 20, 25, 35))
        watched = place.key == "deep" or (place.key == "hob" and rng.random() < 0.5)
        cook = Attention.WATCHED if watched else Attention.FREE
        rows = [
            ("Prepare", Attention.HANDS, Phase.PREPARE, rng.randint(60, 240), {}),
            ("Shape", Attention.HANDS, Phase.PREPARE, rng.randint(60, 180), {}),
            (
                "Heat up",
                cook,
                Phase.COME_UP,
                rng.randint(180, 780),
                {"appliance": place.key, "set_point_c": point},
            ),
            ("Load", Attention.HANDS, Phase.LOAD, rng.randint(30, 90), {}),
            ("Cook", cook, Phase.COOK, minutes * 60, {"appliance": place.key, "set_point_c": point}),
            (
                "Turn",
                Attention.HANDS,
                Phase.TURN,
                rng.randint(20, 60),
                {"during_offset_s": float(minutes * 30)},
            ),
            ("Take out", Attention.HANDS, Phase.OUT, rng.randint(30, 60), {}),
            ("Rest", Attention.FREE, Phase.WAIT, rng.choice((120, 240, 300, 600)), {}),
            ("Plate", Attention.HANDS, Phase.PLATE, rng.randint(40, 90), {}),
        ]
        steps = tuple(
            Step(f"{n}-{i}", what, who, phase, float(length), **more)
            for i, (what, who, phase, length, more) in enumerate(rows)
        )
        chains.append(Chain(f"m{n}", f"{chr(65 + n // 10)}{n % 10}", steps, pieces=6))
    return Problem(
        tuple(chains),
        SERVE,
        SERVE + window_min * 60,
        people,
        (),
        None,
        PLACES,
        (("A", 4600.0), ("B", 3300.0)),
    )


def read(path: Path) -> Problem:
    """An instance from its file."""
    return problem_from_record(json.loads(path.read_text()))


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for methods in (3, 5, 8, 12, 16, 24):
        for people in (1, 2):
            for seed in (1, 2, 3) if methods <= 8 else (1,):
                window = 15 if methods <= 8 else 15 + 2 * methods
                path = FOLDER / f"m{methods:02d}-p{people}-s{seed}.json"
                path.write_text(
                    json.dumps(asdict(problem(methods, people, seed, window)), indent=0, default=str) + "\n"
                )
                assert read(path) == problem(methods, people, seed, window)
    print(f"{len(list(FOLDER.glob('*.json')))} instances in {FOLDER}")


if __name__ == "__main__":
    main()

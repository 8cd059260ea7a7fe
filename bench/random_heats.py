"""Random methods of one to four heats through shared appliances, planned and checked: `python -m
bench.random_heats [count]`.

The plans of a run depend on its seeds alone: the solver's own work is counted, not the clock.
"""

import sys
import time
from collections import Counter
from random import Random

from yeasty.core.cook.plan import solve
from yeasty.core.cook.plan_check import violations
from yeasty.core.cook.plan_kept import broken
from yeasty.core.cook.problem import Chain, Place, Problem
from yeasty.core.cook.waits import wait_limits, wait_rules
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step

SERVE = 1_000_000.0
PLACES = (
    Place("oven", "Oven", "wall", capacity=18, circuit="A", input_w=2800, change_s_per_k=6, fall_s_per_k=12),
    Place(
        "air", "Air fryer", "counter", capacity=6, circuit="B", input_w=1700, change_s_per_k=3, fall_s_per_k=6
    ),
    Place("steam", "Steamer", "hob", capacity=12, circuit="B", input_w=1400),
    Place("hob", "Hob", "hob", rings=4, circuit="A", input_w=5000),
    Place(
        "deep", "Deep fryer", "yard", capacity=8, circuit="B", input_w=1800, change_s_per_k=6, fall_s_per_k=30
    ),
)
LIMITS_W = (("A", 7000.0), ("B", 3400.0))
SET_POINTS = {
    "oven": (120, 180, 200, 230),
    "air": (160, 180, 200),
    "steam": (100,),
    "hob": (None,),
    "deep": (150, 175),
}


def chain(random: Random, name: str, heats: int, food: str) -> Chain:
    """A method of so many heats, one after another, through appliances of the kitchen; some turn the dial
    with the food in it.
    """
    steps: list[Step] = []

    def add(what: str, attention: Attention, phase: Phase, seconds: float, **more: object) -> None:
        steps.append(Step(f"{name}{len(steps)}", what, attention, phase, seconds, **more))

    add("Shape", Attention.HANDS, Phase.PREPARE, random.choice((60, 120, 300)))
    if random.random() < 0.2:
        add("Stand", Attention.FREE, Phase.PREPARE, 600, longest_s=random.choice((900.0, 1800.0)))
    for n in range(heats):
        place = random.choice(PLACES)
        point = random.choice(SET_POINTS[place.key])
        if random.random() < 0.7:
            attention = Attention.WATCHED if place.key == "deep" else Attention.FREE
            add(
                f"Heat {place.name}",
                attention,
                Phase.COME_UP,
                random.choice((240, 600, 900)),
                appliance=place.key,
                set_point_c=point,
            )
        add(f"Into {place.name}", Attention.HANDS, Phase.LOAD, random.choice((30, 60)))
        longest = random.choice((None, None, 300.0))
        seconds = random.choice((300, 600, 900, 1500))
        end = {"end_rule": EndRule.CUE, "end_cue": "brown", "longest_s": seconds + longest} if longest else {}
        attention = Attention.WATCHED if place.key == "deep" else Attention.FREE
        add(f"Cook {n + 1}", attention, Phase.COOK, seconds, appliance=place.key, set_point_c=point, **end)
        if random.random() < 0.25 and len(SET_POINTS[place.key]) > 1:
            turned = random.choice([p for p in SET_POINTS[place.key] if p != point])
            add(
                f"Cook {n + 1}, turned",
                attention,
                Phase.COOK,
                random.choice((300, 600)),
                appliance=place.key,
                set_point_c=turned,
            )
        add("Out", Attention.HANDS, Phase.OUT, random.choice((30, 45)))
        if n + 1 == heats or (food in ("plant", "baked") and random.random() < 0.4):
            add("Rest", Attention.FREE, Phase.WAIT, random.choice((60, 120, 300)))
    add("Plate", Attention.HANDS, Phase.PLATE, random.choice((30, 60)))
    found = tuple(steps)
    limit = random.choice((None, None, 600.0, 1200.0))
    return Chain(name, name.upper(), found, random.choice((4, 6, 8)), limit, "", wait_limits(found, food))


def kitchen(seed: int) -> Problem:
    """A shift of one to five such methods."""
    random = Random(seed)
    food = random.choice(sorted(wait_rules()))
    chains = tuple(chain(random, f"m{i}", random.randint(1, 4), food) for i in range(random.randint(1, 5)))
    return Problem(
        chains,
        SERVE,
        SERVE + random.choice((300, 900, 2700)),
        random.choice((1, 1, 2)),
        places=PLACES,
        limits_w=LIMITS_W,
        walk_s=random.choice((0.0, 15.0)),
        same_age=random.random() < 0.2,
        leave_room=random.random() < 0.7,
    )


def judged(seed: int, work: float = 3.0) -> tuple[list[str], list[str]]:
    """Rules that the plan of a seed breaks, and limits that it breaks and does not name."""
    problem = kitchen(seed)
    plan = solve(problem, work, seed, steady=True)
    unsaid = [b.sentence for b in broken(problem, plan.items) if b.sentence not in plan.notes]
    return violations(problem, plan.items), unsaid


def main(count: int) -> None:
    """Plan so many kitchens and say what was found."""
    began, wrong, told = time.monotonic(), [], Counter[str]()
    for seed in range(count):
        rules, unsaid = judged(seed)
        told["rules broken"] += bool(rules)
        told["limits broken and not named"] += bool(unsaid)
        if rules or unsaid:
            wrong.append((seed, rules, unsaid))
    print(f"{count} kitchens, {time.monotonic() - began:.0f} s: {dict(told)}")
    for row in wrong[:10]:
        print(row)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)

"""Ways of planning on the kept instances: per rank value, bound and proof; holds; time; every plan held
against the checker.

    python bench/plan.py [seconds for each plan]

Against: the backward pass, and a greedy list schedule (batches by longest job first, each placed whole as
late as its resources allow).
"""

import os
import platform
import statistics
import sys
import time
from dataclasses import replace
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from bench.instances import FOLDER, read
from yeasty.core.cook.backward import backward_pass
from yeasty.core.cook.blocks import blocks_of
from yeasty.core.cook.plan import solve
from yeasty.core.cook.plan_check import violations
from yeasty.core.cook.problem import Plan, Problem


def list_schedule(problem: Problem) -> Plan:
    """Longest job first, each batch planned by the backward pass against those before it as if begun."""
    order = sorted(problem.chains, key=lambda c: -sum(b.length for b in blocks_of(c)))
    done: list[Plan] = []
    fixed = []
    for chain in order:
        plan = backward_pass(replace(problem, chains=(chain,), fixed=tuple(fixed)))
        fixed.append((chain, plan.items))
        done.append(plan)
    items = tuple(sorted((p for d in done for p in d.items), key=lambda p: (p.start, p.batch, p.step)))
    holds = tuple(h for d in done for h in d.holds)
    return Plan(
        items,
        tuple(s for d in done for s in d.served),
        holds,
        max(h for _, h in holds),
        "not proven best",
        (),
    )


def outside(problem: Problem, plan: Plan) -> float:
    return sum(max(0.0, problem.serve_from - t, t - problem.serve_until) for _, t in plan.served)


def main() -> None:
    limit = float(sys.argv[1]) if len(sys.argv) > 1 else 10.0
    print(
        f"{platform.machine()}, {os.cpu_count()} cores, Python {platform.python_version()}; load "
        f"{os.getloadavg()[0]:.1f}; at most {limit:g} s a plan"
    )
    print(
        f"{'instance':<12}{'way':<10}{'outside s':>10}{'longest hold s':>15}{'spread s':>9}{'time s':>8}  "
        f"ranks (value, bound, proven) or rules broken"
    )
    replans: list[float] = []
    quick: list[tuple[float, bool]] = []
    for path in sorted(FOLDER.glob("*.json")):
        problem = read(path)
        for way, act in (
            ("backward", lambda p: backward_pass(p)),
            ("list", list_schedule),
            ("solver", lambda p: solve(p, limit, 1)),
        ):
            began = time.perf_counter()
            plan = act(problem)
            took = time.perf_counter() - began
            broken = violations(problem, plan.items)
            holds = [h for _, h in plan.holds]
            told = "; ".join(
                f"{r.name} {r.value:.0f}{'' if r.proven else f' ≥ {r.bound:.0f}'}{' ✓' if r.proven else ''}"
                for r in plan.ranks[:5]
                if r.name != "earliest start"
            )
            if way == "solver":
                assert not broken, broken[:3]
            print(
                f"{path.stem:<12}{way:<10}{outside(problem, plan):>10.0f}{max(holds):>15.0f}{max(holds) - min(holds):>9.0f}{took:>8.2f}  {told or f'{len(broken)} broken'}"  # noqa: E501
            )
        if path.stem.startswith("m08"):
            began = time.perf_counter()
            short = solve(problem, 2.0, 1)
            proven = {r.name for r in short.ranks if r.proven}
            quick.append(
                (time.perf_counter() - began, {"longest hold", "difference between holds"} <= proven)
            )
            now = min(p.start for p in plan.items) + 600
            begun = {p.batch for p in plan.items if p.start < now}
            again = replace(
                problem,
                chains=tuple(c for c in problem.chains if c.batch not in begun),
                not_before=now,
                before=plan.items,
                fixed=tuple(
                    (c, tuple(p for p in plan.items if p.batch == c.batch))
                    for c in problem.chains
                    if c.batch in begun
                ),
            )
            began = time.perf_counter()
            solve(again, 1.0, 1)
            replans.append(time.perf_counter() - began)
    if quick:
        print(
            f"8 methods with 2 s for the whole plan: holds proven best in {sum(p for _, p in quick)} of "
            f"{len(quick)}, {min(t for t, _ in quick):.1f} to {max(t for t, _ in quick):.1f} s"
        )
    if replans:
        print(
            f"planned again, 8 methods, after ten minutes: median {statistics.median(replans):.2f} s of "
            f"{len(replans)}"
        )


if __name__ == "__main__":
    main()

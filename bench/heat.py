"""Core-temperature curves by series and by finite volumes against scipy's solver at the same accuracy, and
the live fit.

Thousands of curves of 200 times each; `solve_ivp` on a sample of 20, as a ratio per curve in one run. Medians
of three. Bounded: about two minutes. Run: PYTHONPATH=. .venv/bin/python bench/heat.py [curves]
"""

import platform
import resource
import statistics
import sys
import time
from collections.abc import Callable

import numpy as np
from scipy.integrate import solve_ivp

from yeasty.core.heat.candidates import Known
from yeasty.core.heat.conduction import centre_temperature
from yeasty.core.heat.finite_volumes import _axis, centre_curves
from yeasty.core.heat.fitting import fit_log, time_to

TIMES = 200
SAMPLE = 20
# Steps between two times, so that the sudden start is met as well as the solver meets it.
SUBSTEPS = 3
TIGHT_CELLS = 160
START, AROUND, K = 5.0, 180.0, 0.5


def pieces(many: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Half thickness, surface coefficient and diffusivity of many pieces; the same every time."""
    rng = np.random.default_rng(1)
    return rng.uniform(0.01, 0.04, many), rng.uniform(15, 400, many), rng.uniform(1.2e-7, 1.6e-7, many)


def by_solver(
    half: float, h: float, alpha: float, times: np.ndarray, cells: int, tight: bool = False
) -> np.ndarray:
    """One curve by the method of lines and an implicit solver of scipy, the same cells as the finite
    volumes.
    """
    axis = _axis("sphere", cells)
    rate = alpha / half**2
    between = axis.face / axis.gap * rate
    inner = K / (half * axis.last_gap)
    outer = h * inner / (h + inner) * axis.surface * rate * half / K / axis.volume[-1]

    def slope(_: float, t: np.ndarray) -> np.ndarray:
        flow = between * np.diff(t)
        d = np.zeros_like(t)
        d[:-1] += flow / axis.volume[:-1]
        d[1:] -= flow / axis.volume[1:]
        d[-1] += outer * (AROUND - t[-1])
        return d

    # Tolerances by which its curve lies as near to the series as the finite volumes do (printed below).
    got = solve_ivp(
        slope,
        (0, times[-1]),
        np.full(cells, START),
        method="LSODA",
        t_eval=times,
        rtol=1e-7 if tight else 1e-4,
        atol=1e-6 if tight else 1e-2,
        lband=1,
        uband=1,
    )
    return np.asarray(axis.centre[0] * got.y[0] + axis.centre[1] * got.y[1])


def per_curve(work: Callable[[], object], curves: int) -> float:
    """Median of three runs, in milliseconds a curve."""
    seconds = []
    for _ in range(3):
        began = time.perf_counter()
        work()
        seconds.append(time.perf_counter() - began)
    return 1000 * statistics.median(seconds) / curves


def main() -> None:
    """Print the machine, the errors, milliseconds a curve and the ratios."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    half, h, alpha = pieces(many)
    times = np.linspace(0, 3600, TIMES)
    cells = 40
    exact = centre_temperature(
        "sphere", half[:SAMPLE, None], times, START, AROUND, h[:SAMPLE, None], K, alpha[:SAMPLE, None]
    )
    volumes = centre_curves(
        "sphere",
        half[:SAMPLE],
        times,
        START,
        AROUND,
        h[:SAMPLE, None],
        K,
        alpha[:SAMPLE],
        cells=cells,
        substeps=SUBSTEPS,
    )
    solver = np.array([by_solver(half[i], h[i], alpha[i], times, cells) for i in range(SAMPLE)])
    print(
        f"{platform.machine()}, Python {platform.python_version()}, numpy {np.__version__}; {many} curves "
        f"of {TIMES} times"
    )
    print(
        f"largest error against the series: finite volumes {np.abs(volumes - exact).max():.3f} K, "
        f"solve_ivp {np.abs(solver - exact).max():.3f} K"
    )
    tight = np.array([by_solver(half[i], h[i], alpha[i], times, TIGHT_CELLS, True) for i in range(SAMPLE)])
    print(
        f"the solver made tight, {TIGHT_CELLS} cells: {np.abs(tight - exact).max():.4f} K (the series is "
        f"exact to rounding)"
    )
    series_ms = per_curve(
        lambda: centre_temperature(
            "sphere", half[:, None], times, START, AROUND, h[:, None], K, alpha[:, None]
        ),
        many,
    )
    volumes_ms = per_curve(
        lambda: centre_curves("sphere", half, times, START, AROUND, h[:, None], K, alpha, cells=cells), many
    )
    solver_ms = per_curve(
        lambda: [by_solver(half[i], h[i], alpha[i], times, cells) for i in range(SAMPLE)], SAMPLE
    )
    print(
        f"a curve: series {series_ms:.3f} ms, finite volumes {volumes_ms:.3f} ms, solve_ivp "
        f"{solver_ms:.1f} ms"
    )
    tight_ms = per_curve(
        lambda: [by_solver(half[i], h[i], alpha[i], times, TIGHT_CELLS, True) for i in range(SAMPLE)], SAMPLE
    )
    print(f"against the tight solver ({tight_ms:.0f} ms): series {tight_ms / series_ms:.0f} times as fast")
    print(
        f"ratios: series {solver_ms / series_ms:.0f} times, finite volumes {solver_ms / volumes_ms:.0f} "
        f"times as fast as solve_ivp"
    )
    t = np.arange(2000.0)
    log = centre_temperature("sphere", 0.025, t * 0.4, 8, 170, 30, 0.5, 1.4e-7) + np.random.default_rng(
        2
    ).normal(0, 0.3, 2000)
    fit_log(t, log, Known(170, shape="sphere"))
    for words, known in (
        ("shape and surroundings known", Known(170, shape="sphere")),
        ("surroundings known", Known(170)),
        ("wet surface", Known(170, wet=True, shape="sphere")),
    ):
        ms = per_curve(lambda known=known: fit_log(t, log, known), 1)
        print(f"live fit of 2000 readings, {words}: {ms:.0f} ms")
    ready = time_to(fit_log(t, log, Known(170, shape="sphere")), 80)
    print(f"its answer: {ready.at_s:.0f} s ({ready.low_s:.0f} to {ready.high_s:.0f})")
    print(f"peak memory {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


if __name__ == "__main__":
    main()

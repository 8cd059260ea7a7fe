"""Simulated probe logs, by another model than the one that is fitted: finite volumes, a chamber that cycles,
a probe off centre with a lag, noise and missing readings. Knowledge is that of a kitchen: a half thickness by
ruler, properties from composition, a dial corrected by a measured offset.
"""

from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from yeasty.core.heat.candidates import Known
from yeasty.core.heat.conduction import Shape
from yeasty.core.heat.finite_volumes import centre_curves


@dataclass(frozen=True)
class Case:
    """One cook: its log, what is known, the target and when its place in the food truly reaches it [s]."""

    times: NDArray[np.float64]
    core: NDArray[np.float64]
    known: Known
    chamber: NDArray[np.float64] | None
    target_c: float
    true_s: float

    def until(self, share: float) -> tuple[NDArray[np.float64], NDArray[np.float64], Known]:
        """The log and what is known when a share of the cook has run."""
        kept = self.times <= share * self.true_s
        known = self.known
        if self.chamber is not None:
            known = replace(known, ambient_c=float(self.chamber[kept].mean()), ambient_measured=True)
        return self.times[kept], self.core[kept], known


@cache
def cases(each: int, seed: int) -> tuple[Case, ...]:
    """`each` cooks of every shape; half of them with a probe in the chamber, half with a dial to go by."""
    rng = np.random.default_rng(seed)
    found: list[Case] = []
    shapes: tuple[Shape, ...] = ("slab", "cylinder", "sphere")
    for shape in shapes:
        half, k = rng.uniform(0.012, 0.045, each), rng.uniform(0.35, 0.55, each)
        alpha, h = rng.uniform(1.15e-7, 1.6e-7, each), np.exp(rng.uniform(np.log(15), np.log(400), each))
        ambient, start = rng.uniform(95, 220, each), rng.uniform(2, 25, each)
        target = rng.uniform(65, np.minimum(95, start + 0.8 * (ambient - start)))
        t = (
            np.linspace(0, 1, 1400)[None, :]
            * (half**2 / alpha * (0.35 + 1.2 / (h * half / k)) * 4.4)[:, None]
        )
        swing, period, phase = (
            rng.uniform(2, 9, each),
            rng.uniform(150, 420, each),
            rng.uniform(0, 6.28, each),
        )
        air = ambient[:, None] + swing[:, None] * np.sign(
            np.sin(2 * np.pi * t / period[:, None] + phase[:, None])
        )
        place = rng.uniform(0, 0.35, each)
        food = centre_curves(shape, half, t, start, air, h[:, None], k, alpha, position=place, cells=40)
        for i in range(each):
            if food[i].max() < target[i]:
                continue
            at = int(np.flatnonzero(food[i] >= target[i])[0])
            true_s = float(np.interp(target[i], food[i][at - 1 : at + 1], t[i][at - 1 : at + 1]))
            times = np.arange(0.0, true_s, 5.0)
            told = np.interp(times, t[i], food[i])
            keep = np.exp(-5.0 / rng.uniform(4, 15))
            for n in range(1, len(told)):
                told[n] = keep * told[n - 1] + (1 - keep) * told[n]
            core = told + rng.normal(0, 0.3, len(told))
            core[rng.random(len(core)) < 0.1] = np.nan
            known = Known(
                ambient_c=float(ambient[i] + rng.normal(0, 6)),
                half_thickness_m=float(half[i] * np.exp(rng.normal(0, 0.05))),
                diffusivity=float(alpha[i] * np.exp(rng.normal(0, 0.1))),
                shape=shape,
            )
            chamber = np.interp(times, t[i], air[i]) + rng.normal(0, 0.5, len(times)) if i % 2 else None
            found.append(Case(times, core, known, chamber, float(target[i]), true_s))
    return tuple(found)

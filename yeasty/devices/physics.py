"""What a batch goes through, worked out from its steps: food that heats and cools, a chamber that cycles,
mains that are drawn.

Made to be read by stand-ins; the models are those of `yeasty.core.heat`, with other constants than a forecast
takes, so that forecasts are not told their own answer.
"""

from collections.abc import Mapping
from copy import deepcopy
from dataclasses import dataclass, field
from math import exp, pi, sin
from random import Random
from typing import Any, cast

import numpy as np

from yeasty.core.heat.conduction import Shape
from yeasty.core.heat.finite_volumes import Body
from yeasty.core.heat.properties import ingredients, mean_properties, surface_coefficients
from yeasty.core.kernel.techniques import physics_of

CELLS = 14
ROOM_C = 21.0
# A thermostat lets the chamber swing in so long [s].
SWING_S = 210.0
# In air the surface of wet food stays near the wet bulb and then near boiling: never more than this above it
# [°C].
WET_LIMIT_C = 100.0
# Food under microwaves warms all through at about this [K/s], less as it nears boiling.
MICROWAVE_K_S = 0.45


def _coefficient(technique: str) -> float:
    """Usual surface coefficient [W/m²K]; an oven's where none is known."""
    known = surface_coefficients()
    return (known.get(technique) or known["oven"]).typical


class Piece:
    """One piece of food, heated and cooled from outside or all through."""

    def __init__(self, shape: str, thickness_m: float, food: str, start_c: float, random: Random) -> None:
        known = shape if shape in ("slab", "cylinder", "sphere") else "sphere"
        k, alpha = 0.5, 1.4e-7
        if food in ingredients():
            p = mean_properties(ingredients()[food][1], max(0.0, start_c), 80.0)
            k, alpha = p.conductivity, p.diffusivity
        # No two pieces are alike: a tenth more or less of both size and property.
        half = max(0.002, thickness_m / 2) * random.uniform(0.94, 1.06)
        self._body = Body(
            cast(Shape, known),
            np.array([half]),
            np.array([k]),
            np.array([alpha * random.uniform(0.92, 1.08)]),
            CELLS,
        )
        self.cells = np.full(CELLS, float(start_c))

    def pass_time(
        self, seconds: float, around_c: float, h: float, wet: bool, all_through_k_s: float = 0.0
    ) -> None:
        """Let it stand in surroundings for so long; `all_through_k_s` is what microwaves add [K/s]."""
        left = seconds
        while left > 1e-9:
            dt = min(left, 5.0)
            b = self._body
            to_air = float(b.to_air(np.array([h]))[0])
            # Whatever evaporates at a wet surface is not conducted inwards: it feels the wet limit rather
            # than the air.
            felt = min(around_c, WET_LIMIT_C) if wet and around_c > WET_LIMIT_C else around_c
            matrix = (
                np.diag(1 + dt * (b.lower[:, 0] + b.upper[:, 0]))
                - dt * np.diag(b.lower[1:, 0], -1)
                - dt * np.diag(b.upper[:-1, 0], 1)
            )
            flux = dt * float(b.per_flux[0]) / float(b.axis.volume[-1]) * to_air
            matrix[-1, -1] += flux
            right = self.cells + dt * all_through_k_s * np.maximum(0.0, (99.0 - self.cells) / 80.0)
            right[-1] += flux * felt
            self.cells = np.linalg.solve(matrix, right)
            left -= dt

    @property
    def core_c(self) -> float:
        """Temperature in the middle [°C]."""
        return float(self._body.centre(self.cells[:, None])[0])

    @property
    def surface_c(self) -> float:
        """Temperature of the outermost layer [°C]."""
        return float(self.cells[-1])


@dataclass
class Chamber:
    """An appliance from inside: it lags behind its set point, swings about it, and cools by itself."""

    kind: str
    offset_k: float
    tau_s: float
    celsius: float = ROOM_C
    on_for_s: float = 0.0

    def pass_time(self, seconds: float, target_c: float | None) -> None:
        """Let so long go by with a set point, or off."""
        goal = ROOM_C if target_c is None else target_c + self.offset_k
        tau = self.tau_s if target_c is not None else 4 * self.tau_s
        # Full power heats beyond the goal: a first-order lag towards a hotter end, cut off at the goal by the
        # thermostat.
        end = goal + 0.45 * (goal - ROOM_C) if target_c is not None and self.celsius < goal - 2 else goal
        self.celsius += (end - self.celsius) * (1 - exp(-seconds / tau))
        if target_c is not None:
            self.celsius = min(self.celsius, goal) if end > goal else self.celsius
            self.on_for_s += seconds

    def reads(self) -> float:
        """What a probe in it reads [°C]."""
        swing = physics_of(self.kind).swing_k
        return self.celsius + swing * sin(2 * pi * self.on_for_s / SWING_S)


@dataclass
class SimulatedBatch:
    """A batch with its piece and what surrounds it; `advance` takes what the bench says is going on."""

    technique: str
    facts: Mapping[str, Any]
    seed: int
    tau_s: float = 240.0
    offset_k: float = 0.0
    # How fast food warms beside the model, in the heat: see `keep_to`.
    pace: float = 1.0
    piece: Piece = field(init=False)
    chamber: Chamber = field(init=False)
    weight_kg: float = field(init=False)

    def __post_init__(self) -> None:
        random = Random(self.seed)
        start = self.facts.get("start_c")
        self.piece = Piece(
            str(self.facts.get("shape") or "sphere"),
            float(self.facts.get("thickness_m") or 0.04),
            str(self.facts.get("food") or ""),
            float(start if start is not None else 8.0),
            random,
        )
        self.chamber = Chamber(self.technique, self.offset_k + random.uniform(-3, 3), self.tau_s)
        self.weight_kg = float(self.facts.get("batch_kg") or 0.36) * random.uniform(0.98, 1.02)

    def keep_to(self, end_c: float, seconds: float, set_point_c: float | None, longest_s: float) -> None:
        """From now on reach a core in about the time that was planned, a twentieth more or less as food is:
        what is rehearsed is the plan, not the model. Left alone where the model does not reach it within
        `longest_s` [s].
        """
        random = Random(self.seed + 1)
        trial = deepcopy(self)
        trial.chamber.celsius = set_point_c or physics_of(self.technique).around_c or 180.0
        passed = 0.0
        while trial.piece.core_c < end_c:
            if passed >= longest_s:
                return
            trial.advance(30.0, True, True, set_point_c)
            passed += 30.0
        if passed and seconds > 0:
            self.pace = passed / seconds * random.uniform(0.95, 1.05)

    def advance(self, seconds: float, heating: bool, in_heat: bool, set_point_c: float | None) -> None:
        """Let so long go by: whether the appliance is on, whether the food is in it, and its set point
        [°C].
        """
        usual = physics_of(self.technique).around_c or 180.0
        goal = set_point_c if set_point_c is not None else usual
        left = seconds
        while left > 1e-9:
            dt = min(left, 10.0)
            self.chamber.pass_time(dt, goal if heating else None)
            if in_heat and physics_of(self.technique).all_through:
                self.piece.pass_time(
                    dt * self.pace, ROOM_C + 10, 12.0, wet=True, all_through_k_s=MICROWAVE_K_S
                )
            elif in_heat:
                h = _coefficient(self.technique)
                self.piece.pass_time(dt * self.pace, self.chamber.celsius, 0.9 * h, wet=True)
                # Water that boils off the surface: from latent heat of a tenth of what flows in.
                self.weight_kg *= 1 - 1.2e-5 * dt
            else:
                self.piece.pass_time(dt, ROOM_C, 9.0, wet=False)
            left -= dt

    def watts(self, heating: bool, input_w: float) -> float:
        """What is drawn from the mains [W]: all of it while it comes up, then by the thermostat's turns."""
        if not heating:
            return 0.0
        if physics_of(self.technique).all_through or self.chamber.reads() < self.chamber.celsius - 1:
            return input_w
        return input_w if (self.chamber.on_for_s % SWING_S) < 0.45 * SWING_S else 4.0

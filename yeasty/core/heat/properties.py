"""Properties of foods from their composition and temperature.

Source: Choi and Okos (1986), coefficients in `choi_okos.csv`; heat capacity by mass, conductivity by volume.
Compositions in `ingredients.csv` are *typical*: entered from general knowledge, not from a table that was
checked; what a label says replaces them. Above freezing only.
"""

import csv
from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from functools import cache
from importlib.resources import files

import numpy as np

from yeasty.core.heat.arrays import checked
from yeasty.core.heat.conduction import Piece, time_to_target
from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.kernel.techniques import shipped

FREEZING_STARTS_C = -1.0


@dataclass(frozen=True)
class Composition:
    """Shares by mass [-]; they sum to 1. `status` says where they come from: typical, label or measured."""

    water: float
    protein: float = 0.0
    fat: float = 0.0
    carbohydrate: float = 0.0
    fibre: float = 0.0
    ash: float = 0.0
    status: str = "typical"

    def shares(self) -> dict[str, float]:
        """Shares by name."""
        return {f.name: float(getattr(self, f.name)) for f in fields(self) if f.name != "status"}


@dataclass(frozen=True)
class Properties:
    """Density [kg/m³], heat capacity [J/kgK], conductivity [W/mK] and diffusivity [m²/s] at one
    temperature.
    """

    density: float
    heat_capacity: float
    conductivity: float
    diffusivity: float


def _table(name: str) -> list[dict[str, str]]:
    return list(csv.DictReader(files("yeasty.core.heat").joinpath(name).read_text("utf-8").splitlines()))


@cache
def _coefficients() -> dict[tuple[str, str], tuple[float, float, float]]:
    return {
        (r["property"], r["component"]): (float(r["a"]), float(r["b_per_c"]), float(r["c_per_c2"]))
        for r in _table("choi_okos.csv")
    }


@cache
def ingredients() -> dict[str, tuple[str, Composition]]:
    """Everyday ingredients: key to name and typical composition."""
    found = {}
    for row in _table("ingredients.csv"):
        shares = {k: float(row[k]) for k in ("water", "protein", "fat", "carbohydrate", "fibre", "ash")}
        found[row["key"]] = (row["name"], Composition(**shares, status=row["status"]))
    return found


def composition_of(shares: Mapping[str, float], status: str = "label") -> Composition:
    """A composition from shares by mass [-], as a label gives them; sums of 0.98 to 1.02 are made 1.

    Raises
    ------
    RuleError : a share that is negative or not known, or a sum that is not near 1

    >>> composition_of({"water": 0.70, "protein": 0.21, "fat": 0.08, "ash": 0.01}).status
    'label'
    """
    known = Composition(1.0).shares()
    for name, share in shares.items():
        if name not in known:
            raise RuleError(name, "is not a component", "Use water, protein, fat, carbohydrate, fibre, ash.")
        checked(name, share, 0, 1, "of mass")
    total = sum(shares.values())
    if not 0.98 <= total <= 1.02:
        raise RuleError(
            "composition",
            f"adds up to {total * 100:.0f} %",
            "Let the shares add up to 100 %; what is left is mostly water.",
        )
    return Composition(**{"water": 0.0, **{k: v / total for k, v in shares.items()}}, status=status)


def with_label(base: Composition, label: Mapping[str, float]) -> Composition:
    """A typical composition with label values put in; water takes up what is left.

    >>> with_label(ingredients()["meatball_mix"][1], {"fat": 0.05}).status
    'label'
    """
    shares = {**base.shares(), **label}
    if "water" not in label:
        shares["water"] = 1 - sum(v for k, v in shares.items() if k != "water")
    return composition_of(shares)


def properties(food: Composition, celsius: float) -> Properties:
    """Properties of a food at a temperature of −1 to 150 °C; no air in it.

    Raises
    ------
    Refused : frozen, where heat goes into melting and these figures do not hold

    >>> meat = properties(Composition(0.70, 0.21, 0.08, 0, 0, 0.01), 20)
    >>> round(meat.density), round(meat.heat_capacity), round(meat.conductivity, 3)
    (1049, 3523, 0.492)
    """
    if celsius < FREEZING_STARTS_C and food.water > 0.02:
        raise Refused(
            "temperature",
            f"{celsius:g} °C is frozen: heat goes into melting, which this does not know",
            "Thaw it first, or measure the time.",
        )
    checked("temperature", celsius, -40, 150, "°C")
    shares = food.shares()
    if abs(sum(shares.values()) - 1) > 0.02:
        raise RuleError("composition", "does not add up to 100 %", "Correct the shares.")
    table = _coefficients()

    def of(name: str, component: str) -> float:
        a, b, c = table[name, component]
        return a + b * celsius + c * celsius**2

    volumes = {c: x / of("density_kg_m3", c) for c, x in shares.items()}
    volume = sum(volumes.values())
    capacity = sum(x * of("heat_capacity_j_kgk", c) for c, x in shares.items())
    conductivity = sum(v / volume * of("conductivity_w_mk", c) for c, v in volumes.items())
    return Properties(1 / volume, capacity, conductivity, conductivity * volume / capacity)


def with_air(solid: Properties, density: float) -> Properties:
    """Properties of a food with air in it (dough, crumb), from its density as a whole [kg/m³].

    Conductivity by Maxwell's relation for pores in a solid; air counts for no mass.

    >>> crumb = with_air(properties(ingredients()["bread_crumb"][1], 60), 400)
    >>> round(crumb.conductivity, 2)
    0.13
    """
    checked("density", density, 50, solid.density, "kg/m³")
    air = 1 - density / solid.density
    k, still_air = solid.conductivity, 0.028
    mixed = k * (still_air + 2 * k - 2 * air * (k - still_air)) / (still_air + 2 * k + air * (k - still_air))
    return Properties(density, solid.heat_capacity, mixed, mixed / (density * solid.heat_capacity))


@dataclass(frozen=True)
class Sensitivity:
    """How much the time changes when one component is 10 % off: shares of the time [-], at less and at more
    of it.
    """

    component: str
    less: float
    more: float


def composition_matters(
    food: Composition, piece: Piece, target: float, initial: float, ambient: float, h: float
) -> list[Sensitivity]:
    """What a 10 % error in each component does to the time to `target`; the others give way in proportion.

    >>> top = composition_matters(Composition(0.7, 0.21, 0.08, 0, 0, 0.01), Piece("sphere", 0.02), 74, 5, 180, 30)[0]
    >>> top.component, round(top.more, 4)
    ('water', 0.0035)
    """  # noqa: E501

    def seconds(c: Composition) -> float:
        p = properties(c, (initial + target) / 2)
        return time_to_target(piece, target, initial, ambient, h, p.conductivity, p.diffusivity)

    shares = food.shares()
    normal = seconds(food)
    found = []
    for name, share in shares.items():
        if share <= 0 or share >= 0.999:
            continue
        changes = []
        for factor in (0.9, 1.1):
            new = min(1.0, share * factor)
            rest = (1 - new) / (1 - share)
            changes.append(
                seconds(composition_of({k: new if k == name else v * rest for k, v in shares.items()}))
                / normal
                - 1
            )
        found.append(Sensitivity(name, changes[0], changes[1]))
    return sorted(found, key=lambda s: -max(abs(s.less), abs(s.more)))


@dataclass(frozen=True)
class SurfaceCoefficient:
    """Usual surface coefficient of a technique [W/m²K]: low, typical, high; and what carries the heat."""

    technique: str
    low: float
    typical: float
    high: float
    medium: str
    status: str
    note: str


@cache
def surface_coefficients() -> dict[str, SurfaceCoefficient]:
    """Usual surface coefficients by technique, and of what else carries heat; a fitted one replaces them."""
    found = {
        key: SurfaceCoefficient(key, **asdict(t.surface))
        for key, t in shipped().items()
        if t.surface is not None
    }
    for r in _table("surface_coefficients.csv"):
        low, typical, high = (float(r[name]) for name in ("low", "typical", "high"))
        found[r["technique"]] = SurfaceCoefficient(
            r["technique"], low, typical, high, r["medium"], r["status"], r["note"]
        )
    return found


def mean_properties(food: Composition, low_c: float, high_c: float) -> Properties:
    """Properties averaged over a range of temperatures, for models that hold them constant.

    >>> round(mean_properties(Composition(1.0), 10, 90).heat_capacity)
    4190
    """
    parts = [properties(food, float(t)) for t in np.linspace(low_c, high_c, 5)]
    density, capacity, conductivity = (
        float(np.mean([getattr(p, n) for p in parts])) for n in ("density", "heat_capacity", "conductivity")
    )
    return Properties(density, capacity, conductivity, conductivity / (density * capacity))

"""Heating through of a piece with a convective surface in constant surroundings, by series.

Slab, infinite cylinder and sphere from Fourier's series; brick and short cylinder as products of these.
The roots are bracketed one by one, so every root is found and none twice. As many terms are summed as the
earliest time asked for needs; before that the surface is taken as flat (semi-infinite body). Surroundings
that change are in `changing.py`. Checked against tabled one-term roots and coefficients, and against finite
volumes, in the tests.

Source: Fourier's equation with a surface coefficient, solved by separation of variables.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import ceil, pi, sqrt
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.kernel.errors import Refused, RuleError

Shape = Literal["slab", "cylinder", "sphere"]
TERMS = 60
MOST_TERMS = 700
# Where ζ² Fo passes this, a term is below 1e-12 of the step.
NEGLIGIBLE = 28.0
# Below this Fourier number even `MOST_TERMS` terms are not enough; the heated skin is then under 1 % of the
# piece.
FLAT_BELOW = NEGLIGIBLE / (MOST_TERMS * pi) ** 2


def _shape(shape: str) -> None:
    if shape not in ("slab", "cylinder", "sphere"):
        raise RuleError("shape", f"{shape} is not known", "Use slab, cylinder or sphere.")


@lru_cache(maxsize=16)
def _brackets(shape: str, terms: int) -> tuple[Floats, Floats]:
    from scipy.special import jn_zeros

    n = np.arange(terms, dtype=float)
    if shape == "slab":
        return n * pi, n * pi + pi / 2
    if shape == "sphere":
        return n * pi, (n + 1) * pi
    return np.concatenate(([0.0], jn_zeros(1, terms)[: terms - 1])), np.asarray(jn_zeros(0, terms))


def roots(shape: Shape, biot: ArrayLike, terms: int = TERMS) -> Floats:
    """The first `terms` roots of the eigenvalue equation for each Biot number, shape (*biot.shape, terms).

    Slab: ζ tan ζ = Bi. Cylinder: ζ J1(ζ) = Bi J0(ζ). Sphere: 1 − ζ cot ζ = Bi.

    Raises
    ------
    OutOfRange : Biot number outside 1e-4 to 1e4, where the heating is decided wholly by surface or inside

    >>> float(round(roots("slab", 1.0)[0], 4))
    0.8603
    """
    from scipy.optimize.elementwise import find_root
    from scipy.special import j0, j1

    _shape(shape)
    bi = checked("Biot number", biot, 1e-4, 1e4, "")[..., None]
    low, high = _brackets(shape, terms)
    # Each function has opposite signs at the two ends of its bracket, for every Biot number above zero.
    residual = {
        "slab": lambda z, b: z * np.sin(z) - b * np.cos(z),
        "cylinder": lambda z, b: z * j1(z) - b * j0(z),
        "sphere": lambda z, b: np.where(z < 1e-9, -b, (1 - b) * np.sinc(z / pi) - np.cos(z)),
    }[shape]
    eps = 1e-10
    found = find_root(
        residual, (low + eps, high - eps), args=(bi,), tolerances={"xatol": 1e-13, "xrtol": 1e-15}
    )
    return np.asarray(found.x, dtype=float)


@lru_cache(maxsize=256)
def _roots_of_one(shape: Shape, biot: float, terms: int) -> Floats:
    """Roots for one Biot number, kept: a search for a time asks for the same ones again and again."""
    return roots(shape, biot, terms)


def coefficients(shape: Shape, zeta: Floats) -> Floats:
    """Series coefficients for the given roots, same shape as `zeta`.

    >>> float(round(coefficients("sphere", roots("sphere", 1.0))[0], 4))
    1.2732
    """
    from scipy.special import j0, j1

    _shape(shape)
    if shape == "slab":
        return np.asarray(4 * np.sin(zeta) / (2 * zeta + np.sin(2 * zeta)))
    if shape == "cylinder":
        return np.asarray(2 / zeta * j1(zeta) / (j0(zeta) ** 2 + j1(zeta) ** 2))
    return np.asarray(4 * (np.sin(zeta) - zeta * np.cos(zeta)) / (2 * zeta - np.sin(2 * zeta)))


def _profile(shape: Shape, argument: Floats) -> Floats:
    from scipy.special import j0

    if shape == "slab":
        return np.asarray(np.cos(argument))
    if shape == "cylinder":
        return np.asarray(j0(argument))
    return np.asarray(np.sinc(argument / pi))


def _flat(position: Floats, biot: Floats, fourier: Floats) -> Floats:
    """Step left over in a semi-infinite body at the same depth: holds while only a skin is warm."""
    from scipy.special import erfc, erfcx

    root = np.sqrt(np.maximum(fourier, 1e-300))
    depth = (1 - position) / (2 * root)
    return np.asarray(1 - (erfc(depth) - np.exp(-(depth**2)) * erfcx(depth + biot * root)))


def unaccomplished(shape: Shape, biot: ArrayLike, fourier: ArrayLike, position: ArrayLike = 0.0) -> Floats:
    """Share of the first step still left, (T − ambient) / (initial − ambient), broadcast over all arguments.

    Parameters
    ----------
    biot : h × half thickness / conductivity [-], 1e-4 to 1e4
    fourier : diffusivity × time / half thickness² [-], >= 0
    position : 0 at the centre, 1 at the surface

    >>> float(unaccomplished("slab", 1.0, 1.0).round(4))
    0.5339
    """
    _shape(shape)
    bi = checked("Biot number", biot, 1e-4, 1e4, "")
    fo = checked("Fourier number", fourier, 0, 1e9, "")
    x = checked("position", position, 0, 1, "")
    late = fo[fo >= FLAT_BELOW]
    terms = 1
    if late.size:
        needed = ceil(sqrt(NEGLIGIBLE / float(late.min())) / pi) + 2
        terms = min(MOST_TERMS, 16 * ceil(needed / 16))
    zeta = _roots_of_one(shape, float(bi), terms) if bi.ndim == 0 else roots(shape, bi, terms)
    amplitude = coefficients(shape, zeta)
    at_centre = not np.any(x)
    bi, fo, x = np.broadcast_arrays(bi, fo, x)
    flat = fo.ndim == 0
    columns = fo.reshape(1) if flat else fo
    soonest = columns.reshape(-1, columns.shape[-1]).min(axis=0)
    total = np.zeros(columns.shape)
    for n in range(terms):
        root = zeta[..., n]
        # Times by which this term has died in every piece are left out; later terms die sooner.
        alive = soonest * float(root.min()) ** 2 < NEGLIGIBLE
        if not alive.any():
            break
        root = np.broadcast_to(root, columns.shape)[..., alive]
        part = np.broadcast_to(amplitude[..., n], columns.shape)[..., alive] * np.exp(
            -(root**2) * columns[..., alive]
        )
        total[..., alive] += (
            part
            if at_centre
            else part * _profile(shape, root * np.broadcast_to(x, columns.shape)[..., alive])
        )
    total = total.reshape(fo.shape)
    early = fo < FLAT_BELOW
    if early.any():
        total = np.where(early, _flat(x, bi, fo), total)
    return np.asarray(np.clip(np.where(fo == 0, 1.0, total), 0.0, 1.0))


@dataclass(frozen=True)
class Piece:
    """A piece of food as heat sees it.

    Attributes
    ----------
    shape : "slab", "cylinder" (infinite), "sphere", "brick" or "short cylinder"
    half_thickness : half thickness or radius [m], 0.0005 to 0.5; of a brick half its shortest side
    half_width, half_length : the other half sides of a brick [m]; a short cylinder needs `half_length`
    """

    shape: str
    half_thickness: float
    half_width: float | None = None
    half_length: float | None = None

    def axes(self) -> list[tuple[Shape, float]]:
        """The one-dimensional bodies whose product the piece is, with their half thickness [m].

        >>> Piece("short cylinder", 0.02, half_length=0.03).axes()
        [('cylinder', 0.02), ('slab', 0.03)]
        """
        halves: dict[str, list[tuple[Shape, float | None, str]]] = {
            "slab": [("slab", self.half_thickness, "half thickness")],
            "cylinder": [("cylinder", self.half_thickness, "radius")],
            "sphere": [("sphere", self.half_thickness, "radius")],
            "brick": [
                ("slab", self.half_thickness, "half thickness"),
                ("slab", self.half_width, "half width"),
                ("slab", self.half_length, "half length"),
            ],
            "short cylinder": [
                ("cylinder", self.half_thickness, "radius"),
                ("slab", self.half_length, "half length"),
            ],
        }
        if self.shape not in halves:
            raise RuleError("shape", f"{self.shape} is not known", "Use one of: " + ", ".join(halves) + ".")
        found: list[tuple[Shape, float]] = []
        for shape, half, name in halves[self.shape]:
            if half is None:
                raise RuleError(name, "is missing", f"A {self.shape} needs it.")
            checked(name, half, 0.0005, 0.5, "m")
            found.append((shape, half))
        return found


def check_properties(
    h: ArrayLike, conductivity: ArrayLike, diffusivity: ArrayLike
) -> tuple[Floats, Floats, Floats]:
    """Surface coefficient, conductivity and diffusivity as arrays inside what kitchens and foods have."""
    return (
        checked("surface coefficient", h, 0.5, 20000, "W/m²K"),
        checked("conductivity", conductivity, 0.02, 5, "W/mK"),
        checked("diffusivity", diffusivity, 1e-8, 1e-6, "m²/s"),
    )


def temperature(
    piece: Piece,
    time: ArrayLike,
    initial: ArrayLike,
    ambient: ArrayLike,
    h: ArrayLike,
    conductivity: ArrayLike,
    diffusivity: ArrayLike,
    position: tuple[float, ...] | float = 0.0,
) -> Floats:
    """Temperature inside a piece put into constant surroundings; arrays broadcast against each other.

    Parameters
    ----------
    time : since it was put in [s], >= 0
    initial, ambient : temperatures [°C], −60 to 600; initial above freezing
    h : surface coefficient [W/m²K]; conductivity [W/mK]; diffusivity [m²/s]
    position : along each axis of the piece, 0 centre to 1 surface; one number stands for all axes

    Raises
    ------
    OutOfRange, RuleError : names the field

    Notes
    -----
    Constant properties, uniform start, one coefficient on all faces, no phase change: not for freezing or
    thawing, not for a crust that dries.

    >>> bun = Piece("short cylinder", 0.035, half_length=0.02)
    >>> temperature(bun, [0, 900], 30, 180, 25, 0.3, 1.5e-7).round(1).tolist()
    [30.0, 66.4]
    """
    seconds = checked("time", time, 0, 3e6, "s")
    start = checked("initial temperature", initial, -60, 600, "°C")
    around = checked("temperature of the surroundings", ambient, -200, 1200, "°C")
    coefficient, k, alpha = check_properties(h, conductivity, diffusivity)
    axes = piece.axes()
    places = (position,) * len(axes) if isinstance(position, int | float) else position
    if len(places) != len(axes):
        raise RuleError(
            "position", f"has {len(places)} numbers", f"Give {len(axes)}, one for each axis of the piece."
        )
    left: Floats = np.asarray(1.0)
    for (shape, half), place in zip(axes, places, strict=True):
        left = left * unaccomplished(shape, coefficient * half / k, alpha * seconds / half**2, place)
    return np.asarray(around + (start - around) * left)


def centre_temperature(
    shape: Shape,
    half_thickness: ArrayLike,
    time: ArrayLike,
    initial: ArrayLike,
    ambient: ArrayLike,
    h: ArrayLike,
    conductivity: ArrayLike,
    diffusivity: ArrayLike,
) -> Floats:
    """Temperature at the centre of slab, cylinder or sphere in constant surroundings; all arguments
    broadcast.

    Parameters
    ----------
    shape : "slab", "cylinder" (infinite) or "sphere"
    half_thickness : half thickness or radius [m], 0.0005 to 0.5
    time : since it was put in [s], >= 0
    initial, ambient : temperatures [°C]
    h : surface coefficient [W/m²K], 0.5 to 20000; conductivity [W/mK]; diffusivity [m²/s]

    Returns
    -------
    temperature [°C], of the broadcast shape

    Raises
    ------
    OutOfRange : names the value outside what food and kitchens have

    Notes
    -----
    As `temperature`, which also knows bricks, short cylinders and other depths.

    >>> t = centre_temperature("sphere", 0.02, [0, 600], 20, 100, 500, 0.5, 1.4e-7)
    >>> [float(round(x, 1)) for x in t]
    [20.0, 75.7]
    """
    half = checked("half thickness", half_thickness, 0.0005, 0.5, "m")
    seconds = checked("time", time, 0, 3e6, "s")
    start = checked("initial temperature", initial, -60, 600, "°C")
    around = checked("temperature of the surroundings", ambient, -200, 1200, "°C")
    coefficient, k, alpha = check_properties(h, conductivity, diffusivity)
    left = unaccomplished(shape, coefficient * half / k, alpha * seconds / half**2)
    return np.asarray(around + (start - around) * left)


def check_target(target: float, initial: float, ambient: float) -> None:
    """Raise unless `target` lies on the way from `initial` to `ambient` [°C].

    >>> check_target(75, 5, 70)
    Traceback (most recent call last):
    ...
    yeasty.core.kernel.errors.Refused: target temperature: 75 °C is never reached from 5 °C in surroundings of 70 °C. \
Choose a target between the two, or hotter surroundings.
    """  # noqa: E501
    checked("target temperature", target, -60, 600, "°C")
    if target == initial:
        return
    if not 0 < (target - initial) / ((ambient - initial) or 1e-300) < 0.9999:
        raise Refused(
            "target temperature",
            f"{target:g} °C is never reached from {initial:g} °C in surroundings of {ambient:g} °C",
            "Choose a target between the two, or "
            + ("hotter" if target > ambient else "other")
            + " surroundings.",
        )


def time_to_target(
    piece: Piece,
    target: float,
    initial: float,
    ambient: float,
    h: float,
    conductivity: float,
    diffusivity: float,
    position: tuple[float, ...] | float = 0.0,
) -> float:
    """Time until the place in the piece has reached `target` [s]; arguments as in `temperature`.

    Raises
    ------
    Refused : the target is not on the way from start to surroundings
    OutOfRange : it would take longer than 30 days

    >>> bun = Piece("short cylinder", 0.035, half_length=0.02)
    >>> round(time_to_target(bun, 94, 30, 180, 25, 0.3, 1.5e-7))
    1315
    """
    from scipy.optimize import brentq

    check_target(target, initial, ambient)
    if target == initial:
        return 0.0

    def short_of(log_time: float) -> float:
        now = temperature(piece, np.exp(log_time), initial, ambient, h, conductivity, diffusivity, position)
        return float((now - target) / (ambient - initial))

    latest = float(np.log(2.592e6))
    if short_of(latest) < 0:
        raise Refused(
            "target temperature", "takes longer than 30 days to reach", "Check thickness and coefficient."
        )
    # Early times need many terms: begin where a skin of a few hundredths is warm, and go earlier only where
    # asked.
    earliest = float(np.log(1e-3 * min(half for _, half in piece.axes()) ** 2 / diffusivity))
    if short_of(earliest) >= 0:
        latest, earliest = earliest, -7.0
        if short_of(earliest) >= 0:
            return float(np.exp(earliest))
    return float(np.exp(brentq(short_of, earliest, latest, xtol=1e-10)))

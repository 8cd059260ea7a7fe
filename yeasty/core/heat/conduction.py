"""Heating through of slab, infinite cylinder and sphere with a convective surface.

Series solution of Fourier's equation with constant surroundings; the roots are found by bracketing, so
every root is found and none twice. Checked against tabled one-term roots and coefficients in the tests.
"""

from functools import lru_cache
from math import pi
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from yeasty.core.errors import RuleError, check_range

Shape = Literal["slab", "cylinder", "sphere"]
TERMS = 60


@lru_cache(maxsize=512)
def roots(shape: Shape, biot: float, terms: int = TERMS) -> NDArray[np.float64]:
    """The first `terms` roots of the eigenvalue equation for a Biot number, shape (terms,).

    Slab: ζ tan ζ = Bi. Cylinder: ζ J1(ζ) = Bi J0(ζ). Sphere: 1 − ζ cot ζ = Bi.

    >>> float(round(roots("slab", 1.0)[0], 4))
    0.8603
    """
    from scipy.optimize import brentq
    from scipy.special import j0, j1, jn_zeros

    check_range("Biot number", biot, 1e-4, 1e4, "")
    eps = 1e-12
    if shape == "slab":
        brackets = [(n * pi + eps, n * pi + pi / 2 - eps) for n in range(terms)]
        return np.array([brentq(lambda z: z * np.sin(z) - biot * np.cos(z), a, b, xtol=1e-14) for a, b in brackets])
    if shape == "sphere":
        brackets = [(n * pi + 1e-9, (n + 1) * pi - eps) for n in range(terms)]
        return np.array([brentq(lambda z: (1 - biot) * np.sin(z) - z * np.cos(z), a, b, xtol=1e-14) for a, b in brackets])
    if shape == "cylinder":
        zeros0 = jn_zeros(0, terms)
        zeros1 = np.concatenate(([0.0], jn_zeros(1, terms)))
        return np.array(
            [brentq(lambda z: z * j1(z) - biot * j0(z), zeros1[n] + eps, zeros0[n] - eps, xtol=1e-14) for n in range(terms)]
        )
    raise RuleError("shape", f"{shape} is not known", "Use slab, cylinder or sphere.")


def coefficients(shape: Shape, zeta: NDArray[np.float64]) -> NDArray[np.float64]:
    """Series coefficients at the centre for the given roots, same shape as `zeta`.

    >>> float(round(coefficients("sphere", roots("sphere", 1.0))[0], 4))
    1.2732
    """
    from scipy.special import j0, j1

    if shape == "slab":
        return np.asarray(4 * np.sin(zeta) / (2 * zeta + np.sin(2 * zeta)))
    if shape == "cylinder":
        return np.asarray(2 / zeta * j1(zeta) / (j0(zeta) ** 2 + j1(zeta) ** 2))
    return np.asarray(4 * (np.sin(zeta) - zeta * np.cos(zeta)) / (2 * zeta - np.sin(2 * zeta)))


def centre_temperature(
    shape: Shape,
    half_thickness: float,
    time: ArrayLike,
    initial: float,
    ambient: float,
    h: float,
    conductivity: float,
    diffusivity: float,
) -> NDArray[np.float64]:
    """Temperature at the centre of a piece put into constant surroundings.

    Parameters
    ----------
    shape : "slab", "cylinder" (infinite) or "sphere"
    half_thickness : half thickness or radius [m], 0.0005 to 0.5
    time : since it was put in [s], >= 0, any shape
    initial, ambient : temperatures [°C]
    h : surface coefficient [W/m²K]; conductivity [W/mK]; diffusivity [m²/s]

    Returns
    -------
    temperature [°C], shape of `time`

    Raises
    ------
    OutOfRange : half thickness, coefficient or property outside what food and kitchens have

    Notes
    -----
    Constant properties, uniform start, no phase change: do not use through freezing or thawing, and not
    for a crust that dries. 60 terms hold to 1e-6 of the step from Fourier 1e-3 on; below that the centre
    has not moved and the start is returned.

    >>> t = centre_temperature("sphere", 0.02, [0, 600], 20, 100, 500, 0.5, 1.4e-7)
    >>> [float(round(x, 1)) for x in t]
    [20.0, 75.7]
    """
    check_range("half thickness", half_thickness, 0.0005, 0.5, "m")
    check_range("surface coefficient", h, 0.5, 20000, "W/m²K")
    check_range("conductivity", conductivity, 0.02, 5, "W/mK")
    check_range("diffusivity", diffusivity, 1e-8, 1e-6, "m²/s")
    seconds = np.asarray(time, dtype=float)
    if np.any(seconds < 0):
        raise RuleError("time", "is before the start", "Give times of zero or more.")
    fourier = diffusivity * seconds / half_thickness**2
    zeta = roots(shape, h * half_thickness / conductivity)
    terms = coefficients(shape, zeta) * np.exp(-np.multiply.outer(fourier, zeta**2))
    theta = np.where(fourier < 1e-3, 1.0, np.clip(terms.sum(axis=-1), 0.0, 1.0))
    return np.asarray(ambient + (initial - ambient) * theta)

"""Drying: how heavy it is when it is dry enough, and when that will be.

Moisture balance from the dry matter, and Page's model MR = exp(−k tⁿ) fitted to weighings, with an interval.
How dry is dry enough for keeping is a matter of water activity and local guidance; this only does the
arithmetic.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from yeasty.core.heat.arrays import Floats, checked
from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel.errors import Refused, RuleError


def target_weight(start_kg: float, start_water: float, end_water: float) -> float:
    """Weight at which food has dried to a share of water [kg]: the dry matter stays.

    Parameters
    ----------
    start_kg : weight at the start [kg]; start_water, end_water : water as a share of the whole [-]

    >>> round(target_weight(1.0, 0.87, 0.12), 3)
    0.148
    """
    checked("weight", start_kg, 0.001, 1000, "kg")
    checked("share of water", [start_water, end_water], 0, 0.999, "of mass")
    if end_water >= start_water:
        raise RuleError(
            "share of water at the end", "is not below that at the start", "Check which is which."
        )
    return start_kg * (1 - start_water) / (1 - end_water)


@dataclass(frozen=True)
class Page:
    """Page's model fitted to weighings: moisture ratio = exp(−(t/scale)^n).

    Attributes
    ----------
    scale_s, n : time scale [s] and exponent [-]; ranges of 90 % follow from `covariance` of (ln scale, ln n)
    start_kg, dry_kg, left_water_kg : start weight, dry matter, water that stays however long it dries [kg]
    residual_kg : root mean square of what is left [kg]
    freedom : degrees of freedom
    """

    scale_s: float
    n: float
    start_kg: float
    dry_kg: float
    left_water_kg: float
    residual_kg: float
    freedom: int
    covariance: Floats

    def weight(self, times: ArrayLike) -> Floats:
        """Weight at times [kg].

        >>> float(Page(7200, 1.0, 1.0, 0.13, 0.01, 0.0, 5, np.zeros((2, 2))).weight(0))
        1.0
        """
        ratio = np.exp(-((np.asarray(times, dtype=float) / self.scale_s) ** self.n))
        floor = self.dry_kg + self.left_water_kg
        return np.asarray(floor + (self.start_kg - floor) * ratio)

    def time_to(self, weight_kg: float) -> Ranged:
        """Time until a weight is reached, since the start [s], with its 90 % interval.

        Raises
        ------
        Refused : lighter than it can get in this air
        """
        from scipy.stats import t as student

        floor = self.dry_kg + self.left_water_kg
        if not floor < weight_kg < self.start_kg:
            raise Refused(
                "target weight",
                f"{weight_kg * 1000:.0f} g is not between {floor * 1000:.0f} and "
                f"{self.start_kg * 1000:.0f} g",
                "Choose a weight it can reach, or drier and warmer air.",
            )
        ratio = (weight_kg - floor) / (self.start_kg - floor)
        log_time = np.log(self.scale_s) + np.log(-np.log(ratio)) / self.n
        slope = np.array([1.0, -np.log(-np.log(ratio)) / self.n])
        half = float(student.ppf(0.95, self.freedom)) * float(
            np.sqrt(max(0.0, slope @ self.covariance @ slope))
        )
        return Ranged(
            float(np.exp(log_time)),
            float(np.exp(log_time - half)),
            float(np.exp(log_time + half)),
            "Page's model fitted to the weighings",
        )


def fit_page(
    times: ArrayLike, weights: ArrayLike, *, start_water: float, equilibrium_water: float = 0.06
) -> Page:
    """Fit Page's model to weighings.

    Parameters
    ----------
    times : since the start [s], rising, the first 0, shape (n,), four or more
    weights : [kg]; start_water : water as a share of the start weight [-]
    equilibrium_water : share of water of what is left however long it dries in this air [-]: 0.03 to 0.12
        (typical)

    Raises
    ------
    RuleError : times or weights that cannot be right, among them a weight that rises by more than scales err
    Refused : too little lost to tell

    >>> t = np.arange(0.0, 6 * 3600, 1800)
    >>> true = Page(9000, 1.1, 1.0, 0.13, 0.0083, 0.0, 9, np.zeros((2, 2)))
    >>> fit = fit_page(t, true.weight(t), start_water=0.87)
    >>> round(fit.n, 2), round(fit.scale_s, -2)
    (1.1, 9000.0)
    """
    from scipy.optimize import least_squares

    seconds = checked("time", times, 0, 3e6, "s")
    kg = checked("weight", weights, 1e-4, 1000, "kg")
    if seconds.ndim != 1 or seconds.shape != kg.shape or len(seconds) < 4:
        raise RuleError(
            "weighings", f"{len(np.atleast_1d(seconds))} of them", "Give four or more, each with its time."
        )
    if seconds[0] != 0 or np.any(np.diff(seconds) <= 0):
        raise RuleError("time", "does not rise from 0", "The first weighing is at time 0; sort the rest.")
    heavier = np.flatnonzero(np.diff(kg) > 0.01 * kg[0])
    if heavier.size:
        raise RuleError(
            f"weighing {heavier[0] + 2}", "is heavier than the one before", "Check it, or the tare."
        )
    checked("share of water", start_water, 0.05, 0.99, "of mass")
    checked("share of water left", equilibrium_water, 0, 0.4, "of mass")
    dry = float(kg[0]) * (1 - start_water)
    left = dry * equilibrium_water / (1 - equilibrium_water)
    ratio = (kg - dry - left) / (kg[0] - dry - left)
    if np.any(ratio <= 0.001):
        raise RuleError(
            "share of water at the start",
            "cannot be: it has lost more than that",
            "Raise it, or check the weighings.",
        )
    if ratio[-1] > 0.93:
        raise Refused("weighings", f"only {1 - ratio[-1]:.0%} of the water has gone", "Weigh again later.")

    def model(p: Floats) -> Floats:
        return np.asarray(np.exp(-((seconds[1:] / np.exp(p[0])) ** np.exp(p[1]))))

    begin = [float(np.log(seconds[-1] / max(0.1, -np.log(ratio[-1])))), 0.0]
    found = least_squares(
        lambda p: model(p) - ratio[1:], begin, bounds=([0.0, np.log(0.3)], [20.0, np.log(2.5)])
    )
    freedom = max(1, len(seconds) - 3)
    # Never surer than a scale that reads to a gram in a kilo.
    sigma2 = max(2 * float(found.cost) / freedom, 0.001**2)
    covariance = np.asarray(np.linalg.pinv(found.jac.T @ found.jac) * sigma2, dtype=float)
    residual = float(np.sqrt(np.mean((model(found.x) - ratio[1:]) ** 2))) * float(kg[0] - dry - left)
    return Page(
        float(np.exp(found.x[0])),
        float(np.exp(found.x[1])),
        float(kg[0]),
        dry,
        left,
        residual,
        freedom,
        covariance,
    )

"""Clocks, energy and cost at equal servings, so that a small basket is not quicker for holding less."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from statistics import fmean

from yeasty.core.cook.measures import BatchMeasures, Clocks
from yeasty.core.setup.appliances import rounds_needed

J_PER_KWH = 3_600_000.0


@dataclass(frozen=True)
class ForServings:
    """What a method takes for the same number of pieces.

    Attributes
    ----------
    pieces : for how many
    rounds : how many rounds that takes
    clocks : the five clocks [s]
    energy_j : metered energy scaled by rounds [J], None where not metered
    cost : ingredients and energy, None where a price or the energy is missing
    how : how rounds were counted
    """

    pieces: int
    rounds: int
    clocks: Clocks
    energy_j: float | None
    cost: Decimal | None
    how: str


def mean_clocks(batches: Sequence[BatchMeasures]) -> Clocks:
    """Mean of the clocks of several batches [s]."""
    names = ("hands_s", "come_up_s", "cooking_s", "waiting_s", "wash_up_s")
    return Clocks(*(fmean(getattr(b.clocks, n) for b in batches) for n in names))


def for_servings(
    batches: Sequence[BatchMeasures],
    *,
    pieces: int,
    pieces_per_batch: int,
    capacity: int | None,
    ingredient_cost: Decimal | None,
    price_per_kwh: Decimal | None,
    rounds_cooked: int = 1,
) -> ForServings:
    """Scale a method's measured batch to a number of pieces.

    Hands and cooking are repeated every round; the come-up and the washing-up happen once, and so does the
    wait after the last round. Energy is scaled by rounds, which overstates it a little, since a hot
    appliance needs no second come-up.

    Parameters
    ----------
    batches : measured batches of the method, at least one
    pieces : wanted; pieces_per_batch : in each measured batch
    capacity : pieces the appliance holds, None where the batch is all it was ever asked. A fuller appliance
        may cook slower than the measured batch: `how` tells which batch the clocks come from
    rounds_cooked : that each measured batch itself went through
    ingredient_cost : for `pieces`, price_per_kwh : of mains energy
    """
    per_round = capacity or pieces_per_batch
    rounds = rounds_needed(pieces, per_round)
    one = mean_clocks(batches)
    times = rounds / rounds_cooked
    clocks = Clocks(one.hands_s * times, one.come_up_s, one.cooking_s * times, one.waiting_s, one.wash_up_s)
    metered = [b.energy_j for b in batches if b.energy_j is not None]
    energy = fmean(metered) * times if metered else None
    cost: Decimal | None = None
    if energy is not None and ingredient_cost is not None and price_per_kwh is not None:
        power = Decimal(str(round(energy / J_PER_KWH, 4))) * price_per_kwh
        cost = (ingredient_cost + power).quantize(Decimal("0.01"), ROUND_HALF_UP)
    how = (
        f"{rounds} round{'' if rounds == 1 else 's'} of up to {per_round} pieces, from batches of "
        f"{pieces_per_batch}"
    )
    return ForServings(pieces, rounds, clocks, energy, cost, how)


def ingredient_cost(
    amounts: Mapping[str, float], price_per_kg: Mapping[str, Decimal | None]
) -> Decimal | None:
    """Cost of amounts [kg] at prices per kg; None as soon as one price is missing.

    >>> ingredient_cost({"flour": 0.5}, {"flour": Decimal("1.20")})
    Decimal('0.600')
    """
    total = Decimal(0)
    for name, kg in amounts.items():
        price = price_per_kg.get(name)
        if price is None:
            return None
        total += Decimal(str(round(kg, 6))) * price
    return total

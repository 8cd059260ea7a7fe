"""Will it be worth it: shopping for all methods together, servings made, what is left over."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from math import floor

from yeasty.core.kernel.errors import check_range


@dataclass(frozen=True)
class Buy:
    """An ingredient to buy for the whole trial.

    Attributes
    ----------
    kg : all methods and replicates together [kg]; packs : how many of `pack_kg`, None where no pack is known
    cost : at its price, None where no price is known
    used_by : tags of the methods that need it
    """

    name: str
    kg: float
    packs: int | None
    cost: Decimal | None
    used_by: tuple[str, ...]


@dataclass(frozen=True)
class Worth:
    """What a trial takes and leaves.

    Attributes
    ----------
    buy : shopping list, heaviest first
    cost : of all that has a price; priced : whether all has
    food_kg : food cooked, all methods together [kg]; servings : of `serving_kg`, None where that is not said
    left_servings : beyond what the tasters and the table take
    """

    buy: tuple[Buy, ...]
    cost: Decimal
    priced: bool
    food_kg: float
    servings: int | None
    left_servings: int | None

    def sentence(self, use: str) -> str:
        """Servings and leftovers in one sentence; `use` is what the leftovers are for."""
        if self.servings is None:
            return f"{self.food_kg:.3g} kg of food; say how heavy a serving is, and leftovers are worked out."
        left = self.left_servings or 0
        if left <= 0:
            short = f", {-left} too few for those who eat" if left < 0 else ", nothing left over"
            return f"{self.servings} servings{short}."
        what = f": {use.strip()}" if use.strip() else "; say what for"
        return f"{self.servings} servings, {left} left over{what}."


def worth(
    amounts: Mapping[str, Mapping[str, float]],
    prices: Mapping[str, Decimal | None],
    packs_kg: Mapping[str, float | None],
    batches: Mapping[str, int],
    batch_kg: Mapping[str, float | None],
    serving_kg: float | None,
    eaters: int,
) -> Worth:
    """Add a trial up.

    Parameters
    ----------
    amounts : tag to ingredient to mass in one batch [kg]
    batches : tag to cookings planned
    batch_kg : tag to food in a batch [kg]; where None, the sum of its amounts is taken
    serving_kg : weight of a serving as served raw [kg], or None
    eaters : servings that are eaten at the table, tasters together

    >>> w = worth({"OV": {"flour": 0.2}, "AF": {"flour": 0.2}}, {"flour": Decimal("1.50")}, {"flour": 0.5}, {"OV": 1, "AF": 2}, {}, 0.1, 2)
    >>> w.buy[0].kg, w.buy[0].packs, w.cost, w.servings, w.left_servings
    (0.6, 2, Decimal('0.90'), 6, 4)
    """  # noqa: E501
    check_range("eaters", eaters, 0, 1000, "servings")
    if serving_kg is not None:
        check_range("serving", serving_kg, 0.001, 5, "kg")
    total: dict[str, float] = {}
    used: dict[str, list[str]] = {}
    food = 0.0
    for tag, rows in amounts.items():
        count = batches.get(tag, 1)
        given = batch_kg.get(tag)
        food += count * (given if given is not None else sum(rows.values()))
        for name, kg in rows.items():
            total[name] = total.get(name, 0.0) + count * kg
            if count:
                used.setdefault(name, []).append(tag)
    buy = []
    for name, kg in sorted(total.items(), key=lambda r: (-r[1], r[0])):
        if kg <= 0:
            continue
        pack = packs_kg.get(name)
        price = prices.get(name)
        cost = (price * Decimal(str(round(kg, 6)))).quantize(Decimal("0.01")) if price is not None else None
        packs = -floor(-round(kg / pack, 6)) if pack else None
        buy.append(Buy(name, round(kg, 6), packs, cost, tuple(used.get(name, ()))))
    servings = floor(food / serving_kg + 1e-9) if serving_kg else None
    return Worth(
        tuple(buy),
        sum((b.cost for b in buy if b.cost is not None), Decimal(0)),
        all(b.cost is not None for b in buy),
        food,
        servings,
        servings - eaters if servings is not None else None,
    )


def sounds_like_a_promise(note: str) -> bool:
    """Whether a note at the bench says that something is to be tried or asked later.

    >>> sounds_like_a_promise("wet skin; finish in a hot pan?"), sounds_like_a_promise("golden, crackles")
    (True, False)
    """
    words = note.lower()
    return any(
        sign in words for sign in ("?", "try ", "next time", "should", "again with", "what if", "instead")
    )


def closest_names(wanted: str, dishes: Mapping[str, Sequence[str]]) -> list[str]:
    """Dishes whose name or alias shares a word with what was typed, most shared first.

    >>> closest_names("steamed buns", {"filled yeast buns": ["stuffed buns"], "rice pudding": ["kheer"]})
    ['filled yeast buns']
    """
    typed = set(wanted.lower().split())
    score = {
        dish: len(typed & {w for name in (dish, *aliases) for w in name.lower().replace(",", " ").split()})
        for dish, aliases in dishes.items()
    }
    return [d for d, s in sorted(score.items(), key=lambda r: (-r[1], r[0])) if s]

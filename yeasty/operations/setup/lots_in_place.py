"""What the lots of a trial cost and leave over, and what another lot does in place of a planned one."""

import uuid
from collections.abc import Collection

from yeasty.core.ask.worth import Worth, worth
from yeasty.core.setup.substitution import Effect, LotFacts, effects
from yeasty.operations.ask.lots import Bought
from yeasty.store.ask.tables import Ingredient, Trial


def worth_of(trial: Trial) -> Worth:
    """What a trial takes to buy, makes and leaves over."""
    names = {i.id: i for i in trial.ingredients}
    return worth(
        {m.tag: {names[a.ingredient_id].name: a.mass_kg for a in m.amounts} for m in trial.methods},
        {i.name: i.price_per_kg for i in trial.ingredients},
        {i.name: i.pack_kg for i in trial.ingredients},
        {m.tag: trial.batches_each for m in trial.methods},
        {m.tag: m.batch_kg for m in trial.methods},
        trial.serving_kg,
        trial.eaters,
    )


def takers(trial: Trial, chosen: Collection[uuid.UUID] | None) -> set[uuid.UUID]:
    """The methods that take a lot: all where none are named."""
    return {m.id for m in trial.methods} if chosen is None else set(chosen)


def effects_of(
    trial: Trial, planned: Ingredient, bought: Bought, takes: Collection[uuid.UUID]
) -> list[Effect]:
    """What a lot does to the design in place of the planned one, where some methods take it."""
    amounts = {m: a.mass_kg for m in trial.methods for a in m.amounts if a.ingredient_id == planned.id}
    return effects(
        _facts(planned),
        _facts(bought),
        {m.tag: kg for m, kg in amounts.items() if m.id in takes},
        [m.tag for m in amounts if m.id not in takes],
        next((m.batch_kg for m in trial.methods if m.batch_kg), None),
    )


def _facts(i: Ingredient | Bought) -> LotFacts:
    price = float(i.price_per_kg) if i.price_per_kg is not None else None
    return LotFacts(i.name, i.grade, i.source, i.age_days, i.composition, i.allergens, price)

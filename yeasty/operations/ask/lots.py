"""Ingredients, their lots and amounts; what is held equal."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Protocol

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import Refused, RuleError
from yeasty.core.setup.composition import check_label
from yeasty.operations.ask.designs import touch
from yeasty.store.ask.tables import Control, Ingredient, MethodAmount, Trial
from yeasty.store.taste.tables import Tasting


@dataclass(frozen=True)
class Lot:
    """An ingredient as it is wanted: shares of its weight, days, the kitchen's money a kilogram.

    `id` : of the one that it changes; `amounts` : method to kg of a batch, None where none is known
    """

    name: str
    lot: str = ""
    source: str = ""
    grade: str = ""
    age_days: float | None = None
    price_per_kg: Decimal | None = None
    pack_kg: float | None = None
    composition: Mapping[str, float] = field(default_factory=dict)
    allergens: Sequence[str] = ()
    allergens_checked: bool = False
    amounts: Mapping[uuid.UUID, float | None] = field(default_factory=dict)
    id: uuid.UUID | None = None


class Bought(Protocol):
    """A lot that was bought in place of a planned one."""

    name: str
    lot: str
    source: str
    grade: str
    age_days: float | None
    price_per_kg: Decimal | None
    pack_kg: float | None
    composition: dict[str, float]
    allergens: list[str]


def set_ingredients(db: Session, trial: Trial, rows: Sequence[Lot]) -> None:
    """Replace ingredients and the amounts of each method.

    Allergens may only be changed before a tasting was begun: later they have been told.
    """
    names = [r.name.strip().lower() for r in rows]
    if len(set(names)) != len(names):
        raise RuleError(
            "ingredients", "two have the same name", "Give each its own name, or add the amounts up."
        )
    tasted = db.scalar(select(Tasting.id).where(Tasting.trial_id == trial.id).limit(1)) is not None
    old = {i.id: i for i in trial.ingredients}
    # Amounts go before what they are of, or the database's own cascade takes them from under the session.
    stays = {row.id for row in rows if row.id}
    for method in trial.methods:
        method.amounts[:] = [a for a in method.amounts if a.ingredient_id in stays]
    db.flush()
    kept = []
    for position, row in enumerate(rows):
        ingredient = old.get(row.id) if row.id else None
        if ingredient is None:
            ingredient = Ingredient(trial_id=trial.id, allergens=[])
            db.add(ingredient)
        elif tasted and set(ingredient.allergens) - set(row.allergens):
            raise Refused(
                "allergens",
                "they were told to tasters already",
                "Add what was missing; nothing is taken off.",
            )
        ingredient.name, ingredient.position = row.name.strip(), position
        ingredient.lot, ingredient.source = row.lot, row.source
        named = sorted(set(row.allergens))
        # Naming one is having looked; that there is none somebody has to say, and of what an archive brought,
        # all of it.
        looked = bool(named) and named != ingredient.allergens
        ingredient.allergens_checked = looked or row.allergens_checked
        ingredient.price_per_kg, ingredient.allergens = row.price_per_kg, named
        ingredient.grade, ingredient.age_days, ingredient.pack_kg = row.grade, row.age_days, row.pack_kg
        ingredient.composition = dict(row.composition)
        check_label(ingredient.composition)
        kept.append(ingredient)
    trial.ingredients[:] = kept
    db.flush()
    for method in trial.methods:
        taken = ((i.id, row.amounts.get(method.id)) for i, row in zip(kept, rows, strict=True))
        wanted = {ingredient_id: kg for ingredient_id, kg in taken if kg is not None}
        have = {a.ingredient_id: a for a in method.amounts}
        for ingredient_id, kg in wanted.items():
            if ingredient_id in have:
                have[ingredient_id].mass_kg = kg
            else:
                method.amounts.append(MethodAmount(ingredient_id=ingredient_id, mass_kg=kg))
        for ingredient_id, amount in have.items():
            if ingredient_id not in wanted:
                method.amounts.remove(amount)
    touch(trial)


def set_controls(trial: Trial, rows: Sequence[tuple[str, str]]) -> None:
    """Replace what is held equal."""
    trial.controls[:] = [
        Control(trial_id=trial.id, position=i, what=what.strip(), held_at=held)
        for i, (what, held) in enumerate(rows)
    ]
    touch(trial)


def substitute(db: Session, trial: Trial, row: Ingredient, bought: Bought, takes: set[uuid.UUID]) -> None:
    """Put a bought lot in the place of a planned one; what was planned stays on record in `stands_for`.

    Where only some methods take it, it becomes a lot of its own, so that the difference shows.

    Raises
    ------
    Refused : an allergen would be taken off that tasters were told of
    """
    planned = {
        "name": row.name,
        "lot": row.lot,
        "source": row.source,
        "grade": row.grade,
        "age_days": row.age_days,
        "composition": row.composition,
        "allergens": row.allergens,
        "price_per_kg": str(row.price_per_kg) if row.price_per_kg is not None else None,
    }
    told = db.scalar(select(Tasting.id).where(Tasting.trial_id == trial.id).limit(1)) is not None
    gone = sorted(set(row.allergens) - set(bought.allergens))
    if told and gone:
        raise Refused(
            "allergens",
            f"{', '.join(gone)} was told to tasters already",
            "Keep it listed, or make a new tasting.",
        )
    using = [m for m in trial.methods if any(a.ingredient_id == row.id for a in m.amounts)]
    target = row
    if not {m.id for m in using} <= takes:
        name = bought.name if bought.name.lower() != row.name.lower() else f"{row.name}, second lot"
        target = Ingredient(trial_id=trial.id, name=name, position=len(trial.ingredients))
        trial.ingredients.append(target)
        db.flush()
        for m in using:
            if m.id in takes:
                for a in [a for a in m.amounts if a.ingredient_id == row.id]:
                    m.amounts.remove(a)
                    db.flush()
                    m.amounts.append(MethodAmount(ingredient_id=target.id, mass_kg=a.mass_kg))
    elif bought.name.lower() != row.name.lower():
        row.name = bought.name.strip()
    for name in ("lot", "source", "grade", "age_days", "price_per_kg", "pack_kg"):
        setattr(target, name, getattr(bought, name))
    target.allergens_checked = bool(bought.allergens)
    target.composition, target.allergens, target.stands_for = (
        dict(bought.composition),
        sorted(set(bought.allergens)),
        planned,
    )
    check_label(target.composition)
    touch(trial)
    db.flush()

"""What was poured or strewn by eye, as it was weighed before and after: told, and carried to the next run."""

import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from statistics import fmean

from sqlalchemy.orm import Session

from yeasty.core.cook.measures import Standing
from yeasty.operations.ask.designs import touch
from yeasty.operations.cook.shifts import trial_measures
from yeasty.store.ask.tables import Ingredient, MethodAmount, Trial


@dataclass(frozen=True)
class Used:
    """How much of something a way took by eye [kg]: the mean of its judged batches, and what is written for
    it so far, None where nothing is.
    """

    method_id: uuid.UUID
    item: str
    kg: float
    batches: int
    written_kg: float | None


def used(db: Session, trial: Trial) -> list[Used]:
    """All that was weighed so, by way and by name."""
    taken: dict[tuple[uuid.UUID, str], list[float]] = {}
    for batch, m in trial_measures(db, trial.id):
        if m.standing is Standing.JUDGED:
            for item, kg in m.by_eye:
                taken.setdefault((batch.method_id, item), []).append(kg)
    names = {i.id: i.name.lower() for i in trial.ingredients}
    written = {(m.id, names[a.ingredient_id]): a.mass_kg for m in trial.methods for a in m.amounts}
    order = {m.id: n for n, m in enumerate(trial.methods)}
    return [
        Used(method, item, fmean(kgs), len(kgs), written.get((method, item)))
        for (method, item), kgs in sorted(taken.items(), key=lambda x: (x[0][1], order[x[0][0]]))
    ]


def carry(db: Session, trial: Trial) -> None:
    """Write what was used as the amounts of the next run; what no lot is called by becomes one."""
    lots: dict[str, Ingredient] = {i.name.lower(): i for i in trial.ingredients}
    rows = used(db, trial)
    for name in dict.fromkeys(u.item for u in rows):
        if name not in lots:
            lots[name] = Ingredient(
                trial_id=trial.id, name=name, position=len(trial.ingredients), allergens=[]
            )
            trial.ingredients.append(lots[name])
    db.flush()
    methods: Mapping[uuid.UUID, list[MethodAmount]] = {m.id: m.amounts for m in trial.methods}
    for u in rows:
        ingredient = lots[u.item].id
        have = next((a for a in methods[u.method_id] if a.ingredient_id == ingredient), None)
        if have is None:
            methods[u.method_id].append(MethodAmount(ingredient_id=ingredient, mass_kg=u.kg))
        else:
            have.mass_kg = u.kg
    touch(trial)

"""What judged batches came to by the log, at the servings that ways are compared at."""

import uuid
from collections.abc import Callable, Mapping, Sequence
from functools import partial

from sqlalchemy.orm import Session

from yeasty.core.cook.measures import BatchMeasures, Standing
from yeasty.core.decide.compared import OnRecord
from yeasty.core.decide.curves import Points
from yeasty.core.decide.gaps import better
from yeasty.core.decide.measured import CURVE, OneBatch, measure_of, order
from yeasty.core.decide.outcome import MeasureTold
from yeasty.core.decide.servings import ForServings, for_servings, ingredient_cost
from yeasty.core.setup.rounds import rounds_in
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.queries import the_kitchen


def one_by_one(
    db: Session,
    trial: Trial,
    measured: Sequence[tuple[Batch, BatchMeasures]],
    curves: Mapping[str, Mapping[str, Points]],
) -> dict[str, list[OneBatch]]:
    """Method to its judged and finished batches, each scaled by itself to the servings that are compared."""
    scale = scales_of(db, trial, measured)
    share = {m.id: trial.pieces / m.pieces_per_batch for m in trial.methods}
    found: dict[str, list[OneBatch]] = {str(m.id): [] for m in trial.methods}
    for b, m in measured:
        if m.complete and m.standing is Standing.JUDGED:
            scaled = scale[b.method_id]([m])
            waits = b.facts.get("hold_limit_s")
            one = OneBatch(m, scaled, share[b.method_id], curves.get(str(b.id), {}), waits)
            found[str(b.method_id)].append(one)
    return found


def curves_by_measure(batches: Mapping[str, Sequence[OneBatch]]) -> dict[str, dict[str, list[Points]]]:
    """Measure to way to the curves of its batches."""
    found: dict[str, dict[str, list[Points]]] = {}
    for way, mine in batches.items():
        for b in mine:
            for name, points in b.curves.items():
                found.setdefault(CURVE + name, {}).setdefault(way, []).append(points)
    return found


Scaled = Callable[[Sequence[BatchMeasures]], ForServings]


def scales_of(
    db: Session, trial: Trial, measured: Sequence[tuple[Batch, BatchMeasures]]
) -> dict[uuid.UUID, Scaled]:
    """Method to what scales batches of it to the servings that are compared."""
    used = appliances_of(db, trial)
    prices = {str(i.id): i.price_per_kg for i in trial.ingredients}
    price_per_kwh = the_kitchen(db).price_per_kwh
    found: dict[uuid.UUID, Scaled] = {}
    for method in trial.methods:
        capacities = [
            used[s.appliance_id].capacity_pieces
            for s in method.steps
            if s.phase == "cook" and s.appliance_id in used
        ]
        known = [c for c in capacities if c is not None]
        scale = trial.pieces / method.pieces_per_batch
        amounts = {str(a.ingredient_id): a.mass_kg * scale for a in method.amounts}
        found[method.id] = partial(
            for_servings,
            pieces=trial.pieces,
            pieces_per_batch=method.pieces_per_batch,
            capacity=min(known) if known else None,
            ingredient_cost=ingredient_cost(amounts, prices) if amounts else None,
            price_per_kwh=price_per_kwh,
            rounds_cooked=max(
                (rounds_in(b.chain().steps) for b, _ in measured if b.method_id == method.id), default=1
            ),
        )
    return found


def measures_told(record: OnRecord) -> list[MeasureTold]:
    """Everything that was measured, ways side by side."""
    found = []
    for key, values in record.values.items():
        m = measure_of(key)
        if m is None:
            continue
        first = order(m, values)[0]
        others = [w for w in values if w != first]
        best = first if others and all(better(m, values[first], values[o]) for o in others) else None
        words = {w: record.told(m, w) for w in values}
        found.append(MeasureTold(m.key, m.name, values, words, best))
    return found

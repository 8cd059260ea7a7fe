"""A method as facts to compare, its rounds, and a trial as a question to be asked again."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from enum import StrEnum
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import Technique, technique_name
from yeasty.core.kernel import steps as core_steps
from yeasty.core.setup.appliances import capacity_for, rounds_needed
from yeasty.core.setup.differences import MethodFacts
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Method, Step, Trial
from yeasty.store.kitchen.queries import newest_measurements, records_of, the_kitchen
from yeasty.store.kitchen.tables import MEASUREMENTS, Appliance


def method_facts(
    trial: Trial,
    appliances: Mapping[uuid.UUID, Appliance],
    known: Mapping[str, Technique],
    dealt_kg: Mapping[uuid.UUID, float] | None = None,
    steps: Mapping[uuid.UUID, Sequence[core_steps.Step]] | None = None,
) -> list[MethodFacts]:
    """The methods as the difference finder compares them; `steps` where they were read already, by method."""
    names = {i.id: i.name for i in trial.ingredients}
    called = {str(a.id): a.name for a in appliances.values()}
    labels = {i.name: i.composition for i in trial.ingredients if i.composition}
    return [
        MethodFacts(
            m.tag,
            technique_name(m.technique, known),
            m.batch_kg,
            m.piece_kg,
            m.start_c,
            {names[a.ingredient_id]: a.mass_kg for a in m.amounts},
            chain := steps.get(m.id, ()) if steps is not None else [s.core() for s in m.steps],
            called,
            m.piece_thickness_m,
            m.vessel,
            m.lid,
            m.place,
            m.operator,
            m.together,
            m.pieces_per_batch,
            _holds(m, chain, appliances),
            labels,
            {},
            (dealt_kg or {}).get(m.id),
            m.levels,
            sorted(
                {
                    appliances[k].kind
                    for s in chain
                    if s.appliance and (k := uuid.UUID(s.appliance)) in appliances
                }
            ),
        )
        for m in trial.methods
    ]


def _holds(
    method: Method, steps: Sequence[core_steps.Step], appliances: Mapping[uuid.UUID, Appliance]
) -> int | None:
    """How many pieces of its size the smallest of a method's heating appliances holds."""
    used = {uuid.UUID(s.appliance) for s in steps if s.phase.value == "cook" and s.appliance}
    found = [
        capacity_for(appliances[k].profile(), method.piece_thickness_m)[0] for k in used if k in appliances
    ]
    return min((f for f in found if f is not None), default=None)


def rounds_of(method: Method, appliances: Mapping[uuid.UUID, Appliance]) -> int:
    """How many rounds a method's pieces take."""
    return rounds_needed(
        method.pieces_per_batch, _holds(method, [s.core() for s in method.steps], appliances)
    )


def offer_question(db: Session, trial: Trial) -> dict[str, Any]:
    """What the reckoner is asked for a trial's conversions: steps on appliances, what was measured, own
    records.
    """
    used = appliances_of(db, trial)
    newest = newest_measurements(db, list(used))
    records: dict[str, list[list[Any]]] = {}
    for r in records_of(db):
        records.setdefault(r.rule, []).append([r.predicted, r.observed, r.simulated])
    pairs = []
    for method in trial.methods:
        for step in method.steps:
            a = used.get(step.appliance_id) if step.appliance_id else None
            if a is None:
                continue
            measured = {
                k: newest[a.id, k].result.get("measured") for k in MEASUREMENTS if (a.id, k) in newest
            }
            pairs.append({"step": _plain_step(step), "appliance": asdict(a.profile()), "measured": measured})
    return {"pairs": pairs, "altitude_m": the_kitchen(db).altitude_m, "records": records}


def _plain_step(step: Step) -> dict[str, Any]:
    record = asdict(step.core())
    return {k: (v.value if isinstance(v, StrEnum) else v) for k, v in record.items()}

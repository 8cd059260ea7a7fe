"""Checklists of a trial's methods, from steps, vessels, hazards and the kitchen's circuits."""

import uuid

from sqlalchemy.orm import Session

from yeasty.core.ask.preparation import preparation
from yeasty.core.safety import circuits as core
from yeasty.core.setup.readiness import Item, checklist
from yeasty.operations.ask.hazards import hazards_of_method
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.kitchen.queries import circuits
from yeasty.store.kitchen.tables import Appliance


def checklists(db: Session, trial: Trial) -> dict[uuid.UUID, list[Item]]:
    """What is ticked or waived before each method starts."""
    used = appliances_of(db, trial)
    known = {c.name: core.Circuit(c.name, c.breaker_a, c.voltage_v, c.base_w) for c in circuits(db)}
    heating = {m.id: _heaters(m, used) for m in trial.methods}
    everything = {a.id: a for some in heating.values() for a in some.values()}
    over = [
        load
        for load in core.circuit_loads(
            [core.Heating(str(a.id), a.name, a.circuit, a.input_w, 0, 1) for a in everything.values()], known
        )
        if load.over
    ]
    found = {}
    for m in trial.methods:
        mine = {a.circuit for a in heating[m.id].values()}
        found[m.id] = checklist(
            [*preparation(trial.preparation).steps, *(s.core() for s in m.steps)],
            hazards_of_method(trial, m),
            [a.kind for a in heating[m.id].values()],
            m.vessel,
            m.lid,
            m.checks,
            [
                f"Circuit {o.circuit}: {' and '.join(o.appliances)} not at once"
                for o in over
                if o.circuit in mine
            ],
        )
    return found


def _heaters(method: Method, used: dict[uuid.UUID, Appliance]) -> dict[uuid.UUID, Appliance]:
    return {
        s.appliance_id: used[s.appliance_id]
        for s in method.steps
        if s.appliance_id in used and s.appliance_id
    }

"""A difference that was not meant, taken away by making one method like another."""

import uuid

from sqlalchemy.orm import Session

from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import check_steps
from yeasty.operations.ask.designs import touch
from yeasty.store.ask.tables import Method, MethodAmount, Step, Trial

# Fields that are one column of a method, and can be made the same in all.
MENDABLE = {
    "weight per batch": "batch_kg",
    "weight of a piece": "piece_kg",
    "start temperature": "start_c",
    "thickness of a piece": "piece_thickness_m",
    "vessel": "vessel",
    "lid": "lid",
    "place": "place",
    "operator": "operator",
    "pieces": "pieces_per_batch",
}


# Fields that are the length of a method's steps of a phase, where it has one such step.
MENDABLE_STEPS = {"rest": "wait", "cooking time": "cook", "come-up time": "come_up"}


def mend(db: Session, trial: Trial, field: str, like: uuid.UUID) -> None:
    """Make a field the same in all methods, as it is in one of them.

    Raises
    ------
    RuleError : a field that cannot be mended in one act: it says where to do it instead
    """
    model = next((m for m in trial.methods if m.id == like), None)
    if model is None:
        raise RuleError(
            "method", "is not one of this trial", "Choose the method whose value is to stand for all."
        )
    if field in MENDABLE:
        for m in trial.methods:
            setattr(m, MENDABLE[field], getattr(model, MENDABLE[field]))
    elif field.startswith("amount of "):
        lot = next((i for i in trial.ingredients if i.name == field.removeprefix("amount of ")), None)
        if lot is None:
            raise RuleError(field, "is of no lot here", "Enter it under lots and amounts.")
        kg = next((a.mass_kg for a in model.amounts if a.ingredient_id == lot.id), None)
        for m in trial.methods:
            row = next((a for a in m.amounts if a.ingredient_id == lot.id), None)
            if kg is None and row is not None:
                m.amounts.remove(row)
            elif kg is not None and row is not None:
                row.mass_kg = kg
            elif kg is not None:
                m.amounts.append(MethodAmount(ingredient_id=lot.id, mass_kg=kg))
    elif field in MENDABLE_STEPS:
        _mend_steps(trial, model, field)
    else:
        raise RuleError(field, "is made of several steps", "Edit the steps of the methods at Ask.")
    touch(trial)
    db.flush()


def _mend_steps(trial: Trial, model: Method, field: str) -> None:
    phase = MENDABLE_STEPS[field]

    def mine(m: Method) -> list[Step]:
        return [s for s in m.steps if s.phase == phase and s.during_offset_s is None]

    pattern = mine(model)
    if len(pattern) != 1 or any(len(mine(m)) != 1 for m in trial.methods):
        raise RuleError(field, "is not one step in each method", "Edit the steps of the methods at Ask.")
    for m in trial.methods:
        mine(m)[0].duration_s = pattern[0].duration_s
    for m in trial.methods:
        for wrong in check_steps([s.core() for s in m.steps]):
            raise wrong

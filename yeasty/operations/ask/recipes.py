"""A recipe that was read, made a method of a trial."""

import uuid
from dataclasses import replace

from sqlalchemy.orm import Session

from yeasty.core.ask.marks import next_mark, next_tag
from yeasty.core.ask.preparation import Parted, check_preparation, part, preparation
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.steps import EndRule as Ends
from yeasty.core.kernel.steps import Step, check_steps
from yeasty.core.publish.recipe_in import Reading
from yeasty.operations.ask.designs import rows_of, touch
from yeasty.store.ask.tables import Ingredient, Method, MethodAmount, Trial


def steps_of(reading: Reading) -> list[Step]:
    """The steps of a recipe as a method has them.

    Raises
    ------
    RuleError : none were read
    """
    if not reading.steps:
        raise RuleError("recipe", "has no steps", "Put “Method” as a heading above them.")
    return [
        Step(
            str(n),
            s.text,
            s.attention,
            s.phase,
            s.duration_s,
            Ends.CUE if s.end_cue else Ends.CLOCK,
            end_cue=s.end_cue,
            set_point_c=s.set_point_c,
            days_before=s.days_before,
        )
        for n, s in enumerate(reading.steps)
    ]


def parted_from(trial: Trial, reading: Reading) -> Parted:
    """What a recipe would share with a trial's methods, and what not; nothing is changed."""
    return part(preparation(trial.preparation).steps, steps_of(reading), first=not trial.methods)


def method_from(db: Session, trial: Trial, reading: Reading, *, prepared: bool = True) -> Method:
    """A method with the steps and amounts that were read; lots of the same name are used again.

    With `prepared` its opening work is the trial's shared preparation, as far as all methods have it in
    common; what they do not, each does by itself.

    Raises
    ------
    RuleError : no steps were read, or steps that cannot be
    """
    steps = steps_of(reading)
    for wrong in check_steps(steps):
        raise wrong
    if prepared:
        steps = _prepared_for_all(trial, steps)
    name = reading.title or "Imported recipe"
    method = Method(
        trial_id=trial.id,
        position=len(trial.methods),
        name=name[:100],
        technique="",
        mark=next_mark([m.mark for m in trial.methods]),
        tag=next_tag(name, [m.tag for m in trial.methods]),
        gear=[],
        hazards=[],
    )
    method.steps = rows_of(steps, lambda _: None)
    lots = {i.name.lower(): i for i in trial.ingredients}
    total = 0.0
    taken: dict[str, float] = {}
    for a in reading.amounts:
        clean = a.name.split(",")[0].strip()[:100]
        if not clean:
            continue
        if clean.lower() not in lots:
            row = Ingredient(trial_id=trial.id, name=clean, position=len(trial.ingredients), allergens=[])
            trial.ingredients.append(row)
            lots[clean.lower()] = row
        if a.kg is not None:
            taken[clean.lower()] = taken.get(clean.lower(), 0.0) + a.kg
            total += a.kg
    db.flush()
    method.amounts = [MethodAmount(ingredient_id=lots[n].id, mass_kg=kg) for n, kg in taken.items()]
    method.batch_kg = total or None
    trial.methods.append(method)
    touch(trial)
    db.flush()
    return method


def _prepared_for_all(trial: Trial, steps: list[Step]) -> list[Step]:
    """What is left of a recipe's steps once its opening work is the shared preparation; changes the trial and
    its methods.
    """
    before = preparation(trial.preparation)
    parted = part(before.steps, steps, first=not trial.methods)
    keep = before.hazards if parted.shared else ()
    shared = [
        s if s in before.steps else replace(s, key=f"all-{uuid.uuid4().hex[:8]}") for s in parted.shared
    ]
    trial.preparation = check_preparation(shared, keep).record()
    for method in trial.methods if parted.others else ():
        method.steps[:] = [*rows_of(parted.others, lambda _: None), *method.steps]
        for n, row in enumerate(method.steps):
            row.position = n
    return list(parted.own)

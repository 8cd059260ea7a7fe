"""Edits of a trial's design. Each raises the trial's version; what was cooked keeps its own copy of the steps."""

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from enum import StrEnum
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.marks import next_mark, next_tag
from yeasty.core.ask.techniques import Technique, techniques
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.cook.steps import check_steps, step_from_record
from yeasty.core.errors import Refused, RuleError, check_range
from yeasty.core.safety.cautions import cautions
from yeasty.core.setup.differences import VARIED_BY_KIND, MethodFacts
from yeasty.store.base import now
from yeasty.store.bench import Batch
from yeasty.store.kitchen import MEASUREMENTS, Appliance, newest_measurements, records_of, the_kitchen
from yeasty.store.tastings import AnswerRow, Tasting
from yeasty.store.trials import Attribute, Control, Ingredient, Method, MethodAmount, Step, Trial, appliances_of


def touch(trial: Trial) -> None:
    """Mark a design as changed."""
    trial.version += 1
    trial.updated_at = now()


def new_trial(db: Session, *, title: str, question: str, dish: str, kind: TrialKind) -> Trial:
    """A trial with nothing in it yet."""
    moment = now()
    trial = Trial(
        title=title.strip() or dish.strip(), question=question.strip(), dish=dish.strip(), kind=kind.value,
        fairness=Fairness.SAME_RECIPE.value, done_rule=DoneRule.BY_STATE.value, created_at=moment, updated_at=moment,
        varied=list(VARIED_BY_KIND[kind]),
    )  # fmt: skip
    db.add(trial)
    db.flush()
    return trial


def set_attributes(db: Session, trial: Trial, rows: Sequence[Mapping[str, Any]]) -> None:
    """Replace the attributes; one with an id is kept. Refused once tasters have answered."""
    old = {a.id: a for a in trial.attributes}
    kept: list[Attribute] = []
    for position, row in enumerate(rows):
        attribute = old.get(row["id"]) if row.get("id") else None
        if attribute is None:
            attribute = Attribute(trial_id=trial.id)
        for name in ("name", "scale", "weight", "low_words", "high_words", "high_is_better"):
            setattr(attribute, name, row[name])
        attribute.position = position
        kept.append(attribute)
    names = [a.name.strip().lower() for a in kept]
    if len(set(names)) != len(names):
        raise RuleError("attributes", "two have the same name", "Give each its own name.")
    gone = [a.id for a in old.values() if a not in kept]
    if gone and db.scalar(select(AnswerRow.id).where(AnswerRow.attribute_id.in_(gone)).limit(1)):
        raise Refused("attributes", "one of them has been answered by tasters", "Keep it; set its weight to 0 instead.")
    trial.attributes[:] = kept
    touch(trial)


def add_method(db: Session, trial: Trial, technique: Technique, name: str, appliances: Sequence[Appliance]) -> Method:
    """A method from a technique template, with its mark, tag and colour at once."""
    fit = next((a for a in appliances if a.kind == technique.appliance_kind), None)
    first = trial.methods[0] if trial.methods else None
    method = Method(
        trial_id=trial.id,
        position=len(trial.methods),
        name=name.strip() or technique.name,
        technique=technique.key,
        mark=next_mark([m.mark for m in trial.methods]),
        tag=next_tag(name.strip() or technique.name, [m.tag for m in trial.methods]),
        pieces_per_batch=first.pieces_per_batch if first else 6,
        piece_kg=first.piece_kg if first else None,
        batch_kg=first.batch_kg if first else None,
        start_c=first.start_c if first else None,
        piece_shape=first.piece_shape if first else "",
        piece_thickness_m=first.piece_thickness_m if first else None,
        piece_food=first.piece_food if first else "",
        gear=list(technique.gear),
        hazards=list(technique.hazards),
    )
    heats = {"come_up", "cook"}
    method.steps = [
        Step(
            position=i, what=s.what, attention=s.attention.value, phase=s.phase.value, duration_s=s.duration_s,
            end_rule=s.end_rule.value, during_offset_s=s.during_offset_s, end_core_c=s.end_core_c, end_cue=s.end_cue,
            appliance_id=fit.id if fit and s.phase.value in heats else None, set_point_c=s.set_point_c,
            power_w=s.power_w,
        )
        for i, s in enumerate(technique.steps)
    ]  # fmt: skip
    if first:
        method.amounts = [MethodAmount(ingredient_id=a.ingredient_id, mass_kg=a.mass_kg) for a in first.amounts]
    trial.methods.append(method)
    touch(trial)
    db.flush()
    return method


PIECE_SHAPES = ("", "sphere", "cylinder", "slab")


def check_piece(shape: str | None, thickness_m: float | None, hazards: Sequence[str] | None) -> None:
    """Raise where a piece or a hazard is none that the rules know."""
    if shape is not None and shape not in PIECE_SHAPES:
        raise RuleError("shape of a piece", f"{shape} is not known", "Use sphere, cylinder or slab.")
    if thickness_m is not None:
        check_range("thickness of a piece", thickness_m, 0.001, 0.5, "m")
    for hazard in hazards or ():
        if hazard not in cautions():
            raise RuleError("hazard", f"{hazard} is not in the table of cautions", "Use one of: " + ", ".join(cautions()) + ".")


def set_steps(trial: Trial, method: Method, rows: Sequence[Mapping[str, Any]]) -> None:
    """Replace a method's steps; those with an id keep it."""
    problems = check_steps([step_from_record({"key": str(i), **row}) for i, row in enumerate(rows)])
    if problems:
        raise problems[0]
    old = {s.id: s for s in method.steps}
    kept = []
    for position, row in enumerate(rows):
        step = old.get(row["id"]) if row.get("id") else None
        if step is None:
            step = Step(method_id=method.id)
        for name in ("what", "attention", "phase", "duration_s", "end_rule", "during_offset_s", "end_core_c", "end_cue",
                     "appliance_id", "set_point_c", "power_w", "dial_for_c", "for_altitude_m"):  # fmt: skip
            setattr(step, name, row[name])
        step.position = position
        kept.append(step)
    method.steps[:] = kept
    touch(trial)


def remove_method(db: Session, trial: Trial, method: Method) -> None:
    """Take a method out. Refused once it has been cooked: then it is kept and set aside instead."""
    if db.scalar(select(Batch.id).where(Batch.method_id == method.id).limit(1)):
        raise Refused("method", f"{method.name} stands in a shift", "Keep it; batches can be voided at Cook.")
    trial.methods.remove(method)
    for position, other in enumerate(trial.methods):
        other.position = position
    touch(trial)


def set_ingredients(db: Session, trial: Trial, rows: Sequence[Mapping[str, Any]]) -> None:
    """Replace ingredients and the amounts of each method; rows carry `amounts`: method id to kg or None.

    Allergens may only be changed before a tasting was begun: later they have been told.
    """
    names = [r["name"].strip().lower() for r in rows]
    if len(set(names)) != len(names):
        raise RuleError("ingredients", "two have the same name", "Give each its own name, or add the amounts up.")
    tasted = db.scalar(select(Tasting.id).where(Tasting.trial_id == trial.id).limit(1)) is not None
    old = {i.id: i for i in trial.ingredients}
    kept = []
    for position, row in enumerate(rows):
        ingredient = old.get(row["id"]) if row.get("id") else None
        if ingredient is None:
            ingredient = Ingredient(trial_id=trial.id, allergens=[])
            db.add(ingredient)
        elif tasted and set(ingredient.allergens) - set(row["allergens"]):
            raise Refused("allergens", "they were told to tasters already", "Add what was missing; nothing is taken off.")
        ingredient.name, ingredient.position = row["name"].strip(), position
        ingredient.lot, ingredient.source = row["lot"], row["source"]
        ingredient.price_per_kg, ingredient.allergens = row["price_per_kg"], sorted(set(row["allergens"]))
        kept.append(ingredient)
    trial.ingredients[:] = kept
    db.flush()
    for method in trial.methods:
        wanted = {
            ingredient.id: row["amounts"].get(method.id)
            for ingredient, row in zip(kept, rows, strict=True)
            if row["amounts"].get(method.id) is not None
        }
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
        Control(trial_id=trial.id, position=i, what=what.strip(), held_at=held) for i, (what, held) in enumerate(rows)
    ]
    touch(trial)


def method_facts(trial: Trial, appliances: Mapping[uuid.UUID, Appliance]) -> list[MethodFacts]:
    """The methods as the difference finder compares them."""
    names = {i.id: i.name for i in trial.ingredients}
    known = {str(a.id): a.name for a in appliances.values()}
    return [
        MethodFacts(
            m.tag, techniques()[m.technique].name if m.technique in techniques() else m.technique, m.batch_kg, m.piece_kg, m.start_c,
            {names[a.ingredient_id]: a.mass_kg for a in m.amounts}, [s.core() for s in m.steps], known, m.piece_thickness_m,
        )
        for m in trial.methods
    ]  # fmt: skip


def offer_question(db: Session, trial: Trial) -> dict[str, Any]:
    """What the reckoner is asked for a trial's conversions: steps on appliances, what was measured, own records."""
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
            measured = {k: newest[a.id, k].result.get("measured") for k in MEASUREMENTS if (a.id, k) in newest}
            pairs.append({"step": _plain_step(step), "appliance": asdict(a.profile()), "measured": measured})
    return {"pairs": pairs, "altitude_m": the_kitchen(db).altitude_m, "records": records}


def _plain_step(step: Step) -> dict[str, Any]:
    record = asdict(step.core())
    return {k: (v.value if isinstance(v, StrEnum) else v) for k, v in record.items()}

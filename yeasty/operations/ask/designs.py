"""Edits of a trial's design. Each raises the trial's version; what was cooked keeps its own copy of the
steps.
"""

import uuid
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict
from enum import StrEnum
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.kinds import varied_by
from yeasty.core.ask.marks import next_mark, next_tag
from yeasty.core.ask.preparation import check_preparation, preparation
from yeasty.core.ask.screening import WORDS
from yeasty.core.ask.techniques import Technique, techniques
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.cook.problem import Chain
from yeasty.core.cook.together import check_loads
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.errors import Refused, RuleError, check_range
from yeasty.core.kernel.scales import SCALES, Scale
from yeasty.core.kernel.steps import check_steps, step_from_record
from yeasty.core.safety.cautions import cautions, hazards_of
from yeasty.core.setup.appliances import capacity_for, rounds_needed
from yeasty.core.setup.composition import check_label
from yeasty.core.setup.differences import MethodFacts
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Attribute, Control, Ingredient, Method, MethodAmount, Step, Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.queries import newest_measurements, records_of, the_kitchen
from yeasty.store.kitchen.tables import MEASUREMENTS, Appliance
from yeasty.store.taste.tables import AnswerRow, Tasting


def touch(trial: Trial) -> None:
    """Mark a design as changed."""
    trial.version += 1
    trial.updated_at = now()


def new_trial(db: Session, *, title: str, question: str, dish: str, kind: TrialKind) -> Trial:
    """A trial with nothing in it yet."""
    moment = now()
    trial = Trial(
        title=title.strip() or dish.strip(),
        question=question.strip(),
        dish=dish.strip(),
        kind=kind.value,
        fairness=Fairness.SAME_RECIPE.value,
        done_rule=DoneRule.BY_STATE.value,
        created_at=moment,
        updated_at=moment,
        varied=list(varied_by(kind, {})),
        layout={"words": list(WORDS)} if kind is TrialKind.SCREENING else {},
    )
    db.add(trial)
    db.flush()
    return trial


def set_attributes(db: Session, trial: Trial, rows: Sequence[Mapping[str, Any]]) -> None:
    """Replace the attributes; one with an id is kept.

    Once tasters have answered, the question they answered stays: name, scale and words. Its weight and its
    wanted end may change; what was opened before is then read anew beside the first reading, never instead of
    it.
    """
    old = {a.id: a for a in trial.attributes}
    answered = set(
        db.scalars(select(AnswerRow.attribute_id).where(AnswerRow.attribute_id.in_(list(old))).distinct())
    )
    kept: list[Attribute] = []
    for position, given in enumerate(rows):
        row = {"words": [], **given}
        attribute = old.get(row["id"]) if row.get("id") else None
        if attribute is None:
            attribute = Attribute(trial_id=trial.id)
        elif attribute.id in answered:
            for name in ("name", "scale", "low_words", "high_words", "words"):
                if getattr(attribute, name) != row[name]:
                    raise Refused(
                        "attributes",
                        f"{attribute.name} has been answered by tasters, so its {name.replace('_', ' ')} "
                        f"stays",
                        "Add another attribute; this one's weight and wanted end may change.",
                    )
        for name in ("name", "scale", "weight", "low_words", "high_words", "high_is_better", "words"):
            setattr(attribute, name, row[name])
        if SCALES[Scale(attribute.scale)].own_words and len(set(attribute.words)) < 2:
            raise RuleError(
                "attributes", f"{attribute.name} has no words to choose among", "Give at least two."
            )
        attribute.position = position
        kept.append(attribute)
    names = [a.name.strip().lower() for a in kept]
    if len(set(names)) != len(names):
        raise RuleError("attributes", "two have the same name", "Give each its own name.")
    gone = [a.id for a in old.values() if a not in kept]
    if answered & set(gone):
        raise Refused(
            "attributes", "one of them has been answered by tasters", "Keep it; set its weight to 0 instead."
        )
    trial.attributes[:] = kept
    touch(trial)


HEATS = ("come_up", "cook")


def fitting_appliance(step: core_steps.Step, kind: str, appliances: Sequence[Appliance]) -> uuid.UUID | None:
    """The kitchen's first appliance of a kind, for a step that heats."""
    if step.phase.value not in HEATS or not kind:
        return None
    return next((a.id for a in appliances if a.kind == kind), None)


def rows_of(
    steps: Sequence[core_steps.Step], appliance_of: Callable[[core_steps.Step], uuid.UUID | None]
) -> list[Step]:
    """New rows for a chain of steps."""
    return [
        Step(
            position=i,
            what=s.what,
            attention=s.attention.value,
            phase=s.phase.value,
            duration_s=s.duration_s,
            end_rule=s.end_rule.value,
            during_offset_s=s.during_offset_s,
            end_core_c=s.end_core_c,
            end_cue=s.end_cue,
            appliance_id=appliance_of(s),
            set_point_c=s.set_point_c,
            power_w=s.power_w,
            dial_for_c=s.dial_for_c,
            for_altitude_m=s.for_altitude_m,
            end_kg=s.end_kg,
            days_before=s.days_before,
            longest_s=s.longest_s,
        )
        for i, s in enumerate(steps)
    ]


def add_method(
    db: Session, trial: Trial, technique: Technique, name: str, appliances: Sequence[Appliance]
) -> Method:
    """A method from a technique template, with its mark, tag and colour at once."""
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
    method.steps = rows_of(
        technique.steps, lambda step: fitting_appliance(step, technique.appliance_kind, appliances)
    )
    if first:
        method.amounts = [
            MethodAmount(ingredient_id=a.ingredient_id, mass_kg=a.mass_kg) for a in first.amounts
        ]
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
            raise RuleError(
                "hazard",
                f"{hazard} is not in the table of cautions",
                "Use one of: " + ", ".join(cautions()) + ".",
            )


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
        for name in (
            "what",
            "attention",
            "phase",
            "duration_s",
            "end_rule",
            "during_offset_s",
            "end_core_c",
            "end_cue",
            "appliance_id",
            "set_point_c",
            "power_w",
            "dial_for_c",
            "for_altitude_m",
            "end_kg",
            "days_before",
            "longest_s",
        ):
            setattr(step, name, row.get(name, 0 if name == "days_before" else None))
        step.position = position
        kept.append(step)
    method.steps[:] = kept
    touch(trial)


def set_preparation(trial: Trial, steps: Sequence[core_steps.Step], hazards: Sequence[str]) -> None:
    """Write down what all methods have in common before they part; batches already made keep what they were
    made with.
    """
    trial.preparation = check_preparation(steps, hazards).record()
    touch(trial)


def set_loads(trial: Trial, loads: Sequence[tuple[str, Sequence[uuid.UUID]]]) -> None:
    """Say which methods are cooked together, each load with its name; what is in none is cooked by itself.

    Raises
    ------
    RuleError : a kind whose loads follow from its layout, a method in two loads, a load of one, a name twice,
        methods that do not go into one appliance at one setting
    """
    if trial.kind in (TrialKind.LADDER.value, TrialKind.BRANCH.value):
        raise RuleError("cooked together", "follows from the layout", "Change the pots or finishes there.")
    by_id = {m.id: m for m in trial.methods}
    words: dict[uuid.UUID, str] = {}
    for name, some in loads:
        if not name.strip():
            raise RuleError("cooked together", "has no name", "Say what they share, as in “tray 1”.")
        if len(set(some)) < 2:
            raise RuleError(name, "has one method in it", "Choose at least two, or take the load away.")
        for method_id in some:
            if method_id not in by_id:
                raise RuleError(
                    name, "has a method that is not one of this trial", "Choose among its methods."
                )
            if method_id in words:
                raise RuleError(by_id[method_id].tag, "is in two loads", "Leave it in one of them.")
            if name.strip() in {w for m, w in words.items() if m not in some}:
                raise RuleError(name, "is there twice", "Give each load a name of its own.")
            words[method_id] = name.strip()
    before = preparation(trial.preparation).steps
    chains = [
        Chain(
            str(m.id),
            m.tag,
            (*before, *(s.core() for s in m.steps)),
            together=words.get(m.id, ""),
            prepared=len(before),
        )
        for m in trial.methods
    ]
    for wrong in check_loads(chains):
        raise wrong
    for m in trial.methods:
        m.together = words.get(m.id, "")
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
        raise RuleError(
            "ingredients", "two have the same name", "Give each its own name, or add the amounts up."
        )
    tasted = db.scalar(select(Tasting.id).where(Tasting.trial_id == trial.id).limit(1)) is not None
    old = {i.id: i for i in trial.ingredients}
    # Amounts go before what they are of, or the database's own cascade takes them from under the session.
    stays = {row["id"] for row in rows if row.get("id")}
    for method in trial.methods:
        method.amounts[:] = [a for a in method.amounts if a.ingredient_id in stays]
    db.flush()
    kept = []
    for position, row in enumerate(rows):
        ingredient = old.get(row["id"]) if row.get("id") else None
        if ingredient is None:
            ingredient = Ingredient(trial_id=trial.id, allergens=[])
            db.add(ingredient)
        elif tasted and set(ingredient.allergens) - set(row["allergens"]):
            raise Refused(
                "allergens",
                "they were told to tasters already",
                "Add what was missing; nothing is taken off.",
            )
        ingredient.name, ingredient.position = row["name"].strip(), position
        ingredient.lot, ingredient.source = row["lot"], row["source"]
        named = sorted(set(row["allergens"]))
        # Naming one is having looked; that there is none somebody has to say, and of what an archive brought,
        # all of it.
        looked = bool(named) and named != ingredient.allergens
        ingredient.allergens_checked = looked or bool(row.get("allergens_checked"))
        ingredient.price_per_kg, ingredient.allergens = row["price_per_kg"], named
        ingredient.grade, ingredient.age_days, ingredient.pack_kg = (
            row.get("grade", ""),
            row.get("age_days"),
            row.get("pack_kg"),
        )
        ingredient.composition = dict(row.get("composition") or {})
        check_label(ingredient.composition)
        if "from_method_id" in row:
            ingredient.from_method_id = row["from_method_id"]
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
        Control(trial_id=trial.id, position=i, what=what.strip(), held_at=held)
        for i, (what, held) in enumerate(rows)
    ]
    touch(trial)


def hazards_of_method(trial: Trial, method: Method) -> tuple[str, ...]:
    """Hazards of technique, food, ingredients and gear together."""
    names = {i.id: i.name for i in trial.ingredients}
    words = [*(names.get(a.ingredient_id, "") for a in method.amounts), *method.gear]
    brought = [*method.hazards, *preparation(trial.preparation).hazards]
    return hazards_of(brought, trial.food_class, words, method.struck_hazards or {})


def every_hazard(trial: Trial, method: Method) -> tuple[str, ...]:
    """All hazards of a method, those struck out among them."""
    names = {i.id: i.name for i in trial.ingredients}
    words = [*(names.get(a.ingredient_id, "") for a in method.amounts), *method.gear]
    return hazards_of([*method.hazards, *preparation(trial.preparation).hazards], trial.food_class, words)


def strike_hazard(trial: Trial, method: Method, hazard: str, why: str) -> None:
    """Say that a hazard does not hold for a method, and why; with no reason it holds again.

    Raises
    ------
    RuleError : a hazard the method does not have, or a reason that says too little
    """
    if hazard not in every_hazard(trial, method):
        raise RuleError("hazard", f"{hazard} is not one of this method's", "Reload and choose again.")
    kept = {k: v for k, v in (method.struck_hazards or {}).items() if k != hazard}
    if why.strip():
        if len(why.strip()) < 10:
            raise RuleError("why", "says too little", "Say in a sentence why it does not hold here.")
        kept[hazard] = why.strip()
    method.struck_hazards = kept
    touch(trial)


def set_meant(trial: Trial, method: Method, rule: str, not_for: str, by: str) -> None:
    """Write down that a method's food is meant pink, soft or raw: by which rule, and who must not eat it.

    Raises
    ------
    RuleError : a rule or a warning that says too little
    """
    if not rule.strip() and not not_for.strip():
        method.meant = {}
    else:
        if len(rule.strip()) < 20:
            raise RuleError(
                "rule", "says too little", "Write the kitchen's rule: how, how far, by which source."
            )
        if len(not_for.strip()) < 10:
            raise RuleError(
                "not for",
                "says too little",
                "Name who must not eat it: children, the old, the pregnant, the ill …",
            )
        method.meant = {
            "rule": rule.strip().rstrip(".") + ".",
            "not_for": not_for.strip().rstrip("."),
            "by": by,
        }
    touch(trial)


def method_facts(
    trial: Trial,
    appliances: Mapping[uuid.UUID, Appliance],
    known: Mapping[str, Technique] | None = None,
    dealt_kg: Mapping[uuid.UUID, float] | None = None,
    steps: Mapping[uuid.UUID, Sequence[core_steps.Step]] | None = None,
) -> list[MethodFacts]:
    """The methods as the difference finder compares them; `steps` where they were read already, by method."""
    names = {i.id: i.name for i in trial.ingredients}
    called = {str(a.id): a.name for a in appliances.values()}
    labels = {i.name: i.composition for i in trial.ingredients if i.composition}
    library = known or techniques()
    return [
        MethodFacts(
            m.tag,
            library[m.technique].name if m.technique in library else m.technique,
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


def substitute(
    db: Session, trial: Trial, row: Ingredient, bought: Mapping[str, Any], takes: set[uuid.UUID]
) -> None:
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
    gone = sorted(set(row.allergens) - set(bought["allergens"]))
    if told and gone:
        raise Refused(
            "allergens",
            f"{', '.join(gone)} was told to tasters already",
            "Keep it listed, or make a new tasting.",
        )
    using = [m for m in trial.methods if any(a.ingredient_id == row.id for a in m.amounts)]
    target = row
    if not {m.id for m in using} <= takes:
        name = bought["name"] if bought["name"].lower() != row.name.lower() else f"{row.name}, second lot"
        target = Ingredient(trial_id=trial.id, name=name, position=len(trial.ingredients))
        trial.ingredients.append(target)
        db.flush()
        for m in using:
            if m.id in takes:
                for a in [a for a in m.amounts if a.ingredient_id == row.id]:
                    m.amounts.remove(a)
                    db.flush()
                    m.amounts.append(MethodAmount(ingredient_id=target.id, mass_kg=a.mass_kg))
    elif bought["name"].lower() != row.name.lower():
        row.name = bought["name"].strip()
    for name in ("lot", "source", "grade", "age_days", "price_per_kg", "pack_kg"):
        setattr(target, name, bought[name])
    target.allergens_checked = bool(bought["allergens"])
    target.composition, target.allergens, target.stands_for = (
        dict(bought["composition"]),
        sorted(set(bought["allergens"])),
        planned,
    )
    check_label(target.composition)
    touch(trial)
    db.flush()

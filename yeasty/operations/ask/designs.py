"""Edits of a trial's design. Each raises the trial's version; what was cooked keeps its own copy of the
steps.
"""

import uuid
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.kinds import Arm, Design, varied_by
from yeasty.core.ask.marks import next_mark, next_tag
from yeasty.core.ask.preparation import check_preparation, preparation
from yeasty.core.ask.screening import WORDS
from yeasty.core.ask.techniques import Technique
from yeasty.core.ask.trial import DoneRule, Fairness, TrialKind
from yeasty.core.cook.problem import Chain
from yeasty.core.cook.together import check_loads
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.errors import Refused, RuleError, check_range
from yeasty.core.kernel.scales import SCALES, Scale
from yeasty.core.kernel.steps import check_steps
from yeasty.core.safety.cautions import cautions
from yeasty.core.safety.core_minimum import food_class
from yeasty.store.ask.tables import Attribute, Method, MethodAmount, Step, Trial
from yeasty.store.base import now, row_of, take_over
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.taste.tables import AnswerRow


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


@dataclass(frozen=True)
class Asked:
    """A question as it is wanted. `id` : of the one that it changes; `words` : of a ladder or of ticks; the
    other words are what the ends of the scale mean.
    """

    name: str
    scale: Scale = Scale.INTENSITY
    weight: float = 1.0
    low_words: str = ""
    high_words: str = ""
    high_is_better: bool = True
    words: Sequence[str] = ()
    id: uuid.UUID | None = None


def set_attributes(db: Session, trial: Trial, rows: Sequence[Asked]) -> None:
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
    for position, row in enumerate(rows):
        wanted = {**vars(row), "scale": row.scale.value, "words": list(row.words)}
        attribute = old.get(row.id) if row.id else None
        if attribute is None:
            attribute = Attribute(trial_id=trial.id)
        elif attribute.id in answered:
            for name in ("name", "scale", "low_words", "high_words", "words"):
                if getattr(attribute, name) != wanted[name]:
                    raise Refused(
                        "attributes",
                        f"{attribute.name} has been answered by tasters, so its {name.replace('_', ' ')} "
                        f"stays",
                        "Add another attribute; this one's weight and wanted end may change.",
                    )
        for name in ("name", "scale", "weight", "low_words", "high_words", "high_is_better", "words"):
            setattr(attribute, name, wanted[name])
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
    return [row_of(Step, s, position=i, appliance_id=appliance_of(s)) for i, s in enumerate(steps)]


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


def set_steps(trial: Trial, method: Method, steps: Sequence[core_steps.Step]) -> None:
    """Replace a method's steps; whose key is the id of one that is there stays that one.

    Raises
    ------
    RuleError : the first of what is wrong with them
    """
    problems = check_steps(steps)
    if problems:
        raise problems[0]
    old = {str(s.id): s for s in method.steps}
    kept = []
    for position, wanted in enumerate(steps):
        step = old.pop(wanted.key, None) or Step(method_id=method.id)
        appliance = uuid.UUID(wanted.appliance) if wanted.appliance else None
        take_over(step, wanted, position=position, appliance_id=appliance)
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


def change(trial: Trial, given: Mapping[str, Any]) -> None:
    """Change a trial's words and rules. Another kind is laid out anew, and varies what its kind does.

    Raises
    ------
    RuleError : a kind of food that is not known
    """
    rows = dict(given)
    if rows.get("kind", trial.kind) != trial.kind:
        trial.layout = {}
        rows.setdefault("varied", list(varied_by(TrialKind(rows["kind"]), {})))
    credited = rows.pop("credited", None)
    if credited is not None:
        trial.layout = {**trial.layout, "credited": credited}
    if rows.get("food_class"):
        food_class(rows["food_class"])
    for name, value in rows.items():
        setattr(trial, name, value)
    touch(trial)


def design_of(t: Trial) -> Design:
    """A trial as its kind checks it."""
    return Design(
        t.question,
        [a.spec() for a in t.attributes],
        TrialKind(t.kind),
        [
            Arm(
                m.tag,
                m.parent_method_id is not None and m.change != "",
                m.change,
                m.aimed_defect,
                m.verdict_word,
            )
            for m in t.methods
        ],
        t.layout,
        DoneRule(t.done_rule),
        t.matches,
        t.deciding.claim,
    )

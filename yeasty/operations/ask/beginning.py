"""A new trial with what its first dialog gathers: ways, what is judged, pieces and a core, once for all."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yeasty.core.ask.kinds import KINDS
from yeasty.core.ask.proposals import (
    FoodProposal,
    JudgedProposal,
    propose_food,
    propose_judged,
    stricter,
)
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.errors import RuleError, check_range
from yeasty.core.kernel.steps import EndRule, Phase
from yeasty.core.publish.reader import Words
from yeasty.core.publish.recipe_in import read_amount
from yeasty.core.safety.core_minimum import food_class
from yeasty.operations.ask import designs, lots
from yeasty.operations.ask.vocabulary import known_in_words
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.kitchen.queries import all_appliances

# Their ways come from a layout of their own.
# Of ingredients in one batch.
MOST_LINES = 60
LAID_OUT = frozenset({TrialKind.GRID, TrialKind.LADDER, TrialKind.BRANCH, TrialKind.VARIETIES})


@dataclass(frozen=True)
class Beginning:
    """What is known at the start.

    Attributes
    ----------
    techniques : keys, one way each; judged : questions as `designs.set_attributes` takes them
    pieces, piece_kg, core_c : of every way [pieces], [kg], [°C]; None where not said
    ingredients : of a batch of every way, one a line, as a cook writes them
    """

    question: str
    dish: str
    kind: TrialKind
    title: str = ""
    food_class: str = ""
    techniques: Sequence[str] = ()
    judged: Sequence[designs.Asked] = ()
    pieces: int | None = None
    piece_kg: float | None = None
    core_c: float | None = None
    ingredients: str = ""
    words: Words = Words.WRITTEN


@dataclass(frozen=True)
class Proposal:
    """What a new trial most likely is; `earlier` is the title of the trial of this dish that it is taken
    from.
    """

    food: FoodProposal = field(default_factory=FoodProposal)
    judged: Sequence[JudgedProposal] = ()
    earlier: str = ""


def propose(db: Session, dish: str, question: str, techniques: Sequence[str]) -> Proposal:
    """What a new trial most likely is: as this dish was asked before, else from its words."""
    was = db.scalar(
        select(Trial)
        .where(func.lower(Trial.dish) == dish.strip().lower(), Trial.simulated.is_(False))
        .order_by(Trial.updated_at.desc())
        .limit(1)
    )
    food, judged, earlier = propose_food(dish, question), propose_judged(dish, techniques), ""
    if was is not None and was.food_class and stricter(was.food_class, food.food_class):
        food = FoodProposal(was.food_class, f"as in “{was.title}”")
    scored = [a for a in (was.attributes if was else []) if a.scale == "intensity"]
    if was is not None and scored:
        why, earlier = f"as in “{was.title}”", was.title
        judged = [JudgedProposal(a.name, a.low_words, a.high_words, a.weight, why) for a in scored]
    return Proposal(food, judged, earlier)


def begin(db: Session, given: Beginning) -> Trial:
    """A trial with all of it.

    Raises
    ------
    RuleError : a technique that is not there, more ways than the kind takes, a core out of 30 to 120 °C
    """
    trial = designs.new_trial(
        db, title=given.title, question=given.question, dish=given.dish, kind=given.kind
    )
    if given.food_class:
        trial.food_class = food_class(given.food_class).key
    techniques = known_in_words(db, given.words)
    _check(given, techniques)
    appliances = all_appliances(db)
    for key in given.techniques:
        method = designs.add_method(db, trial, techniques[key], "", appliances)
        method.pieces_per_batch = given.pieces or method.pieces_per_batch
        method.piece_kg = given.piece_kg
        if given.piece_kg is not None:
            method.batch_kg = given.piece_kg * method.pieces_per_batch
        if given.core_c is not None:
            _until(method, given.core_c)
    if given.ingredients.strip():
        _same_for_all(db, trial, given.ingredients)
    if given.judged:
        designs.set_attributes(db, trial, given.judged)
    return trial


def _same_for_all(db: Session, trial: Trial, lines: str) -> None:
    """Every way takes the same of everything. What has no weight that can be read is listed without one."""
    taken: dict[str, float | None] = {}
    for line in filter(None, map(str.strip, lines.splitlines())):
        read = read_amount(line)
        name = read.name.split(",")[0].strip()[:100].lower() or line[:100].lower()
        before = taken.get(name)
        taken[name] = before if read.kg is None else (before or 0.0) + read.kg
    rows = [lots.Lot(name, amounts={m.id: kg for m in trial.methods}) for name, kg in taken.items()]
    lots.set_ingredients(db, trial, rows)
    total = sum(kg for kg in taken.values() if kg)
    for method in trial.methods:
        method.batch_kg = method.batch_kg or total or None


def _check(given: Beginning, known: Mapping[str, Any]) -> None:
    missing = [k for k in given.techniques if k not in known]
    if missing:
        raise RuleError("techniques", f"{missing[0]} is not in the library", "Choose one that is.")
    most = KINDS[given.kind].most
    if len(given.techniques) > most:
        raise RuleError(
            "techniques", f"are {len(given.techniques)}", f"This kind of trial takes at most {most} ways."
        )
    if given.techniques and given.kind in LAID_OUT:
        raise RuleError(
            "techniques", "come with its layout in this kind of trial", "Begin it, then lay it out."
        )
    if given.ingredients.strip() and not given.techniques:
        raise RuleError(
            "ingredients", "belong to ways, and none is chosen", "Choose the ways, or leave them for Set up."
        )
    if len(given.ingredients.splitlines()) > MOST_LINES:
        raise RuleError("ingredients", "are too many", f"Name at most {MOST_LINES}, one a line.")
    if given.core_c is not None:
        check_range("core", given.core_c, 30, 120, "°C")


def _until(method: Method, core_c: float) -> None:
    """The last cooking of a way ends by a core; a look or a clock of its template was a guess."""
    cooks = [s for s in method.steps if s.phase == Phase.COOK.value and s.during_offset_s is None]
    if cooks:
        cooks[-1].end_rule, cooks[-1].end_core_c, cooks[-1].end_cue = EndRule.CORE.value, core_c, ""

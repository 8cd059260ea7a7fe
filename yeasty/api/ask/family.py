"""Ask: what trials start from and come to: copies, challenges, recipes, the family tree, by-products."""

from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import method_of, open_trial, whole
from yeasty.api.ask.views import MarkView, TrialPath, TrialView, mark_view
from yeasty.api.blueprint import blueprint
from yeasty.api.request import answer, db, each, require
from yeasty.api.shown import shown
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.steps import Attention, Phase
from yeasty.core.publish.recipe_in import Reading, read_recipe
from yeasty.operations.ask import designs, families, recipes
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Role

family = blueprint("family", "ask")


class CopyIn(BaseModel):
    """A copy of a trial: its kind, its words, and which methods go along (all where not said)."""

    kind: TrialKind | None = None
    title: str = Field(default="", max_length=200)
    question: str = Field(default="", max_length=1000)
    method_ids: list[UUID] | None = Field(default=None, max_length=48)


class ChallengeIn(BaseModel):
    """A challenge to a method that stands: the change, the defect it aims at; the leader where no champion is
    named.
    """

    champion_id: UUID | None = None
    change: str = Field(max_length=300)
    aimed_defect: str = Field(max_length=300)
    question: str = Field(default="", max_length=1000)


class RelativeView(BaseModel):
    """A method in its family: where it is drawn, whom it came from, what changed, what became of it."""

    method_id: str
    trial_id: str
    trial: str
    kind: TrialKind
    name: str
    tag: str
    mark: MarkView
    generation: int
    row: int
    parents: list[str]
    parent_words: str
    changed: list[str]
    change: str
    aimed_defect: str
    outcome: str
    failed_tries: int
    by_products: list[str]


class FamilyView(BaseModel):
    """A family, by generations and rows."""

    sentence: str
    items: list[RelativeView]


class ByProductIn(BaseModel):
    """What a method left over, as a lot of another trial."""

    method_id: UUID
    into_trial_id: UUID
    name: str = Field(min_length=2, max_length=100)


class RecipeText(BaseModel):
    """A recipe: JSON-LD, the source of a page that holds it, or Markdown."""

    text: str = Field(max_length=2_000_000)
    trial_id: UUID | None = Field(default=None, description="trial that it is to join")


class ReadAmountView(BaseModel):
    """An ingredient as it was read."""

    text: str
    name: str
    kg: float | None
    understood: bool
    note: str


class ReadStepView(BaseModel):
    """A step as it was read."""

    text: str
    phase: Phase
    attention: Attention
    duration_s: float
    set_point_c: float | None
    end_cue: str
    days_before: int
    assumed: list[str]


class ReadingView(BaseModel):
    """A recipe as it was read, and what was not understood."""

    title: str
    written_as: str
    yield_text: str
    amounts: list[ReadAmountView]
    steps: list[ReadStepView]
    not_understood: list[str]
    prepared: list[str] = Field(description="its opening steps that would be prepared for all methods")
    by_the_others: list[str] = Field(
        description="what is prepared for all so far and would be done by each of the others for itself"
    )
    advised: bool = Field(description="whether nothing of the other methods changes by it")


class RecipeIn(RecipeText):
    """A recipe to make a method of, in a trial that is there or in a new one; `prepared` : what it has in
    common with the others, or brings as the first, is prepared for all.
    """

    prepared: bool = True
    dish: str = Field(default="", max_length=200)
    question: str = Field(default="", max_length=1000)


@family.post("/trials/<uuid:trial_id>/copies", responses={201: TrialView})
@require(Role.COOK)
def copy_trial(path: TrialPath, body: CopyIn) -> Response:
    """A new trial with everything copied; results stay where they are."""
    of = open_trial(path.trial_id)
    made = families.copy_trial(
        db(),
        of,
        kind=body.kind or TrialKind(of.kind),
        title=body.title or f"{of.title}, again",
        question=body.question,
        methods=body.method_ids,
    )
    return whole(open_trial(made.id), 201)


@family.post("/trials/<uuid:trial_id>/challenges", responses={201: TrialView})
@require(Role.COOK)
def challenge(path: TrialPath, body: ChallengeIn) -> Response:
    """A champion-and-challenger trial from this one: everything copied, only the change and the defect are
    asked.
    """
    of = open_trial(path.trial_id)
    champion = method_of(of, body.champion_id) if body.champion_id else families.leader_of(db(), of)
    made = families.challenge(
        db(),
        of,
        champion,
        change=body.change,
        aimed_defect=body.aimed_defect,
        question=body.question,
    )
    return whole(open_trial(made.id), 201)


@family.get("/trials/<uuid:trial_id>/family", responses={200: FamilyView})
@require(Role.COOK)
def get_family(path: TrialPath) -> Response:
    """The family tree of a trial."""
    found = families.family_of(db(), open_trial(path.trial_id))
    return answer(FamilyView(sentence=found.sentence, items=each(found.items, _relative)))


def _relative(r: families.Relative) -> RelativeView:
    return shown(
        RelativeView,
        r.method,
        method_id=str(r.method.id),
        trial_id=str(r.trial.id),
        trial=r.trial.title,
        kind=TrialKind(r.trial.kind),
        mark=mark_view(r.method.mark),
        generation=r.place.generation,
        row=r.place.row,
        parents=list(r.parents),
        changed=list(r.changed),
        outcome=r.outcome,
        by_products=list(r.by_products),
    )


@family.post("/trials/<uuid:trial_id>/by-products", responses={201: TrialView})
@require(Role.COOK)
def add_by_product(path: TrialPath, body: ByProductIn) -> Response:
    """Make a lot of another trial out of what a method left over."""
    of = open_trial(path.trial_id)
    families.by_product(db(), method_of(of, body.method_id), of, open_trial(body.into_trial_id), body.name)
    return whole(open_trial(path.trial_id), 201)


def _reading(r: Reading, trial: Trial | None) -> ReadingView:
    parted = recipes.parted_from(trial, r) if trial is not None and r.steps else None
    return shown(
        ReadingView,
        r,
        amounts=[shown(ReadAmountView, a) for a in r.amounts],
        steps=[shown(ReadStepView, s, assumed=list(s.assumed)) for s in r.steps],
        not_understood=list(r.not_understood),
        prepared=[s.what for s in parted.shared] if parted else [],
        by_the_others=[s.what for s in parted.others] if parted else [],
        advised=parted is not None and bool(parted.shared) and not parted.others,
    )


@family.post("/recipe-readings", responses={200: ReadingView})
@require(Role.COOK)
def read(body: RecipeText) -> Response:
    """Read a recipe and show what was understood; nothing is written."""
    trial = open_trial(body.trial_id) if body.trial_id is not None else None
    return answer(_reading(read_recipe(body.text), trial))


@family.post("/recipes", responses={201: TrialView})
@require(Role.COOK)
def take_recipe(body: RecipeIn) -> Response:
    """Make a method of a recipe, in a trial that is there or in a new one."""
    reading = read_recipe(body.text)
    if body.trial_id is not None:
        trial = open_trial(body.trial_id, edit=True)
    else:
        dish = body.dish.strip() or reading.title or "imported recipe"
        trial = designs.new_trial(
            db(),
            title=reading.title or dish,
            question=body.question or f"Which way cooks {dish} best?",
            dish=dish,
            kind=TrialKind.SIDE_BY_SIDE,
        )
        trial = open_trial(trial.id)
    recipes.method_from(db(), trial, reading, prepared=body.prepared)
    return whole(open_trial(trial.id), 201)

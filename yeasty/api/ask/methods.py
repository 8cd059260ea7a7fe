"""Ask: what is judged, methods, their steps and hazards, the shared preparation."""

from uuid import uuid4

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.bodies import (
    AttributesIn,
    LoadsIn,
    MethodChange,
    NewMethod,
    PreparationIn,
    StepsIn,
    asked,
)
from yeasty.api.ask.opened import MethodPath, method_of, open_trial, whole
from yeasty.api.ask.views import (
    TrialPath,
    TrialView,
)
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, not_found
from yeasty.api.request import (
    db,
    me,
    own_side,
    require,
)
from yeasty.core.kernel.steps import Step
from yeasty.operations.ask import designs, hazards
from yeasty.operations.ask.vocabulary import known_in_words
from yeasty.store.kitchen import queries as kitchen
from yeasty.store.kitchen.people_tables import Role

methods = blueprint("methods", "ask")


@methods.put("/trials/<uuid:trial_id>/attributes", responses={200: TrialView})
@require(Role.COOK)
def set_attributes(path: TrialPath, body: AttributesIn) -> Response:
    """Replace what tasters are asked."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_attributes(db(), trial, [asked(i) for i in body.items])
    return whole(trial)


@methods.post("/trials/<uuid:trial_id>/methods", responses={201: TrialView})
@require(Role.COOK)
def add_method(path: TrialPath, body: NewMethod) -> Response:
    """Add a method from a technique; it gets mark, tag and colour at once."""
    trial = open_trial(path.trial_id, edit=True)
    technique = known_in_words(db(), own_side()).get(body.technique)
    if technique is None:
        raise not_found("technique")
    designs.add_method(db(), trial, technique, body.name, kitchen.all_appliances(db()))
    return whole(trial, 201)


@methods.patch("/trials/<uuid:trial_id>/methods/<uuid:method_id>", responses={200: TrialView})
@require(Role.COOK)
def change_method(path: MethodPath, body: MethodChange) -> Response:
    """Change a method's words and weights."""
    trial = open_trial(path.trial_id, edit=True)
    method = method_of(trial, path.method_id)
    if body.tag and any(m.tag == body.tag and m is not method for m in trial.methods):
        raise ApiError(409, "Tag taken", f"Another method has the tag {body.tag}. Choose other letters.")
    designs.check_piece(body.piece_shape, body.piece_thickness_m, body.hazards)
    clearable = {"batch_kg", "piece_kg", "start_c", "piece_thickness_m"}
    for name, value in body.model_dump(exclude_unset=True).items():
        if value is not None or name in clearable:
            setattr(method, name, value)
    designs.touch(trial)
    return whole(trial)


class StruckHazard(BaseModel):
    """A hazard that does not hold for a method, and why; without a reason it holds again."""

    hazard: str = Field(max_length=40)
    why: str = Field(default="", max_length=500)


class MeantIn(BaseModel):
    """The kitchen's written rule by which food is meant pink, soft or raw, and who must not eat it; both
    empty to take it back.
    """

    rule: str = Field(default="", max_length=1000)
    not_for: str = Field(default="", max_length=500)


@methods.put("/trials/<uuid:trial_id>/methods/<uuid:method_id>/struck-hazards", responses={200: TrialView})
@require(Role.COOK)
def strike_hazard(path: MethodPath, body: StruckHazard) -> Response:
    """Strike a hazard of a method out, with the reason, or let it hold again."""
    trial = open_trial(path.trial_id, edit=True)
    hazards.strike_hazard(trial, method_of(trial, path.method_id), body.hazard, body.why)
    return whole(trial)


@methods.put("/trials/<uuid:trial_id>/methods/<uuid:method_id>/meant", responses={200: TrialView})
@require(Role.LEAD)
def set_meant(path: MethodPath, body: MeantIn) -> Response:
    """Write down that a method's food is meant pink, soft or raw."""
    trial = open_trial(path.trial_id, edit=True)
    hazards.set_meant(trial, method_of(trial, path.method_id), body.rule, body.not_for, me().person.name)
    return whole(trial)


@methods.put("/trials/<uuid:trial_id>/methods/<uuid:method_id>/steps", responses={200: TrialView})
@require(Role.COOK)
def set_steps(path: MethodPath, body: StepsIn) -> Response:
    """Replace a method's steps. Batches already made keep the steps they were made with."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_steps(trial, method_of(trial, path.method_id), body.wanted())
    return whole(trial)


@methods.put("/trials/<uuid:trial_id>/preparation", responses={200: TrialView})
@require(Role.COOK)
def set_preparation(path: TrialPath, body: PreparationIn) -> Response:
    """Write down what is prepared once for all methods. Batches already made keep what they were made
    with.
    """
    trial = open_trial(path.trial_id, edit=True)
    steps = [
        Step(
            s.key if s.key.startswith("all-") else f"all-{uuid4().hex[:8]}",
            s.what.strip(),
            s.attention,
            s.phase,
            s.duration_s,
            longest_s=s.longest_s,
            days_before=s.days_before,
        )
        for s in body.items
    ]
    designs.set_preparation(trial, steps, body.hazards)
    return whole(trial)


@methods.put("/trials/<uuid:trial_id>/loads", responses={200: TrialView})
@require(Role.COOK)
def set_loads(path: TrialPath, body: LoadsIn) -> Response:
    """Say which methods are cooked together. Batches already made keep what they were made with."""
    trial = open_trial(path.trial_id, edit=True)
    designs.set_loads(trial, [(load.name, load.methods) for load in body.items])
    return whole(trial)


@methods.delete("/trials/<uuid:trial_id>/methods/<uuid:method_id>", responses={200: TrialView})
@require(Role.COOK)
def remove_method(path: MethodPath) -> Response:
    """Take out a method that was never cooked."""
    trial = open_trial(path.trial_id, edit=True)
    designs.remove_method(db(), trial, method_of(trial, path.method_id))
    return whole(trial)

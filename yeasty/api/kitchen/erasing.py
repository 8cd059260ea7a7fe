"""What a lead takes away for good: a trial, or a person's name."""

from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.problems import ApiError, FieldProblem, not_found
from yeasty.api.request import answer, db, done, me, require
from yeasty.api.shown import shown
from yeasty.operations.kitchen import erasing as deletions
from yeasty.store.kitchen.people_tables import Person, Role

erasing = blueprint("erasing", "accounts")


class DeletionIn(BaseModel):
    """Why a trial is deleted, and its dish once more, typed by whoever means it."""

    dish: str = Field(min_length=1, max_length=200)
    reason: str = Field(min_length=3, max_length=500)


class ErasureIn(BaseModel):
    """Why a person is erased; the reason stays."""

    reason: str = Field(min_length=3, max_length=500)


class PersonPath(BaseModel):
    """Which person."""

    person_id: UUID


class PersonView(BaseModel):
    """A person who has a name here, how they sign in if they do, and at how many seats they tasted."""

    id: str
    name: str
    login: str
    seats: int
    from_elsewhere: bool


class PersonList(BaseModel):
    """Everybody, those who sign in first."""

    items: list[PersonView]


@erasing.post("/trials/<uuid:trial_id>/deletion", responses={204: None})
@require(Role.LEAD)
def delete_trial(path: TrialPath, body: DeletionIn) -> Response:
    """Delete a trial with everything recorded in it, for good. It must have been put away, and no page of it
    be out.
    """
    trial = open_trial(path.trial_id)
    if trial.put_away_at is None:
        raise ApiError(
            409, "Not put away", "Put the trial away first; what is wanted again can be brought back."
        )
    if body.dish.strip().casefold() != trial.dish.strip().casefold():
        problem = FieldProblem(field="dish", message="is not this trial's dish", todo=f"Type “{trial.dish}”.")
        raise ApiError(422, "Another dish", "Please look at: dish.", [problem])
    deletions.delete_trial(db(), trial, by=me().person_id, reason=body.reason.strip())
    return done()


@erasing.get("/people", responses={200: PersonList})
@require(Role.LEAD)
def list_people() -> Response:
    """Everybody who has a name in this kitchen."""
    items = [
        shown(PersonView, p.person, id=str(p.person.id), login=p.login, seats=p.seats)
        for p in deletions.people_of_kitchen(db())
    ]
    return answer(PersonList(items=items))


@erasing.post("/people/<uuid:person_id>/erasure", responses={204: None})
@require(Role.LEAD)
def erase_person(path: PersonPath, body: ErasureIn) -> Response:
    """Take a person's name, contact and login away. What they did stands, by somebody whose name is gone."""
    person = db().get(Person, path.person_id)
    if person is None:
        raise not_found("person")
    if person.id == me().person_id:
        raise ApiError(409, "That is you", "Another lead has to erase you.")
    deletions.erase(db(), person, by=me().person_id, reason=body.reason.strip())
    return done()
